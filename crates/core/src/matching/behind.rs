//! Chains that cannot keep up with a trip, told before it is driven: not even at more force than they can have at the charge left do they
//! follow it.

use std::ops::Range;

use super::bounding::Steps;
use super::bounds::{Bound, OtherEnd, PackLook, Power};
use super::rated_train::GearSide;
use super::reach::{Stages, volts_after};
use crate::document::{Document, Trip};
use crate::figures::Duty;
use crate::simulate::{OFF_TRACE_M_S, Tolerance};
use crate::trip::{Point, Trace};
use crate::vehicle::Road;

/// Width of a cell of speed, m/s.
const CELL_M_S: f64 = 0.5;

/// A look at what there is at the start of the trip, where the voltage is highest; none without a pack. The load of a trip may stand elsewhere
/// than the usual one, so that no more is told of the grip than the whole mass gives.
pub(super) fn at_start<'a>(look: &Bound<'a>, heaviest_kg: f64) -> Option<Bound<'a>> {
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
    /// Energy that the pack gives at least by any of so many steps of a leg after one another, J; each leg begins with one.
    pub(super) used_j: &'a [f64],
    /// Energy given before that, J.
    pub(super) before_j: f64,
    pub(super) every: usize,
    /// Stages of the charge: energy down to each, J, and the voltage there, V. From the last on the window may have ended.
    pub(super) stages: &'a Stages,
}

impl Emptied<'_> {
    /// The lowest voltage that is told.
    fn last_v(&self) -> f64 {
        self.stages.last().map_or(0.0, |(_, v)| *v)
    }

    /// Voltage that nothing exceeds in some steps, by their place; none where the window may have ended.
    fn volts_v(&self, place: usize) -> Option<f64> {
        (place < self.used_j.len()).then(|| volts_after(self.stages, self.up_to_j(place))).flatten()
    }

    fn up_to_j(&self, place: usize) -> f64 {
        (self.before_j + self.used_j[place]).max(0.0)
    }

    /// Whether a charge is surely left all along the places of a leg, where no voltage is higher than some places before. Each time a leg is made
    /// takes as much, so that the last one tells of those between.
    fn only_empties(&self, mut places: Range<usize>, before: usize) -> bool {
        places.all(|place| self.volts_v(place).is_some() && self.up_to_j(place - before) <= self.up_to_j(place))
    }
}

/// The greatest force over inert mass by cells of speed, m/s^2, worked out where it is asked for: that at the slow end of each, as no force grows
/// with the speed.
struct Pulls<'a> {
    look: Bound<'a>,
    gears: &'a [&'a GearSide],
    /// From the lightest to the heaviest.
    masses_kg: (f64, f64),
    power: Power,
    cells: Vec<f64>,
    likely: usize,
}

