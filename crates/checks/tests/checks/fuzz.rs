//! Whatever is handed in, documents, library files, tracks and logs end in a refusal that names its place, or in an answer all of whose
//! figures are figures; none of them panics, and none of them goes on and on. `make torture` does more of the same.

use std::sync::mpsc;
use std::time::Duration;

use crate::common::documents::{demo, documents};
use crate::common::spoilt::{edited, edits, spoil, spoilt};
use crate::common::{cases, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{ConversionFile, Document};
use joulethesis_core::error::{Error, Result};
use joulethesis_core::estimate::{cases as cases_of_trip, choices};
use joulethesis_core::evidence::runs_from_csv;
use joulethesis_core::inputs::Counted;
use joulethesis_core::library::{builtin, exchange};
use joulethesis_core::matching::needs;
use joulethesis_core::quantity::parse_json;
use joulethesis_core::report::report_until;
use joulethesis_core::trip::track::{from_csv, from_gpx};
use joulethesis_core::uncertainty::bands;
use proptest::prelude::*;
use serde::Serialize;
use serde_json::{Value, json};

/// Far above what any of it takes: what is still at work then would never end, or nearly.
const NEVER: Duration = Duration::from_secs(20);

/// Runs `work`, and cancels it when it does not come to an end.
fn bounded<T>(work: impl FnOnce(&Cancel) -> T) -> T {
    let cancel = Cancel::new();
    let (done, ended) = mpsc::channel::<()>();
    let own = cancel.clone();
    let watch = std::thread::spawn(move || {
        if ended.recv_timeout(NEVER) == Err(mpsc::RecvTimeoutError::Timeout) {
            own.cancel();
        }
    });
    let result = work(&cancel);
    drop(done);
    watch.join().expect("the watch");
    assert!(!cancel.is_cancelled(), "it did not come to an end");
    result
}

/// Place of the first figure that is none: JSON has no word for infinities, so they come out as null.
fn no_figure(value: &Value, at: &str) -> Option<String> {
    match value {
        Value::Null => Some(at.to_owned()),
        // A gear pulls at no speed beyond its motor's highest: gaps of that curve.
        Value::Array(_) if at.ends_with(".force_n") => None,
        Value::Array(list) => list.iter().enumerate().find_map(|(i, v)| no_figure(v, &format!("{at}[{i}]"))),
        Value::Object(map) => map.iter().find_map(|(k, v)| no_figure(v, &format!("{at}.{k}"))),
        _ => None,
    }
}

fn figures<T: Serialize>(what: &str, answer: &Result<T>) -> std::result::Result<(), TestCaseError> {
    match answer {
        Ok(answer) => {
            let value = serde_json::to_value(answer).expect("JSON");
            prop_assert!(no_figure(&value, what).is_none(), "{}", no_figure(&value, what).unwrap_or_default());
            Ok(())
        }
        Err(error) => refusal(what, error),
    }
}

/// A refusal is words about places: not too many, none of them empty or endless.
fn refusal(what: &str, error: &Error) -> std::result::Result<(), TestCaseError> {
    let problems = error.problems();
    prop_assert!(!error.to_string().is_empty() && problems.len() <= 51, "{what}: {} problems", problems.len());
    for p in problems {
        prop_assert!(!p.message.is_empty() && p.message.len() < 1000 && p.given.chars().count() <= 90, "{what}: {p:?}");
    }
    Ok(())
}

proptest! {
    #![proptest_config(cases(400))]

    #[test]
    fn documents_with_spoilt_numbers(base in 0usize..8, places in prop::collection::vec(spoilt(), 1..5), closely in 0usize..16) {
        let document = spoil(documents()[base].clone(), &places);
        match Document::from_value(&document) {
            Err(error) => refusal("document", &error)?,
            Ok(document) => {
                figures("estimate", &bounded(|c| report_until(&document, c)))?;
                // The longer computations, on some of them.
                match closely {
                    0 => figures("bands", &bounded(|c| bands(&document, c)))?,
                    1 => figures("choices", &bounded(|c| choices(&Counted::of(&document), c)))?,
                    2 | 3 if !document.brief.trips.is_empty() => {
                        figures("cases", &bounded(|c| cases_of_trip(&Counted::of(&document), &document.brief.trips[0].id, c)))?;
                    }
                    4 | 5 => figures("needs", &bounded(|_| needs(&document)))?,
                    _ => {}
                }
            }
        }
    }
}

proptest! {
    #![proptest_config(cases(300))]

    #[test]
    fn spoilt_library_files(edits in edits(), json in any::<bool>()) {
        let some: Vec<_> = builtin().iter().step_by(5).cloned().collect();
        let read = if json {
            exchange::from_json(&edited(&exchange::to_json(&some), &[':', ',', '"'], &edits))
        } else {
            exchange::from_csv(&edited(&exchange::to_csv(&some), &[','], &edits))
        };
        match read {
            Err(error) => refusal("library", &error)?,
            // What is taken is exported, and comes back the same.
            Ok(parts) => {
                prop_assert_eq!(&exchange::from_csv(&exchange::to_csv(&parts)).expect("its own file"), &parts);
                prop_assert_eq!(&exchange::from_json(&exchange::to_json(&parts)).expect("its own file"), &parts);
            }
        }
    }

    #[test]
    fn spoilt_tracks_and_logs(edits in edits(), gpx in any::<bool>()) {
        let text = if gpx {
            let file = format!("{}/../../demo/harbour-round.gpx", env!("CARGO_MANIFEST_DIR"));
            let whole = std::fs::read_to_string(file).expect("demo file");
            let points: Vec<&str> = whole.lines().take(60).collect();
            edited(&(points.join("\n") + "</trkseg></trk></gpx>"), &['"', '<', '>'], &edits)
        } else {
            let rows: String = (0..40).map(|i| format!("{i},{},{},out\n", 20 + i % 7, 3 + i % 5)).collect();
            edited(&format!("time_s,speed_kmh,elevation_m,direction\n{rows}"), &[','], &edits)
        };
        for read in [from_csv(&text), from_gpx(text.as_bytes())] {
            match read {
                Err(error) => refusal("track", &error)?,
                Ok(track) => {
                    let value = serde_json::to_value(&track).expect("JSON");
                    prop_assert!(no_figure(&value, "track").is_none(), "{:?}", no_figure(&value, "track"));
                    // It can be driven as it is.
                    let trip = json!([{ "id": "t", "name": "T", "path": track.path }]);
                    let taken = Document::from_value(&with(demo("pipit-a"), "/brief/trips", trip));
                    let about_it = taken.err().map(|e| e.problems().iter().filter(|p| p.path.starts_with("brief.trips")).cloned().collect::<Vec<_>>());
                    prop_assert!(about_it.is_none_or(|p| p.is_empty()) || track.distance_km == 0.0);
                }
            }
        }
        if let Err(error) = runs_from_csv(&text) {
            refusal("log", &error)?;
        }
    }

    #[test]
    fn spoilt_text_of_documents(edits in edits()) {
        let text = serde_json::to_string_pretty(&demo("pipit-a")).expect("JSON");
        let text = edited(&text, &[':', ',', '"', '{', '['], &edits);
        if let Err(error) = Document::from_json(text.as_bytes()) {
            refusal("document", &error)?;
        }
        if let Ok(value) = parse_json(text.as_bytes())
            && let Err(error) = ConversionFile::from_value(&value)
        {
            refusal("conversion", &error)?;
        }
    }

    /// Figures come back to the last bit.
    #[test]
    fn figures_survive_the_round_trip(bits in any::<u64>(), share in 0.0..1.0f64) {
        for x in [f64::from_bits(bits), share * 1e-3, share * 1e9] {
            prop_assume!(x.is_finite());
            let back = parse_json(serde_json::to_string(&json!([x])).expect("JSON").as_bytes()).expect("JSON");
            prop_assert_eq!(back[0].as_f64().map(f64::to_bits), Some(x.to_bits()));
        }
    }
}
