//! Every trip and schedule of the brief: energy, split and range.

use serde::Serialize;

use crate::document::{Document, Trip, TripPath};
use crate::error::Result;
use crate::powertrain::Chain;
use crate::simulate::{Passage, RangeEnd, drive_trace, range};
use crate::trip::Trace;
use crate::vehicle::Masses;

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
    /// Energy at the battery terminals per distance driven, less what was fed back, Wh/km.
    pub wh_per_km: f64,
    /// Energy from the first socket that can fill the pack, per distance, Wh/km.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub socket_wh_per_km: Option<f64>,
    /// Where it goes.
    pub split: EnergySplit,
    /// State of charge used by one passage.
    pub soc_used: f64,
    /// Range when repeated, km.
    pub range_km: f64,
    /// What ends the range.
    pub range_ends_by: RangeEnd,
    /// Passages within the range.
    pub passages: f64,
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

/// Trips first, then schedules, in the brief's order.
pub(super) fn of(document: &Document, masses: &Masses, chain: &Chain, socket_per_cell: Option<f64>) -> Result<Vec<TripResult>> {
    let brief = &document.brief;
    let schedules = brief.schedules.iter().map(|s| Trip {
        id: s.id().to_owned(),
        name: s.title().to_owned(),
        path: TripPath::Schedule(*s),
        gear: None,
        payload_kg: None,
        comfort_w: 0.0,
        start_soc: None,
    });
    brief
        .trips
        .iter()
        .cloned()
        .chain(schedules)
        .map(|trip| {
            let other_load = trip.payload_kg.filter(|p| (p - brief.payload_kg).abs() > 1e-9 && document.donor.test_mass_kg.is_none());
            let own_chain = match other_load {
                Some(payload) => Some(Chain::of(document, masses.test_kg - brief.payload_kg + payload)?),
                None => None,
            };
            Ok(one(&trip, own_chain.as_ref().unwrap_or(chain), socket_per_cell))
        })
        .collect()
}

fn one(trip: &Trip, chain: &Chain, socket_per_cell: Option<f64>) -> TripResult {
    let trace = Trace::of(&trip.path);
    let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
    let passage = drive_trace(chain, &trace, trip.gear, trip.comfort_w, start);
    let range = range(chain, &trace, trip.gear, trip.comfort_w, start);
    let split = split(&passage);
    let driven_km = passage.distance_m / 1000.0;
    let soc_used = start - passage.soc;
    let per_km = |x: f64| if driven_km > 0.0 { x / driven_km } else { 0.0 };
    TripResult {
        trip: trip.id.clone(),
        name: trip.name.clone(),
        distance_km: trace.distance_m() / 1000.0,
        driven_km,
        duration_s: trace.duration_s(),
        off_trace_s: passage.off_trace_s,
        wh_per_km: per_km(passage.split.battery_j / 3600.0),
        socket_wh_per_km: socket_per_cell.map(|ratio| per_km(ratio * chain.pack.energy_wh(passage.soc, start))),
        split,
        soc_used,
        range_km: range.distance_m / 1000.0,
        range_ends_by: range.end,
        passages: range.passages,
        rms_current_a: passage.rms_current_a(),
        peak_current_a: passage.peak_current_a,
        lowest_v: if passage.lowest_v.is_finite() { passage.lowest_v } else { 0.0 },
    }
}
