//! Every trip and schedule of the brief: energy, split and range.

use serde::Serialize;

use crate::cancel::Cancel;
use crate::document::{Document, DrivingManner, Season, Trip, TripPath};
use crate::error::{Error, Result};
use crate::powertrain::{Chain, Rating};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{Demands, Passage, Pull, RangeEnd, RangeResult, SPRINT_STEP_M_S, Way, drive_trace_watched, quickest, range_after};
use crate::trip::Trace;
use crate::vehicle::{Conditions, masses};

/// One trip, made once from the start of its charge, and repeated for its range.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TripResult {
    /// Trip or schedule id.
    pub trip: String,
    /// Name shown.
    pub name: String,
    /// Length if followed exactly, km.
    pub distance_km: f64,
    /// Length driven, km.
    pub driven_km: f64,
    /// Duration, s.
    pub duration_s: f64,
    /// Seconds more than 2 km/h below the trace.
    pub off_trace_s: f64,
    /// Distance lost by not keeping up, km.
    pub lost_km: f64,
    /// Whether the trip is followed; goals on one that is not are missed.
    pub followed: bool,
    /// Seconds in which heat held the torque back.
    pub derated_s: f64,
    /// Hottest motor, degC.
    pub motor_hottest_c: f64,
    /// Hottest controller, degC.
    pub controller_hottest_c: f64,
    /// Energy at the battery terminals per distance driven, less what was fed back, Wh/km; absent when it does not move.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub wh_per_km: Option<f64>,
    /// Energy from the first socket that can fill the pack, per distance, Wh/km.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub socket_wh_per_km: Option<f64>,
    /// Where it goes.
    pub split: EnergySplit,
    /// State of charge used by one passage.
    pub soc_used: f64,
    /// Range when repeated, km; absent when not even the first run is followed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub range_km: Option<f64>,
    /// Usable energy of the pack on the day of the trip, kWh.
    pub usable_kwh: f64,
    /// What ends the range.
    pub range_ends_by: RangeEnd,
    /// Passages within the range.
    pub passages: f64,
    /// Seconds within the range in which heat held the torque back.
    pub range_derated_s: f64,
    /// Root mean square battery current, A.
    pub rms_current_a: f64,
    /// Greatest battery current, A.
    pub peak_current_a: f64,
    /// Lowest terminal voltage, V.
    pub lowest_v: f64,
}

/// Energy per distance driven, Wh/km at the battery terminals.
///
/// `wh_per_km` is the sum of all but `recovered` (already taken off) and `pack` (inside the pack, beside the terminals).
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EnergySplit {
    /// Air drag.
    pub air_wh_per_km: f64,
    /// Rolling resistance.
    pub rolling_wh_per_km: f64,
    /// Climbing less descending.
    pub climb_wh_per_km: f64,
    /// Gears and stages.
    pub driveline_wh_per_km: f64,
    /// Motor.
    pub motor_wh_per_km: f64,
    /// Controller.
    pub controller_wh_per_km: f64,
    /// Low-voltage load with converter loss.
    pub low_voltage_wh_per_km: f64,
    /// Heating and cooling.
    pub comfort_wh_per_km: f64,
    /// Friction brakes.
    pub brakes_wh_per_km: f64,
    /// Left in the moving mass, and in the rotor at gear changes.
    pub kinetic_wh_per_km: f64,
    /// Heat inside the pack and wiring, beside the terminals' sum.
    pub pack_wh_per_km: f64,
    /// Fed back by braking.
    pub recovered_wh_per_km: f64,
}

fn split(passage: &Passage) -> EnergySplit {
    let s = &passage.split;
    // J over m is 1000 J over km; 3600 J is 1 Wh.
    let per_km = |joule: f64| if passage.distance_m > 0.0 { joule / 3.6 / passage.distance_m } else { 0.0 };
    EnergySplit {
        air_wh_per_km: per_km(s.air_j),
        rolling_wh_per_km: per_km(s.rolling_j),
        climb_wh_per_km: per_km(s.climb_j),
        driveline_wh_per_km: per_km(s.driveline_j),
        motor_wh_per_km: per_km(s.motor_j),
        controller_wh_per_km: per_km(s.controller_j),
        low_voltage_wh_per_km: per_km(s.low_voltage_j),
        comfort_wh_per_km: per_km(s.comfort_j),
        brakes_wh_per_km: per_km(s.brakes_j),
        kinetic_wh_per_km: per_km(s.kinetic_j),
        pack_wh_per_km: per_km(s.pack_j),
        recovered_wh_per_km: per_km(s.recovered_j),
    }
}

