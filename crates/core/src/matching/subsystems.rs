//! The two sides of a configuration: drives that turn power into pull, packs that give it; each with what a bound needs to know.

use std::sync::OnceLock;

use super::checkpoints::CheckpointsByMass;
use super::configuration::{Configuration, PLACES};
use super::fixed_vehicle::{FixedVehicle, MASS_STEPS};
use super::grip::PartMasses;
use super::space::SearchProblem;
use super::trip_energy::TripEnergy;
use crate::document::Document;
use crate::powertrain::{GearPath, Heating, MotorMap, amps_to_torque, controller_battery_amps, gear_paths};
use crate::vehicle::Conditions;

/// One gear as a bound sees it.
#[derive(Debug, Clone, Copy)]
pub(super) struct GearSide {
    pub(super) efficiency: f64,
    /// Motor rad/s for 1 m/s.
    pub(super) rad_per_m: f64,
    /// Tractive force at the wheels for 1 N m, N.
    pub(super) pull_n_per_nm: f64,
    pub(super) range: u32,
    pub(super) gear: u32,
    pub(super) fastest_m_s: f64,
    /// Mass times rotating factor: `inert_kg + inert_share x mass`.
    inert_kg: f64,
    inert_share: f64,
}

impl GearSide {
    /// Mass that is accelerated, turning parts included, kg.
    pub(super) fn inert(&self, mass_kg: f64) -> f64 {
        self.inert_kg + self.inert_share * mass_kg
    }
}

