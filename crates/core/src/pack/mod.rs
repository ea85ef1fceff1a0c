//! The traction pack as the rest of the chain sees it: open-circuit voltage behind a resistance.

mod strings;
mod table;
pub mod temperature;

use std::sync::Arc;

use crate::document::{Pack, Wiring};
pub use strings::Strings;
pub(crate) use table::Table;

/// Electrical model of a whole pack with its wiring, in SI.
///
/// `V = OCV(soc) - I R`. A power `P` at the terminals draws the smaller root
/// `I = (OCV - sqrt(OCV^2 - 4 R P)) / (2 R)`; the other root would waste more than half in the pack.
#[derive(Debug, Clone, PartialEq)]
pub struct PackModel {
    /// Packs of as many of the same modules in series may share it.
    ocv: Arc<Table>,
    /// Resistance of cells and wiring, ohm.
    pub resistance_ohm: f64,
    /// Present capacity at the cells' temperature, A s.
    pub capacity_a_s: f64,
    /// Inverse of the capacity, 1/(A s).
    pub per_a_s: f64,
    /// What takes extra charge.
    pub(crate) peukert: Peukert,
    /// Lowest permitted terminal voltage, V.
    pub cutoff_v: f64,
    /// Full-charge voltage, V; the figure held against every maximum.
    pub full_v: f64,
    /// Nominal voltage, V.
    pub nominal_v: f64,
    /// Discharge at peak, A.
    pub peak_a: f64,
    /// Continuous discharge, A.
    pub continuous_a: f64,
    /// Greatest charging current at the cells' temperature, A; 0 for lithium in frost.
    pub charge_a: f64,
    /// Lowest state of charge used.
    pub soc_min: f64,
    /// Highest state of charge used.
    pub soc_max: f64,
}

/// Peukert's law: what a current above the rated one counts for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Peukert {
    /// Current above which it takes extra charge, A.
    pub(crate) rated_a: f64,
    /// Its exponent less one; zero where it counts nothing.
    pub(crate) less_one: f64,
}

impl Peukert {
    /// What counts no more than either.
    pub(crate) fn or_less(self, other: Self) -> Self {
        Self { rated_a: self.rated_a.max(other.rated_a), less_one: self.less_one.min(other.less_one) }
    }

    /// Whether it counts anything.
    #[inline]
    pub(crate) fn counts(&self) -> bool {
        self.less_one > 0.0
    }

    /// What counts more for an ampere more: the slope of [`Self::counted_a`], which only rises.
    pub(crate) fn per_more_a(&self, current_a: f64) -> f64 {
        let share = (current_a / self.rated_a).max(1.0);
        if self.counts() && share > 1.0 { (1.0 + self.less_one) * share.powf(self.less_one) } else { 1.0 }
    }

    /// Current that counts against the capacity, A: `I (I / I_rated)^(n-1)` above the rated current.
    ///
    /// # Source
    /// Capacity at I is `C (I_rated / I)^(n-1)`: Larminie and Lowry, 2nd ed., section 2.2.2 (from memory).
    #[inline]
    pub(crate) fn counted_a(&self, current_a: f64) -> f64 {
        if self.counts() && current_a > self.rated_a { current_a * (current_a / self.rated_a).powf(self.less_one) } else { current_a }
    }
}

/// State of the terminals under a load.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Terminals {
    /// V.
    pub volts_v: f64,
    /// A, positive out of the pack.
    pub current_a: f64,
}

/// Resistivity of copper at 20 degC, ohm m (IEC 60028).
pub const COPPER_OHM_M: f64 = 1.7241e-8;

impl PackModel {
    /// Model of a pack of a checked document with its cells at a temperature.
    #[must_use]
    pub fn of(pack: &Pack, wiring: &Wiring, celsius: f64) -> Self {
        let all = Strings::in_parallel(Strings::of(pack, celsius));
        let cable_ohm = match (wiring.cable_length_m, wiring.cable_section_mm2) {
            (Some(length_m), Some(mm2)) => COPPER_OHM_M * length_m / (mm2 * 1e-6),
            _ => 0.0,
        };
        let resistance_ohm = all.resistance_ohm + wiring.resistance_ohm + cable_ohm;
        let (soc_min, soc_max) = pack.window();
        Self {
            resistance_ohm,
            capacity_a_s: all.capacity_ah * 3600.0,
            per_a_s: 1.0 / (all.capacity_ah * 3600.0),
            peukert: Peukert { rated_a: all.rated_current_a, less_one: all.peukert_less_one },
            cutoff_v: all.cutoff_v,
            full_v: all.full_v,
            nominal_v: all.nominal_v,
            peak_a: all.peak_a,
            continuous_a: all.continuous_a,
            charge_a: all.charge_a,
            ocv: Arc::new(all.ocv),
            soc_min,
            soc_max,
        }
    }

    /// The same, holding the table of another where it is the same, so that many packs take less memory.
    #[must_use]
    pub(crate) fn sharing_table(mut self, other: &Self) -> Self {
        if self.ocv == other.ocv {
            self.ocv = other.ocv.clone();
        }
        self
    }

    /// A source that gives and takes whatever is asked at one voltage.
    pub(crate) fn ideal() -> Self {
        const VOLTS: f64 = 400.0;
        const AMPLE: f64 = 1e9;
        Self {
            ocv: Arc::new(Table::new(vec![0.0, 1.0], vec![VOLTS, VOLTS])),
            resistance_ohm: 0.0,
            capacity_a_s: AMPLE,
            per_a_s: 1.0 / AMPLE,
            peukert: Peukert { rated_a: AMPLE, less_one: 0.0 },
            cutoff_v: 0.0,
            full_v: VOLTS,
            nominal_v: VOLTS,
            peak_a: AMPLE,
            continuous_a: AMPLE,
            charge_a: AMPLE,
            soc_min: 0.0,
            soc_max: 1.0,
        }
    }

    /// Whether Peukert's law takes extra charge at some current.
    #[inline]
    #[must_use]
    pub(crate) fn has_peukert(&self) -> bool {
        self.peukert.counts()
    }

    /// Open-circuit voltage in V, linear between the points of the table.
    #[inline]
    #[must_use]
    pub fn ocv_v(&self, soc: f64) -> f64 {
        self.ocv.volts_v(soc)
    }

    /// Terminals under `power_w` (negative when charging), or `None` when the pack cannot give that much.
    #[inline]
    #[must_use]
    pub fn under(&self, ocv_v: f64, power_w: f64) -> Option<Terminals> {
        let root = ocv_v * ocv_v - 4.0 * self.resistance_ohm * power_w;
        if root < 0.0 {
            return None;
        }
        let volts_v = 0.5 * (ocv_v + root.sqrt());
        Some(Terminals { volts_v, current_a: power_w / volts_v })
    }

    /// Current that counts against the capacity, A.
    #[inline]
    #[must_use]
    pub fn counted_a(&self, current_a: f64) -> f64 {
        self.peukert.counted_a(current_a)
    }

    /// Energy in Wh between two states of charge at vanishing current.
    #[must_use]
    pub fn energy_wh(&self, from_soc: f64, to_soc: f64) -> f64 {
        self.ocv.integral(from_soc, to_soc) * self.capacity_a_s / 3600.0
    }
}
