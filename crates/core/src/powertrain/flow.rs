//! What flows through the chain in an instant: torque, power and amps, and how far from every limit they are.

use super::{Cause, Chain, GearPath, Limits, Supply};
use crate::pack::Terminals;
use crate::quantity::larger;

/// Share of a limit up to which a demand counts as far from it.
pub(super) const ROOM: f64 = 0.94;

/// Share of the open-circuit voltage down to which the bus counts as far from where power peaks, at half of it.
const LEAST_SHARE: f64 = 0.6;

/// What motor and controller do in an instant, before the pack is asked.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MotorPoint {
    /// Motor torque, N m; negative when braking.
    pub torque_nm: f64,
    /// Motor speed, rad/s.
    pub speed_rad_s: f64,
    /// Tractive force at the wheels, N.
    pub wheel_n: f64,
    /// Lost in the motor, W.
    pub motor_w: f64,
    /// At the controller's input, W; negative when it feeds back.
    pub bus_w: f64,
    /// Whether the bus held the braking back: its voltage, or what may be fed into it.
    pub held_back: bool,
}

impl MotorPoint {
    /// Motor and controller switched off.
    pub(crate) const OFF: Self = Self { torque_nm: 0.0, speed_rad_s: 0.0, wheel_n: 0.0, motor_w: 0.0, bus_w: 0.0, held_back: false };

    /// Power at the motor shaft, W.
    #[inline]
    #[must_use]
    pub fn shaft_w(&self) -> f64 {
        self.torque_nm * self.speed_rad_s
    }
}

/// Power flow of one instant.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PowerFlow {
    /// Motor and controller.
    pub point: MotorPoint,
    /// Terminals of the pack.
    pub terminals: Terminals,
}

/// Electrical power of one gear as a polynomial of pull and speed, less what is the same in every gear.
#[derive(Debug, Clone, Copy)]
pub(crate) struct GearCost {
    pub(crate) rotating_kg: f64,
    pub(crate) fastest_m_s: f64,
    per_force: f64,
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
        Some(self.watts(v_m_s, force_n))
    }

    /// Power in W for a pull at a speed, whether or not the motor turns so fast.
    #[inline(always)]
    pub(crate) fn watts(&self, v_m_s: f64, force_n: f64) -> f64 {
        force_n * (self.per_force * v_m_s + self.linear + self.square * force_n) + v_m_s * (self.per_speed + self.per_cube * v_m_s * v_m_s)
    }
}

impl Chain {
    /// The supply at a state of charge, with `aux_w` drawn beside the controller.
    #[inline]
    #[must_use]
    pub fn supply(&self, soc: f64, aux_w: f64) -> Supply {
        let ocv_v = self.pack.ocv_v(soc);
        Supply { ocv_v, aux_w, feedback_w: self.feedback_w(ocv_v, aux_w) }
    }

