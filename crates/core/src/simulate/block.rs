//! Runs of steps that are easy at any charge, kept as sums, and how each step is told to be easy.

use super::cycle_run::Split;
use super::drive::Drive;
use super::temperature::HeatStep;
use crate::powertrain::{Chain, GearCost, GearPath, MotorPoint, Supply};
use crate::trip::Point;

/// Most steps of a block: short enough that the open-circuit voltage hardly moves within.
pub(super) const BLOCK_STEPS: usize = 16;
/// Terms of the series of the current.
pub(super) const TERMS: usize = 8;

/// One step that is easy at any charge, as long as the voltage holds.
#[derive(Debug, Clone, Copy)]
pub(super) struct Easy {
    /// At the terminals, W.
    pub(super) power_w: f64,
    /// Below this voltage at the terminals it may meet a limit; infinite when it always may.
    pub(super) least_v: f64,
}

/// A run of easy steps, or of others.
#[derive(Debug, Clone)]
pub(super) struct StepBlock {
    /// First step and the one after the last.
    pub(super) steps: (usize, usize),
    /// Whether all of them are easy.
    pub(super) easy: bool,
    pub(super) duration_s: f64,
    pub(super) distance_m: f64,
    /// Way of the trace up to its end, m.
    pub(super) until_m: f64,
    /// `sum P^(n+1) dt`.
    pub(super) moments: [f64; TERMS],
    pub(super) greatest_w: f64,
    pub(super) least_w: f64,
    /// Voltage above which all stay easy.
    pub(super) least_v: f64,
    pub(super) fed_back_j: f64,
    /// What does not depend on the pack.
    pub(super) split: Split,
    /// Temperature rise of motor and controller at its end from none at its start.
    pub(super) warmed: (f64, f64),
    /// Highest rise within it from none at its start.
    pub(super) highest_rise: (f64, f64),
    /// Share of the rise at its start that is left at its end.
    pub(super) left: (f64, f64),
}

impl StepBlock {
    pub(super) fn at(step: usize, easy: bool) -> Self {
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
    pub(super) fn warm(&mut self, (targets, gains): HeatStep) {
        self.warmed.0 += (targets.0 - self.warmed.0) * gains.0;
        self.warmed.1 += (targets.1 - self.warmed.1) * gains.1;
        self.highest_rise = (self.highest_rise.0.max(self.warmed.0), self.highest_rise.1.max(self.warmed.1));
        self.left.0 *= 1.0 - gains.0;
        self.left.1 *= 1.0 - gains.1;
    }

    #[inline]
    pub(super) fn add(&mut self, chain: &Chain, easy: Easy, from: Point, to: Point, effort: Option<(MotorPoint, &GearPath)>, hvac_w: f64) {
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
pub(super) struct Work<'a> {
    pub(super) chain: &'a Chain,
    pub(super) manner: Drive<'a>,
    pub(super) costs: Vec<GearCost>,
    pub(super) high: Supply,
    pub(super) low: Supply,
    pub(super) aux_w: f64,
}

impl<'a> Work<'a> {
    #[inline]
    pub(super) fn step(&self, from: Point, to: Point) -> (Easy, Option<MotorPoint>, Option<&'a GearPath>) {
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
