//! What a trip asks of the pack, worked out once and then drawn from any state of charge.
//!
//! Where no limit is near, neither the gear nor the power a second takes depends on the charge left. Runs of such seconds are
//! kept as sums of powers of the power; a passage then follows the pack in blocks instead of seconds. The rest is driven in
//! full. A test holds the two to one another.

use super::drive::{CycleRun, Drive, ShiftPolicy, Split, manner, step};
use super::followed::Tolerance;
use crate::cancel::Cancel;
use crate::powertrain::{Chain, GearCost, GearPath, MotorPoint, Supply};
use crate::trip::{Point, Trace};

/// Most steps of a block: short enough that the open-circuit voltage hardly moves within.
const BLOCK_STEPS: usize = 16;
/// Terms of the series of the current.
const TERMS: usize = 8;
/// Catalan numbers: `I = P/V sum C_n (R P / V^2)^n` is the smaller root of `P = I (V - I R)`.
const CATALAN: [f64; TERMS] = [1.0, 1.0, 2.0, 5.0, 14.0, 42.0, 132.0, 429.0];
/// Greatest `4 R P / V^2` for the series: the first term left out is then below 5e-6 of the current.
const SERIES_REACH: f64 = 0.35;

/// One step that is easy at any charge, as long as the voltage holds.
#[derive(Debug, Clone, Copy)]
struct Easy {
    /// At the terminals, W.
    power_w: f64,
    /// Below this voltage at the terminals it may meet a limit; infinite when it always may.
    least_v: f64,
}

/// A run of easy steps, or of others.
#[derive(Debug, Clone)]
struct StepBlock {
    /// First step and the one after the last.
    steps: (usize, usize),
    /// Whether all of them are easy.
    easy: bool,
    duration_s: f64,
    distance_m: f64,
    /// ShiftPolicy of the trace up to its end, m.
    until_m: f64,
    /// `sum P^(n+1) dt`.
    moments: [f64; TERMS],
    greatest_w: f64,
    least_w: f64,
    /// Voltage above which all stay easy.
    least_v: f64,
    fed_back_j: f64,
    /// What does not depend on the pack.
    split: Split,
    /// Temperature rise of motor and controller at its end from none at its start.
    warmed: (f64, f64),
    /// Highest rise within it from none at its start.
    highest_rise: (f64, f64),
    /// Share of the rise at its start that is left at its end.
    left: (f64, f64),
}

/// Share of the highest rise up to which a trip, or a block whose battery amps warm the controller, counts as cool: the rest is for what
/// the sag adds.
const COOL: f64 = 0.9;
/// The same for a block where torque does, which no sag changes while all of it is easy.
const COOL_BY_TORQUE: f64 = 0.999;

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

/// Temperature rise that a step tends to, and the share of the way it goes, of motor and controller.
type HeatStep = ((f64, f64), (f64, f64));

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

impl StepBlock {
    fn at(step: usize, easy: bool) -> Self {
        Self {
            steps: (step, step),
            easy,
            duration_s: 0.0,
            distance_m: 0.0,
            until_m: 0.0,
            moments: [0.0; TERMS],
            greatest_w: f64::NEG_INFINITY,
            least_w: f64::INFINITY,
            least_v: 0.0,
            fed_back_j: 0.0,
            split: Split::default(),
            warmed: (0.0, 0.0),
            highest_rise: (0.0, 0.0),
            left: (1.0, 1.0),
        }
    }

    #[inline]
    fn warm(&mut self, (targets, gains): HeatStep) {
        self.warmed.0 += (targets.0 - self.warmed.0) * gains.0;
        self.warmed.1 += (targets.1 - self.warmed.1) * gains.1;
        self.highest_rise = (self.highest_rise.0.max(self.warmed.0), self.highest_rise.1.max(self.warmed.1));
        self.left.0 *= 1.0 - gains.0;
        self.left.1 *= 1.0 - gains.1;
    }

