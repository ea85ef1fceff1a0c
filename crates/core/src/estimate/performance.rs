//! Accelerations, top speed in each gear and hills.

use serde::Serialize;

use crate::document::Document;
use crate::figures::performance::{
    acceleration_ranges, greatest_shaft_w, highest, hill_speeds, level_rise, pulls, rated_w, run_soc, ten_minutes, top, warm_kmh,
};
use crate::powertrain::heat::ThermalModel;
use crate::powertrain::{Cause, Chain, Limits, Rating, Rise};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{Acceleration, HillGrade, TopSpeed, hill_at_speed, hill_start, quickest, top_speed};

/// Performance figures at one state of charge.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PerformanceResults {
    /// State of charge they hold at.
    pub soc: f64,
    /// Top speed on peak ratings, km/h.
    pub top_speed_kmh: f64,
    /// In this gear.
    pub top_speed_gear: u32,
    /// In this range of the transfer box.
    pub top_speed_range: u32,
    /// What stops more.
    pub top_speed_limited_by: Cause,
    /// Top speed on continuous ratings, km/h.
    pub continuous_top_speed_kmh: f64,
    /// What stops more continuously.
    pub continuous_top_speed_limited_by: Cause,
    /// Greatest power at the shafts of all motors on peak ratings, W.
    pub peak_power_w: f64,
    /// Continuous rating of all motors, W.
    pub rated_power_w: f64,
    /// Top speed in each gear.
    pub gears: Vec<GearTopSpeed>,
    /// Times between speeds.
    pub accelerations: Vec<AccelerationResult>,
    /// Hills.
    pub hills: HillResults,
    /// How long the peak ratings hold.
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
    /// Seconds the greatest load of this chain can be held from the air's temperature; absent when it is held continuously.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub peak_cold_s: Option<f64>,
    /// The same from warm.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub peak_warm_s: Option<f64>,
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
pub struct AccelerationResult {
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

impl AccelerationResult {
    pub(crate) fn of(from_kmh: f64, to_kmh: f64, run: &Acceleration) -> Self {
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
    /// Steepest at each of some speeds, peak and continuously.
    pub at_speed: Vec<HillAtSpeed>,
}

/// Steepest grade at one speed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HillAtSpeed {
    /// km/h.
    pub speed_kmh: f64,
    /// On peak ratings.
    pub peak: HillGrade,
    /// On continuous ratings.
    pub continuous: HillGrade,
    /// Held for ten minutes from warm, as far as heat allows.
    pub ten_minutes: HillGrade,
}

fn heat(chain: &Chain, peak: &Limits, warm_kmh: f64, rise: Rise) -> HeatResults {
    // The greatest torque this chain makes, at the speed up to which the motor's own rating gives it.
    let (torque_nm, _) = chain.full_torque(0.0, peak);
    let motor_w = chain.motor.loss_w(torque_nm, chain.motor.base_speed_rad_s);
    let part = |w: &ThermalModel, loss: f64, warm: f64| PartHeat {
        time_constant_s: w.tau_s,
        limit_c: w.temperature_c(w.limit),
        warm_c: w.temperature_c(warm),
        peak_cold_s: w.seconds_left(loss, 0.0),
        peak_warm_s: w.seconds_left(loss, warm),
    };
    HeatResults {
        motor: part(&chain.motor_heat, motor_w, rise.motor),
        controller: part(&chain.controller_heat, chain.controller_loss(torque_nm, peak.bus_w / peak.ocv_v), rise.controller),
        warm_kmh,
    }
}

/// Performance of a document's chain.
pub(crate) fn of(document: &Document, chain: &Chain) -> PerformanceResults {
    let soc = run_soc(document, &chain.pack);
    let peak = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
    let continuous = chain.limits(soc, chain.low_voltage_w, Rating::Continuous);
    let tops: Vec<TopSpeed> = chain.gears.iter().map(|g| top_speed(chain, g, &peak)).collect();
    let best = highest(tops.iter().copied());
    let continuous = top(chain, &continuous);
    let mut pulls = pulls(document, chain, &peak);
    let accelerations = acceleration_ranges(document)
        .into_iter()
        .map(|(from, to)| AccelerationResult::of(from, to, &quickest(&mut pulls, from / KMH_PER_M_S, to / KMH_PER_M_S)))
        .collect();
    let warm_kmh = warm_kmh(document, best.speed_m_s * KMH_PER_M_S);
    let rise = level_rise(chain, soc, warm_kmh / KMH_PER_M_S);
    let at_speed = |kmh: f64| {
        let hill = |rating| hill_at_speed(chain, soc, kmh / KMH_PER_M_S, rating);
        HillAtSpeed { speed_kmh: kmh, peak: hill(Rating::Peak), continuous: hill(Rating::Continuous), ten_minutes: hill(ten_minutes(rise)) }
    };
    PerformanceResults {
        soc,
        top_speed_kmh: best.speed_m_s * KMH_PER_M_S,
        top_speed_gear: best.gear,
        top_speed_range: best.range,
        top_speed_limited_by: best.cause,
        continuous_top_speed_kmh: continuous.speed_m_s * KMH_PER_M_S,
        continuous_top_speed_limited_by: continuous.cause,
        peak_power_w: greatest_shaft_w(chain, &peak),
        rated_power_w: rated_w(document),
        gears: tops
            .iter()
            .map(|t| GearTopSpeed { gear: t.gear, range: t.range, speed_kmh: t.speed_m_s * KMH_PER_M_S, limited_by: t.cause })
            .collect(),
        accelerations,
        hills: HillResults { start: hill_start(chain, soc), at_speed: hill_speeds(document).into_iter().map(at_speed).collect() },
        heat: heat(chain, &peak, warm_kmh, rise),
    }
}
