//! Insulation, throttle, rotation and coolant held against the regulation, the trade and handbooks.

use joulethesis_core::document::{InsulationTest, ShaftEnd};
use joulethesis_core::electrics::cooling::{flow_l_min, hose_loss_kpa, hose_mm, radiator_w_per_k};
use joulethesis_core::electrics::insulation::{least_ohm, measured_ohm};
use joulethesis_core::electrics::rotation::{Sense, forward};
use joulethesis_core::findings::Severity;
use joulethesis_core::layout::coolant_run;
use joulethesis_core::library::ThrottleSignal;
use joulethesis_core::report::report;
use serde_json::{Value, json};

use crate::common::documents::demo;
use crate::common::{check, line, read, sheet, with};

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
