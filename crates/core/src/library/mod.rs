//! Part records of the library: typed ratings with provenance, checked on the way in and out.

mod builtin;
mod charger;
mod component;
mod controller;
pub mod exchange;
mod handbook;
mod module;
mod motor;
mod of_plate;
mod plate;
mod plausibility;
mod room;

use serde::{Deserialize, Serialize};

pub use builtin::builtin;
pub use charger::Charger;
pub use component::{Component, ComponentKind, ThrottleSignal};
pub use controller::Controller;
pub(crate) use module::USUAL_TAPER_END_C;
pub use module::{CellCase, Chemistry, Module, OcvPoint, Standing};
pub use motor::{LossCoefficients, Motor, MotorKind, MotorModel, TorquePoint};
pub use plate::{ChargerPlate, ControllerPlate, ModulePlate, MotorPlate, Plate};
pub use plausibility::{Implausible, implausible, look_alikes};
pub use room::Room;

use crate::error::{Problem, Problems, Result};
use crate::quantity::{Sources, check_numbers, check_texts, deserialize};

/// A library part of any kind.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "part", rename_all = "snake_case")]
pub enum Part {
    /// An electric motor, with its reduction if it cannot be separated from it.
    Motor(Motor),
    /// A motor controller (inverter or chopper).
    Controller(Controller),
    /// A cell, a module or a battery.
    Module(Module),
    /// A charger.
    Charger(Charger),
    /// A fuse, contactor, cable, converter or the like.
    Component(Component),
}

/// Whether a price of nothing is one that nobody has said: where its provenance stands, a part is had for nothing.
pub(crate) fn price_is_unsaid(price: f64, sources: &Sources) -> bool {
    price <= 0.0 && !sources.contains_key("price")
}

impl Part {
    /// Kind as it stands in the `part` key.
    #[must_use]
    pub fn kind(&self) -> &'static str {
        match self {
            Self::Motor(_) => "motor",
            Self::Controller(_) => "controller",
            Self::Module(_) => "module",
            Self::Charger(_) => "charger",
            Self::Component(_) => "component",
        }
    }

    /// Name shown in lists.
    #[must_use]
    pub fn name(&self) -> &str {
        match self {
            Self::Motor(p) => &p.name,
            Self::Controller(p) => &p.name,
            Self::Module(p) => &p.name,
            Self::Charger(p) => &p.name,
            Self::Component(p) => &p.name,
        }
    }

    /// Price in its own currency.
    #[must_use]
    pub fn price(&self) -> f64 {
        match self {
            Self::Motor(p) => p.price,
            Self::Controller(p) => p.price,
            Self::Module(p) => p.price,
            Self::Charger(p) => p.price,
            Self::Component(p) => p.price,
        }
    }

    /// Whether nobody has said what it costs.
    #[must_use]
    pub(crate) fn is_without_price(&self) -> bool {
        let sources = match self {
            Self::Motor(p) => &p.sources,
            Self::Controller(p) => &p.sources,
            Self::Module(p) => &p.sources,
            Self::Charger(p) => &p.sources,
            Self::Component(p) => &p.sources,
        };
        price_is_unsaid(self.price(), sources)
    }

    /// Currency of the price; absent: the brief's.
    #[must_use]
    pub fn currency(&self) -> Option<&str> {
        match self {
            Self::Motor(p) => p.currency.as_deref(),
            Self::Controller(p) => p.currency.as_deref(),
            Self::Module(p) => p.currency.as_deref(),
            Self::Charger(p) => p.currency.as_deref(),
            Self::Component(p) => p.currency.as_deref(),
        }
    }

    pub(crate) fn set_price(&mut self, to: f64) {
        match self {
            Self::Motor(p) => p.price = to,
            Self::Controller(p) => p.price = to,
            Self::Module(p) => p.price = to,
            Self::Charger(p) => p.price = to,
            Self::Component(p) => p.price = to,
        }
    }

    /// The same part priced in another currency, given the worth of one unit of its own there.
    #[must_use]
    pub fn priced_in(&self, currency: &str, rate: f64) -> Self {
        let mut part = self.clone();
        part.set_price(self.price() * rate);
        let own = match &mut part {
            Self::Motor(p) => &mut p.currency,
            Self::Controller(p) => &mut p.currency,
            Self::Module(p) => &mut p.currency,
            Self::Charger(p) => &mut p.currency,
            Self::Component(p) => &mut p.currency,
        };
        *own = Some(currency.to_owned());
        part
    }

    /// Reads and checks one part from JSON text.
    ///
    /// # Errors
    /// [`Error::Invalid`] naming every field that is missing, of the wrong type or out of bounds.
    pub fn from_value(value: &serde_json::Value) -> Result<Self> {
        let mut problems = Problems::new();
        check_texts(value, "", &mut problems);
        let kind = value.get("part").and_then(|v| v.as_str()).unwrap_or_default();
        if let Some(group) = crate::quantity::fields::group_of_part(kind) {
            check_numbers(value, "", group, &mut problems);
        } else {
            problems.push(Problem::new("part", format!("\"{kind}\""), "accepted are motor, controller, module, charger and component"));
        }
        if !problems.is_empty() {
            return Err(problems.into_error());
        }
        let part: Self = deserialize(value, "")?;
        part.check("", &mut problems);
        problems.or(part)
    }

    /// Checks what single numbers cannot show: order of limits, curves, name.
    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        match self {
            Self::Motor(p) => p.check(path, problems),
            Self::Controller(p) => p.check(path, problems),
            Self::Module(p) => p.check(path, problems),
            Self::Charger(p) => p.check(path, problems),
            Self::Component(p) => p.check(path, problems),
        }
    }
}
