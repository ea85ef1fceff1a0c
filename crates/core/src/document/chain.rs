//! What is put into the vehicle: the power path from cell to tyre, and what follows from it.

use serde::{Deserialize, Serialize};

use super::{Driveline, Electrics, FittedComponents, Layout, LowVoltageSupply, Mechanics, Pack, Placement, VehicleKind};
use crate::error::{Problem, Problems};
use crate::library::{Charger, Controller, Motor};
use crate::quantity::{Sources, check_sources, fields, join};

/// One variant of a conversion. Records are embedded, so that a later edit of the library never changes it silently.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Design {
    /// What its owner calls it, beside its letter.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// Remarks.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// Whether the program proposed the parts and nobody has chosen otherwise yet; no figure depends on it.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub proposed: bool,
    /// Motor.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub motor: Option<Motor>,
    /// Number of such motors, all geared alike; their torques add.
    pub motor_count: u32,
    /// Where they sit.
    pub motor_place: MotorPlace,
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
    /// What is said of the rest of the electrics.
    #[serde(skip_serializing_if = "Electrics::is_default")]
    pub electrics: Electrics,
    /// Everything else put in: adapter plate, boxes, cables, pumps.
    pub added: Vec<AddedItem>,
    /// Where all of it sits. What is not said is usual for the kind of vehicle.
    #[serde(skip_serializing_if = "Layout::is_unsaid")]
    pub layout: Layout,
    /// What turns and what holds: chain, shaft, coupler, mounts.
    #[serde(skip_serializing_if = "Mechanics::is_unsaid")]
    pub mechanics: Mechanics,
    /// Share of the converted vehicle's mass on the front axle, 0..1, as weighed. Absent: from the places of what came out and went in; grip
    /// counts the donor's.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub front_axle_share: Option<f64>,
    /// Provenance by key: of `wiring.resistance_ohm`, `regeneration.share`, `low_voltage.load_w`, `added`.
    #[serde(skip_serializing_if = "Sources::is_empty")]
    pub sources: Sources,
}

impl MotorPlace {
    /// Where hub motors sit on a vehicle of a kind, and how many of them; the usual way first.
    #[must_use]
    pub fn of_hubs(kind: VehicleKind) -> &'static [(Self, u32)] {
        match kind {
            VehicleKind::Motorcycle | VehicleKind::Sled => &[(Self::Wheels, 1)],
            VehicleKind::Trike => &[(Self::Wheels, 2)],
            _ => &[(Self::Wheels, 2), (Self::EveryWheel, 4)],
        }
    }
}

/// Where the motors of a design sit; decides which axles drive.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MotorPlace {
    /// On one shaft ahead of the donor's driveline; the donor's driven axle drives.
    #[default]
    Shaft,
    /// In or at the wheels of the donor's driven axle, one each.
    Wheels,
    /// One on each axle, geared alike; all wheels drive.
    EachAxle,
    /// In or at every wheel; all wheels drive.
    EveryWheel,
}

impl Default for Design {
    fn default() -> Self {
        Self {
            name: String::new(),
            notes: String::new(),
            proposed: false,
            motor: None,
            motor_count: 1,
            motor_place: MotorPlace::default(),
            controller: None,
            controller_count: 1,
            driveline: None,
            pack: None,
            charger: None,
            wiring: Wiring::default(),
            regeneration: Regeneration::default(),
            low_voltage: LowVoltage::default(),
            electrics: Electrics::default(),
            added: Vec::new(),
            layout: Layout::default(),
            mechanics: Mechanics::default(),
            front_axle_share: None,
            sources: Sources::new(),
        }
    }
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
    /// Current the cable bears continuously, A. Absent: not stated.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cable_current_a: Option<f64>,
    /// Length of traction cable there and back, m; its resistance is added to the rest. Absent: within `resistance_ohm`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cable_length_m: Option<f64>,
    /// Copper section of that cable, mm2.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cable_section_mm2: Option<f64>,
}

/// How braking is shared between motor and friction brakes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Regeneration {
    /// How it is called for; gives the share when that is absent.
    pub approach: RegenerationApproach,
    /// Share of the braking force at the wheels asked of the motor, 0..1. Absent: by approach; 0 with a motor that cannot.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub share: Option<f64>,
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

