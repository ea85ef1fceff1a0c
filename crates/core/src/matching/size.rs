//! How large a search may be: what its lists hold at most, told before memory is taken.

use super::space::SearchProblem;
use crate::error::{Error, Result};

/// Most motors on gearings, those of different ratings, those with controllers that no goal rules out, and packs that none does: about a
/// gigabyte and a half in all at the worst, whatever the library.
const MOST_TRAINS: usize = 200_000;
const MOST_RATED: usize = 30_000;
pub(super) const MOST_DRIVES: usize = 2_000_000;
pub(super) const MOST_PACKS: usize = 1_200_000;
/// Most of both that are looked at one by one before that.
const MOST_PAIRED: usize = 20_000_000;
const MOST_LAID: usize = 20_000_000;
/// Most parts of a kind.
const MOST_PARTS: usize = 60_000;
/// Most combinations in all.
const MOST_COMBINATIONS: f64 = 1e17;
/// Most chargers: with all of them on each pack their number still fits into 32 bits.
pub(super) const MOST_CHARGERS: usize = 10_000;

/// The refusal of more drives than memory would bear, of those that may do what is asked with some pack.
pub(super) fn too_many_drives() -> Error {
    too_many(MOST_DRIVES, "pairs of motor, gearing and controller that no goal rules out")
}

/// The refusal of more packs than memory would bear, of those that money, mass, voltages and the road alone let stand.
pub(super) fn too_many_packs() -> Error {
    let asked = "ask for a budget, a greatest mass or a range, name the modules that may be used, exclude some, or retire parts";
    refused(MOST_PACKS, "packs (modules in series and parallel) within money, mass and range", asked)
}

/// The refusal of a library that would not fit into memory.
fn too_many(most: usize, what: &str) -> Error {
    refused(most, what, "name the parts that may be used, exclude some, name ways of gearing or counts, or retire parts")
}

fn refused(most: usize, what: &str, asked: &str) -> Error {
    Error::field("library", format!("more than {most} {what}"), format!("a narrower search is accepted: {asked}"))
}

/// Refuses a search that memory would not bear, before anything is made for it.
pub(super) fn check_size(problem: &SearchProblem) -> Result<()> {
    let parts = [(problem.motors.len(), "motors"), (problem.controllers.len(), "controllers"), (problem.modules.len(), "modules")];
    // Their places are told in 16 bits.
    if let Some((_, what)) = parts.iter().find(|(count, _)| *count > MOST_PARTS) {
        return Err(too_many(MOST_PARTS, what));
    }
    let (mut drivetrains, mut rated, mut drives) = (0usize, 0usize, 0usize);
    for ((number, first), motor) in (0u16..).zip(&problem.same.motors).zip(&problem.motors) {
        let controllers = problem.controllers.iter().filter(|c| c.written.motor_kinds.contains(&motor.written.kind)).count();
        for (place, _) in problem.mounts(&motor.written) {
            let own = problem.gearings.iter().filter(|g| SearchProblem::fits(g, place, &motor.written)).count();
            drivetrains += own;
            rated += if *first == number { own } else { 0 };
            drives += own * controllers;
        }
    }
    let packs: usize = problem.modules.iter().flat_map(|m| problem.series(&m.written)).map(|s| problem.parallel(s).len()).sum();
    for (count, most, what) in [
        (rated, MOST_RATED, "motors of different ratings on gearings"),
        (drivetrains, MOST_TRAINS, "motors on gearings"),
        (drives, MOST_PAIRED, "pairs of motor, gearing and controller"),
        (packs, MOST_LAID, "packs (modules in series and parallel)"),
        (problem.chargers.len(), MOST_CHARGERS, "chargers"),
    ] {
        if count > most {
            return Err(too_many(most, what));
        }
    }
    // Counted in 64 bits.
    let raw = [drivetrains, problem.controllers.len(), packs, problem.chargers.len()].iter().map(|n| *n as f64).product::<f64>();
    if raw > MOST_COMBINATIONS {
        return Err(too_many(MOST_COMBINATIONS as usize, "combinations"));
    }
    Ok(())
}
