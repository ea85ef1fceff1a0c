//! What stands between wall and pack: pilot, cable, connector, outlet, and the window of a station of direct current.

use crate::common::{check, plain, read, with};
use joulethesis_core::charge::{
    ChargeCurve, ChargeLimit, ChargeSession, OUTLETS, Outlet, PILOT_VOLTS, cable_amps, charge, pilot_amps, pilot_duty_percent,
    station_window,
};
use joulethesis_core::document::{Connector, SocketKind};
use joulethesis_core::estimate::socket_studies;
use joulethesis_core::inputs::Counted;
use joulethesis_core::pack::PackModel;
use joulethesis_core::report::report;
use proptest::prelude::*;
use serde_json::{Value, json};

/// SAE J1772, table of duty cycles (from memory): what each offers, A.
#[test]
fn the_pilot_offers_what_the_standard_says() {
    for (duty, amps) in
        [(10.0, 6.0), (20.0, 12.0), (25.0, 15.0), (30.0, 18.0), (40.0, 24.0), (50.0, 30.0), (85.0, 51.0), (90.0, 65.0), (96.0, 80.0)]
    {
        check("A", pilot_amps(duty).expect("offered"), amps, 1e-12);
    }
    // 5 % asks for digital communication, above 96 % nothing is offered.
    assert_eq!([5.0, 9.9, 96.1, 100.0].map(pilot_amps), [None; 4]);
    // SAE J1772 and IEC 61851-1: 12, 9, 6 and 3 V.
    assert_eq!(PILOT_VOLTS.map(|(_, volts)| volts), [12.0, 9.0, 6.0, 3.0]);
}

/// IEC 61851-1, annex B (from memory): 13 A 1.5 kohm, 20 A 680, 32 A 220, 63 A 100 ohm.
#[test]
fn a_cable_says_what_it_bears() {
    assert_eq!([1500.0, 680.0, 220.0, 100.0].map(cable_amps), [Some(13.0), Some(20.0), Some(32.0), Some(63.0)]);
    assert_eq!(cable_amps(230.0), Some(32.0), "a resistor has a tolerance");
    assert_eq!([10.0, 400.0, 5000.0].map(cable_amps), [None; 3], "between the codes nothing is said");
}

fn outlet(name: &str) -> &'static Outlet {
    OUTLETS.iter().find(|o| o.name == name).unwrap_or_else(|| panic!("{name}"))
}

/// What may be drawn for hours: NEC 625.42 holds 15, 20, 40 and 50 A circuits to 12, 16, 32 and 40 A; a British 13 A and a continental 16 A
/// household socket are held to 10 A (common practice); IEC 60309 gives its rating.
#[test]
fn an_outlet_gives_for_hours_what_its_region_allows() {
    for (name, amps) in [
        ("120 V outlet, 15 A", 12.0),
        ("120 V outlet, 20 A", 16.0),
        ("240 V wall box, 40 A", 32.0),
        ("240 V outlet, 50 A", 40.0),
        ("Household socket, 13 A", 10.0),
        ("Household socket, 16 A", 10.0),
        ("Blue industrial socket, 32 A", 32.0),
    ] {
        let o = outlet(name);
        check(name, o.current_a * o.continuous_share, amps, 1e-12);
    }
    // Each can stand in a brief as it is, and a pack of 300 to 420 V is charged at each that is not for light vehicles.
    for o in OUTLETS {
        let mut socket = serde_json::to_value(o.socket("s")).expect("JSON");
        socket["id"] = json!("s");
        let session = session(with(charged(), "/brief/sockets", json!([socket])), 0.2, 0.6);
        assert_eq!(session.hours_h.is_some(), o.voltage_v != 60.0, "{}: {session:?}", o.name);
    }
}

