//! Components of the circuits: what is chosen suffices, nothing less would, and what is fitted counts in mass and money; records that say
//! nothing or too much are refused.

use crate::common::documents::demo;
use crate::common::drawn::{described, drawn};
use crate::common::{cases, check, components, design_of, read, sheet, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::Slot;
use joulethesis_core::findings::Severity;
use joulethesis_core::layout::layout;
use joulethesis_core::library::{Component, ComponentKind, Part};
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

/// A search keeps the mass and money of what was fitted, and where it stands: no chain looks lighter, cheaper or better balanced for leaving
/// it out.
#[test]
fn a_search_keeps_what_was_fitted() {
    use joulethesis_core::matching::search;
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
        let design = design_of(&read(&van), builtin, &request, &found.pick);
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
