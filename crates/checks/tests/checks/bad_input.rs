//! Bad input is refused with the field's path, what was given and what is accepted; nothing panics, nothing is repaired.

use crate::common::{cases, plain, with};
use joulethesis_core::document::Document;
use joulethesis_core::error::Error;
use joulethesis_core::library::Part;
use joulethesis_core::report::report;
use proptest::prelude::*;
use serde_json::{Value, json};

fn paths(what: &str, value: &Value) -> Vec<String> {
    match Document::from_value(value).and_then(|d| report(&d)) {
        Ok(_) => panic!("{what} accepted"),
        Err(e) => e.problems().iter().map(|p| p.path.clone()).collect(),
    }
}

#[test]
fn each_slip_is_named_by_its_own_path() {
    let trace = |points: Value| json!([{ "id": "t", "name": "T", "path": { "trace": points } }]);
    for (pointer, value, path) in [
        ("/donor/curb_mass_kg", json!(-5), "donor.curb_mass_kg"),
        ("/donor/curb_mass_kg", json!(null), "donor.curb_mass_kg"),
        ("/donor/curb_mass_kg", json!("a lot"), "donor.curb_mass_kg"),
        ("/donor/curb_mass_kg", json!(1e300), "donor.curb_mass_kg"),
        ("/donor/tyre", json!({ "code": "round" }), "donor.tyre.code"),
        ("/donor/kind", json!("spaceship"), "donor.kind"),
        ("/donor/colour", json!("green"), "donor.colour"),
        ("/format", json!("something-else"), "format"),
        ("/version", json!(2), "version"),
        ("/design/pack/modules_in_series", json!(2.5), "design.pack.modules_in_series"),
        ("/design/pack/module/ocv/1", json!({ "soc": 1, "volts_v": 3.0 }), "design.pack.module.ocv[1].volts_v"),
        ("/design/pack/module/cutoff_voltage_v", json!(5.0), "design.pack.module.cutoff_voltage_v"),
        ("/design/motor/model", json!({ "kind": "points", "points": [] }), "design.motor.model.points"),
        ("/design/motor/model", json!({ "kind": "steam", "peak_torque_nm": 3 }), "design.motor.model.kind"),
        ("/design/motor", json!(null), "design.motor"),
        ("/design/controller", json!(null), "design.controller"),
        ("/brief/schedules", json!(["wltp9"]), "brief.schedules[0]"),
        (
            "/brief/trips",
            trace(json!([{ "time_s": 0, "speed_kmh": 0 }, { "time_s": 90, "speed_kmh": 10 }])),
            "brief.trips[0].path.trace[1].time_s",
        ),
        (
            "/brief/trips",
            trace(json!([{ "time_s": 5, "speed_kmh": 0 }, { "time_s": 4, "speed_kmh": 10 }])),
            "brief.trips[0].path.trace[1].time_s",
        ),
        (
            "/brief/trips",
            trace(json!([{ "time_s": 0, "speed_kmh": -1 }, { "time_s": 4, "speed_kmh": 10 }])),
            "brief.trips[0].path.trace[0].speed_kmh",
        ),
        (
            "/brief/goals",
            json!([{ "id": "g", "measure": { "kind": "range", "trip": "moon", "at_least_km": 5 } }]),
            "brief.goals[0].measure.trip",
        ),
        (
            "/brief/goals",
            json!([{ "id": "g", "measure": { "kind": "acceleration", "from_kmh": 50, "to_kmh": 30, "at_most_s": 5 } }]),
            "brief.goals[0].measure.to_kmh",
        ),
        ("/brief/performance/gear", json!(3), "brief.performance.gear"),
    ] {
        let found = paths(pointer, &with(plain(), pointer, value.clone()));
        assert!(found.iter().any(|p| p == path), "{pointer} = {value}: wanted {path}, got {found:?}");
    }
}

