//! What is kept out, what is kept apart, and what stays up beside something broken.

use crate::common::{Service, demo};
use axum::body::Body;
use axum::http::{Method, Request, StatusCode, header};
use joulethesis_core::library::builtin;
use serde_json::{Value, json};

/// An own part for the library.
fn own_part(name: &str) -> Value {
    let mut record = serde_json::to_value(&builtin()[0]).expect("JSON");
    record["name"] = json!(name);
    record
}

#[tokio::test(flavor = "multi_thread")]
async fn pages_of_other_origins_change_and_compute_nothing() {
    let s = Service::new().await;
    let c = s.call(Method::POST, "/api/v1/conversions/import", Some(demo("pipit-a"))).await.body;
    let id = c["id"].as_str().expect("an id").to_owned();
    let csv = s.call(Method::GET, "/api/v1/library/export?form=csv", None).await.body.as_str().expect("text").to_owned();
    let routes = [
        (Method::POST, "/api/v1/library/import?same_name=replace".to_owned(), "text/csv", csv.replacen("motor,", "motor,Own ", 1)),
        (Method::POST, "/api/v1/tracks".to_owned(), "text/csv", "time_s,speed_kmh\n0,0\n5,20\n60,20\n".to_owned()),
        (
            Method::POST,
            "/api/v1/coast-runs".to_owned(),
            "text/csv",
            "time_s,speed_kmh,direction\n0,60,out\n1,59,out\n2,58,out\n".to_owned(),
        ),
        (Method::POST, "/api/v1/library".to_owned(), "application/json", own_part("Own motor").to_string()),
        (Method::DELETE, format!("/api/v1/conversions/{id}?version=1"), "application/json", String::new()),
    ];
    let foreign =
        [("origin", "http://evil.example"), ("origin", "null"), ("sec-fetch-site", "cross-site"), ("sec-fetch-site", "same-site")];
    for (method, path, kind, body) in &routes {
        let request = |name: &str, value: &str, kind: &str| {
            Request::builder()
                .method(method)
                .uri(path)
                .header(header::HOST, "127.0.0.1:8080")
                .header(name, value)
                .header(header::CONTENT_TYPE, kind)
                .body(Body::from(body.clone()))
                .expect("a request")
        };
        for (name, value) in foreign {
            let refused = s.send(request(name, value, kind)).await;
            assert_eq!(refused.status, StatusCode::FORBIDDEN, "{path} with {name}: {value}: {}", refused.body);
        }
        // What a form or a script of any page may send without asking first is no type of ours.
        if !body.is_empty() {
            for simple in ["text/plain", "application/x-www-form-urlencoded", "multipart/form-data; boundary=x"] {
                let refused = s.send(request("accept", "*/*", simple)).await;
                assert_eq!(refused.status, StatusCode::UNSUPPORTED_MEDIA_TYPE, "{path} as {simple}");
            }
        }
    }
    assert_eq!(s.db.store.parts().await.expect("listed").0, []);
    assert_eq!(s.db.store.conversions().await.expect("listed").len(), 1);
    // Our own page may.
    for (method, path, kind, body) in &routes {
        let request =
            Request::builder().method(method).uri(path).header(header::HOST, "127.0.0.1:8080").header(header::CONTENT_TYPE, *kind);
        let request = request.header(header::ORIGIN, "http://127.0.0.1:8080").header("sec-fetch-site", "same-origin");
        let taken = s.send(request.body(Body::from(body.clone())).expect("a request")).await;
        assert!(taken.status.is_success(), "{path}: {} {}", taken.status, taken.body);
    }
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_error_is_a_problem_document() {
    let s = Service::new().await;
    let id = "0190a0a0-0000-7000-8000-000000000000";
    let plain = |method: Method, path: &str| {
        let request = Request::builder().method(method).uri(path).header(header::HOST, "localhost");
        request.header(header::CONTENT_TYPE, "application/json")
    };
    let cases = [
        (plain(Method::DELETE, &format!("/api/v1/designs/{id}?version=x")).body(Body::empty()), StatusCode::BAD_REQUEST),
        (plain(Method::POST, "/api/v1/conversions").body(Body::from("{")), StatusCode::BAD_REQUEST),
        (plain(Method::GET, "/api/v1/library/export?form=pdf").body(Body::empty()), StatusCode::BAD_REQUEST),
        (plain(Method::GET, &format!("/api/v1/conversions/{id}")).body(Body::empty()), StatusCode::NOT_FOUND),
        (plain(Method::GET, "/api/v1/nothing").body(Body::empty()), StatusCode::NOT_FOUND),
        (plain(Method::GET, "/api/v1/conversions/%00").body(Body::empty()), StatusCode::NOT_FOUND),
        (plain(Method::GET, "/%00").body(Body::empty()), StatusCode::NOT_FOUND),
        (plain(Method::GET, "/%ff%fe").body(Body::empty()), StatusCode::NOT_FOUND),
        (plain(Method::GET, "/assets/..%2f%0d%0ax").body(Body::empty()), StatusCode::NOT_FOUND),
        (plain(Method::PATCH, "/api/v1/conversions").body(Body::empty()), StatusCode::METHOD_NOT_ALLOWED),
        (plain(Method::POST, "/api/v1/tracks").body(Body::from("x")), StatusCode::UNPROCESSABLE_ENTITY),
        (Request::post("/api/v1/tracks").header(header::HOST, "localhost").body(Body::from("x")), StatusCode::UNSUPPORTED_MEDIA_TYPE),
        (plain(Method::POST, "/api/v1/bench").body(Body::from(vec![b' '; 9 << 20])), StatusCode::PAYLOAD_TOO_LARGE),
    ];
    for (request, status) in cases {
        let request = request.expect("a request");
        let what = format!("{} {}", request.method(), request.uri());
        let answer = s.send(request).await;
        assert_eq!(answer.status, status, "{what}: {}", answer.body);
        assert_eq!(answer.headers[header::CONTENT_TYPE], "application/problem+json", "{what}");
        assert_eq!(answer.body["status"], status.as_u16(), "{what}");
        assert!(answer.body["detail"].as_str().is_some_and(|d| !d.is_empty()), "{what}: {}", answer.body);
        assert_eq!(answer.headers.contains_key(header::ALLOW), status == StatusCode::METHOD_NOT_ALLOWED, "{what}");
        assert!(answer.headers.contains_key("x-request-id"), "{what}");
        for name in ["cross-origin-resource-policy", "cross-origin-opener-policy"] {
            assert_eq!(answer.headers[name], "same-origin", "{what}");
        }
    }
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn control_characters_are_refused_with_their_place() {
    let s = Service::new().await;
    let mut document = demo("pipit-a");
    document["donor"]["notes"] = json!("a\u{0}b");
    let answer = s.call(Method::POST, "/api/v1/conversions/import", Some(document)).await;
    assert_eq!((answer.status, &answer.body["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("donor.notes")));
    let named = s.call(Method::POST, "/api/v1/conversions", Some(json!({ "name": "a\u{0}b", "kind": "van" }))).await;
    assert_eq!((named.status, &named.body["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("name")));
    let part = s.call(Method::POST, "/api/v1/library", Some(own_part("a\u{7}b"))).await;
    assert_eq!((part.status, &part.body["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("name")));
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn one_unreadable_part_takes_nothing_else_down_and_can_be_mended() {
    let s = Service::new().await;
    for name in ["Own one", "Own two"] {
        assert_eq!(s.call(Method::POST, "/api/v1/library", Some(own_part(name))).await.status, StatusCode::CREATED);
    }
    let taken = s.call(Method::POST, "/api/v1/library", Some(own_part("Own one"))).await;
    assert_eq!(taken.status, StatusCode::CONFLICT);
    let words = taken.body.to_string();
    assert!(words.contains("Own one") && !words.contains("workspace") && !words.contains("_key"), "{words}");

    s.db.execute("UPDATE library_parts SET record = jsonb_set(record, '{mass_kg}', '-4') WHERE name = 'Own two'").await;
    let list = s.call(Method::GET, "/api/v1/library", None).await;
    assert_eq!(list.status, StatusCode::OK, "{}", list.body);
    let own = |list: &Value| list["parts"].as_array().expect("parts").iter().filter(|p| p["id"].is_string()).count();
    assert_eq!(own(&list.body), 1);
    let broken = &list.body["unreadable"][0];
    assert_eq!((&broken["name"], &broken["problems"][0]["path"]), (&json!("Own two"), &json!("mass_kg")), "{broken}");
    let document = demo("pipit-b");
    for (path, body) in [
        ("/api/v1/alternatives", json!({ "document": document, "part": "motor" })),
        ("/api/v1/match", json!({ "document": document })),
        ("/api/v1/library/newer", document.clone()),
    ] {
        let answer = s.call(Method::POST, path, Some(body)).await;
        assert_eq!(answer.status, StatusCode::OK, "{path}: {}", answer.body);
    }
    let path = format!("/api/v1/library/{}", broken["id"].as_str().expect("an id"));
    let mended = s.call(Method::PUT, &path, Some(json!({ "version": broken["version"], "record": own_part("Own two") }))).await;
    assert_eq!(mended.status, StatusCode::OK, "{}", mended.body);
    let list = s.call(Method::GET, "/api/v1/library", None).await.body;
    assert_eq!((own(&list), &list["unreadable"]), (2, &json!([])));
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_belongs_to_another_workspace_is_not_there() {
    let s = Service::new().await;
    let c = s.call(Method::POST, "/api/v1/conversions/import", Some(demo("pipit-a"))).await.body;
    let part = s.call(Method::POST, "/api/v1/library", Some(own_part("Own one"))).await.body;
    s.db.execute(
        "INSERT INTO workspaces (id, name) VALUES ('00000000-0000-0000-0000-000000000002', 'Theirs');
         UPDATE conversions SET workspace_id = '00000000-0000-0000-0000-000000000002';
         UPDATE library_parts SET workspace_id = '00000000-0000-0000-0000-000000000002'",
    )
    .await;
    let id = |v: &Value| v["id"].as_str().expect("an id").to_owned();
    let (conversion, design, part) = (id(&c), id(&c["designs"][0]), id(&part));
    let change =
        json!({ "version": 1, "name": "Mine", "notes": "", "units": "metric", "brief": c["brief"], "donor": c["donor"], "shortlist": {} });
    for (method, path, body) in [
        (Method::GET, format!("/api/v1/conversions/{conversion}"), None),
        (Method::GET, format!("/api/v1/conversions/{conversion}/file"), None),
        (Method::PUT, format!("/api/v1/conversions/{conversion}"), Some(change)),
        (Method::POST, format!("/api/v1/conversions/{conversion}/designs"), Some(json!({}))),
        (Method::DELETE, format!("/api/v1/conversions/{conversion}?version=1"), None),
        (Method::GET, format!("/api/v1/designs/{design}/document"), None),
        (Method::PUT, format!("/api/v1/designs/{design}"), Some(json!({ "version": 1, "design": c["designs"][0]["design"] }))),
        (Method::DELETE, format!("/api/v1/designs/{design}?version=1"), None),
        (Method::PUT, format!("/api/v1/library/{part}"), Some(json!({ "version": 1, "record": own_part("Mine") }))),
        (Method::POST, format!("/api/v1/library/{part}/retired"), Some(json!({ "version": 1, "retired": true }))),
        (Method::DELETE, format!("/api/v1/library/{part}?version=1"), None),
    ] {
        let answer = s.call(method.clone(), &path, body).await;
        assert_eq!(answer.status, StatusCode::NOT_FOUND, "{method} {path}: {}", answer.body);
    }
    assert_eq!(s.call(Method::GET, "/api/v1/conversions", None).await.body, json!([]));
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_conversion_comes_back_whole() {
    let s = Service::new().await;
    let c = s.call(Method::POST, "/api/v1/conversions/import", Some(demo("whimbrel-9-a"))).await.body;
    let path = format!("/api/v1/conversions/{}", c["id"].as_str().expect("an id"));
    // Four that add a variant at once get four.
    let designs = format!("{path}/designs");
    let add = || s.call(Method::POST, &designs, Some(json!({ "copy_of": c["designs"][0]["id"] })));
    let (b, c2, d, e) = tokio::join!(add(), add(), add(), add());
    let mut labels: Vec<String> = [b, c2, d, e].map(|a| a.body["label"].as_str().unwrap_or("none").to_owned()).to_vec();
    labels.sort_unstable();
    assert_eq!(labels, ["B", "C", "D", "E"]);
    let change = json!({
        "version": 1, "name": "Whimbrel \u{2013} \"the van\"", "notes": "two\nlines", "units": "mix", "brief": c["brief"], "donor": c["donor"], "shortlist": {}
    });
    assert_eq!(s.call(Method::PUT, &path, Some(change)).await.status, StatusCode::OK);
    let file = s.call(Method::GET, &format!("{path}/file"), None).await;
    assert_eq!((file.status, file.body["designs"].as_array().map(Vec::len)), (StatusCode::OK, Some(5)), "{}", file.body);
    let back = s.call(Method::POST, "/api/v1/conversions/import", Some(file.body.clone())).await;
    assert_eq!(back.status, StatusCode::CREATED, "{}", back.body);
    let again = s.call(Method::GET, &format!("/api/v1/conversions/{}/file", back.body["id"].as_str().expect("an id")), None).await.body;
    assert_eq!(again, file.body);
    let mut broken = file.body;
    broken["designs"][3]["design"]["motor_count"] = json!(-1);
    let refused = s.call(Method::POST, "/api/v1/conversions/import", Some(broken)).await;
    assert_eq!(refused.body["problems"][0]["path"], "designs[3].design.motor_count", "{}", refused.body);
    assert_eq!(s.db.store.conversions().await.expect("listed").len(), 2);
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_full_disk_is_told_and_changes_nothing() {
    let s = Service::new().await;
    let c = s.call(Method::POST, "/api/v1/conversions/import", Some(demo("pipit-a"))).await.body;
    // What the database says when its disk is full (its own words, from memory), raised by each write.
    s.db.execute(
        "CREATE FUNCTION full_disk() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN
           RAISE EXCEPTION 'could not extend file \"base/1/2\": No space left on device' USING ERRCODE = '53100'; END $$;
         CREATE TRIGGER full_disk BEFORE UPDATE ON readiness EXECUTE FUNCTION full_disk();
         CREATE TRIGGER full_disk BEFORE UPDATE ON designs EXECUTE FUNCTION full_disk()",
    )
    .await;
    let design = &c["designs"][0];
    let path = format!("/api/v1/designs/{}", design["id"].as_str().expect("an id"));
    let edit = s.call(Method::PUT, &path, Some(json!({ "version": 1, "design": design["design"] }))).await;
    assert_eq!((edit.status, &edit.body["title"]), (StatusCode::INSUFFICIENT_STORAGE, &json!("Disk full")), "{}", edit.body);
    let ready = s.call(Method::GET, "/readyz", None).await;
    assert_eq!((ready.status, &ready.body["title"]), (StatusCode::INSUFFICIENT_STORAGE, &json!("Disk full")), "{}", ready.body);
    assert_eq!(s.call(Method::GET, "/healthz", None).await.status, StatusCode::OK);
    s.db.drop_database().await;
}
