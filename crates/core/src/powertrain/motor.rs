//! All motors of a design as one map: torque available and losses against speed and bus voltage.

use crate::library::{Motor, MotorModel};
use crate::quantity::units::RAD_S_PER_RPM;

#[derive(Debug, Clone, PartialEq)]
enum Curve {
    Envelope { torque_nm: f64, power_w: f64 },
    Points { speed_rad_s: Vec<f64>, torque_nm: Vec<f64>, slope: Vec<f64> },
}

/// Several equal motors as one, in SI.
#[derive(Debug, Clone, PartialEq)]
pub struct MotorMap {
    curve: Curve,
    reference_v: Option<f64>,
    /// Highest permitted speed, rad/s.
    pub max_speed_rad_s: f64,
    /// Torque for ever, N m.
    pub continuous_nm: f64,
    /// Power for ever, W.
    pub continuous_w: f64,
    copper: f64,
    iron: f64,
    windage: f64,
    constant: f64,
    /// 1 / (2 copper), infinite without copper loss.
    half_inverse_copper: f64,
}

impl MotorMap {
    /// `count` equal motors whose torques add.
    #[must_use]
    pub fn of(motor: &Motor, count: u32) -> Self {
        let n = f64::from(count);
        let losses = motor.loss_coefficients();
        let curve = match &motor.model {
            MotorModel::Envelope { peak_torque_nm, peak_power_w } => {
                Curve::Envelope { torque_nm: n * peak_torque_nm, power_w: n * peak_power_w }
            }
            MotorModel::Points { points } => {
                let speed_rad_s: Vec<f64> = points.iter().map(|p| p.speed_rpm * RAD_S_PER_RPM).collect();
                let torque_nm: Vec<f64> = points.iter().map(|p| n * p.torque_nm).collect();
                let slope = (1..points.len()).map(|i| (torque_nm[i] - torque_nm[i - 1]) / (speed_rad_s[i] - speed_rad_s[i - 1])).collect();
                Curve::Points { speed_rad_s, torque_nm, slope }
            }
        };
        Self {
            curve,
            reference_v: motor.reference_voltage_v,
            max_speed_rad_s: motor.max_speed_rpm * RAD_S_PER_RPM,
            continuous_nm: n * motor.continuous_torque_or_default_nm(),
            continuous_w: n * motor.continuous_power_w,
            // n motors share the torque: n kc (T/n)^2 = (kc/n) T^2; the rest is spent n times.
            copper: losses.copper_w_per_nm2 / n,
            iron: n * losses.iron_w_per_rad_s,
            windage: n * losses.windage_w_per_rad3_s3,
            constant: n * losses.constant_w,
            half_inverse_copper: 0.5 * n / losses.copper_w_per_nm2,
        }
    }

    /// Voltage the curve holds at, if it moves with voltage.
    #[must_use]
    pub fn reference_v(&self) -> Option<f64> {
        self.reference_v
    }

    /// Loss while turning without torque, W.
    #[inline]
    #[must_use]
    pub fn idle_loss_w(&self, speed_rad_s: f64) -> f64 {
        self.iron * speed_rad_s + self.windage * speed_rad_s * speed_rad_s * speed_rad_s + self.constant
    }

    /// Copper loss, W.
    #[inline]
    #[must_use]
    pub fn copper_loss_w(&self, torque_nm: f64) -> f64 {
        self.copper * torque_nm * torque_nm
    }

    /// Torque at which the electrical power `T w + kc T^2 + idle` equals `electric_w`; the root nearer to zero, and
    /// never beyond the braking torque that returns most.
    #[inline]
    #[must_use]
    pub fn torque_for_power_nm(&self, speed_rad_s: f64, electric_w: f64) -> f64 {
        let shaft_w = electric_w - self.idle_loss_w(speed_rad_s);
        let root = speed_rad_s * speed_rad_s + 4.0 * self.copper * shaft_w;
        if root <= 0.0 {
            return -speed_rad_s / (2.0 * self.copper);
        }
        let under = speed_rad_s + root.sqrt();
        if under <= 0.0 { if shaft_w > 0.0 { f64::INFINITY } else { 0.0 } } else { 2.0 * shaft_w / under }
    }

    /// Braking torque (positive figure) beyond which braking harder returns less, N m.
    #[inline]
    #[must_use]
    pub fn best_braking_nm(&self, speed_rad_s: f64) -> f64 {
        speed_rad_s * self.half_inverse_copper
    }

