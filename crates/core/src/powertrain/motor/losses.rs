//! What a motor loses, and the torque that a given electrical power makes.

use super::constants::{PermanentMagnet, SeriesWound};
use crate::library::LossCoefficients;
use crate::quantity::newton;

/// `kc T^2 + kl T + ki w + kw w^3 + C`, W of N m and rad/s.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub(crate) struct Polynomial {
    pub(crate) copper: f64,
    pub(crate) linear: f64,
    pub(crate) iron: f64,
    pub(crate) windage: f64,
    pub(crate) constant: f64,
}

impl Polynomial {
    /// Loss at a shaft torque (negative when braking) and speed, W.
    #[inline(always)]
    pub(crate) fn loss_w(&self, torque_nm: f64, speed_rad_s: f64) -> f64 {
        (self.copper * torque_nm + self.linear) * torque_nm + self.idle_w(speed_rad_s, speed_rad_s)
    }

    /// Loss without torque, W; iron may count a lower speed than windage does.
    #[inline(always)]
    fn idle_w(&self, iron_rad_s: f64, speed_rad_s: f64) -> f64 {
        self.iron * iron_rad_s + self.windage * speed_rad_s * speed_rad_s * speed_rad_s + self.constant
    }

    /// Braking torque (positive figure) beyond which braking harder returns less, N m.
    #[inline(always)]
    pub(crate) fn best_braking_nm(&self, speed_rad_s: f64) -> f64 {
        if self.copper > 0.0 { (speed_rad_s + self.linear) / (2.0 * self.copper) } else { f64::INFINITY }
    }
}

/// Losses of all motors together.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Losses {
    /// A polynomial; past `weak_from_rad_s` the field is weakened and current for the same torque grows.
    Quadratic {
        of: Polynomial,
        weak_from_rad_s: f64,
        /// Greatest growth of the current by weakening.
        weakest: f64,
    },
    /// Copper and brushes of a series motor at the current its torque takes, friction on top.
    Series(SeriesWound),
}

/// The polynomial at one speed, with what turning alone loses there.
#[derive(Debug, Clone, Copy)]
struct AtSpeed {
    copper: f64,
    linear: f64,
    idle_w: f64,
}

impl Losses {
    /// None at all.
    pub(super) const NONE: Self = Self::unweakened(Polynomial { copper: 0.0, linear: 0.0, iron: 0.0, windage: 0.0, constant: 0.0 });

    const fn unweakened(of: Polynomial) -> Self {
        Self::Quadratic { of, weak_from_rad_s: f64::INFINITY, weakest: 1.0 }
    }

    pub(super) fn quadratic(losses: &LossCoefficients, n: f64) -> Self {
        // n motors share the torque: n kc (T/n)^2 = (kc/n) T^2; the rest is spent n times.
        Self::unweakened(Polynomial {
            copper: losses.copper_w_per_nm2 / n,
            linear: 0.0,
            iron: n * losses.iron_w_per_rad_s,
            windage: n * losses.windage_w_per_rad3_s3,
            constant: n * losses.constant_w,
        })
    }

    /// Copper `I^2 R` and no-load `Ke w I0` with `I = T / Ke + I0`, written out in powers of T.
    pub(super) fn of_constants(m: &PermanentMagnet, reference_v: Option<f64>) -> Self {
        let (ke, r, i0) = (m.constant, m.resistance_ohm, m.no_load_a);
        Self::Quadratic {
            of: Polynomial {
                copper: r / (ke * ke) / m.motors,
                linear: 2.0 * r * i0 / ke,
                iron: m.motors * ke * i0,
                windage: 0.0,
                constant: m.motors * r * i0 * i0,
            },
            // Taken at the reference voltage, so that the losses at a demand do not move with the charge of the pack.
            weak_from_rad_s: reference_v.filter(|_| m.weakening > 1.0).map_or(f64::INFINITY, |v| v / ke),
            weakest: m.weakening,
        }
    }

    #[inline]
    fn at(&self, speed_rad_s: f64) -> Option<AtSpeed> {
        let Self::Quadratic { of, weak_from_rad_s, .. } = *self else { return None };
        let Polynomial { copper, linear, .. } = of;
        let idle_w = of.idle_w(speed_rad_s.min(weak_from_rad_s), speed_rad_s);
        if speed_rad_s <= weak_from_rad_s {
            return Some(AtSpeed { copper, linear, idle_w });
        }
        let growth = self.weakening(speed_rad_s);
        Some(AtSpeed { copper: copper * growth * growth, linear: linear * growth, idle_w })
    }

    /// Growth of the current for the same torque by weakening the field at a speed.
    pub(super) fn weakening(&self, speed_rad_s: f64) -> f64 {
        let Self::Quadratic { weak_from_rad_s, weakest, .. } = *self else { return 1.0 };
        (speed_rad_s / weak_from_rad_s).max(1.0).min(weakest)
    }

