//! Laws that hold for every design: the energy account closes, steps are fine enough, and some changes never help.
//!
//! Generators draw from the field catalogue's own bounds, narrowed to vehicles that can move.

use crate::common::{cases, imbalance, plain, read, sound_demo, with};
use joulethesis_core::document::Schedule;
use joulethesis_core::document::TripPath;
use joulethesis_core::powertrain::{Cause, Chain, Rating};
use joulethesis_core::report::report;
use joulethesis_core::simulate::{
    ACCELERATION_STEP_M_S, CycleRun, RangeEnd, ShiftPolicy, TractiveForce, accelerate, drive_trace, drive_trace_finely, range,
    range_in_full, top_speed,
};
use joulethesis_core::trip::Trace;
use proptest::prelude::*;
use serde_json::{Value, json};

/// A lossy vehicle with gears and sag.
fn lossy(mass: f64, torque: f64, power: f64, ratio: f64, resistance: f64, share: f64) -> Value {
    let mut d = with(plain(), "/donor/test_mass_kg", json!(mass));
    d = with(
        d,
        "/donor/driveline",
        json!({ "gears": [{ "ratio": ratio }, { "ratio": ratio * 0.6 }], "stages": [{ "kind": "final_drive", "ratio": 4.0 }], "shift_s": 0.6 }),
    );
    d = with(d, "/design/motor/model", json!({ "kind": "envelope", "peak_torque_nm": torque, "peak_power_w": power }));
    d = with(d, "/design/motor/continuous_power_w", json!(power / 3.0));
    d = with(d, "/design/motor/max_speed_rpm", json!(9000));
    d = with(d, "/design/motor/reference_voltage_v", json!(350));
    d = with(
        d,
        "/design/motor/losses",
        json!({ "copper_w_per_nm2": 0.2, "iron_w_per_rad_s": 1.0, "windage_w_per_rad3_s3": 1e-5, "constant_w": 80 }),
    );
    d = with(d, "/design/controller/efficiency", json!(0.95));
    d = with(d, "/design/pack/module/resistance_ohm", json!(resistance));
    d = with(
        d,
        "/design/pack/module/ocv",
        json!([{ "soc": 0, "volts_v": 3.2 }, { "soc": 0.5, "volts_v": 3.6 }, { "soc": 1, "volts_v": 4.1 }]),
    );
    d = with(d, "/design/low_voltage", json!({ "load_w": 200 }));
    with(d, "/design/regeneration", json!({ "share": share }))
}

fn chain(d: &Value) -> Chain {
    let d = read(d);
    Chain::of(&d, d.donor.test_mass_kg.expect("given")).expect("complete")
}

fn best_top(c: &Chain) -> f64 {
    let limits = c.limits(0.6, c.low_voltage_w, Rating::Peak);
    c.gears.iter().map(|g| top_speed(c, g, &limits).speed_m_s).fold(0.0, f64::max)
}

fn time_to(c: &Chain, v: f64) -> f64 {
    let limits = c.limits(0.6, c.low_voltage_w, Rating::Peak);
    accelerate(&mut TractiveForce::new(c, &c.gears, &limits, ACCELERATION_STEP_M_S), 0.0, v).time_s.unwrap_or(f64::INFINITY)
}

prop_compose! {
    fn vehicle()(mass in 300.0..2500.0, torque in 30.0..300.0, power in 5e3..1.2e5, ratio in 1.0..4.0, resistance in 0.0..0.004, share in 0.0..1.0)
        -> (f64, f64, f64, f64, f64, f64) { (mass, torque, power, ratio, resistance, share) }
}

