//! The donor's baseline through the real router: photographs, the log of its network, passes by the clock, candidates.

use std::io::Cursor;

use axum::http::{Method, StatusCode};
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use image::{DynamicImage, ImageFormat, Rgb, RgbImage};
use serde_json::{Value, json};

use crate::common::{Service, demo};
use crate::inputs::with;

async fn ask(s: &Service, method: Method, path: &str, body: Option<Value>) -> (StatusCode, Value) {
    let answer = s.call(method, path, body).await;
    (answer.status, answer.body)
}

async fn conversion(s: &Service) -> String {
    let (_, made) = ask(s, Method::POST, "/api/v1/conversions", Some(json!({ "name": "Van", "kind": "van" }))).await;
    made["id"].as_str().expect("an id").to_owned()
}

/// A picture, its left half red, as a file.
fn picture(width: u32, height: u32, format: ImageFormat) -> Vec<u8> {
    let half = RgbImage::from_fn(width, height, |x, _| if x < width / 2 { Rgb([220, 30, 30]) } else { Rgb([250, 250, 250]) });
    let mut out = Cursor::new(Vec::new());
    DynamicImage::from(half).write_to(&mut out, format).expect("written");
    out.into_inner()
}

/// The same JPEG with what a camera writes: held upright (orientation 6), and where it was taken.
fn with_marks(jpeg: &[u8]) -> Vec<u8> {
    let mut exif = b"Exif\0\0MM\0*\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0\x06\0\0\0\0\0\0GPSLatitude 53.5".to_vec();
    let mut marked = jpeg[..2].to_vec();
    marked.extend([0xFF, 0xE1]);
    marked.extend(((exif.len() + 2) as u16).to_be_bytes());
    marked.append(&mut exif);
    marked.extend(&jpeg[2..]);
    marked
}

