//! Bands: their ends are where the spreads say, they repeat to the last bit, and a measurement narrows them.

use crate::common::{check, plain, read, sound_demo, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::Document;
use joulethesis_core::explain::{Reason, explain};
use joulethesis_core::figures::Verdict;
use joulethesis_core::inputs::SAMPLES;
use joulethesis_core::report::{report, report_with_bands};
use joulethesis_core::uncertainty::{Band, Bands, bands, tornado};
use serde_json::{Value, json};

fn of<'a>(bands: &'a Bands, id: &str) -> &'a Band {
    bands.bands.iter().find(|b| b.figure.id == id).unwrap_or_else(|| panic!("{id}"))
}

/// Nothing is doubtful but what a case makes so.
fn sure() -> Value {
    let zero = json!({ "from": "measured", "spread_percent": 0 });
    let all = |keys: &[&str]| Value::Object(keys.iter().map(|k| ((*k).to_owned(), zero.clone())).collect());
    let mut d = with(
        plain(),
        "/donor/sources",
        all(&[
            "curb_mass_kg",
            "test_mass_kg",
            "drag_coefficient",
            "frontal_area_m2",
            "rolling_coefficient",
            "tyre",
            "driveline",
            "adhesion",
        ]),
    );
    d = with(d, "/design/motor/sources", all(&["model.peak_torque_nm", "model.peak_power_w", "continuous_power_w", "best_efficiency"]));
    d = with(d, "/design/controller/sources", all(&["battery_current_a", "motor_current_a", "efficiency"]));
    d = with(d, "/design/pack/module/sources", all(&["capacity_ah", "capacity_share", "resistance_ohm", "peak_c", "continuous_c"]));
    d = with(d, "/design/sources", all(&["added", "prices", "regeneration.share"]));
    d = with(d, "/design/motor/price", json!(1000));
    with(d, "/brief/trips", json!([{ "id": "t", "name": "T", "path": { "segments": [{ "distance_km": 12, "speed_kmh": 70 }] } }]))
}

/// A spread is the half-width that holds four values in five, so P10 and P90 of a figure in proportion to the one doubtful input lie at
/// its ends (normal distribution: NIST/SEMATECH e-Handbook of Statistical Methods, section 1.3.6.6.1).
#[test]
fn a_lone_doubt_shows_at_its_own_width() {
    let d = with(sure(), "/design/sources/prices", json!({ "from": "handbook", "spread_percent": 12 }));
    let b = bands(&read(&d), &Cancel::new()).expect("sound");
    let cost = of(&b, "cost");
    check("P10 of the price", cost.p10.expect("finite"), 880.0, 2e-3);
    check("P50 of the price", cost.p50.expect("finite"), 1000.0, 1e-3);
    check("P90 of the price", cost.p90.expect("finite"), 1120.0, 2e-3);
    // And everything else is sure.
    let range = of(&b, "trip.t.range_km");
    check("range, no doubt left", range.p90.expect("finite"), range.p10.expect("finite"), 1e-12);
    check(
        "and it is the central one",
        range.p50.expect("finite"),
        report(&read(&d)).expect("sound").trips[0].range_km.expect("followed"),
        1e-9,
    );
}

/// A seller's claim: between 60 % and all of it, evenly; its middle is counted on.
#[test]
fn a_claim_is_one_sided() {
    let d = with(sure(), "/design/pack/module/sources/capacity_ah", json!({ "from": "seller" }));
    let b = bands(&read(&d), &Cancel::new()).expect("sound");
    let whole = report(&read(&sure())).expect("sound").trips[0].range_km.expect("followed");
    let range = of(&b, "trip.t.range_km");
    // Range is nearly in proportion to capacity here: an ideal pack.
    check("P10", range.p10.expect("finite") / whole, 0.64, 6e-3);
    check("P50", range.p50.expect("finite") / whole, 0.80, 6e-3);
    check("P90", range.p90.expect("finite") / whole, 0.96, 6e-3);
    let counted = report(&read(&d)).expect("sound");
    check("the central figure counts on the middle", counted.pack.capacity_ah, 80.0, 1e-12);
    assert!(counted.findings.iter().any(|f| f.rule == "trust.claim"));
}

