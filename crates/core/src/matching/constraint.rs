//! What a design has to meet: the required goals of the brief, and what the request itself asks.

use super::screening::CAUTIOUS_DRAWS;
use crate::document::{Certainty, Document, Fate, GoalLevel, MatchRequest, Measure, PackApproach};
use crate::figures::FigureKind;
use crate::quantity::Sentence;
use crate::uncertainty::dear_prices;

/// A goal that must be met, or a cap of the request.
#[derive(Debug, Clone)]
pub(super) struct Constraint {
    /// Id of the goal; `request.budget`, `request.most_added_kg` or `request.pack` for what the request itself asks.
    pub(super) id: String,
    pub(super) name: Sentence,
    pub(super) kind: FigureKind,
    pub(super) target: f64,
    /// What has to be reached with every input at its median: the target, or more where the search asks for nine in ten.
    pub(super) needed: f64,
    pub(super) more_is_better: bool,
    pub(super) unit: &'static str,
    /// What a miss is told as a share of.
    pub(super) scale: f64,
}

impl Constraint {
    pub(super) fn met(&self, value: f64) -> bool {
        if self.more_is_better { value >= self.needed } else { value <= self.needed }
    }

    /// As [`Self::met`] with a hair of room, for bounds computed in another order of sums.
    pub(super) fn may_be_met(&self, best: f64) -> bool {
        let hair = 1e-9 * self.needed.abs().max(1.0);
        if self.more_is_better { best >= self.needed - hair } else { best <= self.needed + hair }
    }

    /// By how much it is missed, share of the target; zero when met.
    pub(super) fn shortfall(&self, value: f64) -> f64 {
        let gap = if self.more_is_better { self.target - value } else { value - self.target };
        (gap / self.scale).max(0.0)
    }
}

pub(super) fn constraints(request: &MatchRequest, document: &Document) -> Vec<Constraint> {
    let mut all: Vec<Constraint> = document
        .brief
        .goals
        .iter()
        .filter(|g| g.level == GoalLevel::Required)
        .map(|g| {
            let kind = FigureKind::of(document, &g.measure);
            let figure = kind.figure(document);
            let share = if matches!(g.measure, Measure::Range { .. }) { request.pack.range_share() } else { 1.0 };
            let target = g.measure.target() * share;
            Constraint {
                id: g.id.clone(),
                name: if g.name.trim().is_empty() { figure.name } else { g.name.clone().into() },
                kind,
                target,
                needed: target,
                more_is_better: figure.more_is_better,
                unit: figure.unit,
                scale: kind.scale(g.measure.target()),
            }
        })
        .collect();
    let mut cap = |id: &str, name: &str, kind: FigureKind, target: f64| {
        let figure = kind.figure(document);
        let (more_is_better, unit, scale) = (figure.more_is_better, figure.unit, kind.scale(target));
        all.push(Constraint { id: id.to_owned(), name: name.into(), kind, target, needed: target, more_is_better, unit, scale });
    };
    if let Some(budget) = request.budget {
        cap("request.budget", "Most cost in this search", FigureKind::Cost, budget);
    }
    if let Some(kg) = request.most_added_kg {
        cap("request.most_added_kg", "Added mass of this search", FigureKind::AddedMass, kg);
    }
    if let (PackApproach::Small { charge_h, .. }, Some(socket)) = (request.pack, request.socket_of(document)) {
        cap("request.pack", "Small pack, filled again", FigureKind::Charge(socket), charge_h);
    }
    if request.certainty == Certainty::P10 {
        let dear = dear_prices(document, CAUTIOUS_DRAWS);
        all.iter_mut().filter(|m| m.kind == FigureKind::Cost).for_each(|m| m.needed = affordable(m.target, dear, document));
    }
    all
}

/// Cost at the usual prices that is no more than `most` where they are `dear` times as high: parts count with it, what was sold does not. A hair
/// is left for sums made in another order.
fn affordable(most: f64, dear: f64, document: &Document) -> f64 {
    let sold = document.donor.sales(Fate::Sold);
    (most + sold) / dear - sold + 1e-9 * (most.abs() + sold.abs())
}
