//! Following a trace in short steps where a limit falls inside: at full force until back on it.

use super::cycle_run::{CycleRun, Motion};
use super::drive::{Drive, least_draw};
use crate::powertrain::{Chain, GearPath, Limits, PowerFlow, Rating, Supply};
use crate::trip::Point;

/// Gap to the trace, m/s, that is not closed within a second at any acceleration a tyre can pass on an ordinary slope.
const FAR_BEHIND_M_S: f64 = 4.0;

/// Drives from one point of the trace to the next in sub-steps, on the trace's clock.
pub(super) fn second(chain: &Chain, manner: &Drive<'_>, passage: &mut CycleRun, from: Point, to: Point, dt: f64) {
    // Far behind, the vehicle is at full force throughout, where speed changes smoothly and longer steps do.
    let far_behind = from.speed_m_s.min(to.speed_m_s) - passage.speed_m_s > FAR_BEHIND_M_S;
    let n = if far_behind { (manner.sub_steps / 2).max(2) } else { manner.sub_steps };
    let h = dt / f64::from(n);
    // The motor's highest speed in the tallest gear allowed; a hair below, so that rounding never lands above it.
    let slowest = manner.gears.iter().map(|g| g.rad_per_m).fold(f64::INFINITY, f64::min);
    let top_m_s = chain.motor.max_speed_rad_s / slowest * (1.0 - 1e-9);
    for i in 0..n {
        let aux_w = chain.low_voltage_w + manner.hvac_w;
        let (supply, mut limits) = (chain.supply(passage.soc, aux_w), chain.limits(passage.soc, aux_w, Rating::Peak));
        limits.heat_nm = chain.within_heat_nm(&limits, (passage.motor_rise, passage.controller_rise), h);
        if passage.is_hot(chain) {
            passage.derated_s += h;
        }
        let target = from.speed_m_s + (to.speed_m_s - from.speed_m_s) * f64::from(i + 1) / f64::from(n);
        let v = passage.speed_m_s;
        // Rounding may leave a hair below standstill.
        let target = target.min(top_m_s).max(0.0);
        if v == 0.0 && target == 0.0 {
            passage.stand(chain, &supply, h);
            continue;
        }
        let middle = 0.5 * (v + target);
        let resistance_n = resistance(chain, from, middle);
        let demand = (middle, resistance_n, (target - v) / h);
        if let Some((draw, gear)) = least_draw(chain, manner, &supply, demand, |d| chain.fits(d, &limits)) {
            passage.advance(
                chain,
                &supply,
                &draw,
                &Motion { sin: from.sin, cos: from.cos, factor: gear.rotating_factor, to_m_s: target, dt: h },
            );
        } else {
            at_full_force(chain, manner, passage, from, (target, h), &supply, &limits);
        }
        if passage.exhausted {
            return;
        }
    }
}

fn resistance(chain: &Chain, at: Point, v_m_s: f64) -> f64 {
    chain.road.resistance_n(v_m_s, (at.sin, at.cos))
}

/// Best acceleration at a speed over the gears allowed, with the force and gear that give it.
fn hardest<'a>(chain: &Chain, manner: &Drive<'a>, limits: &Limits, at: Point, v_m_s: f64) -> (f64, f64, &'a GearPath) {
    let mut best = (f64::NEG_INFINITY, 0.0, &manner.gears[manner.gears.len() - 1]);
    for gear in manner.gears {
        if v_m_s * gear.rad_per_m > chain.motor.max_speed_rad_s && gear.gear != best.2.gear {
            continue;
        }
        let (force_n, _) = chain.full_force(gear, v_m_s, limits);
        let accel = (force_n - resistance(chain, at, v_m_s)) / (chain.road.mass_kg * gear.rotating_factor);
        if accel > best.0 {
            best = (accel, force_n, gear);
        }
    }
    best
}

/// One sub-step at full force. Rolls to a stand, never backwards, when even that is too little.
fn at_full_force(
    chain: &Chain,
    manner: &Drive<'_>,
    passage: &mut CycleRun,
    at: Point,
    (target, h): (f64, f64),
    supply: &Supply,
    limits: &Limits,
) {
    let v = passage.speed_m_s;
    // Mid-point rule: the acceleration is taken at the speed expected in the middle of the step.
    let (guess, ..) = hardest(chain, manner, limits, at, v);
    let (accel, _, gear) = hardest(chain, manner, limits, at, (v + 0.5 * h * guess).min(target.max(v)).max(0.0));
    let end = (v + accel * h).min(target.max(v)).max(0.0);
    let middle = 0.5 * (v + end);
    if middle <= 0.0 {
        passage.stand(chain, supply, h);
        return;
    }
    let force_n = resistance(chain, at, middle) + chain.road.mass_kg * gear.rotating_factor * (end - v) / h;
    match chain.draw(gear, middle, force_n, supply) {
        Some(draw) => {
            passage.advance(chain, supply, &draw, &Motion { sin: at.sin, cos: at.cos, factor: gear.rotating_factor, to_m_s: end, dt: h });
        }
        None => coast(chain, passage, at, gear, h, supply),
    }
}

/// One sub-step without drive, when the motor turns too fast or the pack gives out.
fn coast(chain: &Chain, passage: &mut CycleRun, at: Point, gear: &GearPath, h: f64, supply: &Supply) {
    let v = passage.speed_m_s;
    let accel = -resistance(chain, at, v) / (chain.road.mass_kg * gear.rotating_factor);
    let end = (v + accel * h).max(0.0);
    let Some(terminals) = chain.pack.under(supply.ocv_v, supply.aux_w) else {
        passage.exhausted = true;
        return;
    };
    let middle = 0.5 * (v + end);
    // What the resistance does not take within the sub-step is braked, so that the energy account closes.
    let kinetic_w = 0.5 * chain.road.mass_kg * gear.rotating_factor * (v * v - end * end) / h;
    let brakes_w = kinetic_w - resistance(chain, at, middle) * middle;
    let draw = PowerFlow {
        torque_nm: 0.0,
        speed_rad_s: 0.0,
        shaft_w: 0.0,
        driveline_w: 0.0,
        motor_w: 0.0,
        controller_w: 0.0,
        brakes_w,
        bus_w: 0.0,
        terminals,
    };
    passage.advance(chain, supply, &draw, &Motion { sin: at.sin, cos: at.cos, factor: gear.rotating_factor, to_m_s: end, dt: h });
}
