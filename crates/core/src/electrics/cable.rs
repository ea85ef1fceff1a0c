//! Copper cables: resistance, what they bear for hours and in a short circuit, and the least that suffices.

use std::sync::OnceLock;

use crate::document::CableSeries;
use crate::pack::COPPER_OHM_M;
use crate::quantity::units::{WIRE_GAUGES, wire_gauge_mm2};

/// Temperature coefficient of copper at 20 degC, 1/K (IEC 60028).
const COPPER_PER_K: f64 = 0.003_93;
/// Sections that are sold, mm2 (IEC 60228).
const SECTIONS_MM2: [f64; 18] =
    [0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0, 35.0, 50.0, 70.0, 95.0, 120.0, 150.0, 185.0, 240.0, 300.0];
/// Current in free air at 30 degC with copper at 90 degC, A, by wire gauge (NEC table 310.17, from memory).
const FREE_AIR_90_C: [(i32, f64); 14] = [
    (18, 18.0),
    (16, 24.0),
    (14, 35.0),
    (12, 40.0),
    (10, 55.0),
    (8, 80.0),
    (6, 105.0),
    (4, 140.0),
    (2, 190.0),
    (1, 220.0),
    (0, 260.0),
    (-1, 300.0),
    (-2, 350.0),
    (-3, 405.0),
];
/// Most cables of one section laid in parallel.
const MOST_PARALLEL: u32 = 4;

/// Resistance of a copper conductor, ohm.
///
/// # Source
/// IEC 60028: 1.7241e-8 ohm m at 20 degC, 0.00393 /K.
#[must_use]
pub fn resistance_ohm(length_m: f64, section_mm2: f64, celsius: f64) -> f64 {
    COPPER_OHM_M * (1.0 + COPPER_PER_K * (celsius - 20.0)) * length_m / (section_mm2 * 1e-6)
}

/// Current a conductor bears in free air at 30 degC when its insulation bears 90 degC, A: the table's, and between its gauges, and beyond
/// them, along a straight line of logarithms.
#[must_use]
pub fn free_air_a(section_mm2: f64) -> f64 {
    let point = |(gauge, amps): (i32, f64)| (wire_gauge_mm2(gauge).ln(), amps.ln());
    let x = section_mm2.ln();
    let above = FREE_AIR_90_C.iter().position(|p| point(*p).0 >= x).unwrap_or(FREE_AIR_90_C.len() - 1).max(1);
    let ((x0, y0), (x1, y1)) = (point(FREE_AIR_90_C[above - 1]), point(FREE_AIR_90_C[above]));
    (y0 + (x - x0) / (x1 - x0) * (y1 - y0)).exp()
}

/// Share of a current that is left in warmer air: `sqrt((Tc - Ta) / (Tc - 30))` (NEC 310.15(B)(1)).
#[must_use]
pub fn ambient_factor(insulation_c: f64, ambient_c: f64) -> f64 {
    ((insulation_c - ambient_c) / (insulation_c - 30.0)).max(0.0).sqrt()
}

/// Share of a current that is left where loaded cables lie together: 80 % from four, 70 % from seven (NEC 310.15(C)(1), from memory).
#[must_use]
pub fn bundle_factor(cables: u32) -> f64 {
    match cables {
        0..=3 => 1.0,
        4..=6 => 0.8,
        _ => 0.7,
    }
}

/// Square root of the heat that a section stores until its insulation fails, A s^0.5 a mm2: 115 for PVC, 143 for what bears 90 degC and more
/// (IEC 60364-5-54, from memory).
#[must_use]
pub fn short_circuit_k(insulation_c: f64) -> f64 {
    if insulation_c < 90.0 { 115.0 } else { 143.0 }
}

/// Temperature of a conductor under a current for hours, degC: its rise goes with the square of the current.
#[must_use]
pub(crate) fn warms_to_c(amps: f64, bears_a: f64, here: &Surroundings) -> f64 {
    here.ambient_c + (here.insulation_c - here.ambient_c) * (amps / bears_a).powi(2)
}

