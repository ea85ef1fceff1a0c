//! Units: factors and systems.

use joulethesis_core::document::{Brief, Performance, Sprints};
use joulethesis_core::quantity::fields::{Entry, each_group};
use joulethesis_core::quantity::units::{SYSTEMS, UNITS, WIRE_GAUGES, convert, wire_gauge_mm2};
use joulethesis_core::quantity::{Sentence, figure};
use joulethesis_core::report::report;

use crate::common::{check, sound_demo};

// NIST Special Publication 811 (2008), appendix B: factors to seven figures.
#[test]
fn factors_agree_with_nist_sp_811() {
    for (from, to, want) in [
        ("hp", "W", 745.699_9),
        ("lb·ft", "N·m", 1.355_818),
        ("mph", "m/s", 0.447_04),
        ("lbf", "N", 4.448_222),
        ("ft²", "m²", 0.092_903_04),
        ("oz", "g", 28.349_52),
        ("PS", "W", 735.498_8),
    ] {
        let got = convert(1.0, from, to).expect("known units");
        assert!((got / want - 1.0).abs() < 2e-7, "{from}->{to}: got {got}, want {want}");
    }
    assert!((convert(-40.0, "°F", "°C").expect("known") + 40.0).abs() < 1e-12);
    assert!((convert(300.0, "K", "°F").expect("known") - 80.33).abs() < 1e-9);
}

#[test]
fn every_system_names_known_units_of_its_dimension() {
    for (dimension, metric, imperial, mix) in SYSTEMS {
        for symbol in [metric, imperial, mix] {
            assert!(UNITS.iter().any(|u| u.symbol == *symbol && u.dimension == *dimension), "{symbol} for {dimension}");
        }
    }
}

/// Every unit leads back to itself through every other of its dimension, also those that count the other way round.
#[test]
fn every_conversion_leads_back() {
    for a in UNITS {
        for b in UNITS.iter().filter(|b| b.dimension == a.dimension) {
            for value in [0.37, 12.5, 4800.0] {
                let there = convert(value, a.symbol, b.symbol).expect("one dimension");
                let back = convert(there, b.symbol, a.symbol).expect("one dimension");
                assert!((back / value - 1.0).abs() < 1e-9, "{value} {} is {there} {}, and back {back}", a.symbol, b.symbol);
            }
        }
    }
    // 235.215 / mpg is litres for 100 km with the US gallon of 3.785411784 l, 282.481 with the imperial one of 4.54609 l (NIST SP 811).
    check("US", convert(30.0, "mpg", "l/100 km").expect("fuel"), 235.214_58 / 30.0, 1e-7);
    check("imperial", convert(30.0, "mpg imp", "l/100 km").expect("fuel"), 282.480_94 / 30.0, 1e-7);
    check("foot", convert(1.0, "ft", "m").expect("length"), 0.3048, 1e-12);
}

/// ASTM B258, as NEC chapter 9 table 8 lists the sections in mm2 (from memory).
#[test]
fn wire_gauges_are_those_of_the_standard() {
    let listed = [("4/0", 107.2), ("3/0", 85.01), ("2/0", 67.43), ("1/0", 53.49), ("2", 33.62), ("6", 13.30), ("10", 5.261), ("14", 2.08)];
    for (name, mm2) in listed {
        let (gauge, _) = WIRE_GAUGES.iter().find(|(_, n)| *n == name).expect("listed");
        check(name, wire_gauge_mm2(*gauge), mm2, 2e-3);
    }
    assert!(WIRE_GAUGES.windows(2).all(|p| wire_gauge_mm2(p[0].0) > wire_gauge_mm2(p[1].0)), "from thick to thin");
}

/// Every field whose unit has a choice is shown by a dimension that knows that unit.
#[test]
fn every_field_is_shown_by_a_dimension_of_its_unit() {
    let mut looked = 0;
    each_group(&mut |group| {
        for entry in group.entries {
            let Entry::Number(f) = entry else { continue };
            let dimension = f.dimension();
            assert!(
                dimension.is_empty() || UNITS.iter().any(|u| u.symbol == f.unit && u.dimension == dimension),
                "{}.{}",
                group.name,
                f.key
            );
            looked += usize::from(!dimension.is_empty());
        }
    });
    assert!(looked > 100, "{looked} fields have a dimension");
}

#[test]
fn a_sentence_reads_as_one_and_keeps_its_figures() {
    let said = Sentence::filled("{} comes to {}; {}.", vec!["It".into(), figure(1512.4, "kg", 0), figure(0.5, "", 1)]);
    assert_eq!(said.to_string(), "It comes to 1512 kg; 0.5.");
    let both = Sentence::joined([said.clone(), "And more".into(), Sentence::default()], " ");
    assert_eq!(both.to_string(), "It comes to 1512 kg; 0.5. And more ");
    assert!(Sentence::default().is_empty() && !said.is_empty());
    let json = serde_json::to_value(&said).expect("JSON");
    assert_eq!((json[0].as_str(), json[1]["value"].as_f64(), json[1]["unit"].as_str()), (Some("It comes to "), Some(1512.4), Some("kg")));
}

/// Sprints follow the units: 0 to 60 mph is 0 to 96.56064 km/h, exactly; nothing else of the answer moves with them.
#[test]
fn the_usual_sprints_follow_the_units() {
    let document = sound_demo("whimbrel-9-a");
    let sprints = |brief: &Brief| brief.performance.sprints;
    assert_eq!(sprints(&document.brief), Sprints::Kmh);
    let miles =
        document.with(|d| d.brief.performance = Performance { sprints: Sprints::Mph, ..d.brief.performance.clone() }).expect("sound");
    let of = |d| report(d).expect("complete").estimate.performance;
    let (metric, imperial) = (of(&document), of(&miles));
    assert!(metric.accelerations.iter().any(|a| (a.from_kmh, a.to_kmh) == (0.0, 100.0)));
    let sixty = imperial.accelerations.iter().find(|a| (a.to_kmh - 96.560_64).abs() < 1e-9).expect("0 to 60 mph");
    let hundred = metric.accelerations.iter().find(|a| a.to_kmh == 100.0).expect("0 to 100 km/h");
    assert!(sixty.time_s < hundred.time_s);
    assert_eq!((metric.top_speed_kmh, &metric.hills), (imperial.top_speed_kmh, &imperial.hills));
}