    /// Loss at a shaft torque (negative when braking) and speed, W.
    #[inline]
    pub(super) fn loss_w(&self, torque_nm: f64, speed_rad_s: f64) -> f64 {
        if let Some(a) = self.at(speed_rad_s) {
            return (a.copper * torque_nm + a.linear) * torque_nm + a.idle_w;
        }
        let Self::Series(m) = self else { return 0.0 };
        let each = torque_nm / m.motors + m.drag_nm;
        if each <= 0.0 {
            return 0.0;
        }
        let amps = m.amps(each);
        m.motors * (m.drag_nm * speed_rad_s + amps * (amps * m.resistance_ohm + m.brush_v))
    }

    /// Growth of the loss with the driving torque, W/(N m).
    #[inline]
    pub(super) fn slope_w(&self, torque_nm: f64, speed_rad_s: f64) -> f64 {
        if let Some(a) = self.at(speed_rad_s) {
            return 2.0 * a.copper * torque_nm + a.linear;
        }
        let Self::Series(m) = self else { return 0.0 };
        let amps = m.amps(torque_nm / m.motors + m.drag_nm);
        (2.0 * amps * m.resistance_ohm + m.brush_v) / m.gross_slope(amps)
    }

    /// Torque at which `T w + loss` equals `electric_w`; the root nearer to zero, and never beyond the braking torque that
    /// returns most, N m.
    #[inline]
    pub(super) fn torque_for_power_nm(&self, speed_rad_s: f64, electric_w: f64) -> f64 {
        let Some(a) = self.at(speed_rad_s) else { return self.series_torque_nm(speed_rad_s, electric_w) };
        let shaft_w = electric_w - a.idle_w;
        let slope = speed_rad_s + a.linear;
        let root = slope * slope + 4.0 * a.copper * shaft_w;
        if root <= 0.0 {
            return -slope / (2.0 * a.copper);
        }
        let under = slope + root.sqrt();
        if under <= 0.0 { if shaft_w > 0.0 { f64::INFINITY } else { 0.0 } } else { 2.0 * shaft_w / under }
    }

    /// Newton's method on `f(I) = K(I) I w + I^2 R + I V_b - P`, convex and rising, from the right: it only falls towards the root.
    fn series_torque_nm(&self, speed_rad_s: f64, electric_w: f64) -> f64 {
        let Self::Series(m) = self else { return 0.0 };
        let each_w = electric_w / m.motors;
        if each_w <= 0.0 {
            return -m.motors * m.drag_nm;
        }
        let start = m.amps_at_most(speed_rad_s, each_w);
        let amps = newton(start, 1e-12, |a| m.electric_w(a, speed_rad_s) - each_w, |a| m.electric_slope(a, speed_rad_s));
        m.motors * (m.gross_nm(amps) - m.drag_nm)
    }

    /// A torque that [`Self::torque_for_power_nm`] does not exceed, N m: itself where it is closed, else after two steps of Newton's method, which
    /// comes from above.
    #[inline]
    pub(super) fn most_torque_for_power_nm(&self, speed_rad_s: f64, electric_w: f64) -> f64 {
        let Self::Series(m) = self else { return self.torque_for_power_nm(speed_rad_s, electric_w) };
        let each_w = electric_w / m.motors;
        if each_w <= 0.0 || !each_w.is_finite() {
            return if each_w > 0.0 { f64::INFINITY } else { 0.0 };
        }
        let mut amps = m.amps_at_most(speed_rad_s, each_w);
        for _ in 0..2 {
            amps -= (m.electric_w(amps, speed_rad_s) - each_w) / m.electric_slope(amps, speed_rad_s);
        }
        m.motors * (m.gross_nm(amps) - m.drag_nm) * (1.0 + 1e-12)
    }

    /// Driving torque at which the loss is `loss_w`, N m: the positive root of it; 0 where turning alone loses more.
    pub(super) fn torque_for_loss_nm(&self, speed_rad_s: f64, loss_w: f64) -> f64 {
        if let Some(a) = self.at(speed_rad_s) {
            let room_w = loss_w - a.idle_w;
            if room_w <= 0.0 {
                return 0.0;
            }
            return 2.0 * room_w / (a.linear + (a.linear * a.linear + 4.0 * a.copper * room_w).sqrt());
        }
        let Self::Series(m) = self else { return f64::INFINITY };
        let room_w = loss_w / m.motors - m.drag_nm * speed_rad_s;
        if room_w <= 0.0 {
            return 0.0;
        }
        let amps = 2.0 * room_w / (m.brush_v + (m.brush_v * m.brush_v + 4.0 * m.resistance_ohm * room_w).sqrt());
        m.motors * (m.gross_nm(amps) - m.drag_nm).max(0.0)
    }

    /// Braking torque (positive figure) beyond which braking harder returns less, N m.
    #[inline]
    pub(super) fn best_braking_nm(&self, speed_rad_s: f64) -> f64 {
        self.at(speed_rad_s).map_or(0.0, |a| if a.copper > 0.0 { (speed_rad_s + a.linear) / (2.0 * a.copper) } else { f64::INFINITY })
    }
}
