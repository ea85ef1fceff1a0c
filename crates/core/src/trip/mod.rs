//! Trips: regulatory schedules, traces and stretches of road, all turned into one speed trace.

mod flag;
mod segments;
pub mod table;
pub mod track;

pub use flag::Flag;

use std::sync::OnceLock;

use crate::document::{DrivingStyle, LEAST_M_S2, Schedule, TracePoint, Trip, TripPath};
use crate::quantity::units::KMH_PER_M_S;

/// Speed and grade over time; speed is linear between points, grade constant up to the next.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Trace {
    /// Points in the order of time.
    pub points: Vec<Point>,
}

/// One point of a trace, SI.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Point {
    /// s.
    pub time_s: f64,
    /// m/s.
    pub speed_m_s: f64,
    /// Sine of the grade up to the next point.
    pub sin: f64,
    /// Cosine of the grade up to the next point.
    pub cos: f64,
}

impl Point {
    fn new(time_s: f64, speed_m_s: f64, grade: f64) -> Self {
        let (sin, cos) = crate::vehicle::slope(grade);
        Self { time_s, speed_m_s, sin, cos }
    }
}

/// Longest step in s; a longer stretch of a trace is cut, so that speed stays near its middle value within each.
pub(crate) const LONGEST_STEP_S: f64 = 1.0;

/// How near to the end of a step a crossing is no crossing, m/s.
const HAIR_M_S: f64 = 1e-3;

impl Trace {
    /// Trace of a checked path, driven as described.
    #[must_use]
    pub fn of(path: &TripPath) -> Self {
        Self::driven(path, DrivingStyle::Normal, &|_| None)
    }

    /// Trace of a checked trip, with its driving style and its repeats. `available` gives the mean acceleration from rest to a speed
    /// that the chain offers, m/s2, for stretches that ask for a share of it.
    #[must_use]
    pub fn of_trip(trip: &Trip, driving_style: DrivingStyle, available: &dyn Fn(f64) -> Option<f64>) -> Self {
        Self::driven(&trip.path, driving_style, available).repeated(trip.repeat)
    }

    fn driven(path: &TripPath, driving_style: DrivingStyle, available: &dyn Fn(f64) -> Option<f64>) -> Self {
        let coarse = match path {
            TripPath::Schedule(schedule) if driving_style == DrivingStyle::Normal => return of_schedule(*schedule).clone(),
            TripPath::Schedule(schedule) => styled(&of_schedule(*schedule).points, driving_style, available),
            TripPath::Trace(points) => styled(&points.iter().map(point).collect::<Vec<_>>(), driving_style, available),
            TripPath::Segments(segments) => segments::points(segments, driving_style, available),
        };
        Self { points: cut(&coarse) }
    }

    /// Whether it leads downhill anywhere, a hair of rounding apart.
    pub(crate) fn leads_downhill(&self) -> bool {
        self.points.iter().any(|p| p.sin < -1e-9)
    }

    /// Whether it is anywhere lower than where it starts, a hair of rounding apart, m.
    pub(crate) fn leads_below_its_start(&self) -> bool {
        let mut height_m = 0.0;
        self.points.windows(2).any(|pair| {
            height_m += 0.5 * (pair[0].speed_m_s + pair[1].speed_m_s) * (pair[1].time_s - pair[0].time_s) * pair[0].sin;
            height_m < -1e-3
        })
    }

    fn repeated(self, times: u32) -> Self {
        let once = self.points;
        let start_s = once.first().map_or(0.0, |p| p.time_s);
        let mut points = once.clone();
        for _ in 1..times {
            let Some(end) = points.pop() else { break };
            points.extend(once.iter().map(|p| Point { time_s: p.time_s - start_s + end.time_s, ..*p }));
        }
        Self { points }
    }

    /// The same trace with a point wherever it slows down through one of some speeds, m/s, rising: so that what changes there does so between
    /// steps. Where nothing is crossed it stays as it is.
    #[must_use]
    pub(crate) fn cut_where_slowing(self, speeds_m_s: &[f64]) -> Self {
        let crossed = |a: &Point, b: &Point| speeds_m_s.iter().any(|v| (b.speed_m_s + HAIR_M_S..a.speed_m_s - HAIR_M_S).contains(v));
        if !self.points.windows(2).any(|w| crossed(&w[0], &w[1])) {
            return self;
        }
        let mut points = Vec::with_capacity(self.points.len() + self.points.len() / 8);
        for pair in self.points.windows(2) {
            let (a, b) = (pair[0], pair[1]);
            points.push(a);
            let mut last_m_s = a.speed_m_s;
            for v in speeds_m_s.iter().rev() {
                // Speeds of a steep change lie too near to one another for steps of their own, but for the lowest.
                let apart = last_m_s - v > HAIR_M_S || *v == speeds_m_s[0] && *v < last_m_s;
                if apart && (b.speed_m_s + HAIR_M_S..a.speed_m_s - HAIR_M_S).contains(v) {
                    let share = (a.speed_m_s - v) / (a.speed_m_s - b.speed_m_s);
                    points.push(Point { time_s: a.time_s + share * (b.time_s - a.time_s), speed_m_s: *v, ..a });
                    last_m_s = *v;
                }
            }
        }
        points.extend(self.points.last().copied());
        Self { points }
    }

