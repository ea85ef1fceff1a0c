//! The HTTP contract, through the real router and a real PostgreSQL.

use crate::common::{Service, demo};
use axum::body::Body;
use axum::http::{Method, Request, StatusCode, header};
use serde_json::{Value, json};

#[tokio::test(flavor = "multi_thread")]
async fn from_nothing_to_a_judged_design() {
    let s = Service::new().await;
    assert_eq!(s.call(Method::GET, "/api/v1/conversions", None).await.body, json!([]));
    let added = s.call(Method::POST, "/api/v1/conversions", Some(json!({ "name": "Whimbrel 9", "kind": "van" }))).await;
    assert_eq!(added.status, StatusCode::CREATED, "{}", added.body);
    let conversion = added.body;
    let design = &conversion["designs"][0];

    // Without parts the estimate says which are missing.
    let mut document = s.call(Method::GET, &format!("/api/v1/designs/{}/document", design["id"].as_str().expect("id")), None).await.body;
    let missing = s.call(Method::POST, "/api/v1/estimate", Some(document.clone())).await;
    assert_eq!(missing.status, StatusCode::UNPROCESSABLE_ENTITY);
    let paths: Vec<&str> = missing.body["problems"].as_array().expect("a list").iter().filter_map(|p| p["path"].as_str()).collect();
    assert_eq!(paths, ["design.motor", "design.controller", "design.pack"]);

    let chosen = demo("whimbrel-9-a")["design"].clone();
    let path = format!("/api/v1/designs/{}", design["id"].as_str().expect("id"));
    let written = s.call(Method::PUT, &path, Some(json!({ "version": 1, "design": chosen }))).await;
    assert_eq!((written.status, &written.body["version"]), (StatusCode::OK, &json!(2)), "{}", written.body);
    document["design"] = chosen;
    let estimate = s.call(Method::POST, "/api/v1/estimate", Some(document.clone())).await;
    assert_eq!(estimate.status, StatusCode::OK, "{}", estimate.body);
    assert_eq!(estimate.body["claims"].as_array().map(Vec::len), document["brief"]["goals"].as_array().map(Vec::len));

    // Every alternative either computes or says why not; the part in use changes nothing.
    let others = s.call(Method::POST, "/api/v1/alternatives", Some(json!({ "document": document, "part": "motor" }))).await.body;
    let others = others.as_array().expect("a list");
    assert!(others.iter().all(|o| o["outcome"].is_object() != o["refusal"].is_string()), "{others:?}");
    let same = others.iter().find(|o| o["name"] == document["design"]["motor"]["name"]).expect("listed");
    assert_eq!(same["outcome"]["claims"], estimate.body["claims"]);
    s.db.drop_database().await;
}

