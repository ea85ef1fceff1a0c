//! Where a value comes from and how far it is trusted.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::error::Problem;
use crate::library::join;

/// Where a value comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Provenance {
    /// Weighed, timed or metered on this vehicle or part.
    Measured,
    /// The maker's data sheet.
    Datasheet,
    /// A seller's claim; read with suspicion.
    Seller,
    /// Typical for the kind.
    Handbook,
    /// A guess.
    Guess,
}

impl Provenance {
    /// Half-width of the spread that holds about 80 % of such values, as a share of the value.
    /// A seller's claim is one-sided (60-100 %) and is listed with its full width. Common practice.
    #[must_use]
    pub fn default_spread(self) -> f64 {
        match self {
            Self::Measured => 0.02,
            Self::Datasheet => 0.05,
            Self::Handbook => 0.12,
            Self::Guess => 0.25,
            Self::Seller => 0.40,
        }
    }
}

/// Provenance of one value and, where it differs from the usual, its spread.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Source {
    /// Where the value comes from.
    pub from: Provenance,
    /// Half-width in percent of the value that holds about 80 % of the truth; the usual one of its kind when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spread_percent: Option<f64>,
}

/// Provenance by key of the record it stands in; a key that is absent is a plain statement.
pub type Sources = BTreeMap<String, Source>;

/// Widest half-width in percent: at more, the lowest of the draws of a band (2.9 standard deviations down) would be negative.
pub const WIDEST_SPREAD_PERCENT: f64 = 40.0;
/// Widest one-sided width of a seller's claim, percent.
const WIDEST_CLAIM_PERCENT: f64 = 90.0;

/// Reports spreads that would let a draw make a value negative.
pub(crate) fn check_sources(sources: &Sources, path: &str, problems: &mut Vec<Problem>) {
    for (key, source) in sources {
        let widest = if source.from == Provenance::Seller { WIDEST_CLAIM_PERCENT } else { WIDEST_SPREAD_PERCENT };
        if let Some(percent) = source.spread_percent
            && !(0.0..=widest).contains(&percent)
        {
            problems.push(Problem::new(
                format!("{}.spread_percent", join(path, &format!("sources.{key}"))),
                percent,
                format!("0 to {widest} % is accepted; a wider spread would let the value fall below zero"),
            ));
        }
    }
}