#[test]
fn bands_repeat_to_the_last_bit_on_any_number_of_threads() {
    let document = sound_demo("whimbrel-9-a");
    let on = |threads: usize| {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build().expect("a pool");
        serde_json::to_string(&pool.install(|| bands(&document, &Cancel::new())).expect("sound")).expect("JSON")
    };
    let one = on(1);
    assert_eq!(one, on(2));
    assert_eq!(one, on(3));
    assert_eq!(serde_json::from_str::<Value>(&one).expect("JSON")["samples"], SAMPLES);
}

#[test]
fn verdicts_follow_from_the_draws() {
    for name in ["whimbrel-9-a", "pipit-a", "pipit-b", "wren-a", "dunlin-a"] {
        let estimate = report_with_bands(&sound_demo(name)).expect("sound");
        let bands = estimate.bands.as_ref().expect("asked for");
        for claim in &estimate.claims {
            let p = claim.probability.expect("judged");
            let want = if p >= 0.9 {
                Verdict::Met
            } else if p >= 0.5 {
                Verdict::Likely
            } else if p >= 0.1 {
                Verdict::Unlikely
            } else {
                Verdict::Missed
            };
            assert_eq!(claim.verdict, want, "{name} {}", claim.name);
            let band = of(bands, &claim.figure);
            let (Some(low), Some(high)) = (band.p10, band.p90) else { continue };
            // Nine draws in ten on the good side means the bad end of the band is on it.
            let bad_end_good = if claim.more_is_better { low >= claim.target } else { high <= claim.target };
            assert_eq!(bad_end_good, p > 0.9, "{name} {}: {p}, {low} to {high} against {}", claim.name, claim.target);
        }
    }
}

#[test]
fn the_tornado_names_the_weightiest_doubt_and_what_settles_it() {
    let d = with(sure(), "/donor/sources/drag_coefficient", json!({ "from": "guess" }));
    let d = with(d, "/donor/sources/rolling_coefficient", json!({ "from": "handbook", "spread_percent": 4 }));
    let t = tornado(&read(&d), "trip.t.wh_per_km", &Cancel::new()).expect("sound");
    let paths: Vec<&str> = t.influences.iter().map(|i| i.path.as_str()).collect();
    assert_eq!(paths, ["donor.drag_coefficient", "donor.rolling_coefficient"]);
    // One input from its P10 to its P90 is the estimate with that input there.
    let low = with(d.clone(), "/donor/drag_coefficient", json!(0.3 * 0.75));
    check("low end", t.influences[0].low.expect("finite"), report(&read(&low)).expect("sound").trips[0].wh_per_km.expect("moves"), 1e-6);
    let best = &t.narrowings[0];
    assert!(best.advice.to_string().starts_with("coast it down: band"), "{}", best.advice);
    assert!(best.width_then < 0.15 * best.width_now, "{best:?}");
    let text = tornado(&read(&d), "nonsense", &Cancel::new()).expect_err("unknown").to_string();
    assert!(text.contains("nonsense") && text.contains("top_speed_kmh"), "{text}");
}

#[test]
fn spreads_that_would_turn_a_value_negative_are_refused() {
    let d = with(plain(), "/donor/sources", json!({ "curb_mass_kg": { "from": "guess", "spread_percent": 60 } }));
    let text = Document::from_value(&d).expect_err("refused").to_string();
    assert!(text.contains("donor.sources.curb_mass_kg.spread_percent is 60") && text.contains("0 to 40"), "{text}");
    let d = with(plain(), "/design/motor/sources", json!({ "mass_kg": { "from": "measured", "spread_percent": -1 } }));
    assert!(Document::from_value(&d).is_err());
    // At the widest spread no draw is.
    let d = with(plain(), "/donor/sources", json!({ "test_mass_kg": { "from": "guess", "spread_percent": 40 } }));
    let b = bands(&read(&d), &Cancel::new()).expect("sound");
    assert!(b.bands.iter().all(|b| b.p10.is_none_or(f64::is_finite)));
}

