//! Where masses sit and what axles and wheels carry: statics against hand calculation, and laws that hold wherever things are put.

use crate::common::{
    cases, check,
    documents::{demo, documents},
    line, plain, read, sheet, with,
};
use joulethesis_core::document::tyre;
use joulethesis_core::layout::{CableKind, LayoutSheet, Rated, SizedBy, State, layout};
use joulethesis_core::report::report;
use joulethesis_core::vehicle::{Balance, Stance, masses};
use proptest::prelude::*;
use serde_json::{Value, json};

fn state<'a>(sheet: &'a LayoutSheet, id: &str) -> &'a State {
    sheet.states.iter().find(|s| s.id == id).expect("a state")
}

/// A car of 900 kg, half on each axle, 2.5 m between them, with everything placed by hand.
fn placed() -> Value {
    let mut d = with(plain(), "/donor/test_mass_kg", json!(null));
    for (key, value) in
        [("wheelbase_m", 2.5), ("front_axle_share", 0.5), ("cg_height_m", 0.5), ("track_front_m", 1.4), ("track_rear_m", 1.2)]
    {
        d = with(d, &format!("/donor/{key}"), json!(value));
    }
    d = with(d, "/donor/removed", json!([{ "name": "engine", "mass_kg": 150, "at": { "along": "front", "up_m": 0.6 } }]));
    d = with(d, "/brief/payload_kg", json!(80));
    let at = |x: f64, y: f64, z: f64| json!({ "along": { "behind_front_axle_m": x }, "right_m": y, "up_m": z });
    with(
        d,
        "/design/layout",
        json!({ "motor": at(0.0, 0.0, 0.5), "controller": at(0.5, 0.0, 0.5), "pack": at(2.0, 0.3, 0.4), "payload": at(2.8, 0.0, 0.9) }),
    )
}

/// Moments about the axles and about the middle, summed up by hand (two-axle statics, Gillespie 1992, chapter 1).
#[test]
fn axles_wheels_and_centre_are_those_of_statics() {
    let document = read(&placed());
    let (sheet, m) = (layout(&document), masses(&document));
    let (motor, controller, pack) = (m.motors_kg, m.controllers_kg, m.pack_kg);
    let converted = state(&sheet, "converted");
    let mass = 900.0 - 150.0 + motor + controller + pack;
    check("mass", converted.mass_kg, mass, 1e-12);
    let along = (900.0 * 1.25 + controller * 0.5 + pack * 2.0) / mass;
    check("centre along", converted.along_m, along, 1e-12);
    check("front axle", converted.front_kg, mass * (1.0 - along / 2.5), 1e-12);
    check("centre to the right", converted.right_m, pack * 0.3 / mass, 1e-12);
    check("centre above", converted.up_m, (900.0 * 0.5 - 150.0 * 0.6 + (motor + controller) * 0.5 + pack * 0.4) / mass, 1e-12);
    // The moment to the right is shared as the axles are loaded; each wheel takes it over its own track.
    let [fl, fr, rl, rr] = converted.corners_kg;
    check("right over left, front", fr - fl, 2.0 * pack * 0.3 * (converted.front_kg / mass) / 1.4, 1e-12);
    check("right over left, rear", rr - rl, 2.0 * pack * 0.3 * (converted.rear_kg / mass) / 1.2, 1e-12);
    // Behind the rear axle a load lifts the front.
    let (driver, laden) = (state(&sheet, "driver"), state(&sheet, "laden"));
    check("lifted in front", laden.front_kg - driver.front_kg, 80.0 * (1.0 - 2.8 / 2.5), 1e-9);
    check("claims count the same", laden.front_kg, m.front_axle_kg, 1e-12);
    // The donor as it stood leans to no side: atan of half the track, along the skew line of the wheels, over the height.
    let donor = state(&sheet, "donor");
    let line = f64::hypot(1.0, 0.1 / 2.5);
    check("tips sideways", donor.tips_sideways_deg.expect("two tracks"), (0.65 / line / 0.5_f64).atan().to_degrees(), 1e-12);
    check("tips backwards", donor.tips_backwards_deg, (1.25_f64 / 0.5).atan().to_degrees(), 1e-12);
}

