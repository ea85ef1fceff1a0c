//! Lines, texts and marks. Colours stand in attributes, the lowest rank, so that classes overrule them.

use svg::node::element::{Circle, Group, Line, Path, Polyline, Rectangle, Text};

use super::layout::Spot;

const INK: &str = "#1c2730";
const FINE: &str = "#5b6872";
const POWER: &str = "#b4540a";
const STOP: &str = "#b3261e";
const WARN: &str = "#8a5a00";
const PAPER: &str = "#ffffff";

/// Where a text stands from its point.
#[derive(Debug, Clone, Copy)]
pub(super) enum Anchor {
    Start,
    Middle,
}

fn colour(class: &str) -> &'static str {
    match class {
        "power" => POWER,
        "signal" | "fine" => FINE,
        "stop-word" => STOP,
        _ => INK,
    }
}

/// Two digits after the point are a hundredth of a pixel.
fn n(value: f64) -> f64 {
    (100.0 * value).round() / 100.0
}

pub(super) fn paper(width: f64, height: f64) -> Rectangle {
    Rectangle::new().set("class", "paper").set("width", n(width)).set("height", n(height)).set("fill", PAPER)
}

/// What a finger or a pointer meets.
pub(super) fn touch(spot: &Spot) -> Rectangle {
    let (x, y, w, h) = if spot.hangs { (spot.x - 18.0, spot.y - 26.0, 84.0, 58.0) } else { (spot.x - 46.0, spot.y - 32.0, 92.0, 84.0) };
    let (x, y, w, h) = if spot.above { (spot.x - 27.0, spot.y - 27.0, 54.0, 41.0) } else { (x, y, w, h) };
    Rectangle::new().set("class", "touch").set("x", n(x)).set("y", n(y)).set("width", w).set("height", h).set("fill", "transparent")
}

pub(super) fn line(from: (f64, f64), to: (f64, f64), class: &str) -> Line {
    Line::new()
        .set("x1", n(from.0))
        .set("y1", n(from.1))
        .set("x2", n(to.0))
        .set("y2", n(to.1))
        .set("class", class)
        .set("stroke", colour(class))
        .set("stroke-width", 1.4)
}

pub(super) fn polyline(points: &[(f64, f64)], class: &str) -> Polyline {
    let list: Vec<String> = points.iter().map(|(x, y)| format!("{},{}", n(*x), n(*y))).collect();
    let drawn = Polyline::new()
        .set("points", list.join(" "))
        .set("class", class)
        .set("fill", "none")
        .set("stroke", colour(class))
        .set("stroke-width", if class == "power" { 2.2 } else { 1.4 });
    if class == "signal" { drawn.set("stroke-dasharray", "5 3") } else { drawn }
}

pub(super) fn path(d: &str) -> Path {
    Path::new().set("d", d).set("class", "ink").set("fill", "none").set("stroke", INK).set("stroke-width", 1.6)
}

/// An outline with the paper inside, so that no line shows through.
pub(super) fn outline(d: &str) -> Path {
    path(d).set("class", "ink filled").set("fill", PAPER)
}

pub(super) fn circle(x: f64, y: f64, r: f64) -> Circle {
    Circle::new()
        .set("cx", n(x))
        .set("cy", n(y))
        .set("r", r)
        .set("class", "ink filled")
        .set("fill", PAPER)
        .set("stroke", INK)
        .set("stroke-width", 1.6)
}

pub(super) fn text(at: (f64, f64), words: &str, size: f64, class: &str, anchor: Anchor) -> Text {
    let drawn = Text::new(words)
        .set("x", n(at.0))
        .set("y", n(at.1))
        .set("class", class)
        .set("font-size", size)
        .set("fill", colour(class))
        .set("text-anchor", if matches!(anchor, Anchor::Middle) { "middle" } else { "start" });
    if class == "mark" || class == "stop-word" { drawn.set("font-weight", 650) } else { drawn }
}

/// Marks a part with a finding: a square for a stop, a triangle for a warning.
pub(super) fn flag(at: (f64, f64), stop: bool) -> Group {
    let (x, y) = at;
    let (d, fill, class) = if stop {
        (format!("M{} {}h11v11h-11z", n(x - 5.5), n(y - 5.5)), STOP, "flag-stop")
    } else {
        (format!("M{} {}l6.5 11h-13z", n(x), n(y - 5.5)), WARN, "flag-warn")
    };
    Group::new().add(Path::new().set("d", d).set("fill", fill).set("class", class))
}

/// Words in lines of so many characters, broken at blanks; a longer word is cut.
pub(super) fn wrapped(words: &str, width: usize) -> Vec<String> {
    let mut rows: Vec<String> = Vec::new();
    for word in words.split_whitespace() {
        let mut word: String = word.to_owned();
        if word.chars().count() > width {
            word = word.chars().take(width - 1).collect::<String>() + "…";
        }
        match rows.last_mut() {
            Some(row) if row.chars().count() + 1 + word.chars().count() <= width => {
                row.push(' ');
                row.push_str(&word);
            }
            _ => rows.push(word),
        }
    }
    rows
}
