//! Honest uncertainty: every headline figure as a band, from the same model run on many samples of its inputs.

mod tornado;

use rayon::prelude::*;
use serde::Serialize;
use statrs::statistics::{Data, OrderStatistics};

pub use tornado::{Influence, Narrowing, Tornado, tornado};

use crate::cancel::Cancel;
use crate::document::{Checked, Document, Goal, Trip, TripPath};
use crate::error::Result;
use crate::figures::{Evaluator, Figure, FigureKind, FigureSet, OperatingPoint, Verdict};
use crate::inputs::{Counted, SAMPLES, UncertainInputs};
use crate::trip::Trace;

/// A headline figure with its band.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Band {
    /// What it is of.
    #[serde(flatten)]
    pub figure: Figure,
    /// The figure of the estimate, every input at its median; absent when it is never reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub central: Option<f64>,
    /// One sample in ten lies below; absent when that sample never gets there.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub p10: Option<f64>,
    /// Half of the samples lie below.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub p50: Option<f64>,
    /// Nine samples in ten lie below.
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
    /// Share of the samples that meet it.
    pub probability: f64,
    /// In a word.
    pub verdict: Verdict,
}

/// Bands of every headline figure, and how sure every goal is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Bands {
    /// Samples of the uncertain inputs.
    pub samples: u32,
    /// Bands.
    pub bands: Vec<Band>,
    /// Goals.
    pub odds: Vec<Odds>,
}

/// A quantile of some values by the definition that is unbiased for the median (number 8 of Hyndman and Fan, Sample Quantiles in
/// Statistical Packages, The American Statistician 50, 1996); absent where it is never reached.
pub(crate) fn quantile(values: &mut Data<Vec<f64>>, share: f64) -> Option<f64> {
    // Infinity less infinity is no number, when both neighbours are never reached.
    Some(values.quantile(share)).filter(|value| value.is_finite())
}

/// Every figure of every sample, a row a sample. Samples are independent and each has its place, so the threads used do not matter.
fn rows(set: &FigureSet, written: &Checked, inputs: &UncertainInputs, cancel: &Cancel) -> Result<Vec<Vec<f64>>> {
    (0..SAMPLES).into_par_iter().with_max_len(4).map(|i| set.evaluate(&inputs.sample(written, i), cancel)).collect()
}

/// Whether fewer than nine in ten meet a goal that so many of some samples miss.
fn are_too_many(missed: u32, samples: u32) -> bool {
    missed * 10 > samples
}

/// The factor on all prices of a design that nine in ten of the first `samples` samples stay within: what costs more than is allowed at it does
/// so in too many of them.
pub(crate) fn dear_prices(document: &Document, samples: u32) -> f64 {
    let inputs = UncertainInputs::of(document);
    let mut factors: Vec<f64> = (0..samples).map(|i| inputs.prices(i)).collect();
    factors.sort_by(|a, b| b.total_cmp(a));
    let mut dearest = factors.into_iter().zip(1..).skip_while(|(_, as_dear)| !are_too_many(*as_dear, samples));
    dearest.next().map_or(1.0, |(factor, _)| factor)
}

/// How some goals fare in the first samples of a document.
pub(crate) struct Doubt {
    /// The first goal that fewer than nine in ten of them meet, by its place.
    pub(crate) unsure: Option<usize>,
    /// Samples, of those that were looked at, in which a goal was missed.
    pub(crate) missed_in: Vec<u32>,
}

