//! Toothed belts: closed forms, the distance of the shafts against the length it was made from, and each rule on either side of its limit.

use crate::common::{cases, check, plain, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::mechanics::belt::{belt_length_mm, pulley_mm, taut_mm};
use joulethesis_core::report::report;
use joulethesis_core::schematic::{MechanicsSheet, mechanics};
use proptest::prelude::*;
use serde_json::{Value, json};

fn belted(ratio: f64, belt: Value) -> Value {
    let d = with(plain(), "/design/mechanics", json!({ "belt": belt }));
    with(with(d, "/donor/driveline", json!({ "stages": [{ "kind": "belt", "ratio": ratio }] })), "/design/driveline", Value::Null)
}

fn sheet(d: &Value) -> MechanicsSheet {
    mechanics(&read(d), &Cancel::new()).expect("sound")
}

fn says(sheet: &MechanicsSheet, id: &str) -> String {
    let lines = &sheet.groups.iter().find(|g| g.id == "belt").expect("a belt").lines;
    lines.iter().find(|l| l.id == id).expect("a line").result.to_string()
}

/// Equal pulleys: twice the distance and one turn of teeth. ISO 13050: 8 mm, 22 teeth make a pitch diameter of 56.02 mm (from memory).
#[test]
fn belts_around_equal_pulleys() {
    let d = pulley_mm(8.0, 22);
    check("pitch diameter", d, 56.02, 1e-4);
    check("length", belt_length_mm([d, d], 300.0).expect("apart"), 600.0 + 22.0 * 8.0, 1e-12);
    assert_eq!(belt_length_mm([d, d], d), None);
    check("taut", taut_mm([d, d], 100.0 * 8.0).expect("long enough"), 0.5 * (800.0 - 176.0), 1e-9);
    assert_eq!(taut_mm([d, d], 2.0 * d), None);
}

proptest! {
    #![proptest_config(cases(200))]

    /// A belt made for a distance is taut at that distance; a length is that of the line laid around both circles in small steps.
    #[test]
    fn a_belt_is_taut_where_it_was_made_for(a in 20.0_f64..300.0, b in 20.0_f64..600.0, gap in 1.0_f64..1500.0) {
        let centre = 0.5 * (a + b) + gap;
        let length = belt_length_mm([a, b], centre).expect("apart");
        prop_assert!((taut_mm([a, b], length).expect("taut") - centre).abs() < 1e-5 * centre);
        // The taut line around both discs, by how far each direction reaches: its length is the sum over all of them.
        let n = 20_000;
        let around: f64 = (0..n)
            .map(|i| {
                let t = (f64::from(i) + 0.5) * std::f64::consts::TAU / f64::from(n);
                (0.5 * a).max(0.5 * b + centre * t.cos()) * std::f64::consts::TAU / f64::from(n)
            })
            .sum();
        prop_assert!((around - length).abs() < 1e-4 * length, "{around} for {length}");
    }
}

/// The sheet's lines and what they offer; a belt that is taken is the one that was told; each rule on either side of its limit.
#[test]
fn the_sheet_tells_the_belt() {
    let d = belted(2.5, json!({ "pitch_mm": 8, "front_teeth": 28, "centre_mm": 403 }));
    let told = sheet(&d);
    let picture = told.picture.as_ref().expect("drawn");
    assert_eq!((picture.teeth, picture.belt, told.has_belt_stage, told.has_chain_stage), ([28, 70], true, true, false));
    let teeth = belt_length_mm([pulley_mm(8.0, 28), pulley_mm(8.0, 70)], 403.0).expect("apart") / 8.0;
    assert!(says(&told, "belt_length").starts_with(&format!(
        "of {} teeth, taut with the shafts {:.1} mm apart",
        teeth.round(),
        picture.centre_mm
    )));
    assert!((picture.centre_mm - 403.0).abs() < 4.0 + 1e-9, "half a tooth of the belt at most: {}", picture.centre_mm);
    let lines = &told.groups.iter().find(|g| g.id == "belt").expect("a belt").lines;
    let take = &lines.iter().find(|l| l.id == "belt_length").expect("a line").takes[0];
    let taken = with(d.clone(), &format!("/design/{}", take.path.replace('.', "/")), json!(take.value));
    assert!(sheet(&taken).groups.iter().find(|g| g.id == "belt").expect("a belt").lines.iter().all(|l| l.takes.is_empty()));
    let pull_n = 1000.0 * told.motor_nm / (0.5 * picture.diameters_mm[0]);
    let rules = |d: &Value| -> Vec<&'static str> {
        let of_belt = |id: &&str| id.contains("belt") || id.contains("teeth") || id.contains("collide");
        report(&read(d)).expect("sound").findings.into_iter().map(|f| f.rule.id()).filter(of_belt).collect()
    };
    let none: [&str; 0] = [];
    let belt = |key: &str, value: Value| with(d.clone(), &format!("/design/mechanics/belt/{key}"), value);
    assert_eq!(rules(&d), none);
    assert_eq!(rules(&belt("bears_n", json!(1.001 * pull_n))), none);
    assert_eq!(rules(&belt("bears_n", json!(0.999 * pull_n))), ["drive.belt-overloaded"]);
    assert_eq!(rules(&belt("centre_mm", json!(124.0))), ["drive.sprockets-collide"]);
    assert_eq!(rules(&belted(2.53, json!({ "pitch_mm": 8, "front_teeth": 28, "centre_mm": 403 }))), none);
    assert_eq!(rules(&belted(2.54, json!({ "pitch_mm": 8, "front_teeth": 14, "centre_mm": 403 }))), ["drive.teeth-off-ratio"]);
    // 14 teeth by 7: the wrap is 180 degrees less twice asin((98 - 14) p / (2 pi C)).
    let mesh = |centre: f64| 14.0 * (0.5 - (84.0 * 8.0 / (2.0 * std::f64::consts::PI * centre)).asin() / std::f64::consts::PI);
    let close = |centre: f64| rules(&belted(7.0, json!({ "pitch_mm": 8, "front_teeth": 14, "centre_mm": centre })));
    assert!(mesh(478.0) < 6.0 - 1e-3 && mesh(484.0) > 6.0 + 1e-3, "{} {}", mesh(478.0), mesh(484.0));
    assert_eq!(close(478.0), ["drive.belt-few-in-mesh"]);
    assert_eq!(close(484.0), none);
}