impl<'a> Pulls<'a> {
    fn of(look: Bound<'a>, gears: &'a [&'a GearSide], masses_kg: (f64, f64)) -> Self {
        let power = look.power(Duty::Peak);
        Self { look, gears, masses_kg, power, cells: Vec::new(), likely: 0 }
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
            // A pull moves the lightest the most, and grip the heaviest.
            let (light_kg, heavy_kg) = self.masses_kg;
            let gripped_m_s2 = self.look.worst.grip_n / gear.inert(heavy_kg);
            let accel_m_s2 = |pull_n: f64| (pull_n * (1.0 + 1e-9) / gear.inert(light_kg)).min(gripped_m_s2);
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

/// How hard the road slows down vehicles of some masses at least.
struct Slowed {
    roads: [Road; 2],
    /// Inert mass in the gear where it is the least, and where it is the greatest, of the lightest and the heaviest, kg.
    inert_kg: [(f64, f64); 2],
}

impl Slowed {
    fn of(road: &Road, masses_kg: (f64, f64), gears: &[&GearSide]) -> Self {
        let ends = [masses_kg.0, masses_kg.1];
        let inert = |kg: f64| gears.iter().map(|g| g.inert(kg)).fold((f64::INFINITY, 0.0_f64), |(a, b), x| (a.min(x), b.max(x)));
        Self { roads: ends.map(|mass_kg| Road { mass_kg, ..*road }), inert_kg: ends.map(inert) }
    }

    /// At a speed on the slope of a point, m/s^2. Both resistance and inert mass are linear in the mass, so that an end has the least.
    fn at_m_s2(&self, v_m_s: f64, at: Point) -> f64 {
        let one = |(road, inert_kg): (&Road, &(f64, f64))| {
            let resistance_n = road.resistance_n(v_m_s, (at.sin, at.cos));
            resistance_n / if resistance_n > 0.0 { inert_kg.1 } else { inert_kg.0 }
        };
        self.roads.iter().zip(&self.inert_kg).map(one).fold(f64::INFINITY, f64::min)
    }
}

/// Steps that one of the trace is cut in where the vehicle may be held back: no fewer than the model's.
const SUB_STEPS: u32 = 5;

/// What has been lost on a trace.
#[derive(Debug, Clone, Copy, Default)]
struct Lost {
    off_s: f64,
    way_m: f64,
}

impl Lost {
    /// With so many times what has been lost between this and another.
    fn and(&self, times: u32, other: &Self) -> Self {
        let more = |before: f64, after: f64| before + f64::from(times) * (after - before);
        Self { off_s: more(self.off_s, other.off_s), way_m: more(self.way_m, other.way_m) }
    }

    fn is_too_much(&self, tolerance: &Tolerance) -> bool {
        // A hair for sums made in another order.
        tolerance.is_exceeded(self.off_s * (1.0 - 1e-9), self.way_m * (1.0 - 1e-6))
    }
}

/// Where every chain that a look holds, of some masses on a road, has fallen behind a trace by more than following it allows: a point of the trace;
/// none where that is not told.
///
/// At every moment the vehicle is no quicker than one that takes the greatest force of any charge it may have left against the resistance of its
/// slower start of each step, so it loses no less way and is off the trace for no less time. Told as long as there surely is any charge.
pub(super) fn falls_behind(
    look: &Bound<'_>,
    (road, masses_kg): (&Road, (f64, f64)),
    gears: &[&GearSide],
    (trace, steps): (&Trace, &Steps),
    emptied: &Emptied<'_>,
) -> Option<usize> {
    let look = at_start(look, masses_kg.1)?;
    let slowed = Slowed::of(road, masses_kg, gears);
    let mut pulls = Pulls::of(look.again(), gears, masses_kg);
    let mut least = Pulls::of(look.again(), gears, masses_kg);
    least.at_volts(emptied.last_v());
    let tolerance = &steps.tolerance;
    // Steps on the trace that the lowest voltage reaches, by what they are like.
    let mut known_easy = vec![false; steps.unlike.len()];
    let (mut v_m_s, mut lost, mut from_step, mut place) = (0.0_f64, Lost::default(), 0, 0);
    for leg in &steps.legs {
        let (count, places) = (leg.each.len(), leg.each.len().div_ceil(emptied.every));
        for time in 0..leg.times {
            let (before, mut is_easy) = (lost, true);
            let points = &trace.points[from_step..=from_step + count];
            for (i, (pair, (like, _))) in points.windows(2).zip(&leg.each).enumerate() {
                let (from, to) = (pair[0], pair[1]);
                let wanted_m_s = to.speed_m_s;
                let (is_on_trace, known) = (v_m_s == from.speed_m_s, &mut known_easy[*like as usize]);
                if wanted_m_s <= v_m_s || is_on_trace && *known {
                    v_m_s = wanted_m_s;
                    continue;
                }
                // What the lowest voltage reaches needs no closer look.
                let dt = to.time_s - from.time_s;
                if v_m_s + (least.at(v_m_s) - slowed.at_m_s2(v_m_s, from)) * dt >= wanted_m_s {
                    *known |= is_on_trace;
                    v_m_s = wanted_m_s;
                    continue;
                }
                is_easy = false;
                pulls.at_volts(emptied.volts_v(place + i / emptied.every)?);
                let (h, mut driven_m) = (dt / f64::from(SUB_STEPS), 0.0);
                for part in 1..=SUB_STEPS {
                    let target_m_s = from.speed_m_s + (wanted_m_s - from.speed_m_s) * f64::from(part) / f64::from(SUB_STEPS);
                    // One that slows down does so ever less: counted as if it held its speed.
                    let accel_m_s2 = (pulls.at(v_m_s) - slowed.at_m_s2(v_m_s, from)).max(0.0);
                    let reached_m_s = (v_m_s + accel_m_s2 * h).min(target_m_s.max(v_m_s));
                    driven_m += 0.5 * (v_m_s + reached_m_s) * h;
                    v_m_s = reached_m_s;
                }
                lost.way_m += (0.5 * (from.speed_m_s + wanted_m_s) * dt - driven_m).max(0.0);
                // A hair for sums made in another order.
                if wanted_m_s - v_m_s > OFF_TRACE_M_S + 1e-6 {
                    lost.off_s += dt;
                }
                if lost.is_too_much(tolerance) {
                    return Some(from_step + i + 1);
                }
            }
            (from_step, place) = (from_step + count, place + places);
            let left = leg.times - time - 1;
            // Each time the leg begins at rest, so that the lowest voltage reaches again what it has reached.
            if is_easy {
                (from_step, place) = (from_step + count * left as usize, place + places * left as usize);
                break;
            }
            // No less is lost on it later on, as no voltage is higher then.
            if let Some(more) = (1..=left).find(|more| before.and(more + 1, &lost).is_too_much(tolerance)) {
                let (more, further) = (more as usize, places * more as usize);
                if emptied.only_empties(place - places + further..place + further, further) {
                    return Some(from_step + count * more);
                }
            }
        }
    }
    None
}
