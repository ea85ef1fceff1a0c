//! What a trip asks of the pack, worked out once and then drawn from any state of charge.
//!
//! Where no limit is near, neither the gear nor the power a second takes depends on the charge left. Runs of such seconds are
//! kept as sums of powers of the power; a run then follows the pack in blocks instead of seconds. The rest is driven in
//! full. A test holds the two to one another.

use super::asked::{Asked, Asker, Ease, StepDemand};
use super::cycle_run::CycleRun;
use super::driver::{Driver, ShiftPolicy};
use super::followed::Tolerance;
use super::full_force::Best;
use super::lanes::{LANES, Lanes, SideBySide};
use super::split::{Motion, Moving};
use super::step_block::{BLOCK_STEPS, StepBlock, TERMS};
use super::temperature::{Heat, cool_share};
use crate::cancel::Cancel;
use crate::powertrain::{Chain, GearPath, HeatStep, Rating, Rise};
use crate::quantity::units::STANDARD_GRAVITY_M_S2;
use crate::trip::Trace;

/// Catalan numbers: `I = P/V sum C_n (R P / V^2)^n` is the smaller root of `P = I (V - I R)`.
const CATALAN: [f64; TERMS] = [1.0, 1.0, 2.0, 5.0, 14.0, 42.0, 132.0, 429.0];
/// Greatest `4 R P / V^2` for the series: the first term left out is then below 5e-6 of the current.
const SERIES_REACH: f64 = 0.35;

/// Where no more is asked of a run.
#[derive(Debug, Clone, Copy)]
struct GivesUp {
    /// Where the trip is no longer followed.
    behind: bool,
    /// Where heat holds the torque back within the window.
    hot: bool,
}

/// The demands of one trip on one chain.
#[derive(Debug, Clone)]
pub struct Demands<'a> {
    driver: Driver<'a>,
    trace: &'a Trace,
    steps: Vec<StepDemand>,
    blocks: Vec<StepBlock>,
    /// Whether heat may hold the torque back when the trip is made over and over.
    may_get_hot: bool,
    /// Share of a rise at the start that is left after one run.
    left: Rise,
    tolerance: Tolerance,
    /// What each step does to the rise of motor and controller.
    heats: Vec<HeatStep>,
    gives_up_hot: bool,
    cancel: Cancel,
}

impl<'a> Demands<'a> {
    /// Demands of a trip between two states of charge. Once `cancel` is told to stop, what is driven from them is cut short and means
    /// nothing; whoever holds the token says so.
    #[must_use]
    pub fn of(chain: &'a Chain, trace: &'a Trace, policy: ShiftPolicy, window: (f64, f64), cancel: &Cancel) -> Self {
        let driver = Driver::of(chain, policy, 1);
        let count = trace.points.len().saturating_sub(1);
        let mut steps: Vec<StepDemand> = Vec::with_capacity(count);
        let mut heats: Vec<HeatStep> = Vec::with_capacity(count);
        let mut blocks: Vec<StepBlock> = Vec::with_capacity(count / BLOCK_STEPS * 2 + 8);
        let mut heat = Heat::new(chain);
        let mut block = StepBlock::at(0, Ease::Easy, 0.0);
        let mut close = |block: &mut StepBlock, steps: &[StepDemand]| {
            block.close(&driver, &steps[block.steps.0..]);
            heat.add(block);
            blocks.push(block.clone());
        };
        let asker = Asker::of(&driver, window);
        let lanes = Lanes::of(asker);
        let mut motions = trace.points.windows(2).map(|pair| Motion::between(pair[0], pair[1])).enumerate().peekable();
        let mut told = SideBySide::none();
        let (mut firsts, mut runs) = (Vec::with_capacity(LANES), Vec::with_capacity(LANES));
        while motions.peek().is_some() {
            firsts.clear();
            runs.clear();
            // On a stretch of even speed one second asks what the one before did.
            while firsts.len() < LANES
                && let Some((start, first)) = motions.next()
            {
                let mut end = start + 1;
                while motions.next_if(|(_, next)| first.is_like(next)).is_some() {
                    end += 1;
                }
                firsts.push(first);
                runs.push(start..end);
            }
            lanes.ask(&firsts, &mut told);
            for (k, (run, first)) in runs.iter().cloned().zip(&firsts).enumerate() {
                let Asked { road, step, taken, warming } = lanes.asked(first, k, &told);
                let ease = asker.ease(&step);
                for i in run {
                    if block.ease != ease || block.count() == BLOCK_STEPS {
                        if block.count() > 0 {
                            close(&mut block, &steps);
                        }
                        block = StepBlock::at(i, ease, block.until_m);
                    }
                    let motion = Motion::between(trace.points[i], trace.points[i + 1]);
                    block.add(&motion, &warming);
                    if let Some((gear, point)) = taken {
                        block.account.book(chain.road.mass_kg, &motion, &Moving { gear, point, road });
                    }
                    steps.push(step);
                    heats.push(warming);
                }
            }
        }
        if block.count() > 0 {
            close(&mut block, &steps);
        }
        let (may_get_hot, left) = (heat.may_limit(), heat.left());
        Self {
            trace,
            steps,
            blocks,
            may_get_hot,
            left,
            tolerance: Tolerance::of(trace),
            heats,
            gives_up_hot: false,
            cancel: cancel.clone(),
            driver,
        }
    }

