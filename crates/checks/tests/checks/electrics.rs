//! Cables, fuses, precharge, the 12 V side and brake vacuum against published tables and closed forms, and what holds for any of them.

use crate::common::{cases, check, line, plain, read, sheet, sound_demo, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{CableSeries, Document};
use joulethesis_core::electrics::cable::{
    Surroundings, ambient_factor, bears_for_a, bundle_factor, free_air_a, least_cable, resistance_ohm, short_circuit_k, short_circuit_s,
};
use joulethesis_core::electrics::fuse::{FUSE_RATINGS_A, least_fuse_a, opening_current_a, opens_after_s};
use joulethesis_core::electrics::low_voltage::{least_converter_w, situations};
use joulethesis_core::electrics::precharge::{Precharge, bleeder_ohm, largest_in_time_ohm};
use joulethesis_core::electrics::vacuum::BrakeVacuum;
use joulethesis_core::quantity::units::{convert, wire_gauge_mm2};
use joulethesis_core::schematic::{ElectricsSheet, Line, LineState, electrics};
use proptest::prelude::*;
use serde_json::{Value, json};

/// NEC chapter 9, table 8 (from memory): stranded uncoated copper at 75 degC, ohm a thousand feet. Strands lie askew, which makes them 2 %
/// longer than the section says.
#[test]
fn copper_resists_as_the_code_tells() {
    for (gauge, ohm) in [(4, 0.308), (2, 0.194), (0, 0.122), (-1, 0.0967), (-3, 0.0608)] {
        check("ohm", 1.02 * resistance_ohm(304.8, wire_gauge_mm2(gauge), 75.0), ohm, 0.01);
    }
    // IEC 60228, class 2 at 20 degC (from memory): 25 mm2 0.727, 70 mm2 0.268 ohm/km at most.
    for (mm2, most) in [(25.0, 0.727), (70.0, 0.268)] {
        let ohm = resistance_ohm(1000.0, mm2, 20.0);
        assert!(ohm <= most && ohm > 0.9 * most, "{mm2} mm2: {ohm}");
    }
}

/// NEC table 310.17, 90 degC copper in free air (from memory), its ambient correction (0.91 at 40, 0.82 at 50 degC) and its bundles.
#[test]
fn cables_bear_what_the_code_tells() {
    for (gauge, amps) in [(6, 105.0), (4, 140.0), (2, 190.0), (0, 260.0), (-1, 300.0), (-2, 350.0), (-3, 405.0)] {
        check("A", free_air_a(wire_gauge_mm2(gauge)), amps, 1e-9);
    }
    check("at 40 degC", ambient_factor(90.0, 40.0), 0.91, 0.005);
    check("at 50 degC", ambient_factor(90.0, 50.0), 0.82, 0.005);
    assert_eq!([1, 3, 4, 6, 7, 9].map(bundle_factor), [1.0, 1.0, 0.8, 0.8, 0.7, 0.7]);
    // IEC 60364-5-54 (from memory): k = 115 for PVC, 143 for XLPE. 35 mm2 of it bear 5 kA for one second: k S = 5005.
    assert_eq!([70.0, 90.0].map(short_circuit_k), [115.0, 143.0]);
    check("s", short_circuit_s(35.0, 5005.0, 90.0), 1.0, 1e-9);
}

/// V (1 - exp(-t/RC)), C V2 / 2, V2 / R; 95 % after 3 R C (2.996). A resistor and a load in parallel divide the voltage.
#[test]
fn a_precharge_follows_its_closed_forms() {
    let p = Precharge { pack_v: 400.0, capacitance_f: 0.001, resistor_ohm: 100.0, load_w: 0.0 };
    check("V after RC", p.bus_v(0.1), 400.0 * (1.0 - (-1.0f64).exp()), 1e-12);
    check("s", p.ready_s().expect("it gets there"), 3.0 * 0.1, 2e-3);
    check("J", p.energy_j(), 80.0, 1e-12);
    check("W", p.peak_w(), 1600.0, 1e-12);
    let loaded = Precharge { load_w: 100.0, ..p };
    // 1600 ohm beside 100: 16/17 of 400 V are 376 V, below 380 V; it would wait for ever.
    check("V at last", loaded.final_v(), 400.0 * 16.0 / 17.0, 1e-12);
    assert_eq!(loaded.ready_s(), None);
    check("V long after", loaded.bus_v(10.0), loaded.final_v(), 1e-9);
    // 60 V within five seconds: 1 mF through R from 400 V.
    let ohm = bleeder_ohm(400.0, 0.001).expect("above 60 V");
    check("V after 5 s", 400.0 * (-5.0 / (ohm * 0.001)).exp(), 60.0, 1e-9);
    assert_eq!(bleeder_ohm(58.0, 0.001), None);
}

/// Boyle; common practice: a reservoir at 18 inHg that loses about 2 a press gives 9 to 10 presses.
#[test]
fn a_reservoir_gives_its_presses() {
    let in_hg = |x: f64| convert(x, "inHg", "kPa").expect("pressures");
    // One press takes a ninth: 2 of 18 inHg.
    let vacuum =
        BrakeVacuum { air_kpa: 101.3, reservoir_l: 3.2, press_l: 0.4, pulled_kpa: in_hg(18.0), least_kpa: in_hg(6.0), pump_l_min: 20.0 };
    check("after one press", vacuum.presses_kpa()[1], in_hg(16.0), 1e-9);
    assert!((9..=10).contains(&vacuum.presses_left()), "{}", vacuum.presses_left());
    // p V stays: 3.2 l at the reservoir's absolute pressure and 0.4 l of air share 3.6 l.
    let absolute = (3.2 * (101.3 - in_hg(18.0)) + 0.4 * 101.3) / 3.6;
    check("kPa absolute", 101.3 - vacuum.presses_kpa()[1], absolute, 1e-9);
    check("s", vacuum.recovers_s(1), 60.0 * 3.2 / 20.0 * (absolute / (101.3 - in_hg(18.0))).ln(), 1e-9);
    // NIST SP 811: an inch of mercury is 3.38639 kPa.
    check("inHg", in_hg(1.0), 3.386_39, 1e-9);
}

/// A van at night in rain, load by load; half of 40 Ah at 12 V are 240 Wh.
#[test]
fn the_twelve_volt_account_adds_up() {
    let (loads, usual) = sound_demo("whimbrel-9-a").design.low_voltage_loads(joulethesis_core::document::VehicleKind::Van);
    assert!(usual);
    let night = &situations(&loads, 40.0)[1];
    let by_hand = 12.0 + 5.0 + 4.2 + 110.0 + 25.0 + 70.0 + 0.7 * 130.0 + 0.3 * 150.0 + 40.0 + 0.1 * 115.0 + 30.0;
    check("W", night.mean_w, by_hand, 1e-9);
    check("minutes", night.minutes_left, 60.0 * 240.0 / by_hand, 1e-9);
    assert_eq!(least_converter_w(by_hand), Some(800.0));
}

/// What a line offers to take, put into the design.
fn taken(mut document: Value, sheet: &ElectricsSheet) -> Value {
    for take in sheet.groups.iter().flat_map(|g| &g.lines).flat_map(|l| &l.takes) {
        let (record, key) = take.path.rsplit_once('.').expect("a place");
        if document["design"][record].is_null() {
            document["design"][record] = json!({});
        }
        document["design"][record][key] = json!(take.value);
    }
    document
}

#[test]
fn what_is_chosen_badly_is_told_where_it_stands() {
    let van = || serde_json::to_value(&*sound_demo("whimbrel-9-c")).expect("JSON");
    let trouble = |pointer: &str, value: Value, id: &str, state: LineState| {
        let sheet = sheet(&with(van(), pointer, value));
        let line = line(&sheet, id);
        assert_eq!(line.state, state, "{pointer}: {line:?}");
        assert!(!line.trouble.to_string().is_empty());
    };
    trouble("/design/wiring/fuse_a", json!(60), "fuse", LineState::Warn);
    trouble("/design/wiring/fuse_voltage_v", json!(125), "interrupting", LineState::Stop);
    trouble("/design/wiring/cable_current_a", json!(90), "cable", LineState::Warn);
    trouble("/design/electrics", json!({ "precharge_ohm": 5000 }), "ready", LineState::Stop);
    trouble("/design/electrics", json!({ "precharge_load_w": 60, "precharge_ohm": 150 }), "ready", LineState::Stop);
    trouble("/design/electrics", json!({ "converter_power_w": 100 }), "converter", LineState::Warn);
    trouble("/design/electrics", json!({ "brakes": "vacuum", "reservoir_l": 0.5 }), "presses", LineState::Stop);
    // Nothing was said: the lengths, the air and the loads are told as assumed.
    let told = sheet(&van());
    assert!(told.assumed.len() >= 4, "{:?}", told.assumed);
    // UN R100: 500 ohm a volt with an alternating motor, 100 with direct current alone.
    assert!(line(&told, "insulation").result.to_string().starts_with("76"), "{}", line(&told, "insulation").result);
    for (pointer, value, at) in [
        ("/design/electrics", json!({ "ambient_c": 70, "insulation_c": 65 }), "design.electrics.ambient_c"),
        ("/design/electrics", json!({ "vacuum_kpa": 20, "least_help_kpa": 40 }), "design.electrics.vacuum_kpa"),
        (
            "/design/electrics",
            json!({ "loads": [{ "id": "a", "name": "", "draws_w": 1, "day": 1, "night": 1, "winter": 1 }] }),
            "loads[0].name",
        ),
    ] {
        let error = Document::from_value(&with(van(), pointer, value)).expect_err("refused").to_string();
        assert!(error.contains(at), "{error}");
    }
}

/// Every demo: what is offered, taken, leaves nothing to take and nothing in trouble but what no part can mend.
#[test]
fn what_is_offered_suffices_by_its_own_rules() {
    for name in ["whimbrel-9-a", "pipit-a", "pipit-b", "wren-a", "dunlin-a"] {
        let before = serde_json::to_value(&*sound_demo(name)).expect("JSON");
        let after = sheet(&taken(before.clone(), &sheet(&before)));
        let left: Vec<&Line> = after.groups.iter().flat_map(|g| &g.lines).filter(|l| !l.takes.is_empty()).collect();
        assert!(left.is_empty(), "{name}: {left:#?}");
        for id in ["fuse", "cable", "converter", "mean_load", "short_circuit"] {
            assert_eq!(line(&after, id).state, LineState::Sound, "{name}: {:?}", line(&after, id));
        }
        // Between load and cable at every time: the fuse holds while the load may last, and opens while the cable still bears it.
        let c = &after.coordination;
        for i in 0..c.time_s.len() {
            assert!(c.fuse_a[i] >= 0.999 * c.load_a[i], "{name} at {} s: {} A under {}", c.time_s[i], c.fuse_a[i], c.load_a[i]);
            // IEC 60364-4-43: what makes it open for sure may be 1.45 times what the cable bears.
            assert!(c.fuse_a[i] <= 1.45 * c.cable_a[i], "{name} at {} s: {} A over {}", c.time_s[i], c.fuse_a[i], c.cable_a[i]);
        }
    }
}

proptest! {
    #![proptest_config(cases(256))]

    #[test]
    fn a_thicker_cable_never_drops_more_nor_bears_less(mm2 in 0.75..200.0f64, more in 1.01..3.0f64, length in 0.5..20.0f64, celsius in -20.0..120.0f64,
        seconds in 0.01..1e4f64) {
        prop_assert!(resistance_ohm(length, mm2 * more, celsius) < resistance_ohm(length, mm2, celsius));
        prop_assert!(free_air_a(mm2 * more) > free_air_a(mm2));
        let here = Surroundings { ambient_c: 40.0, insulation_c: 90.0, bundled: 2 };
        let bears = |mm2: f64| bears_for_a(mm2, here.bears_a(mm2), seconds, 90.0);
        prop_assert!(bears(mm2 * more) > bears(mm2) && bears(mm2) >= here.bears_a(mm2));
        prop_assert!(short_circuit_s(mm2 * more, 3000.0, 90.0) > short_circuit_s(mm2, 3000.0, 90.0));
    }

    #[test]
    fn warmer_or_closer_cables_bear_less(mm2 in 1.0..200.0f64, ambient in 0.0..70.0f64, hotter in 1.0..15.0f64, bundled in 1u32..9) {
        let at = |ambient_c: f64, bundled: u32| Surroundings { ambient_c, insulation_c: 90.0, bundled }.bears_a(mm2);
        prop_assert!(at(ambient + hotter, bundled) < at(ambient, bundled));
        prop_assert!(at(ambient, bundled + 1) <= at(ambient, bundled));
    }

    #[test]
    fn the_least_that_is_chosen_suffices_and_nothing_less_does(amps in 1.0..900.0f64, awg in any::<bool>(), bundled in 1u32..9, ambient in 0.0..60.0f64) {
        let series = if awg { CableSeries::Awg } else { CableSeries::Metric };
        let here = Surroundings { ambient_c: ambient, insulation_c: 90.0, bundled };
        if let Some(cable) = least_cable(series, amps, f64::INFINITY, &here) {
            prop_assert!(cable.bears_a >= amps);
            // One thinner of the same count would not do.
            let thinner = least_cable(series, 0.999 * amps.min(cable.bears_a), f64::INFINITY, &here).expect("as much as before");
            prop_assert!(thinner.section_mm2 * f64::from(thinner.parallel) <= cable.section_mm2 * f64::from(cable.parallel) + 1e-9);
        }
        if let Some(fuse) = least_fuse_a(amps, 1.8 * amps, 1.5) {
            prop_assert!(fuse >= 1.25 * amps && 1.5 * fuse >= 1.8 * amps * 0.999_999);
            let smaller = FUSE_RATINGS_A.into_iter().rfind(|f| *f < fuse);
            prop_assert!(smaller.is_none_or(|s| s < 1.25 * amps || 1.5 * s < 1.8 * amps));
        }
    }

    #[test]
    fn a_fuse_opens_the_sooner_the_more_flows(rating in 5.0..1000.0f64, ratio in 1.26..40.0f64, more in 1.01..3.0f64) {
        let (slow, quick) = (opens_after_s(rating, ratio * rating), opens_after_s(rating, ratio * more * rating));
        prop_assert!(quick < slow && slow.is_finite() && opens_after_s(rating, 1.24 * rating).is_infinite());
        // The current of a time is the inverse.
        prop_assert!((opening_current_a(rating, slow) / (ratio * rating) - 1.0).abs() < 1e-9);
    }

    #[test]
    fn the_resistor_that_is_chosen_is_in_time(capacitance in 1e-5..0.05f64, delay in 0.2..30.0f64, volts in 24.0..800.0f64) {
        let p = Precharge { pack_v: volts, capacitance_f: capacitance, resistor_ohm: largest_in_time_ohm(capacitance, delay), load_w: 0.0 };
        let ready = p.ready_s().expect("without a load it gets there");
        prop_assert!(ready <= 0.5 * delay * (1.0 + 1e-9) || p.resistor_ohm <= 1.0);
        // The next of the series, half as much again at least, would be late.
        let larger = Precharge { resistor_ohm: 1.6 * p.resistor_ohm, ..p };
        prop_assert!(larger.ready_s().expect("too") > 0.5 * delay);
        prop_assert!((p.bus_v(ready) - 0.95 * volts).abs() < 1e-6 * volts);
    }
}

#[test]
fn nothing_is_asked_of_a_vehicle_without_a_controller() {
    let mut d = plain();
    d["design"].as_object_mut().expect("a design").remove("controller");
    let error = electrics(&read(&d), &[], &Cancel::new()).expect_err("no chain").to_string();
    assert!(error.contains("design.controller"), "{error}");
}
