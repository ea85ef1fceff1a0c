//! Acceleration between two speeds at full force, gear changes included.

use super::TractiveForce;
use crate::powertrain::{Cause, Chain, GearPath};
use crate::quantity::crossing;

/// One point of a run.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct AccelerationPoint {
    /// s.
    pub time_s: f64,
    /// m/s.
    pub speed_m_s: f64,
    /// m.
    pub distance_m: f64,
}

/// A run between two speeds.
#[derive(Debug, Clone, PartialEq)]
pub struct Acceleration {
    /// s; `None` when the second speed is not reached.
    pub time_s: Option<f64>,
    /// m.
    pub distance_m: f64,
    /// Highest speed reached, m/s.
    pub reached_m_s: f64,
    /// Gears used, in order.
    pub gears: Vec<u32>,
    /// What limited it for most of the time.
    pub limited_by: Cause,
    /// The run itself, a point each step.
    pub points: Vec<AccelerationPoint>,
}

/// Step in speed, m/s. Time is the integral of `m k dv / (F - R)`; its integrand is smooth between the corners of the
/// torque curve, and the mid-point rule at this step is within 0.01 % of a ten times finer one.
pub const ACCELERATION_STEP_M_S: f64 = 0.2;

/// Surplus force, as a share of the resistance, below which a speed counts as not reached.
const LEAST_SURPLUS: f64 = 1e-4;

/// Most gears of which every choice is tried; of more, the gears from each on in turn, and each alone.
const TRIED_IN_FULL: usize = 6;

/// Runs from one speed to another at fixed state of charge.
///
/// With several gears, the quickest of these is taken: every choice of gears used in turn, each until the next of them pulls harder (or the
/// motor's highest speed is reached). A change costs `shift_s` without drive, so that a gear held longer, or skipped, can be the quicker.
#[must_use]
pub fn accelerate(pull: &mut TractiveForce<'_>, from_m_s: f64, to_m_s: f64) -> Acceleration {
    let count = pull.gears.len();
    let mut best: Option<Acceleration> = None;
    let mut attempt = |in_turn: &[usize]| {
        let record_s = best.as_ref().and_then(|b| b.time_s).unwrap_or(f64::INFINITY);
        let run = run(pull, in_turn, (from_m_s, to_m_s), record_s);
        if best.as_ref().is_none_or(|b| run.beats(b)) {
            best = Some(run);
        }
    };
    let gears: Vec<usize> = (0..count).collect();
    if count <= TRIED_IN_FULL {
        let mut in_turn = Vec::with_capacity(count);
        for chosen in (1u32..1 << count).rev() {
            in_turn.clear();
            in_turn.extend(gears.iter().filter(|g| chosen & (1 << **g) != 0));
            attempt(&in_turn);
        }
    } else {
        for first in 0..count {
            attempt(&gears[first..]);
            attempt(&gears[first..=first]);
        }
    }
    // A driveline always has at least one path.
    best.unwrap_or_else(|| Run::new(from_m_s).finish(None))
}

