//! Ways out and answers to "why not" on briefs drawn at random: a way out has an answer and a little less of it has none; what is put in by
//! hand is told as the estimate tells it.

use crate::common::{cases, design_of, sound_demo};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, Document, GoalLevel, MatchRequest, Measure};
use joulethesis_core::findings::Severity;
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::matching::{Compared, Question, relaxations, search, why_not};
use joulethesis_core::report::report;
use proptest::prelude::*;

fn library(seed: usize) -> Vec<Part> {
    let of = |kind: &'static str, many: usize| {
        let all: Vec<&Part> = builtin().iter().filter(|p| p.kind() == kind).collect();
        (0..many).map(|i| all[(seed * 7 + i * 11) % all.len()].clone()).collect::<Vec<_>>()
    };
    let mut parts = [of("motor", 10), of("controller", 10), of("module", 8), of("charger", 5)].concat();
    parts.sort_by(|a, b| (a.kind(), a.name()).cmp(&(b.kind(), b.name())));
    parts.dedup_by(|a, b| a.kind() == b.kind() && a.name() == b.name());
    parts
}

/// The numbers of each goal, made harder.
fn harder(document: &mut Document, by: f64) {
    for goal in &mut document.brief.goals {
        goal.level = GoalLevel::Required;
        match &mut goal.measure {
            Measure::Range { at_least_km: x, .. }
            | Measure::HillStart { at_least_percent: x }
            | Measure::HillAtSpeed { at_least_percent: x, .. }
            | Measure::TopSpeed { at_least_kmh: x } => {
                *x *= by;
            }
            Measure::Cost { at_most: x }
            | Measure::EnergyUse { at_most_wh_per_km: x, .. }
            | Measure::Acceleration { at_most_s: x, .. }
            | Measure::ChargeTime { at_most_h: x, .. } => {
                *x /= by;
            }
            Measure::AddedMass { at_most_kg: x } => *x /= by,
            Measure::SpeedLimit { .. } | Measure::PowerLimit { .. } => {}
        }
    }
}

fn has_answer(document: &Checked, library: &[Part]) -> bool {
    search(document, library, &MatchRequest::default(), &Cancel::new(), |_| true).is_ok_and(|a| !a.designs.is_empty())
}

fn set(document: &mut Document, id: &str, to: f64) {
    let goal = document.brief.goals.iter_mut().find(|g| g.id == id).expect("a goal");
    match &mut goal.measure {
        Measure::Range { at_least_km: x, .. }
        | Measure::HillStart { at_least_percent: x }
        | Measure::HillAtSpeed { at_least_percent: x, .. }
        | Measure::TopSpeed { at_least_kmh: x }
        | Measure::Cost { at_most: x }
        | Measure::EnergyUse { at_most_wh_per_km: x, .. }
        | Measure::Acceleration { at_most_s: x, .. }
        | Measure::ChargeTime { at_most_h: x, .. }
        | Measure::AddedMass { at_most_kg: x }
        | Measure::SpeedLimit { at_most_kmh: x }
        | Measure::PowerLimit { at_most_w: x, .. } => *x = to,
    }
}

proptest! {
    #![proptest_config(cases(10))]

    #[test]
    fn a_way_out_has_an_answer_and_a_little_less_has_none(seed in 0usize..40, by in 1.1..2.2f64) {
        let (document, library) = (sound_demo("pipit-b").with(|d| harder(d, by)).expect("sound"), library(seed));
        if has_answer(&document, &library) {
            return Ok(());
        }
        let Ok(out) = relaxations(&document, &library, &MatchRequest::default(), &Cancel::new(), |_| true) else { return Ok(()) };
        // Every goal that frees the rest when it is let go alone is a way out, and no other alone is.
        for goal in document.brief.goals.iter().filter(|g| out.complete && g.measure.target() > 0.0) {
            let free = document.with(|d| {
                let of = d.brief.goals.iter_mut().find(|g| g.id == goal.id).expect("a goal");
                let limit = matches!(of.measure, Measure::Cost { .. } | Measure::EnergyUse { .. } | Measure::Acceleration { .. } | Measure::ChargeTime { .. } | Measure::AddedMass { .. });
                let to = of.measure.target() * if limit { 12.9 } else { 0.021 };
                set(d, &goal.id, to);
            });
            let alone = out.options.iter().any(|o| o.slacks.len() == 1 && o.slacks[0].goal == goal.id);
            prop_assert_eq!(free.is_ok_and(|d| has_answer(&d, &library)), alone, "{}: {:?}", &goal.id, &out.options);
        }
        for option in &out.options {
            prop_assert!(!option.slacks.is_empty());
            let eased = |share: f64| {
                document.with(|d| option.slacks.iter().for_each(|s| set(d, &s.goal, s.target + share * (s.relaxed - s.target)))).expect("sound")
            };
            prop_assert!(has_answer(&eased(1.0 + 1e-6), &library), "no answer by {:?}", option.slacks);
            for slack in &option.slacks {
                prop_assert!(slack.more_is_better == (slack.relaxed < slack.target) && slack.share > 0.0, "{slack:?}");
            }
            // The least is told to about a hundredth; clearly less is not enough where one goal gives way alone.
            if out.complete && option.slacks.len() == 1 {
                prop_assert!(!has_answer(&eased(0.9), &library), "nine tenths of it would do: {:?}", option.slacks);
            }
        }
    }

    #[test]
    fn what_is_put_in_by_hand_is_told_as_the_estimate_tells_it(seed in 0usize..40, motor in 0usize..10, module in 0usize..8) {
        let (document, library) = (sound_demo("pipit-b"), library(seed));
        let name = |kind: &str, i: usize| {
            let all: Vec<&Part> = library.iter().filter(|p| p.kind() == kind).collect();
            all[i % all.len()].name().to_owned()
        };
        let request = MatchRequest::default();
        let Ok(answer) = search(&document, &library, &request, &Cancel::new(), |_| true) else { return Ok(()) };
        let picks: Vec<_> = answer.designs.iter().map(|m| m.pick.clone()).collect();
        let question = Question { motor: Some(name("motor", motor)), module: Some(name("module", module)), ..Question::default() };
        let told = why_not(&document, &library, &request, &question, Compared { beside: picks.first(), against: &picks }, &Cancel::new(), || true)
            .map_err(|e| TestCaseError::fail(e.to_string()))?;
        prop_assert!(!told.summary.is_empty());
        for examined in [&told.put_in, &told.nearest].into_iter().flatten() {
            let design = design_of(&document, &library, &request, &examined.design.pick);
            let e = report(&document.with(|d| d.design = design).expect("sound")).expect("complete");
            prop_assert_eq!(examined.design.cost, e.cost.net);
            prop_assert_eq!(examined.design.added_kg, e.masses.change_kg);
            // Every stop of the design is among what is told against it.
            for stop in e.findings.iter().filter(|f| f.severity == Severity::Stop) {
                prop_assert!(examined.findings.iter().any(|f| f.rule == stop.rule), "{:?} is not told", stop.rule);
            }
            for miss in &examined.misses {
                let claim = e.claims.iter().find(|c| c.goal == miss.goal).expect("a claim");
                prop_assert!(claim.margin.is_none_or(|m| m < 1e-9), "{} is met", miss.name);
            }
        }
        if let Some(best) = &told.best {
            prop_assert!(question.motor.as_ref() == Some(&best.pick.motor) && question.module.as_ref() == Some(&best.pick.module));
        }
        if let Some(rival) = &told.dominated_by {
            prop_assert!(picks.contains(&rival.pick), "{:?} is none of the answer", rival.pick);
        }
    }
}
