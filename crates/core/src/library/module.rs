//! Cell, module or battery record.

use serde::{Deserialize, Serialize};

use crate::error::{Problem, Problems};
use crate::quantity::{Sources, check_currency, check_name, check_sources, fields, join};

/// Chemistry of the cells.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Chemistry {
    /// Flooded lead-acid.
    LeadFlooded,
    /// Absorbent glass mat lead-acid.
    LeadAgm,
    /// Lithium iron phosphate.
    Lfp,
    /// Nickel manganese cobalt or nickel cobalt aluminium.
    Nmc,
    /// Manganese spinel blends of early production packs.
    Lmo,
    /// Pouch lithium-polymer.
    Lipo,
    /// Lithium titanate.
    Lto,
    /// Nickel-metal hydride.
    Nimh,
}

impl Chemistry {
    /// Usual window of state of charge, (lowest, highest).
    #[must_use]
    pub fn usual_window(self) -> (f64, f64) {
        match self {
            Self::LeadFlooded | Self::LeadAgm => (0.5, 1.0),
            Self::Lfp | Self::Nmc => (0.10, 0.95),
            Self::Lmo => (0.15, 0.90),
            Self::Lipo => (0.20, 0.95),
            Self::Lto => (0.10, 0.95),
            Self::Nimh => (0.20, 0.80),
        }
    }

    /// Peukert exponent when none is stated: 1.10 AGM, 1.2 flooded, 1 otherwise (common practice).
    #[must_use]
    pub fn usual_peukert(self) -> f64 {
        match self {
            Self::LeadFlooded => 1.2,
            Self::LeadAgm => 1.10,
            _ => 1.0,
        }
    }

    /// Whether it is one of the lead-acid kinds.
    #[must_use]
    pub fn is_lead(self) -> bool {
        matches!(self, Self::LeadFlooded | Self::LeadAgm)
    }

    /// Whether it is one of the lithium kinds, which must not go unwatched.
    #[must_use]
    pub fn is_lithium(self) -> bool {
        !self.is_lead() && self != Self::Nimh
    }

    /// Charge returned per charge put in: 0.90 lead-acid and 0.92 nickel-metal hydride, 0.995 lithium (common practice).
    #[must_use]
    pub fn charge_efficiency(self) -> f64 {
        match self {
            Self::LeadFlooded | Self::LeadAgm => 0.90,
            Self::Nimh => 0.92,
            _ => 0.995,
        }
    }

    /// Trade word for messages.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::LeadFlooded => "flooded lead-acid",
            Self::LeadAgm => "AGM lead-acid",
            Self::Lfp => "LFP",
            Self::Nmc => "NMC/NCA",
            Self::Lmo => "LMO",
            Self::Lipo => "lithium-polymer",
            Self::Lto => "LTO",
            Self::Nimh => "NiMH",
        }
    }
}

/// One point of the open-circuit voltage table.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct OcvPoint {
    /// State of charge, 0..1.
    pub soc: f64,
    /// Open-circuit voltage of one cell, V.
    pub volts_v: f64,
}

/// A cell, or a module of cells in series, as handled and sold. Voltages, resistance and capacity are those of one cell.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Module {
    /// Name shown in lists.
    pub name: String,
    /// Chemistry.
    pub chemistry: Chemistry,
    /// Remarks.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// Cells in series inside one module (a 12 V lead-acid battery has 6); a bare cell has 1. Cells in parallel inside count as one larger cell.
    #[serde(default = "one")]
    pub cells_in_series: u32,
    /// Capacity of one cell when new, Ah, at its rated hours.
    pub capacity_ah: f64,
    /// Hours of discharge the capacity is stated for. Used with the Peukert exponent.
    #[serde(default = "default_rated_hours")]
    pub rated_hours: f64,
    /// Peukert exponent. Absent: by chemistry.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub peukert_exponent: Option<f64>,
    /// Full-charge voltage of one cell, V.
    pub full_voltage_v: f64,
    /// Nominal voltage of one cell, V.
    pub nominal_voltage_v: f64,
    /// Lowest permitted voltage of one cell under load, V.
    pub cutoff_voltage_v: f64,
    /// Open-circuit voltage of one cell against state of charge, rising, from 0 to 1, linear between.
    pub ocv: Vec<OcvPoint>,
    /// Direct-current resistance of one cell when new at 25 degC, ohm.
    pub resistance_ohm: f64,
    /// Continuous discharge, multiples of capacity an hour.
    pub continuous_c: f64,
    /// Discharge at peak, multiples of capacity an hour.
    pub peak_c: f64,
    /// How long the peak holds, s. Absent: 10 s (common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub peak_s: Option<f64>,
    /// Greatest charge rate, multiples of capacity an hour.
    pub charge_c: f64,
    /// Capacity left, share of the new one.
    #[serde(default = "one_f")]
    pub capacity_share: f64,
    /// Resistance now, multiple of the new one.
    #[serde(default = "one_f")]
    pub resistance_factor: f64,
    /// Charge returned for each charge put in. Absent: by chemistry.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub charge_efficiency: Option<f64>,
    /// Lead-acid only: amps it accepts for each ampere-hour that is missing, 1/h. Absent: 1 (common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub acceptance_per_h: Option<f64>,
    /// Current at which charging at the end voltage stops, multiples of capacity an hour. Absent: 0.04 (common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub taper_end_c: Option<f64>,
    /// What the cold takes from capacity and adds to resistance, over what is usual for the chemistry. Absent: 1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cold_factor: Option<f64>,
    /// What holds its cells.
    #[serde(default, skip_serializing_if = "CellCase::is_hard")]
    pub case: CellCase,
    /// How it may be built in.
    #[serde(default, skip_serializing_if = "Standing::is_any")]
    pub stands: Standing,
    /// Length of one module, mm. Absent: from its mass, as usual for its kind.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length_mm: Option<f64>,
    /// Width of one module, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub width_mm: Option<f64>,
    /// Height of one module as it stands, mm.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height_mm: Option<f64>,
    /// Mass of one module, kg.
    pub mass_kg: f64,
    /// Price of one module in the brief's currency.
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
fn one_f() -> f64 {
    1.0
}
fn default_rated_hours() -> f64 {
    1.0
}

