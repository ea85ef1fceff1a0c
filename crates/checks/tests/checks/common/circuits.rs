//! Circuits with all there may be on them, and what every circuit and drawing must be.

use std::collections::{BTreeMap, BTreeSet};

use super::drawn::{Drawn, described};
use joulethesis_core::schematic::{Circuit, ElectricsSheet};
use proptest::prelude::*;
use serde_json::{Value, json};

/// A drawn vehicle with whatever else there may be on its circuits.
pub(crate) fn dressed(d: &Drawn, drives: u32, extras: u32) -> Value {
    let mut v = described(d);
    let has = |bit: u32| extras & (1 << bit) != 0;
    v["design"]["motor_count"] = json!(drives);
    v["design"]["controller_count"] = json!(drives);
    v["design"]["electrics"] = json!({
        "brakes": if has(0) { "vacuum" } else if has(1) { "electric" } else { "none" },
        "supply": if has(2) { "battery" } else { "converter" },
        "electric_steering": has(3),
        "code": if has(4) { "north_america" } else { "iec" },
        "series": if has(4) { "awg" } else { "metric" },
    });
    if has(5) {
        v["design"]["electrics"]["heating_w"] = json!(2500);
    }
    let full = 4.2 * (d.volts / 3.6).round().max(1.0);
    if has(6) {
        v["design"]["charger"] = json!({ "name": "c", "output_min_v": full * 0.8, "output_max_v": full * 1.05, "output_current_a": 20,
            "output_power_w": 3000, "efficiency": 0.93, "mass_kg": 5, "price": 300 });
    }
    v["brief"]["sockets"] = json!([{ "id": "s", "name": "S", "kind": "ac", "voltage_v": 230, "current_a": 16 },
        { "id": "d", "name": "D", "kind": "dc", "voltage_v": 500, "current_a": 60, "min_voltage_v": 20 }]);
    if !has(7) {
        v["brief"]["sockets"].as_array_mut().expect("sockets").pop();
    }
    v
}

/// Segments of every line of the drawing that stands for wires.
pub(crate) fn segments(svg: &str) -> Vec<((f64, f64), (f64, f64))> {
    let mut out = Vec::new();
    for polyline in svg.split("<polyline").skip(1) {
        let list = polyline.split("points=\"").nth(1).and_then(|p| p.split('"').next()).expect("points");
        let points: Vec<(f64, f64)> = list
            .split(' ')
            .map(|p| p.split_once(',').map(|(x, y)| (x.parse().expect("x"), y.parse().expect("y"))).expect("a point"))
            .collect();
        out.extend(points.windows(2).map(|p| (p[0], p[1])));
    }
    out
}

/// Whether a level and an upright segment cross within both, not at an end of either.
pub(crate) fn cross(a: ((f64, f64), (f64, f64)), b: ((f64, f64), (f64, f64))) -> bool {
    let level = |s: ((f64, f64), (f64, f64))| s.0.1 == s.1.1;
    let (h, v) = match (level(a), level(b)) {
        (true, false) => (a, b),
        (false, true) => (b, a),
        _ => return false,
    };
    let within = |x: f64, p: f64, q: f64| x > p.min(q) + 0.5 && x < p.max(q) - 0.5;
    within(v.0.0, h.0.0, h.1.0) && within(h.0.1, v.0.1, v.1.1)
}

pub(crate) fn drawn_times(svg: &str, id: &str) -> usize {
    svg.matches(&format!("data-part=\"{id}\"")).count()
}

/// Parts that a wire leads to from a root, but for wires that close a loop.
pub(crate) fn reached(circuit: &Circuit, root: &str) -> BTreeSet<String> {
    let mut seen = BTreeSet::from([root.to_owned()]);
    let mut todo = vec![root.to_owned()];
    while let Some(at) = todo.pop() {
        for wire in circuit.wires.iter().filter(|w| !w.closes && w.from == at) {
            assert!(seen.insert(wire.to.clone()), "{} is reached twice", wire.to);
            todo.push(wire.to.clone());
        }
    }
    seen
}

