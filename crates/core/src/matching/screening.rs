//! What a simulated configuration still has to pass: the rated gross mass of the donor, and how sure its goals are.

use super::configuration::Configuration;
use super::count::{Why, rule};
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::error::Result;
use crate::figures::{FigureKind, OperatingPoint};
use crate::findings::Rule;
use crate::limits::over_rating;
use crate::uncertainty::nine_in_ten;

/// Draws of the cautious filter: the first of those of every band, which spread as evenly as the whole.
pub const CAUTIOUS_DRAWS: u32 = 32;

/// The rated gross mass, as the findings hold it.
pub(super) fn over_a_plate(problem: &SearchProblem, point: &OperatingPoint) -> Option<Why> {
    let (donor, m) = (&problem.base.donor, &point.masses);
    // Axle loads hang on places that nobody has stated yet: those are warned of, and rule nothing out.
    donor.gross_limit_kg.filter(|limit| over_rating(m.test_kg, *limit)).map(|_| rule(Rule::MassGross))
}

/// The first goal that fewer than nine in ten of the cautious draws meet.
pub(super) fn unsure(problem: &SearchProblem, configuration: &Configuration, cancel: &Cancel) -> Result<Option<usize>> {
    let written = problem.plain.with_sound(|d| d.design = problem.design(configuration, false));
    let document = problem.document(configuration);
    let own_trips = problem.traced(&document)?;
    let trips = own_trips.as_deref().unwrap_or(&problem.trips);
    let checks: Vec<(FigureKind, f64, bool)> = problem.constraints.iter().map(|m| (m.kind, m.target, m.more_is_better)).collect();
    nine_in_ten(&written, trips, &checks, CAUTIOUS_DRAWS, cancel)
}