/// Where the same figure stands twice it is the same number: a band tells the figure of the estimate that a claim is judged by.
#[test]
fn a_band_tells_the_figure_of_the_estimate() {
    for name in ["whimbrel-9-a", "pipit-a", "wren-a", "dunlin-a"] {
        let document = sound_demo(name);
        let bands = bands(&document, &Cancel::new()).expect("sound");
        for claim in report(&document).expect("sound").claims {
            let band = of(&bands, &claim.figure);
            match (band.central, claim.predicted) {
                (Some(band), Some(claimed)) => check(&format!("{name} {}", claim.figure), band, claimed, 1e-9),
                (band, claimed) => assert_eq!(band, claimed, "{name} {}", claim.figure),
            }
        }
    }
}

/// The parts of an explanation add up to what they explain, for every trip of every demo.
#[test]
fn explanations_add_up() {
    let mut lines = Vec::new();
    for name in ["whimbrel-9-a", "pipit-a", "wren-a", "dunlin-a"] {
        let document = sound_demo(name);
        for figure in bands(&document, &Cancel::new()).expect("sound").bands {
            let reason = explain(&document, &figure.figure.id, &Cancel::new()).unwrap_or_else(|e| panic!("{}: {e}", figure.figure.id));
            assert!(!reason.parts.is_empty(), "{}", figure.figure.id);
            let sum = |of: &Reason, unit: &str| of.parts.iter().filter(|p| p.unit == unit).filter_map(|p| p.value).sum::<f64>();
            let Some(value) = reason.value else { continue };
            // To the last digit: what is too small for a line of its own is in one of them.
            match figure.figure.id.rsplit('.').next() {
                // The account of energy closes, or the lines would not.
                Some("wh_per_km") => check(&figure.figure.id, sum(&reason, "Wh/km"), value, 1e-6),
                Some("range_km") => {
                    let usable_kwh = sum(&reason, "kWh");
                    check(&figure.figure.id, usable_kwh * 1000.0 / sum(&reason, "Wh/km"), value, 2e-3);
                    // What neither road nor resistance took is told as what it is, and is little but for the law of lead-acid.
                    let left = reason.parts.iter().filter(|p| p.parts.is_empty() && p.title != "lost inside the pack".into());
                    for part in left {
                        let share = part.value.unwrap_or_default() / (usable_kwh * 1000.0 / value);
                        let most = if part.title.to_string().contains("rate of discharge") { 0.35 } else { 0.06 };
                        assert!(share.abs() < most, "{name} {}: {} is {share:.3} of it", figure.figure.id, part.title);
                        lines.push(part.title.to_string());
                    }
                }
                Some("added_mass") => check(name, sum(&reason, "kg"), value, 1e-9),
                _ => {}
            }
        }
    }
    assert!(lines.iter().any(|l| l.contains("rate of discharge")), "lead-acid has a line for what it does not give: {lines:?}");
}

/// A document is bounded: days of driving are refused by name when it is read, not worked on until everybody has left.
#[test]
fn trips_too_long_are_named_at_once() {
    let of = |repeat: u32, kmh: f64| {
        let trip = |id: &str, repeat| json!({ "id": id, "name": id, "repeat": repeat, "path": { "segments": [{ "distance_km": 500, "speed_kmh": kmh }] } });
        let d = with(plain(), "/brief/trips", json!([trip("a", 1), trip("b", repeat)]));
        joulethesis_core::document::Document::from_value(&d).map_err(|e| e.problems()[0].path.clone())
    };
    assert_eq!(of(1, 10.0).expect_err("refused"), "brief.trips[0].path");
    assert_eq!(of(1, 30.0).expect_err("refused"), "brief.trips[1].path");
    assert_eq!(of(3, 60.0).expect_err("refused"), "brief.trips[1].repeat");
    let allowed = of(1, 60.0).expect("within the bound");
    assert!(bands(&allowed, &Cancel::new()).is_ok());
}
