//! The search itself: the most promising first, each simulated unless something simulated before beats it at its best.

use rayon::iter::Either;
use rayon::prelude::*;

use super::blocks::{Answered, BlockBest, Blocks, Opened};
use super::candidates::Candidate;
use super::configuration::Configuration;
use super::count::{Counts, SearchReport};
use super::enumerate::SearchSpace;
use super::kin::Twins;
use super::objectives::{AxisInfo, Figures6};
use super::open::{Block, Open, OpenList, Ranked};
use super::pack_tree::PackTree;
use super::pareto::{ParetoFront, Tie, Wanted, Widening};
use super::request::{is_direct, is_salvaged};
use super::screening::CautiousSamples;
use super::simulate::{Learnt, Outcome, Work, bound_tie};
use super::space::SearchProblem;
use super::twins::SeenTwins;
use crate::cancel::Cancel;
use crate::error::Result;

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
    /// Combinations that are open; all of them before every pack has been laid out.
    pub(super) left: u64,
    /// How many were open when all packs had been laid out; none before.
    pub(super) total: u64,
    /// Whether everything has been looked at, in steps of some width.
    pub(super) complete: bool,
    /// Members ranked above this are final: nothing that is open is ranked as high.
    pub(super) settled_above: f64,
    /// How many members tell how closely they are told apart by what nobody asked about.
    pub(super) wanted: Wanted,
    pub(super) aside: Aside,
    pub(super) twins: SeenTwins,
    pub(super) cautious: CautiousSamples,
    pub(super) cancel: Cancel,
}

/// What is beaten in steps as wide as they are.
#[derive(Default)]
pub(super) struct Aside {
    pub(super) open: Vec<Open>,
    pub(super) found: Vec<(Tie, Found)>,
    /// Combinations among them that were not simulated.
    pub(super) combinations: u64,
    /// Whether more was beaten than is held: then narrower steps cannot follow.
    pub(super) overflowed: bool,
}

/// Most blocks and candidates that are held for narrower steps: a third of a gigabyte.
const MOST_ASIDE: usize = 3_000_000;

/// [`Opened`], ranked.
struct Looked {
    open: Vec<Ranked>,
    beaten: Vec<Open>,
    counts: Counts,
}

/// Why looking ends.
#[derive(PartialEq, Eq)]
pub(super) enum End {
    /// Nothing is open.
    Exhausted,
    /// There are more members than wanted.
    TooMany,
    /// It was told to stop.
    Stopped,
}

fn approaches(problem: &SearchProblem, configuration: &Configuration) -> [bool; 4] {
    let direct = is_direct(&problem.motors[usize::from(configuration.motor)].written);
    let salvaged = is_salvaged(&problem.modules[usize::from(configuration.module)].written);
    [direct, !direct, !salvaged, salvaged]
}

/// Blocks that are split one after another.
const IN_A_ROW: usize = 16;

/// Tries out candidates, each of which takes milliseconds, and splits blocks in what time the other cores leave; what each came to, in order.
pub(super) fn longest_first<B: Send, C: Send>(
    candidates: &[Candidate],
    blocks: &[Block],
    split: impl Fn(&[Block]) -> B + Sync,
    try_out: impl Fn(&Candidate) -> C + Sync,
) -> (Vec<B>, Vec<C>) {
    let tasks = candidates.iter().map(Either::Left).chain(blocks.chunks(IN_A_ROW).map(Either::Right)).enumerate();
    // Whoever is free takes the next of them, so that none waits long for the last.
    let done = tasks.par_bridge().map(|(i, task)| match task {
        Either::Left(candidate) => (i, Either::Left(try_out(candidate))),
        Either::Right(some) => (i, Either::Right(split(some))),
    });
    let mut done: Vec<_> = done.collect();
    done.sort_unstable_by_key(|(i, _)| *i);
    let (mut opened, mut tried) = (Vec::new(), Vec::with_capacity(candidates.len()));
    for (_, one) in done {
        match one {
            Either::Left(came_to) => tried.push(came_to),
            Either::Right(some) => opened.push(some),
        }
    }
    (opened, tried)
}

impl<'a> Search<'a> {
    /// A search for so many members, told apart as closely by what nobody asked about as that takes.
    ///
    /// # Errors
    /// Where the library is too large to be held in memory, or [`crate::error::Error::Cancelled`].
    pub(super) fn new(problem: &'a SearchProblem, wanted: Wanted, cancel: &Cancel) -> Result<Self> {
        let mut counts = Counts::new(problem);
        let space = SearchSpace::of(problem, &mut counts, cancel)?;
        cancel.check()?;
        let of = problem.objectives.widened();
        let widening = if wanted == Wanted::ALL { Widening::none(of) } else { Widening::widest(of) };
        Ok(Self {
            problem,
            space,
            counts,
            front: ParetoFront::new(widening),
            bests: [const { None }; 4],
            left: u64::MAX,
            total: 0,
            complete: false,
            settled_above: f64::INFINITY,
            wanted,
            aside: Aside::default(),
            twins: SeenTwins::none(problem),
            cautious: CautiousSamples::new(),
            cancel: cancel.clone(),
        })
    }

    pub(super) fn report(&self) -> SearchReport {
        let kept = self.front.kept.len() as u64;
        self.counts.report(self.problem, self.space.raw, (kept, self.aside.combinations, self.left))
    }

    /// The figures it is judged by, as closely as they tell members apart now.
    pub(super) fn axes(&self) -> Vec<AxisInfo> {
        self.problem.objectives.told(self.front.widening.doubled)
    }

    /// How many members, the best ranked first, are final; none while steps may still become wider.
    pub(super) fn settled(&self) -> usize {
        if !self.complete && self.front.widening.wider().is_some() {
            return 0;
        }
        self.stay()
    }

