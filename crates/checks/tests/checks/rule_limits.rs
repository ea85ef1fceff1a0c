//! Rules turn just at their limits: with the figure a hair on the good side they are silent, a hair beyond they speak, with both figures.
//! And what each says is complete.

use std::collections::HashSet;

use crate::common::{check, plain, read, switched, with};
use joulethesis_core::findings::{Rule, Severity};
use joulethesis_core::report::report;
use serde_json::{Value, json};

fn sound() -> Value {
    let d = with(switched(plain()), "/design/wiring", json!({ "fuse_a": 400, "fuse_voltage_v": 500, "cable_current_a": 300 }));
    let d = with(d, "/design/controller/battery_current_a", json!(390));
    let d = with(d, "/donor/gross_limit_kg", json!(1200));
    let d = with(d, "/donor/front_axle_limit_kg", json!(600));
    with(d, "/donor/rear_axle_limit_kg", json!(600))
}

fn speaks(d: &Value, rule: &str) -> Option<(f64, f64)> {
    report(&read(d)).expect("computed").findings.iter().find(|f| f.rule == rule).map(|f| (f.found, f.limit))
}

/// One place that a rule turns at, and on which side it speaks.
struct Turn {
    rule: &'static str,
    pointer: &'static str,
    at: f64,
    speaks_above: bool,
}

fn turn(rule: &'static str, pointer: &'static str, at: f64, speaks_above: bool) -> Turn {
    Turn { rule, pointer, at, speaks_above }
}

/// The pack is full at 420 V, has 100 Ah, weighs 100 kg in a vehicle of 1000 kg on two equal axles.
#[test]
fn each_rule_turns_at_its_own_limit() {
    let tolerance: f64 = 0.005;
    let turns = [
        turn("volts.full-charge-over-controller", "/design/controller/max_voltage_v", 420.0, false),
        turn("volts.full-charge-over-motor", "/design/motor/max_voltage_v", 420.0, false),
        turn("volts.full-charge-over-fuse", "/design/wiring/fuse_voltage_v", 420.0, false),
        turn("volts.pack-below-controller", "/design/controller/min_voltage_v", 420.0, true),
        turn("volts.charger-over-pack", "/design/charger/output_min_v", 420.0 / (1.0 - tolerance), true),
        turn("volts.charger-under-pack", "/design/charger/output_max_v", 420.0 / (1.0 + tolerance), false),
        turn("amps.controller-over-pack", "/design/pack/module/peak_c", 3.9, false),
        turn("amps.fuse-over-cable", "/design/wiring/cable_current_a", 400.0 / 1.5, false),
        turn("volts.full-charge-over-component", "/design/electrics/fitted/main_contactor/max_voltage_v", 420.0, false),
        turn("amps.cannot-break", "/design/electrics/fitted/main_contactor/break_a", 390.0, false),
        turn("size.component-too-small", "/design/electrics/fitted/disconnect/current_a", 400.0, false),
        turn("amps.charger-over-cells", "/design/charger/output_current_a", 102.0, true),
        turn("mass.gross", "/donor/gross_limit_kg", 1000.0, false),
        turn("mass.front-axle", "/donor/front_axle_limit_kg", 500.0, false),
        turn("mass.rear-axle", "/donor/rear_axle_limit_kg", 500.0, false),
    ];
    for t in turns {
        let mut base = with(
            sound(),
            "/design/charger",
            json!({ "name": "c", "output_min_v": 300, "output_max_v": 422, "output_current_a": 10, "output_power_w": 3000, "efficiency": 0.9, "mass_kg": 5 }),
        );
        if t.pointer.ends_with("output_min_v") {
            base = with(base, "/design/charger/output_max_v", json!(480));
        }
        if t.pointer.ends_with("peak_c") {
            base = with(base, "/design/pack/module/continuous_c", json!(2));
        }
        if t.pointer.ends_with("output_current_a") {
            base = with(base, "/design/pack/module/charge_c", json!(1));
        }
        let hair = 1e-6 * t.at;
        let at = |value: f64| speaks(&with(base.clone(), t.pointer, json!(value)), t.rule);
        let (silent, loud) = if t.speaks_above { (t.at - hair, t.at + hair) } else { (t.at + hair, t.at - hair) };
        assert_eq!(at(silent), None, "{} at {silent}", t.rule);
        let (found, limit) = at(loud).unwrap_or_else(|| panic!("{} at {loud}", t.rule));
        // Both lie at the turning point or a tolerance beside it; a cable bears half as much again for a while.
        let borne = match t.rule {
            "amps.fuse-over-cable" => 1.5,
            "amps.charger-over-cells" => 1.02,
            _ => 1.0,
        };
        assert!((found / limit / borne - 1.0).abs() <= tolerance + 2e-6, "{}: {found} against {limit}", t.rule);
        // And far beyond it still speaks, with the figure that was set.
        let far = if t.speaks_above { 1.1 * t.at } else { 0.9 * t.at };
        let (found, limit) = at(far).unwrap_or_else(|| panic!("{} at {far}", t.rule));
        // A rate of the cells stands as the amps it means.
        let set = if t.pointer.ends_with("peak_c") { 100.0 * far } else { far };
        // What was set is what is found or what it is held against: ratings of components are found, those of links are held against.
        check(t.rule, if (found - set).abs() < (limit - set).abs() { found } else { limit }, set, 1e-9);
    }
}

