//! Every trip and schedule of the brief: energy, split and range.

use serde::Serialize;

use crate::cancel::Cancel;
use crate::document::{Document, Trip};
use crate::error::Result;
use crate::figures::trips::{all, chain, mass_kg, trace, way};
use crate::powertrain::{Chain, Rise};
use crate::simulate::{CycleRun, Demands, RangeEnd, RangeResult, ShiftPolicy, held_pace, range_after};
use crate::trip::Trace;
use crate::vehicle::masses;

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
    /// State of charge used by one run.
    pub soc_used: f64,
    /// Range when repeated, km; absent when not even the first run is followed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub range_km: Option<f64>,
    /// Usable energy of the pack on the day of the trip, kWh.
    pub usable_kwh: f64,
    /// What ends the range.
    pub range_ends_by: RangeEnd,
    /// The same in words.
    pub range_until: &'static str,
    /// Where the trip is too quick to be followed until the window is spent, the pace at which it is.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub held_pace: Option<PaceResult>,
    /// Times the trip is made within the range, the last one in part.
    pub runs: f64,
    /// Seconds within the range in which heat held the torque back.
    pub range_derated_s: f64,
    /// Root mean square battery current, A.
    pub rms_current_a: f64,
    /// Greatest battery current, A.
    pub peak_current_a: f64,
    /// Lowest terminal voltage, V.
    pub lowest_v: f64,
}

/// A pace below a trip's own.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PaceResult {
    /// Share of the trip's speeds.
    pub share: f64,
    /// Range at it, until the window is spent, km.
    pub range_km: f64,
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
    pub hvac_wh_per_km: f64,
    /// Friction brakes.
    pub brakes_wh_per_km: f64,
    /// Left in the moving mass, and in the rotor at gear changes.
    pub kinetic_wh_per_km: f64,
    /// Heat inside the pack and wiring, beside the terminals' sum.
    pub pack_wh_per_km: f64,
    /// Fed back by braking.
    pub recovered_wh_per_km: f64,
}

fn split(run: &CycleRun) -> EnergySplit {
    let s = run.split();
    // J over m is 1000 J over km; 3600 J is 1 Wh.
    let per_km = |joule: f64| if run.distance_m > 0.0 { joule / 3.6 / run.distance_m } else { 0.0 };
    EnergySplit {
        air_wh_per_km: per_km(s.air_j),
        rolling_wh_per_km: per_km(s.rolling_j),
        climb_wh_per_km: per_km(s.climb_j),
        driveline_wh_per_km: per_km(s.driveline_j),
        motor_wh_per_km: per_km(s.motor_j),
        controller_wh_per_km: per_km(s.controller_j),
        low_voltage_wh_per_km: per_km(s.low_voltage_j),
        hvac_wh_per_km: per_km(s.hvac_j),
        brakes_wh_per_km: per_km(s.brakes_j),
        kinetic_wh_per_km: per_km(s.kinetic_j),
        pack_wh_per_km: per_km(s.pack_j),
        recovered_wh_per_km: per_km(s.recovered_j),
    }
}

/// Whether the pace is looked for that a trip too quick for the chain can be held at: up to nine more drives of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Paces {
    /// Looked for.
    Told,
    /// Left out, where nobody reads it.
    Untold,
}

/// Trips first, then schedules, in the brief's order.
pub(super) fn of(
    document: &Document,
    usual: &Chain,
    socket_per_cell: Option<f64>,
    paces: Paces,
    cancel: &Cancel,
) -> Result<Vec<TripResult>> {
    each(document, usual, cancel, |trip, chain, trace| one(trip, chain, trace, socket_per_cell, paces, cancel))
}