    /// Most power that the controller may feed back to the bus, W.
    ///
    /// The controller passes its own amps at the voltage they lift the bus to; what is drawn beside it leaves the pack that much more
    /// room, the controller none.
    #[inline]
    fn feedback_w(&self, ocv_v: f64, aux_w: f64) -> f64 {
        let r = self.pack.resistance_ohm;
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

    /// Power at the controller's input for an electrical power of the motor, W; negative when it feeds back.
    #[inline(always)]
    pub(super) fn bus_w(&self, electric_w: f64) -> f64 {
        // The loss is always a loss: of the two products the one that costs more.
        larger(electric_w * self.inverse_efficiency, electric_w * self.efficiency)
    }

    /// What the motor does when the wheels are asked for `force_n` at `v_m_s` (> 0), before the pack is asked; `None` when it would turn
    /// too fast.
    ///
    /// Braking is shared: the motor takes its share as far as grip, amps, power, pack and its own torque allow,
    /// the friction brakes the rest.
    #[inline(always)]
    #[must_use]
    pub fn motor_point(&self, gear: &GearPath, v_m_s: f64, force_n: f64, supply: &Supply) -> Option<MotorPoint> {
        let speed_rad_s = v_m_s * gear.rad_per_m;
        if speed_rad_s > self.motor.max_speed_rad_s {
            return None;
        }
        if force_n < 0.0 {
            return Some(self.braking_point(gear, v_m_s, force_n, supply));
        }
        let torque_nm = force_n * gear.drive_nm_per_n;
        let motor_w = self.motor.loss_w(torque_nm, speed_rad_s);
        Some(MotorPoint {
            torque_nm,
            speed_rad_s,
            wheel_n: force_n,
            motor_w,
            bus_w: self.bus_w(torque_nm * speed_rad_s + motor_w),
            held_back: false,
        })
    }

    #[inline]
    fn braking_point(&self, gear: &GearPath, v_m_s: f64, force_n: f64, supply: &Supply) -> MotorPoint {
        let speed_rad_s = v_m_s * gear.rad_per_m;
        let share = self.braking_share(v_m_s);
        let at = |torque_nm: f64, held_back: bool| {
            let motor_w = self.motor.loss_w(-torque_nm, speed_rad_s);
            let bus_w = self.bus_w(motor_w - torque_nm * speed_rad_s);
            MotorPoint { torque_nm: -torque_nm, speed_rad_s, wheel_n: -torque_nm * gear.brake_n_per_nm, motor_w, bus_w, held_back }
        };
        if share <= 0.0 {
            return at(0.0, false);
        }
        let torque_nm = self.braked_nm(gear.brake_nm_per_n, force_n * share, self.motor.best_braking_nm(speed_rad_s));
        let within_volts = self.motor.gives(torque_nm, speed_rad_s, supply.ocv_v);
        let point = at(if within_volts { torque_nm } else { self.motor.curve_nm(speed_rad_s, supply.ocv_v) }, !within_volts);
        if -point.bus_w <= supply.feedback_w {
            return point;
        }
        at(-self.motor.torque_for_power_nm(speed_rad_s, -supply.feedback_w * self.inverse_efficiency).min(0.0), true)
    }

    /// Share of the braking at a speed that the motor is asked for.
    #[inline(always)]
    pub(super) fn braking_share(&self, v_m_s: f64) -> f64 {
        self.regeneration_share * self.fade.at(v_m_s)
    }

    /// Torque the motor brakes with (positive figure) for a force at the wheels (negative) that makes `nm_per_n`, as far as grip, amps and its own best allow, N m.
    #[inline(always)]
    pub(super) fn braked_nm(&self, nm_per_n: f64, force_n: f64, best_nm: f64) -> f64 {
        ((-force_n).min(self.traction.brake_n) * nm_per_n).min(self.motor_amps_peak_nm).min(best_nm)
    }

    /// Whether braking that one supply did not hold back is the same on another.
    #[inline]
    pub(crate) fn brakes_alike(&self, point: &MotorPoint, other: &Supply) -> bool {
        !point.held_back && -point.bus_w <= other.feedback_w && self.motor.gives(-point.torque_nm, point.speed_rad_s, other.ocv_v)
    }

    /// What flows when the pack feeds motor and controller at a point, or `None` when it cannot give the power at all.
    #[inline]
    #[must_use]
    pub fn power_flow(&self, point: MotorPoint, supply: &Supply) -> Option<PowerFlow> {
        Some(PowerFlow { point, terminals: self.pack.under(supply.ocv_v, point.bus_w + supply.aux_w)? })
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
                per_force: g.rad_per_m * g.drive_nm_per_n,
                linear: loss.linear * g.drive_nm_per_n,
                square: loss.copper * g.drive_nm_per_n * g.drive_nm_per_n,
                per_speed: loss.iron * g.rad_per_m,
                per_cube: loss.windage * g.rad_per_m.powi(3),
            })
            .collect()
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
        volts_v - self.cutoff_v >= (1.0 - ROOM) * (ocv_v - self.cutoff_v) && volts_v > LEAST_SHARE * ocv_v
    }

    /// Power at the terminals up to which [`Self::easy_amps`] and [`Self::has_room`] hold, W.
    #[must_use]
    pub(crate) fn easy_watts(&self, ocv_v: f64) -> f64 {
        let r = self.pack.resistance_ohm;
        let least_v = (self.cutoff_v + (1.0 - ROOM) * (ocv_v - self.cutoff_v)).max(LEAST_SHARE * ocv_v);
        if r <= 0.0 {
            return if ocv_v > least_v { self.easy_amps() * ocv_v } else { 0.0 };
        }
        let amps = self.easy_amps().min((ocv_v - least_v).max(0.0) / r);
        amps * (ocv_v - amps * r)
    }

    /// Whether a demand is far enough inside every peak limit that none can fall within its second.
    #[inline]
    #[must_use]
    pub fn is_easy(&self, flow: &PowerFlow, supply: &Supply) -> bool {
        let (point, Terminals { volts_v, current_a }) = (&flow.point, flow.terminals);
        point.torque_nm <= 0.0
            || (self.is_far_from_ratings(point)
                && current_a <= self.easy_amps()
                && point.bus_w <= ROOM * volts_v * self.battery_peak_a
                && self.has_room(volts_v, supply.ocv_v)
                && self.is_far_from_curve(point, volts_v))
    }

    /// Voltage at the terminals above which a demand stays far inside the limits of motor and controller, V; infinite when
    /// that depends on more. What the cells and the cut-off say is left to [`Chain::easy_amps`] and [`Chain::has_room`].
    #[inline]
    #[must_use]
    pub(crate) fn easy_above_v(&self, point: &MotorPoint) -> f64 {
        if point.torque_nm <= 0.0 {
            return 0.0;
        }
        if !self.is_far_from_ratings(point) {
            return f64::INFINITY;
        }
        let lowest_v = larger(point.bus_w / (ROOM * self.battery_peak_a), self.cutoff_v);
        if self.is_far_from_curve(point, lowest_v) {
            return lowest_v;
        }
        let from_v = self.motor.gives_from_v(point.torque_nm * (1.0 / ROOM), point.speed_rad_s);
        from_v.map_or(f64::INFINITY, |v| larger(v, lowest_v))
    }

    #[inline]
    fn is_far_from_ratings(&self, point: &MotorPoint) -> bool {
        point.torque_nm <= ROOM * self.motor_amps_peak_nm && point.bus_w <= ROOM * self.max_power_w
    }

    #[inline]
    fn is_far_from_curve(&self, point: &MotorPoint, volts_v: f64) -> bool {
        self.motor.gives(point.torque_nm * (1.0 / ROOM), point.speed_rad_s, volts_v)
    }

    /// Whether a torque is so far beyond what motor and controller give at its speed, even at `volts_v` unsagged, that no moment of its
    /// second has it.
    #[inline]
    #[must_use]
    pub(crate) fn is_beyond(&self, point: &MotorPoint, volts_v: f64) -> bool {
        let torque_nm = ROOM * point.torque_nm;
        torque_nm > 0.0 && (torque_nm > self.motor_amps_peak_nm || !self.motor.gives(torque_nm, point.speed_rad_s, volts_v))
    }

    /// Whether a demand keeps within every peak limit.
    #[inline]
    #[must_use]
    pub fn fits(&self, flow: &PowerFlow, limits: &Limits) -> bool {
        let point = &flow.point;
        point.torque_nm <= 0.0
            || (point.bus_w <= limits.bus_w
                && point.torque_nm <= limits.amps_nm.min(limits.controller_nm)
                && point.motor_w <= limits.motor_loss_w
                && self.motor.gives(point.torque_nm, point.speed_rad_s, flow.terminals.volts_v))
    }

    /// Greatest pull at the wheels in a gear, N, and what stops more, tyres included.
    #[must_use]
    pub fn full_force(&self, gear: &GearPath, v_m_s: f64, limits: &Limits) -> (f64, Cause) {
        let (torque_nm, cause) = self.full_torque(v_m_s * gear.rad_per_m, limits);
        let force_n = torque_nm * gear.ratio * gear.efficiency / self.radius_m;
        if force_n > self.traction.drive_n { (self.traction.drive_n, Cause::Traction) } else { (force_n, cause) }
    }

    /// Whether [`Self::full_force`] in a gear may be more than a force: what amps and the curve without sag allow is.
    #[inline]
    #[must_use]
    pub(crate) fn may_exceed(&self, gear: &GearPath, v_m_s: f64, limits: &Limits, force_n: f64) -> bool {
        let torque_nm = force_n * self.radius_m / (gear.ratio * gear.efficiency) * (1.0 - 1e-12);
        let ceiling_nm = limits.amps_nm.min(limits.controller_nm);
        self.traction.drive_n >= force_n
            && ceiling_nm >= torque_nm
            && (torque_nm <= 0.0 || self.motor.gives(torque_nm, v_m_s * gear.rad_per_m, limits.ocv_v))
    }

    /// Whether [`Self::full_force`] in a gear is no less than a force.
    #[must_use]
    pub(crate) fn pulls(&self, gear: &GearPath, v_m_s: f64, force_n: f64, limits: &Limits) -> bool {
        if force_n <= 0.0 {
            return v_m_s * gear.rad_per_m <= self.motor.max_speed_rad_s;
        }
        if !limits.is_peak() {
            return self.full_force(gear, v_m_s, limits).0 >= force_n;
        }
        let supply = Supply { ocv_v: limits.ocv_v, aux_w: limits.aux_w, feedback_w: 0.0 };
        let point = self.motor_point(gear, v_m_s, force_n, &supply).filter(|_| force_n <= self.traction.drive_n);
        point.and_then(|point| self.power_flow(point, &supply)).is_some_and(|flow| self.fits(&flow, limits))
    }

    /// Whether a pull at a speed may be within some limits in any gear: no wheel gives more power than the bus.
    #[inline]
    #[must_use]
    pub(crate) fn may_pull(&self, v_m_s: f64, force_n: f64, limits: &Limits) -> bool {
        force_n <= self.traction.drive_n && force_n * v_m_s <= limits.bus_w * (1.0 + 1e-12)
    }
}
