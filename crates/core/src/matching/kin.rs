//! Kin: designs of the same ratings on the same pack, of about the same mass. What one of them that is as light as the lightest and grips as well as
//! the best cannot do, none of them can.

use std::collections::HashMap;

use super::bounds::Bound;
use super::candidates::Candidate;
use super::configuration::Configuration;
use super::enumerate::SearchSpace;
use super::packs::PackSide;
use super::space::SearchProblem;
use super::subsystems::{Drive, DriveMasses, Drivetrain, hull};

/// Motor, count, place, gearing and controller; parts of the same ratings named by the first of them.
type Ratings = [u16; 5];

/// Designs that differ in masses and prices alone: ratings, and pack.
pub(super) type Twins = (Ratings, u32);

/// Those of them with chargers of about a mass.
pub(super) type KinOf = (Twins, u32);

/// Chargers that differ by less than this share of the vehicle's mass belong together.
const ABOUT: f64 = 0.004;

/// Drives of some ratings: the lightest, and the masses of all.
#[derive(Debug, Clone, Copy)]
struct Alike {
    lightest: u32,
    lightest_kg: f64,
    masses: DriveMasses,
    count: u32,
}

/// Drives by their ratings, where the library holds any twice.
#[derive(Debug)]
pub(super) struct Kinship {
    alike: HashMap<Ratings, Alike>,
}

/// Kin of a design, the design itself included.
#[derive(Debug, Clone, Copy)]
pub(super) struct Kin {
    /// The lightest of the drives, and the place of the lightest charger among those of the pack.
    pub(super) drive: u32,
    pub(super) charger: u32,
    masses: DriveMasses,
    charger_kg: (f64, f64),
    /// How many there are.
    pub(super) count: u32,
}

fn ratings(problem: &SearchProblem, of: &Configuration) -> Ratings {
    let (motor, controller) = (problem.same.motors[usize::from(of.motor)], problem.same.controllers[usize::from(of.controller)]);
    [motor, of.count, u16::from(of.place), of.gearing, controller]
}

impl Kinship {
    pub(super) fn of(problem: &SearchProblem, drivetrains: &[Drivetrain], drives: impl Iterator<Item = Drive>) -> Self {
        let mut all: HashMap<Ratings, Alike> = HashMap::new();
        for (number, drive) in (0u32..).zip(drives).filter(|_| problem.same.any) {
            let drivetrain = &drivetrains[drive.drivetrain as usize];
            let own = Alike { lightest: number, lightest_kg: drive.mass_kg, masses: drivetrain.masses_of(&drive), count: 1 };
            let known = all.entry(ratings(problem, &Configuration { controller: drive.controller, ..drivetrain.configuration }));
            known.and_modify(|known| known.add(&own)).or_insert(own);
        }
        Self { alike: all }
    }
}

impl Alike {
    fn add(&mut self, other: &Self) {
        if other.lightest_kg < self.lightest_kg {
            (self.lightest, self.lightest_kg) = (other.lightest, other.lightest_kg);
        }
        self.masses = self.masses.with(&other.masses);
        self.count += other.count;
    }
}

impl SearchSpace {
    /// What a candidate has in common with all that differ from it in masses and prices alone.
    pub(super) fn twins(&self, problem: &SearchProblem, candidate: &Candidate) -> Twins {
        (ratings(problem, &self.configuration(candidate)), candidate.pack)
    }

    /// What it has in common with its kin.
    pub(super) fn kin_of(&self, problem: &SearchProblem, candidate: &Candidate) -> KinOf {
        let charger = &self.packs[candidate.pack as usize].chargers[candidate.charger as usize];
        (self.twins(problem, candidate), self.about(charger.mass_kg))
    }

    fn about(&self, charger_kg: f64) -> u32 {
        (charger_kg / (ABOUT * self.vehicle.bare_kg)) as u32
    }

    /// Its kin.
    pub(super) fn kin(&self, problem: &SearchProblem, candidate: &Candidate) -> Kin {
        let own = || {
            let drive = self.drive(candidate.drive);
            let masses = self.drivetrains[drive.drivetrain as usize].masses_of(&drive);
            Alike { lightest: candidate.drive, lightest_kg: drive.mass_kg, masses, count: 1 }
        };
        let drives = self.kinship.alike.get(&ratings(problem, &self.configuration(candidate))).copied().unwrap_or_else(own);
        let chargers = &self.packs[candidate.pack as usize].chargers;
        let about = self.about(chargers[candidate.charger as usize].mass_kg);
        let mut kin = Kin {
            drive: drives.lightest,
            charger: candidate.charger,
            masses: drives.masses,
            charger_kg: chargers[candidate.charger as usize].only_kg(),
            count: 0,
        };
        for (i, charger) in (0u32..).zip(chargers).filter(|(_, c)| self.about(c.mass_kg) == about) {
            if charger.mass_kg < kin.charger_kg.0 {
                kin.charger = i;
            }
            kin.charger_kg = hull(kin.charger_kg, charger.only_kg());
            kin.count += drives.count;
        }
        kin
    }

    /// All kin on their pack at once.
    pub(super) fn look_at_kin<'a>(&'a self, problem: &'a SearchProblem, kin: &Kin, pack: &PackSide) -> Bound<'a> {
        self.look_between(problem, (self.drive(kin.drive), &kin.masses), (pack, kin.charger_kg), true)
    }
}