/// A three-wheeler tips about the line from its single wheel to the nearer one of the pair; on two wheels nothing stands by itself.
#[test]
fn three_wheels_tip_about_the_line_between_two_of_them() {
    let stance = |front: f64, rear: f64| Stance { wheelbase_m: 2.0, tracks_m: [front, rear] };
    let balance = Balance::of(300.0, [1.5, 0.05, 0.6]);
    // Line from (0, 0) to (2, 0.5); the point (1.5, 0.05) lies (0.5 x 1.5 - 2 x 0.05) / |(2, 0.5)| inside.
    let distance = (0.5 * 1.5 - 2.0 * 0.05) / f64::hypot(2.0, 0.5);
    check("three-wheeler", stance(0.0, 1.0).tips_sideways_deg(&balance).expect("a track"), (distance / 0.6).atan().to_degrees(), 1e-12);
    assert_eq!(stance(0.0, 0.0).tips_sideways_deg(&balance), None);
    // The single wheel takes none of the lean; the pair takes all of it.
    let loads = stance(0.0, 1.0).loads(&balance);
    assert_eq!(loads.corners_kg[0], loads.corners_kg[1]);
    check("the pair", loads.corners_kg[3] - loads.corners_kg[2], 2.0 * 300.0 * 0.05 / 1.0, 1e-12);
}

/// ETRTO load indices: each within a fiftieth of `45 kg x 10^(LI/80)`, as rounded steps are (from memory); where a code carries one, it is read.
#[test]
fn tyres_bear_what_their_load_index_says() {
    for index in 20..=126 {
        check(
            &format!("load index {index}"),
            tyre::load_kg(index).expect("in the table"),
            45.0 * 10.0_f64.powf(f64::from(index) / 80.0),
            0.02,
        );
    }
    assert_eq!([19, 127].map(tyre::load_kg), [None, None]);
    let codes = ["175/70 R13 82T", "195/75 R16C 107/105R", "175/80 R14", "3.50-10", "31x10.50 R15 109S", "155 R13 78 S"];
    assert_eq!(codes.map(tyre::load_index), [Some(82), Some(107), None, None, Some(109), None]);
    // Over its load, and too little in front: both are said, with both figures.
    let heavy = with(placed(), "/donor/tyre_load_index", json!(62));
    let tell = |d: &Value| report(&read(d)).expect("sound").findings;
    let over = tell(&heavy).into_iter().find(|f| f.rule == "mass.tyre").expect("warned of").message.to_string();
    assert!(over.contains("A rear tyre comes to") && over.contains("265 kg"), "{over}");
    // What was weighed counts in place of the sum of the blocks, and does not move with them.
    let weighed = layout(&read(&with(heavy.clone(), "/design/front_axle_share", json!(0.3))));
    let axle = weighed.limits.iter().find(|l| l.of == Rated::FrontTyre).expect("known");
    let whole = state(&weighed, "laden");
    let lean = whole.corners_kg[1] / whole.front_kg;
    check("the heavier front wheel", axle.laden_kg, 0.3 * masses(&read(&heavy)).test_kg * lean, 1e-9);
    assert_eq!((axle.per_kg_m, weighed.per_kg_m), (0.0, 0.0));
    check("what the drawing shows", weighed.front_kg, 0.3 * masses(&read(&heavy)).test_kg, 1e-9);
    assert!(tell(&placed()).iter().all(|f| f.rule != "mass.tyre"), "nothing is known of its tyres");
    let behind = with(placed(), "/design/layout/pack/along", json!({ "behind_front_axle_m": 9.0 }));
    assert!(tell(&behind).iter().any(|f| f.rule == "mass.light-front"));
    assert!(
        tell(&with(behind, "/design/front_axle_share", json!(0.5))).iter().all(|f| f.rule != "mass.light-front"),
        "it has been weighed"
    );
}

