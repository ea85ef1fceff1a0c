//! The three first questions: how far, how fast, how steep; and what is assumed where nobody knows.

use serde::{Deserialize, Serialize};

use super::typical::typical;
use crate::document::{Brief, Goal, GoalLevel, Measure, TravelSegment, Trip, TripPath, VehicleKind};
use crate::error::Result;
use crate::quantity::{fields, within};

/// Answers to the first questions; what is absent is not known, and what is usual for the kind of vehicle is assumed.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Answers {
    /// Longest regular trip between charges, km.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub longest_trip_km: Option<f64>,
    /// Longest time on the track between charges, min; asked of a kart in place of the trip.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub session_min: Option<f64>,
    /// Speed of the fastest road (or stretch), km/h.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fastest_kmh: Option<f64>,
    /// Steepest hill to start on, percent.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub steepest_percent: Option<f64>,
}

/// Ids of what the answers make, so that later answers find them again.
const TRIP: &str = "usual";
const RANGE: &str = "range";
const TOP: &str = "top";
const HILL: &str = "hill";

/// Length of a lap, km.
const LAP_KM: f64 = 0.8;
/// Most laps told as repeats; the range drives on from there.
const MOST_LAPS: f64 = 50.0;

impl Answers {
    /// Reads and checks answers.
    ///
    /// # Errors
    /// [`crate::error::Error::Invalid`] naming every answer that is out of bounds.
    ///
    /// ```
    /// use joulethesis_core::document::Answers;
    /// let read = |text| Answers::from_value(&serde_json::from_str(text).expect("JSON"));
    /// assert_eq!(read(r#"{"fastest_kmh": 60}"#)?.fastest_kmh, Some(60.0));
    /// assert!(read(r#"{"fastest_kmh": -1}"#).is_err());
    /// # Ok::<(), joulethesis_core::error::Error>(())
    /// ```
    pub fn from_value(value: &serde_json::Value) -> Result<Self> {
        within(value, fields::ANSWERS)
    }

    /// Whether nothing is known.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        *self == Self::default()
    }

    /// What is assumed of a kind of vehicle where nobody knows: an answer to each question that is asked of it.
    ///
    /// ```
    /// use joulethesis_core::document::{Answers, VehicleKind};
    /// let kart = Answers::assumed(VehicleKind::Kart);
    /// assert!(kart.longest_trip_km.is_none() && kart.session_min.is_some_and(|minutes| minutes < 60.0));
    /// ```
    #[must_use]
    pub fn assumed(kind: VehicleKind) -> Self {
        let (far, fast, steep) = typical(kind).assumed;
        let on_track = kind == VehicleKind::Kart;
        Self {
            longest_trip_km: (!on_track).then_some(far),
            session_min: on_track.then_some(far),
            fastest_kmh: Some(fast),
            steepest_percent: Some(steep),
        }
    }

    /// Puts the answers into a brief: the usual trip, and what it asks for as wishes. Goals and trips of other ids stay as they are, and so
    /// does what was typed over since, unless its own answer has changed.
    pub fn put_into(&self, kind: VehicleKind, brief: &mut Brief) {
        let before = std::mem::replace(&mut brief.answers, *self);
        let faster = self.fastest_kmh != before.fastest_kmh;
        let longer = self.longest_trip_km != before.longest_trip_km || self.session_min != before.session_min;
        let steeper = self.steepest_percent != before.steepest_percent;
        let assumed = Self::assumed(kind);
        let known = |own: Option<f64>, assumed: Option<f64>| own.or(assumed).unwrap_or_default();
        let fastest_kmh = known(self.fastest_kmh, assumed.fastest_kmh);
        let on_track = assumed.session_min.is_some();
        let (km, answered) = if on_track {
            let minutes = known(self.session_min, assumed.session_min);
            (minutes / 60.0 * mean_kmh(&lap(fastest_kmh)), self.session_min.is_some())
        } else {
            (known(self.longest_trip_km, assumed.longest_trip_km), self.longest_trip_km.is_some())
        };
        // A range goal is told to the tenth of a kilometre.
        let km = (km * 10.0).round().max(1.0) / 10.0;
        let trip = if on_track {
            let laps = (km / LAP_KM).ceil().clamp(1.0, MOST_LAPS);
            Trip { repeat: laps as u32, ..Trip::plain(TRIP, "Session on the track", TripPath::Segments(lap(fastest_kmh))) }
        } else {
            Trip::plain(TRIP, "Longest regular trip", TripPath::Segments(way(kind, km, fastest_kmh)))
        };
        match brief.trips.iter_mut().find(|t| t.id == TRIP) {
            Some(own) if longer || faster => (own.path, own.repeat) = (trip.path, trip.repeat),
            Some(_) => {}
            None => brief.trips.insert(0, trip),
        }
        // On the track the way of a session follows from its speed.
        let asked = [
            (RANGE, Measure::Range { trip: TRIP.to_owned(), at_least_km: km }, answered, longer || on_track && faster),
            (TOP, Measure::TopSpeed { at_least_kmh: fastest_kmh }, self.fastest_kmh.is_some(), faster),
            (
                HILL,
                Measure::HillStart { at_least_percent: known(self.steepest_percent, assumed.steepest_percent) },
                self.steepest_percent.is_some(),
                steeper,
            ),
        ];
        for (place, (id, measure, answered, changed)) in asked.into_iter().enumerate() {
            match brief.goals.iter_mut().find(|g| g.id == id) {
                Some(goal) if changed || goal.assumed => (goal.measure, goal.assumed) = (measure, !answered),
                Some(_) => {}
                None => {
                    let goal =
                        Goal { id: id.to_owned(), name: String::new(), level: GoalLevel::Wanted, weight: 1.0, assumed: !answered, measure };
                    brief.goals.insert(place.min(brief.goals.len()), goal);
                }
            }
        }
    }
}

