//! Coast-down: rolling and drag from time and speed, both directions averaged, wind and slope removed.

use nalgebra::{DMatrix, DVector};
use serde::Serialize;

use super::{EvidenceKind, Fitted, RoadLoadProposal};
use crate::document::{CoastDirection, CoastDown, CoastRun, VehicleKind};
use crate::error::{Error, Problem, Problems, Result};
use crate::quantity::units::{KMH_PER_M_S, STANDARD_GRAVITY_M_S2};
use crate::quantity::{Provenance, Sentence, drag_n, figure, sentence};
use crate::trip::Flag;
use crate::vehicle::air;
use crate::vehicle::cold::tyre_factor;

/// Force on the vehicle at one speed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoastForce {
    /// km/h.
    pub speed_kmh: f64,
    /// From the log, both directions averaged, N.
    pub measured_n: f64,
    /// Of the fit, N.
    pub fitted_n: f64,
}

/// A coast-down fitted.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoastFit {
    /// `F = f0 + f2 v^2`, v in m/s: f0, N.
    pub f0_n: Fitted,
    /// f2, N/(m/s)^2.
    pub f2_n_s2_m2: Fitted,
    /// Drag coefficient times frontal area, m2.
    pub drag_area_m2: Fitted,
    /// Rolling coefficient.
    pub rolling_coefficient: Fitted,
    /// Wind along the stretch, from ahead on the way out, m/s.
    pub wind_m_s: f64,
    /// Grade of the stretch, uphill on the way out, percent.
    pub grade_percent: f64,
    /// Root mean square of measured less fitted force, N.
    pub residual_n: f64,
    /// Forces, speed rising.
    pub forces: Vec<CoastForce>,
    /// What looks wrong.
    pub flags: Vec<Flag>,
}

/// Width of a speed bin, m/s: wide enough that a reading a second gives a deceleration.
const BIN_M_S: f64 = 1.5;
/// Rise of speed in a coast that is still the resolution of the instrument, m/s.
const RISE_M_S: f64 = 0.15;
/// Deviation of one bin of one run from its fit that is called a gust, share of the force.
const GUST_SHARE: f64 = 0.25;
/// Rotating-mass factor in neutral (SAE J1263 practice of 3 % of the mass, from memory).
const NEUTRAL_FACTOR: f64 = 1.03;
const NORMAL_80: f64 = 1.281_551_565_544_6;

/// Mean force of one run in one bin.
struct Bin {
    run: usize,
    /// Index of the reading in the middle of the bin.
    point: usize,
    speed_m_s: f64,
    force_n: f64,
    out: bool,
}

