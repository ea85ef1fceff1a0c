//! Temperature rise of motor and controller together: one step of warming, for every way in which a cycle is driven.

use super::{Chain, Limits, MotorPoint};
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

impl Chain {
    /// What heats the controller: torque where its motor amps are known, else the amps of the bus.
    #[inline]
    pub(crate) fn controller_load(&self, torque_nm: f64, bus_a: f64) -> f64 {
        if self.controller_heats_by_torque { torque_nm } else { bus_a }
    }

    /// Warming over `dt` s at a torque and an amperage of the bus.
    #[inline]
    pub(crate) fn heat_step(&self, torque_nm: f64, bus_a: f64, dt: f64) -> HeatStep {
        let (motor, controller) = (&self.motor_heat, &self.controller_heat);
        HeatStep {
            target: Rise { motor: motor.target(torque_nm), controller: controller.target(self.controller_load(torque_nm, bus_a)) },
            gain: Rise { motor: motor.gain(dt), controller: controller.gain(dt) },
        }
    }

    /// As [`Self::heat_step`] for what flows at some terminals.
    #[inline]
    pub(crate) fn heat_step_of(&self, point: &MotorPoint, terminals: Terminals, dt: f64) -> HeatStep {
        self.heat_step(point.torque_nm, point.bus_w / terminals.volts_v, dt)
    }

    /// Whether either is above a share of the highest rise allowed.
    #[inline]
    pub(crate) fn is_hotter_than(&self, share: Rise, rise: Rise) -> bool {
        rise.motor > share.motor * self.motor_heat.limit || rise.controller > share.controller * self.controller_heat.limit
    }

    /// Torque that takes neither motor nor controller beyond its temperature within `dt` s from some rise, N m, at the voltage of
    /// some limits.
    #[must_use]
    pub(crate) fn within_heat_nm(&self, limits: &Limits, rise: Rise, dt: f64) -> f64 {
        let controller = self.controller_heat.within(rise.controller, dt);
        let controller_nm = if self.controller_heats_by_torque {
            controller
        } else {
            // Battery amps heat it: the share of the greatest torque that the amps are of theirs.
            let amps = limits.bus_w.max(1.0) / limits.ocv_v;
            if controller < amps { self.motor.greatest_nm() * controller / amps } else { f64::INFINITY }
        };
        self.motor_heat.within(rise.motor, dt).min(controller_nm)
    }
}
