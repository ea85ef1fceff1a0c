//! One trip looked at closely: through the seasons and driving styles, and second by second.

use serde::Serialize;

use super::trips::{PaceResult, driven, slower, usable_kwh};
use crate::cancel::Cancel;
use crate::document::{DrivingStyle, Season};
use crate::error::Result;
use crate::figures::trips::{chain, find, mass_kg, trace, way};
use crate::inputs::Counted;
use crate::powertrain::{Chain, Rise};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{CycleRun, drive_trace_watched};
use crate::vehicle::Conditions;

/// One trip in one season and driving style.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TripCase {
    /// Season: `summer` or `winter`, or `usual` for the trip's own weather.
    pub season: String,
    /// How it is driven.
    pub driving_style: DrivingStyle,
    /// Air, degC.
    pub temperature_c: f64,
    /// Usable energy of the pack, kWh.
    pub usable_kwh: f64,
    /// Energy at the terminals, Wh/km; absent when it does not move.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub wh_per_km: Option<f64>,
    /// Range when repeated, km; absent when not even the first run is followed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub range_km: Option<f64>,
    /// Where the trip is too quick to be followed until the window is spent, the pace at which it is.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub held_pace: Option<PaceResult>,
    /// Duration of one run, s.
    pub duration_s: f64,
    /// Seconds more than 2 km/h below the trace.
    pub off_trace_s: f64,
}

/// A trip in summer and in winter, driven gently, normally and briskly.
///
/// # Errors
/// Names the trip when the document has none of that id, or the parts that have not been chosen.
pub fn cases(document: &Counted, id: &str, cancel: &Cancel) -> Result<Vec<TripCase>> {
    let trip = find(document, id)?;
    let seasons: [(&str, Option<&Season>); 3] =
        [("usual", None), ("summer", Some(&document.brief.summer)), ("winter", Some(&document.brief.winter))];
    let mut cases = Vec::new();
    for (name, season) in seasons {
        let day = season.map_or_else(|| Conditions::of_trip(document, &trip), |s| Conditions::of_season(document, s));
        let chain = Chain::on(document, mass_kg(document, &trip), &day)?;
        let mut way = way(&trip);
        way.hvac_w += season.map_or(0.0, |s| s.hvac_w);
        for driving_style in DrivingStyle::ALL {
            let trace = trace(document, &chain, &trip, driving_style);
            let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
            let (run, range) = driven(&chain, &trace, way, start, cancel);
            let held_pace = slower(&chain, &trace, way, start, &range, cancel);
            cancel.check()?;
            cases.push(TripCase {
                season: name.to_owned(),
                driving_style,
                temperature_c: day.temperature_c,
                usable_kwh: usable_kwh(&chain),
                wh_per_km: (run.distance_m > 0.0).then(|| run.battery_j() / 3.6 / run.distance_m),
                range_km: range.headline(),
                held_pace,
                duration_s: trace.duration_s(),
                off_trace_s: run.off_trace_s,
            });
        }
    }
    Ok(cases)
}

/// A trip second by second, thinned to what a picture shows; every list has one entry a sample.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TripAlong {
    /// s.
    pub time_s: Vec<f64>,
    /// Driven, km.
    pub distance_km: Vec<f64>,
    /// Asked for, km/h.
    pub asked_kmh: Vec<f64>,
    /// Driven, km/h.
    pub speed_kmh: Vec<f64>,
    /// Height above the start, m.
    pub height_m: Vec<f64>,
    /// State of charge.
    pub soc: Vec<f64>,
    /// Motor, degC.
    pub motor_c: Vec<f64>,
    /// Controller, degC.
    pub controller_c: Vec<f64>,
    /// Hottest the motor may get, degC.
    pub motor_limit_c: f64,
    /// Hottest the controller may get, degC.
    pub controller_limit_c: f64,
}

/// Samples kept of a trip.
const SAMPLES: usize = 400;

/// A trip second by second: speed, height, charge and heat.
///
/// # Errors
/// As [`cases`].
pub fn along(document: &Counted, id: &str) -> Result<TripAlong> {
    let trip = find(document, id)?;
    let chain = chain(document, &trip)?;
    let trace = trace(document, &chain, &trip, trip.driving_style);
    let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
    let every = trace.points.len().div_ceil(SAMPLES).max(1);
    let mut out = TripAlong {
        motor_limit_c: chain.motor_heat.temperature_c(chain.motor_heat.limit),
        controller_limit_c: chain.controller_heat.temperature_c(chain.controller_heat.limit),
        ..TripAlong::default()
    };
    let mut push = |state: &CycleRun, asked_m_s: f64, height_m: f64| {
        out.time_s.push(state.time_s);
        out.distance_km.push(state.distance_m / 1000.0);
        out.asked_kmh.push(asked_m_s * KMH_PER_M_S);
        out.speed_kmh.push(state.speed_m_s * KMH_PER_M_S);
        out.height_m.push(height_m);
        out.soc.push(state.soc);
        out.motor_c.push(chain.motor_heat.temperature_c(state.rise.motor));
        out.controller_c.push(chain.controller_heat.temperature_c(state.rise.controller));
    };
    push(&CycleRun::at_rest(start, Rise::default()), 0.0, 0.0);
    let (mut count, mut height_m, mut last_m, mut sin) = (0, 0.0, 0.0, trace.points.first().map_or(0.0, |p| p.sin));
    let _ = drive_trace_watched(&chain, &trace, way(&trip), start, |state, to| {
        count += 1;
        height_m += (state.distance_m - last_m) * sin;
        (last_m, sin) = (state.distance_m, to.sin);
        if count % every == 0 || count + 1 == trace.points.len() {
            push(state, to.speed_m_s, height_m);
        }
    });
    Ok(out)
}
