//! Trips from their descriptions: length, climb, stops, and the steps told beforehand.

use crate::common::cases;
use joulethesis_core::document::{DrivingStyle, TravelSegment, Trip, TripPath, steps_of};
use joulethesis_core::trip::Trace;
use proptest::prelude::*;

#[test]
fn length_and_climb_are_kept_whatever_the_stops() {
    let segment = |km: f64, kmh: f64, stops: f64, climb: f64| TravelSegment {
        distance_km: km,
        speed_kmh: kmh,
        stops_per_km: stops,
        climb_m: climb,
        acceleration_m_s2: 0.9,
        stop_s: 20.0,
        liveliness: None,
    };
    let path = TripPath::Segments(vec![segment(4.0, 60.0, 0.5, 30.0), segment(0.3, 25.0, 0.0, 42.0), segment(1.0, 60.0, 12.0, -72.0)]);
    let trace = Trace::of(&path);
    let climbed: f64 =
        trace.points.windows(2).map(|w| 0.5 * (w[0].speed_m_s + w[1].speed_m_s) * (w[1].time_s - w[0].time_s) * w[0].sin / w[0].cos).sum();
    assert!((trace.distance_m() - 5300.0).abs() < 1e-6, "got {}", trace.distance_m());
    assert!(climbed.abs() < 1e-6, "got {climbed}");
    let standing = trace.points.windows(2).filter(|w| w[0].speed_m_s == 0.0 && w[1].speed_m_s == 0.0).count();
    assert_eq!(standing, 14);
}

proptest! {
    #![proptest_config(cases(300))]

    #[test]
    fn no_trace_has_more_steps_than_were_told(
        distance_km in 0.02..30.0f64, speed_kmh in 3.0..200.0f64, stops_per_km in 0.0..20.0f64, acceleration_m_s2 in 0.1..4.0f64,
        second_kmh in 3.0..200.0f64, driving_style in prop::sample::select(DrivingStyle::ALL.to_vec()), repeat in 1u32..4, lively in any::<bool>(),
        offered in 0.0..5.0f64,
    ) {
        let segment = TravelSegment {
            distance_km, speed_kmh, stops_per_km, climb_m: 0.0, acceleration_m_s2, stop_s: 30.0, liveliness: lively.then_some(0.5),
        };
        let path = TripPath::Segments(vec![segment.clone(), TravelSegment { speed_kmh: second_kmh, stops_per_km: 0.0, ..segment }]);
        let trip = Trip { driving_style, repeat, ..Trip::plain("t", "T", path) };
        let told = steps_of(&trip);
        let trace = Trace::of_trip(&trip, driving_style, &|_| Some(offered));
        let steps = trace.points.len() as f64 - 1.0;
        prop_assert!(steps <= told * 1.02 + 4.0, "{steps} steps, {told} told");
    }
}
