//! Traces that bound what any chain makes of a trip: its own, or the slowest and the quickest that a chain may give it, in classes.

use std::collections::HashMap;

use crate::document::{Document, DrivingStyle, LEAST_M_S2, MOST_M_S2, Trip, TripPath};
use crate::figures::trips::cut_at_fade;
use crate::simulate::Tolerance;
use crate::trip::{Point, Trace};

/// One step of a trace, or several that are alike.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Step {
    pub(super) v_m_s: f64,
    pub(super) accel_m_s2: f64,
    pub(super) sin: f64,
    pub(super) cos: f64,
    pub(super) seconds: f64,
}

impl Step {
    pub(super) fn between(from: Point, to: Point) -> Self {
        let seconds = to.time_s - from.time_s;
        let accel_m_s2 = if seconds > 0.0 { (to.speed_m_s - from.speed_m_s) / seconds } else { 0.0 };
        Self { v_m_s: 0.5 * (from.speed_m_s + to.speed_m_s), accel_m_s2, sin: from.sin, cos: from.cos, seconds }
    }

    /// Steps of the same key ask for the same power, a hair of rounding apart.
    fn key(&self) -> [i64; 3] {
        [self.v_m_s, self.accel_m_s2, self.sin].map(|x| (x * 1e9).round() as i64)
    }
}

/// The steps of a trace one after another; those that ask for the same power stand once.
#[derive(Debug, Clone)]
pub(super) struct Steps {
    /// The first of each that are alike.
    pub(super) unlike: Vec<Step>,
    /// Seconds of all that are like each of them.
    pub(super) seconds: Vec<f64>,
    /// What the trace consists of, in order.
    pub(super) legs: Vec<Leg>,
    /// What following it allows.
    pub(super) tolerance: Tolerance,
}

/// A stretch of a trace from one start from rest up to the next, made several times in a row: most stops of a trip are alike.
#[derive(Debug, Clone)]
pub(super) struct Leg {
    /// How many times it is made.
    pub(super) times: u32,
    /// Of each of its steps, which of the unlike it is like, and its seconds.
    pub(super) each: Vec<(u32, f64)>,
    /// The same, those in a row that are alike as one.
    pub(super) stretches: Vec<(u32, f64)>,
}

impl Leg {
    /// Of its steps.
    pub(super) fn of(each: &[(u32, f64)]) -> Self {
        let mut stretches: Vec<(u32, f64)> = Vec::new();
        for (like, seconds) in each {
            match stretches.last_mut().filter(|last| last.0 == *like) {
                Some(last) => last.1 += seconds,
                None => stretches.push((*like, *seconds)),
            }
        }
        Self { times: 1, each: each.to_vec(), stretches }
    }

    fn is_like(&self, each: &[(u32, f64)]) -> bool {
        let alike = |(own, other): (&(u32, f64), &(u32, f64))| own.0 == other.0 && (own.1 - other.1).abs() < 1e-6;
        self.each.len() == each.len() && self.each.iter().zip(each).all(alike)
    }
}

impl Steps {
    pub(super) fn of(trace: &Trace) -> Self {
        let mut seen: HashMap<[i64; 3], u32> = HashMap::new();
        let mut steps = Self { unlike: Vec::new(), seconds: Vec::new(), legs: Vec::new(), tolerance: Tolerance::of(trace) };
        let (mut each, mut leg_from, mut last) = (Vec::with_capacity(trace.points.len()), 0, None);
        for pair in trace.points.windows(2) {
            let step = Step::between(pair[0], pair[1]);
            // Cruising, most are like the one before.
            let asks = [step.v_m_s, step.accel_m_s2, step.sin];
            let like = match last {
                Some((asked, like)) if asked == asks => like,
                _ => *seen.entry(step.key()).or_insert(steps.unlike.len() as u32),
            };
            last = Some((asks, like));
            if like as usize == steps.unlike.len() {
                steps.unlike.push(step);
                steps.seconds.push(0.0);
            }
            steps.seconds[like as usize] += step.seconds;
            if pair[0].speed_m_s == 0.0 && pair[1].speed_m_s > 0.0 {
                steps.ends_leg(&each[leg_from..]);
                leg_from = each.len();
            }
            each.push((like, step.seconds));
        }
        steps.ends_leg(&each[leg_from..]);
        steps
    }