    /// The same for one who asks no more once heat has held the torque back: what is driven ends there.
    #[must_use]
    pub(crate) fn giving_up_hot(self, gives_up: bool) -> Self {
        Self { gives_up_hot: gives_up, ..self }
    }

    /// One whole run from rest at a state of charge, with motor and controller at some rise.
    #[must_use]
    pub fn run(&self, soc: f64, rise: Rise) -> CycleRun {
        self.drive(soc, f64::NEG_INFINITY, rise, GivesUp { behind: false, hot: false })
    }

    /// As [`Self::run`], ended where `soc_end` is reached or the trip is no longer followed.
    #[must_use]
    pub(crate) fn run_within(&self, soc: f64, soc_end: f64, rise: Rise) -> CycleRun {
        self.drive(soc, soc_end, rise, GivesUp { behind: true, hot: self.gives_up_hot })
    }

    /// As [`Self::run_within`], however hot it gets.
    #[must_use]
    pub(super) fn run_within_hot(&self, soc: f64, soc_end: f64, rise: Rise) -> CycleRun {
        self.drive(soc, soc_end, rise, GivesUp { behind: true, hot: false })
    }

    /// As [`Self::run`], ended where the trip is no longer followed.
    #[must_use]
    pub(crate) fn run_while_followed(&self, soc: f64) -> CycleRun {
        self.drive(soc, f64::NEG_INFINITY, Rise::default(), GivesUp { behind: true, hot: self.gives_up_hot })
    }

    fn drive(&self, soc: f64, soc_end: f64, rise: Rise, gives_up: GivesUp) -> CycleRun {
        let mut state = CycleRun::at_rest(soc, rise);
        let is_left = |state: &CycleRun| state.soc > self.chain().pack.soc_min;
        let mut was_left = true;
        for block in &self.blocks {
            let easy = block.ease != Ease::Hard && (!self.may_get_hot || self.stays_cool(block, &state));
            let strode = easy && (self.block(block, &mut state, soc_end) || self.pace(block, &mut state, soc_end));
            let in_window = is_left(&state);
            if !strode && self.walk(block, &mut state, soc_end) {
                break;
            }
            state.behind |= in_window && self.tolerance.is_exceeded(state.off_trace_s, block.until_m - state.distance_m);
            // Heat after the window is spent is none of the range.
            was_left &= in_window && is_left(&state);
            state.cut_short = gives_up.hot && was_left && state.derated_s > 0.0;
            if state.behind && gives_up.behind || state.cut_short || self.cancel.is_cancelled() {
                break;
            }
        }
        // A pack that gives out on the way has not followed either.
        state.behind |= state.exhausted;
        state
    }

    /// Whether heat holds nothing back within a block.
    fn stays_cool(&self, block: &StepBlock, state: &CycleRun) -> bool {
        !self.chain().is_hotter_than(cool_share(self.chain()), state.rise.plus(block.highest_rise))
    }

    /// Takes a whole block; false, with nothing changed, when a limit may be met or the window may end in it.
    #[inline]
    fn block(&self, block: &StepBlock, state: &mut CycleRun, soc_end: f64) -> bool {
        let (chain, pack) = (self.chain(), &self.chain().pack);
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
        state.delivered_a_s += charge_a_s;
        if let Some(terminals) = pack.under(ocv_v, block.peak_w) {
            state.peaks_at(terminals);
        }
        let square_a2_s = if r > 0.0 { (ocv_v * charge_a_s - block.moments[0]) / r } else { block.moments[1] / (ocv_v * ocv_v) };
        self.arrive(block, state, square_a2_s);
        true
    }

    /// As [`Self::block`] with the charge counted second by second, for cells whose charge is no power series of the power.
    fn pace(&self, block: &StepBlock, state: &mut CycleRun, soc_end: f64) -> bool {
        let (chain, pack) = (self.chain(), &self.chain().pack);
        let points = &self.trace.points;
        if !pack.has_peukert() || (state.speed_m_s - points[block.steps.0].speed_m_s).abs() > 1e-9 {
            return false;
        }
        let four_r = 4.0 * pack.resistance_ohm;
        let (mut soc, mut square, mut peak, mut lowest) = (state.soc, 0.0, state.peak_current_a, state.lowest_v);
        let mut delivered = state.delivered_a_s;
        for i in block.steps.0..block.steps.1 {
            let StepDemand { power_w, peak_w, least_v } = self.steps[i];
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
            delivered += current_a * dt;
            if let Some(instant) = pack.under(ocv_v, peak_w) {
                (peak, lowest) = (instant.current_a.max(peak), instant.volts_v.min(lowest));
            }
        }
        (state.soc, state.peak_current_a, state.lowest_v, state.delivered_a_s) = (soc, peak, lowest, delivered);
        self.arrive(block, state, square);
        true
    }

