//! One passage of a trip: backward-facing where the trace can be followed, at full force where it cannot.

use serde::Serialize;

use super::follow;
use crate::cancel::Cancel;
use crate::powertrain::{Chain, GearPath, PowerFlow, Supply};
use crate::trip::{Point, Trace};

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

/// Sub-steps in a second in which a limit may fall; a test holds trips to a thousandth of ten times finer ones.
const SUB_STEPS: u32 = 5;
/// Speed below the trace that counts as off it, m/s (2 km/h: UN GTR No. 15, annex 6).
const OFF_TRACE_M_S: f64 = 2.0 / 3.6;

/// Which gear a trip uses and what is drawn beside the drive.
#[derive(Debug, Clone, Copy)]
pub(super) struct Drive<'a> {
    pub(super) gears: &'a [GearPath],
    pub(super) hvac_w: f64,
    /// Sub-steps in a second in which a limit may fall.
    pub(super) sub_steps: u32,
    /// Sub-steps in every other second.
    pub(super) base_steps: u32,
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
    fn would_get_hot(&self, chain: &Chain, draw: &PowerFlow, dt: f64) -> bool {
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

/// The gear that draws the least from the bus for a mean speed and an acceleration, among those that `accept` takes.
#[inline]
pub(super) fn least_draw<'a>(
    chain: &Chain,
    manner: &Drive<'a>,
    supply: &Supply,
    (v_m_s, resistance_n, accel_m_s2): (f64, f64, f64),
    accept: impl Fn(&PowerFlow) -> bool,
) -> Option<(PowerFlow, &'a GearPath)> {
    let force_n = |gear: &GearPath| resistance_n + chain.road.mass_kg * gear.rotating_factor * accel_m_s2;
    if let [gear] = manner.gears {
        let force_n = force_n(gear);
        let draw = chain.draw(gear, v_m_s, force_n, supply)?;
        return (force_n <= chain.traction.drive_n && accept(&draw)).then_some((draw, gear));
    }
    // Gears once refused, as bits; bus power is cheap, the rest is worked out for the cheapest gear only.
    let mut refused = 0u32;
    loop {
        let mut best: Option<(usize, f64)> = None;
        for (i, gear) in manner.gears.iter().enumerate() {
            if refused & (1 << i) != 0 {
                continue;
            }
            if let Some(bus_w) = chain.bus_power_w(gear, v_m_s, force_n(gear), supply)
                && best.is_none_or(|b| bus_w < b.1)
            {
                best = Some((i, bus_w));
            }
        }
        let (i, _) = best?;
        let gear = &manner.gears[i];
        let force_n = force_n(gear);
        if force_n <= chain.traction.drive_n
            && let Some(draw) = chain.draw(gear, v_m_s, force_n, supply)
            && accept(&draw)
        {
            return Some((draw, gear));
        }
        refused |= 1 << i;
    }
}

