//! Heat of motor and controller: one time constant each, from the ratings people publish.

/// Heating of one part by what it loses, in shares of the rise that the loss of its continuous rating makes at the rated ambient.
///
/// `d theta / dt = (q - theta) / tau` with `q = loss / loss at the continuous rating`. The time constant follows from the peak rating:
/// `tau = -t_b / ln(1 - loss_c / loss_b)`. Losses are W of a motor, shares of its rated loss of a controller ([`current_loss`]).
///
/// # Source
/// First-order heating of a homogeneous body, e.g. Larminie and Lowry, 2nd ed., section 7.3 (from memory); IEC 60034-1
/// defines the duties S1 (continuous) and S2 (short-time) that the two ratings are.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ThermalModel {
    /// Time constant, s.
    pub tau_s: f64,
    /// Loss that may be held continuously at the rated ambient.
    pub continuous: f64,
    /// Inverse of it.
    per_loss: f64,
    /// Temperature rise at which the part must not get warmer, in rises of the continuous rating; above 1 in the cold.
    pub limit: f64,
    /// Air temperature, degC.
    pub ambient_c: f64,
    /// Rise of the continuous rating, K.
    pub rise_k: f64,
}

/// Ambient that ratings hold at, degC (IEC 60034-1).
pub const RATED_AMBIENT_C: f64 = 40.0;
/// Time constant of a part whose peak rating loses no more than its continuous one, so that the two do not tell, s: a small machine or a
/// heat sink (common practice).
const USUAL_TAU_S: f64 = 1200.0;
/// Longest time constant taken from two ratings, s.
const SLOW_S: f64 = 1e6;

/// Share of a controller's loss at its continuous current that grows with the current; the rest grows with its square.
const LINEAR_SHARE: f64 = 0.5;

/// Loss of a controller at a share of its continuous current, over that at it.
///
/// Switching at the bus's voltage and the drop of a junction grow with the current, resistance with its square; half and half is usual
/// of the two sorts of switches together (application notes of power semiconductors, from memory). The motor's speed does not
/// enter: at a stand the current is whole while hardly any power passes.
#[inline]
#[must_use]
pub fn current_loss(share: f64) -> f64 {
    let share = share.abs();
    share * (LINEAR_SHARE + (1.0 - LINEAR_SHARE) * share)
}

/// Share of the continuous current that makes a loss: the inverse of [`current_loss`].
#[must_use]
pub fn current_of_loss(loss: f64) -> f64 {
    let linear = LINEAR_SHARE / (1.0 - LINEAR_SHARE);
    0.5 * ((linear * linear + 4.0 * loss.max(0.0) / (1.0 - LINEAR_SHARE)).sqrt() - linear)
}

impl ThermalModel {
    /// Of a part with the loss at its continuous rating, that at a peak held for `peak_s` from cold, and a highest temperature.
    #[must_use]
    pub fn of(continuous: f64, peak: f64, peak_s: f64, max_c: f64, ambient_c: f64) -> Self {
        let share = continuous / peak;
        let tau_s = if share < 1.0 { (-peak_s / (-share).ln_1p()).min(SLOW_S) } else { USUAL_TAU_S };
        let rise_k = max_c - RATED_AMBIENT_C;
        // A part without losses never warms.
        let continuous = if continuous > 0.0 { continuous } else { f64::MAX };
        Self { tau_s, continuous, per_loss: continuous.recip(), limit: ((max_c - ambient_c) / rise_k).max(0.0), ambient_c, rise_k }
    }

    /// Of a part that no loss warms.
    pub(super) fn cold(ambient_c: f64) -> Self {
        Self { tau_s: SLOW_S, continuous: f64::MAX, per_loss: 0.0, limit: 1.0, ambient_c, rise_k: RATED_AMBIENT_C }
    }

    /// Temperature rise a loss tends to.
    #[inline]
    #[must_use]
    pub fn target(&self, loss: f64) -> f64 {
        loss * self.per_loss
    }

    /// Temperature rise after `dt` s at a loss; second order in `dt`, exact in the limit of small steps.
    #[inline]
    #[must_use]
    pub fn after(&self, rise: f64, loss: f64, dt: f64) -> f64 {
        rise + (self.target(loss) - rise) * self.gain(dt)
    }

    /// Share of the way to its target that the rise goes in `dt` s.
    #[inline]
    #[must_use]
    pub(crate) fn gain(&self, dt: f64) -> f64 {
        dt / (self.tau_s + 0.5 * dt)
    }

    /// Loss that may be held continuously in this ambient; never above that of the rating, whatever the cold.
    #[must_use]
    pub fn held_continuously(&self) -> f64 {
        self.continuous * self.limit.min(1.0)
    }

    /// Loss that just reaches the limit after `seconds` from a rise.
    #[must_use]
    pub fn held_for(&self, seconds: f64, rise: f64) -> f64 {
        let left = (-seconds / self.tau_s).exp();
        self.continuous * ((self.limit - rise * left) / (1.0 - left)).max(0.0)
    }

    /// Greatest loss that stays within the limit over the next `dt` s from a rise.
    #[must_use]
    pub(crate) fn within(&self, rise: f64, dt: f64) -> f64 {
        self.continuous * (rise + (self.limit - rise) / self.gain(dt)).max(0.0)
    }

    /// Seconds until a loss reaches the limit from a rise; `None` when it never does.
    #[must_use]
    pub fn seconds_left(&self, loss: f64, rise: f64) -> Option<f64> {
        let target = self.target(loss);
        if rise >= self.limit && target > self.limit {
            return Some(0.0);
        }
        (target > self.limit).then(|| self.tau_s * ((target - rise) / (target - self.limit)).ln())
    }

    /// Temperature of a rise, degC.
    #[must_use]
    pub fn temperature_c(&self, rise: f64) -> f64 {
        self.ambient_c + rise * self.rise_k
    }
}
