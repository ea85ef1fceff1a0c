//! Toothed belts: pulleys, length in teeth, the distance of the shafts that makes it taut, and the teeth that bear.

use std::f64::consts::PI;

use super::MechanicalSizing;
use crate::document::{BeltDrive, Document, StageKind};

/// Teeth in mesh on the smaller pulley at least; with fewer each bears too much (common practice).
pub const LEAST_IN_MESH: u32 = 6;

/// A toothed belt at the greatest torque.
#[derive(Debug, Clone, PartialEq)]
pub struct BeltSizing<'a> {
    /// As chosen.
    pub said: &'a BeltDrive,
    /// Ratio of its stage.
    pub ratio: f64,
    /// Teeth of the driving and of the driven pulley, which is the next whole number to the ratio.
    pub teeth: [u32; 2],
    /// Pitch diameters, mm.
    pub diameters_mm: [f64; 2],
    /// Teeth of the belt at the distance of the shafts as stated, not whole; `None` where the pulleys run into each other.
    pub length: Option<f64>,
    /// The next whole number of them.
    pub belt_teeth: u32,
    /// The distance of the shafts at which that belt is taut, mm.
    pub taut_mm: Option<f64>,
    /// Teeth in mesh on the smaller pulley.
    pub in_mesh: u32,
    /// Greatest torque at the driving pulley, N m.
    pub torque_nm: f64,
    /// Greatest pull, N.
    pub pull_n: f64,
}

/// Diameter of a pulley on the belt's pitch line, mm: N p / pi.
///
/// ```
/// // 40 teeth of 8 mm: 101.86 mm (ISO 13050).
/// assert!((joulethesis_core::mechanics::belt::pulley_mm(8.0, 40) - 101.86).abs() < 0.005);
/// ```
#[must_use]
pub fn pulley_mm(pitch_mm: f64, teeth: u32) -> f64 {
    pitch_mm * f64::from(teeth) / PI
}

/// Length of a belt around two pulleys, mm: 2 C cos(phi) + pi (D1 + D2) / 2 + phi (D2 - D1), sin(phi) = (D2 - D1) / 2C; `None` where they run
/// into each other.
#[must_use]
pub fn belt_length_mm(diameters_mm: [f64; 2], centre_mm: f64) -> Option<f64> {
    let [a, b] = diameters_mm;
    let lean = (0.5 * (b - a).abs() / centre_mm).asin();
    (centre_mm > 0.5 * (a + b)).then(|| 2.0 * centre_mm * lean.cos() + 0.5 * PI * (a + b) + lean * (b - a).abs())
}

/// Distance of the shafts at which a belt is just taut, mm; `None` where it is too short for the pulleys.
#[must_use]
pub fn taut_mm(diameters_mm: [f64; 2], length_mm: f64) -> Option<f64> {
    let [a, b] = diameters_mm;
    let nearest = 0.5 * (a + b);
    let mut centre = (0.5 * (length_mm - 0.5 * PI * (a + b))).max(1.001 * nearest);
    // A convex curve whose slope is 2 cos(phi): a few steps.
    for _ in 0..30 {
        let lean = (0.5 * (b - a).abs() / centre).asin();
        let step = (belt_length_mm(diameters_mm, centre)? - length_mm) / (2.0 * lean.cos());
        centre = (centre - step).max(nearest * (1.0 + 1e-12));
        if step.abs() < 1e-9 {
            break;
        }
    }
    belt_length_mm(diameters_mm, centre).filter(|l| (l - length_mm).abs() < 1e-6).map(|_| centre)
}

impl<'a> BeltSizing<'a> {
    pub(super) fn of(document: &Document, said: &'a BeltDrive, motor_nm: f64) -> Option<Self> {
        let (ratio, torque_nm) = MechanicalSizing::at_stage(document, StageKind::Belt, motor_nm)?;
        let driven = (f64::from(said.front_teeth) * ratio).round().max(1.0) as u32;
        let (pitch_mm, teeth) = (said.pitch_mm, [said.front_teeth, driven]);
        let diameters_mm = teeth.map(|n| pulley_mm(pitch_mm, n));
        let length = belt_length_mm(diameters_mm, said.centre_mm).map(|mm| mm / pitch_mm);
        let belt_teeth = length.map_or(0, |t| t.round() as u32);
        let lean = (0.5 * (diameters_mm[1] - diameters_mm[0]).abs() / said.centre_mm).min(1.0).asin();
        Some(Self {
            said,
            ratio,
            teeth,
            diameters_mm,
            length,
            belt_teeth,
            taut_mm: taut_mm(diameters_mm, f64::from(belt_teeth) * pitch_mm),
            in_mesh: (f64::from(teeth[0].min(teeth[1])) * (0.5 - lean / PI)).floor().max(0.0) as u32,
            torque_nm,
            pull_n: torque_nm / (0.5e-3 * diameters_mm[0]),
        })
    }

    /// Ratio that the teeth give.
    #[must_use]
    pub(crate) fn teeth_ratio(&self) -> f64 {
        f64::from(self.teeth[1]) / f64::from(self.teeth[0])
    }
}
