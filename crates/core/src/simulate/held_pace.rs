//! The pace at which a trip that is too quick for a vehicle can be repeated until the window is spent.

use super::driver::ShiftPolicy;
use super::{Demands, RangeEnd, RangeResult, range_of};
use crate::cancel::Cancel;
use crate::powertrain::Chain;
use crate::trip::Trace;

/// A pace below a trip's own, and how far the vehicle gets at it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HeldPace {
    /// Share of the trip's speeds, in whole hundredths.
    pub share: f64,
    /// The range at it; it ends with the window.
    pub range: RangeResult,
}

/// Paces tried, in hundredths of the trip's speeds: slower than a fifth nobody calls it the same trip.
const SLOWEST: u32 = 20;
const QUICKEST: u32 = 99;

/// The quickest pace, in hundredths of a trip's speeds, that is followed from `start_soc` to the bottom of the window; `None` where not
/// even the slowest is. By bisection: what is followed at a pace is taken to be followed at every slower one.
#[must_use]
pub fn held_pace(chain: &Chain, trace: &Trace, policy: ShiftPolicy, start_soc: f64, cancel: &Cancel) -> Option<HeldPace> {
    let at = |hundredths: u32| {
        let share = f64::from(hundredths) / 100.0;
        let paced = trace.at_pace(share);
        let range = range_of(&Demands::of(chain, &paced, policy, (start_soc, chain.pack.soc_min.min(start_soc)), cancel), start_soc);
        (range.end == RangeEnd::Window).then_some(HeldPace { share, range })
    };
    if let Some(nearest) = at(QUICKEST) {
        return Some(nearest);
    }
    let (mut held, mut held_at, mut too_quick) = (at(SLOWEST)?, SLOWEST, QUICKEST);
    while too_quick - held_at > 1 && !cancel.is_cancelled() {
        let middle = held_at.midpoint(too_quick);
        match at(middle) {
            Some(found) => (held, held_at) = (found, middle),
            None => too_quick = middle,
        }
    }
    Some(held)
}
