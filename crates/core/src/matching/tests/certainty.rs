//! What a search that asks for nine in ten cuts beforehand against the samples themselves.

use super::proof::{Proof, candidate, demo, spread};
use crate::cancel::Cancel;
use crate::document::{Certainty, MatchRequest};
use crate::figures::{FigureKind, cost};
use crate::library::builtin;
use crate::matching::CAUTIOUS_DRAWS;
use crate::matching::space::SearchProblem;
use crate::uncertainty::nine_in_ten;

/// A budget is needed with so much to spare as keeps it in nine samples of ten, no more and no less: whatever is cut beforehand would have been
/// doubted, and nothing that passes is.
#[test]
fn a_budget_is_kept_in_nine_of_ten_just_where_what_is_needed_is_met() {
    let (mut kept, mut missed) = (0, 0);
    for name in ["pipit-b", "whimbrel-9-a", "wren-a", "dunlin-a"] {
        let (document, proof) = (demo(name), Proof::of(name));
        for i in 0..120 {
            let (pack, drive) = proof.drawn(i);
            let configuration = proof.space.configuration(&candidate(drive, pack as u32));
            let central = cost(&proof.problem.document(&configuration)).net;
            // Around what it costs, closer and closer to where samples begin to fail.
            let budget = central * (1.0 + 0.3 * (spread(i, 0.414, 1000) as f64 / 1000.0));
            let request = MatchRequest { certainty: Certainty::P10, budget: Some(budget), ..MatchRequest::default() };
            let asked = SearchProblem::of(&document, builtin(), &request).expect("sound");
            let constraint = asked.constraints.iter().find(|m| m.id == "request.budget").expect("a budget");
            let written = asked.plain.with_sound(|d| d.design = asked.design(&configuration, false));
            let goals = [(FigureKind::Cost, constraint.target, false)];
            let samples: Vec<u32> = (0..CAUTIOUS_DRAWS).collect();
            let doubt = nine_in_ten(&written, &asked.trips, &goals, &samples, &Cancel::new()).expect("computed");
            let sure = doubt.unsure.is_none();
            // In which order they are looked at tells how soon it is known, and nothing else.
            let mut backwards = samples;
            backwards.reverse();
            let other = nine_in_ten(&written, &asked.trips, &goals, &backwards, &Cancel::new()).expect("computed");
            assert_eq!(doubt.unsure, other.unsure);
            assert_eq!(constraint.met(central), sure, "{name}: {central} of {budget}, needed {}", constraint.needed);
            kept += u32::from(sure);
            missed += u32::from(!sure);
        }
    }
    assert!(kept > 80 && missed > 80, "{kept} keep to their budgets and {missed} do not");
}
