//! Packs as a tree, and how many chargers of any of its branches some voltages may feed.

use super::bests::PackBest;
use super::branches::{Branch, Tree};
use super::enumerate::SearchSpace;
use super::space::SearchProblem;

/// Packs as a tree, with the combinations that each group of drives finds among them.
#[derive(Debug)]
pub(super) struct PackTree {
    pub(super) tree: Tree<PackBest>,
    /// By the voltages that groups take, chargers of the packs they may feed, summed up over the tree's order: of every so many packs.
    fed: Vec<Vec<u32>>,
    every: usize,
}

/// Most sums that are held; of more packs and voltages only some are.
const MOST_SUMS: usize = 4_000_000;

/// How many different voltages groups take.
fn voltages(space: &SearchSpace) -> usize {
    space.groups.iter().map(|g| g.voltages as usize + 1).max().unwrap_or(0)
}

impl PackTree {
    /// Of the packs of a space; none where it has none.
    pub(super) fn of(space: &SearchSpace, problem: &SearchProblem) -> Option<Self> {
        Self::with_sums_of(space, problem, (voltages(space) * space.packs.len()).div_ceil(MOST_SUMS).max(1))
    }

    /// The same with sums of every so many packs.
    pub(super) fn with_sums_of(space: &SearchSpace, problem: &SearchProblem, every: usize) -> Option<Self> {
        let packs = &space.packs;
        if packs.is_empty() {
            return None;
        }
        let tree = Tree::of(0..packs.len() as u32, |at| PackBest::of(problem, &packs[at as usize]));
        let mut fed = vec![vec![0; packs.len() / every + 1]; voltages(space)];
        for (i, at) in tree.order.iter().enumerate() {
            for voltages in &*space.feeds[*at as usize] {
                // What is left beyond the last sum is never asked for.
                if let Some(sum) = fed[*voltages as usize].get_mut(i / every + 1) {
                    *sum += packs[*at as usize].chargers.len() as u32;
                }
            }
        }
        for sums in &mut fed {
            for i in 1..sums.len() {
                sums[i] += sums[i - 1];
            }
        }
        Some(Self { tree, fed, every })
    }

    /// Some packs, by their place in the tree.
    pub(super) fn at(&self, space: &SearchSpace, problem: &SearchProblem, place: u32) -> Branch<PackBest> {
        self.tree.at(place, |at| PackBest::of(problem, &space.packs[at as usize]))
    }

    /// Chargers of the packs before a place in the tree's order that some voltages may feed.
    pub(super) fn fed_before(&self, space: &SearchSpace, voltages: u32, place: usize) -> u32 {
        let summed = place / self.every;
        let feeds = |at: &&u32| space.feeds[**at as usize].binary_search(&voltages).is_ok();
        let others = self.tree.order[summed * self.every..place].iter().filter(feeds);
        self.fed[voltages as usize][summed] + others.map(|at| space.packs[*at as usize].chargers.len() as u32).sum::<u32>()
    }
}
