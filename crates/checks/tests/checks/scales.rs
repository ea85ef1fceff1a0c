//! The donor on scales against geometry, what comes out of it, and the grip that follows from where masses sit.

use crate::common::{cases, check, documents::demo, plain, read, with};
use joulethesis_core::document::{Answers, Document, Fate, ItemKind, VehicleKind};
use joulethesis_core::evidence::{ledger_from_csv, ledger_to_csv, teardown, weighed};
use joulethesis_core::figures::cost;
use joulethesis_core::layout::layout;
use joulethesis_core::report::report;
use joulethesis_core::vehicle::{Traction, masses, most_grip_n_per_kg};
use proptest::prelude::*;
use serde_json::{Value, json};

/// A donor with scales under it: mass, centre along, right and up, wheelbase, tracks, radius of the wheels, and how far an axle is lifted.
#[derive(Debug, Clone, Copy)]
struct Scene {
    kg: f64,
    centre: [f64; 3],
    wheelbase: f64,
    tracks: [f64; 2],
    radius: f64,
    lift: f64,
    rear: bool,
}

impl Scene {
    /// Load of the axle that stays down, by moments about the one that is lifted: every point turned about the middle of the wheel that stays.
    fn tilted_kg(&self) -> f64 {
        let (sine, low) = (self.lift / self.wheelbase, self.centre[2] - self.radius);
        let cosine = (1.0 - sine * sine).sqrt();
        // Along, seen from the axle that stays down.
        let from = if self.rear { self.centre[0] } else { self.wheelbase - self.centre[0] };
        let turned = from * cosine - low * sine;
        self.kg * (1.0 - turned / (self.wheelbase * cosine))
    }

    /// Loads of the wheels, level: each side carries what the moment about the other asks, each axle by its share.
    fn corners_kg(&self) -> [f64; 4] {
        let front = self.kg * (1.0 - self.centre[0] / self.wheelbase);
        let mut corners = [0.0; 4];
        for (i, axle) in [front, self.kg - front].into_iter().enumerate() {
            let right = axle * (0.5 + self.centre[1] / self.tracks[i]);
            (corners[2 * i], corners[2 * i + 1]) = (axle - right, right);
        }
        corners
    }

    fn document(&self) -> Value {
        let [fl, fr, rl, rr] = self.corners_kg();
        let lifted = if self.rear { "rear" } else { "front" };
        let weighing = json!({ "front_left_kg": fl, "front_right_kg": fr, "rear_left_kg": rl, "rear_right_kg": rr, "lifted": lifted,
            "lifted_by_m": self.lift, "other_axle_kg": self.tilted_kg(), "loaded_radius_m": self.radius });
        let mut d = with(plain(), "/donor/evidence", json!({ "weighing": weighing }));
        for (key, value) in [("wheelbase_m", self.wheelbase), ("track_front_m", self.tracks[0]), ("track_rear_m", self.tracks[1])] {
            d = with(d, &format!("/donor/{key}"), json!(value));
        }
        d
    }
}

prop_compose! {
    fn scene()(kg in 150.0_f64..3000.0, along in 0.25_f64..0.75, right in -0.1_f64..0.1, up in 0.3_f64..1.2, wheelbase in 1.2_f64..3.5,
        tracks in prop::array::uniform2(0.8_f64..1.6), radius in 0.2_f64..0.45, lift in 0.12_f64..0.4, rear: bool) -> Scene {
        Scene { kg, centre: [along * wheelbase, right, up], wheelbase, tracks, radius, lift: lift * wheelbase, rear }
    }
}

