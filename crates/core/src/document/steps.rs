//! How many steps a trip takes to simulate, told from its description before anything is made of it.

use super::{DrivingStyle, TravelSegment, Trip, TripPath};
use crate::quantity::units::KMH_PER_M_S;

/// Most steps (a second each) of all trips and schedules of one document together: over a day of driving.
pub const MOST_STEPS: f64 = 100_000.0;

/// Least and greatest acceleration of a stretch of road, m/s2.
pub(crate) const LEAST_M_S2: f64 = 0.05;
pub(crate) const MOST_M_S2: f64 = 8.0;

/// Steps of a trip in its own driving style, repeats counted; never fewer than its trace will have, by more than a few for each stop.
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::document::{MOST_STEPS, steps_of};
/// let van = Document::from_json(&demo("whimbrel-9-a")?)?;
/// assert!(van.brief.trips.iter().map(steps_of).sum::<f64>() < MOST_STEPS);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn steps_of(trip: &Trip) -> f64 {
    let once = match &trip.path {
        TripPath::Schedule(schedule) => schedule.seconds() / slowest(trip.driving_style),
        TripPath::Trace(points) => {
            // A step a second, one at least for each point; standing takes one however long.
            let own: f64 = points
                .windows(2)
                .map(|w| {
                    let still = w[0].speed_kmh == 0.0 && w[1].speed_kmh == 0.0;
                    if still { 1.0 } else { ((w[1].time_s - w[0].time_s) / slowest(trip.driving_style)).ceil().max(1.0) }
                })
                .sum();
            own
        }
        TripPath::Segments(segments) => segments.iter().map(|s| of_segment(s, trip.driving_style)).sum(),
    };
    once * f64::from(trip.repeat)
}

/// Speed over the described one, at least: whether the vehicle can go faster is not known here.
fn slowest(driving_style: DrivingStyle) -> f64 {
    driving_style.speed_factor().min(1.0)
}

fn of_segment(s: &TravelSegment, driving_style: DrivingStyle) -> f64 {
    let v = s.speed_kmh / KMH_PER_M_S * slowest(driving_style);
    // What the chain has to offer is not known here: the least there may be.
    let own = if s.liveliness.is_some() { LEAST_M_S2 } else { s.acceleration_m_s2 * driving_style.acceleration_factor() };
    let a = own.clamp(LEAST_M_S2, MOST_M_S2);
    let legs = (s.stops_per_km * s.distance_km).round().max(1.0);
    let length_m = s.distance_km * 1000.0 / legs;
    // From rest to rest: up to speed and back, or as far up as the way allows.
    let leg_s = if length_m >= v * v / a { length_m / v + v / a } else { 2.0 * (length_m / a).sqrt() };
    // Each of run-up, hold and braking begins a step of its own, and standing is one.
    legs * (leg_s + 4.0)
}
