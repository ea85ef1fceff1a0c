//! One candidate held against goals, rules and the answer: what costs least to know first, up to the drive of its trips.

use super::bounds::Told;
use super::candidates::{Ahead, Candidate};
use super::constraint::Constraint;
use super::count::{Why, goal, rule};
use super::driven::{Came, Reached, Twin};
use super::enumerate::SearchSpace;
use super::objectives::{Bins, Figures6, Objectives, SHORTFALL};
use super::pareto::Tie;
use super::screening::over_a_plate;
use super::search::{Found, Search};
use crate::document::{Certainty, Trip};
use crate::error::Result;
use crate::figures::{Driven, Evaluator, FigureKind, OperatingPoint};
use crate::findings::Rule;
use crate::trip::Trace;

/// What simulating a candidate came to.
pub(super) enum Outcome {
    /// A rule or a goal is against it.
    Cut(Why),
    /// A member of the answer beats these steps, which are no worse than its own; `close` where no bound would tell more.
    Beaten { bins: Bins, close: bool },
    /// Its steps are no better than these; it may be less promising now than others.
    Bounded(Bins),
    /// Meets everything, and nothing in the answer beats it yet.
    Qualified(Tie, Found),
}

/// How much had to be done to know.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Work {
    Bounded,
    Simulated,
    Driven,
}

/// What a candidate tells of others.
#[derive(Default)]
pub(super) struct Learnt {
    /// What driving it came to, where it was driven.
    pub(super) came: Option<Came>,
    /// Samples of the cautious filter in which it missed a goal.
    pub(super) missed_in: Vec<u32>,
}

