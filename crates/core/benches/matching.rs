//! The search over the built-in library, once, twice and four times as large: time to the first answers, to the last, and memory.
//!
//! Prints a table instead of sampling: one search takes seconds, and its counts are as telling as its time.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::time::Instant;

use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Answers, Certainty, Checked, Document, MatchRequest, VehicleKind};
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::matching::{MatchAnswer, propose, relaxations, search};

/// The library with records again under other names and slightly other ratings, as many times as said of each, so that no copy is a duplicate.
fn grown(times: impl Fn(&Part) -> u32) -> Vec<Part> {
    let mut all = builtin().to_vec();
    let most = builtin().iter().map(&times).max().unwrap_or(1);
    for copy in 1..most {
        let other = f64::from(copy).mul_add(0.012, 1.0);
        for part in builtin().iter().filter(|p| copy < times(p)) {
            let mut part = part.clone();
            match &mut part {
                Part::Motor(m) => {
                    m.name = format!("{} {copy}", m.name);
                    m.price *= other;
                    m.mass_kg /= other;
                }
                Part::Controller(c) => {
                    c.name = format!("{} {copy}", c.name);
                    c.price *= other;
                    c.mass_kg /= other;
                }
                Part::Module(m) => {
                    m.name = format!("{} {copy}", m.name);
                    m.price *= other;
                    m.capacity_ah *= other;
                }
                Part::Charger(c) => {
                    c.name = format!("{} {copy}", c.name);
                    c.price *= other;
                    c.mass_kg /= other;
                }
                // The search does not look at them.
                Part::Component(_) => continue,
            }
            all.push(part);
        }
    }
    all
}

/// The kind of a part that a search looks at.
fn kind(part: &Part) -> &'static str {
    match part {
        Part::Motor(_) => "motor",
        Part::Controller(_) => "controller",
        Part::Module(_) => "module",
        Part::Charger(_) => "charger",
        Part::Component(_) => "",
    }
}

/// The library with one kind grown to some five thousand records.
fn grown_by(one: &str) -> Vec<Part> {
    const MANY: usize = 5000;
    let own = builtin().iter().filter(|p| kind(p) == one).count().max(1);
    grown(|part| if kind(part) == one { MANY.div_ceil(own) as u32 } else { 1 })
}

/// Largest resident size so far, MB (Linux).
fn peak_mb() -> f64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|l| l.strip_prefix("VmHWM:"));
    line.and_then(|l| l.split_whitespace().next()).and_then(|kb| kb.parse::<f64>().ok()).unwrap_or(f64::NAN) / 1024.0
}

/// Seconds of a loop that no compiler shortens, so that searches of different hours and machines can be compared: 100 million steps of the
/// logistic map, each of which needs the one before.
fn yardstick_s() -> f64 {
    let start = Instant::now();
    let end = (0..100_000_000).fold(std::hint::black_box(0.3_f64), |x, _| 3.9 * x * (1.0 - x));
    std::hint::black_box(end);
    start.elapsed().as_secs_f64()
}

/// Mark of the designs found: searches that found the same have the same.
fn mark(answer: &MatchAnswer) -> u64 {
    let mut hasher = DefaultHasher::new();
    serde_json::to_string(&answer.designs).unwrap_or_default().hash(&mut hasher);
    hasher.finish()
}

/// Seconds that all ways out of too little money take, and the first proposal.
fn ways_and_proposal(document: &Checked, library: &[Part], request: &MatchRequest, answer: &MatchAnswer) -> String {
    let least = answer.designs.iter().map(|d| d.cost).fold(f64::INFINITY, f64::min);
    let short = MatchRequest { budget: Some(0.85 * least), ..request.clone() };
    let start = Instant::now();
    let ways = relaxations(document, library, &short, &Cancel::new(), |_| true).map(|w| w.options.len());
    let ways_s = start.elapsed().as_secs_f64();
    let start = Instant::now();
    let proposal = propose(document, library, &Cancel::new()).map(|p| p.map(|p| p.meets));
    format!("{ways_s:.2} s, ways out: {ways:?}; {:.2} s, proposal: {proposal:?}", start.elapsed().as_secs_f64())
}

/// Longest a search is measured; one that is stopped says so.
const LONGEST: std::time::Duration = std::time::Duration::from_secs(150);

