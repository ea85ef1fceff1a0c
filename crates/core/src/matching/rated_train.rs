//! What motors of some ratings can do on a gearing, whatever they weigh and cost; shared by all that the library holds of the same ratings.

use std::sync::OnceLock;

use super::checkpoints::CheckpointsByMass;
use super::fixed_vehicle::{FixedVehicle, MASS_STEPS};
use super::space::SearchProblem;
use super::trip_energy::TripEnergy;
use crate::document::Document;
use crate::powertrain::heat::ThermalModel;
use crate::powertrain::{GearPath, MotorMap, gear_paths, motor_heat};

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

/// Motors of some ratings on a gearing.
#[derive(Debug)]
pub(super) struct RatedTrain {
    pub(super) map: MotorMap,
    /// Gears on the usual day.
    pub(super) gears: Vec<GearSide>,
    /// Gears, and what heats its motors, on the day of the trip that counts.
    trip_gears: Vec<GearSide>,
    pub(super) trip_heat: Option<ThermalModel>,
    /// Continuous rating of its motors, W.
    pub(super) rated_w: f64,
    /// Greatest shaft power, W, at multiples of [`VOLT_STEP`].
    powers_w: Vec<f64>,
    /// Least energy of the trip that counts, by runs of one, two, four ... steps of mass; worked out when first asked for.
    energies: [OnceLock<Vec<OnceLock<Vec<TripEnergy>>>>; MASS_LEVELS],
    /// The same along a trip.
    pub(super) along: CheckpointsByMass,
}

const VOLT_STEP: f64 = 4.0;
const VOLT_STEPS: usize = 130;
/// Runs of steps double until one holds them all.
const MASS_LEVELS: usize = 8;

/// Greatest shaft power, W, at multiples of [`VOLT_STEP`]; never less at a higher voltage, so that the highest of several packs tells the best of
/// them.
pub(super) fn powers_w(map: &MotorMap) -> Vec<f64> {
    let mut powers_w: Vec<f64> = (0..VOLT_STEPS).map(|i| most_power_w(map, (i as f64 + 1.0) * VOLT_STEP)).collect();
    for i in 1..VOLT_STEPS {
        powers_w[i] = powers_w[i].max(powers_w[i - 1]);
    }
    powers_w
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

impl RatedTrain {
    /// Of a document that has the motors on their gearing, with wheels of a radius, on the usual day and on that of the trip that counts.
    pub(super) fn of(geared: &Document, (map, powers_w): (&MotorMap, &[f64]), radius_m: f64, (day_c, trip_day_c): (f64, f64)) -> Self {
        let count = f64::from(geared.design.motor_count);
        Self {
            gears: gear_sides(geared, radius_m, map, day_c),
            trip_gears: gear_sides(geared, radius_m, map, trip_day_c),
            trip_heat: geared.design.motor.as_ref().map(|motor| motor_heat(motor, map, trip_day_c)),
            rated_w: geared.design.motor.as_ref().map_or(0.0, |m| m.continuous_power_w) * count,
            powers_w: powers_w.to_vec(),
            energies: [const { OnceLock::new() }; MASS_LEVELS],
            along: CheckpointsByMass::default(),
            map: map.clone(),
        }
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
            let of_level = || (0..=MASS_STEPS >> level).map(|_| OnceLock::new()).collect();
            self.energies[level].get_or_init(of_level)[run].get_or_init(|| {
                let (first, last) = (run << level, (((run + 1) << level) - 1).min(MASS_STEPS - 1));
                let masses_kg = (vehicle.mass_between(first).0, vehicle.mass_between(last).1);
                TripEnergy::all(problem, vehicle, self, trip, masses_kg)
            })
        })
    }

    /// Greatest pull at the wheels for 1 N m in any gear, on the usual day or that of the trip that counts, N.
    pub(super) fn most_pull_n_per_nm(&self) -> f64 {
        self.gears.iter().chain(&self.trip_gears).map(|g| g.pull_n_per_nm).fold(0.0, f64::max)
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
