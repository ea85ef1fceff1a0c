//! How large a search may be: what its lists hold at most, told before memory is taken.

use super::space::SearchProblem;
use crate::error::{Error, Result};

/// Most motors on gearings, those with controllers, and packs: under a gigabyte in all, whatever the library.
pub(super) const MOST_TRAINS: usize = 30_000;
pub(super) const MOST_DRIVES: usize = 2_000_000;
pub(super) const MOST_PACKS: usize = 400_000;
/// Most chargers: with all of them on each pack their number still fits into 32 bits.
pub(super) const MOST_CHARGERS: usize = 10_000;

/// The refusal of a library that would not fit into memory.
fn too_many(most: usize, what: &str) -> Error {
    Error::field(
        "library",
        format!("more than {most} {what}"),
        "a narrower search is accepted: name the parts that may be used, exclude some, name ways of gearing or counts, or retire parts",
    )
}

/// Refuses a search that memory would not bear, before anything is made for it.
pub(super) fn check_size(problem: &SearchProblem) -> Result<()> {
    let (mut drivetrains, mut drives) = (0usize, 0usize);
    for motor in &problem.motors {
        let controllers = problem.controllers.iter().filter(|c| c.written.motor_kinds.contains(&motor.written.kind)).count();
        for (place, _) in problem.mounts(&motor.written) {
            let own = problem.gearings.iter().filter(|g| SearchProblem::fits(g, place, &motor.written)).count();
            drivetrains += own;
            drives += own * controllers;
        }
    }
    let packs: usize = problem.modules.iter().flat_map(|m| problem.series(&m.written)).map(|s| problem.parallel(s).len()).sum();
    for (count, most, what) in [
        (drivetrains, MOST_TRAINS, "motors on gearings"),
        (drives, MOST_DRIVES, "pairs of motor, gearing and controller"),
        (packs, MOST_PACKS, "packs (modules in series and parallel)"),
        (problem.chargers.len(), MOST_CHARGERS, "chargers"),
    ] {
        if count > most {
            return Err(too_many(most, what));
        }
    }
    Ok(())
}
