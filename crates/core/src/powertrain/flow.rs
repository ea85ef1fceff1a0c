//! What flows through the chain in an instant: torque, power and amps, and how far from every limit they are.

use super::{Cause, Chain, GearPath, Limits, Supply};
use crate::pack::Terminals;

/// Share of a limit up to which a demand counts as far from it.
const ROOM: f64 = 0.94;

/// Power flow of one instant, W; all sums at the battery terminals.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PowerFlow {
    /// Motor torque, N m.
    pub torque_nm: f64,
    /// Motor speed, rad/s.
    pub speed_rad_s: f64,
    /// Power at the motor shaft.
    pub shaft_w: f64,
    /// Lost in gears and stages.
    pub driveline_w: f64,
    /// Lost in the motor.
    pub motor_w: f64,
    /// Lost in the controller.
    pub controller_w: f64,
    /// Turned to heat in the friction brakes.
    pub brakes_w: f64,
    /// At the controller's input; negative when it feeds back.
    pub bus_w: f64,
    /// Terminals of the pack.
    pub terminals: Terminals,
}

/// What the motor does in an instant, before the pack is asked.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MotorPoint {
    /// N m.
    pub torque_nm: f64,
    /// rad/s.
    pub speed_rad_s: f64,
    /// Pull at the wheels, N.
    pub wheel_n: f64,
    /// Lost in the motor, W.
    pub motor_w: f64,
    /// At the controller's input, W; negative when it feeds back.
    pub bus_w: f64,
}

/// Electrical power of one gear as a polynomial of pull and speed, less what is the same in every gear.
#[derive(Debug, Clone, Copy)]
pub(crate) struct GearCost {
    rotating_kg: f64,
    fastest_m_s: f64,
    per_pull: f64,
    linear: f64,
    square: f64,
    per_speed: f64,
    per_cube: f64,
}

impl GearCost {
    /// Power in W for a resistance and an acceleration at a speed; infinite past the motor's highest speed, `None` when braking.
    #[inline]
    pub(crate) fn at(&self, v_m_s: f64, resistance_n: f64, accel_m_s2: f64) -> Option<f64> {
        let force_n = resistance_n + self.rotating_kg * accel_m_s2;
        if force_n < 0.0 {
            return None;
        }
        if v_m_s > self.fastest_m_s {
            return Some(f64::INFINITY);
        }
        Some(
            force_n * (self.per_pull * v_m_s + self.linear + self.square * force_n)
                + v_m_s * (self.per_speed + self.per_cube * v_m_s * v_m_s),
        )
    }
}

impl Chain {
    /// Most power that the controller may feed back to the bus, W.
    ///
    /// The controller passes its own amps at the voltage they lift the bus to; what is drawn beside it leaves the pack that much more
    /// room, the controller none.
    #[inline]
    fn feedback_w(&self, supply: &Supply) -> f64 {
        let (ocv_v, r, aux_w) = (supply.ocv_v, self.pack.resistance_ohm, supply.aux_w);
        // V = ocv + R (I - aux / V), the larger root.
        let b = ocv_v + r * self.regeneration_a;
        let root = b * b - 4.0 * r * aux_w;
        let volts_v = if root > 0.0 { 0.5 * (b + root.sqrt()) } else { 0.5 * b };
        let mut watts = (self.regeneration_a * volts_v).min(self.feedback_cap_w);
        if self.respect_pack_limits {
            let room_v = (self.pack.full_v - ocv_v).max(0.0);
            let mut amps = self.pack.charge_a;
            if amps * r > room_v {
                amps = room_v / r;
            }
            watts = watts.min(amps * (ocv_v + amps * r) + aux_w);
        }
        watts
    }

    /// Motor torque (N m, negative when braking) and the pull it makes at the wheels (N) when `force_n` is asked of them.
    ///
    /// Braking is shared: the motor takes its share as far as grip, amps, power, pack and its own torque allow,
    /// the friction brakes the rest.
    #[inline]
    fn torque(&self, gear: &GearPath, v_m_s: f64, speed_rad_s: f64, force_n: f64, supply: &Supply) -> (f64, f64) {
        if force_n >= 0.0 {
            return (force_n * gear.pull_nm_per_n, force_n);
        }
        let fade = ((v_m_s - self.fade_to_m_s) * self.fade_per_m_s).clamp(0.0, 1.0);
        let share = self.regeneration_share * fade;
        if share <= 0.0 {
            return (0.0, 0.0);
        }
        let wheel_n = (-force_n * share).min(self.traction.brake_n);
        let mut torque = (wheel_n * gear.brake_nm_per_n).min(self.motor_amps_peak_nm).min(self.motor.best_braking_nm(speed_rad_s));
        torque = torque.min(self.motor.curve_nm(speed_rad_s, supply.ocv_v));
        let electric_w = -torque * speed_rad_s + self.motor.loss_w(-torque, speed_rad_s);
        let feedback_w = self.feedback_w(supply);
        if -electric_w * self.efficiency > feedback_w {
            torque = -self.motor.torque_for_power_nm(speed_rad_s, -feedback_w * self.inverse_efficiency).min(0.0);
        }
        (-torque, -torque * gear.brake_n_per_nm)
    }

