//! The whole power path of one design, ready to be asked for power.

use super::fade::Fade;
use super::heat::{ThermalModel, current_loss, current_of_loss};
use super::rise::ControllerLoad;
use super::{GearPath, MotorMap, gear_paths};
use crate::document::Document;
use crate::error::{Error, Problem, Result};
use crate::library::{Controller, Motor};
use crate::pack::PackModel;
use crate::vehicle::{Conditions, Road, Traction, radius_m};

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
    /// Heating of the motors by the W they lose.
    pub motor_heat: ThermalModel,
    /// Heating of the controllers by the loss over that at their continuous current.
    pub controller_heat: ThermalModel,
    pub(super) controller_load: ControllerLoad,
    pub(super) battery_peak_a: f64,
    pub(super) battery_continuous_a: f64,
    pub(super) max_power_w: f64,
    pub(super) motor_amps_peak_nm: f64,
    pub(super) motor_amps_continuous_nm: f64,
    pub(super) regeneration_a: f64,
    pub(super) feedback_cap_w: f64,
    pub(super) fade: Fade,
    pub(super) inverse_efficiency: f64,
    pub(super) regeneration_share: f64,
    pub(super) respect_pack_limits: bool,
    /// Low-voltage load at the traction pack, W.
    pub low_voltage_w: f64,
}

/// Motor amps of one controller, at peak or continuously, A; `None` where its record does not say.
pub(crate) fn controller_motor_amps(controller: &Controller, peak: bool) -> Option<f64> {
    let usual = || controller.motor_current_a.map(|a| a * CONTINUOUS_SHARE);
    if peak { controller.motor_current_a } else { controller.motor_current_continuous_a.or_else(usual) }
}

/// Battery amps of one controller, at peak or continuously, A.
pub(crate) fn controller_battery_amps(controller: &Controller, peak: bool) -> f64 {
    let peak_a = controller.battery_current_a;
    if peak { peak_a } else { controller.battery_current_continuous_a.unwrap_or(peak_a * CONTINUOUS_SHARE) }
}

/// Heating of some motors and their controllers.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Heating {
    /// Of the motors, by the W they lose.
    pub(crate) motor: ThermalModel,
    /// Of the controllers, by the loss over that at their continuous current.
    pub(crate) controller: ThermalModel,
    pub(super) load: ControllerLoad,
}

impl Heating {
    /// By their ratings, in air of a temperature.
    pub(crate) fn of((motor, motors): (&Motor, f64), (controller, controllers): (&Controller, f64), map: &MotorMap, air_c: f64) -> Self {
        let amps_nm = |peak| amps_to_torque(controller, peak, motor, map, motors, controllers);
        let battery_a = |peak| controllers * controller_battery_amps(controller, peak);
        let (peak_nm, continuous_nm) = (amps_nm(true), amps_nm(false));
        let (load, peak_over_continuous) = if !peak_nm.is_finite() {
            (ControllerLoad::BusAmps(battery_a(false)), battery_a(true) / battery_a(false))
        } else if map.torque_outgrows_amps() {
            let amps = |peak| controller_motor_amps(controller, peak).unwrap_or(f64::INFINITY) * controllers / motors;
            (ControllerLoad::MotorAmps(amps(false)), amps(true) / amps(false))
        } else {
            (ControllerLoad::Torque(continuous_nm), peak_nm / continuous_nm)
        };
        let sink_c = controller.max_temperature_c.unwrap_or(HEAT_SINK_C);
        Self {
            motor: motor_heat(motor, map, air_c),
            controller: ThermalModel::of(1.0, current_loss(peak_over_continuous), controller.peak_s(), sink_c, air_c),
            load,
        }
    }

    /// The most that is held for some time from cold: what the motors lose, W, the torque, N m, and the amps of the bus, A. One of the last
    /// two is infinite.
    pub(crate) fn held_for(&self, seconds: f64, map: &MotorMap) -> (f64, f64, f64) {
        let (torque_nm, bus_a) = self.load.at(current_of_loss(self.controller.held_for(seconds, 0.0)), map);
        (self.motor.held_for(seconds, 0.0), torque_nm, bus_a)
    }
}

