//! Air density.

/// Specific gas constant of dry air, J/(kg K) (ICAO Doc 7488).
pub const AIR_GAS_CONSTANT_J_KG_K: f64 = 287.05;
/// Kelvin at 0 degC, exact.
pub const ZERO_CELSIUS_K: f64 = 273.15;

/// Pressure of the standard atmosphere in Pa at `altitude_m` metres, in the troposphere.
///
/// # Source
/// US Standard Atmosphere 1976 / ICAO Doc 7488.
#[must_use]
pub fn standard_pressure_pa(altitude_m: f64) -> f64 {
    101_325.0 * (1.0 - 2.255_77e-5 * altitude_m).powf(5.255_88)
}

/// Density of dry air in kg/m3 at a height and an air temperature.
///
/// ```
/// use joulethesis_core::vehicle::air::density_kg_m3;
/// assert!((density_kg_m3(0.0, 15.0) - 1.225).abs() < 1e-3);
/// ```
#[must_use]
pub fn density_kg_m3(altitude_m: f64, temperature_c: f64) -> f64 {
    standard_pressure_pa(altitude_m) / (AIR_GAS_CONSTANT_J_KG_K * (temperature_c + ZERO_CELSIUS_K))
}
