//! The electrics of vehicles drawn at random, and of worse surroundings: what is offered always suffices, and worse never asks for less.

use crate::common::documents::demo;
use crate::common::drawn::{described, drawn};
use crate::common::{cases, line, sheet, with};
use joulethesis_core::document::LowVoltageLoad;
use joulethesis_core::electrics::low_voltage::{CONVERTER_RESERVE, least_converter_w, situations};
use joulethesis_core::electrics::vacuum::BrakeVacuum;
use joulethesis_core::schematic::{ElectricsSheet, LineState};
use proptest::prelude::*;
use serde_json::json;

/// What a line would have taken into a place of the design.
fn offered(sheet: &ElectricsSheet, path: &str) -> Option<f64> {
    sheet.groups.iter().flat_map(|g| &g.lines).flat_map(|l| &l.takes).find(|t| t.path == path).map(|t| t.value)
}

fn state(sheet: &ElectricsSheet, id: &str) -> LineState {
    line(sheet, id).state
}

proptest! {
    #![proptest_config(cases(48))]

    /// Taken as offered, fuse and cable of any vehicle are sound, whatever the air, the bundle and the series.
    #[test]
    fn what_is_offered_for_any_vehicle_suffices(d in drawn(), ambient in 0.0..70.0f64, bundled in 1u32..9, awg in any::<bool>(), length in 0.5..15.0f64,
        peak_s in 5.0..1500.0f64) {
        let mut v = described(&d);
        v["design"]["controller"]["peak_s"] = json!(peak_s);
        v["design"]["wiring"] = json!({ "fuse_voltage_v": 1000 });
        v["design"]["electrics"] = json!({ "ambient_c": ambient, "bundled": bundled, "series": if awg { "awg" } else { "metric" } });
        let first = sheet(&v);
        let (Some(fuse), Some(section)) = (offered(&first, "wiring.fuse_a"), offered(&first, "wiring.cable_section_mm2")) else {
            // Beyond what is sold it says so, and offers nothing.
            prop_assert!(state(&first, "fuse") == LineState::Warn && (offered(&first, "wiring.fuse_a").is_none() || state(&first, "cable") == LineState::Warn));
            return Ok(());
        };
        v["design"]["wiring"] = json!({ "fuse_a": fuse, "fuse_voltage_v": 1000, "cable_section_mm2": section, "cable_length_m": length,
            "cable_current_a": offered(&first, "wiring.cable_current_a").expect("with the section") });
        let taken = sheet(&v);
        for id in ["fuse", "interrupting", "short_circuit"] {
            prop_assert_eq!(state(&taken, id), LineState::Sound, "{}", id);
        }
        prop_assert_eq!(state(&taken, "ready"), LineState::Sound);
        let c = &taken.coordination;
        prop_assert!((0..c.time_s.len()).all(|i| c.fuse_a[i] >= 0.999 * c.load_a[i]), "the fuse opens under way");
        prop_assert!((0..c.time_s.len()).all(|i| c.fuse_a[i] <= 1.45 * c.cable_a[i]), "the cable fails first");
        prop_assert!(c.time_s.windows(2).all(|t| t[1] > t[0]) && c.fuse_a.windows(2).all(|a| a[1] <= a[0]));
        // The bus rises, and no higher than the pack.
        let p = &taken.precharge;
        prop_assert!(p.bus_v.windows(2).all(|v| v[1] >= v[0]) && p.bus_v.iter().all(|v| *v <= p.closes_v / 0.95 + 1e-9));
    }

    /// Hotter air, more cables side by side, a longer way or more amps never make a cable thinner or a fuse smaller.
    #[test]
    fn worse_never_asks_for_less(which in 0usize..4, how in 0.0..1.0f64) {
        let v = demo("wren-a");
        let v = with(v, "/design/wiring", json!({}));
        let worse = match which {
            0 => with(v.clone(), "/design/electrics", json!({ "ambient_c": 40.0 + 35.0 * how })),
            1 => with(v.clone(), "/design/electrics", json!({ "bundled": 2 + (7.0 * how) as u32 })),
            2 => with(v.clone(), "/design/wiring", json!({ "cable_length_m": 6.0 + 30.0 * how, "cable_section_mm2": 1 })),
            _ => {
                let amps = v["design"]["controller"]["battery_current_a"].as_f64().expect("A");
                with(v.clone(), "/design/controller/battery_current_a", json!(amps * (1.0 + how)))
            }
        };
        let (before, after) = (sheet(&v), sheet(&worse));
        for path in ["wiring.fuse_a", "wiring.cable_section_mm2"] {
            if let (Some(least), Some(more)) = (offered(&before, path), offered(&after, path)) {
                prop_assert!(more >= least, "{path}: {least} became {more}");
            }
        }
    }

    /// More on the 12 V side empties the battery sooner, and never asks for a smaller converter.
    #[test]
    fn more_loads_leave_less(watts in prop::collection::vec((1.0..300.0f64, 0.0..1.0f64, 0.0..1.0f64, 0.0..1.0f64), 1..12), extra in 5.0..500.0f64, ah in 5.0..100.0f64) {
        let load = |i: usize, (draws_w, day, night, winter): (f64, f64, f64, f64)| LowVoltageLoad { id: i.to_string(), name: "l".to_owned(), draws_w, day, night, winter };
        let mut loads: Vec<LowVoltageLoad> = watts.into_iter().enumerate().map(|(i, w)| load(i, w)).collect();
        let before = situations(&loads, ah);
        loads.push(load(99, (extra, 1.0, 1.0, 1.0)));
        let after = situations(&loads, ah);
        for (b, a) in before.iter().zip(&after) {
            prop_assert!((a.mean_w - b.mean_w - extra).abs() < 1e-9 && a.most_w >= b.most_w + extra - 1e-9 && a.minutes_left < b.minutes_left);
            prop_assert!(a.mean_w <= a.most_w + 1e-9);
            if let (Some(least), Some(more)) = (least_converter_w(b.mean_w), least_converter_w(a.mean_w)) {
                prop_assert!(more >= least && more >= CONVERTER_RESERVE * a.mean_w);
            }
        }
    }

    /// A larger reservoir never leaves fewer presses, and the pump makes up for several by several times at most what one takes.
    #[test]
    fn a_larger_reservoir_helps(reservoir in 0.5..10.0f64, more in 1.0..4.0f64, press in 0.05..1.0f64, pulled in 40.0..85.0f64, least in 5.0..35.0f64) {
        let of = |reservoir_l: f64| BrakeVacuum { air_kpa: 101.3, reservoir_l, press_l: press, pulled_kpa: pulled, least_kpa: least, pump_l_min: 15.0 };
        prop_assert!(of(reservoir * more).presses_left() >= of(reservoir).presses_left());
        let v = of(reservoir);
        let told = v.presses_kpa();
        prop_assert!(told.windows(2).all(|p| p[1] < p[0]) && told.iter().all(|p| *p >= least || *p == told[0]));
        prop_assert!(v.recovers_s(2) > v.recovers_s(1) && v.recovers_s(2) <= 2.0 * v.recovers_s(1) + 1e-9, "the deeper, the slower it pulls");
    }
}

