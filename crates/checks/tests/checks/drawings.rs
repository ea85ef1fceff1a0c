//! The one-line drawing: lines that join their parts, symbols that keep apart, words that stay words, stops that are marked, from the smallest
//! circuit to the largest.

use crate::common::circuits::{away, dressed, segments, sound, spots};
use crate::common::documents::demo;
use crate::common::drawn::{Drawn, described, drawn};
use crate::common::{cases, line, sheet, with};
use joulethesis_core::schematic::{CircuitKind, Wire};
use proptest::prelude::*;
use serde_json::{Value, json};

proptest! {
    #![proptest_config(cases(48))]

    /// Each line of the drawing begins at one of its wire's two parts and ends at the other; symbols keep apart and within the page.
    #[test]
    fn lines_join_the_symbols_of_their_wires(d in drawn(), drives in 1u32..4, extras in 0u32..256) {
        let sheet = sheet(&dressed(&d, drives, extras));
        let places = spots(&sheet.drawing);
        let size: Vec<f64> = sheet.drawing.split("viewBox=\"0 0 ").nth(1).and_then(|v| v.split('"').next()).expect("a page").split(' ')
            .map(|n| n.parse().expect("a number")).collect();
        let lines = segments(&sheet.drawing);
        for wire in &sheet.circuit.wires {
            let (from, to) = (&places[&wire.from], &places[&wire.to]);
            // From one end along connected segments to the other.
            let starts = lines.iter().position(|s| away(s.0, from) <= 24.0 || away(s.0, from) <= 58.0 && away(s.1, to) <= 60.0);
            prop_assert!(starts.is_some(), "no line begins at {}", wire.from);
            let ends = lines.iter().any(|s| away(s.1, to) <= 36.0);
            // A bypass ends on the line behind the contactor.
            prop_assert!(ends || wire.closes, "no line ends at {}", wire.to);
        }
        let symbols: Vec<(&String, (f64, f64))> = places.iter().filter(|(_, p)| p.len() == 1).map(|(id, p)| (id, p[0])).collect();
        for (i, (id, p)) in symbols.iter().enumerate() {
            prop_assert!(p.0 > 15.0 && p.1 > 15.0 && p.0 < size[0] - 15.0 && p.1 < size[1] - 15.0, "{id} at {p:?} on {size:?}");
            for (other, q) in &symbols[i + 1..] {
                prop_assert!((p.0 - q.0).abs() >= 40.0 || (p.1 - q.1).abs() >= 40.0, "{id} at {p:?} and {other} at {q:?}");
            }
        }
    }
}

/// Names are words on the drawing and in the lists, whatever stands in them.
#[test]
fn hostile_names_stay_words() {
    let evil = "</text><script>alert(1)</script>\" onload=\"x=cmd|' /C calc'!A0";
    let mut v = with(demo("whimbrel-9-a"), "/name", json!(evil));
    v = with(v, "/design/motor/name", json!("=HYPERLINK(\"x\")"));
    v = with(v, "/design/electrics/loads", json!([{ "id": "a", "name": evil, "draws_w": 20, "day": 1, "night": 1, "winter": 1 }]));
    let told = sheet(&v);
    // Only what is drawn with, and no attribute that runs.
    for tag in told.drawing.split('<').skip(1).map(|t| t.split('>').next().unwrap_or_default()) {
        let name = tag.trim_start_matches('/').split([' ', '/']).next().unwrap_or_default();
        assert!(["svg", "g", "title", "rect", "line", "polyline", "path", "circle", "text"].contains(&name), "<{tag}>");
        let outside: String = tag.split('"').step_by(2).collect();
        assert!(!outside.contains(" on") && !outside.contains("href"), "<{tag}>");
    }
    assert!(told.drawing.contains("&lt;script&gt;"));
    assert!(told.parts_csv.contains("'=HYPERLINK"), "a spreadsheet would run it");
    sound(&told).expect("sound");
}

