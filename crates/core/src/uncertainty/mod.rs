//! Honest uncertainty: every headline figure as a band, from the same model drawn many times.

mod figures;
mod levers;
mod sample;
mod tornado;

use rayon::prelude::*;
use serde::Serialize;

pub use figures::Figure;
pub use levers::Measurement;
pub use sample::DRAWS;
pub use tornado::{Influence, Narrowing, Tornado, tornado};

use crate::cancel::Cancel;
use crate::claims::Verdict;
use crate::document::{Document, Goal, Trip};
use crate::error::Result;
use crate::quantity::Provenance;
use crate::trip::Trace;
use figures::Plan;
pub(crate) use figures::{Bench, Hold, Kind, Setup, hold, of_goal};
use sample::Inputs;

/// A headline figure with its band.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Band {
    /// What it is of.
    #[serde(flatten)]
    pub figure: Figure,
    /// One draw in ten lies below; absent when that draw never gets there.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub p10: Option<f64>,
    /// Half of the draws lie below.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub p50: Option<f64>,
    /// Nine draws in ten lie below.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub p90: Option<f64>,
}

/// How sure a goal is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Odds {
    /// Goal id.
    pub goal: String,
    /// The figure it is judged by.
    pub figure: String,
    /// Share of the draws that meet it.
    pub probability: f64,
    /// In a word.
    pub verdict: Verdict,
}

/// Bands of every headline figure, and how sure every goal is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Bands {
    /// Draws made.
    pub draws: u32,
    /// Bands.
    pub bands: Vec<Band>,
    /// Goals.
    pub odds: Vec<Odds>,
}

/// The document with every seller's claim at the median of what it may really be; everything else as it stands. All single
/// figures are computed from this.
#[must_use]
pub fn counted(document: &Document) -> Document {
    Inputs::of(document).at(document, |_| 0.5)
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
pub fn trusted_inputs(document: &Document) -> Vec<InputTrust> {
    let trust = |i: &sample::Input| InputTrust {
        path: i.lever.path.to_owned(),
        label: i.lever.label.to_owned(),
        from: i.from,
        spread_percent: 100.0 * i.spread,
        counted_share: if i.is_claim() { i.factor(0.5) } else { 1.0 },
    };
    Inputs::of(document).used.iter().map(trust).collect()
}

/// Where a quantile lies in sorted values, linear between neighbours; absent where it is never reached.
fn quantile(sorted: &[f64], share: f64) -> Option<f64> {
    let at = share * (sorted.len() - 1) as f64;
    let (low, high) = (sorted[at.floor() as usize], sorted[at.ceil() as usize]);
    let value = low + (high - low) * at.fract();
    // Infinity less infinity, when both neighbours are never reached.
    value.is_finite().then_some(value)
}

/// Every figure of every draw, a row a draw. Draws are independent and each has its place, so the threads used do not matter.
fn draws(plan: &Plan, inputs: &Inputs, cancel: &Cancel) -> Result<Vec<Vec<f64>>> {
    (0..DRAWS).into_par_iter().map(|i| plan.compute(&inputs.draw(&plan.base, i), cancel)).collect()
}

/// The first of some goals (figure, target, whether more is better) that fewer than nine in ten of the first `draws` draws meet;
/// given up as soon as one has failed too often.
pub(crate) fn nine_in_ten(
    document: &Document,
    trips: &[(Trip, Trace)],
    goals: &[(Kind, f64, bool)],
    draws: u32,
    cancel: &Cancel,
) -> Result<Option<usize>> {
    let inputs = Inputs::of(document);
    let mut failed = vec![0; goals.len()];
    for i in 0..draws {
        let drawn = inputs.draw(document, i);
        let setup = Setup::of(&drawn)?;
        let mut bench = Bench::new(&drawn, &setup, trips, cancel);
        for (place, (kind, target, more_is_better)) in goals.iter().enumerate() {
            let value = bench.value(*kind)?;
            let met = if *more_is_better { value >= *target } else { value <= *target };
            failed[place] += u32::from(!met);
            if failed[place] * 10 > draws {
                return Ok(Some(place));
            }
        }
    }
    Ok(None)
}

fn column(rows: &[Vec<f64>], i: usize) -> Vec<f64> {
    let mut values: Vec<f64> = rows.iter().map(|row| row[i]).collect();
    values.sort_by(f64::total_cmp);
    values
}

fn band(figure: Figure, sorted: &[f64]) -> Band {
    Band { figure, p10: quantile(sorted, 0.1), p50: quantile(sorted, 0.5), p90: quantile(sorted, 0.9) }
}

/// Bands of a checked document: P10, P50 and P90 of every headline figure over [`DRAWS`] draws of its uncertain inputs.
///
/// The draws come from a scrambled Sobol sequence (Owen scrambling after Burley, Practical Hash-based Owen Scrambling, JCGT 2020)
/// with a fixed seed, so the same document gives the same bands to the last bit.
///
/// # Errors
/// As [`crate::estimate::estimate`].
pub fn bands(document: &Document, cancel: &Cancel) -> Result<Bands> {
    document.check()?;
    let plan = Plan::of(&counted(document))?;
    let inputs = Inputs::of(document);
    // Claims are drawn from the claim itself, not from its median.
    let plan = plan.based_on(document);
    let rows = draws(&plan, &inputs, cancel)?;
    let columns: Vec<Vec<f64>> = (0..plan.figures.len()).map(|i| column(&rows, i)).collect();
    let odds = document.brief.goals.iter().filter_map(|goal| odds(goal, &plan, &columns)).collect();
    let bands = plan.figures.iter().cloned().zip(&columns).map(|(figure, sorted)| band(figure, sorted)).collect();
    Ok(Bands { draws: DRAWS, bands, odds })
}

fn odds(goal: &Goal, plan: &Plan, columns: &[Vec<f64>]) -> Option<Odds> {
    let figure = of_goal(&goal.measure);
    let place = plan.figures.iter().position(|f| f.id == figure)?;
    let target = goal.measure.target();
    let more = plan.figures[place].more_is_better;
    let met = columns[place].iter().filter(|v| if more { **v >= target } else { **v <= target }).count();
    let probability = met as f64 / columns[place].len() as f64;
    Some(Odds { goal: goal.id.clone(), figure, probability, verdict: Verdict::of(probability) })
}
