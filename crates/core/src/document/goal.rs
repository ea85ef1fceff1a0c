//! Goals: what is measured, what is asked of it, and how binding it is.

use serde::{Deserialize, Serialize};

use crate::error::{Problem, Problems};
use crate::quantity::join;
use crate::quantity::units::{HORSEPOWER_W, MILE_KM, POUND_KG};

use super::Brief;
use super::brief::rising;

/// One goal of the brief.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Goal {
    /// Stable identifier within the brief.
    pub id: String,
    /// Name shown; made from the measure when empty.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// A must, or a wish.
    #[serde(default)]
    pub level: GoalLevel,
    /// Weight among the wishes.
    #[serde(default = "one")]
    pub weight: f64,
    /// Whether the program assumed it because nobody had said; no figure depends on it.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub assumed: bool,
    /// What is measured, and what is asked of it.
    pub measure: Measure,
}

fn one() -> f64 {
    1.0
}

/// How binding a goal is.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum GoalLevel {
    /// The conversion has failed without it.
    #[default]
    Required,
    /// Good to have.
    Wanted,
}

/// What a goal measures.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum Measure {
    /// Range when a trip is repeated.
    Range {
        /// Trip or schedule id.
        trip: String,
        /// km.
        at_least_km: f64,
    },
    /// Energy at the battery terminals per distance on a trip.
    EnergyUse {
        /// Trip or schedule id.
        trip: String,
        /// Wh/km.
        at_most_wh_per_km: f64,
    },
    /// Top speed on the level.
    TopSpeed {
        /// km/h.
        at_least_kmh: f64,
    },
    /// Top speed on the level that must not be exceeded: a learner's vehicle, a licence class.
    SpeedLimit {
        /// km/h.
        at_most_kmh: f64,
    },
    /// Power that must not be exceeded.
    PowerLimit {
        /// W, all motors together.
        at_most_w: f64,
        /// Whether it is the motor's continuous rating that counts, as licence classes count (UN R85), and not the greatest power that
        /// reaches its shaft.
        #[serde(default)]
        rated: bool,
    },
    /// Time between two speeds.
    Acceleration {
        /// km/h.
        from_kmh: f64,
        /// km/h.
        to_kmh: f64,
        /// s.
        at_most_s: f64,
    },
    /// Steepest grade it can start on.
    HillStart {
        /// Percent.
        at_least_percent: f64,
    },
    /// Steepest grade at a speed.
    HillAtSpeed {
        /// km/h.
        speed_kmh: f64,
        /// Percent.
        at_least_percent: f64,
        /// Whether it must be held continuously, on continuous ratings.
        #[serde(default)]
        continuous: bool,
        /// Whether it must be held for ten minutes from warm, as far as heat allows.
        #[serde(default)]
        ten_minutes: bool,
    },
    /// Hours to fill the usable window at a socket.
    ChargeTime {
        /// Socket id.
        socket: String,
        /// h.
        at_most_h: f64,
    },
    /// Parts bought less parts sold.
    Cost {
        /// In the brief's currency.
        at_most: f64,
    },
    /// Mass added over the donor as it stood.
    AddedMass {
        /// kg.
        at_most_kg: f64,
    },
}

impl Measure {
    /// The trip or schedule it speaks of.
    #[must_use]
    pub fn trip(&self) -> Option<&str> {
        match self {
            Self::Range { trip, .. } | Self::EnergyUse { trip, .. } => Some(trip),
            _ => None,
        }
    }

    /// The figure asked for, in the unit of its key.
    #[must_use]
    pub fn target(&self) -> f64 {
        match *self {
            Self::Range { at_least_km: x, .. }
            | Self::EnergyUse { at_most_wh_per_km: x, .. }
            | Self::TopSpeed { at_least_kmh: x }
            | Self::SpeedLimit { at_most_kmh: x }
            | Self::PowerLimit { at_most_w: x, .. }
            | Self::Acceleration { at_most_s: x, .. }
            | Self::HillStart { at_least_percent: x }
            | Self::HillAtSpeed { at_least_percent: x, .. }
            | Self::ChargeTime { at_most_h: x, .. }
            | Self::Cost { at_most: x }
            | Self::AddedMass { at_most_kg: x } => x,
        }
    }

