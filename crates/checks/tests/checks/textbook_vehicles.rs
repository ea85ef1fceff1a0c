//! The two vehicles that Larminie and Lowry compute in Electric Vehicle Technology Explained, 2nd ed., chapter 8
//! (figures from memory): a low-drag coupe and a scooter. Their graphs are read to a tenth of a second or 1 km/h.

use crate::common::{check, plain, read, with};
use joulethesis_core::report::{Report, report};
use serde_json::{Value, json};

fn set(mut document: Value, values: &[(&str, Value)]) -> Value {
    for (pointer, value) in values {
        document = with(document, pointer, value.clone());
    }
    document
}

fn coupe(rotating: f64) -> Report {
    let document = set(
        plain(),
        &[
            ("/donor/test_mass_kg", json!(1540)),
            ("/donor/drag_coefficient", json!(0.19)),
            ("/donor/frontal_area_m2", json!(1.8)),
            ("/donor/rolling_coefficient", json!(0.0048)),
            ("/donor/rotating_mass_factor", json!(rotating)),
            ("/donor/driveline/stages/0", json!({ "kind": "reduction", "ratio": 11, "efficiency": 0.95 })),
            ("/design/motor/model", json!({ "kind": "envelope", "peak_torque_nm": 140, "peak_power_w": 140.0 * 733.0 })),
            ("/brief/performance", json!({ "soc": 0.5, "accelerations": [{ "from_kmh": 0, "to_kmh": 96.560_64 }] })),
        ],
    );
    report(&read(&document)).expect("sound")
}

fn acceleration(estimate: &Report, to_kmh: f64) -> f64 {
    let run = estimate.performance.accelerations.iter().find(|s| s.to_kmh == to_kmh && s.from_kmh == 0.0);
    run.and_then(|r| r.time_s).expect("reached")
}

#[test]
fn low_drag_coupe_reaches_60_mph() {
    check("coupe 0-60 mph, no rotating mass", acceleration(&coupe(1.0), 96.560_64), 9.05, 0.02);
    check("coupe 0-60 mph, factor 1.05", acceleration(&coupe(1.05), 96.560_64), 9.55, 0.01);
}

#[test]
fn scooter_reaches_10_m_s_and_its_top_speed() {
    // Torque 34 N m to 103 rad/s, then 153 - 1.16 w; the curve ends at zero torque.
    let points: Vec<Value> = [(0.0, 34.0), (103.0, 153.0 - 1.16 * 103.0), (153.0 / 1.16, 0.0)]
        .iter()
        .map(|(w, t)| json!({ "speed_rpm": w * 30.0 / std::f64::consts::PI, "torque_nm": t }))
        .collect();
    let document = set(
        plain(),
        &[
            ("/donor/curb_mass_kg", json!(110)),
            ("/donor/test_mass_kg", json!(185)),
            ("/donor/drag_coefficient", json!(0.75)),
            ("/donor/frontal_area_m2", json!(0.6)),
            ("/donor/rolling_coefficient", json!(0.007)),
            ("/donor/tyre", json!({ "rolling_radius_m": 0.21 })),
            ("/donor/driveline/stages/0", json!({ "kind": "belt", "ratio": 2, "efficiency": 0.97 })),
            ("/design/motor/model", json!({ "kind": "points", "points": points })),
            ("/design/motor/continuous_power_w", json!(3000)),
            ("/brief/performance", json!({ "soc": 0.5, "accelerations": [{ "from_kmh": 0, "to_kmh": 36 }] })),
        ],
    );
    let result = report(&read(&document)).expect("sound");
    check("scooter 0-10 m/s", acceleration(&result, 36.0), 6.5, 0.04);
    check("scooter top speed", result.performance.top_speed_kmh, 47.8, 0.01);
}
