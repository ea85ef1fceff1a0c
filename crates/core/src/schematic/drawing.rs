//! The one-line drawing of a circuit as SVG: symbols after IEC 60617, one line for all conductors of a run, text as text.
//!
//! The traction tree grows to the right, a lane for each branch; the 12 V tree hangs below from its bus. A branch has its lanes or columns to
//! itself, so that no two lines cross. Colours stand in attributes, which a style sheet around it may overrule by class.

mod ink;
mod layout;
mod symbols;

use svg::Document;
use svg::node::element::{Group, Title};

use super::circuit::{Circuit, CircuitKind, CircuitPart, Symbol};
use crate::electrics::Sizing;
use crate::findings::{Finding, Severity};
use ink::{Anchor, line, polyline, text, wrapped};
use layout::{Layout, Spot};

/// Characters of a line of text beside a symbol: along the traction tree, along the 12 V tree.
const WIDE: usize = 19;
const NARROW: usize = 12;
/// Characters of a line of the words about the whole.
const LONG: usize = 84;
/// Findings told on the drawing at most.
const TOLD: usize = 6;

/// Draws a circuit.
pub(super) fn drawing(circuit: &Circuit, s: &Sizing<'_>, findings: &[Finding]) -> String {
    let words = legend(s, findings);
    let layout = Layout::of(circuit, words.iter().map(|row| row.step).sum());
    let (width, height) = (layout.width, layout.height);
    let mut wires = Group::new().set("class", "wires");
    for route in &layout.routes {
        wires = wires.add(polyline(&route.points, class_of(route.circuit)));
        if let Some((x, y)) = route.tick.filter(|_| route.cores > 1) {
            wires = wires.add(line((x - 4.0, y + 5.0), (x + 4.0, y - 5.0), class_of(route.circuit)));
            wires = wires.add(text((x + 5.0, y - 6.0), &route.cores.to_string(), 9.0, "fine", Anchor::Start));
        }
    }
    let mut parts = Group::new().set("class", "parts");
    for spot in &layout.spots {
        if let Some(part) = circuit.part(&spot.id) {
            parts = parts.add(drawn(part, spot));
        }
    }
    let said = format!("One-line drawing, {}", s.document.name);
    Document::new()
        .set("viewBox", (0, 0, width.ceil() as i64, height.ceil() as i64))
        .set("width", width.ceil() as i64)
        .set("height", height.ceil() as i64)
        .set("font-family", "Inter, Helvetica, Arial, sans-serif")
        .set("class", "one-line")
        .set("role", "group")
        .set("aria-label", said.as_str())
        .add(Title::new(said.as_str()))
        .add(ink::paper(width, height))
        .add(wires)
        .add(parts)
        .add(written(layout.legend, &words))
        .to_string()
}

fn class_of(circuit: CircuitKind) -> &'static str {
    match circuit {
        CircuitKind::Traction | CircuitKind::Charge => "power",
        CircuitKind::LowVoltage => "ink",
        CircuitKind::Signal => "signal",
    }
}

