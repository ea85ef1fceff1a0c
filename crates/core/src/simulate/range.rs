//! Range: the trip repeated until the window is spent or the chain cannot follow.

use serde::Serialize;

use super::cycle_run::CycleRun;
use super::driver::ShiftPolicy;
use super::{Best, Demands};
use crate::cancel::Cancel;
use crate::powertrain::{Chain, Rating, Rise};
use crate::trip::Trace;

/// What ended the range.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RangeEnd {
    /// The usable window of state of charge was spent.
    Window,
    /// The sagging pack no longer let the vehicle follow the trip.
    Sag,
    /// Motor or controller got too hot to follow the trip.
    Heat,
    /// Not even the first run of the trip can be followed: there is no range on it.
    NotFollowed,
    /// The vehicle does not move on this trip.
    Stalled,
    /// Nothing is drawn; the count was stopped.
    Unlimited,
}

impl RangeEnd {
    /// What happens then, in words: "until ...".
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Window => "the usable window is spent",
            Self::Sag => "the pack sags too low to follow the trip",
            Self::Heat => "heat holds it back",
            Self::NotFollowed => "it cannot keep up with the trip",
            Self::Stalled => "it does not move",
            Self::Unlimited => "nothing ends it",
        }
    }
}

/// Range on a trip.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct RangeResult {
    /// Distance, m.
    pub distance_m: f64,
    /// What ended it.
    pub end: RangeEnd,
    /// Times the trip was made, the last one in part.
    pub runs: f64,
    /// Seconds in which heat held the torque back.
    pub derated_s: f64,
}

impl RangeResult {
    /// The figure a goal is judged by, km; absent where the trip is not followed or the vehicle does not move, however far it got.
    #[must_use]
    pub fn headline(&self) -> Option<f64> {
        (!matches!(self.end, RangeEnd::NotFollowed | RangeEnd::Stalled)).then(|| self.distance_m / 1000.0)
    }
}

/// Runs after which a range is called unlimited: far beyond any pack accepted here.
const MOST_RUNS: u32 = 4000;

/// Distance after which the same holds, m.
const FURTHEST_M: f64 = 3e6;

/// Stretches of state of charge bridged at once when many short runs fit into them: the widest first, narrower where it is not smooth.
const BRIDGES_SOC: [f64; 3] = [0.24, 0.12, 0.06];
/// Runs that must fit into a bridge to be worth it.
pub(crate) const BRIDGE_RUNS: f64 = 5.0;
/// Whether no run that takes at least a share of the charge is skipped.
pub(crate) fn is_never_bridged(used_soc: f64) -> bool {
    used_soc * BRIDGE_RUNS >= BRIDGES_SOC[0]
}

/// Greatest difference of the trapezoid and the Simpson rule over a bridge, share of its runs. Where the open-circuit voltage has a
/// corner, a third of it is left in the sum.
const BRIDGE_ERROR: f64 = 3e-3;

/// Repeats a trip from `start_soc` down to the bottom of the window.
///
/// Short trips are repeated dozens of times with hardly any change; over a stretch where that holds, the number of runs is the
/// integral of d soc / used(soc) by Simpson's rule, with the first Euler-Maclaurin term for whole steps. Where the trapezoid
/// rule says otherwise (regeneration set in, a limit reached) every run is made. A test holds it to [`range_in_full`] within 0.05 % and a third of a run.
#[must_use]
pub fn range(chain: &Chain, trace: &Trace, policy: ShiftPolicy, start_soc: f64) -> RangeResult {
    range_of(&Demands::of(chain, trace, policy, (start_soc, chain.pack.soc_min), &Cancel::new()), start_soc)
}

/// As [`range`], every run made.
#[must_use]
pub fn range_in_full(chain: &Chain, trace: &Trace, policy: ShiftPolicy, start_soc: f64) -> RangeResult {
    repeat(&Demands::of(chain, trace, policy, (start_soc, chain.pack.soc_min), &Cancel::new()), start_soc, None, false).range
}

/// As [`range`], from demands already worked out.
#[must_use]
pub fn range_of(demands: &Demands<'_>, start_soc: f64) -> RangeResult {
    repeat(demands, start_soc, None, true).range
}

/// As [`range_of`], when one whole run from `start_soc` and no rise has been made already.
#[must_use]
pub(crate) fn range_after(demands: &Demands<'_>, start_soc: f64, first: CycleRun) -> Repeated {
    repeat(demands, start_soc, Some(first), true)
}

/// A trip repeated until its range was spent.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Repeated {
    pub(crate) range: RangeResult,
    /// Whether every run was made, none bridged; so it is then of chains that take about as much.
    pub(crate) every_run: bool,
    /// Where the last run began: state of charge, rise and metres driven before.
    last: (f64, Rise, f64),
}

impl Repeated {
    /// Distance with a share more charge than the window holds, m: taken from below it. None where something other than the window ended the
    /// range, or so much is not left.
    pub(crate) fn further_m(&self, demands: &Demands<'_>, start_soc: f64, more: f64) -> Option<f64> {
        const MOST_RUNS_MORE: u32 = 8;
        let (mut soc, mut rise, mut before_m) = self.last;
        let bottom = demands.chain().pack.soc_min;
        let end = bottom - more * (start_soc - bottom);
        if self.range.end != RangeEnd::Window || end <= 0.0 {
            return None;
        }
        for _ in 0..MOST_RUNS_MORE {
            let state = demands.run_within_hot(soc, end, rise);
            (soc, before_m) = (state.soc, before_m + state.distance_m);
            if state.behind || soc <= end {
                return (!state.behind).then_some(before_m);
            }
            if demands.may_get_hot() {
                rise = state.rise;
            }
        }
        None
    }
}

