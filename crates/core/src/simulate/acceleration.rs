//! Acceleration between two speeds at full force, gear changes included.

use super::TractiveForce;
use crate::powertrain::{Cause, Chain, GearPath};

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
    let speeds = (from_m_s, to_m_s);
    let in_turn = best_choice(pull, speeds).map_or_else(|| (0..pull.gears.len()).collect(), |best| best.1);
    // Once more, to keep the run itself.
    run(pull, &in_turn, speeds, f64::INFINITY, true)
}

/// The quickest choice of gears, as far as their times tell; none where there is none to make.
fn best_choice(pull: &mut TractiveForce<'_>, speeds: (f64, f64)) -> Option<(Acceleration, Vec<usize>)> {
    let gears: Vec<usize> = (0..pull.gears.len()).collect();
    let mut best: Option<(Acceleration, Vec<usize>)> = None;
    let mut attempt = |pull: &mut TractiveForce<'_>, in_turn: &[usize]| {
        let record_s = best.as_ref().and_then(|b| b.0.time_s).unwrap_or(f64::INFINITY);
        let run = run(pull, in_turn, speeds, record_s, false);
        if best.as_ref().is_none_or(|b| run.beats(&b.0)) {
            best = Some((run, in_turn.to_vec()));
        }
    };
    match gears.len() {
        1 => {}
        2..=TRIED_IN_FULL => {
            let mut in_turn = Vec::with_capacity(gears.len());
            for chosen in (1u32..1 << gears.len()).rev() {
                in_turn.clear();
                in_turn.extend(gears.iter().filter(|g| chosen & (1 << **g) != 0));
                attempt(pull, &in_turn);
            }
        }
        count => {
            for first in 0..count {
                attempt(pull, &gears[first..]);
                attempt(pull, &gears[first..=first]);
            }
        }
    }
    best
}

/// Time of [`quickest`], s; none where the second speed is not reached.
pub(crate) fn quickest_s(pulls: &mut [TractiveForce<'_>], from_m_s: f64, to_m_s: f64) -> Option<f64> {
    let speeds = (from_m_s, to_m_s);
    let mut one = |pull: &mut TractiveForce<'_>| match best_choice(pull, speeds) {
        Some((best, _)) => best.time_s,
        None => run(pull, &[0], speeds, f64::INFINITY, false).time_s,
    };
    pulls.iter_mut().filter_map(&mut one).min_by(f64::total_cmp)
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
    best.unwrap_or_else(|| Run::new(from_m_s, true).finish(None))
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
    /// A point each step.
    points: Vec<AccelerationPoint>,
    /// Whether more than time and speed is kept.
    keeping: bool,
}

impl Run {
    fn new(from_m_s: f64, keeping: bool) -> Self {
        let start = AccelerationPoint { time_s: 0.0, speed_m_s: from_m_s, distance_m: 0.0 };
        Self {
            time_s: 0.0,
            speed_m_s: from_m_s,
            distance_m: 0.0,
            reached_m_s: from_m_s,
            gears: Vec::new(),
            causes: Vec::new(),
            points: if keeping { vec![start] } else { Vec::new() },
            keeping,
        }
    }

