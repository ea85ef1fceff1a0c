//! Vehicles looked at before one is bought, and what a person notes of a vehicle's state.

use serde::{Deserialize, Serialize};

use super::Donor;
use crate::error::{Problem, Problems};
pub use crate::quantity::fields::MOST_CANDIDATES;
use crate::quantity::join;

/// Vehicles that may become the donor, beside the one in hand.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Shortlist {
    /// In the order they were found.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub candidates: Vec<Candidate>,
}

/// One vehicle that may become the donor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Candidate {
    /// Names it among the others, by which changes of two windows are joined.
    pub id: String,
    /// The vehicle as it stands; its price is what is asked for it.
    pub donor: Donor,
}

/// State of a vehicle as a person grades it, 1 (poor) to 5 (as new). Absent: not looked at, counted as middling.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Condition {
    /// Body, frame and floor: rust.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub body: Option<u32>,
    /// Brakes, steering, suspension, gearbox: what stays in.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub running_gear: Option<u32>,
    /// How well parts are to be had.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub spares: Option<u32>,
    /// What was seen.
    #[serde(skip_serializing_if = "String::is_empty")]
    pub seen: String,
}

impl Condition {
    /// Whether nothing is said.
    #[must_use]
    pub(crate) fn is_unsaid(&self) -> bool {
        *self == Self::default()
    }

    /// Mean of the grades that were given; none where nobody looked.
    #[must_use]
    pub fn mean(&self) -> Option<f64> {
        let given: Vec<f64> = [self.body, self.running_gear, self.spares].into_iter().flatten().map(f64::from).collect();
        (!given.is_empty()).then(|| given.iter().sum::<f64>() / given.len() as f64)
    }
}

/// What of a donor works without its engine.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum AlreadyElectric {
    /// Power steering by an electric motor, or none at all.
    Steering,
    /// Brakes that need no vacuum of the engine.
    Brakes,
    /// Heating by electricity or fuel, not by the engine's water.
    Heating,
    /// Compressor of the air conditioning.
    AirConditioning,
    /// Parking brake.
    ParkingBrake,
}

impl AlreadyElectric {
    /// All of them.
    pub const ALL: [Self; 5] = [Self::Steering, Self::Brakes, Self::Heating, Self::AirConditioning, Self::ParkingBrake];

    /// In words.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Steering => "steering",
            Self::Brakes => "brakes",
            Self::Heating => "heating",
            Self::AirConditioning => "air conditioning",
            Self::ParkingBrake => "parking brake",
        }
    }
}

impl Shortlist {
    /// Whether there is none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.candidates.is_empty()
    }

    pub(super) fn check(&self, path: &str, problems: &mut Problems) {
        for (i, candidate) in self.candidates.iter().enumerate() {
            let at = join(path, &format!("candidates[{i}]"));
            let twice = self.candidates[..i].iter().any(|c| c.id == candidate.id);
            if twice || !(1..=40).contains(&candidate.id.chars().count()) {
                let given = format!("\"{}\"", candidate.id);
                problems.push(Problem::new(join(&at, "id"), given, "every candidate needs an id of its own, of up to 40 characters"));
            }
            candidate.donor.check(&join(&at, "donor"), problems);
        }
    }
}
