//! Heat of motor and controller: one time constant each, from the ratings people publish.

/// ThermalModel of one part, in shares of the rise that its continuous rating makes at the rated ambient.
///
/// `d theta / dt = (q - theta) / tau` with `q = (load / continuous load)^2`. The time constant follows from the peak rating:
/// `tau = -t_b / ln(1 - (I_c / I_b)^2)`.
///
/// # Source
/// First-order heating of a homogeneous body, e.g. Larminie and Lowry, 2nd ed., section 7.3 (from memory); IEC 60034-1
/// defines the duties S1 (continuous) and S2 (short-time) that the two ratings are.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ThermalModel {
    /// Time constant, s.
    pub tau_s: f64,
    /// Load (torque or amps) that may be held continuously at the rated ambient.
    pub continuous: f64,
    /// Inverse of its square.
    per_square: f64,
    /// Temperature rise at which the part must not get warmer, in rises of the continuous rating; above 1 in the cold.
    pub limit: f64,
    /// Air temperature, degC.
    pub ambient_c: f64,
    /// Rise of the continuous rating, K.
    pub rise_k: f64,
}

/// Ambient that ratings hold at, degC (IEC 60034-1).
pub const RATED_AMBIENT_C: f64 = 40.0;
/// Time constant of a part whose peak is no higher than its continuous rating, s; it never matters.
const SLOW_S: f64 = 1e6;

impl ThermalModel {
    /// ThermalModel of a part with a continuous load, a peak load held for `peak_s` from cold, and a highest temperature.
    #[must_use]
    pub fn of(continuous: f64, peak: f64, peak_s: f64, max_c: f64, ambient_c: f64) -> Self {
        let share = continuous / peak;
        let tau_s = if share < 1.0 { (-peak_s / (-share * share).ln_1p()).min(SLOW_S) } else { SLOW_S };
        let rise_k = max_c - RATED_AMBIENT_C;
        Self {
            tau_s,
            continuous,
            per_square: if continuous.is_finite() { 1.0 / (continuous * continuous).max(1e-12) } else { 0.0 },
            limit: ((max_c - ambient_c) / rise_k).max(0.0),
            ambient_c,
            rise_k,
        }
    }

    /// Temperature rise a load tends to.
    #[inline]
    #[must_use]
    pub fn target(&self, load: f64) -> f64 {
        load * load * self.per_square
    }

    /// Temperature rise after `dt` s at a load; second order in `dt`, exact in the limit of small steps.
    #[inline]
    #[must_use]
    pub fn after(&self, rise: f64, load: f64, dt: f64) -> f64 {
        rise + (self.target(load) - rise) * self.gain(dt)
    }

    /// Share of the way to its target that the rise goes in `dt` s.
    #[inline]
    #[must_use]
    pub(crate) fn gain(&self, dt: f64) -> f64 {
        dt / (self.tau_s + 0.5 * dt)
    }

    /// Load that may be held continuously in this ambient; never above the rating, whatever the cold.
    #[must_use]
    pub fn held_continuously(&self) -> f64 {
        self.continuous * self.limit.min(1.0).sqrt()
    }

    /// Load that just reaches the limit after `seconds` from a rise.
    #[must_use]
    pub fn held_for(&self, seconds: f64, rise: f64) -> f64 {
        let left = (-seconds / self.tau_s).exp();
        let target = (self.limit - rise * left) / (1.0 - left);
        self.continuous * target.max(0.0).sqrt()
    }

    /// Greatest load that stays within the limit over the next `dt` s from a rise.
    #[must_use]
    pub(crate) fn within(&self, rise: f64, dt: f64) -> f64 {
        self.continuous * (rise + (self.limit - rise) / self.gain(dt)).max(0.0).sqrt()
    }

    /// Seconds until a load reaches the limit from a rise; `None` when it never does.
    #[must_use]
    pub fn seconds_left(&self, load: f64, rise: f64) -> Option<f64> {
        let target = self.target(load);
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
