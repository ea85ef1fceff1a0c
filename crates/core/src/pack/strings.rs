//! Strings of cells, alone and in parallel with others of another age or kind.

use super::Table;
use super::temperature::{charge_share, factors};
use crate::document::{AddedStrings, Pack};
use crate::library::Module;

/// Equal strings in parallel, as one source.
#[derive(Debug, Clone, PartialEq)]
pub struct Strings {
    pub(super) ocv: Table,
    /// Resistance with links, ohm.
    pub resistance_ohm: f64,
    /// Present capacity at the cells' temperature, Ah.
    pub capacity_ah: f64,
    pub(super) rated_current_a: f64,
    pub(super) peukert_less_one: f64,
    /// Full-charge voltage, V.
    pub full_v: f64,
    /// Nominal voltage, V.
    pub nominal_v: f64,
    /// Cut-off voltage, V.
    pub cutoff_v: f64,
    /// Continuous, A.
    pub continuous_a: f64,
    /// Peak, A.
    pub peak_a: f64,
    /// Charge, A.
    pub charge_a: f64,
}

impl Strings {
    fn one(module: &Module, in_series: u32, in_parallel: u32, link_ohm: f64, celsius: f64) -> Self {
        let (modules, parallel) = (f64::from(in_series), f64::from(in_parallel));
        let series = modules * f64::from(module.cells_in_series);
        let (capacity_share, resistance_factor) = factors(module.chemistry, celsius, module.cold_factor.unwrap_or(1.0));
        // Rates hold for the capacity at 25 degC; the cold takes from the amp-hours, not from the amps of the data sheet.
        let sound_ah = module.present_capacity_ah() * parallel;
        let capacity_ah = sound_ah * capacity_share;
        let string_ohm = series * module.present_resistance_ohm() * resistance_factor + modules * link_ohm;
        Self {
            ocv: Table::new(module.ocv.iter().map(|p| p.soc).collect(), module.ocv.iter().map(|p| p.volts_v * series).collect()),
            resistance_ohm: string_ohm / parallel,
            capacity_ah,
            rated_current_a: capacity_ah / module.rated_hours,
            peukert_less_one: module.peukert_exponent.unwrap_or_else(|| module.chemistry.usual_peukert()) - 1.0,
            full_v: series * module.full_voltage_v,
            nominal_v: series * module.nominal_voltage_v,
            cutoff_v: series * module.cutoff_voltage_v,
            continuous_a: module.continuous_c * sound_ah,
            peak_a: module.peak_c * sound_ah,
            charge_a: module.charge_c * sound_ah * charge_share(module.chemistry, celsius),
        }
    }

    /// The strings of a pack: the first ones, then those added later.
    #[must_use]
    pub fn of(pack: &Pack, celsius: f64) -> Vec<Self> {
        let first = Self::one(&pack.module, pack.modules_in_series, pack.strings_in_parallel, pack.interconnect_resistance_ohm, celsius);
        let later = pack.added_strings.iter().map(|a: &AddedStrings| {
            Self::one(&a.module, a.modules_in_series, a.strings_in_parallel, pack.interconnect_resistance_ohm, celsius)
        });
        std::iter::once(first).chain(later).collect()
    }

    /// Several strings, one or more, as one source.
    ///
    /// At rest they level out at one voltage, so the charge left at that voltage is the sum of their charges: that gives the
    /// common table. Under load each carries current in inverse proportion to its resistance, so the whole may only carry what
    /// the one that reaches its rating first allows. Without any resistance current is shared by capacity.
    #[must_use]
    pub fn in_parallel(mut strings: Vec<Self>) -> Self {
        if strings.len() == 1 {
            return strings.remove(0);
        }
        let capacity_ah: f64 = strings.iter().map(|s| s.capacity_ah).sum();
        let real = strings.iter().all(|s| s.resistance_ohm > 0.0);
        let conductance: f64 = strings.iter().map(|s| 1.0 / s.resistance_ohm).sum();
        let share = |s: &Self| if real { 1.0 / s.resistance_ohm / conductance } else { s.capacity_ah / capacity_ah };
        let carry = |own: fn(&Self) -> f64| strings.iter().map(|s| own(s) / share(s)).fold(f64::INFINITY, f64::min);
        Self {
            ocv: Self::levelled(&strings, capacity_ah),
            resistance_ohm: if real { 1.0 / conductance } else { 0.0 },
            capacity_ah,
            // Peukert's law takes hold when the first of those that follow it is past its rated current, as the worst of them.
            rated_current_a: strings
                .iter()
                .filter(|s| s.peukert_less_one > 0.0)
                .map(|s| s.rated_current_a / share(s))
                .fold(f64::INFINITY, f64::min),
            peukert_less_one: strings.iter().map(|s| s.peukert_less_one).fold(0.0, f64::max),
            // The highest is held against every maximum, the highest cut-off protects all.
            full_v: strings.iter().map(|s| s.full_v).fold(0.0, f64::max),
            nominal_v: strings.iter().map(|s| s.nominal_v * s.capacity_ah).sum::<f64>() / capacity_ah,
            cutoff_v: strings.iter().map(|s| s.cutoff_v).fold(0.0, f64::max),
            continuous_a: carry(|s| s.continuous_a),
            peak_a: carry(|s| s.peak_a),
            charge_a: carry(|s| s.charge_a),
        }
    }

    fn levelled(strings: &[Self], capacity_ah: f64) -> Table {
        let mut volts: Vec<f64> = strings.iter().flat_map(|s| s.ocv.turns().iter().copied()).collect();
        volts.sort_by(f64::total_cmp);
        volts.dedup_by(|a, b| (*a - *b).abs() < 1e-9);
        let soc_at = |v: f64| strings.iter().map(|s| s.capacity_ah * s.ocv.soc_at(v)).sum::<f64>() / capacity_ah;
        let mut points: Vec<(f64, f64)> = volts.iter().map(|v| (soc_at(*v), *v)).collect();
        // A level stretch of every string at once gives one state of charge two voltages; the last is kept.
        points.dedup_by(|later, earlier| {
            let same = later.0 - earlier.0 < 1e-9;
            if same {
                earlier.1 = later.1;
            }
            same
        });
        let lowest = strings.iter().map(|s| s.ocv.turns()[0]).fold(f64::INFINITY, f64::min);
        if points[0].0 > 0.0 {
            points.insert(0, (0.0, lowest));
        }
        points[0].0 = 0.0;
        if points.len() < 2 || points[points.len() - 1].0 < 1.0 - 1e-9 {
            points.push((1.0, volts[volts.len() - 1]));
        }
        let last = points.len() - 1;
        points[last].0 = 1.0;
        Table::new(points.iter().map(|p| p.0).collect(), points.iter().map(|p| p.1).collect())
    }
}
