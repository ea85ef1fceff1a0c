//! What is told of a candidate before its own chain is simulated: by its twins, by a closer look, and along its trips.

use super::bounds::Told;
use super::candidates::{Ahead, Candidate};
use super::constraint::Constraint;
use super::count::{goal, rule};
use super::pareto::Tie;
use super::search::Search;
use super::simulate::{Outcome, bound_tie};
use super::twins::{Came, Lesson, Stands, ToldByTwins};
use crate::document::Trip;
use crate::figures::FigureKind;
use crate::findings::Rule;
use crate::trip::Trace;

impl Search<'_> {
    /// What closer bounds of a candidate come to.
    pub(super) fn bounded(&self, candidate: &Candidate, lesson: &mut Lesson) -> Outcome {
        let (problem, configuration) = (self.problem, self.space.configuration(candidate));
        let mut tie = bound_tie(candidate, &self.space);
        let dominated = |tie: &Tie| self.is_dominated(problem.objectives.rank(&tie.bins), tie, &configuration);
        let told = self.told_by_twins(candidate, &mut tie, &dominated);
        let told = told.or_else(|| self.looked_at_closely(candidate, (&mut tie, lesson), &dominated));
        // Where the chain sets the pace of the trip, its trace is not known before the chain is built.
        let told = told.or_else(|| match self.is_paced_by_chain() {
            true => None,
            false => self.told_before(candidate, &problem.trips, (&mut tie, lesson), &dominated),
        });
        match told {
            Some(Outcome::Beaten { bins, .. }) => Outcome::Beaten { bins, close: false },
            told => told.unwrap_or(Outcome::Bounded(tie.bins)),
        }
    }

    /// What a closer look at a candidate shows: at once of all its kin, but where it counts by how much goals are missed.
    fn looked_at_closely(
        &self,
        candidate: &Candidate,
        (tie, lesson): (&mut Tie, &mut Lesson),
        dominated: &impl Fn(&Tie) -> bool,
    ) -> Option<Outcome> {
        let (problem, space) = (self.problem, &self.space);
        let is_exact = !problem.objectives.relaxed.is_empty();
        if !is_exact && self.twins.are_looked_at(&space.kin_of(problem, candidate)) {
            return None;
        }
        let kin = space.kin(problem, candidate);
        if kin.count == 1 || is_exact {
            let own = *tie;
            match space.closer_look(problem, candidate, |bins| dominated(&Tie { bins: *bins, ..own })) {
                Told::Missed(constraint) => return Some(Outcome::Cut(goal(constraint))),
                Told::Beaten(bins) => return Some(Outcome::Beaten { bins, close: false }),
                Told::Open(bins) => tie.bins = bins,
            }
            return None;
        }
        let look = space.look_at_kin(problem, &kin, &space.packs[candidate.pack as usize]);
        // Nothing else is told more closely than before.
        let accelerations = problem.cheapest_first.iter().filter(|kind| matches!(kind, FigureKind::Acceleration(..)));
        lesson.came.push((Stands::of(&look), Came::Does(accelerations.map(|kind| (*kind, look.best(*kind))).collect())));
        lesson.looked = true;
        self.judged(&ToldByTwins::by(&lesson.came, &Stands::of(&space.look_at(problem, candidate))), tie, dominated)
    }

    /// What its twins tell of a candidate.
    pub(super) fn told_by_twins(&self, candidate: &Candidate, tie: &mut Tie, dominated: &impl Fn(&Tie) -> bool) -> Option<Outcome> {
        let told = self.twins.tell(self.problem, &self.space, candidate)?;
        self.judged(&told, tie, dominated)
    }

    /// What becomes of a candidate of which twins tell something.
    pub(super) fn judged(&self, told: &ToldByTwins<'_>, tie: &mut Tie, dominated: &impl Fn(&Tie) -> bool) -> Option<Outcome> {
        let objectives = &self.problem.objectives;
        if let Some(broken) = told.breaks {
            return Some(Outcome::Cut(rule(broken)));
        }
        for (kind, value) in told.does.iter().copied().flatten() {
            if let Some(missed) = self.problem.constraints.iter().position(|m| m.kind == *kind && !m.may_be_met(*value)) {
                return Some(Outcome::Cut(goal(missed)));
            }
            if let Some(i) = objectives.kinds.iter().position(|k| *k == Some(*kind)) {
                tie.bins[i] = tie.bins[i].max(objectives.bin(i, *value));
            }
        }
        if let Some(missed) = self.problem.trip.and_then(|trip| self.reaches_too_little(trip, told.furthest_km)) {
            return Some(missed);
        }
        if told.furthest_km.is_finite() {
            self.at_most(told.furthest_km, tie);
        }
        dominated(tie).then_some(Outcome::Beaten { bins: tie.bins, close: true })
    }

    /// A goal on the range of a trip that is missed where no more is reached.
    fn reaches_too_little(&self, trip: usize, furthest_km: f64) -> Option<Outcome> {
        let missed = |m: &Constraint| m.kind == FigureKind::Range(trip) && !m.may_be_met(furthest_km);
        self.problem.constraints.iter().position(missed).map(|constraint| Outcome::Cut(goal(constraint)))
    }

    /// No more than so much is reached on the trip that counts. Where goals may be missed, what counts is by how much.
    fn at_most(&self, furthest_km: f64, tie: &mut Tie) {
        if self.problem.objectives.kinds[1].is_some() {
            tie.bins[1] = tie.bins[1].max(self.problem.objectives.bin(1, furthest_km));
        }
    }

    /// Whether the trace of the trip that counts depends on the chain.
    pub(super) fn is_paced_by_chain(&self) -> bool {
        self.problem.trip.is_some_and(|trip| self.problem.trips[trip].1.points.is_empty())
    }

    /// What force and energy on the very trace at the very mass say, before anything is driven.
    pub(super) fn told_before(
        &self,
        candidate: &Candidate,
        trips: &[(Trip, Trace)],
        (tie, lesson): (&mut Tie, &mut Lesson),
        dominated: &impl Fn(&Tie) -> bool,
    ) -> Option<Outcome> {
        let problem = self.problem;
        let counting = problem.trip?;
        let told = problem.told_trips();
        for at in told.iter().copied().filter(|at| !trips[*at].1.points.is_empty()) {
            let furthest_km = match self.ahead_of(candidate, (at, &trips[at].1), lesson)? {
                Ahead::FallsBehind => return Some(Outcome::Cut(rule(Rule::NotFollowed))),
                Ahead::Reaches(km) => km,
            };
            if let Some(missed) = self.reaches_too_little(at, furthest_km) {
                return Some(missed);
            }
            if at == counting {
                self.at_most(furthest_km, tie);
                if dominated(tie) {
                    return Some(Outcome::Beaten { bins: tie.bins, close: told.len() == 1 });
                }
            }
        }
        None
    }

    /// What is told of a candidate on a trip before it is driven: at once of all its kin, but where the chain sets the pace.
    fn ahead_of(&self, candidate: &Candidate, (trip, trace): (usize, &Trace), lesson: &mut Lesson) -> Option<Ahead> {
        let (problem, space) = (self.problem, &self.space);
        let pack = &space.packs[candidate.pack as usize];
        if problem.trips[trip].1.points.is_empty() {
            return space.before_driving(&space.look_at(problem, candidate), pack, (trip, trace));
        }
        if let Some(known) = self.twins.ahead(&space.kin_of(problem, candidate), trip) {
            return Some(known);
        }
        let look = space.look_at_kin(problem, &space.kin(problem, candidate), pack);
        let ahead = space.before_driving(&look, pack, (trip, trace))?;
        lesson.ahead.push((trip, ahead));
        if let (Ahead::FallsBehind, Some(came)) = (ahead, self.twins.fell_behind()) {
            lesson.came.push((Stands::of(&look), came));
        }
        Some(ahead)
    }
}
