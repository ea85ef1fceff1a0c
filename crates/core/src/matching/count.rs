//! Where every raw combination went.

use serde::Serialize;

use super::space::SearchProblem;
use crate::findings::Rule;
use crate::quantity::Sentence;

/// One reason why combinations are not in the answer.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Cut {
    /// Rule of the findings, `goal.` and the goal's id, or `request.` and the cap.
    pub rule: String,
    /// Words for people.
    pub name: Sentence,
    /// Combinations it cut; each is counted once, under the first rule that cut it.
    pub combinations: u64,
    /// How many of them had to be simulated to know.
    pub simulated: u64,
}

/// Counts of a search. `raw` is the sum of all cuts, of `dominated_by_bound`, `dominated`, `kept` and `undecided`.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SearchReport {
    /// Raw combinations.
    pub raw: u64,
    /// Cut by a rule or a goal, in the order they are looked at.
    pub cuts: Vec<Cut>,
    /// Cannot beat the answer even at their best.
    pub dominated_by_bound: u64,
    /// Simulated and dominated.
    pub dominated: u64,
    /// In the answer.
    pub kept: u64,
    /// Not looked at yet; none in a complete answer.
    pub undecided: u64,
    /// Pairs of a drive and a pack looked at by closed forms, with all chargers at once; drives of the same ratings count as one.
    pub bounded: u64,
    /// Blocks of combinations looked at by closed forms at once.
    pub blocks: u64,
    /// Chains built and run.
    pub simulated: u64,
    /// Trips driven for their range.
    pub driven: u64,
}

/// Rules that a search counts, in the order they are looked at.
const RULES: [Rule; 11] = [
    Rule::MotorKind,
    Rule::FullChargeOverController,
    Rule::FullChargeOverMotor,
    Rule::PackBelowController,
    Rule::ChargerOverPack,
    Rule::ChargerUnderPack,
    Rule::ControllerOverPack,
    Rule::SagBelowCutoff,
    Rule::MassGross,
    Rule::NotFollowed,
    Rule::Heat,
];
/// Place of chargers that another one outclasses: no rule, the answer is as good without them.
pub(super) const OUTCLASSED: Why = RULES.len();

/// Running counts; cheap to merge.
#[derive(Debug, Clone)]
pub(super) struct Counts {
    /// By rule, then by goal.
    pub(super) cuts: Vec<(u64, u64)>,
    pub(super) bounded: u64,
    /// Blocks of combinations looked at at once.
    pub(super) blocks: u64,
    /// Candidates looked at one by one, some of them twice.
    pub(super) tried: u64,
    pub(super) simulated: u64,
    pub(super) driven: u64,
}

/// A place among the cuts.
pub(super) type Why = usize;

pub(super) fn rule(rule: Rule) -> Why {
    let place = RULES.iter().position(|r| *r == rule);
    debug_assert!(place.is_some(), "{} is not counted", rule.id());
    place.unwrap_or_default()
}

pub(super) const fn goal(constraint: usize) -> Why {
    OUTCLASSED + 1 + constraint
}

/// The goal a cut belongs to, if it is one.
pub(super) fn goal_of(why: Why) -> Option<usize> {
    why.checked_sub(OUTCLASSED + 1)
}

/// Rule id of a cut.
pub(super) fn id(why: Why, problem: &SearchProblem) -> String {
    match goal_of(why) {
        Some(i) if problem.constraints[i].id.starts_with("request.") => problem.constraints[i].id.clone(),
        Some(i) => format!("goal.{}", problem.constraints[i].id),
        None => RULES.get(why).map_or("charger.outclassed", |r| r.id()).to_owned(),
    }
}

impl Counts {
    pub(super) fn new(problem: &SearchProblem) -> Self {
        Self { cuts: vec![(0, 0); goal(problem.constraints.len())], bounded: 0, blocks: 0, tried: 0, simulated: 0, driven: 0 }
    }

    pub(super) fn cut(&mut self, why: Why, combinations: u64) {
        self.cuts[why].0 += combinations;
    }

    /// One more look at a block; a leaf holds one pack with drives of the same ratings.
    pub(super) fn looked_at(&mut self, is_leaf: bool) {
        *(if is_leaf { &mut self.bounded } else { &mut self.blocks }) += 1;
    }

    /// Cuts one candidate, known by bounds or simulated.
    pub(super) fn cut_one(&mut self, why: Why, simulated: bool) {
        self.cuts[why].0 += 1;
        self.cuts[why].1 += u64::from(simulated);
    }

    pub(super) fn add(&mut self, other: &Self) {
        for (own, more) in self.cuts.iter_mut().zip(&other.cuts) {
            own.0 += more.0;
            own.1 += more.1;
        }
        self.bounded += other.bounded;
        self.blocks += other.blocks;
        self.tried += other.tried;
        self.simulated += other.simulated;
        self.driven += other.driven;
    }

    pub(super) fn report(&self, problem: &SearchProblem, raw: u64, (kept, beaten, undecided): (u64, u64, u64)) -> SearchReport {
        let name = |why: Why| match goal_of(why) {
            Some(i) => problem.constraints[i].name.clone(),
            None => RULES.get(why).map_or("another charger fills the pack as fast, costs and weighs no more", |r| r.short()).into(),
        };
        let cuts: Vec<Cut> = self
            .cuts
            .iter()
            .enumerate()
            .filter(|(_, c)| c.0 > 0)
            .map(|(why, c)| Cut { rule: id(why, problem), name: name(why), combinations: c.0, simulated: c.1 })
            .collect();
        let cut: u64 = cuts.iter().map(|c| c.combinations).sum();
        SearchReport {
            raw,
            dominated_by_bound: beaten,
            dominated: raw.saturating_sub(cut + beaten + kept).saturating_sub(undecided),
            kept,
            undecided: undecided.min(raw.saturating_sub(cut + beaten + kept)),
            bounded: self.bounded,
            blocks: self.blocks,
            simulated: self.simulated,
            driven: self.driven,
            cuts,
        }
    }
}
