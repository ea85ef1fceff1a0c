//! Where heat surely holds the motors back on a trip, whatever controller and pack drive them: what gets there with charge left breaks a rule.

use std::cmp::Reverse;
use std::collections::BinaryHeap;

use super::bounding::Steps;
use super::road_watts::Watts;
use crate::powertrain::heat::ThermalModel;
use crate::simulate::MOST_OFF_TRACE;

/// Share of the heat that is left where a run lags within the 2 km/h that do not count as off its trace: less drag, and the ends of hard
/// accelerations made at less torque. Metres are lost there too, and no more than three in a thousand may be.
const LEAST_HEAT: f64 = 0.93;
/// Runs that are looked at.
const MOST_RUNS: u32 = 6;
/// Longest that is added at once, s.
const PIECE_S: f64 = 20.0;

/// Some seconds of a run at a load.
struct Piece {
    v_m_s: f64,
    /// Rise that the motors tend to.
    target: f64,
    seconds: f64,
    /// What a rise times what would be left of one from the start grows by while no heat is added.
    growth: f64,
}

/// Way after which the motors are too hot on a trip made over and over, m; infinite where they stay cool or take many runs.
///
/// One that may be off its trace for some seconds of each run can spare all the heat of those that count the most at a time.
pub(super) fn hot_m(heat: &ThermalModel, steps: &Steps, watts: &[Watts]) -> f64 {
    let target = |like: u32| heat.target(LEAST_HEAT * watts[like as usize].lost_w);
    if steps.stretches.iter().all(|(like, _)| target(*like) <= heat.limit) {
        return f64::INFINITY;
    }
    let pieces = pieces(heat, steps, target);
    if !gets_hot(heat.limit, &pieces) {
        return f64::INFINITY;
    }
    let off_s = MOST_OFF_TRACE * steps.duration_s();
    let (mut now, mut way_m, mut grown, mut spared) = (1.0, 0.0, 0.0, Spared::default());
    for _ in 0..MOST_RUNS {
        spared.most_s += off_s;
        for Piece { v_m_s, target, seconds, growth } in &pieces {
            // A rise times what would be left of one from the start: what was added stays as it is.
            let before = now;
            now *= growth;
            way_m += v_m_s * seconds;
            grown += target * (now - before);
            spared.add(target * now / heat.tau_s, *seconds);
            if grown - spared.sum > heat.limit * now {
                return way_m;
            }
        }
    }
    f64::INFINITY
}

/// A run in pieces none of which is long.
fn pieces(heat: &ThermalModel, steps: &Steps, target: impl Fn(u32) -> f64) -> Vec<Piece> {
    let mut pieces: Vec<Piece> = Vec::with_capacity(steps.stretches.len());
    for (like, seconds) in &steps.stretches {
        let count = (seconds / PIECE_S).ceil().max(1.0);
        let piece_s = seconds / count;
        // Most last as long as the one before.
        let known = pieces.last().filter(|last| last.seconds == piece_s).map(|last| last.growth);
        let growth = known.unwrap_or_else(|| (piece_s / heat.tau_s).exp());
        let piece = || Piece { v_m_s: steps.unlike[*like as usize].v_m_s, target: target(*like), seconds: piece_s, growth };
        pieces.extend(std::iter::repeat_with(piece).take(count as usize));
    }
    pieces
}

/// Whether they get hot where nothing is spared.
fn gets_hot(limit: f64, pieces: &[Piece]) -> bool {
    let mut rise = 0.0;
    for _ in 0..MOST_RUNS {
        let before = rise;
        for Piece { target, growth, .. } in pieces {
            rise = target + (rise - target) / growth;
            if rise > limit {
                return true;
            }
        }
        // As warm as it was a run before.
        if rise - before < 1e-3 * limit {
            break;
        }
    }
    false
}

/// The seconds that add the most, as many as may be spared.
#[derive(Default)]
struct Spared {
    most_s: f64,
    seconds: f64,
    sum: f64,
    /// What each adds for a second, least first, and its seconds: positive numbers, whose bits are in their order.
    kept: BinaryHeap<Reverse<[u64; 2]>>,
}

impl Spared {
    /// Takes in some seconds that each add so much, and leaves those that add the least.
    fn add(&mut self, rate: f64, seconds: f64) {
        let is_full = self.seconds >= self.most_s;
        if rate <= 0.0 || is_full && self.kept.peek().is_some_and(|Reverse([least, _])| rate.to_bits() <= *least) {
            return;
        }
        self.put(rate, seconds);
        while self.seconds > self.most_s
            && let Some(Reverse(least)) = self.kept.pop()
        {
            let [rate, seconds] = least.map(f64::from_bits);
            (self.seconds, self.sum) = (self.seconds - seconds, self.sum - rate * seconds);
            let left_s = self.most_s - self.seconds;
            if left_s > 0.0 {
                self.put(rate, left_s);
                break;
            }
        }
    }

    fn put(&mut self, rate: f64, seconds: f64) {
        self.kept.push(Reverse([rate, seconds].map(f64::to_bits)));
        (self.seconds, self.sum) = (self.seconds + seconds, self.sum + rate * seconds);
    }
}
