//! Chains that cannot keep up with a trip, told before it is driven: not even at more force than they can have at the charge left do they
//! follow it.

use super::bounds::{Bound, OtherEnd, PackLook, Power};
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
    /// None where the trip need not be followed, or nothing is told of it. Unlike with [`falls_behind`], a design whose pack is empty before
    /// the fast part of the trip counts as one that cannot keep up with it.
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

/// A look at what there is at the start of the trip, where the voltage is highest; none without a pack. The load of a trip may stand elsewhere
/// than the usual one, so that no more is told of the grip than the whole mass gives.
fn at_start<'a>(look: &Bound<'a>, heaviest_kg: f64) -> Option<Bound<'a>> {
    let pack = look.pack?;
    let on = pack.on_trip;
    let full = PackLook { run_v: on.start_v, resistance_ohm: on.resistance_ohm, peak_a: on.peak_a, ..pack };
    let worst = OtherEnd { heaviest_kg, grip_n: look.vehicle.most_grip_n_per_kg * heaviest_kg, ..look.worst };
    Some(Bound { pack: Some(full), worst, ..look.again() })
}

/// Load of a trip beyond the usual one, kg.
pub(super) fn payload_kg(base: &Document, trip: &Trip) -> f64 {
    match trip.payload_kg {
        Some(kg) if base.donor.test_mass_kg.is_none() => kg - base.brief.payload_kg,
        _ => 0.0,
    }
}

/// What a design has used of its charge at least, wherever it is on a trace that it follows.
pub(super) struct Emptied<'a> {
    /// Energy that the pack gives at least, up to each point, J.
    pub(super) used_j: &'a [f64],
    /// Stages of the charge: energy down to each, J, and the voltage there, V. From the last on the window may have ended.
    pub(super) stages: &'a [(f64, f64)],
}

impl Emptied<'_> {
    /// The lowest voltage that is told.
    fn last_v(&self) -> Option<f64> {
        self.stages.last().map(|(_, v)| *v)
    }

    /// Voltage that nothing exceeds in the step after a point; none where the window may have ended.
    fn volts_v(&self, point: usize) -> Option<f64> {
        let used_j = *self.used_j.get(point)?;
        let passed = self.stages.partition_point(|(j, _)| *j <= used_j);
        self.stages.get(passed.checked_sub(1)?).filter(|_| passed < self.stages.len()).map(|(_, v)| *v)
    }
}

/// The greatest force over inert mass by cells of speed, m/s^2, worked out where it is asked for: that at the slow end of each, as no force grows
/// with the speed.
struct Pulls<'a> {
    look: Bound<'a>,
    gears: &'a [&'a GearSide],
    mass_kg: f64,
    power: Power,
    cells: Vec<f64>,
    likely: usize,
}

