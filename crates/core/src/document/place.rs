//! Where along the vehicle something sits, as far as axle loads need it: stated, or usual for the kind of vehicle.

use serde::{Deserialize, Serialize};

use super::{Document, DrivenAxle, ItemKind, MotorPlace, VehicleKind};

/// A place along the vehicle.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum AxlePlace {
    /// Over the front axle.
    Front,
    /// Half way between the axles.
    Middle,
    /// Over the rear axle.
    Rear,
    /// Behind the front axle, m; beyond the rear axle or, negative, ahead of the front one too.
    BehindFrontAxleM(f64),
}

impl AxlePlace {
    /// Share of a mass there that the front axle carries; above 1 and below 0 beyond the axles.
    #[must_use]
    pub fn front_share(self, wheelbase_m: f64) -> f64 {
        match self {
            Self::Front => 1.0,
            Self::Middle => 0.5,
            Self::Rear => 0.0,
            Self::BehindFrontAxleM(metres) => 1.0 - metres / wheelbase_m,
        }
    }

    /// In a word.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Front => "in front",
            Self::Middle => "in the middle",
            Self::Rear => "at the rear",
            Self::BehindFrontAxleM(_) => "where stated",
        }
    }
}

/// Where the engine of a kind of vehicle usually was; what comes out and the motor in its place are there (common practice).
const fn engine(kind: VehicleKind) -> AxlePlace {
    match kind {
        VehicleKind::Car | VehicleKind::Van | VehicleKind::OffRoad | VehicleKind::Utility | VehicleKind::Sled => AxlePlace::Front,
        VehicleKind::Motorcycle | VehicleKind::Quad => AxlePlace::Middle,
        VehicleKind::Trike | VehicleKind::Kart => AxlePlace::Rear,
    }
}

/// Where a pack of a kind of vehicle usually goes (common practice): the boot, the load floor, the frame.
const fn pack(kind: VehicleKind) -> AxlePlace {
    match kind {
        VehicleKind::Car | VehicleKind::Van | VehicleKind::Trike => AxlePlace::Rear,
        _ => AxlePlace::Middle,
    }
}

/// Where load beside the driver usually is.
const fn load(kind: VehicleKind) -> AxlePlace {
    match kind {
        VehicleKind::Kart | VehicleKind::Quad | VehicleKind::Sled => AxlePlace::Middle,
        _ => AxlePlace::Rear,
    }
}

/// Front axle of a converted vehicle at its test mass, kg: by the share as weighed; of a vehicle whose laden mass is stated by the donor's
/// share; else the donor's load with each part that came out or went in at its place.
#[must_use]
pub fn front_axle_kg(document: &Document, test_kg: f64) -> f64 {
    let donor = &document.donor;
    match (document.design.front_axle_share, donor.test_mass_kg) {
        (Some(share), _) => test_kg * share,
        (None, Some(_)) => test_kg * donor.front_axle_share,
        (None, None) => (donor.front_axle_share * donor.curb_mass_kg + walk(document, |_, _| {})).clamp(0.0, test_kg),
    }
}

/// What [`front_axle_kg`] assumes, in words: "the pack at the rear"; empty where all it rests on is stated.
#[must_use]
pub fn assumed_of_axles(document: &Document) -> Vec<String> {
    let mut assumed: Vec<String> = Vec::new();
    match (document.design.front_axle_share, document.donor.test_mass_kg) {
        (Some(_), _) => {}
        (None, Some(_)) => assumed.push("the axles share the stated mass as they did in the donor".to_owned()),
        (None, None) => {
            walk(document, |what, usual| {
                let says = format!("{what} {}", usual.word());
                if !assumed.contains(&says) {
                    assumed.push(says);
                }
            });
        }
    }
    assumed
}

/// Sums up the front axle's change; `assuming` hears of each part that moved and whose place is not stated.
fn walk(document: &Document, mut assuming: impl FnMut(&'static str, AxlePlace)) -> f64 {
    let (donor, design, brief) = (&document.donor, &document.design, &document.brief);
    let mut front_kg = 0.0;
    let mut add = |kg: f64, stated: Option<AxlePlace>, usual: AxlePlace, what: &'static str| {
        if stated.is_none() && kg != 0.0 && !what.is_empty() {
            assuming(what, usual);
        }
        front_kg += kg * stated.unwrap_or(usual).front_share(donor.wheelbase_m);
    };
    let engine = engine(donor.kind);
    for removed in &donor.removed {
        add(-removed.mass_kg, removed.place, engine, "what came out");
    }
    // Motors at the wheels sit there, wherever the engine was.
    let motor = match (design.motor_place, donor.driven_axle) {
        (MotorPlace::EachAxle | MotorPlace::EveryWheel, _) | (MotorPlace::Wheels, DrivenAxle::All) => AxlePlace::Middle,
        (MotorPlace::Wheels, DrivenAxle::Front) => AxlePlace::Front,
        (MotorPlace::Wheels, DrivenAxle::Rear) => AxlePlace::Rear,
        (MotorPlace::Shaft, _) => engine,
    };
    let pack_stated = design.pack.as_ref().and_then(|p| p.place);
    for item in design.items() {
        let kg = item.total_kg();
        match item.kind {
            ItemKind::Motor => add(kg, design.motor_axle, motor, "the motor"),
            ItemKind::Module | ItemKind::PackBox => add(kg, pack_stated, pack(donor.kind), "the pack"),
            // They go where the motor is, more or less.
            ItemKind::Controller | ItemKind::Charger | ItemKind::Component | ItemKind::Other => add(kg, design.motor_axle, motor, ""),
        }
    }
    add(brief.driver_kg, Some(AxlePlace::Middle), AxlePlace::Middle, "");
    add(brief.payload_kg, None, load(donor.kind), "the load");
    front_kg
}
