//! Grip, masses, gears and claims, by hand calculation.

use crate::common::{check, plain, read, with};
use joulethesis_core::alternatives::with_part;
use joulethesis_core::figures::Verdict;
use joulethesis_core::library::builtin;
use joulethesis_core::report::report;
use joulethesis_core::vehicle::{Traction, masses};
use serde_json::{Value, json};

/// Gillespie, Fundamentals of Vehicle Dynamics, chapter 2, with L 2.5 m, h 0.5 m, 60 % in front, mu 0.8, 1000 kg:
/// rear 0.8 x 0.4 / (1 - 0.16), front 0.8 x 0.6 / (1 + 0.16), all 0.8, each times m g.
#[test]
fn grip_with_load_transfer() {
    let weight = 9806.65;
    for (axle, share) in [("rear", 0.8 * 0.4 / 0.84), ("front", 0.8 * 0.6 / 1.16), ("all", 0.8)] {
        let mut d = with(plain(), "/donor/driven_axle", json!(axle));
        for (key, value) in [("wheelbase_m", 2.5), ("cg_height_m", 0.5), ("front_axle_share", 0.6), ("adhesion", 0.8)] {
            d = with(d, &format!("/donor/{key}"), json!(value));
        }
        check(axle, Traction::of(&read(&d), 1000.0).drive_n, share * weight, 1e-12);
    }
}

#[test]
fn a_wheelie_puts_all_the_weight_on_the_driven_axle_and_no_more() {
    let mut d = with(plain(), "/donor/driven_axle", json!("rear"));
    for (key, value) in [("wheelbase_m", 1.0), ("cg_height_m", 1.0), ("front_axle_share", 0.5), ("adhesion", 1.0)] {
        d = with(d, &format!("/donor/{key}"), json!(value));
    }
    check("rear drive", Traction::of(&read(&d), 100.0).drive_n, 980.665, 1e-12);
}

#[test]
fn masses_add_up() {
    let mut d = with(plain(), "/donor/test_mass_kg", json!(null));
    d = with(d, "/donor/removed", json!([{ "name": "engine", "mass_kg": 150, "sale_price": 300 }]));
    d = with(d, "/design/added", json!([{ "name": "plate", "mass_kg": 12, "price": 90 }]));
    d = with(d, "/design/motor_count", json!(2));
    d = with(d, "/brief/payload_kg", json!(100));
    d = with(d, "/brief/driver_kg", json!(80));
    let m = masses(&read(&d));
    // 900 - 150 + 2 x 40 + 10 + 100 x 1 + 12 = 952; with driver and payload 1132.
    // In front: half of 900, less the engine, two motors, controller and plate; the pack in the boot, the driver half way, the load behind.
    assert_eq!((m.converted_kg, m.test_kg, m.change_kg, m.front_axle_kg), (952.0, 1132.0, 52.0, 450.0 - 150.0 + 80.0 + 10.0 + 12.0 + 40.0));
    assert_eq!(m.front_axle_kg + m.rear_axle_kg, m.test_kg);
    let cost = joulethesis_core::figures::cost(&read(&d));
    assert_eq!((cost.bought, cost.sold, cost.net), (90.0, 300.0, -210.0));
}