pub(crate) fn sound(sheet: &ElectricsSheet) -> Result<(), TestCaseError> {
    let c = &sheet.circuit;
    let ids: BTreeMap<&str, usize> = c.parts.iter().fold(BTreeMap::new(), |mut m, p| {
        *m.entry(p.id.as_str()).or_default() += 1;
        m
    });
    prop_assert!(ids.values().all(|n| *n == 1), "{ids:?}");
    for part in &c.parts {
        prop_assert_eq!(drawn_times(&sheet.drawing, &part.id), 1, "{} {}", &part.id, &part.name);
    }
    for wire in &c.wires {
        prop_assert!(ids.contains_key(wire.from.as_str()) && ids.contains_key(wire.to.as_str()) && wire.from != wire.to, "{wire:?}");
        prop_assert!(wire.fuse.as_ref().is_none_or(|f| ids.contains_key(f.as_str()) && f.starts_with('F')), "{wire:?}");
        prop_assert!(wire.length_m >= 0.0 && wire.cores >= 1 && !wire.colour.is_empty() && !wire.lug.is_empty(), "{wire:?}");
    }
    // Everything hangs on the pack, or on the 12 V side where that stands alone.
    let mut all = reached(c, "G1");
    if let Some(bus) = c.parts.iter().find(|p| p.name == "12 V distribution" && !all.contains(&p.id)) {
        all.extend(reached(c, &bus.id));
    }
    prop_assert_eq!(all.len(), c.parts.len());
    let lines = segments(&sheet.drawing);
    prop_assert!(lines.len() > c.wires.len() / 2);
    for (i, a) in lines.iter().enumerate() {
        prop_assert!((a.0.0 == a.1.0) || (a.0.1 == a.1.1), "askew: {a:?}");
        for b in &lines[i + 1..] {
            prop_assert!(!cross(*a, *b), "{a:?} crosses {b:?}");
        }
    }
    // The words about the whole end above the 12 V side.
    let legend = sheet.drawing.split("class=\"legend\"").nth(1).expect("words");
    let lowest = legend.split(" y=\"").skip(1).filter_map(|y| y.split('"').next()?.parse::<f64>().ok()).fold(0.0, f64::max);
    let bus = c.parts.iter().find(|p| p.name == "12 V distribution").expect("the 12 V side");
    prop_assert!(lowest + 10.0 < spots(&sheet.drawing)[&bus.id][0].1, "words down to {lowest}");
    Ok(())
}

/// Where every symbol of a drawing stands, from the groups it is drawn by; buses are bars, told by their ends.
pub(crate) fn spots(svg: &str) -> BTreeMap<String, Vec<(f64, f64)>> {
    let number = |text: &str, key: &str| -> f64 {
        let after = text.split(&format!(" {key}=\"")).nth(1).unwrap_or_else(|| panic!("no {key} in {text}"));
        after.split('"').next().and_then(|n| n.parse().ok()).expect("a number")
    };
    svg.split("data-part=\"")
        .skip(1)
        .map(|group| {
            let id = group.split('"').next().expect("an id").to_owned();
            let places = match group
                .split("translate(")
                .nth(1)
                .filter(|_| !group[..group.find("</g>").unwrap_or(group.len())].contains("ink bar"))
            {
                Some(place) => {
                    let (x, y) = place.split(')').next().and_then(|p| p.split_once(' ')).expect("a place");
                    vec![(x.parse().expect("x"), y.parse().expect("y"))]
                }
                None => {
                    let bar = group.split("<line").nth(1).expect("a bar");
                    vec![(number(bar, "x1"), number(bar, "y1")), (number(bar, "x2"), number(bar, "y2"))]
                }
            };
            (id, places)
        })
        .collect()
}

/// How far a point is from a symbol, or from a bar.
pub(crate) fn away(point: (f64, f64), places: &[(f64, f64)]) -> f64 {
    let far = |p: (f64, f64)| ((point.0 - p.0).powi(2) + (point.1 - p.1).powi(2)).sqrt();
    match places {
        [(x0, y0), (x1, y1)] => far((point.0.clamp(x0.min(*x1), x0.max(*x1)), point.1.clamp(y0.min(*y1), y0.max(*y1)))),
        [one] => far(*one),
        _ => f64::INFINITY,
    }
}