/// Amps that lead-acid accepts for each ampere-hour that is missing, 1/h (common practice).
const USUAL_ACCEPTANCE_PER_H: f64 = 1.0;
/// Current below which charging at the end voltage stops, share of capacity an hour (3-5 %, common practice).
pub(crate) const USUAL_TAPER_END_C: f64 = 0.04;

/// What holds the cells of a module.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CellCase {
    /// A hard case, or a frame that presses pouches together.
    #[default]
    Hard,
    /// Nothing but a wrapper: made for models, rated as its label prints.
    BarePouch,
}

impl CellCase {
    fn is_hard(&self) -> bool {
        *self == Self::Hard
    }
}

/// How a module may be built in.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Standing {
    /// On any side; open lead-acid cells stand all the same, as they spill.
    #[default]
    Any,
    /// As its height says, and no other way.
    Upright,
}

impl Standing {
    fn is_any(&self) -> bool {
        *self == Self::Any
    }
}

impl Module {
    /// Whether nothing but a wrapper holds its cells.
    #[must_use]
    pub fn is_bare_pouch(&self) -> bool {
        self.case == CellCase::BarePouch
    }

    /// Capacity of one cell today, Ah.
    #[must_use]
    pub fn present_capacity_ah(&self) -> f64 {
        self.capacity_ah * self.capacity_share
    }

    /// Resistance of one cell today, ohm.
    #[must_use]
    pub fn present_resistance_ohm(&self) -> f64 {
        self.resistance_ohm * self.resistance_factor
    }

    /// Amps that lead-acid accepts for each missing ampere-hour, as stated or usual, 1/h.
    #[must_use]
    pub(crate) fn acceptance_or_usual(&self) -> f64 {
        self.acceptance_per_h.unwrap_or(USUAL_ACCEPTANCE_PER_H)
    }

    /// Current at which charging at the end voltage stops, as stated or usual, multiples of capacity an hour.
    #[must_use]
    pub(crate) fn taper_end_or_usual(&self) -> f64 {
        self.taper_end_c.unwrap_or(USUAL_TAPER_END_C)
    }

    /// Charge returned for each charge put in, as stated or usual for the chemistry.
    #[must_use]
    pub(crate) fn charge_efficiency_or_usual(&self) -> f64 {
        self.charge_efficiency.unwrap_or_else(|| self.chemistry.charge_efficiency())
    }

    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        check_name(&self.name, path, problems);
        check_sources(&self.sources, path, (fields::MODULE, &[]), problems);
        check_currency(self.currency.as_deref(), path, problems);
        let at = |key: &str| join(path, key);
        if self.ocv.len() < 2 || self.ocv[0].soc != 0.0 || self.ocv[self.ocv.len() - 1].soc != 1.0 {
            problems.push(Problem::new(
                at("ocv"),
                format!("{} points long", self.ocv.len()),
                "at least 2 points from soc 0 to soc 1 are needed",
            ));
        }
        for (i, pair) in self.ocv.windows(2).enumerate() {
            if pair[1].soc <= pair[0].soc {
                problems.push(Problem::new(
                    at(&format!("ocv[{}].soc", i + 1)),
                    pair[1].soc,
                    format!("state of charge must rise; the point before it is at {}", pair[0].soc),
                ));
            } else if pair[1].volts_v < pair[0].volts_v {
                problems.push(Problem::new(
                    at(&format!("ocv[{}].volts_v", i + 1)),
                    pair[1].volts_v,
                    format!("voltage cannot fall with charge; the point before it is at {} V", pair[0].volts_v),
                ));
            }
        }
        if self.cutoff_voltage_v >= self.full_voltage_v {
            problems.push(Problem::new(
                at("cutoff_voltage_v"),
                self.cutoff_voltage_v,
                format!("it must be below the full-charge voltage of {} V", self.full_voltage_v),
            ));
        }
        if !(self.cutoff_voltage_v..=self.full_voltage_v).contains(&self.nominal_voltage_v) {
            problems.push(Problem::new(
                at("nominal_voltage_v"),
                self.nominal_voltage_v,
                format!("it must lie between cut-off {} V and full charge {} V", self.cutoff_voltage_v, self.full_voltage_v),
            ));
        }
        if self.ocv.last().is_some_and(|p| p.volts_v > self.full_voltage_v + 1e-9) {
            problems.push(Problem::new(
                at("full_voltage_v"),
                self.full_voltage_v,
                "it cannot be below the open-circuit voltage at full charge",
            ));
        }
        if self.continuous_c > self.peak_c {
            problems.push(Problem::new(
                at("continuous_c"),
                self.continuous_c,
                format!("it cannot exceed peak_c, which is {}", self.peak_c),
            ));
        }
    }
}