    /// Everything of a block that does not depend on the way its charge was counted.
    #[inline]
    fn arrive(&self, block: &StepBlock, state: &mut CycleRun, square_a2_s: f64) {
        state.speed_m_s = self.trace.points[block.steps.1].speed_m_s;
        state.distance_m += block.distance_m;
        state.time_s += block.duration_s;
        state.account.add(&block.account);
        state.account.pack_j += square_a2_s * self.chain().pack.resistance_ohm;
        state.current_squared_a2_s += square_a2_s;
        // The highest rise within a block is looked for step by step only where it may be a new one.
        let highest = state.rise.plus(block.highest_rise);
        if highest.motor > state.highest_rise.motor || highest.controller > state.highest_rise.controller {
            let mut now = state.rise;
            for step in &self.heats[block.steps.0..block.steps.1] {
                now = step.after(now);
                state.highest_rise = state.highest_rise.max(now);
            }
        }
        state.rise = state.rise.times(block.left).plus(block.warmed);
    }

    /// Takes a block step by step; true when the run is over.
    fn walk(&self, block: &StepBlock, state: &mut CycleRun, soc_end: f64) -> bool {
        for i in block.steps.0..block.steps.1 {
            let before = (state.soc, state.distance_m, state.account.battery_j);
            self.driver.step(state, self.trace.points[i], self.trace.points[i + 1]);
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

    /// Whether motor and controller, at a rise `before` a run and `after` it, are as warm as they get by making it over and over: a run
    /// takes a rise `w` to `a w + b`, which comes to rest at `w*` with `w' - w* = a (w' - w) / (1 - a)`.
    #[must_use]
    pub(super) fn has_settled(&self, before: Rise, after: Rise) -> bool {
        const NEAR: f64 = 1e-3;
        let rest = |w: f64, end: f64, left: f64, limit: f64| left * (end - w).abs() <= NEAR * limit * (1.0 - left);
        rest(before.motor, after.motor, self.left.motor, self.chain().motor_heat.limit)
            && rest(before.controller, after.controller, self.left.controller, self.chain().controller_heat.limit)
    }

    /// Whether whatever it is worked out for has been told to stop.
    #[must_use]
    pub(super) fn is_cancelled(&self) -> bool {
        self.cancel.is_cancelled()
    }

    /// Whether more mass could only make the chain slower wherever it is behind on the trip, at any charge within its window: where the greatest
    /// pull is more than what does not grow with the mass, air and the drag of the axle that is not driven, and than what a descent adds by
    /// the mass to turning parts that stay as they are. Of two that are as fast, the heavier then gains speed more slowly, uphill and downhill.
    #[must_use]
    pub(crate) fn mass_only_slows(&self) -> bool {
        const SPEEDS: u32 = 8;
        const ROOM: f64 = 1.02;
        let chain = self.chain();
        let fastest_m_s = self.trace.points.iter().map(|p| p.speed_m_s).fold(0.0, f64::max);
        let steepest = self.trace.points.iter().map(|p| -p.sin).fold(0.0, f64::max);
        let turning = self.gears().iter().map(|g| g.rotating_factor - 1.0).fold(0.0, f64::max);
        let on_descents_n = chain.road.mass_kg * turning * STANDARD_GRAVITY_M_S2 * steepest;
        let limits = chain.limits(chain.pack.soc_min, self.aux_w(), Rating::Peak);
        (1..=SPEEDS).map(|i| fastest_m_s * f64::from(i) / f64::from(SPEEDS)).all(|v| {
            let other_n = chain.road.air_n(v).max(0.0) + chain.road.undriven_axle_drag_n + on_descents_n;
            Best::among(chain, self.gears(), v, &limits).force_n >= ROOM * other_n
        })
    }

    /// The chain it was worked out for.
    #[must_use]
    pub(super) fn chain(&self) -> &'a Chain {
        self.driver.chain
    }

    /// The trace it was worked out for.
    #[must_use]
    pub(super) fn trace(&self) -> &'a Trace {
        self.trace
    }

    /// Gears allowed.
    #[must_use]
    pub(super) fn gears(&self) -> &'a [GearPath] {
        self.driver.choice.gears
    }

    /// Power drawn beside the drive, W.
    #[must_use]
    pub(super) fn aux_w(&self) -> f64 {
        self.driver.aux_w
    }
}
