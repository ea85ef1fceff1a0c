//! Trips: a path, how and when it is driven, and with what.

use serde::{Deserialize, Serialize};

use super::Schedule;
use crate::error::{Problem, Problems, Result};
use crate::quantity::{fields, within};

/// A trip the vehicle makes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Trip {
    /// Stable identifier within the brief.
    pub id: String,
    /// Name shown.
    pub name: String,
    /// Speed and grade over time.
    pub path: TripPath,
    /// Gear held from start to end, counted from 1. Absent: at each step the gear that draws the least power.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gear: Option<u32>,
    /// Payload on this trip, kg. Absent: the brief's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub payload_kg: Option<f64>,
    /// Heater, demister and cooling drawn straight from the traction pack, W.
    #[serde(default)]
    pub hvac_w: f64,
    /// State of charge at the start, 0..1. Absent: the top of the pack's window.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub start_soc: Option<f64>,
    /// How it is driven.
    #[serde(default)]
    pub driving_style: DrivingStyle,
    /// Times the path is driven on end. Default 1.
    #[serde(default = "once")]
    pub repeat: u32,
    /// Range of the transfer box, counted from 1. Absent: the one with the smallest ratio.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub transfer_range: Option<u32>,
    /// Weather on this trip. Absent: the site's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weather: Option<Weather>,
    /// What this trip, or part of it, took when it was really driven; see [`crate::evidence`].
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub drives: Vec<MeasuredDrive>,
}

/// What a drive took: "29 km took 60 % in winter, four up".
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct MeasuredDrive {
    /// When, and by whom.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// Driven, km.
    pub distance_km: f64,
    /// Share of the charge it took, 0..1.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub charge_used: Option<f64>,
    /// Energy out of the pack by a meter, kWh; it counts rather than the share, which the capacity is needed for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub energy_kwh: Option<f64>,
    /// Air, degC. Absent: as for the trip.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub temperature_c: Option<f64>,
    /// Aboard beside the driver, kg. Absent: as for the trip.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub payload_kg: Option<f64>,
    /// Heater, demister and cooling, W. Absent: as for the trip.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hvac_w: Option<f64>,
}

impl Trip {
    /// A trip as it is usually made: once, with the brief's payload, in the site's weather, nothing held.
    #[must_use]
    pub fn plain(id: &str, name: &str, path: TripPath) -> Self {
        Self {
            id: id.to_owned(),
            name: name.to_owned(),
            path,
            gear: None,
            payload_kg: None,
            hvac_w: 0.0,
            start_soc: None,
            driving_style: DrivingStyle::Normal,
            repeat: once(),
            transfer_range: None,
            weather: None,
            drives: Vec::new(),
        }
    }
}

fn once() -> u32 {
    1
}

fn dry() -> f64 {
    1.0
}

/// How a trip is driven.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DrivingStyle {
    /// A tenth slower, with softer acceleration and braking.
    Gentle,
    /// As described.
    #[default]
    Normal,
    /// An eighth faster where the vehicle can, with half of what it can give at each launch and as hard on the brakes.
    Brisk,
}

impl DrivingStyle {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Gentle, Self::Normal, Self::Brisk];

    /// Speed over the described one, where the vehicle can reach it: 0.9, 1, 1.125. On a schedule or a recorded track acceleration
    /// follows with its square. Together with the launches a car with power to spare then uses some half more (common practice).
    #[must_use]
    pub fn speed_factor(self) -> f64 {
        match self {
            Self::Gentle => 0.9,
            Self::Normal => 1.0,
            Self::Brisk => 1.125,
        }
    }

    /// Acceleration over the described one on stretches of road: 0.6, 1, 1.6 (judgement, no source).
    #[must_use]
    pub fn acceleration_factor(self) -> f64 {
        match self {
            Self::Gentle => 0.6,
            Self::Normal => 1.0,
            Self::Brisk => 1.6,
        }
    }

    /// Least share of the acceleration that the vehicle offers from rest to the speed of a stretch (judgement, no source).
    #[must_use]
    pub(crate) fn share_of_available(self) -> f64 {
        if self == Self::Brisk { 0.5 } else { 0.0 }
    }
}

/// Weather on a trip.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Weather {
    /// Air temperature, degC. Absent: the site's.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub temperature_c: Option<f64>,
    /// Wind from ahead, km/h. Absent: the site's.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub headwind_kmh: Option<f64>,
    /// Rolling resistance over that on dry tarmac: 1.2 wet, 1.5 and more in slush (common practice).
    pub rolling_factor: f64,
}

impl Default for Weather {
    fn default() -> Self {
        Self { temperature_c: None, headwind_kmh: None, rolling_factor: 1.0 }
    }
}