    /// Words for what is measured, as a form offers it.
    #[must_use]
    pub fn word(&self) -> &'static str {
        match self {
            Self::Range { .. } => "Range on a trip",
            Self::EnergyUse { .. } => "Energy use on a trip",
            Self::TopSpeed { .. } => "Top speed",
            Self::SpeedLimit { .. } => "Top speed, limited",
            Self::PowerLimit { .. } => "Power, limited",
            Self::Acceleration { .. } => "Time between two speeds",
            Self::HillStart { .. } => "Start on a hill",
            Self::HillAtSpeed { .. } => "Hill at a speed",
            Self::ChargeTime { .. } => "Charged within hours",
            Self::Cost { .. } => "Cost",
            Self::AddedMass { .. } => "Added mass",
        }
    }

    /// A first guess at what is asked, of each kind in the order in which a form offers them: round figures in metric units, and in
    /// imperial ones. The trip and the socket are left open.
    #[must_use]
    pub fn first_guesses() -> [[Self; 2]; 11] {
        let (trip, socket) = (String::new, String::new);
        [
            [60.0, 40.0 * MILE_KM].map(|at_least_km| Self::Range { trip: trip(), at_least_km }),
            [160.0, 250.0 / MILE_KM].map(|at_most_wh_per_km| Self::EnergyUse { trip: trip(), at_most_wh_per_km }),
            [80.0, 50.0 * MILE_KM].map(|at_least_kmh| Self::TopSpeed { at_least_kmh }),
            [25.0, 15.0 * MILE_KM].map(|at_most_kmh| Self::SpeedLimit { at_most_kmh }),
            [4000.0, 5.0 * HORSEPOWER_W].map(|at_most_w| Self::PowerLimit { at_most_w, rated: false }),
            [50.0, 30.0 * MILE_KM].map(|to_kmh| Self::Acceleration { from_kmh: 0.0, to_kmh, at_most_s: 10.0 }),
            [15.0, 15.0].map(|at_least_percent| Self::HillStart { at_least_percent }),
            [30.0, 20.0 * MILE_KM].map(|speed_kmh| Self::HillAtSpeed {
                speed_kmh,
                at_least_percent: 10.0,
                continuous: true,
                ten_minutes: false,
            }),
            [8.0, 8.0].map(|at_most_h| Self::ChargeTime { socket: socket(), at_most_h }),
            [8000.0, 8000.0].map(|at_most| Self::Cost { at_most }),
            [100.0, 200.0 * POUND_KG].map(|at_most_kg| Self::AddedMass { at_most_kg }),
        ]
    }
}

/// Goals of a brief: each an id of its own, and nothing spoken of that is not there. `trips` are the ids of trips and schedules.
pub(super) fn check_goals(brief: &Brief, trips: &[&str], path: &str, problems: &mut Problems) {
    let at = |key: String| join(path, &key);
    for (i, goal) in brief.goals.iter().enumerate() {
        let here = at(format!("goals[{i}]"));
        if goal.id.trim().is_empty() || brief.goals[..i].iter().any(|g| g.id == goal.id) {
            problems.push(Problem::new(format!("{here}.id"), format!("\"{}\"", goal.id), "every goal needs its own id"));
        }
        match &goal.measure {
            Measure::Range { trip, .. } | Measure::EnergyUse { trip, .. } if !trips.contains(&trip.as_str()) => {
                problems.push(Problem::new(
                    format!("{here}.measure.trip"),
                    format!("\"{trip}\""),
                    format!("known trips and schedules are: {}", trips.join(", ")),
                ));
            }
            Measure::Acceleration { from_kmh, to_kmh, .. } => rising(*from_kmh, *to_kmh, &format!("{here}.measure"), problems),
            Measure::ChargeTime { socket, .. } if !brief.sockets.iter().any(|s| s.id == *socket) => {
                let known: Vec<&str> = brief.sockets.iter().map(|s| s.id.as_str()).collect();
                problems.push(Problem::new(
                    format!("{here}.measure.socket"),
                    format!("\"{socket}\""),
                    format!("known sockets are: {}", known.join(", ")),
                ));
            }
            _ => {}
        }
    }
}
