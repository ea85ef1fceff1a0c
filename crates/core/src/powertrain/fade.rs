//! How braking by the motor fades out towards a standstill.

use crate::document::Regeneration;
use crate::quantity::units::KMH_PER_M_S;

/// The share of its braking that the motor is asked for, by speed: none up to one speed, all from another on, straight in between.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Fade {
    to_m_s: f64,
    /// Growth with speed, 1/(m/s).
    per_m_s: f64,
}

impl Fade {
    /// As a design states it.
    pub(crate) fn of(regeneration: &Regeneration) -> Self {
        Self {
            to_m_s: regeneration.fade_to_kmh / KMH_PER_M_S,
            // A fade of no width is a step, which a very steep ramp stands for.
            per_m_s: KMH_PER_M_S / (regeneration.fade_from_kmh - regeneration.fade_to_kmh).max(1e-6),
        }
    }

    /// Speeds at which the share begins to grow, is on its way and has grown, m/s, rising; nearly the same for a step. A second of hard
    /// braking goes through much of the way, where power goes with the square of the speed.
    pub(crate) fn corners_m_s(&self) -> [f64; 4] {
        [0.0, 1.0, 2.0, 3.0].map(|third| self.to_m_s + third / 3.0 / self.per_m_s)
    }

    /// Share at a speed, 0..1.
    #[inline]
    pub(crate) fn at(&self, v_m_s: f64) -> f64 {
        ((v_m_s - self.to_m_s) * self.per_m_s).clamp(0.0, 1.0)
    }
}