    /// Power at the controller's input for a torque at a speed, W; negative when it feeds back.
    #[inline]
    fn bus_w(&self, torque_nm: f64, speed_rad_s: f64) -> f64 {
        let electric_w = torque_nm * speed_rad_s + self.motor.loss_w(torque_nm, speed_rad_s);
        if electric_w >= 0.0 { electric_w * self.inverse_efficiency } else { electric_w * self.efficiency }
    }

    /// Power at the controller's input when the wheels are asked for `force_n`, W; `None` when the motor would turn too fast.
    #[inline]
    #[must_use]
    pub fn bus_power_w(&self, gear: &GearPath, v_m_s: f64, force_n: f64, supply: &Supply) -> Option<f64> {
        let speed_rad_s = v_m_s * gear.rad_per_m;
        if speed_rad_s > self.motor.max_speed_rad_s {
            return None;
        }
        let (torque_nm, _) = self.torque(gear, v_m_s, speed_rad_s, force_n, supply);
        Some(self.bus_w(torque_nm, speed_rad_s))
    }

    /// What the motor does when the wheels are asked for `force_n` at `v_m_s` (> 0), before the pack is asked; `None` when it would turn
    /// too fast.
    #[inline]
    #[must_use]
    pub fn effort(&self, gear: &GearPath, v_m_s: f64, force_n: f64, supply: &Supply) -> Option<MotorPoint> {
        let speed_rad_s = v_m_s * gear.rad_per_m;
        if speed_rad_s > self.motor.max_speed_rad_s {
            return None;
        }
        let (torque_nm, wheel_n) = self.torque(gear, v_m_s, speed_rad_s, force_n, supply);
        let motor_w = self.motor.loss_w(torque_nm, speed_rad_s);
        let electric_w = torque_nm * speed_rad_s + motor_w;
        let bus_w = if electric_w >= 0.0 { electric_w * self.inverse_efficiency } else { electric_w * self.efficiency };
        Some(MotorPoint { torque_nm, speed_rad_s, wheel_n, motor_w, bus_w })
    }

    /// Power flow when the wheels are asked for `force_n` at `v_m_s` (> 0), or `None` when the motor would turn too fast
    /// or the pack cannot give the power at all.
    #[inline]
    #[must_use]
    pub fn draw(&self, gear: &GearPath, v_m_s: f64, force_n: f64, supply: &Supply) -> Option<PowerFlow> {
        let effort = self.effort(gear, v_m_s, force_n, supply)?;
        let MotorPoint { torque_nm, speed_rad_s, wheel_n, motor_w, bus_w } = effort;
        let shaft_w = torque_nm * speed_rad_s;
        let terminals = self.pack.under(supply.ocv_v, bus_w + supply.aux_w)?;
        Some(PowerFlow {
            torque_nm,
            speed_rad_s,
            shaft_w,
            driveline_w: shaft_w - wheel_n * v_m_s,
            motor_w,
            controller_w: bus_w - (shaft_w + motor_w),
            brakes_w: (wheel_n - force_n) * v_m_s,
            bus_w,
            terminals,
        })
    }

    /// What each gear asks of the bus for a pull, as polynomials; empty where the motor's losses are no polynomial.
    #[must_use]
    pub(crate) fn gear_costs(&self, gears: &[GearPath]) -> Vec<GearCost> {
        let Some(loss) = self.motor.polynomial() else { return Vec::new() };
        gears
            .iter()
            .map(|g| GearCost {
                rotating_kg: self.road.mass_kg * g.rotating_factor,
                fastest_m_s: self.motor.max_speed_rad_s / g.rad_per_m,
                per_pull: g.rad_per_m * g.pull_nm_per_n,
                linear: loss.linear * g.pull_nm_per_n,
                square: loss.copper * g.pull_nm_per_n * g.pull_nm_per_n,
                per_speed: loss.iron * g.rad_per_m,
                per_cube: loss.windage * g.rad_per_m.powi(3),
            })
            .collect()
    }

