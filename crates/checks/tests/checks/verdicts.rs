//! Verdicts never flatter: a part made worse in one rating makes no goal better; and every number that may be entered counts.

use crate::common::documents::{asked, demo, documents, numbers, with_goals};
use crate::common::drawn::drawn;
use crate::common::{cases, components, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::claims::Claim;
use joulethesis_core::document::{Checked, Document, Slot};
use joulethesis_core::layout::{LayoutSheet, layout};
use joulethesis_core::quantity::fields::DOCUMENT;
use joulethesis_core::report::{Report, report, report_with_bands};
use joulethesis_core::schematic::{ElectricsSheet, MechanicsSheet, electrics, mechanics};
use proptest::prelude::*;
use serde_json::{Value, json};

/// A change for the worse: what is multiplied by how much and what is added to it, and the measures that are excused, with the reason
/// beside it.
struct Worse {
    pointer: &'static str,
    times: (f64, f64),
    plus: (f64, f64),
    excused: &'static [&'static str],
}

const fn worse(pointer: &'static str, from: f64, to: f64) -> Worse {
    Worse { pointer, times: (from, to), plus: (0.0, 0.0), excused: &[] }
}

/// Less in the pack is sooner charged.
const fn less_charge(pointer: &'static str, from: f64, to: f64) -> Worse {
    Worse { pointer, times: (from, to), plus: (0.0, 0.0), excused: &["charge_time"] }
}

/// More lost at the same continuous rating is better cooled: that tells where heat does.
const fn more_loss(pointer: &'static str, from: f64, to: f64) -> Worse {
    Worse { pointer, times: (from, to), plus: (0.0, 0.0), excused: &["hill_at_speed"] }
}

const WORSE: &[Worse] = &[
    worse("/design/motor/model/peak_torque_nm", 0.4, 0.95),
    worse("/design/motor/model/peak_power_w", 0.4, 0.95),
    worse("/design/motor/model/peak_current_a", 0.4, 0.95),
    worse("/design/motor/model/no_load_current_a", 1.5, 5.0),
    worse("/design/motor/model/drag_torque_nm", 1.5, 5.0),
    worse("/design/motor/continuous_torque_nm", 0.4, 0.95),
    worse("/design/motor/continuous_power_w", 0.4, 0.95),
    more_loss("/design/motor/losses/copper_w_per_nm2", 1.2, 3.0),
    more_loss("/design/motor/losses/constant_w", 1.5, 5.0),
    worse("/design/motor/max_speed_rpm", 0.6, 0.95),
    worse("/design/motor/peak_s", 0.2, 0.8),
    worse("/design/motor/max_temperature_c", 0.6, 0.95),
    worse("/design/motor/mass_kg", 1.5, 5.0),
    worse("/design/motor/price", 1.1, 3.0),
    worse("/design/controller/battery_current_a", 0.3, 0.9),
    worse("/design/controller/battery_current_continuous_a", 0.2, 0.9),
    worse("/design/controller/motor_current_a", 0.3, 0.9),
    worse("/design/controller/max_power_w", 0.3, 0.9),
    worse("/design/controller/peak_s", 0.2, 0.8),
    worse("/design/controller/max_temperature_c", 0.7, 0.95),
    worse("/design/controller/efficiency", 0.85, 0.98),
    worse("/design/controller/mass_kg", 1.5, 5.0),
    less_charge("/design/pack/module/capacity_ah", 0.4, 0.95),
    less_charge("/design/pack/module/capacity_share", 0.4, 0.95),
    // Colder cells. (Hotter air is no such thing: tyres roll easier in it.)
    Worse { pointer: "/design/pack/temperature_c", times: (1.0, 1.0), plus: (-40.0, -5.0), excused: &["charge_time"] },
    worse("/design/pack/module/resistance_ohm", 1.3, 4.0),
    worse("/design/pack/module/resistance_factor", 1.3, 4.0),
    worse("/design/pack/module/continuous_c", 0.2, 0.9),
    worse("/design/pack/module/peak_c", 0.2, 0.9),
    worse("/design/pack/module/charge_c", 0.2, 0.9),
    worse("/design/pack/module/mass_kg", 1.2, 3.0),
    worse("/design/pack/module/price", 1.1, 3.0),
    worse("/design/charger/output_current_a", 0.3, 0.9),
    worse("/design/charger/output_power_w", 0.3, 0.9),
    worse("/design/charger/efficiency", 0.8, 0.97),
    worse("/design/charger/mass_kg", 1.5, 5.0),
    worse("/design/low_voltage/load_w", 1.5, 10.0),
    worse("/donor/curb_mass_kg", 1.05, 1.5),
    worse("/donor/drag_coefficient", 1.1, 2.0),
    worse("/donor/rolling_coefficient", 1.1, 2.0),
    worse("/donor/undriven_axle_drag_n", 1.5, 5.0),
    worse("/donor/adhesion", 0.3, 0.9),
];

