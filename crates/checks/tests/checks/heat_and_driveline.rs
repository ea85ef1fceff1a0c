//! Heat on the road, transfer boxes, dragged axles, manners, seasons: what must follow from one another.

use crate::common::{check, lossy, plain, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, Document, DrivingStyle};
use joulethesis_core::estimate::{along, cases, choices};
use joulethesis_core::inputs::Counted;
use joulethesis_core::powertrain::Chain;
use joulethesis_core::report::report;
use joulethesis_core::simulate::{RangeEnd, ShiftPolicy, drive_trace, drive_trace_finely, range, range_in_full};
use joulethesis_core::trip::Trace;
use serde_json::{Value, json};

/// A long steep climb with a motor that can do it for a minute only.
fn climb(continuous_w: f64) -> Checked {
    let d = with(
        lossy(plain()),
        "/brief/trips",
        json!([{ "id": "alp", "name": "Alp", "path": { "segments": [{ "distance_km": 20, "speed_kmh": 40, "climb_m": 2000 }] } }]),
    );
    let d = with(d, "/design/motor/continuous_power_w", json!(continuous_w));
    let d = with(d, "/design/motor/peak_s", json!(60));
    read(&with(d, "/brief/site", json!({ "temperature_c": 30, "air_density_kg_m3": 1.16 })))
}

#[test]
fn a_small_motor_cuts_back_on_a_long_climb_and_stays_at_its_limit() {
    let (small, large) = (report(&climb(6000.0)).expect("sound"), report(&climb(30_000.0)).expect("sound"));
    let trip = &small.trips[0];
    assert!(trip.derated_s > 60.0 && trip.off_trace_s > 60.0 && trip.lost_km > 0.3, "{trip:?}");
    check("hottest, at the limit", trip.motor_hottest_c, 140.0, 0.01);
    assert!(small.findings.iter().any(|f| f.rule == "heat.trip"));
    assert_eq!((large.trips[0].derated_s, large.trips[0].lost_km < 0.01), (0.0, true));
    // The picture along the trip shows the same.
    let drawn = along(&Counted::of(&climb(6000.0)), "alp").expect("sound");
    check("hottest drawn", drawn.motor_c.iter().copied().fold(0.0, f64::max), trip.motor_hottest_c, 0.02);
    check("climbed while driven", *drawn.height_m.last().expect("samples"), 100.0 * drawn.distance_km.last().expect("samples"), 0.02);
}

/// Where heat sets in, seconds are driven one by one; ten times finer steps agree to a thousandth.
#[test]
fn derating_does_not_hang_on_the_step() {
    let document = climb(6000.0);
    let chain = Chain::of(&document, 1000.0).expect("complete");
    let trace = Trace::of(&document.brief.trips[0].path);
    let (coarse, fine) =
        (drive_trace(&chain, &trace, ShiftPolicy::default(), 0.9), drive_trace_finely(&chain, &trace, ShiftPolicy::default(), 0.9, 10));
    check("distance", coarse.distance_m, fine.distance_m, 2e-3);
    check("energy per metre", coarse.battery_j() / coarse.distance_m, fine.battery_j() / fine.distance_m, 1e-3);
}

fn hauler() -> Value {
    let d = with(
        plain(),
        "/donor/driveline",
        json!({ "gears": [{ "ratio": 3 }, { "ratio": 1.5 }], "stages": [{ "kind": "final_drive", "ratio": 4, "efficiency": 1 }], "ranges": [{ "ratio": 1, "efficiency": 1 }, { "ratio": 2.5, "efficiency": 1 }] }),
    );
    let d = with(d, "/design/motor/model/peak_torque_nm", json!(60));
    let d = with(d, "/design/motor/continuous_power_w", json!(15_000));
    with(
        d,
        "/brief/trips",
        json!([{ "id": "t", "name": "T", "path": { "segments": [{ "distance_km": 2, "speed_kmh": 20, "stops_per_km": 2 }] } }]),
    )
}

