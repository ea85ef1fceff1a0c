//! How quickly a trip is driven: the pace a vehicle can hold, manners, and what they cost.

use crate::common::documents::unused_demo;
use crate::common::{check, lossy, plain, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, DrivingStyle, Schedule, TripPath};
use joulethesis_core::estimate::cases;
use joulethesis_core::inputs::Counted;
use joulethesis_core::powertrain::Chain;
use joulethesis_core::report::report;
use joulethesis_core::simulate::{RangeEnd, ShiftPolicy, held_pace, range};
use joulethesis_core::trip::Trace;
use serde_json::json;

#[test]
fn a_pace_keeps_the_way_and_the_standing() {
    for schedule in [Schedule::Udds, Schedule::Wltc3b, Schedule::Ece15] {
        let trace = Trace::of(&TripPath::Schedule(schedule));
        let standing = |t: &Trace| -> f64 {
            t.points.windows(2).filter(|w| w[0].speed_m_s + w[1].speed_m_s == 0.0).map(|w| w[1].time_s - w[0].time_s).sum()
        };
        let slow = trace.at_pace(0.6);
        check("way", slow.distance_m(), trace.distance_m(), 1e-9);
        check("standing", standing(&slow), standing(&trace), 1e-9);
        let moving = |t: &Trace| t.duration_s() - standing(t);
        check("moving", moving(&slow) * 0.6, moving(&trace), 1e-9);
    }
}

/// A small motorcycle of some mass with a motor that is warm at 80 km/h.
fn motorcycle(kg: f64) -> Checked {
    let d = with(lossy(plain()), "/donor/test_mass_kg", json!(kg));
    let d = with(d, "/donor/drag_coefficient", json!(0.25));
    let d = with(d, "/design/motor/continuous_power_w", json!(5000));
    let d = with(d, "/design/motor/model", json!({ "kind": "envelope", "peak_torque_nm": 60, "peak_power_w": 20_000 }));
    let stretch = |km: f64, kmh: f64, climb: f64| json!({ "distance_km": km, "speed_kmh": kmh, "climb_m": climb, "stops_per_km": 0.2 });
    let path = json!({ "segments": [stretch(6.0, 80.0, 180.0), stretch(4.0, 80.0, -60.0), stretch(4.0, 80.0, -120.0)] });
    read(&with(d, "/brief/trips", json!([{ "id": "t", "name": "T", "path": path }])))
}

/// Heat takes the trip's own pace away from one load to the next; the distance at the pace that is held goes on as it was. (120 kg and
/// 191 km, 150 kg and 29 km is not what happens on a road.)
#[test]
fn there_is_no_cliff_as_it_gets_heavier() {
    let mut last: Option<f64> = None;
    let mut ends = Vec::new();
    for step in 0..40 {
        let kg = 250.0 * 1.03_f64.powi(step);
        let document = motorcycle(kg);
        let trip = report(&document).expect("sound").trips[0].clone();
        let km = trip.held_pace.map_or(trip.range_km, |held| Some(held.range_km)).expect("a pace");
        assert_eq!(trip.held_pace.is_none(), trip.range_ends_by == RangeEnd::Window, "{kg} kg: {trip:?}");
        if let Some(last) = last {
            assert!((0.94..1.06).contains(&(km / last)), "{kg} kg: from {last} to {km} km");
        }
        last = Some(km);
        ends.push(trip.range_ends_by);
    }
    assert!(ends.contains(&RangeEnd::Window) && ends.iter().any(|e| *e != RangeEnd::Window), "{ends:?}");
}