/// Whether nine in ten of some samples meet every goal (figure, target, whether more is better); given up as soon as one has failed too often, so
/// the samples that fail first had best come first.
pub(crate) fn nine_in_ten(
    document: &Checked,
    trips: &[(Trip, Trace)],
    goals: &[(FigureKind, f64, bool)],
    samples: &[u32],
    cancel: &Cancel,
) -> Result<Doubt> {
    let inputs = UncertainInputs::of(document);
    let (all, mut failed, mut missed_in) = (samples.len() as u32, vec![0; goals.len()], Vec::new());
    for (index, left) in samples.iter().zip((1..=all).rev()) {
        // Nothing more is asked of a goal that the samples left cannot fail.
        let is_open = |failed: u32| are_too_many(failed + left, all);
        if !failed.iter().any(|f| is_open(*f)) {
            break;
        }
        let sample = inputs.sample(document, *index);
        let point = OperatingPoint::of(&sample)?;
        let mut evaluator = Evaluator::new(&sample, &point, trips, cancel);
        for ((place, (kind, target, more_is_better)), failed) in goals.iter().enumerate().zip(&mut failed).filter(|(_, f)| is_open(**f)) {
            let value = evaluator.value(*kind)?;
            let met = if *more_is_better { value >= *target } else { value <= *target };
            if met {
                continue;
            }
            *failed += 1;
            if missed_in.last() != Some(index) {
                missed_in.push(*index);
            }
            if are_too_many(*failed, all) {
                return Ok(Doubt { unsure: Some(place), missed_in });
            }
        }
    }
    Ok(Doubt { unsure: None, missed_in })
}

fn column(rows: &[Vec<f64>], i: usize) -> Vec<f64> {
    let mut values: Vec<f64> = rows.iter().map(|row| row[i]).collect();
    values.sort_by(f64::total_cmp);
    values
}

fn band(figure: Figure, central: f64, sorted: &[f64]) -> Band {
    let mut values = Data::new(sorted.to_vec());
    let central = Some(central).filter(|value| value.is_finite());
    Band { figure, central, p10: quantile(&mut values, 0.1), p50: quantile(&mut values, 0.5), p90: quantile(&mut values, 0.9) }
}

/// Bands of a document: P10, P50 and P90 of every headline figure over [`SAMPLES`] samples of its uncertain inputs.
///
/// The samples come from a scrambled Sobol sequence (Owen scrambling after Burley, Practical Hash-based Owen Scrambling, JCGT 2020)
/// with a fixed seed, so the same document gives the same bands to the last bit.
///
/// # Errors
/// As [`crate::estimate::estimate`].
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::{cancel::Cancel, uncertainty::bands};
/// let bands = bands(&Document::from_json(&demo("pipit-b")?)?, &Cancel::new())?;
/// assert!(bands.bands.iter().all(|b| b.p10 <= b.p50 && b.p50 <= b.p90 || b.p90.is_none() || b.p10.is_none()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn bands(document: &Checked, cancel: &Cancel) -> Result<Bands> {
    let set = FigureSet::of(&Counted::of(document))?;
    // Claims are sampled from the claim itself, not from its median.
    let light = without_paths(document);
    let rows = rows(&set, &light, &UncertainInputs::of(document), cancel)?;
    let columns: Vec<Vec<f64>> = (0..set.figures.len()).map(|i| column(&rows, i)).collect();
    let odds = document.brief.goals.iter().filter_map(|goal| odds(document, goal, &set, &columns)).collect();
    let central = set.evaluate(&Counted::of(&light), cancel)?;
    let banded = set.figures.iter().cloned().zip(central).zip(&columns);
    let bands = banded.map(|((figure, central), sorted)| band(figure, central, sorted)).collect();
    Ok(Bands { samples: SAMPLES, bands, odds })
}

/// The document without the paths of its trips, which can be long and are not needed in a sample.
fn without_paths(document: &Checked) -> Checked {
    document.with_sound(|d| d.brief.trips.iter_mut().for_each(|t| t.path = TripPath::Segments(Vec::new())))
}

fn odds(document: &Checked, goal: &Goal, set: &FigureSet, columns: &[Vec<f64>]) -> Option<Odds> {
    let figure = FigureKind::of(document, &goal.measure).figure(document).id;
    let place = set.figures.iter().position(|f| f.id == figure)?;
    let target = goal.measure.target();
    let more = set.figures[place].more_is_better;
    let met = columns[place].iter().filter(|v| if more { **v >= target } else { **v <= target }).count();
    let probability = met as f64 / columns[place].len() as f64;
    Some(Odds { goal: goal.id.clone(), figure, probability, verdict: Verdict::of(probability) })
}