#[test]
fn the_low_range_multiplies_the_pull() {
    let result = report(&read(&hauler())).expect("sound");
    let ratios: Vec<f64> = result.gears.iter().map(|g| g.overall_ratio).collect();
    assert_eq!(ratios, [12.0, 6.0, 30.0, 15.0]);
    let found = choices(&Counted::of(&read(&hauler())), &Cancel::new()).expect("sound");
    assert_eq!(found.gears.len(), 5);
    let start =
        |gear, range| found.gears.iter().find(|g| g.gear == Some(gear) && g.range == Some(range)).expect("listed").hill_start_percent;
    // Force at the wheels, sin + 0.01 cos of the steepest start, goes with the ratio.
    let force = |percent: f64| (percent / 100.0_f64).atan().sin() + 0.01 * (percent / 100.0_f64).atan().cos();
    check("second gear, high against low", force(start(2, 2)) / force(start(2, 1)), 2.5, 1e-6);
    // A trip says which range; more ratio, faster motor.
    let trip = |range: Value| report(&read(&with(hauler(), "/brief/trips/0/transfer_range", range))).expect("sound").trips[0].clone();
    assert_eq!(trip(json!(null)).wh_per_km, trip(json!(1)).wh_per_km);
    let text = Document::from_value(&with(hauler(), "/brief/trips/0/transfer_range", json!(3))).expect_err("refused").to_string();
    assert!(text.contains("transfer_range is 3") && text.contains("2 ranges"), "{text}");
}

/// The drawing over the ratio is the design itself at each ratio: today's in the middle, and what typing the ratio would give beside it.
#[test]
fn the_sweep_over_the_ratio_is_what_typing_the_ratio_gives() {
    let plain = hauler();
    let of = |d: &Value| choices(&Counted::of(&read(d)), &Cancel::new()).expect("sound");
    let found = of(&plain);
    let (first, last) = (&found.ratios[0], found.ratios.last().expect("a sweep"));
    check("half", first.factor, 0.5, 1e-12);
    check("twice", last.factor, 2.0, 1e-12);
    let today = &found.ratios[found.ratios.len() / 2];
    let shifting = &found.gears[0];
    check("today's top speed", today.top_speed_kmh, report(&read(&plain)).expect("sound").performance.top_speed_kmh, 1e-9);
    check("today's ratio", today.overall_ratio, 12.0, 1e-12);
    assert!(today.hill_start_percent >= shifting.hill_start_percent, "the low range is part of it");
    // Longer legs pull less.
    assert!(found.ratios.windows(2).all(|p| p[0].hill_start_percent <= p[1].hill_start_percent + 1e-6), "{:?}", found.ratios);
    let stages = plain.pointer("/donor/driveline/stages").and_then(Value::as_array).map_or(0, Vec::len);
    let typed = match stages {
        0 => {
            let gears = plain["donor"]["driveline"]["gears"].as_array().expect("gears").len();
            (0..gears).fold(plain.clone(), |d, i| {
                let path = format!("/donor/driveline/gears/{i}/ratio");
                let ratio = d.pointer(&path).and_then(Value::as_f64).expect("a ratio");
                with(d, &path, json!(2.0 * ratio))
            })
        }
        n => {
            let path = format!("/donor/driveline/stages/{}/ratio", n - 1);
            let ratio = plain.pointer(&path).and_then(Value::as_f64).expect("a ratio");
            with(plain.clone(), &path, json!(2.0 * ratio))
        }
    };
    let typed = report(&read(&typed)).expect("sound").performance.clone();
    check("top speed at twice", last.top_speed_kmh, typed.top_speed_kmh, 1e-9);
    check("hill at twice", last.hill_start_percent, typed.hills.start.grade_percent, 1e-9);
    // A goal's own speeds are those of the sprint.
    let asked = with(
        plain,
        "/brief/goals",
        json!([{ "id": "g", "measure": { "kind": "acceleration", "from_kmh": 5, "to_kmh": 25, "at_most_s": 9 } }]),
    );
    let found = of(&asked);
    assert_eq!((found.sprint_from_kmh, found.sprint_to_kmh), (5.0, 25.0));
    let asked = report(&read(&asked)).expect("sound");
    let run =
        asked.performance.accelerations.iter().find(|a| (a.from_kmh, a.to_kmh) == (5.0, 25.0)).and_then(|a| a.time_s).expect("reached");
    check("sprint today", found.ratios[found.ratios.len() / 2].sprint_s.expect("reached"), run, 1e-9);
}

#[test]
fn a_dragged_axle_costs_its_force_times_the_way() {
    let of = |n: f64, free: bool| {
        let d = with(hauler(), "/donor/undriven_axle_drag_n", json!(n));
        report(&read(&with(d, "/donor/undriven_axle_free", json!(free)))).expect("sound").trips[0].split.rolling_wh_per_km
    };
    check("Wh/km of 60 N", of(60.0, false) - of(0.0, false), 60.0 / 3.6, 1e-6);
    assert_eq!(of(60.0, true), of(0.0, false));
}

