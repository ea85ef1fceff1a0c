//! Controller record.

use serde::{Deserialize, Serialize};

use super::{MotorKind, ThrottleSignal};
use crate::error::{Problem, Problems};
use crate::quantity::{Sources, check_currency, check_name, check_sources, fields, join};

/// One motor controller, as sold.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Controller {
    /// Name shown in lists.
    pub name: String,
    /// Kinds of motor it drives.
    pub motor_kinds: Vec<MotorKind>,
    /// Remarks.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// Throttle signals it reads. Empty: not stated.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub throttle_signals: Vec<ThrottleSignal>,
    /// Below this bus voltage it cuts off, V.
    pub min_voltage_v: f64,
    /// Above this bus voltage it is damaged, V.
    pub max_voltage_v: f64,
    /// Battery-side current at peak, A.
    pub battery_current_a: f64,
    /// Battery-side continuous current, A. Absent: half of the peak (common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub battery_current_continuous_a: Option<f64>,
    /// Motor-side current at peak, A. Absent: not limited.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub motor_current_a: Option<f64>,
    /// Motor-side continuous current, A. Absent: half of the peak (common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub motor_current_continuous_a: Option<f64>,
    /// Battery-side power limit at peak, W. Absent: none beside the amps.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max_power_w: Option<f64>,
    /// How long the peak rating holds, s. Absent: 60 s (common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub peak_s: Option<f64>,
    /// Highest temperature of its heat sink, degC. Absent: 85 (common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max_temperature_c: Option<f64>,
    /// Efficiency in both directions, 0..1.
    pub efficiency: f64,
    /// Current it can feed back to the pack, A; 0 when it cannot regenerate.
    #[serde(default)]
    pub regeneration_current_a: f64,
    /// Mass, kg.
    pub mass_kg: f64,
    /// Price in the brief's currency.
    #[serde(default)]
    pub price: f64,
    /// Currency of the price, a code of ISO 4217. Absent: the brief's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// Provenance by key.
    #[serde(default, skip_serializing_if = "Sources::is_empty")]
    pub sources: Sources,
}

impl Controller {
    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        check_name(&self.name, path, problems);
        check_sources(&self.sources, path, (fields::CONTROLLER, &[]), problems);
        check_currency(self.currency.as_deref(), path, problems);
        let at = |key: &str| join(path, key);
        if (1..self.motor_kinds.len()).any(|i| self.motor_kinds[..i].contains(&self.motor_kinds[i])) {
            problems.push(Problem::new(at("motor_kinds"), "one kind there twice", "each kind is accepted once"));
        }
        if (1..self.throttle_signals.len()).any(|i| self.throttle_signals[..i].contains(&self.throttle_signals[i])) {
            problems.push(Problem::new(at("throttle_signals"), "one signal there twice", "each signal is accepted once"));
        }
        if self.motor_kinds.is_empty() {
            problems.push(Problem::new(at("motor_kinds"), "empty", "name at least one kind of motor it drives"));
        }
        let mut not_above = |low_key: &str, low: f64, high_key: &str, high: f64, unit: &str| {
            if low > high {
                problems.push(Problem::new(at(low_key), low, format!("it cannot exceed {high_key}, which is {high} {unit}")));
            }
        };
        not_above("min_voltage_v", self.min_voltage_v, "max_voltage_v", self.max_voltage_v, "V");
        if let Some(amps) = self.battery_current_continuous_a {
            not_above("battery_current_continuous_a", amps, "battery_current_a", self.battery_current_a, "A");
        }
        if let (Some(amps), Some(peak)) = (self.motor_current_continuous_a, self.motor_current_a) {
            not_above("motor_current_continuous_a", amps, "motor_current_a", peak, "A");
        }
    }
}