/// Something of every trip, on the chain and the trace of its own day, mass and style.
pub(super) fn each<T>(document: &Document, usual: &Chain, cancel: &Cancel, of: impl Fn(&Trip, &Chain, &Trace) -> T) -> Result<Vec<T>> {
    let usual_kg = masses(document).test_kg;
    all(document)
        .map(|trip| {
            let is_usual = trip.weather.is_none() && (mass_kg(document, &trip) - usual_kg).abs() < 1e-9;
            let own = if is_usual { None } else { Some(chain(document, &trip)?) };
            let chain = own.as_ref().unwrap_or(usual);
            let result = of(&trip, chain, &trace(document, chain, &trip, trip.driving_style));
            cancel.check()?;
            Ok(result)
        })
        .collect()
}

/// One run, and the range that begins with it.
pub(super) fn driven(chain: &Chain, trace: &Trace, way: ShiftPolicy, start: f64, cancel: &Cancel) -> (CycleRun, RangeResult) {
    let demands = Demands::of(chain, trace, way, (start, chain.pack.soc_min.min(start)), cancel);
    let run = demands.run(start, Rise::default());
    let range = range_after(&demands, start, run.clone()).range;
    (run, range)
}

/// The pace that is held to the bottom of the window, where the trip's own is not although the vehicle moves.
pub(super) fn slower(
    chain: &Chain,
    trace: &Trace,
    way: ShiftPolicy,
    start: f64,
    range: &RangeResult,
    cancel: &Cancel,
) -> Option<PaceResult> {
    matches!(range.end, RangeEnd::Sag | RangeEnd::Heat | RangeEnd::NotFollowed)
        .then(|| held_pace(chain, trace, way, start, cancel))
        .flatten()
        .map(|held| PaceResult { share: held.share, range_km: held.range.distance_m / 1000.0 })
}

fn one(trip: &Trip, chain: &Chain, trace: &Trace, socket_per_cell: Option<f64>, paces: Paces, cancel: &Cancel) -> TripResult {
    let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
    let (run, range) = driven(chain, trace, way(trip), start, cancel);
    let split = split(&run);
    let driven_km = run.distance_m / 1000.0;
    let per_km = |x: f64| (driven_km > 0.0).then(|| x / driven_km);
    let distance_km = trace.distance_m() / 1000.0;
    TripResult {
        trip: trip.id.clone(),
        name: trip.name.clone(),
        distance_km,
        driven_km,
        duration_s: trace.duration_s(),
        off_trace_s: run.off_trace_s,
        lost_km: (distance_km - driven_km).max(0.0),
        followed: !run.behind && run.distance_m > 0.0 && range.end != RangeEnd::NotFollowed,
        derated_s: run.derated_s,
        motor_hottest_c: chain.motor_heat.temperature_c(run.highest_rise.motor),
        controller_hottest_c: chain.controller_heat.temperature_c(run.highest_rise.controller),
        wh_per_km: per_km(run.battery_j() / 3600.0),
        socket_wh_per_km: socket_per_cell
            .and_then(|ratio| per_km(ratio * put_back(chain, &run, start) * chain.pack.energy_wh(run.soc, start))),
        split,
        soc_used: start - run.soc,
        range_km: range.headline(),
        usable_kwh: usable_kwh(chain),
        range_ends_by: range.end,
        range_until: range.end.word(),
        held_pace: if paces == Paces::Told { slower(chain, trace, way(trip), start, &range, cancel) } else { None },
        runs: range.runs,
        range_derated_s: range.derated_s,
        rms_current_a: run.rms_current_a(),
        peak_current_a: run.peak_current_a,
        lowest_v: if run.lowest_v.is_finite() { run.lowest_v } else { 0.0 },
    }
}

/// Share of the state of charge a run used that has to be put back: what it delivered. The rest is Peukert's, and comes back by itself.
fn put_back(chain: &Chain, run: &CycleRun, start: f64) -> f64 {
    let counted = start - run.soc;
    if chain.pack.has_peukert() && counted > 0.0 { (run.delivered_a_s * chain.pack.per_a_s / counted).clamp(0.0, 1.0) } else { 1.0 }
}

/// Usable energy of a chain's pack on its day, kWh.
pub(super) fn usable_kwh(chain: &Chain) -> f64 {
    chain.pack.energy_wh(chain.pack.soc_min, chain.pack.soc_max) / 1000.0
}
