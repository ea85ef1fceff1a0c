//! Motors told by their constants: what voltage and speed make of current, and current of torque.

/// Permanent-magnet motor by its constants.
///
/// `V = Ke w + I R`, `T = Kt (I - I0)`, `Kt = Ke`. Above the speed where `Ke w + I R` meets the bus the flux is weakened to no less than
/// `Ke / weakening`: just so far that the peak current still flows, or where the bus cannot drive that, to where
/// `T(K) = K ((V - K w) / R - I0)` is greatest, `K = (V - I0 R) / (2 w)`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct PermanentMagnet {
    pub(super) motors: f64,
    pub(super) constant: f64,
    pub(super) resistance_ohm: f64,
    pub(super) no_load_a: f64,
    pub(super) peak_a: f64,
    pub(super) weakening: f64,
}

impl PermanentMagnet {
    pub(super) fn torque_nm(&self, speed_rad_s: f64, motor_v: f64) -> f64 {
        self.torque_and_gain(speed_rad_s, motor_v).0
    }

    /// Torque at a speed and a voltage, and its growth with that.
    #[inline]
    pub(super) fn torque_and_gain(&self, speed_rad_s: f64, motor_v: f64) -> (f64, f64) {
        let weakest = self.constant / self.weakening;
        let room_v = motor_v - self.peak_a * self.resistance_ohm;
        // The constant of the weakened field and its growth with the voltage; it stays where one of its ends is met.
        let (constant, grows) = if self.constant * speed_rad_s <= room_v {
            (self.constant, 0.0)
        } else {
            let turning = speed_rad_s.max(1e-9);
            let half_v = 0.5 * (motor_v - self.no_load_a * self.resistance_ohm);
            let (best_v, share) = if room_v >= half_v { (room_v, 1.0) } else { (half_v, 0.5) };
            let free = best_v / turning;
            (free.max(weakest).min(self.constant), if free > weakest && free < self.constant { share / turning } else { 0.0 })
        };
        let driven_a = (motor_v - constant * speed_rad_s) / self.resistance_ohm;
        let (amps, rises) =
            if driven_a < self.peak_a { (driven_a, (1.0 - grows * speed_rad_s) / self.resistance_ohm) } else { (self.peak_a, 0.0) };
        let pulling_a = amps - self.no_load_a;
        if pulling_a <= 0.0 {
            return (0.0, 0.0);
        }
        (self.motors * constant * pulling_a, self.motors * (grows * pulling_a + constant * rises))
    }
}

/// Series-wound motor with a field that saturates: `K(I) = K_sat I / (I + I_s)`, `T = K I - T0`,
/// `V = K w + I R + V_brush`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct SeriesWound {
    pub(super) motors: f64,
    pub(super) saturated: f64,
    pub(super) half_a: f64,
    pub(super) resistance_ohm: f64,
    pub(super) brush_v: f64,
    pub(super) drag_nm: f64,
    pub(super) peak_a: f64,
}

impl SeriesWound {
    /// Torque of one motor before friction, N m.
    pub(super) fn gross_nm(&self, amps: f64) -> f64 {
        self.saturated * amps * amps / (amps + self.half_a)
    }

    /// Current of one motor at a torque before friction, A: the inverse of [`Self::gross_nm`].
    pub(super) fn amps(&self, gross_nm: f64) -> f64 {
        let t = gross_nm.max(0.0);
        (t + (t * t + 4.0 * self.saturated * t * self.half_a).sqrt()) / (2.0 * self.saturated)
    }

    /// Current that `motor_v` drives at a speed, A: the positive root of
    /// `R I^2 + (K_sat w + R I_s + V_b - V) I - (V - V_b) I_s = 0`.
    fn amps_at(&self, speed_rad_s: f64, motor_v: f64) -> f64 {
        let room_v = motor_v - self.brush_v;
        if room_v <= 0.0 {
            return 0.0;
        }
        let b = self.saturated * speed_rad_s + self.resistance_ohm * self.half_a - room_v;
        let root = (b * b + 4.0 * self.resistance_ohm * room_v * self.half_a).sqrt();
        // The form without cancellation, for either sign of b.
        if b >= 0.0 { 2.0 * room_v * self.half_a / (b + root) } else { (root - b) / (2.0 * self.resistance_ohm) }
    }

    /// Growth of [`Self::gross_nm`] with the current.
    #[inline]
    pub(super) fn gross_slope(&self, amps: f64) -> f64 {
        let sum = amps + self.half_a;
        self.saturated * amps * (amps + 2.0 * self.half_a) / (sum * sum)
    }

    /// Electrical power of one motor at a current and a speed, friction not counted, W; convex and rising in the current.
    #[inline]
    pub(super) fn electric_w(&self, amps: f64, speed_rad_s: f64) -> f64 {
        self.gross_nm(amps) * speed_rad_s + amps * (amps * self.resistance_ohm + self.brush_v)
    }

    /// Growth of [`Self::electric_w`] with the current, W/A.
    #[inline]
    pub(super) fn electric_slope(&self, amps: f64, speed_rad_s: f64) -> f64 {
        self.gross_slope(amps) * speed_rad_s + 2.0 * amps * self.resistance_ohm + self.brush_v
    }

    /// A current that takes no less than `each_w` at a speed, A: neither copper alone nor the field alone takes more than all of it.
    #[inline]
    pub(super) fn amps_at_most(&self, speed_rad_s: f64, each_w: f64) -> f64 {
        let field = 2.0 * self.saturated * speed_rad_s;
        let by_field = (each_w + (each_w * (each_w + 2.0 * field * self.half_a)).sqrt()) / field;
        let by_copper = (each_w / self.resistance_ohm).sqrt();
        if by_field < by_copper { by_field } else { by_copper }
    }

    pub(super) fn torque_nm(&self, speed_rad_s: f64, motor_v: f64) -> f64 {
        self.torque_and_gain(speed_rad_s, motor_v).0
    }

    /// Torque at a speed and a voltage, and its growth with that.
    #[inline]
    pub(super) fn torque_and_gain(&self, speed_rad_s: f64, motor_v: f64) -> (f64, f64) {
        let driven_a = self.amps_at(speed_rad_s, motor_v);
        let amps = driven_a.min(self.peak_a);
        let net_nm = self.gross_nm(amps) - self.drag_nm;
        if net_nm <= 0.0 {
            return (0.0, 0.0);
        }
        let rises = if driven_a < self.peak_a {
            let sum = amps + self.half_a;
            self.gross_slope(amps) / (self.saturated * self.half_a / (sum * sum) * speed_rad_s + self.resistance_ohm)
        } else {
            0.0
        };
        (self.motors * net_nm, self.motors * rises)
    }
}
