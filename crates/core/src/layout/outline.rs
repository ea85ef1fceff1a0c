//! The outline of the vehicle: as measured, else usual for its kind.

use serde::Serialize;

use crate::document::{Document, Tyre, VehicleKind, tyre};
use crate::vehicle::{Stance, radius_m};

/// Outline of the vehicle, m, to draw it to scale.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outline {
    /// Kind of vehicle.
    pub kind: VehicleKind,
    /// Between the axles.
    pub wheelbase_m: f64,
    /// Between the wheels of the front axle; 0: a single one.
    pub track_front_m: f64,
    /// The same at the rear.
    pub track_rear_m: f64,
    /// Ahead of the front axle.
    pub overhang_front_m: f64,
    /// Behind the rear axle.
    pub overhang_rear_m: f64,
    /// Width of the body.
    pub width_m: f64,
    /// Height of the body.
    pub height_m: f64,
    /// Outer radius of the wheels.
    pub wheel_radius_m: f64,
}

/// Overhangs front and rear, width and height that are usual for a kind of vehicle, m (common practice).
const fn usual_body_m(kind: VehicleKind) -> [f64; 4] {
    match kind {
        VehicleKind::Car => [0.75, 0.75, 1.65, 1.4],
        VehicleKind::Van => [0.65, 0.9, 1.75, 1.95],
        VehicleKind::OffRoad => [0.65, 0.8, 1.7, 1.8],
        VehicleKind::Motorcycle => [0.32, 0.35, 0.75, 1.1],
        VehicleKind::Trike => [0.35, 0.4, 1.3, 1.6],
        VehicleKind::Kart => [0.3, 0.3, 1.3, 0.6],
        VehicleKind::Quad => [0.35, 0.35, 1.1, 1.1],
        VehicleKind::Sled => [0.4, 0.6, 1.1, 1.2],
        VehicleKind::Utility => [0.6, 0.6, 1.6, 1.8],
    }
}

/// Outline of a document's vehicle.
pub(super) fn outline(document: &Document) -> Outline {
    let (donor, stance) = (&document.donor, Stance::of(document));
    let usual = usual_body_m(donor.kind);
    let outer = match &donor.tyre {
        Tyre::Code(code) => tyre::outer_diameter_m(code).map(|o| 0.5 * o.0),
        Tyre::RollingRadiusM(r) => Some(*r),
    };
    Outline {
        kind: donor.kind,
        wheelbase_m: stance.wheelbase_m,
        track_front_m: stance.tracks_m[0],
        track_rear_m: stance.tracks_m[1],
        overhang_front_m: donor.overhang_front_m.unwrap_or(usual[0]),
        overhang_rear_m: donor.overhang_rear_m.unwrap_or(usual[1]),
        width_m: donor.body_width_m.unwrap_or(usual[2]),
        height_m: donor.body_height_m.unwrap_or(usual[3]),
        wheel_radius_m: outer.unwrap_or_else(|| radius_m(document)),
    }
}
