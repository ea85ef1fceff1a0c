//! The answer to "why not this?" in a sentence.

use super::answer::Match;
use super::count::SearchReport;
use super::objectives::Axis;
use super::space::SearchProblem;
use super::why_not::Examined;
use crate::quantity::{Sentence, figure, sentence};

pub(super) fn short(m: &Match) -> String {
    format!("{} with {} and {}", m.pick.motor, m.pick.controller, m.layout)
}

/// In what one design is better than another.
pub(super) fn better_words(problem: &SearchProblem, a: &Match, b: &Match) -> Sentence {
    let values = |m: &Match| [Some(m.cost), m.range_km, m.acceleration_s, Some(m.added_kg), m.charge_h, Some(m.hill_percent)];
    let words = [("cheaper", 0), ("further", 1), ("quicker", 1), ("lighter", 0), ("charged sooner", 1), ("stronger on the hill", 1)];
    let better: Vec<Sentence> = Axis::ALL
        .into_iter()
        .zip(values(a))
        .zip(values(b))
        .zip(words)
        .zip(&problem.objectives.axes)
        .filter_map(|((((axis, a), b), (word, digits)), info)| {
            let (a, b) = (a?, b?);
            let gain = if axis.more_is_better() { a - b } else { b - a };
            let worth = gain > 0.02 * b.abs().max(1e-9) && info.active;
            worth.then(|| sentence!("{} ({} against {})", word, figure(a, info.unit, digits), figure(b, info.unit, digits)))
        })
        .collect();
    if better.is_empty() { "as good in every figure and cheaper or lighter".into() } else { Sentence::joined(better, ", ") }
}

pub(super) fn no_words(report: &SearchReport, nearest: Option<&Examined>) -> Sentence {
    let Some(most) = report.cuts.iter().max_by_key(|c| c.combinations) else {
        return "There is no combination with it to try.".into();
    };
    let share = 100.0 * most.combinations as f64 / report.raw.max(1) as f64;
    let (raw, share) = (report.raw.to_string(), figure(share, "%", 0));
    let first = sentence!("None of {} combinations with it meets the brief; most ({}) fall to: ", raw, share).then(most.name.clone());
    match nearest.and_then(|n| n.misses.first()) {
        Some(miss) => {
            let got = miss.reached.map_or_else(|| "never reached".into(), |r| figure(r, miss.unit, 1));
            let asked = sentence!(": {} where {} is asked.", got, figure(miss.target, miss.unit, 1));
            first.then(". The nearest misses ".into()).then(miss.name.clone()).then(asked)
        }
        None => first.then(".".into()),
    }
}
