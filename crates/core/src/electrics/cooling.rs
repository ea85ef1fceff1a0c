//! Coolant: what must flow, and what a radiator must give away in hot air.

/// Heat that a litre of half glycol, half water takes for each kelvin, J (handbook value at 60 degC, from memory: 1.05 kg/l, 3.5 kJ/(kg K)).
const COOLANT_J_PER_L_K: f64 = 3675.0;

/// Flow that carries a heat away while it warms by `rise_k`, l/min.
///
/// ```
/// // 3.675 kJ in each litre and kelvin: 3675 W at 10 K take a tenth of a litre a second.
/// assert!((joulethesis_core::electrics::cooling::flow_l_min(3675.0, 10.0) - 6.0).abs() < 1e-9);
/// ```
#[must_use]
pub fn flow_l_min(heat_w: f64, rise_k: f64) -> f64 {
    60.0 * heat_w / (COOLANT_J_PER_L_K * rise_k)
}

/// What a radiator must give away for each kelvin between coolant and air, W/K; `None` where the air is as hot as the coolant may be.
#[must_use]
pub fn radiator_w_per_k(heat_w: f64, coolant_c: f64, air_c: f64) -> Option<f64> {
    (coolant_c > air_c).then(|| heat_w / (coolant_c - air_c))
}
