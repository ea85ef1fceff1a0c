//! The one table of units: exact factors, spellings people type, and what each unit system shows.
//!
//! The web client's table is generated from this one (`joulethesis units`), so a unit has a single definition.

use serde::Serialize;

/// International pound in kilograms, exact (international yard and pound agreement, 1959).
pub const POUND_KG: f64 = 0.453_592_37;
/// International foot in metres, exact.
pub const FOOT_M: f64 = 0.3048;
/// Standard gravity in m/s2, exact (CGPM 1901).
pub const STANDARD_GRAVITY_M_S2: f64 = 9.806_65;
/// Mechanical horsepower in watts: 550 ft lbf/s, from the exact constants above.
pub const HORSEPOWER_W: f64 = 550.0 * FOOT_M * POUND_KG * STANDARD_GRAVITY_M_S2;
/// Kilometres an hour in one m/s.
pub const KMH_PER_M_S: f64 = 3.6;
/// rad/s of one revolution a minute.
pub const RAD_S_PER_RPM: f64 = std::f64::consts::PI / 30.0;

/// A unit: `base = value * factor + offset`.
#[derive(Debug, Clone, Copy, Serialize)]
pub struct Unit {
    /// Symbol shown beside figures.
    pub symbol: &'static str,
    /// What it measures; units of one dimension convert into each other.
    pub dimension: &'static str,
    /// Size in the dimension's first listed unit.
    pub factor: f64,
    /// Added after scaling (temperatures only).
    pub offset: f64,
    /// Other spellings accepted when typed, lower case.
    pub aliases: &'static [&'static str],
}

const fn unit(symbol: &'static str, dimension: &'static str, factor: f64, aliases: &'static [&'static str]) -> Unit {
    Unit { symbol, dimension, factor, offset: 0.0, aliases }
}

const INCH_M: f64 = FOOT_M / 12.0;
const MILE_M: f64 = FOOT_M * 5280.0;
const POUND_FORCE_N: f64 = POUND_KG * STANDARD_GRAVITY_M_S2;

