//! The chain a brief is asked with before any part is chosen: the vehicle's own road and tyres, and parts that hold nothing back.

use super::fade::Fade;
use super::heat::ThermalModel;
use super::rise::ControllerLoad;
use super::{Chain, GearPath, MotorMap};
use crate::document::Document;
use crate::pack::PackModel;
use crate::vehicle::{Conditions, Road, Traction, radius_m};

/// Rotating-mass factor before the motor is known: an ordinary car in its upper gears (Gillespie, Fundamentals of Vehicle Dynamics).
pub(crate) const ROTATING: f64 = 1.06;
/// A rating that nothing comes near, A.
const AMPLE_A: f64 = 1e9;
/// Torque over what the tyres pass.
const AMPLE: f64 = 10.0;

impl Chain {
    /// An ideal chain for a document's vehicle at a mass on a day: a motor without losses that gives `wheel_power_w` at the wheels, in one
    /// direct gear of an efficiency that stands for everything between pack and wheel, fed by a source that never sags.
    pub(crate) fn ideal(document: &Document, mass_kg: f64, day: &Conditions, efficiency: f64, wheel_power_w: f64) -> Self {
        let radius_m = radius_m(document);
        let traction = Traction::of(document, mass_kg);
        let regeneration = &document.design.regeneration;
        let cold = ThermalModel::cold(day.temperature_c);
        Self {
            motor: MotorMap::ideal(AMPLE * traction.drive_n * radius_m / efficiency, wheel_power_w / efficiency),
            motor_heat: cold,
            controller_heat: cold,
            controller_load: ControllerLoad::Torque(AMPLE_A),
            gears: vec![GearPath::of((1, 1), (1.0, efficiency), document.donor.rotating_mass_factor.unwrap_or(ROTATING), radius_m)],
            pack: PackModel::ideal(),
            road: Road::of(document, mass_kg, day),
            traction,
            radius_m,
            shift_s: 0.0,
            efficiency: 1.0,
            inverse_efficiency: 1.0,
            cutoff_v: 0.0,
            battery_peak_a: AMPLE_A,
            battery_continuous_a: AMPLE_A,
            max_power_w: f64::INFINITY,
            motor_amps_peak_nm: f64::INFINITY,
            motor_amps_continuous_nm: f64::INFINITY,
            regeneration_a: AMPLE_A,
            feedback_cap_w: regeneration.power_cap_w.unwrap_or(f64::INFINITY),
            fade: Fade::of(regeneration),
            regeneration_share: regeneration.share_or_usual(),
            respect_pack_limits: false,
            low_voltage_w: document.design.low_voltage_drawn_w(),
        }
    }
}
