//! Which inputs a figure hangs on, and which measurement would settle it.

use rayon::prelude::*;
use serde::Serialize;

use super::{Band, band, column, rows, without_paths};
use crate::cancel::Cancel;
use crate::document::Checked;
use crate::error::{Error, Result};
use crate::figures::{Figure, FigureSet};
use crate::inputs::{Counted, Measurement, UncertainInput, UncertainInputs};
use crate::quantity::sentence;
use crate::quantity::{Provenance, Sentence, figure};

/// What one input does to a figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Influence {
    /// Path of the input in the document.
    pub path: String,
    /// Its name.
    pub label: String,
    /// Where it comes from.
    pub from: Provenance,
    /// Half-width of its spread, percent; for a seller's claim the width below it.
    pub spread_percent: f64,
    /// The figure with this input at its P10, the rest at their medians; absent when never reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub low: Option<f64>,
    /// The figure with this input at its P90.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub high: Option<f64>,
    /// What would settle it.
    pub measurement: Measurement,
}

/// What one measurement would do to the band of a figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Narrowing {
    /// The measurement.
    pub measurement: Measurement,
    /// In words.
    pub advice: Sentence,
    /// Width of the band from P10 to P90 now.
    pub width_now: f64,
    /// Its width when everything the measurement settles is known as well as measured values are.
    pub width_then: f64,
}

/// A figure taken apart.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Tornado {
    /// The figure with its band.
    pub band: Band,
    /// With every input at its median; absent when never reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub central: Option<f64>,
    /// Inputs, the weightiest first.
    pub influences: Vec<Influence>,
    /// Measurements that narrow the band, the best first.
    pub narrowings: Vec<Narrowing>,
}

/// Measurements tried on the whole sample.
const TRIED: usize = 3;
/// Change below which an input is left out, share of the figure.
const LEAST_CHANGE: f64 = 1e-4;

fn finite(value: f64) -> Option<f64> {
    value.is_finite().then_some(value)
}

fn width(band: &Band) -> Option<f64> {
    Some(band.p90? - band.p10?)
}

/// Takes one headline figure of a document apart: each input from its P10 to its P90 with the rest at their medians, and the band
/// again with what each of the most promising measurements would settle.
///
/// # Errors
/// Names the figure when there is none of that id; otherwise as [`crate::estimate::estimate`].
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::{cancel::Cancel, uncertainty::tornado};
/// let cost = tornado(&Document::from_json(&demo("pipit-b")?)?, "cost", &Cancel::new())?;
/// assert!(cost.influences.iter().all(|i| i.path.contains("price")), "nothing but prices moves the cost");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn tornado(document: &Checked, figure: &str, cancel: &Cancel) -> Result<Tornado> {
    let whole = FigureSet::of(&Counted::of(document))?;
    let light = &without_paths(document);
    let known: Vec<String> = whole.figures.iter().map(|f| f.id.clone()).collect();
    let set = whole
        .only(figure)
        .ok_or_else(|| Error::field("figure", format!("\"{figure}\""), format!("known figures are: {}", known.join(", "))))?;
    let inputs = UncertainInputs::of(document);
    let one = |quantiles: (usize, f64)| -> Result<f64> {
        let place = |i: &UncertainInput| if std::ptr::eq(i, &inputs.used[quantiles.0]) { quantiles.1 } else { 0.5 };
        Ok(set.evaluate(&inputs.at(light, place), cancel)?[0])
    };
    let central = set.evaluate(&inputs.at(light, |_| 0.5), cancel)?[0];
    let ends: Vec<(f64, f64)> =
        (0..inputs.used.len()).into_par_iter().with_max_len(1).map(|i| Ok((one((i, 0.1))?, one((i, 0.9))?))).collect::<Result<_>>()?;
    let scale = central.abs().max(1e-9);
    let mut ranked: Vec<(usize, f64)> = ends
        .iter()
        .enumerate()
        .map(|(i, (low, high))| (i, (high - low).abs()))
        // Never reached at one end only is the weightiest of all; at both ends it says nothing.
        .filter(|(_, w)| !w.is_nan() && (*w > LEAST_CHANGE * scale || w.is_infinite()))
        .collect();
    ranked.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
    let influences = ranked
        .iter()
        .map(|(i, _)| {
            let input = &inputs.used[*i];
            Influence {
                path: input.definition.path.to_owned(),
                label: input.definition.label.to_owned(),
                from: input.from,
                spread_percent: 100.0 * input.spread,
                low: finite(ends[*i].0),
                high: finite(ends[*i].1),
                measurement: input.definition.measurement,
            }
        })
        .collect::<Vec<_>>();
    let of = |inputs: &UncertainInputs| -> Result<Band> {
        Ok(band(set.figures[0].clone(), central, &column(&rows(&set, light, inputs, cancel)?, 0)))
    };
    let now = of(&inputs)?;
    let mut narrowings = Vec::new();
    if let Some(width_now) = width(&now) {
        for measurement in promising(&influences) {
            let then = of(&UncertainInputs::with(document, measurement))?;
            if let Some(width_then) = width(&then).filter(|w| *w < width_now) {
                narrowings.push(Narrowing {
                    measurement,
                    advice: advice(measurement, &set.figures[0], width_now, width_then),
                    width_now,
                    width_then,
                });
            }
        }
    }
    narrowings.sort_by(|a, b| a.width_then.total_cmp(&b.width_then));
    Ok(Tornado { band: now, central: finite(central), influences, narrowings })
}

/// The measurements whose inputs sway the figure most, by the sum of their squared sways.
fn promising(influences: &[Influence]) -> Vec<Measurement> {
    let mut sums: Vec<(Measurement, f64)> = Vec::new();
    for i in influences {
        let sway = match (i.low, i.high) {
            (Some(low), Some(high)) => (high - low).powi(2),
            _ => f64::MAX,
        };
        match sums.iter_mut().find(|s| s.0 == i.measurement) {
            Some(sum) => sum.1 += sway,
            None => sums.push((i.measurement, sway)),
        }
    }
    sums.sort_by(|a, b| b.1.total_cmp(&a.1));
    sums.into_iter().take(TRIED).map(|s| s.0).collect()
}

fn advice(measurement: Measurement, of: &Figure, now: f64, then: f64) -> Sentence {
    let digits = usize::from(now < 10.0);
    sentence!("{}: band {} -> {}", measurement.word(), figure(now, of.unit, digits), figure(then, of.unit, digits))
}
