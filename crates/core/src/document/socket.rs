//! Places to charge.

use serde::{Deserialize, Serialize};

/// Kind of supply.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SocketKind {
    /// Mains; the vehicle's own charger makes direct current.
    #[default]
    Ac,
    /// Fast charging with direct current; the vehicle's charger is bypassed.
    Dc,
}

/// A place to charge.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Socket {
    /// Stable identifier within the brief.
    pub id: String,
    /// Name shown.
    pub name: String,
    /// Mains or direct current.
    #[serde(default)]
    pub kind: SocketKind,
    /// Mains: volts from phase to neutral. Direct current: the highest it gives.
    pub voltage_v: f64,
    /// Mains: rating of the circuit on each phase. Direct current: the most it gives, A.
    pub current_a: f64,
    /// Phases of the circuit.
    #[serde(default = "phases")]
    pub phases: u32,
    /// Share of the circuit's rating that may be drawn for hours; 0.8 by NEC 625.42, 1 where local rules rate the circuit itself for it.
    #[serde(default = "continuous_share")]
    pub continuous_share: f64,
    /// Direct current: greatest power, W. Absent: volts times amps.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub power_w: Option<f64>,
}

fn phases() -> u32 {
    1
}
fn continuous_share() -> f64 {
    0.8
}
