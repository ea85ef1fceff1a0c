//! Laws of bands, odds and tornados on drawn designs: ends in order, sure inputs give sure figures, better knowledge never widens, a harder
//! goal is never likelier, and influences are told in the order of their weight.

use crate::common::drawn::{Drawn, described, drawn};
use crate::common::{cases, check, read, sound_demo, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, Measure};
use joulethesis_core::inputs::trusted_inputs;
use joulethesis_core::report::{report, report_with_bands};
use joulethesis_core::uncertainty::{Band, bands, tornado};
use proptest::prelude::*;
use serde_json::{Value, json};

/// A drawn design with a trip and goals.
fn asked(d: &Drawn) -> Value {
    let v = with(
        described(d),
        "/brief/trips",
        json!([{ "id": "t", "name": "T", "path": { "segments": [{ "distance_km": 4, "speed_kmh": 45, "stops_per_km": 0.5 }] } }]),
    );
    with(
        v,
        "/brief/goals",
        json!([
            { "id": "far", "measure": { "kind": "range", "trip": "t", "at_least_km": 60 } },
            { "id": "quick", "measure": { "kind": "acceleration", "from_kmh": 0, "to_kmh": 50, "at_most_s": 12 } },
            { "id": "top", "measure": { "kind": "top_speed", "at_least_kmh": 90 } },
            { "id": "steep", "measure": { "kind": "hill_start", "at_least_percent": 18 } }
        ]),
    )
}

/// Every input said to come from somewhere, with a spread.
fn known(mut value: Value, from: &str, percent: Option<f64>) -> Value {
    let source = percent.map_or_else(|| json!({ "from": from }), |p| json!({ "from": from, "spread_percent": p }));
    for input in trusted_inputs(&read(&value)) {
        let (place, key) = input.path.rsplit_once('.').expect("a path");
        // Numbers of a motor's record are named within it.
        let (place, key) =
            place.strip_suffix(".model").map_or_else(|| (place.to_owned(), key.to_owned()), |p| (p.to_owned(), format!("model.{key}")));
        let mut at = &mut value;
        let mut whole = String::new();
        for part in place.split('.') {
            if at.get(part).is_none_or(Value::is_null) || !at[part].is_object() {
                whole = format!("{part}.");
                break;
            }
            at = &mut at[part];
        }
        // What stands in no record of its own (regeneration, low voltage) is named in the one around it.
        if whole.is_empty() && at.get("kind").is_none() && at.get("name").is_none() && place.matches('.').count() == 1 {
            let (outer, inner) = place.split_once('.').expect("two parts");
            at = &mut value[outer];
            at["sources"][format!("{inner}.{key}")] = source.clone();
            continue;
        }
        at["sources"][key] = source.clone();
    }
    value
}

/// As [`known`], where the document takes it.
fn all_known(value: &Value, from: &str, percent: Option<f64>) -> Option<Checked> {
    joulethesis_core::document::Document::from_value(&known(value.clone(), from, percent)).ok()
}

fn width(band: &Band) -> Option<f64> {
    Some(band.p90? - band.p10?)
}

