//! Components of the circuits: what is chosen suffices, nothing less would, and what is fitted counts in mass and money; records that say
//! nothing or too much are refused.

use crate::common::documents::demo;
use crate::common::drawn::{described, drawn};
use crate::common::{cases, check, components, line, read, sheet, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Document, InsulationTest, ShaftEnd, Slot};
use joulethesis_core::electrics::cooling::{flow_l_min, hose_loss_kpa, hose_mm, radiator_w_per_k};
use joulethesis_core::electrics::insulation::{least_ohm, measured_ohm};
use joulethesis_core::electrics::rotation::{Sense, forward};
use joulethesis_core::findings::Severity;
use joulethesis_core::layout::{coolant_run, layout};
use joulethesis_core::library::{Component, ComponentKind, Part, ThrottleSignal};
use joulethesis_core::report::report;
use joulethesis_core::schematic::{ElectricsSheet, PlaceChoices, place_choices};
use joulethesis_core::vehicle::masses;
use proptest::prelude::*;
use serde_json::{Value, json};

/// With the least that suffices taken in every open place, as the stage does.
fn all_taken(mut v: Value, told: &ElectricsSheet) -> Value {
    for place in &told.places {
        let Some(least) = place.least.as_ref().filter(|_| place.chosen.is_none()) else { continue };
        if v["design"]["electrics"].is_null() {
            v["design"]["electrics"] = json!({});
        }
        if v["design"]["electrics"]["fitted"].is_null() {
            v["design"]["electrics"]["fitted"] = json!({});
        }
        v["design"]["electrics"]["fitted"][place.slot.key()] = json!(least);
        for also in &place.also {
            let (record, key) = also.path.split_once('.').expect("a place");
            match also.value {
                Some(value) => v["design"][record][key] = json!(value),
                None => drop(v["design"][record].as_object_mut().map(|r| r.remove(key))),
            }
        }
    }
    v
}

fn choices(v: &Value, slot: Slot) -> PlaceChoices {
    place_choices(&read(v), slot, &components(), &Cancel::new()).expect("computed")
}

proptest! {
    #![proptest_config(cases(48))]

    /// Taken one after the other until nothing is open, what is chosen breaks no rule of its own, whatever the vehicle.
    #[test]
    fn what_is_chosen_passes_its_own_rules(d in drawn(), brakes in 0usize..3, heat in prop::option::of(500.0..4000.0f64)) {
        let mut v = described(&d);
        v["design"]["wiring"] = json!({});
        let brakes = ["none", "vacuum", "electric"][brakes];
        v["design"]["electrics"] = json!({ "brakes": brakes });
        if let Some(watts) = heat {
            v["design"]["electrics"]["heating_w"] = json!(watts);
        }
        v["brief"]["sockets"] = json!([{ "id": "s", "name": "S", "kind": "ac", "voltage_v": 230, "current_a": 16 }]);
        // The fuse decides the cable, the cable's mass the trips: the second pass finds nothing new to take.
        let first = sheet(&v);
        let v = all_taken(v, &first);
        let told = sheet(&v);
        prop_assert!(told.places.iter().all(|p| p.chosen.is_some() || p.least.is_none()));
        let chosen: Vec<&str> = told.places.iter().filter(|p| p.chosen.is_some()).map(|p| p.slot.key()).collect();
        prop_assert!(chosen.contains(&"throttle"));
        for f in report(&read(&v)).expect("computed").findings {
            let fitted = f.slot.is_some_and(|s| chosen.contains(&s.key()));
            // What grows with the mass of what was taken may be beyond it by as much: by no more than its reserve.
            prop_assert!(!fitted || f.severity == Severity::Note, "{:?}: {}", f.slot, f.message);
        }
    }

    /// Of what suffices the least is offered: no cheaper one would do, and no fuse of a smaller rating.
    #[test]
    fn nothing_less_would_do(d in drawn(), which in 0usize..12) {
        let mut v = described(&d);
        v["design"]["electrics"] = json!({ "heating_w": 1500, "brakes": "vacuum" });
        v["brief"]["sockets"] = json!([{ "id": "s", "name": "S", "kind": "ac", "voltage_v": 230, "current_a": 16 }]);
        let slot = Slot::ALL[which];
        let told = sheet(&v);
        let Some(place) = told.places.iter().find(|p| p.slot == slot) else { return Ok(()) };
        let all = choices(&v, slot);
        prop_assert_eq!(&all.asks, &place.asks);
        let suffices: Vec<&Component> = all.choices.iter().filter(|c| c.shortfalls.is_empty()).map(|c| &c.component).collect();
        match &place.least {
            None => prop_assert!(suffices.is_empty(), "{} would do", suffices[0].name),
            Some(least) => {
                prop_assert!(suffices.iter().any(|c| c.name == least.name));
                let less = |c: &&&Component| if least.kind == ComponentKind::Fuse { c.current_a < least.current_a } else { c.price < least.price };
                prop_assert!(!suffices.iter().any(|c| less(&c)), "{} is not the least", least.name);
            }
        }
        // Those that suffice stand first.
        prop_assert!(all.choices.windows(2).all(|w| w[0].shortfalls.len() <= w[1].shortfalls.len()));
    }
}

