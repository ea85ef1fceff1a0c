//! What the cold does to tyres, gears and cells, and what a lead-acid pack takes from a socket.

use crate::common::{check, lossy, plain, read, with};
use joulethesis_core::charge::charge;
use joulethesis_core::document::{Document, VehicleKind};
use joulethesis_core::inputs::trusted_inputs;
use joulethesis_core::library::Chemistry;
use joulethesis_core::pack::temperature::factors;
use joulethesis_core::powertrain::Chain;
use joulethesis_core::report::report;
use joulethesis_core::vehicle::cold::{gears_in_cold, tyre_factor};
use serde_json::{Value, json};

/// SAE J1263 (from memory): rolling resistance measured at t is brought to 20 degC by 1 + 0.0086 (t - 20); ISO 28580 has 0.008 about
/// 25 degC. From 20 to 0 degC both say a sixth more.
#[test]
fn tyres_roll_harder_in_the_cold() {
    check("at 0 degC", tyre_factor(VehicleKind::Car, 0.0), 1.0 + 0.0086 * 20.0, 1e-12);
    let iso = |t: f64| 1.0 + 0.008 * (25.0 - t);
    check("as ISO 28580 has it, 20 to 0 degC", tyre_factor(VehicleKind::Car, 0.0), iso(0.0) / iso(20.0), 0.02);
    assert_eq!(tyre_factor(VehicleKind::Car, 20.0), 1.0);
    assert_eq!(tyre_factor(VehicleKind::Sled, -20.0), 1.0, "tracks on snow are no tyres");
    // Bounded both ways, for any air.
    for celsius in -60..=60 {
        assert!((0.8..1.5).contains(&tyre_factor(VehicleKind::Van, f64::from(celsius))));
        assert!((0.0..=0.94).contains(&gears_in_cold(0.94, f64::from(celsius))));
    }
    assert_eq!(gears_in_cold(0.94, 30.0), 0.94);
    check("losses at 0 degC", (1.0 - gears_in_cold(0.94, 0.0)) / 0.06, 1.2, 1e-9);
    assert_eq!(gears_in_cold(1.0, -30.0), 1.0, "what loses nothing loses nothing more");
}

/// The whole trip in the cold by hand: the rolling share grows with the tyres, the gears' with their oil and what passes them, air with its
/// density.
#[test]
fn a_cold_trip_adds_up() {
    let at = |celsius: f64| {
        let d = with(plain(), "/brief/site", json!({ "temperature_c": celsius }));
        let d = with(d, "/donor/driveline/stages/0/efficiency", json!(0.95));
        let d = with(d, "/design/pack/temperature_c", json!(20));
        let d = with(d, "/design/regeneration", json!({ "approach": "none" }));
        let path = json!({ "segments": [{ "distance_km": 30, "speed_kmh": 60 }] });
        report(&read(&with(d, "/brief/trips", json!([{ "id": "t", "name": "T", "path": path }])))).expect("sound").trips[0].split
    };
    let (mild, cold) = (at(20.0), at(-5.0));
    check("rolling", cold.rolling_wh_per_km / mild.rolling_wh_per_km, 1.0 + 0.0086 * 25.0, 1e-6);
    check("air", cold.air_wh_per_km / mild.air_wh_per_km, 293.15 / 268.15, 1e-6);
    let at_wheels =
        |s: joulethesis_core::estimate::EnergySplit| s.air_wh_per_km + s.rolling_wh_per_km + s.brakes_wh_per_km + s.kinetic_wh_per_km;
    let loss = |e: f64| 1.0 / e - 1.0;
    check(
        "gears",
        cold.driveline_wh_per_km / mild.driveline_wh_per_km,
        loss(1.0 - 0.05 * 1.25) / loss(0.95) * at_wheels(cold) / at_wheels(mild),
        2e-3,
    );
}

#[test]
fn what_the_cold_takes_can_be_stated() {
    let (share, factor) = factors(Chemistry::Lfp, -10.0, 1.0);
    let (less, more) = factors(Chemistry::Lfp, -10.0, 0.5);
    check("half of the capacity's fall", 1.0 - less, 0.5 * (1.0 - share), 1e-12);
    check("half of the resistance's growth", more - 1.0, 0.5 * (factor - 1.0), 1e-12);
    assert_eq!(factors(Chemistry::Lfp, -10.0, 0.0), (1.0, 1.0));
    assert!(factors(Chemistry::LeadAgm, -40.0, 3.0).0 > 0.0, "something is always left");
}

