//! Where every raw combination went.

use serde::Serialize;

use super::space::Task;

/// One reason why combinations are not in the answer.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Cut {
    /// Rule of the findings, `goal.` and the goal's id, or `request.` and the cap.
    pub rule: String,
    /// Words for people.
    pub name: String,
    /// Combinations it cut; each is counted once, under the first rule that cut it.
    pub combinations: u64,
    /// How many of them had to be simulated to know.
    pub simulated: u64,
}

/// Counts of a search. `raw` is the sum of all cuts, of `beaten_by_bound`, `beaten` and `kept`.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SearchReport {
    /// Raw combinations.
    pub raw: u64,
    /// Cut by a rule or a goal, in the order they are looked at.
    pub cuts: Vec<Cut>,
    /// Cannot beat the answer even at their best.
    pub beaten_by_bound: u64,
    /// Simulated and beaten.
    pub beaten: u64,
    /// In the answer.
    pub kept: u64,
    /// Combinations looked at by closed forms one by one.
    pub bounded: u64,
    /// Chains built and run.
    pub simulated: u64,
    /// Trips driven for their range.
    pub driven: u64,
}

/// Rules that pair parts, in the order they are looked at.
const RULES: [(&str, &str); 14] = [
    ("match.motor-kind", "controller for another kind of motor"),
    ("volts.full-charge-over-controller", "full charge above what the controller bears"),
    ("volts.full-charge-over-motor", "full charge above what the motor is insulated for"),
    ("volts.pack-below-controller", "full charge below what the controller starts at"),
    ("volts.charger-over-pack", "charger ends above full charge"),
    ("volts.charger-under-pack", "charger never gets to full charge"),
    ("charger.outclassed", "another charger fills the pack as fast, costs and weighs no more"),
    ("amps.controller-over-pack", "controller asks more than the cells bear"),
    ("volts.sag-below-cutoff", "sags below the cut-off at full throttle"),
    ("mass.gross", "over the rated gross mass"),
    ("mass.front-axle", "over the rated front axle"),
    ("mass.rear-axle", "over the rated rear axle"),
    ("trip.not-followed", "cannot keep up on the trip"),
    ("heat.trip", "heat holds it back before the range is spent"),
];

/// Running counts; cheap to merge.
#[derive(Debug, Clone)]
pub(super) struct Counts {
    /// By rule, then by goal.
    pub(super) cuts: Vec<(u64, u64)>,
    pub(super) beaten_by_bound: u64,
    pub(super) bounded: u64,
    pub(super) simulated: u64,
    pub(super) driven: u64,
}

/// A place among the cuts.
pub(super) type Why = usize;

pub(super) fn rule(id: &str) -> Why {
    RULES.iter().position(|r| r.0 == id).unwrap_or_default()
}

pub(super) const fn goal(must: usize) -> Why {
    RULES.len() + must
}

/// The goal a cut belongs to, if it is one.
pub(super) fn goal_of(why: Why) -> Option<usize> {
    why.checked_sub(RULES.len())
}

/// Rule id of a cut.
pub(super) fn id(why: Why, task: &Task) -> String {
    match goal_of(why) {
        Some(i) if task.musts[i].id.starts_with("request.") => task.musts[i].id.clone(),
        Some(i) => format!("goal.{}", task.musts[i].id),
        None => RULES[why].0.to_owned(),
    }
}

impl Counts {
    pub(super) fn new(task: &Task) -> Self {
        Self { cuts: vec![(0, 0); RULES.len() + task.musts.len()], beaten_by_bound: 0, bounded: 0, simulated: 0, driven: 0 }
    }

    pub(super) fn cut(&mut self, why: Why, combinations: u64) {
        self.cuts[why].0 += combinations;
    }

    pub(super) fn cut_simulated(&mut self, why: Why) {
        self.cuts[why].0 += 1;
        self.cuts[why].1 += 1;
    }

    pub(super) fn add(&mut self, other: &Self) {
        for (own, more) in self.cuts.iter_mut().zip(&other.cuts) {
            own.0 += more.0;
            own.1 += more.1;
        }
        self.beaten_by_bound += other.beaten_by_bound;
        self.bounded += other.bounded;
        self.simulated += other.simulated;
        self.driven += other.driven;
    }

    pub(super) fn report(&self, task: &Task, raw: u64, kept: u64) -> SearchReport {
        let name = |why: Why| match goal_of(why) {
            Some(i) => task.musts[i].name.clone(),
            None => RULES[why].1.to_owned(),
        };
        let cuts: Vec<Cut> = self
            .cuts
            .iter()
            .enumerate()
            .filter(|(_, c)| c.0 > 0)
            .map(|(why, c)| Cut { rule: id(why, task), name: name(why), combinations: c.0, simulated: c.1 })
            .collect();
        let cut: u64 = cuts.iter().map(|c| c.combinations).sum();
        SearchReport {
            raw,
            beaten_by_bound: self.beaten_by_bound,
            beaten: raw.saturating_sub(cut + self.beaten_by_bound + kept),
            kept,
            bounded: self.bounded,
            simulated: self.simulated,
            driven: self.driven,
            cuts,
        }
    }
}
