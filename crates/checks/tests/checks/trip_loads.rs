//! What trips ask of motor cables and of the cooling, against the motor's own equations and closed forms.

use crate::common::{cases, check, line, lossy, plain, read, sheet, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::estimate::{TripLoad, estimate, trip_loads};
use joulethesis_core::inputs::Counted;
use joulethesis_core::powertrain::{Chain, MotorMap};
use joulethesis_core::schematic::LineState;
use proptest::prelude::*;
use serde_json::{Value, json};

/// The loads of a document's trips, and W that motor and controller lose on the mean of each whole trip.
fn loads(value: &Value) -> Vec<(TripLoad, f64)> {
    let counted = Counted::of(&read(value));
    let estimate = estimate(&counted, &Cancel::new()).expect("computed");
    let chain = Chain::of(&counted, estimate.masses.test_kg).expect("whole");
    let loads = trip_loads(&counted, &chain, &Cancel::new()).expect("computed");
    let mean_w = estimate.trips.iter().map(|t| {
        let lost = (t.split.motor_wh_per_km + t.split.controller_wh_per_km) * t.driven_km;
        3600.0 * lost / t.duration_s
    });
    loads.into_iter().zip(mean_w).collect()
}

/// Level road at one speed from the start, with a hill between, each so many seconds long.
fn road(speed_kmh: f64, stretches: &[(f64, f64)]) -> Value {
    let segments: Vec<Value> = stretches
        .iter()
        .map(|(seconds, slope)| json!({ "speed_kmh": speed_kmh, "distance_km": speed_kmh * seconds / 3600.0, "climb_m": slope * speed_kmh * seconds / 3.6 }))
        .collect();
    with(lossy(plain()), "/brief/trips", json!([{ "id": "t", "name": "t", "path": { "segments": segments } }]))
}

/// `V = Ke w + I R`, `T = Ke (I - I0)`: what a motor loses is `I^2 R + Ke w I0`, with the field weakened or not (Larminie and Lowry, 2nd ed.,
/// section 7.1, from memory).
#[test]
fn the_current_of_a_motor_is_the_one_its_losses_tell() {
    let (ke, r, i0) = (0.17, 0.02, 6.0);
    let model = json!({ "kind": "constants", "torque_constant_nm_a": ke, "resistance_ohm": r, "no_load_current_a": i0, "peak_current_a": 400, "field_weakening": 2 });
    let motor = json!({ "name": "m", "kind": "pm_synchronous", "max_speed_rpm": 12000, "continuous_power_w": 8000, "mass_kg": 16, "reference_voltage_v": 84, "model": model });
    let motor = read(&with(plain(), "/design/motor", motor)).into_written().design.motor.expect("a motor");
    for motors in [1, 2] {
        let map = MotorMap::of(&motor, motors);
        for (torque_nm, speed) in [(20.0, 100.0), (-20.0, 100.0), (0.0, 300.0), (20.0, 700.0), (20.0, 1100.0)] {
            let amps = map.amps_at((&motor, motors), torque_nm, speed).expect("told");
            let weak = 84.0 / ke;
            check(
                "W",
                map.loss_w(torque_nm, speed),
                f64::from(motors)
                    * (if speed > weak {
                        // With a weaker field the no-load current stays what it was at the corner.
                        let growth = (speed / weak).min(2.0);
                        let load_a = torque_nm / f64::from(motors) / ke * growth;
                        check("A", amps, load_a + i0, 1e-9);
                        (load_a * load_a + 2.0 * load_a * i0 + i0 * i0) * r + ke * weak * i0
                    } else {
                        amps * amps * r + ke * speed * i0
                    }),
                1e-9,
            );
        }
    }
}

/// A record that states its torque for each ampere: 1 N m/A gives the torque as amps, and past the base speed more.
#[test]
fn a_trip_at_one_speed_takes_the_current_of_its_torque() {
    let own = with(road(36.0, &[(1200.0, 0.0)]), "/design/motor/torque_per_amp_nm_a", json!(0.5));
    // 10 m/s: 0.5 x 1.25 x 0.6 x 100 + 0.01 x 9.80665 x 1000 N at 0.3 m over 6.
    let torque_nm = (37.5 + 98.0665) * 0.3 / 6.0;
    let amps = loads(&own)[0].0.motor_rms_a.expect("told");
    // The start is part of the trip and takes more.
    assert!(amps > torque_nm / 0.5 && amps < 1.4 * torque_nm / 0.5, "{amps}");
    let two = with(own.clone(), "/design/motor_count", json!(2));
    assert!(loads(&two)[0].0.motor_rms_a.expect("told") < 0.6 * amps);
    // 200 N m up to 60 kW bend at 300 rad/s; at 108 km/h the motor makes 600: the same torque takes twice the current.
    let fast =
        |per_amp: f64| loads(&with(road(108.0, &[(3000.0, 0.0)]), "/design/motor/torque_per_amp_nm_a", json!(per_amp)))[0].0.motor_rms_a;
    let torque_nm = (0.5 * 1.25 * 0.6 * 900.0 + 98.0665) * 0.3 / 6.0;
    assert!(fast(0.5).expect("told") > 2.0 * torque_nm / 0.5);
    assert_eq!(loads(&road(36.0, &[(60.0, 0.0)]))[0].0.motor_rms_a, None);
}

/// A controller that tells no motor current leaves the cable to the trips, which is said; what it tells is never undercut by them.
#[test]
fn motor_cables_bear_what_the_controller_may_pass_and_the_trips() {
    let untold = with(road(36.0, &[(1200.0, 0.03)]), "/design/motor/torque_per_amp_nm_a", json!(0.5));
    let by_trips = sheet(&untold);
    assert_eq!(line(&by_trips, "motor_cable").state, LineState::Warn);
    assert!(line(&by_trips, "motor_cable").trouble.to_string().contains("hill"));
    let told = sheet(&with(untold.clone(), "/design/controller/motor_current_a", json!(600)));
    assert!(line(&told, "motor_cable").formula.to_string().contains("300 A for hours"));
    assert!(line(&told, "motor_rms").formula.to_string().contains("root mean square of t"));
    let hours = sheet(&with(untold.clone(), "/design/controller/motor_current_continuous_a", json!(250)));
    assert!(line(&hours, "motor_cable").formula.to_string().contains("250 A for hours, the record does not tell the peak"));
    let neither = sheet(&road(36.0, &[(1200.0, 0.03)]));
    assert_eq!(line(&neither, "motor_cable").result.to_string(), "not told");
}

proptest! {
    #![proptest_config(cases(24))]

    /// The worst ten minutes lose at least as much as the whole on its mean and no more than the hill for ever; a trip that is shorter is made
    /// over and over.
    #[test]
    fn the_worst_ten_minutes_lie_between_the_whole_and_the_hill(flat_s in 60.0..2000.0f64, hill_s in 60.0..1500.0f64, slope in 0.01..0.06f64) {
        let (load, mean_w) = loads(&road(50.0, &[(flat_s, 0.0), (hill_s, slope), (flat_s, 0.0)])).remove(0);
        let (steep, _) = loads(&road(50.0, &[(3000.0, slope)])).remove(0);
        prop_assert!(load.ten_minutes_w >= mean_w * (1.0 - 1e-6));
        // To start takes more than to climb; it is in the worst ten minutes of the long hill too.
        prop_assert!(load.ten_minutes_w <= steep.ten_minutes_w * 1.02);
        if 2.0 * flat_s + hill_s < 590.0 {
            prop_assert!((load.ten_minutes_w - mean_w).abs() < 1e-3 * mean_w);
        }
        if hill_s > 700.0 {
            prop_assert!(load.ten_minutes_w > 0.9 * steep.ten_minutes_w);
        }
    }
}
