//! Handbook values for what a record leaves open: each stands here once, with where it comes from.

use super::{Controller, Module, Motor, MotorKind};

/// Length of a peak of motors and controllers where a record states none, s (S2 60 s; common practice).
const PEAK_S: f64 = 60.0;
/// Length of a peak of cells where a record states none, s (common practice of data sheets).
const CELL_PEAK_S: f64 = 10.0;

impl Motor {
    /// Seconds that the peak ratings are held from cold.
    #[must_use]
    pub fn peak_s(&self) -> f64 {
        self.peak_s.unwrap_or(PEAK_S)
    }
}

impl MotorKind {
    /// Best efficiency of the kind where neither it nor losses are stated (handbook middles, from memory).
    pub(crate) fn usual_best_efficiency(self) -> f64 {
        match self {
            Self::SeriesDc => 0.85,
            Self::BrushedPm | Self::Induction => 0.90,
            Self::Hub => 0.87,
            Self::PmSynchronous => 0.94,
        }
    }
}

impl Controller {
    /// Seconds that the peak ratings are held from cold.
    #[must_use]
    pub fn peak_s(&self) -> f64 {
        self.peak_s.unwrap_or(PEAK_S)
    }
}

impl Module {
    /// Seconds that the peak discharge rate is held.
    #[must_use]
    pub fn peak_s(&self) -> f64 {
        self.peak_s.unwrap_or(CELL_PEAK_S)
    }
}
