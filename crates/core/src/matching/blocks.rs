//! Whole blocks of combinations held against goals and answer at once: some controllers of one drivetrain times some packs.
//!
//! A block is bounded by a drive and a pack that are each at least as good as any of theirs in every figure a bound reads. What cannot meet
//! a goal or is dominated at that is cut whole; the rest is split until single pairs are left, which are looked at one by one.

use std::sync::atomic::{AtomicUsize, Ordering};

use rayon::prelude::*;

use super::bounds::{Bound, Known, OtherEnd};
use super::branches::{Branch, DriveBest, PackBest, Tree};
use super::candidates::Candidate;
use super::count::{Counts, Why, goal, rule};
use super::enumerate::SearchSpace;
use super::objectives::Bins;
use super::request::is_direct;
use super::size::MOST_CANDIDATES;
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::findings::Rule;
use crate::limits::{controller_over_pack, lowest_v, sags_below};

/// The best that a whole block can be.
pub(super) struct BlockBest {
    pub(super) bins: Bins,
    pub(super) rank: f64,
    pub(super) cost: f64,
    pub(super) added_kg: f64,
    /// Which approaches any of it follows.
    pub(super) approaches: [bool; 4],
}

/// What the answer already says of a single candidate and of a block.
pub(super) trait Answered: Sync {
    /// Whether a candidate cannot be in the answer even at its best.
    fn is_out(&self, candidate: &Candidate) -> bool;
    /// Whether nothing of a block can.
    fn is_block_out(&self, best: &BlockBest) -> bool;
}

/// What is known of a block that nothing holds.
const ANYTHING: Bins = [i32::MIN; 8];

/// What becomes of a block.
enum Fate {
    Cut(Why),
    Dominated,
    /// Neither, with the best that any of it can be.
    Open(Bins),
}

/// Packs as a tree, with the combinations that each group of drives finds among them.
struct PackTree {
    tree: Tree<PackBest>,
    /// By group, chargers of the packs it may feed, summed up over the tree's order.
    fed: Vec<Vec<u64>>,
}

impl PackTree {
    fn of(space: &SearchSpace, problem: &SearchProblem, packs: &[usize]) -> Self {
        let of = |at: &usize| (*at as u32, PackBest::of(problem, &space.packs[*at]));
        let tree = Tree::of(packs.iter().map(of).collect());
        let mut fed = vec![vec![0; packs.len() + 1]; space.groups.len()];
        for (i, at) in tree.order.iter().enumerate() {
            for group in &space.feeds[*at as usize] {
                fed[*group][i + 1] = space.packs[*at as usize].chargers.len() as u64;
            }
        }
        for sums in &mut fed {
            for i in 1..sums.len() {
                sums[i] += sums[i - 1];
            }
        }
        Self { tree, fed }
    }
}

struct Walk<'a> {
    space: &'a SearchSpace,
    problem: &'a SearchProblem,
    packs: &'a PackTree,
    drives: &'a Tree<DriveBest>,
    direct: bool,
    answered: &'a dyn Answered,
    held: &'a AtomicUsize,
    cancel: &'a Cancel,
    counts: Counts,
    out: Vec<Candidate>,
}

impl SearchSpace {
    /// Candidates of some packs with every drive that may be in the answer, given what is answered already.
    pub(super) fn candidates(
        &self,
        problem: &SearchProblem,
        packs: &[usize],
        answered: &dyn Answered,
        (held, cancel): (&AtomicUsize, &Cancel),
    ) -> Vec<(Vec<Candidate>, Counts)> {
        if packs.is_empty() {
            return Vec::new();
        }
        let packs = PackTree::of(self, problem, packs);
        self.branches
            .par_iter()
            .map(|drives| {
                let drivetrain = &self.drivetrains[drives.root().best.drive.drivetrain as usize];
                let direct = is_direct(&problem.motors[usize::from(drivetrain.configuration.motor)].written);
                let (counts, out) = (Counts::new(problem), Vec::new());
                let mut walk = Walk { space: self, problem, packs: &packs, drives, direct, answered, held, cancel, counts, out };
                walk.block(drives.root(), packs.tree.root(), &ANYTHING);
                (walk.out, walk.counts)
            })
            .collect()
    }

    /// Drives and packs at once: the lightest of them against the road, the heaviest for the grip.
    pub(super) fn look_at_block<'a>(&'a self, problem: &'a SearchProblem, drives: &'a DriveBest, packs: &PackBest) -> Bound<'a> {
        let drive = &drives.drive;
        Bound {
            problem,
            vehicle: &self.vehicle,
            drivetrain: &self.drivetrains[drive.drivetrain as usize],
            drive,
            pack: Some(packs.look),
            mass_kg: self.vehicle.test_kg(drive.mass_kg + packs.kg.0),
            worst: OtherEnd {
                heaviest_kg: self.vehicle.test_kg(drives.heaviest_kg + packs.kg.1),
                most_ohm: packs.most_ohm,
                least_efficiency: drives.least_efficiency,
            },
            close: false,
            known: Known::nothing(),
        }
    }
}

