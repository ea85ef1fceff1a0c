//! What the vehicle must do, where, and how it is judged.

use serde::{Deserialize, Serialize};

use crate::error::{Problem, Problems};
use crate::quantity::units::MILE_KM;
use crate::quantity::{Sources, check_name, check_sources, fields, join};

use super::goal::check_goals;
use super::week::check_use;
use super::{Answers, Goal, MatchRequest, Schedule, Season, Socket, Trip, Week, Years};

/// The owner's brief.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Brief {
    /// Goals, each judged.
    pub goals: Vec<Goal>,
    /// What was answered to the first questions; goals and the usual trip were made from it. No figure depends on it.
    #[serde(skip_serializing_if = "Answers::is_empty")]
    pub answers: Answers,
    /// Trips the vehicle makes.
    pub trips: Vec<Trip>,
    /// Regulatory schedules also computed, under the conditions of the site.
    pub schedules: Vec<Schedule>,
    /// Where it is used.
    pub site: Site,
    /// A summer's day, for figures side by side.
    pub summer: Season,
    /// A winter's day, for figures side by side.
    pub winter: Season,
    /// Where it is charged.
    pub sockets: Vec<Socket>,
    /// A usual week. Nothing said: one is assumed, see [`Week::of`].
    #[serde(skip_serializing_if = "Week::is_empty")]
    pub week: Week,
    /// The years it is to serve.
    #[serde(skip_serializing_if = "Years::is_default")]
    pub years: Years,
    /// Driver, kg. Default 75.
    pub driver_kg: f64,
    /// Payload carried on every trip and run unless a trip says otherwise, kg.
    pub payload_kg: f64,
    /// Conditions of acceleration, top-speed and hill figures.
    pub performance: Performance,
    /// Currency of every price, three letters or a sign.
    pub currency: String,
    /// Price of one kWh at the socket.
    pub price_per_kwh: f64,
    /// Provenance by key.
    #[serde(skip_serializing_if = "Sources::is_empty")]
    pub sources: Sources,
    /// What is searched for in the library: Constraints. No figure of an estimate depends on it.
    #[serde(skip_serializing_if = "MatchRequest::is_default")]
    pub search: MatchRequest,
}

impl Default for Brief {
    fn default() -> Self {
        Self {
            goals: Vec::new(),
            answers: Answers::default(),
            trips: Vec::new(),
            schedules: Vec::new(),
            site: Site::default(),
            summer: Season { temperature_c: 25.0, hvac_w: 0.0, rolling_factor: 1.0 },
            winter: Season { temperature_c: 2.0, hvac_w: 0.0, rolling_factor: 1.1 },
            sockets: Vec::new(),
            week: Week::default(),
            years: Years::default(),
            driver_kg: 75.0,
            payload_kg: 0.0,
            performance: Performance::default(),
            currency: "EUR".to_owned(),
            price_per_kwh: 0.0,
            sources: Sources::new(),
            search: MatchRequest::default(),
        }
    }
}

/// Where the vehicle is used.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Site {
    /// Air temperature, degC. Default 15.
    pub temperature_c: f64,
    /// Height above sea level, m.
    pub altitude_m: f64,
    /// Air density, kg/m3. Absent: from temperature and height.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub air_density_kg_m3: Option<f64>,
    /// Wind from ahead on every trip and run, km/h.
    pub headwind_kmh: f64,
}

impl Default for Site {
    fn default() -> Self {
        Self { temperature_c: 15.0, altitude_m: 0.0, air_density_kg_m3: None, headwind_kmh: 0.0 }
    }
}

/// Two speeds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct AccelerationRange {
    /// km/h.
    pub from_kmh: f64,
    /// km/h.
    pub to_kmh: f64,
}

/// Conditions of acceleration, top-speed and hill figures.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Performance {
    /// State of charge, 0..1. Absent: 0.8, kept within the pack's window.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub soc: Option<f64>,
    /// Gear held in accelerations, counted from 1. Absent: the quickest use of the gears, changes included.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub gear: Option<u32>,
    /// Accelerations computed beside those of the goals and the usual ones.
    pub accelerations: Vec<AccelerationRange>,
    /// Which accelerations are usual.
    #[serde(skip_serializing_if = "Sprints::are_metric")]
    pub sprints: Sprints,
    /// Speed at which the links of the chain are compared, km/h. Absent: 50, or 60 % of the top speed if that is lower.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reference_kmh: Option<f64>,
}

/// Accelerations that people of one system of units compare vehicles by (common practice).
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Sprints {
    /// 0-30, 0-50, 0-80 and 0-100 km/h.
    #[default]
    Kmh,
    /// 0-20, 0-30, 0-50 and 0-60 mph.
    Mph,
}

impl Sprints {
    fn are_metric(&self) -> bool {
        *self == Self::Kmh
    }

    /// From and to, km/h.
    pub(crate) fn ranges(self) -> [(f64, f64); 4] {
        match self {
            Self::Kmh => [30.0, 50.0, 80.0, 100.0],
            Self::Mph => [20.0, 30.0, 50.0, 60.0].map(|mph| mph * MILE_KM),
        }
        .map(|to| (0.0, to))
    }
}

impl Brief {
    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        let at = |key: String| join(path, &key);
        check_sources(&self.sources, path, (fields::BRIEF, &["trips.hvac_w"]), problems);
        for (i, schedule) in self.schedules.iter().enumerate() {
            if self.schedules[..i].contains(schedule) {
                problems.add(|| {
                    Problem::new(at(format!("schedules[{i}]")), format!("\"{}\"", schedule.id()), "each schedule is accepted once")
                });
            }
        }
        let mut ids: Vec<&str> = self.schedules.iter().map(|s| s.id()).collect();
        for (i, trip) in self.trips.iter().enumerate() {
            check_name(&trip.name, &at(format!("trips[{i}]")), problems);
            if trip.id.trim().is_empty() || ids.contains(&trip.id.as_str()) {
                problems.push(Problem::new(
                    at(format!("trips[{i}].id")),
                    format!("\"{}\"", trip.id),
                    "every trip and schedule needs its own id",
                ));
            }
            ids.push(&trip.id);
            trip.path.check(&at(format!("trips[{i}].path")), problems);
        }
        super::check_work(self, problems);
        for (i, socket) in self.sockets.iter().enumerate() {
            check_name(&socket.name, &at(format!("sockets[{i}]")), problems);
            if self.sockets[..i].iter().any(|s| s.id == socket.id) {
                problems.push(Problem::new(at(format!("sockets[{i}].id")), format!("\"{}\"", socket.id), "every socket needs its own id"));
            }
            socket.check(&at(format!("sockets[{i}]")), problems);
        }
        for (i, range) in self.performance.accelerations.iter().enumerate() {
            rising(range.from_kmh, range.to_kmh, &at(format!("performance.accelerations[{i}]")), problems);
        }
        check_use(self, &ids, path, problems);
        check_goals(self, &ids, path, problems);
    }
}

pub(super) fn rising(from_kmh: f64, to_kmh: f64, path: &str, problems: &mut Problems) {
    if to_kmh <= from_kmh {
        problems.push(Problem::new(format!("{path}.to_kmh"), to_kmh, format!("it must be above from_kmh, which is {from_kmh} km/h")));
    }
}
