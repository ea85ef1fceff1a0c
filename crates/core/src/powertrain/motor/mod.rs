//! All motors of a design as one map: torque available and losses against speed and bus voltage.

mod constants;
mod curve;
mod inside;
mod loss_fit;
mod losses;
mod sag;
#[cfg(test)]
mod tests;

use crate::library::{Motor, MotorKind};
use crate::quantity::units::RAD_S_PER_RPM;
use curve::Curve;
pub(crate) use inside::Inside;
pub use loss_fit::{best_point, loss_coefficients};
use losses::Losses;
pub(crate) use losses::Polynomial;

/// Several equal motors as one, in SI.
#[derive(Debug, Clone, PartialEq)]
pub struct MotorMap {
    curve: Curve,
    inside: Inside,
    losses: Losses,
    reference_v: Option<f64>,
    /// Highest permitted speed, rad/s.
    pub max_speed_rad_s: f64,
    /// Continuous torque, N m.
    pub continuous_nm: f64,
    /// Continuous power, W.
    pub continuous_w: f64,
    /// Lost at the continuous rating, W: its torque at the speed at which that makes its power. Heat is told by it.
    pub rated_loss_w: f64,
    /// Lost at the peak rating, W: the greatest torque at the base speed, whatever a controller allows of it.
    pub peak_loss_w: f64,
    /// Speed up to which the greatest torque is given at the reference voltage, rad/s.
    pub base_speed_rad_s: f64,
}

/// Share of its highest speed at which a hub motor is rated, where its record states no continuous torque: it turns with the wheel, and the
/// plate speaks of the road (common practice). Its greatest torque reaches up to far lower speeds, where it could not shed what the
/// rated power loses in its copper.
const HUB_RATED_SPEED: f64 = 0.75;

/// Speed at which a record's curve leaves its greatest torque, rad/s, and the torque one such motor gives continuously, N m: as
/// stated, else that of its continuous power at the rated point.
#[must_use]
pub fn rated_point(motor: &Motor) -> (f64, f64) {
    let curve = Curve::of(motor, 1.0);
    let max_speed = motor.max_speed_rpm * RAD_S_PER_RPM;
    let base = curve.base_speed_rad_s(motor.reference_voltage_v, max_speed);
    let rated = || {
        let torque = curve.torque_for_rated_power_nm(motor.continuous_power_w, motor.reference_voltage_v, max_speed);
        let most = if motor.kind == MotorKind::Hub { motor.continuous_power_w / (HUB_RATED_SPEED * max_speed) } else { f64::INFINITY };
        torque.min(most)
    };
    (base, motor.continuous_torque_nm.unwrap_or_else(rated))
}

impl MotorMap {
    /// `count` equal motors whose torques add.
    #[must_use]
    pub fn of(motor: &Motor, count: u32) -> Self {
        let n = f64::from(count);
        let curve = Curve::of(motor, n);
        let losses = match &curve {
            Curve::Constants(m) => Losses::of_constants(m, motor.reference_voltage_v),
            Curve::Series(m) => Losses::Series(*m),
            Curve::Envelope { .. } | Curve::Points(_) => Losses::quadratic(&loss_coefficients(motor), n),
        };
        let (base_rad_s, continuous_nm) = rated_point(motor);
        let max_speed_rad_s = motor.max_speed_rpm * RAD_S_PER_RPM;
        let greatest_nm = curve.greatest_nm();
        let (continuous_nm, continuous_w) = ((n * continuous_nm).min(greatest_nm), n * motor.continuous_power_w);
        let reference_v = motor.reference_voltage_v.filter(|_| !curve.is_in_volts());
        Self {
            losses,
            inside: curve.inside(reference_v, max_speed_rad_s),
            reference_v,
            max_speed_rad_s,
            continuous_nm,
            continuous_w,
            rated_loss_w: losses.loss_w(continuous_nm, (continuous_w / continuous_nm).min(max_speed_rad_s)),
            peak_loss_w: losses.loss_w(greatest_nm, base_rad_s),
            base_speed_rad_s: base_rad_s,
            curve,
        }
    }

    /// Lowers the continuous torque and power to what loses no more than `loss_w` where the two meet.
    pub(super) fn hold_continuously(&mut self, loss_w: f64) {
        if loss_w >= self.rated_loss_w {
            return;
        }
        let speed_rad_s = (self.continuous_w / self.continuous_nm).min(self.max_speed_rad_s);
        let share = self.torque_for_loss_nm(speed_rad_s, loss_w) / self.continuous_nm;
        self.continuous_nm *= share;
        self.continuous_w *= share;
    }

    /// A motor without losses that gives a torque up to a power, at any speed and voltage.
    pub(super) fn ideal(torque_nm: f64, power_w: f64) -> Self {
        let curve = Curve::Envelope { torque_nm, power_w };
        Self {
            inside: curve.inside(None, f64::INFINITY),
            curve,
            losses: Losses::NONE,
            reference_v: None,
            max_speed_rad_s: f64::INFINITY,
            continuous_nm: torque_nm,
            continuous_w: power_w,
            rated_loss_w: 0.0,
            peak_loss_w: 0.0,
            base_speed_rad_s: 0.0,
        }
    }

    /// Keeps the motor current at or below `amps` in each motor, where the record knows its current.
    pub(super) fn limit_amps(&mut self, amps: f64) {
        self.curve.limit_amps(amps);
        self.inside = self.curve.inside(self.reference_v, self.max_speed_rad_s);
    }

    /// Torque of all motors when each carries `amps`, N m; `None` where the record does not say.
    #[must_use]
    pub fn torque_at_amps_nm(&self, amps: f64) -> Option<f64> {
        self.curve.torque_at_amps_nm(amps)
    }