impl<'a> Pulls<'a> {
    fn of(look: Bound<'a>, gears: &'a [&'a GearSide], mass_kg: f64) -> Self {
        let power = look.power(Duty::Peak);
        Self { look, gears, mass_kg, power, cells: Vec::new(), likely: 0 }
    }

    /// Goes on at another open-circuit voltage.
    fn at_volts(&mut self, volts_v: f64) {
        if let Some(pack) = self.look.pack.filter(|p| p.run_v != volts_v) {
            self.look.pack = Some(PackLook { run_v: volts_v, ..pack });
            self.power = self.look.power(Duty::Peak);
            self.cells.clear();
        }
    }

    fn at(&mut self, v_m_s: f64) -> f64 {
        let cell = (v_m_s / CELL_M_S) as usize;
        if self.cells.len() <= cell {
            self.cells.resize(cell + 1, f64::NAN);
        }
        if self.cells[cell].is_nan() {
            self.cells[cell] = self.hardest(cell as f64 * CELL_M_S);
        }
        self.cells[cell]
    }

    fn hardest(&mut self, v_m_s: f64) -> f64 {
        let (mut best, first) = (0.0, self.likely);
        // The gear that was the hardest a cell before first: it mostly spares the others.
        for k in std::iter::once(first).chain((0..self.gears.len()).filter(|k| *k != first)) {
            let gear = self.gears[k];
            if v_m_s >= gear.fastest_m_s * (1.0 + 1e-9) {
                continue;
            }
            let accel_m_s2 = |pull_n: f64| (pull_n * (1.0 + 1e-9)).min(self.look.worst.grip_n) / gear.inert(self.mass_kg);
            if accel_m_s2(Bound::simply_n(gear, v_m_s, self.power.torque_nm, &self.power) * (1.0 + 2e-9)) <= best {
                continue;
            }
            let pulled = accel_m_s2(self.look.gear_n(gear, v_m_s, &self.power));
            if pulled > best {
                (best, self.likely) = (pulled, k);
            }
        }
        best
    }
}

/// Steps that one of the trace is cut in where the vehicle may be held back: no fewer than the model's.
const SUB_STEPS: u32 = 5;

/// Whether a chain falls behind a trace by more than following it allows.
///
/// At every moment the vehicle is no quicker than one that takes the greatest force of any charge it may have left against the resistance of its
/// slower start of each step, so it loses no less way and is off the trace for no less time. Without `emptied`, of any charge; with it, as long as
/// there surely is any.
pub(super) fn falls_behind(look: &Bound<'_>, road: &Road, gears: &[&GearSide], trace: &Trace, emptied: Option<&Emptied<'_>>) -> bool {
    let Some(look) = at_start(look, road.mass_kg) else { return false };
    let mass_kg = road.mass_kg;
    let inert = gears.iter().map(|g| g.inert(mass_kg)).fold((f64::INFINITY, 0.0_f64), |(a, b), x| (a.min(x), b.max(x)));
    let slowed_m_s2 = |v_m_s: f64, at: Point| {
        let resistance_n = road.resistance_n(v_m_s, (at.sin, at.cos));
        resistance_n / if resistance_n > 0.0 { inert.1 } else { inert.0 }
    };
    let mut pulls = Pulls::of(look.again(), gears, mass_kg);
    let mut least = emptied.and_then(Emptied::last_v).map(|volts_v| {
        let mut least = Pulls::of(look.again(), gears, mass_kg);
        least.at_volts(volts_v);
        least
    });
    let tolerance = Tolerance::of(trace);
    let (mut v_m_s, mut lost_m, mut off_s) = (0.0_f64, 0.0, 0.0);
    for (point, pair) in trace.points.windows(2).enumerate() {
        let (from, to) = (pair[0], pair[1]);
        let dt = to.time_s - from.time_s;
        let wanted_m_s = to.speed_m_s;
        if wanted_m_s <= v_m_s {
            v_m_s = wanted_m_s;
            continue;
        }
        let volts_v = match emptied.map(|e| e.volts_v(point)) {
            Some(None) => return false,
            told => told.flatten(),
        };
        // What the lowest voltage reaches needs no closer look.
        let at_least_m_s2 = least.as_mut().map_or_else(|| pulls.at(v_m_s), |least| least.at(v_m_s));
        if v_m_s + (at_least_m_s2 - slowed_m_s2(v_m_s, from)) * dt >= wanted_m_s {
            v_m_s = wanted_m_s;
            continue;
        }
        if let Some(volts_v) = volts_v {
            pulls.at_volts(volts_v);
        }
        let (h, mut driven_m) = (dt / f64::from(SUB_STEPS), 0.0);
        for i in 1..=SUB_STEPS {
            let target_m_s = from.speed_m_s + (wanted_m_s - from.speed_m_s) * f64::from(i) / f64::from(SUB_STEPS);
            // One that slows down does so ever less: counted as if it held its speed.
            let accel_m_s2 = (pulls.at(v_m_s) - slowed_m_s2(v_m_s, from)).max(0.0);
            let reached_m_s = (v_m_s + accel_m_s2 * h).min(target_m_s.max(v_m_s));
            driven_m += 0.5 * (v_m_s + reached_m_s) * h;
            v_m_s = reached_m_s;
        }
        lost_m += (0.5 * (from.speed_m_s + wanted_m_s) * dt - driven_m).max(0.0);
        // A hair for sums made in another order.
        if wanted_m_s - v_m_s > OFF_TRACE_M_S + 1e-6 {
            off_s += dt;
        }
        if tolerance.is_exceeded(off_s * (1.0 - 1e-9), lost_m * (1.0 - 1e-6)) {
            return true;
        }
    }
    false
}