/// Every unit the product knows; the first of a dimension is its base.
pub const UNITS: &[Unit] = &[
    unit("kg", "mass", 1.0, &["kgs", "kilo", "kilos"]),
    unit("g", "mass", 1e-3, &["gram", "grams"]),
    unit("t", "mass", 1e3, &["tonne", "tonnes"]),
    unit("lb", "mass", POUND_KG, &["lbs", "pound", "pounds"]),
    unit("oz", "mass", POUND_KG / 16.0, &[]),
    unit("m", "length", 1.0, &["metre", "metres", "meter"]),
    unit("mm", "length", 1e-3, &[]),
    unit("cm", "length", 1e-2, &[]),
    unit("in", "length", INCH_M, &["\"", "inch", "inches"]),
    unit("ft", "length", FOOT_M, &["'", "foot", "feet"]),
    unit("km", "distance", 1.0, &["kms"]),
    unit("mi", "distance", MILE_M / 1000.0, &["mile", "miles"]),
    unit("km/h", "speed", 1.0, &["kmh", "kph", "kmph"]),
    unit("mph", "speed", MILE_M / 1000.0, &[]),
    unit("m/s", "speed", KMH_PER_M_S, &["mps"]),
    unit("kn", "speed", 1.852, &["knot", "knots", "kt"]),
    unit("m²", "area", 1.0, &["m2", "sqm"]),
    unit("ft²", "area", FOOT_M * FOOT_M, &["ft2", "sqft"]),
    unit("W", "power", 1.0, &["watt", "watts"]),
    unit("kW", "power", 1e3, &[]),
    unit("hp", "power", HORSEPOWER_W, &["bhp", "horsepower"]),
    unit("PS", "power", 75.0 * STANDARD_GRAVITY_M_S2, &["cv"]),
    unit("kWh", "energy", 1.0, &[]),
    unit("Wh", "energy", 1e-3, &[]),
    unit("MJ", "energy", 1.0 / 3.6, &[]),
    unit("Wh/km", "energy_per_distance", 1.0, &[]),
    unit("Wh/mi", "energy_per_distance", 1000.0 / MILE_M, &[]),
    unit("kWh/100km", "energy_per_distance", 10.0, &[]),
    unit("N·m", "torque", 1.0, &["nm", "n.m"]),
    unit("lb·ft", "torque", POUND_FORCE_N * FOOT_M, &["lbft", "ftlb", "lb-ft", "ft-lb", "lbf·ft"]),
    unit("kgf·m", "torque", STANDARD_GRAVITY_M_S2, &["kgm", "kgfm"]),
    unit("N", "force", 1.0, &["newton"]),
    unit("kN", "force", 1e3, &[]),
    unit("lbf", "force", POUND_FORCE_N, &[]),
    unit("rpm", "rotation", 1.0, &["1/min", "rev/min", "r/min"]),
    unit("rad/s", "rotation", 1.0 / RAD_S_PER_RPM, &[]),
    unit("V", "voltage", 1.0, &["volt", "volts"]),
    unit("mV", "voltage", 1e-3, &[]),
    unit("A", "current", 1.0, &["amp", "amps"]),
    unit("mA", "current", 1e-3, &[]),
    unit("Ω", "resistance", 1.0, &["ohm", "ohms"]),
    unit("mΩ", "resistance", 1e-3, &["mohm", "mohms", "milliohm"]),
    unit("Ah", "charge", 1.0, &[]),
    unit("mAh", "charge", 1e-3, &[]),
    unit("s", "time", 1.0, &["sec", "seconds"]),
    unit("min", "time", 60.0, &["minutes"]),
    unit("h", "hours", 1.0, &["hr", "hour", "hours"]),
    unit("min", "hours", 1.0 / 60.0, &["minutes"]),
    unit("%", "percent", 1.0, &["percent"]),
    Unit { symbol: "°C", dimension: "temperature", factor: 1.0, offset: 0.0, aliases: &["c", "degc"] },
    Unit { symbol: "°F", dimension: "temperature", factor: 5.0 / 9.0, offset: -160.0 / 9.0, aliases: &["f", "degf"] },
    Unit { symbol: "K", dimension: "temperature", factor: 1.0, offset: -273.15, aliases: &["kelvin"] },
];

/// Units a conversion is shown in.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum UnitSystem {
    /// Kilometres, kilograms, kilowatts.
    #[default]
    Metric,
    /// Miles, pounds, horsepower.
    Imperial,
    /// Miles on the road, kilograms and newton metres on the bench, inches for wheels.
    Mix,
}

/// What each unit system shows for a dimension: (dimension, metric, imperial, shop mix).
/// The shop mix is what island workshops write down: miles on the road, kilograms and newton metres on the bench,
/// inches for wheels.
pub const SYSTEMS: &[(&str, &str, &str, &str)] = &[
    ("mass", "kg", "lb", "kg"),
    ("length", "m", "in", "in"),
    ("distance", "km", "mi", "mi"),
    ("speed", "km/h", "mph", "mph"),
    ("area", "m²", "ft²", "m²"),
    ("power", "kW", "hp", "kW"),
    ("energy", "kWh", "kWh", "kWh"),
    ("energy_per_distance", "Wh/km", "Wh/mi", "Wh/mi"),
    ("torque", "N·m", "lb·ft", "N·m"),
    ("force", "kN", "lbf", "kN"),
    ("temperature", "°C", "°F", "°C"),
];

/// Converts `value` from one unit to another of the same dimension, or `None` when they do not belong together.
///
/// ```
/// use joulethesis_core::quantity::units::convert;
/// assert!((convert(31.0, "in", "m").unwrap() - 0.7874).abs() < 1e-12);
/// assert_eq!(convert(1.0, "hp", "kg"), None);
/// ```
#[must_use]
pub fn convert(value: f64, from: &str, to: &str) -> Option<f64> {
    UNITS.iter().filter(|u| u.symbol == from).find_map(|a| {
        let b = UNITS.iter().find(|u| u.symbol == to && u.dimension == a.dimension)?;
        Some((value * a.factor + a.offset - b.offset) / b.factor)
    })
}