/// Modules in further boxes are those of the pack: nothing is gained or lost, and a smaller pack leaves the last box empty.
#[test]
fn boxes_hold_the_modules_there_are() {
    let van = demo("whimbrel-9-a");
    let modules = read(&van).design.pack.as_ref().expect("a pack").module_count();
    let boxed = |first: u32, second: u32| {
        let boxes = json!([
            { "name": "Under the bonnet", "modules": first, "at": { "along": "front" } },
            { "name": "Behind the seats", "modules": second, "at": { "along": "middle" } },
        ]);
        layout(&read(&with(van.clone(), "/design/layout", json!({ "pack": { "along": "rear" }, "boxes": boxes }))))
    };
    let whole = layout(&read(&van));
    let split = boxed(2, modules - 3);
    check("mass", state(&split, "laden").mass_kg, state(&whole, "laden").mass_kg, 1e-12);
    let counts = |sheet: &LayoutSheet| sheet.blocks.iter().filter_map(|b| b.modules).collect::<Vec<_>>();
    assert_eq!(counts(&split), [2, modules - 3, 1]);
    // Three modules make a string: two of them cut one, six do not, and the one that is left does.
    let cut = |sheet: &LayoutSheet| sheet.blocks.iter().filter(|b| b.modules.is_some()).map(|b| b.cuts_string).collect::<Vec<_>>();
    assert_eq!((cut(&split), cut(&whole)), (vec![true, false, true], vec![false]));
    assert!(split.blocks.iter().all(|b| b.kind == "pack" || !b.cuts_string));
    let each = split.blocks.iter().find(|b| b.name == "Under the bonnet").expect("a box").mass_kg / 2.0;
    check("a module with its share of the box", each * f64::from(modules), masses(&read(&van)).pack_kg, 1e-12);
    // More than there is: filled in turn, and what stays empty weighs nothing and is not drawn.
    assert_eq!(counts(&boxed(modules, 4)), [modules]);
}

/// Cables run along the axes between what has a place, a fifth longer and a quarter of a metre more at each end; the electrics count with
/// that where no length is stated, and a longer run is no thinner.
#[test]
fn cables_are_as_long_as_the_places_are_apart() {
    let at = |x: f64, y: f64, z: f64| json!({ "along": { "behind_front_axle_m": x }, "right_m": y, "up_m": z });
    let van = |layout: Value| {
        let d = with(demo("whimbrel-9-c"), "/design/layout", layout);
        with(with(d, "/design/wiring", json!({ "resistance_ohm": 0.002 })), "/design/electrics", json!({}))
    };
    let near =
        json!({ "motor": at(0.4, 0.0, 0.4), "controller": at(0.0, 0.0, 0.8), "charger": at(-0.2, 0.4, 0.8), "pack": at(1.0, 0.2, 0.4) });
    let runs = layout(&read(&van(near.clone()))).cables;
    let length = |kind: CableKind| runs.iter().find(|r| r.kind == kind).expect("a run").length_m;
    // 1 m along, 0.2 across, 0.4 up: 1.6 x 1.2 + 0.5 = 2.42 m, twice.
    check("traction", length(CableKind::Traction), 2.0 * (1.6 * 1.2 + 0.5), 1e-9);
    check("phase", length(CableKind::Phase), 0.8 * 1.2 + 0.5, 1e-9);
    check("charge", length(CableKind::Charge), 2.0 * (1.8 * 1.2 + 0.5), 1e-9);
    // Over two boxes, the nearer one first: 1 m on to the second.
    let mut boxed = near.clone();
    boxed["boxes"] = json!([{ "name": "Rear", "modules": 3, "at": at(2.0, 0.2, 0.4) }]);
    let split = layout(&read(&van(boxed))).cables;
    check("traction over two boxes", split[0].length_m, 2.0 * (2.6 * 1.2 + 0.5), 1e-9);
    // A length that is stated and no longer fits is pointed out; a little off is bends.
    let stated = |metres: f64| {
        let wired = json!({ "resistance_ohm": 0.002, "cable_length_m": metres, "cable_section_mm2": 50 });
        layout(&read(&with(van(near.clone()), "/design/wiring", wired))).cables[0].differs
    };
    assert_eq!([4.84, 4.84 / 1.14, 4.84 / 1.16, 4.84 / 0.84].map(stated), [false, false, true, true]);
    assert!(runs.iter().all(|r| !r.differs), "nothing is stated");
    // Nothing is made up where a place is not stated.
    assert!(layout(&read(&van(json!({ "pack": at(1.0, 0.0, 0.4) })))).cables.is_empty());
    let said = |layout: Value| {
        let sheet = sheet(&van(layout));
        let assumed: Vec<String> = sheet.assumed.iter().map(ToString::to_string).collect();
        (assumed.join("; "), line(&sheet, "cable").takes.iter().find(|t| t.path == "wiring.cable_length_m").expect("a length").value)
    };
    let (assumed, metres) = said(near);
    assert!(assumed.contains("4.8 m of traction cable there and back by their places in the layout"), "{assumed}");
    check("electrics", metres, 4.84, 1e-9);
    let (usual, metres) = said(json!({}));
    assert!(usual.contains("of traction cable there and back;") && !usual.contains("by their places"), "{usual}");
    check("usual in a closed vehicle", metres, 6.0, 1e-12);
}

