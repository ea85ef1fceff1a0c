//! Rules with stable ids that compare two figures of a design and say what to change.

mod charging;
mod electrics;
mod layout;
mod mechanics;
mod rule;
mod rules;
mod trust;

use serde::Serialize;

pub(crate) use mechanics::held_words;
pub use rule::Rule;

use crate::document::{Checked, Slot};
use crate::electrics::Sizing;
use crate::estimate::Estimate;
use crate::powertrain::Chain;
use crate::quantity::Sentence;

/// How grave a finding is. A design with a stop can be saved but is not ready.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Severity {
    /// Something will be damaged, or someone may be hurt.
    Stop,
    /// It will disappoint or age early.
    Warn,
    /// Worth knowing.
    Note,
}

/// One thing found.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Finding {
    /// Stable id of the rule.
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub rule: Rule,
    /// How grave.
    pub severity: Severity,
    /// What is wrong, with both figures.
    pub message: Sentence,
    /// Why it matters.
    pub why: String,
    /// What to change.
    pub change: String,
    /// Standard, or "common practice".
    pub source: String,
    /// The figure found.
    pub found: f64,
    /// The figure it is held against.
    pub limit: f64,
    /// Unit of both.
    pub unit: String,
    /// Link of the chain it belongs to.
    pub part: String,
    /// Place in the circuits that it is about, where it is about one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub slot: Option<Slot>,
}

/// What a rule looks at.
pub(crate) struct Evidence<'a> {
    pub(crate) document: &'a Checked,
    pub(crate) chain: &'a Chain,
    pub(crate) estimate: &'a Estimate,
    pub(crate) sizing: &'a Sizing<'a>,
}

/// Runs every rule; the gravest come first, in the order of the rules.
#[must_use]
pub fn find(document: &Checked, chain: &Chain, estimate: &Estimate) -> Vec<Finding> {
    let sizing = Sizing::of(document, chain, estimate);
    find_sized(document, &sizing, estimate)
}

/// As [`find`], with the circuits sized already.
#[must_use]
pub(crate) fn find_sized(document: &Checked, sizing: &Sizing<'_>, estimate: &Estimate) -> Vec<Finding> {
    let evidence = Evidence { document, chain: sizing.chain, estimate, sizing };
    let mut findings: Vec<Finding> = rules::ALL.iter().flat_map(|rule| rule(&evidence)).collect();
    findings.sort_by_key(|f| f.severity);
    findings
}