/// Every trip of a brief, then every schedule as a trip.
pub(crate) fn all(document: &Document) -> impl Iterator<Item = Trip> {
    let schedules = document.brief.schedules.iter().map(|s| Trip {
        id: s.id().to_owned(),
        name: s.title().to_owned(),
        path: TripPath::Schedule(*s),
        gear: None,
        payload_kg: None,
        comfort_w: 0.0,
        start_soc: None,
        manner: DrivingManner::Normal,
        repeat: 1,
        transfer_range: None,
        weather: None,
    });
    document.brief.trips.iter().cloned().chain(schedules)
}

/// Test mass on a trip, with its own payload, kg.
pub(crate) fn mass_kg(document: &Document, trip: &Trip) -> f64 {
    let test_kg = masses(document).test_kg;
    match trip.payload_kg {
        Some(payload) if document.donor.test_mass_kg.is_none() => test_kg - document.brief.payload_kg + payload,
        _ => test_kg,
    }
}

/// How a trip is driven.
pub(crate) fn way(trip: &Trip) -> Way {
    Way { gear: trip.gear, transfer_range: trip.transfer_range, comfort_w: trip.comfort_w }
}

/// The chain of a trip on its own day, at its own mass.
pub(crate) fn chain(document: &Document, trip: &Trip) -> Result<Chain> {
    Chain::on(document, mass_kg(document, trip), &Conditions::of_trip(document, trip))
}

/// The trace of a trip in a manner; stretches that ask for a share of the acceleration get it from the chain.
pub(crate) fn trace(chain: &Chain, trip: &Trip, manner: DrivingManner) -> Trace {
    let available = |v_m_s: f64| {
        let soc = 0.5 * (chain.pack.soc_min + chain.pack.soc_max);
        let limits = chain.limits(soc, chain.low_voltage_w, Rating::Burst);
        let mut pulls: Vec<Pull<'_>> = chain.ranges().map(|gears| Pull::new(chain, gears, &limits, SPRINT_STEP_M_S)).collect();
        quickest(&mut pulls, 0.0, v_m_s).time_s.map(|t| v_m_s / t)
    };
    Trace::of_trip(trip, manner, &available)
}

/// Trips first, then schedules, in the brief's order.
pub(crate) fn of(document: &Document, usual: &Chain, socket_per_cell: Option<f64>, cancel: &Cancel) -> Result<Vec<TripResult>> {
    let usual_kg = masses(document).test_kg;
    all(document)
        .map(|trip| {
            let is_usual = trip.weather.is_none() && (mass_kg(document, &trip) - usual_kg).abs() < 1e-9;
            let own = if is_usual { None } else { Some(chain(document, &trip)?) };
            let chain = own.as_ref().unwrap_or(usual);
            let result = one(&trip, chain, &trace(chain, &trip, trip.manner), socket_per_cell, cancel);
            cancel.check()?;
            Ok(result)
        })
        .collect()
}

/// One passage, and the range that begins with it.
fn driven(chain: &Chain, trace: &Trace, way: Way, start: f64, cancel: &Cancel) -> (Passage, RangeResult) {
    let demands = Demands::of(chain, trace, way, (start, chain.pack.soc_min.min(start)), cancel);
    let passage = demands.passage(start, (0.0, 0.0));
    let range = range_after(&demands, start, passage.clone());
    (passage, range)
}

fn one(trip: &Trip, chain: &Chain, trace: &Trace, socket_per_cell: Option<f64>, cancel: &Cancel) -> TripResult {
    let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
    let (passage, range) = driven(chain, trace, way(trip), start, cancel);
    let split = split(&passage);
    let driven_km = passage.distance_m / 1000.0;
    let per_km = |x: f64| (driven_km > 0.0).then(|| x / driven_km);
    let distance_km = trace.distance_m() / 1000.0;
    TripResult {
        trip: trip.id.clone(),
        name: trip.name.clone(),
        distance_km,
        driven_km,
        duration_s: trace.duration_s(),
        off_trace_s: passage.off_trace_s,
        lost_km: (distance_km - driven_km).max(0.0),
        followed: !passage.behind && passage.distance_m > 0.0 && range.end != RangeEnd::NotFollowed,
        derated_s: passage.derated_s,
        motor_hottest_c: chain.motor_heat.temperature_c(passage.motor_warmest),
        controller_hottest_c: chain.controller_heat.temperature_c(passage.controller_warmest),
        wh_per_km: per_km(passage.split.battery_j / 3600.0),
        socket_wh_per_km: socket_per_cell.and_then(|ratio| per_km(ratio * chain.pack.energy_wh(passage.soc, start))),
        split,
        soc_used: start - passage.soc,
        range_km: range.headline(),
        usable_kwh: usable_kwh(chain),
        range_ends_by: range.end,
        passages: range.passages,
        range_derated_s: range.derated_s,
        rms_current_a: passage.rms_current_a(),
        peak_current_a: passage.peak_current_a,
        lowest_v: if passage.lowest_v.is_finite() { passage.lowest_v } else { 0.0 },
    }
}

