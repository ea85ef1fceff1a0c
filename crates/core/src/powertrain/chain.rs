//! The whole power path of one design, ready to be asked for power.

use super::{Cause, GearPath, Limits, MotorMap, Supply, gear_paths};
use crate::document::{Document, Regeneration};
use crate::error::{Error, Problem, Result};
use crate::library::Controller;
use crate::pack::{PackModel, Terminals};
use crate::quantity::units::KMH_PER_M_S;
use crate::vehicle::{Road, Traction, radius_m};

/// Burst over continuous current of a controller that states only one (common practice).
const CONTINUOUS_SHARE: f64 = 0.5;

/// Motor, controller, pack and driveline of a document, in SI.
#[derive(Debug, Clone, PartialEq)]
pub struct Chain {
    /// All motors as one.
    pub motor: MotorMap,
    /// Gears, first to last.
    pub gears: Vec<GearPath>,
    /// Pack with wiring.
    pub pack: PackModel,
    /// Road load at test mass.
    pub road: Road,
    /// Grip.
    pub traction: Traction,
    /// Rolling radius, m.
    pub radius_m: f64,
    /// Time of a gear change, s.
    pub shift_s: f64,
    /// Controller efficiency in both directions.
    pub efficiency: f64,
    /// The higher of the pack's and the controller's cut-off, V.
    pub cutoff_v: f64,
    pub(super) battery_burst_a: f64,
    pub(super) battery_continuous_a: f64,
    pub(super) max_power_w: f64,
    pub(super) motor_amps_burst_nm: f64,
    pub(super) motor_amps_continuous_nm: f64,
    regeneration_a: f64,
    feedback_cap_w: f64,
    fade_to_m_s: f64,
    /// Growth of the braking share with speed, 1/(m/s).
    fade_per_m_s: f64,
    inverse_efficiency: f64,
    regeneration: Regeneration,
    /// Low-voltage load at the traction pack, W.
    pub low_voltage_w: f64,
}

/// Power flow of one instant, W; all sums at the battery terminals.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Draw {
    /// Motor torque, N m.
    pub torque_nm: f64,
    /// Motor speed, rad/s.
    pub speed_rad_s: f64,
    /// Power at the motor shaft.
    pub shaft_w: f64,
    /// Lost in gears and stages.
    pub driveline_w: f64,
    /// Lost in the motor.
    pub motor_w: f64,
    /// Lost in the controller.
    pub controller_w: f64,
    /// Turned to heat in the friction brakes.
    pub brakes_w: f64,
    /// At the controller's input; negative when it feeds back.
    pub bus_w: f64,
    /// Terminals of the pack.
    pub terminals: Terminals,
}

fn amps_to_torque(controller: &Controller, burst: bool, torque_per_amp: Option<f64>, controllers: f64) -> f64 {
    let amps = if burst {
        controller.motor_current_a
    } else {
        controller.motor_current_continuous_a.or(controller.motor_current_a.map(|a| a * CONTINUOUS_SHARE))
    };
    match (amps, torque_per_amp) {
        (Some(amps), Some(torque_per_amp)) => amps * torque_per_amp * controllers,
        _ => f64::INFINITY,
    }
}