    /// Amps of each of `motors` by their record, at a torque of all and a speed, A; `None` where the record does not say what an ampere
    /// makes. Where the field is weakened, the same torque takes the more current the faster the motor turns.
    #[must_use]
    pub fn amps_at(&self, (record, motors): (&Motor, u32), torque_nm: f64, speed_rad_s: f64) -> Option<f64> {
        match &self.curve {
            Curve::Series(_) => Some(self.amps_at_torque(torque_nm)),
            Curve::Constants(m) => Some((torque_nm / m.motors / m.constant * self.losses.weakening(speed_rad_s) + m.no_load_a).abs()),
            Curve::Envelope { .. } | Curve::Points(_) => {
                let weakened = record.kind.is_three_phase() && self.base_speed_rad_s > 0.0;
                let growth = if weakened { (speed_rad_s / self.base_speed_rad_s).max(1.0) } else { 1.0 };
                Some(torque_nm.abs() / f64::from(motors) / record.torque_per_amp_nm_a? * growth)
            }
        }
    }

    /// Whether torque grows with more than the motor's amps.
    pub(super) fn torque_outgrows_amps(&self) -> bool {
        matches!(self.curve, Curve::Series(_))
    }

    /// Amps of each motor at a torque of all, A; 0 where torque does not tell.
    #[inline]
    pub(super) fn amps_at_torque(&self, torque_nm: f64) -> f64 {
        match &self.curve {
            Curve::Series(m) => m.amps(torque_nm.abs() / m.motors + m.drag_nm),
            _ => 0.0,
        }
    }

    /// Torque continuously held at a speed by the ratings, N m.
    #[must_use]
    pub fn continuous_nm_at(&self, speed_rad_s: f64) -> f64 {
        self.continuous_nm.min(self.continuous_w / speed_rad_s.max(1e-9))
    }

    /// Whether torque at speed moves with the bus voltage.
    #[must_use]
    pub fn follows_voltage(&self) -> bool {
        self.reference_v.is_some() || self.curve.is_in_volts()
    }

    /// Loss at a shaft torque (negative when braking) and a speed, W.
    #[inline]
    #[must_use]
    pub fn loss_w(&self, torque_nm: f64, speed_rad_s: f64) -> f64 {
        self.losses.loss_w(torque_nm, speed_rad_s)
    }

    /// The losses as a polynomial that holds at every speed, if they are one.
    pub(crate) fn polynomial(&self) -> Option<Polynomial> {
        match self.losses {
            Losses::Quadratic { of, weak_from_rad_s, .. } if weak_from_rad_s.is_infinite() => Some(of),
            _ => None,
        }
    }

    /// Torque at which the electrical power `T w + loss` equals `electric_w`; the root nearer to zero, and never beyond the
    /// braking torque that returns most, N m.
    #[inline]
    #[must_use]
    pub fn torque_for_power_nm(&self, speed_rad_s: f64, electric_w: f64) -> f64 {
        self.losses.torque_for_power_nm(speed_rad_s, electric_w)
    }

    /// Driving torque at which so much is lost, N m; 0 where turning alone loses more.
    #[must_use]
    pub fn torque_for_loss_nm(&self, speed_rad_s: f64, loss_w: f64) -> f64 {
        self.losses.torque_for_loss_nm(speed_rad_s, loss_w)
    }

    /// Braking torque (positive figure) beyond which braking harder returns less, N m.
    #[inline]
    #[must_use]
    pub fn best_braking_nm(&self, speed_rad_s: f64) -> f64 {
        self.losses.best_braking_nm(speed_rad_s)
    }

    /// Greatest torque of the curve at a speed and a bus voltage, N m. Zero past the last point and past the highest speed.
    #[inline]
    #[must_use]
    pub fn curve_nm(&self, speed_rad_s: f64, bus_v: f64) -> f64 {
        if speed_rad_s > self.max_speed_rad_s {
            return 0.0;
        }
        self.curve.torque_nm(speed_rad_s, bus_v, self.reference_v)
    }

    /// Torques, powers and speeds that surely lie within the curve.
    pub(crate) fn inside(&self) -> Inside {
        self.inside
    }

    /// Whether the curve gives a torque at a speed and a bus voltage: as [`Self::curve_nm`], without its division where multiplications tell.
    #[inline]
    pub(super) fn gives(&self, torque_nm: f64, speed_rad_s: f64, bus_v: f64) -> bool {
        self.inside.holds(torque_nm, speed_rad_s, bus_v)
            || !self.curve.is_told_by_inside()
                && speed_rad_s <= self.max_speed_rad_s
                && torque_nm <= self.curve.torque_nm(speed_rad_s, bus_v, self.reference_v)
    }

    /// Bus voltage from which on the curve gives a torque at a speed, V, or no less than that; infinite where there is none, `None` where the
    /// curve does not say.
    #[inline]
    pub(super) fn gives_from_v(&self, torque_nm: f64, speed_rad_s: f64) -> Option<f64> {
        if self.is_near_inside() {
            Some(self.inside.holds_from_v(torque_nm, speed_rad_s))
        } else {
            self.curve.gives_from_v(torque_nm, speed_rad_s, self.reference_v)
        }
    }

    /// Whether what [`Self::inside`] says of voltages is all, or nearly so.
    pub(super) fn is_near_inside(&self) -> bool {
        self.curve.is_near_inside()
    }

    /// Greatest torque of the curve itself, N m.
    #[must_use]
    pub fn greatest_nm(&self) -> f64 {
        self.curve.greatest_nm()
    }
}