/// Converter, heater, pump and inlets stand for themselves, all else of the circuits in the contactor box: nothing is gained or lost; cables
/// lead from the box to each, and the list of wires and the cable from pack to controller go by way of it.
#[test]
fn components_are_blocks_of_their_own() {
    let at = |x: f64, y: f64, z: f64| json!({ "along": { "behind_front_axle_m": x }, "right_m": y, "up_m": z });
    let fitted = documents().into_iter().find(|d| !d["design"]["electrics"]["fitted"]["heater"].is_null()).expect("all is fitted");
    let blocks = json!({
        "motor": at(0.4, 0.0, 0.4), "controller": at(0.0, 0.0, 0.8), "charger": at(-0.2, 0.4, 0.8), "pack": at(1.0, 0.2, 0.4),
        "electrics": at(0.2, 0.2, 0.8),
        "fitted": { "converter": at(0.2, -0.3, 0.8), "heater": at(0.7, 0.2, 0.9), "charge_inlet": at(-0.6, 0.4, 0.6), "fast_inlet": at(2.0, 0.2, 0.6) },
    });
    let d = with(with(fitted, "/design/layout", blocks), "/design/wiring", json!({ "resistance_ohm": 0.002, "cable_length_m": 5 }));
    let document = read(&d);
    let sheet = layout(&document);
    let kg = |kind: &str| sheet.blocks.iter().filter(|b| b.kind == kind).map(|b| b.mass_kg).sum::<f64>();
    let fitted = &document.design.electrics.fitted;
    let all: f64 = fitted.all().map(|(slot, c)| document.design.count_of(slot) * c.mass_kg).sum();
    check("the box and the others", kg("electrics") + kg("component"), all, 1e-12);
    let names: Vec<&str> = sheet.blocks.iter().filter(|b| b.kind == "component").map(|b| b.name.as_str()).collect();
    assert_eq!(names, ["Charge inlet", "Fast-charge inlet", "Converter to 12 V", "Brake assistance", "Heater"]);
    let runs: Vec<_> = sheet.cables.iter().map(|r| (r.kind, r.length_m)).collect();
    let each = |metres: f64| ((metres * 1.2 + 0.5) * 100.0).round() / 100.0;
    // Controller to box 0.4, box to pack 0.8 along and 0.4 down; charger to pack 1.8.
    let by_hand = [
        (CableKind::Traction, 2.0 * each(1.6)),
        (CableKind::Charge, 2.0 * each(1.8)),
        (CableKind::Phase, each(0.8)),
        (CableKind::Mains, each(0.6)),
        (CableKind::Converter, each(0.5)),
        (CableKind::Heater, each(0.6)),
        (CableKind::Station, each(2.0)),
    ];
    assert_eq!(runs, by_hand);
    let circuit = crate::common::sheet(&d).circuit;
    for (to, metres) in [("Converter", each(0.5)), ("Heater", each(0.6)), ("Charge inlet", each(0.6)), ("Fast-charge inlet", each(2.0))] {
        let part = circuit.parts.iter().find(|p| p.name == to).unwrap_or_else(|| panic!("no {to}"));
        let wire = circuit.wires.iter().find(|w| w.to == part.id).expect("a wire leads there");
        check(to, wire.length_m, metres, 1e-9);
    }
    // What the box is placed at moves the cable, and no mass.
    let aside = layout(&read(&with(d, "/design/layout/electrics", at(0.2, -0.8, 0.8))));
    check("out and back", aside.cables[0].length_m - runs[0].1, 2.0 * 1.2 * 1.6, 1e-6);
    check("mass", state(&aside, "laden").mass_kg, state(&sheet, "laden").mass_kg, 1e-12);
}

/// Whoever sits low sits flat: a size that was guessed from a mass never reaches into the ground and keeps its litres.
#[test]
fn a_guessed_size_stays_above_the_ground() {
    let d = with(placed(), "/brief/driver_kg", json!(80));
    let driver = |up_m: f64| {
        let blocks = layout(&read(&with(d.clone(), "/design/layout/driver", json!({ "up_m": up_m })))).blocks;
        let b = blocks.into_iter().find(|b| b.kind == "driver").expect("a driver");
        assert!(b.up_m - 0.5 * b.height_m >= -1e-9 || b.height_m <= 0.05 + 1e-9, "{b:?}");
        b.length_m * b.width_m * b.height_m
    };
    for up_m in [0.2, 0.45, 0.9] {
        check("litres", driver(up_m), 80.0 / 0.45e3, 1e-9);
    }
}