fn main() {
    let wanted: Vec<String> = std::env::args().skip(1).filter(|a| !a.starts_with("--")).collect();
    println!(
        "| brief | library | raw | bounded | simulated | driven | answers | first answers | complete | over the yardstick | peak memory | designs |"
    );
    println!("|---|---|---|---|---|---|---|---|---|---|---|---|");
    let demos = [
        ("trike", include_str!("../../../demo/pipit-b.json")),
        ("hauler", include_str!("../../../demo/wren-a.json")),
        ("tug", include_str!("../../../demo/dunlin-a.json")),
        ("van", include_str!("../../../demo/whimbrel-9-a.json")),
    ];
    let demos = demos.into_iter().filter_map(|(name, text)| Some((name.to_owned(), Document::from_json(text.as_bytes()).ok()?)));
    // What a new conversion of each kind begins with.
    let new = VehicleKind::ALL.into_iter().filter_map(|kind| {
        let name = format!("new {}", serde_json::to_value(kind).ok()?.as_str()?);
        let document = Document::starter(&name, kind, &Answers::default()).checked().ok()?;
        Some((name, document))
    });
    for (name, document) in demos.chain(new) {
        let is_wanted = wanted.iter().any(|w| *w == name || w == "new" && name.starts_with("new "));
        if !wanted.is_empty() && !is_wanted {
            continue;
        }
        let times: &[u32] = if name == "van" && wanted.len() != 1 { &[1, 2, 4] } else { &[1] };
        let mut libraries: Vec<(Certainty, String, Vec<Part>)> =
            times.iter().map(|t| (Certainty::P50, format!("x{t}"), grown(|_| *t))).collect();
        if std::env::var_os("CAUTIOUS").is_some() {
            libraries.push((Certainty::P10, "x1".to_owned(), grown(|_| 1)));
        }
        // MANY=module: five thousand of one kind.
        if let Ok(one) = std::env::var("MANY") {
            libraries = vec![(Certainty::P50, format!("5000 of {one}"), grown_by(&one))];
        }
        for (certainty, size, library) in libraries {
            let request = MatchRequest { certainty, ..MatchRequest::default() };
            let yardstick_s = yardstick_s();
            let start = Instant::now();
            let mut first = None;
            let answer = search(&document, &library, &request, &Cancel::new(), |progress| {
                if first.is_none() && !progress.leading(1).is_empty() {
                    first = Some(start.elapsed());
                }
                start.elapsed() < LONGEST
            });
            let took = start.elapsed();
            match answer {
                Ok(answer) => {
                    let r = &answer.report;
                    println!(
                        "| {name}{} | {size} | {:.2e} | {} | {} | {} | {} | {:.2} s | {:.2} s{} | {:.1} | {:.0} MB | {:016x} |",
                        if certainty == Certainty::P10 { ", P10" } else { "" },
                        r.raw as f64,
                        r.bounded,
                        r.simulated,
                        r.driven,
                        r.kept,
                        first.map_or(f64::NAN, |f| f.as_secs_f64()),
                        took.as_secs_f64(),
                        if answer.complete { "" } else { ", stopped" },
                        took.as_secs_f64() / yardstick_s,
                        peak_mb(),
                        mark(&answer)
                    );
                    if std::env::var_os("WAYS").is_some() {
                        println!("{}", ways_and_proposal(&document, &library, &request, &answer));
                    }
                    if std::env::var_os("CUTS").is_some() {
                        println!("{}", serde_json::to_string_pretty(&answer.report).unwrap_or_default());
                        for d in answer.designs.iter().take(25) {
                            println!(
                                "{:3} {:+.3} {} x{} | {} | {} | {} {} {}p | {:?} | {:.0} € {:.1?} km {:.1?} s {:.0} kg {:.1?} h {:.1} %",
                                d.place,
                                d.rank,
                                d.pick.motor,
                                d.pick.motor_count,
                                d.pick.gearing,
                                d.pick.controller,
                                d.pick.module,
                                d.layout,
                                d.pick.strings_in_parallel,
                                d.pick.charger,
                                d.cost,
                                d.range_km,
                                d.acceleration_s,
                                d.added_kg,
                                d.charge_h,
                                d.hill_percent
                            );
                        }
                    }
                }
                Err(e) => println!("| {name} | {size} | {e} |"),
            }
        }
    }
}
