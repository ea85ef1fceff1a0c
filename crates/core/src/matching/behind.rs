//! Chains that cannot keep up with a trip, told before it is driven: not even at more force than they have at any charge do they follow it.

use super::bounds::{Bound, Known, OtherEnd, PackLook};
use super::space::SearchProblem;
use super::subsystems::GearSide;
use crate::document::{Document, Trip};
use crate::figures::Duty;
use crate::quantity::crossing;
use crate::simulate::{OFF_TRACE_M_S, Tolerance};
use crate::trip::{Point, Trace};
use crate::vehicle::{Conditions, Road};

/// Width of a cell of speed, m/s.
const CELL_M_S: f64 = 0.5;
/// The force within a cell is no more than so many times that at its slow end: as much as a curve may rise.
const RISING: f64 = 1.02;

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
    /// None where the trip need not be followed, or nothing is told of it. As with [`falls_behind`], a design whose pack is empty before
    /// the fast part of the trip counts as one that cannot keep up with it.
    pub(super) fn of(problem: &SearchProblem) -> Option<Self> {
        let at = problem.trip.filter(|at| problem.keeps_up() && problem.followed.contains(at))?;
        let (trip, trace) = (&problem.trips[at].0, &problem.bounding[at].trace);
        let tolerance = Tolerance::of(trace);
        let points = &trace.points;
        if points.iter().any(|p| p.sin < -1e-9) {
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
        !turning.any(|g| (RISING * look.gear_n(g, self.speed_m_s, &power)).min(look.worst.grip_n) >= resistance_n)
    }
}

/// A look at what there is at the start of the trip, where the voltage is highest; none without a pack. The load of a trip may stand elsewhere
/// than the usual one, so that no more is told of the grip than the whole mass gives.
fn at_start<'a>(look: &Bound<'a>, heaviest_kg: f64) -> Option<Bound<'a>> {
    let pack = look.pack?;
    let on = pack.on_trip;
    let full = PackLook { run_v: on.start_v, resistance_ohm: on.resistance_ohm, peak_a: on.peak_a, ..pack };
    let worst = OtherEnd { heaviest_kg, grip_n: look.vehicle.most_grip_n_per_kg * heaviest_kg, ..look.worst };
    Some(Bound { pack: Some(full), worst, known: Known::nothing(), ..*look })
}

/// Load of a trip beyond the usual one, kg.
pub(super) fn payload_kg(base: &Document, trip: &Trip) -> f64 {
    match trip.payload_kg {
        Some(kg) if base.donor.test_mass_kg.is_none() => kg - base.brief.payload_kg,
        _ => 0.0,
    }
}

/// Whether a chain falls behind a trace by more than following it allows.
///
/// At every moment the vehicle is no quicker than one that takes the greatest force of any charge against the resistance of its slower start of
/// each step, so it loses no less way and is off the trace for no less time.
pub(super) fn falls_behind(look: &Bound<'_>, road: &Road, gears: &[&GearSide], trace: &Trace) -> bool {
    let Some(look) = at_start(look, road.mass_kg) else { return false };
    let (power, mass_kg) = (look.power(Duty::Peak), road.mass_kg);
    // Greatest force over inert mass by cells of speed, and the lightest and heaviest inert mass.
    let mut likely = 0;
    let mut pull = |cell: usize| {
        let v_m_s = cell as f64 * CELL_M_S;
        let (mut best, first) = (0.0, likely);
        // The gear that was the hardest a cell before first: it mostly spares the others.
        for k in std::iter::once(first).chain((0..gears.len()).filter(|k| *k != first)) {
            let gear = gears[k];
            if v_m_s >= gear.fastest_m_s * (1.0 + 1e-9) {
                continue;
            }
            let accel_m_s2 = |pull_n: f64| (RISING * pull_n).min(look.worst.grip_n) / gear.inert(mass_kg);
            if accel_m_s2(Bound::simply_n(gear, v_m_s, power.torque_nm, &power) * (1.0 + 2e-9)) <= best {
                continue;
            }
            let pulled = accel_m_s2(look.gear_n(gear, v_m_s, &power));
            if pulled > best {
                (best, likely) = (pulled, k);
            }
        }
        best
    };
    let inert = gears.iter().map(|g| g.inert(mass_kg)).fold((f64::INFINITY, 0.0_f64), |(a, b), x| (a.min(x), b.max(x)));
    let tolerance = Tolerance::of(trace);
    let mut pulls: Vec<f64> = Vec::new();
    let (mut v_m_s, mut lost_m, mut off_s) = (0.0_f64, 0.0, 0.0);
    for pair in trace.points.windows(2) {
        let (from, to) = (pair[0], pair[1]);
        let dt = to.time_s - from.time_s;
        let wanted_m_s = to.speed_m_s;
        if wanted_m_s <= v_m_s {
            v_m_s = wanted_m_s;
            continue;
        }
        let cell = (v_m_s / CELL_M_S) as usize;
        while pulls.len() <= cell {
            pulls.push(pull(pulls.len()));
        }
        let resistance_n = road.resistance_n(v_m_s, (from.sin, from.cos));
        let accel_m_s2 = pulls[cell] - resistance_n / if resistance_n > 0.0 { inert.1 } else { inert.0 };
        // One that slows down does so ever less: counted as if it held its speed.
        let reached_m_s = v_m_s + accel_m_s2.max(0.0) * dt;
        if reached_m_s < wanted_m_s {
            let (asked_m, driven_m) = (0.5 * (from.speed_m_s + wanted_m_s) * dt, 0.5 * (v_m_s + reached_m_s) * dt);
            lost_m += (asked_m - driven_m).max(0.0);
            // A hair for sums made in another order.
            if wanted_m_s - reached_m_s > OFF_TRACE_M_S + 1e-6 {
                off_s += dt;
            }
            if tolerance.is_exceeded(off_s * (1.0 - 1e-9), lost_m * (1.0 - 1e-6)) {
                return true;
            }
        }
        v_m_s = reached_m_s.min(wanted_m_s);
    }
    false
}
