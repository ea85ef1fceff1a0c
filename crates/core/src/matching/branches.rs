//! Trees of packs and of drives, cut in halves where they differ most, each branch with a best that none of its members exceeds.

use std::ops::Range;
use std::sync::OnceLock;

use rayon::prelude::*;

/// Something of which two have a best that neither exceeds.
pub(super) trait Member: Copy + Send + Sync {
    /// What a tree is cut by: logarithms, so that widths compare.
    fn keys(&self) -> [f64; 5];
    /// At least as good as both in every figure that a bound reads.
    fn with(&self, other: &Self) -> Self;
}

/// Some members, by their places in the order of the tree.
#[derive(Debug, Clone, Copy)]
pub(super) struct Branch<T> {
    pub(super) from: usize,
    pub(super) to: usize,
    /// Its two halves, by their places; none of a single member.
    pub(super) halves: Option<(u32, u32)>,
    pub(super) best: T,
}

/// Members cut in halves until single ones are left, which are made anew wherever they are asked for: they would take half of the memory.
#[derive(Debug)]
pub(super) struct Tree<T> {
    /// Numbers of the members, in the order of the tree.
    pub(super) order: Vec<u32>,
    /// Branches of two members or more.
    branches: Vec<Branch<T>>,
}

/// What marks the place of a single member, which is its place in the order of the tree.
const SINGLE: u32 = 1 << 31;

impl<T: Member> Tree<T> {
    /// Of one member or more by their numbers.
    pub(super) fn of(numbers: Range<u32>, member: impl Fn(u32) -> T + Sync) -> Self {
        let keys: Vec<[f64; 5]> = numbers.clone().into_par_iter().map(|number| member(number).keys()).collect();
        Self::with_halves_from(numbers, (&member, &keys), SIDE_BY_SIDE)
    }

    /// The same on one thread. What waits for something made once must not take up other work meanwhile, which may wait for the same.
    fn of_alone(numbers: Range<u32>, member: impl Fn(u32) -> T + Sync) -> Self {
        let keys: Vec<[f64; 5]> = numbers.clone().map(|number| member(number).keys()).collect();
        Self::with_halves_from(numbers, (&member, &keys), usize::MAX)
    }

    fn with_halves_from(numbers: Range<u32>, (member, keys): (&(impl Fn(u32) -> T + Sync), &[[f64; 5]]), side_by_side: usize) -> Self {
        let (first, mut order) = (numbers.start, numbers.collect::<Vec<u32>>());
        let mut branches = Vec::with_capacity(order.len());
        grow(Growing { first, member, keys, side_by_side }, &mut order, 0, &mut branches);
        Self { order, branches }
    }

    /// Place of the branch that holds all of some members, one or more, the first of which has a place in the order, where so many branches
    /// come before its own.
    fn root_of(count: usize, from: usize, before: usize) -> u32 {
        if count == 1 { SINGLE | from as u32 } else { (before + count) as u32 - 2 }
    }

    /// The branch at a place, of members by their numbers.
    pub(super) fn at(&self, place: u32, member: impl Fn(u32) -> T) -> Branch<T> {
        if place & SINGLE == 0 {
            return self.branches[place as usize];
        }
        let from = (place & !SINGLE) as usize;
        Branch { from, to: from + 1, halves: None, best: member(self.order[from]) }
    }

    /// Place of the branch that holds all.
    pub(super) fn root_place(&self) -> u32 {
        Self::root_of(self.order.len(), 0, 0)
    }
}

/// Members that follow one another in a list, as a tree that is grown when something below its root is asked for.
#[derive(Debug)]
pub(super) struct Sapling<T> {
    first: u32,
    root: Branch<T>,
    tree: OnceLock<Tree<T>>,
}

impl<T: Member> Sapling<T> {
    /// Of one member or more, the first of which has a number.
    pub(super) fn of(first: u32, members: impl ExactSizeIterator<Item = T>) -> Option<Self> {
        let to = members.len();
        let best = members.reduce(|a, b| a.with(&b))?;
        // The first half of the tree comes first, each half before its root.
        let (left, right) = (to / 2, to - to / 2);
        let halves = (to > 1).then(|| (Tree::<T>::root_of(left, 0, 0), Tree::<T>::root_of(right, left, left - 1)));
        Some(Self { first, root: Branch { from: 0, to, halves, best }, tree: OnceLock::new() })
    }

