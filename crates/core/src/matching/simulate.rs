//! One candidate held against goals, rules and the answer: what costs least to know first, up to the drive of its trips.

use super::bounds::Told;
use super::candidates::{Ahead, Candidate};
use super::constraint::Constraint;
use super::count::{Why, goal, rule};
use super::enumerate::SearchSpace;
use super::objectives::{Bins, Figures6, Objectives, SHORTFALL};
use super::pareto::Tie;
use super::screening::over_a_plate;
use super::search::{Found, Search};
use super::twins::{Came, Lesson, Stands, Told as Twin, at_best, worsens_with_mass};
use crate::document::{Certainty, Trip};
use crate::error::Result;
use crate::figures::{Evaluator, FigureKind, OperatingPoint};
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

    /// What closer bounds of a candidate come to.
    fn bounded(&self, candidate: &Candidate, lesson: &mut Lesson) -> Outcome {
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
        let kin = space.kin(problem, candidate);
        if kin.count == 1 || !problem.objectives.relaxed.is_empty() {
            let own = *tie;
            match space.closer_look(problem, candidate, |bins| dominated(&Tie { bins: *bins, ..own })) {
                Told::Missed(constraint) => return Some(Outcome::Cut(goal(constraint))),
                Told::Beaten(bins) => return Some(Outcome::Beaten { bins, close: false }),
                Told::Open(bins) => tie.bins = bins,
            }
            return None;
        }
        if self.twins.are_looked_at(&space.kin_of(problem, candidate)) {
            return None;
        }
        let look = space.look_at_kin(problem, &kin, &space.packs[candidate.pack as usize]);
        // Nothing else is told more closely than before.
        let accelerations = problem.cheapest_first.iter().filter(|kind| matches!(kind, FigureKind::Acceleration(..)));
        lesson.came.push((Stands::of(&look), Came::Does(accelerations.map(|kind| (*kind, look.best(*kind))).collect())));
        lesson.looked = true;
        self.judged(&Twin::by(&lesson.came, &Stands::of(&space.look_at(problem, candidate))), tie, dominated)
    }

    /// What its twins tell of a candidate.
    fn told_by_twins(&self, candidate: &Candidate, tie: &mut Tie, dominated: &impl Fn(&Tie) -> bool) -> Option<Outcome> {
        let told = self.twins.tell(self.problem, &self.space, candidate)?;
        self.judged(&told, tie, dominated)
    }

    /// What becomes of a candidate of which twins tell something.
    pub(super) fn judged(&self, told: &Twin<'_>, tie: &mut Tie, dominated: &impl Fn(&Tie) -> bool) -> Option<Outcome> {
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

    /// Whether the trace of the trip that counts depends on the chain.
    fn is_paced_by_chain(&self) -> bool {
        self.problem.trip.is_some_and(|trip| self.problem.trips[trip].1.points.is_empty())
    }

    /// What force and energy on the very trace at the very mass say, before anything is driven.
    fn told_before(
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

/// Equal steps are told apart by exact cost and mass; a bound's sums are a hair off, so it gets the benefit of it.
pub(super) fn bound_tie(candidate: &Candidate, space: &SearchSpace) -> Tie {
    let place = space.configuration(candidate).key();
    Tie { bins: candidate.bins, cost: candidate.cost - 1e-6, added_kg: candidate.added_kg - 1e-6, place }
}
