//! Range: the trip repeated until the window is spent or the chain cannot follow.

use serde::Serialize;

use super::drive::{Passage, manner, passage};
use super::{Best, Gears};
use crate::powertrain::{Chain, Rating};
use crate::trip::Trace;

/// What ended the range.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RangeEnd {
    /// The usable window of state of charge was spent.
    Window,
    /// The sagging pack no longer let the vehicle follow: a passage came out more than 5 % shorter than the first.
    Sag,
    /// The vehicle does not move on this trip.
    Stalled,
    /// Nothing is drawn; the count was stopped.
    Unlimited,
}

/// Range on a trip.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct RangeResult {
    /// Distance, m.
    pub distance_m: f64,
    /// What ended it.
    pub end: RangeEnd,
    /// Times the trip was made, the last one in part.
    pub passages: f64,
}

/// Passages after which a range is called unlimited: far beyond any pack accepted here.
const MOST_PASSAGES: u32 = 4000;

/// Distance after which the same holds, m.
const FURTHEST_M: f64 = 3e6;

/// Repeats a trip from `start_soc` down to the bottom of the window.
#[must_use]
pub fn range(chain: &Chain, trace: &Trace, gear: Option<u32>, comfort_w: f64, start_soc: f64) -> RangeResult {
    let manner = manner(chain, gear.as_ref(), comfort_w, 1);
    let soc_end = chain.pack.soc_min;
    let mut soc = start_soc;
    let trace_m = trace.distance_m();
    let mut first_m = 0.0;
    let mut total_m = 0.0;
    if soc <= soc_end {
        return RangeResult { distance_m: 0.0, end: RangeEnd::Window, passages: 0.0 };
    }
    // A chain that cannot leave a level kerb has no range, even if the trip rolls downhill in places.
    let limits = chain.limits(start_soc, chain.low_voltage_w + comfort_w, Rating::Burst);
    if Best::at(chain, Gears::of(gear), 0.0, &limits).force_n <= chain.road.steady_n(0.0, 0.0) {
        return RangeResult { distance_m: 0.0, end: RangeEnd::Stalled, passages: 0.0 };
    }
    for count in 0..MOST_PASSAGES {
        if total_m > FURTHEST_M {
            return RangeResult { distance_m: total_m, end: RangeEnd::Unlimited, passages: f64::from(count) };
        }
        let mut state = Passage::at_rest(soc);
        passage(chain, trace, &manner, &mut state, soc_end);
        let whole_m = if count == 0 { trace_m } else { first_m };
        let share = if whole_m > 0.0 { state.distance_m / whole_m } else { 0.0 };
        let done = |end, distance_m: f64| RangeResult { distance_m, end, passages: f64::from(count) + share };
        if state.soc <= soc_end {
            return done(RangeEnd::Window, total_m + state.distance_m);
        }
        if count == 0 {
            first_m = state.distance_m;
            if first_m < 1.0 {
                return done(RangeEnd::Stalled, 0.0);
            }
        } else if state.exhausted || state.distance_m < 0.95 * first_m {
            return done(RangeEnd::Sag, total_m + state.distance_m);
        }
        if state.exhausted {
            return done(RangeEnd::Sag, total_m + state.distance_m);
        }
        total_m += state.distance_m;
        soc = state.soc;
    }
    RangeResult { distance_m: total_m, end: RangeEnd::Unlimited, passages: f64::from(MOST_PASSAGES) }
}