/// The plain vehicle with a strong charger and cells of 3.0 to 4.1 V.
fn charged() -> Value {
    let d = with(plain(), "/design/pack/module/ocv", json!([{ "soc": 0, "volts_v": 3.0 }, { "soc": 1, "volts_v": 4.1 }]));
    let d = with(
        d,
        "/design/charger",
        json!({ "name": "c", "output_min_v": 200, "output_max_v": 420, "output_current_a": 500, "output_power_w": 100_000, "phases": 3, "efficiency": 0.95,
            "mass_kg": 5 }),
    );
    with(d, "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 230, "current_a": 32, "continuous_share": 1 }]))
}

fn session(document: Value, from: f64, to: f64) -> ChargeSession {
    let document = read(&document);
    let pack = PackModel::of(document.design.pack.as_ref().expect("a pack"), &document.design.wiring, 25.0);
    charge(&document, &pack, &document.brief.sockets[0], from, to).expect("a charger")
}

#[test]
fn the_least_of_circuit_pilot_cable_and_connector_decides() {
    let told = |key: &str, value: Value| {
        let s = session(with(charged(), &format!("/brief/sockets/0/{key}"), value), 0.2, 0.6);
        (s.peak_socket_kw, s.limited_by)
    };
    let near = |(kw, limit): (f64, ChargeLimit), amps: f64, by: ChargeLimit| {
        check("kW", kw, 0.23 * amps, 1e-9);
        assert_eq!(limit, by);
    };
    near(told("phases", json!(1)), 32.0, ChargeLimit::Circuit);
    near(told("pilot_duty_percent", json!(25)), 15.0, ChargeLimit::Pilot);
    near(told("cable_current_a", json!(13)), 13.0, ChargeLimit::Pilot);
    near(told("current_a", json!(100)), 100.0, ChargeLimit::Circuit);
    let wide = with(charged(), "/brief/sockets/0/current_a", json!(100));
    near(
        {
            let s = session(with(wide.clone(), "/brief/sockets/0/connector", json!("type1")), 0.2, 0.6);
            (s.peak_socket_kw, s.limited_by)
        },
        80.0,
        ChargeLimit::Connector,
    );
    // One phase is all a type 1 connector has.
    let three = with(with(wide, "/brief/sockets/0/phases", json!(3)), "/brief/sockets/0/connector", json!("type1"));
    check("kW on one phase", session(three.clone(), 0.2, 0.6).peak_socket_kw, 0.23 * 80.0, 1e-9);
    // The study counts the charger's own amps on that one phase, too.
    let three = read(&with(three, "/design/charger/output_power_w", json!(9500)));
    let study = socket_studies(&Counted::of(&three), Some(0.2), Some(0.6)).expect("computed").swap_remove(0);
    let own = study.links.last().expect("the charger");
    check("A of the charger", own.amps_a, 9500.0 / 0.95 / 230.0, 1e-9);
    assert!(own.least && study.session.is_some_and(|s| s.limited_by == ChargeLimit::ChargerPower));
    // What the study marks as the least is what the session is held by.
    let slow = read(&with(charged(), "/brief/sockets/0/cable_current_a", json!(13)));
    let study = socket_studies(&Counted::of(&slow), Some(0.2), Some(0.6)).expect("computed").swap_remove(0);
    let least: Vec<f64> = study.links.iter().filter(|l| l.least).map(|l| l.amps_a).collect();
    assert_eq!(least, [13.0]);
}

fn at_station(series: u32, min_v: Option<f64>, connector: Option<Connector>) -> Value {
    let d = with(charged(), "/design/pack/modules_in_series", json!(series));
    let mut socket = json!({ "id": "s", "name": "Station", "kind": "dc", "voltage_v": 500, "current_a": 125, "power_w": 50_000 });
    if let Some(volts) = min_v {
        socket["min_voltage_v"] = json!(volts);
    }
    if let Some(connector) = connector {
        socket["connector"] = json!(connector);
    }
    with(with(d, "/brief/sockets", json!([socket])), "/design/controller/min_voltage_v", json!(10))
}

/// A 144 V pack cannot use most stations at all (common practice: they do not start below 150 to 200 V), and is told the cells it would take.
#[test]
fn a_pack_below_a_station_is_told_so_and_by_how_many_cells() {
    // 36 cells at 3.0 V when empty are 108 V, and 151 V when full; 150 / 3.0 makes 50 cells.
    let low = at_station(36, None, None);
    assert_eq!(station_window(&read(&low).brief.sockets[0]), (150.0, 500.0));
    let s = session(low.clone(), 0.1, 0.9);
    assert_eq!((s.hours_h, s.reached_soc, s.limited_by), (None, 0.1, ChargeLimit::StationVolts));
    let of = |d: &Value| report(&read(d)).expect("computed").findings.into_iter().find(|f| f.rule == "volts.pack-below-station");
    let found = of(&low).expect("a finding");
    check("found", found.found, 108.0, 1e-9);
    check("limit", found.limit, 150.0, 1e-9);
    let words = serde_json::to_string(&found.message).expect("JSON");
    assert!(words.contains("50") && words.contains("36"), "{words}");
    assert!(of(&at_station(50, None, None)).is_none(), "at 150 V it starts");
    assert!(of(&at_station(49, None, None)).is_some());
    // A station that says it starts lower is believed, unless its connector does not.
    assert!(of(&at_station(36, Some(50.0), None)).is_none());
    assert!(of(&at_station(36, Some(50.0), Some(Connector::Combined))).is_some());
    assert!(of(&at_station(36, Some(50.0), Some(Connector::Chademo))).is_none());
}

/// At a station the cells take less from 80 % on, in a straight line towards full (handbook): half of their rate at 90 %.
#[test]
fn the_rate_falls_from_four_fifths_on() {
    let d = with(at_station(100, None, None), "/design/pack/module/charge_c", json!(0.8));
    let d = read(&with(d, "/brief/sockets/0/power_w", json!(1_000_000)));
    let pack = PackModel::of(d.design.pack.as_ref().expect("a pack"), &d.design.wiring, 25.0);
    let curve = ChargeCurve::of(&d, &pack, &d.brief.sockets[0], 0.2, 0.96).expect("a pack");
    let amps_at = |soc: f64| curve.amps_a[curve.soc.partition_point(|s| *s < soc)];
    check("A at half", amps_at(0.5), 80.0, 1e-9);
    check("A at 79 %", amps_at(0.79), 80.0, 1e-9);
    check("A at 90 %", amps_at(0.90), 40.0, 0.02);
    check("A at 95 %", amps_at(0.95), 20.0, 0.04);
    // On mains they do not: the charger is far below what they take.
    assert!(d.brief.sockets[0].kind == SocketKind::Dc);
}

proptest! {
    #![proptest_config(crate::common::cases(64))]

    #[test]
    fn a_pilot_and_its_amps_are_each_others_inverse(duty in 10.0..96.0f64, amps in 6.0..80.0f64) {
        let there = pilot_amps(duty).expect("offered");
        prop_assert!((pilot_amps(pilot_duty_percent(there).expect("a duty")).expect("offered") - there).abs() < 1e-9);
        let offered = pilot_amps(pilot_duty_percent(amps).expect("a duty")).expect("offered");
        // No duty cycle offers what lies between the two laws, 51 to 52.5 A: then the most below it, never more.
        let between = amps > 51.0 && amps < 52.5;
        prop_assert!((offered - if between { 51.0 } else { amps }).abs() < 1e-9, "{amps} A: {offered}");
    }

    #[test]
    fn hours_at_a_socket_add_up(from in 0.05..0.5f64, first in 0.1..3.0f64, second in 0.1..3.0f64, amps in 6.0..60.0f64, ohm in 0.0..0.005f64) {
        let d = with(with(charged(), "/brief/sockets/0/current_a", json!(amps)), "/design/pack/module/resistance_ohm", json!(ohm));
        let d = read(&d);
        let pack = PackModel::of(d.design.pack.as_ref().expect("a pack"), &d.design.wiring, 25.0);
        let curve = ChargeCurve::of(&d, &pack, &d.brief.sockets[0], 0.0, 0.95).expect("a charger");
        let half = curve.after(from, first);
        let twice = curve.after(half.soc, second);
        let once = curve.after(from, first + second);
        prop_assert!((twice.soc - once.soc).abs() < 1e-9 && (half.socket_kwh + twice.socket_kwh - once.socket_kwh).abs() < 1e-6);
        prop_assert!(once.soc >= half.soc && once.soc <= curve.top_soc() + 1e-12);
        // The curve's hours are the session's.
        if let (Some(curve_h), Some(session_h)) = (curve.hours_between(from, 0.9), charge(&d, &pack, &d.brief.sockets[0], from, 0.9).and_then(|s| s.hours_h)) {
            prop_assert!((curve_h - session_h).abs() <= 5e-3 * session_h, "{curve_h} and {session_h} h");
        }
    }
}
