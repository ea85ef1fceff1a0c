//! The search itself: the most promising candidates first, each simulated unless something simulated before beats it at its best.

use std::collections::VecDeque;
use std::sync::atomic::AtomicUsize;

use rayon::prelude::*;

use super::blocks::{Answered, BlockBest};
use super::candidates::{Ahead, Candidate, Closer};
use super::configuration::Configuration;
use super::constraint::Constraint;
use super::count::{Counts, SearchReport, Why, goal, rule};
use super::enumerate::SearchSpace;
use super::objectives::{Figures6, Objectives, SHORTFALL};
use super::pareto::{ParetoFront, Tie, Widening};
use super::request::{is_direct, is_salvaged};
use super::screening::{over_a_plate, unsure};
use super::size::{MOST_CANDIDATES, too_many};
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::document::{Certainty, Trip};
use crate::error::Result;
use crate::figures::{Evaluator, FigureKind, OperatingPoint};
use crate::findings::Rule;
use crate::trip::Trace;

/// Candidates simulated side by side before they are held against each other.
const BATCH: usize = 192;
/// Fewer at first, so that the first answers come soon.
const FIRST_BATCH: usize = 24;

/// A simulated configuration.
#[derive(Debug, Clone)]
pub(super) struct Found {
    pub(super) configuration: Configuration,
    pub(super) figures: Figures6,
    pub(super) rank: f64,
}

/// Approaches whose best is kept beside the answer.
pub(super) const APPROACHES: [&str; 4] = ["direct", "alternating", "new", "salvaged"];

/// State of a running search.
pub(super) struct Search<'a> {
    pub(super) problem: &'a SearchProblem,
    pub(super) space: SearchSpace,
    pub(super) counts: Counts,
    pub(super) front: ParetoFront<Found>,
    pub(super) bests: [Option<(Tie, Found)>; 4],
    /// Packs still to look at, and how many there are; none before the first look is over.
    pub(super) left: usize,
    pub(super) total: usize,
    pub(super) complete: bool,
    /// Members of the answer beyond which they are told apart less closely by what nobody asked about.
    pub(super) most_kept: usize,
    /// Pairs of pack and drive beyond which it is given up, incomplete, before they are looked at.
    most_pairs: u64,
    cancel: Cancel,
}

/// What simulating a candidate came to.
enum Outcome {
    /// Cut by closer bounds: a goal out of reach, or dominated at its best.
    Bounded(Option<Why>),
    Cut(Why),
    Dominated,
    Qualified(Tie, Found),
}

fn approaches(problem: &SearchProblem, configuration: &Configuration) -> [bool; 4] {
    let direct = is_direct(&problem.motors[usize::from(configuration.motor)].written);
    let salvaged = is_salvaged(&problem.modules[usize::from(configuration.module)].written);
    [direct, !direct, !salvaged, salvaged]
}

impl<'a> Search<'a> {
    /// # Errors
    /// Where the library is too large to be held in memory, or [`crate::error::Error::Cancelled`].
    pub(super) fn new(problem: &'a SearchProblem, cancel: &Cancel) -> Result<Self> {
        let mut counts = Counts::new(problem);
        let space = SearchSpace::of(problem, &mut counts, cancel)?;
        cancel.check()?;
        let front = ParetoFront::new(Widening::none(problem.objectives.unasked()));
        Ok(Self {
            problem,
            space,
            counts,
            front,
            bests: [const { None }; 4],
            left: 0,
            total: 0,
            complete: true,
            most_kept: usize::MAX,
            most_pairs: u64::MAX,
            cancel: cancel.clone(),
        })
    }

    /// The same, given up where there are more pairs of pack and drive to look at.
    pub(super) fn within(self, most_pairs: u64) -> Self {
        Self { most_pairs, ..self }
    }

    pub(super) fn report(&self) -> SearchReport {
        self.counts.report(self.problem, self.space.raw, self.front.kept.len() as u64)
    }

    fn is_dominated(&self, rank: f64, tie: &Tie, configuration: &Configuration) -> bool {
        self.front.dominated_by(tie).is_some() && (self.problem.objectives.single || self.is_no_approach_best(rank, tie, configuration))
    }

