//! The candidates that none beats, in whole steps; the same whatever the order they come in.

use super::objectives::{Bins, covers};

/// Order among candidates of equal steps: the cheaper, then the lighter, then the one named first.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Tie {
    pub(super) cost: f64,
    pub(super) added_kg: f64,
    pub(super) place: u128,
}

impl Tie {
    pub(super) fn before(&self, other: &Self) -> bool {
        self.cost.total_cmp(&other.cost).then(self.added_kg.total_cmp(&other.added_kg)).then(self.place.cmp(&other.place)).is_lt()
    }
}

/// One kept candidate.
#[derive(Debug, Clone)]
pub(super) struct Kept<T> {
    pub(super) bins: Bins,
    pub(super) tie: Tie,
    pub(super) what: T,
}

/// Candidates that none of the others beats: no worse in every step and better in one, or equal in all and first by [`Tie`].
#[derive(Debug, Clone)]
pub(super) struct ParetoFront<T> {
    pub(super) kept: Vec<Kept<T>>,
}

impl<T> ParetoFront<T> {
    pub(super) fn new() -> Self {
        Self { kept: Vec::new() }
    }

    /// The member that beats a candidate of at best these steps, if one does.
    pub(super) fn dominated_by(&self, bins: &Bins, tie: &Tie) -> Option<&Kept<T>> {
        self.kept.iter().find(|k| covers(&k.bins, bins) && (k.bins != *bins || !tie.before(&k.tie)))
    }

    /// Takes a candidate in unless a member beats it; members that it beats leave.
    pub(super) fn offer(&mut self, bins: Bins, tie: Tie, what: T) -> bool {
        if self.dominated_by(&bins, &tie).is_some() {
            return false;
        }
        self.kept.retain(|k| !covers(&bins, &k.bins));
        self.kept.push(Kept { bins, tie, what });
        true
    }
}
