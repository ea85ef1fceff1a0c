//! Units: factors and systems.

use joulethesis_core::quantity::units::{SYSTEMS, UNITS, convert};

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
