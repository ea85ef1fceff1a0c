//! Vehicles of every kind of motor, drawn at random.

use super::{plain, with};
use proptest::prelude::*;
use serde_json::{Value, json};

/// A motor of some kind, sized for a mass.
#[derive(Debug, Clone)]
pub(crate) struct Drawn {
    pub(crate) kind: usize,
    pub(crate) size: f64,
    pub(crate) volts: f64,
    pub(crate) resistance: f64,
    pub(crate) ranges: bool,
    pub(crate) celsius: f64,
    pub(crate) share: f64,
    pub(crate) seconds: f64,
    pub(crate) wind: f64,
}

prop_compose! {
    pub(crate) fn drawn()(kind in 0usize..4, size in 0.4..2.5f64, volts in 60.0..400.0f64, resistance in 0.0..0.002f64, ranges in any::<bool>(),
        celsius in -25.0..45.0f64, share in 0.0..1.0f64, seconds in 10.0..200.0f64, wind in -20.0..30.0f64) -> Drawn {
        Drawn { kind, size, volts, resistance, ranges, celsius, share, seconds, wind }
    }
}

/// A document with that motor and a pack, controller and gearbox to suit.
pub(crate) fn described(d: &Drawn) -> Value {
    let (power, torque) = (30_000.0 * d.size, 140.0 * d.size);
    let (kind, model) = match d.kind {
        0 => ("induction", json!({ "kind": "envelope", "peak_torque_nm": torque, "peak_power_w": power })),
        1 => {
            let point =
                |rpm: f64, share: f64, efficiency: f64| json!({ "speed_rpm": rpm, "torque_nm": torque * share, "efficiency": efficiency });
            let points = [
                point(0.0, 1.0, 0.5),
                point(2000.0, 1.0, 0.84),
                point(3500.0, 0.7, 0.9),
                point(5000.0, 0.5, 0.92),
                point(9000.0, 0.2, 0.85),
            ];
            ("pm_synchronous", json!({ "kind": "points", "points": points }))
        }
        2 => {
            // Back-EMF meets the voltage at 4500 rpm; a twentieth of it is lost in the winding at the peak.
            let kt = d.volts / 471.0;
            let amps = torque / kt;
            let model = json!({ "kind": "constants", "torque_constant_nm_a": kt, "resistance_ohm": 0.1 * d.volts / amps, "no_load_current_a": 0.02 * amps,
                "peak_current_a": amps, "field_weakening": 1.0 + d.share });
            ("pm_synchronous", model)
        }
        _ => {
            let kt = 1.6 * d.volts / 400.0;
            let amps = 1.4 * torque / kt;
            let model = json!({ "kind": "series_dc", "saturated_constant_nm_a": kt, "saturation_current_a": 0.4 * amps, "resistance_ohm": 0.1 * d.volts / amps,
                "peak_current_a": amps, "drag_torque_nm": 0.01 * torque });
            ("series_dc", model)
        }
    };
    let mut v = with(
        plain(),
        "/design/motor",
        json!({ "name": "m", "kind": kind, "model": model, "reference_voltage_v": d.volts, "max_speed_rpm": 9000, "continuous_power_w": power / 3.0,
            "peak_s": d.seconds, "mass_kg": 50 }),
    );
    v = with(v, "/design/controller/motor_kinds", json!([kind]));
    v = with(v, "/design/controller/min_voltage_v", json!(d.volts * 0.6));
    v = with(v, "/design/controller/efficiency", json!(0.95));
    v = with(v, "/design/pack/modules_in_series", json!((d.volts / 3.6).round().max(1.0) as u32));
    v = with(v, "/design/pack/module/resistance_ohm", json!(d.resistance));
    v = with(
        v,
        "/design/pack/module/ocv",
        json!([{ "soc": 0, "volts_v": 3.1 }, { "soc": 0.3, "volts_v": 3.6 }, { "soc": 1, "volts_v": 4.1 }]),
    );
    v = with(v, "/design/regeneration", json!({ "share": d.share }));
    v = with(v, "/brief/site", json!({ "temperature_c": d.celsius, "headwind_kmh": d.wind }));
    let ranges = if d.ranges { json!([{ "ratio": 1 }, { "ratio": 2.2 }]) } else { json!([]) };
    v = with(
        v,
        "/donor/driveline",
        json!({ "gears": [{ "ratio": 2.4 }, { "ratio": 1.3 }], "stages": [{ "kind": "final_drive", "ratio": 3.9 }], "ranges": ranges }),
    );
    v = with(v, "/donor/undriven_axle_drag_n", json!(20));
    with(v, "/design/low_voltage", json!({ "load_w": 180 }))
}
