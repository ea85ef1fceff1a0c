//! What is searched for in the library, kept with the brief.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::AccelerationRange;

/// A search over the library for one brief and donor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct MatchRequest {
    /// Trip or schedule whose range counts. Absent: that of the first range goal that must be met, else the first trip.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub trip: Option<String>,
    /// Speeds whose time counts. Absent: those of the first acceleration goal, else 0 to 50 km/h.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub acceleration: Option<AccelerationRange>,
    /// Speed at which the continuous hill counts, km/h. Absent: that of the first held-hill goal, else 30.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hill_kmh: Option<f64>,
    /// Socket whose charge time counts. Absent: that of the first charging goal, else the first socket.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub socket: Option<String>,
    /// How sure a goal that must be met has to be.
    pub certainty: Certainty,
    /// Parts that must be used; empty lists leave the kind open.
    pub only: Chosen,
    /// Names of parts that must not be used.
    pub exclude: Vec<String>,
    /// Names of parts already owned: of their kind no others are used, and they cost nothing.
    pub in_hand: Vec<String>,
    /// Ways of gearing, by their ids; empty: all that fit the donor.
    pub gearings: Vec<String>,
    /// Worth of one unit of other currencies in the brief's, by code; parts priced in one that is not listed are left out.
    pub rates: BTreeMap<String, f64>,
    /// Most money, net, in the brief's currency.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub budget: Option<f64>,
    /// Most mass added over the donor as it stood, kg.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most_added_kg: Option<f64>,
    /// Direct or alternating current motors.
    pub current: CurrentApproach,
    /// New or salvaged cells.
    pub cells: CellApproach,
    /// A big pack, or a small one charged in between.
    pub pack: PackApproach,
    /// Ids of warning rules that are put up with.
    pub allow: Vec<String>,
    /// Motors on one shaft that are tried. Default 1 and 2.
    pub motor_counts: Vec<u32>,
    /// Most strings in parallel. Default 12.
    pub most_in_parallel: u32,
    /// Modules in series; absent: as many as the controllers bear.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub modules_in_series: Option<u32>,
    /// Strings in parallel; absent: up to `most_in_parallel`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub strings_in_parallel: Option<u32>,
    /// Most modules in all, as when so many are owned.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most_modules: Option<u32>,
    /// Difference below which two figures count as the same, percent. Default 5: well inside every band.
    pub resolution_percent: f64,
    /// Figures that no goal asks about are told apart only as closely as it takes to list so many designs. Default 25: what a person compares.
    pub least_designs: u32,
    /// About so many designs are listed at most: where there are more, figures that no goal asks about are told apart less closely.
    /// Default 150: what a person can still read.
    pub most_designs: u32,
}

impl Default for MatchRequest {
    fn default() -> Self {
        Self {
            trip: None,
            acceleration: None,
            hill_kmh: None,
            socket: None,
            certainty: Certainty::default(),
            only: Chosen::default(),
            exclude: Vec::new(),
            in_hand: Vec::new(),
            gearings: Vec::new(),
            rates: BTreeMap::new(),
            budget: None,
            most_added_kg: None,
            current: CurrentApproach::default(),
            cells: CellApproach::default(),
            pack: PackApproach::default(),
            allow: Vec::new(),
            motor_counts: vec![1, 2],
            most_in_parallel: 12,
            modules_in_series: None,
            strings_in_parallel: None,
            most_modules: None,
            resolution_percent: 5.0,
            least_designs: 25,
            most_designs: 150,
        }
    }
}

/// Names of parts of each kind.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Chosen {
    /// Motors.
    pub motors: Vec<String>,
    /// Controllers.
    pub controllers: Vec<String>,
    /// Cells and modules.
    pub modules: Vec<String>,
    /// Chargers.
    pub chargers: Vec<String>,
}

/// How sure a goal that must be met has to be.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Certainty {
    /// The central figure meets it.
    #[default]
    P50,
    /// The central figure meets it, and so do nine in ten of the first 32 draws of its band.
    P10,
}

/// Kind of current in the motor. Approaches differ: direct is cheap and strong and cannot regenerate, alternating is efficient and dearer.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CurrentApproach {
    /// Either.
    #[default]
    Any,
    /// Brushed motors.
    Direct,
    /// Brushless and induction motors.
    Alternating,
}

/// Age of the cells. Approaches differ: salvaged ones are cheap and of unknown health.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CellApproach {
    /// Either.
    #[default]
    Any,
    /// Never used.
    New,
    /// Out of another vehicle.
    Salvaged,
}

/// Size of the pack. Approaches differ: a small pack charged in between saves money and mass.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "approach", rename_all = "snake_case", deny_unknown_fields)]
pub enum PackApproach {
    /// Big enough for every range goal on one charge.
    #[default]
    Big,
    /// Enough for a share of every range goal, filled again within some hours at the socket that counts.
    Small {
        /// Share of the range goals, 0..1.
        range_share: f64,
        /// Most hours for a whole charge.
        charge_h: f64,
    },
}

impl MatchRequest {
    /// Whether nothing has been said.
    #[must_use]
    pub fn is_default(&self) -> bool {
        *self == Self::default()
    }
}
