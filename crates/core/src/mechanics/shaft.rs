//! Solid shafts and their keys under torque.

use std::f64::consts::PI;

/// Shear stress at the surface of a solid shaft, N/mm2: 16 T / (pi d^3); torque in N m, diameter in mm.
///
/// ```
/// use joulethesis_core::mechanics::shaft::torsion_n_mm2;
/// assert!((torsion_n_mm2(100.0, 20.0) - 63.66).abs() < 0.01);
/// ```
#[must_use]
pub fn torsion_n_mm2(torque_nm: f64, diameter_mm: f64) -> f64 {
    16.0 * 1000.0 * torque_nm / (PI * diameter_mm.powi(3))
}

/// Width and height of the parallel key for a shaft, mm (DIN 6885-1); `None` beyond 6 to 65 mm.
#[must_use]
pub fn key_mm(diameter_mm: f64) -> Option<[f64; 2]> {
    const KEYS: [(f64, [f64; 2]); 11] = [
        (8.0, [2.0, 2.0]),
        (10.0, [3.0, 3.0]),
        (12.0, [4.0, 4.0]),
        (17.0, [5.0, 5.0]),
        (22.0, [6.0, 6.0]),
        (30.0, [8.0, 7.0]),
        (38.0, [10.0, 8.0]),
        (44.0, [12.0, 8.0]),
        (50.0, [14.0, 9.0]),
        (58.0, [16.0, 10.0]),
        (65.0, [18.0, 11.0]),
    ];
    if diameter_mm <= 6.0 {
        return None;
    }
    KEYS.iter().find(|(up_to, _)| diameter_mm <= *up_to).map(|k| k.1)
}

/// Shear of a key, N/mm2: 2 T / (d b l).
#[must_use]
pub fn key_shear_n_mm2(torque_nm: f64, diameter_mm: f64, width_mm: f64, length_mm: f64) -> f64 {
    2.0 * 1000.0 * torque_nm / (diameter_mm * width_mm * length_mm)
}

/// Pressure on the flank of a key, N/mm2: 4 T / (d h l).
#[must_use]
pub fn key_bearing_n_mm2(torque_nm: f64, diameter_mm: f64, height_mm: f64, length_mm: f64) -> f64 {
    4.0 * 1000.0 * torque_nm / (diameter_mm * height_mm * length_mm)
}
