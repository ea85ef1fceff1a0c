//! Whatever is sent to whichever route, the answer is what the route promises or a refusal that the sender can mend: no panic, no 5xx.
//! The routes are those of the description, so that a new one is tried as soon as it is described.

use crate::common::{Service, demo};
use crate::inputs::cases;
use crate::inputs::spoilt::{edited, edits, spoil, spoilt};
use axum::body::Body;
use axum::http::{Request, StatusCode, header};
use proptest::prelude::*;
use proptest::test_runner::TestRunner;
use serde_json::{Value, json};

/// One operation of the description.
pub(crate) struct Operation {
    pub(crate) method: String,
    pub(crate) path: String,
    media_type: String,
    pub(crate) body: Option<String>,
    /// Statuses that the description promises.
    pub(crate) promised: Vec<u16>,
}

/// A sound body of each operation that takes one, or nothing: the test then asks for it.
fn sound_body(operation_id: &str, document: &Value) -> Option<Value> {
    let conversion = json!({ "version": 1, "name": "Pipit", "notes": "", "units": "metric", "brief": document["brief"], "donor": document["donor"],
        "shortlist": { "candidates": [{ "id": "a", "donor": document["donor"] }] } });
    let mut motor = document["design"]["motor"].clone();
    motor["part"] = json!("motor");
    let design = &document["design"];
    let pick = json!({ "motor": design["motor"]["name"], "motor_count": 1, "motor_place": "shaft", "gearing": "keep",
        "controller": design["controller"]["name"], "module": design["pack"]["module"]["name"], "modules_in_series": 14,
        "strings_in_parallel": 1, "charger": design["charger"]["name"] });
    Some(match operation_id {
        "conversions_add" => json!({ "name": "Pipit", "kind": "kart" }),
        "conversions_change" => conversion,
        "designs_add" => json!({ "design": document["design"] }),
        "designs_change" => json!({ "version": 1, "design": document["design"] }),
        "library_add" => motor,
        "library_change" => json!({ "version": 1, "record": motor }),
        "library_remove_many" => json!({ "parts": [] }),
        "recordings_keep" => json!({ "trace": [{ "time_s": 0, "speed_kmh": 0 }, { "time_s": 9, "speed_kmh": 30 }] }),
        "library_retire" => json!({ "version": 1, "retired": true }),
        "library_import" => {
            motor["name"] = json!("Imported");
            json!({ "format": "joulethesis-library", "version": 1, "parts": [motor] })
        }
        "estimate_alternatives" => json!({ "document": document, "part": "motor" }),
        "electrics_choices" => json!({ "document": document, "slot": "pack_fuse" }),
        "study_tornado" | "study_explanation" => json!({ "document": document, "figure": "cost" }),
        "usage_sockets" => json!({ "document": document, "from_soc": 0.2, "to_soc": 0.8 }),
        "usage_years" => json!({ "document": document, "others": [{ "name": "B", "design": document["design"] }] }),
        "study_trip" | "study_drives" => json!({ "document": document, "trip": document["brief"]["trips"][0]["id"] }),
        // A search of everything takes a while: one motor is enough to pass through all of it.
        "match_search" => json!({ "document": document, "request": { "only": { "motors": [document["design"]["motor"]["name"]] } },
            "keep": { "conversion": "00000000-0000-7000-8000-000000000000", "name": "main", "asked": "x" } }),
        "match_why_not" => json!({ "document": document, "question": { "motor": document["design"]["motor"]["name"] } }),
        // Around a whole chain there is one thing to propose.
        "match_proposal" => {
            json!({ "document": document, "answers": { "fastest_kmh": 20 }, "keep": ["motor", "controller", "module", "charger"] })
        }
        "measure_plate" => json!({ "part": "motor", "name": "m", "kind": "hub", "volts_v": 48, "amps_a": 30, "speed_rpm": 600 }),
        "match_designs" => json!({ "document": document, "picks": [pick] }),
        "layout_bay" => json!({ "document": document, "bay": 0 }),
        "candidates_compare" => {
            json!({ "document": document, "shortlist": conversion["shortlist"], "chains": { "a": document["design"] } })
        }
        "layout_splits" => json!({ "document": document }),
        "measure_bench" => {
            json!({ "name": "m", "kind": "pm_synchronous", "max_speed_rpm": 5000, "peak_current_a": 300, "continuous_power_w": 4000,
            "mass_kg": 14, "no_load": [{ "volts_v": 24, "amps_a": 4, "speed_rpm": 1700 }, { "volts_v": 48, "amps_a": 5, "speed_rpm": 3400 }],
            "locked": [{ "volts_v": 1, "amps_a": 60 }] })
        }
        "measure_network" => json!({ "log": "(1.0) can0 1A0#00\n(1.1) can0 1A0#01\n" }),
        "photographs_add" => {
            json!({ "caption": "Nose", "picture": "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==" })
        }
        "photographs_describe" => json!({ "caption": "Nose", "about": "" }),
        "measure_ledger" => json!("item,mass_kg,fate,price\nEngine,120,sold,300\nTank,16,kept,\n"),
        "measure_coast_runs" | "measure_track" => json!("time_s,speed_kmh,direction\n0,60,out\n1,59,out\n2,58,out\n"),
        "conversions_import" | "estimate_compute" | "study_bands" | "study_choices" | "study_curves" | "match_needs" | "match_fixes"
        | "library_newer" | "usage_week" | "usage_week_odds" | "electrics_sheet" | "layout_sheet" | "measure_road_load"
        | "measure_weighing" | "layout_mechanics" | "layout_files" | "measure_passes" | "measure_silent" | "measure_teardown" => {
            document.clone()
        }
        _ => return None,
    })
}

