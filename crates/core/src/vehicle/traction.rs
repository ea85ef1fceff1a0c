//! Grip: the force the driven tyres can pass to the road.

use crate::document::{Document, DrivenAxle, MotorPlace, cg_height_m, front_share};
use crate::quantity::units::STANDARD_GRAVITY_M_S2;

/// Grip of one vehicle at one mass.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Traction {
    /// Greatest pulling force on the level, N.
    pub drive_n: f64,
    /// Greatest braking force the driven axle can pass on the level, N.
    pub brake_n: f64,
}

/// Greatest pulling force for each kilogram that any share of the axles allows, N: all of the weight on the driven wheels.
#[must_use]
pub fn most_grip_n_per_kg(document: &Document) -> f64 {
    document.donor.adhesion * STANDARD_GRAVITY_M_S2
}

/// Axle that a document's motors drive.
pub(crate) fn driven_axle(document: &Document) -> DrivenAxle {
    match document.design.motor_place {
        MotorPlace::EachAxle | MotorPlace::EveryWheel => DrivenAxle::All,
        MotorPlace::Shaft | MotorPlace::Wheels => document.donor.driven_axle,
    }
}

/// Share of the weight on the driven wheels while they pull as hard as they grip, with the share on the front axle at a stand and the load
/// that moves to the rear, a share too: the adhesion times height over wheelbase; negative where they brake.
pub(crate) fn driven_share(driven: DrivenAxle, front: f64, shift: f64) -> f64 {
    let share = match driven {
        // With the other axle about to lift, all of the weight is on the driven wheels.
        DrivenAxle::Rear if shift >= front => 1.0,
        DrivenAxle::Rear => (1.0 - front) / (1.0 - shift),
        DrivenAxle::Front if -shift >= 1.0 - front => 1.0,
        DrivenAxle::Front => front / (1.0 + shift),
        DrivenAxle::All => 1.0,
    };
    share.min(1.0)
}

impl Traction {
    /// Grip of a document's vehicle at `mass_kg`.
    ///
    /// Load moves to the rear by `h/L` of the pulling force: rear drive `mu m g (a/L) / (1 - mu h/L)`, front drive
    /// `mu m g (b/L) / (1 + mu h/L)`, all wheels `mu m g`. On a grade the same holds times its cosine. The share on each axle and
    /// the height are those of every mass at its place, as findings count them.
    ///
    /// # Source
    /// Gillespie, Fundamentals of Vehicle Dynamics (1992), chapter 2.
    #[must_use]
    pub fn of(document: &Document, mass_kg: f64) -> Self {
        let donor = &document.donor;
        let front = front_share(document);
        let mu = donor.adhesion;
        let weight_n = mass_kg * STANDARD_GRAVITY_M_S2;
        let shift = mu * cg_height_m(document) / donor.wheelbase_m;
        let driven = driven_axle(document);
        // Braking moves the load the other way.
        Self { drive_n: mu * weight_n * driven_share(driven, front, shift), brake_n: mu * weight_n * driven_share(driven, front, -shift) }
    }
}
