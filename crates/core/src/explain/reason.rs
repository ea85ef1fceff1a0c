//! One step of an explanation.

use serde::Serialize;

use crate::quantity::{Provenance, Sentence};

/// One step of the way from a result to what it stands on.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Reason {
    /// What it is.
    pub title: Sentence,
    /// Its value; absent for what is no single number.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub value: Option<f64>,
    /// Unit of the value, as stored.
    pub unit: String,
    /// How it follows from the steps below it.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub formula: String,
    /// Standard, handbook or practice behind the formula.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub source: String,
    /// Path of the input in the document, for a step that is one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub path: Option<String>,
    /// Where the input comes from.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub from: Option<Provenance>,
    /// Its spread, percent.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub spread_percent: Option<f64>,
    /// What it stands on.
    #[cfg_attr(feature = "schema", schema(no_recursion))]
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub parts: Vec<Reason>,
}

impl Reason {
    pub(super) fn step(title: impl Into<Sentence>, value: f64, unit: &str) -> Self {
        Self { title: title.into(), value: value.is_finite().then_some(value), unit: unit.to_owned(), ..Self::default() }
    }

    pub(super) fn by(mut self, formula: &str, source: &str) -> Self {
        formula.clone_into(&mut self.formula);
        source.clone_into(&mut self.source);
        self
    }

    pub(super) fn resting_on(mut self, parts: impl IntoIterator<Item = Self>) -> Self {
        self.parts.extend(parts);
        self
    }
}
