//! Goals judged: each becomes a claim with a prediction, a verdict, and what limits it.

mod reasons;

use serde::Serialize;

use crate::document::{Document, Goal, GoalLevel};
use crate::estimate::Estimate;
use crate::figures::{FigureKind, Verdict};
use crate::quantity::Sentence;
use reasons::{Prediction, predict};

/// In a rank a goal that is passed by this much is as good as can be: spare for cold and age. What lies beyond is paid for and not used.
pub(crate) const SPARE: f64 = 1.2;
/// Weight of a surplus beside that of a shortfall.
pub(crate) const SURPLUS: f64 = 0.25;

/// What a figure counts against a design whose logarithm lies `over` beyond its target, as a figure of which less is better: a shortfall
/// in full, a surplus as a quarter of that in its favour and up to a fifth of the target, unless more of it is `always` better.
#[must_use]
pub(crate) fn regret(over: f64, always: bool) -> f64 {
    if over > 0.0 { over } else { SURPLUS * if always { over } else { over.max(-SPARE.ln()) } }
}

/// A goal with its prediction.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Claim {
    /// Goal id.
    pub goal: String,
    /// Name shown.
    pub name: Sentence,
    /// A must, or a wish.
    pub level: GoalLevel,
    /// What is asked.
    pub target: f64,
    /// What is predicted; absent when it is never reached or cannot be told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub predicted: Option<f64>,
    /// Unit of both, as stored.
    pub unit: String,
    /// Whether more is better.
    pub more_is_better: bool,
    /// How it stands; from the central figure alone, met or missed.
    pub verdict: Verdict,
    /// The headline figure it is judged by.
    pub figure: String,
    /// Share of the draws that meet it; absent where no band was computed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub probability: Option<f64>,
    /// By how much it is met (positive) or missed (negative), share of the target.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub margin: Option<f64>,
    /// What limits it, in a few words.
    pub limited_by: String,
    /// One sentence that says why.
    pub why: Sentence,
}

/// Judges one goal against an estimate.
#[must_use]
pub fn judge(goal: &Goal, document: &Document, estimate: &Estimate) -> Claim {
    let kind = FigureKind::of(document, &goal.measure);
    let (figure, target) = (kind.figure(document), goal.measure.target());
    let Prediction { value, absent, limited_by, why } = predict(kind, estimate);
    let margin = value.map(|v| (if figure.more_is_better { v - target } else { target - v }) / kind.scale(target));
    Claim {
        goal: goal.id.clone(),
        name: if goal.name.trim().is_empty() { figure.name } else { goal.name.clone().into() },
        level: goal.level,
        target,
        predicted: value,
        unit: figure.unit.to_owned(),
        more_is_better: figure.more_is_better,
        verdict: match margin {
            // What is known already is too much, or what is not known may be.
            Some(m) if m >= 0.0 && kind == FigureKind::Cost && !estimate.cost.without_price.is_empty() => Verdict::CannotTell,
            Some(m) if m >= 0.0 => Verdict::Met,
            Some(_) => Verdict::Missed,
            None => absent,
        },
        figure: figure.id,
        probability: None,
        margin,
        limited_by,
        why,
    }
}