/// Fits `F = f0 + f2 v^2` to a coast-down.
///
/// Each run is cut into bins of speed; the mean deceleration of a bin, times mass and rotating factor, is the force in it. Out and
/// back averaged cancel the slope, and wind up to `f2 w^2`, which is taken off with the wind found from their difference
/// `2 f2 v w + m g s` (SAE J1263 and J2263 procedure). A bin is as wide as the instrument needs, so the fit compares with the mean
/// of the model over the bin, `dv / integral(dv / F)`, not with its middle. The rolling coefficient is that at 20 degC.
///
/// # Errors
/// Names the reading where time does not rise or speed does, and says what is missing when the runs do not overlap.
pub fn fit(log: &CoastDown, kind: VehicleKind, path: &str) -> Result<CoastFit> {
    check(log, path)?;
    let inertia_kg = log.mass_kg * log.rotating_mass_factor.unwrap_or(NEUTRAL_FACTOR);
    let bins: Vec<Bin> = log.runs.iter().enumerate().flat_map(|(i, run)| bins(i, run, inertia_kg)).collect();
    // Bins seen in both directions: mean of each direction first, so that more runs one way do not outweigh the other.
    let key = |b: &Bin| (b.speed_m_s / BIN_M_S) as i64;
    let mut keys: Vec<i64> = bins.iter().map(key).collect();
    keys.sort_unstable();
    keys.dedup();
    let mean = |k: i64, out: bool| {
        let forces: Vec<f64> = bins.iter().filter(|b| key(b) == k && b.out == out).map(|b| b.force_n).collect();
        (!forces.is_empty()).then(|| forces.iter().sum::<f64>() / forces.len() as f64)
    };
    let paired: Vec<(f64, f64, f64)> =
        keys.iter().filter_map(|k| Some(((*k as f64 + 0.5) * BIN_M_S, mean(*k, true)?, mean(*k, false)?))).collect();
    let span_m_s = paired.last().map_or(0.0, |p| p.0) - paired.first().map_or(0.0, |p| p.0);
    if paired.len() < 5 || span_m_s < 20.0 / KMH_PER_M_S {
        return Err(Error::field(
            format!("{path}.runs"),
            format!("out and back overlap over {:.0} km/h", span_m_s * KMH_PER_M_S),
            "runs both ways over the same speeds, at least 20 km/h of them, are needed",
        ));
    }
    // Half the difference of the two ways: m g s + 2 f2 w v.
    let halves: Vec<(f64, f64)> = paired.iter().map(|(v, out, back)| (*v, 0.5 * (out - back))).collect();
    let (slope_n, wind_n_per_m_s) = line(&halves);
    let averaged: Vec<(f64, f64)> = paired.iter().map(|(v, out, back)| (*v, 0.5 * (out + back))).collect();
    let mut fitted = square(&averaged);
    let mut wind_m_s = 0.0;
    for _ in 0..4 {
        wind_m_s = if fitted.f2 > 0.0 { wind_n_per_m_s / (2.0 * fitted.f2) } else { 0.0 };
        let corrected: Vec<(f64, f64)> = averaged
            .iter()
            .map(|(v, force)| (*v, (force - fitted.f2 * wind_m_s * wind_m_s) * fitted.at(*v) / fitted.bin_mean(*v)))
            .collect();
        fitted = square(&corrected);
    }
    if fitted.f0 <= 0.0 || fitted.f2 <= 0.0 {
        return Err(Error::field(
            format!("{path}.runs"),
            format!("f0 = {:.1} N, f2 = {:.3} N/(m/s)^2", fitted.f0, fitted.f2),
            "rolling and drag must both come out above zero; check the units of time and speed, and coast from a higher speed",
        ));
    }
    let flags = gusts(log, path, &bins, &fitted, slope_n, wind_m_s);
    let forces: Vec<CoastForce> = averaged
        .iter()
        .map(|(v, force)| CoastForce {
            speed_kmh: v * KMH_PER_M_S,
            measured_n: force - fitted.f2 * wind_m_s * wind_m_s,
            fitted_n: fitted.bin_mean(*v),
        })
        .collect();
    let squares: f64 = forces.iter().map(|f| (f.measured_n - f.fitted_n).powi(2)).sum();
    let density = air::density_kg_m3(log.altitude_m, log.temperature_c);
    let weight_n = log.mass_kg * STANDARD_GRAVITY_M_S2;
    let f0_n = Fitted { value: fitted.f0, half_width: NORMAL_80 * fitted.f0_error };
    let f2_n_s2_m2 = Fitted { value: fitted.f2, half_width: NORMAL_80 * fitted.f2_error };
    // Mass, air and the instrument are not known better than anything measured is, however well the readings agree.
    let least = Provenance::Measured.default_spread();
    let scaled = |f: Fitted, by: f64| Fitted { value: f.value * by, half_width: (f.half_width * by).max(least * (f.value * by).abs()) };
    Ok(CoastFit {
        f0_n,
        f2_n_s2_m2,
        drag_area_m2: scaled(f2_n_s2_m2, 2.0 / density),
        rolling_coefficient: scaled(f0_n, 1.0 / (weight_n * tyre_factor(kind, log.temperature_c))),
        wind_m_s,
        grade_percent: 100.0 * slope_n / weight_n,
        residual_n: (squares / forces.len() as f64).sqrt(),
        forces,
        flags,
    })
}

impl CoastFit {
    pub(super) fn proposal(&self) -> RoadLoadProposal {
        let flagged = if self.flags.is_empty() { String::new() } else { format!("; {} flagged readings to look at", self.flags.len()) };
        RoadLoadProposal {
            kind: EvidenceKind::CoastDown,
            drag_area_m2: self.drag_area_m2,
            rolling_coefficient: self.rolling_coefficient,
            provenance: Provenance::Measured,
            basis: sentence!(
                "coast-down both ways, residual {}, wind of {} and grade of {} removed{} (SAE J1263 procedure)",
                drag_n(self.residual_n, 1),
                figure(self.wind_m_s.abs() * KMH_PER_M_S, "km/h", 1),
                figure(self.grade_percent, "%", 2),
                flagged
            ),
            best: false,
            unusual: Sentence::default(),
        }
    }
}

fn check(log: &CoastDown, path: &str) -> Result<()> {
    let mut problems = Problems::new();
    for way in [CoastDirection::Out, CoastDirection::Back] {
        if !log.runs.iter().any(|r| r.direction == way) {
            let word = if way == CoastDirection::Out { "out" } else { "back" };
            problems.push(Problem::new(format!("{path}.runs"), format!("no run {word}"), "at least one run each way is needed"));
        }
    }
    for (i, run) in log.runs.iter().enumerate() {
        let mut lowest = f64::INFINITY;
        for (j, pair) in run.points.windows(2).enumerate() {
            let at = format!("{path}.runs[{i}].points[{}]", j + 1);
            if pair[1].time_s <= pair[0].time_s {
                problems.push(Problem::new(
                    format!("{at}.time_s"),
                    pair[1].time_s,
                    format!("time must rise; the reading before it is at {} s", pair[0].time_s),
                ));
            }
            lowest = lowest.min(pair[0].speed_kmh);
            if pair[1].speed_kmh > lowest + RISE_M_S * KMH_PER_M_S {
                problems.push(Problem::new(
                    format!("{at}.speed_kmh"),
                    pair[1].speed_kmh,
                    format!("a coasting vehicle does not gain speed, and it was down to {lowest} km/h; a gust, a hill or a push"),
                ));
                break;
            }
        }
    }
    problems.or(())
}

