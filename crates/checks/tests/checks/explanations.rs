//! Explanations: every headline figure of every demo can be explained, its tree ends in inputs that are there, and the figures in it are
//! those of the estimate.

use crate::common::{check, documents::demo, read, sound_demo};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::explain::{Reason, explain};
use joulethesis_core::report::{report, report_with_bands};
use joulethesis_core::uncertainty::{bands, tornado};
use serde_json::Value;

const DEMOS: [&str; 6] = ["whimbrel-9-a", "whimbrel-9-b", "pipit-a", "pipit-b", "wren-a", "dunlin-a"];

fn every<'a>(reason: &'a Reason, out: &mut Vec<&'a Reason>) {
    out.push(reason);
    for part in &reason.parts {
        every(part, out);
    }
}

/// What a dotted path with list places names in a document.
fn at<'a>(value: &'a Value, path: &str) -> Option<&'a Value> {
    path.split('.').try_fold(value, |at, key| {
        let (name, places) = key.split_once('[').map_or((key, ""), |(n, p)| (n, p));
        let named = if name.is_empty() { Some(at) } else { at.get(name) };
        places.split('[').filter(|p| !p.is_empty()).try_fold(named?, |at, p| at.get(p.trim_end_matches(']').parse::<usize>().ok()?))
    })
}

#[test]
fn every_figure_is_explained_down_to_what_was_entered() {
    for name in DEMOS {
        let document = sound_demo(name);
        let written = serde_json::to_value(&*document).expect("JSON");
        let all = bands(&document, &Cancel::new()).expect("sound");
        assert!(all.bands.len() > 5, "{name}");
        for band in &all.bands {
            let figure = &band.figure;
            let reason = explain(&document, &figure.id, &Cancel::new()).unwrap_or_else(|e| panic!("{name} {}: {e}", figure.id));
            let mut nodes = Vec::new();
            every(&reason, &mut nodes);
            assert!(nodes.len() > 3, "{name} {}: {nodes:?}", figure.id);
            for node in &nodes {
                let what = format!("{name} {}: {}", figure.id, node.title);
                assert!(!node.title.is_empty(), "{what}");
                assert!(node.value.is_none_or(f64::is_finite), "{what}: {:?}", node.value);
                assert!(node.spread_percent.is_none_or(|s| (0.0..=40.0).contains(&s)), "{what}");
                // A path leads to something that is there to be changed.
                if let Some(path) = &node.path {
                    let section = path.split(['.', '[']).next().expect("a section");
                    assert!(["brief", "donor", "design"].contains(&section), "{what} at {path}");
                    let (parent, _) = path.rsplit_once('.').unwrap_or((path, ""));
                    assert!(at(&written, path).is_some() || at(&written, parent).is_some() || !parent.contains('.'), "{what} at {path}");
                }
            }
            assert!(nodes.iter().any(|n| n.path.is_some()), "{name} {} ends in nothing that was entered", figure.id);
        }
    }
}

#[test]
fn the_figure_at_the_top_is_that_of_the_estimate() {
    for name in DEMOS {
        let document = sound_demo(name);
        let estimate = report(&document).expect("sound");
        for trip in &estimate.trips {
            for (id, want) in
                [(format!("trip.{}.range_km", trip.trip), trip.range_km), (format!("trip.{}.wh_per_km", trip.trip), trip.wh_per_km)]
            {
                let got = explain(&document, &id, &Cancel::new()).expect("explained").value;
                match (got, want) {
                    (Some(got), Some(want)) => check(&format!("{name} {id}"), got, want, 1e-9),
                    (got, want) => assert_eq!(got, want, "{name} {id}"),
                }
            }
        }
        let top = explain(&document, "top_speed_kmh", &Cancel::new()).expect("explained");
        check(&format!("{name} top speed"), top.value.expect("a speed"), estimate.performance.top_speed_kmh, 1e-9);
    }
}

#[test]
fn energy_is_explained_by_parts_that_add_up() {
    for name in DEMOS {
        let document = sound_demo(name);
        for trip in report(&document).expect("sound").trips.iter().filter(|t| t.followed) {
            let s = &trip.split;
            let sum = s.air_wh_per_km
                + s.rolling_wh_per_km
                + s.climb_wh_per_km
                + s.driveline_wh_per_km
                + s.motor_wh_per_km
                + s.controller_wh_per_km
                + s.low_voltage_wh_per_km
                + s.hvac_wh_per_km
                + s.brakes_wh_per_km
                + s.kinetic_wh_per_km;
            check(&format!("{name} {}", trip.name), sum, trip.wh_per_km.expect("it moves"), 1e-6);
            // Losses are losses, and the brakes never give.
            for (what, wh) in [
                ("driveline", s.driveline_wh_per_km),
                ("motor", s.motor_wh_per_km),
                ("controller", s.controller_wh_per_km),
                ("brakes", s.brakes_wh_per_km),
                ("pack", s.pack_wh_per_km),
            ] {
                assert!(wh >= -1e-6, "{name} {}: {what} {wh}", trip.name);
            }
            assert!(s.air_wh_per_km > 0.0 && s.rolling_wh_per_km > 0.0);
        }
    }
}

#[test]
fn an_unknown_figure_is_refused_with_those_there_are() {
    let document = sound_demo("pipit-a");
    for id in ["", "trip.nowhere.range_km", "acceleration.fast", "hill.x.peak", "top_speed", "trip..range_km"] {
        let text = explain(&document, id, &Cancel::new()).expect_err("refused").to_string();
        assert!(text.contains("figure") || text.contains("trip"), "{id}: {text}");
        assert!(tornado(&document, id, &Cancel::new()).is_err(), "{id}");
    }
}

/// A claim, its band and its explanation name the same figure.
#[test]
fn claims_point_at_figures_that_exist() {
    for name in DEMOS {
        let document = sound_demo(name);
        let whole = report_with_bands(&document).expect("sound");
        let bands = whole.bands.as_ref().expect("asked for");
        for claim in &whole.claims {
            let band = bands.bands.iter().find(|b| b.figure.id == claim.figure).unwrap_or_else(|| panic!("{name} {}", claim.figure));
            assert_eq!(band.figure.unit, claim.unit, "{name} {}", claim.name);
            let goal = document.brief.goals.iter().find(|g| g.id == claim.goal).expect("a goal");
            assert!((claim.target - goal.measure.target()).abs() < 1e-9, "{name} {}", claim.name);
        }
        assert_eq!(whole.claims.len(), document.brief.goals.len());
    }
}

/// Reading what was written changes no figure.
#[test]
fn a_document_that_was_written_and_read_again_says_the_same() {
    for name in DEMOS {
        let first = read(&demo(name));
        let second = read(&serde_json::to_value(&*first).expect("JSON"));
        let text = |d| serde_json::to_string(&report(d).expect("sound")).expect("JSON");
        assert_eq!(text(&first), text(&second), "{name}");
    }
}
