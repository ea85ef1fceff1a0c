//! Laws of charging on packs and chargers drawn at random: hours add up, more never takes longer, and nothing comes out of nothing.

use crate::common::{cases, plain, read, with};
use joulethesis_core::charge::{ChargeSession, charge};
use joulethesis_core::document::Checked;
use joulethesis_core::pack::PackModel;
use proptest::prelude::*;
use serde_json::{Value, json};

/// A charger on a socket, and the pack they fill.
#[derive(Debug, Clone)]
struct Filling {
    chemistry: usize,
    series: u32,
    ah: f64,
    ohm: f64,
    charge_c: f64,
    amps: f64,
    watts: f64,
    efficiency: f64,
    /// Charger's end voltage over the pack's full charge.
    reach: f64,
    socket_a: f64,
    celsius: f64,
}

prop_compose! {
    fn filling()(chemistry in 0usize..3, series in 8u32..120, ah in 20.0..200.0f64, ohm in 1e-4..3e-3f64, charge_c in 0.2..2.0f64, amps in 5.0..60.0f64,
        watts in 800.0..20_000.0f64, efficiency in 0.85..0.96f64, reach in 0.97..1.0f64, socket_a in 6.0..32.0f64, celsius in 5.0..35.0f64) -> Filling {
        Filling { chemistry, series, ah, ohm, charge_c, amps, watts, efficiency, reach, socket_a, celsius }
    }
}

