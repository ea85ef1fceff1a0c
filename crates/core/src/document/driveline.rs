//! Gears and fixed stages between motor and wheel.

use serde::{Deserialize, Serialize};

/// Gears and fixed stages between motor and wheel.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Driveline {
    /// Gears to choose from, first to last. Empty: none, direct through the stages.
    pub gears: Vec<Gear>,
    /// Stages always in the path: final drive, reduction, chain, belt, a transfer box of one ratio.
    pub stages: Vec<Stage>,
    /// Ranges of a transfer box, changed only at a standstill. Empty: none.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub ranges: Vec<Gear>,
    /// Time without drive when changing gear, s. Default 1.2, clutchless.
    pub shift_s: f64,
    /// Greatest torque at the gearbox input, N m. Absent: not stated.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub input_torque_limit_nm: Option<f64>,
}

impl Default for Driveline {
    fn default() -> Self {
        Self { gears: Vec::new(), stages: Vec::new(), ranges: Vec::new(), shift_s: 1.2, input_torque_limit_nm: None }
    }
}

/// One gear.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Gear {
    /// Input turns for one output turn.
    pub ratio: f64,
    /// Efficiency, 0..1. Absent: 0.98 when direct, 0.96 otherwise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub efficiency: Option<f64>,
}

/// Kind of a fixed stage; gives the handbook efficiency.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StageKind {
    /// Hypoid final drive, 0.94.
    FinalDrive,
    /// Spur or helical reduction, 0.97.
    Reduction,
    /// Transfer box, 0.97.
    TransferBox,
    /// Chain, 0.96.
    Chain,
    /// Toothed belt, 0.97.
    Belt,
}

/// One fixed stage.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Stage {
    /// Kind.
    pub kind: StageKind,
    /// Input turns for one output turn.
    pub ratio: f64,
    /// Efficiency, 0..1. Absent: by kind.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub efficiency: Option<f64>,
}
