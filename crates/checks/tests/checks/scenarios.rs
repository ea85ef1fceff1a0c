//! Conversions that practice knows, built from the library's own parts: what they use, how far they get, how warm they run (common
//! practice, no source).

use crate::common::{plain, read, with};
use joulethesis_core::document::Checked;
use joulethesis_core::estimate::TripResult;
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::powertrain::Chain;
use joulethesis_core::report::report;
use joulethesis_core::vehicle::masses;
use serde_json::{Value, json};

fn part(name: &str) -> Value {
    let found = builtin().iter().find(|p| p.name() == name).unwrap_or_else(|| panic!("{name}"));
    let record = match found {
        Part::Motor(m) => serde_json::to_value(m),
        Part::Controller(c) => serde_json::to_value(c),
        Part::Module(m) => serde_json::to_value(m),
        Part::Charger(c) => serde_json::to_value(c),
        Part::Component(c) => serde_json::to_value(c),
    };
    record.expect("a record is JSON")
}

/// A vehicle on a site of 15 degC with built-in parts, weighed laden.
fn conversion(kg: f64, drag: (f64, f64), crr: f64, motor: (&str, u32), controller: &str) -> Value {
    let mut d = plain();
    for (pointer, value) in [
        ("/brief/site", json!({ "temperature_c": 15 })),
        ("/donor/test_mass_kg", json!(kg)),
        ("/donor/drag_coefficient", json!(drag.0)),
        ("/donor/frontal_area_m2", json!(drag.1)),
        ("/donor/rolling_coefficient", json!(crr)),
        ("/donor/adhesion", json!(0.8)),
        ("/donor/rotating_mass_factor", json!(1.05)),
        ("/design/motor", part(motor.0)),
        ("/design/motor_count", json!(motor.1)),
        ("/design/controller", part(controller)),
        ("/design/controller_count", json!(motor.1)),
        ("/design/regeneration", json!({ "approach": "brake" })),
        ("/design/low_voltage", json!({ "load_w": 200, "converter_efficiency": 0.88 })),
    ] {
        d = with(d, pointer, value);
    }
    d
}

/// A pack of an ordinary cell: so many in series, holding so much from full to empty.
fn pack(d: Value, series: u32, kwh: f64) -> Value {
    let ah = kwh * 1000.0 / (f64::from(series) * 3.6);
    let cell = json!({
        "name": "cell", "chemistry": "nmc", "capacity_ah": ah, "full_voltage_v": 4.2, "nominal_voltage_v": 3.6, "cutoff_voltage_v": 2.8,
        "ocv": [{ "soc": 0, "volts_v": 3.2 }, { "soc": 0.1, "volts_v": 3.4 }, { "soc": 0.5, "volts_v": 3.65 }, { "soc": 1, "volts_v": 4.15 }],
        "resistance_ohm": 0.06 / ah, "continuous_c": 3, "peak_c": 6, "charge_c": 1, "mass_kg": 1
    });
    let pack =
        json!({ "module": cell, "modules_in_series": series, "strings_in_parallel": 1, "soc_min": 0.05, "soc_max": 1, "monitored": true });
    with(d, "/design/pack", pack)
}

fn trips(d: &Value) -> (Checked, Vec<TripResult>) {
    let document = read(d);
    let trips = report(&document).expect("sound").trips.clone();
    (document, trips)
}

#[test]
fn a_light_hatch_uses_130_to_180_wh_a_km() {
    let d = conversion(1050.0, (0.34, 1.95), 0.012, ("Gannet 50 drive unit", 1), "Headrace 400/250 inverter");
    let d = with(with(pack(d, 96, 24.0), "/donor/driveline", json!({ "stages": [] })), "/brief/schedules", json!(["udds", "wltc2"]));
    let path = json!({ "segments": [{ "distance_km": 25, "speed_kmh": 95, "stops_per_km": 0.1 }] });
    let (_, trips) = trips(&with(d, "/brief/trips", json!([{ "id": "road", "name": "Road", "path": path }])));
    for trip in trips {
        let use_ = trip.wh_per_km.expect("driven");
        println!("{}: {use_:.0} Wh/km", trip.name);
        assert!(trip.followed && (95.0..180.0).contains(&use_), "{}: {use_} Wh/km", trip.name);
        if trip.trip == "road" {
            assert!((130.0..180.0).contains(&use_), "{use_} Wh/km on the road");
        }
    }
}

#[test]
fn a_saloon_of_26_kwh_goes_160_to_190_km() {
    let d = conversion(1500.0, (0.30, 2.15), 0.0115, ("Gannet 70 drive unit", 1), "Headrace 400/250 inverter");
    let d = with(pack(d, 96, 26.0), "/donor/driveline", json!({ "stages": [] }));
    let (_, trips) = trips(&with(d, "/brief/schedules", json!(["nedc"])));
    let km = trips[0].range_km.expect("followed");
    assert!((160.0..190.0).contains(&km), "{km} km, {:?} Wh/km", trips[0].wh_per_km);
}

/// Four hubs of a kart: they lose a tenth to a third of what the pack gives, and are as warm as just those watts make them.
#[test]
fn the_hubs_of_a_kart_are_as_warm_as_what_they_lose() {
    let mut d = conversion(240.0, (0.8, 0.6), 0.018, ("Limpet 3 hub", 4), "Tarn 72/130");
    d = with(pack(d, 14, 4.0), "/donor/driveline", json!({ "stages": [] }));
    d = with(d, "/donor/kind", json!("kart"));
    d = with(d, "/donor/tyre", json!({ "rolling_radius_m": 0.22 }));
    let path = json!({ "segments": [{ "distance_km": 1, "speed_kmh": 45, "stops_per_km": 4, "acceleration_m_s2": 2 }] });
    let (document, trips) = trips(&with(d, "/brief/trips", json!([{ "id": "t", "name": "Laps", "path": path, "repeat": 20 }])));
    let trip = &trips[0];
    let (use_, lost) = (trip.wh_per_km.expect("driven"), trip.split.motor_wh_per_km);
    assert!((0.1..0.35).contains(&(lost / use_)), "{lost} of {use_} Wh/km");
    let chain = Chain::of(&document, masses(&document).test_kg).expect("complete");
    let hours = trip.duration_s / 3600.0;
    let mean_w = lost * trip.driven_km / hours;
    // Of a first-order body that begins cold: the mean loss's rise, as far as the time constant lets it come; peaks ride on it.
    let heat = chain.motor_heat;
    let mean_rise = mean_w / chain.motor.rated_loss_w * (1.0 - (-trip.duration_s / heat.tau_s).exp());
    let hottest = (trip.motor_hottest_c - heat.ambient_c) / heat.rise_k;
    println!("{mean_w:.0} W in four hubs: {:.0} degC", trip.motor_hottest_c);
    assert!((0.97..1.35).contains(&(hottest / mean_rise)), "{hottest} and {mean_rise} of the rated rise");
}
