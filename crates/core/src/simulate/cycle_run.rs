//! The state of a vehicle under way and the account of its energy: one second is booked here and nowhere else.

use serde::Serialize;

use crate::powertrain::{Chain, PowerFlow, Supply};

/// Where the energy of a trip went, J at the battery terminals unless said otherwise.
///
/// `battery = air + rolling + climb + driveline + motor + controller + low_voltage + comfort + brakes + kinetic`.
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

impl Split {
    /// Adds what does not depend on the pack.
    #[inline]
    pub(super) fn add(&mut self, other: &Self) {
        self.air_j += other.air_j;
        self.rolling_j += other.rolling_j;
        self.climb_j += other.climb_j;
        self.driveline_j += other.driveline_j;
        self.motor_j += other.motor_j;
        self.controller_j += other.controller_j;
        self.low_voltage_j += other.low_voltage_j;
        self.hvac_j += other.hvac_j;
        self.brakes_j += other.brakes_j;
        self.kinetic_j += other.kinetic_j;
    }
}

/// State and account of a vehicle under way.
#[derive(Debug, Clone, PartialEq)]
pub struct CycleRun {
    /// State of charge now.
    pub soc: f64,
    /// Speed now, m/s.
    pub speed_m_s: f64,
    /// Distance driven, m.
    pub distance_m: f64,
    /// Time gone, s.
    pub time_s: f64,
    /// Seconds more than 2 km/h below the trace, the tolerance of UN GTR No. 15.
    pub off_trace_s: f64,
    /// Energy account.
    pub split: Split,
    /// Sum of squared battery current over time, A^2 s.
    pub current_squared_a2_s: f64,
    /// Greatest battery current, A.
    pub peak_current_a: f64,
    /// Lowest terminal voltage, V.
    pub lowest_v: f64,
    /// Temperature rise of the motor, in rises of its continuous rating.
    pub motor_rise: f64,
    /// Temperature rise of the controller.
    pub controller_rise: f64,
    /// Highest rise of the motor so far.
    pub motor_highest_rise: f64,
    /// Highest rise of the controller so far.
    pub controller_highest_rise: f64,
    /// Seconds in which motor or controller were at their highest temperature and the torque was held back.
    pub derated_s: f64,
    /// Whether the pack could not give what even standing still draws.
    pub exhausted: bool,
    /// Whether it fell behind the trace by more than following it allows while there was charge left in the window.
    pub behind: bool,
}

impl CycleRun {
    /// A vehicle at rest.
    #[must_use]
    pub fn at_rest(soc: f64) -> Self {
        Self {
            soc,
            speed_m_s: 0.0,
            distance_m: 0.0,
            time_s: 0.0,
            off_trace_s: 0.0,
            split: Split::default(),
            current_squared_a2_s: 0.0,
            peak_current_a: 0.0,
            lowest_v: f64::INFINITY,
            motor_rise: 0.0,
            controller_rise: 0.0,
            motor_highest_rise: 0.0,
            controller_highest_rise: 0.0,
            derated_s: 0.0,
            exhausted: false,
            behind: false,
        }
    }

    /// Root mean square battery current, A.
    #[must_use]
    pub fn rms_current_a(&self) -> f64 {
        if self.time_s > 0.0 { (self.current_squared_a2_s / self.time_s).sqrt() } else { 0.0 }
    }

    #[inline]
    fn draw_battery(&mut self, chain: &Chain, supply: &Supply, volts_v: f64, current_a: f64, dt: f64) {
        let energy_j = volts_v * current_a * dt;
        self.split.battery_j += energy_j;
        if current_a < 0.0 {
            self.split.recovered_j -= energy_j;
        }
        self.split.pack_j += current_a * current_a * chain.pack.resistance_ohm * dt;
        self.split.low_voltage_j += chain.low_voltage_w * dt;
        self.split.hvac_j += (supply.aux_w - chain.low_voltage_w) * dt;
        self.current_squared_a2_s += current_a * current_a * dt;
        self.peak_current_a = self.peak_current_a.max(current_a);
        self.lowest_v = self.lowest_v.min(volts_v);
        self.soc -= chain.pack.counted_a(current_a) * dt * chain.pack.per_a_s;
        self.time_s += dt;
    }

