//! What cold does to cells.

use crate::library::Chemistry;

/// Points (degC, capacity share, resistance factor) of a chemistry, relative to its data sheet at 25 degC.
///
/// Between 15 and 35 degC the data sheet is taken as it stands. Common practice; single cells differ by a quarter either way.
fn table(chemistry: Chemistry) -> [(f64, f64, f64); 4] {
    match chemistry {
        Chemistry::LeadFlooded | Chemistry::LeadAgm => [(-20.0, 0.55, 2.0), (0.0, 0.82, 1.4), (15.0, 1.0, 1.0), (35.0, 1.0, 1.0)],
        Chemistry::Lfp => [(-20.0, 0.60, 4.5), (0.0, 0.86, 2.0), (15.0, 1.0, 1.0), (35.0, 1.0, 1.0)],
        Chemistry::Nmc | Chemistry::Lmo | Chemistry::Lipo => [(-20.0, 0.70, 4.0), (0.0, 0.90, 1.8), (15.0, 1.0, 1.0), (35.0, 1.0, 1.0)],
        Chemistry::Lto => [(-20.0, 0.88, 2.0), (0.0, 0.95, 1.4), (15.0, 1.0, 1.0), (35.0, 1.0, 1.0)],
        Chemistry::Nimh => [(-20.0, 0.60, 3.0), (0.0, 0.85, 1.6), (15.0, 1.0, 1.0), (35.0, 1.0, 1.0)],
    }
}

/// Capacity share and resistance factor at a cell temperature, linear between the points and level beyond them; what they take and add
/// times `cold`.
#[must_use]
pub fn factors(chemistry: Chemistry, celsius: f64, cold: f64) -> (f64, f64) {
    let (share, factor) = usual(chemistry, celsius);
    ((1.0 - cold * (1.0 - share)).max(LEAST_SHARE), 1.0 + cold * (factor - 1.0))
}

/// Least share of the capacity that any cold leaves.
const LEAST_SHARE: f64 = 0.1;

fn usual(chemistry: Chemistry, celsius: f64) -> (f64, f64) {
    let points = table(chemistry);
    let celsius = celsius.clamp(points[0].0, points[3].0);
    for pair in points.windows(2) {
        let (a, b) = (pair[0], pair[1]);
        if celsius <= b.0 {
            let share = (celsius - a.0) / (b.0 - a.0);
            return (a.1 + share * (b.1 - a.1), a.2 + share * (b.2 - a.2));
        }
    }
    (points[3].1, points[3].2)
}

/// Share of the charge rate that may be used at a cell temperature: lithium takes none at and below 0 degC, where metal plates
/// out, and all of it from 10 degC; titanate takes charge down to -20 degC (common practice).
#[must_use]
pub fn charge_share(chemistry: Chemistry, celsius: f64) -> f64 {
    let (none, whole) = match chemistry {
        Chemistry::Lto => (-30.0, -20.0),
        c if c.is_lithium() => (0.0, 10.0),
        _ => (-20.0, 0.0),
    };
    ((celsius - none) / (whole - none)).clamp(0.0, 1.0)
}
