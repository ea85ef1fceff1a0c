//! Where heat surely holds the motors back on a trip, whatever controller and pack drive them: what gets there with charge left breaks a rule.

use std::cmp::Reverse;
use std::collections::BinaryHeap;

use super::bounding::{Leg, Steps};
use super::road_watts::Watts;
use crate::powertrain::heat::ThermalModel;
use crate::simulate::MOST_OFF_TRACE;

/// Share of the heat that is left where a run lags within the 2 km/h that do not count as off its trace: less drag, and the ends of hard
/// accelerations made at less torque. Metres are lost there too, and no more than three in a thousand may be.
pub(super) const LEAST_HEAT: f64 = 0.93;
/// Runs that are looked at.
pub(super) const MOST_RUNS: u32 = 6;
/// Longest that is added at once, s.
const PIECE_S: f64 = 20.0;

/// Up to some point of a run from cold: rises are told times what would be left of one from the start, so that what was added stays as it is.
struct Reached {
    /// Way from the start, m.
    way_m: f64,
    /// The limit less what the run has added, less what it may be spared.
    room: f64,
    /// What the last piece has added in a second, and how long it took.
    rate: f64,
    seconds: f64,
}

/// A run from cold, and what it leaves to the next one.
struct Run {
    reached: Vec<Reached>,
    added: f64,
    /// What would be left of a rise from its start, inverse.
    growth: f64,
    length_m: f64,
}

/// Way after which the motors are too hot on a trip made over and over, m; infinite where they stay cool or take many runs.
///
/// One that may be off its trace for some seconds of each run can spare the heat of those that count the most, and no more of any run.
pub(super) fn hot_m(heat: &ThermalModel, steps: &Steps, watts: &[Watts]) -> f64 {
    let targets: Vec<f64> = watts.iter().map(|watts| heat.target(LEAST_HEAT * watts.lost_w)).collect();
    if targets.iter().all(|target| *target <= heat.limit) {
        return f64::INFINITY;
    }
    // Most stay cool even with nothing spared.
    let of = |legs: &mut dyn Iterator<Item = &Leg>| Run::of(heat, steps, &targets, legs);
    let legs: Vec<(u32, Run)> = steps.legs.iter().map(|leg| (leg.times, of(&mut std::iter::once(leg)))).collect();
    if stays_cool(&legs) {
        return f64::INFINITY;
    }
    let mut run = of(&mut steps.legs.iter().flat_map(|leg| (0..leg.times).map(move |_| leg)));
    let mut spared = Spared { most_s: MOST_OFF_TRACE * steps.duration_s(), ..Spared::default() };
    for reached in &mut run.reached {
        spared.add(reached.rate, reached.seconds);
        reached.room += spared.sum;
    }
    run.added -= spared.sum;
    run.too_hot_m()
}

/// Whether some legs, each made so many times, are never too hot where all of them are made over and over.
fn stays_cool(legs: &[(u32, Run)]) -> bool {
    let least: Vec<f64> = legs.iter().map(|(_, run)| run.least_room()).collect();
    let mut before = 0.0;
    for _ in 0..MOST_RUNS {
        for ((times, run), least) in legs.iter().zip(&least) {
            for _ in 0..*times {
                if *least < before {
                    return false;
                }
                before = (before + run.added) / run.growth;
            }
        }
    }
    true
}

impl Run {
    /// Of some legs, one after another.
    fn of(heat: &ThermalModel, steps: &Steps, targets: &[f64], legs: &mut dyn Iterator<Item = &Leg>) -> Self {
        let mut run = Self { reached: Vec::new(), added: 0.0, growth: 1.0, length_m: 0.0 };
        let (mut known_s, mut known) = (0.0, 1.0);
        for (like, seconds) in legs.flat_map(|leg| &leg.stretches) {
            let (v_m_s, target) = (steps.unlike[*like as usize].v_m_s, targets[*like as usize]);
            let count = (seconds / PIECE_S).ceil().max(1.0);
            let piece_s = seconds / count;
            // Most last as long as the one before.
            if piece_s != known_s {
                (known_s, known) = (piece_s, (piece_s / heat.tau_s).exp());
            }
            for _ in 0..count as usize {
                let before = run.growth;
                run.growth *= known;
                run.added += target * (run.growth - before);
                run.length_m += v_m_s * piece_s;
                let room = heat.limit * run.growth - run.added;
                run.reached.push(Reached { way_m: run.length_m, room, rate: target * run.growth / heat.tau_s, seconds: piece_s });
            }
        }
        run
    }

    fn least_room(&self) -> f64 {
        self.reached.iter().map(|reached| reached.room).fold(f64::INFINITY, f64::min)
    }

    /// Way after which it is too hot where it is made over and over, m.
    fn too_hot_m(&self) -> f64 {
        let least = self.least_room();
        let (mut before, mut way_m) = (0.0, 0.0);
        for _ in 0..MOST_RUNS {
            if least < before {
                let reached = self.reached.iter().find(|reached| reached.room < before);
                return reached.map_or(f64::INFINITY, |reached| way_m + reached.way_m);
            }
            before = (before + self.added) / self.growth;
            way_m += self.length_m;
        }
        f64::INFINITY
    }
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