    /// Torque that takes neither motor nor controller beyond its temperature within `dt` s from some rise, N m, at the voltage of
    /// some limits.
    #[must_use]
    pub(crate) fn within_heat_nm(&self, limits: &Limits, (motor, controller): (f64, f64), dt: f64) -> f64 {
        let controller = self.controller_heat.within(controller, dt);
        let controller_nm = if self.controller_heats_by_torque {
            controller
        } else {
            // Battery amps heat it: the share of the greatest torque that the amps are of theirs.
            let amps = limits.bus_w.max(1.0) / limits.ocv_v;
            if controller < amps { self.motor.greatest_nm() * controller / amps } else { f64::INFINITY }
        };
        self.motor_heat.within(motor, dt).min(controller_nm)
    }

    /// Current below which the cells' peak rating is far, A.
    #[inline]
    #[must_use]
    pub(crate) fn easy_amps(&self) -> f64 {
        ROOM * self.pack.peak_a
    }

    /// Whether the sagged bus is far from the cut-off and from the point where power peaks.
    #[inline]
    #[must_use]
    pub(crate) fn has_room(&self, volts_v: f64, ocv_v: f64) -> bool {
        volts_v - self.cutoff_v >= (1.0 - ROOM) * (ocv_v - self.cutoff_v) && volts_v > 0.6 * ocv_v
    }

    /// Whether a demand is far enough inside every peak limit that none can fall within its second.
    #[inline]
    #[must_use]
    pub fn is_easy(&self, draw: &PowerFlow, supply: &Supply) -> bool {
        let Terminals { volts_v, current_a } = draw.terminals;
        draw.torque_nm <= 0.0
            || (draw.torque_nm <= ROOM * self.motor_amps_peak_nm
                && current_a <= self.easy_amps()
                && draw.bus_w <= ROOM * volts_v * self.battery_peak_a
                && draw.bus_w <= ROOM * self.max_power_w
                && self.has_room(volts_v, supply.ocv_v)
                && draw.torque_nm <= ROOM * self.motor.curve_nm(draw.speed_rad_s, volts_v))
    }

    /// Voltage at the terminals above which a demand stays far inside the limits of motor and controller, V; infinite when
    /// that depends on more. What the cells and the cut-off say is left to [`Chain::easy_amps`] and [`Chain::has_room`].
    #[must_use]
    pub(crate) fn easy_above_v(&self, draw: &MotorPoint) -> f64 {
        if draw.torque_nm <= 0.0 {
            return 0.0;
        }
        let within = draw.torque_nm <= ROOM * self.motor_amps_peak_nm && draw.bus_w <= ROOM * self.max_power_w;
        let amps_v = draw.bus_w / (ROOM * self.battery_peak_a);
        let lowest_v = amps_v.max(self.cutoff_v);
        if within && draw.torque_nm <= ROOM * self.motor.curve_nm(draw.speed_rad_s, lowest_v) { lowest_v } else { f64::INFINITY }
    }

    /// Whether a torque is so far beyond what motor and controller give at a speed, even at `volts_v` unsagged, that no moment of its
    /// second has it.
    #[inline]
    #[must_use]
    pub(crate) fn is_beyond(&self, torque_nm: f64, speed_rad_s: f64, volts_v: f64) -> bool {
        torque_nm > 0.0 && ROOM * torque_nm > self.motor_amps_peak_nm.min(self.motor.curve_nm(speed_rad_s, volts_v))
    }

    /// Whether a demand keeps within every peak limit.
    #[inline]
    #[must_use]
    pub fn fits(&self, draw: &PowerFlow, limits: &Limits) -> bool {
        draw.torque_nm <= 0.0
            || (draw.bus_w <= limits.bus_w
                && draw.torque_nm <= self.motor.curve_nm(draw.speed_rad_s, draw.terminals.volts_v).min(limits.amps_nm).min(limits.heat_nm))
    }

    /// Greatest pull at the wheels in a gear, N, and what stops more, tyres included.
    #[must_use]
    pub fn full_force(&self, gear: &GearPath, v_m_s: f64, limits: &Limits) -> (f64, Cause) {
        let (torque_nm, cause) = self.full_torque(v_m_s * gear.rad_per_m, limits);
        let force_n = torque_nm * gear.ratio * gear.efficiency / self.radius_m;
        if force_n > self.traction.drive_n { (self.traction.drive_n, Cause::Traction) } else { (force_n, cause) }
    }
}