    /// Greatest torque of the curve at a speed and a bus voltage, N m. Zero past the last point and past the highest speed.
    #[inline]
    #[must_use]
    pub fn curve_nm(&self, speed_rad_s: f64, bus_v: f64) -> f64 {
        if speed_rad_s > self.max_speed_rad_s {
            return 0.0;
        }
        let scale = self.reference_v.map_or(1.0, |v| bus_v / v);
        match &self.curve {
            Curve::Envelope { torque_nm, power_w } => {
                if speed_rad_s * torque_nm <= power_w * scale {
                    *torque_nm
                } else {
                    power_w * scale / speed_rad_s
                }
            }
            Curve::Points { speed_rad_s: speeds, torque_nm, slope } => {
                let at = speed_rad_s / scale.max(1e-9);
                let last = slope.len() - 1;
                if at > speeds[last + 1] {
                    return 0.0;
                }
                let mut i = 0;
                while i < last && at > speeds[i + 1] {
                    i += 1;
                }
                torque_nm[i] + (at - speeds[i]).max(0.0) * slope[i]
            }
        }
    }

    /// Greatest torque of the curve itself, N m.
    #[must_use]
    pub fn greatest_nm(&self) -> f64 {
        match &self.curve {
            Curve::Envelope { torque_nm, .. } => *torque_nm,
            Curve::Points { torque_nm, .. } => torque_nm.iter().copied().fold(0.0, f64::max),
        }
    }

    /// Greatest torque up to `ceiling_nm` that the curve allows when the bus sags under that same torque:
    /// `bus = (ocv + sqrt(ocv^2 - 4 R (P/eff + aux))) / 2` with `P = T w + losses`. N m.
    ///
    /// In the constant-power part the torque is proportional to the bus voltage, which makes the balance a quadratic
    /// in that voltage; a curve of points is bisected (the sagging curve falls and the demand rises with torque).
    #[must_use]
    pub fn sagged_nm(&self, ceiling_nm: f64, speed_rad_s: f64, ocv_v: f64, resistance_ohm: f64, efficiency: f64, aux_w: f64) -> f64 {
        let Some(reference_v) = self.reference_v else {
            return self.curve_nm(speed_rad_s, ocv_v).min(ceiling_nm);
        };
        if speed_rad_s > self.max_speed_rad_s {
            return 0.0;
        }
        let bus_v = |torque: f64| -> Option<f64> {
            let power = (torque * speed_rad_s + self.copper_loss_w(torque) + self.idle_loss_w(speed_rad_s)) / efficiency + aux_w;
            let root = ocv_v * ocv_v - 4.0 * resistance_ohm * power;
            (root >= 0.0).then(|| 0.5 * (ocv_v + root.sqrt()))
        };
        let holds = |torque: f64| bus_v(torque).is_some_and(|v| torque <= self.curve_nm(speed_rad_s, v));
        let top = self.curve_nm(speed_rad_s, ocv_v).min(ceiling_nm);
        if holds(top) {
            return top;
        }
        if let Curve::Envelope { power_w, .. } = &self.curve
            && resistance_ohm > 0.0
        {
            let slope = power_w / (reference_v * speed_rad_s.max(1e-9));
            let a = self.copper * slope * slope / efficiency + 1.0 / resistance_ohm;
            let b = slope * speed_rad_s / efficiency - ocv_v / resistance_ohm;
            let c = self.idle_loss_w(speed_rad_s) / efficiency + aux_w;
            let root = b * b - 4.0 * a * c;
            if root >= 0.0 {
                let volts = (-b + root.sqrt()) / (2.0 * a);
                let torque = slope * volts;
                // Below half of the open-circuit voltage the power falls again; there the bisection decides.
                if torque <= top && volts >= 0.5 * ocv_v {
                    return torque.max(0.0);
                }
            }
        }
        // The bus sags little with torque, so inserting one into the other converges in a few turns; bisection is the net.
        let mut volts = ocv_v;
        for _ in 0..30 {
            let Some(next) = bus_v(self.curve_nm(speed_rad_s, volts).min(top)) else { break };
            if (next - volts).abs() <= 1e-9 * ocv_v {
                return self.curve_nm(speed_rad_s, next).min(top);
            }
            volts = next;
        }
        let (mut low, mut high) = (0.0, top);
        for _ in 0..50 {
            let middle = 0.5 * (low + high);
            if holds(middle) {
                low = middle;
            } else {
                high = middle;
            }
        }
        low
    }
}
