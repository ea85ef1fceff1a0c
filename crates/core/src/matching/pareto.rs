//! The candidates that none beats, in whole steps; the same whatever the order they come in, and in however wide steps they were held before.

use std::cmp::Ordering;

use super::objectives::{Bins, MOST_DOUBLED, NEVER, covers};
use crate::document::MatchRequest;

/// Order among candidates of equal steps: by narrower steps of what was widened, then the cheaper, the lighter, the one named first.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Tie {
    /// Steps as narrow as they get.
    pub(super) bins: Bins,
    pub(super) cost: f64,
    pub(super) added_kg: f64,
    pub(super) place: u128,
}

impl Tie {
    /// The cheaper, the lighter, the one named first.
    pub(super) fn before(&self, other: &Self) -> bool {
        self.cost.total_cmp(&other.cost).then(self.added_kg.total_cmp(&other.added_kg)).then(self.place.cmp(&other.place)).is_lt()
    }
}

/// How many times the steps of some figures are doubled.
#[derive(Debug, Clone, Copy)]
pub(super) struct Widening {
    /// How many times each may be doubled.
    of: [u32; 8],
    /// How many times they are, as far as they may be.
    pub(super) doubled: u32,
}

/// More often only where there would be too many members: what nobody asked about still counts where it differs some three times.
const DOUBLED_FREELY: u32 = 3;

impl Widening {
    /// Steps as they are.
    pub(super) fn none(of: [u32; 8]) -> Self {
        Self { of, doubled: 0 }
    }

    /// The widest, of what may be widened.
    pub(super) fn widest(of: [u32; 8]) -> Self {
        Self { of, doubled: of.into_iter().max().unwrap_or(0) }
    }

    /// Whether they are wider than they should be without need.
    fn is_drastic(&self) -> bool {
        self.doubled > DOUBLED_FREELY
    }

    /// The widest that need no reason; none where they are no wider.
    pub(super) fn moderate(&self) -> Option<Self> {
        self.is_drastic().then_some(Self { of: self.of, doubled: DOUBLED_FREELY })
    }

    /// Steps twice as wide; none where they are the widest.
    pub(super) fn wider(&self) -> Option<Self> {
        (self.doubled < Self::widest(self.of).doubled).then_some(Self { of: self.of, doubled: self.doubled + 1 })
    }

    /// Steps half as wide; none where they are as narrow as they get.
    pub(super) fn finer(&self) -> Option<Self> {
        Some(Self { of: self.of, doubled: self.doubled.checked_sub(1)? })
    }

    /// How many times as wide as at first.
    pub(super) fn times(&self) -> u32 {
        1 << self.doubled
    }

    /// Wide steps of narrow ones: a wide one holds two, four, ... whole narrow ones, so what is no worse in narrow steps is not in wide ones.
    fn wide(&self, bins: &Bins, doubled: u32) -> Bins {
        if doubled == 0 {
            return *bins;
        }
        std::array::from_fn(|i| if bins[i] < NEVER { bins[i] >> doubled.min(self.of[i]) } else { bins[i] })
    }

    /// The best narrow steps that a wide one holds: what beats another has those of no lower rank.
    pub(super) fn floor(&self, bins: &Bins) -> Bins {
        let wide = self.wide(bins, self.doubled);
        std::array::from_fn(|i| if bins[i] < NEVER { wide[i] << self.doubled.min(self.of[i]) } else { wide[i] })
    }

    /// Whether one candidate stands for another of equal steps. Whatever beat another in narrower steps comes before it here, so that
    /// nothing that was left out before the steps were widened would have had to be kept.
    fn before(&self, a: &Tie, b: &Tie) -> bool {
        match self.order(&a.bins).cmp(&self.order(&b.bins)) {
            Ordering::Equal => a.before(b),
            other => other.is_lt(),
        }
    }

    /// What tells candidates of equal steps apart: the sums of their steps half as wide, a quarter as wide and so on.
    pub(super) fn order(&self, bins: &Bins) -> Order {
        let sum = |doubled: u32| self.wide(bins, doubled).iter().fold(0_i32, |sum, x| sum.saturating_add(*x));
        std::array::from_fn(|i| self.doubled.checked_sub(i as u32 + 1).map_or(0, sum))
    }
}