#[test]
fn the_pace_held_is_the_quickest() {
    let document = motorcycle(700.0);
    let chain = Chain::of(&document, 700.0).expect("complete");
    let trace = Trace::of(&document.brief.trips[0].path);
    let start = chain.pack.soc_max;
    let held = held_pace(&chain, &trace, ShiftPolicy::default(), start, &Cancel::new()).expect("a pace");
    let end = |share: f64| range(&chain, &trace.at_pace(share), ShiftPolicy::default(), start);
    assert_eq!(end(held.share), held.range);
    assert_eq!(held.range.end, RangeEnd::Window);
    assert_ne!(end(held.share + 0.01).end, RangeEnd::Window);
    // The claim, the explanation and the study by season tell it too.
    let asked = with(
        serde_json::to_value(&*document).expect("JSON"),
        "/brief/goals",
        json!([{ "id": "far", "measure": { "kind": "range", "trip": "t", "at_least_km": 2000 } }]),
    );
    let told = report(&read(&asked)).expect("sound");
    let says = format!("at {:.0} % of its speeds {:.0} km", 100.0 * held.share, held.range.distance_m / 1000.0);
    assert!(told.claims[0].why.to_string().contains(&says), "{}", told.claims[0].why);
    let study = cases(&Counted::of(&document), "t", &Cancel::new()).expect("sound");
    let usual = study.iter().find(|c| c.season == "usual" && c.driving_style == DrivingStyle::Normal).expect("listed");
    assert_eq!(usual.held_pace.map(|p| p.share), Some(held.share));
    // Where not even a fifth of the pace is held there is none to tell.
    let stuck = with(
        serde_json::to_value(&*document).expect("JSON"),
        "/brief/trips/0/path",
        json!({ "segments": [{ "distance_km": 5, "speed_kmh": 30, "climb_m": 1900 }] }),
    );
    assert_eq!(report(&read(&stuck)).expect("sound").trips[0].held_pace, None);
}

/// Common practice: a car with power to spare uses some half more driven hard than driven gently, most of it in town; one that gives all
/// it has anyway can hardly be driven harder.
#[test]
fn driving_hard_costs_what_practice_says() {
    let use_of = |document: &Checked, id: &str, style: DrivingStyle| {
        let all = cases(&Counted::of(document), id, &Cancel::new()).expect("sound");
        all.iter().find(|c| c.season == "usual" && c.driving_style == style).and_then(|c| c.wh_per_km).expect("driven")
    };
    let car = with(
        unused_demo("whimbrel-9-a"),
        "/brief/trips",
        json!([
            { "id": "town", "name": "Town", "path": { "segments": [{ "distance_km": 6, "speed_kmh": 50, "stops_per_km": 2, "stop_s": 15 }] } },
            { "id": "road", "name": "Road", "path": { "segments": [{ "distance_km": 20, "speed_kmh": 90, "stops_per_km": 0.2 }] } }
        ]),
    );
    let car = read(&with(with(car, "/brief/goals", json!([])), "/brief/schedules", json!([])));
    for (id, least, most) in [("town", 1.3, 1.75), ("road", 1.3, 1.65)] {
        let [gentle, normal, brisk] = DrivingStyle::ALL.map(|style| use_of(&car, id, style));
        assert!((least..most).contains(&(brisk / gentle)), "{id}: {gentle:.0}, {normal:.0}, {brisk:.0} Wh/km");
        assert!(brisk / normal > 1.12 && gentle < normal, "{id}: {gentle:.0}, {normal:.0}, {brisk:.0} Wh/km");
    }
}

/// A brisk driver goes faster where the vehicle can, and no faster where it cannot.
#[test]
fn a_raised_speed_is_one_the_vehicle_reaches() {
    let path = TripPath::Schedule(Schedule::Hwfet);
    let trip = joulethesis_core::document::Trip::plain("t", "T", path);
    let top = |available: &dyn Fn(f64) -> Option<f64>| {
        Trace::of_trip(&trip, DrivingStyle::Brisk, available).points.iter().map(|p| p.speed_m_s).fold(0.0, f64::max)
    };
    let plain = top(&|_| None);
    check("where it can", top(&|_| Some(1.0)) / plain, DrivingStyle::Brisk.speed_factor(), 1e-12);
    assert_eq!(top(&|v| (v < 1.05 * plain).then_some(1.0)), plain);
}
