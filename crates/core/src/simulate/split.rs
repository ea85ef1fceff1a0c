//! Where energy goes: every step of a cycle is booked here, whichever way it is driven.

use serde::Serialize;

use crate::powertrain::{GearPath, MotorPoint};
use crate::trip::Point;
use crate::vehicle::Resistance;

/// Where the energy of a trip went, J at the battery terminals unless said otherwise.
///
/// `battery = air + rolling + climb + driveline + motor + controller + low_voltage + hvac + brakes + kinetic`.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize)]
pub struct Split {
    /// Drawn from the terminals less what was fed back.
    pub battery_j: f64,
    /// Fed back to the terminals (part of the figure above).
    pub recovered_j: f64,
    /// Air drag.
    pub air_j: f64,
    /// Rolling resistance.
    pub rolling_j: f64,
    /// Climbing less descending.
    pub climb_j: f64,
    /// Gears and stages.
    pub driveline_j: f64,
    /// Motor losses.
    pub motor_j: f64,
    /// Controller losses.
    pub controller_j: f64,
    /// Low-voltage load with its converter's loss.
    pub low_voltage_j: f64,
    /// Heating and cooling.
    pub hvac_j: f64,
    /// Heat in the friction brakes.
    pub brakes_j: f64,
    /// Left in the moving mass at the end.
    pub kinetic_j: f64,
    /// Heat inside the pack and its wiring; beside the terminals' sum.
    pub pack_j: f64,
}

/// One step of a cycle: the slope, and a speed that changes linearly.
#[derive(Debug, Clone, Copy)]
pub(super) struct Motion {
    /// Sine and cosine of the slope.
    pub(super) slope: (f64, f64),
    /// Speed at the start, m/s.
    pub(super) from_m_s: f64,
    /// Speed at the end, m/s.
    pub(super) to_m_s: f64,
    /// Duration, s.
    pub(super) dt: f64,
}

impl Motion {
    /// The step of a trace from one point to the next.
    #[inline]
    pub(super) fn between(from: Point, to: Point) -> Self {
        Self { slope: (from.sin, from.cos), from_m_s: from.speed_m_s, to_m_s: to.speed_m_s, dt: to.time_s - from.time_s }
    }

    /// Whether another step is the same but for rounding of its time.
    #[inline]
    pub(super) fn is_like(&self, other: &Self) -> bool {
        self.to_m_s == other.to_m_s
            && self.from_m_s == other.from_m_s
            && self.slope == other.slope
            && (self.dt - other.dt).abs() < 1e-9 * self.dt
    }

    /// Mean speed, m/s.
    #[inline]
    pub(super) fn mean_m_s(&self) -> f64 {
        0.5 * (self.from_m_s + self.to_m_s)
    }

    /// Acceleration, m/s2.
    #[inline]
    pub(super) fn accel_m_s2(&self) -> f64 {
        (self.to_m_s - self.from_m_s) / self.dt
    }
}

/// A step that moves the vehicle: the gear, the motor's operating point and the road's forces at the mean speed, N.
#[derive(Debug, Clone, Copy)]
pub(super) struct Moving<'a> {
    pub(super) gear: &'a GearPath,
    pub(super) point: MotorPoint,
    pub(super) road: Resistance,
}

/// Running sums of energy along the chain, J; what is lost between two of them follows at the end.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub(super) struct Account {
    /// At the terminals, less what was fed back.
    pub(super) battery_j: f64,
    pub(super) recovered_j: f64,
    /// Lost inside the pack.
    pub(super) pack_j: f64,
    pub(super) low_voltage_j: f64,
    pub(super) hvac_j: f64,
    /// At the controller's input.
    bus_j: f64,
    motor_j: f64,
    /// At the motor's shaft.
    shaft_j: f64,
    /// At the wheels.
    wheel_j: f64,
    air_j: f64,
    rolling_j: f64,
    climb_j: f64,
    kinetic_j: f64,
}

impl Account {
    /// Books the way from the controller's input to the road.
    #[inline(always)]
    pub(super) fn book(&mut self, mass_kg: f64, motion: &Motion, Moving { gear, point, road }: &Moving<'_>) {
        let dt = motion.dt;
        let way_m = motion.mean_m_s() * dt;
        self.bus_j += point.bus_w * dt;
        self.motor_j += point.motor_w * dt;
        self.shaft_j += point.shaft_w() * dt;
        self.wheel_j += point.wheel_n * way_m;
        self.air_j += road.air_n * way_m;
        self.rolling_j += road.rolling_n * way_m;
        self.climb_j += road.climb_n * way_m;
        self.kinetic_j += mass_kg * gear.rotating_factor * (motion.to_m_s - motion.from_m_s) * motion.mean_m_s();
    }

    /// Adds another account.
    #[inline]
    pub(super) fn add(&mut self, other: &Self) {
        self.battery_j += other.battery_j;
        self.recovered_j += other.recovered_j;
        self.pack_j += other.pack_j;
        self.low_voltage_j += other.low_voltage_j;
        self.hvac_j += other.hvac_j;
        self.bus_j += other.bus_j;
        self.motor_j += other.motor_j;
        self.shaft_j += other.shaft_j;
        self.wheel_j += other.wheel_j;
        self.air_j += other.air_j;
        self.rolling_j += other.rolling_j;
        self.climb_j += other.climb_j;
        self.kinetic_j += other.kinetic_j;
    }

    /// Where it all went. What the wheels ask and the motor does not make is braked.
    pub(super) fn split(&self) -> Split {
        Split {
            battery_j: self.battery_j,
            recovered_j: self.recovered_j,
            air_j: self.air_j,
            rolling_j: self.rolling_j,
            climb_j: self.climb_j,
            driveline_j: self.shaft_j - self.wheel_j,
            motor_j: self.motor_j,
            controller_j: self.bus_j - self.shaft_j - self.motor_j,
            low_voltage_j: self.low_voltage_j,
            hvac_j: self.hvac_j,
            brakes_j: self.wheel_j - self.air_j - self.rolling_j - self.climb_j - self.kinetic_j,
            kinetic_j: self.kinetic_j,
            pack_j: self.pack_j,
        }
    }
}
