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
        let evidence = road_load(&read(&d));
        let fit = evidence.coast_down.expect("a fit");
        check(&format!("Crr {crr}"), fit.rolling_coefficient.value, crr, 2e-3);
        check(&format!("CdA {drag_area}"), fit.drag_area_m2.value, drag_area, 2e-3);
        assert!(fit.flags.is_empty() && fit.residual_n < 1.0, "{:?}", fit.flags);
        assert!(evidence.proposals[0].kind == EvidenceKind::CoastDown);
        assert_eq!(evidence.proposals[0].best, evidence.proposals[0].unusual.is_empty());
    }
}

#[test]
fn slope_cancels_and_is_told() {
    let d = donor(&json!([coast("out", 0.0125, 0.9, 0.003, 9), coast("back", 0.0125, 0.9, -0.003, 9)]));
    let fit = road_load(&read(&d)).coast_down.expect("a fit");
    check("Crr on a slope", fit.rolling_coefficient.value, 0.0125, 5e-3);
    check("CdA on a slope", fit.drag_area_m2.value, 0.9, 5e-3);
    check("grade", fit.grade_percent, 0.3, 0.03);
}

#[test]
fn readings_of_a_dashboard_keep_the_truth_inside_the_band() {
    let runs: Vec<Value> = ["out", "back", "out", "back"].iter().map(|way| coast(way, 0.0125, 0.9, 0.0, 0)).collect();
    let fit = road_load(&read(&donor(&json!(runs)))).coast_down.expect("a fit");
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
    let flags = road_load(&read(&donor(&json!([gusty, back.clone(), out.clone(), back.clone()])))).coast_down.expect("a fit").flags;
    assert!(flags.iter().any(|f| f.at.contains("runs[0].points[2") && f.message.to_string().contains("gust")), "{flags:?}");
    // What cannot be fitted is named, and hides nothing else that is known.
    let refused = |runs: Value, what: &[&str]| {
        let evidence = road_load(&read(&with(donor(&runs), "/donor/evidence/fuel_l_per_100km", json!(7))));
        let told = evidence.flags.iter().map(|f| f.message.to_string()).collect::<Vec<_>>().join("\n");
        assert!(what.iter().all(|w| told.contains(w)), "{told}");
        let kinds: Vec<EvidenceKind> = evidence.proposals.iter().map(|p| p.kind).collect();
        assert_eq!(kinds, [EvidenceKind::Fuel, EvidenceKind::Handbook]);
        assert!(evidence.coast_down.is_none() && evidence.proposals[0].best);
    };
    let mut pushed = out.clone();
    pushed["points"][30]["speed_kmh"] = json!(88.0);
    refused(json!([pushed, back.clone()]), &["runs[0].points[30].speed_kmh is 88", "gust"]);
    refused(json!([out]), &["no run back"]);
    let mut late = back;
    late["points"][9]["time_s"] = json!(3);
    refused(json!([coast("out", 0.0125, 0.9, 0.0, 9), late]), &["runs[1].points[9].time_s is 3"]);
}

/// Half of the fuel of a car, or a coast in the lee of a lorry: shown with what is wrong with it, never the one to take.
#[test]
fn what_no_vehicle_of_its_kind_does_is_never_the_best() {
    let slippery = donor(&json!([coast("out", 0.004, 0.2, 0.0, 9), coast("back", 0.004, 0.2, 0.0, 9)]));
    let evidence = road_load(&read(&slippery));
    let (coast_down, best) = (&evidence.proposals[0], evidence.proposals.iter().find(|p| p.best).expect("one to take"));
    assert_eq!((coast_down.kind, best.kind), (EvidenceKind::CoastDown, EvidenceKind::Handbook));
    let told = coast_down.unusual.to_string();
    assert!(told.contains("0.20 m²") && told.contains("0.55 m² to 0.80 m²") && told.contains("rolling coefficient of 0.0040"), "{told}");
    // Nothing is known to nothing: two per cent at least, the spread of a measurement.
    for fitted in [coast_down.drag_area_m2, coast_down.rolling_coefficient] {
        assert!(fitted.half_width >= 0.02 * fitted.value, "{fitted:?}");
    }
    assert!(evidence.proposals.iter().all(|p| p.best == (p.kind == best.kind)));
}

