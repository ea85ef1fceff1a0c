//! How good a split of the pack is.

/// Differences of the front share below this are as good as none.
const SAME_SHARE: f64 = 0.005;

/// How good a split is, the smaller the better.
#[derive(Debug, Clone, Copy)]
pub(super) struct Merit {
    pub over_kg: f64,
    pub unplaced: u32,
    pub cut_strings: u32,
    pub off: f64,
    pub cable_m: f64,
    pub front_share: f64,
}

impl Merit {
    pub(super) fn order(&self, other: &Self) -> std::cmp::Ordering {
        let coarse = |m: &Self| (m.off / SAME_SHARE).floor();
        self.over_kg
            .total_cmp(&other.over_kg)
            .then(self.unplaced.cmp(&other.unplaced))
            .then(self.cut_strings.cmp(&other.cut_strings))
            .then(coarse(self).total_cmp(&coarse(other)))
            .then(self.cable_m.total_cmp(&other.cable_m))
            .then(self.off.total_cmp(&other.off))
    }
}
