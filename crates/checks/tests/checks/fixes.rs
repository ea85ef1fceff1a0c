//! The cheapest single change, held against every change tried one after the other, and what has to hold of it whatever the design.

use joulethesis_core::alternatives::with_part;
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, GoalLevel, Measure};
use joulethesis_core::figures::{Verdict, cost};
use joulethesis_core::findings::Severity;
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::matching::{WARNINGS_KEPT, fixes};
use joulethesis_core::report::{Report, report};

use crate::common::{check, sound_demo};

/// A demo that is asked for more than it does of one thing.
fn asked_more(name: &str, goal: usize, by: f64) -> Checked {
    let document = sound_demo(name);
    let predicted = report(&document).expect("complete").claims[goal].predicted.expect("told");
    document
        .with(|d| match &mut d.brief.goals[goal].measure {
            Measure::Range { at_least_km: x, .. }
            | Measure::TopSpeed { at_least_kmh: x }
            | Measure::HillStart { at_least_percent: x }
            | Measure::HillAtSpeed { at_least_percent: x, .. } => *x = predicted * by,
            Measure::ChargeTime { at_most_h: x, .. } | Measure::Acceleration { at_most_s: x, .. } => *x = predicted / by,
            other => panic!("{other:?}"),
        })
        .expect("sound")
}

fn broken(r: &Report) -> Vec<&str> {
    let kept = |f: &&joulethesis_core::findings::Finding| f.severity == Severity::Stop || WARNINGS_KEPT.contains(&f.rule);
    r.findings.iter().filter(kept).map(|f| f.rule.id()).collect()
}

/// Whether a change meets a goal, breaks nothing, and loses no other must.
fn mends(before: &Report, changed: &Checked, goal: &str) -> bool {
    let Ok(after) = report(changed) else { return false };
    let met = |r: &Report, id: &str| r.claims.iter().any(|c| c.goal == id && c.verdict == Verdict::Met);
    let keeps = before.claims.iter().filter(|c| c.level == GoalLevel::Required).all(|c| !met(before, &c.goal) || met(&after, &c.goal));
    met(&after, goal) && keeps && broken(&after).iter().all(|r| broken(before).contains(r))
}

#[test]
fn the_cheapest_single_change_is_the_cheapest() {
    let mut mended = 0;
    for (name, goal, by) in
        [("pipit-b", 0, 1.15), ("whimbrel-9-a", 0, 1.2), ("whimbrel-9-a", 0, 2.6), ("wren-a", 1, 1.2), ("dunlin-a", 1, 1.25)]
    {
        let document = asked_more(name, goal, by);
        let before = report(&document).expect("complete");
        let known = cost(&document).net;
        let found = fixes(&document, builtin(), &Cancel::new(), || true).expect("complete");
        assert!(found.complete && found.tried <= found.of.next_multiple_of(16), "{found:?}");
        let missed: Vec<&str> = before.claims.iter().filter(|c| c.verdict == Verdict::Missed).map(|c| c.goal.as_str()).collect();
        let told: usize = found.fixes.len() + found.none.len();
        assert_eq!(told, missed.len(), "{name}: every missed goal is answered");
        // Every part of the library and every count, in no order.
        let parts = builtin().iter().filter(|p| !matches!(p, Part::Component(_))).map(|p| with_part(&document, p));
        let counts = (1..=6).flat_map(|n| {
            let strings = document.with(|d| d.design.pack.as_mut().expect("a pack").strings_in_parallel = n);
            let series = document.with(|d| d.design.pack.as_mut().expect("a pack").modules_in_series += n);
            [strings, series]
        });
        let tried: Vec<Checked> = parts.chain(counts.flatten()).collect();
        for goal in missed {
            let least = tried.iter().filter(|d| mends(&before, d, goal)).map(|d| cost(d).net - known).fold(f64::INFINITY, f64::min);
            let Some(fix) = found.fixes.iter().find(|f| f.goal == goal) else {
                assert_eq!(least, f64::INFINITY, "{name}: {goal} can be mended for {least}");
                continue;
            };
            let changed = document.with(|d| d.design = fix.design.clone()).expect("sound");
            check("added cost", cost(&changed).net - known, fix.added_cost, 1e-9);
            let after = report(&changed).expect("complete");
            let claim = after.claims.iter().find(|c| c.goal == goal).expect("a goal");
            assert_eq!((claim.verdict, claim.predicted), (Verdict::Met, Some(fix.predicted)));
            assert!(broken(&after).iter().all(|r| broken(&before).contains(r)), "{name}: {:?}", broken(&after));
            if fix.makes_missed.is_empty() {
                assert!(mends(&before, &changed, goal));
                // Gearings are tried too, so it may be cheaper still.
                assert!(fix.added_cost <= least + 1e-9, "{name}: {goal} for {} by {}, though {least} does", fix.added_cost, fix.change);
                mended += 1;
            } else {
                assert_eq!(least, f64::INFINITY, "{name}: {goal} loses {:?} though {least} loses nothing", fix.makes_missed);
            }
        }
    }
    assert!(mended >= 3, "only {mended} goals were mended");
}