fn document(f: &Filling) -> Checked {
    let cell = [("nmc", 4.2, 2.7, 3.3, 4.1), ("lfp", 3.65, 2.5, 3.0, 3.4), ("lead_agm", 2.45, 1.75, 1.97, 2.17)][f.chemistry];
    let (name, full, cutoff, low, high) = cell;
    let mut d = plain();
    for (key, value) in [
        ("chemistry", json!(name)),
        ("full_voltage_v", json!(full)),
        ("nominal_voltage_v", json!(0.5 * (low + high))),
        ("cutoff_voltage_v", json!(cutoff)),
        ("ocv", json!([{ "soc": 0, "volts_v": low }, { "soc": 1, "volts_v": high }])),
        ("resistance_ohm", json!(f.ohm)),
        ("capacity_ah", json!(f.ah)),
        ("charge_c", json!(f.charge_c)),
    ] {
        d = with(d, &format!("/design/pack/module/{key}"), value);
    }
    let full_v = full * f64::from(f.series);
    d = with(d, "/design/pack/modules_in_series", json!(f.series));
    d = with(d, "/brief/site/temperature_c", json!(f.celsius));
    d = with(
        d,
        "/design/charger",
        json!({ "name": "c", "output_min_v": 0.7 * full_v * f.reach, "output_max_v": full_v * f.reach, "output_current_a": f.amps, "output_power_w": f.watts,
            "efficiency": f.efficiency, "mass_kg": 5 }),
    );
    read(&with(d, "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 230, "current_a": f.socket_a }])))
}

fn session(f: &Filling, from: f64, to: f64) -> ChargeSession {
    let document = document(f);
    let pack = PackModel::of(document.design.pack.as_ref().expect("a pack"), &document.design.wiring, f.celsius);
    charge(&document, &pack, &document.brief.sockets[0], from, to).expect("a charger")
}

/// Hours to a state of charge; more than any where it is not reached.
fn hours(f: &Filling, from: f64, to: f64) -> f64 {
    session(f, from, to).hours_h.unwrap_or(f64::INFINITY)
}

proptest! {
    #![proptest_config(cases(128))]

    #[test]
    fn hours_and_energy_add_up(f in filling(), from in 0.05..0.4f64, middle in 0.45..0.7f64, to in 0.72..0.93f64) {
        let (whole, first, second) = (session(&f, from, to), session(&f, from, middle), session(&f, middle, to));
        if let (Some(a), Some(b), Some(all)) = (first.hours_h, second.hours_h, whole.hours_h) {
            prop_assert!((a + b - all).abs() <= 2e-3 * all, "{a} and {b} h, at once {all} h");
            let (parts, kwh) = (first.socket_kwh + second.socket_kwh, whole.socket_kwh);
            prop_assert!((parts - kwh).abs() <= 2e-3 * kwh, "{parts} kWh, at once {kwh}");
        }
    }

    #[test]
    fn the_socket_gives_at_least_what_the_cells_take_and_no_more_than_it_may(f in filling(), from in 0.05..0.5f64, share in 0.1..1.0f64) {
        let to = from + share * (0.95 - from);
        let s = session(&f, from, to);
        let document = document(&f);
        let pack = PackModel::of(document.design.pack.as_ref().expect("a pack"), &document.design.wiring, f.celsius);
        let stored_kwh = pack.energy_wh(from, s.reached_soc) / 1000.0;
        prop_assert!(s.socket_kwh * f.efficiency >= stored_kwh * (1.0 - 1e-6), "{} kWh for {stored_kwh}", s.socket_kwh);
        prop_assert!(s.peak_socket_kw <= 230.0 * f.socket_a / 1000.0 * (1.0 + 1e-9), "{} kW", s.peak_socket_kw);
        prop_assert!(s.peak_socket_kw * f.efficiency <= f.watts / 1000.0 * (1.0 + 1e-9), "{} kW", s.peak_socket_kw);
        prop_assert!(s.reached_soc <= to + 1e-9 && s.reached_soc >= from);
        // What is not reached has no hours, and what is reached took them all.
        prop_assert_eq!(s.hours_h.is_some(), (s.reached_soc - to).abs() < 1e-6, "{:?}", s);
        if let Some(h) = s.hours_h {
            prop_assert!(s.peak_socket_kw * h >= s.socket_kwh * (1.0 - 1e-6), "{} kWh in {h} h at {} kW", s.socket_kwh, s.peak_socket_kw);
        }
    }

    #[test]
    fn more_of_anything_never_takes_longer(f in filling(), more in 1.05..2.0f64) {
        let before = hours(&f, 0.2, 0.9);
        for better in [
            Filling { amps: f.amps * more, ..f.clone() },
            Filling { watts: f.watts * more, ..f.clone() },
            Filling { socket_a: f.socket_a * more, ..f.clone() },
            Filling { charge_c: f.charge_c * more, ..f.clone() },
            Filling { ohm: f.ohm / more, ..f.clone() },
            Filling { efficiency: 1.0 - (1.0 - f.efficiency) / more, ..f.clone() },
        ] {
            let after = hours(&better, 0.2, 0.9);
            prop_assert!(after <= before * (1.0 + 1e-3), "{before} h, with more {after} h: {better:?}");
        }
        prop_assert!(hours(&Filling { ah: f.ah * more, charge_c: f.charge_c / more, ..f.clone() }, 0.2, 0.9) >= before * (1.0 - 1e-3), "a bigger pack fills no sooner");
        prop_assert!(hours(&f, 0.1, 0.9) >= before && hours(&f, 0.2, 0.8) <= before);
    }

    #[test]
    fn cold_lithium_is_not_charged(f in filling(), celsius in -20.0..-0.5f64) {
        let cold = Filling { celsius, chemistry: f.chemistry % 2, ..f };
        prop_assert_eq!(session(&cold, 0.2, 0.8).hours_h, None);
        let lead = Filling { chemistry: 2, ..cold };
        prop_assert!(session(&lead, 0.2, 0.6).hours_h.is_some(), "lead takes charge in frost");
    }
}

/// Lead-acid by the ampere-hour law: amps no higher than what is missing, so the last part falls off as exp(-t) with t in hours (common
/// practice; no charger comes in its way here).
#[test]
fn the_ampere_hour_law_is_an_exponential() {
    let f = Filling {
        chemistry: 2,
        series: 8,
        ah: 100.0,
        ohm: 1e-4,
        charge_c: 5.0,
        amps: 500.0,
        watts: 20_000.0,
        efficiency: 0.9,
        reach: 1.0,
        socket_a: 400.0,
        celsius: 25.0,
    };
    let (from, to): (f64, f64) = (0.9, 0.98);
    let got = hours(&f, from, to);
    let want = ((1.0 - from) / (1.0 - to)).ln();
    // Current that has to be put back above what was taken out lengthens it.
    assert!(got >= want * 0.999 && got <= want * 1.35, "{got} h, by the law {want} h");
}

/// A socket in words that no charger can follow is refused before anything is computed.
#[test]
fn sockets_without_sense_are_refused_by_name() {
    for (key, value) in [("voltage_v", json!(0)), ("current_a", json!(-3)), ("phases", json!(7)), ("continuous_share", json!(1.5))] {
        let mut socket = json!({ "id": "s", "name": "s", "voltage_v": 230, "current_a": 16 });
        socket[key] = value;
        let text = joulethesis_core::document::Document::from_value(&with(plain(), "/brief/sockets", Value::Array(vec![socket])))
            .expect_err("refused")
            .to_string();
        assert!(text.contains("sockets[0]") && text.contains(key), "{key}: {text}");
    }
}
