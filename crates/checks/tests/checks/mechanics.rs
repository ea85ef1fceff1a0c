//! Chain, shaft, key, coupler and mounts: tables of ANSI/ASME B29.1, ISO 898-1 and DIN 6885 (from memory), closed forms, and each rule on the
//! mistake it is for.

use std::f64::consts::PI;

use crate::common::{cases, check, documents::demo, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{BoltClass, ChainNumber, DrivenAxle, MotorPlace, Thread, VehicleKind, front_share, stated_front_share};
use joulethesis_core::findings::{Finding, Severity};
use joulethesis_core::mechanics::belt::taut_mm;
use joulethesis_core::mechanics::bolts::{breaks_across_n, clamps_n};
use joulethesis_core::mechanics::chain::{centre_for_mm, even_links, links, pitch_diameter_mm, slot_mm, wrap_deg};
use joulethesis_core::mechanics::place::places;
use joulethesis_core::mechanics::shaft::{key_bearing_n_mm2, key_mm, key_shear_n_mm2, torsion_n_mm2};
use joulethesis_core::mechanics::usual_retention_g;
use joulethesis_core::report::report;
use joulethesis_core::schematic::{MechanicsSheet, mechanics};
use joulethesis_core::vehicle::{Traction, masses};
use proptest::prelude::*;
use serde_json::{Value, json};

#[test]
fn sprockets_and_bolts_are_those_of_the_tables() {
    // Pitch diameters in inches, ANSI/ASME B29.1 table of sprockets (from memory).
    for (pitch_in, teeth, inches) in
        [(0.5, 12, 1.932), (0.5, 17, 2.721), (0.5, 25, 3.989), (0.5, 60, 9.554), (0.375, 20, 2.397), (0.625, 15, 3.006)]
    {
        check("pitch diameter", pitch_diameter_mm(25.4 * pitch_in, teeth) / 25.4, inches, 2e-4);
    }
    assert_eq!(ChainNumber::ALL.map(|c| (c.pitch_mm() / 3.175).round() as u32), [2, 3, 4, 5, 6, 4, 4, 5, 5], "eighths of an inch");
    // Stress areas, ISO 898-1 table (from memory).
    for (thread, area) in Thread::ALL.into_iter().zip([14.2, 20.1, 36.6, 58.0, 84.3, 115.0, 157.0]) {
        check(thread.word(), thread.stress_area_mm2(), area, 5e-3);
    }
    // Widths and heights of keys, DIN 6885-1 (from memory).
    for (diameter, key) in
        [(10.0, [3.0, 3.0]), (19.0, [6.0, 6.0]), (22.0, [6.0, 6.0]), (22.1, [8.0, 7.0]), (35.0, [10.0, 8.0]), (60.0, [18.0, 11.0])]
    {
        assert_eq!(key_mm(diameter), Some(key), "{diameter}");
    }
    assert_eq!((key_mm(5.0), key_mm(70.0)), (None, None));
    // M8 8.8 is tightened to about 16 kN and 25 N m (handbook tables, from memory), and breaks across at 17.6 kN.
    check("clamping of M8 8.8", clamps_n(Thread::M8, BoltClass::Class8_8), 16_400.0, 0.02);
    check("across M8 8.8", breaks_across_n(Thread::M8, BoltClass::Class8_8), 17_600.0, 0.01);
    check("across M10 10.9", breaks_across_n(Thread::M10, BoltClass::Class10_9), 34_800.0, 0.01);
}

#[test]
fn a_worked_chain_and_a_worked_shaft() {
    // Half-inch pitch, 17 and 51 teeth, 500 mm apart: 78.74 + 34 + 12.7 x 34^2 / (4 pi^2 500) = 113.48 links, 114 when even.
    let exact = links(12.7, [17, 51], 500.0);
    check("links", exact, 113.484, 1e-5);
    assert_eq!(even_links(exact), 114);
    check("closes at", centre_for_mm(12.7, [17, 51], 114).expect("long enough"), 503.3, 1e-4);
    check("equal sprockets", wrap_deg(12.7, [20, 20], 300.0).expect("apart"), 180.0, 1e-12);
    assert_eq!((wrap_deg(12.7, [17, 51], 130.0), centre_for_mm(12.7, [17, 51], 36)), (None, None));
    // Torsion of a disk, ring by ring: the moment of a stress that grows with the radius is the torque.
    let (torque_nm, d) = (145.0, 28.0);
    let surface = torsion_n_mm2(torque_nm, d);
    let rings = 20_000;
    let moment: f64 = (0..rings)
        .map(|i| 0.5 * d * (f64::from(i) + 0.5) / f64::from(rings))
        .map(|r| surface * r / (0.5 * d) * r * 2.0 * PI * r * 0.5 * d / f64::from(rings))
        .sum();
    check("moment of the torsion", moment / 1000.0, torque_nm, 1e-6);
    // A key of 8 x 7 x 40 on that shaft: the force at the surface, 10.357 kN, over 320 mm2, and over half the height.
    check("key", key_shear_n_mm2(torque_nm, d, 8.0, 40.0), 10_357.1 / 320.0, 1e-5);
    check("flank", key_bearing_n_mm2(torque_nm, d, 7.0, 40.0), 10_357.1 / 140.0, 1e-5);
    // UN R100 annex 9D: light, medium, heavy vehicles.
    assert_eq!([1200.0, 3500.0, 7500.0, 18_000.0].map(usual_retention_g), [[20.0, 8.0], [20.0, 8.0], [10.0, 5.0], [6.6, 5.0]]);
}

proptest! {
    #![proptest_config(cases(300))]

    /// The formula of the standard follows the true length around two circles; the distance that closes a chain gives back its links.
    #[test]
    fn links_follow_the_geometry(front in 11_u32..40, rear in 20_u32..90, pitches in 30.0_f64..50.0) {
        let (pitch, teeth) = (12.7, [front, rear]);
        let centre = pitches * pitch;
        let counted = links(pitch, teeth, centre);
        let [r, big] = teeth.map(|n| 0.5 * pitch * f64::from(n) / PI);
        let lean = ((big - r) / centre).asin();
        let true_mm = 2.0 * centre * lean.cos() + PI * (r + big) + 2.0 * lean * (big - r);
        prop_assert!((counted - true_mm / pitch).abs() < 0.08, "{counted} against {}", true_mm / pitch);
        let even = even_links(counted);
        prop_assert!(even.is_multiple_of(2) && (f64::from(even) - counted).abs() <= 1.0 + 1e-9);
        let closes = centre_for_mm(pitch, teeth, even).expect("long enough");
        prop_assert!((links(pitch, teeth, closes) - f64::from(even)).abs() < 1e-9);
    }
}

/// The trike with a chain from its motor to the axle.
fn chained() -> Value {
    let mut trike = demo("pipit-a");
    trike["design"]["driveline"] = json!({ "stages": [{ "kind": "chain", "ratio": 3.0 }] });
    trike["design"]["mechanics"] = json!({ "chain": { "number": "50", "front_teeth": 17, "centre_mm": 503.0 } });
    trike
}

fn found(document: &Value) -> Vec<Finding> {
    let own = |f: &Finding| f.rule.id().starts_with("drive.") || f.rule.id().starts_with("mount.");
    report(&read(document)).expect("a report").findings.into_iter().filter(own).collect()
}

fn sheet(document: &Value) -> MechanicsSheet {
    mechanics(&read(document), &Cancel::new()).expect("a sheet")
}

#[test]
fn the_sheet_tells_the_chain_and_taking_its_distance_closes_it() {
    let trike = chained();
    assert_eq!(found(&trike), []);
    let told = sheet(&trike);
    let picture = told.picture.as_ref().expect("a chain");
    assert_eq!((picture.teeth, picture.links % 2), ([17, 51], 0));
    let line = |sheet: &MechanicsSheet, id: &str| sheet.groups.iter().flat_map(|g| g.lines.clone()).find(|l| l.id == id).expect("a line");
    let taken = line(&told, "links").takes;
    assert_eq!(taken[0].path, "mechanics.chain.centre_mm");
    let closed = sheet(&with(trike.clone(), "/design/mechanics/chain/centre_mm", json!(taken[0].value)));
    assert!(line(&closed, "links").result.to_string().ends_with("taut as it stands"), "{}", line(&closed, "links").result);
    // The pull is the motor's torque over half the diameter, whatever the ratio; a gear before it multiplies it.
    let pull = line(&told, "pull").result.to_string();
    let expected = told.motor_nm / (0.5e-3 * picture.diameters_mm[0]) / 1000.0;
    assert!(pull.starts_with(&format!("{expected:.1} kN of the 2.7 kN")), "{pull} {expected}");
    let geared =
        with(trike.clone(), "/design/driveline/stages", json!([{ "kind": "reduction", "ratio": 2.0 }, { "kind": "chain", "ratio": 3.0 }]));
    let doubled = line(&sheet(&geared), "pull").result.to_string();
    assert!(
        doubled.starts_with(&format!("{:.1} kN", 2.0 * sheet(&geared).motor_nm / (0.5e-3 * picture.diameters_mm[0]) / 1000.0)),
        "{doubled}"
    );
    // Without a chain stage there is no chain to tell, and it says so.
    let none = sheet(&with(trike, "/design/driveline/stages", json!([{ "kind": "belt", "ratio": 3.0 }])));
    assert_eq!((none.picture.is_none(), none.has_chain_stage), (true, false));
}

/// A chain that has grown by two hundredths is taut again where the slot lets the shafts go: held against the line around both pitch circles,
/// which was not made from chains.
#[test]
fn the_slot_takes_up_what_a_chain_grows_by() {
    for (pitch, teeth, number) in [(12.7, [10, 72], 110), (15.875, [17, 51], 96), (9.525, [19, 19], 80)] {
        let circles = teeth.map(|n| pitch_diameter_mm(pitch, n));
        let length = pitch * f64::from(number);
        let [new, worn] = [length, 1.02 * length].map(|mm| taut_mm(circles, mm).expect("long enough"));
        check("slot", slot_mm(pitch, number), worn - new, 0.06);
    }
    let told = sheet(&demo("pipit-a"));
    let chain = &told.groups.iter().find(|g| g.id == "chain").expect("a chain").lines;
    let slot = chain.iter().find(|l| l.id == "slot").expect("a line").result.to_string();
    assert!(slot.starts_with("14 mm further apart"), "{slot}");
}

/// The row of the place in hand is what the estimate counts with; all wheels grip all of the weight (mu m g); at the wheels the motors hang
/// on them; and what stands with the motor by its stated place does not follow it there.
#[test]
fn each_place_of_the_motor_is_that_of_the_design_with_it() {
    for name in ["whimbrel-9-a", "pipit-a", "wren-a"] {
        let d = demo(name);
        let document = read(&d);
        let (m, donor) = (masses(&document), &document.donor);
        let rows = places(&document);
        assert_eq!(rows.len(), 4);
        let now = rows.iter().find(|r| r.place == document.design.motor_place).expect("in hand");
        check(name, now.grip_n, Traction::of(&document, m.test_kg).drive_n, 1e-12);
        assert_eq!(now.front_share, front_share(&document));
        for row in rows.iter().filter(|r| r.drives == DrivenAxle::All) {
            check(name, row.grip_n, donor.adhesion * m.test_kg * 9.80665, 1e-9);
        }
        let motor = document.design.motor.as_ref().expect("a motor");
        let each = motor.mass_kg * f64::from(document.design.motor_count);
        let wheels = if donor.kind == VehicleKind::Trike { 3.0 } else { 4.0 };
        check("unsprung", rows[3].unsprung_kg, each / wheels, 1e-12);
        assert_eq!((rows[0].unsprung_kg, rows[2].unsprung_kg), (0.0, 0.0));
        let stated = document.design.layout.motor.along.filter(|_| stated_front_share(&document).is_none());
        if let (MotorPlace::Shaft, Some(along)) = (document.design.motor_place, stated) {
            // The motor alone moves: its mass times its way, by hand.
            let to = if donor.driven_axle == DrivenAxle::Front { 0.0 } else { donor.wheelbase_m };
            let way = to - along.metres(donor.wheelbase_m);
            check("moved", rows[0].front_share - rows[1].front_share, each * way / donor.wheelbase_m / m.test_kg, 1e-9);
        }
    }
    assert!(places(&read(&with(demo("wren-a"), "/design/motor", Value::Null))).is_empty());
}

#[test]
fn each_mistake_of_what_turns_and_holds_is_found() {
    let mechanics = "/design/mechanics";
    let chain = |key: &str, value: Value| (format!("{mechanics}/chain/{key}"), value);
    let mount = |m: Value| (format!("{mechanics}/mounts"), json!([m]));
    // Pulled with a quarter of what it breaks at.
    let told = sheet(&chained());
    let pull_kn = told.motor_nm / (0.5 * told.picture.as_ref().expect("a chain").diameters_mm[0]);
    for ((at, value), rule, severity) in [
        (chain("breaks_kn", json!(1.9 * pull_kn)), "drive.chain-breaks", Severity::Stop),
        (chain("breaks_kn", json!(4.0 * pull_kn)), "drive.chain-overloaded", Severity::Warn),
        // 16 teeth by 3.1 is 49.6: 50 of them give 3.125, within a hundredth; by 3.04 they would be 48.6.
        (("/design/driveline/stages".to_owned(), json!([{ "kind": "chain", "ratio": 3.08 }])), "", Severity::Note),
        (("/design/driveline/stages".to_owned(), json!([{ "kind": "chain", "ratio": 0.5 }])), "drive.teeth-off-ratio", Severity::Warn),
        (chain("front_teeth", json!(8)), "drive.few-teeth", Severity::Warn),
        (chain("centre_mm", json!(100)), "drive.sprockets-collide", Severity::Warn),
        // (601 - 86.4) / 2 over 503 leans by 30.8 degrees.
        (("/design/driveline/stages".to_owned(), json!([{ "kind": "chain", "ratio": 7.0 }])), "drive.little-wrap", Severity::Warn),
        ((format!("{mechanics}/shaft"), json!({ "diameter_mm": 9 })), "drive.shaft-yields", Severity::Stop),
        ((format!("{mechanics}/shaft"), json!({ "diameter_mm": 19, "key_length_mm": 5 })), "drive.key-yields", Severity::Stop),
        ((format!("{mechanics}/coupler"), json!({ "bolts": 2, "thread": "M5", "radius_mm": 8 })), "drive.coupler-slips", Severity::Warn),
        (mount(json!({ "of": "motor", "bolts": 1, "thread": "M5", "class": "5.8" })), "", Severity::Note),
        (mount(json!({ "of": "pack", "bolts": 2, "thread": "M5" })), "mount.too-few-bolts", Severity::Stop),
        (mount(json!({ "of": "pack", "bolts": 12, "thread": "M10", "flange_mm": 0.5 })), "mount.sheet-tears", Severity::Warn),
        (mount(json!({ "of": "pack", "bolts": 12, "thread": "M10", "holes": "drilled" })), "", Severity::Note),
        (mount(json!({ "of": "pack", "bolts": 12, "thread": "M10", "pattern": "seat rails" })), "mount.pattern-off", Severity::Warn),
        (
            mount(json!({ "of": "pack", "bolts": 4, "thread": "M12", "class": "10.9", "pattern": "seat rails" })),
            "mount.pattern-off",
            Severity::Warn,
        ),
    ] {
        let mut trike = with(chained(), &at, value.clone());
        trike["donor"]["bolt_patterns"] = json!([{ "name": "seat rails", "thread": "M10",
            "points": (0..4).map(|i| json!({ "behind_m": 1.0 + 0.3 * f64::from(i) })).collect::<Vec<_>>() }]);
        let rules: Vec<(String, Severity)> = found(&trike).into_iter().map(|f| (f.rule.id().to_owned(), f.severity)).collect();
        let expected: Vec<(String, Severity)> = (!rule.is_empty()).then(|| (rule.to_owned(), severity)).into_iter().collect();
        assert_eq!(rules, expected, "{at} {value}");
    }
    let mut drilled =
        with(chained(), "/design/mechanics/mounts", json!([{ "of": "pack", "bolts": 12, "thread": "M10", "holes": "welded" }]));
    assert_eq!(sheet(&drilled).stays, ["The pack"]);
    drilled["design"]["mechanics"]["no_new_holes"] = json!(true);
    assert_eq!(found(&drilled).iter().map(|f| f.rule.id()).collect::<Vec<_>>(), ["mount.new-holes"]);
}

#[test]
fn mounts_bear_what_they_say_and_one_bolt_less_does_not() {
    let heavy = |m: &MechanicsSheet| m.mounts.iter().find(|m| m.words == "The pack").cloned().expect("a pack");
    for (thread, class) in [("M6", "8.8"), ("M8", "8.8"), ("M8", "10.9"), ("M12", "5.8")] {
        let held = |bolts: u32| {
            with(chained(), "/design/mechanics/mounts", json!([{ "of": "pack", "bolts": bolts, "thread": thread, "class": class }]))
        };
        let fewest = heavy(&sheet(&held(1))).fewest;
        assert_eq!(found(&held(fewest)), [], "{fewest} {thread} {class}");
        // Four corners hold a heavy box whatever the bolts bear.
        if fewest > 4 {
            let short = found(&held(fewest - 1));
            assert_eq!(short.len(), 1, "{fewest} {thread} {class}");
            assert!(short[0].message.to_string().contains(&format!("{fewest} of them are needed")), "{}", short[0].message);
        }
    }
    // Twice as much asked, twice as much pulled; what is stated counts, and each axis by itself.
    let pack = heavy(&sheet(&chained()));
    check("20 g", pack.along_n, 20.0 * 9.80665 * pack.kg, 1e-12);
    let asked = heavy(&sheet(&with(chained(), "/design/mechanics/retention", json!({ "along_g": 40 }))));
    assert_eq!((asked.along_n, asked.across_n), (2.0 * pack.along_n, pack.across_n));
    // A box that was taken out of the layout leaves its mount without anything to hold.
    let idle = sheet(&with(chained(), "/design/mechanics/mounts", json!([{ "of": "pack_box", "name": "under the seat", "bolts": 4 }])));
    assert_eq!(idle.idle, ["under the seat"]);
}

#[test]
fn what_cannot_be_is_refused_by_field() {
    for (at, value, path) in [
        ("/design/mechanics/chain/front_teeth", json!(3), "design.mechanics.chain.front_teeth"),
        ("/design/mechanics/chain/centre_mm", json!(-500), "design.mechanics.chain.centre_mm"),
        ("/design/mechanics/chain/strands", json!(4), "design.mechanics.chain.strands"),
        ("/design/mechanics/chain/number", json!("41"), "design.mechanics.chain.number"),
        ("/design/mechanics/shaft", json!({ "diameter_mm": 0 }), "design.mechanics.shaft.diameter_mm"),
        (
            "/design/mechanics/mounts",
            json!([{ "of": "motor", "bolts": 4 }, { "of": "motor", "bolts": 2 }]),
            "design.mechanics.mounts[1].of",
        ),
        ("/design/mechanics/mounts", json!([{ "of": "motor", "bolts": 0 }]), "design.mechanics.mounts[0].bolts"),
        ("/donor/bolt_patterns", json!([{ "name": "x", "points": [{ "behind_m": 99 }] }]), "donor.bolt_patterns[0].points[0].behind_m"),
    ] {
        let error = joulethesis_core::document::Document::from_value(&with(chained(), at, value)).expect_err(path);
        assert!(error.problems().iter().any(|p| p.path == path), "{path}: {error}");
    }
}

proptest! {
    #![proptest_config(cases(60))]

    /// Whatever is chosen, the sheet's words hold the figures of formulas written out a second time, and a finding stands exactly where they
    /// are beyond what is allowed.
    #[test]
    fn the_sheet_says_what_the_formulas_give(
        d in 8.0_f64..60.0, key in 5.0_f64..90.0, steel in 150.0_f64..900.0, bolts in 2_u32..12, radius in 10.0_f64..120.0, friction in 0.05_f64..0.4,
    ) {
        let mut trike = chained();
        trike["design"]["mechanics"]["shaft"] = json!({ "diameter_mm": d, "key_length_mm": key, "yield_n_mm2": steel });
        trike["design"]["mechanics"]["coupler"] = json!({ "bolts": bolts, "thread": "M6", "radius_mm": radius, "friction": friction });
        let told = sheet(&trike);
        let t = told.motor_nm * 1000.0;
        let torsion = t / (PI * d * d * d / 16.0);
        let [b, h] = key_mm(d).expect("a key for it");
        let force = t / (0.5 * d);
        let (shear, flank) = (force / (b * key), force / (0.5 * h * key));
        let rules: Vec<&str> = found(&trike).iter().map(|f| f.rule.id()).collect();
        let allowed = steel / 1.5;
        prop_assert_eq!(rules.contains(&"drive.shaft-yields"), torsion > 0.577 * allowed);
        prop_assert_eq!(rules.contains(&"drive.key-yields"), shear > 0.577 * allowed || flank > allowed);
        // M6 8.8: 20.1 mm2 tightened to 0.7 of 640 N/mm2.
        let holds = f64::from(bolts) * friction * 0.7 * 640.0 * Thread::M6.stress_area_mm2() * radius / 1000.0;
        prop_assert_eq!(rules.contains(&"drive.coupler-slips"), holds < 1.5 * told.motor_nm);
        let says = |id: &str| told.groups.iter().flat_map(|g| &g.lines).find(|l| l.id == id).expect("a line").result.to_string();
        prop_assert!(says("torsion").starts_with(&format!("{torsion:.0} N/mm²")), "{} {torsion}", says("torsion"));
        prop_assert!(says("coupler").starts_with(&format!("{holds:.0} N·m")), "{} {holds}", says("coupler"));
        // The key that is offered where this one is too short is just long enough.
        if let Some(take) = told.groups.iter().flat_map(|g| &g.lines).find(|l| l.id == "key").and_then(|l| l.takes.first()) {
            let longer = with(trike.clone(), "/design/mechanics/shaft/key_length_mm", json!(take.value));
            prop_assert!(take.value > key && !found(&longer).iter().any(|f| f.rule.id() == "drive.key-yields"));
            let shorter = with(trike, "/design/mechanics/shaft/key_length_mm", json!(take.value - 1.01));
            prop_assert!(take.value < 4.1 || found(&shorter).iter().any(|f| f.rule.id() == "drive.key-yields"));
        }
    }

    /// What a mount must bear grows with its mass and with what is asked, and the fewest bolts are never more than those of thinner or softer ones.
    #[test]
    fn thicker_and_harder_bolts_are_never_more(kg in 1.0_f64..400.0, along in 1.0_f64..40.0) {
        let strengths = [BoltClass::Class5_8, BoltClass::Class8_8, BoltClass::Class10_9];
        let pull = kg * 9.80665 * along;
        let fewest = |thread: Thread, class: BoltClass| (pull * 1.5 / breaks_across_n(thread, class)).ceil();
        for pair in Thread::ALL.windows(2) {
            prop_assert!(strengths.iter().all(|c| fewest(pair[0], *c) >= fewest(pair[1], *c)));
        }
        for thread in Thread::ALL {
            prop_assert!(strengths.windows(2).all(|c| fewest(thread, c[0]) >= fewest(thread, c[1])));
            prop_assert!(strengths.iter().all(|c| clamps_n(thread, *c) < c.yield_n_mm2() * thread.stress_area_mm2()));
            prop_assert!(strengths.iter().all(|c| c.yield_n_mm2() < c.strength_n_mm2()));
        }
    }
}
