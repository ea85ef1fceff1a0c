//! Circuits of any vehicle: the drawing has each part of the list once and no crossing, each wire joins two parts and is guarded, and the
//! lists say the same as both.

use std::collections::{BTreeMap, BTreeSet};

use crate::common::documents::demo;
use crate::common::drawn::{Drawn, described, drawn};
use crate::common::{cases, components, line, read, sheet, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::electrics::cable::{Surroundings, short_circuit_s};
use joulethesis_core::electrics::fuse::opens_after_s;
use joulethesis_core::schematic::{Circuit, CircuitKind, ElectricsSheet, Wire, electrics};
use proptest::prelude::*;
use serde_json::{Value, json};

/// A drawn vehicle with whatever else there may be on its circuits.
fn dressed(d: &Drawn, drives: u32, extras: u32) -> Value {
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
fn segments(svg: &str) -> Vec<((f64, f64), (f64, f64))> {
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
fn cross(a: ((f64, f64), (f64, f64)), b: ((f64, f64), (f64, f64))) -> bool {
    let level = |s: ((f64, f64), (f64, f64))| s.0.1 == s.1.1;
    let (h, v) = match (level(a), level(b)) {
        (true, false) => (a, b),
        (false, true) => (b, a),
        _ => return false,
    };
    let within = |x: f64, p: f64, q: f64| x > p.min(q) + 0.5 && x < p.max(q) - 0.5;
    within(v.0.0, h.0.0, h.1.0) && within(h.0.1, v.0.1, v.1.1)
}

fn drawn_times(svg: &str, id: &str) -> usize {
    svg.matches(&format!("data-part=\"{id}\"")).count()
}

/// Parts that a wire leads to from a root, but for wires that close a loop.
fn reached(circuit: &Circuit, root: &str) -> BTreeSet<String> {
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

/// What keeps a wire from burning: a fuse no larger than it bears, or one before it that opens while it still bears the short circuit, with
/// what is behind it holding the load down.
fn guarded(sheet: &ElectricsSheet, wire: &Wire, here: &Surroundings, rating_a: f64) -> bool {
    let (Some(mm2), short_a) = (wire.section_mm2, sheet.coordination.short_circuit_a) else { return true };
    // IEC 60364-4-43: a fuse may be what the cable bears.
    let bears = here.bears_a(mm2) >= rating_a * (1.0 - 1e-9) || mm2 > 300.0;
    bears || short_circuit_s(mm2, short_a, here.insulation_c) >= opens_after_s(rating_a, short_a)
}

fn sound(sheet: &ElectricsSheet, wiring_csv: &str) -> Result<(), TestCaseError> {
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
    // A row a wire, under one heading.
    let mut rows = csv::Reader::from_reader(wiring_csv.as_bytes());
    let rows: Vec<csv::StringRecord> = rows.records().collect::<Result<_, _>>().expect("CSV");
    prop_assert_eq!(rows.len(), c.wires.len());
    prop_assert!(rows.iter().zip(&c.wires).all(|(r, w)| r[1] == w.from && r[2] == w.to));
    Ok(())
}

proptest! {
    #![proptest_config(cases(96))]

    #[test]
    fn list_wires_and_drawing_of_any_vehicle_agree(d in drawn(), drives in 1u32..4, extras in 0u32..256) {
        let v = dressed(&d, drives, extras);
        let sheet = sheet(&v);
        sound(&sheet, &sheet.wiring_csv)?;
        let parts: Vec<csv::StringRecord> =
            csv::Reader::from_reader(sheet.parts_csv.as_bytes()).records().collect::<Result<_, _>>().expect("CSV");
        prop_assert_eq!(parts.len(), sheet.circuit.parts.iter().filter(|p| p.listed).count());
        // Each drive has its controller and motor; what was asked for is there, and nothing else.
        let count = |name: &str| sheet.circuit.parts.iter().filter(|p| p.name == name).count();
        prop_assert_eq!((count("Controller"), count("Motor")), (drives as usize, drives as usize));
        prop_assert_eq!(count("Heater"), usize::from(extras & 32 != 0));
        prop_assert_eq!(count("Charger"), usize::from(extras & 64 != 0));
        prop_assert_eq!(count("Fast-charge inlet"), usize::from(extras & 128 != 0));
        prop_assert_eq!(count("Converter"), usize::from(extras & 4 == 0));
        // One contactor in each pole above 60 V.
        let full = 4.2 * (d.volts / 3.6).round().max(1.0);
        prop_assert_eq!(count("Main contactor −"), usize::from(full > 60.0));
    }

    /// Every wire behind a fuse is guarded by it, and a wire without one is a stretch that nothing can guard: pack to fuse, a run that its
    /// source limits, signals.
    #[test]
    fn no_wire_burns_before_its_fuse_opens(d in drawn(), extras in 0u32..256, ambient in 10.0..60.0f64) {
        let v = with(dressed(&d, 1, extras), "/design/electrics/ambient_c", json!(ambient));
        let sheet = sheet(&v);
        let here = Surroundings { ambient_c: ambient, insulation_c: 90.0, bundled: 2 };
        let rating = |id: &str| {
            let part = sheet.circuit.part(id).expect("a fuse");
            part.rating.to_string().split(' ').next().and_then(|a| a.parse::<f64>().ok()).expect("amperes")
        };
        for wire in &sheet.circuit.wires {
            match &wire.fuse {
                Some(fuse) => prop_assert!(guarded(&sheet, wire, &here, rating(fuse)), "{wire:?} behind {} A", rating(fuse)),
                None => {
                    let to = &sheet.circuit.part(&wire.to).expect("a part").name;
                    let free = wire.from == "G1" || wire.circuit == CircuitKind::Signal || wire.section == "in the fuse box"
                        || ["Motor", "Charge inlet"].contains(&to.as_str());
                    prop_assert!(free, "nothing guards {wire:?}");
                }
            }
        }
    }
}

/// A wire that is longer loses more, so that its section never shrinks; the whole traction cable is in the list.
#[test]
fn the_list_holds_all_of_the_traction_cable() {
    for name in ["whimbrel-9-a", "wren-a", "pipit-b", "dunlin-a"] {
        let told = sheet(&demo(name));
        let trunk: f64 = told
            .circuit
            .wires
            .iter()
            .filter(|w| {
                w.circuit == CircuitKind::Traction
                    && w.cores == 2
                    && (w.from == "G1" || w.to.starts_with(['Q', 'K', 'W', 'X']) || w.to == "T1")
            })
            .map(|w| f64::from(w.cores) * w.length_m)
            .sum();
        let whole = told.circuit.part("W1").expect("the cable").count;
        // A vehicle below 60 V has one stretch less.
        assert!(trunk <= whole * (1.0 + 1e-9) && trunk >= 0.85 * whole, "{name}: {trunk} of {whole} m");
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
    sound(&told, &told.wiring_csv).expect("sound");
}

/// Above 60 V orange outside (UN R100, ISO 6469-3); poles and phases by the code (IEC 60445 from memory: positive red, negative white; phases
/// brown, black, grey).
#[test]
fn colours_follow_the_code() {
    let wire = |v: &Value, to: &str| sheet(v).circuit.wires.into_iter().find(|w| w.to == to).expect("a wire");
    let van = demo("whimbrel-9-a");
    assert_eq!(wire(&van, "Q1").colour, "orange; ends red +, white −");
    assert_eq!(wire(&van, "M1").colour, "orange; ends brown, black, grey");
    let american = with(van, "/design/electrics/code", json!("north_america"));
    assert_eq!(wire(&american, "Q1").colour, "orange; ends red +, black −");
    // 58 V are not hazardous.
    assert_eq!(wire(&demo("pipit-b"), "Q1").colour, "red +, white −");
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

/// Without anything in the library there is a circuit all the same, and what it needs is told.
#[test]
fn an_empty_library_offers_nothing_and_breaks_nothing() {
    let told = electrics(&read(&demo("wren-a")), &[], &Cancel::new()).expect("computed");
    assert!(told.places.iter().all(|p| p.least.is_none()) && told.open_kg == 0.0);
    assert!(told.places.len() > 8 && told.circuit.parts.len() > 20);
    assert!(components().len() >= 110);
}
