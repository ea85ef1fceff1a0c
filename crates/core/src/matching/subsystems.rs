//! The two sides of a configuration: drives that turn power into pull, packs that give it; each with what a bound needs to know.

use std::collections::HashMap;
use std::ops::Deref;
use std::sync::Arc;

use rayon::prelude::*;

use super::configuration::{Configuration, PLACES};
use super::fixed_vehicle::FixedVehicle;
use super::grip::PartMasses;
use super::rated_train::{RatedTrain, powers_w};
use super::space::SearchProblem;
use crate::powertrain::{Heating, MotorMap, amps_to_torque, controller_battery_amps};
use crate::vehicle::Conditions;

/// Motors on a gearing.
#[derive(Debug)]
pub(super) struct Drivetrain {
    pub(super) configuration: Configuration,
    rated: Arc<RatedTrain>,
    pub(super) mass_kg: f64,
    /// Of it what comes with the gearing, kg.
    gearing_kg: f64,
    pub(super) price: f64,
    pub(super) motor_max_v: f64,
}

impl Deref for Drivetrain {
    type Target = RatedTrain;

    fn deref(&self) -> &RatedTrain {
        &self.rated
    }
}

/// A drivetrain with its controllers.
#[derive(Debug, Clone, Copy)]
pub(super) struct Drive {
    pub(super) drivetrain: u32,
    pub(super) controller: u16,
    pub(super) peak_nm: f64,
    pub(super) continuous_nm: f64,
    pub(super) continuous_w: f64,
    /// Held for ten minutes from cold, as far as heat of motors and controllers goes.
    pub(super) ten_minutes: Held,
    /// Held continuously, as far as heat of the motors goes.
    pub(super) continuous_loss_w: f64,
    pub(super) mass_kg: f64,
    pub(super) price: f64,
    pub(super) peak_a: f64,
    pub(super) continuous_a: f64,
    pub(super) max_power_w: f64,
    pub(super) efficiency: f64,
    pub(super) min_v: f64,
    /// Battery amps as the record states them, which is what rules hold against the pack.
    pub(super) asked_a: f64,
    /// Amps it feeds back at most; none for motors that cannot.
    pub(super) feedback_a: f64,
}

/// What motors, and what controllers weigh, each from the lightest to the heaviest, kg.
#[derive(Debug, Clone, Copy)]
pub(super) struct DriveMasses {
    motors_kg: (f64, f64),
    controllers_kg: (f64, f64),
}

impl DriveMasses {
    /// From the lightest of both to the heaviest.
    pub(super) fn with(&self, o: &Self) -> Self {
        Self { motors_kg: hull(self.motors_kg, o.motors_kg), controllers_kg: hull(self.controllers_kg, o.controllers_kg) }
    }
}

/// From the lesser end of two intervals to the greater.
pub(super) fn hull(a: (f64, f64), b: (f64, f64)) -> (f64, f64) {
    (a.0.min(b.0), a.1.max(b.1))
}

/// What heat lets motors and controllers hold for some time.
#[derive(Debug, Clone, Copy)]
pub(super) struct Held {
    /// Lost in the motors, W.
    pub(super) motor_loss_w: f64,
    pub(super) torque_nm: f64,
    pub(super) bus_a: f64,
}

impl Held {
    /// No less than either in anything.
    pub(super) fn with(self, o: Self) -> Self {
        Self {
            motor_loss_w: self.motor_loss_w.max(o.motor_loss_w),
            torque_nm: self.torque_nm.max(o.torque_nm),
            bus_a: self.bus_a.max(o.bus_a),
        }
    }
}

/// Every drivetrain: motors by mounts by gearings.
pub(super) fn drivetrains(problem: &SearchProblem, vehicle: &FixedVehicle) -> Vec<Drivetrain> {
    let day_c = Conditions::of(&problem.base).temperature_c;
    let trip_day_c = problem.trip.map_or(day_c, |trip| Conditions::of_trip(&problem.base, &problem.trips[trip].0).temperature_c);
    // Motors of the same ratings one after another, each with its place in the library.
    let mut alike: HashMap<u16, Vec<u16>> = HashMap::new();
    for (own, first) in (0u16..).zip(&problem.same.motors) {
        alike.entry(*first).or_default().push(own);
    }
    let of_ratings = |(first, all): (&u16, &Vec<u16>)| {
        let motor = &problem.motors[usize::from(*first)];
        let mut found = Vec::new();
        for (place, count) in problem.mounts(&motor.written) {
            let map = MotorMap::of(&motor.counted, count);
            let powers_w = powers_w(&map);
            for (g, gearing) in (0u16..).zip(&problem.gearings).filter(|(_, g)| SearchProblem::fits(g, place, &motor.written)) {
                let geared = problem.light.clone().with(|d| {
                    d.design.motor = Some(motor.counted.clone());
                    d.design.motor_count = count;
                    d.design.motor_place = place;
                    d.design.driveline.clone_from(&gearing.driveline);
                });
                let rated = Arc::new(RatedTrain::of(&geared, (&map, &powers_w), vehicle.radius_m, (day_c, trip_day_c)));
                let place = PLACES.iter().position(|p| *p == place).unwrap_or_default() as u8;
                let added = gearing.added.as_ref();
                found.extend(all.iter().map(|m| {
                    let own = &problem.motors[usize::from(*m)];
                    let configuration = Configuration { motor: *m, count: count as u16, place, gearing: g, ..Configuration::default() };
                    Drivetrain {
                        configuration,
                        rated: rated.clone(),
                        mass_kg: own.counted.mass_kg * f64::from(count) + added.map_or(0.0, |a| a.mass_kg),
                        gearing_kg: added.map_or(0.0, |a| a.mass_kg),
                        price: own.counted.price * f64::from(count) + added.map_or(0.0, |a| a.price),
                        motor_max_v: own.written.max_voltage_v.unwrap_or(f64::INFINITY),
                    }
                }));
            }
        }
        found
    };
    let mut all: Vec<Drivetrain> = alike.par_iter().flat_map_iter(of_ratings).collect();
    // As the library has them, ratings by mounts by gearings; those that share all of it one after another.
    all.sort_by_key(|d| {
        let of = d.configuration;
        (problem.same.motors[usize::from(of.motor)], of.place, of.count, of.gearing, of.motor)
    });
    all
}