/// Where cables lie.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Surroundings {
    /// Air, degC.
    pub ambient_c: f64,
    /// What the insulation bears, degC.
    pub insulation_c: f64,
    /// Loaded cables side by side.
    pub bundled: u32,
}

impl Surroundings {
    /// Current a section bears for hours here, A.
    #[must_use]
    pub fn bears_a(&self, section_mm2: f64) -> f64 {
        // The table is for 90 degC; what bears another temperature bears the root of the rise more or less.
        let rise = ((self.insulation_c - 30.0) / 60.0).max(0.0).sqrt();
        free_air_a(section_mm2) * rise * ambient_factor(self.insulation_c, self.ambient_c) * bundle_factor(self.bundled)
    }
}

/// A cable as it is bought.
#[derive(Debug, Clone, PartialEq)]
pub struct Cable {
    /// Section of each, mm2.
    pub section_mm2: f64,
    /// In parallel.
    pub parallel: u32,
    /// As it is written: `2/0`, `70 mm2`.
    pub name: String,
    /// What all of them bear for hours, A.
    pub bears_a: f64,
}

impl Cable {
    /// Copper of all of them, mm2.
    #[must_use]
    pub fn copper_mm2(&self) -> f64 {
        f64::from(self.parallel) * self.section_mm2
    }
}

/// The least cable of a series that bears a current for hours and loses no more than `most_ohm`; `None` when not even four of the
/// thickest do.
#[must_use]
pub fn least_cable(series: CableSeries, amps: f64, most_ohm_per_m: f64, here: &Surroundings) -> Option<Cable> {
    least_section(series, here, |copper_mm2, bears_a| {
        bears_a >= amps && resistance_ohm(1.0, copper_mm2, here.insulation_c) <= most_ohm_per_m
    })
}

/// The least cable of a series whose copper, mm2, and current for hours, A, suffice; `None` when not even four of the thickest do.
#[must_use]
pub(crate) fn least_section(series: CableSeries, here: &Surroundings, suffices: impl Fn(f64, f64) -> bool) -> Option<Cable> {
    let sections: &[(f64, &str)] = match series {
        CableSeries::Metric => &SECTIONS_MM2.map(|mm2| (mm2, "")),
        CableSeries::Awg => gauges(),
    };
    (1..=MOST_PARALLEL).find_map(|parallel| {
        sections.iter().find_map(|&(section_mm2, gauge)| {
            let n = f64::from(parallel);
            let bears_a = n * here.bears_a(section_mm2);
            suffices(n * section_mm2, bears_a).then(|| {
                let one = if gauge.is_empty() { format!("{section_mm2} mm²") } else { format!("{gauge} AWG") };
                let name = if parallel == 1 { one } else { format!("{parallel} × {one}") };
                Cable { section_mm2, parallel, name, bears_a }
            })
        })
    })
}

/// Sections and names of the wire gauges, the thinnest first.
fn gauges() -> &'static [(f64, &'static str)] {
    static SORTED: OnceLock<Vec<(f64, &'static str)>> = OnceLock::new();
    SORTED.get_or_init(|| {
        let mut gauges: Vec<(f64, &str)> = WIRE_GAUGES.iter().map(|(gauge, name)| (wire_gauge_mm2(*gauge), *name)).collect();
        gauges.sort_by(|a, b| a.0.total_cmp(&b.0));
        gauges
    })
}

/// Seconds that a section bears a short circuit: `(k S / I)^2`.
#[must_use]
pub fn short_circuit_s(section_mm2: f64, amps: f64, insulation_c: f64) -> f64 {
    (short_circuit_k(insulation_c) * section_mm2 / amps).powi(2)
}

/// Current that a section bears for some time, A: what it bears for hours, and for a short time what its copper stores on top.
#[must_use]
pub fn bears_for_a(section_mm2: f64, bears_a: f64, seconds: f64, insulation_c: f64) -> f64 {
    (bears_a * bears_a + (short_circuit_k(insulation_c) * section_mm2).powi(2) / seconds).sqrt()
}