    fn is_no_approach_best(&self, rank: f64, tie: &Tie, configuration: &Configuration) -> bool {
        self.is_no_best_of(&approaches(self.problem, configuration), rank, tie)
    }

    fn is_no_best_of(&self, approaches: &[bool; 4], rank: f64, tie: &Tie) -> bool {
        let better = |(own, b): &(Tie, Found)| b.rank > rank || b.rank == rank && own.before(tie);
        approaches.iter().zip(&self.bests).all(|(of, best)| !of || best.as_ref().is_some_and(better))
    }

    /// Runs to the end, or until `go_on` says no; it is asked between batches.
    pub(super) fn run(&mut self, mut go_on: impl FnMut(&Self) -> bool) -> Result<()> {
        if !self.first_look(&mut go_on)? {
            return Ok(());
        }
        let mut counts = Counts::new(self.problem);
        self.space.lay_packs(self.problem, 1, &mut counts, &self.cancel)?;
        self.counts.add(&counts);
        if self.space.pairs() > self.most_pairs {
            self.complete = false;
            return Ok(());
        }
        // Each part is a cross-section of the whole: a small one that makes the answer strong, then the rest in pieces that memory bears.
        let packs = self.space.packs.len();
        (self.left, self.total) = (packs, packs);
        // However many packs there are, no part is larger than memory bears.
        let every = STRONG.max(packs.div_ceil(PIECE));
        let strong = |at: &usize| at.is_multiple_of(every);
        let pieces = packs.div_ceil(PIECE).max(1);
        let first: Vec<usize> = (0..packs).filter(strong).collect();
        let rest = (0..pieces).map(|piece| (0..packs).filter(|at| !strong(at) && at % pieces == piece).collect());
        let mut parts: VecDeque<Vec<usize>> = std::iter::once(first).chain(rest).collect();
        while let Some(mut part) = parts.pop_front() {
            let mut counts = Counts::new(self.problem);
            let Some(candidates) = self.enumerate(&part, &mut counts)? else {
                // More than memory bears: half of it first, when the answer may have grown strong enough to cut the other half.
                if part.len() == 1 {
                    return Err(too_many(MOST_CANDIDATES, "candidates with one pack"));
                }
                parts.push_front(part.split_off(part.len() / 2));
                parts.push_front(part);
                continue;
            };
            self.counts.add(&counts);
            if !self.work(candidates, &mut go_on)? {
                return Ok(());
            }
            self.left -= part.len();
        }
        Ok(())
    }

    /// Looks at a thin selection, which finds strong members early; they cut most of the rest while it is enumerated. False when it was told
    /// to stop.
    fn first_look(&mut self, go_on: &mut impl FnMut(&Self) -> bool) -> Result<bool> {
        let scratch = &mut Counts::new(self.problem);
        self.space.lay_packs(self.problem, THIN, scratch, &self.cancel)?;
        let packs = self.space.packs.len();
        let thin: Vec<usize> = (0..packs).step_by((packs / THIN_PACKS).max(1)).collect();
        let first = self.enumerate(&thin, scratch)?.unwrap_or_default();
        let before = self.counts.clone();
        let went_on = self.work(first.into_iter().take(FIRST).collect(), go_on)?;
        // Its candidates come again: only the work is counted, not what became of them.
        let (bounded, blocks) = (before.bounded + scratch.bounded, before.blocks + scratch.blocks);
        self.counts = Counts { simulated: self.counts.simulated, driven: self.counts.driven, bounded, blocks, ..before };
        Ok(went_on)
    }

    /// Candidates of some packs, the most promising first; `None` when there are more than memory bears.
    fn enumerate(&self, packs: &[usize], counts: &mut Counts) -> Result<Option<Vec<Candidate>>> {
        let held = AtomicUsize::new(0);
        let found = self.space.candidates(self.problem, packs, self, (&held, &self.cancel));
        self.cancel.check()?;
        if held.into_inner() > MOST_CANDIDATES {
            return Ok(None);
        }
        let mut all = Vec::with_capacity(found.iter().map(|f| f.0.len()).sum());
        for (candidates, own) in found {
            all.extend(candidates);
            counts.add(&own);
        }
        all.par_sort_by(|a, b| {
            b.rank.total_cmp(&a.rank).then_with(|| self.space.configuration(a).key().cmp(&self.space.configuration(b).key()))
        });
        Ok(Some(all))
    }