proptest! {
    #![proptest_config(cases(60))]

    /// Whatever stands on the scales is found again: mass, balance, lean and height (ISO 10392 by its geometry).
    #[test]
    fn what_stood_on_the_scales_is_found(scene in scene()) {
        let found = weighed(&read(&scene.document())).expect("both axles weighed");
        prop_assert!((found.mass_kg - scene.kg).abs() < 1e-6 * scene.kg);
        prop_assert!((found.front_share - (1.0 - scene.centre[0] / scene.wheelbase)).abs() < 1e-9);
        prop_assert!((found.right_m.expect("four wheels") - scene.centre[1]).abs() < 1e-9);
        prop_assert!((found.cg_height_m.expect("lifted") - scene.centre[2]).abs() < 1e-6, "{found:?}");
        prop_assert!(found.doubts.is_empty(), "{:?}", found.doubts);
        // A kilogram that the scales are off moves the height by what is told.
        let off = with(scene.document(), "/donor/evidence/weighing/other_axle_kg", json!(scene.tilted_kg() + 1.0));
        let moved = weighed(&read(&off)).expect("weighed").cg_height_m;
        if let Some(moved) = moved {
            prop_assert!((moved - scene.centre[2] - found.height_per_kg_m.expect("lifted")).abs() < 1e-6);
        }
    }

    /// Grip is that of the axle loads as every mass at its place makes them (Gillespie 1992, chapter 2).
    #[test]
    fn grip_follows_the_places(pack in -0.5_f64..3.0, high in 0.1_f64..1.6, motor in -0.5_f64..3.0, axle in prop::sample::select(vec!["front", "rear"]), kg in 50.0_f64..400.0) {
        let mut d = with(plain(), "/donor/test_mass_kg", json!(null));
        d = with(d, "/donor/driven_axle", json!(axle));
        let at = |x: f64| json!({ "along": { "behind_front_axle_m": x }, "up_m": high });
        d = with(d, "/design/layout", json!({ "pack": at(pack), "motor": at(motor), "controller": at(motor) }));
        d = with(d, "/brief/payload_kg", json!(kg));
        let document = read(&d);
        let (donor, m) = (&document.donor, masses(&document));
        let laden = layout(&document).states.pop().expect("states");
        let front = laden.front_share.clamp(0.0, 1.0);
        let shift = donor.adhesion * laden.up_m / donor.wheelbase_m;
        let share = if axle == "front" { front / (1.0 + shift) } else { ((1.0 - front) / (1.0 - shift)).min(1.0) };
        // By hand: the donor's height, and what goes in at its own.
        let (in_kg, own) = (document.design.items().into_iter().filter(|i| !matches!(i.kind, ItemKind::Charger | ItemKind::Component | ItemKind::Other)).map(|i| i.total_kg()).sum::<f64>(), donor.cg_height_m);
        prop_assert!((laden.up_m - (own + in_kg * (high - own) / laden.mass_kg)).abs() < 1e-9);
        let grip_n = donor.adhesion * m.test_kg * 9.80665 * share;
        let found = Traction::of(&document, m.test_kg).drive_n;
        prop_assert!((found - grip_n).abs() < 1e-6 * grip_n.max(1.0), "{found} for {grip_n}");
        prop_assert!((m.front_axle_kg - m.test_kg * front).abs() < 1e-6 * m.test_kg);
        // What a search reckons with before it knows any place is never less.
        prop_assert!(found <= most_grip_n_per_kg(&document) * m.test_kg + 1e-9);
    }

    /// A ledger comes back as it went out, whatever its items are called and wherever they were.
    #[test]
    fn ledgers_go_there_and_back(
        items in prop::collection::vec(
            ("[ -~]{0,20}[a-z=+@'\"-][ -~]{0,20}", 0.0_f64..500.0, 0.0_f64..9000.0, 0_usize..4, "[ -~]{0,12}", prop::option::of(-4.0_f64..15.0)), 0..8),
    ) {
        let items: Vec<Value> = items.iter().map(|(name, kg, price, fate, to, x)| {
            let at = x.map_or_else(|| json!({}), |x| json!({ "along": { "behind_front_axle_m": x }, "right_m": -0.25 }));
            let fate = Fate::ALL[*fate];
            json!({ "name": name.trim(), "mass_kg": kg, "sale_price": price, "fate": fate,
                "sold_to": to.trim(), "at": at })
        }).collect();
        let d = with(with(plain(), "/donor/curb_mass_kg", json!(9000)), "/donor/removed", json!(items));
        let document: Document = (*read(&d)).clone();
        let csv = ledger_to_csv(&document);
        prop_assert_eq!(ledger_from_csv(&csv).expect("its own"), document.donor.removed.clone(), "{}", csv);
    }

    /// Any text is a ledger that a donor accepts, or is refused in words.
    #[test]
    fn any_text_is_a_ledger_or_refused(rows in prop::collection::vec("[a-zA-Z0-9.,;'\" =-]{0,40}", 0..12)) {
        let text = format!("item,mass_kg,fate,price,behind_front_axle_m\n{}", rows.join("\n"));
        match ledger_from_csv(&text) {
            Ok(items) => {
                let removed: f64 = items.iter().map(|i| i.mass_kg).sum();
                let d = with(with(plain(), "/donor/curb_mass_kg", json!((removed + 100.0).clamp(10.0, 40_000.0))), "/donor/test_mass_kg", json!(null));
                if removed < 39_000.0 {
                    let d = with(d, "/donor/removed", serde_json::to_value(&items).expect("JSON"));
                    prop_assert!(Document::from_value(&d).is_ok(), "{text}");
                }
            }
            Err(refused) => prop_assert!(!refused.to_string().is_empty()),
        }
    }
}

