//! Sprints, top speed in each gear and hills.

use serde::Serialize;

use crate::document::{Document, Measure};
use crate::powertrain::{Cause, Chain, Rating};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{Gears, HillGrade, Pull, SPRINT_STEP_M_S, Sprint, TopSpeed, hill_at_speed, hill_start, sprint, top_speed};

/// Sprints always computed, km/h.
const USUAL_SPRINTS: [(f64, f64); 4] = [(0.0, 30.0), (0.0, 50.0), (0.0, 80.0), (0.0, 100.0)];
/// State of charge of performance runs when none is given.
const USUAL_SOC: f64 = 0.8;

/// Performance figures at one state of charge.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Performance {
    /// State of charge they hold at.
    pub soc: f64,
    /// Top speed on burst ratings, km/h.
    pub top_speed_kmh: f64,
    /// In this gear.
    pub top_speed_gear: u32,
    /// What stops more.
    pub top_speed_limited_by: Cause,
    /// Top speed on continuous ratings, km/h.
    pub sustained_top_speed_kmh: f64,
    /// What stops more for ever.
    pub sustained_top_speed_limited_by: Cause,
    /// Top speed in each gear.
    pub gears: Vec<GearTopSpeed>,
    /// Times between speeds.
    pub sprints: Vec<SprintResult>,
    /// Hills.
    pub hills: HillResults,
}

/// Top speed in one gear.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GearTopSpeed {
    /// Gear, from 1.
    pub gear: u32,
    /// km/h.
    pub speed_kmh: f64,
    /// What stops more.
    pub limited_by: Cause,
}

/// Time between two speeds.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SprintResult {
    /// km/h.
    pub from_kmh: f64,
    /// km/h.
    pub to_kmh: f64,
    /// s; absent when the second speed is not reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub time_s: Option<f64>,
    /// Distance, m.
    pub distance_m: f64,
    /// Highest speed reached, km/h.
    pub reached_kmh: f64,
    /// Gears used, in order.
    pub gears: Vec<u32>,
    /// What limits it for most of the time.
    pub limited_by: Cause,
}

impl SprintResult {
    pub(super) fn of(from_kmh: f64, to_kmh: f64, run: &Sprint) -> Self {
        Self {
            from_kmh,
            to_kmh,
            time_s: run.time_s,
            distance_m: run.distance_m,
            reached_kmh: run.reached_m_s * KMH_PER_M_S,
            gears: run.gears.clone(),
            limited_by: run.limited_by,
        }
    }
}

/// Hills.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HillResults {
    /// Steepest start.
    pub start: HillGrade,
    /// Steepest at each of some speeds, burst and for ever.
    pub at_speed: Vec<HillAtSpeed>,
}

/// Steepest grade at one speed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HillAtSpeed {
    /// km/h.
    pub speed_kmh: f64,
    /// On burst ratings.
    pub burst: HillGrade,
    /// On continuous ratings.
    pub sustained: HillGrade,
}

/// State of charge of performance runs.
pub(super) fn run_soc(document: &Document, chain: &Chain) -> f64 {
    document.brief.performance.soc.unwrap_or(USUAL_SOC.clamp(chain.pack.soc_min, chain.pack.soc_max))
}

fn highest(tops: impl Iterator<Item = TopSpeed>) -> TopSpeed {
    tops.reduce(|a, b| if b.speed_m_s > a.speed_m_s { b } else { a }).unwrap_or(TopSpeed { speed_m_s: 0.0, cause: Cause::None, gear: 1 })
}

/// Performance of a document's chain.
pub(super) fn of(document: &Document, chain: &Chain) -> Performance {
    let brief = &document.brief;
    let soc = run_soc(document, chain);
    let burst = chain.limits(soc, chain.low_voltage_w, Rating::Burst);
    let forever = chain.limits(soc, chain.low_voltage_w, Rating::Continuous);
    let tops: Vec<TopSpeed> = chain.gears.iter().map(|g| top_speed(chain, g, &burst)).collect();
    let best = highest(tops.iter().copied());
    let sustained = highest(chain.gears.iter().map(|g| top_speed(chain, g, &forever)));

    let mut pull = Pull::new(chain, Gears::of(brief.performance.gear), &burst, SPRINT_STEP_M_S);
    let mut ranges: Vec<(f64, f64)> = USUAL_SPRINTS.to_vec();
    ranges.extend(brief.performance.sprints.iter().map(|s| (s.from_kmh, s.to_kmh)));
    let mut hill_speeds = vec![20.0, 50.0];
    for goal in &brief.goals {
        match goal.measure {
            Measure::Sprint { from_kmh, to_kmh, .. } => ranges.push((from_kmh, to_kmh)),
            Measure::HillAtSpeed { speed_kmh, .. } => hill_speeds.push(speed_kmh),
            _ => {}
        }
    }
    let mut sprints: Vec<SprintResult> = Vec::new();
    for (from, to) in ranges {
        if !sprints.iter().any(|s| s.from_kmh == from && s.to_kmh == to) {
            let run = sprint(&mut pull, from / KMH_PER_M_S, to / KMH_PER_M_S);
            sprints.push(SprintResult::of(from, to, &run));
        }
    }
    hill_speeds.sort_by(f64::total_cmp);
    hill_speeds.dedup();
    Performance {
        soc,
        top_speed_kmh: best.speed_m_s * KMH_PER_M_S,
        top_speed_gear: best.gear,
        top_speed_limited_by: best.cause,
        sustained_top_speed_kmh: sustained.speed_m_s * KMH_PER_M_S,
        sustained_top_speed_limited_by: sustained.cause,
        gears: tops.iter().map(|t| GearTopSpeed { gear: t.gear, speed_kmh: t.speed_m_s * KMH_PER_M_S, limited_by: t.cause }).collect(),
        sprints,
        hills: HillResults {
            start: hill_start(chain, soc),
            at_speed: hill_speeds
                .iter()
                .map(|kmh| HillAtSpeed {
                    speed_kmh: *kmh,
                    burst: hill_at_speed(chain, soc, kmh / KMH_PER_M_S, Rating::Burst),
                    sustained: hill_at_speed(chain, soc, kmh / KMH_PER_M_S, Rating::Continuous),
                })
                .collect(),
        },
    }
}
