//! Documents for the checks, and the line each check prints.
#![allow(dead_code)]

pub(crate) mod circuits;
pub(crate) mod documents;
pub(crate) mod drawn;
pub(crate) mod spoilt;

use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, Design, Document, MatchRequest};
use joulethesis_core::library::{Component, Motor, Part, builtin};
use joulethesis_core::matching::{Pick, designs_of};
use joulethesis_core::schematic::{ElectricsSheet, Line, electrics};
use joulethesis_core::simulate::CycleRun;
use proptest::test_runner::{Config as ProptestConfig, FailurePersistence, FileFailurePersistence, RngSeed};
use serde_json::{Value, json};

/// A plain vehicle with one fixed ratio, an ideal driveline and a pack that never limits.
pub(crate) fn plain() -> Value {
    json!({
        "format": "joulethesis-design", "version": 1, "name": "check",
        "brief": { "site": { "temperature_c": 20, "air_density_kg_m3": 1.25 }, "driver_kg": 0, "performance": { "soc": 0.5 } },
        "donor": {
            "name": "check", "kind": "car", "curb_mass_kg": 900, "test_mass_kg": 1000, "driven_axle": "all", "adhesion": 2,
            "drag_coefficient": 0.3, "frontal_area_m2": 2.0, "rolling_coefficient": 0.01, "rotating_mass_factor": 1.0,
            "tyre": { "rolling_radius_m": 0.3 },
            "driveline": { "stages": [{ "kind": "reduction", "ratio": 6, "efficiency": 1 }] }
        },
        "design": {
            "motor": {
                "name": "check", "kind": "pm_synchronous", "model": { "kind": "envelope", "peak_torque_nm": 200, "peak_power_w": 60000 },
                "max_speed_rpm": 20000, "continuous_power_w": 30000, "mass_kg": 40,
                "losses": { "copper_w_per_nm2": 0, "iron_w_per_rad_s": 0, "windage_w_per_rad3_s3": 0, "constant_w": 0 }
            },
            "controller": {
                "name": "check", "motor_kinds": ["pm_synchronous"], "min_voltage_v": 50, "max_voltage_v": 500,
                "battery_current_a": 3000, "efficiency": 1, "regeneration_current_a": 3000, "mass_kg": 10
            },
            "pack": {
                "module": {
                    "name": "check", "chemistry": "nmc", "capacity_ah": 100, "full_voltage_v": 4.2, "nominal_voltage_v": 3.6,
                    "cutoff_voltage_v": 2.5, "ocv": [{ "soc": 0, "volts_v": 3.6 }, { "soc": 1, "volts_v": 3.6 }],
                    "resistance_ohm": 0, "continuous_c": 50, "peak_c": 100, "charge_c": 20, "mass_kg": 1
                },
                "modules_in_series": 100, "strings_in_parallel": 1, "soc_min": 0, "soc_max": 1, "monitored": true
            },
            "low_voltage": { "load_w": 0 }
        }
    })
}

/// Every built-in motor.
pub(crate) fn motors() -> impl Iterator<Item = &'static Motor> {
    builtin().iter().filter_map(|p| if let Part::Motor(m) = p { Some(m) } else { None })
}

/// The design of one pick.
pub(crate) fn design_of(document: &Checked, library: &[Part], request: &MatchRequest, pick: &Pick) -> Design {
    designs_of(document, library, request, std::slice::from_ref(pick)).expect("a pick of the library").remove(0)
}

/// Every built-in component.
pub(crate) fn components() -> Vec<Component> {
    builtin().iter().filter_map(|p| if let Part::Component(c) = p { Some(c.clone()) } else { None }).collect()
}

/// The electrics of a document with the built-in library.
pub(crate) fn sheet(value: &Value) -> ElectricsSheet {
    electrics(&read(value), &components(), &Cancel::new()).expect("computed")
}

/// The line of a sheet.
pub(crate) fn line<'a>(sheet: &'a ElectricsSheet, id: &str) -> &'a Line {
    sheet.groups.iter().flat_map(|g| &g.lines).find(|l| l.id == id).unwrap_or_else(|| panic!("{id}"))
}

/// With a disconnect and contactors that bear anything.
pub(crate) fn switched(document: Value) -> Value {
    let fitted = json!({
        "disconnect": { "name": "check", "kind": "disconnect", "max_voltage_v": 1500, "current_a": 5000, "mass_kg": 0.001 },
        "main_contactor": { "name": "check", "kind": "contactor", "max_voltage_v": 1500, "current_a": 5000, "break_a": 200_000, "mass_kg": 0.001 },
    });
    with(document, "/design/electrics", json!({ "fitted": fitted }))
}

/// The plain vehicle with a motor that loses: copper, iron and air as of a small traction motor.
pub(crate) fn lossy(document: Value) -> Value {
    let losses = json!({ "copper_w_per_nm2": 0.25, "iron_w_per_rad_s": 0.4, "windage_w_per_rad3_s3": 1e-7, "constant_w": 20 });
    with(document, "/design/motor/losses", losses)
}

/// Seeds of cases that failed once, each replayed before any other case is drawn.
const REGRESSIONS: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/checks/regressions.txt");

/// The same cases each time, so that a failure is one of the change at hand; `make torture` draws others, and more of them.
pub(crate) fn cases(usual: u32) -> ProptestConfig {
    let more = std::env::var("JOULETHESIS_TORTURE_CASES").ok().and_then(|n| n.parse().ok());
    let rng_seed = if more.is_some() { RngSeed::Random } else { RngSeed::Fixed(20_261_126) };
    let failure_persistence: Option<Box<dyn FailurePersistence>> = Some(Box::new(FileFailurePersistence::Direct(REGRESSIONS)));
    ProptestConfig { cases: more.unwrap_or(usual), failure_persistence, rng_seed, ..ProptestConfig::default() }
}

/// Sets one value by its JSON pointer, making the last key if need be.
pub(crate) fn with(mut document: Value, pointer: &str, value: Value) -> Value {
    let (parent, key) = pointer.rsplit_once('/').expect("a pointer");
    let parent = document.pointer_mut(parent).unwrap_or_else(|| panic!("{pointer}"));
    match parent.as_array_mut() {
        Some(list) => list[key.parse::<usize>().expect("an index")] = value,
        None => parent[key] = value,
    }
    document
}

/// A demo document, read.
pub(crate) fn sound_demo(name: &str) -> Checked {
    read(&documents::demo(name))
}

/// Reads a document that must be sound.
pub(crate) fn read(value: &Value) -> Checked {
    Document::from_value(value).unwrap_or_else(|e| panic!("{e}"))
}

/// Prints got, want and difference, and fails outside `tolerance` (share of `want`).
pub(crate) fn check(what: &str, got: f64, want: f64, tolerance: f64) {
    let difference = (got - want) / want;
    println!("{what}: got {got:.5}, want {want:.5}, difference {:.3} %", 100.0 * difference);
    assert!(difference.abs() <= tolerance, "{what}: got {got}, want {want}, allowed {tolerance}");
}

/// Relative error of `battery = air + rolling + ... + kinetic`.
pub(crate) fn imbalance(p: &CycleRun) -> f64 {
    let s = p.split();
    let sum = s.air_j
        + s.rolling_j
        + s.climb_j
        + s.driveline_j
        + s.motor_j
        + s.controller_j
        + s.low_voltage_j
        + s.hvac_j
        + s.brakes_j
        + s.kinetic_j;
    (s.battery_j - sum).abs() / (s.battery_j.abs() + s.recovered_j + s.air_j + s.rolling_j).max(1.0)
}