    fn ends_leg(&mut self, each: &[(u32, f64)]) {
        match self.legs.last_mut().filter(|last| last.is_like(each)) {
            Some(last) => last.times += 1,
            None if each.is_empty() => {}
            None => self.legs.push(Leg::of(each)),
        }
    }

    pub(super) fn duration_s(&self) -> f64 {
        self.seconds.iter().sum()
    }
}

/// Traces no slower than one and no quicker than another.
#[derive(Debug, Clone)]
pub(super) struct PaceClass {
    pub(super) slowest: Vec<Step>,
    pub(super) quickest: Vec<Step>,
    /// Acceleration of the slowest over that of the quickest.
    pub(super) ratio: f64,
    /// Duration of the quickest, s.
    pub(super) least_s: f64,
}

/// What bounds the energy of a trip.
#[derive(Debug, Clone)]
pub(super) struct Bounding {
    /// The trip's own trace, or the slowest that a chain may give it.
    pub(super) trace: Trace,
    /// Its steps.
    pub(super) steps: Steps,
    /// Least time that the trip takes, s.
    pub(super) least_s: f64,
    /// Where the chain sets the pace of stretches that are alike, classes that together hold every trace there may be; else none.
    pub(super) classes: Vec<PaceClass>,
}

/// Each class accelerates up to so many times as hard as the one before.
const CLASS_RATIO: f64 = 1.3;

/// Whether the trace of a trip depends on the chain.
pub(super) fn follows_chain(trip: &Trip) -> bool {
    let lively = matches!(&trip.path, TripPath::Segments(s) if s.iter().any(|s| s.liveliness.is_some()));
    lively || trip.driving_style == DrivingStyle::Brisk
}

impl Bounding {
    pub(super) fn of(trip: &Trip, document: &Document) -> Self {
        let trace = |pace: Option<f64>| cut_at_fade(Trace::of_trip(trip, trip.driving_style, &|_| pace), document);
        if !follows_chain(trip) {
            let own = trace(None);
            return Self { least_s: own.duration_s(), steps: Steps::of(&own), trace: own, classes: Vec::new() };
        }
        let least_s = trace(Some(f64::INFINITY)).duration_s();
        let slowest = trace(Some(0.0));
        Self { steps: Steps::of(&slowest), trace: slowest, least_s, classes: classes(trip, &trace) }
    }
}

/// Classes of a trip on which every stretch that is left to the chain asks the same of it.
fn classes(trip: &Trip, trace: &dyn Fn(Option<f64>) -> Trace) -> Vec<PaceClass> {
    let TripPath::Segments(segments) = &trip.path else { return Vec::new() };
    let mut asked = segments.iter().map(|s| s.liveliness.map(|share| (share, s.speed_kmh)));
    let Some(Some((share, speed_kmh))) = asked.next() else { return Vec::new() };
    // At more than half of what there is the speed rises too, where it can be reached.
    if trip.driving_style == DrivingStyle::Brisk || share > 0.5 || asked.any(|other| other != Some((share, speed_kmh))) {
        return Vec::new();
    }
    // What the chain offers, from what makes the least acceleration of a trace to what makes the greatest.
    let factor = share * trip.driving_style.acceleration_factor();
    let (least, most) = (LEAST_M_S2 / factor, MOST_M_S2 / factor);
    let count = ((most / least).ln() / CLASS_RATIO.ln()).ceil().max(1.0) as i32;
    let pace = |i: i32| least * (most / least).powf(f64::from(i) / f64::from(count));
    let class = |i: i32| {
        let (slowest, quickest) = (trace(Some(pace(i))), trace(Some(pace(i + 1))));
        PaceClass { ratio: pace(i) / pace(i + 1), least_s: quickest.duration_s(), slowest: alike(&slowest), quickest: alike(&quickest) }
    };
    (0..count).map(class).collect()
}

/// The steps of a trace that move, those that are alike as one.
fn alike(trace: &Trace) -> Vec<Step> {
    let Steps { unlike, seconds, .. } = Steps::of(trace);
    let all = unlike.into_iter().zip(seconds).map(|(step, seconds)| Step { seconds, ..step });
    all.filter(|step| step.v_m_s > 0.0).collect()
}