fn stretch(distance_km: f64, speed_kmh: f64, stops_per_km: f64, acceleration_m_s2: f64) -> TravelSegment {
    TravelSegment { distance_km, speed_kmh, stops_per_km, climb_m: 0.0, acceleration_m_s2, stop_s: 10.0, liveliness: None }
}

/// Stretches of a regular trip (judgement, no source): on the road a fifth through places with stops, half on lanes, the rest at the
/// speed of the fastest road; off it three fifths at a working pace, the rest as fast as it gets.
fn way(kind: VehicleKind, km: f64, fastest_kmh: f64) -> Vec<TravelSegment> {
    let on_road = matches!(kind, VehicleKind::Car | VehicleKind::Van | VehicleKind::OffRoad | VehicleKind::Motorcycle | VehicleKind::Trike);
    if on_road {
        let town_kmh = (0.6 * fastest_kmh).min(50.0);
        vec![
            stretch(0.2 * km, town_kmh, 2.0, 0.8),
            stretch(0.5 * km, 0.8 * fastest_kmh, 0.3, 0.8),
            stretch(0.3 * km, fastest_kmh, 0.1, 0.8),
        ]
    } else {
        vec![stretch(0.6 * km, 0.6 * fastest_kmh, 1.0, 0.8), stretch(0.4 * km, fastest_kmh, 0.3, 0.8)]
    }
}

/// One lap: two straights, two bends (judgement, no source).
fn lap(fastest_kmh: f64) -> Vec<TravelSegment> {
    [(0.3, 1.0), (0.1, 0.5), (0.3, 0.9), (0.1, 0.45)]
        .map(|(share, of)| TravelSegment { stop_s: 0.0, ..stretch(share, of * fastest_kmh, 0.0, 2.0) })
        .to_vec()
}

/// Mean speed over stretches without stops, the changes of speed left out.
fn mean_kmh(segments: &[TravelSegment]) -> f64 {
    let km: f64 = segments.iter().map(|s| s.distance_km).sum();
    km / segments.iter().map(|s| s.distance_km / s.speed_kmh).sum::<f64>()
}
