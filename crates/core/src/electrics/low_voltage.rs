//! The 12 V side: what is drawn by day, at night in rain and in winter, and how long a battery carries it alone.

use serde::Serialize;

use crate::document::LowVoltageLoad;

/// Voltage of a 12 V system while its converter runs, V (common practice).
pub const SYSTEM_V: f64 = 13.8;
/// Power of a converter over what is drawn at most (common practice).
pub const CONVERTER_RESERVE: f64 = 1.2;
/// Voltage at which a 12 V battery alone feeds its loads, V: there they draw most amperes (common practice).
pub const BATTERY_V: f64 = 12.0;
/// Share of its charge that can be used when the converter is dead (common practice).
const USABLE: f64 = 0.5;
/// Converters that are sold, W (common practice).
const CONVERTERS_W: [f64; 10] = [120.0, 200.0, 300.0, 400.0, 500.0, 800.0, 1000.0, 1500.0, 2000.0, 3000.0];

/// A situation of the low-voltage account.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Situation {
    /// `day`, `night` (in rain) or `winter`.
    pub id: &'static str,
    /// Drawn on the mean, W.
    pub mean_w: f64,
    /// All that may be on together, W.
    pub most_w: f64,
    /// Minutes that the auxiliary battery carries it when the converter is dead.
    pub minutes_left: f64,
}

impl Situation {
    /// As people say it after what is drawn.
    #[must_use]
    pub fn words(&self) -> &'static str {
        match self.id {
            "day" => "by day",
            "night" => "at night in rain",
            _ => "in winter",
        }
    }
}

/// Share of the time that a load is on in a situation.
type Duty = fn(&LowVoltageLoad) -> f64;

/// The situations of some loads with a battery.
#[must_use]
pub fn situations(loads: &[LowVoltageLoad], auxiliary_ah: f64) -> [Situation; 3] {
    let duties: [(&'static str, Duty); 3] = [("day", |l| l.day), ("night", |l| l.night), ("winter", |l| l.winter)];
    duties.map(|(id, duty)| {
        let mean_w = loads.iter().map(|l| l.draws_w * duty(l)).sum::<f64>();
        let most_w = loads.iter().filter(|l| duty(l) > 0.0).map(|l| l.draws_w).sum::<f64>();
        let minutes_left = if mean_w > 0.0 { 60.0 * auxiliary_ah * BATTERY_V * USABLE / mean_w } else { f64::INFINITY };
        Situation { id, mean_w, most_w, minutes_left: minutes_left.min(1e5) }
    })
}

/// The least converter that carries a mean with its reserve, W.
#[must_use]
pub fn least_converter_w(mean_w: f64) -> Option<f64> {
    CONVERTERS_W.into_iter().find(|watts| *watts >= CONVERTER_RESERVE * mean_w)
}
