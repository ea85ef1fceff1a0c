//! Motors given by their constants, against what textbooks derive from the same two equations
//! (e.g. Larminie and Lowry, 2nd ed., section 7.1; Hughes, Electric Motors and Drives; from memory).

use crate::common::{check, plain, read, with};
use joulethesis_core::bench::{BenchSheet, LockedReading, NoLoadReading, characterise};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::estimate::choices;
use joulethesis_core::inputs::Counted;
use joulethesis_core::library::{Motor, MotorKind, MotorModel};
use joulethesis_core::powertrain::{Chain, MotorMap, Rating};
use joulethesis_core::report::report;
use serde_json::{Value, json};

const KT: f64 = 0.17;
const R: f64 = 0.02;
const I0: f64 = 6.0;
const V: f64 = 84.0;

fn magnets() -> Motor {
    let d = with(
        plain(),
        "/design/motor",
        json!({
            "name": "m", "kind": "brushed_pm", "max_speed_rpm": 6000, "continuous_power_w": 8000, "mass_kg": 16, "reference_voltage_v": V,
            "model": { "kind": "constants", "torque_constant_nm_a": KT, "resistance_ohm": R, "no_load_current_a": I0, "peak_current_a": 5000 }
        }),
    );
    read(&d).into_written().design.motor.expect("a motor")
}

#[test]
fn a_magnet_motor_does_what_its_two_equations_say() {
    let map = MotorMap::of(&magnets(), 1);
    // Stall: all of the voltage over the winding. No load: back-EMF meets it less I0 R.
    check("stall torque", map.curve_nm(0.0, V), KT * (V / R - I0), 1e-12);
    let free = (V - I0 * R) / KT;
    check("torque at the no-load speed", 1.0 + map.curve_nm(free, V), 1.0, 1e-9);
    // Shaft power is greatest at half of the no-load speed: a quarter of stall torque times no-load speed.
    let power = |w: f64| w * map.curve_nm(w, V);
    check("greatest power", power(free / 2.0), KT * (V / R - I0) * free / 4.0, 1e-9);
    assert!(power(free * 0.49) < power(free / 2.0) && power(free * 0.51) < power(free / 2.0));
    // Best efficiency on full volts: (1 - sqrt(I0 / I_stall))^2, at I = sqrt(I0 I_stall).
    let stall_a = V / R;
    let best_a = (I0 * stall_a).sqrt();
    let (w, t) = ((V - best_a * R) / KT, KT * (best_a - I0));
    check("best efficiency", t * w / (t * w + map.loss_w(t, w)), (1.0 - (I0 / stall_a).sqrt()).powi(2), 1e-9);
    check("electrical power there", t * w + map.loss_w(t, w), V * best_a, 1e-9);
    // The way back: torque from electrical power.
    check("torque for that power", map.torque_for_power_nm(w, V * best_a), t, 1e-9);
}

#[test]
fn weakening_the_field_trades_torque_for_speed_at_the_same_power() {
    let mut motor = magnets();
    motor.max_speed_rpm = 20_000.0;
    if let MotorModel::Constants { peak_current_a, field_weakening, .. } = &mut motor.model {
        (*peak_current_a, *field_weakening) = (300.0, 2.5);
    }
    let map = MotorMap::of(&motor, 1);
    let base = (V - 300.0 * R) / KT;
    check("torque up to the base speed", map.curve_nm(base * 0.999, V), KT * (300.0 - I0), 1e-9);
    // Beyond, the back-EMF stays what it was: power is constant while the peak current flows.
    for times in [1.3, 1.8, 2.4] {
        let w = base * times;
        check(&format!("power at {times} times the base speed"), w * map.curve_nm(w, V), base * KT * (300.0 - I0), 1e-9);
    }
    assert!(map.curve_nm(base * 2.7, V) * base * 2.7 < base * KT * 294.0, "past the weakest field it falls");
}

fn series(saturation_a: f64) -> Motor {
    let d = with(
        plain(),
        "/design/motor",
        json!({
            "name": "s", "kind": "series_dc", "max_speed_rpm": 9000, "continuous_power_w": 12000, "mass_kg": 60, "reference_voltage_v": 96,
            "model": { "kind": "series_dc", "saturated_constant_nm_a": 0.36, "saturation_current_a": saturation_a, "resistance_ohm": 0.05,
                "brush_drop_v": 2, "drag_torque_nm": 0, "peak_current_a": 450 }
        }),
    );
    read(&with(d, "/design/controller/motor_kinds", json!(["series_dc"]))).into_written().design.motor.expect("a motor")
}

