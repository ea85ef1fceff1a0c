//! A drive that was measured, held against what the design predicts for it, and what would explain the difference.

use rayon::prelude::*;
use serde::Serialize;
use statrs::statistics::Data;

use super::drive_causes::families;
use crate::cancel::Cancel;
use crate::document::{Checked, MeasuredDrive, Trip};
use crate::error::Result;
use crate::figures::{Evaluator, OperatingPoint, trips};
use crate::inputs::{Counted, UncertainInputs};
use crate::quantity::{Sentence, figure, sentence, straight_crossing};
use crate::trip::Trace;
use crate::uncertainty::quantile;

/// How a measured drive compares.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DriveVerdict {
    /// Within what eight in ten draws of the doubts predict.
    Agrees,
    /// It took more.
    Above,
    /// It took less.
    Below,
    /// It says nothing of what it took, or the design cannot follow the trip.
    CannotTell,
}

/// One cause that alone would explain the difference.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DriveCause {
    /// What, in a word or two.
    pub cause: &'static str,
    /// What would have to be so, in words.
    pub says: Sentence,
    /// How far that is from what is known, over how far it is usually off: the smaller, the likelier.
    pub usual_times: f64,
}

/// What a measured drive says of the design.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DriveAnswer {
    /// Agrees, above or below.
    pub verdict: DriveVerdict,
    /// The answer in a sentence.
    pub says: Sentence,
    /// Measured over predicted; absent where neither can be told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub ratio: Option<f64>,
    /// Causes that alone would explain the difference, the likeliest first; empty where it agrees.
    pub causes: Vec<DriveCause>,
    /// Causes that, taken as far as they go, do not explain it alone, each in a word or two.
    pub not_alone: Vec<&'static str>,
}

/// Samples of the doubts that a drive is held against.
const DRAWS: u32 = 128;
/// Share of them below the band, and above it.
const TAIL: f64 = 0.1;

/// How near to what was measured a cause is taken, share of it.
const NEAR: f64 = 1e-4;

/// Answers to every measured drive of a trip, in its order.
///
/// # Errors
/// Names the trip when the document has none of that id, or the parts that have not been chosen.
pub fn drive_answers(document: &Checked, trip: &str, cancel: &Cancel) -> Result<Vec<DriveAnswer>> {
    let trip = trips::find(document, trip)?;
    trip.drives.iter().map(|drive| answer(document, &trip, drive, cancel)).collect()
}

/// The document with the drive's own conditions as its only trip.
fn conditions(document: &Checked, trip: &Trip, drive: &MeasuredDrive) -> Checked {
    document.with_sound(|d| {
        let mut own = Trip { drives: Vec::new(), ..trip.clone() };
        if let Some(celsius) = drive.temperature_c {
            own.weather.get_or_insert_default().temperature_c = Some(celsius);
        }
        own.payload_kg = drive.payload_kg.or(own.payload_kg);
        own.hvac_w = drive.hvac_w.unwrap_or(own.hvac_w);
        d.brief.trips = vec![own];
        d.brief.schedules.clear();
        d.brief.goals.clear();
    })
}

/// What one counted document predicts for a drive at a pace: kWh, or the share of the charge; infinite where the trip is not followed.
struct Asked<'a> {
    by_energy: bool,
    distance_km: f64,
    cancel: &'a Cancel,
}

impl Asked<'_> {
    fn along(&self, document: &Counted, trace: &Trace) -> Result<f64> {
        let point = OperatingPoint::of(document)?;
        let trips = [(document.brief.trips[0].clone(), trace.clone())];
        let driven = Evaluator::new(document, &point, &trips, self.cancel).trip(0)?;
        Ok(self.distance_km * if self.by_energy { driven.wh_per_km / 1000.0 } else { driven.soc_per_km })
    }

    /// The trip as this document drives it.
    fn trace(&self, document: &Counted) -> Result<Trace> {
        let trip = &document.brief.trips[0];
        Ok(trips::trace(document, &trips::chain(document, trip)?, trip, trip.driving_style))
    }

    fn of(&self, document: &Counted, pace: f64) -> Result<f64> {
        let trace = self.trace(document)?;
        self.along(document, &if pace == 1.0 { trace } else { trace.at_pace(pace) })
    }

    /// What it took beside what is predicted, with the band of it.
    fn said(&self, stands: Sentence, measured: f64, predicted: f64, (low, high): (f64, f64)) -> Sentence {
        let it_took = |took, of, predicted, low, high| {
            stands.then(sentence!(": it took {}{}, predicted {} ({} to {})", took, of, predicted, low, high))
        };
        if self.by_energy {
            let kwh = |x: f64| figure(x, "kWh", 2);
            it_took(kwh(measured), "", kwh(predicted), kwh(low), kwh(high))
        } else {
            let percent = |x: f64| figure(100.0 * x, "%", 0);
            it_took(percent(measured), " of the charge", percent(predicted), percent(low), percent(high))
        }
    }
}

