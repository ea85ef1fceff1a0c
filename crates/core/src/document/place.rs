//! Where along the vehicle something sits: stated, or usual for the kind of vehicle; and every mass with its place.

use serde::{Deserialize, Serialize};

use super::{Document, DrivenAxle, ItemKind, MotorPlace, Placement, Slot, VehicleKind};

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

    /// Metres behind the front axle.
    #[must_use]
    pub fn metres(self, wheelbase_m: f64) -> f64 {
        match self {
            Self::BehindFrontAxleM(metres) => metres,
            _ => (1.0 - self.front_share(wheelbase_m)) * wheelbase_m,
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
#[must_use]
pub(crate) const fn pack_place(kind: VehicleKind) -> AxlePlace {
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

/// Name of the box that holds every component that stands nowhere else.
pub const CONTACTOR_BOX: &str = "Contactor box";

/// Which mass of a document a block is; numbers count in its list.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Block {
    /// Taken out of the donor.
    Removed(usize),
    /// Motors.
    Motor,
    /// Controllers.
    Controller,
    /// What of the pack is in no other box.
    Pack,
    /// A further box of the pack.
    PackBox(usize),
    /// Charger.
    Charger,
    /// The contactor box, with every component that stands nowhere else.
    Electrics,
    /// A component that stands by itself.
    Component(Slot),
    /// Something else put in.
    Added(usize),
    /// The driver.
    Driver,
    /// The load.
    Payload,
}

/// A mass with its place.
#[derive(Debug, Clone, Copy)]
pub struct Placed<'a> {
    /// Which.
    pub block: Block,
    /// kg.
    pub kg: f64,
    /// What is said of its place.
    pub at: &'a Placement,
    /// Along the vehicle where nothing is said.
    pub usual: AxlePlace,
    /// How the usual place is spoken of; empty where it goes without saying.
    words: &'static str,
}

impl Placed<'_> {
    /// Along the vehicle.
    #[must_use]
    pub fn along(&self) -> AxlePlace {
        self.at.along.unwrap_or(self.usual)
    }

    /// Whether it goes wherever the motor goes: nothing is said of its own place, and it belongs to the motor.
    #[must_use]
    pub(crate) fn goes_with_motor(&self) -> bool {
        let belongs = matches!(self.block, Block::Controller | Block::Charger | Block::Electrics | Block::Component(_) | Block::Added(_));
        belongs && self.at.along.is_none()
    }

    /// Whether it may stand wherever there is room: neither pack nor motor, which turns something, nor an inlet, which the plug must reach, nor
    /// what came out or rides.
    #[must_use]
    pub(crate) fn is_movable(&self) -> bool {
        match self.block {
            Block::Controller | Block::Charger | Block::Electrics | Block::Added(_) => true,
            Block::Component(slot) => !matches!(slot, Slot::ChargeInlet | Slot::FastInlet),
            Block::Removed(_) | Block::Motor | Block::Pack | Block::PackBox(_) | Block::Driver | Block::Payload => false,
        }
    }

    /// What it adds to the mass of a vehicle that stands ready to be driven: what came out takes away.
    #[must_use]
    pub fn added_kg(&self) -> f64 {
        if matches!(self.block, Block::Removed(_)) { -self.kg } else { self.kg }
    }
}