    /// Whether a number is among them.
    #[cfg(test)]
    pub(super) fn holds(&self, number: u32) -> bool {
        (self.first..self.first + self.root.to as u32).contains(&number)
    }

    /// Place of the branch that holds all.
    pub(super) fn root_place(&self) -> u32 {
        Tree::<T>::root_of(self.root.to, 0, 0)
    }

    /// The whole tree, of members by their numbers.
    pub(super) fn tree(&self, member: impl Fn(u32) -> T + Sync) -> &Tree<T> {
        let numbers = self.first..self.first + self.root.to as u32;
        self.tree.get_or_init(|| Tree::of_alone(numbers, member))
    }

    pub(super) fn at(&self, place: u32, member: impl Fn(u32) -> T + Sync) -> Branch<T> {
        if place == self.root_place() { self.root } else { self.tree(&member).at(place, &member) }
    }

    /// Numbers of the members of one of its branches.
    pub(super) fn numbers(&self, branch: &Branch<T>) -> impl Iterator<Item = u32> {
        let order = self.tree.get().map(|tree| &tree.order[branch.from..branch.to]);
        let unsplit = order.is_none().then_some(self.first..self.first + self.root.to as u32);
        unsplit.into_iter().flatten().chain(order.into_iter().flatten().copied())
    }
}

/// Members of a half from which on both grow side by side.
const SIDE_BY_SIDE: usize = 2048;

/// What a tree is grown of: members by their numbers, with the keys of each from the first on, and how many make a half grow beside the other.
struct Growing<'a, F> {
    first: u32,
    member: &'a F,
    keys: &'a [[f64; 5]],
    side_by_side: usize,
}

impl<F> Clone for Growing<'_, F> {
    fn clone(&self) -> Self {
        *self
    }
}

impl<F> Copy for Growing<'_, F> {}

/// Grows the branch of some members by their numbers, which it puts in the order of the tree; its place and best. Its halves come before it.
fn grow<T: Member, F: Fn(u32) -> T + Sync>(
    of: Growing<'_, F>,
    numbers: &mut [u32],
    from: usize,
    branches: &mut Vec<Branch<T>>,
) -> (u32, T) {
    let (Growing { first, member, keys, side_by_side }, count) = (of, numbers.len());
    let root = Tree::<T>::root_of(count, from, branches.len());
    if let [only] = numbers {
        return (root, member(*only));
    }
    let key = |number: u32, k: usize| keys[(number - first) as usize][k];
    let ends = |k: usize| {
        let keys = numbers.iter().map(|number| key(*number, k));
        keys.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), x| (low.min(x), high.max(x)))
    };
    let widths: [f64; 5] = std::array::from_fn(|k| ends(k).1 - ends(k).0);
    let widest = (0..widths.len()).max_by(|a, b| widths[*a].total_cmp(&widths[*b]).then(b.cmp(a))).unwrap_or_default();
    let middle = count / 2;
    numbers.select_nth_unstable_by(middle, |a, b| key(*a, widest).total_cmp(&key(*b, widest)).then(a.cmp(b)));
    let (left, right) = numbers.split_at_mut(middle);
    let ((left, best), (right, other)) = if left.len() < side_by_side {
        (grow(of, left, from, branches), grow(of, right, from + middle, branches))
    } else {
        let mut others = Vec::with_capacity(right.len());
        let (one, (place, other)) = rayon::join(|| grow(of, left, from, branches), || grow(of, right, from + middle, &mut others));
        let before = branches.len() as u32;
        let moved = |place: u32| if place & SINGLE == 0 { place + before } else { place };
        branches.extend(others.into_iter().map(|b| Branch { halves: b.halves.map(|(l, r)| (moved(l), moved(r))), ..b }));
        (one, (moved(place), other))
    };
    let best = best.with(&other);
    branches.push(Branch { from, to: from + count, halves: Some((left, right)), best });
    (root, best)
}
