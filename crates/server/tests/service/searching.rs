//! A search over HTTP: a stream of events, kept with its conversion.

use axum::http::{Method, StatusCode, header};
use serde_json::{Value, json};

use crate::common::{Service, demo};

/// Events of a stream, as (name, data).
fn events(body: &Value) -> Vec<(String, Value)> {
    let text = body.as_str().expect("a stream of events");
    let field = |block: &str, key: &str| block.lines().find_map(|l| l.strip_prefix(key)).unwrap_or_default().trim().to_owned();
    text.split("\n\n")
        .filter(|b| b.contains("event:"))
        .map(|b| (field(b, "event:"), serde_json::from_str(&field(b, "data:")).expect("JSON")))
        .collect()
}
#[tokio::test(flavor = "multi_thread")]
async fn the_library_is_searched_in_a_stream() {
    let s = Service::new().await;
    let document = demo("pipit-b");
    let found = s.call(Method::POST, "/api/v1/match", Some(json!({ "document": document }))).await;
    assert_eq!(found.status, StatusCode::OK);
    assert!(found.headers[header::CONTENT_TYPE].to_str().is_ok_and(|t| t.starts_with("text/event-stream")));
    let told = events(&found.body);
    let (names, answer) = (told.iter().map(|e| e.0.as_str()).collect::<Vec<_>>(), &told.last().expect("an end").1);
    assert!(names[0] == "progress" && names.last() == Some(&"answer"), "{names:?}");
    assert!(told[0].1["leading"].as_array().is_some() && answer["complete"] == json!(true));
    // A click makes a design of a pick, and it becomes a variant.
    let pick = &answer["designs"][0]["pick"];
    let made = s.call(Method::POST, "/api/v1/match/designs", Some(json!({ "document": document, "picks": [pick] }))).await;
    assert_eq!(made.body[0]["motor"]["name"], pick["motor"], "{}", made.body);
    let id = s.call(Method::POST, "/api/v1/conversions/import", Some(document.clone())).await.body["id"].clone();
    let path = format!("/api/v1/conversions/{}/designs", id.as_str().expect("an id"));
    let added = s.call(Method::POST, &path, Some(json!({ "design": made.body[0] }))).await;
    assert_eq!((added.status, &added.body["label"]), (StatusCode::CREATED, &json!("B")), "{}", added.body);
    let bad = s.call(Method::POST, &path, Some(json!({ "design": { "motor_count": -1 } }))).await;
    assert_eq!(bad.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", bad.body);

    // Nothing qualifies: the way out follows the empty answer.
    let poor =
        json!({ "document": document, "request": { "budget": 400 }, "keep": { "conversion": id, "name": "main", "asked": "first" } });
    let told = events(&s.call(Method::POST, "/api/v1/match", Some(poor)).await.body);
    let last = told.last().expect("an end");
    assert_eq!((last.0.as_str(), &last.1["options"][0]["slacks"][0]["goal"]), ("relaxations", &json!("request.budget")));

    // Kept with its conversion until another of its name replaces it, and gone with it.
    let at = format!("/api/v1/conversions/{}/searches", id.as_str().expect("an id"));
    let kept = s.call(Method::GET, &at, None).await.body;
    assert_eq!((&kept[0]["name"], &kept[0]["asked"], &kept[1]), (&json!("main"), &json!("first"), &Value::Null), "{kept}");
    assert_eq!((&kept[0]["relaxations"]["options"], &kept[0]["answer"]["designs"]), (&last.1["options"], &json!([])));
    let only = json!({ "only": { "motors": [pick["motor"]] } });
    let again =
        |mark: String| json!({ "document": document, "request": only, "keep": { "conversion": id, "name": "main", "asked": mark } });
    let told = events(&s.call(Method::POST, "/api/v1/match", Some(again("second".to_owned()))).await.body);
    let kept = s.call(Method::GET, &at, None).await.body;
    assert_eq!(
        (kept.as_array().map(Vec::len), &kept[0]["asked"], &kept[0]["answer"]),
        (Some(1), &json!("second"), &told.last().expect("an end").1)
    );
    let long = s.call(Method::POST, "/api/v1/match", Some(again("x".repeat(101)))).await;
    assert_eq!((long.status, &long.body["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("keep.asked")));
    let version = s.call(Method::GET, at.trim_end_matches("/searches"), None).await.body["version"].clone();
    s.call(Method::DELETE, &format!("{}?version={version}", at.trim_end_matches("/searches")), None).await;
    assert_eq!(s.call(Method::GET, &at, None).await.status, StatusCode::NOT_FOUND);

    // The cheapest change of each goal that is missed.
    let mut steep = document.clone();
    steep["brief"]["goals"][0]["measure"]["at_least_km"] = json!(96);
    let fixes = s.call(Method::POST, "/api/v1/match/fixes", Some(steep.clone())).await.body;
    let mended = fixes["fixes"].as_array().expect("a list").iter().any(|f| f["goal"] == steep["brief"]["goals"][0]["id"]);
    assert!(mended && fixes["complete"] == json!(true), "{fixes}");

    // Contradictions are refused before the stream begins.
    let torn = json!({ "document": document, "request": { "in_hand": [pick["motor"]], "exclude": [pick["motor"]] } });
    let refused = s.call(Method::POST, "/api/v1/match", Some(torn)).await;
    assert_eq!((refused.status, &refused.body["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("in_hand[0]")));
    let unread = s.call(Method::POST, "/api/v1/match", Some(json!({ "document": document, "request": { "budget": "much" } }))).await;
    assert_eq!(unread.body["problems"][0]["path"], "request.budget", "{}", unread.body);

    let question = json!({ "document": document, "question": { "motor": "Skua 35 drive unit" }, "beside": pick, "against": [pick] });
    let why = s.call(Method::POST, "/api/v1/match/why-not", Some(question)).await;
    assert_eq!(why.body["put_in"]["findings"][0]["severity"], "stop", "{}", why.body);
    let needs = s.call(Method::POST, "/api/v1/match/needs", Some(document)).await;
    assert!(needs.body["needs"]["peak_power_w"].as_f64().is_some_and(|w| w > 0.0) && needs.body["gearings"].is_array());
}