fn drawn(part: &CircuitPart, spot: &Spot) -> Group {
    let mut words = vec![part.name.clone()];
    let rating = part.rating.to_string();
    if !rating.is_empty() {
        words.push(rating);
    }
    let told = format!("{} {}", part.id, words.join(", "));
    let mut group = Group::new()
        .set("class", format!("part {}", part.severity.map_or("", |s| if s == Severity::Stop { "stop" } else { "warn" })).trim_end())
        .set("data-part", part.id.as_str())
        .add(Title::new(told))
        .add(ink::touch(spot));
    group = group.add(symbols::symbol(part.symbol, spot));
    let (x, y) = (spot.x, spot.y);
    let several = if part.count > 1.0 && part.symbol != Symbol::Cable { format!(" × {}", part.count) } else { String::new() };
    let mark = format!("{}{several}", part.id);
    // A fuse of the 12 V side is told by what it feeds.
    let shown: Vec<String> = if spot.hangs && part.symbol == Symbol::Fuse { words[1..].to_vec() } else { words };
    if part.symbol == Symbol::Bus {
        let words = format!("{mark}  {}", shown.join(", "));
        let at = if spot.hangs { (x, y - 9.0) } else { (x, y - 20.0) };
        group = group.add(text(at, &words, 10.0, "mark", if spot.hangs { Anchor::Start } else { Anchor::Middle }));
    } else if spot.hangs {
        group = group.add(text((x + 17.0, y - 9.0), &mark, 10.5, "mark", Anchor::Start));
        for (i, row) in shown.iter().flat_map(|w| wrapped(w, NARROW)).take(4).enumerate() {
            group = group.add(text((x + 17.0, y + 3.0 + 11.0 * i as f64), &row, 9.5, "word", Anchor::Start));
        }
    } else if spot.above {
        // Two side by side under one word.
        if part.symbol == Symbol::Resistor {
            group = group.add(text((x + 28.0, y - 31.0), &part.name, 10.0, "word", Anchor::Middle));
        }
        group = group.add(text((x, y - 17.0), &format!("{mark}  {}", shown[1..].join(", ")), 9.5, "word", Anchor::Middle));
    } else {
        group = group.add(text((x, y - 22.0), &mark, 11.0, "mark", Anchor::Middle));
        for (i, row) in shown.iter().flat_map(|w| wrapped(w, WIDE)).take(4).enumerate() {
            group = group.add(text((x, y + 33.0 + 12.0 * i as f64), &row, 10.0, "word", Anchor::Middle));
        }
    }
    match part.severity {
        Some(Severity::Stop) => group.add(ink::flag((x - 21.0, y - 21.0), true)),
        Some(_) => group.add(ink::flag((x - 21.0, y - 21.0), false)),
        None => group,
    }
}

/// A row of the words about the whole.
struct Row {
    words: String,
    size: f64,
    class: &'static str,
    /// Down to the next one.
    step: f64,
}

/// What it is, whether it may be built, and what stands against it.
fn legend(s: &Sizing<'_>, findings: &[Finding]) -> Vec<Row> {
    let mut rows: Vec<Row> = Vec::new();
    let mut say = |words: String, size: f64, class: &'static str, step: f64| rows.push(Row { words, size, class, step });
    for row in wrapped(&s.document.name, 60).into_iter().take(2) {
        say(row, 15.0, "mark", 20.0);
    }
    let stops = findings.iter().filter(|f| f.severity == Severity::Stop).count();
    let state = match stops {
        0 => "Nothing found that stops it.".to_owned(),
        1 => "Not ready to be built: 1 stop.".to_owned(),
        n => format!("Not ready to be built: {n} stops."),
    };
    say(state, 11.0, if stops > 0 { "stop-word" } else { "word" }, 16.0);
    let against: Vec<&Finding> = findings.iter().filter(|f| f.severity != Severity::Note).collect();
    for finding in against.iter().take(TOLD) {
        let (glyph, class) = if finding.severity == Severity::Stop { ("■", "stop-word") } else { ("▲", "word") };
        for (i, row) in wrapped(&finding.message.to_string(), LONG).into_iter().enumerate() {
            say(if i == 0 { format!("{glyph} {row}") } else { format!("    {row}") }, 10.0, class, 13.0);
        }
    }
    if against.len() > TOLD {
        say(format!("and {} more", against.len() - TOLD), 10.0, "word", 13.0);
    }
    for row in [
        "One line for all conductors of a run, their number beside the stroke; dashed: signals.",
        "Symbols after IEC 60617, designations after IEC 81346. Contacts are drawn at rest.",
        "The local code and licensed practice rule over this drawing.",
    ] {
        say(row.to_owned(), 9.5, "fine", 13.0);
    }
    rows
}

fn written((x, mut y): (f64, f64), rows: &[Row]) -> Group {
    rows.iter().fold(Group::new().set("class", "legend"), |group, row| {
        let drawn = text((x, y), &row.words, row.size, row.class, Anchor::Start);
        y += row.step;
        group.add(drawn)
    })
}
