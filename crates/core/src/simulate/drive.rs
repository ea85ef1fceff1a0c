//! One passage of a trip: backward-facing where the trace can be followed, at full force where it cannot.

use super::cycle_run::{CycleRun, Motion};
use super::follow;
use crate::cancel::Cancel;
use crate::powertrain::{Chain, GearPath, PowerFlow, Supply};
use crate::trip::{Point, Trace};

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
