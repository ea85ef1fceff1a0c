//! The pack fuse: the least that carries the load, and how long it takes to open.

use crate::limits::{FUSE_BURST, FUSE_MARGIN};

/// Ratings that are sold, A (the R10 and R20 series of ISO 3 as fuses use them).
pub const FUSE_RATINGS_A: [f64; 30] = [
    5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 50.0, 60.0, 63.0, 70.0, 80.0, 100.0, 125.0, 150.0, 160.0, 175.0, 200.0, 225.0, 250.0,
    300.0, 315.0, 350.0, 400.0, 450.0, 500.0, 600.0, 800.0, 1000.0,
];

/// Seconds after which a fast fuse for batteries opens, by current over its rating (common practice, from memory: a minute at one and a half
/// times, which the findings count with; between the points along straight lines of logarithms).
const OPENS: [(f64, f64); 6] = [(FUSE_MARGIN, 3600.0), (FUSE_BURST, 60.0), (2.0, 8.0), (3.0, 0.8), (5.0, 0.08), (10.0, 0.01)];

/// The least rating that carries a current for hours and a peak for a minute, A; `None` beyond the largest.
#[must_use]
pub fn least_fuse_a(continuous_a: f64, peak_a: f64, peak_over_rating: f64) -> Option<f64> {
    let least = (FUSE_MARGIN * continuous_a).max(peak_a / peak_over_rating);
    FUSE_RATINGS_A.into_iter().find(|rating| *rating >= least)
}

/// Seconds after which a fuse opens at a current; infinite below 1.25 times its rating.
#[must_use]
pub fn opens_after_s(rating_a: f64, amps: f64) -> f64 {
    let ratio = amps / rating_a;
    if ratio < OPENS[0].0 {
        return f64::INFINITY;
    }
    let last = OPENS[OPENS.len() - 1];
    if ratio >= last.0 {
        // Beyond, what melts it is a fixed heat: I^2 t.
        return last.1 * (last.0 / ratio).powi(2);
    }
    let above = OPENS.iter().position(|p| p.0 > ratio).unwrap_or(OPENS.len() - 1).max(1);
    let ((x0, y0), (x1, y1)) = (OPENS[above - 1], OPENS[above]);
    (y0.ln() + (ratio / x0).ln() / (x1 / x0).ln() * (y1 / y0).ln()).exp()
}

/// Current at which a fuse opens after some time, A: the inverse of [`opens_after_s`], found between its points.
#[must_use]
pub fn opening_current_a(rating_a: f64, seconds: f64) -> f64 {
    if seconds >= OPENS[0].1 {
        return OPENS[0].0 * rating_a;
    }
    let last = OPENS[OPENS.len() - 1];
    if seconds <= last.1 {
        return rating_a * last.0 * (last.1 / seconds).sqrt();
    }
    let above = OPENS.iter().position(|p| p.1 < seconds).unwrap_or(OPENS.len() - 1).max(1);
    let ((x0, y0), (x1, y1)) = (OPENS[above - 1], OPENS[above]);
    rating_a * (x0.ln() + (seconds / y0).ln() / (y1 / y0).ln() * (x1 / x0).ln()).exp()
}
