//! Stretches of road turned into a speed trace: run up, hold, brake, stand.

use super::{Point, raised};
use crate::document::{DrivingStyle, LEAST_M_S2, MOST_M_S2, TravelSegment};
use crate::quantity::units::KMH_PER_M_S;

/// How far the speed rises over the stated one when everything the chain offers is used at each launch, share (judgement, no source).
const LIVELY_SPEED: f64 = 0.125;

/// A leg between two stops or changes of speed.
struct Leg {
    length_m: f64,
    cruise_m_s: f64,
    accel_m_s2: f64,
    grade: f64,
    stop_s: Option<f64>,
}

/// Break points of the trace. It starts and ends at rest; stops are spread evenly over their stretch.
///
/// A stretch with a liveliness takes that share of the `available` mean acceleration from rest to its speed (m/s2), so half a
/// share takes twice as long to get there. Above half of it, as in a brisk style, the speed rises too, where it can be reached.
pub(super) fn points(segments: &[TravelSegment], driving_style: DrivingStyle, available: &dyn Fn(f64) -> Option<f64>) -> Vec<Point> {
    let mut legs = Vec::new();
    for s in segments {
        let length_m = s.distance_km * 1000.0;
        let stops = (s.stops_per_km * s.distance_km).round() as usize;
        let count = stops.max(1);
        let lively = 1.0 + LIVELY_SPEED * (2.0 * s.liveliness.unwrap_or(0.0) - 1.0).max(0.0);
        let cruise_m_s = raised(s.speed_kmh / KMH_PER_M_S, driving_style.speed_factor(), lively, available);
        let launch = if driving_style.share_of_available() > 0.0 || s.liveliness.is_some() { available(cruise_m_s) } else { None };
        let own_m_s2 = s.liveliness.and_then(|share| Some(share * launch?)).unwrap_or(s.acceleration_m_s2);
        let least_m_s2 = launch.map_or(0.0, |a| driving_style.share_of_available() * a);
        let accel_m_s2 = (own_m_s2 * driving_style.acceleration_factor()).max(least_m_s2).clamp(LEAST_M_S2, MOST_M_S2);
        for i in 0..count {
            legs.push(Leg {
                length_m: length_m / count as f64,
                cruise_m_s,
                accel_m_s2,
                grade: s.climb_m / length_m,
                stop_s: (i < stops).then_some(s.stop_s),
            });
        }
    }
    if let Some(last) = legs.last_mut() {
        last.stop_s.get_or_insert(0.0);
    }
    let mut time_s = 0.0;
    let mut entry = 0.0_f64;
    let mut out = vec![Point::new(0.0, 0.0, legs.first().map_or(0.0, |l| l.grade))];
    for (i, leg) in legs.iter().enumerate() {
        let exit = match (leg.stop_s, legs.get(i + 1)) {
            (Some(_), _) | (None, None) => 0.0,
            (None, Some(next)) => leg.cruise_m_s.min(next.cruise_m_s),
        };
        let a = leg.accel_m_s2;
        // Reachable speeds on a short leg: from the entry speed, and so that the exit speed can still be met.
        let exit = exit.min((entry * entry + 2.0 * a * leg.length_m).sqrt());
        let top = leg.cruise_m_s.min(((2.0 * a * leg.length_m + entry * entry + exit * exit) / 2.0).sqrt()).max(exit);
        let up_m = ((top * top - entry * entry) / (2.0 * a)).max(0.0);
        let down_m = (top * top - exit * exit) / (2.0 * a);
        let hold_m = (leg.length_m - up_m - down_m).max(0.0);
        let mut push = |dt: f64, speed: f64| {
            if dt > 1e-9 {
                time_s += dt;
                out.push(Point::new(time_s, speed, leg.grade));
            }
        };
        // The grade holds from a point to the next, so the point that opens the leg carries it too.
        push((top - entry).max(0.0) / a, top);
        push(hold_m / top.max(1e-9), top);
        push((top - exit) / a, exit);
        push(leg.stop_s.unwrap_or(0.0), exit);
        entry = exit;
        if let (Some(point), Some(next)) = (out.last_mut(), legs.get(i + 1)) {
            *point = Point::new(point.time_s, point.speed_m_s, next.grade);
        }
    }
    out
}
