//! Runs of steps that are easy at any charge, kept as sums, and how each step is told to be easy.

use super::driver::Driver;
use super::split::{Account, Motion};
use crate::powertrain::{GearPath, HeatStep, MotorPoint, Rise, Supply};
use crate::quantity::larger;

/// Most steps of a block: short enough that the open-circuit voltage hardly moves within.
pub(super) const BLOCK_STEPS: usize = 16;
/// Terms of the series of the current.
pub(super) const TERMS: usize = 8;

/// What one step asks of the pack, at any charge as long as the voltage holds.
#[derive(Debug, Clone, Copy)]
pub(super) struct StepDemand {
    /// At the terminals, W.
    pub(super) power_w: f64,
    /// Most of it in any instant of the step, W.
    pub(super) peak_w: f64,
    /// Below this voltage at the terminals it may meet a limit; infinite when it always may.
    pub(super) least_v: f64,
}

impl StepDemand {
    /// Whether no limit is near as long as the voltage holds.
    #[inline]
    pub(super) fn is_easy(&self) -> bool {
        self.least_v < f64::INFINITY
    }
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
    /// Seconds of each step.
    seconds: [f64; BLOCK_STEPS],
    /// `sum P^(n+1) dt`.
    pub(super) moments: [f64; TERMS],
    pub(super) greatest_w: f64,
    pub(super) least_w: f64,
    /// Greatest in any instant, W.
    pub(super) peak_w: f64,
    /// Voltage above which all stay easy.
    pub(super) least_v: f64,
    /// All but what the pack itself loses.
    pub(super) account: Account,
    /// Temperature rise at its end from none at its start.
    pub(super) warmed: Rise,
    /// Highest rise within it from none at its start.
    pub(super) highest_rise: Rise,
    /// Share of the rise at its start that is left at its end.
    pub(super) left: Rise,
}

impl StepBlock {
    /// An empty block from a step on, so far along the trace.
    pub(super) fn at(step: usize, easy: bool, until_m: f64) -> Self {
        Self {
            steps: (step, step),
            easy,
            duration_s: 0.0,
            distance_m: 0.0,
            until_m,
            seconds: [0.0; BLOCK_STEPS],
            moments: [0.0; TERMS],
            greatest_w: f64::NEG_INFINITY,
            least_w: f64::INFINITY,
            peak_w: f64::NEG_INFINITY,
            least_v: 0.0,
            account: Account::default(),
            warmed: Rise::default(),
            highest_rise: Rise::default(),
            left: Rise::WHOLE,
        }
    }

    /// Steps in it.
    #[inline]
    pub(super) fn count(&self) -> usize {
        self.steps.1 - self.steps.0
    }

    /// Adds one more step's way and warmth; what it asks of the pack is left to [`Self::close`].
    #[inline(always)]
    pub(super) fn add(&mut self, motion: &Motion, heat: &HeatStep) {
        self.seconds[self.count()] = motion.dt;
        self.steps.1 += 1;
        self.distance_m += motion.mean_m_s() * motion.dt;
        self.warmed = heat.after(self.warmed);
        self.highest_rise = self.highest_rise.max(self.warmed);
        self.left = heat.left(self.left);
    }

    /// Sums up what its steps, now complete, ask of the pack.
    pub(super) fn close(&mut self, driver: &Driver<'_>, steps: &[StepDemand]) {
        self.until_m += self.distance_m;
        if !self.easy {
            return;
        }
        // Steps that are not there last no time. In lanes: the sums of one power are made side by side.
        let mut power_w = [0.0; BLOCK_STEPS];
        for (lane, step) in power_w.iter_mut().zip(steps) {
            *lane = step.power_w;
            self.greatest_w = larger(self.greatest_w, step.power_w);
            self.peak_w = larger(self.peak_w, step.peak_w);
            self.least_w = -larger(-self.least_w, -step.power_w);
            self.least_v = larger(self.least_v, step.least_v);
        }
        self.duration_s = sum(&self.seconds);
        let times_power = |lanes: &mut [f64; BLOCK_STEPS]| lanes.iter_mut().zip(&power_w).for_each(|(lane, p)| *lane *= p);
        let mut product = self.seconds;
        times_power(&mut product);
        self.account.battery_j = sum(&product);
        self.account.recovered_j = -sum(&product.map(|joule| -larger(-joule, 0.0)));
        self.moments[0] = self.account.battery_j;
        for moment in &mut self.moments[1..] {
            times_power(&mut product);
            *moment = sum(&product);
        }
        self.account.low_voltage_j = driver.chain.low_voltage_w * self.duration_s;
        self.account.hvac_j = driver.hvac_w * self.duration_s;
    }
}

/// Sum of the lanes, in an order that leaves room for doing several at once.
#[inline]
fn sum(lanes: &[f64; BLOCK_STEPS]) -> f64 {
    const WIDE: usize = 4;
    let mut parts = [0.0; WIDE];
    for four in lanes.chunks_exact(WIDE) {
        for (part, lane) in parts.iter_mut().zip(four) {
            *part += lane;
        }
    }
    (parts[0] + parts[1]) + (parts[2] + parts[3])
}

/// What a moving step asks, the gear it takes and what the motor does in it; the latter also of a step that is not easy, as far as they are
/// known.
#[inline(always)]
pub(super) fn demand<'a>(
    driver: &Driver<'a>,
    motion: &Motion,
    resistance_n: f64,
    (high, low): (&Supply, &Supply),
) -> (StepDemand, Option<(&'a GearPath, MotorPoint)>) {
    let chain = driver.chain;
    let hard = StepDemand { power_w: driver.aux_w, peak_w: driver.aux_w, least_v: f64::INFINITY };
    // The cheapest gear that is not far beyond reach, as the second itself takes it; where all are, the cheapest tells the heat.
    let taken = driver.choice.cheapest(motion, resistance_n, high, |point| !chain.is_beyond(point, high.ocv_v));
    let Some((gear, point)) = taken else { return (hard, driver.choice.cheapest(motion, resistance_n, high, |_| true)) };
    let fastest_rad_s = larger(motion.from_m_s, motion.to_m_s) * gear.rad_per_m;
    let least_v = if fastest_rad_s > chain.motor.max_speed_rad_s || point.wheel_n > chain.traction.drive_n {
        f64::INFINITY
    } else if point.torque_nm > 0.0 {
        chain.easy_above_v(&point)
    } else if chain.brakes_alike(&point, low) {
        // Feeding back may meet the pack's limits at either end of the charge.
        0.0
    } else {
        let asked_n = resistance_n + chain.road.mass_kg * gear.rotating_factor * motion.accel_m_s2();
        let other = chain.motor_point(gear, motion.mean_m_s(), asked_n, low);
        if other.is_some_and(|other| other.bus_w == point.bus_w) { 0.0 } else { f64::INFINITY }
    };
    let step =
        StepDemand { power_w: point.bus_w + driver.aux_w, peak_w: driver.instant_w(motion, gear, &point, high) + driver.aux_w, least_v };
    (step, Some((gear, point)))
}