proptest! {
    #![proptest_config(cases(24))]

    #[test]
    fn ends_are_in_order_and_repeat(d in drawn()) {
        let document = read(&asked(&d));
        let (first, second) = (bands(&document, &Cancel::new()).expect("sound"), bands(&document, &Cancel::new()).expect("sound"));
        prop_assert_eq!(&first, &second, "the same document, the same bands");
        for b in &first.bands {
            let ends = [b.p10, b.p50, b.p90];
            let there: Vec<f64> = ends.into_iter().flatten().collect();
            prop_assert!(there.windows(2).all(|w| w[0] <= w[1]), "{}: {ends:?}", b.figure.id);
            prop_assert!(there.iter().all(|x| x.is_finite()), "{}: {ends:?}", b.figure.id);
        }
        for odds in &first.odds {
            prop_assert!((0.0..=1.0).contains(&odds.probability), "{}", odds.goal);
        }
    }

    #[test]
    fn a_harder_goal_is_never_likelier(d in drawn(), harder in 1.01..1.5f64) {
        let easy = read(&asked(&d));
        let hard = easy.with(|document| {
            for goal in &mut document.brief.goals {
                match &mut goal.measure {
                    Measure::Range { at_least_km: x, .. } | Measure::TopSpeed { at_least_kmh: x } | Measure::HillStart { at_least_percent: x } => *x *= harder,
                    Measure::Acceleration { at_most_s: x, .. } => *x /= harder,
                    _ => {}
                }
            }
        }).expect("sound");
        let (easy, hard) = (bands(&easy, &Cancel::new()).expect("sound"), bands(&hard, &Cancel::new()).expect("sound"));
        for (e, h) in easy.odds.iter().zip(&hard.odds) {
            prop_assert_eq!(&e.goal, &h.goal);
            prop_assert!(h.probability <= e.probability, "{}: {} for the harder, {} for the easier", e.goal, h.probability, e.probability);
        }
    }

    #[test]
    fn what_is_measured_is_no_wider_than_what_is_guessed(d in drawn()) {
        let value = asked(&d);
        let [measured, guessed] = ["measured", "guess"].map(|from| all_known(&value, from, None).expect("every input takes a source"));
        let (narrow, wide) = (bands(&measured, &Cancel::new()).expect("sound"), bands(&guessed, &Cancel::new()).expect("sound"));
        for (n, w) in narrow.bands.iter().zip(&wide.bands) {
            if let (Some(measured), Some(guessed), Some(middle)) = (width(n), width(w), n.p50) {
                // A figure held by a limit that nobody doubts may have no width either way.
                prop_assert!(measured <= guessed * 1.05 + 1e-6 * middle.abs(), "{}: {measured} measured, {guessed} guessed", n.figure.id);
            }
        }
    }

    #[test]
    fn what_is_sure_has_no_width(d in drawn()) {
        let sure = all_known(&asked(&d), "measured", Some(0.0)).expect("every input takes a source");
        let central = report(&sure).expect("sound");
        let all = bands(&sure, &Cancel::new()).expect("sound");
        let left: Vec<String> = trusted_inputs(&sure).into_iter().filter(|t| t.spread_percent > 0.0).map(|t| t.path).collect();
        prop_assert!(left.is_empty(), "{left:?}");
        for b in &all.bands {
            if let (Some(low), Some(high)) = (b.p10, b.p90) {
                prop_assert!((high - low).abs() <= 1e-9 * high.abs().max(1e-9), "{}: {low} to {high}", b.figure.id);
            }
        }
        let top = all.bands.iter().find(|b| b.figure.id == "top_speed_kmh").and_then(|b| b.p50);
        prop_assert!((top.expect("a speed") / central.performance.top_speed_kmh - 1.0).abs() < 1e-9);
    }
}

#[test]
fn influences_stand_in_the_order_of_their_weight_and_a_measurement_helps() {
    for name in ["whimbrel-9-a", "pipit-a"] {
        let document = sound_demo(name);
        let figure = format!("trip.{}.range_km", document.brief.trips[0].id);
        let t = tornado(&document, &figure, &Cancel::new()).expect("sound");
        assert!(t.influences.len() > 3, "{name}");
        let swing: Vec<f64> = t.influences.iter().filter_map(|i| Some((i.high? - i.low?).abs())).collect();
        assert!(swing.windows(2).all(|w| w[0] >= w[1] - 1e-9), "{name}: {swing:?}");
        let central = t.central.expect("followed");
        for i in &t.influences {
            if let (Some(low), Some(high)) = (i.low, i.high) {
                let (least, most) = (low.min(high), low.max(high));
                assert!(
                    least <= central * (1.0 + 1e-6) && most >= central * (1.0 - 1e-6),
                    "{name} {}: {least} to {most} about {central}",
                    i.path
                );
            }
        }
        // The whole is wider than its widest part, and narrower than all of them side by side.
        let whole = width(&t.band).expect("followed");
        assert!(whole > 0.8 * swing[0] && whole < swing.iter().sum(), "{name}: {whole} of {swing:?}");
        for n in &t.narrowings {
            assert!(
                n.width_then <= n.width_now * 1.02 && !n.advice.is_empty(),
                "{name} {:?}: {} then {}",
                n.measurement,
                n.width_now,
                n.width_then
            );
        }
        assert!(t.narrowings.windows(2).all(|w| w[0].width_then <= w[1].width_then), "the best advice first");
    }
}

/// The strip's figures: what a claim predicts lies at the middle of its band, and its odds are those of the samples.
#[test]
fn claims_and_bands_tell_one_story() {
    for name in ["whimbrel-9-a", "pipit-a", "pipit-b"] {
        let whole = report_with_bands(&sound_demo(name)).expect("sound");
        let all = whole.bands.as_ref().expect("asked for");
        for claim in &whole.claims {
            let band = all.bands.iter().find(|b| b.figure.id == claim.figure).expect("a band");
            if let (Some(predicted), Some(middle), Some(wide)) = (claim.predicted, band.p50, width(band)) {
                assert!(
                    (predicted - middle).abs() <= 0.35 * wide + 1e-3 * middle.abs(),
                    "{name} {}: {predicted} beside {middle} +- {wide}",
                    claim.name
                );
            }
            let odds = all.odds.iter().find(|o| o.goal == claim.goal).expect("odds");
            check(&format!("{name} {}", claim.name), 1.0 + claim.probability.expect("judged"), 1.0 + odds.probability, 1e-12);
        }
    }
}
