//! Runs of steps that meet no limit, kept as sums.

use super::asked::{Ease, StepDemand};
use super::driver::Driver;
use super::split::{Account, Motion};
use crate::powertrain::{HeatStep, Rise};
use crate::quantity::larger;

/// Most steps of a block: short enough that the open-circuit voltage hardly moves within.
pub(crate) const BLOCK_STEPS: usize = 16;
/// Terms of the series of the current.
pub(super) const TERMS: usize = 8;

/// A run of easy steps, or of others.
#[derive(Debug, Clone)]
pub(super) struct StepBlock {
    /// First step and the one after the last.
    pub(super) steps: (usize, usize),
    /// Whether any of them may meet a limit; the same of all.
    pub(super) ease: Ease,
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
    pub(super) fn at(step: usize, ease: Ease, until_m: f64) -> Self {
        Self {
            steps: (step, step),
            ease,
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
        if self.ease == Ease::Hard {
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