fn answer(document: &Checked, trip: &Trip, drive: &MeasuredDrive, cancel: &Cancel) -> Result<DriveAnswer> {
    let silent =
        |says: Sentence| DriveAnswer { verdict: DriveVerdict::CannotTell, says, ratio: None, causes: Vec::new(), not_alone: Vec::new() };
    let Some(measured) = drive.energy_kwh.or(drive.charge_used) else {
        return Ok(silent("say what it took: the share of the charge, or the energy out of the pack".into()));
    };
    let written = conditions(document, trip, drive);
    let asked = Asked { by_energy: drive.energy_kwh.is_some(), distance_km: drive.distance_km, cancel };
    let central = Counted::of(&written);
    let trace = asked.trace(&central)?;
    let predicted = asked.along(&central, &trace)?;
    if !predicted.is_finite() || predicted <= 0.0 {
        return Ok(silent("the design cannot follow this trip, so there is nothing to hold it against".into()));
    }
    let inputs = UncertainInputs::of(&written);
    let mut drawn: Vec<f64> =
        (0..DRAWS).into_par_iter().map(|i| asked.along(&inputs.sample(&written, i), &trace)).collect::<Result<_>>()?;
    // A draw that cannot follow the trip says nothing of what it takes; the median can.
    drawn.retain(|x| x.is_finite());
    drawn.push(predicted);
    let mut drawn = Data::new(drawn);
    let [low, high] = [TAIL, 1.0 - TAIL].map(|share| quantile(&mut drawn, share).unwrap_or(predicted));
    let ratio = measured / predicted;
    let verdict = match measured {
        m if m > high => DriveVerdict::Above,
        m if m < low => DriveVerdict::Below,
        _ => DriveVerdict::Agrees,
    };
    let stands = match verdict {
        DriveVerdict::Above => sentence!("{} more than predicted", figure(100.0 * (ratio - 1.0), "%", 0)),
        DriveVerdict::Below => sentence!("{} less than predicted", figure(100.0 * (1.0 - ratio), "%", 0)),
        _ => "agrees".into(),
    };
    let says = asked.said(stands, measured, predicted, (low, high));
    let mut answer = DriveAnswer { verdict, says, ratio: Some(ratio), causes: Vec::new(), not_alone: Vec::new() };
    if verdict == DriveVerdict::Agrees {
        return Ok(answer);
    }
    for family in families(&central, &inputs, drive, asked.by_energy) {
        cancel.check()?;
        let end = if verdict == DriveVerdict::Above { family.more } else { family.less };
        if end == family.now {
            continue;
        }
        let short = |x: f64| {
            let (changed, pace) = (family.apply)(central.clone(), x);
            asked.of(&changed, pace).map_or(f64::NAN, |value| value.min(1e3 * measured) / measured - 1.0)
        };
        // Where the trip is no longer followed there is a jump, and no cause.
        match straight_crossing(family.now.min(end), family.now.max(end), NEAR, short).filter(|x| short(*x).abs() < 10.0 * NEAR) {
            Some(x) => answer.causes.push(DriveCause {
                cause: family.cause,
                says: (family.says)(x),
                usual_times: (x - family.now).abs() / family.usual,
            }),
            None => answer.not_alone.push(family.cause),
        }
    }
    answer.causes.sort_by(|a, b| a.usual_times.total_cmp(&b.usual_times));
    Ok(answer)
}