impl Drivetrain {
    /// The drive, by the place of the drivetrain, that a machine of its motors makes on it.
    pub(super) fn with(&self, place: u32, machine: &Drive) -> Drive {
        Drive { drivetrain: place, mass_kg: self.mass_kg + machine.mass_kg, price: self.price + machine.price, ..*machine }
    }

    /// Whether another is of motors of the same ratings on the same gearing.
    pub(super) fn is_rated_as(&self, other: &Self) -> bool {
        Arc::ptr_eq(&self.rated, &other.rated)
    }

    /// Greatest pull for each kilogram of the vehicle that the driven wheels pass, N, with drives, packs and chargers from the lightest to the
    /// heaviest, kg.
    pub(super) fn grip_n_per_kg(&self, vehicle: &FixedVehicle, drives: &DriveMasses, pack_kg: (f64, f64), charger_kg: (f64, f64)) -> f64 {
        vehicle.stands[usize::from(self.configuration.place)].grip_n_per_kg(&PartMasses {
            motors_kg: drives.motors_kg,
            gearing_kg: self.gearing_kg,
            controllers_kg: drives.controllers_kg,
            pack_kg,
            charger_kg,
        })
    }

    /// What motors and controllers of drives of it weigh that weigh so much in all, from the lightest to the heaviest, kg.
    pub(super) fn masses_between(&self, lightest_kg: f64, heaviest_kg: f64) -> DriveMasses {
        let motors_kg = self.mass_kg - self.gearing_kg;
        DriveMasses { motors_kg: (motors_kg, motors_kg), controllers_kg: (lightest_kg - self.mass_kg, heaviest_kg - self.mass_kg) }
    }

    /// What motors and controllers of one of its drives weigh.
    pub(super) fn masses_of(&self, drive: &Drive) -> DriveMasses {
        self.masses_between(drive.mass_kg, drive.mass_kg)
    }

    /// Drives of its gearing that weigh so much, kg.
    pub(super) fn heaviest_kg(&self, drives: &DriveMasses) -> f64 {
        drives.motors_kg.1 + self.gearing_kg + drives.controllers_kg.1
    }
}

/// A drive as it is kept: a drivetrain and a machine, by their places.
#[derive(Debug, Clone, Copy)]
pub(super) struct KeptDrive {
    pub(super) drivetrain: u32,
    pub(super) machine: u32,
}

/// Every controller for the kind of motors that some drivetrains share, with these motors on no gearing yet; and how many are for other kinds.
pub(super) fn machines(problem: &SearchProblem, drivetrain: &Drivetrain, air_c: f64) -> (Vec<Drive>, u64) {
    let (mut all, mut other_kind) = (Vec::new(), 0);
    let motor = &problem.motors[usize::from(drivetrain.configuration.motor)];
    let (n, map) = (f64::from(drivetrain.configuration.count), &drivetrain.map);
    for (c, controller) in (0u16..).zip(&problem.controllers) {
        if !controller.written.motor_kinds.contains(&motor.written.kind) {
            other_kind += 1;
            continue;
        }
        let ready = &controller.counted;
        let torque = |peak| amps_to_torque(ready, peak, &motor.counted, map, n, n);
        let heating = Heating::of((&motor.counted, n), (ready, n), map, air_c);
        let (motor_loss_w, torque_nm, bus_a) = heating.held_for(600.0, map);
        all.push(Drive {
            ten_minutes: Held { motor_loss_w, torque_nm, bus_a },
            continuous_loss_w: heating.motor.held_continuously(),
            drivetrain: 0,
            controller: c,
            peak_nm: map.greatest_nm().min(torque(true)),
            continuous_nm: map.continuous_nm.min(torque(false)),
            continuous_w: map.continuous_w,
            mass_kg: ready.mass_kg * n,
            price: ready.price * n,
            peak_a: ready.battery_current_a * n,
            continuous_a: controller_battery_amps(ready, false) * n,
            max_power_w: ready.max_power_w.map_or(f64::INFINITY, |w| w * n),
            efficiency: ready.efficiency,
            min_v: ready.min_voltage_v,
            asked_a: controller.written.battery_current_a * n,
            feedback_a: if motor.counted.kind.regenerates() { ready.regeneration_current_a * n } else { 0.0 },
        });
    }
    (all, other_kind)
}
