//! What falls within a second or at the edge of a limit: greatest amps, braking that fades out, sprints near the top speed, hills on the
//! limit of grip.

use crate::common::{check, lossy, plain, read, with};
use joulethesis_core::document::Checked;
use joulethesis_core::powertrain::{Cause, Chain, Rating};
use joulethesis_core::report::report;
use joulethesis_core::simulate::{
    ACCELERATION_STEP_M_S, ShiftPolicy, TractiveForce, accelerate, drive_trace_finely, hill_at_speed, top_speed,
};
use joulethesis_core::trip::Trace;
use serde_json::{Value, json};

const G: f64 = 9.806_65;

fn driven(d: Value, points: &[(f64, f64)]) -> Checked {
    let points: Vec<Value> = points.iter().map(|(t, v)| json!({ "time_s": t, "speed_kmh": v * 3.6 })).collect();
    read(&with(d, "/brief/trips", json!([{ "id": "t", "name": "T", "path": { "trace": points } }])))
}

/// From rest to 15 m/s in 10 s: at the end the power is F v, F = m a + m g c + air at 15 m/s; the cells are ideal at 360 V.
#[test]
fn the_greatest_amps_are_those_of_the_instant() {
    let document = driven(plain(), &[(0.0, 0.0), (10.0, 15.0), (20.0, 15.0), (30.0, 0.0)]);
    let force = 1000.0 * 1.5 + 1000.0 * G * 0.01 + 0.5 * 1.25 * 0.6 * 15.0 * 15.0;
    check("A", report(&document).expect("sound").trips[0].peak_current_a, force * 15.0 / 360.0, 1e-9);
    // With losses and cells that sag: as steps a hundred times shorter have it.
    let d = with(with(lossy(plain()), "/design/pack/module/resistance_ohm", json!(0.0008)), "/design/controller/efficiency", json!(0.95));
    let document = driven(d, &[(0.0, 0.0), (8.0, 18.0), (9.0, 20.0), (30.0, 20.0), (40.0, 0.0)]);
    let chain = Chain::of(&document, 1000.0).expect("complete");
    let trace = Trace::of(&document.brief.trips[0].path);
    let fine = drive_trace_finely(&chain, &trace, ShiftPolicy::default(), chain.pack.soc_max, 100);
    let got = report(&document).expect("sound").trips[0].clone();
    check("A, finely", got.peak_current_a, fine.peak_current_a, 3e-3);
    check("V, finely", got.lowest_v, fine.lowest_v, 1e-3);
}

/// Braking by the motor that ends at 15 km/h from one instant to the next: the second in which it does is cut there.
#[test]
fn braking_that_ends_at_a_speed_ends_there() {
    for (from, to) in [(15.0, 15.0), (20.0, 5.0)] {
        let d =
            with(plain(), "/design/regeneration", json!({ "approach": "dial", "share": 0.9, "fade_from_kmh": from, "fade_to_kmh": to }));
        // 4.17 m/s is passed anywhere within its second.
        let document = driven(d, &[(0.0, 0.0), (10.0, 14.0), (14.3, 1.9), (17.0, 0.0), (20.0, 0.0), (27.0, 11.0), (30.7, 0.0)]);
        let chain = Chain::of(&document, 1000.0).expect("complete");
        let trace = Trace::of(&document.brief.trips[0].path);
        let fine = drive_trace_finely(&chain, &trace, ShiftPolicy::default(), chain.pack.soc_max, 400);
        let trip = report(&document).expect("sound").trips[0].clone();
        let recovered = trip.split.recovered_wh_per_km * trip.driven_km * 3600.0;
        check(&format!("fed back, fading from {from} to {to} km/h"), recovered, fine.split().recovered_j, 2e-3);
    }
}

fn geared(ratios: &[f64], shift_s: f64) -> Value {
    let gears: Vec<Value> = ratios.iter().map(|r| json!({ "ratio": r, "efficiency": 0.96 })).collect();
    let d = with(lossy(plain()), "/design/motor/max_speed_rpm", json!(6000));
    with(d, "/donor/driveline", json!({ "gears": gears, "stages": [{ "kind": "final_drive", "ratio": 4 }], "shift_s": shift_s }))
}

