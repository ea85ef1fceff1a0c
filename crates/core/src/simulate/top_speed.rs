//! Top speed in a gear and its cause.

use crate::powertrain::{Cause, Chain, GearPath, Limits};
use crate::quantity::crossing;

/// Top speed in one gear.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TopSpeed {
    /// m/s.
    pub speed_m_s: f64,
    /// What stops more.
    pub cause: Cause,
    /// In this gear.
    pub gear: u32,
    /// In this range of the transfer box.
    pub range: u32,
}

/// Scan step in m/s; a hump narrower than this between two crossings is not seen.
const SCAN_M_S: f64 = 0.5;

/// Highest speed reached from rest in a gear on the level: where the greatest pull first falls below the resistance,
/// or the motor's highest speed.
#[must_use]
pub fn top_speed(chain: &Chain, gear: &GearPath, limits: &Limits) -> TopSpeed {
    let rpm_limit_m_s = chain.motor.max_speed_rad_s / gear.rad_per_m;
    let surplus = |v: f64| chain.full_force(gear, v, limits).0 - chain.road.steady_n(v, 0.0);
    // Whether there is enough is told without how much there is.
    let falls_short = |v: f64| !chain.pulls(gear, v, chain.road.steady_n(v, 0.0), limits);
    let at = |v: f64, cause: Cause| TopSpeed { speed_m_s: v, cause, gear: gear.gear, range: gear.range };
    if surplus(0.0) <= 0.0 {
        return at(0.0, chain.full_force(gear, 0.0, limits).1);
    }
    let mut low = 0.0;
    while low < rpm_limit_m_s {
        let high = (low + SCAN_M_S).min(rpm_limit_m_s * (1.0 - 1e-12));
        if falls_short(high) {
            let v = crossing(low, high, surplus).unwrap_or(low);
            return at(v, chain.full_force(gear, v, limits).1);
        }
        if low + SCAN_M_S >= rpm_limit_m_s {
            break;
        }
        low = high;
    }
    at(rpm_limit_m_s, Cause::MotorSpeed)
}
