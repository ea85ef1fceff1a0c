//! Pack, motor, controller and charging against closed forms, brute force and worked examples.

use crate::common::{cases, check, motors, plain, read, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::charge::{ChargeLimit, charge};
use joulethesis_core::inputs::Counted;
use joulethesis_core::library::{Chemistry, Motor, MotorKind, Part, builtin};
use joulethesis_core::powertrain::{Cause, Chain, MotorMap, Rating, best_point, rated_point};
use proptest::prelude::*;
use serde_json::{Value, json};

fn chain(d: &Value) -> Chain {
    Chain::of(&read(d), 1000.0).expect("complete")
}

/// Larminie and Lowry, 2nd ed., section 2.12 (from memory): a lead-acid battery of 42 Ah at ten hours with k = 1.107 gives
/// a Peukert capacity of 42 x 4.2^0.107 = 49 Ah and lasts 49 / I^1.107 hours.
#[test]
fn peukert_worked_example() {
    let mut d = with(plain(), "/design/pack/module/chemistry", json!("lead_agm"));
    d = with(d, "/design/pack/module/capacity_ah", json!(42));
    d = with(d, "/design/pack/module/rated_hours", json!(10));
    d = with(d, "/design/pack/module/peukert_exponent", json!(1.107));
    let pack = chain(&d).pack;
    for amps in [8.0_f64, 20.0, 60.0] {
        let hours = 42.0 / pack.counted_a(amps);
        check(&format!("hours at {amps} A"), hours, 48.97 / amps.powf(1.107), 1e-3);
    }
    assert_eq!(pack.counted_a(2.0), 2.0, "no capacity is won below the rated current");
}

#[test]
fn power_at_the_terminals_is_voltage_times_current() {
    let d = with(plain(), "/design/pack/module/resistance_ohm", json!(0.001));
    let pack = chain(&d).pack;
    for power in [-50_000.0, -1.0, 0.0, 1000.0, 200_000.0] {
        let t = pack.under(360.0, power).expect("within reach");
        assert!((t.volts_v * t.current_a - power).abs() < 1e-6 && (360.0 - t.current_a * pack.resistance_ohm - t.volts_v).abs() < 1e-9);
    }
    // Most power a source can give: ocv^2 / 4R.
    let most = 360.0 * 360.0 / (4.0 * pack.resistance_ohm);
    assert!(pack.under(360.0, most * 0.999_999).is_some() && pack.under(360.0, most * 1.000_001).is_none());
}

/// At a given speed efficiency is best where copper loss equals the rest; the fit puts the best of the whole map at the best point, and
/// nowhere is it better than stated.
#[test]
fn fitted_losses_reach_the_stated_best_efficiency_and_never_more() {
    for motor in motors() {
        let Some(stated) = motor.best_efficiency.filter(|_| motor.losses.is_none()) else { continue };
        let map = MotorMap::of(motor, 1);
        let (speed, torque) = best_point(motor);
        let efficiency = |t: f64, w: f64| t * w / (t * w + map.loss_w(t, w));
        check(&motor.name, efficiency(torque, speed), stated, 1e-9);
        for i in 1..=60 {
            for j in 1..=60 {
                let (t, w) = (map.greatest_nm() * f64::from(i) / 60.0, map.max_speed_rad_s * f64::from(j) / 60.0);
                assert!(efficiency(t, w) <= stated + 1e-9, "{} is {} at {t} N m and {w} rad/s", motor.name, efficiency(t, w));
            }
        }
    }
}

/// Every built-in motor against what such machines do (common practice, from memory of published maps and data sheets): what turning
/// them without load at their highest speed costs, how they do at their continuous power and half speed and at a tenth of their torque,
/// and the torque that a kilogram holds.
#[test]
fn built_in_motors_are_within_what_their_kinds_do() {
    for motor in motors() {
        let map = MotorMap::of(motor, 1);
        let (half, volts) = (0.5 * map.max_speed_rad_s, motor.reference_voltage_v.expect("stated"));
        let efficiency = |t: f64, w: f64| t * w / (t * w + map.loss_w(t, w));
        let idle = 100.0 * map.loss_w(0.0, map.max_speed_rad_s) / motor.continuous_power_w;
        let at_power = efficiency((motor.continuous_power_w / half).min(map.curve_nm(half, volts)), half);
        let at_tenth = efficiency(0.1 * map.greatest_nm(), half);
        let hold = map.continuous_nm / motor.mass_kg;
        // Small hubs pay most for turning: a 1 kW one draws some 100 W unloaded.
        let (most_idle, least_power, least_tenth, holds) = match motor.kind {
            MotorKind::Hub => (13.0, 0.68, 0.80, 2.0..5.0),
            MotorKind::PmSynchronous => (7.0, 0.85, 0.88, 0.8..2.5),
            MotorKind::Induction => (10.5, 0.76, 0.82, 0.6..1.8),
            MotorKind::BrushedPm => (9.0, 0.80, 0.78, 0.7..1.5),
            MotorKind::SeriesDc => (7.0, 0.76, 0.76, 0.3..0.8),
        };
        let what = format!("{}: {idle:.1} %, {at_power:.3}, {at_tenth:.3}, {hold:.2} N m/kg", motor.name);
        assert!((2.0..most_idle).contains(&idle), "{what}");
        assert!((least_power..0.97).contains(&at_power) && (least_tenth..0.97).contains(&at_tenth), "{what}");
        assert!(holds.contains(&hold), "{what}");
    }
}

/// Every built-in cell, charger and controller against its kind (handbook ranges and data sheets, from memory): Wh a kilogram of module, a
/// fifth to a third more than in a finished pack; resistance times capacity, mohm Ah of one cell; rates; what a kilogram converts.
#[test]
fn built_in_cells_chargers_and_controllers_are_within_what_their_kinds_do() {
    for part in builtin() {
        match part {
            Part::Module(m) => {
                let wh_per_kg = f64::from(m.cells_in_series) * m.nominal_voltage_v * m.capacity_ah / m.mass_kg;
                let mohm_ah = 1000.0 * m.resistance_ohm * m.capacity_ah;
                let (energy, ohm, continuous, peak, charge) = match m.chemistry {
                    Chemistry::LeadFlooded => (28.0..50.0, 30.0..250.0, 0.2..0.5, 3.0..5.0, 0.1..0.2),
                    Chemistry::LeadAgm => (30.0..45.0, 30.0..100.0, 0.3..0.7, 4.0..6.0, 0.15..0.35),
                    Chemistry::Lfp => (90.0..185.0, 50.0..150.0, 0.5..1.5, 1.5..4.0, 0.3..1.1),
                    Chemistry::Nmc => (120.0..215.0, 40.0..125.0, 1.5..3.5, 4.0..9.0, 0.5..2.0),
                    Chemistry::Lmo => (90.0..150.0, 33.0..100.0, 1.5..2.5, 3.5..5.0, 0.5..1.0),
                    Chemistry::Lipo => (130.0..190.0, 10.0..25.0, 5.0..15.0, 10.0..30.0, 0.5..2.5),
                    Chemistry::Lto => (50.0..90.0, 15.0..60.0, 2.0..6.0, 5.0..12.0, 2.0..6.0),
                    Chemistry::Nimh => (35.0..70.0, 8.0..30.0, 2.0..8.0, 8.0..20.0, 1.0..4.0),
                };
                let what = format!(
                    "{}: {wh_per_kg:.0} Wh/kg, {mohm_ah:.0} mohm Ah, {} C, {} C, {} C",
                    m.name, m.continuous_c, m.peak_c, m.charge_c
                );
                assert!(energy.contains(&wh_per_kg) && ohm.contains(&mohm_ah), "{what}");
                assert!(continuous.contains(&m.continuous_c) && peak.contains(&m.peak_c) && charge.contains(&m.charge_c), "{what}");
            }
            Part::Charger(c) => {
                let kw_per_kg = c.output_power_w / c.mass_kg / 1000.0;
                assert!((0.85..0.95).contains(&c.efficiency) && (0.1..1.5).contains(&kw_per_kg), "{}: {kw_per_kg:.2} kW/kg", c.name);
            }
            Part::Controller(c) => {
                let kw_per_kg = 0.9 * c.max_voltage_v * c.battery_current_a / c.mass_kg / 1000.0;
                assert!((0.94..0.985).contains(&c.efficiency) && (1.0..20.0).contains(&kw_per_kg), "{}: {kw_per_kg:.1} kW/kg", c.name);
            }
            Part::Motor(_) | Part::Component(_) => {}
        }
    }
}

#[test]
fn two_motors_do_what_one_does_at_half_the_torque() {
    for motor in motors() {
        let (one, two) = (MotorMap::of(motor, 1), MotorMap::of(motor, 2));
        let (base, torque) = rated_point(motor);
        let speed = base * 0.9;
        check(&motor.name, two.loss_w(2.0 * torque, speed), 2.0 * (one.loss_w(torque, speed)), 1e-12);
        check(&motor.name, two.curve_nm(speed, 100.0), 2.0 * one.curve_nm(speed, 100.0), 1e-12);
    }
}

proptest! {
    #![proptest_config(cases(200))]

    /// The sagging curve solved in closed form or by insertion equals the greatest torque found by trying.
    #[test]
    fn sagging_torque_equals_brute_force(pick in any::<prop::sample::Index>(), speed in 0.02..0.98f64, ocv in 0.6..1.3f64, resistance in 0.0..0.08f64, aux in 0.0..800.0f64) {
        let all: Vec<&Motor> = motors().collect();
        let motor = all[pick.index(all.len())];
        let map = MotorMap::of(motor, 1);
        let (w, ocv) = (speed * map.max_speed_rad_s, ocv * motor.reference_voltage_v.expect("stated"));
        let holds = |t: f64| {
            let power = (t * w + map.loss_w(t, w)) / 0.95 + aux;
            let root = ocv * ocv - 4.0 * resistance * power;
            root >= 0.0 && t <= map.curve_nm(w, 0.5 * (ocv + root.sqrt()))
        };
        let got = map.sagged_nm(f64::INFINITY, w, ocv, resistance, 0.95, aux);
        let top = map.greatest_nm();
        // A curve of points ends in a cliff at its last speed; on it the answer jumps to zero and trying is no judge.
        let brute = (0..=20_000).map(|i| top * f64::from(i) / 20_000.0).take_while(|t| holds(*t)).last().unwrap_or(0.0);
        prop_assert!((got - brute).abs() <= top / 10_000.0, "{} at {w}: got {got}, tried {brute}", motor.name);
    }

    /// The torque that takes a given electrical power takes that power.
    #[test]
    fn torque_for_power_inverts_the_loss_model(pick in any::<prop::sample::Index>(), speed in 0.05..1.0f64, share in -0.9..1.5f64) {
        let all: Vec<&Motor> = motors().collect();
        let map = MotorMap::of(all[pick.index(all.len())], 1);
        let w = speed * map.max_speed_rad_s;
        // Braking returns at most w^2 / 4kc less the idle loss; ask for a part of it.
        let most_back = map.best_braking_nm(w) * w / 2.0;
        let electric = if share < 0.0 { share * most_back + map.loss_w(0.0, w) } else { share * map.continuous_w + map.loss_w(0.0, w) };
        let torque = map.torque_for_power_nm(w, electric);
        let back = torque * w + map.loss_w(torque, w);
        prop_assert!((back - electric).abs() <= 1e-6 * (electric.abs() + most_back), "asked {electric}, got {back}");
    }
}

#[test]
fn every_limit_binds_by_its_own_name() {
    // 200 N m and 60 kW at 360 V: each case tightens one rating.
    for (pointer, value, speed, cause) in [
        ("/donor/adhesion", json!(0.05), 0.0, Cause::Traction),
        ("/donor/adhesion", json!(2), 0.0, Cause::MotorTorque),
        ("/donor/adhesion", json!(2), 30.0, Cause::MotorPower),
        ("/design/motor/reference_voltage_v", json!(400), 30.0, Cause::Voltage),
        ("/design/controller/battery_current_a", json!(50), 20.0, Cause::BatteryAmps),
        ("/design/controller/max_power_w", json!(15_000), 20.0, Cause::ControllerPower),
        ("/design/pack/module/resistance_ohm", json!(0.02), 20.0, Cause::Sag),
        ("/design/motor/max_speed_rpm", json!(3000), 20.0, Cause::MotorSpeed),
    ] {
        let c = chain(&with(plain(), pointer, value));
        let limits = c.limits(0.5, 0.0, Rating::Peak);
        assert_eq!(c.full_force(&c.gears[0], speed, &limits).1, cause, "{pointer} at {speed} m/s");
    }
    let mut d = with(plain(), "/design/pack/module/peak_c", json!(0.5));
    d = with(d, "/design/pack/module/continuous_c", json!(0.2));
    let c = chain(&d);
    let limits = c.limits(0.5, 0.0, Rating::Peak);
    assert_eq!(c.full_force(&c.gears[0], 20.0, &limits).1, Cause::PackAmps);
    // 0.5 C of 100 Ah at 360 V, nothing lost: 18 kW at 20 m/s.
    check("force at 18 kW", c.full_force(&c.gears[0], 20.0, &limits).0, 900.0, 1e-9);
    let mut d = with(plain(), "/design/motor/torque_per_amp_nm_a", json!(0.5));
    d = with(d, "/design/controller/motor_current_a", json!(100));
    let c = chain(&d);
    let limits = c.limits(0.5, 0.0, Rating::Peak);
    // 100 A x 0.5 N m/A x 6 / 0.3 m.
    assert_eq!(c.full_force(&c.gears[0], 0.0, &limits), (1000.0, Cause::MotorAmps));
}

fn session(d: Value, from: f64, to: f64) -> joulethesis_core::charge::ChargeSession {
    let d = read(&d);
    let c = Chain::of(&d, 1000.0).expect("complete");
    charge(&d, &c.pack, &d.brief.sockets[0], from, to).expect("a charger")
}

fn charged(amps: f64, watts: f64) -> Value {
    let d = with(plain(), "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 230, "current_a": 32 }]));
    with(
        d,
        "/design/charger",
        json!({ "name": "c", "output_min_v": 200, "output_max_v": 500, "output_current_a": amps, "output_power_w": watts, "efficiency": 0.9, "mass_kg": 5 }),
    )
}

/// NEC 625.42 and 210.20: a load of hours is held to 80 % of the circuit: 0.8 x 32 A x 230 V = 5888 W.
#[test]
fn a_circuit_is_held_to_eighty_percent() {
    let s = session(charged(500.0, 50_000.0), 0.1, 0.5);
    check("kW from the socket", s.peak_socket_kw, 5.888, 1e-6);
    assert_eq!(s.limited_by, ChargeLimit::Circuit);
    let s = session(with(charged(500.0, 50_000.0), "/brief/sockets/0/continuous_share", json!(1.0)), 0.1, 0.5);
    check("kW where the circuit is rated for it", s.peak_socket_kw, 7.36, 1e-6);
}

/// Held at constant voltage, a cell with linear OCV fills exponentially: (V_end - OCV) decays with tau = R Q / (dOCV/dsoc).
#[test]
fn constant_voltage_tapers_exponentially() {
    let mut d =
        with(charged(1000.0, 500_000.0), "/design/pack/module/ocv", json!([{ "soc": 0, "volts_v": 3.2 }, { "soc": 1, "volts_v": 4.2 }]));
    d = with(d, "/design/pack/module/resistance_ohm", json!(0.01));
    d = with(d, "/brief/sockets", json!([{ "id": "s", "name": "s", "kind": "dc", "voltage_v": 900, "current_a": 1000 }]));
    // From 60 %: (4.2 - 3.8) V / 0.01 ohm = 40 A, below every other limit, to 90 %: 10 A, above the taper's end of 4 A.
    let s = session(d, 0.6, 0.9);
    let tau_h = 0.01 * 100.0 / 1.0;
    check("hours", s.hours_h.expect("reached"), tau_h * (0.4_f64 / 0.1).ln() / 0.995, 1e-4);
    assert_eq!(s.limited_by, ChargeLimit::Taper);
}

/// The ampere-hour law, amps <= missing Ah / 1 h: from 60 to 90 % takes ln(0.4 / 0.1) hours over the charge efficiency (common practice).
#[test]
fn lead_acid_accepts_what_is_missing() {
    let d = with(charged(1000.0, 500_000.0), "/design/pack/module/chemistry", json!("lead_agm"));
    let d = with(d, "/brief/sockets", json!([{ "id": "s", "name": "s", "kind": "dc", "voltage_v": 900, "current_a": 1000 }]));
    let s = session(with(d, "/design/pack/module/full_voltage_v", json!(4.6)), 0.6, 0.9);
    check("hours", s.hours_h.expect("reached"), (0.4_f64 / 0.1).ln() / 0.90, 1e-4);
    assert_eq!(s.limited_by, ChargeLimit::Acceptance);
}

#[test]
fn a_charger_that_ends_too_low_never_fills_the_pack() {
    let mut d = with(charged(20.0, 5000.0), "/design/pack/module/ocv", json!([{ "soc": 0, "volts_v": 3.2 }, { "soc": 1, "volts_v": 4.2 }]));
    d = with(d, "/design/pack/module/resistance_ohm", json!(0.001));
    d = with(d, "/design/charger/output_max_v", json!(390));
    let s = session(d, 0.2, 0.95);
    assert_eq!((s.hours_h, s.limited_by), (None, ChargeLimit::Taper));
    // 390 V is 3.9 V a cell: 70 %, less what the last 4 A lift across the resistance.
    check("reached", s.reached_soc, 0.70, 0.01);
}

/// The causes told over speed are those of the pull itself, and cover everything from rest to the top speed without a gap.
#[test]
fn what_binds_is_told_over_the_whole_range_of_speed() {
    let d = with(plain(), "/design/controller/battery_current_a", json!(120));
    let d = with(d, "/donor/adhesion", json!(0.3));
    let d = with(d, "/donor/driven_axle", json!("rear"));
    let document = read(&d);
    let result = joulethesis_core::report::report(&document).expect("sound");
    let drawn = joulethesis_core::estimate::curves(&Counted::of(&document), &Cancel::new()).expect("sound");
    let words: Vec<&str> = drawn.binding.iter().map(|b| b.word.as_str()).collect();
    // Slipping tyres, then 120 A x 360 V = 43.2 kW.
    assert_eq!(words, ["tyre grip", "battery amps"]);
    let grip_n = drawn.grip_n;
    check("speed where the amps take over", drawn.binding[0].to_kmh, 43_200.0 / grip_n * 3.6, 0.02);
    check("up to the top speed", drawn.binding[1].to_kmh, result.performance.top_speed_kmh, 1e-9);
}