/// Mass and price of what is fitted are those of the records: cable by the metre, a contactor in each pole above 60 V.
#[test]
fn what_is_fitted_counts() {
    let van = demo("whimbrel-9-a");
    let bare = {
        let mut v = van.clone();
        v["design"]["electrics"].as_object_mut().expect("electrics").remove("fitted");
        with(v, "/design/wiring", json!({ "resistance_ohm": 0.006 }))
    };
    let fitted = read(&van).design.electrics.fitted.clone();
    let (mut kg, mut price) = (0.0, 0.0);
    for (slot, c) in fitted.all() {
        let count = match slot {
            Slot::TractionCable => 6.0,
            Slot::MainContactor => 2.0,
            _ => 1.0,
        };
        kg += count * c.mass_kg;
        price += count * c.price;
    }
    assert!(kg > 5.0 && price > 300.0, "{kg} kg, {price}");
    let (with_it, without) = (read(&van), read(&bare));
    check("kg", masses(&with_it).other_kg - masses(&without).other_kg, kg, 1e-9);
    check("price", report(&with_it).expect("computed").cost.net - report(&without).expect("computed").cost.net, price, 1e-9);
    // A 48 V pack of 58 V when full needs one.
    assert!((read(&demo("pipit-b")).design.count_of(Slot::MainContactor) - 1.0).abs() < 1e-12);
}

/// A battery alone takes nothing from the pack, so that a range grows by what the 12 V side took; how long it lasts is held against the trip.
#[test]
fn a_battery_alone_takes_nothing_from_the_pack_but_ends() {
    let van = demo("whimbrel-9-a");
    let alone = with(van.clone(), "/design/electrics/supply", json!("battery"));
    let of = |v: &Value| report(&read(v)).expect("computed");
    let (fed, own) = (of(&van), of(&alone));
    let (fed_trip, own_trip) = (&fed.trips[0], &own.trips[0]);
    assert!(own_trip.range_km > fed_trip.range_km);
    let split = |t: &joulethesis_core::estimate::TripResult| t.split.low_voltage_wh_per_km;
    assert!(split(own_trip) == 0.0 && split(fed_trip) > 0.0);
    let small = with(alone.clone(), "/design/electrics/auxiliary_ah", json!(2));
    assert!(of(&small).findings.iter().any(|f| f.rule == "safety.battery-empties" && f.found < f.limit));
    let large = with(alone, "/design/electrics/auxiliary_ah", json!(300));
    assert!(!of(&large).findings.iter().any(|f| f.rule == "safety.battery-empties"));
    let told = sheet(&large);
    assert!(told.circuit.parts.iter().all(|p| p.name != "Converter"));
}

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