impl Chain {
    /// The power path of a checked document at a test mass.
    ///
    /// # Errors
    /// [`Error::Invalid`] naming each of motor, controller and pack that has not been chosen.
    pub fn of(document: &Document, mass_kg: f64) -> Result<Self> {
        let design = &document.design;
        let (Some(motor), Some(controller), Some(pack)) = (&design.motor, &design.controller, &design.pack) else {
            let missing = [
                ("design.motor", design.motor.is_none(), "choose a motor"),
                ("design.controller", design.controller.is_none(), "choose a controller"),
                ("design.pack", design.pack.is_none(), "choose a pack: its module, and how many in series and in parallel"),
            ];
            return Err(Error::Invalid(
                missing.iter().filter(|(_, gone, _)| *gone).map(|(path, _, what)| Problem::new(*path, "", *what)).collect(),
            ));
        };
        let radius_m = radius_m(document);
        let controllers = f64::from(design.controller_count);
        let pack = PackModel::of(pack, &design.wiring);
        let mut regeneration = design.regeneration.clone();
        if !motor.kind.regenerates() || controller.regeneration_current_a <= 0.0 {
            regeneration.share = 0.0;
        }
        Ok(Self {
            motor: MotorMap::of(motor, design.motor_count),
            gears: gear_paths(document, mass_kg, radius_m),
            road: Road::of(document, mass_kg),
            traction: Traction::of(document, mass_kg),
            radius_m,
            shift_s: document.driveline().shift_s,
            efficiency: controller.efficiency,
            cutoff_v: pack.cutoff_v.max(controller.min_voltage_v),
            battery_burst_a: controller.battery_current_a * controllers,
            battery_continuous_a: controllers
                * controller.battery_current_continuous_a.unwrap_or(controller.battery_current_a * CONTINUOUS_SHARE),
            max_power_w: controller.max_power_w.map_or(f64::INFINITY, |p| p * controllers),
            motor_amps_burst_nm: amps_to_torque(controller, true, motor.torque_per_amp_nm_a, controllers),
            motor_amps_continuous_nm: amps_to_torque(controller, false, motor.torque_per_amp_nm_a, controllers),
            regeneration_a: controller.regeneration_current_a * controllers,
            feedback_cap_w: regeneration.power_cap_w.unwrap_or(f64::INFINITY),
            fade_to_m_s: regeneration.fade_to_kmh / KMH_PER_M_S,
            // A fade of no width is a step, which a very steep ramp stands for.
            fade_per_m_s: KMH_PER_M_S / (regeneration.fade_from_kmh - regeneration.fade_to_kmh).max(1e-6),
            inverse_efficiency: 1.0 / controller.efficiency,
            regeneration,
            low_voltage_w: design.low_voltage.load_w / design.low_voltage.converter_efficiency,
            pack,
        })
    }

    /// Gear by its number, counted from 1.
    #[must_use]
    pub fn gear(&self, number: u32) -> &GearPath {
        &self.gears[(number as usize - 1).min(self.gears.len() - 1)]
    }

    /// The supply at a state of charge, with `aux_w` drawn beside the controller.
    #[inline]
    #[must_use]
    pub fn supply(&self, soc: f64, aux_w: f64) -> Supply {
        Supply { ocv_v: self.pack.ocv_v(soc), aux_w }
    }

    /// Most power that may be fed back to the bus, W.
    #[inline]
    fn feedback_w(&self, supply: &Supply) -> f64 {
        let mut amps = self.regeneration_a;
        if self.regeneration.respect_pack_limits {
            let room_v = (self.pack.full_v - supply.ocv_v).max(0.0);
            amps = amps.min(self.pack.charge_a);
            if amps * self.pack.resistance_ohm > room_v {
                amps = room_v / self.pack.resistance_ohm;
            }
        }
        // Current into the pack, turned into power on the bus.
        (amps * (supply.ocv_v + amps * self.pack.resistance_ohm) + supply.aux_w).min(self.feedback_cap_w)
    }

    /// Motor torque (N m, negative when braking) and the pull it makes at the wheels (N) when `force_n` is asked of them.
    ///
    /// Braking is shared: the motor takes its share as far as grip, amps, power, pack and its own torque allow,
    /// the friction brakes the rest.
    #[inline]
    fn torque(&self, gear: &GearPath, v_m_s: f64, speed_rad_s: f64, force_n: f64, supply: &Supply) -> (f64, f64) {
        if force_n >= 0.0 {
            return (force_n * gear.pull_nm_per_n, force_n);
        }
        let fade = ((v_m_s - self.fade_to_m_s) * self.fade_per_m_s).clamp(0.0, 1.0);
        let share = self.regeneration.share * fade;
        if share <= 0.0 {
            return (0.0, 0.0);
        }
        let wheel_n = (-force_n * share).min(self.traction.brake_n);
        let mut torque = (wheel_n * gear.brake_nm_per_n).min(self.motor_amps_burst_nm).min(self.motor.best_braking_nm(speed_rad_s));
        torque = torque.min(self.motor.curve_nm(speed_rad_s, supply.ocv_v));
        let electric_w = -torque * speed_rad_s + self.motor.copper_loss_w(torque) + self.motor.idle_loss_w(speed_rad_s);
        let feedback_w = self.feedback_w(supply);
        if -electric_w * self.efficiency > feedback_w {
            torque = -self.motor.torque_for_power_nm(speed_rad_s, -feedback_w * self.inverse_efficiency).min(0.0);
        }
        (-torque, -torque * gear.brake_n_per_nm)
    }

