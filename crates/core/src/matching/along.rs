//! What a run takes at least up to points along it, leg by leg, and where no more is left of an energy.

use crate::trip::LONGEST_STEP_S;

/// Powers that braking energy is summed up to, W.
pub(super) const TAKEN_W: [f64; 5] = [1500.0, 4000.0, 10_000.0, 25_000.0, f64::INFINITY];

/// The least up to a point of the trace.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Along {
    pub(super) drawn_j: f64,
    pub(super) drawn_w2_s: f64,
    pub(super) drawing_s: f64,
    pub(super) given_back_j: [f64; TAKEN_W.len()],
    pub(super) way_m: f64,
    pub(super) seconds: f64,
    /// The longest that it takes, s; the same where no chain hastens it.
    pub(super) longest_s: f64,
}

impl Along {
    /// Holds for a further point as well.
    pub(super) fn go_on(&mut self, next: &Self) {
        (self.given_back_j, self.longest_s) = (next.given_back_j, next.longest_s);
    }

    /// The same with so many times another before it.
    pub(super) fn after(&self, times: u32, whole: &Self) -> Self {
        let (own, times) = (self, f64::from(times));
        Self {
            drawn_j: own.drawn_j + times * whole.drawn_j,
            drawn_w2_s: own.drawn_w2_s + times * whole.drawn_w2_s,
            drawing_s: own.drawing_s + times * whole.drawing_s,
            given_back_j: std::array::from_fn(|i| own.given_back_j[i] + times * whole.given_back_j[i]),
            way_m: own.way_m + times * whole.way_m,
            seconds: own.seconds + times * whole.seconds,
            longest_s: own.longest_s + times * whole.longest_s,
        }
    }

    /// What is drawn, what is given back up to one of [`TAKEN_W`], and the time it takes.
    pub(super) fn sums(&self, taken: usize) -> (f64, f64, f64) {
        (self.drawn_j, self.given_back_j[taken], self.seconds)
    }
}

/// The least from the start of a leg up to the ends of its stretches, the start included.
#[derive(Debug, Clone)]
pub(super) struct AlongLeg {
    pub(super) times: u32,
    pub(super) points: Vec<Along>,
}

/// What a run takes at least, J, of so much at least from the start of each of its legs.
pub(super) fn whole_j(along: &[AlongLeg], at_least: impl Fn(&Along) -> f64) -> f64 {
    along.iter().map(|leg| f64::from(leg.times) * leg.points.last().map_or(0.0, &at_least)).sum()
}

/// Way after which no more than an energy is left, m: of a run that takes so much at least from the start of each of its legs to each of its points.
pub(super) fn ends_m(along: &[AlongLeg], most_j: f64, at_least: impl Fn(&Along) -> f64) -> f64 {
    let (mut before_j, mut way_m, mut ends_m) = (0.0, 0.0, 0.0);
    for AlongLeg { times, points } in along {
        let Some(whole) = points.last() else { continue };
        let (told_j, leg_j): (Vec<f64>, _) = (points.iter().map(&at_least).collect(), at_least(whole));
        let in_leg = |time: u32| {
            let left_j = most_j - before_j - f64::from(time) * leg_j;
            told_j.iter().rposition(|j| *j <= left_j).map(|reached| (time, left_j, reached))
        };
        if let Some((time, left_j, reached)) = (0..*times).rev().find_map(in_leg) {
            let (from, before_m) = (&points[reached], way_m + f64::from(time) * whole.way_m);
            let further_m = points.get(reached + 1).map_or(0.0, |to| {
                let share = (left_j - told_j[reached]) / (told_j[reached + 1] - told_j[reached]);
                // Within a stretch all is proportional to the way, but it may end anywhere within a step.
                (to.way_m - from.way_m) * (share.max(0.0) + LONGEST_STEP_S / (to.seconds - from.seconds)).min(1.0)
            });
            ends_m = before_m + from.way_m + further_m;
        }
        (before_j, way_m) = (before_j + f64::from(*times) * leg_j, way_m + f64::from(*times) * whole.way_m);
    }
    ends_m
}
