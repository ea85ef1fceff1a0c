//! What a moment asks of a chain as plain arithmetic, for several moments side by side.
//!
//! No function here jumps: of two outcomes both are worked out and one is taken, which a compiler turns into lanes. They say what the
//! chain's own functions say as long as nothing out of the ordinary holds the motor back, and say themselves where something may; that
//! moment is then worked out by the chain. A test holds the two to one another, bit by bit.

use super::flow::ROOM;
use super::heat::current_loss;
use super::motor::{Inside, Polynomial};
use super::rise::{ControllerLoad, LEAST_LOAD};
use super::{Chain, Supply};
use crate::quantity::larger;

/// A chain whose motor's losses are one polynomial, between two states of charge.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Plain<'a> {
    chain: &'a Chain,
    loss: Polynomial,
    inside: Inside,
    /// 1 where the voltages it tells are nearly those of the curve, else 0.
    near: f64,
    greatest_nm: f64,
    high: Supply,
    low: Supply,
    per_ocv_v: f64,
    /// Whether torque tells the controller's heat, else the amps of the bus.
    by_torque: bool,
    /// What it carries of that continuously.
    continuous: f64,
}

/// What motor and controller do in a moment.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Drawn {
    /// Motor torque, N m; negative when braking.
    pub(crate) torque_nm: f64,
    /// Lost in the motor, W.
    pub(crate) motor_w: f64,
    /// At the controller's input, W.
    pub(crate) bus_w: f64,
}

impl<'a> Plain<'a> {
    /// Of a chain with the supplies at both ends of the charge; `None` where its motor's losses are no polynomial, or what heats its
    /// controllers is not told by torque or the bus.
    pub(crate) fn of(chain: &'a Chain, (high, low): (Supply, Supply)) -> Option<Self> {
        let (by_torque, continuous) = match chain.controller_load {
            ControllerLoad::Torque(continuous_nm) => (true, continuous_nm),
            ControllerLoad::BusAmps(continuous_a) => (false, continuous_a),
            ControllerLoad::MotorAmps(_) => return None,
        };
        Some(Self {
            chain,
            loss: chain.motor.polynomial()?,
            inside: chain.motor.inside(),
            near: if chain.motor.is_near_inside() { 1.0 } else { 0.0 },
            greatest_nm: chain.motor.greatest_nm(),
            high,
            low,
            per_ocv_v: 1.0 / high.ocv_v,
            by_torque,
            continuous: continuous.max(LEAST_LOAD),
        })
    }

    /// What a torque at a speed draws.
    #[inline(always)]
    pub(crate) fn drawn(&self, torque_nm: f64, speed_rad_s: f64) -> Drawn {
        let motor_w = self.loss.loss_w(torque_nm, speed_rad_s);
        Drawn { torque_nm, motor_w, bus_w: self.chain.bus_w(torque_nm * speed_rad_s + motor_w) }
    }

    /// Share of the braking at a speed that the motor is asked for.
    #[inline(always)]
    pub(crate) fn braking_share(&self, v_m_s: f64) -> f64 {
        self.chain.braking_share(v_m_s)
    }

    /// Torque, negative, that the motor brakes with for its share of a force at the wheels, itself negative, which makes `nm_per_n`, N m.
    #[inline(always)]
    pub(crate) fn braking_nm(&self, nm_per_n: f64, speed_rad_s: f64, force_n: f64) -> f64 {
        -self.chain.braked_nm(nm_per_n, force_n, self.loss.best_braking_nm(speed_rad_s))
    }

    /// Whether braking is surely held back by nothing.
    #[inline(always)]
    pub(crate) fn brakes_freely(&self, drawn: &Drawn, speed_rad_s: f64) -> bool {
        (-drawn.bus_w <= self.high.feedback_w) & self.inside.holds(-drawn.torque_nm, speed_rad_s, self.high.ocv_v)
    }

    /// Whether a pull is surely not beyond reach.
    #[inline(always)]
    pub(crate) fn reaches(&self, drawn: &Drawn, speed_rad_s: f64) -> bool {
        let torque_nm = ROOM * drawn.torque_nm;
        (torque_nm <= self.chain.motor_amps_peak_nm) & self.inside.holds(torque_nm, speed_rad_s, self.high.ocv_v)
    }

    /// Voltage above which a step is easy, NaN where the chain has to say; `fastest_rad_s` in any instant of it.
    #[inline(always)]
    pub(crate) fn easy_above_v(&self, drawn: &Drawn, speed_rad_s: f64, wheel_n: f64, fastest_rad_s: f64) -> f64 {
        let chain = self.chain;
        let lowest_v = larger(drawn.bus_w / (ROOM * chain.battery_peak_a), chain.cutoff_v);
        let rated = (drawn.torque_nm <= ROOM * chain.motor_amps_peak_nm) & (drawn.bus_w <= ROOM * chain.max_power_w);
        let torque_nm = drawn.torque_nm * (1.0 / ROOM);
        let far = self.inside.holds(torque_nm, speed_rad_s, lowest_v);
        let from_v = if self.near > 0.0 { larger(self.inside.holds_from_v(torque_nm, speed_rad_s), lowest_v) } else { f64::NAN };
        let told = if far { lowest_v } else { from_v };
        let pulling_v = if rated { told } else { f64::INFINITY };
        let alike = (-drawn.bus_w <= self.low.feedback_w) & self.inside.holds(-drawn.torque_nm, speed_rad_s, self.low.ocv_v);
        let braking_v = if alike { 0.0 } else { f64::NAN };
        let v = if drawn.torque_nm > 0.0 { pulling_v } else { braking_v };
        let ends = (fastest_rad_s > chain.motor.max_speed_rad_s) | (wheel_n > chain.traction.drive_n);
        if ends { f64::INFINITY } else { v }
    }

    /// Where the rises of motor and controller tend to, and the shares of the way that they go in `dt` s; of a torque the motor has.
    #[inline(always)]
    pub(crate) fn heat(&self, drawn: &Drawn, dt: f64) -> [f64; 4] {
        let load = if self.by_torque { drawn.torque_nm } else { drawn.bus_w * self.per_ocv_v };
        let (motor, controller) = (&self.chain.motor_heat, &self.chain.controller_heat);
        [motor.target(drawn.motor_w), controller.target(current_loss(load / self.continuous)), motor.gain(dt), controller.gain(dt)]
    }

    /// Whether the motor has a torque at any speed at all.
    #[inline(always)]
    pub(crate) fn has(&self, torque_nm: f64) -> bool {
        torque_nm.abs() <= self.greatest_nm
    }
}
