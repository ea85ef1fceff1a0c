//! The speed that a trip takes, told of whole blocks at once.

use super::behind::{at_start, payload_kg};
use super::bounds::Bound;
use super::space::SearchProblem;
use crate::figures::Duty;
use crate::quantity::crossing;
use crate::simulate::Tolerance;
use crate::trip::Point;
use crate::vehicle::{Conditions, Road};

/// The speed that a vehicle has to reach on the level if it is to follow the trip that counts: told of whole blocks at once.
///
/// Below it all that is asked beyond is lost, which is more than following allows, whatever the chain makes of the trip's pace: a quicker
/// trace is at the higher speeds for longer. Nothing is told of a trip that leads downhill, where a vehicle may be quicker than it can on
/// the level.
#[derive(Debug)]
pub(super) struct KeepUp {
    speed_m_s: f64,
    /// Road load on the day of the trip, of no mass.
    road: Road,
    /// Load beyond the usual, kg.
    payload_kg: f64,
    gear: Option<u32>,
    range: Option<u32>,
}

/// Room for a speed that is passed within a step in which force and resistance meet.
const PASSED: f64 = 0.995;

impl KeepUp {
    /// None where the trip need not be followed, or nothing is told of it. Unlike with [`super::behind::falls_behind`], a design whose pack is
    /// empty before the fast part of the trip counts as one that cannot keep up with it.
    pub(super) fn of(problem: &SearchProblem) -> Option<Self> {
        let at = problem.trip.filter(|at| problem.keeps_up() && problem.followed.contains(at))?;
        let (trip, trace) = (&problem.trips[at].0, &problem.bounding[at].trace);
        let tolerance = Tolerance::of(trace);
        let points = &trace.points;
        if trace.leads_downhill() {
            return None;
        }
        let lost_m = |v_m_s: f64| {
            let one = |pair: &[Point]| {
                let mean_m_s = 0.5 * (pair[0].speed_m_s + pair[1].speed_m_s);
                (mean_m_s - v_m_s).max(0.0) * (pair[1].time_s - pair[0].time_s)
            };
            points.windows(2).map(one).sum::<f64>()
        };
        let fastest_m_s = points.iter().map(|p| p.speed_m_s).fold(0.0, f64::max);
        let speed_m_s = crossing(0.0, fastest_m_s, |v| lost_m(v) - tolerance.lost_m)?;
        let base = &problem.base;
        Some(Self {
            speed_m_s: speed_m_s * PASSED,
            road: Road::of(base, 0.0, &Conditions::of_trip(base, trip)),
            payload_kg: payload_kg(base, trip),
            gear: trip.gear,
            range: trip.transfer_range,
        })
    }

    /// Whether nothing of a block reaches it, in any gear and at any charge.
    pub(super) fn is_missed(&self, look: &Bound<'_>) -> bool {
        let mass_kg = look.mass_kg + self.payload_kg;
        let Some(look) = at_start(look, look.worst.heaviest_kg + self.payload_kg) else { return false };
        let resistance_n = Road { mass_kg, ..self.road }.resistance_n(self.speed_m_s, (0.0, 1.0));
        let power = look.power(Duty::Peak);
        let mut turning = look.drivetrain.gears_of(self.gear, self.range).filter(|g| self.speed_m_s < g.fastest_m_s * (1.0 + 1e-9));
        !turning.any(|g| look.gear_n(g, self.speed_m_s, &power).min(look.worst.grip_n) >= resistance_n)
    }
}