    fn advance(&mut self, dt: f64, to_m_s: f64, cause: Cause) {
        self.distance_m += 0.5 * (self.speed_m_s + to_m_s) * dt;
        self.time_s += dt;
        self.speed_m_s = to_m_s;
        self.reached_m_s = self.reached_m_s.max(to_m_s);
        if self.keeping {
            match self.causes.iter_mut().find(|(c, _)| *c == cause) {
                Some((_, time)) => *time += dt,
                None => self.causes.push((cause, dt)),
            }
            self.points.push(AccelerationPoint { time_s: self.time_s, speed_m_s: to_m_s, distance_m: self.distance_m });
        }
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
fn run(pull: &mut TractiveForce<'_>, in_turn: &[usize], (from_m_s, to_m_s): (f64, f64), record_s: f64, keeping: bool) -> Acceleration {
    let mut run = Run::new(from_m_s, keeping);
    // Start in the first gear that the motor can turn in.
    let turns = |gear: &usize| from_m_s * pull.gears[*gear].rad_per_m < pull.chain.motor.max_speed_rad_s;
    let mut at = in_turn.iter().position(turns).unwrap_or(in_turn.len() - 1);
    run.gears.push(pull.gears[in_turn[at]].gear);
    let mass_kg = pull.chain.road.mass_kg;
    while run.speed_m_s < to_m_s {
        // Steps end on the table's grid; the first after a start or a gear change, and the last, may be shorter.
        let step = (run.speed_m_s / pull.step_m_s + 1e-9) as usize;
        if run.time_s > record_s {
            return run.finish(None);
        }
        let end = ((step + 1) as f64 * pull.step_m_s).min(to_m_s);
        let resistance_n = pull.resistance(step);
        let gear = in_turn[at];
        let (force_n, cause) = pull.force(gear, step);
        let surplus_n = force_n - resistance_n;
        if let Some(next) = in_turn.get(at + 1)
            && surplus_n > 0.0
        {
            // Worth a change only if the next gear accelerates harder, its smaller rotating mass counted. Up to its greatest pull that need
            // not be looked up.
            let (own, other) = (&pull.gears[gear], &pull.gears[*next]);
            let enough_n = surplus_n * other.rotating_factor / own.rotating_factor + resistance_n;
            let most_n = pull.chain.motor.greatest_nm() * other.ratio * other.efficiency / pull.chain.radius_m;
            if most_n > enough_n && pull.force(*next, step).0 > enough_n {
                change(pull, &mut run, (&mut at, in_turn));
                continue;
            }
        }
        let inert_kg = mass_kg * pull.gears[gear].rotating_factor;
        let ahead_n = pull.force(gear, step + 1).0 - pull.resistance(step + 1);
        if surplus_n > LEAST_SURPLUS * resistance_n.abs().max(1.0) && ahead_n > FALLS * surplus_n {
            run.advance(inert_kg * (end - run.speed_m_s) / surplus_n, end, cause);
            continue;
        }
        // Where it comes to nothing matters only as long as nobody has got there, or another gear goes on.
        let goes_on = at + 1 < in_turn.len();
        if !goes_on && (surplus_n <= 0.0 || ahead_n <= 0.0 && end < to_m_s) && record_s.is_finite() {
            return run.finish(None);
        }
        // The surplus falls away within the step: it is taken as straight between its ends, and followed no further than to its zero.
        let (dt, to) = fading(pull, gear, (run.speed_m_s, end), inert_kg).unwrap_or((0.0, run.speed_m_s));
        run.advance(dt, to, cause);
        if to < end && goes_on {
            change(pull, &mut run, (&mut at, in_turn));
        } else if to < end {
            return run.finish(None);
        }
    }
    let time_s = run.time_s;
    run.finish(Some(time_s))
}

/// Changes up to the next gear in turn.
fn change(pull: &TractiveForce<'_>, run: &mut Run, (at, in_turn): (&mut usize, &[usize])) {
    *at += 1;
    let gear = &pull.gears[in_turn[*at]];
    run.gears.push(gear.gear);
    coast(pull.chain, run, gear);
}

/// Surplus over that of the step before, below which a step is looked at more closely.
const FALLS: f64 = 0.8;

/// Time to the end of a step over which the surplus is straight, and the speed reached: the end, or just below where it comes to nothing.
fn fading(pull: &TractiveForce<'_>, gear: usize, (from_m_s, to_m_s): (f64, f64), inert_kg: f64) -> Option<(f64, f64)> {
    let (chain, path) = (pull.chain, &pull.gears[gear]);
    let surplus = |v: f64| chain.full_force(path, v, pull.limits).0 - chain.road.steady_n(v, 0.0);
    let least_n = |v: f64| LEAST_SURPLUS * chain.road.steady_n(v, 0.0).abs().max(1.0);
    // Most often it is the motor's highest speed that ends it.
    let to_m_s = to_m_s.min(chain.motor.max_speed_rad_s / path.rad_per_m * (1.0 - 1e-12)).max(from_m_s);
    let (from_n, to_n) = (surplus(from_m_s), surplus(to_m_s));
    if from_n <= least_n(from_m_s) || to_m_s <= from_m_s {
        return None;
    }
    let time = |end_m_s: f64, end_n: f64| {
        let mean_n = if (from_n / end_n - 1.0).abs() < 1e-6 { from_n } else { (from_n - end_n) / (from_n / end_n).ln() };
        inert_kg * (end_m_s - from_m_s) / mean_n
    };
    if to_n > least_n(to_m_s) {
        return Some((time(to_m_s, to_n), to_m_s));
    }
    // By halving, as a curve may end within the step: what is kept always has a surplus.
    let (mut reached, mut past) = (from_m_s, to_m_s);
    for _ in 0..HALVINGS {
        let middle = 0.5 * (reached + past);
        if surplus(middle) > least_n(middle) { reached = middle } else { past = middle }
    }
    Some((time(reached, surplus(reached)), reached))
}

/// Halvings of a step of speed, to a hundred-thousandth of it.
const HALVINGS: u32 = 17;

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
