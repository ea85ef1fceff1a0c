//! Sprints, top speed in each gear and hills.

use serde::Serialize;

use crate::document::{Document, Measure};
use crate::pack::PackModel;
use crate::powertrain::heat::Warming;
use crate::powertrain::{Cause, Chain, GearPath, Limits, Rating};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{HillGrade, Pull, SPRINT_STEP_M_S, Sprint, TopSpeed, hill_at_speed, hill_start, quickest, top_speed};

/// Sprints always computed, km/h.
const USUAL_SPRINTS: [(f64, f64); 4] = [(0.0, 30.0), (0.0, 50.0), (0.0, 80.0), (0.0, 100.0)];
/// State of charge of performance runs when none is given.
const USUAL_SOC: f64 = 0.8;

/// PerformanceResults figures at one state of charge.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PerformanceResults {
    /// State of charge they hold at.
    pub soc: f64,
    /// Top speed on burst ratings, km/h.
    pub top_speed_kmh: f64,
    /// In this gear.
    pub top_speed_gear: u32,
    /// In this range of the transfer box.
    pub top_speed_range: u32,
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
    /// How long the burst ratings hold.
    pub heat: HeatResults,
}

/// Heat of motor and controller.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeatResults {
    /// Motor.
    pub motor: PartHeat,
    /// Controller.
    pub controller: PartHeat,
    /// "Warm" means after hours on the level at this speed, km/h.
    pub warm_kmh: f64,
}

/// Heat of one part.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PartHeat {
    /// Time constant, s.
    pub time_constant_s: f64,
    /// Highest temperature, degC.
    pub limit_c: f64,
    /// Temperature when warm, degC.
    pub warm_c: f64,
    /// Seconds the greatest load of this chain can be held from the air's temperature; absent when for ever.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub burst_cold_s: Option<f64>,
    /// The same from warm.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub burst_warm_s: Option<f64>,
}

/// Top speed in one gear.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GearTopSpeed {
    /// Gear, from 1.
    pub gear: u32,
    /// Range of the transfer box, from 1.
    pub range: u32,
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
    pub(crate) fn of(from_kmh: f64, to_kmh: f64, run: &Sprint) -> Self {
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
    /// Held for ten minutes from warm, as far as heat allows.
    pub ten_minutes: HillGrade,
}

/// State of charge of performance runs.
pub(crate) fn run_soc(document: &Document, pack: &PackModel) -> f64 {
    document.brief.performance.soc.unwrap_or(USUAL_SOC.clamp(pack.soc_min, pack.soc_max))
}

fn highest(tops: impl Iterator<Item = TopSpeed>) -> TopSpeed {
    tops.reduce(|a, b| if b.speed_m_s > a.speed_m_s { b } else { a }).unwrap_or(TopSpeed {
        speed_m_s: 0.0,
        cause: Cause::None,
        gear: 1,
        range: 1,
    })
}

/// Tables of the runs a document asks for: the gear it holds, or every range of the transfer box.
pub(crate) fn pulls<'a>(document: &Document, chain: &'a Chain, limits: &'a Limits) -> Vec<Pull<'a>> {
    let held: Option<&GearPath> = document.brief.performance.gear.map(|g| chain.gear(g));
    match held {
        Some(gear) => vec![Pull::new(chain, std::slice::from_ref(gear), limits, SPRINT_STEP_M_S)],
        None => chain.ranges().map(|gears| Pull::new(chain, gears, limits, SPRINT_STEP_M_S)).collect(),
    }
}

/// Sprints of a brief in km/h: the usual ones, those asked for and those of its goals, each once.
pub(crate) fn sprint_ranges(document: &Document) -> Vec<(f64, f64)> {
    let brief = &document.brief;
    let asked = brief.performance.sprints.iter().map(|s| (s.from_kmh, s.to_kmh));
    let goals = brief.goals.iter().filter_map(|g| match g.measure {
        Measure::Sprint { from_kmh, to_kmh, .. } => Some((from_kmh, to_kmh)),
        _ => None,
    });
    let mut ranges = Vec::new();
    for range in USUAL_SPRINTS.into_iter().chain(asked).chain(goals) {
        if !ranges.contains(&range) {
            ranges.push(range);
        }
    }
    ranges
}

/// Speeds at which hills are computed, km/h, rising.
pub(crate) fn hill_speeds(document: &Document) -> Vec<f64> {
    let mut speeds = vec![20.0, 50.0];
    speeds.extend(document.brief.goals.iter().filter_map(|g| match g.measure {
        Measure::HillAtSpeed { speed_kmh, .. } => Some(speed_kmh),
        _ => None,
    }));
    speeds.sort_by(f64::total_cmp);
    speeds.dedup();
    speeds
}

/// Highest top speed over gears and ranges.
pub(crate) fn top(chain: &Chain, limits: &Limits) -> TopSpeed {
    highest(chain.gears.iter().map(|g| top_speed(chain, g, limits)))
}