/// Heating of some motors by the W they lose, in air of a temperature.
pub(crate) fn motor_heat(motor: &Motor, map: &MotorMap, air_c: f64) -> ThermalModel {
    let winding_c = motor.max_temperature_c.unwrap_or(WINDING_C);
    ThermalModel::of(map.rated_loss_w, map.peak_loss_w, motor.peak_s(), winding_c, air_c)
}

/// Torque that the controllers' motor amps allow, N m; infinite where either side does not say.
pub(crate) fn amps_to_torque(controller: &Controller, peak: bool, motor: &Motor, map: &MotorMap, motors: f64, controllers: f64) -> f64 {
    let Some(amps) = controller_motor_amps(controller, peak) else { return f64::INFINITY };
    map.torque_at_amps_nm(amps * controllers / motors)
        .or(motor.torque_per_amp_nm_a.map(|per_amp| amps * per_amp * controllers))
        .unwrap_or(f64::INFINITY)
}

/// Highest temperatures where a record states none, degC (insulation class F with a margin; common practice).
const WINDING_C: f64 = 140.0;
const HEAT_SINK_C: f64 = 85.0;

impl Chain {
    /// What motors and controllers lose while they give what they may for hours, W.
    #[must_use]
    pub(crate) fn continuous_heat_w(&self) -> f64 {
        self.motor_heat.continuous + (1.0 - self.efficiency) * self.battery_continuous_a * self.pack.nominal_v
    }

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
        let pack = PackModel::of(pack, &design.wiring_in_use(), day.pack_temperature_c);
        let regeneration = &design.regeneration;
        let regenerates = motor.kind.regenerates() && controller.regeneration_current_a > 0.0;
        let regeneration_share = if regenerates { regeneration.share_or_usual() } else { 0.0 };
        let mut map = MotorMap::of(motor, design.motor_count);
        if let Some(amps) = controller.motor_current_a {
            map.limit_amps(amps * controllers / motors);
        }
        let motor_amps = |peak| amps_to_torque(controller, peak, motor, &map, motors, controllers);
        let (motor_amps_peak_nm, motor_amps_continuous_nm) = (motor_amps(true), motor_amps(false));
        let battery_a = |peak| controllers * controller_battery_amps(controller, peak);
        let heating = Heating::of((motor, motors), (controller, controllers), &map, day.temperature_c);
        let (motor_heat, controller_heat) = (heating.motor, heating.controller);
        // On a day hotter than the ratings' ambient, less is held continuously.
        let controller_share = current_of_loss(controller_heat.held_continuously());
        map.hold_continuously(motor_heat.held_continuously());
        Ok(Self {
            motor: map,
            motor_heat,
            controller_heat,
            controller_load: heating.load,
            gears: gear_paths(document, mass_kg, radius_m, day.temperature_c),
            road: Road::of(document, mass_kg, day),
            traction: Traction::of(document, mass_kg),
            radius_m,
            shift_s: document.driveline().shift_s,
            efficiency: controller.efficiency,
            cutoff_v: pack.cutoff_v.max(controller.min_voltage_v),
            battery_peak_a: battery_a(true),
            battery_continuous_a: battery_a(false) * controller_share,
            max_power_w: controller.max_power_w.map_or(f64::INFINITY, |p| p * controllers),
            motor_amps_peak_nm,
            motor_amps_continuous_nm: motor_amps_continuous_nm * controller_share,
            regeneration_a: controller.regeneration_current_a * controllers,
            feedback_cap_w: regeneration.power_cap_w.unwrap_or(f64::INFINITY),
            fade: Fade::of(regeneration),
            inverse_efficiency: 1.0 / controller.efficiency,
            regeneration_share,
            respect_pack_limits: regeneration.respect_pack_limits,
            low_voltage_w: design.low_voltage_drawn_w(),
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
}