    #[inline]
    fn add(&mut self, chain: &Chain, easy: Easy, from: Point, to: Point, effort: Option<(MotorPoint, &GearPath)>, hvac_w: f64) {
        self.steps.1 += 1;
        if !self.easy {
            return;
        }
        let dt = to.time_s - from.time_s;
        let v = 0.5 * (from.speed_m_s + to.speed_m_s);
        let p = easy.power_w;
        self.duration_s += dt;
        self.distance_m += v * dt;
        let mut power = dt;
        for moment in &mut self.moments {
            power *= p;
            *moment += power;
        }
        self.greatest_w = self.greatest_w.max(p);
        self.least_w = self.least_w.min(p);
        self.least_v = self.least_v.max(easy.least_v);
        self.fed_back_j -= (p * dt).min(0.0);
        let split = &mut self.split;
        split.low_voltage_j += chain.low_voltage_w * dt;
        split.hvac_j += hvac_w * dt;
        if let Some((e, gear)) = effort {
            let road = &chain.road;
            let way = v * dt;
            let (air_n, rolling_n, climb_n) = (road.air_n(v), road.rolling_n(v, from.cos), road.climb_n(from.sin));
            let kinetic_j = 0.5 * road.mass_kg * gear.rotating_factor * (to.speed_m_s * to.speed_m_s - from.speed_m_s * from.speed_m_s);
            let shaft_w = e.torque_nm * e.speed_rad_s;
            let asked_j = (air_n + rolling_n + climb_n) * way + kinetic_j;
            let wheel_j = e.wheel_n * way;
            split.air_j += air_n * way;
            split.rolling_j += rolling_n * way;
            split.climb_j += climb_n * way;
            split.kinetic_j += kinetic_j;
            split.driveline_j += shaft_w * dt - wheel_j;
            split.motor_j += e.motor_w * dt;
            split.controller_j += (e.bus_w - (shaft_w + e.motor_w)) * dt;
            split.brakes_j += wheel_j - asked_j;
        }
    }
}

/// What every step needs.
struct Work<'a> {
    chain: &'a Chain,
    manner: Drive<'a>,
    costs: Vec<GearCost>,
    high: Supply,
    low: Supply,
    aux_w: f64,
}

impl<'a> Work<'a> {
    #[inline]
    fn step(&self, from: Point, to: Point) -> (Easy, Option<MotorPoint>, Option<&'a GearPath>) {
        let chain = self.chain;
        let v = 0.5 * (from.speed_m_s + to.speed_m_s);
        let hard = Easy { power_w: self.aux_w, least_v: f64::INFINITY };
        if v == 0.0 {
            return (Easy { least_v: 0.0, ..hard }, None, None);
        }
        let accel = (to.speed_m_s - from.speed_m_s) / (to.time_s - from.time_s);
        let resistance_n = chain.road.resistance_n(v, (from.sin, from.cos));
        // The cheapest gear that is not far beyond reach, as the second itself takes it; where all are, the cheapest tells the heat.
        let mut refused = 0u32;
        let mut first = None;
        let (effort, gear, force_n) = loop {
            let Some((i, gear)) = self.cheapest(v, resistance_n, accel, refused) else {
                return first.map_or((hard, None, None), |(e, g)| (hard, Some(e), Some(g)));
            };
            let force_n = resistance_n + chain.road.mass_kg * gear.rotating_factor * accel;
            let Some(effort) = chain.effort(gear, v, force_n, &self.high) else { return (hard, None, None) };
            if !chain.is_beyond(effort.torque_nm, effort.speed_rad_s, self.high.ocv_v) {
                break (effort, gear, force_n);
            }
            first = first.or(Some((effort, gear)));
            refused |= 1 << i;
        };
        if from.speed_m_s.max(to.speed_m_s) * gear.rad_per_m > chain.motor.max_speed_rad_s || force_n > chain.traction.drive_n {
            return (hard, Some(effort), Some(gear));
        }
        // Feeding back may meet the pack's limits at either end of the charge.
        let same_when_low = force_n >= 0.0 || chain.effort(gear, v, force_n, &self.low).is_some_and(|low| low.bus_w == effort.bus_w);
        let least_v = if same_when_low { chain.easy_above_v(&effort) } else { f64::INFINITY };
        (Easy { power_w: effort.bus_w + self.aux_w, least_v }, Some(effort), Some(gear))
    }

