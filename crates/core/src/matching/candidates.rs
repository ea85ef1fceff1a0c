//! Packs paired with drives and chargers: single designs that may be in the answer, and closer looks at them.

use std::sync::Arc;

use super::blocks::{Answered, Opened};
use super::bounding::Steps;
use super::bounds::{Bound, Known, OtherEnd, PackLook, Told};
use super::checkpoints::{Checkpoints, as_full_as_it_gets};
use super::configuration::Configuration;
use super::count::goal;
use super::enumerate::SearchSpace;
use super::objectives::Bins;
use super::open::Open;
use super::packs::PackSide;
use super::reach::Stages;
use super::space::SearchProblem;
use super::subsystems::{Drive, DriveMasses, KeptDrive};
use super::trip_energy::OnRoad;
use crate::trip::Trace;

/// One combination that may be in the answer, with the best it can be.
#[derive(Debug, Clone, Copy)]
pub(super) struct Candidate {
    pub(super) drive: u32,
    pub(super) pack: u32,
    pub(super) charger: u32,
    pub(super) bins: Bins,
    pub(super) rank: f64,
    pub(super) cost: f64,
    pub(super) added_kg: f64,
    /// Whether its bounds are as close as they get.
    pub(super) close: bool,
    /// Whether more than bounds has been asked of it.
    pub(super) simulated: bool,
}

/// What is told of a design before its trip is driven.
#[derive(Debug, Clone, Copy)]
pub(super) enum Ahead {
    /// It cannot keep up.
    FallsBehind,
    /// It goes no further, km.
    Reaches(f64),
}

impl SearchSpace {
    /// Candidates of one drive with one pack, of which some steps are told.
    pub(super) fn pair(
        &self,
        problem: &SearchProblem,
        (at, number): (usize, u32),
        (told, answered): (&Bins, &dyn Answered),
        found: &mut Opened,
    ) {
        let (pack, counts) = (&self.packs[at], &mut found.counts);
        let drive = self.drive(number);
        for (c, charger) in (0u32..).zip(&pack.chargers) {
            let (price, kg) = (drive.price + pack.price + charger.price, drive.mass_kg + pack.mass_kg + charger.mass_kg);
            let known =
                || problem.is_known_too_cheap(self.vehicle.bare_cost + price).then(|| problem.cost_constraint().map(goal)).flatten();
            if let Some(why) = self.too_much(problem, price, kg).or_else(known) {
                counts.cut(why, 1);
                continue;
            }
            let (cost, added_kg) = (self.vehicle.bare_cost + price, self.vehicle.bare_change_kg + kg);
            let bins = problem.objectives.with_exact(told, cost, added_kg, charger.hours);
            let rank = problem.objectives.rank(&bins);
            let exactly =
                Candidate { drive: number, pack: at as u32, charger: c, bins, rank, cost, added_kg, close: false, simulated: false };
            let into = if answered.is_out(&exactly) { &mut found.beaten } else { &mut found.open };
            into.push(Open::Candidate(exactly));
        }
    }