    /// Simulates candidates batch by batch; false when it was told to stop.
    fn work(&mut self, candidates: Vec<Candidate>, go_on: &mut impl FnMut(&Self) -> bool) -> Result<bool> {
        let mut rest = candidates.into_iter();
        let mut size = FIRST_BATCH;
        loop {
            let mut batch = Vec::with_capacity(size);
            for (i, candidate) in rest.by_ref().enumerate() {
                if i % 256 == 0 {
                    self.cancel.check()?;
                }
                if self.is_out(&candidate) {
                    self.counts.dominated_by_bound += 1;
                } else {
                    batch.push(candidate);
                    if batch.len() == size {
                        break;
                    }
                }
            }
            if batch.is_empty() {
                return Ok(true);
            }
            let outcomes: Vec<Result<(Outcome, bool)>> = batch.par_iter().map(|c| self.simulate(c)).collect();
            for outcome in outcomes {
                let (outcome, drove) = outcome?;
                self.counts.simulated += u64::from(!matches!(outcome, Outcome::Bounded(_)));
                self.counts.driven += u64::from(drove);
                match outcome {
                    Outcome::Bounded(None) => self.counts.dominated_by_bound += 1,
                    Outcome::Bounded(Some(why)) => self.counts.cut(why, 1),
                    Outcome::Cut(why) => self.counts.cut_simulated(why),
                    Outcome::Dominated => {}
                    Outcome::Qualified(tie, found) => self.take(tie, found),
                }
            }
            size = BATCH;
            while self.front.kept.len() > self.most_kept && self.front.widen() {}
            if !go_on(self) {
                self.complete = false;
                return Ok(false);
            }
        }
    }

    fn take(&mut self, tie: Tie, found: Found) {
        for (of, best) in approaches(self.problem, &found.configuration).into_iter().zip(&mut self.bests) {
            let better = |(own, b): &(Tie, Found)| found.rank > b.rank || found.rank == b.rank && tie.before(own);
            if of && best.as_ref().is_none_or(better) {
                *best = Some((tie, found.clone()));
            }
        }
        // The thin first look meets its candidates again later: the same one is not taken twice.
        if !self.front.kept.iter().any(|k| k.what.configuration == found.configuration) {
            self.front.offer(tie, found);
        }
    }