/// Drives one passage of `trace`, ending early when `soc_end` is reached; `observe` sees the state after each step.
pub(super) fn passage(
    chain: &Chain,
    trace: &Trace,
    manner: &Drive<'_>,
    passage: &mut CycleRun,
    soc_end: f64,
    mut observe: impl FnMut(&CycleRun, Point),
) {
    for pair in trace.points.windows(2) {
        let (from, to) = (pair[0], pair[1]);
        let before = (passage.soc, passage.distance_m, passage.split.battery_j);
        step(chain, manner, passage, from, to);
        observe(passage, to);
        if passage.exhausted || passage.end_at(soc_end, before) {
            return;
        }
    }
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

/// One step of a trace.
pub(super) fn step(chain: &Chain, manner: &Drive<'_>, passage: &mut CycleRun, from: Point, to: Point) {
    let dt = to.time_s - from.time_s;
    let supply = chain.supply(passage.soc, chain.low_voltage_w + manner.hvac_w);
    let on_trace = (passage.speed_m_s - from.speed_m_s).abs() < 1e-9;
    if on_trace && from.speed_m_s == 0.0 && to.speed_m_s == 0.0 {
        passage.stand(chain, &supply, dt);
    } else if !on_trace || passage.is_hot(chain) || !steady(chain, manner, passage, &supply, from, to, dt) {
        follow::second(chain, manner, passage, from, to, dt);
    }
    if to.speed_m_s - passage.speed_m_s > OFF_TRACE_M_S {
        passage.off_trace_s += dt;
    }
}

/// Follows the trace through one step evaluated at mid-step; false, with nothing changed, when a limit may fall inside.
#[inline]
fn steady(chain: &Chain, manner: &Drive<'_>, passage: &mut CycleRun, supply: &Supply, from: Point, to: Point, dt: f64) -> bool {
    if manner.base_steps > 1 {
        return false;
    }
    let accel = (to.speed_m_s - from.speed_m_s) / dt;
    let middle = 0.5 * (from.speed_m_s + to.speed_m_s);
    let resistance_n = chain.road.resistance_n(middle, (from.sin, from.cos));
    // Gears far beyond reach are left out; the cheapest of the others must be easy, or the sub-steps decide.
    let demand = (middle, resistance_n, accel);
    let in_reach = |d: &PowerFlow| !chain.is_beyond(d.torque_nm, d.speed_rad_s, supply.ocv_v);
    let Some((draw, gear)) = least_draw(chain, manner, supply, demand, in_reach).filter(|(d, _)| chain.is_easy(d, supply)) else {
        return false;
    };
    // The motor's highest speed may be passed after the middle of the step.
    if from.speed_m_s.max(to.speed_m_s) * gear.rad_per_m > chain.motor.max_speed_rad_s {
        return false;
    }
    if passage.would_get_hot(chain, &draw, dt) {
        return false;
    }
    let motion = Motion { sin: from.sin, cos: from.cos, factor: gear.rotating_factor, to_m_s: to.speed_m_s, dt };
    passage.advance(chain, supply, &draw, &motion);
    true
}

/// How a trip is driven: gears allowed, and what is drawn beside the drive.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct ShiftPolicy {
    /// Gear held from start to end, counted from 1. Absent: at each step the one that draws the least.
    pub gear: Option<u32>,
    /// Range of the transfer box, counted from 1. Absent: the one with the smallest ratio.
    pub transfer_range: Option<u32>,
    /// Heating and cooling, W.
    pub hvac_w: f64,
}

/// Drives one whole passage of a trace from rest, motor and controller at the air's temperature.
#[must_use]
pub fn drive_trace(chain: &Chain, trace: &Trace, way: ShiftPolicy, start_soc: f64) -> CycleRun {
    super::Demands::of(chain, trace, way, (start_soc, chain.pack.soc_min.min(start_soc)), &Cancel::new()).passage(start_soc, (0.0, 0.0))
}

/// As [`drive_trace`], step by step, with every step cut into `base_steps`; for checks.
#[must_use]
pub fn drive_trace_finely(chain: &Chain, trace: &Trace, way: ShiftPolicy, start_soc: f64, base_steps: u32) -> CycleRun {
    let mut state = CycleRun::at_rest(start_soc);
    passage(chain, trace, &manner(chain, way, base_steps), &mut state, f64::NEG_INFINITY, |_, _| {});
    state
}

/// As [`drive_trace`]; `observe` sees the state after each step beside the point of the trace it belongs to.
#[must_use]
pub fn drive_trace_watched(
    chain: &Chain,
    trace: &Trace,
    way: ShiftPolicy,
    start_soc: f64,
    observe: impl FnMut(&CycleRun, Point),
) -> CycleRun {
    let mut state = CycleRun::at_rest(start_soc);
    passage(chain, trace, &manner(chain, way, 1), &mut state, f64::NEG_INFINITY, observe);
    state
}

pub(super) fn manner(chain: &Chain, way: ShiftPolicy, base_steps: u32) -> Drive<'_> {
    let range = chain.range(way.transfer_range);
    let gears = way.gear.map_or(range, |g| std::slice::from_ref(&range[(g as usize - 1).min(range.len() - 1)]));
    Drive { gears, hvac_w: way.hvac_w, sub_steps: SUB_STEPS * base_steps, base_steps }
}
