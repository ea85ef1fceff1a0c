//! What a trip asks of the pack, worked out once and then drawn from any state of charge.
//!
//! Where no limit is near, neither the gear nor the power a second takes depends on the charge left. Runs of such seconds are
//! kept as sums of powers of the power; a passage then follows the pack in blocks instead of seconds. The rest is driven in
//! full. A test holds the two to one another.

use super::block::{BLOCK_STEPS, Easy, StepBlock, TERMS, Work};
use super::cycle_run::CycleRun;
use super::drive::{Drive, ShiftPolicy, manner, step};
use super::followed::Tolerance;
use super::temperature::{COOL, COOL_BY_TORQUE, Heat, HeatStep};
use crate::cancel::Cancel;
use crate::powertrain::{Chain, GearPath};
use crate::trip::Trace;

/// Catalan numbers: `I = P/V sum C_n (R P / V^2)^n` is the smaller root of `P = I (V - I R)`.
const CATALAN: [f64; TERMS] = [1.0, 1.0, 2.0, 5.0, 14.0, 42.0, 132.0, 429.0];
/// Greatest `4 R P / V^2` for the series: the first term left out is then below 5e-6 of the current.
const SERIES_REACH: f64 = 0.35;

/// The demands of one trip on one chain.
#[derive(Debug, Clone)]
pub struct Demands<'a> {
    chain: &'a Chain,
    trace: &'a Trace,
    manner: Drive<'a>,
    steps: Vec<Easy>,
    blocks: Vec<StepBlock>,
    /// Whether heat may hold the torque back when the trip is made over and over.
    may_get_hot: bool,
    /// Share of the rise of motor and controller at the start that is left after one passage.
    left: (f64, f64),
    tolerance: Tolerance,
    /// What each step does to the rise of motor and controller: where it tends to, and how far it gets.
    heats: Vec<HeatStep>,
    cancel: Cancel,
}

impl<'a> Demands<'a> {
    /// Demands of a trip between two states of charge. Once `cancel` is told to stop, what is driven from them is cut short and means
    /// nothing; whoever holds the token says so.
    #[must_use]
    pub fn of(chain: &'a Chain, trace: &'a Trace, way: ShiftPolicy, (soc_from, soc_to): (f64, f64), cancel: &Cancel) -> Self {
        let manner = manner(chain, way, 1);
        let aux_w = chain.low_voltage_w + way.hvac_w;
        let work = Work {
            chain,
            manner,
            costs: chain.gear_costs(manner.gears),
            high: chain.supply(soc_from, aux_w),
            low: chain.supply(soc_to, aux_w),
            aux_w,
        };
        let count = trace.points.len().saturating_sub(1);
        let mut steps = Vec::with_capacity(count);
        let mut blocks: Vec<StepBlock> = Vec::with_capacity(count / BLOCK_STEPS * 2 + 8);
        let mut heats = Vec::with_capacity(count);
        let mut heat = Heat::new(chain);
        let mut way_m = 0.0;
        for (i, pair) in trace.points.windows(2).enumerate() {
            let (easy, effort, gear) = work.step(pair[0], pair[1]);
            let dt = pair[1].time_s - pair[0].time_s;
            // A demand beyond the motor warms it no more than the motor's own greatest torque.
            let most_nm = chain.motor.greatest_nm();
            let torque_nm = effort.map_or(0.0, |e| e.torque_nm.clamp(-most_nm, most_nm));
            let heat_step = heat.step(torque_nm, effort.map_or(0.0, |e| e.bus_w) / work.high.ocv_v, dt);
            let is_easy = easy.least_v.is_finite();
            if blocks.last().is_none_or(|s| s.easy != is_easy || s.steps.1 - s.steps.0 >= BLOCK_STEPS) {
                blocks.push(StepBlock::at(i, is_easy));
            }
            if let Some(block) = blocks.last_mut() {
                block.add(chain, easy, pair[0], pair[1], effort.zip(gear), way.hvac_w);
                block.warm(heat_step);
                way_m += 0.5 * (pair[0].speed_m_s + pair[1].speed_m_s) * dt;
                block.until_m = way_m;
            }
            steps.push(easy);
            heats.push(heat_step);
        }
        let may_get_hot = heat.may_limit(heat.settled());
        Self {
            chain,
            trace,
            manner,
            steps,
            blocks,
            may_get_hot,
            left: heat.left,
            tolerance: Tolerance::of(trace),
            heats,
            cancel: cancel.clone(),
        }
    }

    /// One whole passage from rest at a state of charge, with motor and controller at some rise.
    #[must_use]
    pub fn passage(&self, soc: f64, rise: (f64, f64)) -> CycleRun {
        self.drive(soc, f64::NEG_INFINITY, rise, false)
    }