#[tokio::test(flavor = "multi_thread")]
async fn photographs_are_kept_small_upright_and_without_marks() {
    let s = Service::new().await;
    let id = conversion(&s).await;
    let all = format!("/api/v1/conversions/{id}/photographs");
    let add = async |bytes: &[u8]| {
        ask(&s, Method::POST, &all, Some(json!({ "caption": " Left side ", "picture": STANDARD.encode(bytes) }))).await
    };
    let (status, kept) = add(&with_marks(&picture(2400, 1200, ImageFormat::Jpeg))).await;
    assert_eq!((status, &kept["caption"], &kept["about"]), (StatusCode::CREATED, &json!("Left side"), &json!("")), "{kept}");
    assert_eq!((&kept["width"], &kept["height"]), (&json!(900), &json!(1800)), "turned upright and scaled down");
    let own = kept["id"].as_str().expect("an id");
    for (query, most) in [("", 1800), ("?small=true", 320)] {
        let bytes = s.call(Method::GET, &format!("/api/v1/photographs/{own}/picture{query}"), None).await.bytes;
        assert!(!bytes.windows(3).any(|w| w == b"GPS") && !bytes.windows(4).any(|w| w == b"Exif"), "the camera's marks are gone");
        let seen = image::load_from_memory_with_format(&bytes, ImageFormat::Jpeg).expect("a picture").to_rgb8();
        assert_eq!((seen.width(), seen.height()), (most / 2, most));
        // Turned a quarter to the right, the red left half lies above.
        let [above, below] = [seen.get_pixel(most / 4, most / 8).0, seen.get_pixel(most / 4, most - most / 8).0];
        assert!(above[1] < 80 && below[1] > 200, "{above:?} {below:?}");
    }
    let (status, png) = add(&picture(60, 40, ImageFormat::Png)).await;
    assert_eq!((status, &png["width"]), (StatusCode::CREATED, &json!(60)), "never scaled up");
    // Described anew, listed in the order they came, removed, and gone with their conversion.
    let path = format!("/api/v1/photographs/{own}");
    let (status, told) = ask(&s, Method::PUT, &path, Some(json!({ "caption": "Engine bay", "about": "Engine" }))).await;
    assert_eq!((status, &told["about"]), (StatusCode::OK, &json!("Engine")));
    let (status, long) = ask(&s, Method::PUT, &path, Some(json!({ "caption": "x".repeat(301), "about": "" }))).await;
    assert_eq!((status, &long["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("caption")));
    let (_, list) = ask(&s, Method::GET, &all, None).await;
    assert_eq!(list.as_array().expect("a list").iter().map(|p| &p["caption"]).collect::<Vec<_>>(), ["Engine bay", "Left side"]);
    assert_eq!(s.call(Method::DELETE, &path, None).await.status, StatusCode::NO_CONTENT);
    assert_eq!(s.call(Method::DELETE, &path, None).await.status, StatusCode::NOT_FOUND);
    assert_eq!(s.call(Method::DELETE, &format!("/api/v1/conversions/{id}?version=1"), None).await.status, StatusCode::NO_CONTENT);
    assert_eq!(s.call(Method::GET, &all, None).await.status, StatusCode::NOT_FOUND);
    let other = png["id"].as_str().expect("an id");
    assert_eq!(s.call(Method::GET, &format!("/api/v1/photographs/{other}/picture"), None).await.status, StatusCode::NOT_FOUND);
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_no_photograph_or_one_too_many_is_refused_by_field() {
    let s = Service::new().await;
    let id = conversion(&s).await;
    let all = format!("/api/v1/conversions/{id}/photographs");
    let cut = picture(800, 600, ImageFormat::Jpeg);
    // A picture that claims to be of 60 000 by 60 000 pixels, in a few bytes.
    let mut bomb = picture(4, 4, ImageFormat::Png);
    bomb[16..24].copy_from_slice(&[0, 0, 0xEA, 0x60, 0, 0, 0xEA, 0x60]);
    for bad in [b"not a picture".to_vec(), Vec::new(), cut[..40].to_vec(), bomb, b"GIF89a\x01\0\x01\0\0\0\0;".to_vec()] {
        let (status, refused) = ask(&s, Method::POST, &all, Some(json!({ "picture": STANDARD.encode(&bad) }))).await;
        assert_eq!((status, &refused["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("picture")), "{refused}");
        assert!(refused["problems"][0]["accepted"].as_str().is_some_and(|a| a.contains("JPEG, PNG or WebP")), "{refused}");
    }
    let (status, refused) = ask(&s, Method::POST, &all, Some(json!({ "picture": "*" }))).await;
    assert_eq!((status, &refused["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("picture")));
    let tiny = json!({ "picture": STANDARD.encode(picture(2, 2, ImageFormat::Png)) });
    for _ in 0..60 {
        assert_eq!(ask(&s, Method::POST, &all, Some(tiny.clone())).await.0, StatusCode::CREATED);
    }
    let (status, full) = ask(&s, Method::POST, &all, Some(tiny.clone())).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(full["problems"][0]["accepted"].as_str().is_some_and(|a| a.contains("up to 60")), "{full}");
    let nowhere = "/api/v1/conversions/00000000-0000-7000-8000-000000000000/photographs";
    assert_eq!(ask(&s, Method::POST, nowhere, Some(tiny)).await.0, StatusCode::NOT_FOUND);
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_log_is_read_and_garbage_in_it_named() {
    let s = Service::new().await;
    let (_, heard) = ask(&s, Method::GET, "/api/v1/network/simulated?seconds=3", None).await;
    let (log, dbc) = (heard["log"].as_str().expect("a log"), &heard["dbc"]);
    let (status, read) = ask(&s, Method::POST, "/api/v1/network", Some(json!({ "log": log, "dbc": dbc }))).await;
    assert_eq!((status, &read["network"]["messages"][0]["name"]), (StatusCode::OK, &json!("EngineState")), "{read}");
    assert_eq!(read["units"], json!(["ENGINE", "BRAKES", "STEERING", "DASH", "BODY"]));
    let spoilt = format!("{log}what is this\n");
    let (status, refused) = ask(&s, Method::POST, "/api/v1/network", Some(json!({ "log": spoilt }))).await;
    let lines = log.lines().count() + 1;
    assert_eq!((status, &refused["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!(format!("log, line {lines}"))));
    let (_, kept) =
        ask(&s, Method::POST, "/api/v1/network", Some(json!({ "log": spoilt, "leave_out": true, "known": read["network"] }))).await;
    let names = |of: &Value| of["network"]["messages"].as_array().expect("messages").iter().map(|m| m["name"].clone()).collect::<Vec<_>>();
    assert_eq!((&kept["left_out"], names(&kept)), (&json!(1), names(&read)), "names stay without their file");
    let (status, refused) = ask(&s, Method::POST, "/api/v1/network", Some(json!({ "log": log, "dbc": "BO_ nothing" }))).await;
    assert_eq!((status, &refused["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("dbc")));
    // Put into the donor, what its engine's unit sends is told as falling silent once that unit leaves.
    let mut network = read["network"].clone();
    network["leaving"] = json!(["ENGINE"]);
    let van = with(demo("whimbrel-9-a"), "/donor/evidence/network", network);
    let (_, silent) = ask(&s, Method::POST, "/api/v1/network/silent", Some(van)).await;
    assert_eq!(silent.as_array().expect("a list").iter().map(|m| &m["id"]).collect::<Vec<_>>(), ["0C4", "2F1"]);
    s.db.drop_database().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn candidates_are_ranked_stored_and_come_back_with_the_file() {
    let s = Service::new().await;
    let (van, list) = (demo("whimbrel-9-a"), demo("whimbrel-9-shortlist"));
    let asked = json!({ "document": van, "shortlist": list });
    let (status, rows) = ask(&s, Method::POST, "/api/v1/candidates", Some(asked.clone())).await;
    assert_eq!(status, StatusCode::OK, "{rows}");
    let mut ids: Vec<&str> = rows.as_array().expect("rows").iter().filter_map(|r| r["id"].as_str()).collect();
    ids.sort_unstable();
    assert_eq!(ids, ["curlew", "in-hand", "turnstone"]);
    let mut broken = asked.clone();
    broken["chains"] = json!({ "curlew": { "motor_count": 9 } });
    let (status, refused) = ask(&s, Method::POST, "/api/v1/candidates", Some(broken)).await;
    assert_eq!((status, &refused["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("chains.curlew.motor_count")));
    let (_, trike) = ask(&s, Method::GET, "/api/v1/candidates/typical/trike", None).await;
    assert_eq!(trike["kind"], "trike");
    assert_eq!(ask(&s, Method::GET, "/api/v1/candidates/typical/rocket", None).await.0, StatusCode::NOT_FOUND);
    // Stored with the conversion, refused by field, exported and imported identically.
    let (_, made) = ask(&s, Method::POST, "/api/v1/conversions", Some(json!({ "name": "Van", "kind": "van" }))).await;
    let path = format!("/api/v1/conversions/{}", made["id"].as_str().expect("an id"));
    let change = |shortlist: &Value| json!({ "version": 1, "name": "Van", "notes": "", "units": "metric", "brief": made["brief"], "donor": made["donor"], "shortlist": shortlist });
    let twice = json!({ "candidates": [list["candidates"][0], list["candidates"][0]] });
    let (status, refused) = ask(&s, Method::PUT, &path, Some(change(&twice))).await;
    assert_eq!((status, &refused["problems"][0]["path"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("shortlist.candidates[1].id")));
    assert_eq!(ask(&s, Method::PUT, &path, Some(change(&list))).await.0, StatusCode::OK);
    let (_, file) = ask(&s, Method::GET, &format!("{path}/file"), None).await;
    let (status, again) = ask(&s, Method::POST, "/api/v1/conversions/import", Some(file.clone())).await;
    assert_eq!(status, StatusCode::CREATED, "{again}");
    assert_eq!((&again["shortlist"], again["shortlist"]["candidates"].as_array().map(Vec::len)), (&file["shortlist"], Some(2)));
    s.db.drop_database().await;
}
