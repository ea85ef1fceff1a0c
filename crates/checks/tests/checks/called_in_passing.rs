//! What the service and the forms ask of the core in passing: first guesses of goals, verdicts without idle schedules, electrics from loads.

use crate::common::documents::{demo, documents};
use crate::common::{check, line, read, sound_demo, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::Measure;
use joulethesis_core::estimate::{TripLoad, estimate, trip_loads};
use joulethesis_core::inputs::Counted;
use joulethesis_core::powertrain::Chain;
use joulethesis_core::report::report;
use joulethesis_core::schematic::{derived, electrics};
use serde_json::json;
use std::collections::HashSet;

/// What a form offers for a new goal is accepted as it stands and judged, in either system of units.
#[test]
fn a_first_guess_of_every_goal_is_sound() {
    let document = demo("pipit-b");
    let mut words = HashSet::new();
    for guess in Measure::first_guesses().iter().flatten() {
        let mut measure = json!(guess);
        for (key, list) in [("trip", "trips"), ("socket", "sockets")] {
            if measure.get(key).is_some() {
                measure[key] = document["brief"][list][0]["id"].clone();
            }
        }
        let goals = json!([{ "id": "new", "name": "", "level": "required", "measure": measure }]);
        let claims = report(&read(&with(document.clone(), "/brief/goals", goals))).expect("computed").claims;
        assert!(claims.len() == 1 && claims[0].target > 0.0, "{guess:?}: {claims:?}");
        words.insert(guess.word());
    }
    assert_eq!(words.len(), Measure::first_guesses().len(), "each kind has a word of its own");
}

/// A list of conversions shows the verdicts of the estimate, although it leaves out the schedules that no goal speaks of.
#[test]
fn verdicts_do_not_hang_on_schedules_nobody_asks_about() {
    let mut left_out = 0;
    for document in documents() {
        let whole = read(&with(document, "/brief/schedules", json!(["wltc1", "ece15"])));
        let lean = whole.without_idle_schedules();
        left_out += whole.brief.schedules.len() - lean.brief.schedules.len();
        let claims = |of| json!(report(of).expect("computed").claims);
        assert_eq!(claims(&whole), claims(&lean), "{}", whole.name);
    }
    assert!(left_out > 4, "only {left_out} were left out");
}

/// Electrics from an estimate that is at hand are those of the whole way; harder trips ask for more liquid.
#[test]
fn electrics_follow_the_loads_they_are_given() {
    let van = sound_demo("whimbrel-9-a");
    let counted = Counted::of(&van);
    let estimated = estimate(&counted, &Cancel::new()).expect("computed");
    let chain = Chain::of(&counted, estimated.masses.test_kg).expect("complete");
    let loads = trip_loads(&counted, &chain, &Cancel::new()).expect("driven");
    assert_eq!(derived(&van, &chain, &estimated, loads.clone(), &[]), electrics(&van, &[], &Cancel::new()).expect("computed"));
    // What the liquid has to carry is what the hottest ten minutes lose.
    let flow_l_min = |times: f64| {
        let harder = |load: &TripLoad| TripLoad { ten_minutes_w: times * load.ten_minutes_w, ..load.clone() };
        let sheet = derived(&van, &chain, &estimated, loads.iter().map(harder).collect(), &[]);
        let told = line(&sheet, "coolant_trips").result.to_string();
        told.split(' ').next().and_then(|word| word.parse::<f64>().ok()).unwrap_or_else(|| panic!("{told}"))
    };
    check("twice the heat, l/min", flow_l_min(20.0), 2.0 * flow_l_min(10.0), 5e-3);
}
