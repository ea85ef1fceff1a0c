//! What a brief demands, as it is told.

use serde::Serialize;

use crate::document::GoalLevel;
use crate::quantity::Sentence;

/// How long something has to be held.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum HeldFor {
    /// Seconds: a peak does it.
    Peak,
    /// Ten minutes from warm.
    TenMinutes,
    /// Continuous.
    Continuous,
}

/// What one goal asks at the wheels.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WheelNeed {
    /// Goal id.
    pub goal: String,
    /// Name.
    pub name: Sentence,
    /// A constraint, or a wish.
    pub level: GoalLevel,
    /// Speed at which it is asked, km/h.
    pub speed_kmh: f64,
    /// Tractive force at the wheels, N.
    pub force_n: f64,
    /// Torque at the wheels, N m.
    pub wheel_torque_nm: f64,
    /// Power at the wheels, W.
    pub power_w: f64,
    /// How long it has to be held.
    pub held_for: HeldFor,
}

/// A goal that no motor meets.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Impossible {
    /// Goal id.
    pub goal: String,
    /// Name.
    pub name: Sentence,
    /// Asked.
    pub target: f64,
    /// The best that physics allows; absent when it is never reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub best: Option<f64>,
    /// Unit of both.
    pub unit: String,
    /// Why, with figures.
    pub why: Sentence,
}

/// What one trip asks in one season.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TripNeed {
    /// Trip or schedule id.
    pub trip: String,
    /// Name.
    pub name: String,
    /// `usual`, `summer` or `winter`.
    pub season: String,
    /// Air, degC.
    pub temperature_c: f64,
    /// Length of one run, km.
    pub distance_km: f64,
    /// At the wheels to move, braking not counted, Wh/km.
    pub wheel_wh_per_km: f64,
    /// From the pack with usual losses, low-voltage and comfort loads and the regeneration chosen, Wh/km.
    pub pack_wh_per_km: f64,
    /// Usable energy of the pack for the range asked (or one run where none is), kWh.
    pub usable_kwh: f64,
    /// Range it is worked out for, km.
    pub range_km: f64,
    /// Mean power at the wheels while pulling, W.
    pub mean_power_w: f64,
    /// Greatest power at the wheels, W.
    pub peak_power_w: f64,
}

/// What the hours at a socket ask of the charger.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChargerNeed {
    /// Socket id.
    pub socket: String,
    /// Name.
    pub name: String,
    /// Hours there are, h.
    pub hours_h: f64,
    /// Energy into the pack, kWh.
    pub pack_kwh: f64,
    /// Power out of the charger, W.
    pub charger_w: f64,
    /// Power from the socket, W.
    pub socket_w: f64,
    /// What the socket gives continuously, W.
    pub socket_gives_w: f64,
    /// Whether the socket gives enough.
    pub enough: bool,
}

/// Motor speed of a gear at the fastest speed asked for.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GearNeed {
    /// Gear, from 1.
    pub gear: u32,
    /// Range of the transfer box, from 1.
    pub range: u32,
    /// Motor turns for one wheel turn.
    pub overall_ratio: f64,
    /// Speed, km/h.
    pub speed_kmh: f64,
    /// Motor speed there, rpm.
    pub motor_rpm: f64,
    /// Revolutions for each volt that a motor needs there, at a few usual system voltages, sagged.
    pub rpm_per_volt: Vec<VoltNeed>,
    /// Motor torque for the greatest pull asked, N m.
    pub motor_torque_nm: f64,
}

/// Revolutions for each volt at one system voltage.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct VoltNeed {
    /// Nominal, V.
    pub nominal_v: f64,
    /// rpm/V.
    pub rpm_per_volt: f64,
}

/// One line of the road on a grade.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoadLine {
    /// Grade, percent.
    pub grade_percent: f64,
    /// Resistance at each of the speeds, N.
    pub force_n: Vec<f64>,
}

/// Everything a brief demands of a donor.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Needs {
    /// Test mass it is worked out for, kg.
    pub test_kg: f64,
    /// Whether that is the donor's mass as it stood with driver and payload, for want of parts.
    pub mass_as_donor: bool,
    /// Tractive force the driven tyres pass, N.
    pub grip_n: f64,
    /// Rolling radius, m.
    pub rolling_radius_m: f64,
    /// At the wheels, goal by goal.
    pub wheels: Vec<WheelNeed>,
    /// Greatest power at the wheels at peak, W.
    pub peak_power_w: f64,
    /// Greatest power at the wheels that has to be held, W.
    pub continuous_power_w: f64,
    /// Greatest torque at the wheels, N m.
    pub peak_wheel_torque_nm: f64,
    /// Trips by season.
    pub trips: Vec<TripNeed>,
    /// Chargers by socket.
    pub chargers: Vec<ChargerNeed>,
    /// Gears of the donor as it stands.
    pub gears: Vec<GearNeed>,
    /// Goals that no motor meets.
    pub impossible: Vec<Impossible>,
    /// Speeds of the road lines, km/h.
    pub speed_kmh: Vec<f64>,
    /// The road on bins.
    pub road: Vec<RoadLine>,
}
