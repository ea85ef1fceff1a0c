//! What the description promises is what is answered: every route is tried with what is not there, with a version of long ago, with the wrong
//! form and with nothing, and each answer is one the description names.

use crate::common::{Answer, Service, demo};
use crate::fuzz::{Operation, SOUND, operations, request};
use axum::body::Body;
use axum::http::{Method, Request, StatusCode, header};
use serde_json::{Value, json};

const NOWHERE: &str = "018f0000-0000-7000-8000-000000000000";

fn named(operation: &Operation) -> String {
    format!("{} {}", operation.method, operation.path)
}

/// The operation that a conversion, a design or a part is changed by.
fn is_of(operation: &Operation, kind: &str) -> bool {
    operation.path.starts_with(&format!("/api/v1/{kind}/{{id}}"))
}

async fn send(s: &Service, operation: &Operation, id: &str) -> Answer {
    s.send(request(operation, &SOUND, id).expect("a request")).await
}

/// Statuses of the service as a whole, which no route's description repeats: forms it does not take and paths that are none.
fn is_general(status: StatusCode) -> bool {
    [StatusCode::BAD_REQUEST, StatusCode::METHOD_NOT_ALLOWED, StatusCode::PAYLOAD_TOO_LARGE, StatusCode::UNSUPPORTED_MEDIA_TYPE]
        .contains(&status)
}

fn kept(operation: &Operation, answer: &Answer) {
    let promised = operation.promised.contains(&answer.status.as_u16()) || is_general(answer.status);
    assert!(promised, "{} promises {:?} and answers {}: {}", named(operation), operation.promised, answer.status, answer.body);
    if !answer.status.is_success() {
        assert_eq!(answer.headers[header::CONTENT_TYPE], "application/problem+json", "{}", named(operation));
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_not_there_is_told_by_every_route() {
    let s = Service::new().await;
    for operation in operations(&demo("pipit-a")).iter().filter(|o| o.path.contains("{id}")) {
        for id in [NOWHERE, "1", "..", "018f0000-0000-7000-8000-00000000000g"] {
            let answer = send(&s, operation, id).await;
            // A path with dots in it is another path.
            assert_eq!(answer.status, StatusCode::NOT_FOUND, "{} {id}: {}", named(operation), answer.body);
            if id != ".." {
                kept(operation, &answer);
            }
        }
    }
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_version_of_long_ago_is_refused_by_every_route_that_takes_one() {
    let s = Service::new().await;
    let document = demo("pipit-a");
    let conversion = s.call(Method::POST, "/api/v1/conversions/import", Some(document.clone())).await.body;
    let mut motor = document["design"]["motor"].clone();
    (motor["part"], motor["name"]) = (json!("motor"), json!("Own"));
    let part = s.call(Method::POST, "/api/v1/library", Some(motor)).await.body;
    let ids = [("designs", &conversion["designs"][0]["id"]), ("conversions", &conversion["id"]), ("library", &part["id"])];
    let mut tried = 0;
    for (kind, id) in ids {
        let id = id.as_str().expect("an id");
        let own: Vec<Operation> = operations(&document).into_iter().filter(|o| is_of(o, kind)).collect();
        let change = own.iter().find(|o| o.method == "PUT").expect("it is changed");
        let first = send(&s, change, id).await;
        assert_eq!(first.status, StatusCode::OK, "{kind}: {}", first.body);
        assert_eq!(first.body["version"], 2, "{kind}");
        for operation in own.iter().filter(|o| o.promised.contains(&409)) {
            let late = send(&s, operation, id).await;
            assert_eq!(
                (late.status, &late.body["current_version"]),
                (StatusCode::CONFLICT, &json!(2)),
                "{}: {}",
                named(operation),
                late.body
            );
            kept(operation, &late);
            tried += 1;
        }
        // Whoever reads again can go on; a design goes before its conversion.
        let gone = format!("/api/v1/{kind}/{id}?version=2");
        let (removed, again) = (s.call(Method::DELETE, &gone, None).await, s.call(Method::DELETE, &gone, None).await);
        assert_eq!((removed.status, again.status), (StatusCode::NO_CONTENT, StatusCode::NOT_FOUND), "{kind}");
    }
    assert!(tried >= 5, "only {tried} routes take a version");
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn every_route_answers_as_it_is_described() {
    let s = Service::new().await;
    let document = demo("pipit-a");
    let conversion = s.call(Method::POST, "/api/v1/conversions/import", Some(document.clone())).await.body;
    let design = conversion["designs"][0]["id"].as_str().expect("an id").to_owned();
    let id_of = |o: &Operation| if is_of(o, "designs") { design.clone() } else { conversion["id"].as_str().expect("an id").to_owned() };
    let mut all = operations(&document);
    // What removes comes last.
    all.sort_by_key(|o| o.method == "DELETE");
    for operation in &all {
        let answer = send(&s, operation, &id_of(operation)).await;
        kept(operation, &answer);
        assert!(operation.promised.iter().any(|p| *p < 300), "{} promises nothing good", named(operation));
        let Some(body) = &operation.body else { continue };
        let bare = |text: String, form: &str| {
            let path = operation.path.replace("{id}", &id_of(operation));
            let request = Request::builder().method(operation.method.as_str()).uri(path).header(header::HOST, "127.0.0.1:8080");
            request.header(header::CONTENT_TYPE, form).body(Body::from(text)).expect("a request")
        };
        // Another form, an empty body, one cut off, and one of another kind.
        let is_json = body.starts_with('{');
        for (text, form) in [
            (body.clone(), "image/png"),
            (String::new(), "application/json"),
            (body[..body.len() / 2].to_owned(), "application/json"),
            ("[1, 2, 3]".to_owned(), "application/json"),
            ("\u{feff}null".to_owned(), "application/json"),
        ] {
            // Readings that end early are fewer readings.
            if !is_json && !text.is_empty() && body.starts_with(&text) {
                continue;
            }
            let refused = s.send(bare(text.clone(), form)).await;
            assert!(refused.status.is_client_error(), "{} took {text:?} as {form}: {}", named(operation), refused.status);
            kept(operation, &refused);
            assert!(refused.body["detail"].as_str().is_some_and(|d| d.len() > 10), "{}: {}", named(operation), refused.body);
        }
    }
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn unknown_keys_are_named_not_ignored() {
    let s = Service::new().await;
    let document = demo("pipit-a");
    for operation in operations(&document).iter().filter(|o| o.body.is_some() && !o.path.contains("{id}")) {
        let Ok(mut body) = serde_json::from_str::<Value>(operation.body.as_deref().unwrap_or_default()) else { continue };
        if !body.is_object() {
            continue;
        }
        body["colour_of_the_seats"] = json!("red");
        let answer = s.call(operation.method.parse().expect("a method"), &operation.path, Some(body)).await;
        assert!(answer.status.is_client_error(), "{}: {} {}", named(operation), answer.status, answer.body);
        assert!(answer.body.to_string().contains("colour_of_the_seats"), "{}: {}", named(operation), answer.body);
    }
    s.db.drop_database().await;
}