/// How much a figure may gain: the tolerance with which a trip counts as followed lets a laggard save so much.
const LITTLE: f64 = 0.01;
/// How many of the draws may turn beside that: two of 256.
const FEW_DRAWS: f64 = 2.0 / 256.0;

/// The same goals, each easier by a little.
fn easier(mut v: Value) -> Value {
    for goal in v["brief"]["goals"].as_array_mut().expect("goals") {
        let measure = goal["measure"].as_object_mut().expect("a measure");
        for (key, value) in measure.iter_mut() {
            let times = if key.starts_with("at_least") { 1.0 - LITTLE } else { 1.0 + LITTLE };
            if key.starts_with("at_") {
                *value = json!(value.as_f64().expect("a number") * times);
            }
        }
    }
    v
}

proptest! {
    #![proptest_config(cases(64))]

    #[test]
    fn a_worse_part_makes_no_goal_better(d in drawn(), u in 0.85..1.15f64, which in 0usize..1000, how in 0.0..1.0f64) {
        let mut v = asked(&d);
        // The changes this kind of motor has a rating for.
        let there: Vec<&Worse> = WORSE.iter().filter(|w| v.pointer(w.pointer).is_some_and(Value::is_number)).collect();
        let w = there[which % there.len()];
        if w.pointer.ends_with("max_temperature_c") {
            // The continuous rating holds in air of 40 degC: a lower limit at the same rating stands for better cooling, which tells in the
            // cold. In hotter air it is worse.
            v = with(v, "/brief/site/temperature_c", json!(45));
        }
        if w.pointer.contains("/losses/") {
            // As above: heat is left out of the trips, by air in which nothing gets hot.
            v = with(v, "/brief/site/temperature_c", json!(-35));
        }
        if w.pointer.ends_with("pack/temperature_c") || w.pointer.ends_with("charge_c") {
            // Cells that take less from braking spare the motor that heat: a real gain where heat ends a range, so left out here.
            v = with(v, "/design/regeneration/share", json!(0));
        }
        let v = with_goals(v, u);
        prop_assume!(Document::from_value(&v).is_ok());
        let smaller = |v: Value, share: f64| match v.pointer("/design/motor/continuous_power_w").and_then(Value::as_f64) {
            // Less torque for the same power is a plate that speaks of a higher speed, where more is lost and shed: both go down.
            Some(watts) if w.pointer.ends_with("continuous_torque_nm") => with(v, "/design/motor/continuous_power_w", json!(share * watts)),
            _ => v,
        };
        let value = v.pointer(w.pointer).and_then(Value::as_f64).expect("a number");
        let between = |(from, to): (f64, f64)| from + how * (to - from);
        let now = value * between(w.times) + between(w.plus);
        let Ok(changed) = Document::from_value(&with(smaller(v.clone(), now / value), w.pointer, json!(now))) else { return Ok(()) };
        let before = report_with_bands(&read(&easier(v.clone()))).expect("complete").claims;
        let after = report_with_bands(&changed).expect("complete").claims;
        for (goal, (b, a)) in v["brief"]["goals"].as_array().expect("goals").iter().zip(before.iter().zip(&after)) {
            let kind = goal["measure"]["kind"].as_str().expect("a kind");
            // A weaker part keeps a limit more easily: that is what it is for.
            if w.excused.contains(&kind) || kind.ends_with("_limit") {
                continue;
            }
            let told = |c: &Claim| format!("{:?} at {:?}, p {:?}", c.verdict, c.predicted, c.probability);
            let words = || format!("{} from {value} to {now}, {}: {} became {}", w.pointer, goal["measure"], told(b), told(a));
            let better = a.probability.unwrap_or(0.0) - b.probability.unwrap_or(0.0);
            prop_assert!(better <= FEW_DRAWS, "{}", words());
            let gained = match (b.margin, a.margin) {
                (Some(b), Some(a)) => a - b, // the easier goal's margin has the little in it
                (None, Some(_)) => f64::INFINITY,
                _ => 0.0,
            };
            prop_assert!(gained <= LITTLE / 4.0, "{}", words());
        }
    }
}