    /// The same way at a share of its speeds, standing as long; acceleration falls with the square of the share.
    #[must_use]
    pub fn at_pace(&self, share: f64) -> Self {
        Self { points: cut(&time_scaled(&self.points, share)) }
    }

    /// Distance in m if followed exactly.
    #[must_use]
    pub fn distance_m(&self) -> f64 {
        self.way_m(self.points.len())
    }

    /// Way along the first of its points, m.
    pub(crate) fn way_m(&self, points: usize) -> f64 {
        self.points[..points.min(self.points.len())]
            .windows(2)
            .map(|w| 0.5 * (w[0].speed_m_s + w[1].speed_m_s) * (w[1].time_s - w[0].time_s))
            .sum()
    }

    /// Duration in s.
    #[must_use]
    pub fn duration_s(&self) -> f64 {
        match (self.points.first(), self.points.last()) {
            (Some(first), Some(last)) => last.time_s - first.time_s,
            _ => 0.0,
        }
    }
}

/// A schedule as a trace, read once.
fn of_schedule(schedule: Schedule) -> &'static Trace {
    static READ: [OnceLock<Trace>; Schedule::ALL.len()] = [const { OnceLock::new() }; Schedule::ALL.len()];
    READ[schedule as usize]
        .get_or_init(|| Trace { points: schedule.rows().map(|(time_s, kmh)| Point::new(time_s, kmh / KMH_PER_M_S, 0.0)).collect() })
}

fn point(p: &TracePoint) -> Point {
    Point::new(p.time_s, p.speed_kmh / KMH_PER_M_S, p.grade_percent / 100.0)
}

/// The same way in a driving style.
fn styled(points: &[Point], driving_style: DrivingStyle, available: &dyn Fn(f64) -> Option<f64>) -> Vec<Point> {
    let top_m_s = points.iter().map(|p| p.speed_m_s).fold(0.0, f64::max);
    time_scaled(points, raised(top_m_s, driving_style.speed_factor(), 1.0, available) / top_m_s.max(1e-9))
}

/// A speed times the greater of two factors; a raised one only where the vehicle reaches it. `available` as for [`Trace::of_trip`].
fn raised(speed_m_s: f64, styled: f64, lively: f64, available: &dyn Fn(f64) -> Option<f64>) -> f64 {
    let factor = if styled < 1.0 { styled } else { styled.max(lively) };
    let reaches = || available(factor * speed_m_s).is_some_and(|a| a >= LEAST_M_S2);
    if factor <= 1.0 || reaches() { factor * speed_m_s } else { speed_m_s }
}

/// The same way at a speed times `factor`, standing as long.
fn time_scaled(points: &[Point], factor: f64) -> Vec<Point> {
    let (mut time_s, mut last) = (0.0, None::<Point>);
    points
        .iter()
        .map(|p| {
            if let Some(from) = last.replace(*p) {
                let still = from.speed_m_s == 0.0 && p.speed_m_s == 0.0;
                time_s += (p.time_s - from.time_s) / if still { 1.0 } else { factor };
            }
            Point { time_s, speed_m_s: p.speed_m_s * factor, ..*p }
        })
        .collect()
}

fn cut(coarse: &[Point]) -> Vec<Point> {
    let mut points = Vec::with_capacity(coarse.len() + 1);
    for pair in coarse.windows(2) {
        let (a, b) = (pair[0], pair[1]);
        let still = a.speed_m_s == 0.0 && b.speed_m_s == 0.0;
        let pieces = if still { 1.0 } else { ((b.time_s - a.time_s) / LONGEST_STEP_S - 1e-9).ceil().max(1.0) };
        for i in 0..pieces as usize {
            let share = i as f64 / pieces;
            points.push(Point {
                time_s: a.time_s + share * (b.time_s - a.time_s),
                speed_m_s: a.speed_m_s + share * (b.speed_m_s - a.speed_m_s),
                ..a
            });
        }
    }
    points.extend(coarse.last().copied());
    points
}
