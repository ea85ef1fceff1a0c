//! How the vehicle is used: the days of a week, and what is driven now and then over the years.

use serde::{Deserialize, Serialize};

use crate::error::{Problem, Problems};
use crate::quantity::join;

use super::{Brief, SocketKind};

/// A day of the week.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Weekday {
    /// Monday.
    Monday,
    /// Tuesday.
    Tuesday,
    /// Wednesday.
    Wednesday,
    /// Thursday.
    Thursday,
    /// Friday.
    Friday,
    /// Saturday.
    Saturday,
    /// Sunday.
    Sunday,
}

impl Weekday {
    /// All of them, from Monday.
    pub const ALL: [Self; 7] = [Self::Monday, Self::Tuesday, Self::Wednesday, Self::Thursday, Self::Friday, Self::Saturday, Self::Sunday];
    /// Monday to Friday.
    pub const WORKING: [Self; 5] = [Self::Monday, Self::Tuesday, Self::Wednesday, Self::Thursday, Self::Friday];

    /// Its name.
    #[must_use]
    pub fn word(self) -> &'static str {
        ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"][self as usize]
    }
}

/// A trip on days of the week.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Outing {
    /// Stable identifier within the week.
    pub id: String,
    /// Trip or schedule id.
    pub trip: String,
    /// On these days.
    pub days: Vec<Weekday>,
    /// It leaves at this hour of the day, 0..24.
    pub departure_h: f64,
}

/// Hours at a socket.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Stay {
    /// Stable identifier within the week.
    pub id: String,
    /// Socket id.
    pub socket: String,
    /// From these days on.
    pub days: Vec<Weekday>,
    /// From this hour of the day, 0..24.
    pub from_h: f64,
    /// For so many hours, over midnight too. A trip meanwhile interrupts it.
    pub hours_h: f64,
}

/// A usual week.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Week {
    /// Trips made.
    pub outings: Vec<Outing>,
    /// Hours at sockets.
    pub stays: Vec<Stay>,
}

/// A journey made a few times a year.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Journey {
    /// Stable identifier within the year.
    pub id: String,
    /// Name shown.
    pub name: String,
    /// Trip or schedule whose kind of driving it is.
    pub trip: String,
    /// Driven on end, km, with stops to charge where it does not suffice.
    pub distance_km: f64,
    /// Times a year.
    pub times_a_year: f64,
}

/// The years it is to serve, and what energy costs in them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Years {
    /// Years looked at. Default 8.
    pub years: f64,
    /// Weeks of a year that are like a winter's day; the others are like a summer's. Default 26.
    pub winter_weeks: f64,
    /// Journeys beside the usual week.
    pub journeys: Vec<Journey>,
    /// Socket at which they are broken off to charge. Absent: the quickest that the pack can use.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub public_socket: Option<String>,
    /// Price of a kWh there. Absent: as at home.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub public_price_per_kwh: Option<f64>,
    /// Price of a kWh at night. Absent: as by day.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub night_price_per_kwh: Option<f64>,
    /// Night tariff from this hour of the day. Default 22.
    pub night_from_h: f64,
    /// Hours that it lasts. Default 8.
    pub night_hours_h: f64,
}

impl Default for Years {
    fn default() -> Self {
        Self {
            years: 8.0,
            winter_weeks: 26.0,
            journeys: Vec::new(),
            public_socket: None,
            public_price_per_kwh: None,
            night_price_per_kwh: None,
            night_from_h: 22.0,
            night_hours_h: 8.0,
        }
    }
}

impl Years {
    pub(super) fn is_default(&self) -> bool {
        *self == Self::default()
    }
}

/// Hour at which an assumed outing leaves, and that at which the vehicle is plugged in after it.
const LEAVES_H: f64 = 8.0;
const PLUGGED_H: f64 = 18.0;
const PLUGGED_HOURS_H: f64 = 13.0;

