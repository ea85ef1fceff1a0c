//! The plate between motor and gearbox: where its holes are.

use serde::{Deserialize, Serialize};

use super::is_usual;
use crate::error::Problems;
use crate::quantity::{check_name, join};

/// An adapter plate as seen from the motor, about the axis of its shaft.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct AdapterPlate {
    /// Thickness, mm.
    pub thickness_mm: f64,
    /// What it is cut from.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub material: PlateMaterial,
    /// Hole in the middle, which centres the motor on its register, mm.
    pub bore_mm: f64,
    /// Bolts of the motor.
    pub motor: HoleCircle,
    /// Bolts and dowels of the gearbox.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub gearbox: Vec<PlateHole>,
    /// Material kept around every hole, mm. Absent: 12.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub margin_mm: Option<f64>,
    /// Run-out of the plate's bore about the gearbox shaft, as a dial gauge shows it over one turn, mm. Absent: not measured.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub run_out_mm: Option<f64>,
}

/// What a plate is cut from.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PlateMaterial {
    /// Aluminium.
    #[default]
    Aluminium,
    /// Steel.
    Steel,
}

/// Equal holes on a circle.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct HoleCircle {
    /// How many.
    pub holes: u32,
    /// Radius of the circle, mm.
    pub radius_mm: f64,
    /// Diameter of each, mm.
    pub hole_mm: f64,
    /// Of the first, clockwise from the top, degrees. Absent: 0.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub first_deg: Option<f64>,
}

/// One hole of the gearbox.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PlateHole {
    /// Which: "1", "left dowel".
    pub name: String,
    /// Right of the shaft, mm.
    pub right_mm: f64,
    /// Above the shaft, mm.
    pub up_mm: f64,
    /// Diameter, mm.
    pub hole_mm: f64,
}

impl AdapterPlate {
    pub(super) fn check(&self, path: &str, problems: &mut Problems) {
        for (i, hole) in self.gearbox.iter().enumerate() {
            check_name(&hole.name, &join(path, &format!("gearbox[{i}]")), problems);
        }
    }
}
