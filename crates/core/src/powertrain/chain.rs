//! The whole power path of one design, ready to be asked for power.

use super::heat::ThermalModel;
use super::{Cause, GearPath, Limits, MotorMap, Supply, gear_paths};
use crate::document::Document;
use crate::error::{Error, Problem, Result};
use crate::library::{Controller, Motor};
use crate::pack::{PackModel, Terminals};
use crate::quantity::units::KMH_PER_M_S;
use crate::vehicle::{Conditions, Road, Traction, radius_m};

/// Share of a limit up to which a demand counts as far from it.
const ROOM: f64 = 0.94;

/// Peak over continuous current of a controller that states only one (common practice).
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
    /// ThermalModel of the motors, by torque.
    pub motor_heat: ThermalModel,
    /// ThermalModel of the controllers, by torque where their motor amps are known, else by battery amps.
    pub controller_heat: ThermalModel,
    /// Which of the two it is.
    pub controller_heats_by_torque: bool,
    pub(super) battery_peak_a: f64,
    pub(super) battery_continuous_a: f64,
    pub(super) max_power_w: f64,
    pub(super) motor_amps_peak_nm: f64,
    pub(super) motor_amps_continuous_nm: f64,
    regeneration_a: f64,
    feedback_cap_w: f64,
    fade_to_m_s: f64,
    /// Growth of the braking share with speed, 1/(m/s).
    fade_per_m_s: f64,
    inverse_efficiency: f64,
    regeneration_share: f64,
    respect_pack_limits: bool,
    /// Low-voltage load at the traction pack, W.
    pub low_voltage_w: f64,
}

/// Power flow of one instant, W; all sums at the battery terminals.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PowerFlow {
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

/// What the motor does in an instant, before the pack is asked.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MotorPoint {
    /// N m.
    pub torque_nm: f64,
    /// rad/s.
    pub speed_rad_s: f64,
    /// Pull at the wheels, N.
    pub wheel_n: f64,
    /// Lost in the motor, W.
    pub motor_w: f64,
    /// At the controller's input, W; negative when it feeds back.
    pub bus_w: f64,
}

/// Electrical power of one gear as a polynomial of pull and speed, less what is the same in every gear.
#[derive(Debug, Clone, Copy)]
pub(crate) struct GearCost {
    rotating_kg: f64,
    fastest_m_s: f64,
    per_pull: f64,
    linear: f64,
    square: f64,
    per_speed: f64,
    per_cube: f64,
}

impl GearCost {
    /// Power in W for a resistance and an acceleration at a speed; infinite past the motor's highest speed, `None` when braking.
    #[inline]
    pub(crate) fn at(&self, v_m_s: f64, resistance_n: f64, accel_m_s2: f64) -> Option<f64> {
        let force_n = resistance_n + self.rotating_kg * accel_m_s2;
        if force_n < 0.0 {
            return None;
        }
        if v_m_s > self.fastest_m_s {
            return Some(f64::INFINITY);
        }
        Some(
            force_n * (self.per_pull * v_m_s + self.linear + self.square * force_n)
                + v_m_s * (self.per_speed + self.per_cube * v_m_s * v_m_s),
        )
    }
}

/// Torque that the controllers' motor amps allow, N m; infinite where either side does not say.
pub(crate) fn amps_to_torque(controller: &Controller, peak: bool, motor: &Motor, map: &MotorMap, motors: f64, controllers: f64) -> f64 {
    let amps = if peak {
        controller.motor_current_a
    } else {
        controller.motor_current_continuous_a.or(controller.motor_current_a.map(|a| a * CONTINUOUS_SHARE))
    };
    let Some(amps) = amps else { return f64::INFINITY };
    map.torque_at_amps_nm(amps * controllers / motors)
        .or(motor.torque_per_amp_nm_a.map(|per_amp| amps * per_amp * controllers))
        .unwrap_or(f64::INFINITY)
}

/// Highest temperatures where a record states none, degC (insulation class F with a margin; common practice).
const WINDING_C: f64 = 140.0;
const HEAT_SINK_C: f64 = 85.0;

impl Chain {
    /// The power path of a checked document at a test mass, on the site's usual day.
    ///
    /// # Errors
    /// [`Error::Invalid`] naming each of motor, controller and pack that has not been chosen.
    pub fn of(document: &Document, mass_kg: f64) -> Result<Self> {
        Self::on(document, mass_kg, &Conditions::of(document))
    }

