//! What a headline figure is, and which one a goal is judged by.

use serde::Serialize;

use crate::document::Measure;

/// One headline figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Figure {
    /// Identifier: `trip.ID.range_km`, `trip.ID.wh_per_km`, `top_speed_kmh`, `sprint.0-50`, `hill_start`, `hill.KMH.peak`,
    /// `charge.SOCKET`, `cost`, `added_mass`.
    pub id: String,
    /// Name shown.
    pub name: String,
    /// Unit it is stored in.
    pub unit: &'static str,
    /// Whether more is better.
    pub more_is_better: bool,
}

/// How a figure is computed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum FigureKind {
    Range(usize),
    Energy(usize),
    TopSpeed,
    Sprint(f64, f64),
    HillStart,
    Hill(f64, Duty),
    Charge(usize),
    Cost,
    AddedMass,
}

/// Duty a hill is climbed at.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Duty {
    Peak,
    TenMinutes,
    Continuous,
}

impl Duty {
    /// Duty of a hill goal.
    pub(crate) fn of(continuous: bool, ten_minutes: bool) -> Self {
        match (continuous, ten_minutes) {
            (true, _) => Self::Continuous,
            (false, true) => Self::TenMinutes,
            (false, false) => Self::Peak,
        }
    }
}

/// Figure that a goal is judged by.
#[must_use]
pub fn figure_of_goal(measure: &Measure) -> String {
    match measure {
        Measure::Range { trip, .. } => format!("trip.{trip}.range_km"),
        Measure::EnergyUse { trip, .. } => format!("trip.{trip}.wh_per_km"),
        Measure::TopSpeed { .. } => "top_speed_kmh".to_owned(),
        Measure::Sprint { from_kmh, to_kmh, .. } => format!("sprint.{from_kmh}-{to_kmh}"),
        Measure::HillStart { .. } => "hill_start".to_owned(),
        Measure::HillAtSpeed { speed_kmh, continuous, ten_minutes, .. } => hill_id(*speed_kmh, Duty::of(*continuous, *ten_minutes)),
        Measure::ChargeTime { socket, .. } => format!("charge.{socket}"),
        Measure::Cost { .. } => "cost".to_owned(),
        Measure::AddedMass { .. } => "added_mass".to_owned(),
    }
}

pub(super) fn hill_id(kmh: f64, duty: Duty) -> String {
    let duty = match duty {
        Duty::Peak => "peak",
        Duty::TenMinutes => "ten_minutes",
        Duty::Continuous => "continuous",
    };
    format!("hill.{kmh}.{duty}")
}