/// A fuse carries more than its rating for the seconds of a full throttle (docs/METHODS.md); beyond that it may open on the road.
#[test]
fn a_fuse_bears_a_burst_and_no_more() {
    let asked = |amps: f64| speaks(&with(sound(), "/design/controller/battery_current_a", json!(amps)), "amps.controller-over-fuse");
    let mut least = 400.0;
    while asked(least).is_none() {
        least *= 1.01;
        assert!(least < 1200.0, "a fuse of 400 A does not carry {least} A");
    }
    assert!(least > 1.2 * 400.0, "full throttle for seconds opens no fuse at {least} A");
    let (found, limit) = asked(1.05 * least).expect("it speaks");
    check("amps asked", found, 1.05 * least, 1e-12);
    check("the fuse", limit, 400.0, 1e-12);
    // Two controllers ask for twice as much.
    let two = with(with(sound(), "/design/controller_count", json!(2)), "/design/motor_count", json!(2));
    let (found, _) = speaks(&two, "amps.controller-over-fuse").expect("it speaks");
    check("two controllers", found, 780.0, 1e-12);
}

/// Sag: full amps on a low pack, V = OCV - I R, against the higher of the two cut-offs.
#[test]
fn sag_turns_at_the_higher_cut_off() {
    for (cells, controller) in [(2.5, 300.0), (3.1, 100.0)] {
        let cutoff = f64::max(100.0 * cells, controller);
        // 390 A from an even 360 V.
        let ohm = (360.0 - cutoff) / 390.0 / 100.0;
        let with_ohm = |share: f64| {
            let d = with(sound(), "/design/pack/module/cutoff_voltage_v", json!(cells));
            let d = with(d, "/design/controller/min_voltage_v", json!(controller));
            speaks(&with(d, "/design/pack/module/resistance_ohm", json!(ohm * share)), "volts.sag-below-cutoff")
        };
        assert_eq!(with_ohm(1.0 - 1e-6), None);
        let (found, limit) = with_ohm(1.0 + 1e-6).expect("it sags");
        check("lowest voltage", found, cutoff, 1e-5);
        check("cut-off", limit, cutoff, 1e-12);
    }
}

/// Two strings of nearly one voltage: where the difference begins to count is told by the rule itself, both ways.
#[test]
fn strings_may_differ_by_no_more_than_the_rule_says() {
    let added = |full: f64| {
        let mut module = plain()["design"]["pack"]["module"].clone();
        module["full_voltage_v"] = json!(full);
        let d =
            with(sound(), "/design/pack/added_strings", json!([{ "module": module, "modules_in_series": 100, "strings_in_parallel": 1 }]));
        speaks(&d, "volts.mixed-strings").is_some()
    };
    assert!(!added(4.2));
    let mut apart = 0.0;
    while !added(4.2 + apart) {
        apart += 0.001;
        assert!(apart < 0.2, "never spoke");
    }
    assert!(added(4.2 - apart - 0.002) && !added(4.2 - (apart - 0.002).max(0.0)), "the same to either side: {apart}");
    assert!(apart <= 0.05, "a volt in a hundred cells drives a current that burns: {apart} V a cell");
}

#[test]
fn what_rules_say_is_complete_and_each_says_its_own() {
    let mut ids = HashSet::new();
    for rule in Rule::ALL {
        assert!(ids.insert(rule.id()), "{} twice", rule.id());
        let (family, name) = rule.id().split_once('.').expect("a family and a name");
        assert!(!family.is_empty() && name.chars().all(|c| c.is_ascii_lowercase() || c == '-'), "{}", rule.id());
        assert!(!rule.short().is_empty() && rule.short().len() < 60, "{}", rule.short());
        assert!(Rule::of_id(rule.id()) == Some(*rule) && serde_json::to_value(rule).expect("a word") == json!(rule.id()));
    }
    assert_eq!(Rule::of_id("mass.Gross"), None);
    // What destroys a part or a person at once stops; the rest warns or notes.
    let stops: Vec<&str> = Rule::ALL.iter().filter(|r| r.severity() == Severity::Stop).map(|r| r.id()).collect();
    for must in ["volts.full-charge-over-controller", "volts.charger-over-pack", "volts.mixed-strings", "amps.cable-too-thin", "mass.gross"]
    {
        assert!(stops.contains(&must), "{must} is not among {stops:?}");
    }
}