/// Town, road and combined figures as brochures print them, of a small petrol hatchback of the 1990s: 8.6, 5.3 and 6.6 l/100 km (common
/// practice). Each is taken to mean a schedule, whose mean speed is told.
#[test]
fn town_road_and_combined_fuel_agree() {
    let hatch = with(with(plain(), "/donor/kind", json!("car")), "/donor/curb_mass_kg", json!(880));
    let of = |fuel: Value| road_load(&read(&with(hatch.clone(), "/donor/evidence", fuel)));
    let all = of(json!({ "fuel_town_l_per_100km": 8.6, "fuel_road_l_per_100km": 5.3, "fuel_l_per_100km": 6.6 }));
    assert!(all.flags.is_empty(), "{:?}", all.flags);
    let told = all.proposals[0].basis.to_string();
    for says in ["town, taken as ECE 15, mean 19 km/h", "road, taken as HWFET, mean 78 km/h", "combined, taken as NEDC, mean 34 km/h"] {
        assert!(told.contains(says), "{told}");
    }
    let area = all.proposals[0].drag_area_m2;
    assert!(all.proposals[0].best && (0.45..0.85).contains(&area.value) && area.half_width > 0.1 * area.value, "{area:?}");
    // Each alone is near the others, and their mean among them.
    let alone: Vec<f64> = ["fuel_town_l_per_100km", "fuel_road_l_per_100km", "fuel_l_per_100km"]
        .iter()
        .zip([8.6, 5.3, 6.6])
        .map(|(key, litres)| of(json!({ *key: litres })).proposals[0].drag_area_m2.value)
        .collect();
    assert!(alone.iter().all(|a| (a / area.value - 1.0).abs() < 0.35), "{alone:?} about {}", area.value);
    assert!(alone.iter().any(|a| *a >= area.value) && alone.iter().any(|a| *a <= area.value), "{alone:?} about {}", area.value);
    // A slip of the unit is named by its own field.
    let slip = of(json!({ "fuel_road_l_per_100km": 53, "fuel_l_per_100km": 6.6 }));
    assert!(slip.flags.len() == 1 && slip.flags[0].at == "donor.evidence.fuel_road_l_per_100km", "{:?}", slip.flags);
    assert_eq!(slip.proposals[0].kind, EvidenceKind::Fuel);
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

/// Fuel: the wheels' energy that the litres mean is that of the proposed road load, computed here again over the schedule.
#[test]
fn fuel_explains_itself() {
    let d = with(plain(), "/donor/evidence", json!({ "fuel_road_l_per_100km": 6.0 }));
    let proposals = road_load(&read(&d)).proposals;
    assert!(proposals[0].kind == EvidenceKind::Fuel && proposals[0].best && !proposals[1].best);
    // 6 l/100 km x 8.9 kWh/l x 21.5 % = 114.8 Wh/km, of pulls only, at 900 kg and 90 aboard with a rotating factor of 1.06.
    let (area, crr) = (proposals[0].drag_area_m2.value, proposals[0].rolling_coefficient.value);
    let rows: Vec<(f64, f64)> = joulethesis_core::document::Schedule::Hwfet.rows().map(|(t, kmh)| (t, kmh / 3.6)).collect();
    let (mut joules, mut metres) = (0.0, 0.0);
    for w in rows.windows(2) {
        let (v, a) = (0.5 * (w[0].1 + w[1].1), w[1].1 - w[0].1);
        joules += (990.0 * G * crr + 0.5 * 1.25 * area * v * v + 1.06 * 990.0 * a).max(0.0) * v;
        metres += v;
    }
    check("Wh/km over HWFET", joules / metres / 3.6, 114.81, 1e-3);
}
