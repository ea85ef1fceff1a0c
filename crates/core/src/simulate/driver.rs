//! Driving a trace step by step: backward-facing where it can be followed, at full force where it cannot.

use super::cycle_run::CycleRun;
use super::follow;
use super::gear_choice::GearChoice;
use super::split::Motion;
use crate::cancel::Cancel;
use crate::powertrain::{Chain, GearPath, MotorPoint, Rise, Supply};
use crate::quantity::larger;
use crate::trip::{Point, Trace};

/// Sub-steps in a second in which a limit may fall; a test holds trips to a thousandth of ten times finer ones.
const SUB_STEPS: u32 = 5;
/// Speed below the trace that counts as off it, m/s (2 km/h: UN GTR No. 15, annex 6).
pub(crate) const OFF_TRACE_M_S: f64 = 2.0 / 3.6;

/// How a trip is driven: gears allowed, and what is drawn beside the drive.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct ShiftPolicy {
    /// Gear held from start to end, counted from 1. Absent: at each step the one that draws the least.
    pub gear: Option<u32>,
    /// Range of the transfer box, counted from 1. Absent: the one with the smallest ratio.
    pub transfer_range: Option<u32>,
    /// Heating and cooling, W.
    pub hvac_w: f64,
}

/// A chain driven by a shift policy.
#[derive(Debug, Clone)]
pub(super) struct Driver<'a> {
    pub(super) chain: &'a Chain,
    pub(super) choice: GearChoice<'a>,
    pub(super) hvac_w: f64,
    /// Drawn beside the drive, W.
    pub(super) aux_w: f64,
    /// Sub-steps in a second in which a limit may fall.
    pub(super) sub_steps: u32,
    /// Sub-steps in every other second.
    base_steps: u32,
}

impl<'a> Driver<'a> {
    /// With every step cut into `base_steps`.
    pub(super) fn of(chain: &'a Chain, policy: ShiftPolicy, base_steps: u32) -> Self {
        let range = chain.range(policy.transfer_range);
        let gears = policy.gear.map_or(range, |g| std::slice::from_ref(&range[(g as usize - 1).min(range.len() - 1)]));
        Self {
            chain,
            choice: GearChoice::among(chain, gears),
            hvac_w: policy.hvac_w,
            aux_w: chain.low_voltage_w + policy.hvac_w,
            sub_steps: SUB_STEPS * base_steps,
            base_steps,
        }
    }

    /// Power at the controller's input at the end of a step that speeds up, where it is greatest, W; that of its middle in others.
    #[inline]
    pub(super) fn instant_w(&self, motion: &Motion, gear: &GearPath, point: &MotorPoint, supply: &Supply) -> f64 {
        if motion.to_m_s <= motion.from_m_s || point.torque_nm <= 0.0 {
            return point.bus_w;
        }
        let chain = self.chain;
        let force_n =
            chain.road.resistance_n(motion.to_m_s, motion.slope) + chain.road.mass_kg * gear.rotating_factor * motion.accel_m_s2();
        chain.motor_point(gear, motion.to_m_s, force_n, supply).map_or(point.bus_w, |end| larger(end.bus_w, point.bus_w))
    }

    /// One step of a trace.
    pub(super) fn step(&self, state: &mut CycleRun, from: Point, to: Point) {
        let (chain, motion) = (self.chain, Motion::between(from, to));
        let supply = chain.supply(state.soc, self.aux_w);
        let on_trace = (state.speed_m_s - from.speed_m_s).abs() < 1e-9;
        if on_trace && from.speed_m_s == 0.0 && to.speed_m_s == 0.0 {
            state.stand(chain, &supply, motion.dt);
        } else if !on_trace || state.is_hot(chain) || !self.steady(state, &supply, &motion) {
            follow::second(self, state, &motion);
        }
        if to.speed_m_s - state.speed_m_s > OFF_TRACE_M_S {
            state.off_trace_s += motion.dt;
        }
    }

    /// Follows the trace through one step evaluated at mid-step; false, with nothing changed, when a limit may fall inside.
    #[inline]
    fn steady(&self, state: &mut CycleRun, supply: &Supply, motion: &Motion) -> bool {
        if self.base_steps > 1 {
            return false;
        }
        let chain = self.chain;
        let resistance_n = chain.road.resistance_n(motion.mean_m_s(), motion.slope);
        // Gears far beyond reach are left out; the cheapest of the others must be easy, or the sub-steps decide.
        let taken = self.choice.cheapest(motion, resistance_n, supply, |point| {
            point.wheel_n <= chain.traction.drive_n && !chain.is_beyond(point, supply.ocv_v) && chain.power_flow(*point, supply).is_some()
        });
        let Some((gear, flow)) = taken.and_then(|(gear, point)| Some((gear, chain.power_flow(point, supply)?))) else { return false };
        if !chain.is_easy(&flow, supply) {
            return false;
        }
        // The motor's highest speed may be passed after the middle of the step.
        let fastest_rad_s = motion.from_m_s.max(motion.to_m_s) * gear.rad_per_m;
        if fastest_rad_s > chain.motor.max_speed_rad_s || state.would_get_hot(chain, &flow, motion.dt) {
            return false;
        }
        let peak_w = self.instant_w(motion, gear, &flow.point, supply) + supply.aux_w;
        state.advance(chain, supply, (gear, &flow), &Motion { from_m_s: state.speed_m_s, ..*motion });
        if let Some(terminals) = chain.pack.under(supply.ocv_v, peak_w) {
            state.peaks_at(terminals);
        }
        true
    }

    /// Drives a whole trace from rest; `observe` sees the state after each step.
    fn drive(&self, trace: &Trace, start_soc: f64, mut observe: impl FnMut(&CycleRun, Point)) -> CycleRun {
        let mut state = CycleRun::at_rest(start_soc, Rise::default());
        for pair in trace.points.windows(2) {
            self.step(&mut state, pair[0], pair[1]);
            observe(&state, pair[1]);
            if state.exhausted {
                break;
            }
        }
        state
    }
}

/// Drives a trace once from rest, motor and controller at the air's temperature.
#[must_use]
pub fn drive_trace(chain: &Chain, trace: &Trace, policy: ShiftPolicy, start_soc: f64) -> CycleRun {
    super::Demands::of(chain, trace, policy, (start_soc, chain.pack.soc_min.min(start_soc)), &Cancel::new()).run(start_soc, Rise::default())
}

/// As [`drive_trace`], step by step, with every step cut into `base_steps`; for checks.
#[must_use]
pub fn drive_trace_finely(chain: &Chain, trace: &Trace, policy: ShiftPolicy, start_soc: f64, base_steps: u32) -> CycleRun {
    Driver::of(chain, policy, base_steps).drive(trace, start_soc, |_, _| {})
}

/// As [`drive_trace`]; `observe` sees the state after each step beside the point of the trace it belongs to.
#[must_use]
pub fn drive_trace_watched(
    chain: &Chain,
    trace: &Trace,
    policy: ShiftPolicy,
    start_soc: f64,
    observe: impl FnMut(&CycleRun, Point),
) -> CycleRun {
    Driver::of(chain, policy, 1).drive(trace, start_soc, observe)
}
