//! Torque of a motor map on a bus that sags under that same torque.

use std::cell::Cell;

use super::MotorMap;
use super::curve::Curve;
use super::losses::{Losses, Polynomial};
use crate::quantity::{crossing, newton};

/// Share of the power up to which what the pack gives and what the curve takes count as the same.
const BALANCED: f64 = 1e-9;

impl MotorMap {
    /// Greatest torque up to `ceiling_nm` that the curve allows when the bus sags under that same torque:
    /// `bus = (ocv + sqrt(ocv^2 - 4 R (P/eff + aux))) / 2` with `P = T w + losses`. N m.
    #[must_use]
    pub fn sagged_nm(&self, ceiling_nm: f64, speed_rad_s: f64, ocv_v: f64, resistance_ohm: f64, efficiency: f64, aux_w: f64) -> f64 {
        if !self.follows_voltage() {
            return self.curve_nm(speed_rad_s, ocv_v).min(ceiling_nm);
        }
        if speed_rad_s > self.max_speed_rad_s {
            return 0.0;
        }
        let power_w = |torque: f64| (torque * speed_rad_s + self.loss_w(torque, speed_rad_s)) / efficiency + aux_w;
        let top = self.curve_nm(speed_rad_s, ocv_v).min(ceiling_nm);
        let root = ocv_v * ocv_v - 4.0 * resistance_ohm * power_w(top);
        // Past half of the open-circuit voltage power falls again.
        let low_v = 0.5 * (ocv_v + root.max(0.0).sqrt());
        if root >= 0.0 && top <= self.curve_nm(speed_rad_s, low_v) {
            return top;
        }
        if let Some(torque) = self.sagged_in_constant_power(speed_rad_s, ocv_v, resistance_ohm, efficiency, aux_w)
            && torque <= top
        {
            return torque;
        }
        // What the pack gives at a voltage falls as that rises, and what the curve takes at it does not.
        let given_w = |volts: f64| volts * (ocv_v - volts) / resistance_ohm;
        let balances = |torque: f64, volts: f64| (power_w(torque) - given_w(volts)).abs() <= BALANCED * given_w(volts);
        let slope = Cell::new(0.0);
        let left_over = |volts: f64| {
            let (torque, gain) = self.curve.torque_and_gain(speed_rad_s, volts, self.reference_v);
            slope
                .set((ocv_v - 2.0 * volts) / resistance_ohm - gain * (speed_rad_s + self.losses.slope_w(torque, speed_rad_s)) / efficiency);
            given_w(volts) - power_w(torque)
        };
        let volts = newton(low_v, 1e-13, left_over, |_| slope.get());
        if (low_v..=ocv_v).contains(&volts) {
            let torque = self.curve_nm(speed_rad_s, volts);
            if balances(torque, volts) {
                return torque.min(top);
            }
        }
        // Past a corner of the curve it may miss. Where a curve ends it jumps: there it is the pack that tells, a hair on the near side.
        let volts = crossing(low_v, ocv_v, left_over).unwrap_or(low_v) + 1e-12 * ocv_v;
        let torque = self.curve_nm(speed_rad_s, volts);
        if balances(torque, volts) {
            return torque.min(top);
        }
        self.torque_for_power_nm(speed_rad_s, efficiency * (given_w(volts) - aux_w)).clamp(0.0, top)
    }

    /// A torque that [`Self::sagged_nm`] up to the torque for `electric_w` exceeds neither here nor at a higher speed, a lower voltage, more
    /// resistance or less efficiency, N m, at a fraction of its work.
    ///
    /// At the bus that the curve's torque without sag would leave, the curve gives no more than at the bus in question; at the bus that this
    /// torque leaves it gives no less. A curve that rises somewhere with speed tells neither: there only its ceiling holds.
    #[inline]
    pub(crate) fn sagged_at_most_nm(
        &self,
        (ceiling_nm, electric_w): (f64, f64),
        speed_rad_s: f64,
        (ocv_v, resistance_ohm): (f64, f64),
        (efficiency, aux_w): (f64, f64),
    ) -> f64 {
        if speed_rad_s > self.max_speed_rad_s {
            return 0.0;
        }
        let powered_nm = ceiling_nm.min(self.losses.most_torque_for_power_nm(speed_rad_s, electric_w)).max(0.0);
        if self.curve.rises() {
            return powered_nm;
        }
        let top = self.curve_nm(speed_rad_s, ocv_v).min(powered_nm);
        if !self.follows_voltage() || resistance_ohm <= 0.0 {
            return top;
        }
        let root = |torque: f64| {
            let power_w = (torque * speed_rad_s + self.loss_w(torque, speed_rad_s)) / efficiency + aux_w;
            ocv_v * ocv_v - 4.0 * resistance_ohm * power_w
        };
        let bus_v = |root: f64| 0.5 * (ocv_v + root.max(0.0).sqrt());
        let least = self.curve_nm(speed_rad_s, bus_v(root(top))).min(top);
        let root_at_least = root(least);
        if least >= top || root_at_least < 0.0 {
            return top;
        }
        self.curve_nm(speed_rad_s, bus_v(root_at_least)).min(top)
    }

    /// In the constant-power part of an envelope the torque is proportional to the bus voltage, which makes the balance a
    /// quadratic in that voltage. `None` where that does not apply.
    fn sagged_in_constant_power(&self, speed_rad_s: f64, ocv_v: f64, resistance_ohm: f64, efficiency: f64, aux_w: f64) -> Option<f64> {
        let (Curve::Envelope { power_w, .. }, Losses::Quadratic { of: Polynomial { copper, .. }, .. }, Some(reference_v)) =
            (&self.curve, &self.losses, self.reference_v)
        else {
            return None;
        };
        if resistance_ohm <= 0.0 {
            return None;
        }
        let slope = power_w / (reference_v * speed_rad_s.max(1e-9));
        let a = copper * slope * slope / efficiency + 1.0 / resistance_ohm;
        let b = slope * speed_rad_s / efficiency - ocv_v / resistance_ohm;
        let c = self.loss_w(0.0, speed_rad_s) / efficiency + aux_w;
        let root = b * b - 4.0 * a * c;
        let volts = if root >= 0.0 { (-b + root.sqrt()) / (2.0 * a) } else { return None };
        // Below half of the open-circuit voltage the power falls again; there the search decides.
        (volts >= 0.5 * ocv_v).then_some((slope * volts).max(0.0))
    }
}
