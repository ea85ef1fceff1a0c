//! What stops more torque: every limit of the chain at one state of charge, each by name.

use serde::Serialize;

use super::{Chain, Rise};

/// Which ratings hold: those for a peak, continuously, or what heat allows for some time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Rating {
    /// Peak ratings.
    Peak,
    /// Continuous ratings.
    Continuous,
    /// Continuous cells; motor and controller as long as they stay within their temperature.
    Held {
        /// How long, s.
        seconds: f64,
        /// Temperature rise at the start.
        rise: Rise,
    },
}

/// The limit that binds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Cause {
    /// Grip of the driven tyres.
    Traction,
    /// The motor's own torque.
    MotorTorque,
    /// The motor's power at its reference voltage.
    MotorPower,
    /// Bus voltage: the motor's back-EMF leaves too little.
    Voltage,
    /// The controller's motor-side current.
    MotorAmps,
    /// The controller's battery-side current.
    BatteryAmps,
    /// The controller's power limit.
    ControllerPower,
    /// The cells' discharge rate.
    PackAmps,
    /// Pack or controller cut-off voltage under load.
    Sag,
    /// The motor's highest speed.
    MotorSpeed,
    /// Motor or controller would get too hot.
    Heat,
    /// Nothing: the demand is met.
    None,
}

impl Cause {
    /// Words for people.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Traction => "tyre grip",
            Self::MotorTorque => "motor torque",
            Self::MotorPower => "motor power",
            Self::Voltage => "bus voltage",
            Self::MotorAmps => "motor amps",
            Self::BatteryAmps => "battery amps",
            Self::ControllerPower => "controller power",
            Self::PackAmps => "pack amps",
            Self::Sag => "pack sag",
            Self::MotorSpeed => "motor speed",
            Self::Heat => "heat",
            Self::None => "nothing",
        }
    }
}

/// Limits at one state of charge.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Limits {
    rating: Rating,
    /// Open-circuit voltage, V.
    pub ocv_v: f64,
    /// Power drawn beside the controller, W.
    pub aux_w: f64,
    /// Most power the controller can take from the bus, W.
    pub bus_w: f64,
    /// What sets it.
    pub bus_cause: Cause,
    /// Torque allowed by the controller's motor amps, N m.
    pub amps_nm: f64,
    /// Loss of the motor that heat allows, W.
    pub motor_loss_w: f64,
    /// Torque that the controller's heat allows, N m.
    pub controller_nm: f64,
}

impl Limits {
    /// Whether they are those of a peak, which no continuous rating narrows.
    #[must_use]
    pub(super) fn is_peak(&self) -> bool {
        self.rating == Rating::Peak
    }
}

/// What an instant needs to know of the supply; the full [`Limits`] are worked out only near a limit.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Supply {
    /// Open-circuit voltage, V.
    pub ocv_v: f64,
    /// Power drawn beside the controller, W.
    pub aux_w: f64,
    /// Most power that the controller may feed back, W.
    pub(super) feedback_w: f64,
}

/// What feeds a controller: cells behind their resistance, and what else they feed.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Source {
    /// Open-circuit voltage, V.
    pub(crate) ocv_v: f64,
    /// Of the pack, Ohm.
    pub(crate) resistance_ohm: f64,
    /// Bus voltage below which pack or controller give out, V.
    pub(crate) cutoff_v: f64,
    /// Power drawn beside the controller, W.
    pub(crate) aux_w: f64,
}

impl Source {
    /// Most power that a controller can take, W, and what sets it, with so many amps allowed by the cells and by the controller. No less with
    /// a higher voltage, less resistance, a lower cut-off or more of what is allowed.
    pub(crate) fn most_w(&self, cells_a: f64, controller_a: f64, max_power_w: f64) -> (f64, Cause) {
        let Self { ocv_v, resistance_ohm: r, cutoff_v, aux_w } = *self;
        // Each in W at the controller's input.
        // Cells without resistance never sag, whatever the amps; endless amps times nothing would be no number.
        let from_current = |amps: f64| if r > 0.0 { amps * (ocv_v - amps * r) } else { amps * ocv_v } - aux_w;
        let cells_w = from_current(if r > 0.0 { cells_a.min(ocv_v / (2.0 * r)) } else { cells_a });
        let mut best = (cells_w, Cause::PackAmps);
        if r > 0.0 {
            // The bus may fall to the cut-off, but never past half of the open-circuit voltage, where power peaks.
            let sag_a = ((ocv_v - cutoff_v) / r).min(ocv_v / (2.0 * r)).max(0.0);
            let sag_w = from_current(sag_a);
            if sag_w < best.0 {
                best = (sag_w, Cause::Sag);
            }
        } else if ocv_v < cutoff_v {
            best = (0.0, Cause::Sag);
        }
        let controller_w = self.watts_of_amps(controller_a);
        if controller_w < best.0 {
            best = (controller_w, Cause::BatteryAmps);
        }
        if max_power_w < best.0 {
            best = (max_power_w, Cause::ControllerPower);
        }
        (best.0.max(0.0), best.1)
    }

    /// Power that a controller's amps pass: `V = ocv - R (I + aux / V)`, W; infinite where they would pull the bus below half of the
    /// open-circuit voltage, which is never reached: power falls again beyond it.
    fn watts_of_amps(&self, amps: f64) -> f64 {
        let Self { ocv_v, resistance_ohm: r, aux_w, .. } = *self;
        let b = ocv_v - r * amps;
        let root = b * b - 4.0 * r * aux_w;
        let volts_v = if root >= 0.0 && b > 0.0 { 0.5 * (b + root.sqrt()) } else { 0.0 };
        if volts_v >= 0.5 * ocv_v { amps * volts_v } else { f64::INFINITY }
    }
}