    /// As [`Chain::of`], on a given day.
    ///
    /// # Errors
    /// As [`Chain::of`].
    pub fn on(document: &Document, mass_kg: f64, day: &Conditions) -> Result<Self> {
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
        let (motors, controllers) = (f64::from(design.motor_count), f64::from(design.controller_count));
        let pack = PackModel::of(pack, &design.wiring, day.pack_temperature_c);
        let regeneration = &design.regeneration;
        let regenerates = motor.kind.regenerates() && controller.regeneration_current_a > 0.0;
        let regeneration_share = if regenerates { regeneration.share_or_usual() } else { 0.0 };
        let mut map = MotorMap::of(motor, design.motor_count);
        if let Some(amps) = controller.motor_current_a {
            map.limit_amps(amps * controllers / motors);
        }
        let motor_amps = |peak| amps_to_torque(controller, peak, motor, &map, motors, controllers);
        let (motor_amps_peak_nm, motor_amps_continuous_nm) = (motor_amps(true), motor_amps(false));
        let battery_peak_a = controller.battery_current_a * controllers;
        let battery_continuous_a =
            controllers * controller.battery_current_continuous_a.unwrap_or(controller.battery_current_a * CONTINUOUS_SHARE);
        let motor_heat = ThermalModel::of(
            map.continuous_nm,
            map.greatest_nm(),
            motor.peak_s(),
            motor.max_temperature_c.unwrap_or(WINDING_C),
            day.temperature_c,
        );
        let controller_heats_by_torque = motor_amps_peak_nm.is_finite();
        let (controller_continuous, controller_peak) = if controller_heats_by_torque {
            (motor_amps_continuous_nm, motor_amps_peak_nm)
        } else {
            (battery_continuous_a, battery_peak_a)
        };
        let controller_heat = ThermalModel::of(
            controller_continuous,
            controller_peak,
            controller.peak_s(),
            controller.max_temperature_c.unwrap_or(HEAT_SINK_C),
            day.temperature_c,
        );
        // On a day hotter than the ratings' ambient, less is held continuously.
        let (motor_share, controller_share) = (motor_heat.limit.min(1.0).sqrt(), controller_heat.limit.min(1.0).sqrt());
        map.continuous_nm *= motor_share;
        map.continuous_w *= motor_share;
        Ok(Self {
            motor: map,
            motor_heat,
            controller_heat,
            controller_heats_by_torque,
            gears: gear_paths(document, mass_kg, radius_m),
            road: Road::of(document, mass_kg, day),
            traction: Traction::of(document, mass_kg),
            radius_m,
            shift_s: document.driveline().shift_s,
            efficiency: controller.efficiency,
            cutoff_v: pack.cutoff_v.max(controller.min_voltage_v),
            battery_peak_a,
            battery_continuous_a: battery_continuous_a * controller_share,
            max_power_w: controller.max_power_w.map_or(f64::INFINITY, |p| p * controllers),
            motor_amps_peak_nm,
            motor_amps_continuous_nm: motor_amps_continuous_nm * controller_share,
            regeneration_a: controller.regeneration_current_a * controllers,
            feedback_cap_w: regeneration.power_cap_w.unwrap_or(f64::INFINITY),
            fade_to_m_s: regeneration.fade_to_kmh / KMH_PER_M_S,
            // A fade of no width is a step, which a very steep ramp stands for.
            fade_per_m_s: KMH_PER_M_S / (regeneration.fade_from_kmh - regeneration.fade_to_kmh).max(1e-6),
            inverse_efficiency: 1.0 / controller.efficiency,
            regeneration_share,
            respect_pack_limits: regeneration.respect_pack_limits,
            low_voltage_w: design.low_voltage.load_w / design.low_voltage.converter_efficiency,
            pack,
        })
    }

    /// Paths of one range of the transfer box; without a number, of the range with the smallest ratio.
    #[must_use]
    pub fn range(&self, range: Option<u32>) -> &[GearPath] {
        let per_range = self.gears.iter().filter(|g| g.range == 1).count();
        let smallest = || self.gears.chunks(per_range).min_by(|a, b| a[0].ratio.total_cmp(&b[0].ratio));
        let named = range.and_then(|r| self.gears.chunks(per_range).nth(r as usize - 1));
        named.or_else(smallest).unwrap_or(&self.gears)
    }

    /// Ranges of the transfer box, each with its gears.
    pub fn ranges(&self) -> impl Iterator<Item = &[GearPath]> {
        let per_range = self.gears.iter().filter(|g| g.range == 1).count();
        self.gears.chunks(per_range.max(1))
    }

    /// Gear by its number, counted from 1, in the range with the smallest ratio.
    #[must_use]
    pub fn gear(&self, number: u32) -> &GearPath {
        let gears = self.range(None);
        &gears[(number as usize - 1).min(gears.len() - 1)]
    }

    /// The supply at a state of charge, with `aux_w` drawn beside the controller.
    #[inline]
    #[must_use]
    pub fn supply(&self, soc: f64, aux_w: f64) -> Supply {
        Supply { ocv_v: self.pack.ocv_v(soc), aux_w }
    }