/// Half a weighing tells what it tells, and what cannot be is said with both figures instead of becoming a height.
#[test]
fn scales_that_cannot_be_are_doubted() {
    let tell = |weighing: Value| weighed(&read(&with(plain(), "/donor/evidence", json!({ "weighing": weighing }))));
    assert_eq!(tell(json!({ "front_kg": 500, "rear_left_kg": 200 })), None);
    let axles = tell(json!({ "front_kg": 480, "rear_kg": 520 })).expect("both axles");
    assert_eq!((axles.mass_kg, axles.front_share, axles.right_m, axles.cg_height_m), (1000.0, 0.48, None, None));
    let doubts = |weighing: Value| {
        let found = tell(weighing).expect("both axles");
        (found.doubts.iter().map(ToString::to_string).collect::<Vec<_>>().join("; "), found.cg_height_m)
    };
    let lifted =
        |by: f64, other: f64| json!({ "front_kg": 500, "rear_kg": 500, "lifted": "rear", "lifted_by_m": by, "other_axle_kg": other });
    let (said, height) = doubts(json!({ "front_kg": 700, "rear_kg": 500, "front_left_kg": 240, "front_right_kg": 250 }));
    assert!(said.contains("700 kg as a whole and 490 kg by its wheels") && height.is_none(), "{said}");
    let (said, height) = doubts(lifted(2.9, 520.0));
    assert!(said.contains("cannot be lifted by 2.90 m") && height.is_none(), "{said}");
    let (said, height) = doubts(lifted(0.5, 2000.0));
    assert!(said.contains("weigh again") && height.is_none(), "{said}");
    let (said, height) = doubts(lifted(0.1, 503.0));
    assert!(said.contains("at least tells more than the scales err") && height.is_some(), "{said}");
}

/// A three-wheeler leans by its pair alone; what stands in a line leans by nothing that scales could tell.
#[test]
fn single_wheels_lean_to_no_side() {
    let d = |tracks: [f64; 2], weighing: Value| {
        let d = with(with(plain(), "/donor/track_front_m", json!(tracks[0])), "/donor/track_rear_m", json!(tracks[1]));
        weighed(&read(&with(d, "/donor/evidence", json!({ "weighing": weighing })))).expect("both axles")
    };
    let trike = d([0.0, 1.1], json!({ "front_kg": 90, "rear_left_kg": 80, "rear_right_kg": 90 }));
    check("of the pair", trike.right_m.expect("the pair was weighed"), 10.0 * 0.55 / 260.0, 1e-12);
    assert_eq!((trike.mass_kg, trike.diagonal_share), (260.0, None));
    let motorcycle = d([0.0, 0.0], json!({ "front_kg": 90, "rear_kg": 110 }));
    assert_eq!((motorcycle.mass_kg, motorcycle.right_m), (200.0, None));
    let half = d([1.4, 1.4], json!({ "front_kg": 400, "rear_left_kg": 200, "rear_right_kg": 210 }));
    assert_eq!(half.right_m, None);
}

/// A pack so weak that its short circuit opens no fuse: said in words, with figures that are figures.
#[test]
fn a_fuse_that_never_opens_is_told() {
    let d = with(demo("wren-a"), "/design/wiring/resistance_ohm", json!(0.5));
    let found = report(&read(&d)).expect("sound").findings;
    let cable = found.iter().find(|f| f.rule == "amps.cable-fails-first").expect("a stop");
    assert!(cable.message.to_string().contains("does not open the fuse") && cable.found.is_finite() && cable.found > cable.limit);
}

