//! Every part and wire of traction, charge and 12 V circuits, derived from a design: what the drawing and both lists are made from.

mod build;
mod low_voltage;
mod traction;

use serde::Serialize;

use crate::electrics::Sizing;
use crate::findings::{Finding, Severity};
use crate::quantity::Sentence;

pub(super) use build::Builder;

/// Which circuit a part or wire belongs to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CircuitKind {
    /// Pack to motor.
    Traction,
    /// Socket to pack.
    Charge,
    /// 12 V.
    LowVoltage,
    /// Throttle, monitoring, interlock.
    Signal,
}

impl CircuitKind {
    /// As people say it.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Traction => "traction",
            Self::Charge => "charge",
            Self::LowVoltage => "12 V",
            Self::Signal => "signal",
        }
    }
}

/// Symbol of a part, after IEC 60617.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Symbol {
    /// Battery.
    Battery,
    /// Fuse.
    Fuse,
    /// Disconnector.
    Disconnector,
    /// Contactor's make contact.
    Contactor,
    /// Resistor.
    Resistor,
    /// A length of cable.
    Cable,
    /// Bus bar or distribution.
    Bus,
    /// Direct to alternating current.
    Inverter,
    /// Direct to direct current.
    Chopper,
    /// Alternating to direct current.
    Rectifier,
    /// Machine of alternating current.
    MotorAc,
    /// Machine of direct current.
    MotorDc,
    /// Heater.
    Heater,
    /// Inlet.
    Inlet,
    /// Operated by a person's hand or foot.
    Sender,
    /// A unit that watches.
    Monitor,
    /// Switch worked by a key.
    KeySwitch,
    /// Emergency stop.
    EmergencyStop,
    /// Break contact opened by something that happens.
    BreakContact,
    /// Coils of contactors.
    Coil,
    /// Lamp.
    Lamp,
    /// Pump or fan.
    Pump,
    /// Anything else that consumes.
    Consumer,
}

/// A part of the circuits.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CircuitPart {
    /// Reference designation after IEC 81346: `F1`.
    pub id: String,
    /// Its symbol.
    pub symbol: Symbol,
    /// What it is.
    pub name: String,
    /// Its rating, or what it has to bear where none is chosen.
    pub rating: Sentence,
    /// Name of the record that is chosen; absent where none is.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub record: Option<String>,
    /// Circuit.
    pub circuit: CircuitKind,
    /// How many; of cable its metres.
    pub count: f64,
    /// Mass of one, kg, where it is known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mass_kg: Option<f64>,
    /// Price of one, where it is known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub price: Option<f64>,
    /// Line of the sheet that sized it; empty where none did.
    pub line: &'static str,
    /// Key of its place in the document; empty where it has none.
    pub slot: &'static str,
    /// Gravest finding about it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub severity: Option<Severity>,
    /// What was found, in words.
    pub troubles: Vec<Sentence>,
    /// Whether it stands in the parts list: the coils of contactors are drawn, and bought with them.
    pub listed: bool,
}

/// A wire between two parts.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Wire {
    /// Its number.
    pub id: String,
    /// From the part of this designation.
    pub from: String,
    /// To the part of this designation.
    pub to: String,
    /// Circuit.
    pub circuit: CircuitKind,
    /// Conductors that run side by side.
    pub cores: u32,
    /// Section of each, mm2; absent where it is not told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub section_mm2: Option<f64>,
    /// Section as it is bought: `35 mm²`, `2/0 AWG`.
    pub section: String,
    /// Colours of the conductors.
    pub colour: String,
    /// Length of each conductor, m.
    pub length_m: f64,
    /// Designation of the fuse that protects it; absent where none does: sense wires carry their own.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fuse: Option<String>,
    /// How its ends are made off.
    pub lug: String,
    /// Whether it runs beside another in parallel, and closes a loop that the drawing shows as a bypass or a link.
    pub closes: bool,
}

/// Every part and wire, in the order of the circuits. But for wires that `close` a loop the wires make a tree with the pack as
/// its root; a 12 V side without a converter is a tree of its own.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Circuit {
    /// Parts, the pack first.
    pub parts: Vec<CircuitPart>,
    /// Wires.
    pub wires: Vec<Wire>,
}

impl Circuit {
    /// The part of a designation.
    #[must_use]
    pub fn part(&self, id: &str) -> Option<&CircuitPart> {
        self.parts.iter().find(|p| p.id == id)
    }
}

/// The circuit of a design.
pub(super) fn circuit(s: &Sizing<'_>, findings: &[Finding]) -> Circuit {
    let mut b = Builder::of(s, findings);
    let bus = traction::traction(&mut b);
    let converter = traction::branches(&mut b, &bus);
    low_voltage::low_voltage(&mut b, converter.as_deref());
    b.circuit
}