#[test]
fn manners_seasons_repeats_and_liveliness() {
    let d = with(hauler(), "/brief/winter", json!({ "temperature_c": -10, "hvac_w": 1200, "rolling_factor": 1.3 }));
    let document = read(&d);
    let all = cases(&Counted::of(&document), "t", &Cancel::new()).expect("sound");
    assert_eq!(all.len(), 9);
    let of = |season: &str, driving_style| all.iter().find(|c| c.season == season && c.driving_style == driving_style).expect("listed");
    assert!(of("winter", DrivingStyle::Normal).range_km < of("summer", DrivingStyle::Normal).range_km.map(|km| 0.75 * km));
    // NMC keeps 80 % of its charge at -10 degC (common practice, between 70 % at -20 and 90 % at 0).
    check("cold capacity", of("winter", DrivingStyle::Normal).usable_kwh / of("summer", DrivingStyle::Normal).usable_kwh, 0.8, 1e-9);
    assert!(of("summer", DrivingStyle::Gentle).wh_per_km < of("summer", DrivingStyle::Brisk).wh_per_km);
    assert!(of("summer", DrivingStyle::Gentle).duration_s > of("summer", DrivingStyle::Brisk).duration_s);
    // Twice on end is twice as long.
    let twice = report(&read(&with(d.clone(), "/brief/trips/0/repeat", json!(2)))).expect("sound").trips[0].clone();
    let once = report(&document).expect("sound").trips[0].clone();
    check("repeated", twice.driven_km, 2.0 * once.driven_km, 1e-9);
    check("per km the same", twice.wh_per_km.expect("moves"), once.wh_per_km.expect("moves"), 1e-6);
    // Half of what the chain offers takes twice as long to the same speed.
    let time = |share: f64| {
        let d = with(d.clone(), "/brief/trips/0/path/segments/0/liveliness", json!(share));
        report(&read(&d)).expect("sound").trips[0].duration_s
    };
    let cruise: f64 = 20.0 / 3.6;
    // Each of four stops: run-up and braking lose v/a against cruising.
    let lost = |share: f64| time(share) - 2000.0 / cruise;
    check("time lost to half the acceleration", lost(0.25) / lost(0.5), 2.0, 1e-6);
    let text = cases(&Counted::of(&document), "none", &Cancel::new()).expect_err("unknown").to_string();
    assert!(text.contains("\"none\"") && text.contains("t"), "{text}");
}

/// Frost: lithium takes no charge, so neither the socket nor braking gives any.
#[test]
fn no_charge_in_frost() {
    let d = with(hauler(), "/brief/site/temperature_c", json!(-5));
    let result = report(&read(&d)).expect("sound");
    assert_eq!(result.trips[0].split.recovered_wh_per_km, 0.0);
    assert!(result.findings.iter().any(|f| f.rule == "cold.no-charge"));
    let heated = report(&read(&with(d, "/design/pack/temperature_c", json!(18)))).expect("sound");
    assert!(heated.trips[0].split.recovered_wh_per_km > 0.0 && !heated.findings.iter().any(|f| f.rule == "cold.no-charge"));
}

/// Climbed again and again without a pause a motor gets too hot to follow, and the range says so; with enough motor it ends with the
/// charge.
#[test]
fn a_range_can_end_with_heat() {
    let of = |continuous_w: f64| {
        let document = climb(continuous_w);
        let chain = Chain::of(&document, 1000.0).expect("complete");
        let trace = Trace::of(&document.brief.trips[0].path);
        let result = range(&chain, &trace, ShiftPolicy::default(), 0.95);
        assert_eq!(result, range_in_full(&chain, &trace, ShiftPolicy::default(), 0.95));
        result
    };
    // From the smallest motor up: the first run cannot be followed, then a later one, then it is the charge that ends it.
    let ends: Vec<_> = (8..=40).map(|kw| of(1000.0 * f64::from(kw))).collect();
    let rank =
        |end: RangeEnd| [RangeEnd::NotFollowed, RangeEnd::Heat, RangeEnd::Window].iter().position(|e| *e == end).expect("one of these");
    assert!(ends.windows(2).all(|w| rank(w[0].end) <= rank(w[1].end)), "{ends:?}");
    for wanted in [RangeEnd::NotFollowed, RangeEnd::Heat, RangeEnd::Window] {
        assert!(ends.iter().any(|r| r.end == wanted), "{wanted:?}: {ends:?}");
    }
    let far = |r: &&joulethesis_core::simulate::RangeResult| r.headline().is_some();
    let kilometres: Vec<_> = ends.iter().filter(far).map(|r| r.distance_m).collect();
    assert!(kilometres.windows(2).all(|w| w[0] <= w[1] * (1.0 + 1e-9)), "{kilometres:?}");
}
