//! How a goal stands, in a word.

use serde::Serialize;

/// How a goal stands, from the share of the draws that meet it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// Nine draws in ten or more meet it.
    Met,
    /// Half of the draws or more meet it.
    Likely,
    /// Fewer than half meet it.
    Unlikely,
    /// Fewer than one in ten meets it.
    Missed,
    /// Cannot be told from what is known.
    CannotTell,
}

impl Verdict {
    /// The word for a probability.
    #[must_use]
    pub fn of(probability: f64) -> Self {
        match probability {
            p if p >= 0.9 => Self::Met,
            p if p >= 0.5 => Self::Likely,
            p if p >= 0.1 => Self::Unlikely,
            _ => Self::Missed,
        }
    }
}
