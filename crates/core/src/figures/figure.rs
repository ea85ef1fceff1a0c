//! What a headline figure is: which one a goal is judged by, how it is named and what it is worth. All that a new one needs here.

use serde::Serialize;

use super::evaluator::Evaluator;
use super::{cost, performance, trips};
use crate::charge::charge;
use crate::document::{Document, Measure};
use crate::error::Result;
use crate::powertrain::Rating;
use crate::quantity::sentence;
use crate::quantity::units::KMH_PER_M_S;
use crate::quantity::{Sentence, figure};
use crate::simulate::{hill_at_speed, hill_start, quickest_s};

/// One headline figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Figure {
    /// Identifier: `trip.ID.range_km`, `trip.ID.wh_per_km`, `top_speed_kmh`, `speed_limit`,
    /// `power_limit.peak`, `power_limit.rated`, `acceleration.0-50`, `hill_start`, `hill.KMH.peak`,
    /// `charge.SOCKET`, `cost`, `added_mass`.
    pub id: String,
    /// Name shown.
    pub name: Sentence,
    /// Unit it is stored in.
    pub unit: &'static str,
    /// Whether more is better.
    pub more_is_better: bool,
}

/// How a figure is computed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum FigureKind {
    Range(usize),
    Energy(usize),
    TopSpeed,
    /// The same as a limit: less is better.
    SpeedLimit,
    /// Power as a limit; of the motors' rating, or the greatest at their shafts.
    PowerLimit(bool),
    Acceleration(f64, f64),
    HillStart,
    Hill(f64, Duty),
    Charge(usize),
    Cost,
    AddedMass,
}

/// Duty a hill is climbed at.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Duty {
    Peak,
    TenMinutes,
    Continuous,
}

impl Duty {
    /// Duty of a hill goal.
    pub(crate) fn of(continuous: bool, ten_minutes: bool) -> Self {
        match (continuous, ten_minutes) {
            (true, _) => Self::Continuous,
            (false, true) => Self::TenMinutes,
            (false, false) => Self::Peak,
        }
    }
}

/// Name of the time between two speeds.
pub(crate) fn speeds(from_kmh: f64, to_kmh: f64) -> Sentence {
    // A start from standing needs no unit, and "0" is the same in all of them.
    let from = if from_kmh == 0.0 { "0".into() } else { figure(from_kmh, "km/h", 0) };
    sentence!("{} to {}", from, figure(to_kmh, "km/h", 0))
}

/// Name of the grade climbed at a speed; `duty` follows it.
pub(crate) fn hill_at(kmh: f64, duty: &str) -> Sentence {
    sentence!("Hill at {}{}", figure(kmh, "km/h", 0), duty)
}

impl FigureKind {
    /// What a goal of a checked document is judged by.
    pub(crate) fn of(document: &Document, measure: &Measure) -> Self {
        let trip = |id: &str| trips::names(document).position(|(own, _)| own == id).unwrap_or_default();
        match measure {
            Measure::Range { trip: id, .. } => Self::Range(trip(id)),
            Measure::EnergyUse { trip: id, .. } => Self::Energy(trip(id)),
            Measure::TopSpeed { .. } => Self::TopSpeed,
            Measure::SpeedLimit { .. } => Self::SpeedLimit,
            Measure::PowerLimit { rated, .. } => Self::PowerLimit(*rated),
            Measure::Acceleration { from_kmh, to_kmh, .. } => Self::Acceleration(*from_kmh, *to_kmh),
            Measure::HillStart { .. } => Self::HillStart,
            Measure::HillAtSpeed { speed_kmh, continuous, ten_minutes, .. } => Self::Hill(*speed_kmh, Duty::of(*continuous, *ten_minutes)),
            Measure::ChargeTime { socket, .. } => {
                Self::Charge(document.brief.sockets.iter().position(|s| s.id == *socket).unwrap_or_default())
            }
            Measure::Cost { .. } => Self::Cost,
            Measure::AddedMass { .. } => Self::AddedMass,
        }
    }

