//! Conditions that performance figures hold at, and the pieces that the estimate and its bands share.

use crate::document::{Document, Measure};
use crate::pack::PackModel;
use crate::powertrain::heat::ThermalModel;
use crate::powertrain::{Cause, Chain, GearPath, Limits, PowerFlow, Rating, Rise};
use crate::simulate::{ACCELERATION_STEP_M_S, TopSpeed, TractiveForce, top_speed};

/// State of charge of performance runs when none is given.
const USUAL_SOC: f64 = 0.8;

/// State of charge of performance runs.
pub(crate) fn run_soc(document: &Document, pack: &PackModel) -> f64 {
    document.brief.performance.soc.unwrap_or(USUAL_SOC.clamp(pack.soc_min, pack.soc_max))
}

/// The highest of some top speeds.
pub(crate) fn highest(tops: impl Iterator<Item = TopSpeed>) -> TopSpeed {
    tops.reduce(|a, b| if b.speed_m_s > a.speed_m_s { b } else { a }).unwrap_or(TopSpeed {
        speed_m_s: 0.0,
        cause: Cause::None,
        gear: 1,
        range: 1,
    })
}

/// Tables of the runs a document asks for: the gear it holds, or every range of the transfer box.
pub(crate) fn pulls<'a>(document: &Document, chain: &'a Chain, limits: &'a Limits) -> Vec<TractiveForce<'a>> {
    let held: Option<&GearPath> = document.brief.performance.gear.map(|g| chain.gear(g));
    match held {
        Some(gear) => vec![TractiveForce::new(chain, std::slice::from_ref(gear), limits, ACCELERATION_STEP_M_S)],
        None => chain.ranges().map(|gears| TractiveForce::new(chain, gears, limits, ACCELERATION_STEP_M_S)).collect(),
    }
}

/// Accelerations of a brief in km/h: the usual ones, those asked for and those of its goals, each once.
pub(crate) fn acceleration_ranges(document: &Document) -> Vec<(f64, f64)> {
    let brief = &document.brief;
    let asked = brief.performance.accelerations.iter().map(|s| (s.from_kmh, s.to_kmh));
    let goals = brief.goals.iter().filter_map(|g| match g.measure {
        Measure::Acceleration { from_kmh, to_kmh, .. } => Some((from_kmh, to_kmh)),
        _ => None,
    });
    let mut ranges = Vec::new();
    for range in brief.performance.sprints.ranges().into_iter().chain(asked).chain(goals) {
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

/// Speeds of the motor that its greatest power is looked for at.
const POWER_CELLS: u32 = 200;

/// Greatest power at the shafts of all motors at peak ratings, W: the best of two hundred speeds, then of two hundred around it, so that
/// a limit is not kept by looking past the peak.
pub(crate) fn greatest_shaft_w(chain: &Chain, limits: &Limits) -> f64 {
    let best = |from: f64, to: f64| {
        let at = |cell: u32| from + f64::from(cell) / f64::from(POWER_CELLS) * (to - from);
        let power = |speed: f64| (speed, chain.full_torque(speed, limits).0 * speed);
        (0..=POWER_CELLS).map(|cell| power(at(cell))).fold((from, 0.0), |a, b| if b.1 > a.1 { b } else { a })
    };
    let top = chain.motor.max_speed_rad_s;
    let (speed, near_w) = best(0.0, top);
    let cell = top / f64::from(POWER_CELLS);
    near_w.max(best((speed - cell).max(0.0), (speed + cell).min(top)).1)
}

/// Continuous rating of all motors, W.
pub(crate) fn rated_w(document: &Document) -> f64 {
    document.design.motor.as_ref().map_or(0.0, |m| m.continuous_power_w * f64::from(document.design.motor_count))
}

/// Speed of "warm": what a brief compares links at, else 50 km/h or 60 % of a lower top speed.
pub(crate) fn warm_kmh(document: &Document, top_kmh: f64) -> f64 {
    document.brief.performance.reference_kmh.unwrap_or(USUAL_KMH.min(TOP_SPEED_SHARE * top_kmh).max(1.0))
}

/// Reference speed when none is given, km/h, and its share of a lower top speed.
const USUAL_KMH: f64 = 50.0;
const TOP_SPEED_SHARE: f64 = 0.6;

/// Temperature rise of motor and controller after hours on the level at a speed, each no higher than its limit.
pub(crate) fn level_rise(chain: &Chain, soc: f64, v_m_s: f64) -> Rise {
    let supply = chain.supply(soc, chain.low_voltage_w);
    let force_n = chain.road.steady_n(v_m_s, 0.0);
    let flows = chain.gears.iter().filter_map(|g| chain.power_flow(chain.motor_point(g, v_m_s, force_n, &supply)?, &supply));
    let Some(PowerFlow { point, terminals }) = flows.min_by(|a, b| a.point.bus_w.total_cmp(&b.point.bus_w)) else { return Rise::default() };
    let at = |w: &ThermalModel, loss: f64| w.target(loss).min(w.limit);
    Rise {
        motor: at(&chain.motor_heat, point.motor_w),
        controller: at(&chain.controller_heat, chain.controller_loss(point.torque_nm, point.bus_w / terminals.volts_v)),
    }
}

/// Ratings of ten minutes from warm.
pub(crate) fn ten_minutes(rise: Rise) -> Rating {
    Rating::Held { seconds: 600.0, rise }
}