/// UN R100, annex 4 (from memory): Ri = R0 Vb (1/V1' - 1/V1); 100 and 500 ohm a volt.
#[test]
fn insulation_is_measured_as_the_regulation_tells() {
    let test = InsulationTest { pack_v: 400.0, side_v: 220.0, side_with_resistor_v: 110.0, resistor_kohm: 200.0 };
    // A resistor that halves the reading: 200 k x 400 x (1/110 - 1/220).
    check("ohm", measured_ohm(&test), 200_000.0 * 400.0 / 220.0, 1e-12);
    check("ohm", least_ohm(400.0, true), 200_000.0, 1e-12);
    check("ohm", least_ohm(400.0, false), 40_000.0, 1e-12);
    // From the circuit itself: insulation of R1 at one pole and R2 at the other; the resistor lies beside R1, over which the higher voltage is.
    for (r1, r2, r0) in [(300e3, 200e3, 100e3), (5e6, 1e6, 400e3)] {
        let vb = 150.0;
        let v1 = vb * r1 / (r1 + r2);
        let beside = r1 * r0 / (r1 + r0);
        let with_it = vb * beside / (beside + r2);
        let told = measured_ohm(&InsulationTest { pack_v: vb, side_v: v1, side_with_resistor_v: with_it, resistor_kohm: r0 / 1000.0 });
        // The weaker side, which is the one that leaks.
        check("ohm", told, r2, 1e-9);
    }
    let leaky = json!({ "pack_v": 150, "side_v": 80, "side_with_resistor_v": 70, "resistor_kohm": 100 });
    let v = with(demo("whimbrel-9-a"), "/design/electrics/insulation_test", leaky);
    let found = report(&read(&v)).expect("computed").findings;
    assert!(found.iter().any(|f| f.rule == "safety.insulation-low" && f.severity == Severity::Stop));
    assert!(line(&sheet(&v), "insulation").result.to_string().contains("measured"));
}

/// Common practice: half way on a 0-5 V sender is 2.5 V; seen from the left a forward wheel turns anticlockwise.
#[test]
fn throttle_and_rotation_are_as_the_trade_knows_them() {
    let (low, high) = ThrottleSignal::Volts.ends();
    check("V", 0.5 * (low + high), 2.5, 1e-12);
    assert!(ThrottleSignal::Hall.tells_a_broken_wire() && !ThrottleSignal::Volts.tells_a_broken_wire());
    assert_eq!([0, 1, 2].map(|n| forward(ShaftEnd::Left, n)), [Sense::Anticlockwise, Sense::Clockwise, Sense::Anticlockwise]);
    // Turned end for end it turns the other way round for whoever looks at its shaft.
    for meshes in 0..5 {
        assert_eq!(forward(ShaftEnd::Left, meshes), forward(ShaftEnd::Right, meshes).reversed());
    }
    let v = with(demo("whimbrel-9-a"), "/design/electrics/meshes", json!(3));
    assert!(line(&sheet(&v), "direction").result.to_string().starts_with("clockwise"));
}

/// A 10 kW loss at 5 K takes some 33 l/min of half glycol (3.5 kJ/(kg K), 1.05 kg/l from memory); half the difference takes twice the radiator.
#[test]
fn coolant_carries_what_is_lost() {
    check("l/min", flow_l_min(10_000.0, 5.0), 60.0 * 10.0 / (3.5 * 1.05 * 5.0), 1e-9);
    check("W/K", radiator_w_per_k(1000.0, 60.0, 40.0).expect("cooler air"), 50.0, 1e-12);
    check("W/K", radiator_w_per_k(1000.0, 50.0, 40.0).expect("cooler air"), 100.0, 1e-12);
    assert_eq!(radiator_w_per_k(1000.0, 40.0, 45.0), None);
}

/// Laminar hose is that of Hagen and Poiseuille, 128 mu L Q / (pi d^4); at a Reynolds number of 10^5 the smooth line of Moody's chart is
/// 0.018 (handbook, from memory). The hose chosen is the smallest in which the liquid is no faster than 2 m/s.
#[test]
fn hose_takes_what_a_pipe_takes() {
    let (q, d, l) = (0.3 / 60_000.0, 0.016_f64, 3.0);
    check("laminar", hose_loss_kpa(0.3, 16.0, 3.0), 128.0 * 1.2e-3 * l * q / (std::f64::consts::PI * d.powi(4)) / 1000.0, 1e-9);
    let v = 1e5 * 1.2e-3 / (1050.0 * 0.019);
    let l_min = v * 0.25 * std::f64::consts::PI * 0.019_f64.powi(2) * 60_000.0;
    check("turbulent", hose_loss_kpa(l_min, 19.0, 1.0), 0.018 / 0.019 * 0.5 * 1050.0 * v * v / 1000.0, 0.02);
    for l_min in [0.1, 6.0, 9.4, 9.5, 20.0, 60.0, 500.0] {
        let speed = |mm: f64| l_min / 60_000.0 / (0.25 * std::f64::consts::PI * (mm / 1000.0_f64).powi(2));
        let taken = hose_mm(l_min);
        assert!(speed(taken) <= 2.0 || taken == 32.0, "{l_min}");
        assert!([10.0, 13.0, 16.0, 19.0, 25.0, 32.0].into_iter().all(|mm| mm >= taken || speed(mm) > 2.0), "{l_min}");
    }
}

