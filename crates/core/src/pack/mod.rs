//! The traction pack as the rest of the chain sees it: open-circuit voltage behind a resistance.

use crate::document::{Pack, Wiring};

/// Electrical model of a whole pack with its wiring, in SI.
///
/// `V = OCV(soc) - I R`. A power `P` at the terminals draws the smaller root
/// `I = (OCV - sqrt(OCV^2 - 4 R P)) / (2 R)`; the other root would waste more than half in the pack.
#[derive(Debug, Clone, PartialEq)]
pub struct PackModel {
    soc: Vec<f64>,
    volts: Vec<f64>,
    /// Slope of each segment, V.
    slope: Vec<f64>,
    /// First segment that can hold a state of charge, by hundredths: spares the search in the inner loop.
    start: Vec<u16>,
    /// Resistance of cells and wiring, ohm.
    pub resistance_ohm: f64,
    /// Present capacity, A s.
    pub capacity_a_s: f64,
    /// Inverse of the capacity, 1/(A s).
    pub per_a_s: f64,
    /// Current above which Peukert's law takes extra charge, A.
    rated_current_a: f64,
    peukert_less_one: f64,
    /// Lowest permitted terminal voltage, V.
    pub cutoff_v: f64,
    /// Full-charge voltage, V; the figure held against every maximum.
    pub full_v: f64,
    /// Nominal voltage, V.
    pub nominal_v: f64,
    /// Discharge in a burst, A.
    pub burst_a: f64,
    /// Discharge for ever, A.
    pub continuous_a: f64,
    /// Greatest charging current, A.
    pub charge_a: f64,
    /// Lowest state of charge used.
    pub soc_min: f64,
    /// Highest state of charge used.
    pub soc_max: f64,
}

/// State of the terminals under a load.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Terminals {
    /// V.
    pub volts_v: f64,
    /// A, positive out of the pack.
    pub current_a: f64,
}

impl PackModel {
    /// Model of a pack of a checked document.
    #[must_use]
    pub fn of(pack: &Pack, wiring: &Wiring) -> Self {
        let module = &pack.module;
        let (series, parallel) = (f64::from(pack.cells_in_series()), f64::from(pack.strings_in_parallel));
        let capacity_ah = module.present_capacity_ah() * parallel;
        let (soc_min, soc_max) = pack.window();
        let soc: Vec<f64> = module.ocv.iter().map(|p| p.soc).collect();
        let volts: Vec<f64> = module.ocv.iter().map(|p| p.volts_v * series).collect();
        let slope = (1..soc.len()).map(|i| (volts[i] - volts[i - 1]) / (soc[i] - soc[i - 1])).collect();
        let start = (0..=100).map(|h| (soc.partition_point(|s| *s <= f64::from(h) / 100.0).max(1) - 1) as u16).collect();
        Self {
            soc,
            volts,
            slope,
            start,
            resistance_ohm: series / parallel * module.present_resistance_ohm() + wiring.resistance_ohm,
            capacity_a_s: capacity_ah * 3600.0,
            per_a_s: 1.0 / (capacity_ah * 3600.0),
            rated_current_a: capacity_ah / module.rated_hours,
            peukert_less_one: module.peukert_exponent.unwrap_or_else(|| module.chemistry.usual_peukert()) - 1.0,
            cutoff_v: series * module.cutoff_voltage_v,
            full_v: series * module.full_voltage_v,
            nominal_v: series * module.nominal_voltage_v,
            burst_a: module.burst_c * capacity_ah,
            continuous_a: module.continuous_c * capacity_ah,
            charge_a: module.charge_c * capacity_ah,
            soc_min,
            soc_max,
        }
    }

    /// Open-circuit voltage in V, linear between the points of the table.
    #[inline]
    #[must_use]
    pub fn ocv_v(&self, soc: f64) -> f64 {
        let soc = soc.clamp(0.0, 1.0);
        let last = self.slope.len() - 1;
        let mut i = usize::from(self.start[(soc * 100.0) as usize]).min(last);
        while i < last && soc > self.soc[i + 1] {
            i += 1;
        }
        self.volts[i] + (soc - self.soc[i]) * self.slope[i]
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

    /// Current that counts against the capacity, A: Peukert's law `I (I / I_rated)^(n-1)` above the rated current.
    ///
    /// # Source
    /// Capacity at I is `C (I_rated / I)^(n-1)`: Larminie and Lowry, 2nd ed., section 2.2.2 (from memory).
    #[inline]
    #[must_use]
    pub fn counted_a(&self, current_a: f64) -> f64 {
        if self.peukert_less_one > 0.0 && current_a > self.rated_current_a {
            current_a * (current_a / self.rated_current_a).powf(self.peukert_less_one)
        } else {
            current_a
        }
    }

    /// Energy in Wh between two states of charge at vanishing current; the trapezoid rule is exact for the table.
    #[must_use]
    pub fn energy_wh(&self, from_soc: f64, to_soc: f64) -> f64 {
        let mut knots = vec![from_soc];
        knots.extend(self.soc.iter().copied().filter(|s| *s > from_soc && *s < to_soc));
        knots.push(to_soc);
        let volt_soc: f64 = knots.windows(2).map(|w| 0.5 * (self.ocv_v(w[0]) + self.ocv_v(w[1])) * (w[1] - w[0])).sum();
        volt_soc * self.capacity_a_s / 3600.0
    }
}
