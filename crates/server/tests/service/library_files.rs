//! The library over HTTP: files in and out, and records that become newer.

use axum::http::{Method, StatusCode};
use serde_json::{Value, json};

use crate::common::{Service, demo};

#[tokio::test(flavor = "multi_thread")]
async fn library_files_go_in_whole_or_not_at_all() {
    let s = Service::new().await;
    let text = |path: &'static str, body: String| s.text(path, body);
    let csv = s.call(Method::GET, "/api/v1/library/export?form=csv", None).await.body.as_str().expect("text").to_owned();
    let mut lines = csv.lines();
    let (header_line, first) = (lines.next().expect("a header"), lines.next().expect("a part"));
    let own = first.replacen("motor,", "motor,Own ", 1);
    let broken = format!("{header_line}\n{own}\n{}\n", first.replacen("motor,", "rotor,", 1));
    let refused = text("/api/v1/library/import", broken).await;
    assert_eq!((refused.status, &refused.body["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("row 3, part")));
    let own_parts = || s.call(Method::GET, "/api/v1/library/export?form=json&own=true", None);
    assert_eq!(own_parts().await.body["parts"], json!([]), "nothing was taken over");
    let file = format!("{header_line}\n{own}\n");
    assert_eq!(text("/api/v1/library/import", file.clone()).await.body["added"], 1);
    let again = text("/api/v1/library/import", file.clone()).await;
    assert_eq!(again.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", again.body);
    assert_eq!(text("/api/v1/library/import?same_name=replace", file).await.body["replaced"], 1);
    let exported = own_parts().await.body;
    assert_eq!(text("/api/v1/library/import?same_name=replace", exported.to_string()).await.body["replaced"], 1);
    assert_eq!(own_parts().await.body, exported);

    // Retired parts are kept, listed, and left out of searches and alternatives.
    let list = s.call(Method::GET, "/api/v1/library", None).await.body;
    let part = &list["parts"][0];
    assert!(part["look_alikes"].as_array().is_some_and(|l| l.len() == 1), "a copy looks like its model: {part}");
    let (id, version) = (part["id"].as_str().expect("own"), &part["version"]);
    let path = format!("/api/v1/library/{id}/retired");
    let retired = s.call(Method::POST, &path, Some(json!({ "version": version, "retired": true }))).await;
    assert_eq!(retired.status, StatusCode::OK, "{}", retired.body);
    let stale = s.call(Method::POST, &path, Some(json!({ "version": version, "retired": false }))).await;
    assert_eq!(stale.status, StatusCode::CONFLICT);
    let name = part["record"]["name"].clone();
    let asked = json!({ "document": demo("pipit-b"), "request": { "in_hand": [name] } });
    let refused = s.call(Method::POST, "/api/v1/match", Some(asked)).await;
    assert_eq!(refused.body["problems"][0]["path"], "in_hand[0]", "{}", refused.body);
}
#[tokio::test(flavor = "multi_thread")]
async fn a_newer_record_is_offered_and_designs_keep_theirs() {
    let s = Service::new().await;
    let document = demo("pipit-b");
    let mut record = document["design"]["controller"].clone();
    record["part"] = json!("controller");
    let added = s.call(Method::POST, "/api/v1/library", Some(record.clone())).await;
    assert_eq!(added.status, StatusCode::CREATED, "{}", added.body);
    let offered = || s.call(Method::POST, "/api/v1/library/newer", Some(document.clone()));
    let controllers = |v: &Value| v.as_array().expect("a list").iter().filter(|n| n["part"] == "controller").cloned().collect::<Vec<_>>();
    assert!(controllers(&offered().await.body).is_empty());
    record["battery_current_a"] = json!(record["battery_current_a"].as_f64().expect("amps") * 0.5);
    record.as_object_mut().expect("a record").remove("battery_current_continuous_a");
    let path = format!("/api/v1/library/{}", added.body["id"].as_str().expect("an id"));
    let changed = s.call(Method::PUT, &path, Some(json!({ "version": 1, "record": record }))).await;
    assert_eq!(changed.status, StatusCode::OK, "{}", changed.body);
    let newer = controllers(&offered().await.body);
    assert!(newer[0]["changes"].as_array().is_some_and(|c| c.iter().any(|c| c["key"] == "battery_current_a")), "{newer:?}");
    assert_eq!(newer[0]["design"]["controller"]["battery_current_a"], record["battery_current_a"]);
    let claim = |outcome: &Value| outcome["claims"].as_array().and_then(|c| c.iter().find(|c| c["goal"] == "acceleration").cloned());
    assert_ne!(claim(&newer[0]["before"]), claim(&newer[0]["after"]), "half of the amps accelerate less");
}
