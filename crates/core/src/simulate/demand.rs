//! What a trip asks of the pack, worked out once and then drawn from any state of charge.
//!
//! Where no limit is near, neither the gear nor the power a second takes depends on the charge left. Those seconds are kept
//! as a power and the lowest voltage at which they stay easy; a passage then only has to follow the pack. The others are
//! driven in full. A test holds the two to one another.

use super::drive::{Manner, Passage, Way, least_draw, manner, step};
use crate::powertrain::Chain;
use crate::trip::Trace;

/// A step that is easy at any charge, as long as the voltage holds.
#[derive(Debug, Clone, Copy)]
struct Easy {
    dt: f64,
    distance_m: f64,
    /// At the terminals, W.
    power_w: f64,
    /// Below this voltage at the terminals it may meet a limit; infinite when it always may.
    least_v: f64,
}

/// The demands of one trip on one chain.
#[derive(Debug, Clone)]
pub struct Demands<'a> {
    chain: &'a Chain,
    trace: &'a Trace,
    manner: Manner<'a>,
    steps: Vec<Easy>,
    /// Warmth at which motor and controller start when the trip is made over and over.
    warmth: (f64, f64),
}

impl<'a> Demands<'a> {
    /// Demands of a trip between two states of charge.
    #[must_use]
    pub fn of(chain: &'a Chain, trace: &'a Trace, way: Way, (soc_from, soc_to): (f64, f64)) -> Self {
        let manner = manner(chain, way, 1);
        let aux_w = chain.low_voltage_w + way.comfort_w;
        let (high, low) = (chain.supply(soc_from, aux_w), chain.supply(soc_to, aux_w));
        let mut heat = Heat::new(chain);
        let mut steps = Vec::with_capacity(trace.points.len());
        for pair in trace.points.windows(2) {
            let (from, to) = (pair[0], pair[1]);
            let dt = to.time_s - from.time_s;
            let v = 0.5 * (from.speed_m_s + to.speed_m_s);
            let mut easy = Easy { dt, distance_m: v * dt, power_w: aux_w, least_v: 0.0 };
            if v == 0.0 {
                heat.step(0.0, 0.0, dt);
                steps.push(easy);
                continue;
            }
            let accel = (to.speed_m_s - from.speed_m_s) / dt;
            let resistance_n = chain.road.air_n(v) + chain.road.rolling_n(v, from.cos) + chain.road.climb_n(from.sin);
            let demand = (v, resistance_n, accel);
            easy.least_v = f64::INFINITY;
            let chosen = least_draw(chain, &manner, &high, demand, |_| true)
                .filter(|(_, gear)| from.speed_m_s.max(to.speed_m_s) * gear.rad_per_m <= chain.motor.max_speed_rad_s);
            if let Some((draw, _)) = chosen {
                heat.step(draw.torque_nm, draw.bus_w / high.ocv_v, dt);
                easy.power_w = draw.bus_w + aux_w;
                // Feeding back may meet the pack's limits at either end of the charge.
                let same_when_low = draw.torque_nm >= 0.0
                    || least_draw(chain, &manner, &low, demand, |_| true).is_some_and(|(d, _)| d.bus_w == draw.bus_w);
                if same_when_low {
                    easy.least_v = chain.easy_above_v(&draw);
                }
            } else {
                heat.step(chain.motor.greatest_nm(), 0.0, dt);
            }
            steps.push(easy);
        }
        let warmth = heat.settled();
        if heat.may_limit(warmth) {
            // Heat may hold the torque back somewhere: then nothing is taken for easy.
            for s in &mut steps {
                s.least_v = if s.distance_m > 0.0 { f64::INFINITY } else { s.least_v };
            }
        }
        Self { chain, trace, manner, steps, warmth }
    }