    /// Its identifier, name, unit and direction.
    pub(crate) fn figure(self, document: &Document) -> Figure {
        let trip = |i: usize| trips::names(document).nth(i).unwrap_or_default();
        let figure = |id: String, name: Sentence, unit, more_is_better| Figure { id, name, unit, more_is_better };
        match self {
            Self::Range(i) => figure(format!("trip.{}.range_km", trip(i).0), sentence!("Range, {}", trip(i).1), "km", true),
            Self::Energy(i) => figure(format!("trip.{}.wh_per_km", trip(i).0), sentence!("Energy use, {}", trip(i).1), "Wh/km", false),
            Self::TopSpeed => figure("top_speed_kmh".to_owned(), "Top speed".into(), "km/h", true),
            Self::SpeedLimit => figure("speed_limit".to_owned(), "Top speed, limited".into(), "km/h", false),
            Self::PowerLimit(false) => figure("power_limit.peak".to_owned(), "Greatest power, limited".into(), "W", false),
            Self::PowerLimit(true) => figure("power_limit.rated".to_owned(), "Rated power, limited".into(), "W", false),
            Self::Acceleration(from, to) => figure(format!("acceleration.{from}-{to}"), speeds(from, to), "s", false),
            Self::HillStart => figure("hill_start".to_owned(), "Hill start".into(), "%", true),
            Self::Hill(kmh, duty) => {
                let (id, words) = match duty {
                    Duty::Peak => ("peak", ""),
                    Duty::TenMinutes => ("ten_minutes", ", ten minutes"),
                    Duty::Continuous => ("continuous", ", continuous"),
                };
                figure(format!("hill.{kmh}.{id}"), hill_at(kmh, words), "%", true)
            }
            Self::Charge(i) => {
                let (id, name) = document.brief.sockets.get(i).map_or(("", ""), |s| (&s.id, &s.name));
                figure(format!("charge.{id}"), sentence!("Charged, {}", name), "h", false)
            }
            Self::Cost => figure("cost".to_owned(), "Cost".into(), "money", false),
            Self::AddedMass => figure("added_mass".to_owned(), "Added mass".into(), "kg", false),
        }
    }

    /// Its value; infinite (or minus infinite where more is better) for what is never reached.
    pub(super) fn value(self, of: &mut Evaluator<'_>) -> Result<f64> {
        let (document, point) = (of.document, of.point);
        let (chain, soc) = (&point.chain, point.soc);
        Ok(match self {
            Self::Range(i) => of.trip(i)?.range_km,
            Self::Energy(i) => of.trip(i)?.wh_per_km,
            Self::TopSpeed | Self::SpeedLimit => of.top().speed_m_s * KMH_PER_M_S,
            Self::PowerLimit(false) => performance::greatest_shaft_w(chain, of.peak()),
            Self::PowerLimit(true) => performance::rated_w(document),
            Self::Acceleration(from, to) => quickest_s(&mut of.pulls, from / KMH_PER_M_S, to / KMH_PER_M_S).unwrap_or(f64::INFINITY),
            Self::HillStart => hill_start(chain, soc).grade_percent,
            Self::Hill(kmh, duty) => {
                let rating = match duty {
                    Duty::Peak => Rating::Peak,
                    Duty::Continuous => Rating::Continuous,
                    Duty::TenMinutes => {
                        let warm_m_s = performance::warm_kmh(document, of.top().speed_m_s * KMH_PER_M_S) / KMH_PER_M_S;
                        performance::ten_minutes(performance::level_rise(chain, soc, warm_m_s))
                    }
                };
                hill_at_speed(chain, soc, kmh / KMH_PER_M_S, rating).grade_percent
            }
            Self::Charge(i) => {
                let window = charge(document, &chain.pack, &document.brief.sockets[i], chain.pack.soc_min, chain.pack.soc_max);
                window.and_then(|w| w.hours_h).unwrap_or(f64::INFINITY)
            }
            Self::Cost => cost(document).net,
            Self::AddedMass => point.masses.change_kg,
        })
    }

    /// Whether a trip has to be driven for it.
    pub(crate) fn is_of_trip(self) -> bool {
        matches!(self, Self::Range(_) | Self::Energy(_))
    }

    /// How much work it takes, against the others: less first.
    pub(crate) fn work(self) -> u8 {
        match self {
            Self::Cost | Self::AddedMass | Self::PowerLimit(true) => 0,
            Self::HillStart | Self::Hill(_, Duty::Peak | Duty::Continuous) => 1,
            Self::Charge(_) => 2,
            // A hill over ten minutes begins as warm as the top speed makes it.
            Self::TopSpeed | Self::SpeedLimit | Self::PowerLimit(false) | Self::Hill(_, Duty::TenMinutes) => 3,
            Self::Acceleration(..) => 4,
            Self::Range(_) | Self::Energy(_) => 5,
        }
    }

    /// Whether it is known without the chain being built.
    pub(crate) fn is_known_at_once(self) -> bool {
        matches!(self, Self::Cost | Self::AddedMass | Self::Charge(_))
    }

    /// What a gap to a target is told as a share of: the target, or what counts as a step of its kind where the target is near zero
    /// (judgement).
    pub(crate) fn scale(self, target: f64) -> f64 {
        let least = match self {
            Self::Range(_) | Self::TopSpeed | Self::SpeedLimit | Self::HillStart | Self::Hill(..) => 1.0,
            Self::PowerLimit(_) => 100.0,
            Self::Energy(_) => 10.0,
            Self::Acceleration(..) => 0.5,
            Self::Charge(_) => 0.25,
            Self::Cost => 1000.0,
            Self::AddedMass => 50.0,
        };
        target.abs().max(least)
    }
}
