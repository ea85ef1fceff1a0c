//! What is put into the vehicle: the power path from cell to tyre, and what follows from it.

use serde::{Deserialize, Serialize};

use super::Driveline;
use crate::error::Problem;
use crate::library::{Charger, Controller, Module, Motor, join};

/// One variant of a conversion. Records are embedded, so that a later edit of the library never changes it silently.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Design {
    /// Remarks.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// Motor.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub motor: Option<Motor>,
    /// Number of such motors, all geared alike; their torques add.
    pub motor_count: u32,
    /// Controller.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub controller: Option<Controller>,
    /// Number of such controllers; their currents add.
    pub controller_count: u32,
    /// Driveline after the conversion. Absent: the donor's.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub driveline: Option<Driveline>,
    /// Traction pack.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pack: Option<Pack>,
    /// Charger.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub charger: Option<Charger>,
    /// Cable, fuse and contactor between pack and controller.
    pub wiring: Wiring,
    /// How braking is shared.
    pub regeneration: Regeneration,
    /// Low-voltage supply.
    pub low_voltage: LowVoltage,
    /// Everything else put in: adapter plate, boxes, cables, pumps.
    pub added: Vec<AddedItem>,
    /// Share of the converted vehicle's mass on the front axle, 0..1. Absent: the donor's.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub front_axle_share: Option<f64>,
}

impl Default for Design {
    fn default() -> Self {
        Self {
            notes: String::new(),
            motor: None,
            motor_count: 1,
            controller: None,
            controller_count: 1,
            driveline: None,
            pack: None,
            charger: None,
            wiring: Wiring::default(),
            regeneration: Regeneration::default(),
            low_voltage: LowVoltage::default(),
            added: Vec::new(),
            front_axle_share: None,
        }
    }
}

/// Traction pack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Pack {
    /// Cell or module it is built from.
    pub module: Module,
    /// Modules in series in each string.
    pub modules_in_series: u32,
    /// Strings in parallel.
    pub strings_in_parallel: u32,
    /// Lowest state of charge used, 0..1. Absent: by chemistry.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub soc_min: Option<f64>,
    /// Highest state of charge used, 0..1. Absent: by chemistry.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub soc_max: Option<f64>,
    /// Box, brackets, straps and monitoring, kg.
    #[serde(default)]
    pub box_mass_kg: f64,
    /// Box, links and monitoring, price.
    #[serde(default)]
    pub box_price: f64,
    /// Whether every cell is watched by a management system.
    #[serde(default)]
    pub monitored: bool,
}

/// Cable, fuse and contactor between pack and controller.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Wiring {
    /// Resistance of links, cable, fuse and contactor, there and back, ohm.
    pub resistance_ohm: f64,
    /// Rating of the pack fuse, A. Absent: no fuse.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fuse_a: Option<f64>,
    /// Direct voltage the fuse can break, V. Absent: not stated.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fuse_voltage_v: Option<f64>,
    /// Current the cable bears for ever, A. Absent: not stated.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cable_current_a: Option<f64>,
}

/// How braking is shared between motor and friction brakes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Regeneration {
    /// Share of the braking force at the wheels asked of the motor, 0..1. Default 0.6; 0 with a motor that cannot.
    pub share: f64,
    /// Greatest power fed back, on the battery side of the controller, W. Absent: none beside the amps.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub power_cap_w: Option<f64>,
    /// At and above this speed the whole share is used, km/h. Default 8.
    pub fade_from_kmh: f64,
    /// At and below this speed none is, km/h; linear between. Default 0.
    pub fade_to_kmh: f64,
    /// Whether charging current is held below what lifts the pack to its full-charge voltage, and below its charge rate. Default true.
    pub respect_pack_limits: bool,
}

impl Default for Regeneration {
    fn default() -> Self {
        Self { share: 0.6, power_cap_w: None, fade_from_kmh: 8.0, fade_to_kmh: 0.0, respect_pack_limits: true }
    }
}

/// Low-voltage supply, fed from the traction pack through a converter.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct LowVoltage {
    /// Mean load at 12 V, W. Default 150.
    pub load_w: f64,
    /// Efficiency of the converter, 0..1. Default 0.88.
    pub converter_efficiency: f64,
}

impl Default for LowVoltage {
    fn default() -> Self {
        Self { load_w: 150.0, converter_efficiency: 0.88 }
    }
}

/// Anything else put into the vehicle.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct AddedItem {
    /// What it is.
    pub name: String,
    /// Mass, kg.
    pub mass_kg: f64,
    /// Price.
    #[serde(default)]
    pub price: f64,
}

impl Pack {
    /// Window of state of charge, (lowest, highest): as stated, else by chemistry.
    #[must_use]
    pub fn window(&self) -> (f64, f64) {
        let (low, high) = self.module.chemistry.usual_window();
        (self.soc_min.unwrap_or(low), self.soc_max.unwrap_or(high))
    }

    /// Cells in series in the whole pack.
    #[must_use]
    pub fn cells_in_series(&self) -> u32 {
        self.modules_in_series * self.module.cells_in_series
    }
}

impl Design {
    pub(crate) fn check(&self, path: &str, problems: &mut Vec<Problem>) {
        let at = |key: &str| join(path, key);
        if let Some(motor) = &self.motor {
            motor.check(&at("motor"), problems);
        }
        if let Some(controller) = &self.controller {
            controller.check(&at("controller"), problems);
        }
        if let Some(charger) = &self.charger {
            charger.check(&at("charger"), problems);
        }
        if let Some(pack) = &self.pack {
            pack.module.check(&at("pack.module"), problems);
            let (low, high) = pack.window();
            if low >= high {
                problems.push(Problem::new(at("pack.soc_min"), low, format!("it must be below soc_max, which is {high}")));
            }
        }
        let regen = &self.regeneration;
        if regen.fade_to_kmh > regen.fade_from_kmh {
            problems.push(Problem::new(
                at("regeneration.fade_to_kmh"),
                regen.fade_to_kmh,
                format!("it cannot exceed fade_from_kmh, which is {} km/h", regen.fade_from_kmh),
            ));
        }
    }
}
