//! Trees of many members: the same on one thread and on several, and grown once whoever asks first.

use rayon::prelude::*;

use super::proof::spread;
use crate::matching::branches::{Member, Sapling, Tree};

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

fn members() -> Vec<(u32, Cheapest)> {
    (0..MANY).map(|number| (number, member(number))).collect()
}

/// Every branch holds what its halves hold, and no member exceeds the best of a branch that holds it.
#[test]
fn a_tree_is_the_same_on_however_many_threads() {
    let tree = Tree::of(&members());
    let alone = rayon::ThreadPoolBuilder::new().num_threads(1).build().expect("a pool").install(|| Tree::of(&members()));
    assert_eq!(tree.order, alone.order);
    let (mut open, mut leaves) = (vec![tree.root_place()], 0);
    while let Some(place) = open.pop() {
        let branch = tree.at(place);
        let least = tree.order[branch.from..branch.to].iter().map(|n| member(*n).0).fold(f64::INFINITY, f64::min);
        assert_eq!((branch.best, format!("{branch:?}")), (Cheapest(least), format!("{:?}", alone.at(place))));
        match branch.halves {
            Some((a, b)) => {
                let halves = [a, b].map(|at| tree.at(at));
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

/// Many ask at once for what lies below a root: the tree is grown once, nobody waits for ever, and the root is the one told before.
#[test]
fn a_sapling_is_grown_once_whoever_asks() {
    let sapling = Sapling::of(0, (0..MANY).map(member)).expect("members");
    let root = *sapling.at(sapling.root_place(), |_| panic!("nothing below the root was asked for"));
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
    assert_eq!(format!("{:?}", tree.root()), format!("{root:?}"));
    assert_eq!((tree.order.len(), sapling.numbers(&root).map(u64::from).sum::<u64>()), (MANY as usize, all));
    assert!(sapling.holds(MANY - 1) && !sapling.holds(MANY));
}