/// A lead-acid car: 24 batteries of 6 V and 180 Ah at twenty hours, a charger of 144 V and 18 A.
fn lead_car() -> Value {
    let d = with(
        lossy(plain()),
        "/design/pack",
        json!({
            "module": {
                "name": "six volts", "chemistry": "lead_flooded", "cells_in_series": 3, "capacity_ah": 180, "rated_hours": 20, "full_voltage_v": 2.45,
                "nominal_voltage_v": 2.0, "cutoff_voltage_v": 1.7, "ocv": [{ "soc": 0, "volts_v": 1.95 }, { "soc": 1, "volts_v": 2.12 }],
                "resistance_ohm": 0.0007, "continuous_c": 0.5, "peak_c": 3, "charge_c": 0.2, "mass_kg": 28
            },
            "modules_in_series": 24, "strings_in_parallel": 1, "soc_min": 0.3, "soc_max": 1, "monitored": true
        }),
    );
    let d = with(
        d,
        "/design/controller",
        json!({
            "name": "check", "motor_kinds": ["pm_synchronous"], "min_voltage_v": 90, "max_voltage_v": 200, "battery_current_a": 500, "efficiency": 0.95,
            "regeneration_current_a": 0, "mass_kg": 10
        }),
    );
    let charger = json!({
        "name": "c", "output_min_v": 100, "output_max_v": 180, "output_current_a": 18, "output_power_w": 3500, "efficiency": 0.88, "mass_kg": 8
    });
    let d = with(d, "/design/charger", charger);
    let d = with(d, "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 230, "current_a": 16, "continuous_share": 1 }]));
    with(
        d,
        "/brief/trips",
        json!([{ "id": "t", "name": "T", "path": { "segments": [{ "distance_km": 12, "speed_kmh": 55, "stops_per_km": 0.5 }] } }]),
    )
}

/// Common practice: what went out goes back in with a tenth on top and the charger's loss, never more for having been taken quickly: what a
/// quick discharge cannot take is still in the plates. Peukert's law at five times the rated current would claim a third more.
#[test]
fn a_lead_acid_car_takes_back_what_it_gave() {
    let document = read(&lead_car());
    let trip = report(&document).expect("sound").trips[0].clone();
    let (battery, socket) = (trip.wh_per_km.expect("driven"), trip.socket_wh_per_km.expect("charged"));
    // Charged at some 2.3 V a cell against 2.0 delivered, a tenth more charge, 0.88 of the charger.
    let volts = 2.25 / 1.95;
    check("socket over battery", socket / battery, volts / 0.90 / 0.88, 0.08);
    let counted = trip.soc_used;
    let given = battery * trip.driven_km / 1000.0 / (24.0 * 3.0 * 1.98) / 0.180;
    println!("counted {counted:.3} of the charge, given {given:.3}");
    assert!(counted > 1.15 * given, "a quick discharge counts for more than it gives");
    // Without Peukert's law the two are one.
    let plain = report(&read(&with(lead_car(), "/design/pack/module/peukert_exponent", json!(1)))).expect("sound").trips[0].clone();
    check("socket, whatever the law", socket / plain.socket_wh_per_km.expect("charged"), 1.0, 0.03);
    assert!(plain.range_km > trip.range_km.map(|km| 1.15 * km));
}

#[test]
fn the_laws_of_charging_can_be_stated_and_are_doubted() {
    let hours = |v: &Value| {
        let document = read(v);
        let chain = Chain::of(&document, 1000.0).expect("complete");
        charge(&document, &chain.pack, &document.brief.sockets[0], 0.3, 0.98).expect("a charger").hours_h.expect("reached")
    };
    let usual = hours(&lead_car());
    let of = |key: &str, x: f64| hours(&with(lead_car(), &format!("/design/pack/module/{key}"), json!(x)));
    assert!(of("acceptance_per_h", 0.6) > usual * 1.05 && of("acceptance_per_h", 3.0) <= usual);
    check("hours over charge returned", of("charge_efficiency", 0.45 * 2.0) / usual, 1.0, 1e-9);
    check("hours at less returned", of("charge_efficiency", 0.75) / usual, 0.9 / 0.75, 1e-6);
    let doubts = |v: &Value| -> Vec<String> {
        trusted_inputs(&read(v)).into_iter().map(|t| t.path.clone()).filter(|p| p.contains("pack.module")).collect()
    };
    let has = |v: &Value, key: &str| doubts(v).iter().any(|p| p.ends_with(key));
    let laws = ["charge_efficiency", "acceptance_per_h", "taper_end_c"];
    assert!(laws.iter().all(|key| has(&lead_car(), key)) && !has(&lead_car(), "cold_factor"));
    let cold = with(lead_car(), "/brief/site", json!({ "temperature_c": 2 }));
    assert!(has(&cold, "cold_factor"));
    assert!(!has(&plain(), "charge_efficiency"), "without a socket nothing hangs on it");
    // Said in the field's words when it is out of range.
    let text = Document::from_value(&with(lead_car(), "/design/pack/module/taper_end_c", json!(0.9))).expect_err("refused").to_string();
    assert!(text.contains("taper_end_c is 0.9") && text.contains("0.2"), "{text}");
}
