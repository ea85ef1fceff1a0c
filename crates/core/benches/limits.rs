//! 256 samples of designs that meet their limits all the time, against those of the demo van: the same trips must not take many times as
//! long only because a motor is weak or hot.

use std::hint::black_box;
use std::time::Instant;

use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, Document};
use joulethesis_core::report::report;
use joulethesis_core::uncertainty::bands;
use serde_json::{Value, json};

fn read(value: &Value) -> Checked {
    Document::from_value(value).unwrap_or_else(|e| panic!("{e}"))
}

/// Least of some runs, s.
fn seconds(document: &Checked) -> f64 {
    let run = |_| {
        let start = Instant::now();
        black_box(bands(document, &Cancel::new()).expect("sound"));
        start.elapsed().as_secs_f64()
    };
    (0..5).map(run).fold(f64::INFINITY, f64::min)
}

fn main() {
    let text = std::fs::read(format!("{}/../../demo/whimbrel-9-a.json", env!("CARGO_MANIFEST_DIR"))).expect("demo file");
    let van: Value = serde_json::from_slice(&text).expect("JSON");
    let with = |changes: &[(&str, Value)]| {
        let mut changed = van.clone();
        for (pointer, value) in changes {
            let (parent, key) = pointer.rsplit_once('/').expect("a pointer");
            changed.pointer_mut(parent).expect("a place")[key] = value.clone();
        }
        read(&changed)
    };
    let peak = |share: f64| {
        let mut points = van["design"]["motor"]["model"]["points"].clone();
        for point in points.as_array_mut().expect("points") {
            point["torque_nm"] = json!(point["torque_nm"].as_f64().expect("N m") * share);
        }
        ("/design/motor/model/points", points)
    };
    let continuous = |share: f64| {
        let watts = van["design"]["motor"]["continuous_power_w"].as_f64().expect("W");
        [("/design/motor/continuous_power_w", json!(watts * share)), ("/design/motor/continuous_torque_nm", Value::Null)]
    };
    let amps = |share: f64| {
        let own = van["design"]["controller"]["battery_current_a"].as_f64().expect("A");
        [("/design/controller/battery_current_a", json!(own * share)), ("/design/controller/battery_current_continuous_a", Value::Null)]
    };
    let strings = ("/design/pack/strings_in_parallel", json!(40));
    let mut designs: Vec<(String, Checked)> = vec![("the van".to_owned(), read(&van))];
    for share in [0.6, 0.4, 0.2] {
        designs.push((
            format!("{share} of the peak torque"),
            with(&[peak(share), continuous(share.min(0.3))[0].clone(), continuous(0.3)[1].clone()]),
        ));
        designs.push((format!("{share} of the battery amps"), with(&amps(share))));
    }
    for share in [0.7, 0.5, 0.4, 0.3, 0.2] {
        let [a, b] = continuous(share);
        designs.push((format!("{share} of the continuous power"), with(&[a.clone(), b.clone()])));
        designs.push((format!("{share} of the continuous power, 40 strings"), with(&[a, b, strings.clone()])));
    }
    // Far beyond any pack that weighs something: runs by the hundred, each of them hot.
    let weightless = ("/donor/test_mass_kg", json!(1500));
    for share in [0.26, 0.22, 0.18, 0.14] {
        let [a, b] = continuous(share);
        let name = format!("{share} of the continuous power, a weightless pack of 130 strings");
        designs.push((name, with(&[a, b, weightless.clone(), ("/design/pack/strings_in_parallel", json!(130))])));
    }
    let base = seconds(&designs[0].1);
    println!("| 256 samples | s | times the van's | longest range |\n|---|---|---|---|");
    for (name, document) in &designs {
        let s = seconds(document);
        let far = report(document).expect("complete").trips.iter().filter_map(|t| t.range_km).fold(0.0, f64::max);
        println!("| {name} | {s:.3} | {:.1} | {far:.0} km |", s / base);
    }
}
