//! Documents that between them use every kind of motor, trip, socket and strings, and the places of their numbers.

use super::drawn::{Drawn, described};
use super::{read, with};
use joulethesis_core::quantity::fields::{Entry, Field, Group};
use joulethesis_core::report::report;
use serde_json::{Value, json};

/// A demo document.
pub(crate) fn demo(name: &str) -> Value {
    let path = format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR"));
    serde_json::from_slice(&std::fs::read(path).expect("demo file")).expect("JSON")
}

/// A demo document of which nothing is said how it is used, so that its trips and schedules can be exchanged.
pub(crate) fn unused_demo(name: &str) -> Value {
    let mut demo = demo(name);
    let brief = demo["brief"].as_object_mut().expect("a brief");
    brief.remove("week");
    brief.remove("years");
    demo
}

/// The drawn vehicle with everything a goal can ask about.
pub(crate) fn asked(d: &Drawn) -> Value {
    let mut v = described(d);
    if let Some(donor) = v["donor"].as_object_mut() {
        donor.remove("test_mass_kg");
    }
    v["donor"]["adhesion"] = json!(0.9);
    let motor = &mut v["design"]["motor"];
    motor["price"] = json!(900);
    motor["max_temperature_c"] = json!(150);
    // Stated, so that a change of the curve does not move it.
    motor["continuous_torque_nm"] = json!(50.0 * d.size);
    if motor["model"]["kind"] == "envelope" {
        let (torque, power) = (motor["model"]["peak_torque_nm"].as_f64().expect("Nm"), motor["model"]["peak_power_w"].as_f64().expect("W"));
        // A twelfth of the power is lost at the corner of the envelope: half in the copper.
        motor["losses"] = json!({ "copper_w_per_nm2": 0.04 * power / torque / torque, "iron_w_per_rad_s": 0.02 * torque,
            "windage_w_per_rad3_s3": 1e-6, "constant_w": 0.004 * power });
    }
    // Enough amps for the motor's power and hardly more, so that one or the other binds.
    let amps = 36_000.0 * d.size / d.volts;
    let controller = &mut v["design"]["controller"];
    for (key, value) in [
        ("battery_current_a", amps),
        ("battery_current_continuous_a", 0.6 * amps),
        ("motor_current_a", 3.0 * amps),
        ("max_power_w", 36_000.0 * d.size),
        ("peak_s", 60.0),
        ("max_temperature_c", 85.0),
        ("regeneration_current_a", 0.4 * amps),
    ] {
        controller[key] = json!(value);
    }
    let capacity = 18_000.0 / d.volts;
    let full = 4.2 * (d.volts / 3.6).round().max(1.0);
    for (key, value) in [
        ("capacity_ah", capacity),
        ("capacity_share", 0.95),
        ("resistance_ohm", 0.05 * d.volts / amps / (d.volts / 3.6) * (0.2 + d.resistance / 0.002)),
        ("resistance_factor", 1.1),
        ("continuous_c", 1.3 * amps / capacity),
        ("peak_c", 2.0 * amps / capacity),
        ("charge_c", 0.5),
        ("mass_kg", 0.6),
        ("price", 21.0),
    ] {
        v["design"]["pack"]["module"][key] = json!(value);
    }
    v["design"]["pack"]["temperature_c"] = json!(20);
    v["design"]["charger"] = json!({ "name": "c", "output_min_v": full * 0.8, "output_max_v": full * 1.05, "output_current_a": 3000.0 / full,
        "output_power_w": 3000, "efficiency": 0.93, "mass_kg": 5, "price": 300 });
    // Stated: otherwise a slower vehicle starts a long climb from a gentler drive.
    v["brief"]["performance"] = json!({ "soc": 0.5, "reference_kmh": 25 });
    v["brief"]["sockets"] = json!([{ "id": "s", "name": "S", "kind": "ac", "voltage_v": 230, "current_a": 16 }]);
    v["brief"]["trips"] = json!([{ "id": "t", "name": "T", "hvac_w": 300, "path": { "segments": [
        { "distance_km": 0.8, "speed_kmh": 30, "stops_per_km": 2.5, "stop_s": 5 },
        { "distance_km": 0.7, "speed_kmh": 35, "climb_m": 30 },
        { "distance_km": 1.5, "speed_kmh": 45, "stops_per_km": 0.7, "climb_m": -30 } ] } }]);
    v
}

