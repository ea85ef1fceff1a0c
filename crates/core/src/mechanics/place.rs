//! What the motor's place changes: which wheels drive and what they grip, where its mass sits, and what hangs unsprung on each wheel.

use crate::document::{AxlePlace, Document, DrivenAxle, MotorPlace, cg_height_m, front_share};
use crate::vehicle::{Stance, Traction, masses, radius_m};

/// Motors in one place.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PlaceEffect {
    /// Which.
    pub place: MotorPlace,
    /// Axle that drives.
    pub drives: DrivenAxle,
    /// Greatest pull of the driven tyres on the level, N.
    pub grip_n: f64,
    /// Share of the laden vehicle on its front axle.
    pub front_share: f64,
    /// Height of its centre of gravity, m.
    pub cg_height_m: f64,
    /// Mass of motor that hangs unsprung on each driven wheel, kg.
    pub unsprung_kg: f64,
}

/// What each place of the motors would change with everything else as it is; a stated place of the motor goes with it only where it stays.
/// None without a motor.
#[must_use]
pub fn places(document: &Document) -> Vec<PlaceEffect> {
    let design = &document.design;
    let Some(motor) = &design.motor else { return Vec::new() };
    let (test_kg, stance) = (masses(document).test_kg, Stance::of(document));
    let all_kg = motor.mass_kg * f64::from(design.motor_count);
    [MotorPlace::Shaft, MotorPlace::Wheels, MotorPlace::EachAxle, MotorPlace::EveryWheel]
        .into_iter()
        .map(|place| {
            let mut with = document.clone();
            with.design.motor_place = place;
            if place != design.motor_place {
                // On the axle it goes to, as high as the hub.
                with.design.layout.motor.along = None;
                let low = matches!(place, MotorPlace::Wheels | MotorPlace::EveryWheel);
                with.design.layout.motor.up_m = low.then(|| radius_m(document));
                // What stood with the motor by its stated place stays where that was.
                if let Some(along) = design.layout.motor.along {
                    keep(&mut with, along);
                }
            }
            let drives = match place {
                MotorPlace::EachAxle | MotorPlace::EveryWheel => DrivenAxle::All,
                MotorPlace::Shaft | MotorPlace::Wheels => document.donor.driven_axle,
            };
            let on = |axle: usize| if stance.tracks_m[axle] > 0.0 { 2.0 } else { 1.0 };
            let wheels = match drives {
                DrivenAxle::Front => on(0),
                DrivenAxle::Rear => on(1),
                DrivenAxle::All => on(0) + on(1),
            };
            let at_wheels = matches!(place, MotorPlace::Wheels | MotorPlace::EveryWheel);
            PlaceEffect {
                place,
                drives,
                grip_n: Traction::of(&with, test_kg).drive_n,
                front_share: front_share(&with),
                cg_height_m: cg_height_m(&with),
                unsprung_kg: if at_wheels { all_kg / wheels } else { 0.0 },
            }
        })
        .collect()
}

fn keep(document: &mut Document, along: AxlePlace) {
    let layout = &mut document.design.layout;
    let blocks = [&mut layout.controller, &mut layout.charger, &mut layout.electrics];
    for own in blocks.into_iter().chain(layout.fitted.all_mut()) {
        own.along.get_or_insert(along);
    }
    for added in &mut document.design.added {
        added.at.along.get_or_insert(along);
    }
}
