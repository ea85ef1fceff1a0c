//! Whether a trip was followed: one rule for the estimate, the bands, the findings and the search.

use crate::trip::Trace;

/// Share of a trip's duration that may be spent more than 2 km/h below its trace (judgement: a junction or two of a round).
pub const MOST_OFF_TRACE: f64 = 0.01;
/// Share of a trip's length that may be lost by lagging (judgement).
pub const MOST_LOST: f64 = 0.003;

/// How far a vehicle may fall behind a trace and still follow it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Tolerance {
    /// Seconds more than 2 km/h below the trace.
    pub off_trace_s: f64,
    /// Metres lost; on the trace's clock what is lost stays lost.
    pub lost_m: f64,
}

impl Tolerance {
    /// That of one run of a trace.
    #[must_use]
    pub fn of(trace: &Trace) -> Self {
        // A hair for sums made in another order.
        Self { off_trace_s: MOST_OFF_TRACE * trace.duration_s(), lost_m: MOST_LOST * trace.distance_m() + 1e-6 }
    }

    /// Whether a vehicle that has been off the trace for `off_trace_s` and lost `lost_m` no longer follows it.
    #[inline]
    #[must_use]
    pub fn is_exceeded(&self, off_trace_s: f64, lost_m: f64) -> bool {
        off_trace_s > self.off_trace_s || lost_m > self.lost_m
    }
}
