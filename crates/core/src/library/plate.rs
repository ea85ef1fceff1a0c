//! Half-known parts: from the few figures on a plate or in an offer to a whole record, the rest from the class and marked as guessed.

use serde::{Deserialize, Serialize};

use super::of_plate;
use super::{Chemistry, MotorKind, Part};
use crate::error::{Problem, Problems, Result};
use crate::quantity::{check_name, check_numbers, check_texts, deserialize, fields};

/// What is known of a part by its plate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "part", rename_all = "snake_case")]
pub enum Plate {
    /// A motor by its kind and two or more of volts, amps, power and speed.
    Motor(MotorPlate),
    /// A controller by volts and amps.
    Controller(ControllerPlate),
    /// A cell, module or battery by chemistry, volts and amp-hours.
    Module(ModulePlate),
    /// A charger by volts and amps.
    Charger(ChargerPlate),
}

/// Plate of a motor: its power, or volts and amps from which it follows.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct MotorPlate {
    /// Name shown in lists.
    pub name: String,
    /// Kind of motor.
    pub kind: MotorKind,
    /// Voltage it is made for, V.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub volts_v: Option<f64>,
    /// Rated current, A.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amps_a: Option<f64>,
    /// Rated shaft power, W.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub power_w: Option<f64>,
    /// Highest speed, rpm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub speed_rpm: Option<f64>,
    /// Price.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<f64>,
}

/// Plate of a controller.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ControllerPlate {
    /// Name shown in lists.
    pub name: String,
    /// Kind of motor it drives.
    pub kind: MotorKind,
    /// Nominal voltage of the system it is sold for, V.
    pub volts_v: f64,
    /// Greatest battery current, A.
    pub amps_a: f64,
    /// Price.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<f64>,
}

/// Plate of a cell, module or battery.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ModulePlate {
    /// Name shown in lists.
    pub name: String,
    /// Chemistry.
    pub chemistry: Chemistry,
    /// Nominal voltage of the whole module, V.
    pub volts_v: f64,
    /// Capacity when new, Ah.
    pub capacity_ah: f64,
    /// Mass of the module, kg.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mass_kg: Option<f64>,
    /// Price.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<f64>,
}

/// Plate of a charger.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ChargerPlate {
    /// Name shown in lists.
    pub name: String,
    /// Highest output voltage, V.
    pub volts_v: f64,
    /// Greatest output current, A.
    pub amps_a: f64,
    /// Price.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<f64>,
}

impl Plate {
    /// Reads and checks a plate.
    ///
    /// # Errors
    /// [`Error::Invalid`] naming every field that is missing, of the wrong type or out of bounds.
    pub fn from_value(value: &serde_json::Value) -> Result<Self> {
        let mut problems = Problems::new();
        check_texts(value, "", &mut problems);
        check_numbers(value, "", fields::PLATE, &mut problems);
        let needed: &[&str] = match value["part"].as_str() {
            Some("motor") => &["name", "kind"],
            Some("controller") => &["name", "kind", "volts_v", "amps_a"],
            Some("module") => &["name", "chemistry", "volts_v", "capacity_ah"],
            Some("charger") => &["name", "volts_v", "amps_a"],
            _ => &["part"],
        };
        for key in needed.iter().filter(|key| value[**key].is_null()) {
            problems.push(Problem::new(*key, "nothing", "a part cannot be made without it"));
        }
        if !problems.is_empty() {
            return Err(problems.into_error());
        }
        let plate: Self = deserialize(value, "")?;
        check_name(plate.name(), "", &mut problems);
        problems.or(plate)
    }

    fn name(&self) -> &str {
        match self {
            Self::Motor(p) => &p.name,
            Self::Controller(p) => &p.name,
            Self::Module(p) => &p.name,
            Self::Charger(p) => &p.name,
        }
    }

    /// The whole record: what the plate says as guessed, until somebody says where it comes from; all else as the class has it, guessed with
    /// a wide spread. A price that is not known is left at nothing.
    ///
    /// # Errors
    /// [`Error::Invalid`] where too little is known, or the figures do not fit one another.
    ///
    /// ```
    /// use joulethesis_core::library::{Part, Plate};
    /// let plate = serde_json::json!({ "part": "motor", "name": "From the shelf", "kind": "hub", "volts_v": 48, "amps_a": 40 });
    /// let Part::Motor(motor) = Plate::from_value(&plate)?.part()? else { unreachable!() };
    /// assert!((motor.continuous_power_w - 48.0 * 40.0 * 0.87).abs() < 1.0 && motor.sources.contains_key("mass_kg"));
    /// # Ok::<(), joulethesis_core::error::Error>(())
    /// ```
    pub fn part(&self) -> Result<Part> {
        let part = match self {
            Self::Motor(p) => Part::Motor(of_plate::motor(p)?),
            Self::Controller(p) => Part::Controller(of_plate::controller(p)),
            Self::Module(p) => Part::Module(of_plate::module(p)?),
            Self::Charger(p) => Part::Charger(of_plate::charger(p)),
        };
        // Figures that do not fit one another are refused as those of a whole record are.
        Part::from_value(&serde_json::to_value(&part).unwrap_or_default())
    }
}
