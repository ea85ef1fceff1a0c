//! Everything about a design in one answer: its estimate, every goal judged, what the rules found and, where asked for, the bands.

use std::ops::Deref;

use serde::Serialize;

use crate::cancel::Cancel;
use crate::claims::{Claim, judge};
use crate::document::Checked;
use crate::error::Result;
use crate::estimate::{Estimate, Paces, with_paces};
use crate::figures::Verdict;
use crate::findings::{Finding, find};
use crate::inputs::Counted;
use crate::powertrain::Chain;
use crate::uncertainty::{Bands, bands};

/// An estimate with its judgement. Keys carry their units. A pure function of the document: never stored as truth, always recomputed.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Report {
    /// What it will do.
    #[serde(flatten)]
    pub estimate: Estimate,
    /// Every goal judged.
    pub claims: Vec<Claim>,
    /// What the rules found.
    pub findings: Vec<Finding>,
    /// Headline figures as bands; absent where only the central figures were asked for.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub bands: Option<Bands>,
}

impl Deref for Report {
    type Target = Estimate;

    fn deref(&self) -> &Estimate {
        &self.estimate
    }
}

/// Reports on a document from its central figures.
///
/// # Errors
/// [`crate::error::Error::Invalid`] naming the parts that have not been chosen.
pub fn report(document: &Checked) -> Result<Report> {
    report_until(document, &Cancel::new())
}

/// As [`report`], ended early when `cancel` says so.
///
/// # Errors
/// As [`report`], and [`crate::error::Error::Cancelled`].
pub fn report_until(document: &Checked, cancel: &Cancel) -> Result<Report> {
    report_with_paces(document, Paces::Told, cancel)
}

/// As [`report_until`], with or without the paces at which trips too quick for the chain can be held, which claims are worded with.
pub(crate) fn report_with_paces(document: &Checked, paces: Paces, cancel: &Cancel) -> Result<Report> {
    let counted = Counted::of(document);
    let estimate = with_paces(&counted, paces, cancel)?;
    let claims = counted.brief.goals.iter().map(|goal| judge(goal, &counted, &estimate)).collect();
    let findings = find(document, &Chain::of(&counted, estimate.masses.test_kg)?, &estimate);
    Ok(Report { estimate, claims, findings, bands: None })
}

/// As [`report`], with the bands; the verdict of each claim follows from the share of the samples that meet it.
///
/// # Errors
/// As [`report`].
pub fn report_with_bands(document: &Checked) -> Result<Report> {
    let mut report = report(document)?;
    let bands = bands(document, &Cancel::new())?;
    for claim in &mut report.claims {
        if let Some(odds) = bands.odds.iter().find(|o| o.goal == claim.goal) {
            claim.probability = Some(odds.probability);
            if claim.verdict != Verdict::CannotTell {
                claim.verdict = odds.verdict;
            }
        }
    }
    report.bands = Some(bands);
    Ok(report)
}
