//! The motor's place on the mechanical sheet.

use serde::Serialize;

use crate::document::{DrivenAxle, MotorPlace};
use crate::mechanics::place::PlaceEffect;

/// The motors in one place, with all else as it is.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MotorPlaceRow {
    /// Which.
    pub place: MotorPlace,
    /// In words.
    pub words: &'static str,
    /// Whether they sit there now.
    pub now: bool,
    /// Axle that drives.
    pub drives: DrivenAxle,
    /// Greatest pull of the driven tyres on the level, N.
    pub grip_n: f64,
    /// Share of the laden vehicle on its front axle.
    pub front_share: f64,
    /// Height of its centre of gravity, m.
    pub cg_height_m: f64,
    /// Mass of motor that hangs unsprung on each driven wheel, kg.
    pub unsprung_kg: f64,
}

pub(super) fn place_row(effect: PlaceEffect, now: MotorPlace) -> MotorPlaceRow {
    let PlaceEffect { place, drives, grip_n, front_share, cg_height_m, unsprung_kg } = effect;
    let words = match place {
        MotorPlace::Shaft => "ahead of the driveline",
        MotorPlace::Wheels => "at the driven wheels",
        MotorPlace::EachAxle => "one on each axle",
        MotorPlace::EveryWheel => "one at every wheel",
    };
    MotorPlaceRow { place, words, now: place == now, drives, grip_n, front_share, cg_height_m, unsprung_kg }
}
