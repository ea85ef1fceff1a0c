//! Charger record.

use serde::{Deserialize, Serialize};

use crate::error::{Problem, Problems};
use crate::quantity::{Sources, check_currency, check_name, check_sources, fields, join};

/// One charger, as sold.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Charger {
    /// Name shown in lists.
    pub name: String,
    /// Remarks.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// Lowest end-of-charge voltage it can be set to, V.
    pub output_min_v: f64,
    /// Highest end-of-charge voltage it can be set to, V; equal to the lowest when it is fixed.
    pub output_max_v: f64,
    /// Greatest direct current it gives, A.
    pub output_current_a: f64,
    /// Greatest direct-current power it gives, W.
    pub output_power_w: f64,
    /// Greatest mains current it draws on each phase, A. Absent: follows from the power.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub input_current_a: Option<f64>,
    /// Phases it can use.
    #[serde(default = "one")]
    pub phases: u32,
    /// Efficiency, 0..1.
    pub efficiency: f64,
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

fn one() -> u32 {
    1
}

impl Charger {
    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        check_name(&self.name, path, problems);
        check_sources(&self.sources, path, (fields::CHARGER, &[]), problems);
        check_currency(self.currency.as_deref(), path, problems);
        if self.output_min_v > self.output_max_v {
            problems.push(Problem::new(
                join(path, "output_min_v"),
                self.output_min_v,
                format!("it cannot exceed output_max_v, which is {} V", self.output_max_v),
            ));
        }
    }
}
