//! What a drivetrain has used of a charge at least by checkpoints of a trip: told once for all designs of about a mass.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

use super::along::Along;
use super::behind::Emptied;
use super::bounding::{Bounding, Steps};
use super::bounds::{Bound, PackLook};
use super::enumerate::SearchSpace;
use super::fixed_vehicle::FixedVehicle;
use super::packs::{OnTrip, PackSide};
use super::rated_train::RatedTrain;
use super::reach::{ROOM, ROOM_IF_MADE, RunByRun, Stages};
use super::space::SearchProblem;
use super::trip_energy::{OnRoad, TripEnergy, Walked};
use crate::simulate::BLOCK_STEPS;
use crate::trip::Trace;

/// Stretches that a trace is told in: a few to each of the stages in which a voltage falls.
const STRETCHES: usize = 64;

/// The least up to each stretch of a trace.
#[derive(Debug)]
pub(super) struct Checkpoints {
    whole: TripEnergy,
    /// Each leg begins with one.
    least: Vec<Along>,
    /// Steps in each, or as many as are left of a leg.
    every: usize,
    /// Energy that one which lags may be short of, J.
    lagging_j: f64,
}

impl Checkpoints {
    /// Of a trace that has been walked along.
    pub(super) fn of(on_road: &OnRoad<'_>, walked: &Walked<'_>, trace: &Trace) -> Self {
        let every = trace.points.len().div_ceil(STRETCHES).max(1);
        let (mut least, mut before) = (Vec::with_capacity(STRETCHES), Along::default());
        for leg in &walked.steps.legs {
            let (mut once, mut count): (Vec<Along>, usize) = (Vec::new(), 0);
            let whole = walked.along(&leg.each, |point| {
                match once.last_mut().filter(|_| count % every > 0 || count == leg.each.len()) {
                    Some(stretch) => stretch.go_on(&point),
                    None => once.push(point),
                }
                count += 1;
            });
            for _ in 0..leg.times {
                least.extend(once.iter().map(|point| point.after(1, &before)));
                before = whole.after(1, &before);
            }
        }
        Self { whole: walked.sums, least, every, lagging_j: on_road.lagging_j(trace) }
    }

    /// Whether all designs of a look at a pack, which is as full as it gets, fall behind the trace of a trip.
    pub(super) fn are_missed(
        &self,
        (on_road, look): (&OnRoad<'_>, &Bound<'_>),
        (pack, trip): (&PackSide, usize),
        on: (&Trace, &Steps),
    ) -> bool {
        let most_a = look.drive.peak_a.min(pack.on_trip.peak_a);
        let stages = pack.stages(look.problem, trip, look.start_v(), Some(most_a));
        let used_j = look.used_along_j(&self.whole, &self.least, self.lagging_j);
        on_road.falls_behind(look, on, &Emptied { used_j: &used_j, before_j: 0.0, every: self.every, stages: &stages }).is_some()
    }

    /// Way on which all designs of a look have fallen behind the trace of a trip that they make over and over, m; infinite where that is not told.
    ///
    /// Where some runs are skipped, others begin between those told: the one before the last began with less used than is told to be too much, and
    /// got one run further.
    pub(super) fn sags_m(
        &self,
        (on_road, look): (&OnRoad<'_>, &Bound<'_>),
        on: (&Trace, &Steps),
        (runs, stages): (&RunByRun, &Stages),
    ) -> f64 {
        let before_j = &runs.before_j;
        let used_j = look.used_along_j(&self.whole, &self.least, self.lagging_j);
        let behind =
            |run: usize| on_road.falls_behind(look, on, &Emptied { used_j: &used_j, before_j: before_j[run], every: self.every, stages });
        // What falls behind on one run does so on the next.
        let (mut keeps_up, mut falls) = (0, before_j.len() - 1);
        let Some(mut at) = (falls > 0).then(|| behind(falls)).flatten() else { return f64::INFINITY };
        while falls - keeps_up > 1 {
            let middle = usize::midpoint(keeps_up, falls);
            match behind(middle) {
                Some(earlier) => (falls, at) = (middle, earlier),
                None => keeps_up = middle,
            }
        }
        // It is found out at the end of a block of steps.
        let (begun, room) = if runs.ends_m.is_some() { (falls, ROOM_IF_MADE) } else { (falls + 1, ROOM) };
        (begun as f64 * self.whole.length_m + on.0.way_m(at + 1 + BLOCK_STEPS)) * room
    }
}

/// Checkpoints of a drivetrain, by the place of the trip and the first and the last step of mass; worked out when first asked for.
#[derive(Debug, Default)]
pub(super) struct CheckpointsByMass(Mutex<HashMap<(usize, [usize; 2]), Kept>>);

type Kept = Arc<OnceLock<Arc<Checkpoints>>>;

impl RatedTrain {
    /// The least up to checkpoints of a trip, over an interval of masses.
    pub(super) fn checkpoints(
        &self,
        problem: &SearchProblem,
        vehicle: &FixedVehicle,
        trip: usize,
        (light_kg, heavy_kg): (f64, f64),
    ) -> Arc<Checkpoints> {
        let steps = [light_kg, heavy_kg].map(|kg| vehicle.mass_step(kg));
        let kept = self.along.0.lock().unwrap_or_else(PoisonError::into_inner).entry((trip, steps)).or_default().clone();
        let work_out = || {
            let masses_kg = (vehicle.mass_between(steps[0]).0, vehicle.mass_between(steps[1]).1);
            let Bounding { trace, steps, .. } = &problem.bounding[trip];
            let on_road = OnRoad::of(problem, vehicle, self, trip, masses_kg);
            let walked = on_road.walk((steps, steps.duration_s()), problem.trips[trip].0.hvac_w);
            Arc::new(Checkpoints::of(&on_road, &walked, trace))
        };
        kept.get_or_init(work_out).clone()
    }
}

impl SearchSpace {
    /// Whether all designs of a look at a pack fall behind a trip of a trace of its own.
    pub(super) fn falls_behind(&self, trip: usize, look: &Bound<'_>, pack: &PackSide) -> bool {
        let (problem, trace) = (look.problem, &look.problem.trips[trip].1);
        let look = as_full_as_it_gets(look.again(), pack, trace);
        let masses_kg = (look.mass_kg, look.worst.heaviest_kg);
        let told = look.drivetrain.checkpoints(problem, &self.vehicle, trip, masses_kg);
        let on_road = OnRoad::of(problem, &self.vehicle, look.drivetrain, trip, masses_kg);
        told.are_missed((&on_road, &look), (pack, trip), (trace, &problem.bounding[trip].steps))
    }
}

impl Bound<'_> {
    /// Voltage of its pack at the start of a trip, V.
    pub(super) fn start_v(&self) -> f64 {
        self.pack.map_or(0.0, |p| p.on_trip.start_v)
    }
}

/// A look at a pack with the highest voltage of a trip: downhill it may be fuller than at the start.
pub(super) fn as_full_as_it_gets<'a>(mut look: Bound<'a>, pack: &PackSide, trace: &Trace) -> Bound<'a> {
    let start_v = if trace.leads_downhill() { pack.model.full_v } else { pack.on_trip.start_v };
    look.pack = look.pack.map(|p| PackLook { on_trip: OnTrip { start_v, ..p.on_trip }, ..p });
    look
}
