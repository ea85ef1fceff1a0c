//! What is stored is what was sent: records as the interface makes them, with nothing said that need not be, come back without a key more.
//! A page would take such a key for another window's edit.

use crate::common::{documents::demo, with};
use joulethesis_core::document::{Design, Donor, Shortlist, section};
use serde_json::{Value, json};

/// Keys that come back and were not sent, by their places.
fn grown(sent: &Value, stored: &Value, at: &str, out: &mut Vec<String>) {
    match (sent, stored) {
        (Value::Object(a), Value::Object(b)) => {
            for (key, value) in b {
                let place = format!("{at}.{key}");
                match a.get(key) {
                    Some(was) => grown(was, value, &place, out),
                    None => out.push(place),
                }
            }
        }
        (Value::Array(a), Value::Array(b)) => a.iter().zip(b).enumerate().for_each(|(i, (x, y))| grown(x, y, &format!("{at}[{i}]"), out)),
        _ => {}
    }
}

#[test]
fn new_records_of_a_donor_come_back_as_they_were_sent() {
    let van = &demo("whimbrel-9-a")["donor"];
    let stored = |donor: &Value| serde_json::to_value(section::<Donor>(donor).expect("sound")).expect("JSON");
    // What the demo leaves out and the service fills in was so before; nothing of what is added here may join it.
    let mut usual = Vec::new();
    grown(van, &stored(van), "donor", &mut usual);
    for (at, value) in [
        ("/condition", json!({ "body": 3 })),
        ("/already_electric", json!(["steering"])),
        ("/bolt_patterns", json!([{ "name": "Holes 1" }, { "name": "Holes 2", "thread": "M10", "points": [{ "behind_m": 0.5 }] }])),
        (
            "/underlays",
            json!({ "side": { "photograph": "x", "front_across": 0.2, "front_down": 0.7, "rear_across": 0.8, "rear_down": 0.7 } }),
        ),
        ("/evidence/passes", json!([{ "to_kmh": 50.0 }, { "to_kmh": 80.0, "from_kmh": 30.0, "runs": [{ "seconds": 7.5 }] }])),
        ("/evidence/network", json!({ "seconds": 1.5, "messages": [{ "id": "1A0", "frames": 3, "length": 2 }] })),
        ("/bays", json!([{ "name": "Bay 1", "clearance_m": 0.01 }])),
        ("/removed", json!([{ "name": "Item", "mass_kg": 10.0, "sale_price": 0.0 }])),
    ] {
        let sent = with(van.clone(), at, value);
        let mut more = Vec::new();
        grown(&sent, &stored(&sent), "donor", &mut more);
        more.retain(|place| !usual.contains(place));
        assert_eq!(more, Vec::<String>::new(), "{at}");
    }
}

#[test]
fn new_records_of_a_design_come_back_as_they_were_sent() {
    let van = &demo("whimbrel-9-a")["design"];
    let stored = |design: &Value| serde_json::to_value(section::<Design>(design).expect("sound")).expect("JSON");
    let mut usual = Vec::new();
    grown(van, &stored(van), "design", &mut usual);
    for (at, value) in [
        ("/mechanics", json!({ "chain": { "number": "50", "front_teeth": 17, "centre_mm": 500.0 } })),
        ("/mechanics", json!({ "shaft": { "diameter_mm": 28.0, "key_length_mm": 40.0 }, "coupler": { "bolts": 6, "radius_mm": 40.0 } })),
        (
            "/mechanics",
            json!({ "mounts": [{ "of": "pack", "bolts": 4 }, { "of": "added", "name": "x", "bolts": 2 }], "no_new_holes": true }),
        ),
        ("/mechanics", json!({ "retention": { "along_g": 10.0 } })),
        // As the interface's buttons make them.
        ("/mechanics", json!({ "belt": { "pitch_mm": 8.0, "front_teeth": 28, "centre_mm": 500.0 } })),
        (
            "/mechanics",
            json!({ "plate": { "thickness_mm": 15.0, "bore_mm": 80.0, "motor": { "holes": 4, "radius_mm": 65.0, "hole_mm": 10.5 },
                "gearbox": [{ "name": "1", "right_mm": 0.0, "up_mm": 120.0, "hole_mm": 10.5 }] } }),
        ),
        (
            "/added",
            json!([{ "name": "Item", "mass_kg": 5.0, "price": 0.0 }, { "name": "Heater", "mass_kg": 5.0, "price": 0.0, "beware": "hot" }]),
        ),
        ("/layout/boxes", json!([{ "name": "Box 2", "modules": 3 }])),
    ] {
        let sent = with(van.clone(), at, value);
        let mut more = Vec::new();
        grown(&sent, &stored(&sent), "design", &mut more);
        more.retain(|place| !usual.contains(place));
        assert_eq!(more, Vec::<String>::new(), "{at}");
    }
}

#[test]
fn a_shortlist_without_candidates_is_nothing_and_stored_donors_are_stored_again_unchanged() {
    let none = serde_json::to_value(section::<Shortlist>(&json!({})).expect("sound")).expect("JSON");
    assert_eq!(none, json!({}));
    for name in ["whimbrel-9-a", "pipit-b", "wren-a", "dunlin-a"] {
        let once = serde_json::to_value(section::<Donor>(&demo(name)["donor"]).expect("sound")).expect("JSON");
        let twice = serde_json::to_value(section::<Donor>(&once).expect("sound")).expect("JSON");
        assert_eq!(once, twice, "{name}");
        let list = json!({ "candidates": [{ "id": "a", "donor": once }] });
        assert_eq!(serde_json::to_value(section::<Shortlist>(&list).expect("sound")).expect("JSON"), list, "{name}");
    }
}