impl Walk<'_> {
    /// Combinations of each drive of a block that fit it by voltage; the others have been counted before.
    fn fitting<'b>(&'b self, drives: &Branch<DriveBest>, packs: &'b Branch<PackBest>) -> impl Iterator<Item = u64> + 'b {
        self.drives.order[drives.from..drives.to].iter().map(move |number| {
            let fed = &self.packs.fed[self.space.group_of[*number as usize] as usize];
            fed[packs.to] - fed[packs.from]
        })
    }

    /// Looks at a block; what was told of one that holds it holds for it.
    fn block(&mut self, drives: &Branch<DriveBest>, packs: &Branch<PackBest>, above: &Bins) {
        let fits = self.fitting(drives, packs).any(|n| n > 0);
        // More than memory bears is thrown away anyhow.
        if !fits || self.cancel.is_cancelled() || self.held.load(Ordering::Relaxed) > MOST_CANDIDATES {
            return;
        }
        let (tree, own) = (&self.packs.tree, self.drives);
        if drives.halves.is_none() && packs.halves.is_none() {
            let (number, at, before) = (own.order[drives.from], tree.order[packs.from] as usize, self.out.len());
            self.space.pair(self.problem, (at, number), (above, self.answered), &mut self.counts, &mut self.out);
            self.held.fetch_add(self.out.len() - before, Ordering::Relaxed);
            return;
        }
        let bins = match self.fate(&drives.best, &packs.best, above) {
            Fate::Cut(why) => {
                let combinations = self.fitting(drives, packs).sum();
                return self.counts.cut(why, combinations);
            }
            Fate::Dominated => {
                let combinations: u64 = self.fitting(drives, packs).sum();
                self.counts.dominated_by_bound += combinations;
                return;
            }
            Fate::Open(bins) => bins,
        };
        match (drives.halves, packs.halves) {
            // The side that is less like itself is cut.
            (Some((a, b)), other) if other.is_none() || drives.best.spread() > packs.best.spread() => {
                self.block(own.at(a), packs, &bins);
                self.block(own.at(b), packs, &bins);
            }
            (_, Some((a, b))) => {
                self.block(drives, tree.at(a), &bins);
                self.block(drives, tree.at(b), &bins);
            }
            (_, None) => {}
        }
    }

    fn fate(&mut self, drives: &DriveBest, packs: &PackBest, above: &Bins) -> Fate {
        let (space, problem, drive) = (self.space, self.problem, &drives.drive);
        if controller_over_pack(drive.asked_a, packs.look.peak_a) && problem.keeps(Rule::ControllerOverPack) {
            return Fate::Cut(rule(Rule::ControllerOverPack));
        }
        let bottom_v = lowest_v(packs.bottom_v, packs.look.resistance_ohm, drive.asked_a);
        if sags_below(bottom_v, packs.cutoff_v.max(drive.min_v)) && problem.keeps(Rule::SagBelowCutoff) {
            return Fate::Cut(rule(Rule::SagBelowCutoff));
        }
        let (price, kg) = (drive.price + packs.price.0, drive.mass_kg + packs.kg.0);
        let too_cheap = problem.is_known_too_cheap(space.vehicle.bare_cost + drives.dearest + packs.price.1);
        let known = || too_cheap.then(|| problem.cost_constraint().map(goal)).flatten();
        if let Some(why) = space.too_much(problem, price, kg).or_else(known) {
            return Fate::Cut(why);
        }
        self.counts.blocks += 1;
        let (cost, added_kg) = (space.vehicle.bare_cost + price, space.vehicle.bare_change_kg + kg);
        let approaches = [self.direct, !self.direct, packs.new, packs.salvaged];
        let is_out = |bins: Bins| {
            let rank = problem.objectives.rank(&bins);
            self.answered.is_block_out(&BlockBest { bins, rank, cost, added_kg, approaches })
        };
        // Money, mass and hours are told at once; with what is known of the block above they are often enough.
        if is_out(problem.objectives.with_exact(above, cost, added_kg, packs.hours)) {
            return Fate::Dominated;
        }
        let look = space.look_at_block(problem, drives, packs);
        if let Some(constraint) = look.misses() {
            return Fate::Cut(goal(constraint));
        }
        let bins = look.bins(cost, added_kg, packs.hours, packs.shortfall);
        if is_out(bins) { Fate::Dominated } else { Fate::Open(bins) }
    }
}
