//! Week, years, sockets and electrics through the real router: the answers of the core, and refusals that name their field.

use crate::common::{Service, demo};
use crate::inputs::{read, with};
use axum::http::{Method, StatusCode};
use joulethesis_core::layout::layout;
use serde_json::{Value, json};

async fn ask(s: &Service, path: &str, body: Value) -> (StatusCode, Value) {
    let answer = s.call(Method::POST, path, Some(body)).await;
    (answer.status, answer.body)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_week_is_told_with_what_mends_it() {
    let s = Service::new().await;
    let (status, week) = ask(&s, "/api/v1/week", demo("whimbrel-9-a")).await;
    assert_eq!(status, StatusCode::OK, "{week}");
    assert_eq!(week["assumed"], json!(false));
    let short = &week["seasons"][1]["shortfall"];
    assert!(short["short_km"].as_f64() > Some(0.0) && short["cause"] == "charge", "{short}");
    let (status, odds) = ask(&s, "/api/v1/week/odds", demo("whimbrel-9-a")).await;
    assert_eq!(status, StatusCode::OK, "{odds}");
    assert!(odds[0]["probability"].as_f64() > odds[1]["probability"].as_f64(), "{odds}");
    assert_eq!((&odds[1]["verdict"], &odds[1]["fails_at"]), (&json!("missed"), &week["seasons"][1]["shortfall"]["trip"]), "{odds}");
    // Applied as it stands, a mend holds: what it changes is exactly what it carries.
    let mends = week["mends"].as_array().expect("a list");
    assert!(!mends.is_empty());
    for mend in mends {
        let mut document = demo("whimbrel-9-a");
        for key in ["week", "sockets"] {
            if !mend[key].is_null() {
                document["brief"][key] = mend[key].clone();
            }
        }
        if !mend["design"].is_null() {
            document["design"] = mend["design"].clone();
        }
        let (_, after) = ask(&s, "/api/v1/week", document).await;
        assert!(after["seasons"].as_array().expect("two").iter().all(|r| r["shortfall"].is_null()), "{}", mend["words"]);
        assert_eq!(after["mends"], json!([]));
    }
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn years_compare_designs_and_refuse_what_is_none() {
    let s = Service::new().await;
    let document = demo("wren-a");
    let other = |design: Value| json!({ "name": "B", "design": design });
    let (status, years) = ask(&s, "/api/v1/years", json!({ "document": document, "others": [other(document["design"].clone())] })).await;
    assert_eq!(status, StatusCode::OK, "{years}");
    let options = years["options"].as_array().expect("options");
    let own = options.iter().find(|o| o["name"] == json!(["as it is"])).expect("as it is");
    assert_eq!(options.last().expect("B")["total"], own["total"], "the same design costs the same");
    let mut broken = document["design"].clone();
    broken["pack"]["modules_in_series"] = json!(4000);
    let (status, refusal) = ask(&s, "/api/v1/years", json!({ "document": document, "others": [other(broken)] })).await;
    assert_eq!((status, &refusal["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("design.pack.modules_in_series")));
    let many: Vec<Value> = (0..7).map(|_| other(document["design"].clone())).collect();
    let (status, refusal) = ask(&s, "/api/v1/years", json!({ "document": document, "others": many })).await;
    assert_eq!((status, &refusal["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("others")), "{refusal}");
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn sockets_and_electrics_are_told_or_say_what_is_missing() {
    let s = Service::new().await;
    let van = demo("whimbrel-9-a");
    let (status, sockets) = ask(&s, "/api/v1/sockets", json!({ "document": van, "from_soc": 0.2, "to_soc": 0.8 })).await;
    assert_eq!(status, StatusCode::OK, "{sockets}");
    let of = |name: &str| {
        sockets.as_array().expect("a list").iter().find(|x| x["socket"] == name && x["season"] == "usual").expect("told").clone()
    };
    // A wall box of 32 A at four fifths: the least cable code that bears 25.6 A is 32 A with 220 ohm, the pilot 25.6 / 0.6.
    assert_eq!(of("shed")["cable_code"], json!({ "amps_a": 32.0, "resistor_ohm": 220.0 }));
    assert!((of("shed")["pilot_duty_percent"].as_f64().expect("a duty") - 25.6 / 0.6).abs() < 1e-9);
    assert_eq!(of("ferry")["window"]["starts"], json!(false));
    assert!(of("bakery")["along"]["hours_h"].as_array().expect("samples").len() <= 62, "thinned for the drawing");
    for (from, to, at) in [(0.8, 0.2, "to_soc"), (0.5, 0.5, "to_soc"), (-0.1, 0.5, "from_soc"), (0.2, 1.2, "to_soc")] {
        let (status, refusal) = ask(&s, "/api/v1/sockets", json!({ "document": van, "from_soc": from, "to_soc": to })).await;
        assert_eq!((status, &refusal["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(at)), "{from} to {to}: {refusal}");
    }
    let (status, sheet) = ask(&s, "/api/v1/electrics", van.clone()).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(sheet["groups"][0]["id"], json!("traction"));
    // A record of one's own is among what may be chosen, and offered where it is the least that suffices.
    let mut cheap = json!({ "part": "component", "kind": "monitor", "name": "From the shelf", "cells": 36, "mass_kg": 0.4, "price": 5 });
    let (status, added) = ask(&s, "/api/v1/library", cheap.clone()).await;
    assert_eq!(status, StatusCode::CREATED, "{added}");
    let (_, choices) = ask(&s, "/api/v1/electrics/choices", json!({ "document": van, "slot": "monitor" })).await;
    assert_eq!(choices["choices"][0]["component"]["name"], json!("From the shelf"), "{choices}");
    let (_, sheet) = ask(&s, "/api/v1/electrics", van.clone()).await;
    let place =
        |sheet: &Value| sheet["places"].as_array().expect("places").iter().find(|p| p["slot"] == "monitor").cloned().expect("a place");
    assert_eq!(place(&sheet)["least"]["name"], json!("From the shelf"));
    cheap["current_a"] = json!(4);
    cheap["name"] = json!("Says too much");
    let (status, refusal) = ask(&s, "/api/v1/library", cheap).await;
    assert_eq!((status, &refusal["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("current_a")), "{refusal}");
    let (status, _) = ask(&s, "/api/v1/electrics/choices", json!({ "document": van, "slot": "rocket" })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let mut bare = van;
    bare["design"].as_object_mut().expect("a design").remove("pack");
    for path in ["/api/v1/week", "/api/v1/electrics"] {
        let (status, refusal) = ask(&s, path, bare.clone()).await;
        assert_eq!((status, &refusal["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("design.pack")), "{path}");
    }
    s.db.drop_database().await;
}

/// The layout is that of the core; what is wrong with a place or a box is named, and an absurd one is refused before anything is computed.
#[tokio::test(flavor = "multi_thread")]
async fn layouts_are_told_or_name_what_is_wrong() {
    let s = Service::new().await;
    let van = demo("whimbrel-9-a");
    let (status, sheet) = ask(&s, "/api/v1/layout", van.clone()).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(sheet, serde_json::to_value(layout(&read(&van))).expect("JSON"));
    let with_layout = |layout: Value| with(van.clone(), "/design/layout", layout);
    for (layout, path) in [
        (json!({ "pack": { "up_m": 700 } }), "design.layout.pack.up_m"),
        (json!({ "motor": { "length_m": 0 } }), "design.layout.motor.length_m"),
        (json!({ "charger": { "along": { "behind_front_axle_m": -50 } } }), "design.layout.charger.along.behind_front_axle_m"),
        (json!({ "boxes": [{ "name": "x", "modules": -1 }] }), "design.layout.boxes[0].modules"),
        (json!({ "boxes": [{ "name": "", "modules": 1 }] }), "design.layout.boxes[0].name"),
        (json!({ "boxes": vec![json!({ "name": "x", "modules": 1 }); 13] }), "design.layout.boxes"),
        (json!({ "driver": { "along": "sideways" } }), "design.layout.driver.along"),
        (json!({ "roof": {} }), "design.layout"),
    ] {
        let (status, problem) = ask(&s, "/api/v1/layout", with_layout(layout.clone())).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{layout}: {problem}");
        let told = problem["problems"].as_array().expect("problems");
        assert!(told.iter().any(|p| p["path"].as_str().is_some_and(|p| p.starts_with(path))), "{layout}: {problem}");
    }
    // Without motor or pack there is still a vehicle.
    let (status, sheet) = ask(&s, "/api/v1/layout", with(van, "/design", json!({}))).await;
    assert_eq!(
        (status, sheet["states"].as_array().map(Vec::len), sheet["cables"].as_array().map(Vec::len)),
        (StatusCode::OK, Some(5), Some(0))
    );
    s.db.drop_database().await;
}

/// What fits and how the pack is spread are those of the core over the whole library, own modules among them; what is wrong is named.
#[tokio::test(flavor = "multi_thread")]
async fn bays_are_filled_or_name_what_is_wrong() {
    let s = Service::new().await;
    let van = demo("whimbrel-9-a");
    let (status, all) = ask(&s, "/api/v1/layout/bay", json!({ "document": van, "bay": 0 })).await;
    assert_eq!(status, StatusCode::OK, "{all}");
    let count = all.as_array().map_or(0, Vec::len);
    let mut own = van["design"]["pack"]["module"].clone();
    (own["part"], own["name"], own["length_mm"]) = (json!("module"), json!("Cut short"), json!(120));
    let (status, _) = ask(&s, "/api/v1/library", own).await;
    assert_eq!(status, StatusCode::CREATED);
    let (_, all) = ask(&s, "/api/v1/layout/bay", json!({ "document": van, "bay": 0 })).await;
    let all = all.as_array().expect("a list");
    assert!(all.len() == count + 1 && all.iter().any(|o| o["name"] == "Cut short" && o["modules"].as_u64() > Some(21)), "{count}");
    let (status, splits) = ask(&s, "/api/v1/layout/splits", json!({ "document": van })).await;
    assert_eq!((status, &splits["tried"]), (StatusCode::OK, &json!(18)), "{splits}");
    // Taken as it stands, the layout holds the split that it was told for.
    let split = &splits["splits"][0];
    let (_, sheet) = ask(&s, "/api/v1/layout", with(van.clone(), "/design/layout", split["layout"].clone())).await;
    let holds: Vec<&Value> = sheet["bays"].as_array().expect("bays").iter().map(|b| &b["holds"]).collect();
    assert_eq!(holds, split["modules"].as_array().expect("numbers").iter().collect::<Vec<_>>());
    let bay = |bay: Value| with(van.clone(), "/donor/bays", json!([bay]));
    for (route, body, path) in [
        ("bay", json!({ "document": van, "bay": 3 }), "bay"),
        ("bay", json!({ "document": van, "bay": -1 }), "bay"),
        ("splits", json!({ "document": van, "modules": [9] }), "modules"),
        ("splits", json!({ "document": van, "modules": [9, 9, 9] }), "modules"),
        ("splits", json!({ "document": van, "others": ["design.layout.motor"] }), "others[0]"),
        ("splits", json!({ "document": bay(json!({ "name": "x", "at": { "length_m": -1 } })) }), "donor.bays[0].at.length_m"),
        ("splits", json!({ "document": bay(json!({ "name": "x", "at": { "height_m": 400 } })) }), "donor.bays[0].at.height_m"),
        ("splits", json!({ "document": bay(json!({ "name": "" })) }), "donor.bays[0].name"),
        ("splits", json!({ "document": bay(json!({ "name": "x", "mass_limit_kg": 0 })) }), "donor.bays[0].mass_limit_kg"),
    ] {
        let (status, problem) = ask(&s, &format!("/api/v1/layout/{route}"), body.clone()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{path}: {problem}");
        let told = problem["problems"].as_array().expect("problems");
        assert!(told.iter().any(|p| p["path"].as_str().is_some_and(|p| p.starts_with(path))), "{path}: {problem}");
    }
    // As files: the drawing program finds a layer for each kind of shape, and each shape as it is in millimetres.
    let (status, files) = ask(&s, "/api/v1/layout/files", demo("dunlin-a")).await;
    assert_eq!(status, StatusCode::OK, "{files}");
    let dxf = files["plate"]["dxf"].as_str().expect("a drawing");
    // By its group codes alone: 0 begins an entity, 8 is its layer, 10, 20 and 40 are middle and radius; header variable 9 INSUNITS, 70: 4, mm.
    let lines: Vec<&str> = dxf.lines().map(str::trim).collect();
    let pairs: Vec<(i32, &str)> = lines.chunks_exact(2).map(|p| (p[0].parse().expect("a group code"), p[1])).collect();
    let entities: Vec<&[(i32, &str)]> = pairs.split(|(code, _)| *code == 0).collect();
    let units = pairs.iter().position(|p| *p == (9, "$INSUNITS")).expect("units");
    assert_eq!(pairs[units + 1], (70, "4"));
    let mut holes: Vec<[f64; 3]> = Vec::new();
    for entity in entities.iter().filter(|e| e.contains(&(8, "HOLES"))) {
        let number = |code: i32| entity.iter().find(|p| p.0 == code).and_then(|p| p.1.parse().ok()).unwrap_or(f64::NAN);
        holes.push([number(10), number(20), number(40)]);
    }
    assert_eq!(holes.len(), 12, "{dxf}");
    assert_eq!(holes[0], [0.0, 0.0, 55.0]);
    assert!(holes.contains(&[-148.0, 16.0, 6.0]));
    assert!(entities.iter().filter(|e| e.contains(&(8, "CUT"))).count() > 8);
    assert!(
        files["plate"]["svg"].as_str().is_some_and(|svg| svg.contains("mm\""))
            && files["account_csv"].as_str().is_some_and(|c| c.starts_with("row,"))
    );
    let (_, files) = ask(&s, "/api/v1/layout/files", van.clone()).await;
    assert!(files.get("plate").is_none() && files["plan"]["dxf"].as_str().is_some_and(|dxf| dxf.contains("under the bonnet")));
    // Not weighed yet is no error.
    let (status, weighed) = ask(&s, "/api/v1/weighing", with(van, "/donor/evidence", json!({}))).await;
    assert_eq!((status, weighed), (StatusCode::OK, Value::Null));
    s.db.drop_database().await;
}

/// A teardown is planned by kind and year and its ledger leaves and returns; a weighing is the core's; faults name their rows.
#[tokio::test(flavor = "multi_thread")]
async fn a_donor_is_weighed_and_taken_apart() {
    let s = Service::new().await;
    let van = demo("whimbrel-9-a");
    let (status, plan) = ask(&s, "/api/v1/teardown", van.clone()).await;
    assert_eq!(status, StatusCode::OK, "{plan}");
    let done = |plan: &Value| -> Vec<String> {
        let steps = plan["steps"].as_array().expect("steps").iter();
        steps.filter(|s| s["done"] == true).map(|s| s["name"].as_str().expect("a name").to_owned()).collect()
    };
    assert_eq!(done(&plan), ["Tank and fuel lines", "Coolant and radiator", "Exhaust", "Engine", "Clutch and flywheel"]);
    let csv = plan["csv"].as_str().expect("text").to_owned();
    let back = s.text("/api/v1/ledger", csv.clone()).await;
    assert_eq!((back.status, &back.body), (StatusCode::OK, &serde_json::to_value(&read(&van).donor.removed).expect("JSON")));
    for (text, path) in [
        (csv.replacen("128", "heavy", 1), "row 2, mass_kg"),
        (csv.replacen(",sold,", ",eaten,", 1), "row 2, fate"),
        ("nothing".to_owned(), "heading"),
        (String::new(), "heading"),
    ] {
        let refused = s.text("/api/v1/ledger", text).await;
        let told = refused.body["problems"][0]["path"].as_str().unwrap_or_default().to_owned();
        assert!(refused.status == StatusCode::UNPROCESSABLE_ENTITY, "{path}: {}", refused.body);
        assert!(told.starts_with(path), "{path}: {}", refused.body);
    }
    let (status, weighed) = ask(&s, "/api/v1/weighing", van.clone()).await;
    assert_eq!((status, &weighed["mass_kg"]), (StatusCode::OK, &json!(1085.0)), "{weighed}");
    for (weighing, path) in [
        (json!({ "front_kg": -1 }), "donor.evidence.weighing.front_kg"),
        (json!({ "lifted": "both" }), "donor.evidence.weighing.lifted"),
        (json!({ "lifted_by_m": 40 }), "donor.evidence.weighing.lifted_by_m"),
    ] {
        let (status, refused) = ask(&s, "/api/v1/weighing", with(van.clone(), "/donor/evidence/weighing", weighing)).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{path}");
        assert!(refused["problems"][0]["path"].as_str().is_some_and(|p| p.starts_with(path)), "{path}: {refused}");
    }
    s.db.drop_database().await;
}
