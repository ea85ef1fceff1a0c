//! What every candidate of a search has in common.

use super::grip::Stands;
use super::space::SearchProblem;
use crate::figures::cost;
use crate::findings::Rule;
use crate::vehicle::{Conditions, Road, masses, most_grip_n_per_kg, radius_m};

/// Steps of mass: each this much heavier than the one before.
const MASS_RATIO: f64 = 1.02;
pub(super) const MASS_STEPS: usize = 120;

/// What is the same for every candidate.
#[derive(Debug)]
pub(super) struct FixedVehicle {
    pub(super) radius_m: f64,
    /// Test mass without drive, pack and charger, kg.
    pub(super) bare_kg: f64,
    /// Whether the document fixes the test mass.
    pub(super) fixed_kg: Option<f64>,
    /// Added mass and net cost without drive, pack and charger.
    pub(super) bare_change_kg: f64,
    pub(super) bare_cost: f64,
    /// Road load on the usual day at 1000 kg; only its mass changes.
    pub(super) road: Road,
    /// Greatest tractive force the tyres pass for each kilogram, wherever it stands, N.
    pub(super) most_grip_n_per_kg: f64,
    /// What stands where, by the place of the motors.
    pub(super) stands: [Stands; 4],
    pub(super) low_voltage_w: f64,
    pub(super) regeneration_share: f64,
    /// Greatest test mass that every rating plate allows, with the rule that says so first.
    pub(super) mass_limits: Vec<(Rule, f64)>,
}

impl FixedVehicle {
    pub(super) fn of(problem: &SearchProblem) -> Self {
        let base = &problem.base;
        let bare = masses(base);
        let day = Conditions::of(base);
        let donor = &base.donor;
        let mass_limits = [(Rule::MassGross, donor.gross_limit_kg)];
        Self {
            radius_m: radius_m(base),
            bare_kg: bare.test_kg,
            fixed_kg: donor.test_mass_kg,
            bare_change_kg: bare.change_kg,
            bare_cost: cost(base).net,
            road: Road::of(base, 1000.0, &day),
            most_grip_n_per_kg: most_grip_n_per_kg(base),
            stands: Stands::all(problem),
            low_voltage_w: base.design.low_voltage_drawn_w(),
            regeneration_share: base.design.regeneration.share_or_usual(),
            mass_limits: mass_limits.into_iter().filter_map(|(rule, limit)| limit.map(|l| (rule, l))).collect(),
        }
    }

    /// Test mass with `added_kg` of drive, pack and charger, kg.
    pub(super) fn test_kg(&self, added_kg: f64) -> f64 {
        self.fixed_kg.unwrap_or(self.bare_kg + added_kg)
    }

    pub(super) fn road_at(&self, mass_kg: f64) -> Road {
        Road { mass_kg, ..self.road }
    }

    pub(super) fn mass_step(&self, mass_kg: f64) -> usize {
        let least = self.fixed_kg.unwrap_or(self.bare_kg);
        (((mass_kg / least).ln() / MASS_RATIO.ln()).floor().max(0.0) as usize).min(MASS_STEPS - 1)
    }

    /// Least and greatest mass of a step, kg; the last one has no end.
    pub(super) fn mass_between(&self, step: usize) -> (f64, f64) {
        let least = self.fixed_kg.unwrap_or(self.bare_kg);
        let at = |i: usize| least * MASS_RATIO.powi(i as i32);
        (at(step), if step + 1 == MASS_STEPS { 100.0 * least } else { at(step + 1) })
    }
}