pub(crate) fn operations(document: &Value) -> Vec<Operation> {
    let description = serde_json::to_value(joulethesis_server::open_api()).expect("JSON");
    let mut all = Vec::new();
    for (path, methods) in description["paths"].as_object().expect("paths") {
        for (method, operation) in methods.as_object().expect("methods") {
            let id = operation["operationId"].as_str().expect("an id");
            let (mut media_type, mut body) = (String::new(), None);
            if let Some(content) = operation["requestBody"]["content"].as_object() {
                let sound = sound_body(id, document).unwrap_or_else(|| panic!("{id} takes a body: give a sound one above"));
                media_type = content.keys().next_back().expect("a type").clone();
                body = Some(sound.as_str().map_or_else(|| sound.to_string(), str::to_owned));
            }
            let promised = operation["responses"].as_object().expect("responses").keys().filter_map(|k| k.parse().ok()).collect();
            all.push(Operation { method: method.to_uppercase(), path: path.clone(), media_type, body, promised });
        }
    }
    all
}

/// Spoiling that spoils nothing.
pub(crate) const SOUND: Spoiling = Spoiling::Numbers(Vec::new());

/// What is done to one request.
#[derive(Debug)]
pub(crate) enum Spoiling {
    /// Edits of the body's text.
    Text(Vec<(u8, usize, usize, usize)>),
    /// Numbers of the document within it.
    Numbers(Vec<(usize, f64, usize)>),
    /// The body stays; the address does not.
    Address(Vec<(u8, usize, usize, usize)>),
    /// Bytes that are no text.
    Bytes(Vec<u8>),
}

fn spoiling() -> impl Strategy<Value = Spoiling> {
    prop_oneof![
        4 => edits().prop_map(Spoiling::Text),
        3 => prop::collection::vec(spoilt(), 1..4).prop_map(Spoiling::Numbers),
        1 => edits().prop_map(Spoiling::Address),
        1 => prop::collection::vec(any::<u8>(), 0..200).prop_map(Spoiling::Bytes),
    ]
}