/// What a stretch of state of charge holds.
struct Bridge {
    runs: f64,
    distance_m: f64,
    derated_s: f64,
}

/// A stretch of state of charge from runs begun at its top, middle and bottom; `None` where they do not change smoothly.
fn bridge(stretch: f64, starts: [f64; 3], ends: [&CycleRun; 3]) -> Option<Bridge> {
    let used = [0, 1, 2].map(|i| starts[i] - ends[i].soc);
    if used.iter().any(|u| *u <= 0.0) || ends.iter().any(|e| e.behind) {
        return None;
    }
    let simpson = |f: [f64; 3]| stretch / 6.0 * (f[0] + 4.0 * f[1] + f[2]);
    let runs = simpson(used.map(|u| 1.0 / u));
    let trapezoid = stretch / 2.0 * (1.0 / used[0] + 1.0 / used[2]);
    if (runs - trapezoid).abs() > BRIDGE_ERROR * runs {
        return None;
    }
    let whole_steps = 0.5 * (used[2] / used[0]).ln();
    let sum = |of: fn(&CycleRun) -> f64| simpson([0, 1, 2].map(|i| of(ends[i]) / used[i])) + whole_steps * of(ends[2]);
    Some(Bridge { runs: runs + whole_steps, distance_m: sum(|e| e.distance_m), derated_s: sum(|e| e.derated_s) })
}

fn repeat(demands: &Demands<'_>, start_soc: f64, first: Option<CycleRun>, bridging: bool) -> Repeated {
    let (chain, trace) = (demands.chain(), demands.trace());
    let soc_end = chain.pack.soc_min;
    let mut derated_s = 0.0;
    let ended = |end, distance_m: f64, runs: f64| {
        let range = RangeResult { distance_m, end, runs, derated_s: 0.0 };
        Repeated { range, every_run: false, last: (start_soc, Rise::default(), 0.0) }
    };
    if start_soc <= soc_end {
        return ended(RangeEnd::Window, 0.0, 0.0);
    }
    // A chain that cannot leave a level kerb has no range, even if the trip rolls downhill in places.
    let limits = chain.limits(start_soc, demands.aux_w(), Rating::Peak);
    if Best::among(chain, demands.gears(), 0.0, &limits).force_n <= chain.road.steady_n(0.0, 0.0) {
        return ended(RangeEnd::Stalled, 0.0, 0.0);
    }
    // Where heat may hold the torque back, each run starts as warm as the one before ended, and none is skipped until that no longer
    // changes.
    let hot = demands.may_get_hot();
    let warm = |rise: Rise| if hot { rise } else { Rise::default() };
    let drive = |soc: f64, rise: Rise| demands.run_within(soc, soc_end, warm(rise));
    let (mut soc, mut total_m, mut runs, mut rise) = (start_soc, 0.0, 0.0, Rise::default());
    let (mut next_try, mut pause, mut width) = (0, 3, 0);
    let mut every_run = true;
    // A whole run that stays within the window is the one that would be made here.
    let mut state = first.filter(|f| f.soc > soc_end).unwrap_or_else(|| drive(soc, rise));
    let whole_m = trace.distance_m();
    for count in 0..MOST_RUNS {
        let last = |end| {
            let runs = runs + state.distance_m / whole_m.max(1.0);
            let range = RangeResult { distance_m: total_m + state.distance_m, end, runs, derated_s: derated_s + state.derated_s };
            Repeated { range, every_run, last: (soc, rise, total_m) }
        };
        if state.behind {
            return last(match (count, state.derated_s > 0.0) {
                (0, _) => RangeEnd::NotFollowed,
                (_, true) => RangeEnd::Heat,
                (_, false) => RangeEnd::Sag,
            });
        }
        if state.soc <= soc_end {
            return last(RangeEnd::Window);
        }
        if state.cut_short {
            return last(RangeEnd::Heat);
        }
        if total_m > FURTHEST_M || demands.is_cancelled() {
            break;
        }
        let used = soc - state.soc;
        // With room for chains that take nearly as much.
        every_run &= used * BRIDGE_RUNS > 1.05 * BRIDGES_SOC[0];
        let ends_at = state.rise;
        // Narrower where less than the widest is left, too.
        while width < BRIDGES_SOC.len() - 1 && soc - BRIDGES_SOC[width] - used <= soc_end {
            width += 1;
        }
        let stretch = BRIDGES_SOC[width];
        let (middle_soc, low_soc) = (soc - 0.5 * stretch, soc - stretch);
        let many = used > 0.0 && used * BRIDGE_RUNS < stretch && low_soc - used > soc_end;
        if bridging && count >= next_try && many && (!hot || demands.has_settled(rise, ends_at)) {
            let [middle, low] = [middle_soc, low_soc].map(|soc| demands.run_within_hot(soc, soc_end, warm(ends_at)));
            if let Some(more) = bridge(stretch, [soc, middle_soc, low_soc], [&state, &middle, &low]) {
                runs += more.runs;
                total_m += more.distance_m;
                derated_s += more.derated_s;
                (soc, state, rise) = (low_soc, low, ends_at);
                continue;
            }
            if width + 1 < BRIDGES_SOC.len() && used * BRIDGE_RUNS < BRIDGES_SOC[width + 1] {
                width += 1;
            } else {
                // Further on it may be smoother; each try that fails costs two runs, so they become rarer.
                (width, next_try, pause) = (0, count + pause, 2 * pause);
            }
        }
        runs += 1.0;
        derated_s += state.derated_s;
        total_m += state.distance_m;
        soc = state.soc;
        rise = ends_at;
        state = drive(soc, rise);
    }
    ended(RangeEnd::Unlimited, total_m, runs)
}
