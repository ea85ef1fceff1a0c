//! What was measured of a donor: what it weighs, the fuel it used, how it coasted down.

use serde::{Deserialize, Serialize};

use super::{Network, TimedPasses, Weighing};

/// What was measured of the road load of the donor; proposals are computed from it, see [`crate::evidence`].
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Evidence {
    /// Fuel used with the engine still in, of all driving together, litres per 100 km. Taken as NEDC.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fuel_l_per_100km: Option<f64>,
    /// Fuel used in town, litres per 100 km. Taken as ECE 15.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fuel_town_l_per_100km: Option<f64>,
    /// Fuel used on the open road, litres per 100 km. Taken as HWFET.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fuel_road_l_per_100km: Option<f64>,
    /// Which fuel.
    pub fuel: Fuel,
    /// The donor on scales.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub weighing: Option<Weighing>,
    /// What its own network said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub network: Option<Network>,
    /// Timed passes, with the engine still in.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub passes: Vec<TimedPasses>,
    /// Coast-down runs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub coast_down: Option<CoastDown>,
}

impl Evidence {
    pub(super) fn is_empty(&self) -> bool {
        *self == Self::default()
    }
}

/// Fuel of the donor.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fuel {
    /// Petrol, 8.9 kWh/l.
    #[default]
    Petrol,
    /// Diesel, 10.0 kWh/l.
    Diesel,
}

/// Speed while rolling freely, both directions, and the state of the day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct CoastDown {
    /// Test mass at the coast-down, with the people aboard, kg.
    pub mass_kg: f64,
    /// Air temperature, degC.
    #[serde(default = "fifteen")]
    pub temperature_c: f64,
    /// Height above sea, m.
    #[serde(default)]
    pub altitude_m: f64,
    /// Rotating-mass factor in neutral. Absent: 1.03, wheels and the driveline that turns along (SAE J1263 practice, from memory).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rotating_mass_factor: Option<f64>,
    /// Runs; at least one each way.
    pub runs: Vec<CoastRun>,
}

fn fifteen() -> f64 {
    15.0
}

/// One coast.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct CoastRun {
    /// Which way; runs of both ways are averaged, so that wind and slope cancel.
    pub direction: CoastDirection,
    /// Time and speed.
    pub points: Vec<CoastPoint>,
}

/// Direction of a coast.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CoastDirection {
    /// Out.
    Out,
    /// Back on the same stretch.
    Back,
}

/// One reading of a coast.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct CoastPoint {
    /// s.
    pub time_s: f64,
    /// km/h.
    pub speed_kmh: f64,
}