    /// Most power that the controller may feed back to the bus, W.
    ///
    /// The controller passes its own amps at the voltage they lift the bus to; what is drawn beside it leaves the pack that much more
    /// room, the controller none.
    #[inline]
    fn feedback_w(&self, supply: &Supply) -> f64 {
        let (ocv_v, r, aux_w) = (supply.ocv_v, self.pack.resistance_ohm, supply.aux_w);
        // V = ocv + R (I - aux / V), the larger root.
        let b = ocv_v + r * self.regeneration_a;
        let root = b * b - 4.0 * r * aux_w;
        let volts_v = if root > 0.0 { 0.5 * (b + root.sqrt()) } else { 0.5 * b };
        let mut watts = (self.regeneration_a * volts_v).min(self.feedback_cap_w);
        if self.respect_pack_limits {
            let room_v = (self.pack.full_v - ocv_v).max(0.0);
            let mut amps = self.pack.charge_a;
            if amps * r > room_v {
                amps = room_v / r;
            }
            watts = watts.min(amps * (ocv_v + amps * r) + aux_w);
        }
        watts
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
        let share = self.regeneration_share * fade;
        if share <= 0.0 {
            return (0.0, 0.0);
        }
        let wheel_n = (-force_n * share).min(self.traction.brake_n);
        let mut torque = (wheel_n * gear.brake_nm_per_n).min(self.motor_amps_peak_nm).min(self.motor.best_braking_nm(speed_rad_s));
        torque = torque.min(self.motor.curve_nm(speed_rad_s, supply.ocv_v));
        let electric_w = -torque * speed_rad_s + self.motor.loss_w(-torque, speed_rad_s);
        let feedback_w = self.feedback_w(supply);
        if -electric_w * self.efficiency > feedback_w {
            torque = -self.motor.torque_for_power_nm(speed_rad_s, -feedback_w * self.inverse_efficiency).min(0.0);
        }
        (-torque, -torque * gear.brake_n_per_nm)
    }

