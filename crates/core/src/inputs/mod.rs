//! Every uncertain input of a design: where it stands, how far it is trusted, and what would settle it.

use serde::Serialize;

use crate::document::Document;
use crate::quantity::{Provenance, Source, Sources};

/// A measurement people can make in a workshop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Measurement {
    /// Weigh the vehicle.
    Weigh,
    /// Coast it down in both directions.
    CoastDown,
    /// Roll it one wheel turn and measure the way.
    RollOut,
    /// Put the motor on the bench.
    BenchMotor,
    /// Log the controller's amps and volts.
    LogController,
    /// Discharge a module and note its amp-hours and its sag.
    TestCells,
    /// Meter the charger at the socket.
    MeterCharger,
    /// Meter what the 12 V side and the heater draw.
    MeterLoads,
    /// Note the first drives: how much braking comes back.
    LogDrive,
    /// Ask for written offers.
    AskPrices,
}

impl Measurement {
    /// Words for people.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Weigh => "weigh it",
            Self::CoastDown => "coast it down",
            Self::RollOut => "roll out one wheel turn",
            Self::BenchMotor => "bench the motor",
            Self::LogController => "log the controller",
            Self::TestCells => "test a module's capacity and sag",
            Self::MeterCharger => "meter the charger",
            Self::MeterLoads => "meter the 12 V side and the heater",
            Self::LogDrive => "log a first drive",
            Self::AskPrices => "get written offers",
        }
    }
}

/// How a spread acts on a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Shape {
    /// Either side alike.
    Value,
    /// What sellers overstate: from them the truth lies between 60 % and 100 %.
    Claim,
    /// A loss: half again as wide as the spread of a value.
    Loss,
}

/// One uncertain input.
pub(crate) struct InputDefinition {
    /// Path of the value in the document.
    pub(crate) path: &'static str,
    pub(crate) label: &'static str,
    pub(crate) measurement: Measurement,
    pub(crate) shape: Shape,
    /// Provenance of a value that states none.
    pub(crate) usual: Provenance,
    /// Half-width of the usual provenance where it is not the general one.
    pub(crate) usual_spread: Option<f64>,
    /// Record it stands in and its key there.
    pub(crate) source: fn(&Document) -> Option<(&Sources, &'static str)>,
    /// Multiplies the value (or the loss).
    pub(crate) apply: fn(&mut Document, f64),
}

/// Whether a record calls the value of a key a seller's claim.
fn is_claimed(sources: &Sources, key: &str) -> bool {
    sources.get(key).is_some_and(|s| s.from == Provenance::Seller)
}

fn lossy(efficiency: &mut f64, factor: f64) {
    *efficiency = (1.0 - (1.0 - *efficiency) * factor).clamp(0.05, 1.0);
}

macro_rules! input {
    ($path:expr, $label:literal, $measurement:ident, $shape:ident, $usual:ident, $source:expr, $apply:expr) => {
        input!($path, $label, $measurement, $shape, $usual, None, $source, $apply)
    };
    ($path:expr, $label:literal, $measurement:ident, $shape:ident, $usual:ident, $spread:expr, $source:expr, $apply:expr) => {
        InputDefinition {
            path: $path,
            label: $label,
            measurement: Measurement::$measurement,
            shape: Shape::$shape,
            usual: Provenance::$usual,
            usual_spread: $spread,
            source: $source,
            apply: $apply,
        }
    };
}

mod charging;
mod claimed;
mod loads;
mod parts;
mod sample;
mod strings;
mod trust;
mod vehicle;

pub use sample::SAMPLES;
pub(crate) use sample::{UncertainInput, UncertainInputs};
pub use trust::{Counted, InputTrust, trusted_inputs};

/// All of them, in the order of the chain. The order is part of the sample: it fixes which dimension is whose.
pub(super) fn definitions() -> impl Iterator<Item = &'static InputDefinition> {
    vehicle::DEFINITIONS
        .iter()
        .chain(parts::DEFINITIONS)
        .chain(loads::DEFINITIONS)
        .chain(strings::DEFINITIONS.as_flattened())
        .chain(&claimed::DEFINITIONS)
        .chain(charging::DEFINITIONS)
}

impl InputDefinition {
    /// Provenance and half-width (or width below the claim) of this input in a document; `None` when it plays no part.
    pub(super) fn trust(&self, document: &Document) -> Option<Source> {
        let (sources, key) = (self.source)(document)?;
        let stated = sources.get(key).cloned();
        let from = stated.as_ref().map_or(self.usual, |s| s.from);
        let usual = if stated.is_none() { self.usual_spread } else { None };
        let percent = stated.and_then(|s| s.spread_percent).or(usual.map(|s| 100.0 * s));
        Some(Source { from, spread_percent: Some(percent.unwrap_or_else(|| 100.0 * self.usual_width(from))) })
    }

    fn usual_width(&self, from: Provenance) -> f64 {
        match (from, self.shape) {
            // A seller's word on what is not overstated is as good as a handbook's.
            (Provenance::Seller, Shape::Value | Shape::Loss) => Provenance::Handbook.default_spread(),
            _ => from.default_spread(),
        }
    }
}