#[test]
fn a_series_motor_pulls_with_the_square_of_its_current_until_it_saturates() {
    // Far below saturation torque grows with the square of the current, far above in proportion to it.
    let (soft, hard) = (MotorMap::of(&series(5000.0), 1), MotorMap::of(&series(1.0), 1));
    let ratio = |map: &MotorMap| map.torque_at_amps_nm(200.0).expect("known") / map.torque_at_amps_nm(100.0).expect("known");
    check("twice the current, unsaturated", ratio(&soft), 4.0, 0.03);
    check("twice the current, saturated", ratio(&hard), 2.0, 0.01);
    // At full volts: V = K(I) w + I R + brushes, solved here for the speed of a current.
    let map = MotorMap::of(&series(80.0), 1);
    for amps in [60.0, 150.0, 300.0, 440.0] {
        let flux = 0.36 * amps / (amps + 80.0);
        let w = (96.0 - 2.0 - amps * 0.05) / flux;
        check(&format!("torque at {amps} A on 96 V"), map.curve_nm(w, 96.0), flux * amps, 1e-9);
        check(&format!("power taken at {amps} A"), flux * amps * w + map.loss_w(flux * amps, w), 96.0 * amps, 1e-9);
        check(&format!("torque from {:.0} W", 96.0 * amps), map.torque_for_power_nm(w, 96.0 * amps), flux * amps, 1e-9);
    }
}

/// Readings of a motor with known constants.
fn sheet(kt: f64, r: f64, i0: f64) -> BenchSheet {
    let no_load = [12.0, 24.0, 36.0, 48.0].map(|volts_v| NoLoadReading {
        volts_v,
        amps_a: i0,
        speed_rpm: (volts_v - i0 * r) / kt * 30.0 / std::f64::consts::PI,
    });
    BenchSheet {
        name: "Unknown".to_owned(),
        kind: MotorKind::BrushedPm,
        no_load: no_load.to_vec(),
        locked: vec![LockedReading { volts_v: 40.0 * r, amps_a: 40.0 }, LockedReading { volts_v: 80.0 * r, amps_a: 80.0 }],
        max_speed_rpm: 5000.0,
        peak_current_a: 300.0,
        continuous_power_w: 4000.0,
        mass_kg: 11.0,
        reference_voltage_v: None,
    }
}

#[test]
fn the_bench_finds_the_constants_again() {
    let result = characterise(&sheet(0.11, 0.028, 3.2)).expect("sound");
    check("Kt", result.torque_constant_nm_a.value, 0.11, 1e-9);
    check("R", result.resistance_ohm.value, 0.028, 1e-9);
    check("I0", result.no_load_current_a.value, 3.2, 1e-9);
    check("rpm/V", result.rpm_per_volt, 60.0 / (std::f64::consts::TAU * 0.11), 1e-9);
    // Readings off by a little: the band holds the truth and is honest about it.
    let mut noisy = sheet(0.11, 0.028, 3.2);
    for (r, off) in noisy.no_load.iter_mut().zip([0.6, -0.5, 0.4, -0.6]) {
        r.volts_v += off;
    }
    let result = characterise(&noisy).expect("sound");
    let f = result.torque_constant_nm_a;
    assert!((f.value - 0.11).abs() < f.half_width && f.half_width > 0.011 * 0.11, "{f:?}");
    let stated = &result.motor.sources["model.resistance_ohm"];
    assert!(stated.spread_percent.expect("a band") > 5.0, "{stated:?}");
}

#[test]
fn impossible_readings_are_named() {
    let said = |s: &BenchSheet| characterise(s).expect_err("refused").to_string();
    let mut swapped = sheet(0.11, 0.028, 3.2);
    // Faster the more it draws: only a motor that makes current out of nothing would do that.
    swapped.locked = vec![LockedReading { volts_v: 0.01, amps_a: 5.0 }];
    for (r, amps_a) in swapped.no_load.iter_mut().zip([10.0, 15.0, 35.0, 40.0]) {
        r.amps_a = amps_a;
        r.speed_rpm = (r.volts_v + 0.3 * amps_a) / 0.11 * 30.0 / std::f64::consts::PI;
    }
    let text = said(&swapped);
    assert!(text.contains("resistance of -") && text.contains("[") && text.contains("fits the others worst"), "{text}");
    let mut wild = sheet(0.11, 0.028, 3.2);
    wild.no_load[2].volts_v = 63.0;
    assert!(said(&wild).contains("no_load[2].volts_v"), "{}", said(&wild));
    let mut few = sheet(0.11, 0.028, 3.2);
    few.no_load.truncate(1);
    few.locked.clear();
    let text = said(&few);
    assert!(text.contains("no_load") && text.contains("locked"), "{text}");
    let mut minus = sheet(0.11, 0.028, 3.2);
    minus.no_load[0].amps_a = -2.0;
    assert!(said(&minus).contains("no_load[0].amps_a is -2"), "{}", said(&minus));
}