/// How many members an answer should have.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Wanted {
    /// With so many it is told apart no more closely.
    pub(super) enough: usize,
    /// With more it is told apart less closely.
    pub(super) most: usize,
}

impl Wanted {
    /// All there are.
    pub(super) const ALL: Self = Self { enough: usize::MAX, most: usize::MAX };

    /// What a request asks for.
    pub(super) fn of(request: &MatchRequest) -> Self {
        let most = request.most_designs as usize;
        Self { enough: request.least_designs as usize, most: most + most / 3 }
    }

    /// Whether so many members are too few, as closely as they are told apart.
    fn is_short(&self, members: usize, widening: Widening) -> bool {
        members < self.enough || widening.is_drastic() && members <= self.most / 2
    }
}

/// Sums of ever narrower steps; the lower comes first.
pub(super) type Order = [i32; MOST_DOUBLED as usize];

/// One kept candidate.
#[derive(Debug, Clone)]
pub(super) struct Kept<T> {
    pub(super) tie: Tie,
    pub(super) what: T,
}

/// Candidates that none of the others beats: no worse in every step and better in one, or equal in all and first by [`Tie`].
#[derive(Debug, Clone)]
pub(super) struct ParetoFront<T> {
    pub(super) kept: Vec<Kept<T>>,
    /// Steps of each, as wide as they are: side by side, as they are looked through millions of times.
    bins: Vec<Bins>,
    pub(super) widening: Widening,
}

impl<T> ParetoFront<T> {
    pub(super) fn new(widening: Widening) -> Self {
        Self { kept: Vec::new(), bins: Vec::new(), widening }
    }

    /// The member that beats a candidate of at best these steps, if one does.
    pub(super) fn dominated_by(&self, tie: &Tie) -> Option<&Kept<T>> {
        let bins = self.widening.wide(&tie.bins, self.widening.doubled);
        let beats = |(own, kept): &(&Bins, &Kept<T>)| covers(own, &bins) && (**own != bins || !self.widening.before(tie, &kept.tie));
        self.bins.iter().zip(&self.kept).find(beats).map(|(_, kept)| kept)
    }

    /// Takes a candidate in unless a member beats it. What is beaten, be it the candidate or members, is `aside`.
    pub(super) fn offer(&mut self, tie: Tie, what: T, aside: &mut Vec<(Tie, T)>) {
        if self.dominated_by(&tie).is_some() {
            return aside.push((tie, what));
        }
        let bins = self.widening.wide(&tie.bins, self.widening.doubled);
        for i in (0..self.kept.len()).rev().filter(|i| covers(&bins, &self.bins[*i])).collect::<Vec<_>>() {
            self.bins.swap_remove(i);
            let Kept { tie, what } = self.kept.swap_remove(i);
            aside.push((tie, what));
        }
        self.bins.push(bins);
        self.kept.push(Kept { tie, what });
    }
}

impl<T: Clone> ParetoFront<T> {
    /// The answer that narrowing from the widest steps would come to: the first of enough members, or of more than half of the most where the
    /// steps are drastic, but none of too many while there is a wider one. None where even these steps give too few.
    pub(super) fn fitting(&self, wanted: Wanted) -> Option<Self> {
        let told_by = |widening: Widening| self.told_by(widening, &mut Vec::new());
        let mut front = told_by(Widening::widest(self.widening.of));
        while wanted.is_short(front.kept.len(), front.widening) {
            let finer = front.widening.finer().filter(|f| f.doubled >= self.widening.doubled)?;
            let next = told_by(finer);
            if next.kept.len() > wanted.most {
                break;
            }
            front = next;
        }
        Some(front)
    }

    /// What none beats in other steps, among the members and what was set aside; `aside` holds what is beaten then.
    pub(super) fn told_by(&self, widening: Widening, aside: &mut Vec<(Tie, T)>) -> Self {
        let mut other = Self::new(widening);
        let before = std::mem::take(aside);
        for (tie, what) in self.kept.iter().map(|k| (k.tie, k.what.clone())).chain(before) {
            other.offer(tie, what, aside);
        }
        other
    }
}
