//! Where mathematics gives the answer: acceleration at constant force and power, coasting, hills, charging at constant power.

use crate::common::{check, plain, read, with};
use joulethesis_core::charge::charge;
use joulethesis_core::powertrain::{Chain, Rating};
use joulethesis_core::report::report;
use joulethesis_core::simulate::{ACCELERATION_STEP_M_S, ShiftPolicy, TractiveForce, accelerate, drive_trace};
use joulethesis_core::trip::Trace;
use serde_json::{Value, json};

/// Nothing but inertia: no drag worth naming, the least rolling resistance accepted.
fn in_vacuum() -> Value {
    let document = with(plain(), "/donor/drag_coefficient", json!(0.05));
    let document = with(document, "/brief/site/air_density_kg_m3", json!(0.5));
    let document = with(document, "/donor/frontal_area_m2", json!(0.1));
    with(document, "/donor/rolling_coefficient", json!(0.001))
}

#[test]
fn constant_force_then_constant_power() {
    // 200 N m x 6 / 0.3 m = 4000 N up to 300 rad/s = 15 m/s, then 60 kW. With rolling force Fr (drag is below 0.1 N):
    // t1 = m v1 / (F - Fr); above v1, t2 = m/Fr^2 [P ln((P - Fr v1)/(P - Fr v2)) - Fr (v2 - v1)].
    let chain = Chain::of(&read(&in_vacuum()), 1000.0).expect("complete");
    let limits = chain.limits(0.5, 0.0, Rating::Peak);
    let got = accelerate(&mut TractiveForce::new(&chain, &chain.gears, &limits, ACCELERATION_STEP_M_S), 0.0, 30.0).time_s.expect("reached");
    let (mass, power, rolling): (f64, f64, f64) = (1000.0, 60_000.0, 1000.0 * 9.806_65 * 0.001);
    let t1 = mass * 15.0 / (4000.0 - rolling);
    let t2 = mass / (rolling * rolling) * (power * ((power - rolling * 15.0) / (power - rolling * 30.0)).ln() - rolling * 15.0);
    check("0-30 m/s", got, t1 + t2, 2e-4);
}

#[test]
fn coasting_follows_the_arctangent() {
    // v(t) = sqrt(a/b) tan(atan(v0 sqrt(b/a)) - t sqrt(ab)), a = g Crr / k, b = rho CdA / (2 m k) (SAE J1263, closed form).
    // Along that very curve the wheels ask for no force, so the battery gives nothing while it lasts.
    let (k, mass): (f64, f64) = (1.04, 1000.0);
    let (a, b): (f64, f64) = (9.806_65 * 0.01 / k, 1.25 * 0.3 * 2.0 / (2.0 * mass * k));
    let v = |t: f64| (a / b).sqrt() * ((25.0 * (b / a).sqrt()).atan() - t * (a * b).sqrt()).tan();
    let run_up = [json!({ "time_s": 0, "speed_kmh": 0 }), json!({ "time_s": 30, "speed_kmh": 90 })];
    let coast = (1..=120).map(|t| json!({ "time_s": 30 + t, "speed_kmh": v(f64::from(t)) * 3.6 }));
    let points: Vec<Value> = run_up.into_iter().chain(coast).collect();
    let document = with(plain(), "/donor/rotating_mass_factor", json!(k));
    let document = read(&with(document, "/brief/trips", json!([{ "id": "c", "name": "Coast", "path": { "trace": points } }])));
    let chain = Chain::of(&document, mass).expect("complete");
    let whole = Trace::of(&document.brief.trips[0].path);
    let run_up = Trace { points: whole.points.iter().copied().filter(|p| p.time_s <= 30.0).collect() };
    let (up, all) = (drive_trace(&chain, &run_up, ShiftPolicy::default(), 0.5), drive_trace(&chain, &whole, ShiftPolicy::default(), 0.5));
    let (drawn, resisted) =
        (all.battery_j() - up.battery_j(), all.split().air_j + all.split().rolling_j - up.split().air_j - up.split().rolling_j);
    println!("drawn {drawn:.1} J while {resisted:.0} J were resisted");
    assert!(drawn.abs() < 1e-3 * resisted, "drawn {drawn} J of {resisted} J");
    check("kinetic energy given up", up.split().kinetic_j - all.split().kinetic_j, resisted, 1e-3);
}

#[test]
fn steady_speed_draws_force_times_speed() {
    // 20 m/s on the level: F = m g Crr + rho CdA v^2 / 2, and nothing is lost on the way.
    let points = json!([{ "time_s": 0, "speed_kmh": 0 }, { "time_s": 20, "speed_kmh": 72 }, { "time_s": 60, "speed_kmh": 72 }, { "time_s": 120, "speed_kmh": 72 }]);
    let document = read(&with(plain(), "/brief/trips", json!([{ "id": "t", "name": "T", "path": { "trace": points } }])));
    let chain = Chain::of(&document, 1000.0).expect("complete");
    let whole = Trace::of(&document.brief.trips[0].path);
    let at_60: Trace = Trace { points: whole.points.iter().copied().filter(|p| p.time_s <= 60.0).collect() };
    let (a, b) = (drive_trace(&chain, &at_60, ShiftPolicy::default(), 0.5), drive_trace(&chain, &whole, ShiftPolicy::default(), 0.5));
    let force = 1000.0 * 9.806_65 * 0.01 + 0.5 * 1.25 * 0.6 * 400.0;
    check("power at 20 m/s", (b.battery_j() - a.battery_j()) / 60.0, force * 20.0, 1e-9);
}

#[test]
fn steepest_start_balances_weight() {
    // sin(th) + 0.01 cos(th) = 4000 N / (1000 kg g).
    let result = report(&read(&plain())).expect("sound");
    let theta = (result.performance.hills.start.grade_percent / 100.0).atan();
    check("force on the steepest start", 9806.65 * (theta.sin() + 0.01 * theta.cos()), 4000.0, 1e-9);
}

#[test]
fn charging_at_constant_power_takes_energy_over_power() {
    let mut document = with(
        plain(),
        "/design/charger",
        json!({
            "name": "c", "output_min_v": 300, "output_max_v": 500, "output_current_a": 500, "output_power_w": 3000, "efficiency": 0.9, "mass_kg": 5
        }),
    );
    document = with(document, "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 230, "current_a": 32 }]));
    let document = read(&document);
    let chain = Chain::of(&document, 1000.0).expect("complete");
    let session = charge(&document, &chain.pack, &document.brief.sockets[0], 0.1, 0.9).expect("a charger");
    // 0.8 x 100 Ah x 360 V at 3 kW; charge efficiency of lithium cells 0.995.
    check("hours", session.hours_h.expect("reached"), 0.8 * 36_000.0 / 3000.0 / 0.995, 1e-6);
    check("socket kWh", session.socket_kwh, 0.8 * 36.0 / 0.995 / 0.9, 1e-6);
}
