//! Insulation between the traction circuit and the chassis: what must be there, and what a voltmeter and a resistor tell.

use crate::document::InsulationTest;

/// Ohm for each volt that the insulation must have: direct current alone, and with parts of alternating current (UN R100, ISO 6469-3).
const OHM_PER_V: (f64, f64) = (100.0, 500.0);

/// Ohm for each volt that the insulation must have.
#[must_use]
pub(crate) fn ohm_per_v(alternating: bool) -> f64 {
    if alternating { OHM_PER_V.1 } else { OHM_PER_V.0 }
}

/// Least insulation of a circuit, ohm.
#[must_use]
pub fn least_ohm(full_v: f64, alternating: bool) -> f64 {
    ohm_per_v(alternating) * full_v
}

/// Insulation as measured, ohm: `R0 Vb (1 / V1' - 1 / V1)` with the higher voltage to the chassis before and after a resistor is put across it
/// (UN R100, annex 4; from memory).
#[must_use]
pub fn measured_ohm(test: &InsulationTest) -> f64 {
    1000.0 * test.resistor_kohm * test.pack_v * (1.0 / test.side_with_resistor_v - 1.0 / test.side_v)
}
