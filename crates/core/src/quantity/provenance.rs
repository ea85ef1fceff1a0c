//! Where a value comes from and how far it is trusted.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::fields::{Entry, Group};
use super::read::join;
use crate::error::{Problem, Problems};

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

/// Ratings that sellers overstate, by their key: only these carry a claim's one-sided width.
pub(crate) const CLAIMABLE: [&str; 19] = [
    "model.peak_torque_nm",
    "model.peak_power_w",
    "model.points",
    "model.peak_current_a",
    "continuous_power_w",
    "continuous_torque_nm",
    "battery_current_a",
    "battery_current_continuous_a",
    "motor_current_a",
    "motor_current_continuous_a",
    "max_power_w",
    "regeneration_current_a",
    "capacity_ah",
    "capacity_share",
    "peak_c",
    "continuous_c",
    "charge_c",
    "output_power_w",
    "output_current_a",
];

/// Whether a rating is one that sellers overstate, by its key alone.
#[must_use]
pub fn is_claimable(key: &str) -> bool {
    CLAIMABLE.iter().any(|c| c.rsplit('.').next() == Some(key))
}

/// Keys of a record that a mark may speak of: its numbers, dotted below the record, and what holds them.
fn keys_of(group: &Group, path: &str, out: &mut Vec<String>) {
    for entry in group.entries {
        match entry {
            Entry::Number(field) => out.push(join(path, field.key)),
            Entry::List(key, ..) => out.push(join(path, key)),
            Entry::Object(key, inner) => {
                out.push(join(path, key));
                keys_of(inner, &join(path, key), out);
            }
        }
    }
}

/// Reports marks on values the record does not have (with the nearest that it has), and spreads that would let a draw make a value
/// negative. `beside` names what a mark may speak of beside the numbers of `group`.
pub(crate) fn check_sources(sources: &Sources, path: &str, (group, beside): (&Group, &[&str]), problems: &mut Problems) {
    if sources.is_empty() {
        return;
    }
    let mut known: Vec<String> = beside.iter().map(|k| (*k).to_owned()).collect();
    keys_of(group, "", &mut known);
    for (key, source) in sources {
        let at = join(path, &format!("sources.{key}"));
        if !known.contains(key) {
            let near = |k: &&String| strsim::damerau_levenshtein(k, key);
            let nearest = known.iter().min_by_key(near).map_or_else(String::new, |k| format!("; the nearest is {k}"));
            problems.push(Problem::new(&at, "a mark on a value that is not there", format!("keys of the record are accepted{nearest}")));
        }
        let claim = source.from == Provenance::Seller && CLAIMABLE.contains(&key.as_str());
        let widest = if claim { WIDEST_CLAIM_PERCENT } else { WIDEST_SPREAD_PERCENT };
        if let Some(percent) = source.spread_percent
            && !(0.0..=widest).contains(&percent)
        {
            problems.push(Problem::new(
                format!("{at}.spread_percent"),
                percent,
                format!("0 to {widest} % is accepted; a wider spread would let the value fall below zero"),
            ));
        }
    }
}