impl Week {
    /// Whether nothing is said of it.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.outings.is_empty() && self.stays.is_empty()
    }

    /// Ids of the trips and schedules that are made in it.
    pub(crate) fn trips(&self) -> impl Iterator<Item = &str> {
        self.outings.iter().map(|o| o.trip.as_str())
    }

    /// The week of a brief; where it says nothing of it, its first trip at eight on working days and its first mains socket every night from
    /// six to seven (judgement).
    #[must_use]
    pub fn of(brief: &Brief) -> Self {
        if !brief.week.is_empty() {
            return brief.week.clone();
        }
        let trip = brief.trips.first().map(|t| t.id.clone()).or_else(|| brief.schedules.first().map(|s| s.id().to_owned()));
        let socket = brief.sockets.iter().find(|s| s.kind == SocketKind::Ac).or_else(|| brief.sockets.first());
        let outing = |trip| Outing { id: "outing-1".to_owned(), trip, days: Weekday::WORKING.to_vec(), departure_h: LEAVES_H };
        let stay = |socket: String| Stay {
            id: "stay-1".to_owned(),
            socket,
            days: Weekday::ALL.to_vec(),
            from_h: PLUGGED_H,
            hours_h: PLUGGED_HOURS_H,
        };
        Self { outings: trip.map(outing).into_iter().collect(), stays: socket.map(|s| stay(s.id.clone())).into_iter().collect() }
    }
}

/// Week and years of a brief: ids of their own, days named once, and nothing spoken of that is not there. `trips` are the ids of trips and
/// schedules.
pub(super) fn check_use(brief: &Brief, trips: &[&str], path: &str, problems: &mut Problems) {
    let sockets: Vec<&str> = brief.sockets.iter().map(|s| s.id.as_str()).collect();
    let mut known = |at: String, id: &str, of: &[&str], what: &str| {
        if !of.contains(&id) {
            problems.push(Problem::new(at, format!("\"{id}\""), format!("known {what} are: {}", of.join(", "))));
        }
    };
    let week = join(path, "week");
    let years = join(path, "years");
    for (i, o) in brief.week.outings.iter().enumerate() {
        known(format!("{week}.outings[{i}].trip"), &o.trip, trips, "trips and schedules");
    }
    for (i, s) in brief.week.stays.iter().enumerate() {
        known(format!("{week}.stays[{i}].socket"), &s.socket, &sockets, "sockets");
    }
    for (i, j) in brief.years.journeys.iter().enumerate() {
        known(format!("{years}.journeys[{i}].trip"), &j.trip, trips, "trips and schedules");
    }
    if let Some(socket) = &brief.years.public_socket {
        known(format!("{years}.public_socket"), socket, &sockets, "sockets");
    }
    let own = |list: String, ids: Vec<&str>, problems: &mut Problems| {
        for (i, id) in ids.iter().enumerate() {
            if id.trim().is_empty() || ids[..i].contains(id) {
                problems.push(Problem::new(format!("{list}[{i}].id"), format!("\"{id}\""), "every entry needs its own id"));
            }
        }
    };
    own(format!("{week}.outings"), brief.week.outings.iter().map(|o| o.id.as_str()).collect(), problems);
    own(format!("{week}.stays"), brief.week.stays.iter().map(|s| s.id.as_str()).collect(), problems);
    own(format!("{years}.journeys"), brief.years.journeys.iter().map(|j| j.id.as_str()).collect(), problems);
    let days = brief.week.outings.iter().enumerate().map(|(i, o)| (format!("{week}.outings[{i}].days"), &o.days));
    let days = days.chain(brief.week.stays.iter().enumerate().map(|(i, s)| (format!("{week}.stays[{i}].days"), &s.days)));
    for (at, days) in days {
        if let Some(twice) = days.iter().enumerate().find(|(i, day)| days[..*i].contains(day)) {
            problems.push(Problem::new(at, twice.1.word(), "each day is named once"));
        }
    }
}