    /// A single drive with a single pack, and chargers from the lightest to the heaviest, kg.
    pub(super) fn look<'a>(
        &'a self,
        problem: &'a SearchProblem,
        drive: Drive,
        (pack, charger_kg): (&PackSide, (f64, f64)),
        close: bool,
    ) -> Bound<'a> {
        let masses = self.drivetrains[drive.drivetrain as usize].masses_of(&drive);
        self.look_between(problem, (drive, &masses), (pack, charger_kg), close)
    }

    /// As [`Self::look`] with drives of the same ratings, of which one is given that is as light as any.
    pub(super) fn look_between<'a>(
        &'a self,
        problem: &'a SearchProblem,
        (drive, drives): (Drive, &DriveMasses),
        (pack, charger_kg): (&PackSide, (f64, f64)),
        close: bool,
    ) -> Bound<'a> {
        let (drivetrain, vehicle) = (&self.drivetrains[drive.drivetrain as usize], &self.vehicle);
        let mass_kg = vehicle.test_kg(drive.mass_kg + pack.mass_kg + charger_kg.0);
        let heaviest_kg = vehicle.test_kg(drivetrain.heaviest_kg(drives) + pack.mass_kg + charger_kg.1);
        let grip_n_per_kg = drivetrain.grip_n_per_kg(vehicle, drives, (pack.mass_kg, pack.mass_kg), charger_kg);
        let pack = PackLook::of(pack);
        let worst = OtherEnd { heaviest_kg, ..OtherEnd::same((mass_kg, grip_n_per_kg * heaviest_kg), &drive, Some(&pack)) };
        Bound { problem, vehicle, drivetrain, drive, pack: Some(pack), mass_kg, worst, close, known: Known::nothing() }
    }

    /// What closer bounds of a candidate show.
    pub(super) fn closer_look(&self, problem: &SearchProblem, candidate: &Candidate, is_out: impl Fn(&Bins) -> bool) -> Told {
        let shortfall = self.packs[candidate.pack as usize].chargers[candidate.charger as usize].shortfall;
        self.look_at(problem, candidate).told(&candidate.bins, (candidate.cost, candidate.added_kg, shortfall), is_out)
    }

    /// A candidate alone, as closely as a bound looks.
    pub(super) fn look_at<'a>(&'a self, problem: &'a SearchProblem, candidate: &Candidate) -> Bound<'a> {
        let (drive, pack) = (self.drive(candidate.drive), &self.packs[candidate.pack as usize]);
        self.look(problem, drive, (pack, pack.chargers[candidate.charger as usize].only_kg()), true)
    }

    /// What is told of designs of a look at a pack on the very trace of the trip that counts, or of one on a day like it, before they are driven;
    /// none where the rules about following it are not kept.
    pub(super) fn before_driving(&self, look: &Bound<'_>, pack: &PackSide, (trip, trace): (usize, &Trace)) -> Option<Ahead> {
        let problem = look.problem;
        if !problem.keeps_up() {
            return None;
        }
        // What is told of all about as heavy spares most of them the closer look.
        let is_shared = !problem.trips[trip].1.points.is_empty();
        if is_shared && self.falls_behind(trip, look, pack) {
            return Some(Ahead::FallsBehind);
        }
        let look = as_full_as_it_gets(look.again(), pack, trace);
        let masses_kg = (look.mass_kg, look.worst.heaviest_kg);
        let on_road = OnRoad::of(problem, &self.vehicle, look.drivetrain, trip, masses_kg);
        let own = if is_shared { None } else { Some(Steps::of(trace)) };
        let steps = own.as_ref().unwrap_or(&problem.bounding[trip].steps);
        let walked = on_road.walk((steps, steps.duration_s()), problem.trips[trip].0.hvac_w);
        let checkpoints = match is_shared {
            true => look.drivetrain.checkpoints(problem, &self.vehicle, trip, masses_kg),
            false => Arc::new(Checkpoints::of(&on_road, &walked, trace)),
        };
        if !is_shared && checkpoints.are_missed((&on_road, &look), (pack, trip), (trace, steps)) {
            return Some(Ahead::FallsBehind);
        }
        let mut along = Vec::with_capacity(steps.legs.len());
        let energy = on_road.finished(walked, Some(&mut along));
        let mut furthest_km = look.reach_km(&energy);
        let (full_v, stages) = (look.start_v(), pack.stages(problem, trip, look.start_v(), None));
        // Below its start it may be fuller than there.
        let full = [(0.0, full_v), (f64::INFINITY, full_v)];
        let of_runs: &Stages = if trace.leads_below_its_start() { &full } else { &stages };
        if let Some(runs) = look.run_by_run(&energy, &along, of_runs) {
            let sags_m = checkpoints.sags_m((&on_road, &look), (trace, steps), (&runs, &stages));
            furthest_km = furthest_km.min(runs.ends_m.map_or(sags_m, |ends_m| ends_m.min(sags_m)) / 1000.0);
        }
        Some(Ahead::Reaches(furthest_km))
    }

    /// The configuration a candidate stands for.
    pub(super) fn configuration(&self, candidate: &Candidate) -> Configuration {
        let KeptDrive { drivetrain, machine } = self.drives[candidate.drive as usize];
        let pack = &self.packs[candidate.pack as usize];
        Configuration {
            controller: self.machines[machine as usize].controller,
            module: pack.module,
            series: pack.series,
            parallel: pack.parallel,
            charger: pack.chargers[candidate.charger as usize].place,
            ..self.drivetrains[drivetrain as usize].configuration
        }
    }
}