/// The list says of every conversion what its own page says, and in whose units.
#[tokio::test(flavor = "multi_thread")]
async fn the_list_tells_the_verdicts_of_the_estimate() {
    let s = Service::new().await;
    for (name, units) in [("whimbrel-9-a", "imperial"), ("wren-a", "mix"), ("dunlin-a", "metric"), ("pipit-b", "metric")] {
        let document = demo(name);
        let added = s.call(Method::POST, "/api/v1/conversions/import", Some(document.clone())).await.body;
        let path = format!("/api/v1/conversions/{}", added["id"].as_str().expect("id"));
        let mut change = json!({ "units": units });
        for key in ["name", "notes", "brief", "donor", "shortlist", "version"] {
            change[key] = added[key].clone();
        }
        let changed = s.call(Method::PUT, &path, Some(change)).await;
        assert_eq!(changed.status, StatusCode::OK, "{name}: {}", changed.body);
        let glance = s.call(Method::GET, &format!("{path}/glance"), None).await.body;
        let estimate = s.call(Method::POST, "/api/v1/estimate", Some(document)).await.body;
        let told = |claims: &Value| {
            claims.as_array().expect("claims").iter().map(|c| (c["name"].clone(), c["verdict"].clone())).collect::<Vec<_>>()
        };
        assert_eq!(told(&glance[0]["claims"]), told(&estimate["claims"]), "{name}: {}", glance[0]["problem"]);
        assert!(!told(&glance[0]["claims"]).is_empty(), "{name}");
        let list = s.call(Method::GET, "/api/v1/conversions", None).await.body;
        let own = list.as_array().expect("a list").iter().find(|c| c["id"] == added["id"]).expect("listed");
        assert_eq!(own["units"], json!(units), "{name}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_new_conversion_with_answers_stands_judged_and_is_proposed_anew() {
    let s = Service::new().await;
    let new = json!({ "name": "Pipit", "kind": "trike", "answers": { "longest_trip_km": 20, "fastest_kmh": 40 } });
    let added = s.call(Method::POST, "/api/v1/conversions", Some(new)).await;
    assert_eq!(added.status, StatusCode::CREATED, "{}", added.body);
    let design = &added.body["designs"][0]["design"];
    assert_eq!(design["proposed"], json!(true));
    assert_eq!(added.body["brief"]["answers"], json!({ "longest_trip_km": 20.0, "fastest_kmh": 40.0 }));

    // The list tells how it stands.
    let path = format!("/api/v1/conversions/{}/glance", added.body["id"].as_str().expect("id"));
    let glance = s.call(Method::GET, &path, None).await.body;
    assert_eq!((&glance[0]["label"], &glance[0]["proposed"], &glance[0]["stops"]), (&json!("A"), &json!(true), &json!(0)));
    let verdicts: Vec<&str> = glance[0]["claims"].as_array().expect("claims").iter().filter_map(|c| c["verdict"].as_str()).collect();
    assert_eq!(verdicts, ["met"; 4]);

    // Another answer, with the motor kept.
    let document = json!({ "format": "joulethesis-design", "version": 1, "name": "Pipit A", "brief": added.body["brief"],
        "donor": added.body["donor"], "design": design });
    let ask = json!({ "document": document, "answers": { "longest_trip_km": 30 }, "keep": ["motor"] });
    let again = s.call(Method::POST, "/api/v1/match/proposal", Some(ask)).await;
    assert_eq!(again.status, StatusCode::OK, "{}", again.body);
    assert_eq!(again.body["proposal"]["design"]["motor"], design["motor"]);
    let range = &again.body["brief"]["goals"][0];
    assert_eq!((&range["measure"]["at_least_km"], &range["assumed"]), (&json!(30.0), &json!(null)));
    assert_eq!(again.body["brief"]["goals"][1]["assumed"], json!(true), "what is no longer known is assumed");

    // Answers that cannot be are refused by name, and nothing is added.
    let refused =
        s.call(Method::POST, "/api/v1/conversions", Some(json!({ "name": "x", "kind": "car", "answers": { "fastest_kmh": 9000 } }))).await;
    assert_eq!((refused.status, &refused.body["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("fastest_kmh")));
    assert_eq!(s.call(Method::GET, "/api/v1/conversions", None).await.body.as_array().map(Vec::len), Some(1));
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_late_write_gets_409_with_the_current_version() {
    let s = Service::new().await;
    let c = s.call(Method::POST, "/api/v1/conversions/import", Some(demo("pipit-a"))).await.body;
    let path = format!("/api/v1/conversions/{}", c["id"].as_str().expect("id"));
    let change = |version: i32| json!({ "version": version, "name": "Pipit", "notes": "", "units": "imperial", "brief": c["brief"], "donor": c["donor"], "shortlist": {} });
    let written = s.call(Method::PUT, &path, Some(change(1))).await.body;
    // What is stored comes back, as the base of the next write.
    assert_eq!((&written["version"], &written["units"], &written["brief"]), (&json!(2), &json!("imperial"), &c["brief"]));
    let late = s.call(Method::PUT, &path, Some(change(1))).await;
    assert_eq!((late.status, &late.body["current_version"]), (StatusCode::CONFLICT, &json!(2)));
    assert_eq!(late.headers[header::CONTENT_TYPE], "application/problem+json");
    assert_eq!(s.call(Method::DELETE, &path, None).await.status, StatusCode::BAD_REQUEST);
    assert_eq!(s.call(Method::DELETE, &format!("{path}?version=2"), None).await.status, StatusCode::NO_CONTENT);
    assert_eq!(s.call(Method::GET, &path, None).await.status, StatusCode::NOT_FOUND);
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn hostile_requests_are_refused_with_words() {
    let s = Service::new().await;
    let json_post = |body: Body| {
        Request::post("/api/v1/estimate")
            .header(header::HOST, "localhost")
            .header(header::CONTENT_TYPE, "application/json")
            .body(body)
            .expect("a request")
    };
    for (request, status) in [
        (json_post(Body::from(vec![0xFE; 1 << 20])), StatusCode::BAD_REQUEST),
        (json_post(Body::from("{\"a\":".repeat(50_000))), StatusCode::BAD_REQUEST),
        (json_post(Body::from(vec![b' '; 9 << 20])), StatusCode::PAYLOAD_TOO_LARGE),
        (json_post(Body::from("{}")), StatusCode::UNPROCESSABLE_ENTITY),
        (
            Request::post("/api/v1/estimate").header(header::HOST, "localhost").body(Body::from("{}")).expect("a request"),
            StatusCode::UNSUPPORTED_MEDIA_TYPE,
        ),
        (
            Request::get("/api/v1/conversions").header(header::HOST, "evil.example").body(Body::empty()).expect("a request"),
            StatusCode::MISDIRECTED_REQUEST,
        ),
        (
            Request::get("/api/v1/conversions/not-a-uuid").header(header::HOST, "[::1]:80").body(Body::empty()).expect("a request"),
            StatusCode::NOT_FOUND,
        ),
        (Request::get("/api/v2/anything").header(header::HOST, "localhost").body(Body::empty()).expect("a request"), StatusCode::NOT_FOUND),
    ] {
        let what = request.uri().clone();
        let answer = s.send(request).await;
        assert_eq!(answer.status, status, "{what}: {}", answer.body);
        assert!(answer.body["detail"].as_str().is_some_and(|d| !d.is_empty()), "{what}: {}", answer.body);
        assert!(answer.headers[header::CONTENT_SECURITY_POLICY].to_str().expect("text").contains("script-src 'self'"));
        assert!(!answer.headers.contains_key(header::ACCESS_CONTROL_ALLOW_ORIGIN));
    }
    let part = s.call(Method::POST, "/api/v1/library", Some(json!({ "part": "motor", "name": "x", "mass_kg": -1 }))).await;
    assert_eq!(part.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        part.body["problems"].as_array().expect("a list").iter().any(|p| p["path"] == "mass_kg" && p["given"] == "-1"),
        "{}",
        part.body
    );
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn health_tells_process_and_database_apart() {
    let s = Service::new().await;
    assert_eq!(s.call(Method::GET, "/readyz", None).await.status, StatusCode::OK);
    s.db.drop_database().await;
    assert_eq!(s.call(Method::GET, "/healthz", None).await.status, StatusCode::OK);
    let away = s.call(Method::GET, "/readyz", None).await;
    assert_eq!(away.status, StatusCode::SERVICE_UNAVAILABLE, "{}", away.body);
    let list = s.call(Method::GET, "/api/v1/conversions", None).await;
    assert_eq!(list.status, StatusCode::SERVICE_UNAVAILABLE, "{}", list.body);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_design_is_looked_at_closely() {
    let s = Service::new().await;
    let document = demo("whimbrel-9-a");
    let bands = s.call(Method::POST, "/api/v1/bands", Some(document.clone())).await;
    assert_eq!(bands.status, StatusCode::OK, "{}", bands.body);
    assert_eq!(bands.body["samples"], 256);
    assert_eq!(bands.body["odds"].as_array().map(Vec::len), document["brief"]["goals"].as_array().map(Vec::len));
    let figure = json!({ "document": document, "figure": "trip.round.range_km" });
    let tornado = s.call(Method::POST, "/api/v1/tornado", Some(figure.clone())).await;
    assert_eq!(tornado.body["influences"][0]["path"], "design.pack.module.capacity_ah", "{}", tornado.body);
    let reason = s.call(Method::POST, "/api/v1/explanation", Some(figure)).await;
    assert_eq!(reason.body["parts"][0]["title"], json!(["usable energy"]), "{}", reason.body);
    let unknown = s.call(Method::POST, "/api/v1/tornado", Some(json!({ "document": document, "figure": "speed" }))).await;
    assert_eq!((unknown.status, &unknown.body["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("figure")));
    let study = s.call(Method::POST, "/api/v1/trip-study", Some(json!({ "document": document, "trip": "round" }))).await;
    assert_eq!(study.body["cases"].as_array().map(Vec::len), Some(9), "{}", study.body);
    assert!(study.body["along"]["motor_c"].as_array().is_some_and(|c| c.len() > 100));
    let mut driven = document.clone();
    driven["brief"]["trips"][0]["drives"] = json!([{ "name": "January", "distance_km": 30, "charge_used": 0.7, "temperature_c": 1 }]);
    let drives = s.call(Method::POST, "/api/v1/drives", Some(json!({ "document": driven, "trip": "round" }))).await;
    assert_eq!(drives.body[0]["verdict"], "above", "{}", drives.body);
    assert!(drives.body[0]["causes"].as_array().is_some_and(|c| !c.is_empty()), "{}", drives.body);
    let choices = s.call(Method::POST, "/api/v1/choices", Some(document)).await;
    assert_eq!(choices.body["gears"].as_array().map(Vec::len), Some(6), "{}", choices.body);
}

/// A recorded drive sent once and named from then on is computed as the whole document is; one that is not known is asked for by its path.
#[tokio::test(flavor = "multi_thread")]
async fn a_recording_is_sent_once_and_named() {
    let s = Service::new().await;
    let mut whole = demo("whimbrel-9-a");
    let trace: Vec<Value> = (0..900).map(|t| json!({ "time_s": t, "speed_kmh": 40.0 + 20.0 * f64::from(t).sin() })).collect();
    whole["brief"]["trips"][0]["path"] = json!({ "trace": trace });
    let kept = s.call(Method::POST, "/api/v1/recordings", Some(whole["brief"]["trips"][0]["path"].clone())).await;
    let name = kept.body["recorded"].as_str().expect("a name").to_owned();
    assert_eq!((kept.status, name.len()), (StatusCode::OK, 64));
    let mut lean = whole.clone();
    lean["brief"]["trips"][0]["path"] = json!({ "recorded": name });
    let (a, b) = (
        s.call(Method::POST, "/api/v1/estimate", Some(whole.clone())).await,
        s.call(Method::POST, "/api/v1/estimate", Some(lean.clone())).await,
    );
    assert_eq!(a.status, StatusCode::OK, "{}", a.body);
    assert_eq!(a.body, b.body);
    let of = |document: &Value| json!({ "document": document, "figure": "trip.round.range_km" });
    let told = s.call(Method::POST, "/api/v1/explanation", Some(of(&lean))).await;
    assert_eq!(told.body, s.call(Method::POST, "/api/v1/explanation", Some(of(&whole))).await.body);
    // The same content has the same name, whoever sends it.
    let again = s.call(Method::POST, "/api/v1/recordings", Some(whole["brief"]["trips"][0]["path"].clone())).await;
    assert_eq!(again.body["recorded"], name);
    lean["brief"]["trips"][0]["path"] = json!({ "recorded": "0".repeat(64) });
    let unknown = s.call(Method::POST, "/api/v1/estimate", Some(lean.clone())).await;
    assert_eq!(
        (unknown.status, &unknown.body["problems"][0]["path"]),
        (StatusCode::UNPROCESSABLE_ENTITY, &json!("brief.trips[0].path.recorded"))
    );
    // What is stored holds its readings: a name is no document.
    let stored = s.call(Method::POST, "/api/v1/conversions/import", Some(lean)).await;
    assert_eq!(stored.status, StatusCode::UNPROCESSABLE_ENTITY);
    for nonsense in [json!({ "segments": [] }), json!({ "trace": [{ "time_s": 0, "speed_kmh": -5 }] }), json!(3)] {
        assert_eq!(s.call(Method::POST, "/api/v1/recordings", Some(nonsense)).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    }
    // Many parts go together or not at all.
    let part = |name: &str| {
        let mut record = json!(joulethesis_core::library::builtin()[0]);
        record["name"] = json!(name);
        record
    };
    let mut ids = Vec::new();
    for name in ["One", "Two", "Three"] {
        let added = s.call(Method::POST, "/api/v1/library", Some(part(name))).await;
        assert_eq!(added.status, StatusCode::CREATED, "{}", added.body);
        ids.push(added.body["id"].clone());
    }
    let removal = |version: i32| json!({ "parts": ids.iter().map(|id| json!({ "id": id, "version": version })).collect::<Vec<_>>() });
    assert_eq!(s.call(Method::POST, "/api/v1/library/removal", Some(removal(7))).await.status, StatusCode::CONFLICT);
    let own = |body: &Value| body["parts"].as_array().expect("parts").iter().filter(|p| !p["id"].is_null()).count();
    assert_eq!(own(&s.call(Method::GET, "/api/v1/library", None).await.body), 3);
    let gone = s.call(Method::POST, "/api/v1/library/removal", Some(removal(1))).await;
    assert_eq!((gone.status, &gone.body), (StatusCode::OK, &json!(3)));
    assert_eq!(own(&s.call(Method::GET, "/api/v1/library", None).await.body), 0);
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn measurements_are_read_and_nonsense_is_named() {
    let s = Service::new().await;
    let text = |path: &'static str, body: &str| s.text(path, body.to_owned());
    let gpx = std::fs::read_to_string(format!("{}/../../demo/harbour-round.gpx", env!("CARGO_MANIFEST_DIR"))).expect("demo file");
    let track = text("/api/v1/tracks", &gpx).await;
    assert_eq!(track.body["name"], "Harbour round, recorded", "{}", track.body);
    assert_eq!(text("/api/v1/tracks", "\u{0}\u{1}").await.status, StatusCode::UNPROCESSABLE_ENTITY);
    let backwards = text("/api/v1/tracks", "time_s,speed_kmh\n0,0\n9,20\n4,30\n").await;
    assert_eq!(backwards.body["problems"][0]["path"], "row 4, time", "{}", backwards.body);
    let runs = text("/api/v1/coast-runs", "time_s,speed_kmh,direction\n0,60,out\n1,59,out\n0,60,back\n").await;
    assert_eq!(runs.body.as_array().map(Vec::len), Some(2), "{}", runs.body);
    let evidence = s.call(Method::POST, "/api/v1/road-load", Some(demo("whimbrel-9-a"))).await;
    assert_eq!((&evidence.body["proposals"][0]["kind"], &evidence.body["proposals"][0]["best"]), (&json!("coast_down"), &json!(true)));
    let sheet = json!({
        "name": "Found", "kind": "hub", "max_speed_rpm": 900, "peak_current_a": 90, "continuous_power_w": 800, "mass_kg": 8,
        "no_load": [{ "volts_v": 24, "amps_a": 1.1, "speed_rpm": 240 }, { "volts_v": 48, "amps_a": 1.2, "speed_rpm": 481 }],
        "locked": [{ "volts_v": 2, "amps_a": 20 }]
    });
    let bench = s.call(Method::POST, "/api/v1/bench", Some(sheet.clone())).await;
    assert_eq!(bench.body["motor"]["model"]["kind"], "constants", "{}", bench.body);
    // The part it makes is one the library takes.
    let mut part = bench.body["motor"].clone();
    part["part"] = json!("motor");
    assert_eq!(s.call(Method::POST, "/api/v1/library", Some(part)).await.status, StatusCode::CREATED);
    let mut bad = sheet;
    bad["no_load"][1]["speed_rpm"] = json!(-5);
    let refused = s.call(Method::POST, "/api/v1/bench", Some(bad)).await;
    assert_eq!(refused.body["problems"][0]["path"], "no_load[1].speed_rpm", "{}", refused.body);
}