    /// Power at the controller's input for a torque at a speed, W; negative when it feeds back.
    #[inline]
    fn bus_w(&self, torque_nm: f64, speed_rad_s: f64) -> f64 {
        let electric_w = torque_nm * speed_rad_s + self.motor.copper_loss_w(torque_nm) + self.motor.idle_loss_w(speed_rad_s);
        if electric_w >= 0.0 { electric_w * self.inverse_efficiency } else { electric_w * self.efficiency }
    }

    /// Power at the controller's input when the wheels are asked for `force_n`, W; `None` when the motor would turn too fast.
    #[inline]
    #[must_use]
    pub fn bus_power_w(&self, gear: &GearPath, v_m_s: f64, force_n: f64, supply: &Supply) -> Option<f64> {
        let speed_rad_s = v_m_s * gear.rad_per_m;
        if speed_rad_s > self.motor.max_speed_rad_s {
            return None;
        }
        let (torque_nm, _) = self.torque(gear, v_m_s, speed_rad_s, force_n, supply);
        Some(self.bus_w(torque_nm, speed_rad_s))
    }

    /// Power flow when the wheels are asked for `force_n` at `v_m_s` (> 0), or `None` when the motor would turn too fast
    /// or the pack cannot give the power at all.
    #[inline]
    #[must_use]
    pub fn draw(&self, gear: &GearPath, v_m_s: f64, force_n: f64, supply: &Supply) -> Option<Draw> {
        let speed_rad_s = v_m_s * gear.rad_per_m;
        if speed_rad_s > self.motor.max_speed_rad_s {
            return None;
        }
        let (torque_nm, wheel_n) = self.torque(gear, v_m_s, speed_rad_s, force_n, supply);
        let bus_w = self.bus_w(torque_nm, speed_rad_s);
        let shaft_w = torque_nm * speed_rad_s;
        let motor_w = self.motor.copper_loss_w(torque_nm) + self.motor.idle_loss_w(speed_rad_s);
        let terminals = self.pack.under(supply.ocv_v, bus_w + supply.aux_w)?;
        Some(Draw {
            torque_nm,
            speed_rad_s,
            shaft_w,
            driveline_w: shaft_w - wheel_n * v_m_s,
            motor_w,
            controller_w: bus_w - (shaft_w + motor_w),
            brakes_w: (wheel_n - force_n) * v_m_s,
            bus_w,
            terminals,
        })
    }

    /// Whether a demand is far enough inside every burst limit that none can fall within its second.
    #[inline]
    #[must_use]
    pub fn is_easy(&self, draw: &Draw, supply: &Supply) -> bool {
        const ROOM: f64 = 0.85;
        let Terminals { volts_v, current_a } = draw.terminals;
        draw.torque_nm <= 0.0
            || (draw.torque_nm <= ROOM * self.motor_amps_burst_nm
                && current_a <= ROOM * self.pack.burst_a
                && draw.bus_w <= ROOM * volts_v * self.battery_burst_a
                && draw.bus_w <= ROOM * self.max_power_w
                && volts_v - self.cutoff_v >= (1.0 - ROOM) * (supply.ocv_v - self.cutoff_v)
                && volts_v > 0.6 * supply.ocv_v
                && draw.torque_nm <= ROOM * self.motor.curve_nm(draw.speed_rad_s, volts_v))
    }

    /// Whether a demand keeps within every burst limit.
    #[inline]
    #[must_use]
    pub fn fits(&self, draw: &Draw, limits: &Limits) -> bool {
        draw.torque_nm <= 0.0
            || (draw.bus_w <= limits.bus_w
                && draw.torque_nm <= self.motor.curve_nm(draw.speed_rad_s, draw.terminals.volts_v).min(limits.amps_nm))
    }

    /// Greatest pull at the wheels in a gear, N, and what stops more, tyres included.
    #[must_use]
    pub fn full_force(&self, gear: &GearPath, v_m_s: f64, limits: &Limits) -> (f64, Cause) {
        let (torque_nm, cause) = self.full_torque(v_m_s * gear.rad_per_m, limits);
        let force_n = torque_nm * gear.ratio * gear.efficiency / self.radius_m;
        if force_n > self.traction.drive_n { (self.traction.drive_n, Cause::Traction) } else { (force_n, cause) }
    }
}
