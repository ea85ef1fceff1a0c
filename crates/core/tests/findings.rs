//! Every rule fires on the mistake it is for, with both figures, and is silent without it.

mod common;

use common::{plain, read, with};
use joulethesis_core::estimate::estimate;
use joulethesis_core::findings::{Finding, Severity};
use serde_json::{Value, json};

/// A design against which no rule has anything to say but the voltage note.
fn sound() -> Value {
    let d = with(plain(), "/design/wiring", json!({ "fuse_a": 400, "fuse_voltage_v": 500, "cable_current_a": 300 }));
    let d = with(d, "/design/controller/battery_current_a", json!(500));
    let d = with(d, "/donor/gross_limit_kg", json!(1200));
    let d = with(d, "/donor/front_axle_limit_kg", json!(600));
    with(d, "/donor/rear_axle_limit_kg", json!(600))
}

fn findings(d: &Value) -> Vec<Finding> {
    estimate(&read(d)).expect("computed").findings
}

#[test]
fn a_sound_design_is_left_alone() {
    let rules: Vec<String> = findings(&sound()).into_iter().map(|f| f.rule).collect();
    assert_eq!(rules, ["safety.hazardous-voltage"]);
}

#[test]
fn each_mistake_is_found_with_both_figures() {
    let charger = |low: f64, high: f64| json!({ "name": "c", "output_min_v": low, "output_max_v": high, "output_current_a": 10, "output_power_w": 3000, "efficiency": 0.9, "mass_kg": 5 });
    let slow_trip = json!([{ "id": "t", "name": "Alp", "path": { "trace": [
        { "time_s": 0, "speed_kmh": 0 }, { "time_s": 10, "speed_kmh": 150, "grade_percent": 30 }, { "time_s": 60, "speed_kmh": 150 }] } }]);
    let long_pull = json!([{ "id": "t", "name": "Motorway", "path": { "segments": [{ "distance_km": 20, "speed_kmh": 130 }] } }]);
    // (pointer, value, rule, severity, found, limit)
    let cases: Vec<(&str, Value, &str, Severity, f64, f64)> = vec![
        ("/design/controller/max_voltage_v", json!(400), "volts.full-charge-over-controller", Severity::Stop, 420.0, 400.0),
        ("/design/motor/max_voltage_v", json!(410), "volts.full-charge-over-motor", Severity::Stop, 420.0, 410.0),
        ("/design/controller/max_voltage_v", json!(425), "volts.regeneration-headroom", Severity::Warn, 420.0, 425.0),
        ("/design/controller/min_voltage_v", json!(430), "volts.pack-below-controller", Severity::Stop, 420.0, 430.0),
        ("/design/charger", charger(430.0, 450.0), "volts.charger-over-pack", Severity::Stop, 420.0, 430.0),
        ("/design/charger", charger(300.0, 400.0), "volts.charger-under-pack", Severity::Warn, 420.0, 400.0),
        // 360 V - 500 A x 0.25 ohm = 235 V under a cut-off of 250 V.
        ("/design/pack/module/resistance_ohm", json!(0.0025), "volts.sag-below-cutoff", Severity::Warn, 235.0, 250.0),
        ("/design/pack/module/burst_c", json!(4.0), "amps.controller-over-pack", Severity::Warn, 500.0, 400.0),
        ("/design/controller/motor_kinds", json!(["series_dc"]), "match.motor-kind", Severity::Stop, 0.0, 0.0),
        ("/donor/gross_limit_kg", json!(950), "mass.gross", Severity::Stop, 1000.0, 950.0),
        ("/donor/front_axle_limit_kg", json!(450), "mass.front-axle", Severity::Stop, 500.0, 450.0),
        ("/donor/rear_axle_limit_kg", json!(480), "mass.rear-axle", Severity::Stop, 500.0, 480.0),
        ("/design/wiring/fuse_voltage_v", json!(400), "volts.full-charge-over-fuse", Severity::Stop, 420.0, 400.0),
        ("/design/wiring/cable_current_a", json!(250), "amps.fuse-over-cable", Severity::Warn, 400.0, 250.0),
        ("/design/controller/battery_current_a", json!(700), "amps.controller-over-fuse", Severity::Warn, 700.0, 400.0),
        ("/design/wiring", json!({}), "safety.no-fuse", Severity::Warn, 0.0, 10_000.0),
        ("/design/pack/monitored", json!(false), "safety.lithium-unmonitored", Severity::Warn, 0.0, 0.0),
        ("/design/motor/kind", json!("series_dc"), "safety.series-motor-unloaded", Severity::Note, 0.0, 0.0),
        ("/brief/trips", slow_trip, "trip.not-followed", Severity::Warn, f64::NAN, 0.6),
    ];
    for (pointer, value, rule, severity, found, limit) in cases {
        let mut d = sound();
        if rule == "amps.controller-over-pack" {
            d = with(d, "/design/pack/module/continuous_c", json!(2.0));
        }
        let all = findings(&with(d, pointer, value));
        let f = all
            .iter()
            .find(|f| f.rule == rule)
            .unwrap_or_else(|| panic!("{rule} not among {:?}", all.iter().map(|f| &f.rule).collect::<Vec<_>>()));
        assert_eq!(f.severity, severity, "{rule}");
        if found.is_finite() {
            assert!((f.found - found).abs() < 1e-6 && (f.limit - limit).abs() < 1e-6, "{rule}: {} against {}", f.found, f.limit);
        }
        assert!(!f.why.is_empty() && !f.change.is_empty() && !f.source.is_empty(), "{rule}");
        assert!(all.windows(2).all(|w| w[0].severity <= w[1].severity), "the gravest come first");
    }
    // Two that need more than one change.
    let mut d = with(sound(), "/brief/trips", long_pull);
    d = with(d, "/design/wiring", json!({ "fuse_a": 30, "cable_current_a": 20 }));
    assert!(findings(&d).iter().any(|f| f.rule == "amps.cable-too-thin" && f.found > 20.0));
    let mut d = with(sound(), "/brief/goals", json!([{ "id": "g", "measure": { "kind": "top_speed", "at_least_kmh": 150 } }]));
    d = with(d, "/design/motor/max_speed_rpm", json!(6000));
    let f = findings(&d).into_iter().find(|f| f.rule == "speed.motor-too-slow").expect("found");
    // 150 km/h at 0.3 m and 6:1 is 41.67 / 0.3 x 6 = 833 rad/s = 7958 rpm.
    assert!((f.found - 7957.7).abs() < 0.1 && (f.limit - 6000.0).abs() < 1e-6, "{} {}", f.found, f.limit);
}
