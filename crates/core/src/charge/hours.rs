//! The hours of a charge, told from a few of its steps.

use super::supply::{Plugged, STEPS};

/// Steps of a charge from one to another.
struct Stretch {
    /// How far the least and the most that its steps take lie apart, h; infinite where its ends do not tell.
    apart_h: f64,
    /// Each end: its step, and the hours of it.
    ends: [(u32, f64); 2],
    /// Steps between them.
    between: f64,
}

impl Plugged<'_> {
    /// Least and most hours that [`Self::fill`] takes, from as few of its steps as are `enough` to whoever asks; `None` where it does not get
    /// there.
    ///
    /// The fuller a pack the less flows into it, so that no step of a stretch is quicker than its first or slower than its last; but where
    /// lead-acid goes over from what feeds it to what it accepts, or a step may hide at which a taper ends the charge, each is looked at.
    pub(super) fn hours_between(&self, (from_soc, to_soc): (f64, f64), enough: impl Fn(f64, f64) -> bool) -> Option<(f64, f64)> {
        let step = (to_soc - from_soc) / f64::from(STEPS);
        let middle = |i: u32| from_soc + (f64::from(i) + 0.5) * step;
        // The last step at which a taper may end the charge: beyond it the rest trickles in.
        let ending = (0..STEPS).rev().find(|i| middle(*i) < to_soc - self.trickle);
        let may_end = |i: u32, k: u32| {
            let Some(ending) = ending.filter(|ending| i <= *ending) else { return false };
            let [held_a, accepted_a] = self.tapered_a(middle(k.min(ending)));
            let tapered_a = held_a.min(accepted_a);
            tapered_a < self.taper_end_a() && tapered_a < self.fed_a(middle(i))
        };
        // Between two steps lead-acid either never absorbs or always does; nothing else absorbs.
        let settled = |i: u32, k: u32| {
            let ([_, first_a], [_, last_a]) = (self.tapered_a(middle(i)), self.tapered_a(middle(k)));
            last_a >= self.powered(middle(i)).2 || first_a <= self.powered(middle(k)).2
        };
        let at = |i: u32| Some(self.hours(step, &self.flow(middle(i), to_soc).ok()?));
        let stretch = |i: u32, a: f64, k: u32, b: f64| {
            let between = f64::from((k - i).saturating_sub(1));
            let told = between == 0.0 || !may_end(i, k) && settled(i, k);
            Stretch { apart_h: if told { between * (b - a) } else { f64::INFINITY }, ends: [(i, a), (k, b)], between }
        };
        let (first, last) = (at(0)?, at(STEPS - 1)?);
        // Few charges take more.
        let mut stretches = Vec::with_capacity(32);
        stretches.push(stretch(0, first, STEPS - 1, last));
        loop {
            let (widest, widest_h) = stretches.iter().map(|s| s.apart_h).enumerate().max_by(|a, b| a.1.total_cmp(&b.1))?;
            // Sums are told only where each stretch is.
            if widest_h.is_finite() {
                // The step at the end of a stretch is counted with the one that begins there.
                let least_h = last + stretches.iter().map(|s| s.ends[0].1 * (1.0 + s.between)).sum::<f64>();
                let apart_h: f64 = stretches.iter().map(|s| s.apart_h).sum();
                let (least_h, most_h) = (least_h * (1.0 - 1e-9), (least_h + apart_h) * (1.0 + 1e-9));
                if widest_h <= 0.0 || enough(least_h, most_h) {
                    return Some((least_h, most_h));
                }
            }
            let Stretch { ends: [(i, a), (k, b)], .. } = stretches.swap_remove(widest);
            let half = i + (k - i) / 2;
            let m = at(half)?;
            stretches.push(stretch(i, a, half, m));
            stretches.push(stretch(half, m, k, b));
        }
    }
}