/// Looked at as text: the same design gives the same drawing, a stop is said and marked, and what is only proposed is not.
#[test]
fn a_stop_is_marked_on_its_symbol() {
    let van = demo("whimbrel-9-a");
    let before = sheet(&van);
    assert_eq!(before.drawing, sheet(&van).drawing);
    assert!(before.ready && before.drawing.contains("Nothing found that stops it.") && !before.drawing.contains("flag-stop"));
    let low = with(van, "/design/electrics/fitted/main_contactor/max_voltage_v", json!(100));
    let after = sheet(&low);
    assert!(!after.ready && after.drawing.contains("Not ready to be built: 1 stop.") && after.drawing.contains("part stop"));
    let k1 = after.circuit.part("K1").expect("the contactor");
    assert!(k1.troubles[0].to_string().contains("bears 100 V; 151 V are needed"), "{:?}", k1.troubles);
    // The rest of the circuit has nothing to do with it.
    let marked: Vec<&str> = after.circuit.parts.iter().filter(|p| p.severity == k1.severity).map(|p| p.id.as_str()).collect();
    assert_eq!(marked, ["K1", "K3"]);
    assert!(line(&after, "contactor").result.to_string().contains("one in each pole"));
}

/// The smallest and the largest that people build: a quad of 36 V with a hub, and a lorry of two motors, charged both ways, heated, steered,
/// braked by vacuum, with as many loads as may be.
#[test]
fn the_smallest_and_the_largest_are_drawn() {
    let quad = {
        let mut v = described(&Drawn {
            kind: 0,
            size: 0.05,
            volts: 36.0,
            resistance: 0.001,
            ranges: false,
            celsius: 15.0,
            share: 0.5,
            seconds: 60.0,
            wind: 0.0,
        });
        v["donor"]["kind"] = json!("quad");
        v["design"]["motor"]["kind"] = json!("hub");
        v["design"]["controller"]["motor_kinds"] = json!(["hub"]);
        v
    };
    let small = sheet(&quad);
    sound(&small).expect("sound");
    assert!(small.circuit.parts.len() < 36, "{}", small.circuit.parts.len());
    assert!(small.circuit.parts.iter().all(|p| !["Main contactor −", "Discharge", "Charger"].contains(&p.name.as_str())));

    let mut lorry = dressed(
        &Drawn { kind: 1, size: 2.4, volts: 390.0, resistance: 0.0005, ranges: true, celsius: -10.0, share: 0.5, seconds: 60.0, wind: 0.0 },
        2,
        1 | 8 | 32 | 64 | 128,
    );
    let loads: Vec<Value> = (0..40)
        .map(|i| json!({ "id": format!("l{i}"), "name": format!("Lamp with quite a long name, {i}"), "draws_w": 10 * i, "day": 1, "night": 1, "winter": 1 }))
        .collect();
    lorry["design"]["electrics"]["loads"] = json!(loads);
    let large = sheet(&lorry);
    sound(&large).expect("sound");
    assert!(large.circuit.parts.len() > 110, "{}", large.circuit.parts.len());
    for name in ["Heater", "Charger", "Charge inlet", "Fast-charge inlet", "Discharge", "Main contactor −"] {
        assert_eq!(large.circuit.parts.iter().filter(|p| p.name == name).count(), 1, "{name}");
    }
    // The second controller follows the first, and one throttle leads both.
    let links: Vec<&Wire> = large.circuit.wires.iter().filter(|w| w.closes && w.circuit == CircuitKind::Signal).collect();
    assert_eq!(links.len(), 1);
    assert_eq!(large.circuit.parts.iter().filter(|p| p.name == "Throttle").count(), 1);
    // A load of nothing has a fuse all the same, of the least that is sold.
    let none = large.circuit.parts.iter().find(|p| p.name == "Lamp with quite a long name, 0 fuse").expect("its fuse");
    assert_eq!(none.rating.to_string(), "5 A");
}
