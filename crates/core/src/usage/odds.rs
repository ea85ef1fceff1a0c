//! How sure a week is: the same week driven with many samples of the uncertain inputs.

use rayon::prelude::*;
use serde::Serialize;

use super::years::{SAMPLES, Spread, spread};
use super::{WeekRun, both};
use crate::cancel::Cancel;
use crate::document::{Checked, Week};
use crate::error::Result;
use crate::figures::Verdict;
use crate::inputs::{Counted, UncertainInputs};

/// How sure the week of one season is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WeekOdds {
    /// `summer` or `winter`.
    pub season: String,
    /// Samples of the uncertain inputs.
    pub samples: u32,
    /// Share of them in which the week holds.
    pub probability: f64,
    /// In a word.
    pub verdict: Verdict,
    /// Lowest state of charge of the week.
    pub lowest_soc: Spread,
    /// Out of sockets in the week, kWh; its ends are absent where such a sample cannot make a trip.
    pub socket_kwh: Spread,
    /// The trip that fails in most of the samples in which one does; absent when none does.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fails_at: Option<String>,
}

/// How sure the week of a document is, in summer and in winter.
///
/// # Errors
/// As [`super::week`].
pub fn week_odds(document: &Checked, cancel: &Cancel) -> Result<Vec<WeekOdds>> {
    let week = Week::of(&document.brief);
    let central = both(&Counted::of(document), &week, cancel)?;
    let inputs = UncertainInputs::of(document);
    let samples: Vec<Vec<WeekRun>> =
        (0..SAMPLES).into_par_iter().map(|i| both(&inputs.sample(document, i), &week, cancel)).collect::<Result<_>>()?;
    let of = |(place, run): (usize, WeekRun)| {
        let runs = || samples.iter().map(|seasons| &seasons[place]);
        let holding = runs().filter(|r| r.shortfall.is_none()).count();
        let probability = holding as f64 / f64::from(SAMPLES);
        let socket_kwh = |r: &WeekRun| if r.shortfall.is_some() { f64::INFINITY } else { r.day_kwh + r.night_kwh };
        let failing: Vec<&str> = runs().filter_map(|r| r.shortfall.as_ref()).map(|s| s.trip.as_str()).collect();
        let often = |trip: &str| failing.iter().filter(|t| **t == trip).count();
        WeekOdds {
            samples: SAMPLES,
            probability,
            verdict: Verdict::of(probability),
            lowest_soc: spread(run.lowest_soc, runs().map(|r| r.lowest_soc).collect()),
            socket_kwh: spread(run.day_kwh + run.night_kwh, runs().map(socket_kwh).collect()),
            fails_at: failing.iter().max_by_key(|trip| often(trip)).map(|trip| (*trip).to_owned()),
            season: run.season,
        }
    };
    Ok(central.into_iter().enumerate().map(of).collect())
}