/// Up to just below the top speed the time is that of ten times finer steps, and nobody gets past it.
#[test]
fn a_sprint_near_the_top_speed_neither_hangs_nor_passes_it() {
    let d = with(lossy(plain()), "/design/motor/model", json!({ "kind": "envelope", "peak_torque_nm": 60, "peak_power_w": 14_000 }));
    let document = read(&with(d, "/design/motor/continuous_power_w", json!(7000)));
    let chain = Chain::of(&document, 1000.0).expect("complete");
    let limits = chain.limits(0.5, 0.0, Rating::Peak);
    let top = top_speed(&chain, &chain.gears[0], &limits).speed_m_s;
    let run = |step: f64, to: f64| accelerate(&mut TractiveForce::new(&chain, &chain.gears, &limits, step), 0.0, to);
    for share in [0.9, 0.97, 0.99, 0.998] {
        let (got, fine) = (run(ACCELERATION_STEP_M_S, share * top), run(0.002, share * top));
        check(&format!("{share} of the top speed"), got.time_s.expect("reached"), fine.time_s.expect("reached"), 2e-3);
    }
    for over in [1.000_5, 1.003, 1.05, 1.5] {
        let got = run(ACCELERATION_STEP_M_S, over * top);
        assert_eq!(got.time_s, None, "{over} times the top speed");
        check("levels off", got.reached_m_s, top, 2e-3);
        assert!(got.reached_m_s <= top * (1.0 + 1e-9) && got.points.len() < 2000, "{} of {top}", got.reached_m_s);
    }
}

/// A gear that ends at the motor's highest speed inside a step goes on in the next one: finer steps take as long, and two gears never
/// longer than the better of them, but for the change.
#[test]
fn the_highest_speed_of_a_gear_falls_anywhere() {
    for rpm in [4_010, 4_180, 4_377, 4_505] {
        let of = |ratios: &[f64], step: f64| {
            let document = read(&with(geared(ratios, 0.4), "/design/motor/max_speed_rpm", json!(rpm)));
            let chain = Chain::of(&document, 1000.0).expect("complete");
            let limits = chain.limits(0.5, 0.0, Rating::Peak);
            accelerate(&mut TractiveForce::new(&chain, &chain.gears, &limits, step), 0.0, 22.0)
        };
        let got = of(&[3.0, 1.4], ACCELERATION_STEP_M_S);
        let time = got.time_s.expect("reached in second");
        assert_eq!(got.gears, [1, 2], "{rpm} rpm");
        check(&format!("{rpm} rpm"), time, of(&[3.0, 1.4], 0.002).time_s.expect("reached"), 2e-3);
        assert!(of(&[3.0], ACCELERATION_STEP_M_S).time_s.is_none() && time < of(&[1.4], ACCELERATION_STEP_M_S).time_s.expect("reached"));
    }
}

/// The quickest of every way through the gears, each held for as long as it pulls harder than the next of them.
#[test]
fn a_gear_that_is_not_worth_its_change_is_left_out() {
    let run = |ratios: &[f64], to: f64| {
        let document = read(&geared(ratios, 1.5));
        let chain = Chain::of(&document, 1000.0).expect("complete");
        let limits = chain.limits(0.5, 0.0, Rating::Peak);
        accelerate(&mut TractiveForce::new(&chain, &chain.gears, &limits, ACCELERATION_STEP_M_S), 0.0, to)
    };
    let all = [3.0, 2.4, 1.9, 1.0];
    let mut skipped = 0;
    for to in [8.0, 14.0, 20.0, 27.0, 33.0] {
        let got = run(&all, to);
        // Gears that are not there cannot be used: the whole box is as quick as its best three of four or two of four.
        let best = (1u32..16)
            .filter_map(|pick| {
                run(&all.iter().enumerate().filter(|(i, _)| pick & (1 << i) != 0).map(|(_, r)| *r).collect::<Vec<_>>(), to).time_s
            })
            .fold(f64::INFINITY, f64::min);
        check(&format!("0 to {to} m/s"), got.time_s.expect("reached"), best, 1e-9);
        skipped += usize::from(got.gears.windows(2).any(|w| w[1] > w[0] + 1));
    }
    assert!(skipped > 0, "close ratios and slow changes: one is worth leaving out");
}

/// Grip of 0.15 of the weight at 20 m/s: what it passes less air and rolling resistance climbs; by halving the grade.
#[test]
fn a_hill_at_the_limit_of_grip_keeps_its_air_drag() {
    let d = with(with(plain(), "/donor/adhesion", json!(0.15)), "/donor/undriven_axle_drag_n", json!(30));
    let document = read(&d);
    let chain = Chain::of(&document, 1000.0).expect("complete");
    for v in [0.0, 8.0, 20.0, 30.0] {
        let hill = hill_at_speed(&chain, 0.5, v, Rating::Peak);
        let (mut low, mut high) = (0.0, 1.0);
        for _ in 0..60 {
            let grade: f64 = 0.5 * (low + high);
            let (sin, cos) = (grade.atan().sin(), grade.atan().cos());
            let asked = 1000.0 * G * (0.01 * cos + sin) + 0.5 * 1.25 * 0.6 * v * v + 30.0;
            if asked <= 0.15 * 1000.0 * G * cos { low = grade } else { high = grade }
        }
        assert_eq!(hill.limited_by, Cause::Traction, "at {v} m/s");
        check(&format!("grade at {v} m/s"), hill.grade_percent, 100.0 * low, 1e-6);
    }
}