/// The quickest of a run in each range of the transfer box; ranges are not changed on the move.
#[must_use]
pub fn quickest(pulls: &mut [TractiveForce<'_>], from_m_s: f64, to_m_s: f64) -> Acceleration {
    let mut best: Option<Acceleration> = None;
    for pull in pulls {
        let run = accelerate(pull, from_m_s, to_m_s);
        if best.as_ref().is_none_or(|b| run.beats(b)) {
            best = Some(run);
        }
    }
    best.unwrap_or_else(|| Run::new(from_m_s).finish(None))
}

impl Acceleration {
    fn beats(&self, other: &Self) -> bool {
        match (self.time_s, other.time_s) {
            (Some(a), Some(b)) => a < b,
            (Some(_), None) => true,
            (None, Some(_)) => false,
            (None, None) => self.reached_m_s > other.reached_m_s,
        }
    }
}

struct Run {
    time_s: f64,
    speed_m_s: f64,
    distance_m: f64,
    reached_m_s: f64,
    gears: Vec<u32>,
    causes: Vec<(Cause, f64)>,
    points: Vec<AccelerationPoint>,
}

impl Run {
    fn new(from_m_s: f64) -> Self {
        let start = AccelerationPoint { time_s: 0.0, speed_m_s: from_m_s, distance_m: 0.0 };
        Self {
            time_s: 0.0,
            speed_m_s: from_m_s,
            distance_m: 0.0,
            reached_m_s: from_m_s,
            gears: Vec::new(),
            causes: Vec::new(),
            points: vec![start],
        }
    }

    fn advance(&mut self, dt: f64, to_m_s: f64, cause: Cause) {
        self.distance_m += 0.5 * (self.speed_m_s + to_m_s) * dt;
        self.time_s += dt;
        self.speed_m_s = to_m_s;
        self.reached_m_s = self.reached_m_s.max(to_m_s);
        match self.causes.iter_mut().find(|(c, _)| *c == cause) {
            Some((_, time)) => *time += dt,
            None => self.causes.push((cause, dt)),
        }
        self.points.push(AccelerationPoint { time_s: self.time_s, speed_m_s: to_m_s, distance_m: self.distance_m });
    }

    fn finish(self, time_s: Option<f64>) -> Acceleration {
        let limited_by = self.causes.iter().max_by(|a, b| a.1.total_cmp(&b.1)).map_or(Cause::None, |c| c.0);
        Acceleration {
            time_s,
            distance_m: self.distance_m,
            reached_m_s: self.reached_m_s,
            gears: self.gears,
            limited_by,
            points: self.points,
        }
    }
}

/// One run with changes up through some gears, by their places; given up once it takes longer than `record_s`.
fn run(pull: &mut TractiveForce<'_>, in_turn: &[usize], (from_m_s, to_m_s): (f64, f64), record_s: f64) -> Acceleration {
    let mut run = Run::new(from_m_s);
    // Start in the first gear that the motor can turn in.
    let turns = |gear: &usize| from_m_s * pull.gears[*gear].rad_per_m < pull.chain.motor.max_speed_rad_s;
    let mut at = in_turn.iter().position(turns).unwrap_or(in_turn.len() - 1);
    run.gears.push(pull.gears[in_turn[at]].gear);
    let mass_kg = pull.chain.road.mass_kg;
    while run.speed_m_s < to_m_s {
        if run.time_s > record_s {
            return run.finish(None);
        }
        // Steps end on the table's grid; the first after a start or a gear change, and the last, may be shorter.
        let step = (run.speed_m_s / pull.step_m_s + 1e-9) as usize;
        let end = ((step + 1) as f64 * pull.step_m_s).min(to_m_s);
        let resistance_n = pull.resistance(step);
        let gear = in_turn[at];
        let (force_n, cause) = pull.force(gear, step);
        let surplus_n = force_n - resistance_n;
        if let Some(next) = in_turn.get(at + 1) {
            let (next_n, _) = pull.force(*next, step);
            // Worth a change only if the next gear accelerates harder, its smaller rotating mass counted.
            let next_surplus_n = next_n - resistance_n;
            let (own_factor, next_factor) = (pull.gears[gear].rotating_factor, pull.gears[*next].rotating_factor);
            if next_surplus_n / next_factor > surplus_n / own_factor && next_surplus_n > 0.0 {
                at += 1;
                run.gears.push(pull.gears[*next].gear);
                coast(pull.chain, &mut run, &pull.gears[*next]);
                continue;
            }
        }
        if surplus_n <= LEAST_SURPLUS * resistance_n.abs().max(1.0) {
            return run.finish(None);
        }
        let inert_kg = mass_kg * pull.gears[gear].rotating_factor;
        let (ahead_n, _) = pull.force(gear, step + 1);
        if ahead_n - pull.resistance(step + 1) > FALLS * surplus_n {
            run.advance(inert_kg * (end - run.speed_m_s) / surplus_n, end, cause);
            continue;
        }
        // The surplus falls away within the step: it is taken as straight between its ends, and followed no further than to its zero.
        let Some((dt, to)) = fading(pull, gear, (run.speed_m_s, end), inert_kg) else { return run.finish(None) };
        run.advance(dt, to, cause);
        if to < end {
            return run.finish(None);
        }
    }
    let time_s = run.time_s;
    run.finish(Some(time_s))
}

/// Surplus over that of the step before, below which a step is looked at more closely.
const FALLS: f64 = 0.8;

/// Time to the end of a step over which the surplus is straight, and the speed reached: the end, or just below where it comes to nothing.
fn fading(pull: &TractiveForce<'_>, gear: usize, (from_m_s, to_m_s): (f64, f64), inert_kg: f64) -> Option<(f64, f64)> {
    let (chain, path) = (pull.chain, &pull.gears[gear]);
    let surplus = |v: f64| chain.full_force(path, v, pull.limits).0 - chain.road.steady_n(v, 0.0);
    let least_n = |v: f64| LEAST_SURPLUS * chain.road.steady_n(v, 0.0).abs().max(1.0);
    let (from_n, to_n) = (surplus(from_m_s), surplus(to_m_s));
    if from_n <= least_n(from_m_s) {
        return None;
    }
    let time = |end_m_s: f64, end_n: f64| {
        let mean_n = if (from_n / end_n - 1.0).abs() < 1e-6 { from_n } else { (from_n - end_n) / (from_n / end_n).ln() };
        inert_kg * (end_m_s - from_m_s) / mean_n
    };
    if to_n > least_n(to_m_s) {
        return Some((time(to_m_s, to_n), to_m_s));
    }
    let reached = crossing(from_m_s, to_m_s, |v| surplus(v) - least_n(v)).unwrap_or(from_m_s);
    let reached_n = surplus(reached);
    (reached > from_m_s && reached_n > 0.0).then(|| (time(reached, reached_n), reached))
}

/// Rolls without drive for the time of a gear change.
fn coast(chain: &Chain, run: &mut Run, gear: &GearPath) {
    if chain.shift_s <= 0.0 {
        return;
    }
    const PIECES: u32 = 4;
    let dt = chain.shift_s / f64::from(PIECES);
    for _ in 0..PIECES {
        let v = run.speed_m_s;
        let slowing = |v: f64| chain.road.steady_n(v, 0.0) / (chain.road.mass_kg * gear.rotating_factor);
        let middle = (v - 0.5 * dt * slowing(v)).max(0.0);
        run.advance(dt, (v - dt * slowing(middle)).max(0.0), Cause::None);
    }
}