/// Motors on a gearing.
#[derive(Debug)]
pub(super) struct Drivetrain {
    pub(super) configuration: Configuration,
    pub(super) map: MotorMap,
    /// Gears on the usual day.
    pub(super) gears: Vec<GearSide>,
    /// Gears on the day of the trip that counts.
    trip_gears: Vec<GearSide>,
    pub(super) mass_kg: f64,
    /// Of it what comes with the gearing, kg.
    gearing_kg: f64,
    pub(super) price: f64,
    pub(super) motor_max_v: f64,
    /// Continuous rating of its motors, W.
    pub(super) rated_w: f64,
    /// Greatest shaft power, W, at multiples of [`VOLT_STEP`].
    powers_w: Vec<f64>,
    /// Least energy of the trip that counts, by runs of one, two, four ... steps of mass; worked out when first asked for.
    energies: Vec<Vec<OnceLock<Vec<TripEnergy>>>>,
    /// The same along a trip.
    pub(super) along: CheckpointsByMass,
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

const VOLT_STEP: f64 = 4.0;
const VOLT_STEPS: usize = 130;
/// Runs of steps double until one holds them all.
const MASS_LEVELS: usize = 8;

/// Every drivetrain: motors by mounts by gearings.
pub(super) fn drivetrains(problem: &SearchProblem, vehicle: &FixedVehicle) -> Vec<Drivetrain> {
    let mut all = Vec::new();
    let day_c = Conditions::of(&problem.base).temperature_c;
    let trip_day_c = problem.trip.map_or(day_c, |trip| Conditions::of_trip(&problem.base, &problem.trips[trip].0).temperature_c);
    for (m, motor) in (0u16..).zip(&problem.motors) {
        for (place, count) in problem.mounts(&motor.written) {
            let map = MotorMap::of(&motor.counted, count);
            let mut powers_w: Vec<f64> = (0..VOLT_STEPS).map(|i| most_power_w(&map, (i as f64 + 1.0) * VOLT_STEP)).collect();
            // Never less at a higher voltage, so that the highest of several packs tells the best of them.
            for i in 1..VOLT_STEPS {
                powers_w[i] = powers_w[i].max(powers_w[i - 1]);
            }
            for (g, gearing) in (0u16..).zip(&problem.gearings).filter(|(_, g)| SearchProblem::fits(g, place, &motor.written)) {
                let place_at = PLACES.iter().position(|p| *p == place).unwrap_or_default() as u8;
                let configuration = Configuration {
                    motor: m,
                    count: count as u16,
                    place: place_at,
                    gearing: g,
                    controller: 0,
                    module: 0,
                    series: 0,
                    parallel: 0,
                    charger: 0,
                };
                let geared = problem.light.clone().with(|d| {
                    d.design.motor = Some(motor.counted.clone());
                    d.design.motor_count = count;
                    d.design.motor_place = place;
                    d.design.driveline.clone_from(&gearing.driveline);
                });
                let added = gearing.added.as_ref();
                all.push(Drivetrain {
                    configuration,
                    gears: gear_sides(&geared, vehicle.radius_m, &map, day_c),
                    trip_gears: gear_sides(&geared, vehicle.radius_m, &map, trip_day_c),
                    mass_kg: motor.counted.mass_kg * f64::from(count) + added.map_or(0.0, |a| a.mass_kg),
                    gearing_kg: added.map_or(0.0, |a| a.mass_kg),
                    price: motor.counted.price * f64::from(count) + added.map_or(0.0, |a| a.price),
                    motor_max_v: motor.written.max_voltage_v.unwrap_or(f64::INFINITY),
                    rated_w: motor.counted.continuous_power_w * f64::from(count),
                    powers_w: powers_w.clone(),
                    energies: (0..MASS_LEVELS).map(|level| (0..=MASS_STEPS >> level).map(|_| OnceLock::new()).collect()).collect(),
                    along: CheckpointsByMass::default(),
                    map: map.clone(),
                });
            }
        }
    }
    all
}

/// Gears of a document's driveline with oil at a temperature.
fn gear_sides(geared: &Document, radius_m: f64, map: &MotorMap, celsius: f64) -> Vec<GearSide> {
    // Mass times rotating factor is linear in mass: two points give it.
    let at = |kg: f64| gear_paths(geared, kg, radius_m, celsius);
    let side = |(a, b): (GearPath, GearPath)| {
        let share = (2000.0 * b.rotating_factor - 1000.0 * a.rotating_factor) / 1000.0;
        GearSide {
            efficiency: a.efficiency,
            rad_per_m: a.rad_per_m,
            pull_n_per_nm: 1.0 / a.drive_nm_per_n,
            range: a.range,
            gear: a.gear,
            fastest_m_s: map.max_speed_rad_s / a.rad_per_m,
            inert_kg: 1000.0 * (a.rotating_factor - share),
            inert_share: share,
        }
    };
    at(1000.0).into_iter().zip(at(2000.0)).map(side).collect()
}

/// Shaft power that no speed exceeds at a bus voltage, W: over narrow cells of speed, the torque at the slow end (a fiftieth more,
/// as much as a curve may rise) times the speed at the fast end.
fn most_power_w(map: &MotorMap, bus_v: f64) -> f64 {
    const CELLS: u32 = 160;
    let width = map.max_speed_rad_s / f64::from(CELLS);
    (0..CELLS).map(|i| 1.02 * map.curve_nm(f64::from(i) * width, bus_v) * f64::from(i + 1) * width).fold(0.0, f64::max)
}

impl Drivetrain {
    /// Greatest pull for each kilogram of the vehicle that the driven wheels pass, N, with drives (controllers included), packs and chargers from
    /// the lightest to the heaviest, kg.
    pub(super) fn grip_n_per_kg(&self, vehicle: &FixedVehicle, drive_kg: (f64, f64), pack_kg: (f64, f64), charger_kg: (f64, f64)) -> f64 {
        vehicle.stands[usize::from(self.configuration.place)].grip_n_per_kg(&PartMasses {
            motors_kg: self.mass_kg - self.gearing_kg,
            gearing_kg: self.gearing_kg,
            controllers_kg: (drive_kg.0 - self.mass_kg, drive_kg.1 - self.mass_kg),
            pack_kg,
            charger_kg,
        })
    }

    /// Greatest shaft power up to a bus voltage, W.
    pub(super) fn power_w(&self, bus_v: f64) -> f64 {
        let i = (bus_v / VOLT_STEP).ceil() as usize;
        self.powers_w[i.saturating_sub(1).min(VOLT_STEPS - 1)]
    }

