//! Temperature rise of motor and controller over a run of a cycle, and whether it may come to a limit.

use super::step_block::StepBlock;
use crate::powertrain::{Chain, Rise};

/// Share of the highest rise up to which a trip, or a block whose battery amps warm the controller, counts as cool: the rest is for what
/// the sag adds.
const COOL: f64 = 0.9;
/// The same for a block where torque does, which no sag changes while all of it is easy.
const COOL_BY_TORQUE: f64 = 0.999;

/// The shares of the highest rises up to which heat holds nothing back within a block of a chain.
pub(super) fn cool_share(chain: &Chain) -> Rise {
    Rise { motor: COOL_BY_TORQUE, controller: if chain.controller_heats_by_torque() { COOL_BY_TORQUE } else { COOL } }
}

/// Temperature rise over a run from cold, block by block, and what a warm start would leave of itself.
pub(super) struct Heat<'a> {
    chain: &'a Chain,
    rise: Rise,
    /// Share of the rise at the start that is left now.
    left: Rise,
    /// Highest rise from cold so far, at most, with the share of a warm start left then.
    highest: [(f64, f64); 2],
}

impl<'a> Heat<'a> {
    pub(super) fn new(chain: &'a Chain) -> Self {
        Self { chain, rise: Rise::default(), left: Rise::WHOLE, highest: [(0.0, 1.0); 2] }
    }

    pub(super) fn add(&mut self, block: &StepBlock) {
        let highest = self.rise.plus(block.highest_rise);
        for (known, (rise, left)) in
            self.highest.iter_mut().zip([(highest.motor, self.left.motor), (highest.controller, self.left.controller)])
        {
            if rise > known.0 {
                *known = (rise, left);
            }
        }
        self.rise = self.rise.times(block.left).plus(block.warmed);
        self.left = self.left.times(block.left);
    }

    /// Share of the rise at the start that is left at the end.
    pub(super) fn left(&self) -> Rise {
        self.left
    }

    /// Whether the rise may come near a limit when the run is made over and over; with a tenth to spare, for what the sag adds.
    pub(super) fn may_limit(&self) -> bool {
        let reaches = |(high, left): (f64, f64), (end, end_left): (f64, f64), limit: f64| {
            // The rise at the start that comes out again at the end: `x = end + left x`.
            let settled = (end / (1.0 - end_left).max(1e-6)).min(limit);
            (high + left * settled).max(settled) > COOL * limit
        };
        reaches(self.highest[0], (self.rise.motor, self.left.motor), self.chain.motor_heat.limit)
            || reaches(self.highest[1], (self.rise.controller, self.left.controller), self.chain.controller_heat.limit)
    }
}
