//! Drives that may do what is asked with some pack: what no pack can mend is left out before any is looked at.

use std::sync::atomic::{AtomicUsize, Ordering};

use rayon::prelude::*;

use super::bounds::{Bound, Known, OtherEnd};
use super::count::{Counts, goal, rule};
use super::fixed_vehicle::FixedVehicle;
use super::size::{MOST_DRIVES, too_many_drives};
use super::space::{Ready, SearchProblem};
use super::subsystems::{Drive, Drivetrain, KeptDrive, machines};
use crate::cancel::Cancel;
use crate::error::Result;
use crate::figures::FigureKind;
use crate::findings::Rule;
use crate::library::Module;
use crate::vehicle::Conditions;

/// Every drivetrain with every controller for its kind of motor that may do what is asked with any pack, and the machines they are made of; the
/// others are counted.
pub(super) fn kept_drives(
    problem: &SearchProblem,
    (vehicle, drivetrains): (&FixedVehicle, &[Drivetrain]),
    energies: u64,
    counts: &mut Counts,
    cancel: &Cancel,
) -> Result<(Vec<KeptDrive>, Vec<Drive>)> {
    let lightest_kg = |module: &Ready<Module>| module.counted.mass_kg;
    let least_pack_kg = problem.modules.iter().map(lightest_kg).fold(f64::INFINITY, f64::min);
    let is_dead = |drive: Drive| {
        let drivetrain = &drivetrains[drive.drivetrain as usize];
        let mass_kg = vehicle.test_kg(drive.mass_kg + least_pack_kg);
        let worst = OtherEnd::same((mass_kg, vehicle.most_grip_n_per_kg * mass_kg), &drive, None);
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
    let air_c = Conditions::of(&problem.base).temperature_c;
    let found: Vec<(Vec<KeptDrive>, Vec<Drive>, Counts)> = on_motors
        .par_iter()
        .with_max_len(1)
        .map(|(first, same_ratings)| {
            let (mut counts, mut kept) = (Counts::new(problem), Vec::new());
            let (machines, other_kind) = machines(problem, &same_ratings[0], air_c);
            counts.cut(rule(Rule::MotorKind), other_kind * same_ratings.len() as u64 * energies);
            for (drivetrain, on) in (*first..).zip(*same_ratings) {
                if cancel.is_cancelled() || all.load(Ordering::Relaxed) > MOST_DRIVES {
                    break;
                }
                let before = kept.len();
                for (machine, own) in (0u32..).zip(&machines) {
                    match is_dead(on.with(drivetrain, own)) {
                        Some(constraint) => counts.cut(goal(constraint), energies),
                        None => kept.push(KeptDrive { drivetrain, machine }),
                    }
                }
                all.fetch_add(kept.len() - before, Ordering::Relaxed);
            }
            (kept, machines, counts)
        })
        .collect();
    cancel.check()?;
    if all.into_inner() > MOST_DRIVES {
        return Err(too_many_drives());
    }
    let (mut kept, mut machines) = (Vec::with_capacity(found.iter().map(|found| found.0.len()).sum()), Vec::new());
    for (drives, own, cut) in found {
        counts.add(&cut);
        let before = machines.len() as u32;
        kept.extend(drives.into_iter().map(|drive| KeptDrive { machine: before + drive.machine, ..drive }));
        machines.extend(own);
    }
    Ok((kept, machines))
}
