//! Coolant: what must flow, what a radiator must give away in hot air, and what the hose takes of the pump's pressure.

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

/// Density, kg/m3, and viscosity, Pa s, of half glycol at 60 degC (handbook values, from memory).
const DENSITY_KG_M3: f64 = 1050.0;
const VISCOSITY_PA_S: f64 = 1.2e-3;
/// Inner diameters of hose that is sold, mm.
const HOSES_MM: [f64; 6] = [10.0, 13.0, 16.0, 19.0, 25.0, 32.0];
/// Faster than this a pump labours and hose wears, m/s (common practice).
const FASTEST_M_S: f64 = 2.0;

fn speed_m_s(flow_l_min: f64, inner_mm: f64) -> f64 {
    flow_l_min / 60_000.0 / (0.25 * std::f64::consts::PI * (inner_mm / 1000.0).powi(2))
}

/// The smallest hose that a flow runs through no faster than 2 m/s, mm; of more the widest.
#[must_use]
pub fn hose_mm(flow_l_min: f64) -> f64 {
    let slow = |mm: &f64| speed_m_s(flow_l_min, *mm) <= FASTEST_M_S;
    HOSES_MM.into_iter().find(slow).unwrap_or(HOSES_MM[HOSES_MM.len() - 1])
}

/// Pressure that a smooth hose takes, kPa: Darcy and Weisbach, with 64/Re below a Reynolds number of 2300 and Blasius' 0.316/Re^0.25 above.
///
/// ```
/// use joulethesis_core::electrics::cooling::hose_loss_kpa;
/// // Twice the length takes twice the pressure.
/// assert!((hose_loss_kpa(10.0, 16.0, 6.0) / hose_loss_kpa(10.0, 16.0, 3.0) - 2.0).abs() < 1e-12);
/// ```
#[must_use]
pub fn hose_loss_kpa(flow_l_min: f64, inner_mm: f64, length_m: f64) -> f64 {
    let (d, v) = (inner_mm / 1000.0, speed_m_s(flow_l_min, inner_mm));
    let reynolds = DENSITY_KG_M3 * v * d / VISCOSITY_PA_S;
    if reynolds <= 0.0 {
        return 0.0;
    }
    let friction = if reynolds < 2300.0 { 64.0 / reynolds } else { 0.316 / reynolds.powf(0.25) };
    friction * length_m / d * 0.5 * DENSITY_KG_M3 * v * v / 1000.0
}