/// Statics of a beam on two supports: each part's moment about the rear axle over the wheelbase, places stated and usual; and what was
/// assumed is said where an axle is warned of.
#[test]
fn axle_loads_follow_the_places_of_the_parts() {
    let base = |place: Value| {
        let d = with(with(plain(), "/donor/test_mass_kg", json!(null)), "/donor/wheelbase_m", json!(2.5));
        let d = with(d, "/donor/removed", json!([{ "name": "engine", "mass_kg": 150, "at": { "along": "front" } }]));
        let motor = json!({ "along": { "behind_front_axle_m": -0.25 } });
        with(d, "/design/layout", json!({ "motor": motor, "pack": { "along": place } }))
    };
    // 900 kg half and half, 150 kg out of the front, motor and controller of 50 kg a quarter of a metre ahead of the front axle.
    let without_pack = 450.0 - 150.0 + 50.0 * (1.0 + 0.25 / 2.5);
    for (place, metres) in
        [(json!("front"), 0.0), (json!("middle"), 1.25), (json!("rear"), 2.5), (json!({ "behind_front_axle_m": 3.1 }), 3.1)]
    {
        let m = masses(&read(&base(place.clone())));
        check(&format!("front axle, pack {place}"), m.front_axle_kg, without_pack + 100.0 * (1.0 - metres / 2.5), 1e-12);
        check("both axles", m.front_axle_kg + m.rear_axle_kg, m.test_kg, 1e-12);
    }
    // Over its plate: what was assumed of the pack is said, what is stated is not.
    let told = |d: &Value| {
        let findings = report(&read(&with(d.clone(), "/donor/rear_axle_limit_kg", json!(400)))).expect("sound").findings;
        findings.into_iter().find(|f| f.rule == "mass.rear-axle").map(|f| f.message.to_string())
    };
    let assumed = told(&base(json!(null))).expect("warned of");
    assert!(assumed.contains("Assumed: the pack at the rear.") && !assumed.contains("motor"), "{assumed}");
    let stated = told(&base(json!("rear"))).expect("warned of");
    assert!(!stated.contains("Assumed"), "{stated}");
    // A stated laden mass is shared as the donor's was, and that is said instead.
    let laden = told(&with(base(json!("rear")), "/donor/test_mass_kg", json!(1400))).expect("warned of");
    assert!(laden.contains("Assumed: the axles share the stated mass as they did in the donor.") && !laden.contains("pack"), "{laden}");
    // As weighed, the share stands against everything.
    let weighed = with(base(json!("rear")), "/design/front_axle_share", json!(0.6));
    let m = masses(&read(&weighed));
    check("as weighed", m.front_axle_kg, 0.6 * m.test_kg, 1e-12);
    // The usual places of a kind: a car's engine is in front, a motorcycle's in the middle.
    let kind =
        |kind: &str| masses(&read(&with(with(plain(), "/donor/test_mass_kg", json!(null)), "/donor/kind", json!(kind)))).front_axle_kg;
    check("car", kind("car"), 450.0 + 50.0, 1e-12);
    check("motorcycle", kind("motorcycle"), 450.0 + 0.5 * 150.0, 1e-12);
}

/// Handbook efficiencies (from memory) and Gillespie's rotating-mass factor 1.04 + 0.0025 N^2 (from memory).
#[test]
fn gears_fold_into_ratio_efficiency_and_rotating_mass() {
    let mut d = with(plain(), "/donor/rotating_mass_factor", json!(null));
    d = with(
        d,
        "/donor/driveline",
        json!({ "gears": [{ "ratio": 3.5 }, { "ratio": 1 }], "stages": [{ "kind": "transfer_box", "ratio": 1.5 }, { "kind": "final_drive", "ratio": 4 }] }),
    );
    let gears = report(&read(&d)).expect("sound").estimate.gears;
    for (gear, ratio, efficiency) in [(0, 21.0, 0.96 * 0.97 * 0.94), (1, 6.0, 0.98 * 0.97 * 0.94)] {
        check("ratio", gears[gear].overall_ratio, ratio, 1e-12);
        check("efficiency", gears[gear].efficiency, efficiency, 1e-12);
        check("rotating mass", gears[gear].rotating_mass_factor, 1.04 + 0.0025 * ratio * ratio, 1e-12);
    }
    // A known rotor replaces the N^2 part: J N^2 / (m r^2).
    let gears = report(&read(&with(d, "/design/motor/rotor_inertia_kg_m2", json!(0.05)))).expect("sound").estimate.gears;
    check("rotating mass with rotor", gears[1].rotating_mass_factor, 1.04 + 0.05 * 36.0 / (1000.0 * 0.09), 1e-12);
}