    /// Whether motor or controller is at its highest temperature.
    #[inline]
    pub(super) fn is_hot(&self, chain: &Chain) -> bool {
        // A hair below: a step that just keeps to the limit lands on it only to rounding.
        const NEARLY: f64 = 0.999;
        self.motor_rise >= NEARLY * chain.motor_heat.limit || self.controller_rise >= NEARLY * chain.controller_heat.limit
    }

    /// Whether a step may take motor or controller past the temperature allowed.
    #[inline]
    pub(super) fn would_get_hot(&self, chain: &Chain, draw: &PowerFlow, dt: f64) -> bool {
        let (motor, controller) = (&chain.motor_heat, &chain.controller_heat);
        if self.motor_rise < 0.5 * motor.limit && self.controller_rise < 0.5 * controller.limit {
            return false;
        }
        let load = if chain.controller_heats_by_torque { draw.torque_nm } else { draw.bus_w / draw.terminals.volts_v };
        motor.after(self.motor_rise, draw.torque_nm, dt) > motor.limit
            || controller.after(self.controller_rise, load, dt) > controller.limit
    }

    #[inline]
    fn warm(&mut self, chain: &Chain, torque_nm: f64, bus_a: f64, dt: f64) {
        let controller_load = if chain.controller_heats_by_torque { torque_nm } else { bus_a };
        self.motor_rise = chain.motor_heat.after(self.motor_rise, torque_nm, dt);
        self.controller_rise = chain.controller_heat.after(self.controller_rise, controller_load, dt);
        self.motor_highest_rise = self.motor_highest_rise.max(self.motor_rise);
        self.controller_highest_rise = self.controller_highest_rise.max(self.controller_rise);
    }

    /// Stands still for `dt` seconds.
    pub(super) fn stand(&mut self, chain: &Chain, supply: &Supply, dt: f64) {
        self.warm(chain, 0.0, 0.0, dt);
        match chain.pack.under(supply.ocv_v, supply.aux_w) {
            Some(t) => self.draw_battery(chain, supply, t.volts_v, t.current_a, dt),
            None => self.exhausted = true,
        }
    }

    /// Moves with `draw`, the speed changing linearly.
    #[inline]
    pub(super) fn advance(&mut self, chain: &Chain, supply: &Supply, draw: &PowerFlow, motion: &Motion) {
        let Motion { sin, cos, factor, to_m_s, dt } = *motion;
        let middle = 0.5 * (self.speed_m_s + to_m_s);
        let road = &chain.road;
        let split = &mut self.split;
        split.air_j += road.air_n(middle) * middle * dt;
        split.rolling_j += road.rolling_n(middle, cos) * middle * dt;
        split.climb_j += road.climb_n(sin) * middle * dt;
        split.kinetic_j += 0.5 * road.mass_kg * factor * (to_m_s * to_m_s - self.speed_m_s * self.speed_m_s);
        split.driveline_j += draw.driveline_w * dt;
        split.motor_j += draw.motor_w * dt;
        split.controller_j += draw.controller_w * dt;
        split.brakes_j += draw.brakes_w * dt;
        self.distance_m += middle * dt;
        self.speed_m_s = to_m_s;
        self.warm(chain, draw.torque_nm, draw.bus_w / draw.terminals.volts_v, dt);
        self.draw_battery(chain, supply, draw.terminals.volts_v, draw.terminals.current_a, dt);
    }
}

/// How a step moves the vehicle.
#[derive(Debug, Clone, Copy)]
pub(super) struct Motion {
    /// Sine of the grade.
    pub(super) sin: f64,
    /// Cosine of the grade.
    pub(super) cos: f64,
    /// Rotating-mass factor of the gear in use.
    pub(super) factor: f64,
    /// Speed at the end, m/s.
    pub(super) to_m_s: f64,
    /// Duration, s.
    pub(super) dt: f64,
}

impl CycleRun {
    /// When the window has ended inside the last step, keeps the share of it that was left and says so.
    pub(super) fn end_at(&mut self, soc_end: f64, (soc, distance_m, battery_j): (f64, f64, f64)) -> bool {
        if self.soc > soc_end {
            return false;
        }
        let share = ((soc - soc_end) / (soc - self.soc)).clamp(0.0, 1.0);
        self.distance_m = distance_m + share * (self.distance_m - distance_m);
        self.split.battery_j = battery_j + share * (self.split.battery_j - battery_j);
        self.soc = soc_end;
        true
    }
}
