//! What the cold does to tyres and gears. (To cells: `pack::temperature`.)

use crate::document::VehicleKind;

/// Temperature that rolling coefficients and efficiencies of gears hold at, degC.
pub const REFERENCE_C: f64 = 20.0;

/// Fall of the rolling resistance of a warm tyre for each degree, of that at 20 degC (SAE J1263, correction to standard conditions, from
/// memory; ISO 28580 has 0.008).
const TYRE_PER_K: f64 = 8.6e-3;
/// Coldest and hottest air that the law is taken to hold in, degC.
const TYRES_C: (f64, f64) = (-30.0, 40.0);

/// Growth of the losses of gears for each degree below 20 degC: thick oil, less as the trip warms it (common practice, from memory).
const OIL_PER_K: f64 = 0.01;
/// Coldest air in which they still grow, degC.
const OIL_FROM_C: f64 = -30.0;

/// Rolling resistance in air of a temperature, over that at 20 degC. Tracks on snow have no tyres.
#[must_use]
pub fn tyre_factor(kind: VehicleKind, celsius: f64) -> f64 {
    if kind == VehicleKind::Sled { 1.0 } else { 1.0 + TYRE_PER_K * (REFERENCE_C - celsius.clamp(TYRES_C.0, TYRES_C.1)) }
}

/// Efficiency of gears in air of a temperature, from that at 20 degC; never better than that.
#[must_use]
pub fn gears_in_cold(efficiency: f64, celsius: f64) -> f64 {
    let colder = (REFERENCE_C - celsius.max(OIL_FROM_C)).max(0.0);
    (1.0 - (1.0 - efficiency) * (1.0 + OIL_PER_K * colder)).max(LEAST_EFFICIENCY)
}

/// Least efficiency that the cold leaves.
const LEAST_EFFICIENCY: f64 = 0.05;
