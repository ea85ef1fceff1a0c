//! Following a trace in short steps where a limit falls inside: at full force until back on it.

use super::cycle_run::CycleRun;
use super::driver::Driver;
use super::split::Motion;
use crate::powertrain::{Chain, GearPath, Limits, MotorPoint, PowerFlow, Rating, Supply};

/// Gap to the trace, m/s, that is not closed within a second at any acceleration a tyre can pass on an ordinary slope.
const FAR_BEHIND_M_S: f64 = 4.0;

/// Drives one step of a trace in sub-steps, on the trace's clock.
pub(super) fn second(driver: &Driver<'_>, state: &mut CycleRun, step: &Motion) {
    let chain = driver.chain;
    // Far behind, the vehicle is at full force throughout, where speed changes smoothly and longer steps do.
    let far_behind = step.from_m_s.min(step.to_m_s) - state.speed_m_s > FAR_BEHIND_M_S;
    let n = if far_behind { (driver.sub_steps / 2).max(2) } else { driver.sub_steps };
    let h = step.dt / f64::from(n);
    // The motor's highest speed in the tallest gear allowed; a hair below, so that rounding never lands above it.
    let slowest = driver.choice.gears.iter().map(|g| g.rad_per_m).fold(f64::INFINITY, f64::min);
    let top_m_s = chain.motor.max_speed_rad_s / slowest * (1.0 - 1e-9);
    let mut before = Before { gear: &driver.choice.gears[driver.choice.gears.len() - 1], accel_m_s2: None };
    for i in 0..n {
        let supply = chain.supply(state.soc, driver.aux_w);
        let limits = chain.within_heat(chain.limits(state.soc, driver.aux_w, Rating::Peak), state.rise, h);
        if state.is_hot(chain) {
            state.derated_s += h;
        }
        let target = step.from_m_s + (step.to_m_s - step.from_m_s) * f64::from(i + 1) / f64::from(n);
        // Rounding may leave a hair below standstill.
        let motion = Motion { from_m_s: state.speed_m_s, to_m_s: target.min(top_m_s).max(0.0), dt: h, ..*step };
        if motion.from_m_s == 0.0 && motion.to_m_s == 0.0 {
            state.stand(chain, &supply, h);
            continue;
        }
        let resistance_n = chain.road.resistance_n(motion.mean_m_s(), motion.slope);
        // Most often all gears are out of reach at once; every one of them turns masses of its own beside the vehicle's.
        let least_n = resistance_n + chain.road.mass_kg * motion.accel_m_s2();
        if motion.to_m_s > motion.from_m_s && !chain.may_pull(motion.mean_m_s(), least_n, &limits) {
            at_full_force(driver, state, &motion, (&supply, &limits), &mut before);
            if state.exhausted {
                return;
            }
            continue;
        }
        let taken = driver.choice.cheapest(&motion, resistance_n, &supply, |point| {
            point.wheel_n <= chain.traction.drive_n && chain.power_flow(*point, &supply).is_some_and(|flow| chain.fits(&flow, &limits))
        });
        match taken.and_then(|(gear, point)| Some((gear, chain.power_flow(point, &supply)?))) {
            Some((gear, flow)) => {
                before.accel_m_s2 = None;
                state.advance(chain, &supply, (gear, &flow), &motion);
            }
            None => at_full_force(driver, state, &motion, (&supply, &limits), &mut before),
        }
        if state.exhausted {
            return;
        }
    }
}

/// What full force came to one sub-step before.
struct Before<'a> {
    gear: &'a GearPath,
    /// None where that was not driven at full force.
    accel_m_s2: Option<f64>,
}

/// Best acceleration at a speed over the gears allowed, with the gear that gives it. The gear that is likely to be it is looked at first, which
/// spares the others.
fn hardest<'a>(driver: &Driver<'a>, limits: &Limits, slope: (f64, f64), v_m_s: f64, likely: &'a GearPath) -> (f64, &'a GearPath) {
    let (chain, gears) = (driver.chain, driver.choice.gears);
    let resistance_n = chain.road.resistance_n(v_m_s, slope);
    let turns = |gear: &GearPath| v_m_s * gear.rad_per_m <= chain.motor.max_speed_rad_s;
    let mut best = (f64::NEG_INFINITY, likely);
    let others = gears.iter().filter(|gear| !std::ptr::eq(*gear, likely));
    for gear in std::iter::once(likely).chain(others).filter(|gear| turns(gear)) {
        let inert_kg = chain.road.mass_kg * gear.rotating_factor;
        if best.0.is_finite() && !chain.may_exceed(gear, v_m_s, limits, best.0 * inert_kg + resistance_n) {
            continue;
        }
        let (force_n, _) = chain.full_force(gear, v_m_s, limits);
        let accel = (force_n - resistance_n) / inert_kg;
        if accel > best.0 {
            best = (accel, gear);
        }
    }
    if best.0.is_finite() {
        return best;
    }
    // Past the motor's highest speed in every gear: it rolls out in the tallest.
    let tallest = &gears[gears.len() - 1];
    (-resistance_n / (chain.road.mass_kg * tallest.rotating_factor), tallest)
}

/// One sub-step at full force. Rolls to a stand, never backwards, when even that is too little.
fn at_full_force<'a>(
    driver: &Driver<'a>,
    state: &mut CycleRun,
    motion: &Motion,
    (supply, limits): (&Supply, &Limits),
    before: &mut Before<'a>,
) {
    let (chain, v, h, slope) = (driver.chain, motion.from_m_s, motion.dt, motion.slope);
    let highest = motion.to_m_s.max(v);
    // Mid-point rule: the acceleration is taken at the speed expected in the middle of the step, as it was in the middle of the one before: what
    // it has changed by since moves that speed by no more than the rule itself leaves open. One that slows down is looked at where it is: from
    // rest a chain without power pulls at no speed but that.
    let rising = before.accel_m_s2.filter(|accel| *accel > 0.0);
    let guess = rising.unwrap_or_else(|| hardest(driver, limits, slope, v, before.gear).0);
    let (accel, gear) = hardest(driver, limits, slope, (v + 0.5 * h * guess).min(highest).max(0.0), before.gear);
    *before = Before { gear, accel_m_s2: Some(accel) };
    let end = (v + accel * h).min(highest).max(0.0);
    let middle = 0.5 * (v + end);
    if middle <= 0.0 {
        state.stand(chain, supply, h);
        return;
    }
    let force_n = chain.road.resistance_n(middle, slope) + chain.road.mass_kg * gear.rotating_factor * (end - v) / h;
    match chain.motor_point(gear, middle, force_n, supply).and_then(|point| chain.power_flow(point, supply)) {
        Some(flow) => state.advance(chain, supply, (gear, &flow), &Motion { to_m_s: end, ..*motion }),
        None => coast(chain, state, gear, motion, supply),
    }
}

/// One sub-step without drive, when the motor turns too fast or the pack gives out. What the resistance does not take is braked.
fn coast(chain: &Chain, state: &mut CycleRun, gear: &GearPath, motion: &Motion, supply: &Supply) {
    let (v, h) = (motion.from_m_s, motion.dt);
    let accel = -chain.road.resistance_n(v, motion.slope) / (chain.road.mass_kg * gear.rotating_factor);
    match chain.pack.under(supply.ocv_v, supply.aux_w) {
        Some(terminals) => {
            let flow = PowerFlow { point: MotorPoint::OFF, terminals };
            state.advance(chain, supply, (gear, &flow), &Motion { to_m_s: (v + accel * h).max(0.0), ..*motion });
        }
        None => state.exhausted = true,
    }
}