impl Regeneration {
    /// Share of braking asked of the motor: as stated, else by approach (judgement: lifting the pedal catches the gentle half of
    /// braking, a linked brake pedal a little more, a driver's dial most).
    #[must_use]
    pub(crate) fn share_or_usual(&self) -> f64 {
        self.share.unwrap_or(match self.approach {
            RegenerationApproach::None => 0.0,
            RegenerationApproach::Throttle => 0.5,
            RegenerationApproach::Brake => 0.6,
            RegenerationApproach::Dial => 0.7,
        })
    }
}

/// How braking by the motor is called for. Approaches differ: each is supported.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RegenerationApproach {
    /// Not at all: coast freely, brake by friction.
    None,
    /// By lifting the accelerator pedal.
    Throttle,
    /// By the first travel of the brake pedal.
    #[default]
    Brake,
    /// By a lever or dial of its own.
    Dial,
}

impl Default for Regeneration {
    fn default() -> Self {
        Self {
            approach: RegenerationApproach::default(),
            share: None,
            power_cap_w: None,
            fade_from_kmh: 8.0,
            fade_to_kmh: 0.0,
            respect_pack_limits: true,
        }
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
    /// Where it sits. Where nothing is said along the vehicle: with the motor.
    #[serde(default, skip_serializing_if = "Placement::is_unsaid")]
    pub at: Placement,
    /// What to keep cables and cells away from it for. Absent: nothing.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub beware: Option<Beware>,
}

/// Why cables and cells keep away from something.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Beware {
    /// It gets hot.
    Hot,
    /// It holds fuel.
    Fuel,
}

impl AddedItem {
    /// Something by its name, mass in kg and price, its place not said.
    #[must_use]
    pub fn of(name: String, mass_kg: f64, price: f64) -> Self {
        Self { name, mass_kg, price, at: Placement::default(), beware: None }
    }
}

impl Design {
    /// Fuse and cable in use: what the fitted ones say, else as stated.
    #[must_use]
    pub(crate) fn wiring_in_use(&self) -> Wiring {
        let FittedComponents { pack_fuse: fuse, traction_cable: cable, .. } = &self.electrics.fitted;
        let mut wiring = self.wiring.clone();
        wiring.fuse_a = fuse.as_ref().and_then(|c| c.current_a).or(wiring.fuse_a);
        wiring.fuse_voltage_v = fuse.as_ref().and_then(|c| c.max_voltage_v).or(wiring.fuse_voltage_v);
        wiring.cable_section_mm2 = cable.as_ref().and_then(|c| c.section_mm2).or(wiring.cable_section_mm2);
        wiring
    }

    /// What the 12 V side draws from the pack on the mean, W: nothing where a battery of its own feeds it.
    #[must_use]
    pub(crate) fn low_voltage_drawn_w(&self) -> f64 {
        match self.electrics.supply {
            LowVoltageSupply::Converter => self.low_voltage.load_w / self.low_voltage.converter_efficiency,
            LowVoltageSupply::Battery => 0.0,
        }
    }

    /// Whether every cell is watched by a management system: as stated, or because one is fitted.
    #[must_use]
    pub fn monitored(&self) -> bool {
        self.electrics.fitted.monitor.is_some() || self.pack.as_ref().is_some_and(|p| p.monitored)
    }

    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        let at = |key: &str| join(path, key);
        check_sources(&self.sources, path, (fields::DESIGN, &["prices"]), problems);
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
            for (i, strings) in pack.added_strings.iter().enumerate() {
                strings.module.check(&at(&format!("pack.added_strings[{i}].module")), problems);
            }
            let (low, high) = pack.window();
            if low >= high {
                problems.push(Problem::new(at("pack.soc_min"), low, format!("it must be below soc_max, which is {high}")));
            }
        }
        if self.electrics.fitted.traction_cable.is_none() && self.wiring.cable_length_m.is_some() != self.wiring.cable_section_mm2.is_some()
        {
            problems.push(Problem::new(
                at(if self.wiring.cable_length_m.is_some() { "wiring.cable_section_mm2" } else { "wiring.cable_length_m" }),
                "",
                "the length and the section of the cable are needed together",
            ));
        }
        self.layout.check(&at("layout"), problems);
        self.mechanics.check(&at("mechanics"), problems);
        self.electrics.check(&at("electrics"), &self.wiring, problems);
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