proptest! {
    #![proptest_config(cases(64))]

    #[test]
    fn the_energy_account_closes((mass, torque, power, ratio, resistance, share) in vehicle(), pick in 0usize..11) {
        let c = chain(&lossy(mass, torque, power, ratio, resistance, share));
        let p = drive_trace(&c, &Trace::of(&TripPath::Schedule(Schedule::ALL[pick])), ShiftPolicy { hvac_w: 300.0, ..ShiftPolicy::default() }, 0.8);
        prop_assert!(imbalance(&p) < 1e-9, "{}: {:?}", imbalance(&p), p.split());
        prop_assert!(p.soc <= 0.8 && p.distance_m >= 0.0);
    }

    #[test]
    fn more_mass_is_never_quicker_and_never_goes_further((mass, torque, power, ratio, resistance, share) in vehicle(), more in 1.01..1.5) {
        let light = chain(&lossy(mass, torque, power, ratio, resistance, share));
        let heavy = chain(&lossy(mass * more, torque, power, ratio, resistance, share));
        // Where only the tyres limit, more mass brings its own grip and even outweighs the drag.
        let limits = light.limits(0.6, light.low_voltage_w, Rating::Peak);
        if light.full_force(&light.gears[0], 0.0, &limits).1 != Cause::Traction {
            prop_assert!(time_to(&heavy, 12.0) >= time_to(&light, 12.0));
        }
        prop_assert!(best_top(&heavy) <= best_top(&light) * (1.0 + 1e-9));
        // Range only where both follow the trace without regeneration; a laggard saves energy by falling behind.
        let trace = Trace::of(&TripPath::Schedule(Schedule::Ece15));
        let without = |m: f64| chain(&lossy(m, torque, power, ratio, resistance, 0.0));
        let (a, b) = (without(mass), without(mass * more));
        if drive_trace(&b, &trace, ShiftPolicy::default(), 0.5).off_trace_s == 0.0 {
            let (light, heavy) = (range(&a, &trace, ShiftPolicy::default(), 0.5), range(&b, &trace, ShiftPolicy::default(), 0.5));
            // Where heat decides, a heavier vehicle may take a lower gear, whose torque is less, and stay cooler for it.
            let hot = light.end == RangeEnd::Heat || heavy.end == RangeEnd::Heat;
            prop_assert!(hot || heavy.distance_m <= light.distance_m, "{light:?}, heavier {heavy:?}");
        }
    }

    #[test]
    fn more_volts_never_lower_the_top_speed((mass, torque, power, ratio, resistance, share) in vehicle(), more in 1u32..40) {
        let low = lossy(mass, torque, power, ratio, resistance, share);
        let high = with(low.clone(), "/design/pack/modules_in_series", json!(100 + more));
        // The same motor, controller and cell resistance of the whole pack; only the voltage differs.
        let high = with(high, "/design/pack/module/resistance_ohm", json!(resistance * 100.0 / f64::from(100 + more)));
        prop_assert!(best_top(&chain(&high)) >= best_top(&chain(&low)) * (1.0 - 1e-9));
    }
}

#[test]
fn trips_are_within_a_thousandth_of_ten_times_finer_steps() {
    for name in ["whimbrel-9-a", "pipit-a", "pipit-b"] {
        let document = sound_demo(name);
        let chain = Chain::of(&document, joulethesis_core::vehicle::masses(&document).test_kg).expect("complete");
        for schedule in Schedule::ALL {
            let trace = Trace::of(&TripPath::Schedule(schedule));
            let coarse = drive_trace(&chain, &trace, ShiftPolicy::default(), 0.9);
            let fine = drive_trace_finely(&chain, &trace, ShiftPolicy::default(), 0.9, 10);
            // A weak vehicle is compared per kilometre driven.
            let per_m = |p: &CycleRun| p.battery_j() / p.distance_m;
            crate::common::check(&format!("{name} {}", schedule.title()), per_m(&coarse), per_m(&fine), 1e-3);
        }
    }
}

/// Strides follow the pack by a series; they must be the seconds they stand for.
#[test]
fn strides_are_the_steps_they_stand_for() {
    for name in ["whimbrel-9-a", "pipit-a", "pipit-b"] {
        let document = sound_demo(name);
        let chain = Chain::of(&document, joulethesis_core::vehicle::masses(&document).test_kg).expect("complete");
        for schedule in Schedule::ALL {
            let trace = Trace::of(&TripPath::Schedule(schedule));
            let way = ShiftPolicy { hvac_w: 200.0, ..ShiftPolicy::default() };
            let (blocks, steps) = (drive_trace(&chain, &trace, way, 0.9), drive_trace_finely(&chain, &trace, way, 0.9, 1));
            let title = format!("{name} {}", schedule.title());
            same_run(&title, &blocks, &steps);
            assert!(imbalance(&blocks) < 1e-9, "{title}: {}", imbalance(&blocks));
        }
    }
}

