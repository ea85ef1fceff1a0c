//! Passes of the donor by the clock, before its engine comes out.

use serde::{Deserialize, Serialize};

use super::is_usual;
use crate::error::{Problem, Problems};
use crate::quantity::join;

/// The same pass several times, at the same place, warm.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TimedPasses {
    /// From this speed, km/h.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub from_kmh: f64,
    /// To this one, km/h.
    pub to_kmh: f64,
    /// People and load aboard, kg.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub aboard_kg: f64,
    /// The runs.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub runs: Vec<TimedRun>,
}

/// One of them.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TimedRun {
    /// s.
    pub seconds: f64,
}

impl TimedPasses {
    pub(super) fn check(&self, path: &str, problems: &mut Problems) {
        if self.to_kmh <= self.from_kmh {
            let accepted = format!("a speed above the {} km/h it begins with is accepted", self.from_kmh);
            problems.push(Problem::new(join(path, "to_kmh"), format!("{} km/h", self.to_kmh), accepted));
        }
    }
}