/// Calls `visit` with every mass that came out, went in or rides; those that weigh nothing are left out.
pub(crate) fn each_placed<'a>(document: &'a Document, mut visit: impl FnMut(Placed<'a>)) {
    let (donor, design, brief) = (&document.donor, &document.design, &document.brief);
    let layout = &design.layout;
    let mut add = |block: Block, kg: f64, at: &'a Placement, usual: AxlePlace, words: &'static str| {
        if kg != 0.0 {
            visit(Placed { block, kg, at, usual, words });
        }
    };
    let engine = engine(donor.kind);
    for (i, removed) in donor.removed.iter().enumerate() {
        add(Block::Removed(i), removed.mass_kg, &removed.at, engine, "what came out");
    }
    // Motors at the wheels sit there, wherever the engine was.
    let motor = match (design.motor_place, donor.driven_axle) {
        (MotorPlace::EachAxle | MotorPlace::EveryWheel, _) | (MotorPlace::Wheels, DrivenAxle::All) => AxlePlace::Middle,
        (MotorPlace::Wheels, DrivenAxle::Front) => AxlePlace::Front,
        (MotorPlace::Wheels, DrivenAxle::Rear) => AxlePlace::Rear,
        (MotorPlace::Shaft, _) => engine,
    };
    // What belongs to the motor goes where it is, more or less.
    let beside = layout.motor.along.unwrap_or(motor);
    let mut pack_kg = 0.0;
    for item in design.items() {
        let kg = item.total_kg();
        match item.kind {
            ItemKind::Motor => add(Block::Motor, kg, &layout.motor, motor, "the motor"),
            ItemKind::Module | ItemKind::PackBox => pack_kg += kg,
            ItemKind::Controller => add(Block::Controller, kg, &layout.controller, beside, ""),
            ItemKind::Charger => add(Block::Charger, kg, &layout.charger, beside, ""),
            ItemKind::Component | ItemKind::Other => {}
        }
    }
    let usual = pack_place(donor.kind);
    if layout.boxes.is_empty() {
        add(Block::Pack, pack_kg, &layout.pack, usual, "the pack");
    } else if let Some(modules) = design.pack.as_ref().map(super::Pack::module_count) {
        // Box, straps and monitoring go with the modules.
        let share = |n: u32| pack_kg * f64::from(n) / f64::from(modules);
        let (boxes, rest) = layout.filled(modules);
        for (i, (own, n)) in layout.boxes.iter().zip(boxes).enumerate() {
            add(Block::PackBox(i), share(n), &own.at, usual, "the pack");
        }
        add(Block::Pack, share(rest), &layout.pack, usual, "the pack");
    }
    for (slot, kg, _) in design.component_blocks() {
        let alone = slot.and_then(|slot| Some((Block::Component(slot), layout.fitted.get(slot)?)));
        let (block, at) = alone.unwrap_or((Block::Electrics, &layout.electrics));
        add(block, kg, at, beside, "");
    }
    for (i, added) in design.added.iter().enumerate() {
        add(Block::Added(i), added.mass_kg, &added.at, beside, "");
    }
    add(Block::Driver, brief.driver_kg, &layout.driver, AxlePlace::Middle, "");
    add(Block::Payload, brief.payload_kg, &layout.payload, load(donor.kind), "the load");
}

/// Share on the front axle that counts whatever the places say: as weighed, or the donor's of a vehicle whose laden mass is stated as a
/// whole; none where the places tell.
#[must_use]
pub fn stated_front_share(document: &Document) -> Option<f64> {
    let donor = &document.donor;
    document.design.front_axle_share.or(donor.test_mass_kg.map(|_| donor.front_axle_share))
}

/// Share of the laden, converted vehicle on its front axle: the one that is stated, else the donor's load with each part that came out or
/// went in at its place, and whoever rides.
#[must_use]
pub fn front_share(document: &Document) -> f64 {
    let donor = &document.donor;
    stated_front_share(document).unwrap_or_else(|| {
        let (mut front_kg, mut all_kg) = (donor.front_axle_share * donor.curb_mass_kg, donor.curb_mass_kg);
        each_placed(document, |p| {
            front_kg += p.added_kg() * p.along().front_share(donor.wheelbase_m);
            all_kg += p.added_kg();
        });
        // What weighs less than nothing on an axle has lifted it.
        if all_kg > 0.0 { (front_kg / all_kg).clamp(0.0, 1.0) } else { donor.front_axle_share }
    })
}

/// Height of the centre of gravity of the laden, converted vehicle, m: the donor's with each part that came out or went in at its height, and
/// whoever rides; what has no height stated is as high as the donor's. The donor's own where its laden mass is stated as a whole.
#[must_use]
pub fn cg_height_m(document: &Document) -> f64 {
    let donor = &document.donor;
    if donor.test_mass_kg.is_some() {
        return donor.cg_height_m;
    }
    let (mut above_kg_m, mut all_kg) = (0.0, donor.curb_mass_kg);
    each_placed(document, |p| {
        above_kg_m += p.added_kg() * (p.at.up_m.unwrap_or(donor.cg_height_m) - donor.cg_height_m);
        all_kg += p.added_kg();
    });
    // More taken out high up than there was stands on the ground at most.
    if all_kg > 0.0 { (donor.cg_height_m + above_kg_m / all_kg).max(0.0) } else { donor.cg_height_m }
}

/// What [`front_share`] assumes, in words: "the pack at the rear"; empty where all it rests on is stated.
#[must_use]
pub(crate) fn assumed_of_axles(document: &Document) -> Vec<String> {
    let mut assumed: Vec<String> = Vec::new();
    match (document.design.front_axle_share, document.donor.test_mass_kg) {
        (Some(_), _) => {}
        (None, Some(_)) => assumed.push("the axles share the stated mass as they did in the donor".to_owned()),
        (None, None) => each_placed(document, |p| {
            let says = format!("{} {}", p.words, p.usual.word());
            if p.at.along.is_none() && !p.words.is_empty() && !assumed.contains(&says) {
                assumed.push(says);
            }
        }),
    }
    assumed
}
