//! Chains that cannot keep up with a trip, told before it is driven: not even at more force than they have at any charge do they follow it.

use super::bounds::{Bound, Known, OtherEnd, PackLook};
use super::subsystems::GearSide;
use crate::figures::Duty;
use crate::simulate::{OFF_TRACE_M_S, Tolerance};
use crate::trip::Trace;
use crate::vehicle::Road;

/// Width of a cell of speed, m/s.
const CELL_M_S: f64 = 0.5;
/// The force within a cell is no more than so many times that at its slow end: as much as a curve may rise.
const RISING: f64 = 1.02;

/// Whether a chain falls behind a trace by more than following it allows.
///
/// At every moment the vehicle is no quicker than one that takes the greatest force of any charge against the resistance of its slower start of
/// each step, so it loses no less way and is off the trace for no less time.
pub(super) fn falls_behind(look: &Bound<'_>, road: &Road, gears: &[&GearSide], trace: &Trace) -> bool {
    let Some(pack) = look.pack else { return false };
    // As it is at the start of the trip, where the voltage is highest.
    let on = pack.on_trip;
    let full = PackLook { run_v: on.start_v, resistance_ohm: on.resistance_ohm, peak_a: on.peak_a, ..pack };
    let worst = OtherEnd { heaviest_kg: road.mass_kg, ..look.worst };
    let look = Bound { pack: Some(full), worst, known: Known::nothing(), ..*look };
    let (power, grip_n, mass_kg) = (look.power(Duty::Peak), look.grip_n(), road.mass_kg);
    // Greatest force over inert mass by cells of speed, and the lightest and heaviest inert mass.
    let pull = |cell: usize| {
        let v_m_s = cell as f64 * CELL_M_S;
        let turning = gears.iter().filter(|g| v_m_s < g.fastest_m_s * (1.0 + 1e-9));
        turning.map(|g| (RISING * look.gear_n(g, v_m_s, &power)).min(grip_n) / g.inert(mass_kg)).fold(0.0, f64::max)
    };
    let inert = gears.iter().map(|g| g.inert(mass_kg)).fold((f64::INFINITY, 0.0_f64), |(a, b), x| (a.min(x), b.max(x)));
    let tolerance = Tolerance::of(trace);
    let mut pulls: Vec<f64> = Vec::new();
    let (mut v_m_s, mut lost_m, mut off_s) = (0.0_f64, 0.0, 0.0);
    for pair in trace.points.windows(2) {
        let (from, to) = (pair[0], pair[1]);
        let dt = to.time_s - from.time_s;
        let wanted_m_s = to.speed_m_s;
        if wanted_m_s <= v_m_s {
            v_m_s = wanted_m_s;
            continue;
        }
        let cell = (v_m_s / CELL_M_S) as usize;
        while pulls.len() <= cell {
            pulls.push(pull(pulls.len()));
        }
        let resistance_n = road.resistance_n(v_m_s, (from.sin, from.cos));
        let accel_m_s2 = pulls[cell] - resistance_n / if resistance_n > 0.0 { inert.1 } else { inert.0 };
        // One that slows down does so ever less: counted as if it held its speed.
        let reached_m_s = v_m_s + accel_m_s2.max(0.0) * dt;
        if reached_m_s < wanted_m_s {
            let (asked_m, driven_m) = (0.5 * (from.speed_m_s + wanted_m_s) * dt, 0.5 * (v_m_s + reached_m_s) * dt);
            lost_m += (asked_m - driven_m).max(0.0);
            // A hair for sums made in another order.
            if wanted_m_s - reached_m_s > OFF_TRACE_M_S + 1e-6 {
                off_s += dt;
            }
            if tolerance.is_exceeded(off_s * (1.0 - 1e-9), lost_m * (1.0 - 1e-6)) {
                return true;
            }
        }
        v_m_s = reached_m_s.min(wanted_m_s);
    }
    false
}