/// Time and reading at which a run passes a speed, falling; linear between readings.
fn passes(run: &CoastRun, speed_m_s: f64) -> Option<(f64, usize)> {
    let kmh = speed_m_s * KMH_PER_M_S;
    run.points.windows(2).enumerate().find_map(|(i, w)| {
        (w[0].speed_kmh >= kmh && w[1].speed_kmh < kmh).then(|| {
            let share = (w[0].speed_kmh - kmh) / (w[0].speed_kmh - w[1].speed_kmh);
            (w[0].time_s + share * (w[1].time_s - w[0].time_s), i)
        })
    })
}

fn bins(index: usize, run: &CoastRun, inertia_kg: f64) -> Vec<Bin> {
    let fastest = run.points.iter().map(|p| p.speed_kmh).fold(0.0, f64::max) / KMH_PER_M_S;
    (0..(fastest / BIN_M_S) as usize)
        .filter_map(|k| {
            let low = k as f64 * BIN_M_S;
            let ((start, from), (end, to)) = (passes(run, low + BIN_M_S)?, passes(run, low)?);
            Some(Bin {
                run: index,
                point: usize::midpoint(from, to),
                speed_m_s: low + 0.5 * BIN_M_S,
                force_n: inertia_kg * BIN_M_S / (end - start),
                out: run.direction == CoastDirection::Out,
            })
        })
        .collect()
}

/// `f0 + f2 v^2` with the standard errors of both.
struct Square {
    f0: f64,
    f2: f64,
    f0_error: f64,
    f2_error: f64,
}

impl Square {
    fn at(&self, v: f64) -> f64 {
        self.f0 + self.f2 * v * v
    }

    /// Mean force over a bin as its duration shows it: width over the integral of dv / F, by Simpson's rule.
    fn bin_mean(&self, v: f64) -> f64 {
        let (low, high) = (self.at(v - 0.5 * BIN_M_S), self.at(v + 0.5 * BIN_M_S));
        6.0 / (1.0 / low + 4.0 / self.at(v) + 1.0 / high)
    }
}

fn square(points: &[(f64, f64)]) -> Square {
    let n = points.len();
    let a = DMatrix::from_fn(n, 2, |r, c| if c == 0 { 1.0 } else { points[r].0 * points[r].0 });
    let b = DVector::from_iterator(n, points.iter().map(|p| p.1));
    // Bins at different speeds: never singular.
    let inverse = (a.transpose() * &a).try_inverse().unwrap_or_else(|| DMatrix::zeros(2, 2));
    let x = &inverse * a.transpose() * &b;
    let variance = (&b - &a * &x).norm_squared() / (n as f64 - 2.0).max(1.0);
    Square { f0: x[0], f2: x[1], f0_error: (variance * inverse[(0, 0)]).sqrt(), f2_error: (variance * inverse[(1, 1)]).sqrt() }
}

/// Intercept and slope of a straight line.
fn line(points: &[(f64, f64)]) -> (f64, f64) {
    let n = points.len() as f64;
    let (mx, my) = (points.iter().map(|p| p.0).sum::<f64>() / n, points.iter().map(|p| p.1).sum::<f64>() / n);
    let slope = points.iter().map(|p| (p.0 - mx) * (p.1 - my)).sum::<f64>() / points.iter().map(|p| (p.0 - mx).powi(2)).sum::<f64>();
    (my - slope * mx, slope)
}

fn gusts(log: &CoastDown, path: &str, bins: &[Bin], fitted: &Square, slope_n: f64, wind_m_s: f64) -> Vec<Flag> {
    let mut flags = Vec::new();
    for bin in bins {
        let sign = if bin.out { 1.0 } else { -1.0 };
        let through = bin.speed_m_s + sign * wind_m_s;
        let wanted_n = fitted.f0 + fitted.f2 * through * through.abs() + sign * slope_n;
        let off = (bin.force_n - wanted_n) / fitted.at(bin.speed_m_s);
        if off.abs() > GUST_SHARE {
            flags.push(Flag {
                at: format!("{path}.runs[{}].points[{}]", bin.run, bin.point),
                message: sentence!(
                    "at {}, {} into the run, the force is {} where the others make it {}: a gust or a bump. It is kept in the fit; repeat the run or take it out",
                    figure(bin.speed_m_s * KMH_PER_M_S, "km/h", 0),
                    figure(log.runs[bin.run].points[bin.point].time_s - log.runs[bin.run].points[0].time_s, "s", 0),
                    figure(bin.force_n, "N", 0),
                    figure(wanted_n, "N", 0)
                ),
            });
        }
    }
    flags
}
