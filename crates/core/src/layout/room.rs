//! Room within a bay: what is left of it beside things that stay, and other things stood in rows at one end.

use crate::document::{Bay, Document};

/// Less than this is how boxes are measured, m.
pub(super) const TOLERANCE_M: f64 = 0.005;

/// Cuboids looked at in the search for the largest.
const MOST_TRIED: u32 = 1_000;

/// A cuboid of the vehicle, m.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Room {
    /// Its corner in front, to the left, on the floor.
    pub low_m: [f64; 3],
    /// Along, across and up.
    pub size_m: [f64; 3],
}

/// Something to be stood in a room.
#[derive(Debug, Clone, Copy)]
pub(super) struct Thing {
    /// Which.
    pub of: usize,
    /// Along, across and up, m.
    pub size_m: [f64; 3],
    /// Whether it may be turned a quarter.
    pub turns: bool,
}

/// Where something stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Stood {
    /// Which.
    pub of: usize,
    /// The room it takes.
    pub room: Room,
}

impl Room {
    /// What a bay holds within its clearance; none unless its size is stated.
    pub(super) fn of(document: &Document, bay: &Bay) -> Option<Self> {
        let (size_m, centre_m) = (bay.free_m()?, bay.centre_m(document));
        Some(Self { low_m: std::array::from_fn(|i| centre_m[i] - 0.5 * size_m[i]), size_m })
    }

    pub(super) fn centre_m(&self) -> [f64; 3] {
        std::array::from_fn(|i| self.low_m[i] + 0.5 * self.size_m[i])
    }

    fn high_m(&self, axis: usize) -> f64 {
        self.low_m[axis] + self.size_m[axis]
    }

    fn litres(&self) -> f64 {
        self.size_m.iter().map(|m| m.max(0.0)).product()
    }

    pub(super) fn meets(&self, other: &Self) -> bool {
        (0..3).all(|i| self.high_m(i).min(other.high_m(i)) - self.low_m[i].max(other.low_m[i]) > TOLERANCE_M)
    }

    /// Grown by a gap on every side.
    pub(super) fn grown(&self, gap_m: f64) -> Self {
        Self { low_m: self.low_m.map(|low| low - gap_m), size_m: self.size_m.map(|size| size + 2.0 * gap_m) }
    }

    /// The largest cuboid of it that things in its way leave. Whatever avoids a thing lies wholly on one of its six sides, so that trying each
    /// in turn misses none; of very many things the largest that was found by then.
    pub(super) fn beside(&self, things: &[Self]) -> Self {
        let (mut best, mut effort) = (Self { size_m: [0.0; 3], ..*self }, MOST_TRIED);
        let here: Vec<Self> = things.iter().copied().filter(|t| self.meets(t)).collect();
        self.search(&here, &mut best, &mut effort);
        best
    }

    fn search(&self, things: &[Self], best: &mut Self, effort: &mut u32) {
        if *effort == 0 || self.litres() <= best.litres() {
            return;
        }
        *effort -= 1;
        let Some(i) = things.iter().position(|t| self.meets(t)) else {
            *best = *self;
            return;
        };
        let thing = &things[i];
        let mut sides: Vec<Self> = Vec::with_capacity(6);
        for axis in 0..3 {
            for (from, to) in [(self.low_m[axis], thing.low_m[axis]), (thing.high_m(axis), self.high_m(axis))] {
                let mut part = *self;
                (part.low_m[axis], part.size_m[axis]) = (from, (to - from).max(0.0));
                sides.push(part);
            }
        }
        sides.sort_by(|a, b| b.litres().total_cmp(&a.litres()));
        for side in sides {
            side.search(&things[i + 1..], best, effort);
        }
    }

    /// Things in rows on the floor at the end that is nearer to a point, and what is then left; none where they do not fit so.
    pub(super) fn standing(
        &self,
        things: &[Thing],
        gap_m: f64,
        near_m: [f64; 3],
        left: impl Fn(&[Stood]) -> Self,
    ) -> Option<(Vec<Stood>, Self)> {
        let ways = [0, 1].into_iter().filter_map(|axis| self.in_rows(axis, things, gap_m, near_m[axis] > self.centre_m()[axis]));
        ways.map(|stood| (left(&stood), stood)).max_by(|a, b| a.0.litres().total_cmp(&b.0.litres())).map(|(left, stood)| (stood, left))
    }

    /// Rows across one axis, counted from its lower or its higher end; the deepest things first.
    fn in_rows(&self, axis: usize, things: &[Thing], gap_m: f64, from_high: bool) -> Option<Vec<Stood>> {
        let across = 1 - axis;
        let turned = |t: &Thing| Thing { size_m: [t.size_m[1], t.size_m[0], t.size_m[2]], ..*t };
        let fits = |t: &Thing| (0..3).all(|i| t.size_m[i] <= self.size_m[i] + 1e-9);
        let mut laid: Vec<Thing> = Vec::with_capacity(things.len());
        for thing in things {
            let ways = [Some(*thing), thing.turns.then(|| turned(thing))].into_iter().flatten().filter(fits);
            laid.push(ways.min_by(|a, b| a.size_m[axis].total_cmp(&b.size_m[axis]))?);
        }
        laid.sort_by(|a, b| b.size_m[axis].total_cmp(&a.size_m[axis]).then(a.of.cmp(&b.of)));
        let (mut stood, mut used_m) = (Vec::with_capacity(laid.len()), 0.0);
        let mut left = laid.as_slice();
        while let Some(first) = left.first() {
            let depth_m = first.size_m[axis];
            if used_m + depth_m > self.size_m[axis] + 1e-9 {
                return None;
            }
            let mut beside_m = 0.0;
            while let Some((thing, others)) = left.split_first().filter(|(t, _)| beside_m + t.size_m[across] <= self.size_m[across] + 1e-9)
            {
                let mut low_m = self.low_m;
                low_m[across] += beside_m;
                low_m[axis] = if from_high { self.high_m(axis) - used_m - thing.size_m[axis] } else { self.low_m[axis] + used_m };
                stood.push(Stood { of: thing.of, room: Self { low_m, size_m: thing.size_m } });
                beside_m += thing.size_m[across] + gap_m;
                left = others;
            }
            used_m += depth_m + gap_m;
        }
        Some(stood)
    }
}