fn same_run(title: &str, blocks: &CycleRun, steps: &CycleRun) {
    let used = |p: &CycleRun| 0.9 - p.soc;
    crate::common::check(&format!("{title}, charge used"), used(blocks), used(steps), 1e-4);
    crate::common::check(&format!("{title}, distance"), blocks.distance_m, steps.distance_m, 1e-6);
    crate::common::check(&format!("{title}, energy"), blocks.battery_j(), steps.battery_j(), 1e-5);
    crate::common::check(&format!("{title}, rms amps"), blocks.rms_current_a(), steps.rms_current_a(), 1e-3);
    crate::common::check(&format!("{title}, lowest volts"), blocks.lowest_v, steps.lowest_v, 4e-3);
    crate::common::check(&format!("{title}, lost in the pack"), blocks.split().pack_j, steps.split().pack_j, 2e-3);
    // Strides note the rise at their ends only.
    let (a, b) = (blocks.highest_rise.motor, steps.highest_rise.motor);
    assert!((a - b).abs() < 0.002 + 0.03 * b, "{title}: rise {a} and {b}");
}

#[test]
fn bridged_ranges_are_those_of_every_run_made() {
    for name in ["whimbrel-9-a", "pipit-a", "pipit-b"] {
        let document = sound_demo(name);
        let chain = Chain::of(&document, joulethesis_core::vehicle::masses(&document).test_kg).expect("complete");
        for schedule in [Schedule::Ece15, Schedule::J227aB, Schedule::J227aC, Schedule::Wltc1] {
            let trace = Trace::of(&TripPath::Schedule(schedule));
            let (bridged, full) = (
                range(&chain, &trace, ShiftPolicy::default(), chain.pack.soc_max),
                range_in_full(&chain, &trace, ShiftPolicy::default(), chain.pack.soc_max),
            );
            assert_eq!(bridged.end, full.end, "{name} {schedule:?}");
            // Where in its last run the charge ends shifts with the count, and a run does not use its charge evenly.
            let tolerance = 5e-4 + 0.3 / full.runs;
            crate::common::check(&format!("{name} {} km", schedule.title()), bridged.distance_m, full.distance_m, tolerance);
            crate::common::check(&format!("{name} {} runs", schedule.title()), bridged.runs, full.runs, tolerance);
        }
    }
}

#[test]
fn accelerations_are_within_two_thousandths_of_ten_times_finer_steps() {
    for name in ["whimbrel-9-a", "pipit-b"] {
        let document = sound_demo(name);
        let chain = Chain::of(&document, joulethesis_core::vehicle::masses(&document).test_kg).expect("complete");
        let limits = chain.limits(0.7, chain.low_voltage_w, Rating::Peak);
        let time =
            |step: f64, to: f64| accelerate(&mut TractiveForce::new(&chain, &chain.gears, &limits, step), 0.0, to).time_s.expect("reached");
        for to in [5.0, 8.0, 12.0] {
            crate::common::check(
                &format!("{name} 0-{to} m/s"),
                time(ACCELERATION_STEP_M_S, to),
                time(ACCELERATION_STEP_M_S / 10.0, to),
                2e-3,
            );
            crate::common::check(
                &format!("{name} 0-{to} m/s, half step"),
                time(ACCELERATION_STEP_M_S, to),
                time(ACCELERATION_STEP_M_S / 2.0, to),
                1e-3,
            );
        }
    }
}

#[test]
fn the_demo_variant_with_the_mistake_is_stopped() {
    let stops = |name: &str| {
        let found = report(&sound_demo(name)).expect("sound").findings;
        found.into_iter().filter(|f| f.severity == joulethesis_core::findings::Severity::Stop).map(|f| f.rule).collect::<Vec<_>>()
    };
    assert_eq!(stops("whimbrel-9-b"), ["volts.full-charge-over-controller"]);
    assert!(stops("whimbrel-9-a").is_empty());
}