/// What is typed of a plate or a belt is refused where it cannot be, by its place and with what is accepted; at its bounds it is taken, and
/// the sheet and the drawing are made of it.
#[test]
fn plates_and_belts_are_taken_within_their_bounds_and_no_further() {
    let plate = json!({ "thickness_mm": 15, "bore_mm": 80, "motor": { "holes": 4, "radius_mm": 65, "hole_mm": 10.5 },
        "gearbox": [{ "name": "1", "right_mm": 0, "up_mm": 120, "hole_mm": 10.5 }] });
    let d = with(plain(), "/design/mechanics", json!({ "plate": plate, "belt": { "pitch_mm": 8, "front_teeth": 28, "centre_mm": 500 } }));
    assert!(Document::from_value(&d).is_ok());
    for (place, good, bad) in [
        ("plate/thickness_mm", vec![json!(1), json!(100)], vec![json!(0.9), json!(101), json!(null)]),
        ("plate/bore_mm", vec![json!(1), json!(600)], vec![json!(0), json!(-80), json!("80")]),
        ("plate/margin_mm", vec![json!(1), json!(100)], vec![json!(0), json!(1e9)]),
        ("plate/run_out_mm", vec![json!(0), json!(10)], vec![json!(-0.01), json!(11)]),
        ("plate/motor/holes", vec![json!(2), json!(40)], vec![json!(1), json!(41), json!(4.5)]),
        ("plate/motor/radius_mm", vec![json!(5), json!(500)], vec![json!(4), json!(501)]),
        ("plate/motor/first_deg", vec![json!(0), json!(360)], vec![json!(-1), json!(361)]),
        ("plate/gearbox/0/up_mm", vec![json!(-600), json!(600)], vec![json!(601)]),
        ("plate/gearbox/0/hole_mm", vec![json!(2), json!(60)], vec![json!(1), json!(61)]),
        ("belt/pitch_mm", vec![json!(1), json!(50)], vec![json!(0.5), json!(51)]),
        ("belt/front_teeth", vec![json!(6), json!(200)], vec![json!(5), json!(201), json!(17.5)]),
        ("belt/bears_n", vec![json!(10), json!(500_000)], vec![json!(0), json!(-1)]),
    ] {
        let at = |value: &Value| with(d.clone(), &format!("/design/mechanics/{place}"), value.clone());
        let dotted = format!("design.mechanics.{}", place.replace("/0", "[0]").replace('/', "."));
        for value in &good {
            let document = Document::from_value(&at(value)).unwrap_or_else(|e| panic!("{place} = {value}: {e}"));
            assert!(joulethesis_core::schematic::plate_plan(&document).is_some_and(|p| p.svg().len() > 500), "{place}");
        }
        for value in &bad {
            let Err(e) = Document::from_value(&at(value)) else { panic!("{place} = {value} is accepted") };
            assert!(e.problems().iter().any(|p| p.path == dotted), "{dotted} = {value}: {e}");
        }
    }
    let hole = json!({ "name": "1", "right_mm": 0, "up_mm": 120, "hole_mm": 10.5 });
    let many = |n: usize| Document::from_value(&with(d.clone(), "/design/mechanics/plate/gearbox", json!(vec![hole.clone(); n])));
    assert!(many(40).is_ok());
    assert!(many(41).is_err_and(|e| e.to_string().contains("design.mechanics.plate.gearbox")));
    let named = |name: &str| Document::from_value(&with(d.clone(), "/design/mechanics/plate/gearbox/0/name", json!(name)));
    assert!(named("").is_err() && named("a\nb").is_err() && named("left dowel").is_ok());
}

#[test]
fn all_wrong_numbers_are_listed_together_with_what_is_accepted() {
    let document = with(with(plain(), "/donor/adhesion", json!(9)), "/design/motor/max_speed_rpm", json!(-1));
    let Err(Error::Invalid(problems)) = Document::from_value(&document) else { panic!("accepted") };
    assert_eq!(problems.len(), 2);
    assert_eq!(problems[0].message, "donor.adhesion is 9; a number from 0.05 to 2 is accepted");
    assert_eq!((problems[1].given.as_str(), problems[1].accepted.as_str()), ("-1", "a number from 50 to 30000 rpm is accepted"));
}

#[test]
fn garbage_is_unreadable_and_part_kinds_are_listed() {
    let garbage: Vec<u8> = (0..1_000_000u32).map(|i| (i.wrapping_mul(2_654_435_761) >> 24) as u8).collect();
    assert!(matches!(Document::from_json(&garbage), Err(Error::Unreadable(_))));
    assert!(matches!(Document::from_json(&b"[".repeat(100_000)), Err(Error::Unreadable(_))));
    assert!(Document::from_json(br#"{"format":"joulethesis-design","version":1,"donor":{"curb_mass_kg":1e999}}"#).is_err());
    let error = Part::from_value(&json!({ "part": "gearbox" })).expect_err("unknown");
    assert!(error.to_string().contains("motor, controller, module, charger and component"), "{error}");
}

/// Every pointer of a value.
fn pointers(value: &Value, at: &str, out: &mut Vec<String>) {
    match value {
        Value::Object(map) => map.iter().for_each(|(k, v)| pointers(v, &format!("{at}/{k}"), out)),
        Value::Array(list) => list.iter().enumerate().for_each(|(i, v)| pointers(v, &format!("{at}/{i}"), out)),
        _ => {}
    }
    if !at.is_empty() {
        out.push(at.to_owned());
    }
}

proptest! {
    #![proptest_config(cases(300))]

    /// Any one value replaced by anything: refused with words, or computed to finite numbers; never a panic.
    #[test]
    fn one_value_replaced_by_anything(pick in any::<prop::sample::Index>(), what in prop_oneof![
        Just(json!(null)), Just(json!([])), Just(json!({})), Just(json!("x")), Just(json!(true)), Just(json!(0)),
        (-1e6..1e6f64).prop_map(|x| json!(x)), (0.0..1.0f64).prop_map(|x| json!(x)), (1.0..500.0f64).prop_map(|x| json!(x.round())),
    ]) {
        let text = std::fs::read(format!("{}/../../demo/pipit-b.json", env!("CARGO_MANIFEST_DIR"))).expect("demo file");
        let document: Value = serde_json::from_slice(&text).expect("JSON");
        let mut all = Vec::new();
        pointers(&document, "", &mut all);
        let changed = with(document, &all[pick.index(all.len())], what);
        match Document::from_value(&changed).and_then(|d| report(&d)) {
            Err(Error::Cancelled) => prop_assert!(false, "nobody cancelled it"),
            Err(Error::Invalid(problems)) => prop_assert!(!problems.is_empty() && problems.iter().all(|p| !p.message.is_empty())),
            Err(Error::Unreadable(_)) => prop_assert!(false, "a value cannot be unreadable"),
            Ok(result) => {
                let text = serde_json::to_string(&result).expect("JSON");
                // serde_json writes what is not finite as null; no optional figure of these is written as null.
                let nulls = text.replace("\"force_n\":[", "").matches(":null").count();
                prop_assert_eq!(nulls, 0, "{}", text);
            }
        }
    }
}