    /// Least energy of the trip that counts over an interval of masses: of the one or two runs of steps that hold it together.
    pub(super) fn energies<'a>(
        &'a self,
        problem: &'a SearchProblem,
        vehicle: &'a FixedVehicle,
        trip: usize,
        (light_kg, heavy_kg): (f64, f64),
    ) -> impl Iterator<Item = &'a TripEnergy> {
        let (from, to) = (vehicle.mass_step(light_kg), vehicle.mass_step(heavy_kg));
        let level = (0..MASS_LEVELS).find(|level| (to >> level) - (from >> level) <= 1).unwrap_or(MASS_LEVELS - 1);
        (from >> level..=to >> level).flat_map(move |run| {
            self.energies[level][run].get_or_init(|| {
                let (first, last) = (run << level, (((run + 1) << level) - 1).min(MASS_STEPS - 1));
                let masses_kg = (vehicle.mass_between(first).0, vehicle.mass_between(last).1);
                TripEnergy::all(problem, vehicle, self, trip, masses_kg)
            })
        })
    }

    /// Gears of a trip: one held, one range, or all of the range with the smallest ratio.
    pub(super) fn gears_of(&self, gear: Option<u32>, range: Option<u32>) -> impl Iterator<Item = &GearSide> {
        let per_range = self.trip_gears.iter().filter(|g| g.range == 1).count().max(1);
        let smallest =
            self.trip_gears.chunks(per_range).min_by(|a, b| a[0].rad_per_m.total_cmp(&b[0].rad_per_m)).map_or(1, |gears| gears[0].range);
        let wanted = range.unwrap_or(smallest);
        self.trip_gears.iter().filter(move |g| g.range == wanted && gear.is_none_or(|n| g.gear == n))
    }
}

/// Every drivetrain with every controller for its kind of motor, and how many pairs there are besides.
pub(super) fn drives(problem: &SearchProblem, drivetrains: &[Drivetrain]) -> (Vec<Drive>, u64) {
    let mut all = Vec::new();
    let mut other_kind = 0;
    let air_c = Conditions::of(&problem.base).temperature_c;
    for (t, drivetrain) in (0u32..).zip(drivetrains) {
        let motor = &problem.motors[usize::from(drivetrain.configuration.motor)];
        for (c, controller) in (0u16..).zip(&problem.controllers) {
            if !controller.written.motor_kinds.contains(&motor.written.kind) {
                other_kind += 1;
                continue;
            }
            let n = f64::from(drivetrain.configuration.count);
            let ready = &controller.counted;
            let torque = |peak| amps_to_torque(ready, peak, &motor.counted, &drivetrain.map, n, n);
            let peak_a = ready.battery_current_a * n;
            let map = &drivetrain.map;
            let heating = Heating::of((&motor.counted, n), (ready, n), map, air_c);
            let (motor_loss_w, torque_nm, bus_a) = heating.held_for(600.0, map);
            all.push(Drive {
                ten_minutes: Held { motor_loss_w, torque_nm, bus_a },
                continuous_loss_w: heating.motor.held_continuously(),
                drivetrain: t,
                controller: c,
                peak_nm: drivetrain.map.greatest_nm().min(torque(true)),
                continuous_nm: drivetrain.map.continuous_nm.min(torque(false)),
                continuous_w: drivetrain.map.continuous_w,
                mass_kg: drivetrain.mass_kg + ready.mass_kg * n,
                price: drivetrain.price + ready.price * n,
                peak_a,
                continuous_a: controller_battery_amps(ready, false) * n,
                max_power_w: ready.max_power_w.map_or(f64::INFINITY, |w| w * n),
                efficiency: ready.efficiency,
                min_v: ready.min_voltage_v,
                asked_a: controller.written.battery_current_a * n,
                feedback_a: if motor.counted.kind.regenerates() { ready.regeneration_current_a * n } else { 0.0 },
            });
        }
    }
    (all, other_kind)
}