fn with_motor(model: &Value) -> Value {
    let d = with(plain(), "/design/motor/model", model.clone());
    let d = with(d, "/design/motor/kind", json!("pm_synchronous"));
    let d = with(d, "/design/motor/losses", json!(null));
    with(d, "/design/motor/reference_voltage_v", json!(360))
}

/// More turns: more pull for each amp, less speed for each volt; in the same copper the stall torque on a current limit that is
/// scaled with the turns stays what it was.
#[test]
fn windings_trade_speed_for_pull_for_each_amp() {
    let d = with_motor(
        &json!({ "kind": "constants", "torque_constant_nm_a": 0.5, "resistance_ohm": 0.05, "no_load_current_a": 2, "peak_current_a": 300 }),
    );
    let found = choices(&Counted::of(&read(&d)), &Cancel::new()).expect("sound");
    assert_eq!(found.windings.len(), 5);
    let own = &found.windings[2];
    check("the record's own winding", own.top_speed_kmh, report(&read(&d)).expect("sound").performance.top_speed_kmh, 1e-9);
    for pair in found.windings.windows(2) {
        assert!(pair[1].torque_constant_nm_a > pair[0].torque_constant_nm_a && pair[1].top_speed_kmh <= pair[0].top_speed_kmh);
        check("stall pull", pair[1].hill_start_percent, pair[0].hill_start_percent, 1e-9);
    }
    // 360 V / 0.5 V s/rad is 720 rad/s or 19.1 rpm per volt, no-load; loaded it is a little less.
    let need = &found.speed_needs[0];
    check(
        "unloaded rpm a volt",
        need.no_load_rpm_per_v.expect("known"),
        (1.0 - 2.0 * 0.05 / 360.0) / 0.5 * 30.0 / std::f64::consts::PI,
        1e-9,
    );
    assert!(need.loaded_rpm_per_v.expect("known") < need.no_load_rpm_per_v.expect("known"));
}

/// The controller's motor amps hold torque below what the pack could drive, and are named.
#[test]
fn motor_amps_bind_a_magnet_motor_by_name() {
    let d = with_motor(
        &json!({ "kind": "constants", "torque_constant_nm_a": 0.5, "resistance_ohm": 0.05, "no_load_current_a": 2, "peak_current_a": 600 }),
    );
    let d = with(d, "/design/controller/motor_current_a", json!(200));
    let chain = Chain::of(&read(&d), 1000.0).expect("complete");
    let limits = chain.limits(0.5, 0.0, Rating::Peak);
    let (torque, cause) = chain.full_torque(10.0, &limits);
    check("torque at 200 A", torque, 0.5 * 198.0, 1e-9);
    assert_eq!(cause.word(), "motor amps");
}

/// Losses fitted to stated efficiencies: made from known coefficients, they come back.
#[test]
fn loss_coefficients_come_back_from_efficiencies() {
    let (kc, ki, kw, c) = (0.02, 0.9, 4e-6, 30.0);
    let points: Vec<Value> = [(500.0, 120.0), (2000.0, 118.0), (3500.0, 100.0), (5000.0, 70.0), (7000.0, 45.0)]
        .iter()
        .map(|(rpm, t): &(f64, f64)| {
            let w = rpm * std::f64::consts::PI / 30.0;
            let loss = kc * t * t + ki * w + kw * w.powi(3) + c;
            json!({ "speed_rpm": rpm, "torque_nm": t, "efficiency": t * w / (t * w + loss) })
        })
        .collect();
    let d = with_motor(&json!({ "kind": "points", "points": points }));
    let motor = read(&d).into_written().design.motor.expect("a motor");
    let fitted = joulethesis_core::powertrain::loss_coefficients(&motor);
    for (what, got, want) in [
        ("kc", fitted.copper_w_per_nm2, kc),
        ("ki", fitted.iron_w_per_rad_s, ki),
        ("kw", fitted.windage_w_per_rad3_s3, kw),
        ("C", fitted.constant_w, c),
    ] {
        check(what, got, want, 1e-6);
    }
}