impl Chain {
    /// Limits at a state of charge with `aux_w` drawn beside the controller.
    #[must_use]
    pub fn limits(&self, soc: f64, aux_w: f64, rating: Rating) -> Limits {
        let ocv_v = self.pack.ocv_v(soc);
        let (cells_a, controller_a, amps_nm) = match rating {
            Rating::Peak => (self.pack.peak_a, self.battery_peak_a, self.motor_amps_peak_nm),
            Rating::Continuous => (self.pack.continuous_a, self.battery_continuous_a, self.motor_amps_continuous_nm),
            Rating::Held { .. } => (self.pack.continuous_a, self.battery_peak_a, self.motor_amps_peak_nm),
        };
        let source = Source { ocv_v, resistance_ohm: self.pack.resistance_ohm, cutoff_v: self.cutoff_v, aux_w };
        let (bus_w, bus_cause) = source.most_w(cells_a, controller_a, self.max_power_w);
        let limits = Limits { rating, ocv_v, aux_w, bus_w, bus_cause, amps_nm, motor_loss_w: f64::INFINITY, controller_nm: f64::INFINITY };
        match rating {
            Rating::Peak => limits,
            Rating::Continuous => Limits { motor_loss_w: self.motor_heat.held_continuously(), ..limits },
            Rating::Held { seconds, rise } => {
                let (motor, controller) = (&self.motor_heat, &self.controller_heat);
                self.kept_cool(limits, motor.held_for(seconds, rise.motor), controller.held_for(seconds, rise.controller))
            }
        }
    }

    /// Power that the controller's own amps pass, W: as [`Source::watts_of_amps`].
    pub(super) fn watts_of_controller_amps(&self, amps: f64, ocv_v: f64, aux_w: f64) -> f64 {
        Source { ocv_v, resistance_ohm: self.pack.resistance_ohm, cutoff_v: self.cutoff_v, aux_w }.watts_of_amps(amps)
    }

    /// Limits narrowed to a loss of the motor, W, and one of the controller, over that at its continuous current.
    pub(super) fn kept_cool(&self, limits: Limits, motor_loss_w: f64, controller_loss: f64) -> Limits {
        let (controller_nm, controller_w) = self.controller_within(controller_loss, limits.ocv_v, limits.aux_w);
        let (bus_w, bus_cause) = if controller_w < limits.bus_w { (controller_w, Cause::Heat) } else { (limits.bus_w, limits.bus_cause) };
        Limits { bus_w, bus_cause, motor_loss_w, controller_nm, ..limits }
    }

    /// Torque that the motor itself gives continuously at a speed, N m: its ratings, and what its heat allows.
    pub(crate) fn continuous_motor_nm(&self, speed_rad_s: f64) -> f64 {
        let cool_nm = self.motor.torque_for_loss_nm(speed_rad_s, self.motor_heat.held_continuously());
        self.motor.continuous_nm_at(speed_rad_s).min(cool_nm)
    }

    /// Greatest motor torque at a shaft speed, N m, and what stops more.
    #[must_use]
    pub fn full_torque(&self, speed_rad_s: f64, limits: &Limits) -> (f64, Cause) {
        if speed_rad_s > self.motor.max_speed_rad_s {
            return (0.0, Cause::MotorSpeed);
        }
        let mut best = (f64::INFINITY, Cause::None);
        let mut lower = |torque: f64, cause: Cause| {
            if torque < best.0 {
                best = (torque.max(0.0), cause);
            }
        };
        lower(limits.amps_nm, Cause::MotorAmps);
        lower(limits.controller_nm, Cause::Heat);
        if limits.motor_loss_w.is_finite() {
            lower(self.motor.torque_for_loss_nm(speed_rad_s, limits.motor_loss_w), Cause::Heat);
        }
        let electric_w = limits.bus_w * self.efficiency;
        // A series motor's torque at a power is dear: it is spared where what the curve gives without sag takes no more.
        let spared = self.motor.torque_outgrows_amps() && {
            let most_nm = self.motor.curve_nm(speed_rad_s, limits.ocv_v).min(limits.amps_nm).min(limits.controller_nm);
            most_nm * speed_rad_s + self.motor.loss_w(most_nm, speed_rad_s) <= electric_w
        };
        if !spared {
            lower(self.motor.torque_for_power_nm(speed_rad_s, electric_w), limits.bus_cause);
        }
        if limits.rating == Rating::Continuous {
            lower(self.motor.continuous_nm, Cause::MotorTorque);
            lower(self.motor.continuous_nm_at(speed_rad_s), Cause::MotorPower);
        }
        // The curve last: it needs the sag under its own load, which is spared when something else binds first.
        let ceiling_nm = best.0;
        let resistance_ohm = self.pack.resistance_ohm;
        let curve_nm = self.motor.sagged_nm(ceiling_nm, speed_rad_s, limits.ocv_v, resistance_ohm, self.efficiency, limits.aux_w);
        if curve_nm < ceiling_nm {
            let cause = if curve_nm >= self.motor.greatest_nm() * (1.0 - 1e-9) {
                Cause::MotorTorque
            } else if self.motor.follows_voltage() {
                Cause::Voltage
            } else {
                Cause::MotorPower
            };
            best = (curve_nm, cause);
        }
        best
    }
}
