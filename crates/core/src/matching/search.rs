//! The search itself: the most promising candidates first, each simulated unless something simulated before beats it at its best.

use std::collections::VecDeque;
use std::sync::atomic::{AtomicUsize, Ordering};

use rayon::prelude::*;

use super::candidates::Candidate;
use super::configuration::Configuration;
use super::count::{Counts, SearchReport, Why, goal, rule};
use super::enumerate::SearchSpace;
use super::objectives::{Bins, Figures6, Objectives, SHORTFALL};
use super::pareto::{Kept, ParetoFront, Tie};
use super::request::{is_direct, is_salvaged};
use super::screening::{over_a_plate, unsure};
use super::size::{MOST_CANDIDATES, too_many};
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::document::Certainty;
use crate::error::Result;
use crate::figures::{Evaluator, FigureKind, OperatingPoint};
use crate::findings::Rule;

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
    pub(super) bests: [Option<Kept<Found>>; 4],
    /// Packs still to look at, and how many there are; none before the first look is over.
    pub(super) left: usize,
    pub(super) total: usize,
    pub(super) complete: bool,
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
    Qualified(Bins, Tie, Found),
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
        let front = ParetoFront::new();
        Ok(Self {
            problem,
            space,
            counts,
            front,
            bests: [const { None }; 4],
            left: 0,
            total: 0,
            complete: true,
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

    /// Whether a candidate cannot be in the answer even at its best: a member beats it, and it is not the best of a approach either.
    fn out(&self, candidate: &Candidate, space: &SearchSpace) -> bool {
        self.is_dominated(&candidate.bins, candidate.rank, &bound_tie(candidate, space), &space.configuration(candidate))
    }

    fn is_dominated(&self, bins: &Bins, rank: f64, tie: &Tie, configuration: &Configuration) -> bool {
        self.front.dominated_by(bins, tie).is_some()
            && (self.problem.objectives.single || self.is_no_approach_best(rank, tie, configuration))
    }

    fn is_no_approach_best(&self, rank: f64, tie: &Tie, configuration: &Configuration) -> bool {
        approaches(self.problem, configuration)
            .iter()
            .zip(&self.bests)
            .all(|(of, best)| !of || best.as_ref().is_some_and(|b| b.what.rank > rank || b.what.rank == rank && b.tie.before(tie)))
    }

    /// Runs to the end, or until `go_on` says no; it is asked between batches.
    pub(super) fn run(&mut self, mut go_on: impl FnMut(&Self) -> bool) -> Result<()> {
        // A first look at a thin selection finds strong members early; they cut most of the rest while it is enumerated.
        let scratch = &mut Counts::new(self.problem);
        self.space.lay_packs(self.problem, THIN, scratch, &self.cancel)?;
        let packs = self.space.packs.len();
        let thin: Vec<usize> = (0..packs).step_by((packs / THIN_PACKS).max(1)).collect();
        let first = self.enumerate(&thin, scratch)?.unwrap_or_default();
        let before = self.counts.clone();
        if !self.work(first.into_iter().take(FIRST).collect(), &mut go_on)? {
            return Ok(());
        }
        // Its candidates come again: only the work is counted, not what became of them.
        let bounded = before.bounded + scratch.bounded;
        self.counts = Counts { simulated: self.counts.simulated, driven: self.counts.driven, bounded, ..before };
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

    /// Candidates of some packs, the most promising first; `None` when there are more than memory bears.
    fn enumerate(&self, packs: &[usize], counts: &mut Counts) -> Result<Option<Vec<Candidate>>> {
        let dominated = |c: &Candidate, space: &SearchSpace| self.out(c, space);
        let held = AtomicUsize::new(0);
        let found: Vec<(Vec<Candidate>, Counts)> = packs
            .par_iter()
            .map(|at| {
                let mut counts = Counts::new(self.problem);
                if self.cancel.is_cancelled() || held.load(Ordering::Relaxed) > MOST_CANDIDATES {
                    return (Vec::new(), counts);
                }
                let candidates = self.space.candidates(self.problem, *at, &dominated, &mut counts, (&held, &self.cancel));
                (candidates, counts)
            })
            .collect();
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
                if self.out(&candidate, &self.space) {
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
                    Outcome::Qualified(bins, tie, found) => self.take(bins, tie, found),
                }
            }
            size = BATCH;
            if !go_on(self) {
                self.complete = false;
                return Ok(false);
            }
        }
    }

    fn take(&mut self, bins: Bins, tie: Tie, found: Found) {
        for (of, best) in approaches(self.problem, &found.configuration).into_iter().zip(&mut self.bests) {
            let better = |b: &Kept<Found>| found.rank > b.what.rank || found.rank == b.what.rank && tie.before(&b.tie);
            if of && best.as_ref().is_none_or(better) {
                *best = Some(Kept { bins, tie, what: found.clone() });
            }
        }
        // The thin first look meets its candidates again later: the same one is not taken twice.
        if !self.front.kept.iter().any(|k| k.what.configuration == found.configuration) {
            self.front.offer(bins, tie, found);
        }
    }

    /// Builds the chain of a candidate and computes what the answer needs, the cheapest first, stopping at the first reason against it.
    /// Also says whether the trip had to be driven.
    fn simulate(&self, candidate: &Candidate) -> Result<(Outcome, bool)> {
        self.cancel.check()?;
        let problem = self.problem;
        let configuration = self.space.configuration(candidate);
        let (closer, may_meet) = self.space.closer_look(problem, candidate);
        if let Some(why) = may_meet {
            return Ok((Outcome::Bounded(Some(why)), false));
        }
        let rank = problem.objectives.rank(&closer);
        if self.is_dominated(&closer, rank, &bound_tie(candidate, &self.space), &configuration) {
            return Ok((Outcome::Bounded(None), false));
        }
        let document = problem.document(&configuration);
        let point = OperatingPoint::of(&document)?;
        let own_trips = problem.traced(&document)?;
        let trips = own_trips.as_deref().unwrap_or(&problem.trips);
        let mut evaluator = Evaluator::new(&document, &point, trips, &self.cancel);
        if let Some(why) = over_a_plate(problem, &point) {
            return Ok((Outcome::Cut(why), false));
        }
        let is_trip = |kind: FigureKind| matches!(kind, FigureKind::Range(_) | FigureKind::Energy(_));
        for (i, constraint) in problem.constraints.iter().enumerate().filter(|(_, m)| !is_trip(m.kind)) {
            if !constraint.met(evaluator.value(constraint.kind)?) {
                return Ok((Outcome::Cut(goal(i)), false));
            }
        }
        // With all but the range known, it may be dominated without driving.
        let mut figures: Figures6 = [0.0; 6];
        let mut bins = closer;
        for (i, kind) in problem.objectives.kinds.iter().enumerate() {
            if let Some(kind) = kind.filter(|k| !is_trip(*k)) {
                figures[i] = evaluator.value(kind)?;
                bins[i] = problem.objectives.bin(i, figures[i]);
            }
        }
        let relaxed = &problem.objectives.relaxed;
        let mut shortfall = 0.0;
        if !relaxed.is_empty() {
            for constraint in relaxed.iter().filter(|m| !is_trip(m.kind)) {
                shortfall += constraint.shortfall(evaluator.value(constraint.kind)?);
            }
            bins[SHORTFALL] = Objectives::shortfall_grade(shortfall);
        }
        let [cost, .., added_kg, _, _] = figures;
        let tie = Tie { cost, added_kg, place: configuration.key() };
        if self.is_dominated(&bins, problem.objectives.rank(&bins), &tie, &configuration) {
            return Ok((Outcome::Dominated, false));
        }
        for trip in &problem.followed {
            let driven = evaluator.trip(*trip)?;
            if !driven.followed && problem.keeps(Rule::NotFollowed) {
                return Ok((Outcome::Cut(rule(Rule::NotFollowed)), true));
            }
            if driven.derated && problem.keeps(Rule::Heat) {
                return Ok((Outcome::Cut(rule(Rule::Heat)), true));
            }
        }
        for (i, constraint) in problem.constraints.iter().enumerate().filter(|(_, m)| is_trip(m.kind)) {
            if !constraint.met(evaluator.value(constraint.kind)?) {
                return Ok((Outcome::Cut(goal(i)), true));
            }
        }
        if let Some(kind) = problem.objectives.kinds[1] {
            figures[1] = evaluator.value(kind)?;
            bins[1] = problem.objectives.bin(1, figures[1]);
        }
        if !relaxed.is_empty() {
            for constraint in relaxed.iter().filter(|m| is_trip(m.kind)) {
                shortfall += constraint.shortfall(evaluator.value(constraint.kind)?);
            }
            bins[SHORTFALL] = Objectives::shortfall_grade(shortfall);
        }
        let rank = problem.objectives.rank(&bins);
        if self.is_dominated(&bins, rank, &tie, &configuration) {
            return Ok((Outcome::Dominated, true));
        }
        if problem.request.certainty == Certainty::P10
            && let Some(constraint) = unsure(problem, &configuration, &self.cancel)?
        {
            return Ok((Outcome::Cut(goal(constraint)), true));
        }
        Ok((Outcome::Qualified(bins, tie, Found { configuration, figures, rank }), true))
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
    Tie { cost: candidate.cost - 1e-6, added_kg: candidate.added_kg - 1e-6, place: space.configuration(candidate).key() }
}
