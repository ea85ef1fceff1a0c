//! Ordinary-looking input that asks for much, and many that ask at once: each is answered in words, and nobody waits for another's work.

use std::fmt::Write as _;
use std::time::Duration;

use crate::common::{Live, Service, demo};
use axum::http::{Method, StatusCode};
use serde_json::{Value, json};

/// The demo van with a trip near the most that a document may simulate.
fn heavy() -> Value {
    let mut document = demo("whimbrel-9-a");
    let trips = document["brief"]["trips"].as_array_mut().expect("trips");
    let mut long = trips[0].clone();
    long["id"] = json!("long");
    long["repeat"] = json!(30);
    trips.push(long);
    document
}

#[tokio::test(flavor = "multi_thread")]
async fn an_estimate_does_not_wait_for_long_work_and_those_who_leave_take_no_place() {
    let s = Live::new().await;
    let (long, short) = (heavy().to_string(), demo("whimbrel-9-a").to_string());
    let mut waiting = Vec::new();
    for i in 0..24 {
        waiting.push(s.post(&format!("client-{}", i % 3), "/api/v1/bands", &long, 0).await);
    }
    for i in 0..6 {
        waiting.push(s.post(&format!("client-{i}"), "/api/v1/match", &json!({ "document": demo("dunlin-a") }).to_string(), 0).await);
    }
    for client in ["client-0", "somebody else"] {
        assert_eq!(Live::status(s.post(client, "/api/v1/estimate", &short, 0).await).await, 200);
    }
    let unanswered = |streams: &[tokio::net::TcpStream]| streams.iter().filter(|s| s.try_read(&mut [0; 1]).is_err()).count();
    assert!(unanswered(&waiting[..24]) > 12, "the long work was to be going on");
    drop(waiting);
    // Were it still going on, this would wait for minutes, and time out.
    assert_eq!(Live::status(s.post("somebody else", "/api/v1/bands", &short, 0).await).await, 200);
    s.stop().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn it_stops_whatever_is_in_flight() {
    let s = Live::new().await;
    let mut held = Vec::new();
    let search = json!({ "document": demo("dunlin-a") }).to_string();
    for client in ["a", "b"] {
        held.push(s.post(client, "/api/v1/match", &search, 0).await);
        held.push(s.post(client, "/api/v1/bands", &heavy().to_string(), 0).await);
        // Half a body, and half a header.
        held.push(s.post(client, "/api/v1/bands", "{\"format\":", 1000).await);
        let half = tokio::net::TcpStream::connect(s.address).await.expect("a connection");
        half.try_write(b"POST /api/v1/bands HTTP/1.1\r\nHo").expect("sent");
        held.push(half);
    }
    tokio::time::sleep(Duration::from_millis(200)).await;
    // Five seconds are promised; a busy machine gets a little more.
    tokio::time::timeout(Duration::from_secs(8), s.stop()).await.expect("it stops by itself");
}

/// A sound document whose trips ask for more seconds than are simulated: 11 kB for years of driving.
fn endless_trips() -> Value {
    let mut document = demo("whimbrel-9-a");
    let trips: Vec<Value> = (0..20)
        .map(|i| {
            let crawl = json!({ "distance_km": 500, "speed_kmh": 3 });
            json!({ "id": format!("t{i}"), "name": "T", "repeat": 50, "path": { "segments": [crawl, crawl, crawl, crawl] } })
        })
        .collect();
    document["brief"]["goals"] = json!([]);
    document["brief"]["trips"] = json!(trips);
    document
}

#[tokio::test(flavor = "multi_thread")]
async fn input_that_asks_for_much_is_refused_with_its_place() {
    let s = Service::new().await;
    let c = s.call(Method::POST, "/api/v1/conversions/import", Some(demo("whimbrel-9-a"))).await.body;
    let (conversion, design) = (c["id"].as_str().expect("an id"), c["designs"][0]["id"].as_str().expect("an id"));
    let endless = endless_trips();
    let change = json!({ "version": 1, "name": "Whimbrel", "notes": "", "units": "metric", "brief": endless["brief"], "donor": c["donor"], "shortlist": {} });
    for answer in [
        s.call(Method::POST, "/api/v1/estimate", Some(endless.clone())).await,
        s.call(Method::POST, "/api/v1/conversions/import", Some(endless.clone())).await,
        s.call(Method::PUT, &format!("/api/v1/conversions/{conversion}"), Some(change)).await,
    ] {
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{}", answer.body);
        let path = answer.body["problems"][0]["path"].as_str().expect("a place");
        assert!(path.starts_with("brief.trips[0]."), "{}", answer.body);
    }
    // Stored by an earlier version, it opens for mending and says where; it is never computed with.
    s.db.execute(&format!("UPDATE conversions SET brief = '{}'", endless["brief"])).await;
    let opened = s.call(Method::GET, &format!("/api/v1/conversions/{conversion}"), None).await;
    assert_eq!(opened.status, StatusCode::OK, "{}", opened.body);
    assert!(opened.body["problems"][0]["path"].as_str().is_some_and(|p| p.contains("trips[0]")), "{}", opened.body["problems"]);
    let document = s.call(Method::GET, &format!("/api/v1/designs/{design}/document"), None).await.body;
    assert_eq!(s.call(Method::POST, "/api/v1/estimate", Some(document)).await.status, StatusCode::UNPROCESSABLE_ENTITY);
    let mended = json!({ "version": 1, "name": "Whimbrel", "notes": "", "units": "metric", "brief": c["brief"], "donor": c["donor"], "shortlist": {} });
    let mended = s.call(Method::PUT, &format!("/api/v1/conversions/{conversion}"), Some(mended)).await;
    assert_eq!((mended.status, &mended.body["brief"]), (StatusCode::OK, &c["brief"]), "{}", mended.body);
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn files_that_ask_for_much_are_refused_early_and_briefly() {
    let s = Service::new().await;
    let point = |year: u32, i: usize| {
        format!("<trkpt lat=\"50.0{i}\" lon=\"0\"><ele>3</ele><time>{year}-05-01T06:00:{:02}Z</time></trkpt>", i % 60)
    };
    let gpx = |inside: &str| format!("<gpx version=\"1.1\" creator=\"x\"><trk><trkseg>{inside}</trkseg></trk></gpx>");
    // A receiver without a fix writes 1980 into its first point.
    let without_fix = gpx(&format!("{}{}{}", point(1980, 0), point(2026, 1), point(2026, 2)));
    let nested = gpx(&"<extensions>".repeat(10_000));
    let gap = "time_s,speed_kmh\n0,1\n1,1\n100000000,1\n".to_owned();
    let wide = format!("time_s,speed_kmh,{}\n0,0\n", (0..100_000).map(|i| format!("c{i}")).collect::<Vec<_>>().join(","));
    let nothing = format!("{{\"format\":\"joulethesis-library\",\"version\":1,\"parts\":[{}{{}}]}}", "{},".repeat(2_000_000));
    let columns = format!("part,name,{}\nmotor,x\n", (0..100_000).map(|i| format!("c{i}")).collect::<Vec<_>>().join(","));
    let rows = format!("part,name\n{}", "rotor,x\n".repeat(4_900));
    for (path, body, place) in [
        ("/api/v1/tracks", without_fix, "point 2"),
        ("/api/v1/tracks", nested, "file"),
        ("/api/v1/tracks", gap, "row 4"),
        ("/api/v1/tracks", wide, "heading"),
        ("/api/v1/library/import", nothing, ""),
        ("/api/v1/library/import", columns, "row 1"),
        ("/api/v1/library/import", rows, "row 2"),
    ] {
        let begins: String = body.chars().take(60).collect();
        let answer = s.text(path, body).await;
        assert!(answer.status.is_client_error(), "{begins}: {} {}", answer.status, answer.body);
        let problems = answer.body["problems"].as_array().map_or(0, Vec::len);
        assert!(problems <= 51, "{begins}: {problems} problems");
        assert!(answer.body.to_string().len() < 40_000, "{begins}: {} bytes", answer.body.to_string().len());
        let first = answer.body["problems"][0]["path"].as_str().unwrap_or_default();
        assert!(first.contains(place), "{begins}: {}", answer.body);
    }
    // A logger left on while parked is ordinary: its points are read.
    let mut parked = String::from("time_s,speed_kmh,elevation_m\n");
    for i in 0..20_000 {
        let _ = writeln!(parked, "{i},0,3");
    }
    let _ = writeln!(parked, "20005,20,3\n20040,20,3.5");
    let read = s.text("/api/v1/tracks", parked).await;
    assert_eq!(read.status, StatusCode::OK, "{}", read.body);
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn fifty_writers_of_one_conversion_are_each_saved_in_the_end() {
    let s = std::sync::Arc::new(Service::new().await);
    let c = s.call(Method::POST, "/api/v1/conversions/import", Some(demo("pipit-a"))).await.body;
    let path = format!("/api/v1/conversions/{}", c["id"].as_str().expect("an id"));
    let writers = (0..50).map(|i| {
        let (s, c, path) = (s.clone(), c.clone(), path.clone());
        tokio::spawn(async move {
            let mut version = 1;
            loop {
                let change = json!({
                    "version": version, "name": "Pipit", "notes": format!("by {i}"), "units": "metric", "brief": c["brief"], "donor": c["donor"], "shortlist": {}
                });
                let answer = s.call(Method::PUT, &path, Some(change)).await;
                if answer.status == StatusCode::OK {
                    return answer.body["version"].as_i64().expect("a version");
                }
                // Never that the database is too busy: a writer who comes late is told at once.
                assert_eq!(answer.status, StatusCode::CONFLICT, "{}", answer.body);
                version = answer.body["current_version"].as_i64().expect("the version to go on from");
            }
        })
    });
    let mut versions = Vec::new();
    for writer in writers.collect::<Vec<_>>() {
        versions.push(writer.await.expect("saved"));
    }
    versions.sort_unstable();
    assert_eq!(versions, (2..=51).collect::<Vec<i64>>(), "each write made a version of its own");
}