/// Numbers that no estimate, claim or finding hangs on, each with the reason.
const INERT: &[(&str, &str)] = &[
    ("brief.answers", "goals and the usual trip were made from them, and those count"),
    ("brief.goals[0].weight", "weighs wishes in the search"),
    ("brief.trips[0].path.trace[0].height_m", "drawn as a profile; the grade drives"),
    ("brief.trips[0].path.trace[0].east_m", "drawn as a map"),
    ("brief.trips[0].path.trace[0].north_m", "drawn as a map"),
    ("brief.summer.", "asked for in a trip's study by season and driving_style"),
    ("brief.winter.hvac_w", "asked for in a trip's study by season and driving_style"),
    ("brief.winter.rolling_factor", "asked for in a trip's study by season and driving_style"),
    ("brief.years.", "asked for in the years' own answer"),
    ("brief.week.", "asked for in the week's own answer"),
    ("design.pack.added_strings[0].module.charge_efficiency", "a pack is charged by the laws of its first cells"),
    ("donor.bolt_patterns[0].points[0].", "drawn as crosses"),
    ("donor.underlays.", "lays a photograph under the drawing"),
    ("donor.condition.", "ranks candidates"),
    ("donor.built", "chooses what the teardown warns of"),
    ("design.pack.added_strings[0].module.length_mm", "bays are filled with the modules of the first strings"),
    ("design.pack.added_strings[0].module.width_mm", "bays are filled with the modules of the first strings"),
    ("design.pack.added_strings[0].module.height_mm", "bays are filled with the modules of the first strings"),
    ("design.pack.added_strings[0].module.acceptance_per_h", "a pack is charged by the laws of its first cells"),
    ("design.pack.added_strings[0].module.taper_end_c", "a pack is charged by the laws of its first cells"),
    ("donor.evidence.", "held against the road load in the measurements' own answer"),
];

/// The key a number has whatever list entry it stands in.
fn plain_key(pointer: &str) -> String {
    let words: Vec<&str> = pointer.split('/').skip(1).collect();
    words.iter().map(|w| if w.parse::<usize>().is_ok() { "[0]".to_owned() } else { format!(".{w}") }).collect::<String>()[1..].to_owned()
}

/// What is worked out of a document.
struct Told {
    report: Report,
    sheet: ElectricsSheet,
    turning: MechanicsSheet,
    layout: LayoutSheet,
}

impl Told {
    fn of(document: &Checked) -> Self {
        let never = Cancel::new();
        Self {
            report: report(document).expect("complete"),
            sheet: electrics(document, &components(), &never).expect("complete"),
            turning: mechanics(document, &never).expect("complete"),
            layout: layout(document),
        }
    }

