//! Trees of many members: the same on one thread and on several, and grown once whoever asks first.

use std::collections::HashSet;

use rayon::prelude::*;

use super::proof::{Proof, spread};
use crate::matching::branches::{Member, Sapling, Tree};
use crate::matching::pack_tree::PackTree;

/// A member that is known by its cheapest.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Cheapest(f64);

impl Member for Cheapest {
    fn keys(&self) -> [f64; 5] {
        [self.0, 0.5 * (7.0 * self.0).sin(), 0.0, 0.0, 0.0]
    }

    fn with(&self, other: &Self) -> Self {
        Self(self.0.min(other.0))
    }
}

/// Beyond the size from which halves grow side by side.
const MANY: u32 = 20_000;

fn member(number: u32) -> Cheapest {
    Cheapest(spread(number as usize + 1, 0.271, 5000) as f64 / 100.0)
}

/// Every branch holds what its halves hold, and no member exceeds the best of a branch that holds it.
#[test]
fn a_tree_is_the_same_on_however_many_threads() {
    let tree = Tree::of(0..MANY, member);
    let alone = rayon::ThreadPoolBuilder::new().num_threads(1).build().expect("a pool").install(|| Tree::of(0..MANY, member));
    assert_eq!(tree.order, alone.order);
    let (mut open, mut leaves) = (vec![tree.root_place()], 0);
    while let Some(place) = open.pop() {
        let branch = tree.at(place, member);
        let least = tree.order[branch.from..branch.to].iter().map(|n| member(*n).0).fold(f64::INFINITY, f64::min);
        assert_eq!((branch.best, format!("{branch:?}")), (Cheapest(least), format!("{:?}", alone.at(place, member))));
        match branch.halves {
            Some((a, b)) => {
                let halves = [a, b].map(|at| tree.at(at, member));
                assert_eq!(
                    [(halves[0].from, halves[1].to), (halves[0].to, halves[1].from)],
                    [(branch.from, branch.to), (halves[1].from, halves[1].from)]
                );
                open.extend([a, b]);
            }
            None => leaves += 1,
        }
    }
    assert_eq!(leaves, MANY);
}

/// The halves of a root are told before its tree is grown, of however few.
#[test]
fn few_members_have_their_places_too() {
    for count in 1..40 {
        let sapling = Sapling::of(0, (0..count).map(member)).expect("members");
        let root = sapling.at(sapling.root_place(), |_| panic!("nothing below the root was asked for"));
        let tree = Tree::of(0..count, member);
        assert_eq!(format!("{:?}", tree.at(tree.root_place(), member)), format!("{root:?}"), "{count} members");
        let (mut open, mut held) = (vec![root], Vec::new());
        while let Some(branch) = open.pop() {
            match branch.halves {
                Some((a, b)) => open.extend([a, b].map(|place| sapling.at(place, member))),
                None => held.push(tree.order[branch.from]),
            }
        }
        held.sort_unstable();
        assert_eq!(held, (0..count).collect::<Vec<_>>());
    }
}

/// Many ask at once for what lies below a root: the tree is grown once, nobody waits for ever, and the root is the one told before.
#[test]
fn a_sapling_is_grown_once_whoever_asks() {
    let sapling = Sapling::of(0, (0..MANY).map(member)).expect("members");
    let root = sapling.at(sapling.root_place(), |_| panic!("nothing below the root was asked for"));
    let all: u64 = sapling.numbers(&root).map(u64::from).sum();
    let halves = root.halves.expect("halves");
    let asked: Vec<usize> = (0..256)
        .into_par_iter()
        .with_max_len(1)
        .map(|i| {
            let half = sapling.at(if i % 2 == 0 { halves.0 } else { halves.1 }, member);
            half.to - half.from
        })
        .collect();
    assert!(asked.iter().all(|count| *count == MANY as usize / 2));
    let tree = sapling.tree(|_| panic!("it has been grown"));
    assert_eq!(format!("{:?}", tree.at(tree.root_place(), member)), format!("{root:?}"));
    assert_eq!((tree.order.len(), sapling.numbers(&root).map(u64::from).sum::<u64>()), (MANY as usize, all));
    assert!(sapling.holds(MANY - 1) && !sapling.holds(MANY));
}

/// However many sums are held, as many chargers are counted as packs have that take some voltages.
#[test]
fn few_sums_count_what_all_do() {
    let Proof { problem, space, .. } = &Proof::of("whimbrel-9-a");
    let [all, few, fewest] = [1, 7, 100_000].map(|every| PackTree::with_sums_of(space, problem, every).expect("packs"));
    let mut counted = HashSet::new();
    for i in 0..4000 {
        let (group, place) = (&space.groups[spread(i, 0.137, space.groups.len())], spread(i, 0.419, space.packs.len() + 1));
        let [told, by_few, by_fewest] = [&all, &few, &fewest].map(|tree| tree.fed_before(space, group.voltages, place));
        assert_eq!((by_few, by_fewest), (told, told), "before {place} of {}", space.packs.len());
        counted.insert(told);
    }
    assert!(counted.len() > 200, "only {} different counts", counted.len());
}