/// Goals of every measure, each asking `u` times what the vehicle does.
pub(crate) fn with_goals(mut v: Value, u: f64) -> Value {
    let every = json!([
        { "kind": "range", "trip": "t", "at_least_km": 1 },
        { "kind": "energy_use", "trip": "t", "at_most_wh_per_km": 1 },
        { "kind": "top_speed", "at_least_kmh": 1 },
        { "kind": "speed_limit", "at_most_kmh": 1 },
        { "kind": "power_limit", "at_most_w": 50 },
        { "kind": "power_limit", "at_most_w": 50, "rated": true },
        { "kind": "acceleration", "from_kmh": 0, "to_kmh": 30, "at_most_s": 1 },
        { "kind": "hill_start", "at_least_percent": 1 },
        { "kind": "hill_at_speed", "speed_kmh": 20, "at_least_percent": 1 },
        { "kind": "hill_at_speed", "speed_kmh": 25, "at_least_percent": 1, "continuous": true },
        { "kind": "hill_at_speed", "speed_kmh": 25, "at_least_percent": 1, "ten_minutes": true },
        { "kind": "charge_time", "socket": "s", "at_most_h": 1 },
        { "kind": "cost", "at_most": 1 },
        { "kind": "added_mass", "at_most_kg": 1 },
    ]);
    let measures = every.as_array().expect("a list");
    v["brief"]["goals"] = measures.iter().enumerate().map(|(i, m)| json!({ "id": format!("g{i}"), "measure": m })).collect();
    let base = report(&read(&v)).expect("complete");
    let goals = measures.iter().zip(&base.claims).enumerate().filter_map(|(i, (measure, claim))| {
        let target = claim.predicted? * u;
        let mut measure = measure.clone();
        let key = measure.as_object()?.keys().find(|k| k.starts_with("at_"))?.clone();
        measure[key] = json!(target);
        Some(json!({ "id": format!("g{i}"), "measure": measure }))
    });
    let goals: Value = goals.collect();
    with(v, "/brief/goals", goals)
}

/// A van with something in every place of its circuits, all of it just about enough.
fn fitted() -> Value {
    let mut v = demo("whimbrel-9-a");
    let component = |kind: &str, numbers: Value| {
        let mut c = json!({ "name": kind, "kind": kind, "mass_kg": 0.7, "price": 30 });
        c.as_object_mut().expect("a record").extend(numbers.as_object().expect("numbers").clone());
        c
    };
    let wide = |watts: f64| json!({ "min_voltage_v": 100, "max_voltage_v": 180, "rated_w": watts });
    let at = |along: f64, right: f64| json!({ "along": { "behind_front_axle_m": along }, "right_m": right, "up_m": 0.6, "length_m": 0.3, "width_m": 0.2, "height_m": 0.2 });
    v["design"]["layout"] = json!({ "electrics": at(0.4, 0.2), "fitted": {
        "charge_inlet": at(2.1, -0.7), "fast_inlet": at(2.4, -0.7), "converter": at(0.1, -0.3), "brake_assistance": at(-0.2, 0.5),
        "heater": at(0.6, 0.1),
    } });
    v["design"]["wiring"] = json!({ "resistance_ohm": 0.005, "cable_length_m": 6 });
    v["design"]["electrics"] = json!({
        "brakes": "vacuum", "heating_w": 2000, "shaft_end": "right", "meshes": 2,
        "insulation_test": { "pack_v": 140, "side_v": 80, "side_with_resistor_v": 60, "resistor_kohm": 300 },
        "fitted": {
            "pack_fuse": component("fuse", json!({ "max_voltage_v": 250, "current_a": 350, "break_a": 9000 })),
            "disconnect": component("disconnect", json!({ "max_voltage_v": 200, "current_a": 400 })),
            "main_contactor": component("contactor", json!({ "max_voltage_v": 200, "current_a": 150, "peak_a": 600, "peak_s": 90, "break_a": 900, "draws_w": 7 })),
            "traction_cable": component("cable", json!({ "max_voltage_v": 600, "section_mm2": 95, "insulation_c": 110 })),
            "charge_fuse": component("fuse", json!({ "max_voltage_v": 250, "current_a": 50, "break_a": 9000 })),
            "charge_inlet": component("connector", json!({ "max_voltage_v": 250, "current_a": 16 })),
            "fast_inlet": component("connector", json!({ "max_voltage_v": 500, "current_a": 150 })),
            "converter": component("converter", wide(900.0)),
            "throttle": { "name": "throttle", "kind": "throttle", "signal": "volts", "tracks": 2, "mass_kg": 0.3, "price": 20 },
            "brake_assistance": component("vacuum_pump", json!({ "rated_w": 120, "flow_l_min": 30 })),
            "heater": component("heater", wide(2500.0)),
            "monitor": component("monitor", json!({ "cells": 40, "draws_w": 5 })),
        }
    });
    v
}