    /// Whether anything is told otherwise of another document; what cannot be computed is not.
    fn differs(&self, document: &Checked) -> bool {
        let never = Cancel::new();
        let Ok(other) = report(document) else { return false };
        other != self.report
            || layout(document) != self.layout
            || mechanics(document, &never).is_ok_and(|other| other != self.turning)
            || electrics(document, &components(), &never).is_ok_and(|other| other != self.sheet)
    }
}

/// Whether what goes to a place of the circuits has such a number: a fuse has no cells.
fn has_place(pointer: &str) -> bool {
    let Some((key, number)) = pointer.strip_prefix("/design/electrics/fitted/").and_then(|p| p.split_once('/')) else { return true };
    let slot = Slot::ALL.into_iter().find(|s| s.key() == key).expect("a place");
    ["mass_kg", "price"].contains(&number) || slot.kinds().iter().any(|k| k.numbers().contains(&number))
}

/// Of each number of long lists places spread over the list: a recorded drive has thousands of seconds.
fn few_of_each<T>(places: Vec<(String, T)>) -> impl Iterator<Item = (String, T)> {
    let mut alike: std::collections::BTreeMap<String, Vec<(String, T)>> = std::collections::BTreeMap::new();
    for place in places {
        alike.entry(plain_key(&place.0)).or_default().push(place);
    }
    alike.into_values().flat_map(|of_one| {
        let every = of_one.len().div_ceil(FEW);
        of_one.into_iter().step_by(every)
    })
}

/// Places tried of a number in one document.
const FEW: usize = 12;

#[test]
fn every_number_moves_something_or_is_known_to_be_inert() {
    let mut moves: std::collections::BTreeMap<String, bool> = std::collections::BTreeMap::new();
    // The trike on a toothed belt, which no document of the demo has.
    let belt = json!({ "belt": { "pitch_mm": 8, "front_teeth": 20, "centre_mm": 600, "bears_n": 900 } });
    let belted = with(with(demo("pipit-a"), "/donor/driveline/stages/0/kind", json!("belt")), "/design/mechanics", belt);
    for document in documents().into_iter().chain([belted]) {
        let base = Told::of(&read(&document));
        let mut places = Vec::new();
        numbers(DOCUMENT, "", &document, &mut places);
        places.retain(|(pointer, _)| has_place(pointer));
        for (pointer, field) in few_of_each(places) {
            let moved = moves.entry(plain_key(&pointer)).or_default();
            let parent = pointer.rsplit_once('/').expect("a pointer").0;
            if *moved || !document.pointer(parent).is_some_and(Value::is_object) {
                continue;
            }
            let now = document.pointer(&pointer).and_then(Value::as_f64);
            let tries = [
                now.map(|x| x * 1.2),
                now.map(|x| x * 0.8),
                now.map(|x| x * 1.7),
                now.map(|x| x + 1.0),
                Some(0.5 * (field.min + field.max)),
                Some(field.min),
                Some(field.max),
            ];
            *moved = tries.into_iter().flatten().map(|x| if field.whole { x.round() } else { x }).any(|x| {
                let value = if field.whole { json!(x as i64) } else { json!(x) };
                let Ok(changed) = Document::from_value(&with(document.clone(), &pointer, value)) else { return false };
                base.differs(&changed)
            });
        }
    }
    assert!(moves.len() > 150, "{}", moves.len());
    let inert = |key: &str| INERT.iter().any(|(of, why)| !why.is_empty() && key.starts_with(of));
    let still: Vec<&String> = moves.iter().filter(|(key, moved)| !**moved && !inert(key)).map(|(key, _)| key).collect();
    assert!(still.is_empty(), "nothing hangs on {still:#?}");
    let wrongly: Vec<&String> = moves.iter().filter(|(key, moved)| **moved && inert(key)).map(|(key, _)| key).collect();
    assert!(wrongly.is_empty(), "listed as inert, but something hangs on {wrongly:?}");
}
