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

/// A unit: `base = value * factor + offset`, or `base = factor / value` for one that counts the other way round (distance on a fuel).
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
    /// Whether it counts the other way round than the base.
    pub inverse: bool,
    /// Other spellings accepted when typed, lower case.
    pub aliases: &'static [&'static str],
}

const fn unit(symbol: &'static str, dimension: &'static str, factor: f64, aliases: &'static [&'static str]) -> Unit {
    Unit { symbol, dimension, factor, offset: 0.0, inverse: false, aliases }
}

const fn inverse(symbol: &'static str, factor: f64, aliases: &'static [&'static str]) -> Unit {
    Unit { symbol, dimension: "fuel", factor, offset: 0.0, inverse: true, aliases }
}

const fn temperature(symbol: &'static str, factor: f64, offset: f64, aliases: &'static [&'static str]) -> Unit {
    Unit { symbol, dimension: "temperature", factor, offset, inverse: false, aliases }
}

/// US gallon (231 cubic inches) and imperial gallon in litres, both exact.
const US_GALLON_L: f64 = 231.0 * INCH_M * INCH_M * INCH_M * 1000.0;
const IMPERIAL_GALLON_L: f64 = 4.546_09;

const INCH_M: f64 = FOOT_M / 12.0;
const MILE_M: f64 = FOOT_M * 5280.0;
/// Kilometres of a mile, exact.
pub const MILE_KM: f64 = MILE_M / 1000.0;
/// Pressure of an inch of mercury at 0 degC, kPa (NIST SP 811, appendix B.8).
const INCH_OF_MERCURY_KPA: f64 = 3.386_39;
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
    unit("mi", "distance", MILE_KM, &["mile", "miles"]),
    unit("km/h", "speed", 1.0, &["kmh", "kph", "kmph"]),
    unit("mph", "speed", MILE_KM, &[]),
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
    unit("Ω", "resistor", 1.0, &["ohm", "ohms"]),
    unit("kΩ", "resistor", 1e3, &["kohm"]),
    unit("Ah", "charge", 1.0, &[]),
    unit("mAh", "charge", 1e-3, &[]),
    unit("s", "time", 1.0, &["sec", "seconds"]),
    unit("min", "time", 60.0, &["minutes"]),
    unit("h", "hours", 1.0, &["hr", "hour", "hours"]),
    unit("min", "hours", 1.0 / 60.0, &["minutes"]),
    unit("%", "percent", 1.0, &["percent"]),
    // Heights and ways are told in feet where a wheel is told in inches.
    unit("m", "height", 1.0, &["metre", "metres", "meter"]),
    unit("ft", "height", FOOT_M, &["'", "foot", "feet"]),
    unit("km", "height", 1000.0, &[]),
    // What is machined and bought is told in millimetres where a wheelbase is told in metres.
    unit("mm", "machined", 1.0, &[]),
    unit("cm", "machined", 10.0, &[]),
    unit("m", "machined", 1000.0, &["metre", "metres", "meter"]),
    unit("in", "machined", 1000.0 * INCH_M, &["\"", "inch", "inches"]),
    // What flows in wires is told in watts where a shaft is told in horsepower.
    unit("W", "electric_power", 1.0, &["watt", "watts"]),
    unit("kW", "electric_power", 1e3, &[]),
    unit("W", "load", 1.0, &["watt", "watts"]),
    unit("kW", "load", 1e3, &[]),
    unit("N", "drag", 1.0, &["newton"]),
    unit("lbf", "drag", POUND_FORCE_N, &[]),
    unit("m/s²", "acceleration", 1.0, &["m/s2", "m/s/s"]),
    unit("ft/s²", "acceleration", FOOT_M, &["ft/s2", "ft/s/s"]),
    unit("g", "acceleration", STANDARD_GRAVITY_M_S2, &[]),
    unit("kPa", "pressure", 1.0, &["kpa"]),
    unit("inHg", "pressure", INCH_OF_MERCURY_KPA, &["in hg", "inhg"]),
    unit("mmHg", "pressure", INCH_OF_MERCURY_KPA / 25.4, &["torr"]),
    unit("bar", "pressure", 100.0, &[]),
    unit("mbar", "pressure", 0.1, &["hpa"]),
    unit("psi", "pressure", POUND_FORCE_N / (INCH_M * INCH_M) / 1000.0, &[]),
    unit("1/km", "per_distance", 1.0, &["/km"]),
    unit("1/mi", "per_distance", 1000.0 / MILE_M, &["/mi", "/mile", "a mile", "per mile"]),
    unit("kg/m³", "density", 1.0, &["kg/m3"]),
    unit("lb/ft³", "density", POUND_KG / (FOOT_M * FOOT_M * FOOT_M), &["lb/ft3"]),
    unit("l/100 km", "fuel", 1.0, &["l/100", "l"]),
    inverse("mpg", 100.0 * US_GALLON_L / MILE_KM, &["mpg us", "mpgus", "us mpg"]),
    inverse("mpg imp", 100.0 * IMPERIAL_GALLON_L / MILE_KM, &["mpg uk", "mpgimp", "imp mpg", "uk mpg"]),
    inverse("km/l", 100.0, &["kml", "kmpl"]),
    temperature("°C", 1.0, 0.0, &["c", "degc"]),
    temperature("°F", 5.0 / 9.0, -160.0 / 9.0, &["f", "degf"]),
    temperature("K", 1.0, -273.15, &["kelvin"]),
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
    ("height", "m", "ft", "ft"),
    ("electric_power", "kW", "kW", "kW"),
    ("load", "W", "W", "W"),
    ("drag", "N", "lbf", "N"),
    ("acceleration", "m/s²", "ft/s²", "m/s²"),
    ("per_distance", "1/km", "1/mi", "1/mi"),
    ("density", "kg/m³", "lb/ft³", "kg/m³"),
    ("fuel", "l/100 km", "mpg", "mpg imp"),
    ("temperature", "°C", "°F", "°C"),
    ("pressure", "kPa", "inHg", "inHg"),
    ("resistor", "Ω", "Ω", "Ω"),
    ("machined", "mm", "in", "mm"),
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
        let base = if a.inverse { a.factor / value } else { value * a.factor + a.offset };
        Some(if b.inverse { b.factor / base } else { (base - b.offset) / b.factor })
    })
}

/// Copper section of an American wire gauge, mm2: `d = 0.127 mm x 92^((36 - n) / 39)`, with n = 0, -1, -2, -3 for 1/0 to 4/0 (ASTM B258).
///
/// ```
/// use joulethesis_core::quantity::units::wire_gauge_mm2;
/// assert!((wire_gauge_mm2(0) - 53.475).abs() < 0.01 && (wire_gauge_mm2(12) - 3.309).abs() < 1e-3);
/// ```
#[must_use]
pub fn wire_gauge_mm2(gauge: i32) -> f64 {
    let diameter_mm = 0.127 * 92f64.powf((36.0 - f64::from(gauge)) / 39.0);
    std::f64::consts::FRAC_PI_4 * diameter_mm * diameter_mm
}

/// Gauges that a conversion is wired with, as they are written: (gauge, name).
pub const WIRE_GAUGES: &[(i32, &str)] = &[
    (-3, "4/0"),
    (-2, "3/0"),
    (-1, "2/0"),
    (0, "1/0"),
    (1, "1"),
    (2, "2"),
    (4, "4"),
    (6, "6"),
    (8, "8"),
    (10, "10"),
    (12, "12"),
    (14, "14"),
    (16, "16"),
    (18, "18"),
    (20, "20"),
];