/// The demo's, and one of each kind of motor with whatever else may be entered.
pub(crate) fn documents() -> Vec<Value> {
    let mut all: Vec<Value> = ["whimbrel-9-a", "dunlin-a", "wren-a", "pipit-a"].into_iter().map(demo).collect();
    // Places by their distance, where the van has them in a word.
    let at = |metres: f64| json!({ "along": { "behind_front_axle_m": metres }, "right_m": 0.1, "up_m": 0.4, "length_m": 0.5, "width_m": 0.4, "height_m": 0.3 });
    let boxes = json!([{ "name": "Front box", "modules": 2, "at": at(0.3) }]);
    let layout = json!({
        "motor": at(0.2), "pack": at(1.4), "controller": at(0.5), "charger": at(0.6), "electrics": at(0.7), "driver": at(1.0),
        "payload": at(2.0), "boxes": boxes,
    });
    all[0] = with(all[0].clone(), "/design/layout", layout);
    all[0] = with(all[0].clone(), "/design/added/0/at", at(0.4));
    all[0] = with(all[0].clone(), "/donor/removed/0/at", at(0.1));
    for (key, value) in [
        ("track_front_m", 1.4),
        ("track_rear_m", 1.38),
        ("overhang_front_m", 0.7),
        ("overhang_rear_m", 0.9),
        ("body_width_m", 1.7),
        ("body_height_m", 1.9),
    ] {
        all[0] = with(all[0].clone(), &format!("/donor/{key}"), json!(value));
    }
    all[0] = with(all[0].clone(), "/donor/tyre_load_index", json!(99));
    let load = json!({ "id": "l", "name": "Lamp", "draws_w": 700, "day": 0.8, "night": 0.9, "winter": 1 });
    all[0] = with(
        all[0].clone(),
        "/design/wiring",
        json!({ "resistance_ohm": 0.006, "fuse_a": 400, "fuse_voltage_v": 250, "cable_current_a": 300 }),
    );
    all[0] = with(all[0].clone(), "/design/electrics", json!({ "brakes": "vacuum", "loads": [load] }));
    all.push(fitted());
    for kind in 0..4 {
        let d = Drawn {
            kind,
            size: 1.0,
            volts: 144.0,
            resistance: 0.001,
            ranges: kind == 1,
            celsius: 5.0,
            share: 0.5,
            seconds: 60.0,
            wind: 3.0,
        };
        let mut v = with_goals(asked(&d), 1.0);
        let mut later = v["design"]["pack"]["module"].clone();
        later["name"] = json!("later");
        v["design"]["pack"]["added_strings"] =
            json!([{ "module": later, "modules_in_series": v["design"]["pack"]["modules_in_series"], "strings_in_parallel": 1 }]);
        v["design"]["pack"]["soc_min"] = json!(0.1);
        v["design"]["wiring"] =
            json!({ "fuse_a": 60, "fuse_voltage_v": 300, "cable_current_a": 40, "cable_length_m": 5, "cable_section_mm2": 35 });
        v["design"]["added"] = json!([{ "name": "box", "mass_kg": 9, "price": 40 }]);
        v["donor"]["removed"] = json!([{ "name": "engine", "mass_kg": 90, "sale_price": 100 }]);
        v["donor"]["driven_axle"] = json!("rear");
        v["donor"]["gross_limit_kg"] = json!(1100);
        v["donor"]["front_axle_limit_kg"] = json!(500);
        v["donor"]["rear_axle_limit_kg"] = json!(500);
        v["brief"]["winter"] = json!({ "temperature_c": -5, "hvac_w": 900, "rolling_factor": 1.2 });
        v["brief"]["price_per_kwh"] = json!(0.3);
        v["brief"]["sockets"][0]["phases"] = json!(3);
        v["design"]["charger"]["phases"] = json!(3);
        v["design"]["charger"]["output_max_v"] = json!(300);
        v["design"]["pack"]["temperature_c"] = json!(if kind == 1 { 5 } else { 20 });
        if kind == 0 {
            v["design"]["driveline"] = v["donor"]["driveline"].clone();
            // Lead beside lead of another make.
            for module in ["/design/pack/module", "/design/pack/added_strings/0/module"] {
                v = with(v, &format!("{module}/chemistry"), json!("lead_agm"));
            }
        }
        v["brief"]["sockets"]
            .as_array_mut()
            .expect("sockets")
            .push(json!({ "id": "d", "name": "D", "kind": "dc", "voltage_v": 500, "current_a": 60, "power_w": 9000, "min_voltage_v": 20 }));
        let trace = json!([{ "time_s": 0, "speed_kmh": 0 }, { "time_s": 20, "speed_kmh": 40, "grade_percent": 2 }, { "time_s": 70, "speed_kmh": 40 },
            { "time_s": 100, "speed_kmh": 0 }]);
        v["brief"]["trips"].as_array_mut().expect("trips").push(json!({ "id": "log", "name": "L", "path": { "trace": trace } }));
        all.push(v);
    }
    all
}

/// Paths (as JSON pointers) of every number of the catalogue within a document, the first entry of each list.
pub(crate) fn numbers(group: &'static Group, at: &str, document: &Value, found: &mut Vec<(String, &'static Field)>) {
    for entry in group.entries {
        match entry {
            Entry::Number(field) => found.push((format!("{at}/{}", field.key), field)),
            Entry::Object(key, inner) => numbers(inner, &format!("{at}/{key}"), document, found),
            Entry::List(key, inner, _) => {
                let len = document.pointer(&format!("{at}/{key}")).and_then(Value::as_array).map_or(0, Vec::len);
                for i in 0..len.min(11) {
                    numbers(inner, &format!("{at}/{key}/{i}"), document, found);
                }
            }
        }
    }
}