#[test]
fn goals_are_judged_on_the_right_side() {
    let goals = json!([
        { "id": "fast", "measure": { "kind": "top_speed", "at_least_kmh": 60 } },
        { "id": "faster", "measure": { "kind": "top_speed", "at_least_kmh": 390 } },
        { "id": "quick", "measure": { "kind": "acceleration", "from_kmh": 0, "to_kmh": 50, "at_most_s": 60 } },
        { "id": "never", "measure": { "kind": "acceleration", "from_kmh": 0, "to_kmh": 395, "at_most_s": 600 } },
        { "id": "slow", "measure": { "kind": "speed_limit", "at_most_kmh": 60 } },
        { "id": "tame", "measure": { "kind": "speed_limit", "at_most_kmh": 390 } },
        { "id": "weak", "measure": { "kind": "power_limit", "at_most_w": 60 } },
        { "id": "licence", "measure": { "kind": "power_limit", "at_most_w": 1e6, "rated": true } },
        { "id": "unpriced", "measure": { "kind": "cost", "at_most": 0 } },
        { "id": "wall", "measure": { "kind": "hill_start", "at_least_percent": 99 } },
        { "id": "charge", "measure": { "kind": "charge_time", "socket": "s", "at_most_h": 5 } },
    ]);
    let d = with(plain(), "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 230, "current_a": 16 }]));
    let d = with(d, "/brief/goals", goals);
    let claims = report(&read(&d)).expect("sound").claims;
    let verdicts: Vec<(&str, Verdict)> = claims.iter().map(|c| (c.goal.as_str(), c.verdict)).collect();
    use Verdict::{CannotTell, Met, Missed};
    assert_eq!(
        verdicts,
        [
            ("fast", Met),
            ("faster", Missed),
            ("quick", Met),
            ("never", Missed),
            ("slow", Missed),
            ("tame", Met),
            ("weak", Missed),
            ("licence", Met),
            ("unpriced", CannotTell),
            ("wall", Missed),
            ("charge", CannotTell)
        ]
    );
    let told = |c: &&joulethesis_core::claims::Claim| c.verdict != CannotTell;
    assert!(claims.iter().filter(told).all(|c| c.margin.is_none_or(|m| (m >= 0.0) == (c.verdict == Met))));
    // No part has a price: what is known is the least, and says of whom it is not. What one has for nothing is said by where that comes from.
    let dear = &claims[8];
    assert!(dear.why.to_string().contains("no price is known of"), "{}", dear.why);
    let had = ["motor", "controller", "pack/module"].iter().fold(d.clone(), |d, part| {
        let mut d = d;
        d.pointer_mut(&format!("/design/{part}")).expect("a part")["sources"]["price"] = json!({ "from": "measured" });
        d
    });
    assert_eq!(report(&read(&had)).expect("sound").claims[8].verdict, Met);
    let priced = with(d, "/design/motor/price", json!(900));
    assert_eq!(report(&read(&priced)).expect("sound").claims[8].verdict, Missed, "what is known already is too much");
    assert!(claims[3].predicted.is_none() && claims[3].why.to_string().contains("levels off"));
}

/// What reaches the shaft of a motor that nothing holds back is its own peak power; behind a controller's cap it is the cap less losses.
#[test]
fn the_greatest_power_is_that_of_the_weakest_link() {
    let of = |d: &Value| report(&read(d)).expect("sound").estimate.performance;
    let free = plain();
    let own_w = free.pointer("/design/motor/model/peak_power_w").and_then(Value::as_f64).expect("an envelope");
    check("own peak", of(&free).peak_power_w, own_w, 1e-9);
    check("rating", of(&free).rated_power_w, free["design"]["motor"]["continuous_power_w"].as_f64().expect("W"), 1e-12);
    let capped = of(&with(free, "/design/controller/max_power_w", json!(0.3 * own_w))).peak_power_w;
    assert!(capped > 0.25 * own_w && capped <= 0.3 * own_w, "{capped} W of {own_w}");
}

/// A unit's own reduction gears as a stage of the same ratio does, and nothing else of it changes.
#[test]
fn a_reduction_within_the_unit_gears_as_one_behind_it() {
    let behind = with(plain(), "/donor/driveline", json!({ "stages": [{ "kind": "reduction", "ratio": 9.1 }] }));
    let within = with(with(plain(), "/donor/driveline", json!({ "stages": [] })), "/design/motor/own_reduction", json!(9.1));
    let of = |d: &Value| report(&read(d)).expect("sound");
    let (behind, within) = (of(&behind), of(&within));
    assert_eq!((&within.estimate.gears, &within.performance), (&behind.estimate.gears, &behind.performance));
    let fired = |r: &joulethesis_core::report::Report| r.findings.iter().any(|f| f.rule == "match.unit-into-gearbox");
    assert!(!fired(&within) && !fired(&behind));
    // Ahead of a final drive it gears down twice, and says so.
    let twice = of(&with(plain(), "/design/motor/own_reduction", json!(9.1)));
    assert!(fired(&twice), "{:?}", twice.findings);
}

/// A unit takes the place of all gears, whatever motor sat there, and gives them back to the next motor.
#[test]
fn a_unit_that_is_put_in_takes_the_place_of_the_gears() {
    let named = |name: &str| builtin().iter().find(|p| p.name() == name).expect("built in");
    let van = crate::common::sound_demo("whimbrel-9-a");
    let unit = with_part(&van, named("Skua 45 drive unit"));
    assert!(unit.driveline().gears.is_empty() && unit.driveline().stages.is_empty() && unit.design.motor_count == 1);
    let own = report(&unit).expect("complete");
    assert!(own.estimate.gears.iter().all(|g| (g.overall_ratio - 8.8).abs() < 1e-9) && own.estimate.gears.len() == 1);
    let other = with_part(&unit, named("Skua 60 drive unit"));
    assert_eq!(other.driveline(), unit.driveline());
    let back = with_part(&other, named("Shearwater 22 induction"));
    assert_eq!(back.driveline(), &van.donor.driveline);
    // From the wheels as well.
    let hubs = with_part(&van, named("Limpet 6 hub"));
    let from_wheels = with_part(&hubs, named("Skua 45 drive unit"));
    assert_eq!((from_wheels.design.motor_place, from_wheels.design.motor_count), (unit.design.motor_place, 1));
    assert_eq!(with_part(&from_wheels, named("Limpet 6 hub")).design.motor_place, hubs.design.motor_place);
}

#[test]
fn another_module_keeps_voltage_and_energy_near() {
    let d = read(&plain());
    for part in builtin().iter().filter(|p| p.kind() == "module") {
        let pack = with_part(&d, part).into_written().design.pack.expect("a pack");
        let volts = |p: &joulethesis_core::document::Pack| p.module.nominal_voltage_v * f64::from(p.cells_in_series());
        let old = d.design.pack.as_ref().expect("a pack");
        // Within half a module of the old voltage, and within half a string of the old energy.
        let module_v = pack.module.nominal_voltage_v * f64::from(pack.module.cells_in_series);
        assert!((volts(&pack) - volts(old)).abs() <= 0.5 * module_v + 1e-9, "{}", part.name());
        let string_wh = volts(&pack) * pack.module.present_capacity_ah();
        let wanted_wh = volts(old) * old.module.present_capacity_ah();
        let got_wh = string_wh * f64::from(pack.strings_in_parallel);
        assert!((got_wh - wanted_wh).abs() <= 0.5 * string_wh + 1e-6 || pack.strings_in_parallel == 1, "{}", part.name());
    }
}
