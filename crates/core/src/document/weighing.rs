//! The donor on scales.

use serde::{Deserialize, Serialize};

/// What scales under the wheels read, empty, fluids in, nobody aboard; corners where they are known, else axles.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Weighing {
    /// Front axle, level, kg.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub front_kg: Option<f64>,
    /// Rear axle, level, kg.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rear_kg: Option<f64>,
    /// Front left wheel, level, kg.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub front_left_kg: Option<f64>,
    /// Front right wheel, level, kg.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub front_right_kg: Option<f64>,
    /// Rear left wheel, level, kg.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rear_left_kg: Option<f64>,
    /// Rear right wheel, level, kg.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rear_right_kg: Option<f64>,
    /// Axle that was lifted for the second weighing.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub lifted: Option<LiftedAxle>,
    /// How far its wheels stood above the others, m.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub lifted_by_m: Option<f64>,
    /// The other axle then, kg.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub other_axle_kg: Option<f64>,
    /// Height of the wheels' middles above what they stand on, loaded, m. Absent: from the tyre.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub loaded_radius_m: Option<f64>,
}

/// Axle that was lifted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LiftedAxle {
    /// The front one.
    Front,
    /// The rear one.
    Rear,
}

impl Weighing {
    /// Loads of the axles, level, kg: of a pair of wheels their sum, else as stated.
    #[must_use]
    pub(crate) fn axles_kg(&self) -> Option<[f64; 2]> {
        let axle = |left: Option<f64>, right: Option<f64>, whole: Option<f64>| left.zip(right).map(|(l, r)| l + r).or(whole);
        let front = axle(self.front_left_kg, self.front_right_kg, self.front_kg)?;
        Some([front, axle(self.rear_left_kg, self.rear_right_kg, self.rear_kg)?])
    }
}
