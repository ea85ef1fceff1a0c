//! One candidate held against goals, rules and the answer: what costs least to know first, up to the drive of its trips.

use super::candidates::Candidate;
use super::count::{Why, goal, rule};
use super::enumerate::SearchSpace;
use super::objectives::{Bins, Figures6, Objectives, SHORTFALL};
use super::pareto::Tie;
use super::screening::over_a_plate;
use super::search::{Found, Search};
use super::twins::{Came, Lesson, Stands, at_best, worsens_with_mass};
use crate::document::Certainty;
use crate::error::Result;
use crate::figures::{Evaluator, FigureKind, OperatingPoint};
use crate::findings::Rule;

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
    pub(super) lesson: Lesson,
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
            (self.bounded(candidate, &mut learnt.lesson), Work::Bounded)
        };
        Ok((outcome, work, learnt))
    }

    /// Builds the chain of a candidate and computes what the answer needs, the cheapest first, stopping at the first reason against it.
    /// Also says how far it went.
    fn simulate(&self, candidate: &Candidate, learnt: &mut Learnt) -> Result<(Outcome, Work)> {
        let Learnt { lesson, missed_in } = learnt;
        let problem = self.problem;
        let objectives = &problem.objectives;
        let configuration = self.space.configuration(candidate);
        let mut tie = bound_tie(candidate, &self.space);
        let dominated = |tie: &Tie| self.is_dominated(objectives.rank(&tie.bins), tie, &configuration);
        if let Some(outcome) = self.told_by_twins(candidate, &mut tie, &dominated) {
            return Ok((outcome, Work::Bounded));
        }
        if let Some(decided) = self.led(candidate, (&mut tie, lesson), &dominated)? {
            return Ok(decided);
        }
        lesson.tried = true;
        let stands = Stands::of(&self.space.look_at(problem, candidate));
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
            if let Some(outcome) = self.told_before(candidate, trips, (&mut tie, lesson), &dominated) {
                return Ok((outcome, Work::Simulated));
            }
        }
        let mut evaluator = Evaluator::new(&document, &point, &problem.trips, &self.cancel);
        let (mut figures, mut does): (Figures6, _) = ([0.0; 6], Vec::new());
        let shown = self.shown(&mut evaluator, (&mut tie, &mut figures), &mut does, &dominated)?;
        lesson.came.push((stands, Came::Does(does)));
        if let Some(outcome) = shown {
            return Ok((outcome, Work::Simulated));
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
            .looking_further(self.twins.may_tell_lighter(problem, &self.space, candidate))
            .giving_up_hot(problem.keeps(Rule::Heat));
        for trip in &problem.followed {
            let driven = evaluator.trip(*trip)?;
            if !driven.followed && problem.keeps(Rule::NotFollowed) {
                lesson.came.extend(self.twins.broke(&driven).map(|came| (stands, came)));
                return Ok((Outcome::Cut(rule(Rule::NotFollowed)), Work::Driven));
            }
            if driven.derated && problem.keeps(Rule::Heat) {
                lesson.came.extend(self.twins.broke(&driven).map(|came| (stands, came)));
                return Ok((Outcome::Cut(rule(Rule::Heat)), Work::Driven));
            }
        }
        if let Some(trip) = problem.trip {
            lesson.came.extend(self.twins.reached(&evaluator.trip(trip)?).map(|came| (stands, came)));
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
            *missed_in = doubt.missed_in;
            if let Some(constraint) = doubt.unsure {
                return Ok((Outcome::Cut(goal(constraint)), Work::Driven));
            }
        }
        let rank = objectives.rank(&tie.bins);
        Ok((Outcome::Qualified(tie, Found { configuration, figures, rank }), Work::Driven))
    }

    /// Works out what a chain does beside its trips, as far as it takes to find a reason against it, and keeps what that tells of its twins.
    fn shown(
        &self,
        evaluator: &mut Evaluator<'_>,
        (tie, figures): (&mut Tie, &mut Figures6),
        does: &mut Vec<(FigureKind, f64)>,
        dominated: &impl Fn(&Tie) -> bool,
    ) -> Result<Option<Outcome>> {
        let (problem, objectives) = (self.problem, &self.problem.objectives);
        for kind in problem.cheapest_first.iter().filter(|k| !k.is_of_trip()) {
            let value = evaluator.value(*kind)?;
            if worsens_with_mass(*kind) {
                does.push((*kind, at_best(*kind, value)));
            }
            if let Some(i) = problem.constraints.iter().position(|m| m.kind == *kind && !m.met(value)) {
                return Ok(Some(Outcome::Cut(goal(i))));
            }
            if let Some(i) = objectives.kinds.iter().position(|k| *k == Some(*kind)) {
                figures[i] = value;
                let bound = std::mem::replace(&mut tie.bins[i], objectives.bin(i, value));
                // With one more figure known it may be dominated.
                if tie.bins[i] != bound && dominated(tie) {
                    return Ok(Some(Outcome::Beaten { bins: tie.bins, close: true }));
                }
            }
        }
        Ok(None)
    }
}

/// Equal steps are told apart by exact cost and mass; a bound's sums are a hair off, so it gets the benefit of it.
pub(super) fn bound_tie(candidate: &Candidate, space: &SearchSpace) -> Tie {
    let place = space.configuration(candidate).key();
    Tie { bins: candidate.bins, cost: candidate.cost - 1e-6, added_kg: candidate.added_kg - 1e-6, place }
}