/// Usable energy of a chain's pack on its day, kWh.
fn usable_kwh(chain: &Chain) -> f64 {
    chain.pack.energy_wh(chain.pack.soc_min, chain.pack.soc_max) / 1000.0
}

fn find(document: &Document, id: &str) -> Result<Trip> {
    all(document).find(|t| t.id == id).ok_or_else(|| {
        let known: Vec<String> = all(document).map(|t| t.id).collect();
        Error::field("trip", format!("\"{id}\""), format!("known trips and schedules are: {}", known.join(", ")))
    })
}

/// One trip in one season and manner.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TripCase {
    /// Season: `summer` or `winter`, or `usual` for the trip's own weather.
    pub season: String,
    /// How it is driven.
    pub manner: DrivingManner,
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
    /// Duration of one passage, s.
    pub duration_s: f64,
    /// Seconds more than 2 km/h below the trace.
    pub off_trace_s: f64,
}

/// A trip in summer and in winter, driven gently, normally and briskly.
///
/// # Errors
/// Names the trip when the document has none of that id, or the parts that have not been chosen.
pub fn cases(document: &Document, id: &str, cancel: &Cancel) -> Result<Vec<TripCase>> {
    let trip = find(document, id)?;
    let seasons: [(&str, Option<&Season>); 3] =
        [("usual", None), ("summer", Some(&document.brief.summer)), ("winter", Some(&document.brief.winter))];
    let mut cases = Vec::new();
    for (name, season) in seasons {
        let day = season.map_or_else(|| Conditions::of_trip(document, &trip), |s| Conditions::of_season(document, s));
        let chain = Chain::on(document, mass_kg(document, &trip), &day)?;
        let mut way = way(&trip);
        way.comfort_w += season.map_or(0.0, |s| s.comfort_w);
        for manner in DrivingManner::ALL {
            let trace = trace(&chain, &trip, manner);
            let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
            let (passage, range) = driven(&chain, &trace, way, start, cancel);
            cancel.check()?;
            cases.push(TripCase {
                season: name.to_owned(),
                manner,
                temperature_c: day.temperature_c,
                usable_kwh: usable_kwh(&chain),
                wh_per_km: (passage.distance_m > 0.0).then(|| passage.split.battery_j / 3.6 / passage.distance_m),
                range_km: range.headline(),
                duration_s: trace.duration_s(),
                off_trace_s: passage.off_trace_s,
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
pub fn along(document: &Document, id: &str) -> Result<TripAlong> {
    let trip = find(document, id)?;
    let chain = chain(document, &trip)?;
    let trace = trace(&chain, &trip, trip.manner);
    let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
    let every = trace.points.len().div_ceil(SAMPLES).max(1);
    let mut out = TripAlong {
        motor_limit_c: chain.motor_heat.temperature_c(chain.motor_heat.limit),
        controller_limit_c: chain.controller_heat.temperature_c(chain.controller_heat.limit),
        ..TripAlong::default()
    };
    let mut push = |state: &Passage, asked_m_s: f64, height_m: f64| {
        out.time_s.push(state.time_s);
        out.distance_km.push(state.distance_m / 1000.0);
        out.asked_kmh.push(asked_m_s * KMH_PER_M_S);
        out.speed_kmh.push(state.speed_m_s * KMH_PER_M_S);
        out.height_m.push(height_m);
        out.soc.push(state.soc);
        out.motor_c.push(chain.motor_heat.temperature_c(state.motor_warmth));
        out.controller_c.push(chain.controller_heat.temperature_c(state.controller_warmth));
    };
    push(&Passage::at_rest(start), 0.0, 0.0);
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
