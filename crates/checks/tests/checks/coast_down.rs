//! Coast-downs by the procedure of SAE J1263 and J2263: from logs made with the closed form
//! v(t) = sqrt(a/b) tan(atan(v0 sqrt(b/a)) - t sqrt(ab)), the coefficients come back.

use crate::common::{check, plain, read, with};
use joulethesis_core::evidence::{EvidenceKind, road_load, runs_from_csv};
use serde_json::{Value, json};

const MASS: f64 = 1300.0;
const K: f64 = 1.03;
const G: f64 = 9.806_65;

/// A coast from 25 m/s, a reading each second; with a grade (sine) along it and rounded to `digits` of km/h.
fn coast(direction: &str, crr: f64, drag_area: f64, sine: f64, digits: i32) -> Value {
    let density = 101_325.0 / (287.05 * 293.15);
    let a = G * (crr + sine) / K;
    let b = density * drag_area / (2.0 * MASS * K);
    let round = |x: f64| (x * 10f64.powi(digits)).round() / 10f64.powi(digits);
    let points: Vec<Value> = (0..400)
        .map(|t| (f64::from(t), (a / b).sqrt() * ((25.0 * (b / a).sqrt()).atan() - f64::from(t) * (a * b).sqrt()).tan()))
        .take_while(|(_, v)| *v > 3.0)
        .map(|(t, v)| json!({ "time_s": t, "speed_kmh": round(v * 3.6) }))
        .collect();
    json!({ "direction": direction, "points": points })
}

fn donor(runs: &Value) -> Value {
    with(
        plain(),
        "/donor/evidence",
        json!({ "coast_down": { "mass_kg": MASS, "rotating_mass_factor": K, "temperature_c": 20, "runs": runs } }),
    )
}

#[test]
fn the_closed_form_gives_back_its_coefficients() {
    for (crr, drag_area) in [(0.0102, 0.62), (0.0148, 1.05), (0.028, 0.85)] {
        let d = donor(&json!([coast("out", crr, drag_area, 0.0, 9), coast("back", crr, drag_area, 0.0, 9)]));
        let evidence = road_load(&read(&d)).expect("sound");
        let fit = evidence.coast_down.expect("a fit");
        check(&format!("Crr {crr}"), fit.rolling_coefficient.value, crr, 2e-3);
        check(&format!("CdA {drag_area}"), fit.drag_area_m2.value, drag_area, 2e-3);
        assert!(fit.flags.is_empty() && fit.residual_n < 1.0, "{:?}", fit.flags);
        assert!(evidence.proposals[0].best && evidence.proposals[0].kind == EvidenceKind::CoastDown);
    }
}

#[test]
fn slope_cancels_and_is_told() {
    let d = donor(&json!([coast("out", 0.0125, 0.9, 0.003, 9), coast("back", 0.0125, 0.9, -0.003, 9)]));
    let fit = road_load(&read(&d)).expect("sound").coast_down.expect("a fit");
    check("Crr on a slope", fit.rolling_coefficient.value, 0.0125, 5e-3);
    check("CdA on a slope", fit.drag_area_m2.value, 0.9, 5e-3);
    check("grade", fit.grade_percent, 0.3, 0.03);
}

#[test]
fn readings_of_a_dashboard_keep_the_truth_inside_the_band() {
    let runs: Vec<Value> = ["out", "back", "out", "back"].iter().map(|way| coast(way, 0.0125, 0.9, 0.0, 0)).collect();
    let fit = road_load(&read(&donor(&json!(runs)))).expect("sound").coast_down.expect("a fit");
    let (rolling, area) = (fit.rolling_coefficient, fit.drag_area_m2);
    println!("Crr {:.5} +- {:.5}, CdA {:.4} +- {:.4}", rolling.value, rolling.half_width, area.value, area.half_width);
    assert!((rolling.value - 0.0125).abs() < 2.0 * rolling.half_width && (area.value - 0.9).abs() < 2.0 * area.half_width);
}

#[test]
fn a_gust_is_named_and_a_push_refused() {
    let (out, back) = (coast("out", 0.0125, 0.9, 0.0, 9), coast("back", 0.0125, 0.9, 0.0, 9));
    // A gust from ahead: within four seconds the speed falls by another 4 km/h.
    let mut gusty = out.clone();
    for (i, p) in gusty["points"].as_array_mut().expect("points").iter_mut().enumerate() {
        let v = p["speed_kmh"].as_f64().expect("a speed");
        p["speed_kmh"] = json!(v - (i as f64 - 20.0).clamp(0.0, 4.0));
    }
    let flags =
        road_load(&read(&donor(&json!([gusty, back.clone(), out.clone(), back.clone()])))).expect("sound").coast_down.expect("a fit").flags;
    assert!(flags.iter().any(|f| f.at.contains("runs[0].points[2") && f.message.to_string().contains("gust")), "{flags:?}");
    let mut pushed = out.clone();
    pushed["points"][30]["speed_kmh"] = json!(88.0);
    let text = road_load(&read(&donor(&json!([pushed, back.clone()])))).expect_err("refused").to_string();
    assert!(text.contains("runs[0].points[30].speed_kmh is 88") && text.contains("gust"), "{text}");
    let text = road_load(&read(&donor(&json!([out])))).expect_err("refused").to_string();
    assert!(text.contains("no run back"), "{text}");
    let mut late = back;
    late["points"][9]["time_s"] = json!(3);
    let text = road_load(&read(&donor(&json!([coast("out", 0.0125, 0.9, 0.0, 9), late])))).expect_err("refused").to_string();
    assert!(text.contains("runs[1].points[9].time_s is 3"), "{text}");
}

#[test]
fn logs_in_any_usual_shape_are_read_and_bad_rows_named() {
    let runs = runs_from_csv("time_s;speed_mph;direction\n0;50;out\n1;49.1;out\n0;50;back\n1;49;BACK\n").expect("sound");
    assert_eq!(runs.len(), 2);
    check("mph", runs[0].points[0].speed_kmh, 80.467_2, 1e-9);
    let text = runs_from_csv("time_s,speed_kmh,direction\n0,fast,out\n1,20,sideways\n").expect_err("refused").to_string();
    assert!(text.contains("row 2, speed_kmh") && text.contains("row 3, direction"), "{text}");
    let text = runs_from_csv("t,v\n0,1\n").expect_err("refused").to_string();
    assert!(text.contains("time_s"), "{text}");
}

/// Fuel: the wheels' energy that the litres mean is that of the proposed road load, computed here again over the trip.
#[test]
fn fuel_explains_itself() {
    let d = with(
        plain(),
        "/brief/trips",
        json!([{ "id": "t", "name": "T", "path": { "segments": [{ "distance_km": 10, "speed_kmh": 80 }] } }]),
    );
    let d = with(d, "/donor/evidence", json!({ "fuel_l_per_100km": 6.0 }));
    let proposals = road_load(&read(&d)).expect("sound").proposals;
    assert!(proposals[0].kind == EvidenceKind::Fuel && proposals[0].best && !proposals[1].best);
    // 6 l/100 km x 8.9 kWh/l x 21.5 % = 114.8 Wh/km; at a steady 80 km/h nearly all of it is road load.
    let (area, crr) = (proposals[0].drag_area_m2.value, proposals[0].rolling_coefficient.value);
    let v: f64 = 80.0 / 3.6;
    let steady = (990.0 * G * crr + 0.5 * 1.25 * area * v * v) / 3.6;
    check("Wh/km at 80 km/h", steady, 114.8, 0.05);
}
