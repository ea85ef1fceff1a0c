//! What a simulated configuration still has to pass: the rated gross mass of the donor, and how sure its goals are.

use super::configuration::Configuration;
use super::count::{Why, rule};
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::error::Result;
use crate::figures::{FigureKind, OperatingPoint};
use crate::findings::Rule;
use crate::limits::over_rating;
use crate::uncertainty::{Doubt, nine_in_ten};

/// Draws of the cautious filter: the first of those of every band, which spread as evenly as the whole.
pub const CAUTIOUS_DRAWS: u32 = 32;

/// The rated gross mass, as the findings hold it.
pub(super) fn over_a_plate(problem: &SearchProblem, point: &OperatingPoint) -> Option<Why> {
    let (donor, m) = (&problem.base.donor, &point.masses);
    // Axle loads hang on places that nobody has stated yet: those are warned of, and rule nothing out.
    donor.gross_limit_kg.filter(|limit| over_rating(m.test_kg, *limit)).map(|_| rule(Rule::MassGross))
}

/// Samples of the cautious filter, those first in which most of what was doubted so far missed a goal.
#[derive(Debug)]
pub(super) struct CautiousSamples {
    order: Vec<u32>,
    misses: Vec<u32>,
}

impl CautiousSamples {
    /// As they come.
    pub(super) fn new() -> Self {
        Self { order: (0..CAUTIOUS_DRAWS).collect(), misses: vec![0; CAUTIOUS_DRAWS as usize] }
    }

    /// Takes in the samples in which some design missed a goal.
    pub(super) fn learn(&mut self, missed_in: &[u32]) {
        if missed_in.is_empty() {
            return;
        }
        missed_in.iter().for_each(|i| self.misses[*i as usize] += 1);
        self.order.sort_by_key(|i| (std::cmp::Reverse(self.misses[*i as usize]), *i));
    }

    /// How sure the goals of a configuration are.
    pub(super) fn doubt(&self, problem: &SearchProblem, configuration: &Configuration, cancel: &Cancel) -> Result<Doubt> {
        let written = problem.plain.with_sound(|d| d.design = problem.design(configuration, false));
        let document = problem.document(configuration);
        let own_trips = problem.traced(&document)?;
        let trips = own_trips.as_deref().unwrap_or(&problem.trips);
        let checks: Vec<(FigureKind, f64, bool)> = problem.constraints.iter().map(|m| (m.kind, m.target, m.more_is_better)).collect();
        nine_in_ten(&written, trips, &checks, &self.order, cancel)
    }
}