/// Each usual thing is sound as it is put in, offered once, and the battery is that of the electrics: 0.26 kg an Ah (common practice).
#[test]
fn usual_things_can_be_put_in() {
    for mut d in documents() {
        let offered = layout(&read(&d)).usual_things;
        let battery = offered.iter().find(|t| t.name == "12 V battery").expect("offered").mass_kg;
        let ah = read(&d).design.electrics.auxiliary_in_use_ah(read(&d).donor.kind);
        assert!((battery - 0.26 * ah).abs() <= 0.05 + 1e-9, "{battery} kg for {ah} Ah");
        let before = state(&layout(&read(&d)), "converted").mass_kg;
        d["design"]["added"].as_array_mut().expect("a list").extend(offered.iter().map(|t| json!(t)));
        let after = layout(&read(&d));
        let all: f64 = offered.iter().map(|t| t.mass_kg).sum();
        check("mass", state(&after, "converted").mass_kg - before, all, 1e-9);
        assert!(after.usual_things.is_empty());
        assert!(after.blocks.iter().filter(|b| offered.iter().any(|t| t.name == b.name)).all(|b| b.sized_by == SizedBy::Said));
    }
}

/// Moves of a block: which one, and by how much.
fn moved(document: &Value, path: &str, by: [f64; 3]) -> Value {
    let sheet = layout(&read(document));
    let block = sheet.blocks.iter().find(|b| b.path == path).expect("a block");
    let at = json!({
        "along": { "behind_front_axle_m": block.along_m + by[0] },
        "right_m": block.right_m + by[1],
        "up_m": block.up_m + by[2],
    });
    let mut all = document.clone();
    let mut place = &mut all;
    for key in path.split('.') {
        place = match key.parse::<usize>() {
            Ok(i) => &mut place[i],
            Err(_) => &mut place[key],
        };
    }
    *place = at;
    all
}

proptest! {
    #![proptest_config(cases(64))]

    /// Moving a block changes the loads of the states that hold it by its mass times the way, and nothing else.
    #[test]
    fn a_move_changes_loads_by_mass_times_way(which in 0usize..30, by in prop::array::uniform3(-0.8..0.8f64), which_demo in 0usize..3) {
        let van = demo(["whimbrel-9-a", "wren-a", "pipit-b"][which_demo]);
        let before = layout(&read(&van));
        let block = before.blocks[which % before.blocks.len()].clone();
        let after = layout(&read(&moved(&van, &block.path, by)));
        let wheelbase = before.outline.wheelbase_m;
        // What nobody has placed goes along with the motor.
        let followers = before.blocks.iter().filter(|b| block.kind == "motor" && b.with_motor);
        let along_kg = block.mass_kg + followers.map(|b| b.mass_kg).sum::<f64>();
        let mut changed = 0;
        for (a, b) in before.states.iter().zip(&after.states) {
            prop_assert!((a.mass_kg - b.mass_kg).abs() < 1e-9);
            let holds = match (block.kind, a.id) {
                (_, "donor") => 0.0,
                ("removed", _) => -1.0,
                ("payload", "laden") | ("driver", "driver" | "laden") => 1.0,
                ("payload" | "driver", _) | (_, "stripped") => 0.0,
                _ => 1.0,
            };
            changed += i32::from(holds != 0.0);
            let moment = |s: &State, x: f64| s.mass_kg * x;
            prop_assert!((moment(b, b.along_m) - moment(a, a.along_m) - holds * along_kg * by[0]).abs() < 1e-6);
            prop_assert!((moment(b, b.right_m) - moment(a, a.right_m) - holds * block.mass_kg * by[1]).abs() < 1e-6);
            prop_assert!((moment(b, b.up_m) - moment(a, a.up_m) - holds * block.mass_kg * by[2]).abs() < 1e-6);
            prop_assert!((b.front_kg - a.front_kg + holds * along_kg * by[0] / wheelbase).abs() < 1e-6);
            prop_assert!((b.corners_kg.iter().sum::<f64>() - b.mass_kg).abs() < 1e-6);
        }
        prop_assert!(changed > 0);
        // What stands beside a limit for the interface to multiply with is that very change.
        for (a, b) in before.limits.iter().zip(&after.limits).filter(|(a, _)| matches!(a.of, Rated::FrontAxle | Rated::RearAxle)) {
            let sign = if block.kind == "removed" { -1.0 } else { 1.0 };
            prop_assert!((b.laden_kg - a.laden_kg - sign * along_kg * by[0] * a.per_kg_m).abs() < 1e-6);
        }
    }
}