impl Search<'_> {
    /// Looks at a candidate more closely than before: by closer bounds first, then by building and running its chain.
    pub(super) fn try_out(&self, candidate: &Candidate) -> Result<(Outcome, Work, Learnt)> {
        self.cancel.check()?;
        let mut learnt = Learnt::default();
        let (outcome, work) = if candidate.close {
            self.simulate(candidate, &mut learnt)?
        } else {
            (self.bounded(candidate, &mut learnt.came), Work::Bounded)
        };
        Ok((outcome, work, learnt))
    }

    /// What closer bounds of a candidate come to.
    fn bounded(&self, candidate: &Candidate, came: &mut Option<Came>) -> Outcome {
        let (problem, configuration) = (self.problem, self.space.configuration(candidate));
        let own = bound_tie(candidate, &self.space);
        let dominated = |tie: &Tie| self.is_dominated(problem.objectives.rank(&tie.bins), tie, &configuration);
        let bins = match self.space.closer_look(problem, candidate, |bins| dominated(&Tie { bins: *bins, ..own })) {
            Told::Missed(constraint) => return Outcome::Cut(goal(constraint)),
            Told::Beaten(bins) => return Outcome::Beaten { bins, close: false },
            Told::Open(bins) => bins,
        };
        let mut tie = Tie { bins, ..own };
        // Where the chain sets the pace of the trip, its trace is not known before the chain is built.
        if self.is_paced_by_chain() {
            return Outcome::Bounded(tie.bins);
        }
        let told = self.told_by_others(candidate, &mut tie, &dominated);
        let told = told.or_else(|| self.told_before(candidate, &problem.trips, (&mut tie, came), &dominated));
        told.unwrap_or(Outcome::Bounded(tie.bins))
    }

    /// What is told of a candidate by chains of its ratings at another mass.
    fn told_by_others(&self, candidate: &Candidate, tie: &mut Tie, dominated: &impl Fn(&Tie) -> bool) -> Option<Outcome> {
        let furthest_km = match self.pairs.tell(self.problem, &self.space, candidate)? {
            Twin::Breaks(broken) => return Some(Outcome::Cut(rule(broken))),
            Twin::Reaches(km) => km,
        };
        self.reaches_too_little(self.problem.trip?, furthest_km).or_else(|| {
            self.at_most(furthest_km, tie);
            dominated(tie).then_some(Outcome::Beaten { bins: tie.bins, close: true })
        })
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

    /// Builds the chain of a candidate and computes what the answer needs, the cheapest first, stopping at the first reason against it.
    /// Also says how far it went.
    fn simulate(&self, candidate: &Candidate, learnt: &mut Learnt) -> Result<(Outcome, Work)> {
        let came = &mut learnt.came;
        let problem = self.problem;
        let objectives = &problem.objectives;
        let configuration = self.space.configuration(candidate);
        let mut tie = bound_tie(candidate, &self.space);
        let dominated = |tie: &Tie| self.is_dominated(objectives.rank(&tie.bins), tie, &configuration);
        if let Some(outcome) = self.told_by_others(candidate, &mut tie, &dominated) {
            return Ok((outcome, Work::Bounded));
        }
        let document = problem.document(&configuration);
        let point = OperatingPoint::of(&document)?;
        if let Some(why) = over_a_plate(problem, &point) {
            return Ok((Outcome::Cut(why), Work::Simulated));
        }
        // What its own pace makes of the trip rules out the most of all, and costs less than running its accelerations.
        let (paced, mut own_trips) = (self.is_paced_by_chain(), None);
        if paced {
            own_trips = problem.traced(&document)?;
            let trips = own_trips.as_deref().unwrap_or(&problem.trips);
            if let Some(outcome) = self.told_before(candidate, trips, (&mut tie, came), &dominated) {
                return Ok((outcome, Work::Simulated));
            }
        }
        let mut evaluator = Evaluator::new(&document, &point, &problem.trips, &self.cancel);
        let mut figures: Figures6 = [0.0; 6];
        for kind in problem.cheapest_first.iter().filter(|k| !k.is_of_trip()) {
            let value = evaluator.value(*kind)?;
            if let Some(i) = problem.constraints.iter().position(|m| m.kind == *kind && !m.met(value)) {
                return Ok((Outcome::Cut(goal(i)), Work::Simulated));
            }
            if let Some(i) = objectives.kinds.iter().position(|k| *k == Some(*kind)) {
                figures[i] = value;
                let bound = std::mem::replace(&mut tie.bins[i], objectives.bin(i, value));
                // With one more figure known it may be dominated.
                if tie.bins[i] != bound && dominated(&tie) {
                    return Ok((Outcome::Beaten { bins: tie.bins, close: true }, Work::Simulated));
                }
            }
        }
        let mut shortfall = 0.0;
        for constraint in objectives.relaxed.iter().filter(|m| !m.kind.is_of_trip()) {
            shortfall += constraint.shortfall(evaluator.value(constraint.kind)?);
        }
        if !objectives.relaxed.is_empty() {
            tie.bins[SHORTFALL] = Objectives::shortfall_grade(shortfall);
        }
        let [cost, .., added_kg, _, _] = figures;
        (tie.cost, tie.added_kg) = (cost, added_kg);
        if dominated(&tie) {
            return Ok((Outcome::Beaten { bins: tie.bins, close: true }, Work::Simulated));
        }
        if !paced {
            own_trips = problem.traced(&document)?;
        }
        let trips = own_trips.as_deref().unwrap_or(&problem.trips);
        let mut evaluator = Evaluator::new(&document, &point, trips, &self.cancel)
            .looking_further(self.pairs.may_tell_lighter(problem, &self.space, candidate))
            .giving_up_hot(problem.keeps(Rule::Heat));
        for trip in &problem.followed {
            let driven = evaluator.trip(*trip)?;
            if !driven.followed && problem.keeps(Rule::NotFollowed) {
                *came = Some(Came::Broke(Rule::NotFollowed));
                return Ok((Outcome::Cut(rule(Rule::NotFollowed)), Work::Driven));
            }
            if driven.derated && problem.keeps(Rule::Heat) {
                *came = Some(Came::Broke(Rule::Heat));
                return Ok((Outcome::Cut(rule(Rule::Heat)), Work::Driven));
            }
        }
        if let Some(trip) = problem.trip {
            let Driven { range_km: km, every_run, further, .. } = evaluator.trip(trip)?;
            *came = Some(Came::Reached(Reached { km, every_run, further }));
        }
        for (i, constraint) in problem.constraints.iter().enumerate().filter(|(_, m)| m.kind.is_of_trip()) {
            if !constraint.met(evaluator.value(constraint.kind)?) {
                return Ok((Outcome::Cut(goal(i)), Work::Driven));
            }
        }
        if let Some(kind) = objectives.kinds[1] {
            figures[1] = evaluator.value(kind)?;
            tie.bins[1] = objectives.bin(1, figures[1]);
        }
        if !objectives.relaxed.is_empty() {
            for constraint in objectives.relaxed.iter().filter(|m| m.kind.is_of_trip()) {
                shortfall += constraint.shortfall(evaluator.value(constraint.kind)?);
            }
            tie.bins[SHORTFALL] = Objectives::shortfall_grade(shortfall);
        }
        if dominated(&tie) {
            return Ok((Outcome::Beaten { bins: tie.bins, close: true }, Work::Driven));
        }
        if problem.request.certainty == Certainty::P10 {
            let doubt = self.cautious.doubt(problem, &configuration, &self.cancel)?;
            learnt.missed_in = doubt.missed_in;
            if let Some(constraint) = doubt.unsure {
                return Ok((Outcome::Cut(goal(constraint)), Work::Driven));
            }
        }
        let rank = objectives.rank(&tie.bins);
        Ok((Outcome::Qualified(tie, Found { configuration, figures, rank }), Work::Driven))
    }

    /// Whether the trace of the trip that counts depends on the chain.
    fn is_paced_by_chain(&self) -> bool {
        self.problem.trip.is_some_and(|trip| self.problem.trips[trip].1.points.is_empty())
    }

    /// What force and energy on the very trace at the very mass say, before anything is driven.
    fn told_before(
        &self,
        candidate: &Candidate,
        trips: &[(Trip, Trace)],
        (tie, came): (&mut Tie, &mut Option<Came>),
        dominated: &impl Fn(&Tie) -> bool,
    ) -> Option<Outcome> {
        let problem = self.problem;
        let counting = problem.trip?;
        let told = problem.told_trips();
        for at in told.iter().copied().filter(|at| !trips[*at].1.points.is_empty()) {
            let furthest_km = match self.space.before_driving(problem, candidate, (at, &trips[at].1))? {
                Ahead::FallsBehind => {
                    *came = Some(Came::Broke(Rule::NotFollowed));
                    return Some(Outcome::Cut(rule(Rule::NotFollowed)));
                }
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
}

/// Equal steps are told apart by exact cost and mass; a bound's sums are a hair off, so it gets the benefit of it.
pub(super) fn bound_tie(candidate: &Candidate, space: &SearchSpace) -> Tie {
    let place = space.configuration(candidate).key();
    Tie { bins: candidate.bins, cost: candidate.cost - 1e-6, added_kg: candidate.added_kg - 1e-6, place }
}
