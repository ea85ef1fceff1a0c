//! Temperature rise of motor and controller over a run of a cycle: what a step does to it, and whether it may come to a limit.

use crate::powertrain::Chain;

/// Share of the highest rise up to which a trip, or a block whose battery amps warm the controller, counts as cool: the rest is for what
/// the sag adds.
pub(super) const COOL: f64 = 0.9;
/// The same for a block where torque does, which no sag changes while all of it is easy.
pub(super) const COOL_BY_TORQUE: f64 = 0.999;

/// Temperature rise that a step tends to, and the share of the way it goes, of motor and controller.
pub(super) type HeatStep = ((f64, f64), (f64, f64));

/// Temperature rise over a passage, from cold, and what a warm start would leave of itself.
pub(super) struct Heat<'a> {
    pub(super) chain: &'a Chain,
    pub(super) motor: f64,
    pub(super) controller: f64,
    /// Share of the rise at the start that is left now.
    pub(super) left: (f64, f64),
    /// Highest of rise from cold, with the share of a warm start left then.
    pub(super) highest: [(f64, f64); 2],
    /// Gains of a one-second step, which nearly all are.
    pub(super) gains: (f64, f64),
}

impl<'a> Heat<'a> {
    pub(super) fn new(chain: &'a Chain) -> Self {
        let gains = (chain.motor_heat.gain(1.0), chain.controller_heat.gain(1.0));
        Self { chain, motor: 0.0, controller: 0.0, left: (1.0, 1.0), highest: [(0.0, 1.0); 2], gains }
    }

    #[inline]
    pub(super) fn step(&mut self, torque_nm: f64, bus_a: f64, dt: f64) -> HeatStep {
        let (motor, controller) = (&self.chain.motor_heat, &self.chain.controller_heat);
        let gains = if dt == 1.0 { self.gains } else { (motor.gain(dt), controller.gain(dt)) };
        let controller_load = if self.chain.controller_heats_by_torque { torque_nm } else { bus_a };
        let targets = (motor.target(torque_nm), controller.target(controller_load));
        self.motor += (targets.0 - self.motor) * gains.0;
        self.controller += (targets.1 - self.controller) * gains.1;
        self.left.0 *= 1.0 - gains.0;
        self.left.1 *= 1.0 - gains.1;
        if self.motor > self.highest[0].0 {
            self.highest[0] = (self.motor, self.left.0);
        }
        if self.controller > self.highest[1].0 {
            self.highest[1] = (self.controller, self.left.1);
        }
        (targets, gains)
    }

    /// Temperature rise at the start that comes out again at the end: `x = end + left x`.
    pub(super) fn settled(&self) -> (f64, f64) {
        let x = |end: f64, left: f64, limit: f64| (end / (1.0 - left).max(1e-6)).min(limit);
        (x(self.motor, self.left.0, self.chain.motor_heat.limit), x(self.controller, self.left.1, self.chain.controller_heat.limit))
    }

    /// Whether a start at some rise may reach a limit; with a tenth to spare, for what the sag adds.
    pub(super) fn may_limit(&self, (motor, controller): (f64, f64)) -> bool {
        let reaches = |(high, left): (f64, f64), start: f64, limit: f64| (high + left * start).max(start) > COOL * limit;
        reaches(self.highest[0], motor, self.chain.motor_heat.limit)
            || reaches(self.highest[1], controller, self.chain.controller_heat.limit)
    }
}
