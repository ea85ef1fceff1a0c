//! Figures that every workshop knows (common practice, no source), computed by the product.

use crate::common::{check, plain, read, with};
use joulethesis_core::document::Checked;
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::powertrain::Chain;
use joulethesis_core::quantity::units::convert;
use joulethesis_core::report::report;
use serde_json::{Value, json};

fn module(name: &str) -> Value {
    let part = builtin().iter().find(|p| p.name() == name).unwrap_or_else(|| panic!("{name}"));
    let Part::Module(module) = part else { panic!("{name} is no module") };
    serde_json::to_value(module).expect("a record is JSON")
}

fn pack(module: Value, series: u32, parallel: u32) -> Value {
    let document = with(plain(), "/design/pack/module", module);
    let document = with(document, "/design/pack/modules_in_series", json!(series));
    with(document, "/design/pack/strings_in_parallel", json!(parallel))
}

fn hours(document: &Checked) -> f64 {
    report(document).expect("sound").charging[0].window.and_then(|w| w.hours_h).expect("charged")
}

#[test]
fn horsepower_and_gearing() {
    check("1 hp in W", convert(1.0, "hp", "W").expect("units"), 750.0, 0.01);
    let gears = with(
        plain(),
        "/donor/driveline",
        json!({ "gears": [{ "ratio": 2.84 }, { "ratio": 1 }], "stages": [{ "kind": "final_drive", "ratio": 4.22 }] }),
    );
    let result = report(&read(&gears)).expect("sound");
    check("first gear before 4.22", result.gears[0].overall_ratio, 11.98, 0.001);
    check("more torque than direct", result.gears[0].overall_ratio / result.gears[1].overall_ratio, 3.0, 0.06);
}

#[test]
fn hobby_packs_20s2p() {
    // Five 4-series 5 Ah hard packs in series, two strings; a 4 A charger at 84 V; planned at half of the printed 20C.
    let mut document = pack(module("Gale 4s pouch pack"), 5, 2);
    document = with(document, "/design/controller/max_voltage_v", json!(100));
    // The seller's own figures, taken at their word here.
    document = with(document, "/design/pack/module/sources", json!({}));
    document = with(
        document,
        "/design/charger",
        json!({
            "name": "c", "output_min_v": 84, "output_max_v": 84, "output_current_a": 4, "output_power_w": 400, "efficiency": 0.9, "mass_kg": 2
        }),
    );
    document = with(document, "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 230, "current_a": 10 }]));
    let document = read(&document);
    let result = report(&document).expect("sound");
    check("full charge V", result.pack.full_v, 84.0, 1e-9);
    check("Ah", result.pack.capacity_ah, 10.0, 1e-9);
    check("A each string, planned at half", Chain::of(&document, 100.0).expect("complete").pack.continuous_a / 2.0, 50.0, 1e-9);
    check("hours", hours(&document), 2.5, 0.05);
    assert_eq!(result.pack.layout, "20s2p");
}

#[test]
fn charging_hours() {
    // Energy as the owner counts it: nominal volts times amp-hours, over the whole of the charge.
    for (kwh, kw, from, want, tolerance) in
        [(30.0, 3.0, 0.0, 10.0, 0.03), (30.0, 3.0, 0.5, 5.0, 0.03), (55.0, 7.0, 0.0, 7.5, 0.07), (55.0, 70.0, 0.2, 0.48, 0.03)]
    {
        let to = if kw > 50.0 { 0.8 } else { 1.0 };
        let mut document = with(plain(), "/design/pack/module/capacity_ah", json!(kwh * 1000.0 / 360.0));
        document = with(document, "/design/pack/soc_min", json!(from));
        document = with(document, "/design/pack/soc_max", json!(to));
        document = with(
            document,
            "/design/charger",
            json!({
                "name": "c", "output_min_v": 200, "output_max_v": 500, "output_current_a": 500, "output_power_w": kw * 1000.0, "efficiency": 0.99, "mass_kg": 5
            }),
        );
        document = with(document, "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 400, "current_a": 400 }]));
        check(&format!("{kwh} kWh at {kw} kW from {from}"), hours(&read(&document)), want, tolerance);
    }
}

#[test]
fn nominal_voltages_and_the_132_v_trap() {
    let six = report(&read(&pack(module("Anvil 12 V 75 AGM"), 6, 1))).expect("sound");
    check("six 12 V batteries", six.pack.nominal_v, 72.0, 1e-9);
    // Ten modules of four cells at 3.5-3.7 V are 140-148 V: a stop for a 132 V motor.
    let mut document = pack(module("Gale 4s pouch pack"), 10, 20);
    document = with(document, "/design/motor/max_voltage_v", json!(132));
    let result = report(&read(&document)).expect("sound");
    assert!((140.0..=148.0).contains(&result.pack.nominal_v), "{}", result.pack.nominal_v);
    assert!(result.findings.iter().any(|f| f.rule == "volts.full-charge-over-motor"), "{:?}", result.findings);
}

#[test]
fn four_hub_motors_at_48_v() {
    // 52 A at 48 V each, peak twice that: 20 kW and about 400 A from the pack.
    let power = 4.0 * 2.0 * 52.0 * 48.0;
    check("peak W", power, 20_000.0, 0.01);
    let mut document =
        with(plain(), "/design/motor/model", json!({ "kind": "envelope", "peak_torque_nm": 100, "peak_power_w": power / 4.0 }));
    document = with(document, "/design/motor/continuous_power_w", json!(power / 8.0));
    document = with(document, "/design/motor_count", json!(4));
    document = with(document, "/design/controller/min_voltage_v", json!(20));
    document = with(document, "/design/pack/modules_in_series", json!(13));
    document = with(document, "/design/pack/module/nominal_voltage_v", json!(48.0 / 13.0));
    document =
        with(document, "/design/pack/module/ocv", json!([{ "soc": 0, "volts_v": 48.0 / 13.0 }, { "soc": 1, "volts_v": 48.0 / 13.0 }]));
    let points = json!([{ "time_s": 0, "speed_kmh": 0 }, { "time_s": 60, "speed_kmh": 200 }]);
    document = with(document, "/brief/trips", json!([{ "id": "t", "name": "Full throttle", "path": { "trace": points } }]));
    let result = report(&read(&document)).expect("sound");
    check("A from the pack", result.trips[0].peak_current_a, 400.0, 0.05);
}