    /// The gear that draws the least, whatever the limits, among those not refused (as bits).
    #[inline]
    fn cheapest(&self, v: f64, resistance_n: f64, accel: f64, refused: u32) -> Option<(usize, &'a GearPath)> {
        let gears = self.manner.gears;
        if let [gear] = gears {
            return (refused == 0).then_some((0, gear));
        }
        let open = |i: usize| refused & (1 << i) == 0;
        let mut best: Option<(usize, f64)> = None;
        let mut all_pull = !self.costs.is_empty();
        for (i, cost) in self.costs.iter().enumerate().filter(|(i, _)| open(*i)) {
            match cost.at(v, resistance_n, accel) {
                Some(watts) if watts.is_infinite() => {}
                Some(watts) => {
                    if best.is_none_or(|b| watts < b.1) {
                        best = Some((i, watts));
                    }
                }
                None => {
                    all_pull = false;
                    break;
                }
            }
        }
        if all_pull {
            return best.map(|b| (b.0, &gears[b.0]));
        }
        best = None;
        for (i, gear) in gears.iter().enumerate().filter(|(i, _)| open(*i)) {
            let force_n = resistance_n + self.chain.road.mass_kg * gear.rotating_factor * accel;
            if let Some(watts) = self.chain.bus_power_w(gear, v, force_n, &self.high)
                && best.is_none_or(|b| watts < b.1)
            {
                best = Some((i, watts));
            }
        }
        best.map(|b| (b.0, &gears[b.0]))
    }
}

/// Temperature rise over a passage, from cold, and what a warm start would leave of itself.
struct Heat<'a> {
    chain: &'a Chain,
    motor: f64,
    controller: f64,
    /// Share of the rise at the start that is left now.
    left: (f64, f64),
    /// Highest of rise from cold, with the share of a warm start left then.
    highest: [(f64, f64); 2],
    /// Gains of a one-second step, which nearly all are.
    gains: (f64, f64),
}

impl<'a> Heat<'a> {
    fn new(chain: &'a Chain) -> Self {
        let gains = (chain.motor_heat.gain(1.0), chain.controller_heat.gain(1.0));
        Self { chain, motor: 0.0, controller: 0.0, left: (1.0, 1.0), highest: [(0.0, 1.0); 2], gains }
    }

    #[inline]
    fn step(&mut self, torque_nm: f64, bus_a: f64, dt: f64) -> HeatStep {
        let (motor, controller) = (&self.chain.motor_heat, &self.chain.controller_heat);
        let gains = if dt == 1.0 { self.gains } else { (motor.gain(dt), controller.gain(dt)) };
        let controller_load = if self.chain.controller_heats_by_torque { torque_nm } else { bus_a };
        let targets = (motor.target(torque_nm), controller.target(controller_load));
        self.motor += (targets.0 - self.motor) * gains.0;
        self.controller += (targets.1 - self.controller) * gains.1;
        self.left.0 *= 1.0 - gains.0;
        self.left.1 *= 1.0 - gains.1;
        if self.motor > self.highest[0].0 {
            self.highest[0] = (self.motor, self.left.0);
        }
        if self.controller > self.highest[1].0 {
            self.highest[1] = (self.controller, self.left.1);
        }
        (targets, gains)
    }

    /// Temperature rise at the start that comes out again at the end: `x = end + left x`.
    fn settled(&self) -> (f64, f64) {
        let x = |end: f64, left: f64, limit: f64| (end / (1.0 - left).max(1e-6)).min(limit);
        (x(self.motor, self.left.0, self.chain.motor_heat.limit), x(self.controller, self.left.1, self.chain.controller_heat.limit))
    }

    /// Whether a start at some rise may reach a limit; with a tenth to spare, for what the sag adds.
    fn may_limit(&self, (motor, controller): (f64, f64)) -> bool {
        let reaches = |(high, left): (f64, f64), start: f64, limit: f64| (high + left * start).max(start) > COOL * limit;
        reaches(self.highest[0], motor, self.chain.motor_heat.limit)
            || reaches(self.highest[1], controller, self.chain.controller_heat.limit)
    }
}