/// The hose follows the places: a metre further back is two metres of hose and their bends, and a radiator that is placed counts where it is.
#[test]
fn coolant_goes_by_the_places() {
    let at = |x: f64| json!({ "along": { "behind_front_axle_m": x }, "right_m": 0.0, "up_m": 0.5 });
    let with_motor = |x: f64| {
        let d = with(demo("whimbrel-9-a"), "/design/layout/motor", at(x));
        with(d, "/design/layout/controller", at(x))
    };
    let run = |d: &Value| coolant_run(&read(d)).expect("placed");
    let near = run(&with_motor(0.5));
    check("a metre back", run(&with_motor(1.5)).length_m - near.length_m, 2.0 * 1.2, 1e-9);
    assert!(!near.radiator_placed);
    let own = with(with_motor(0.5), "/design/added", json!([{ "name": "Radiator of the old heater", "mass_kg": 3, "at": at(0.5) }]));
    assert_eq!((run(&own).radiator_placed, run(&own).length_m), (true, 6.0 * 0.25));
    assert!(line(&sheet(&own), "coolant_hose").formula.to_string().contains("where it is placed"));
    assert!(coolant_run(&read(&with(own, "/design/layout", json!({})))).is_none());
}

proptest! {
    #![proptest_config(cases(64))]

    /// What a choice is told to fall short of is what the rules find once it is in, no more and no less.
    #[test]
    fn an_exchange_does_what_was_told(d in drawn(), which in 0usize..12, nth in 0usize..40) {
        let mut v = described(&d);
        v["design"]["wiring"] = json!({});
        v["design"]["electrics"] = json!({ "heating_w": 1200, "brakes": "vacuum" });
        v["brief"]["sockets"] = json!([{ "id": "s", "name": "S", "kind": "ac", "voltage_v": 230, "current_a": 16 }]);
        let slot = Slot::ALL[which];
        let all = choices(&v, slot);
        prop_assume!(!all.choices.is_empty());
        let choice = &all.choices[nth % all.choices.len()];
        let mut changed = v.clone();
        changed["design"]["electrics"]["fitted"] = json!({ slot.key(): choice.component });
        for also in &choice.also {
            let (record, key) = also.path.split_once('.').expect("a place");
            if let Some(value) = also.value {
                changed["design"][record][key] = json!(value);
            }
        }
        let after = choices(&changed, slot);
        let own = after.choices.iter().find(|c| c.chosen).expect("in use");
        prop_assert!((own.change_kg, own.change_price) == (0.0, 0.0));
        // A heavier one asks a little more of itself: held against what it is then told to fall short of.
        let found = report(&read(&changed)).expect("computed").findings;
        let about = found.iter().filter(|f| f.slot == Some(slot) && f.severity != Severity::Note).count();
        if slot == Slot::PackFuse {
            // Volts and amperes of a fuse have rules of their own, which count a short pull once and hours once.
            prop_assert!((about > 0) != own.shortfalls.is_empty(), "{}: {about} against {:?}", own.component.name, own.shortfalls);
        } else if slot == Slot::TractionCable {
            prop_assert!(about >= own.shortfalls.len(), "{}: {about} against {:?}", own.component.name, own.shortfalls);
        } else {
            prop_assert_eq!(about, own.shortfalls.len(), "{}: {:?}", own.component.name, own.shortfalls);
        }
        // And what changes in mass and money is what was told.
        let (before_kg, after_kg) = (masses(&read(&v)).other_kg, masses(&read(&changed)).other_kg);
        prop_assert!((after_kg - before_kg - choice.change_kg).abs() < 1e-9, "{} and {}", after_kg - before_kg, choice.change_kg);
    }

    /// A record has the numbers of its kind and no others, and those it needs: each left out or put in is named.
    #[test]
    fn a_kind_has_its_own_numbers(kind in 0usize..11, which in 0usize..16) {
        const NUMBERS: [&str; 13] = ["min_voltage_v", "max_voltage_v", "current_a", "peak_a", "peak_s", "break_a", "rated_w", "draws_w",
            "section_mm2", "insulation_c", "tracks", "flow_l_min", "cells"];
        let kind = ComponentKind::ALL[kind];
        let number = NUMBERS[which % NUMBERS.len()];
        let mut whole = json!({ "part": "component", "name": "n", "kind": kind, "mass_kg": 1 });
        for key in kind.numbers() {
            whole[*key] = json!(if *key == "tracks" { 2 } else { 100 });
        }
        if kind == ComponentKind::Throttle {
            whole["signal"] = json!("hall");
        }
        let part = Part::from_value(&whole).map_err(|e| TestCaseError::fail(e.to_string()))?;
        prop_assert_eq!((part.kind(), part.name()), ("component", "n"));
        let told = |v: &Value| Part::from_value(v).err().map(|e| e.to_string());
        let mut without = whole.clone();
        without.as_object_mut().expect("a record").remove(number);
        let mut with_it = whole;
        with_it[number] = json!(if number == "tracks" { 2 } else { 100 });
        match (kind.needs().contains(&number), kind.numbers().contains(&number)) {
            (true, _) => prop_assert!(told(&without).is_some_and(|e| e.contains(number) && e.contains("needs it"))),
            (false, true) => prop_assert_eq!(told(&without), None),
            (false, false) => prop_assert!(told(&with_it).is_some_and(|e| e.contains(number) && e.contains("leave it empty"))),
        }
    }
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

/// A search keeps the mass and money of what was fitted, and where it stands: no chain looks lighter, cheaper or better balanced for leaving
/// it out.
#[test]
fn a_search_keeps_what_was_fitted() {
    use joulethesis_core::matching::{design_of, search};
    let van = demo("whimbrel-9-a");
    let design = &read(&van).design;
    let request = json!({ "only": { "motors": [design.motor.as_ref().expect("a motor").name], "controllers": [design.controller.as_ref().expect("one").name],
        "modules": [design.pack.as_ref().expect("a pack").module.name] } });
    let request = serde_json::from_value(request).expect("a request");
    let builtin = joulethesis_core::library::builtin();
    let answer = search(&read(&van), builtin, &request, &Cancel::new(), |_| true).expect("searched");
    assert!(!answer.designs.is_empty(), "nothing is found");
    let of = |each: fn(&Component) -> f64| design.electrics.fitted.all().map(|(slot, c)| design.count_of(slot) * each(c)).sum::<f64>();
    let (fitted_kg, fitted_price) = (of(|c| c.mass_kg), of(|c| c.price));
    let before = layout(&read(&van));
    for found in &answer.designs {
        let design = design_of(&read(&van), builtin, &request, &found.pick).expect("a design");
        assert!(design.electrics.fitted.all().next().is_none());
        let lumps: Vec<_> = design.added.iter().filter(|a| a.name.ends_with("sized for the chain before")).collect();
        check("kg", lumps.iter().map(|l| l.mass_kg).sum(), fitted_kg, 1e-9);
        check("price", lumps.iter().map(|l| l.price).sum(), fitted_price, 1e-9);
        for block in before.blocks.iter().filter(|b| ["electrics", "component"].contains(&b.kind)) {
            let lump = lumps.iter().find(|l| l.name.starts_with(&block.name)).expect("one for each block");
            let along = lump.at.along.expect("a place").metres(before.outline.wheelbase_m);
            assert_eq!((along, lump.at.right_m, lump.at.up_m), (block.along_m, Some(block.right_m), Some(block.up_m)));
        }
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
