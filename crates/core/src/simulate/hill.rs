//! Hills: steepest start, steepest at a speed.

use super::Best;
use crate::powertrain::{Cause, Chain, GearPath, Limits, Rating};
use crate::vehicle::{Road, Traction};
use serde::Serialize;

/// A grade and what stops a steeper one.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HillGrade {
    /// Rise over run in percent; 0 when not even the level is held. Capped at 100.
    pub grade_percent: f64,
    /// What stops more.
    pub limited_by: Cause,
    /// In this gear.
    pub gear: u32,
    /// In this range of the transfer box.
    pub range: u32,
}

/// A wall: grades are reported up to here, percent.
const STEEPEST_PERCENT: f64 = 100.0;

/// Grade in percent that a pull climbs at a speed, whatever the tyres say, and the grade that they allow.
pub(crate) fn climb_and_grip(road: &Road, traction: &Traction, force_n: f64, v_m_s: f64) -> (f64, f64) {
    let percent = road.steepest(force_n, v_m_s).map_or(0.0, |g| 100.0 * g);
    (percent, grip_percent(road, traction.drive_n, v_m_s))
}

/// Steepest grade in percent that a grip on the level allows at a speed: `(T - c W) cos - W sin = air`, grip and rolling resistance falling
/// with the cosine of the slope while the air does not. With so much grip for each kilogram it only grows with the mass, or only falls.
pub(crate) fn grip_percent(road: &Road, drive_n: f64, v_m_s: f64) -> f64 {
    let weight_n = road.mass_kg * crate::quantity::units::STANDARD_GRAVITY_M_S2;
    let along_n = drive_n - (road.rolling + road.rolling_per_m_s * v_m_s) * weight_n;
    let (against_n, whole_n) = (road.air_n(v_m_s) + road.undriven_axle_drag_n, along_n.hypot(weight_n));
    // With phi = atan(W / along): whole cos(th + phi) = against.
    let grade = || ((against_n / whole_n).clamp(-1.0, 1.0).acos() - weight_n.atan2(along_n)).tan().max(0.0);
    if along_n <= against_n { 0.0 } else { 100.0 * grade() }
}

fn grade(chain: &Chain, best: Best, v_m_s: f64) -> HillGrade {
    let (percent, grip_percent) = climb_and_grip(&chain.road, &chain.traction, best.force_n, v_m_s);
    let (grade_percent, limited_by) = if grip_percent < percent || best.cause == Cause::Traction {
        (grip_percent.min(percent), Cause::Traction)
    } else {
        (percent, best.cause)
    };
    HillGrade { grade_percent: grade_percent.min(STEEPEST_PERCENT), limited_by, gear: best.gear, range: best.range }
}

/// Steepest grade on which the greatest pull from rest still balances weight and rolling resistance.
#[must_use]
pub fn hill_start(chain: &Chain, soc: f64) -> HillGrade {
    let limits = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
    grade(chain, Best::at(chain, 0.0, &limits), 0.0)
}

/// As [`hill_start`] in some gears only.
#[must_use]
pub fn hill_start_in(chain: &Chain, gears: &[GearPath], limits: &Limits) -> HillGrade {
    grade(chain, Best::among(chain, gears, 0.0, limits), 0.0)
}

/// Steepest grade at a steady speed, on peak or on continuous ratings.
#[must_use]
pub fn hill_at_speed(chain: &Chain, soc: f64, v_m_s: f64, rating: Rating) -> HillGrade {
    let limits = chain.limits(soc, chain.low_voltage_w, rating);
    grade(chain, Best::at(chain, v_m_s, &limits), v_m_s)
}
