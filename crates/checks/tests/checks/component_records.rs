//! Records of components: what says nothing or too much is refused, what boasts is doubted, and what is built in is ordinary.

use joulethesis_core::document::Document;
use joulethesis_core::library::{ComponentKind, Part};
use serde_json::{Value, json};

use crate::common::documents::demo;
use crate::common::{components, read, with};

#[test]
fn records_that_say_nothing_or_too_much_are_refused() {
    let refused = |record: Value, at: &str, words: &str| {
        let error = Part::from_value(&record).expect_err("refused").to_string();
        assert!(error.contains(at) && error.contains(words), "{error}");
    };
    refused(
        json!({ "part": "component", "kind": "fuse", "name": "f", "max_voltage_v": 80, "current_a": 100, "mass_kg": 0.1 }),
        "break_a",
        "a fuse needs it",
    );
    refused(
        json!({ "part": "component", "kind": "fuse", "name": "f", "max_voltage_v": 80, "current_a": 100, "break_a": 2000, "cells": 4, "mass_kg": 0.1 }),
        "cells",
        "a fuse has none",
    );
    refused(json!({ "part": "component", "kind": "throttle", "name": "t", "tracks": 1, "mass_kg": 0.1 }), "signal", "a throttle needs it");
    refused(
        json!({ "part": "component", "kind": "monitor", "name": "m", "cells": 4, "signal": "hall", "mass_kg": 0.1 }),
        "signal",
        "has none",
    );
    refused(
        json!({ "part": "component", "kind": "converter", "name": "c", "min_voltage_v": 90, "max_voltage_v": 60, "rated_w": 300, "mass_kg": 1 }),
        "min_voltage_v",
        "cannot exceed max_voltage_v",
    );
    refused(
        json!({ "part": "component", "kind": "cable", "name": "c", "max_voltage_v": 600, "section_mm2": 0, "mass_kg": 0.1 }),
        "section_mm2",
        "0.5",
    );
    // Figures beside a record may only repeat it; a cable has its length; a place takes its own kind.
    let van = demo("whimbrel-9-a");
    for (pointer, value, at) in [
        ("/design/wiring/fuse_a", json!(200), "design.wiring.fuse_a"),
        ("/design/wiring/cable_section_mm2", json!(35), "design.wiring.cable_section_mm2"),
        ("/design/electrics/fitted/pack_fuse/kind", json!("contactor"), "design.electrics.fitted.pack_fuse"),
        (
            "/design/electrics/insulation_test",
            json!({ "pack_v": 100, "side_v": 120, "side_with_resistor_v": 30, "resistor_kohm": 100 }),
            "side_v",
        ),
        (
            "/design/electrics/insulation_test",
            json!({ "pack_v": 100, "side_v": 60, "side_with_resistor_v": 70, "resistor_kohm": 100 }),
            "side_with_resistor_v",
        ),
    ] {
        let error = Document::from_value(&with(van.clone(), pointer, value)).expect_err("refused").to_string();
        assert!(error.contains(at), "{pointer}: {error}");
    }
    let repeated = with(van.clone(), "/design/wiring/fuse_a", van["design"]["electrics"]["fitted"]["pack_fuse"]["current_a"].clone());
    assert!(Document::from_value(&repeated).is_ok(), "the same figure contradicts nothing");
    let mut without = van;
    without["design"]["wiring"].as_object_mut().expect("wiring").remove("cable_length_m");
    assert!(Document::from_value(&without).expect_err("refused").to_string().contains("cable_length_m"));
}
/// Records far outside their class are doubted, never refused; what ships is not.
#[test]
fn boasts_of_components_are_doubted() {
    use joulethesis_core::library::implausible;
    let part = |v: Value| Part::from_value(&v).expect("sound");
    let doubted = |p: &Part| implausible(p).into_iter().map(|d| d.key).collect::<Vec<_>>();
    let cable = |kg: f64| {
        part(json!({ "part": "component", "kind": "cable", "name": "c", "max_voltage_v": 600, "section_mm2": 50, "mass_kg": kg }))
    };
    // 50 mm2 of copper alone are 0.445 kg a metre (8.9 g/cm3, handbook).
    assert_eq!(doubted(&cable(0.6)), Vec::<String>::new());
    assert_eq!(doubted(&cable(0.3)), ["mass_kg"]);
    let converter = part(
        json!({ "part": "component", "kind": "converter", "name": "c", "min_voltage_v": 40, "max_voltage_v": 100, "rated_w": 9000, "mass_kg": 1 }),
    );
    assert_eq!(doubted(&converter), ["rated_w"]);
    for component in components() {
        assert_eq!(doubted(&Part::Component(component.clone())), Vec::<String>::new(), "{}", component.name);
    }
}
/// What ships is within what its kind does (ranges from memory, common practice), ten records of each kind at least, none of them free; the
/// records that the demo was made with are those of the library.
#[test]
fn built_in_components_are_within_what_their_kinds_do() {
    let all = components();
    for kind in ComponentKind::ALL {
        let count = all.iter().filter(|c| c.kind == kind).count();
        // Pumps and boosters are one choice between them.
        let least = if matches!(kind, ComponentKind::VacuumPump | ComponentKind::Booster) { 5 } else { 10 };
        assert!(count >= least, "{count} of {}", kind.word());
    }
    for c in &all {
        let volts = c.max_voltage_v.unwrap_or(12.0);
        let sound = match c.kind {
            // Fuses for batteries break some thousand ampere at low voltages, some ten thousand at high ones.
            ComponentKind::Fuse => (2000.0..=50_000.0).contains(&c.break_a.unwrap_or(0.0)) && c.current_a <= Some(600.0),
            // A contactor carries several times its continuous current for a minute, and breaks more than it carries for hours.
            ComponentKind::Contactor => {
                let (hours, peak) = (c.current_a.unwrap_or(0.0), c.peak_a.unwrap_or(0.0));
                (2.5..=5.0).contains(&(peak / hours)) && c.break_a > c.current_a && (4.0..=20.0).contains(&c.draws_w.unwrap_or(0.0))
            }
            ComponentKind::Disconnect => (50.0..=800.0).contains(&c.current_a.unwrap_or(0.0)),
            // Copper is 8.9 g a metre and mm2, insulation a third of that and more on thin ones.
            ComponentKind::Cable => (8.9..=16.0).contains(&(1000.0 * c.mass_kg / c.section_mm2.unwrap_or(1.0))),
            ComponentKind::Converter => (200.0..=800.0).contains(&(c.rated_w.unwrap_or(0.0) / c.mass_kg)),
            ComponentKind::Heater => (600.0..=3000.0).contains(&(c.rated_w.unwrap_or(0.0) / c.mass_kg)),
            ComponentKind::Throttle => c.signal.is_some() && c.tracks.is_some_and(|t| (1..=2).contains(&t)),
            ComponentKind::VacuumPump => (4.0..=10.0).contains(&(c.rated_w.unwrap_or(0.0) / c.flow_l_min.unwrap_or(1.0))),
            ComponentKind::Booster => (200.0..=800.0).contains(&c.rated_w.unwrap_or(0.0)),
            ComponentKind::Monitor => c.cells.is_some_and(|n| (8..=200).contains(&n)) && c.draws_w.unwrap_or(0.0) <= 20.0,
            ComponentKind::Connector => (10.0..=250.0).contains(&c.current_a.unwrap_or(0.0)) && volts >= 230.0,
        };
        assert!(sound && c.price > 0.0 && c.mass_kg > 0.0, "{c:?}");
        assert!(c.min_voltage_v.is_none_or(|low| low < 0.7 * volts), "{} works in a narrow window", c.name);
    }
    for name in ["whimbrel-9-a", "pipit-b"] {
        for (slot, fitted) in read(&demo(name)).design.electrics.fitted.all() {
            let shipped =
                all.iter().find(|c| c.name == fitted.name).unwrap_or_else(|| panic!("{name}: {} is not in the library", fitted.name));
            assert_eq!(shipped, fitted, "{name}, {}", slot.word());
        }
    }
}
