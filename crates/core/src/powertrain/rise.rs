//! Temperature rise of motor and controller together: one step of warming, for every way in which a cycle is driven.

use super::heat::{current_loss, current_of_loss};
use super::{Chain, Limits, MotorMap, MotorPoint};
use crate::pack::Terminals;
use crate::quantity::larger;

/// Temperature rise of motor and controller over the air, in rises of their continuous ratings.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Rise {
    /// Of the motor.
    pub motor: f64,
    /// Of the controller.
    pub controller: f64,
}

impl Rise {
    /// Of a part that keeps its whole rise.
    pub(crate) const WHOLE: Self = Self { motor: 1.0, controller: 1.0 };

    /// The sum of each.
    #[inline]
    #[must_use]
    pub(crate) fn plus(self, other: Self) -> Self {
        Self { motor: self.motor + other.motor, controller: self.controller + other.controller }
    }

    /// The product of each.
    #[inline]
    #[must_use]
    pub(crate) fn times(self, other: Self) -> Self {
        Self { motor: self.motor * other.motor, controller: self.controller * other.controller }
    }

    /// The higher of each.
    #[inline]
    #[must_use]
    pub(crate) fn max(self, other: Self) -> Self {
        Self { motor: larger(self.motor, other.motor), controller: larger(self.controller, other.controller) }
    }
}

/// What some seconds at a load do to a temperature rise: where it tends to, and the share of the way that it goes.
#[derive(Debug, Clone, Copy)]
pub(crate) struct HeatStep {
    target: Rise,
    gain: Rise,
}

impl HeatStep {
    /// From where motor and controller tend to, and the shares of the way that each goes.
    pub(crate) fn new([motor, controller, motor_gain, controller_gain]: [f64; 4]) -> Self {
        Self { target: Rise { motor, controller }, gain: Rise { motor: motor_gain, controller: controller_gain } }
    }

    /// The rise after the step, from the rise before it.
    #[inline]
    pub(crate) fn after(&self, rise: Rise) -> Rise {
        Rise {
            motor: rise.motor + (self.target.motor - rise.motor) * self.gain.motor,
            controller: rise.controller + (self.target.controller - rise.controller) * self.gain.controller,
        }
    }

    /// Share of a rise that is still there after the step, of a share `left` before it.
    #[inline]
    pub(crate) fn left(&self, left: Rise) -> Rise {
        Rise { motor: left.motor * (1.0 - self.gain.motor), controller: left.controller * (1.0 - self.gain.controller) }
    }
}

/// What a controller is taken to carry continuously that carries nothing: it is far too hot at any current, but by a number.
pub(super) const LEAST_LOAD: f64 = 1e-6;

/// What tells the heat of the controllers, with what they carry continuously.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum ControllerLoad {
    /// Torque of all motors, N m, which motor amps go with.
    Torque(f64),
    /// Amps of each motor, where torque grows with more than the amps.
    MotorAmps(f64),
    /// Amps of the bus, where nothing is known of the motor's.
    BusAmps(f64),
}

impl ControllerLoad {
    /// What is carried at a share of it: torque of all motors, N m, and amps of the bus. One of the two is infinite.
    pub(super) fn at(self, share: f64, map: &MotorMap) -> (f64, f64) {
        match self {
            Self::Torque(continuous_nm) => (share * continuous_nm, f64::INFINITY),
            Self::MotorAmps(continuous_a) => (map.torque_at_amps_nm(share * continuous_a).unwrap_or(f64::INFINITY), f64::INFINITY),
            Self::BusAmps(continuous_a) => (f64::INFINITY, share * continuous_a),
        }
    }
}

impl Chain {
    /// Whether the charge of the pack has no part in what warms the controller.
    pub(crate) fn controller_heats_by_torque(&self) -> bool {
        !matches!(self.controller_load, ControllerLoad::BusAmps(_))
    }

    /// Loss of the controller, over that at its continuous current.
    #[inline]
    pub(crate) fn controller_loss(&self, torque_nm: f64, bus_a: f64) -> f64 {
        let (load, continuous) = match self.controller_load {
            ControllerLoad::Torque(continuous_nm) => (torque_nm, continuous_nm),
            ControllerLoad::MotorAmps(continuous_a) => (self.motor.amps_at_torque(torque_nm), continuous_a),
            ControllerLoad::BusAmps(continuous_a) => (bus_a, continuous_a),
        };
        current_loss(load / continuous.max(LEAST_LOAD))
    }

    /// Torque and power at the controller's input at which it loses so much, the voltage of the bus as at some limits: N m and W. One of the
    /// two is infinite.
    pub(super) fn controller_within(&self, loss: f64, ocv_v: f64, aux_w: f64) -> (f64, f64) {
        let (torque_nm, bus_a) = self.controller_load.at(current_of_loss(loss), &self.motor);
        (torque_nm, if bus_a.is_finite() { self.watts_of_controller_amps(bus_a, ocv_v, aux_w) } else { f64::INFINITY })
    }

    /// Warming over `dt` s at a loss of the motor, a torque and an amperage of the bus.
    #[inline]
    pub(crate) fn heat_step(&self, motor_w: f64, torque_nm: f64, bus_a: f64, dt: f64) -> HeatStep {
        let (motor, controller) = (&self.motor_heat, &self.controller_heat);
        HeatStep {
            target: Rise { motor: motor.target(motor_w), controller: controller.target(self.controller_loss(torque_nm, bus_a)) },
            gain: Rise { motor: motor.gain(dt), controller: controller.gain(dt) },
        }
    }

    /// As [`Self::heat_step`] for what flows at some terminals.
    #[inline]
    pub(crate) fn heat_step_of(&self, point: &MotorPoint, terminals: Terminals, dt: f64) -> HeatStep {
        self.heat_step(point.motor_w, point.torque_nm, point.bus_w / terminals.volts_v, dt)
    }

    /// Whether either is above a share of the highest rise allowed.
    #[inline]
    pub(crate) fn is_hotter_than(&self, share: Rise, rise: Rise) -> bool {
        rise.motor > share.motor * self.motor_heat.limit || rise.controller > share.controller * self.controller_heat.limit
    }

    /// Some limits narrowed so that neither motor nor controller gets too hot within `dt` s from some rise.
    #[must_use]
    pub(crate) fn within_heat(&self, limits: Limits, rise: Rise, dt: f64) -> Limits {
        self.kept_cool(limits, self.motor_heat.within(rise.motor, dt), self.controller_heat.within(rise.controller, dt))
    }
}
