//! Curves to draw: pull at the wheel against speed, and a run against time.

use serde::Serialize;

use crate::cancel::Cancel;
use crate::error::Result;
use crate::figures::performance::{run_soc, top};
use crate::inputs::Counted;
use crate::powertrain::{Cause, Chain, Limits, Rating};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{Best, quickest};
use crate::vehicle::masses;

/// Curves to draw.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Curves {
    /// Speeds of every curve below, km/h.
    pub speed_kmh: Vec<f64>,
    /// Tractive force in each gear on peak ratings; grip already taken into account.
    pub gears: Vec<GearCurve>,
    /// Tractive force in the best gear on continuous ratings, N.
    pub continuous_n: Vec<f64>,
    /// Resistance of the road on some grades.
    pub grades: Vec<GradeLine>,
    /// Force at which the driven tyres slip on the level, N.
    pub grip_n: f64,
    /// What holds the greatest pull back, from rest upwards.
    pub binding: Vec<Binding>,
    /// A run from rest to 98 % of top speed.
    pub run: RunCurve,
}

/// What holds the greatest pull back over a stretch of speeds.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Binding {
    /// Up to this speed, km/h.
    pub to_kmh: f64,
    /// In this gear.
    pub gear: u32,
    /// In this range of the transfer box.
    pub range: u32,
    /// By this.
    pub cause: Cause,
    /// In words.
    pub word: String,
}

/// Tractive force in one gear.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GearCurve {
    /// Gear, from 1.
    pub gear: u32,
    /// Range of the transfer box, from 1.
    pub range: u32,
    /// N at each speed, absent past the motor's highest speed.
    pub force_n: Vec<Option<f64>>,
}

/// Resistance on one grade.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GradeLine {
    /// Percent.
    pub grade_percent: f64,
    /// N at each speed.
    pub force_n: Vec<f64>,
}

/// Speed against time of a run from rest.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RunCurve {
    /// s.
    pub time_s: Vec<f64>,
    /// km/h.
    pub speed_kmh: Vec<f64>,
    /// m.
    pub distance_m: Vec<f64>,
}

const SPEEDS: u32 = 60;
const RUN_POINTS: usize = 60;
const GRADES: [f64; 4] = [0.0, 5.0, 10.0, 20.0];

/// Stretches of speed with one cause in one gear, up to the top speed, told to half a km/h.
fn binding(chain: &Chain, limits: &Limits, top_kmh: f64) -> Vec<Binding> {
    const STEP_KMH: f64 = 0.5;
    let mut stretches: Vec<Binding> = Vec::new();
    let steps = (top_kmh / STEP_KMH).ceil() as u32;
    for i in 0..steps {
        let kmh = f64::from(i) * STEP_KMH;
        let best = Best::at(chain, kmh / KMH_PER_M_S, limits);
        let to_kmh = (kmh + STEP_KMH).min(top_kmh);
        match stretches.last_mut() {
            Some(last) if (last.cause, last.gear, last.range) == (best.cause, best.gear, best.range) => last.to_kmh = to_kmh,
            _ => stretches.push(Binding {
                to_kmh,
                gear: best.gear,
                range: best.range,
                cause: best.cause,
                word: best.cause.word().to_owned(),
            }),
        }
    }
    stretches
}

/// Curves of a design; apart from the estimate, since only one drawing needs them.
///
/// # Errors
/// As [`super::estimate`].
pub fn curves(document: &Counted, cancel: &Cancel) -> Result<Curves> {
    let chain = &Chain::of(document, masses(document).test_kg)?;
    let soc = run_soc(document, &chain.pack);
    let peak = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
    let continuous = chain.limits(soc, chain.low_voltage_w, Rating::Continuous);
    cancel.check()?;
    let top_speed_kmh = top(chain, &peak).speed_m_s * KMH_PER_M_S;
    let widest_kmh = (top_speed_kmh * 1.15).max(20.0);
    let speed_kmh: Vec<f64> = (0..=SPEEDS).map(|i| widest_kmh * f64::from(i) / f64::from(SPEEDS)).collect();
    let at = |kmh: f64| kmh / KMH_PER_M_S;
    let gears = chain
        .gears
        .iter()
        .map(|g| GearCurve {
            gear: g.gear,
            range: g.range,
            force_n: speed_kmh
                .iter()
                .map(|kmh| (at(*kmh) * g.rad_per_m <= chain.motor.max_speed_rad_s).then(|| chain.full_force(g, at(*kmh), &peak).0))
                .collect(),
        })
        .collect();
    let continuous_n =
        speed_kmh.iter().map(|kmh| chain.gears.iter().map(|g| chain.full_force(g, at(*kmh), &continuous).0).fold(0.0, f64::max)).collect();
    let grades = GRADES
        .iter()
        .map(|percent| GradeLine {
            grade_percent: *percent,
            force_n: speed_kmh.iter().map(|kmh| chain.road.steady_n(at(*kmh), percent / 100.0)).collect(),
        })
        .collect();
    let mut pulls = crate::figures::performance::pulls(document, chain, &peak);
    let target = 0.98 * at(top_speed_kmh);
    let run = quickest(&mut pulls, 0.0, target);
    let every = (run.points.len() / RUN_POINTS).max(1);
    let last = run.points.len() - 1;
    let kept: Vec<_> = run.points.iter().enumerate().filter(|(i, _)| i % every == 0 || *i == last).map(|(_, p)| p).collect();
    Ok(Curves {
        speed_kmh,
        gears,
        continuous_n,
        grades,
        grip_n: chain.traction.drive_n,
        binding: binding(chain, &peak, top_speed_kmh),
        run: RunCurve {
            time_s: kept.iter().map(|p| p.time_s).collect(),
            speed_kmh: kept.iter().map(|p| p.speed_m_s * KMH_PER_M_S).collect(),
            distance_m: kept.iter().map(|p| p.distance_m).collect(),
        },
    })
}