/// Spoils the document that is a body, or stands in one.
fn spoil_within(mut body: Value, places: &[(usize, f64, usize)]) -> Value {
    match body.get("document").cloned() {
        Some(document) => body["document"] = spoil(document, places),
        None if body["brief"].is_object() && body["design"].is_object() => body = spoil(body, places),
        None => {}
    }
    body
}

pub(crate) fn request(operation: &Operation, spoiling: &Spoiling, id: &str) -> Option<Request<Body>> {
    let mut path = operation.path.replace("{id}", id);
    if operation.method == "DELETE" {
        path.push_str("?version=1");
    }
    let text = operation.body.clone().unwrap_or_default();
    let body = match spoiling {
        Spoiling::Text(edits) if !text.is_empty() => edited(&text.replace(",\"", ",\n\""), &[':', ',', '"', '{', '['], edits).into_bytes(),
        Spoiling::Numbers(places) => match serde_json::from_str(&text) {
            Ok(value) => spoil_within(value, places).to_string().into_bytes(),
            Err(_) => text.into_bytes(),
        },
        Spoiling::Bytes(bytes) => bytes.clone(),
        Spoiling::Address(edits) => {
            path = edited(&path, &['/', '?', '='], edits).replace(['\n', '\r'], "%0a").replace(' ', "%00");
            text.into_bytes()
        }
        Spoiling::Text(_) => text.into_bytes(),
    };
    let request = Request::builder().method(operation.method.as_str()).uri(path).header(header::HOST, "127.0.0.1:8080");
    // What no client can send, such as a path with control characters, is refused before it gets here.
    request.header(header::CONTENT_TYPE, operation.media_type.as_str()).body(Body::from(body)).ok()
}

#[test]
fn no_route_panics_or_blames_itself_for_what_it_was_sent() {
    let runtime = tokio::runtime::Runtime::new().expect("a runtime");
    let document = demo("pipit-a");
    let operations = operations(&document);
    let s = runtime.block_on(Service::new());
    let added = runtime.block_on(s.call(axum::http::Method::POST, "/api/v1/conversions/import", Some(document)));
    assert_eq!(added.status, StatusCode::CREATED, "{}", added.body);
    let ids = [added.body["id"].clone(), added.body["designs"][0]["id"].clone(), json!("018f0000-0000-7000-8000-000000000000")];
    // The sound bodies are sound, so that what is spoilt is what is tried.
    for operation in operations.iter().filter(|o| o.body.is_some() && !o.path.contains("{id}")) {
        let answer = runtime.block_on(s.send(request(operation, &SOUND, "").expect("a request")));
        assert!(answer.status.is_success(), "{} {}: {} {}", operation.method, operation.path, answer.status, answer.body);
    }
    let taken = std::cell::Cell::new(0);
    let outcome = TestRunner::new(cases(400)).run(&(0..operations.len(), 0..ids.len(), spoiling()), |(which, id, spoiling)| {
        let operation = &operations[which];
        let Some(request) = request(operation, &spoiling, ids[id].as_str().expect("an id")) else { return Ok(()) };
        let called = format!("{} {}", request.method(), request.uri());
        let answer = runtime.block_on(s.send(request));
        prop_assert!(!answer.status.is_server_error(), "{called}: {} {}", answer.status, answer.body);
        if answer.status.is_success() {
            taken.set(taken.get() + 1);
        } else {
            prop_assert_eq!(&answer.headers[header::CONTENT_TYPE], "application/problem+json", "{}", called);
            prop_assert!(answer.body["detail"].as_str().is_some_and(|d| !d.is_empty()), "{called}: {}", answer.body);
            prop_assert!(answer.body.to_string().len() < 60_000, "{called}: {} bytes", answer.body.to_string().len());
        }
        Ok(())
    });
    runtime.block_on(s.db.drop_database());
    outcome.unwrap_or_else(|e| panic!("{e}"));
    let taken = taken.get();
    assert!(taken > 20, "only {taken} requests were taken: the rest of the service was not tried");
}
