//! Statics of a standing vehicle: masses with their places, loads of axles and wheels, and how far it leans before it tips.

use crate::document::{Document, VehicleKind};

/// Masses summed up with their first moments.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct Balance {
    /// kg.
    pub kg: f64,
    /// Times metres behind the front axle, right of the middle, above the ground; kg m.
    moments: [f64; 3],
}

impl Balance {
    /// Of one mass at `(along, right, up)` m.
    #[must_use]
    pub fn of(kg: f64, at_m: [f64; 3]) -> Self {
        Self { kg, moments: at_m.map(|x| kg * x) }
    }

    /// With another beside it; one that was taken out has a negative mass.
    #[must_use]
    pub fn with(self, other: Self) -> Self {
        Self { kg: self.kg + other.kg, moments: std::array::from_fn(|i| self.moments[i] + other.moments[i]) }
    }

    /// Centre of gravity: along, right, up, m.
    ///
    /// ```
    /// use joulethesis_core::vehicle::Balance;
    /// let sum = Balance::of(30.0, [0.0, 0.0, 0.5]).with(Balance::of(10.0, [2.0, 0.4, 0.1]));
    /// assert_eq!(sum.centre_m(), [0.5, 0.1, 0.4]);
    /// ```
    #[must_use]
    pub fn centre_m(&self) -> [f64; 3] {
        self.moments.map(|m| if self.kg > 0.0 { m / self.kg } else { 0.0 })
    }
}

/// Where the wheels stand, m.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stance {
    /// Between the axles.
    pub wheelbase_m: f64,
    /// Between the middles of the wheels of each axle, front and rear; 0: a single wheel.
    pub tracks_m: [f64; 2],
}

/// Load of each wheel, kg.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WheelLoads {
    /// Front and rear axle.
    pub axles_kg: [f64; 2],
    /// Front left, front right, rear left, rear right; a single wheel has its half in each.
    pub corners_kg: [f64; 4],
}

/// Tracks that are usual for a kind of vehicle, front and rear, m (common practice).
const fn usual_tracks_m(kind: VehicleKind) -> [f64; 2] {
    match kind {
        VehicleKind::Car => [1.4, 1.4],
        VehicleKind::Van | VehicleKind::OffRoad | VehicleKind::Utility => [1.45, 1.45],
        VehicleKind::Motorcycle => [0.0, 0.0],
        VehicleKind::Trike => [0.0, 1.1],
        VehicleKind::Kart => [1.05, 1.1],
        VehicleKind::Quad => [0.85, 0.85],
        // Two skis, and one track as wide as this.
        VehicleKind::Sled => [1.0, 0.4],
    }
}

impl Stance {
    /// As stated, else usual for the kind of vehicle.
    #[must_use]
    pub fn of(document: &Document) -> Self {
        let donor = &document.donor;
        let usual = usual_tracks_m(donor.kind);
        let tracks_m = [donor.track_front_m.unwrap_or(usual[0]), donor.track_rear_m.unwrap_or(usual[1])];
        Self { wheelbase_m: donor.wheelbase_m, tracks_m }
    }

    /// Loads of axles and wheels. What leans to one side is carried by each axle in proportion to its own load, as far as it has two wheels;
    /// a single wheel carries none of it.
    ///
    /// # Source
    /// Two-axle statics: Gillespie, Fundamentals of Vehicle Dynamics (1992), chapter 1; a vehicle on four wheels is statically indeterminate,
    /// the share by load is that of equal springs (common practice).
    #[must_use]
    pub fn loads(&self, balance: &Balance) -> WheelLoads {
        let [x, y, _] = balance.centre_m();
        let front_kg = balance.kg * (1.0 - x / self.wheelbase_m);
        let axles_kg = [front_kg, balance.kg - front_kg];
        // Moment about the middle, by axles that can take it.
        let taking: [f64; 2] = std::array::from_fn(|i| if self.tracks_m[i] > 0.0 { axles_kg[i] } else { 0.0 });
        let all = taking[0] + taking[1];
        let mut corners_kg = [0.0; 4];
        for i in 0..2 {
            let moment = if all > 0.0 { balance.kg * y * taking[i] / all } else { 0.0 };
            let more = if self.tracks_m[i] > 0.0 { moment / self.tracks_m[i] } else { 0.0 };
            (corners_kg[2 * i], corners_kg[2 * i + 1]) = (0.5 * axles_kg[i] - more, 0.5 * axles_kg[i] + more);
        }
        WheelLoads { axles_kg, corners_kg }
    }

    /// Sideways slope at which it tips over to its weaker side, degrees; none of one that stands on a single line.
    ///
    /// It tips about the line between the wheels of that side, which runs askew where the tracks differ: `atan(d / h)` with the distance `d`
    /// of the centre from that line.
    #[must_use]
    pub fn tips_sideways_deg(&self, balance: &Balance) -> Option<f64> {
        let [front_m, rear_m] = self.tracks_m.map(|t| 0.5 * t);
        if front_m + rear_m <= 0.0 {
            return None;
        }
        let [x, y, h] = balance.centre_m();
        let askew = (rear_m - front_m) / self.wheelbase_m;
        let half_m = front_m + askew * x;
        let distance_m = (half_m - y.abs()) / askew.hypot(1.0);
        Some(distance_m.atan2(h).to_degrees())
    }

    /// Slopes at which it tips over backwards, standing uphill, and forwards, degrees.
    #[must_use]
    pub(crate) fn tips_lengthways_deg(&self, balance: &Balance) -> (f64, f64) {
        let [x, _, h] = balance.centre_m();
        ((self.wheelbase_m - x).atan2(h).to_degrees(), x.atan2(h).to_degrees())
    }
}
