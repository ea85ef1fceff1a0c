//! The traction pack: what it is built of, and how much of its charge is used.

use serde::{Deserialize, Serialize};

use crate::library::Module;

/// Above this direct voltage a circuit counts as hazardous, V (UN R100, ISO 6469-3).
pub const HAZARDOUS_V: f64 = 60.0;

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
    /// How much of the charge is used where `soc_min` and `soc_max` do not say.
    #[serde(default)]
    pub window_approach: WindowApproach,
    /// Temperature of the cells, degC. Absent: that of the air.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub temperature_c: Option<f64>,
    /// Resistance of one link between modules, with its two joints, ohm.
    #[serde(default)]
    pub interconnect_resistance_ohm: f64,
    /// Strings of other modules put in parallel later.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub added_strings: Vec<AddedStrings>,
}

/// Strings in parallel with the first ones, of another module or of another age.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct AddedStrings {
    /// Cell or module.
    pub module: Module,
    /// Modules in series in each string.
    pub modules_in_series: u32,
    /// Strings.
    pub strings_in_parallel: u32,
}

/// How much of the charge is used. Approaches differ: each is supported.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum WindowApproach {
    /// Middle of the charge only, for the longest life: 20 to 80 %; lead-acid from 60 %.
    LongLife,
    /// What the chemistry usually bears every day.
    #[default]
    Usual,
    /// All that can be drawn, for a trip now and then.
    All,
}

/// So many cells in series and strings in parallel as the trade writes them: `96s2p`.
#[must_use]
pub(crate) fn series_parallel(cells_in_series: u32, strings: u32) -> String {
    format!("{cells_in_series}s{strings}p")
}

impl Pack {
    /// The module of the first strings and those of strings added later.
    pub fn modules(&self) -> impl Iterator<Item = &Module> {
        std::iter::once(&self.module).chain(self.added_strings.iter().map(|s| &s.module))
    }

    /// Cells in series and strings in parallel as the trade writes them: `96s2p`.
    #[must_use]
    pub(crate) fn series_parallel(&self) -> String {
        series_parallel(self.cells_in_series(), self.strings_in_parallel)
    }

    /// Modules of all strings.
    #[must_use]
    pub fn module_count(&self) -> u32 {
        let of = |series: u32, strings: u32| series.saturating_mul(strings);
        let later = self.added_strings.iter().map(|s| of(s.modules_in_series, s.strings_in_parallel));
        later.fold(of(self.modules_in_series, self.strings_in_parallel), u32::saturating_add)
    }

    /// Window of state of charge, (lowest, highest): as stated, else by chemistry; what every string bears where they differ.
    #[must_use]
    pub fn window(&self) -> (f64, f64) {
        let by_chemistry = |m: &Module| match self.window_approach {
            WindowApproach::LongLife if m.chemistry.is_lead() => (0.6, 1.0),
            WindowApproach::LongLife => (0.2, 0.8),
            WindowApproach::Usual => m.chemistry.usual_window(),
            WindowApproach::All => (0.0, 1.0),
        };
        let (low, high) = self.modules().map(by_chemistry).fold((0.0, 1.0), |(low, high), (l, h)| (f64::max(low, l), f64::min(high, h)));
        (self.soc_min.unwrap_or(low), self.soc_max.unwrap_or(high))
    }

    /// Voltage when every cell is full, V; of the highest string.
    #[must_use]
    pub(crate) fn full_charge_v(&self) -> f64 {
        let of = |module: &Module, in_series: u32| module.full_voltage_v * f64::from(module.cells_in_series * in_series);
        let added = self.added_strings.iter().map(|s| of(&s.module, s.modules_in_series));
        added.fold(of(&self.module, self.modules_in_series), f64::max)
    }

    /// Whether any of its cells are lithium cells, which must be watched.
    #[must_use]
    pub(crate) fn has_lithium(&self) -> bool {
        self.modules().any(|m| m.chemistry.is_lithium())
    }

    /// Cells in series in the whole pack.
    #[must_use]
    pub fn cells_in_series(&self) -> u32 {
        self.modules_in_series * self.module.cells_in_series
    }
}