/// Speed of "warm": what a brief compares links at, else 50 km/h or 60 % of a lower top speed.
pub(crate) fn warm_kmh(document: &Document, top_kmh: f64) -> f64 {
    document.brief.performance.reference_kmh.unwrap_or(USUAL_KMH.min(TOP_SPEED_SHARE * top_kmh).max(1.0))
}

/// Reference speed when none is given, km/h, and its share of a lower top speed.
const USUAL_KMH: f64 = 50.0;
const TOP_SPEED_SHARE: f64 = 0.6;

/// Warmth of motor and controller after hours on the level at a speed, each no higher than its limit.
pub(crate) fn level_warmth(chain: &Chain, soc: f64, v_m_s: f64) -> (f64, f64) {
    let supply = chain.supply(soc, chain.low_voltage_w);
    let force_n = chain.road.steady_n(v_m_s, 0.0);
    let draws = chain.gears.iter().filter_map(|g| chain.draw(g, v_m_s, force_n, &supply));
    let Some(draw) = draws.min_by(|a, b| a.bus_w.total_cmp(&b.bus_w)) else { return (0.0, 0.0) };
    let controller_load = if chain.controller_heats_by_torque { draw.torque_nm } else { draw.bus_w / draw.terminals.volts_v };
    let at = |w: &Warming, load: f64| w.target(load).min(w.limit);
    (at(&chain.motor_heat, draw.torque_nm), at(&chain.controller_heat, controller_load))
}

/// Ratings of ten minutes from warm.
pub(crate) fn ten_minutes((motor_warmth, controller_warmth): (f64, f64)) -> Rating {
    Rating::Held { seconds: 600.0, motor_warmth, controller_warmth }
}

fn heat(chain: &Chain, burst: &Limits, warm_kmh: f64, warmth: (f64, f64)) -> HeatResults {
    // The greatest torque this chain makes, wherever along the speeds that is.
    let (torque_nm, _) = chain.full_torque(0.0, burst);
    let amps = burst.bus_w / burst.ocv_v;
    let part = |w: &Warming, load: f64, warm: f64| PartHeat {
        time_constant_s: w.tau_s,
        limit_c: w.temperature_c(w.limit),
        warm_c: w.temperature_c(warm),
        burst_cold_s: w.seconds_left(load, 0.0),
        burst_warm_s: w.seconds_left(load, warm),
    };
    HeatResults {
        motor: part(&chain.motor_heat, torque_nm, warmth.0),
        controller: part(&chain.controller_heat, if chain.controller_heats_by_torque { torque_nm } else { amps }, warmth.1),
        warm_kmh,
    }
}

/// PerformanceResults of a document's chain.
pub(crate) fn of(document: &Document, chain: &Chain) -> PerformanceResults {
    let soc = run_soc(document, &chain.pack);
    let burst = chain.limits(soc, chain.low_voltage_w, Rating::Burst);
    let forever = chain.limits(soc, chain.low_voltage_w, Rating::Continuous);
    let tops: Vec<TopSpeed> = chain.gears.iter().map(|g| top_speed(chain, g, &burst)).collect();
    let best = highest(tops.iter().copied());
    let sustained = top(chain, &forever);
    let mut pulls = pulls(document, chain, &burst);
    let sprints = sprint_ranges(document)
        .into_iter()
        .map(|(from, to)| SprintResult::of(from, to, &quickest(&mut pulls, from / KMH_PER_M_S, to / KMH_PER_M_S)))
        .collect();
    let warm_kmh = warm_kmh(document, best.speed_m_s * KMH_PER_M_S);
    let warmth = level_warmth(chain, soc, warm_kmh / KMH_PER_M_S);
    let at_speed = |kmh: f64| {
        let hill = |rating| hill_at_speed(chain, soc, kmh / KMH_PER_M_S, rating);
        HillAtSpeed {
            speed_kmh: kmh,
            burst: hill(Rating::Burst),
            sustained: hill(Rating::Continuous),
            ten_minutes: hill(ten_minutes(warmth)),
        }
    };
    PerformanceResults {
        soc,
        top_speed_kmh: best.speed_m_s * KMH_PER_M_S,
        top_speed_gear: best.gear,
        top_speed_range: best.range,
        top_speed_limited_by: best.cause,
        sustained_top_speed_kmh: sustained.speed_m_s * KMH_PER_M_S,
        sustained_top_speed_limited_by: sustained.cause,
        gears: tops
            .iter()
            .map(|t| GearTopSpeed { gear: t.gear, range: t.range, speed_kmh: t.speed_m_s * KMH_PER_M_S, limited_by: t.cause })
            .collect(),
        sprints,
        hills: HillResults { start: hill_start(chain, soc), at_speed: hill_speeds(document).into_iter().map(at_speed).collect() },
        heat: heat(chain, &burst, warm_kmh, warmth),
    }
}
