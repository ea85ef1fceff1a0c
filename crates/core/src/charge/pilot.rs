//! The signals between a mains charging point and a vehicle: pilot duty, pilot states, and what the cable is coded for.

use serde::Serialize;

/// Duty cycle that offers a current by the lower law, percent: `A = 0.6 x duty`.
const LOW: (f64, f64) = (10.0, 85.0);
/// Duty cycle up to which the upper law holds, percent: `A = 2.5 (duty - 64)`.
const HIGHEST: f64 = 96.0;

/// Current that a pilot duty cycle in percent lets a vehicle draw on each phase, A; `None` where it offers none (below 10 %, above 96 %;
/// 5 % asks for digital communication).
///
/// # Source
/// SAE J1772, table 1; IEC 61851-1, annex A (from memory).
///
/// ```
/// use joulethesis_core::charge::pilot_amps;
/// assert_eq!(pilot_amps(50.0), Some(30.0));
/// assert_eq!(pilot_amps(96.0), Some(80.0));
/// assert_eq!(pilot_amps(5.0), None);
/// ```
#[must_use]
pub fn pilot_amps(duty_percent: f64) -> Option<f64> {
    if duty_percent < LOW.0 || duty_percent > HIGHEST {
        None
    } else if duty_percent <= LOW.1 {
        Some(0.6 * duty_percent)
    } else {
        Some(2.5 * (duty_percent - 64.0))
    }
}

/// Duty cycle in percent that offers a current, A, or between the two laws (51 to 52.5 A) the most below it; `None` for less than 6 or more
/// than 80 A, which no duty cycle offers.
#[must_use]
pub fn pilot_duty_percent(amps: f64) -> Option<f64> {
    let (least, turn) = (0.6 * LOW.0, 0.6 * LOW.1);
    if amps < least || amps > 2.5 * (HIGHEST - 64.0) {
        None
    } else if amps <= turn {
        Some(amps / 0.6)
    } else {
        Some((amps / 2.5 + 64.0).max(LOW.1))
    }
}

/// State of the pilot line.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum PilotState {
    /// A: no vehicle.
    NoVehicle,
    /// B: connected, not ready.
    Connected,
    /// C: charging.
    Charging,
    /// D: charging, ventilation needed.
    Ventilated,
}

/// Volts of the pilot line's upper half in each state (SAE J1772, IEC 61851-1; from memory).
pub const PILOT_VOLTS: [(PilotState, f64); 4] =
    [(PilotState::NoVehicle, 12.0), (PilotState::Connected, 9.0), (PilotState::Charging, 6.0), (PilotState::Ventilated, 3.0)];

/// Current that a cable bears, A, and the resistor in its plug that says so, ohm (IEC 61851-1, annex B; from memory).
pub const CABLE_CODES: [(f64, f64); 4] = [(13.0, 1500.0), (20.0, 680.0), (32.0, 220.0), (63.0, 100.0)];

/// Current of the cable whose resistor measures so, A: the code within a fifth of the reading; `None` where none is.
#[must_use]
pub fn cable_amps(ohm: f64) -> Option<f64> {
    const TOLERANCE: f64 = 0.2;
    CABLE_CODES.iter().find(|(_, code)| (ohm - code).abs() <= TOLERANCE * code).map(|(amps, _)| *amps)
}
