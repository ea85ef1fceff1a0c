//! How long the long computations go on once they have been told to stop: longest of many, as a table.

use std::time::{Duration, Instant};

use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::Document;
use joulethesis_core::document::MatchRequest;
use joulethesis_core::estimate::{cases, choices};
use joulethesis_core::inputs::Counted;
use joulethesis_core::library::builtin;
use joulethesis_core::matching::{Compared, Question, relaxations, search, why_not};
use joulethesis_core::uncertainty::{bands, tornado};
use joulethesis_core::usage::{mends, week, years};
use serde_json::{Value, json};

fn demo(name: &str) -> Value {
    let path = format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR"));
    serde_json::from_slice(&std::fs::read(path).expect("demo file")).expect("JSON")
}

/// Tells `work` to stop after each of some delays; the longest time from that to its end.
fn longest(what: &str, work: impl Fn(&Cancel)) {
    let (mut longest, mut stopped) = (Duration::ZERO, 0);
    for delay_ms in (0..24).map(|i| 1 + i * i * 3) {
        let cancel = Cancel::new();
        let told = {
            let cancel = cancel.clone();
            std::thread::spawn(move || {
                std::thread::sleep(Duration::from_millis(delay_ms));
                cancel.cancel();
                Instant::now()
            })
        };
        work(&cancel);
        let end = Instant::now();
        let told = told.join().expect("a thread");
        if end > told {
            stopped += 1;
            longest = longest.max(end - told);
        }
    }
    println!("| {what} | {stopped} | {:.1} ms |", longest.as_secs_f64() * 1e3);
}

fn main() {
    // Near the most that a document may simulate.
    let mut van = demo("whimbrel-9-a");
    let mut long = van["brief"]["trips"][1].clone();
    long["id"] = json!("long");
    long["repeat"] = json!(40);
    van["brief"]["trips"].as_array_mut().expect("trips").push(long);
    van["brief"]["week"]["outings"][0]["trip"] = json!("long");
    let van = Document::from_value(&van).expect("sound");
    let tug = Document::from_value(&demo("dunlin-a")).expect("sound");
    let mut poor = demo("pipit-b");
    for goal in poor["brief"]["goals"].as_array_mut().expect("goals") {
        if goal["measure"]["kind"] == "cost" {
            goal["measure"]["at_most"] = json!(300);
        }
    }
    let poor = Document::from_value(&poor).expect("sound");
    let request = MatchRequest::default();
    println!("| told to stop at 24 moments from 1 ms to 1.6 s | stopped | longest until it ended |\n|---|---|---|");
    longest("bands", |c| drop(bands(&van, c)));
    longest("tornado", |c| drop(tornado(&van, "trip.long.range_km", c)));
    longest("seasons and manners of a trip", |c| drop(cases(&Counted::of(&van), "long", c)));
    longest("choices", |c| drop(choices(&Counted::of(&van), c)));
    let runs = week(&Counted::of(&van), &Cancel::new()).expect("computed").seasons;
    longest("what mends a week", |c| drop(mends(&van, builtin(), &runs, c)));
    longest("packs over the years", |c| drop(years(&van, &[], c)));
    longest("search", |c| drop(search(&tug, builtin(), &request, c, |_| true)));
    longest("relaxations", |c| drop(relaxations(&poor, builtin(), &request, c, |_| true)));
    let question = Question { motor: Some("Skua 35 drive unit".to_owned()), ..Question::default() };
    longest("why not", |c| drop(why_not(&tug, builtin(), &request, &question, Compared::default(), c, || true)));
}
