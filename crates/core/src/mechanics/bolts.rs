//! Bolts: stress areas, what they bear across, what they clamp with.

use crate::document::{BoltClass, Thread};

impl Thread {
    /// All of them, from thin to thick.
    pub const ALL: [Self; 7] = [Self::M5, Self::M6, Self::M8, Self::M10, Self::M12, Self::M14, Self::M16];

    /// Nominal diameter, mm.
    #[must_use]
    pub fn diameter_mm(self) -> f64 {
        match self {
            Self::M5 => 5.0,
            Self::M6 => 6.0,
            Self::M8 => 8.0,
            Self::M10 => 10.0,
            Self::M12 => 12.0,
            Self::M14 => 14.0,
            Self::M16 => 16.0,
        }
    }

    /// Pitch of the coarse thread, mm (ISO 261).
    #[must_use]
    pub fn pitch_mm(self) -> f64 {
        match self {
            Self::M5 => 0.8,
            Self::M6 => 1.0,
            Self::M8 => 1.25,
            Self::M10 => 1.5,
            Self::M12 => 1.75,
            Self::M14 | Self::M16 => 2.0,
        }
    }

    /// Stress area, mm2: pi/4 (d - 0.9382 p)^2 (ISO 898-1).
    ///
    /// ```
    /// use joulethesis_core::document::Thread;
    /// assert!((Thread::M8.stress_area_mm2() - 36.6).abs() < 0.05);
    /// ```
    #[must_use]
    pub fn stress_area_mm2(self) -> f64 {
        let d = self.diameter_mm() - 0.9382 * self.pitch_mm();
        std::f64::consts::FRAC_PI_4 * d * d
    }

    /// As people say it.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::M5 => "M5",
            Self::M6 => "M6",
            Self::M8 => "M8",
            Self::M10 => "M10",
            Self::M12 => "M12",
            Self::M14 => "M14",
            Self::M16 => "M16",
        }
    }
}

impl BoltClass {
    /// Nominal tensile strength, N/mm2: the number before the point, times a hundred (ISO 898-1).
    #[must_use]
    pub fn strength_n_mm2(self) -> f64 {
        match self {
            Self::Class5_8 => 500.0,
            Self::Class8_8 => 800.0,
            Self::Class10_9 => 1000.0,
        }
    }

    /// Stress at which it yields, N/mm2: the strength times the number behind the point, in tenths.
    #[must_use]
    pub fn yield_n_mm2(self) -> f64 {
        match self {
            Self::Class5_8 | Self::Class8_8 => 0.8 * self.strength_n_mm2(),
            Self::Class10_9 => 0.9 * self.strength_n_mm2(),
        }
    }

    /// As it is stamped on the head.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Class5_8 => "5.8",
            Self::Class8_8 => "8.8",
            Self::Class10_9 => "10.9",
        }
    }
}

/// Shear strength of a bolt as a share of its tensile strength (EN 1993-1-8).
const SHEAR_SHARE: f64 = 0.6;
/// Share of the yield load that a bolt is tightened to (common practice).
const TIGHTENED: f64 = 0.7;

/// Load across its axis at which a bolt breaks with the thread in the joint, N.
///
/// ```
/// use joulethesis_core::document::{BoltClass, Thread};
/// use joulethesis_core::mechanics::bolts::breaks_across_n;
/// // 0.6 x 800 x 58 mm2.
/// assert!((breaks_across_n(Thread::M10, BoltClass::Class8_8) / 1000.0 - 27.8).abs() < 0.1);
/// ```
#[must_use]
pub fn breaks_across_n(thread: Thread, class: BoltClass) -> f64 {
    SHEAR_SHARE * class.strength_n_mm2() * thread.stress_area_mm2()
}

/// Force with which a bolt that is tightened as usual clamps, N.
#[must_use]
pub fn clamps_n(thread: Thread, class: BoltClass) -> f64 {
    TIGHTENED * class.yield_n_mm2() * thread.stress_area_mm2()
}
