//! What passes by the clock tell of the donor, beside what the conversion will do with the same people aboard.

use serde::Serialize;
use statrs::distribution::{ContinuousCDF, StudentsT};

use crate::cancel::Cancel;
use crate::document::{Checked, TimedPasses};
use crate::error::{Error, Result};
use crate::figures::{Evaluator, FigureKind, OperatingPoint};
use crate::inputs::Counted;
use crate::quantity::{Sentence, figure, sentence};

/// One pass, run several times.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PassResult {
    /// Mean of the runs, s; absent without any.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mean_s: Option<f64>,
    /// Nine times in ten the true time lies within this of the mean, s; absent with fewer than two runs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub within_s: Option<f64>,
    /// What the conversion takes with the same mass aboard, s; absent where it never gets there, or has no chain yet.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub converted_s: Option<f64>,
    /// What makes the runs doubtful.
    pub doubts: Vec<Sentence>,
}

/// Runs that tell a time (common practice: three, same place, warm).
const ENOUGH_RUNS: usize = 3;
/// Runs that differ by more than this of their mean were not the same pass.
const MOST_APART: f64 = 0.08;
/// What a hand at the clock is off by, s (common practice).
const HAND_S: f64 = 0.1;
/// Share of samples beyond the upper end of a band of nine in ten.
const UPPER: f64 = 0.95;

/// What the timed passes of a donor tell, in their order.
///
/// # Errors
/// [`Error::Cancelled`]; a design without a chain just has nothing beside it.
pub fn passes(document: &Checked, cancel: &Cancel) -> Result<Vec<PassResult>> {
    document.donor.evidence.passes.iter().map(|p| one(document, p, cancel)).collect()
}

fn one(document: &Checked, passes: &TimedPasses, cancel: &Cancel) -> Result<PassResult> {
    let runs: Vec<f64> = passes.runs.iter().map(|r| r.seconds).collect();
    let n = runs.len() as f64;
    let mean_s = (!runs.is_empty()).then(|| runs.iter().sum::<f64>() / n);
    let within_s = mean_s.filter(|_| runs.len() > 1).and_then(|mean| {
        let variance = runs.iter().map(|s| (s - mean).powi(2)).sum::<f64>() / (n - 1.0);
        let t = StudentsT::new(0.0, 1.0, n - 1.0).ok()?.inverse_cdf(UPPER);
        Some((t * (variance / n).sqrt()).max(HAND_S))
    });
    let mut doubts = Vec::new();
    if (1..ENOUGH_RUNS).contains(&runs.len()) {
        doubts.push(sentence!("{} of the {} runs that tell a time", runs.len() as u32, ENOUGH_RUNS as u32));
    }
    if let Some(mean) = mean_s {
        let (least, most) = runs.iter().fold((f64::INFINITY, 0.0_f64), |(a, b), s| (a.min(*s), b.max(*s)));
        if most - least > MOST_APART * mean {
            let apart = figure(most - least, "s", 1);
            doubts.push(sentence!("the runs differ by {}: another slope, wind, gear change, or a cold engine", apart));
        }
    }
    let converted_s = match converted(document, passes, cancel) {
        Err(Error::Cancelled) => return Err(Error::Cancelled),
        other => other.ok().filter(|s| s.is_finite()),
    };
    Ok(PassResult { mean_s, within_s, converted_s, doubts })
}

/// The same pass after the conversion, s.
fn converted(document: &Checked, passes: &TimedPasses, cancel: &Cancel) -> Result<f64> {
    let laden = document.with(|d| {
        if passes.aboard_kg > 0.0 {
            (d.brief.driver_kg, d.brief.payload_kg) = (passes.aboard_kg, 0.0);
        }
    })?;
    let counted = Counted::of(&laden);
    let point = OperatingPoint::of(&counted)?;
    Evaluator::new(&counted, &point, &[], cancel).value(FigureKind::Acceleration(passes.from_kmh, passes.to_kmh))
}