/// The order of the work knows kind and year; of a year nobody knows it leaves nothing out.
#[test]
fn the_teardown_knows_kind_and_year() {
    let names = |kind: &str, built: Value| -> Vec<&'static str> {
        let d = with(with(plain(), "/donor/kind", json!(kind)), "/donor/built", built);
        let steps = teardown(&read(&d));
        assert!(
            steps
                .iter()
                .filter(|s| ["Refrigerant", "Airbags and belt tensioners"].contains(&s.name))
                .all(|s| !s.who.is_empty() && !s.caution.is_empty())
        );
        steps.iter().map(|s| s.name).collect()
    };
    let (unknown, late, early) = (names("car", json!(null)), names("car", json!(2005)), names("car", json!(1972)));
    assert_eq!(unknown, late);
    for dangerous in ["Refrigerant", "Airbags and belt tensioners", "Engine's control unit and harness"] {
        assert!(late.contains(&dangerous) && !early.contains(&dangerous), "{dangerous}");
    }
    assert!(early.contains(&"Coolant and radiator") && !names("kart", json!(null)).contains(&"Coolant and radiator"));
    assert_eq!(names("trike", json!(1970))[0], "Evidence first");
    let fuel = |names: &[&str]| names.iter().position(|n| *n == "Fuel").zip(names.iter().position(|n| *n == "Tank and fuel lines"));
    assert!(fuel(&late).is_some_and(|(fuel, tank)| fuel < tank), "drained before it is taken out");
    let done = |name: &str| {
        let d = with(plain(), "/donor/removed", json!([{ "name": name, "mass_kg": 100 }]));
        teardown(&read(&d)).iter().filter(|s| s.done).map(|s| s.name).collect::<Vec<_>>()
    };
    // Whatever it is called, it is not put into the ledger a second time.
    assert_eq!((done(" ENGINE and ancillaries"), done("Engine harness")), (vec!["Engine"], vec!["Engine's control unit and harness"]));
    assert_eq!(done("Exhaust, tank and fuel lines"), ["Tank and fuel lines", "Exhaust"]);
    assert_eq!(done("Door"), [""; 0]);
}

/// Every kind has an order of work: nothing twice, the engine among it, and all that is usually taken out weighs less than half of a new
/// donor of the kind.
#[test]
fn every_kind_can_be_taken_apart() {
    for kind in VehicleKind::ALL {
        let mut bare = Document::starter("x", kind, &Answers::default());
        bare.donor.removed.clear();
        let steps = teardown(&bare);
        let mut names: Vec<&str> = steps.iter().map(|s| s.name).collect();
        assert!(names.contains(&"Engine") && steps.iter().all(|s| !s.done), "{kind:?}");
        names.sort_unstable();
        assert!(names.windows(2).all(|w| w[0] != w[1]), "{kind:?}: {names:?}");
        let out_kg: f64 = steps.iter().map(|s| s.usual_kg).sum();
        assert!(out_kg < 0.5 * bare.donor.curb_mass_kg, "{kind:?}: {out_kg} of {}", bare.donor.curb_mass_kg);
        assert!(kind.is_closed() || steps.iter().all(|s| s.who.is_empty()), "{kind:?}");
    }
}

/// Money that is hoped for counts in nothing; a ledger goes out and comes back as it was, and faults are named by their rows.
#[test]
fn the_ledger_counts_what_is_in_hand() {
    let removed = json!([
        { "name": "=cmd", "mass_kg": 100.5, "sale_price": 300, "sold_to": "a restorer, by hand", "at": { "along": { "behind_front_axle_m": -0.2 }, "up_m": 0.5 } },
        { "name": "Tank \"A\"", "mass_kg": 16, "sale_price": 80, "fate": "for_sale" },
        { "name": "Gauges", "mass_kg": 1, "fate": "kept" },
    ]);
    let d = with(with(demo("whimbrel-9-a"), "/donor/removed", removed), "/donor/purchase_price", json!(1500));
    let document: Document = (*read(&d)).clone();
    let money = cost(&document);
    assert_eq!((money.sold, money.hoped, money.donor_net), (300.0, 80.0, Some(1200.0)));
    check("the conversion", money.net, money.bought - 300.0, 1e-12);
    let csv = ledger_to_csv(&document);
    assert!(csv.contains("'=cmd") && !csv.contains("\n=cmd"), "{csv}");
    assert_eq!(ledger_from_csv(&csv).expect("its own"), document.donor.removed);
    let german = "item;mass_kg;fate;price\nMotor;120,5;for sale;1234,5\n";
    let read = ledger_from_csv(german).expect("decimal commas");
    assert_eq!((read[0].mass_kg, read[0].sale_price, read[0].fate), (120.5, 1234.5, Fate::ForSale));
    for (text, named) in [
        ("item,mass_kg\nEngine,heavy\n", "row 2, mass_kg"),
        ("item,mass_kg\nEngine,\n", "row 2, mass_kg"),
        ("item,mass_kg,fate\nEngine,100,lost\n", "row 2, fate"),
        ("item,mass_kg,up_m\nEngine,100,70\n", "row 2, at.up_m"),
        ("item,mass_kg\n,100\n", "row 2.name"),
        ("thing,mass_kg\nEngine,100\n", "heading"),
        (&format!("item,mass_kg\n{}", "Engine,1\n".repeat(201)), "row 202"),
    ] {
        let refused = ledger_from_csv(text).expect_err(named).to_string();
        assert!(refused.contains(named), "{named}: {refused}");
    }
}
