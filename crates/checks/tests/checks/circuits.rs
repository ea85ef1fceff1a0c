//! Circuits of any vehicle: the drawing has each part of the list once and no crossing, each wire joins two parts and is guarded, the lists say
//! the same as both, and what each place asks follows by hand.

use std::collections::BTreeSet;

use crate::common::circuits::{dressed, sound};
use crate::common::documents::demo;
use crate::common::drawn::drawn;
use crate::common::{cases, components, line, read, sheet, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{CableSeries, Slot};
use joulethesis_core::electrics::cable::{Surroundings, least_cable, short_circuit_s};
use joulethesis_core::electrics::fuse::opens_after_s;
use joulethesis_core::findings::Severity;
use joulethesis_core::schematic::{CircuitKind, ElectricsSheet, Wire, electrics, place_choices};
use proptest::prelude::*;
use serde_json::{Value, json};

/// What keeps a wire from burning: a fuse no larger than it bears, or one before it that opens while it still bears the short circuit, with
/// what is behind it holding the load down.
fn guarded(sheet: &ElectricsSheet, wire: &Wire, here: &Surroundings, rating_a: f64) -> bool {
    let (Some(mm2), short_a) = (wire.section_mm2, sheet.coordination.short_circuit_a) else { return true };
    // IEC 60364-4-43: a fuse may be what the cable bears.
    let bears = here.bears_a(mm2) >= rating_a * (1.0 - 1e-9) || mm2 > 300.0;
    bears || short_circuit_s(mm2, short_a, here.insulation_c) >= opens_after_s(rating_a, short_a)
}

proptest! {
    #![proptest_config(cases(96))]

    #[test]
    fn list_wires_and_drawing_of_any_vehicle_agree(d in drawn(), controllers in 1u32..5, motors in 1u32..5, extras in 0u32..256) {
        let mut v = dressed(&d, controllers, extras);
        v["design"]["motor_count"] = json!(motors);
        let sheet = sheet(&v);
        sound(&sheet)?;
        // A row a wire, under one heading.
        let mut rows = csv::Reader::from_reader(sheet.wiring_csv.as_bytes());
        let rows: Vec<csv::StringRecord> = rows.records().collect::<Result<_, _>>().expect("CSV");
        prop_assert_eq!(rows.len(), sheet.circuit.wires.len());
        prop_assert!(rows.iter().zip(&sheet.circuit.wires).all(|(r, w)| r[1] == w.from && r[2] == w.to));
        let parts: Vec<csv::StringRecord> =
            csv::Reader::from_reader(sheet.parts_csv.as_bytes()).records().collect::<Result<_, _>>().expect("CSV");
        prop_assert_eq!(parts.len(), sheet.circuit.parts.iter().filter(|p| p.listed).count());
        // Every controller and motor is there, whatever divides by what; what was asked for too, and nothing else.
        let count = |name: &str| sheet.circuit.parts.iter().filter(|p| p.name == name).count();
        let pieces = |name: &str| sheet.circuit.parts.iter().filter(|p| p.name == name).map(|p| p.count).sum::<f64>();
        prop_assert_eq!((pieces("Controller"), pieces("Motor")), (f64::from(controllers), f64::from(motors)));
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

/// Without anything in the library there is a circuit all the same, and what it needs is told.
#[test]
fn an_empty_library_offers_nothing_and_breaks_nothing() {
    let told = electrics(&read(&demo("wren-a")), &[], &Cancel::new()).expect("computed");
    assert!(told.places.iter().all(|p| p.least.is_none()) && told.open_kg == 0.0);
    assert!(told.places.len() > 8 && told.circuit.parts.len() > 20);
    assert!(components().len() >= 110);
}

proptest! {
    #![proptest_config(cases(48))]

    /// Loads of one's own: each stands behind its fuse, which bears it and which its wire bears; nothing is lost, nothing is doubled.
    #[test]
    fn every_load_has_its_fuse(watts in prop::collection::vec(0.0..1500.0f64, 1..14), awg in any::<bool>()) {
        let loads: Vec<Value> = watts.iter().enumerate()
            .map(|(i, w)| json!({ "id": format!("l{i}"), "name": format!("Load {i}"), "draws_w": w, "day": 1, "night": 0.5, "winter": 1 })).collect();
        let mut v = with(demo("wren-a"), "/design/electrics", json!({ "loads": loads }));
        v["design"]["electrics"]["series"] = json!(if awg { "awg" } else { "metric" });
        let sheet = sheet(&v);
        for (i, watts) in watts.iter().enumerate() {
            let load = sheet.circuit.parts.iter().find(|p| p.name == format!("Load {i}")).expect("the load");
            let feed = sheet.circuit.wires.iter().find(|w| w.to == load.id).expect("its wire");
            let fuse = sheet.circuit.part(&feed.from).expect("its fuse");
            prop_assert_eq!(feed.fuse.as_ref(), Some(&fuse.id));
            let amps: f64 = fuse.rating.to_string().split(' ').next().and_then(|a| a.parse().ok()).expect("amperes");
            // A quarter more than it draws at 12 V, and a size that is sold.
            prop_assert!(amps >= 1.25 * watts / 12.0 - 0.5, "{watts} W behind {amps} A");
            let here = Surroundings { ambient_c: 40.0, insulation_c: 90.0, bundled: 2 };
            prop_assert!(feed.section_mm2.is_some_and(|mm2| here.bears_a(mm2) >= amps * (1.0 - 1e-9)), "{feed:?}");
            // Three in a hundred of 12 V over its length, the copper hot (IEC 60028).
            let ohm = 1.7241e-8 * (1.0 + 0.00393 * 70.0) * feed.length_m / (feed.section_mm2.expect("a section") * 1e-6);
            prop_assert!(ohm * watts / 12.0 <= 0.03 * 12.0 * (1.0 + 1e-9), "{feed:?} loses {}", ohm * watts / 12.0);
        }
        prop_assert_eq!(sheet.circuit.parts.iter().filter(|p| p.name.starts_with("Load ") && !p.name.ends_with("fuse")).count(), watts.len());
    }

    /// The sizing written out a second time, plainly, from docs/METHODS.md: what each place asks.
    #[test]
    fn what_is_asked_follows_by_hand(d in drawn(), minutes in 0.1..20.0f64) {
        let mut v = dressed(&d, 1, 64 + 128);
        v["design"]["controller"]["peak_s"] = json!(60.0 * minutes);
        v["design"]["wiring"] = json!({});
        let told = sheet(&v);
        let report = joulethesis_core::report::report(&read(&v)).expect("computed");
        let peak_a = v["design"]["controller"]["battery_current_a"].as_f64().expect("A");
        let rms_a = report.trips.iter().map(|t| t.rms_current_a).fold(0.0, f64::max);
        let rms_a = if report.trips.is_empty() { 0.5 * peak_a } else { rms_a };
        let full_v = report.pack.full_v;
        // A fast fuse: an hour at 1.25, a minute at 1.5 times its rating, along logarithms between (common practice).
        let seconds = (60.0 * minutes).max(60.0);
        let holds = if seconds <= 60.0 { 1.5 } else { (1.5f64.ln() + (seconds / 60.0).ln() / 60f64.ln() * (1.25f64 / 1.5).ln()).exp() };
        let least_a = (1.25 * rms_a).max(peak_a / holds);
        let sold = [5.0, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 50.0, 60.0, 63.0, 70.0, 80.0, 100.0, 125.0, 150.0, 160.0, 175.0, 200.0, 225.0,
            250.0, 300.0, 315.0, 350.0, 400.0, 450.0, 500.0, 600.0, 800.0, 1000.0];
        let words = |slot: &str| told.places.iter().find(|p| p.slot.key() == slot).expect("a place").asks.iter().map(ToString::to_string)
            .collect::<Vec<_>>().join("; ");
        let rounded = |amps: f64| format!("{amps:.0} A");
        let fuse = words("pack_fuse");
        prop_assert!(fuse.contains(&format!("bears {full_v:.0} V")) && fuse.contains(&format!("carries {}", rounded(least_a))), "{fuse}: {least_a}");
        prop_assert!(fuse.contains(&format!("breaks {}", rounded(full_v / report.pack.resistance_ohm.max(1e-4)))), "{fuse}");
        let fuse_a = sold.into_iter().find(|a| *a >= least_a).unwrap_or(peak_a);
        prop_assert!(words("disconnect").contains(&rounded(fuse_a)), "{}: {fuse_a}", words("disconnect"));
        let contactor = words("main_contactor");
        prop_assert!(contactor.contains(&format!("carries {}", rounded(rms_a))) && contactor.contains(&format!("breaks {}", rounded(peak_a))), "{contactor}");
        // 20 A of charger, a quarter more.
        prop_assert!(words("charge_fuse").contains("carries 25 A"), "{}", words("charge_fuse"));
        // 3 kW at 93 % from 230 V; a station of 60 A or what the cells take.
        let mains_a = (3000.0f64 / 0.93 / 230.0).min(16.0);
        prop_assert!(words("charge_inlet").contains(&rounded(mains_a)), "{}: {mains_a}", words("charge_inlet"));
        // 1 mF for each 100 A, at 95 % in half of five seconds, the next smaller of the E6 series (IEC 60063).
        let most_ohm = 2.5 / (peak_a * 1e-5 * 20f64.ln());
        let e6 = [1.0, 1.5, 2.2, 3.3, 4.7, 6.8];
        let ohm = (-1..6).flat_map(|d| e6.map(|e| e * 10f64.powi(d))).filter(|o| *o <= most_ohm).fold(1.0, f64::max);
        let resistor = line(&told, "resistor").result.to_string();
        prop_assert_eq!(resistor, format!("{ohm:.1} Ω"));
        // 500 ohm a volt with an alternating motor, 100 with direct current alone (UN R100).
        let per_v = if v["design"]["motor"]["kind"] == "series_dc" { 100.0 } else { 500.0 };
        let least = format!("{:.0} kΩ", per_v * full_v / 1000.0);
        prop_assert!(line(&told, "insulation").result.to_string().starts_with(&least), "not {least}");
    }
}

proptest! {
    #![proptest_config(cases(64))]

    /// A symbol opens what sized it: the line it names is on the sheet, its place is one of the document's, and what was found about a place
    /// is marked on a symbol.
    #[test]
    fn symbols_lead_to_lines_and_findings_to_symbols(d in drawn(), drives in 1u32..3, extras in 0u32..256, bare in any::<bool>()) {
        let mut v = dressed(&d, drives, extras);
        if bare {
            v["design"]["wiring"] = json!({ "fuse_a": 20, "fuse_voltage_v": 40, "cable_current_a": 10 });
            v["design"]["electrics"]["precharge_load_w"] = json!(500);
            v["design"]["electrics"]["precharge_ohm"] = json!(900);
        }
        let told = sheet(&v);
        let lines: BTreeSet<&str> = told.groups.iter().flat_map(|g| &g.lines).map(|l| l.id).collect();
        for part in &told.circuit.parts {
            prop_assert!(part.line.is_empty() || lines.contains(part.line), "{} is sized by {}", part.id, part.line);
            prop_assert!(part.slot.is_empty() || Slot::ALL.iter().any(|s| s.key() == part.slot), "{}", part.slot);
            prop_assert_eq!(part.severity.is_some(), !part.troubles.is_empty());
        }
        let found = joulethesis_core::report::report(&read(&v)).expect("computed").findings;
        for f in found.iter().filter(|f| f.severity != Severity::Note) {
            let Some(slot) = f.slot else { continue };
            let marked = told.circuit.parts.iter().any(|p| p.slot == slot.key() && p.troubles.contains(&f.message));
            // What nobody has chosen to watch, help the brakes with or feed 12 V from has no symbol to mark.
            let absent = !told.circuit.parts.iter().any(|p| p.slot == slot.key());
            prop_assert!(marked || absent, "{}: {}", slot.word(), f.message);
        }
        let stops = found.iter().filter(|f| f.severity == Severity::Stop).count();
        prop_assert_eq!(told.ready, stops == 0);
        prop_assert_eq!(told.drawing.contains("Not ready to be built"), stops > 0);
    }

    /// More volts, more amperes, hotter air or a longer peak never let a smaller part suffice: whatever sufficed for the harder case suffices
    /// for the easier one.
    #[test]
    fn a_harder_case_never_asks_for_less(d in drawn(), which in 0usize..4, how in 0.05..1.0f64, slot in 0usize..12) {
        let slot = Slot::ALL[slot];
        let mut easy = dressed(&d, 1, 64);
        easy["design"]["wiring"] = json!({});
        easy["design"]["electrics"]["heating_w"] = json!(1000);
        let hard = match which {
            0 => with(easy.clone(), "/design/electrics/ambient_c", json!(40.0 + 30.0 * how)),
            1 => with(easy.clone(), "/design/controller/peak_s", json!(60.0 + 1500.0 * how)),
            2 => with(easy.clone(), "/design/charger/output_current_a", json!(20.0 * (1.0 + how))),
            _ => with(easy.clone(), "/design/electrics/heating_w", json!(1000.0 * (1.0 + how))),
        };
        let suffices = |v: &Value| -> BTreeSet<String> {
            let told = place_choices(&read(v), slot, &components(), &Cancel::new()).expect("computed");
            told.choices.into_iter().filter(|c| c.shortfalls.is_empty()).map(|c| c.component.name).collect()
        };
        let (before, after) = (suffices(&easy), suffices(&hard));
        prop_assert!(after.is_subset(&before), "{} suffice only for the harder case", after.difference(&before).cloned().collect::<Vec<_>>().join(", "));
    }

    /// The least section, against all that are sold looked through one by one (IEC 60228).
    #[test]
    fn the_least_section_is_the_first_that_suffices(amps in 0.5..1500.0f64, most_mohm in 0.01..30.0f64, ambient in 0.0..70.0f64, bundled in 1u32..10) {
        let here = Surroundings { ambient_c: ambient, insulation_c: 90.0, bundled };
        let sold = [0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0, 35.0, 50.0, 70.0, 95.0, 120.0, 150.0, 185.0, 240.0, 300.0];
        // IEC 60028: copper at 90 degC.
        let ohm = |mm2: f64| 1.7241e-8 * (1.0 + 0.00393 * 70.0) / (mm2 * 1e-6);
        let by_hand = (1..=4).flat_map(|n| sold.map(|mm2| (f64::from(n), mm2)))
            .find(|(n, mm2)| n * here.bears_a(*mm2) >= amps && ohm(n * mm2) <= most_mohm / 1000.0);
        let told = least_cable(CableSeries::Metric, amps, most_mohm / 1000.0, &here);
        prop_assert_eq!(told.as_ref().map(|c| (f64::from(c.parallel), c.section_mm2)), by_hand);
        if let Some(cable) = told {
            prop_assert!((cable.copper_mm2() - by_hand.map_or(0.0, |(n, mm2)| n * mm2)).abs() < 1e-9);
            prop_assert!(cable.name.ends_with("mm²") && cable.name.contains('×') == (cable.parallel > 1));
        }
    }
}

/// What a converter and a heater take from a pack at its lowest, with a quarter more: 800 W at 88 % from 108 V are 8.4 A, 2000 W 18.5 A.
#[test]
fn branches_are_fused_for_the_lowest_voltage() {
    let mut v = with(demo("whimbrel-9-c"), "/design/electrics", json!({ "converter_power_w": 800, "heating_w": 2000 }));
    v["design"]["low_voltage"]["converter_efficiency"] = json!(0.88);
    let told = sheet(&v);
    let cutoff_v = joulethesis_core::report::report(&read(&v)).expect("computed").pack.cutoff_v;
    for (name, watts) in [("Converter fuse", 800.0 / 0.88), ("Heater fuse", 2000.0)] {
        let fuse = told.circuit.parts.iter().find(|p| p.name == name).expect("a fuse");
        let amps: f64 = fuse.rating.to_string().split(' ').next().and_then(|a| a.parse().ok()).expect("amperes");
        let needed = 1.25 * watts / cutoff_v;
        assert!(amps >= needed && amps < 2.0 * needed, "{name}: {amps} A for {needed}");
    }
}