    /// As [`Self::passage`], ended where `soc_end` is reached or the trip is no longer followed.
    #[must_use]
    pub(super) fn passage_within(&self, soc: f64, soc_end: f64, rise: (f64, f64)) -> CycleRun {
        self.drive(soc, soc_end, rise, true)
    }

    /// As [`Self::passage`], ended where the trip is no longer followed.
    #[must_use]
    pub(crate) fn passage_while_followed(&self, soc: f64) -> CycleRun {
        self.drive(soc, f64::NEG_INFINITY, (0.0, 0.0), true)
    }

    fn drive(&self, soc: f64, soc_end: f64, rise: (f64, f64), give_up: bool) -> CycleRun {
        let mut state = CycleRun::at_rest(soc);
        (state.motor_rise, state.controller_rise) = rise;
        (state.motor_highest_rise, state.controller_highest_rise) = rise;
        for block in &self.blocks {
            let easy = block.easy && (!self.may_get_hot || self.stays_cool(block, &state));
            let strode = easy && (self.block(block, &mut state, soc_end) || self.pace(block, &mut state, soc_end));
            let in_window = state.soc > self.chain.pack.soc_min;
            if !strode && self.walk(block, &mut state, soc_end) {
                break;
            }
            state.behind |= in_window && self.tolerance.is_exceeded(state.off_trace_s, block.until_m - state.distance_m);
            if state.behind && give_up || self.cancel.is_cancelled() {
                break;
            }
        }
        // A pack that gives out on the way has not followed either.
        state.behind |= state.exhausted;
        state
    }

    /// Whether heat holds nothing back within a block.
    fn stays_cool(&self, block: &StepBlock, state: &CycleRun) -> bool {
        let controller = if self.chain.controller_heats_by_torque { COOL_BY_TORQUE } else { COOL };
        state.motor_rise + block.highest_rise.0 <= COOL_BY_TORQUE * self.chain.motor_heat.limit
            && state.controller_rise + block.highest_rise.1 <= controller * self.chain.controller_heat.limit
    }

    /// Takes a whole block; false, with nothing changed, when a limit may be met or the window may end in it.
    #[inline]
    fn block(&self, block: &StepBlock, state: &mut CycleRun, soc_end: f64) -> bool {
        let (chain, pack) = (self.chain, &self.chain.pack);
        let points = &self.trace.points;
        if pack.has_peukert() || (state.speed_m_s - points[block.steps.0].speed_m_s).abs() > 1e-9 {
            return false;
        }
        let r = pack.resistance_ohm;
        let charge_at = |soc: f64| {
            let ocv_v = pack.ocv_v(soc);
            let y = r / (ocv_v * ocv_v);
            let mut sum = 0.0;
            for n in (0..TERMS).rev() {
                sum = sum * y + CATALAN[n] * block.moments[n];
            }
            (sum / ocv_v, ocv_v)
        };
        // Half of the charge a first look gives puts the open-circuit voltage in the middle of the block.
        let middle_soc = state.soc - 0.5 * block.moments[0] * pack.per_a_s / pack.ocv_v(state.soc);
        let (charge_a_s, ocv_v) = charge_at(middle_soc);
        let end_soc = state.soc - charge_a_s * pack.per_a_s;
        let room = ocv_v * ocv_v - 4.0 * r * block.greatest_w;
        let lowest_v = 0.5 * (ocv_v + room.max(0.0).sqrt());
        let reach = 4.0 * r * block.greatest_w.max(-block.least_w) / (ocv_v * ocv_v);
        let most_a = block.greatest_w / lowest_v;
        let holds = reach <= SERIES_REACH
            && end_soc > soc_end
            && (block.greatest_w <= 0.0 || lowest_v >= block.least_v && chain.has_room(lowest_v, ocv_v) && most_a <= chain.easy_amps());
        if !holds {
            return false;
        }
        state.soc = end_soc;
        state.peak_current_a = state.peak_current_a.max(most_a);
        state.lowest_v = state.lowest_v.min(lowest_v);
        let square_a2_s = if r > 0.0 { (ocv_v * charge_a_s - block.moments[0]) / r } else { block.moments[1] / (ocv_v * ocv_v) };
        self.arrive(block, state, square_a2_s);
        true
    }