    /// One passage from rest at a state of charge, ended early when `soc_end` is reached. Of the energy account only the sum at
    /// the terminals is kept.
    #[must_use]
    pub fn passage(&self, soc: f64, soc_end: f64) -> Passage {
        let (chain, pack) = (self.chain, &self.chain.pack);
        let mut state = Passage::at_rest(soc);
        (state.motor_warmth, state.controller_warmth) = self.warmth;
        let mut line = pack.table().line(soc);
        let four_r = 4.0 * pack.resistance_ohm;
        let peukert = pack.has_peukert();
        let burst_a = chain.easy_amps();
        for (i, easy) in self.steps.iter().enumerate() {
            let before = (state.soc, state.distance_m, state.split.battery_j);
            let from = self.trace.points[i];
            if easy.least_v.is_finite() && (state.speed_m_s - from.speed_m_s).abs() < 1e-9 {
                if !(state.soc > line.from && state.soc <= line.to) {
                    line = pack.table().line(state.soc);
                }
                let ocv_v = line.at_zero_v + state.soc * line.slope_v;
                let root = (ocv_v * ocv_v - four_r * easy.power_w).max(0.0).sqrt();
                let volts_v = 0.5 * (ocv_v + root);
                let current_a = easy.power_w / volts_v;
                let holds = easy.power_w <= 0.0 || easy.distance_m == 0.0 && root > 0.0;
                if holds || (volts_v >= easy.least_v && chain.has_room(volts_v, ocv_v) && current_a <= burst_a) {
                    let counted_a = if peukert { pack.counted_a(current_a) } else { current_a };
                    state.soc -= counted_a * easy.dt * pack.per_a_s;
                    state.split.battery_j += easy.power_w * easy.dt;
                    state.distance_m += easy.distance_m;
                    state.speed_m_s = self.trace.points[i + 1].speed_m_s;
                    state.time_s += easy.dt;
                    if state.end_at(soc_end, before) {
                        break;
                    }
                    continue;
                }
            }
            step(chain, &self.manner, &mut state, from, self.trace.points[i + 1]);
            if state.exhausted || state.end_at(soc_end, before) {
                break;
            }
        }
        state
    }

    /// The chain it was worked out for.
    #[must_use]
    pub(super) fn chain(&self) -> &'a Chain {
        self.chain
    }

    /// The trace it was worked out for.
    #[must_use]
    pub(super) fn trace(&self) -> &'a Trace {
        self.trace
    }

    /// Gears allowed.
    #[must_use]
    pub(super) fn gears(&self) -> &'a [crate::powertrain::GearPath] {
        self.manner.gears
    }

    /// Power drawn beside the drive, W.
    #[must_use]
    pub(super) fn aux_w(&self) -> f64 {
        self.chain.low_voltage_w + self.manner.comfort_w
    }
}

/// Warmth over a passage, from cold, and what a warm start would leave of itself.
struct Heat<'a> {
    chain: &'a Chain,
    motor: f64,
    controller: f64,
    /// Share of the warmth at the start that is left now.
    left: (f64, f64),
    /// Highest of warmth from cold, with the share of a warm start left then.
    highest: [(f64, f64); 2],
}

impl<'a> Heat<'a> {
    fn new(chain: &'a Chain) -> Self {
        Self { chain, motor: 0.0, controller: 0.0, left: (1.0, 1.0), highest: [(0.0, 1.0); 2] }
    }

    fn step(&mut self, torque_nm: f64, bus_a: f64, dt: f64) {
        let (motor, controller) = (&self.chain.motor_heat, &self.chain.controller_heat);
        self.motor = motor.after(self.motor, torque_nm, dt);
        self.controller = controller.after(self.controller, if self.chain.controller_heats_by_torque { torque_nm } else { bus_a }, dt);
        self.left.0 *= 1.0 - dt / (motor.tau_s + 0.5 * dt);
        self.left.1 *= 1.0 - dt / (controller.tau_s + 0.5 * dt);
        if self.motor > self.highest[0].0 {
            self.highest[0] = (self.motor, self.left.0);
        }
        if self.controller > self.highest[1].0 {
            self.highest[1] = (self.controller, self.left.1);
        }
    }

    /// Warmth at the start that comes out again at the end: `x = end + left x`.
    fn settled(&self) -> (f64, f64) {
        let x = |end: f64, left: f64, limit: f64| (end / (1.0 - left).max(1e-6)).min(limit);
        (x(self.motor, self.left.0, self.chain.motor_heat.limit), x(self.controller, self.left.1, self.chain.controller_heat.limit))
    }

    /// Whether a start at some warmth may reach a limit; with a tenth to spare, for what the sag adds.
    fn may_limit(&self, (motor, controller): (f64, f64)) -> bool {
        let reaches = |(high, left): (f64, f64), start: f64, limit: f64| (high + left * start).max(start) > 0.9 * limit;
        reaches(self.highest[0], motor, self.chain.motor_heat.limit)
            || reaches(self.highest[1], controller, self.chain.controller_heat.limit)
    }
}
