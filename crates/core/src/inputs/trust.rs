//! How far each input is trusted, and the document with every seller's claim at its median.

use std::ops::Deref;

use serde::Serialize;

use super::{UncertainInput, UncertainInputs};
use crate::document::{Checked, Document};
use crate::quantity::Provenance;

/// A checked document whose uncertain inputs are settled, each at some quantile of what it may really be: no seller's claim in it is
/// as it was written. All figures are computed from one of these, so that none can be computed from a boast.
#[derive(Debug, Clone, PartialEq)]
pub struct Counted(pub(super) Document);

impl Counted {
    /// Every seller's claim at the median of what it may really be; everything else as it stands.
    ///
    /// ```
    /// use joulethesis_core::{document::Document, inputs::Counted};
    /// let mut written: serde_json::Value = serde_json::from_str(include_str!("../../../../demo/whimbrel-9-a.json"))?;
    /// written["design"]["controller"]["sources"]["battery_current_a"] = serde_json::json!({ "from": "seller" });
    /// let written = Document::from_value(&written)?;
    /// let amps = |d: &Document| d.design.controller.as_ref().map(|c| c.battery_current_a);
    /// assert!(amps(&Counted::of(&written)) < amps(&written));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn of(document: &Checked) -> Self {
        UncertainInputs::of(document).at(document, |_| 0.5)
    }

    /// The same with something in it exchanged for what is counted already.
    pub(crate) fn with(mut self, change: impl FnOnce(&mut Document)) -> Self {
        self.set(change);
        self
    }

    /// As [`Self::with`], in place: for one of which many are made in turn.
    pub(crate) fn set(&mut self, change: impl FnOnce(&mut Document)) {
        change(&mut self.0);
    }
}

impl Deref for Counted {
    type Target = Document;

    fn deref(&self) -> &Document {
        &self.0
    }
}

/// How far one input of a document is trusted.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct InputTrust {
    /// Path in the document.
    pub path: String,
    /// Its name.
    pub label: String,
    /// Where it comes from; the usual provenance of its kind when the document does not say.
    pub from: Provenance,
    /// Half-width that holds about 80 %, percent; for a seller's claim the width below it.
    pub spread_percent: f64,
    /// Share of the value that is counted on: 1, or less for a seller's claim.
    pub counted_share: f64,
}

/// Every uncertain input of a document, in the order of the chain.
#[must_use]
pub fn trusted_inputs(document: &Checked) -> Vec<InputTrust> {
    let trust = |i: &UncertainInput| InputTrust {
        path: i.definition.path.to_owned(),
        label: i.definition.label.to_owned(),
        from: i.from,
        spread_percent: 100.0 * i.spread,
        counted_share: if i.is_claim() { i.factor(0.5) } else { 1.0 },
    };
    UncertainInputs::of(document).used.iter().map(trust).collect()
}