    /// As [`Self::block`] with the charge counted second by second, for cells whose charge is no power series of the power.
    fn pace(&self, block: &StepBlock, state: &mut CycleRun, soc_end: f64) -> bool {
        let (chain, pack) = (self.chain, &self.chain.pack);
        let points = &self.trace.points;
        if !pack.has_peukert() || (state.speed_m_s - points[block.steps.0].speed_m_s).abs() > 1e-9 {
            return false;
        }
        let four_r = 4.0 * pack.resistance_ohm;
        let (mut soc, mut square, mut peak, mut lowest) = (state.soc, 0.0, state.peak_current_a, state.lowest_v);
        for i in block.steps.0..block.steps.1 {
            let Easy { power_w, least_v } = self.steps[i];
            let ocv_v = pack.ocv_v(soc);
            let root = ocv_v * ocv_v - four_r * power_w;
            let volts_v = 0.5 * (ocv_v + root.max(0.0).sqrt());
            let current_a = power_w / volts_v;
            let holds = power_w <= 0.0
                || root > 0.0 && (least_v == 0.0 || volts_v >= least_v && chain.has_room(volts_v, ocv_v) && current_a <= chain.easy_amps());
            let dt = points[i + 1].time_s - points[i].time_s;
            soc -= pack.counted_a(current_a) * dt * pack.per_a_s;
            if !holds || soc <= soc_end {
                return false;
            }
            square += current_a * current_a * dt;
            peak = current_a.max(peak);
            lowest = volts_v.min(lowest);
        }
        (state.soc, state.peak_current_a, state.lowest_v) = (soc, peak, lowest);
        self.arrive(block, state, square);
        true
    }

    /// Everything of a block that does not depend on the way its charge was counted.
    #[inline]
    fn arrive(&self, block: &StepBlock, state: &mut CycleRun, square_a2_s: f64) {
        state.speed_m_s = self.trace.points[block.steps.1].speed_m_s;
        state.distance_m += block.distance_m;
        state.time_s += block.duration_s;
        state.split.add(&block.split);
        state.split.battery_j += block.moments[0];
        state.split.recovered_j += block.fed_back_j;
        state.split.pack_j += square_a2_s * self.chain.pack.resistance_ohm;
        state.current_squared_a2_s += square_a2_s;
        self.remember_hottest(block, state);
        state.motor_rise = state.motor_rise * block.left.0 + block.warmed.0;
        state.controller_rise = state.controller_rise * block.left.1 + block.warmed.1;
    }

    /// Keeps the highest rise within a block; looked at step by step only where it may be a new one.
    #[inline]
    fn remember_hottest(&self, block: &StepBlock, state: &mut CycleRun) {
        if state.motor_rise + block.highest_rise.0 <= state.motor_highest_rise
            && state.controller_rise + block.highest_rise.1 <= state.controller_highest_rise
        {
            return;
        }
        let (mut motor, mut controller) = (state.motor_rise, state.controller_rise);
        for (targets, gains) in &self.heats[block.steps.0..block.steps.1] {
            motor += (targets.0 - motor) * gains.0;
            controller += (targets.1 - controller) * gains.1;
            state.motor_highest_rise = state.motor_highest_rise.max(motor);
            state.controller_highest_rise = state.controller_highest_rise.max(controller);
        }
    }

    /// Takes a block step by step; true when the passage is over.
    fn walk(&self, block: &StepBlock, state: &mut CycleRun, soc_end: f64) -> bool {
        for i in block.steps.0..block.steps.1 {
            let before = (state.soc, state.distance_m, state.split.battery_j);
            step(self.chain, &self.manner, state, self.trace.points[i], self.trace.points[i + 1]);
            if state.exhausted || state.end_at(soc_end, before) {
                return true;
            }
        }
        false
    }

    /// Whether heat may hold the torque back somewhere when the trip is made over and over.
    #[must_use]
    pub(super) fn may_get_hot(&self) -> bool {
        self.may_get_hot
    }

    /// Whether motor and controller, as warm as `before` at the start of a passage and `after` at its end, are as warm as they get by
    /// making it over and over: a passage takes a rise `w` to `a w + b`, which comes to rest at `w*` with
    /// `w' - w* = a (w' - w) / (1 - a)`.
    #[must_use]
    pub(super) fn has_settled(&self, before: (f64, f64), after: (f64, f64)) -> bool {
        const NEAR: f64 = 1e-3;
        let rest = |w: f64, end: f64, left: f64, limit: f64| left * (end - w).abs() <= NEAR * limit * (1.0 - left);
        rest(before.0, after.0, self.left.0, self.chain.motor_heat.limit)
            && rest(before.1, after.1, self.left.1, self.chain.controller_heat.limit)
    }

    /// Whether whatever it is worked out for has been told to stop.
    #[must_use]
    pub(super) fn is_cancelled(&self) -> bool {
        self.cancel.is_cancelled()
    }

    /// The chain it was worked out for.
    #[must_use]
    pub(super) fn chain(&self) -> &'a Chain {
        self.chain
    }

    /// The trace it was worked out for.
    #[must_use]
    pub(super) fn trace(&self) -> &'a Trace {
        self.trace
    }

    /// Gears allowed.
    #[must_use]
    pub(super) fn gears(&self) -> &'a [GearPath] {
        self.manner.gears
    }

    /// Power drawn beside the drive, W.
    #[must_use]
    pub(super) fn aux_w(&self) -> f64 {
        self.chain.low_voltage_w + self.manner.hvac_w
    }
}
