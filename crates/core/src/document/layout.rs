//! Where what a design puts into the vehicle sits, and how large it is; what is not said is usual for the kind of vehicle.

use serde::{Deserialize, Serialize};

use super::{AxlePlace, Slot};
use crate::error::{Problem, Problems};
use crate::quantity::{check_name, join};

/// Centre and size of a block; axes of the vehicle: along from the front axle rearwards, to the right of the middle, up from the ground.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Placement {
    /// Along the vehicle. Absent: usual for the kind of vehicle.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub along: Option<AxlePlace>,
    /// To the right of the middle, m; negative to the left. Absent: in the middle.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub right_m: Option<f64>,
    /// Above the ground, m. Absent: as high as the donor's centre of gravity.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub up_m: Option<f64>,
    /// Along, m. Absent: from its mass.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub length_m: Option<f64>,
    /// Across, m. Absent: from its mass.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub width_m: Option<f64>,
    /// Upwards, m. Absent: from its mass.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub height_m: Option<f64>,
}

impl Placement {
    /// Whether nothing is said.
    #[must_use]
    pub(crate) fn is_unsaid(&self) -> bool {
        *self == Self::default()
    }
}

/// Where the blocks of a design sit.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Layout {
    /// The motors.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub motor: Placement,
    /// The controllers. Where nothing is said along the vehicle: with the motor.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub controller: Placement,
    /// What of the pack is in no other box.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub pack: Placement,
    /// Further boxes of the pack.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub boxes: Vec<PackBox>,
    /// The charger. Where nothing is said along the vehicle: with the motor.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub charger: Placement,
    /// The contactor box: fuses, disconnect, contactors, cables and the like together. Where nothing is said along the vehicle: with the
    /// motor.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub electrics: Placement,
    /// Components that stand outside the contactor box. Where nothing is said along the vehicle: with the motor.
    #[serde(skip_serializing_if = "FittedPlaces::is_unsaid")]
    pub fitted: FittedPlaces,
    /// The driver.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub driver: Placement,
    /// The load.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub payload: Placement,
}

/// Where components sit that have a place of their own; all others are in the contactor box.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct FittedPlaces {
    /// Inlet for mains.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub charge_inlet: Placement,
    /// Inlet for direct current of a station.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub fast_inlet: Placement,
    /// Converter to 12 V.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub converter: Placement,
    /// Vacuum pump or brake booster.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub brake_assistance: Placement,
    /// Heater fed from the pack.
    #[serde(skip_serializing_if = "Placement::is_unsaid")]
    pub heater: Placement,
}

impl FittedPlaces {
    fn is_unsaid(&self) -> bool {
        *self == Self::default()
    }

    /// What is said of where a component sits; none for what is in the contactor box.
    #[must_use]
    pub fn get(&self, slot: Slot) -> Option<&Placement> {
        match slot {
            Slot::ChargeInlet => Some(&self.charge_inlet),
            Slot::FastInlet => Some(&self.fast_inlet),
            Slot::Converter => Some(&self.converter),
            Slot::BrakeAssistance => Some(&self.brake_assistance),
            Slot::Heater => Some(&self.heater),
            Slot::PackFuse
            | Slot::Disconnect
            | Slot::MainContactor
            | Slot::TractionCable
            | Slot::ChargeFuse
            | Slot::Throttle
            | Slot::Monitor => None,
        }
    }

    /// Every one of them, to be written.
    pub(crate) fn all_mut(&mut self) -> [&mut Placement; 5] {
        [&mut self.charge_inlet, &mut self.fast_inlet, &mut self.converter, &mut self.brake_assistance, &mut self.heater]
    }

    /// What is said of a component, to be written.
    pub fn get_mut(&mut self, slot: Slot) -> Option<&mut Placement> {
        match slot {
            Slot::ChargeInlet => Some(&mut self.charge_inlet),
            Slot::FastInlet => Some(&mut self.fast_inlet),
            Slot::Converter => Some(&mut self.converter),
            Slot::BrakeAssistance => Some(&mut self.brake_assistance),
            Slot::Heater => Some(&mut self.heater),
            _ => None,
        }
    }
}

/// A further box of the pack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct PackBox {
    /// Name shown.
    pub name: String,
    /// Modules in it, of all that the pack has.
    pub modules: u32,
    /// Where it is.
    #[serde(default, skip_serializing_if = "Placement::is_unsaid")]
    pub at: Placement,
}

/// Room in the vehicle for a box of the pack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Bay {
    /// Name shown.
    pub name: String,
    /// Its centre and inner size. Without all three measures of the size nothing is said of what fits.
    #[serde(default, skip_serializing_if = "Placement::is_unsaid")]
    pub at: Placement,
    /// Mass its floor and mounts may carry, kg. Absent: not checked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mass_limit_kg: Option<f64>,
    /// Kept free between its walls and the modules on every side, for box, insulation and straps, m.
    #[serde(default = "clearance_m")]
    pub clearance_m: f64,
}

fn clearance_m() -> f64 {
    0.01
}

impl Bay {
    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        check_name(&self.name, path, problems);
    }
}

impl Layout {
    /// Whether nothing is said.
    #[must_use]
    pub(crate) fn is_unsaid(&self) -> bool {
        *self == Self::default()
    }

    /// Modules in each further box and in the main one, of as many as the pack has: boxes are filled in turn, and a pack that was exchanged
    /// for a smaller one leaves the last of them empty.
    #[must_use]
    pub fn filled(&self, modules: u32) -> (Vec<u32>, u32) {
        let mut left = modules;
        let mut fill = |asked: u32| {
            let own = asked.min(left);
            left -= own;
            own
        };
        let boxes = self.boxes.iter().map(|b| fill(b.modules)).collect();
        (boxes, left)
    }

    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        for (i, own) in self.boxes.iter().enumerate() {
            check_name(&own.name, &join(path, &format!("boxes[{i}]")), problems);
        }
    }
}

/// Photographs that lie under the drawing.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Underlays {
    /// Under the view from the left.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub side: Option<Underlay>,
    /// Under the view from above.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub plan: Option<Underlay>,
}

impl Underlays {
    /// Whether there is none.
    #[must_use]
    pub(crate) fn is_unsaid(&self) -> bool {
        *self == Self::default()
    }
}

/// A photograph, scaled by two points on it: the middles of a front and of a rear wheel, as shares of its width and height.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Underlay {
    /// Id of the photograph.
    pub photograph: String,
    /// Front wheel from the left edge.
    pub front_across: f64,
    /// Front wheel from the upper edge.
    pub front_down: f64,
    /// Rear wheel from the left edge.
    pub rear_across: f64,
    /// Rear wheel from the upper edge.
    pub rear_down: f64,
    /// How strongly it shows, 0..1.
    #[serde(default = "half_shown", skip_serializing_if = "is_half")]
    pub strength: f64,
}

impl Underlay {
    pub(super) fn check(&self, path: &str, problems: &mut Problems) {
        let apart = (self.front_across - self.rear_across).hypot(self.front_down - self.rear_down);
        if apart < LEAST_APART {
            let accepted = format!("two points at least {LEAST_APART} of the picture apart are accepted");
            problems.push(Problem::new(join(path, "rear_across"), "next to the front wheel", accepted));
        }
    }
}

/// Wheels nearer than this on a photograph scale nothing.
const LEAST_APART: f64 = 0.05;

fn half_shown() -> f64 {
    0.5
}

fn is_half(x: &f64) -> bool {
    *x == 0.5
}
