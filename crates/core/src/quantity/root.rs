//! Roots of a quantity, found by the `roots` crate to a share of the interval or of the root.

use roots::{Convergency, find_root_brent, find_root_newton_raphson, find_root_regula_falsi};

/// Ends a search where two guesses lie closer than `apart`, or a value is nearer to zero than `near`.
struct Until {
    apart: f64,
    near: f64,
    /// Whether `apart` is a share of the guess itself.
    of_guess: bool,
}

impl Convergency<f64> for Until {
    fn is_root_found(&mut self, y: f64) -> bool {
        y.abs() <= self.near
    }

    fn is_converged(&mut self, x1: f64, x2: f64) -> bool {
        (x1 - x2).abs() <= if self.of_guess { self.apart * x2.abs() } else { self.apart }
    }

    fn is_iteration_limit_reached(&mut self, iterations: usize) -> bool {
        // Far beyond what halving an interval down to rounding takes.
        iterations >= 200
    }
}

/// Where `f` changes its sign between `low` and `high`, to 1e-12 of their distance (Brent's method); a jump counts. `None` where both ends
/// have the same sign.
pub(crate) fn crossing(low: f64, high: f64, f: impl FnMut(f64) -> f64) -> Option<f64> {
    let mut until = Until { apart: 1e-12 * (high - low).abs(), near: 0.0, of_guess: false };
    find_root_brent(low, high, f, &mut until).ok()
}

/// As [`crossing`] where `f` is nearly straight and dear (false position), also ended where it is no further from zero than `near`.
pub(crate) fn straight_crossing(low: f64, high: f64, near: f64, f: impl FnMut(f64) -> f64) -> Option<f64> {
    let mut until = Until { apart: 1e-12 * (high - low).abs(), near, of_guess: false };
    find_root_regula_falsi(low, high, f, &mut until).ok()
}

/// Newton's method from a start from which it converges, until a step is no more than a share of the root; the start where it does not.
pub(crate) fn newton(start: f64, share: f64, f: impl FnMut(f64) -> f64, slope: impl FnMut(f64) -> f64) -> f64 {
    find_root_newton_raphson(start, f, slope, &mut Until { apart: share, near: 0.0, of_guess: true }).unwrap_or(start)
}