    /// How many members nothing that is open can beat, in steps as wide as they are.
    pub(super) fn stay(&self) -> usize {
        self.front.kept.iter().filter(|k| k.what.rank > self.settled_above).count()
    }

    pub(super) fn is_dominated(&self, rank: f64, tie: &Tie, configuration: &Configuration) -> bool {
        self.front.dominated_by(tie).is_some() && (self.problem.objectives.single || self.is_no_approach_best(rank, tie, configuration))
    }

    fn is_no_approach_best(&self, rank: f64, tie: &Tie, configuration: &Configuration) -> bool {
        self.is_no_best_of(&approaches(self.problem, configuration), rank, tie)
    }

    fn is_no_best_of(&self, approaches: &[bool; 4], rank: f64, tie: &Tie) -> bool {
        let better = |(own, b): &(Tie, Found)| b.rank > rank || b.rank == rank && own.before(tie);
        approaches.iter().zip(&self.bests).all(|(of, best)| !of || best.as_ref().is_some_and(better))
    }

    /// Every pack that is laid out with every so many-th train of motors on a gearing.
    pub(super) fn everything(&mut self, packs: &PackTree, every: usize) -> OpenList<Twins> {
        let mut open = OpenList::new();
        let trains: Vec<u32> = (0..self.space.branches.len() as u32).step_by(every).collect();
        let blocks = Blocks { space: &self.space, problem: self.problem, packs, answered: self };
        let whole: Vec<Looked> = trains.par_chunks(4).map(|some| self.looked(blocks.whole(some))).collect();
        self.opened(whole, &mut open);
        open
    }

    /// Looks at all that is open, the most promising first, until there are too many members.
    pub(super) fn look(
        &mut self,
        packs: &PackTree,
        open: &mut OpenList<Twins>,
        too_many: impl Fn(&Self) -> bool,
        go_on: &mut impl FnMut(&Self) -> bool,
    ) -> Result<End> {
        loop {
            self.cancel.check()?;
            let mut beaten = Vec::new();
            let (blocks, candidates) = open.next(|c| self.is_out(c), |c| self.space.twins(self.problem, c), &mut beaten);
            beaten.into_iter().for_each(|open| self.set_aside(open));
            if blocks.is_empty() && candidates.is_empty() {
                self.left = 0;
                return Ok(End::Exhausted);
            }
            let on = Blocks { space: &self.space, problem: self.problem, packs, answered: self };
            let (split, tried) = longest_first(&candidates, &blocks, |some| self.looked(on.split(some)), |c| self.try_out(c));
            self.opened(split, open);
            for (candidate, came_to) in candidates.into_iter().zip(tried) {
                let (outcome, work, Learnt { lesson, missed_in }) = came_to?;
                self.twins.learn(self.problem, &self.space, &candidate, lesson);
                self.cautious.learn(&missed_in);
                self.count(candidate, outcome, work, open);
            }
            // A thin selection tells nothing of the rest.
            if self.total > 0 {
                (self.left, self.settled_above) = (open.combinations(), open.best_rank().unwrap_or(f64::NEG_INFINITY));
            }
            if too_many(self) {
                return Ok(End::TooMany);
            }
            if !go_on(self) {
                return Ok(End::Stopped);
            }
        }
    }

    /// What a look at blocks came to, ranked where it was found.
    fn looked(&self, Opened { open, beaten, counts }: Opened) -> Looked {
        Looked { open: open.into_iter().map(|o| self.ranked(o)).collect(), beaten, counts }
    }

    fn opened(&mut self, found: Vec<Looked>, open: &mut OpenList<Twins>) {
        for some in found {
            self.counts.add(&some.counts);
            some.open.into_iter().for_each(|o| open.push(o));
            some.beaten.into_iter().for_each(|o| self.set_aside(o));
        }
    }

    pub(super) fn ranked(&self, open: Open) -> Ranked {
        let widening = &self.front.widening;
        let rank = self.problem.objectives.rank(&widening.floor(open.bins()));
        Ranked { rank, order: widening.order(open.bins()), open }
    }

    fn set_aside(&mut self, open: Open) {
        self.aside.combinations += open.combinations();
        if self.front.widening.finer().is_none() {
            return;
        }
        if self.aside.open.len() < MOST_ASIDE {
            self.aside.open.push(open);
        } else {
            self.aside.overflowed = true;
        }
    }

    fn count(&mut self, candidate: Candidate, outcome: Outcome, work: Work, open: &mut OpenList<Twins>) {
        self.counts.tried += 1;
        self.counts.simulated += u64::from(work != Work::Bounded);
        self.counts.driven += u64::from(work == Work::Driven);
        match outcome {
            Outcome::Cut(why) => self.counts.cut_one(why, work != Work::Bounded),
            Outcome::Beaten { bins, close } => {
                let rank = self.problem.objectives.rank(&bins);
                let simulated = candidate.simulated || work != Work::Bounded;
                self.set_aside(Open::Candidate(Candidate { bins, rank, simulated, close, ..candidate }));
            }
            Outcome::Bounded(bins) => {
                let rank = self.problem.objectives.rank(&bins);
                open.push(self.ranked(Open::Candidate(Candidate { bins, rank, close: true, ..candidate })));
            }
            Outcome::Qualified(tie, found) => self.take(tie, found),
        }
    }

    fn take(&mut self, tie: Tie, found: Found) {
        for (of, best) in approaches(self.problem, &found.configuration).into_iter().zip(&mut self.bests) {
            let better = |(own, b): &(Tie, Found)| found.rank > b.rank || found.rank == b.rank && tie.before(own);
            if of && best.as_ref().is_none_or(better) {
                *best = Some((tie, found.clone()));
            }
        }
        self.front.offer(tie, found, &mut self.aside.found);
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