/// A unit between half-shafts is counted with its shafts, and never proposed where nothing leads to the wheels from it.
#[test]
fn a_unit_costs_its_shafts_and_stays_out_of_a_trike() {
    let units: Vec<Part> = builtin().iter().filter(|p| matches!(p, Part::Motor(m) if m.own_reduction.is_some())).cloned().collect();
    // All that a unit needs stands there already.
    let part = |name: &str| {
        let mut record = serde_json::to_value(builtin().iter().find(|p| p.name() == name).expect("built in")).expect("JSON");
        record.as_object_mut().expect("a record").remove("part");
        record
    };
    let mut value = crate::common::documents::unused_demo("whimbrel-9-a");
    let design = &mut value["design"];
    design["controller"] = part("Headrace 400/250 inverter");
    design["charger"] = part("Leat 3.7, 260-440 V");
    design["pack"]["module"] = part("Coral 16s module");
    (design["pack"]["modules_in_series"], design["pack"]["strings_in_parallel"]) = (6.into(), 1.into());
    let van = joulethesis_core::document::Document::from_value(&value).expect("sound");
    let predicted = report(&van).expect("complete").claims[1].predicted.expect("told");
    let fast = van.with(|d| d.brief.goals[1].measure = Measure::TopSpeed { at_least_kmh: 1.05 * predicted }).expect("sound");
    let found = fixes(&fast, &units, &Cancel::new(), || true).expect("complete");
    let is_unit = |f: &&joulethesis_core::matching::Fix| f.design.motor.as_ref().is_some_and(|m| m.own_reduction.is_some());
    let fix = found.fixes.iter().find(is_unit).expect("a unit is quick enough");
    assert!(fix.design.added.iter().any(|a| a.name.contains("Half-shafts")), "{:?}", fix.design.added);
    assert!(fix.design.driveline.as_ref().is_some_and(|d| d.gears.is_empty() && d.stages.is_empty()));
    let trike = fixes(&asked_more("pipit-b", 1, 1.5), &units, &Cancel::new(), || true).expect("complete");
    assert!(!trike.fixes.iter().any(|f| is_unit(&f)), "{:?}", trike.fixes);
}

#[test]
fn what_is_stopped_says_so_and_what_is_met_needs_nothing() {
    let met = fixes(&asked_more("pipit-b", 0, 0.5), builtin(), &Cancel::new(), || true).expect("complete");
    assert!(met.fixes.iter().all(|f| f.goal != "range") && met.complete);
    let stopped = fixes(&asked_more("whimbrel-9-a", 0, 1.2), builtin(), &Cancel::new(), || false).expect("complete");
    assert!(!stopped.complete && stopped.tried == 0 && stopped.fixes.is_empty() && stopped.none.is_empty());
    let cancelled = Cancel::new();
    cancelled.cancel();
    assert!(fixes(&asked_more("whimbrel-9-a", 0, 1.2), builtin(), &cancelled, || true).is_err());
}