    /// Builds the chain of a candidate and computes what the answer needs, the cheapest first, stopping at the first reason against it.
    /// Also says whether the trip had to be driven.
    fn simulate(&self, candidate: &Candidate) -> Result<(Outcome, bool)> {
        self.cancel.check()?;
        let problem = self.problem;
        let objectives = &problem.objectives;
        let configuration = self.space.configuration(candidate);
        let own = bound_tie(candidate, &self.space);
        let dominated = |tie: &Tie| self.is_dominated(objectives.rank(&tie.bins), tie, &configuration);
        let bins = match self.space.closer_look(problem, candidate, |bins| dominated(&Tie { bins: *bins, ..own })) {
            Closer::Missed(why) => return Ok((Outcome::Bounded(Some(why)), false)),
            Closer::Out => return Ok((Outcome::Bounded(None), false)),
            Closer::Open(bins) => bins,
        };
        let mut tie = Tie { bins, ..own };
        let document = problem.document(&configuration);
        let point = OperatingPoint::of(&document)?;
        if let Some(why) = over_a_plate(problem, &point) {
            return Ok((Outcome::Cut(why), false));
        }
        let mut evaluator = Evaluator::new(&document, &point, &problem.trips, &self.cancel);
        let mut figures: Figures6 = [0.0; 6];
        for kind in problem.cheapest_first.iter().filter(|k| !k.is_of_trip()) {
            let value = evaluator.value(*kind)?;
            if let Some(i) = problem.constraints.iter().position(|m| m.kind == *kind && !m.met(value)) {
                return Ok((Outcome::Cut(goal(i)), false));
            }
            if let Some(i) = objectives.kinds.iter().position(|k| *k == Some(*kind)) {
                figures[i] = value;
                let bound = std::mem::replace(&mut tie.bins[i], objectives.bin(i, value));
                // With one more figure known it may be dominated.
                if tie.bins[i] != bound && dominated(&tie) {
                    return Ok((Outcome::Dominated, false));
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
            return Ok((Outcome::Dominated, false));
        }
        let own_trips = problem.traced(&document)?;
        let trips = own_trips.as_deref().unwrap_or(&problem.trips);
        if let Some(outcome) = self.told_before(candidate, trips, &mut tie, &dominated) {
            return Ok((outcome, false));
        }
        let mut evaluator = Evaluator::new(&document, &point, trips, &self.cancel);
        for trip in &problem.followed {
            let driven = evaluator.trip(*trip)?;
            if !driven.followed && problem.keeps(Rule::NotFollowed) {
                return Ok((Outcome::Cut(rule(Rule::NotFollowed)), true));
            }
            if driven.derated && problem.keeps(Rule::Heat) {
                return Ok((Outcome::Cut(rule(Rule::Heat)), true));
            }
        }
        for (i, constraint) in problem.constraints.iter().enumerate().filter(|(_, m)| m.kind.is_of_trip()) {
            if !constraint.met(evaluator.value(constraint.kind)?) {
                return Ok((Outcome::Cut(goal(i)), true));
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
            return Ok((Outcome::Dominated, true));
        }
        if problem.request.certainty == Certainty::P10
            && let Some(constraint) = unsure(problem, &configuration, &self.cancel)?
        {
            return Ok((Outcome::Cut(goal(constraint)), true));
        }
        let rank = objectives.rank(&tie.bins);
        Ok((Outcome::Qualified(tie, Found { configuration, figures, rank }), true))
    }

    /// What force and energy on the very trace at the very mass say, before anything is driven.
    fn told_before(
        &self,
        candidate: &Candidate,
        trips: &[(Trip, Trace)],
        tie: &mut Tie,
        dominated: &impl Fn(&Tie) -> bool,
    ) -> Option<Outcome> {
        let problem = self.problem;
        let trip = problem.trip?;
        let furthest_km = match self.space.before_driving(problem, candidate, (trip, &trips[trip].1))? {
            Ahead::FallsBehind => return Some(Outcome::Cut(rule(Rule::NotFollowed))),
            Ahead::Reaches(km) => km,
        };
        let missed = |m: &Constraint| m.kind == FigureKind::Range(trip) && !m.may_be_met(furthest_km);
        if let Some(constraint) = problem.constraints.iter().position(missed) {
            return Some(Outcome::Cut(goal(constraint)));
        }
        // Where goals may be missed, what counts is by how much.
        problem.objectives.kinds[1]?;
        tie.bins[1] = tie.bins[1].max(problem.objectives.bin(1, furthest_km));
        dominated(tie).then_some(Outcome::Dominated)
    }
}

impl Answered for Search<'_> {
    /// A member beats it, and it is not the best of an approach either.
    fn is_out(&self, candidate: &Candidate) -> bool {
        self.is_dominated(candidate.rank, &bound_tie(candidate, &self.space), &self.space.configuration(candidate))
    }

    fn is_block_out(&self, best: &BlockBest) -> bool {
        // As cheap, light and early in the lists as any of it; sums in another order are a hair off.
        let tie = Tie { bins: best.bins, cost: best.cost - 2e-6, added_kg: best.added_kg - 2e-6, place: 0 };
        self.front.dominated_by(&tie).is_some() && (self.problem.objectives.single || self.is_no_best_of(&best.approaches, best.rank, &tie))
    }
}

/// Every so many-th string is looked at first, so many of its packs, and so many candidates simulated.
const THIN: usize = 9;
const THIN_PACKS: usize = 16;
const FIRST: usize = 300;
/// Every so many-th pack is looked at before the others, of which so many at once.
const STRONG: usize = 12;
const PIECE: usize = 400;

/// Equal steps are told apart by exact cost and mass; a bound's sums are a hair off, so it gets the benefit of it.
fn bound_tie(candidate: &Candidate, space: &SearchSpace) -> Tie {
    let place = space.configuration(candidate).key();
    Tie { bins: candidate.bins, cost: candidate.cost - 1e-6, added_kg: candidate.added_kg - 1e-6, place }
}