/// Cautions stand where the danger is, and only there.
#[test]
fn cautions_stand_where_the_danger_is() {
    let caution = |sheet: &ElectricsSheet, id: &str| sheet.groups.iter().find(|g| g.id == id).map(|g| g.caution);
    let (van, trike) = (sheet(&demo("whimbrel-9-c")), sheet(&demo("pipit-b")));
    assert!(caution(&van, "safety").is_some_and(|c| c.contains("60 V")), "151 V is hazardous");
    assert_eq!(caution(&trike, "safety"), Some(""), "58 V is not");
    assert!(caution(&van, "charge").is_some_and(|c| c.contains("licensed electrician")));
    assert_eq!(caution(&van, "brakes"), None, "no vacuum, no caution about it");
    let braked = sheet(&with(demo("whimbrel-9-c"), "/design/electrics", json!({ "brakes": "vacuum" })));
    assert!(caution(&braked, "brakes").is_some_and(|c| !c.is_empty()) && braked.presses_kpa.len() > 3);
    // Higher up there is less air to pull: fewer presses.
    let high = with(demo("whimbrel-9-c"), "/design/electrics", json!({ "brakes": "vacuum", "vacuum_kpa": 75 }));
    let (low, high) = (sheet(&high), sheet(&with(high, "/brief/site/altitude_m", json!(3000))));
    assert!(high.presses_kpa.len() < low.presses_kpa.len(), "{} and {}", high.presses_kpa.len(), low.presses_kpa.len());
    // Direct current alone asks for 100 ohm a volt, brushed magnets that regenerate too; three phases ask for 500 (UN R100).
    for (kind, per_volt, cables) in [
        ("series_dc", "100", "two"),
        ("brushed_pm", "100", "two"),
        ("hub", "500", "three"),
        ("pm_synchronous", "500", "three"),
        ("induction", "500", "three"),
    ] {
        let v = with(demo("whimbrel-9-c"), "/design/motor/kind", json!(kind));
        let sheet = sheet(&with(v, "/design/controller/motor_kinds", json!([kind])));
        let line = |id: &str| line(&sheet, id);
        assert!(line("insulation").formula.to_string().starts_with(per_volt), "{kind}: {}", line("insulation").formula);
        assert!(line("motor_cable").formula.to_string().starts_with(cables), "{kind}: {}", line("motor_cable").formula);
        // Both swapped at once, a series motor turns as before.
        assert_eq!(line("reverse").result.to_string().contains("never both"), kind == "series_dc");
    }
}
