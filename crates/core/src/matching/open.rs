//! What a search has still to look at, the most promising first.
//!
//! Whatever beats a design is ranked no lower, and nothing in a block is ranked higher than the block at its best: looked at in this order,
//! no block is split that a member of the answer would have made needless, and every member ranked above all that is open is final.

use std::cmp::{Ordering, Reverse};
use std::collections::{BinaryHeap, HashSet, VecDeque};
use std::hash::Hash;

use super::candidates::Candidate;
use super::objectives::Bins;
use super::pareto::Order;

/// Some drives of motors of the same ratings on a gearing times some packs, by their places in their trees.
#[derive(Debug, Clone, Copy)]
pub(super) struct Block {
    pub(super) train: u32,
    pub(super) drives: u32,
    pub(super) packs: u32,
    /// How many combinations it holds.
    pub(super) combinations: u64,
    /// The best that any of it can be.
    pub(super) bins: Bins,
    pub(super) rank: f64,
}

/// Something to look at.
#[derive(Debug, Clone, Copy)]
pub(super) enum Open {
    /// To be split.
    Block(Block),
    /// To be simulated.
    Candidate(Candidate),
}

impl Open {
    /// The best steps that any of it can have.
    pub(super) fn bins(&self) -> &Bins {
        match self {
            Self::Block(block) => &block.bins,
            Self::Candidate(candidate) => &candidate.bins,
        }
    }

    /// Combinations that were not simulated.
    pub(super) fn combinations(&self) -> u64 {
        match self {
            Self::Block(block) => block.combinations,
            Self::Candidate(candidate) => u64::from(!candidate.simulated),
        }
    }

    /// Told apart where ranked alike: candidates before blocks, then by their places.
    fn place(&self) -> (bool, [u32; 3]) {
        match self {
            Self::Candidate(c) => (false, [c.drive, c.pack, c.charger]),
            Self::Block(b) => (true, [b.train, b.drives, b.packs]),
        }
    }
}

/// One of them with the rank that nothing in it exceeds, in steps as wide as they are; of equal ranks, what may stand for others of equal steps
/// comes first.
#[derive(Debug, Clone, Copy)]
pub(super) struct Ranked {
    pub(super) rank: f64,
    pub(super) order: Order,
    pub(super) open: Open,
}

impl Ord for Ranked {
    fn cmp(&self, other: &Self) -> Ordering {
        let place = |r: &Self| Reverse(r.open.place());
        self.rank.total_cmp(&other.rank).then_with(|| other.order.cmp(&self.order)).then_with(|| place(self).cmp(&place(other)))
    }
}

impl PartialOrd for Ranked {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl PartialEq for Ranked {
    fn eq(&self, other: &Self) -> bool {
        self.cmp(other).is_eq()
    }
}

impl Eq for Ranked {}

/// Everything that is open; candidates of the same `Twin` tell of each other.
#[derive(Debug)]
pub(super) struct OpenList<Twin> {
    most_held: usize,
    heap: BinaryHeap<Ranked>,
    /// What came once the heap was full: finished before anything else, so that it stays small.
    urgent: Vec<Ranked>,
    /// Candidates that wait for what their twins come to, the first of them first: most wait for many rounds.
    waiting: VecDeque<(Ranked, Twin)>,
    combinations: u64,
}

/// Blocks split and candidates simulated side by side before they are held against each other.
const BLOCKS: usize = 512;
const CANDIDATES: usize = 48;
/// Candidates that wait for what one of their ratings comes to.
const LATER: usize = 192;
/// Most that is held in order: a third of a gigabyte. Beyond it what is begun is finished first.
const MOST_HELD: usize = 3_000_000;

impl<Twin: Copy + Hash + Eq> OpenList<Twin> {
    pub(super) fn new() -> Self {
        Self::holding(MOST_HELD)
    }

    /// An empty one that holds so many in order.
    pub(super) fn holding(most_held: usize) -> Self {
        Self { most_held, heap: BinaryHeap::new(), urgent: Vec::new(), waiting: VecDeque::new(), combinations: 0 }
    }

    /// Adds something.
    pub(super) fn push(&mut self, ranked: Ranked) {
        self.combinations += ranked.open.combinations();
        if self.heap.len() + self.waiting.len() < self.most_held {
            self.heap.push(ranked);
        } else {
            self.urgent.push(ranked);
        }
    }

    /// The next of them, and whose twin it is where it has waited.
    fn pop(&mut self) -> Option<(Ranked, Option<Twin>)> {
        let has_waited = self.waiting.front().is_some_and(|(first, _)| self.heap.peek().is_none_or(|other| first > other));
        let (ranked, twin) = match self.urgent.pop() {
            Some(ranked) => (ranked, None),
            None if has_waited => self.waiting.pop_front().map(|(ranked, twin)| (ranked, Some(twin)))?,
            None => (self.heap.pop()?, None),
        };
        self.combinations -= ranked.open.combinations();
        Some((ranked, twin))
    }

    /// The same ranked anew.
    pub(super) fn again(self, ranked: impl Fn(Open) -> Ranked) -> Self {
        let again = |r: Ranked| ranked(r.open);
        let heap = self.heap.into_iter().chain(self.waiting.into_iter().map(|(ranked, _)| ranked)).map(again).collect();
        Self { heap, urgent: self.urgent.into_iter().map(again).collect(), waiting: VecDeque::new(), ..self }
    }

    /// Combinations in all of it that were not simulated.
    pub(super) fn combinations(&self) -> u64 {
        self.combinations
    }

    /// Rank that nothing open exceeds; none where nothing is.
    pub(super) fn best_rank(&self) -> Option<f64> {
        self.heap
            .peek()
            .into_iter()
            .chain(self.waiting.front().map(|(ranked, _)| ranked))
            .chain(&self.urgent)
            .map(|r| r.rank)
            .max_by(f64::total_cmp)
    }

    /// The most promising blocks and candidates; what `is_out` of the candidates is set aside, and of those with the same `twin` one is taken, as
    /// it tells of the others. Nothing at all where nothing is left.
    pub(super) fn next(
        &mut self,
        is_out: impl Fn(&Candidate) -> bool,
        twin: impl Fn(&Candidate) -> Twin,
        aside: &mut Vec<Open>,
    ) -> (Vec<Block>, Vec<Candidate>) {
        let (mut blocks, mut candidates) = (Vec::new(), Vec::new());
        let (mut twins, mut later) = (HashSet::new(), Vec::with_capacity(LATER));
        while blocks.len() < BLOCKS
            && candidates.len() < CANDIDATES
            && later.len() < LATER
            && let Some((ranked, known)) = self.pop()
        {
            let candidate = match ranked.open {
                Open::Candidate(candidate) => candidate,
                Open::Block(block) => {
                    blocks.push(block);
                    continue;
                }
            };
            // One that has to wait again is not asked for anew.
            if let Some(twin) = known.filter(|twin| twins.contains(twin)) {
                later.push((ranked, twin));
                continue;
            }
            let twin = known.unwrap_or_else(|| twin(&candidate));
            if is_out(&candidate) {
                aside.push(ranked.open);
            } else if twins.insert(twin) {
                candidates.push(candidate);
            } else {
                later.push((ranked, twin));
            }
        }
        // Those that wait on come after them, but for what was urgent.
        for (ranked, twin) in later.into_iter().rev() {
            self.combinations += ranked.open.combinations();
            match self.waiting.front() {
                Some((first, _)) if *first > ranked => self.heap.push(ranked),
                _ => self.waiting.push_front((ranked, twin)),
            }
        }
        (blocks, candidates)
    }
}