/// A day in a season.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Season {
    /// Air temperature; the pack is taken to have stood in it, degC.
    pub temperature_c: f64,
    /// Heater, demister or cooling beside what each trip says, W.
    #[serde(default)]
    pub hvac_w: f64,
    /// Rolling resistance over that on dry tarmac.
    #[serde(default = "dry")]
    pub rolling_factor: f64,
}

/// Speed and grade over time.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TripPath {
    /// A regulatory schedule on the level.
    Schedule(Schedule),
    /// A recorded or drawn speed trace, linear between points.
    Trace(Vec<TracePoint>),
    /// Stretches of road, from which a trace is made.
    Segments(Vec<TravelSegment>),
}

impl TripPath {
    /// Reads a path within the bounds of its numbers; whether it can be driven is checked with the document it stands in.
    ///
    /// # Errors
    /// Names each number out of bounds, and what is no path.
    ///
    /// ```
    /// use joulethesis_core::document::TripPath;
    /// let read = |text| TripPath::from_value(&serde_json::from_str(text).expect("JSON"));
    /// assert_eq!(read(r#"{"trace": [{"time_s": 0, "speed_kmh": 0}, {"time_s": 9, "speed_kmh": 30}]}"#)?.readings(), 2);
    /// assert!(read(r#"{"trace": [{"time_s": 0, "speed_kmh": -5}]}"#).is_err());
    /// # Ok::<(), joulethesis_core::error::Error>(())
    /// ```
    pub fn from_value(value: &serde_json::Value) -> Result<Self> {
        within(value, fields::PATH)
    }

    /// Readings of a recorded trace; none of another path.
    #[must_use]
    pub fn readings(&self) -> usize {
        if let Self::Trace(points) = self { points.len() } else { 0 }
    }
}

/// One point of a speed trace.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TracePoint {
    /// Time from the start, s.
    pub time_s: f64,
    /// Speed, km/h.
    pub speed_kmh: f64,
    /// Grade from this point to the next, percent.
    #[serde(default)]
    pub grade_percent: f64,
    /// Height above the start after cleaning, m; for the picture.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height_m: Option<f64>,
    /// Metres east of the start; for the picture.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub east_m: Option<f64>,
    /// Metres north of the start; for the picture.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub north_m: Option<f64>,
}

/// One stretch of road of a trip.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TravelSegment {
    /// Length, km.
    pub distance_km: f64,
    /// Speed held between stops, km/h.
    pub speed_kmh: f64,
    /// Complete stops, each kilometre.
    #[serde(default)]
    pub stops_per_km: f64,
    /// Height gained (lost when negative), m, spread evenly.
    #[serde(default)]
    pub climb_m: f64,
    /// Acceleration and braking between stops, m/s2.
    #[serde(default = "usual_acceleration")]
    pub acceleration_m_s2: f64,
    /// Seconds standing at each stop.
    #[serde(default)]
    pub stop_s: f64,
    /// Share of the acceleration the chain has to offer that is used, instead of a fixed acceleration. Absent: the fixed one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub liveliness: Option<f64>,
}

fn usual_acceleration() -> f64 {
    0.8
}

impl TripPath {
    pub(super) fn check(&self, path: &str, problems: &mut Problems) {
        match self {
            Self::Schedule(_) => {}
            Self::Trace(points) => {
                let path = format!("{path}.trace");
                if points.len() < 2 {
                    problems.push(Problem::new(&path, format!("{} points long", points.len()), "at least 2 points are needed"));
                }
                for (i, pair) in points.windows(2).enumerate() {
                    let gap_s = pair[1].time_s - pair[0].time_s;
                    if gap_s <= 0.0 || gap_s > 60.0 {
                        problems.push(Problem::new(
                            format!("{path}[{}].time_s", i + 1),
                            pair[1].time_s,
                            format!("time must rise without gaps of more than 60 s; the point before it is at {} s", pair[0].time_s),
                        ));
                    }
                }
                if !points.iter().any(|p| p.speed_kmh > 0.0) {
                    problems.push(Problem::new(&path, "standing still throughout", "at least one point must move"));
                }
            }
            Self::Segments(segments) => {
                let path = format!("{path}.segments");
                if segments.is_empty() {
                    problems.push(Problem::new(&path, "empty", "at least 1 segment is needed"));
                }
                for (i, s) in segments.iter().enumerate() {
                    let grade = s.climb_m / (s.distance_km * 1000.0);
                    if grade.abs() > 0.40 {
                        problems.push(Problem::new(
                            format!("{path}[{i}].climb_m"),
                            s.climb_m,
                            format!("over {} km that is a grade of {:.0} %; at most 40 % is accepted", s.distance_km, grade * 100.0),
                        ));
                    }
                }
            }
        }
    }
}
