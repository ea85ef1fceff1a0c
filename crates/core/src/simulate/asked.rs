//! What one step of a trip asks, whatever the charge.

use super::driver::Driver;
use super::split::Motion;
use crate::powertrain::{GearPath, HeatStep, MotorPoint, Supply};
use crate::quantity::larger;
use crate::vehicle::Resistance;

/// What one step asks of the pack, at any charge as long as the voltage holds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct StepDemand {
    /// At the terminals, W.
    pub(super) power_w: f64,
    /// Most of it in any instant of the step, W.
    pub(super) peak_w: f64,
    /// Below this voltage at the terminals it may meet a limit; infinite when it always may.
    pub(super) least_v: f64,
}

/// Whether a step may meet a limit between two states of charge.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Ease {
    /// At neither of them.
    Easy,
    /// It depends on the charge.
    Depends,
    /// At both.
    Hard,
}

/// Power, W, and open-circuit voltage up to which the cells and the cut-off are far, at one state of charge.
#[derive(Debug, Clone, Copy)]
struct Room {
    ocv_v: f64,
    power_w: f64,
}

/// What one step asks of everything.
#[derive(Debug, Clone, Copy)]
pub(super) struct Asked<'a> {
    pub(super) road: Resistance,
    pub(super) step: StepDemand,
    /// The gear it takes and what the motor does in it; also of a step that is not easy, as far as they are known.
    pub(super) taken: Option<(&'a GearPath, MotorPoint)>,
    pub(super) warming: HeatStep,
}

/// Steps of one chain between two states of charge.
#[derive(Debug, Clone, Copy)]
pub(super) struct Asker<'d, 'a> {
    pub(super) driver: &'d Driver<'a>,
    pub(super) high: Supply,
    pub(super) low: Supply,
    greatest_nm: f64,
    per_ocv_v: f64,
    /// At the higher and the lower charge.
    room: (Room, Room),
}

impl<'d, 'a> Asker<'d, 'a> {
    pub(super) fn of(driver: &'d Driver<'a>, (soc_from, soc_to): (f64, f64)) -> Self {
        let (high, low) = (driver.chain.supply(soc_from, driver.aux_w), driver.chain.supply(soc_to, driver.aux_w));
        let room = |supply: &Supply| Room { ocv_v: supply.ocv_v, power_w: driver.chain.easy_watts(supply.ocv_v) };
        let room = (room(&high), room(&low));
        Self { driver, high, low, greatest_nm: driver.chain.motor.greatest_nm(), per_ocv_v: 1.0 / high.ocv_v, room }
    }

    /// Whether a step may meet a limit. Only told here, never relied on: a block of steps holds its own voltage against its limits.
    #[inline]
    pub(super) fn ease(&self, step: &StepDemand) -> Ease {
        let resistance_ohm = self.driver.chain.pack.resistance_ohm;
        let easy_at = |room: &Room| {
            // The bus stays above `least_v` up to this power; below half of the open-circuit voltage it never comes.
            let volts_v = larger(step.least_v, 0.5 * room.ocv_v);
            step.power_w <= 0.0 || step.power_w <= room.power_w && resistance_ohm * step.power_w <= volts_v * (room.ocv_v - volts_v)
        };
        if step.least_v == f64::INFINITY || !easy_at(&self.room.0) {
            Ease::Hard
        } else if easy_at(&self.room.1) {
            Ease::Easy
        } else {
            Ease::Depends
        }
    }

    /// What standing still asks.
    pub(super) fn standing(&self, road: Resistance, dt: f64) -> Asked<'a> {
        let aux_w = self.driver.aux_w;
        let step = StepDemand { power_w: aux_w, peak_w: aux_w, least_v: 0.0 };
        Asked { road, step, taken: None, warming: self.driver.chain.heat_step(0.0, 0.0, 0.0, dt) }
    }

    /// What a step asks.
    pub(super) fn ask(&self, motion: &Motion) -> Asked<'a> {
        let chain = self.driver.chain;
        let v = motion.mean_m_s();
        let road = chain.road.resistance(v, motion.slope);
        if v == 0.0 {
            return self.standing(road, motion.dt);
        }
        let (step, taken) = self.demand(motion, road.total_n());
        let warming = taken.map_or(chain.heat_step(0.0, 0.0, 0.0, motion.dt), |(_, point)| {
            // A demand beyond the motor warms it no more than the motor's own greatest torque.
            let torque_nm = point.torque_nm.clamp(-self.greatest_nm, self.greatest_nm);
            let motor_w = if torque_nm == point.torque_nm { point.motor_w } else { chain.motor.loss_w(torque_nm, point.speed_rad_s) };
            chain.heat_step(motor_w, torque_nm, point.bus_w * self.per_ocv_v, motion.dt)
        });
        Asked { road, step, taken, warming }
    }

    /// What a moving step asks of the pack, the gear it takes and what the motor does in it.
    fn demand(&self, motion: &Motion, resistance_n: f64) -> (StepDemand, Option<(&'a GearPath, MotorPoint)>) {
        let (driver, high, low) = (self.driver, &self.high, &self.low);
        let chain = driver.chain;
        let hard = StepDemand { power_w: driver.aux_w, peak_w: driver.aux_w, least_v: f64::INFINITY };
        // The cheapest gear that is not far beyond reach, as the second itself takes it; where all are, the cheapest tells the heat.
        let taken = driver.choice.cheapest(motion, resistance_n, high, |point| !chain.is_beyond(point, high.ocv_v));
        let Some((gear, point)) = taken else { return (hard, driver.choice.cheapest(motion, resistance_n, high, |_| true)) };
        let fastest_rad_s = larger(motion.from_m_s, motion.to_m_s) * gear.rad_per_m;
        let least_v = if fastest_rad_s > chain.motor.max_speed_rad_s || point.wheel_n > chain.traction.drive_n {
            f64::INFINITY
        } else if point.torque_nm > 0.0 {
            chain.easy_above_v(&point)
        } else if chain.brakes_alike(&point, low) {
            // Feeding back may meet the pack's limits at either end of the charge.
            0.0
        } else {
            let asked_n = resistance_n + chain.road.mass_kg * gear.rotating_factor * motion.accel_m_s2();
            let other = chain.motor_point(gear, motion.mean_m_s(), asked_n, low);
            if other.is_some_and(|other| other.bus_w == point.bus_w) { 0.0 } else { f64::INFINITY }
        };
        let peak_w = driver.instant_w(motion, gear, &point, high) + driver.aux_w;
        (StepDemand { power_w: point.bus_w + driver.aux_w, peak_w, least_v }, Some((gear, point)))
    }
}