    /// Power at the controller's input for a torque at a speed, W; negative when it feeds back.
    #[inline]
    fn bus_w(&self, torque_nm: f64, speed_rad_s: f64) -> f64 {
        let electric_w = torque_nm * speed_rad_s + self.motor.loss_w(torque_nm, speed_rad_s);
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

    /// What the motor does when the wheels are asked for `force_n` at `v_m_s` (> 0), before the pack is asked; `None` when it would turn
    /// too fast.
    #[inline]
    #[must_use]
    pub fn effort(&self, gear: &GearPath, v_m_s: f64, force_n: f64, supply: &Supply) -> Option<MotorPoint> {
        let speed_rad_s = v_m_s * gear.rad_per_m;
        if speed_rad_s > self.motor.max_speed_rad_s {
            return None;
        }
        let (torque_nm, wheel_n) = self.torque(gear, v_m_s, speed_rad_s, force_n, supply);
        let motor_w = self.motor.loss_w(torque_nm, speed_rad_s);
        let electric_w = torque_nm * speed_rad_s + motor_w;
        let bus_w = if electric_w >= 0.0 { electric_w * self.inverse_efficiency } else { electric_w * self.efficiency };
        Some(MotorPoint { torque_nm, speed_rad_s, wheel_n, motor_w, bus_w })
    }

    /// Power flow when the wheels are asked for `force_n` at `v_m_s` (> 0), or `None` when the motor would turn too fast
    /// or the pack cannot give the power at all.
    #[inline]
    #[must_use]
    pub fn draw(&self, gear: &GearPath, v_m_s: f64, force_n: f64, supply: &Supply) -> Option<PowerFlow> {
        let effort = self.effort(gear, v_m_s, force_n, supply)?;
        let MotorPoint { torque_nm, speed_rad_s, wheel_n, motor_w, bus_w } = effort;
        let shaft_w = torque_nm * speed_rad_s;
        let terminals = self.pack.under(supply.ocv_v, bus_w + supply.aux_w)?;
        Some(PowerFlow {
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

    /// What each gear asks of the bus for a pull, as polynomials; empty where the motor's losses are no polynomial.
    #[must_use]
    pub(crate) fn gear_costs(&self, gears: &[GearPath]) -> Vec<GearCost> {
        let Some(loss) = self.motor.polynomial() else { return Vec::new() };
        gears
            .iter()
            .map(|g| GearCost {
                rotating_kg: self.road.mass_kg * g.rotating_factor,
                fastest_m_s: self.motor.max_speed_rad_s / g.rad_per_m,
                per_pull: g.rad_per_m * g.pull_nm_per_n,
                linear: loss.linear * g.pull_nm_per_n,
                square: loss.copper * g.pull_nm_per_n * g.pull_nm_per_n,
                per_speed: loss.iron * g.rad_per_m,
                per_cube: loss.windage * g.rad_per_m.powi(3),
            })
            .collect()
    }

    /// Torque that takes neither motor nor controller beyond its temperature within `dt` s from some rise, N m, at the voltage of
    /// some limits.
    #[must_use]
    pub(crate) fn within_heat_nm(&self, limits: &Limits, (motor, controller): (f64, f64), dt: f64) -> f64 {
        let controller = self.controller_heat.within(controller, dt);
        let controller_nm = if self.controller_heats_by_torque {
            controller
        } else {
            // Battery amps heat it: the share of the greatest torque that the amps are of theirs.
            let amps = limits.bus_w.max(1.0) / limits.ocv_v;
            if controller < amps { self.motor.greatest_nm() * controller / amps } else { f64::INFINITY }
        };
        self.motor_heat.within(motor, dt).min(controller_nm)
    }

    /// Current below which the cells' peak rating is far, A.
    #[inline]
    #[must_use]
    pub(crate) fn easy_amps(&self) -> f64 {
        ROOM * self.pack.peak_a
    }

    /// Whether the sagged bus is far from the cut-off and from the point where power peaks.
    #[inline]
    #[must_use]
    pub(crate) fn has_room(&self, volts_v: f64, ocv_v: f64) -> bool {
        volts_v - self.cutoff_v >= (1.0 - ROOM) * (ocv_v - self.cutoff_v) && volts_v > 0.6 * ocv_v
    }

    /// Whether a demand is far enough inside every peak limit that none can fall within its second.
    #[inline]
    #[must_use]
    pub fn is_easy(&self, draw: &PowerFlow, supply: &Supply) -> bool {
        let Terminals { volts_v, current_a } = draw.terminals;
        draw.torque_nm <= 0.0
            || (draw.torque_nm <= ROOM * self.motor_amps_peak_nm
                && current_a <= self.easy_amps()
                && draw.bus_w <= ROOM * volts_v * self.battery_peak_a
                && draw.bus_w <= ROOM * self.max_power_w
                && self.has_room(volts_v, supply.ocv_v)
                && draw.torque_nm <= ROOM * self.motor.curve_nm(draw.speed_rad_s, volts_v))
    }

    /// Voltage at the terminals above which a demand stays far inside the limits of motor and controller, V; infinite when
    /// that depends on more. What the cells and the cut-off say is left to [`Chain::easy_amps`] and [`Chain::has_room`].
    #[must_use]
    pub(crate) fn easy_above_v(&self, draw: &MotorPoint) -> f64 {
        if draw.torque_nm <= 0.0 {
            return 0.0;
        }
        let within = draw.torque_nm <= ROOM * self.motor_amps_peak_nm && draw.bus_w <= ROOM * self.max_power_w;
        let amps_v = draw.bus_w / (ROOM * self.battery_peak_a);
        let lowest_v = amps_v.max(self.cutoff_v);
        if within && draw.torque_nm <= ROOM * self.motor.curve_nm(draw.speed_rad_s, lowest_v) { lowest_v } else { f64::INFINITY }
    }

    /// Whether a torque is so far beyond what motor and controller give at a speed, even at `volts_v` unsagged, that no moment of its
    /// second has it.
    #[inline]
    #[must_use]
    pub(crate) fn is_beyond(&self, torque_nm: f64, speed_rad_s: f64, volts_v: f64) -> bool {
        torque_nm > 0.0 && ROOM * torque_nm > self.motor_amps_peak_nm.min(self.motor.curve_nm(speed_rad_s, volts_v))
    }

    /// Whether a demand keeps within every peak limit.
    #[inline]
    #[must_use]
    pub fn fits(&self, draw: &PowerFlow, limits: &Limits) -> bool {
        draw.torque_nm <= 0.0
            || (draw.bus_w <= limits.bus_w
                && draw.torque_nm <= self.motor.curve_nm(draw.speed_rad_s, draw.terminals.volts_v).min(limits.amps_nm).min(limits.heat_nm))
    }

    /// Greatest pull at the wheels in a gear, N, and what stops more, tyres included.
    #[must_use]
    pub fn full_force(&self, gear: &GearPath, v_m_s: f64, limits: &Limits) -> (f64, Cause) {
        let (torque_nm, cause) = self.full_torque(v_m_s * gear.rad_per_m, limits);
        let force_n = torque_nm * gear.ratio * gear.efficiency / self.radius_m;
        if force_n > self.traction.drive_n { (self.traction.drive_n, Cause::Traction) } else { (force_n, cause) }
    }
}
