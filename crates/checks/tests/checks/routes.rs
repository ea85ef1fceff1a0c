//! What cables and boxes of the pack pass, against points sampled along them; each rule on what it is for, and silent without it.

use crate::common::{cases, documents::demo, read, with};
use joulethesis_core::layout::{PassedBy, cables, passed};
use joulethesis_core::report::report;
use proptest::prelude::*;
use serde_json::{Value, json};

/// The van with controller, pack and motor placed, and nothing else said of places.
fn placed(controller: [f64; 3], pack: [f64; 3]) -> Value {
    let mut van = demo("whimbrel-9-a");
    let at = |p: [f64; 3]| json!({ "along": { "behind_front_axle_m": p[0] }, "right_m": p[1], "up_m": p[2] });
    van["design"]["layout"] = json!({ "controller": at(controller), "pack": at(pack) });
    van["design"]["added"] = json!([]);
    van
}

fn rules(v: &Value) -> Vec<(String, String)> {
    let own = report(&read(v)).expect("a report").findings.into_iter().filter(|f| f.rule.id().starts_with("route."));
    own.map(|f| (f.rule.id().to_owned(), f.message.to_string())).collect()
}

#[test]
fn a_cable_through_a_seat_is_found_and_one_beside_it_is_not() {
    // Forward of the seat at the height of a knee, then back along the middle.
    let van = placed([0.2, 0.0, 0.7], [2.0, 0.0, 0.7]);
    let seat = |right: f64, up: f64| {
        with(van.clone(), "/design/layout/driver", json!({ "along": { "behind_front_axle_m": 1.0 }, "right_m": right, "up_m": up }))
    };
    assert_eq!(
        rules(&seat(0.0, 0.9)),
        [("route.through-people".to_owned(), "Traction cable runs through the place of the driver.".to_owned())]
    );
    assert_eq!(rules(&seat(-0.4, 0.9)), [], "a seat beside the middle");
    assert_eq!(rules(&seat(0.0, 1.3)), [], "under the cushion");
    // A pack of less than 60 V hurts nobody who touches it.
    let low = with(seat(0.0, 0.9), "/design/pack/modules_in_series", json!(1));
    assert!(passed(&read(&low)).is_empty());
    // Where nobody said how high the seat is, nothing is guessed.
    let unsaid = with(van, "/design/layout/driver", json!({ "along": { "behind_front_axle_m": 1.0 } }));
    assert_eq!(rules(&unsaid), []);
}

#[test]
fn heat_fuel_and_the_ends_of_the_body_are_kept_from_cables_and_cells() {
    let van = placed([0.2, 0.0, 0.7], [2.0, 0.0, 0.7]);
    let added = |beware: Option<&str>, right: f64| {
        let at = json!({ "along": { "behind_front_axle_m": 1.2 }, "right_m": right, "up_m": 0.7, "length_m": 0.2, "width_m": 0.2, "height_m": 0.2 });
        let mut item = json!({ "name": "Cabin heater", "mass_kg": 4, "at": at });
        if let Some(beware) = beware {
            item["beware"] = json!(beware);
        }
        with(van.clone(), "/design/added", json!([item]))
    };
    let says = |rule: &str, words: &str| vec![(rule.to_owned(), words.to_owned())];
    assert_eq!(rules(&added(Some("hot"), 0.15)), says("route.near-heat", "Traction cable passes Cabin heater at 0.05 m; 0.10 m are kept."));
    assert_eq!(rules(&added(Some("hot"), 0.05)), says("route.near-heat", "Traction cable runs through Cabin heater."));
    assert_eq!(rules(&added(Some("hot"), 0.21)), []);
    assert_eq!(
        rules(&added(Some("fuel"), 0.25)),
        says("route.near-fuel", "Traction cable passes Cabin heater at 0.15 m; 0.20 m are kept.")
    );
    assert_eq!(rules(&added(None, 0.0)), [], "nothing to beware of");
    // A box whose front lies a tenth of a metre behind the nose, and one that lies well inside.
    let boxed = |along: f64, kind: &str| {
        let mut v = placed([0.2, 0.0, 0.7], [along, 0.0, 0.4]);
        for (key, size) in [("length_m", 0.4), ("width_m", 0.6), ("height_m", 0.3)] {
            v["design"]["layout"]["pack"][key] = json!(size);
        }
        (v["donor"]["overhang_front_m"], v["donor"]["kind"]) = (json!(0.7), json!(kind));
        v
    };
    assert_eq!(rules(&boxed(-0.4, "van")), says("route.crush-zone", "Pack lies 0.10 m behind the nose; the first 0.30 m crush."));
    assert_eq!(rules(&boxed(0.4, "van")), []);
    assert_eq!(rules(&boxed(-0.4, "quad")), [], "no body to crush");
}

proptest! {
    #![proptest_config(cases(150))]

    /// A cable is said to pass a thing exactly when a point of it lies nearer than what is kept.
    #[test]
    fn nearness_is_that_of_the_nearest_point(
        from in prop::array::uniform3(-0.4_f64..1.0), to in prop::array::uniform3(0.0_f64..2.0),
        centre in prop::array::uniform3(0.0_f64..1.5), size in prop::array::uniform3(0.1_f64..0.6),
    ) {
        let mut van = placed(from, to);
        van["design"]["added"] = json!([{ "name": "Tank", "mass_kg": 5, "beware": "fuel", "at": { "along": { "behind_front_axle_m": centre[0] },
            "right_m": centre[1], "up_m": centre[2], "length_m": size[0], "width_m": size[1], "height_m": size[2] } }]);
        let document = read(&van);
        let run = cables(&document).remove(0);
        let gap = |p: [f64; 3]| (0..3).map(|i| ((p[i] - centre[i]).abs() - 0.5 * size[i]).max(0.0).powi(2)).sum::<f64>().sqrt();
        let steps = 400;
        let between = |a: f64, b: f64, i: i32| a + (b - a) * f64::from(i) / f64::from(steps);
        let sampled = run.corners_m.windows(2)
            .flat_map(|w| (0..=steps).map(move |i| std::array::from_fn(|k| between(w[0][k], w[1][k], i))))
            .map(gap).fold(f64::INFINITY, f64::min);
        let told = passed(&document).into_iter().find(|p| p.by == PassedBy::Fuel && p.what == "Traction cable");
        match told {
            Some(p) => prop_assert!((p.apart_m - sampled).abs() < 0.006 && sampled < 0.2 + 1e-9, "{p:?} against {sampled}"),
            None => prop_assert!(sampled >= 0.2 - 1e-9, "passed at {sampled}"),
        }
    }
}
