//! Components that have been chosen for their places in the circuits, as records of the library.

use serde::{Deserialize, Serialize};

use super::Wiring;
use crate::error::{Problem, Problems};
use crate::library::{Component, ComponentKind};
use crate::quantity::join;

/// A place in the circuits that a component is chosen for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Slot {
    /// Fuse at the pack.
    PackFuse,
    /// Service disconnect.
    Disconnect,
    /// Main contactors, one or one in each pole.
    MainContactor,
    /// Traction cable, by the metre.
    TractionCable,
    /// Fuse of the charge wiring, at the pack.
    ChargeFuse,
    /// Inlet for mains.
    ChargeInlet,
    /// Inlet for direct current of a station.
    FastInlet,
    /// Converter to 12 V.
    Converter,
    /// Accelerator.
    Throttle,
    /// Vacuum pump or brake booster.
    BrakeAssistance,
    /// Heater fed from the pack.
    Heater,
    /// Cell monitoring.
    Monitor,
}

impl Slot {
    /// Every place, in the order of the circuits.
    pub const ALL: [Self; 12] = [
        Self::PackFuse,
        Self::Disconnect,
        Self::MainContactor,
        Self::TractionCable,
        Self::ChargeFuse,
        Self::ChargeInlet,
        Self::FastInlet,
        Self::Converter,
        Self::Throttle,
        Self::BrakeAssistance,
        Self::Heater,
        Self::Monitor,
    ];

    /// As it stands in the document: the key below `design.electrics.fitted`.
    #[must_use]
    pub fn key(self) -> &'static str {
        match self {
            Self::PackFuse => "pack_fuse",
            Self::Disconnect => "disconnect",
            Self::MainContactor => "main_contactor",
            Self::TractionCable => "traction_cable",
            Self::ChargeFuse => "charge_fuse",
            Self::ChargeInlet => "charge_inlet",
            Self::FastInlet => "fast_inlet",
            Self::Converter => "converter",
            Self::Throttle => "throttle",
            Self::BrakeAssistance => "brake_assistance",
            Self::Heater => "heater",
            Self::Monitor => "monitor",
        }
    }

    /// As people say it.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::PackFuse => "Pack fuse",
            Self::Disconnect => "Service disconnect",
            Self::MainContactor => "Main contactor",
            Self::TractionCable => "Traction cable",
            Self::ChargeFuse => "Charge fuse",
            Self::ChargeInlet => "Charge inlet",
            Self::FastInlet => "Fast-charge inlet",
            Self::Converter => "Converter to 12 V",
            Self::Throttle => "Throttle",
            Self::BrakeAssistance => "Brake assistance",
            Self::Heater => "Heater",
            Self::Monitor => "Cell monitoring",
        }
    }

    /// Kinds of component that go there.
    #[must_use]
    pub fn kinds(self) -> &'static [ComponentKind] {
        match self {
            Self::PackFuse | Self::ChargeFuse => &[ComponentKind::Fuse],
            Self::Disconnect => &[ComponentKind::Disconnect],
            Self::MainContactor => &[ComponentKind::Contactor],
            Self::TractionCable => &[ComponentKind::Cable],
            Self::ChargeInlet | Self::FastInlet => &[ComponentKind::Connector],
            Self::Converter => &[ComponentKind::Converter],
            Self::Throttle => &[ComponentKind::Throttle],
            Self::BrakeAssistance => &[ComponentKind::VacuumPump, ComponentKind::Booster],
            Self::Heater => &[ComponentKind::Heater],
            Self::Monitor => &[ComponentKind::Monitor],
        }
    }
}

/// Components chosen; what is absent has not been.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct FittedComponents {
    /// Fuse at the pack.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pack_fuse: Option<Component>,
    /// Service disconnect.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub disconnect: Option<Component>,
    /// Main contactor; above 60 V one in each pole.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub main_contactor: Option<Component>,
    /// Traction cable; `wiring.cable_length_m` says how much of it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub traction_cable: Option<Component>,
    /// Fuse of the charge wiring.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub charge_fuse: Option<Component>,
    /// Inlet for mains.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub charge_inlet: Option<Component>,
    /// Inlet for direct current of a station.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fast_inlet: Option<Component>,
    /// Converter to 12 V.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub converter: Option<Component>,
    /// Accelerator.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub throttle: Option<Component>,
    /// Vacuum pump or brake booster.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub brake_assistance: Option<Component>,
    /// Heater fed from the pack.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub heater: Option<Component>,
    /// Cell monitoring.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub monitor: Option<Component>,
}

impl FittedComponents {
    pub(super) fn is_default(&self) -> bool {
        *self == Self::default()
    }

    /// What has been chosen for a place.
    #[must_use]
    pub fn get(&self, slot: Slot) -> Option<&Component> {
        match slot {
            Slot::PackFuse => self.pack_fuse.as_ref(),
            Slot::Disconnect => self.disconnect.as_ref(),
            Slot::MainContactor => self.main_contactor.as_ref(),
            Slot::TractionCable => self.traction_cable.as_ref(),
            Slot::ChargeFuse => self.charge_fuse.as_ref(),
            Slot::ChargeInlet => self.charge_inlet.as_ref(),
            Slot::FastInlet => self.fast_inlet.as_ref(),
            Slot::Converter => self.converter.as_ref(),
            Slot::Throttle => self.throttle.as_ref(),
            Slot::BrakeAssistance => self.brake_assistance.as_ref(),
            Slot::Heater => self.heater.as_ref(),
            Slot::Monitor => self.monitor.as_ref(),
        }
    }

    /// All that has been chosen, in the order of the circuits.
    pub fn all(&self) -> impl Iterator<Item = (Slot, &Component)> {
        Slot::ALL.into_iter().filter_map(|slot| self.get(slot).map(|c| (slot, c)))
    }

    pub(super) fn check(&self, path: &str, wiring: &Wiring, problems: &mut Problems) {
        for (slot, component) in self.all() {
            let at = join(path, slot.key());
            component.check(&at, problems);
            if !slot.kinds().contains(&component.kind) {
                let kinds: Vec<&str> = slot.kinds().iter().map(|k| k.word()).collect();
                problems.push(Problem::new(join(&at, "kind"), component.kind.word(), format!("{} is accepted there", kinds.join(" or "))));
            }
        }
        // A figure beside a record may only repeat it.
        let mut repeats = |key: &str, stated: Option<f64>, slot: Slot, of: fn(&Component) -> Option<f64>| {
            if let (Some(stated), Some(component)) = (stated, self.get(slot))
                && let Some(own) = of(component)
                && (stated - own).abs() > 1e-6 * own.abs()
            {
                let accepted = format!("{}, which {} says; leave it empty, or take that record out", own, join(path, slot.key()));
                problems.push(Problem::new(format!("design.wiring.{key}"), stated, accepted));
            }
        };
        repeats("fuse_a", wiring.fuse_a, Slot::PackFuse, |c| c.current_a);
        repeats("fuse_voltage_v", wiring.fuse_voltage_v, Slot::PackFuse, |c| c.max_voltage_v);
        repeats("cable_section_mm2", wiring.cable_section_mm2, Slot::TractionCable, |c| c.section_mm2);
        if self.traction_cable.is_some() && wiring.cable_length_m.is_none() {
            problems.push(Problem::new("design.wiring.cable_length_m", "", "a cable is bought by the metre: say how much, there and back"));
        }
    }
}
