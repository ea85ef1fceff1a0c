//! Drives that may do what is asked with some pack: what no pack can mend is left out before any is looked at.

use std::sync::atomic::{AtomicUsize, Ordering};

use rayon::prelude::*;

use super::bounds::{Bound, Known, OtherEnd};
use super::count::{Counts, goal, rule};
use super::fixed_vehicle::FixedVehicle;
use super::size::{MOST_DRIVES, too_many_drives};
use super::space::{Ready, SearchProblem};
use super::subsystems::{Drive, Drivetrain, drives};
use crate::cancel::Cancel;
use crate::error::Result;
use crate::figures::FigureKind;
use crate::findings::Rule;
use crate::library::Module;

/// Every drivetrain with every controller for its kind of motor that may do what is asked with any pack; the others are counted.
pub(super) fn kept_drives(
    problem: &SearchProblem,
    (vehicle, drivetrains): (&FixedVehicle, &[Drivetrain]),
    energies: u64,
    counts: &mut Counts,
    cancel: &Cancel,
) -> Result<Vec<Drive>> {
    let lightest_kg = |module: &Ready<Module>| module.counted.mass_kg;
    let least_pack_kg = problem.modules.iter().map(lightest_kg).fold(f64::INFINITY, f64::min);
    let is_dead = |drive: &Drive| {
        let drivetrain = &drivetrains[drive.drivetrain as usize];
        let mass_kg = vehicle.test_kg(drive.mass_kg + least_pack_kg);
        let worst = OtherEnd::same((mass_kg, vehicle.most_grip_n_per_kg * mass_kg), drive, None);
        let look = Bound { problem, vehicle, drivetrain, drive, pack: None, mass_kg, worst, close: false, known: Known::nothing() };
        // Hills and top speed only get harder with mass; accelerations are left to where the mass is known.
        problem.constraints.iter().position(|m| !matches!(m.kind, FigureKind::Acceleration(..)) && !look.may_meet(m))
    };
    let ratings = |d: &Drivetrain| {
        let of = d.configuration;
        (problem.same.motors[usize::from(of.motor)], of.place, of.count)
    };
    let mut first = 0;
    let on_motors = drivetrains.chunk_by(|a, b| ratings(a) == ratings(b)).map(|some| {
        first += some.len() as u32;
        (first - some.len() as u32, some)
    });
    let on_motors: Vec<(u32, &[Drivetrain])> = on_motors.collect();
    let all = AtomicUsize::new(0);
    let found: Vec<(Vec<Drive>, Counts)> = on_motors
        .par_iter()
        .with_max_len(1)
        .map(|(first, same_ratings)| {
            let mut counts = Counts::new(problem);
            if cancel.is_cancelled() || all.load(Ordering::Relaxed) > MOST_DRIVES {
                return (Vec::new(), counts);
            }
            let (mut drives, other_kind) = drives(problem, *first, same_ratings);
            counts.cut(rule(Rule::MotorKind), other_kind * energies);
            drives.retain(|drive| match is_dead(drive) {
                Some(constraint) => {
                    counts.cut(goal(constraint), energies);
                    false
                }
                None => true,
            });
            drives.shrink_to_fit();
            all.fetch_add(drives.len(), Ordering::Relaxed);
            (drives, counts)
        })
        .collect();
    cancel.check()?;
    if all.into_inner() > MOST_DRIVES {
        return Err(too_many_drives());
    }
    let mut kept = Vec::with_capacity(found.iter().map(|(drives, _)| drives.len()).sum());
    for (drives, own) in found {
        counts.add(&own);
        kept.extend(drives);
    }
    Ok(kept)
}
