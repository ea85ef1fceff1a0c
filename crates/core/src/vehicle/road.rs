//! Road load: what the road and the air ask of the wheels.

use crate::document::{Document, Tyre, tyre};
use crate::quantity::units::STANDARD_GRAVITY_M_S2;
use crate::vehicle::Conditions;
use crate::vehicle::cold::tyre_factor;

/// Resistance of one vehicle at one mass, in SI.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Road {
    /// Test mass, kg.
    pub mass_kg: f64,
    /// Half density times drag area, N/(m/s)^2.
    pub air_n_s2_m2: f64,
    /// Rolling coefficient at rest.
    pub rolling: f64,
    /// Growth of the rolling coefficient, s/m.
    pub rolling_per_m_s: f64,
    /// Wind from ahead, m/s.
    pub headwind_m_s: f64,
    /// Drag of the undriven axle without driving, N.
    pub undriven_axle_drag_n: f64,
}

/// What holds a vehicle back at one speed, N.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Resistance {
    pub(crate) air_n: f64,
    pub(crate) rolling_n: f64,
    pub(crate) climb_n: f64,
}

impl Resistance {
    /// The sum.
    #[inline]
    pub(crate) fn total_n(&self) -> f64 {
        self.air_n + self.rolling_n + self.climb_n
    }
}

impl Road {
    /// Road load of a document's donor at `mass_kg` on a day.
    #[must_use]
    pub fn of(document: &Document, mass_kg: f64, day: &Conditions) -> Self {
        let donor = &document.donor;
        let rolling_factor = day.rolling_factor * tyre_factor(donor.kind, day.temperature_c);
        Self {
            mass_kg,
            air_n_s2_m2: 0.5 * day.density_kg_m3 * donor.drag_coefficient * donor.frontal_area_m2,
            rolling: donor.rolling_coefficient * rolling_factor,
            rolling_per_m_s: donor.rolling_coefficient_per_m_s * rolling_factor,
            headwind_m_s: day.headwind_m_s,
            undriven_axle_drag_n: if donor.undriven_axle_free { 0.0 } else { donor.undriven_axle_drag_n },
        }
    }

    /// Drag in N at road speed `v_m_s`; a wind from behind that is faster than the vehicle pushes.
    #[inline]
    #[must_use]
    pub fn air_n(&self, v_m_s: f64) -> f64 {
        let through = v_m_s + self.headwind_m_s;
        self.air_n_s2_m2 * through * through.abs()
    }

    /// Rolling resistance with the drag of an axle that turns along, N, at road speed `v_m_s` on a grade with the given cosine.
    #[inline]
    #[must_use]
    pub fn rolling_n(&self, v_m_s: f64, cos: f64) -> f64 {
        self.mass_kg * STANDARD_GRAVITY_M_S2 * (self.rolling + self.rolling_per_m_s * v_m_s) * cos + self.undriven_axle_drag_n
    }

    /// Weight along the road in N on a grade with the given sine.
    #[inline]
    #[must_use]
    pub fn climb_n(&self, sin: f64) -> f64 {
        self.mass_kg * STANDARD_GRAVITY_M_S2 * sin
    }

    /// Whole resistance in N at steady speed on a grade (rise over run).
    #[must_use]
    pub fn steady_n(&self, v_m_s: f64, grade: f64) -> f64 {
        self.resistance_n(v_m_s, slope(grade))
    }

    /// Whole resistance in N at a speed on a slope given by its sine and cosine.
    #[inline]
    #[must_use]
    pub fn resistance_n(&self, v_m_s: f64, slope: (f64, f64)) -> f64 {
        self.resistance(v_m_s, slope).total_n()
    }

    /// The parts of the resistance at a speed on a slope given by its sine and cosine.
    #[inline]
    #[must_use]
    pub(crate) fn resistance(&self, v_m_s: f64, (sin, cos): (f64, f64)) -> Resistance {
        Resistance { air_n: self.air_n(v_m_s), rolling_n: self.rolling_n(v_m_s, cos), climb_n: self.climb_n(sin) }
    }

    /// Steepest grade (rise over run) on which `force_n` balances the resistance at `v_m_s`; `None` when not even
    /// the level is held, infinite when it would climb a wall.
    ///
    /// Solves `m g (sin + c cos) = force - air` with `sin + c cos = sqrt(1 + c^2) sin(th + atan c)`.
    #[must_use]
    pub fn steepest(&self, force_n: f64, v_m_s: f64) -> Option<f64> {
        let c = self.rolling + self.rolling_per_m_s * v_m_s;
        let share = (force_n - self.air_n(v_m_s) - self.undriven_axle_drag_n) / (self.mass_kg * STANDARD_GRAVITY_M_S2);
        if share < c {
            return None;
        }
        let s = share / (1.0 + c * c).sqrt();
        if s >= 1.0 {
            return Some(f64::INFINITY);
        }
        Some((s.asin() - c.atan()).tan())
    }
}

/// Sine and cosine of a grade (rise over run).
#[inline]
#[must_use]
pub(crate) fn slope(grade: f64) -> (f64, f64) {
    let cos = 1.0 / (1.0 + grade * grade).sqrt();
    (grade * cos, cos)
}

/// Rolling radius in m of a checked document.
#[must_use]
pub(crate) fn radius_m(document: &Document) -> f64 {
    match &document.donor.tyre {
        Tyre::RollingRadiusM(radius) => *radius,
        // A document is checked before it is computed; NaN would show at once if one were not.
        Tyre::Code(code) => tyre::rolling_radius_m(code).unwrap_or(f64::NAN),
    }
}
