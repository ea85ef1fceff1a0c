//! Air density and tyre codes.

use joulethesis_core::document::tyre::{outer_diameter_m, rolling_radius_m};
use joulethesis_core::vehicle::air::density_kg_m3;

// US Standard Atmosphere 1976: density at the standard temperature of each height, four decimals.
#[test]
fn agrees_with_the_us_standard_atmosphere_1976() {
    for (height_m, celsius, want) in [(0.0, 15.0, 1.2250), (1000.0, 8.5, 1.1117), (2000.0, 2.0, 1.0066)] {
        let got = density_kg_m3(height_m, celsius);
        assert!((got - want).abs() < 1.5e-4, "{height_m} m: got {got}, want {want}");
    }
}

// ISO 4000-1 designation arithmetic: rim + 2 x width x aspect; circumference factors from ETRTO practice (from memory).
#[test]
fn codes_give_outer_diameters() {
    for (code, outer_mm, radial) in [
        ("175/70 R13", 575.2, true),
        ("175/70R13 82T", 575.2, true),
        ("31x10.50 R15", 787.4, true),
        ("P205/55 R16", 631.9, true),
        ("3.50-10", 431.8, false),
        ("120/80-12", 496.8, false),
        ("155 R13", 584.4, true),
    ] {
        let (outer, is_radial) = outer_diameter_m(code).expect(code);
        assert!((outer * 1000.0 - outer_mm).abs() < 0.06 && radial == is_radial, "{code}: got {outer}");
    }
}

// Common practice: a wheel 23 in across turns about 730 rpm at 50 mph, tyre squash and all.
#[test]
fn a_wheel_of_23_inches_turns_730_times_a_minute_at_50_mph() {
    // 155/80 R13: 13 in and twice 124 mm, 22.8 in across.
    let radius_m = rolling_radius_m("155/80 R13").expect("a code");
    let rpm = 50.0 * 0.447_04 / (2.0 * std::f64::consts::PI * radius_m) * 60.0;
    assert!((rpm / 730.0 - 1.0).abs() < 0.05, "got {rpm}");
}

#[test]
fn nonsense_is_refused_with_words() {
    for code in ["", "R", "fat", "-1/70 R13", "175/70 R", "1e9/70R13", "99x99R99", "é/ R13"] {
        assert!(rolling_radius_m(code).unwrap_err().contains("175/70 R13"), "{code}");
    }
}
