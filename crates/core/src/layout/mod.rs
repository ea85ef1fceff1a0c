//! The layout of a design: every mass as a block at its place, what the axles and wheels carry before, between and after, and the limits.

mod bays;
mod blocks;
mod cables;
mod coolant;
mod edges;
mod merit;
mod outline;
mod pack_room;
mod packing;
mod room;
mod routes;
mod splits;
mod spread;
mod usual;

use serde::Serialize;

pub use bays::{BayOffer, BayView, Fit, offers};
pub use blocks::{BlockView, SizedBy};
pub use cables::{CableKind, CableRun, cables};
pub use coolant::{CoolantRun, coolant_run};
pub use edges::{Clash, clashes};
pub use outline::Outline;
use outline::outline;
pub use pack_room::{PackRoom, pack_room};
pub use packing::{Layer, Packed, packed};
pub use routes::{Passed, PassedBy, passed};
pub use splits::{MovedBlock, PackSplit, PackSplits, pack_splits};
pub use usual::usual_things;

use crate::document::{AddedItem, Block, Document, Placed, Tyre, assumed_of_axles, each_placed, stated_front_share, tyre};
use crate::quantity::{Sentence, figure, sentence};
use crate::vehicle::{Balance, Stance, WheelLoads, masses};

/// The vehicle in one state: what it weighs and where, and what its wheels carry.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct State {
    /// `donor`, `stripped`, `converted`, `driver`, `laden`.
    pub id: &'static str,
    /// Words shown.
    pub name: &'static str,
    /// Mass, kg.
    pub mass_kg: f64,
    /// Centre of gravity behind the front axle, m.
    pub along_m: f64,
    /// Centre of gravity right of the middle, m.
    pub right_m: f64,
    /// Centre of gravity above the ground, m.
    pub up_m: f64,
    /// Front axle, kg.
    pub front_kg: f64,
    /// Rear axle, kg.
    pub rear_kg: f64,
    /// Share on the front axle.
    pub front_share: f64,
    /// Front left, front right, rear left, rear right, kg.
    pub corners_kg: [f64; 4],
    /// Sideways slope at which it tips over, degrees.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub tips_sideways_deg: Option<f64>,
    /// Uphill slope at which it tips over backwards, degrees.
    pub tips_backwards_deg: f64,
    /// Downhill slope at which it tips over forwards, degrees.
    pub tips_forwards_deg: f64,
}

/// What a rating is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Rated {
    /// The whole vehicle.
    Gross,
    /// The front axle.
    FrontAxle,
    /// The rear axle.
    RearAxle,
    /// The heavier wheel in front.
    FrontTyre,
    /// The heavier wheel at the rear.
    RearTyre,
}

impl Rated {
    /// As a heading, and as the subject of a sentence.
    #[must_use]
    pub fn words(self) -> (&'static str, &'static str) {
        match self {
            Self::Gross => ("Gross mass", "Gross mass"),
            Self::FrontAxle => ("Front axle", "The front axle"),
            Self::RearAxle => ("Rear axle", "The rear axle"),
            Self::FrontTyre => ("A front tyre", "A front tyre"),
            Self::RearTyre => ("A rear tyre", "A rear tyre"),
        }
    }
}

/// A load held against its rating.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LoadLimit {
    /// What is rated.
    pub of: Rated,
    /// Words shown.
    pub name: &'static str,
    /// Laden, kg.
    pub laden_kg: f64,
    /// Rated, kg.
    pub limit_kg: f64,
    /// What a metre rearwards of each kilogram adds to it, kg.
    pub per_kg_m: f64,
}

/// The layout of a design.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LayoutSheet {
    /// The vehicle.
    pub outline: Outline,
    /// Every mass at its place: what came out, what went in, who rides.
    pub blocks: Vec<BlockView>,
    /// From the donor as it stood to the laden vehicle.
    pub states: Vec<State>,
    /// Ratings that are known.
    pub limits: Vec<LoadLimit>,
    /// Room for boxes of the pack: what fits and what lies in it.
    pub bays: Vec<BayView>,
    /// Cables between blocks whose places are stated.
    pub cables: Vec<CableRun>,
    /// Front axle laden, as claims and findings count it, kg.
    pub front_kg: f64,
    /// Rear axle laden, kg.
    pub rear_kg: f64,
    /// What a kilogram a metre further back takes from the front axle and adds to the rear one, kg: every load is a sum of such. Nothing
    /// where the share was weighed.
    pub per_kg_m: f64,
    /// Usual things that the design does not have yet, with usual mass and size.
    pub usual_things: Vec<AddedItem>,
    /// What was assumed because nobody said.
    pub assumed: Vec<Sentence>,
}

/// Works out the layout of a design.
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::layout::layout;
/// let van = Document::from_json(&demo("whimbrel-9-a")?)?;
/// let laden = layout(&van).states.pop().expect("five states");
/// assert!((laden.front_kg + laden.rear_kg - laden.mass_kg).abs() < 1e-9);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn layout(document: &Document) -> LayoutSheet {
    let stance = Stance::of(document);
    let blocks = blocks::blocks(document);
    let states = states(document, &stance);
    let laden = &states[states.len() - 1];
    let outline = outline(document);
    let limits = limits(document, &stance, laden);
    let m = masses(document);
    LayoutSheet {
        limits,
        bays: bays::bays(document, &blocks),
        cables: cables(document),
        front_kg: m.front_axle_kg,
        rear_kg: m.rear_axle_kg,
        per_kg_m: per_kg_m(document, &stance),
        usual_things: usual_things(document),
        assumed: assumed(document),
        outline,
        blocks,
        states,
    }
}

/// The laden vehicle by its places, with its loads against their ratings.
#[must_use]
pub fn laden(document: &Document) -> (State, Vec<LoadLimit>) {
    let stance = Stance::of(document);
    let mut states = states(document, &stance);
    let laden = states.remove(states.len() - 1);
    let limits = limits(document, &stance, &laden);
    (laden, limits)
}

/// Centre of a block, m.
fn centre_m(document: &Document, placed: &Placed<'_>) -> [f64; 3] {
    let donor = &document.donor;
    [placed.along().metres(donor.wheelbase_m), placed.at.right_m.unwrap_or(0.0), placed.at.up_m.unwrap_or(donor.cg_height_m)]
}

/// The donor as it stood.
fn as_it_stood(document: &Document) -> Balance {
    let donor = &document.donor;
    Balance::of(donor.curb_mass_kg, [(1.0 - donor.front_axle_share) * donor.wheelbase_m, 0.0, donor.cg_height_m])
}

fn states(document: &Document, stance: &Stance) -> Vec<State> {
    let as_it_stood = as_it_stood(document);
    let (mut out, mut put_in, mut driver, mut load) = (Balance::default(), Balance::default(), Balance::default(), Balance::default());
    each_placed(document, |p| {
        let into = match p.block {
            Block::Removed(_) => &mut out,
            Block::Driver => &mut driver,
            Block::Payload => &mut load,
            _ => &mut put_in,
        };
        *into = into.with(Balance::of(p.added_kg(), centre_m(document, &p)));
    });
    let stripped = as_it_stood.with(out);
    let converted = stripped.with(put_in);
    let driven = converted.with(driver);
    let all = [
        ("donor", "Donor as it stood", as_it_stood),
        ("stripped", "With what came out gone", stripped),
        ("converted", "Converted, empty", converted),
        ("driver", "With its driver", driven),
        ("laden", "Laden", driven.with(load)),
    ];
    all.into_iter().map(|(id, name, balance)| state(id, name, &balance, stance)).collect()
}

fn state(id: &'static str, name: &'static str, balance: &Balance, stance: &Stance) -> State {
    let [along_m, right_m, up_m] = balance.centre_m();
    let WheelLoads { axles_kg, corners_kg } = stance.loads(balance);
    let (tips_backwards_deg, tips_forwards_deg) = stance.tips_lengthways_deg(balance);
    State {
        id,
        name,
        mass_kg: balance.kg,
        along_m,
        right_m,
        up_m,
        front_kg: axles_kg[0],
        rear_kg: axles_kg[1],
        front_share: if balance.kg > 0.0 { axles_kg[0] / balance.kg } else { 0.0 },
        corners_kg,
        tips_sideways_deg: stance.tips_sideways_deg(balance),
        tips_backwards_deg,
        tips_forwards_deg,
    }
}

/// Load that one tyre is rated for, kg; by the index stated, else that of its code.
fn tyre_rating_kg(document: &Document) -> Option<f64> {
    let by_code = || match &document.donor.tyre {
        Tyre::Code(code) => tyre::load_index(code),
        Tyre::RollingRadiusM(_) => None,
    };
    document.donor.tyre_load_index.or_else(by_code).and_then(tyre::load_kg)
}

/// Load of the heavier wheel of each axle, kg.
fn wheels_of(corners_kg: &[f64; 4], stance: &Stance) -> [f64; 2] {
    std::array::from_fn(|i| {
        let [left, right] = [corners_kg[2 * i], corners_kg[2 * i + 1]];
        if stance.tracks_m[i] > 0.0 { left.max(right) } else { left + right }
    })
}

/// What a kilogram a metre further back moves from the front axle to the rear one, kg; nothing where places do not tell.
fn per_kg_m(document: &Document, stance: &Stance) -> f64 {
    if stated_front_share(document).is_some() { 0.0 } else { 1.0 / stance.wheelbase_m }
}

fn limits(document: &Document, stance: &Stance, laden: &State) -> Vec<LoadLimit> {
    let (donor, m) = (&document.donor, masses(document));
    let per_kg_m = per_kg_m(document, stance);
    // The heavier wheel of each axle, by how the blocks lean.
    let [front_kg, rear_kg] = {
        let (wheels_kg, own_kg) = (wheels_of(&laden.corners_kg, stance), [laden.front_kg, laden.rear_kg]);
        let axles_kg = [m.front_axle_kg, m.rear_axle_kg];
        std::array::from_fn(|i| if own_kg[i] > 0.0 { axles_kg[i] * wheels_kg[i] / own_kg[i] } else { axles_kg[i] })
    };
    // Half of an axle's change, of a single wheel all of it.
    let wheel = |i: usize| if stance.tracks_m[i] > 0.0 { 0.5 * per_kg_m } else { per_kg_m };
    let tyre_kg = tyre_rating_kg(document);
    [
        (Rated::Gross, m.test_kg, donor.gross_limit_kg, 0.0),
        (Rated::FrontAxle, m.front_axle_kg, donor.front_axle_limit_kg, -per_kg_m),
        (Rated::RearAxle, m.rear_axle_kg, donor.rear_axle_limit_kg, per_kg_m),
        (Rated::FrontTyre, front_kg, tyre_kg, -wheel(0)),
        (Rated::RearTyre, rear_kg, tyre_kg, wheel(1)),
    ]
    .into_iter()
    .filter_map(|(of, laden_kg, limit, per_kg_m)| Some(LoadLimit { of, name: of.words().0, laden_kg, limit_kg: limit?, per_kg_m }))
    .collect()
}

fn assumed(document: &Document) -> Vec<Sentence> {
    let donor = &document.donor;
    let mut assumed: Vec<Sentence> = assumed_of_axles(document).into_iter().map(|words| sentence!("{}", words)).collect();
    let usual =
        [donor.track_front_m, donor.track_rear_m, donor.overhang_front_m, donor.overhang_rear_m, donor.body_width_m, donor.body_height_m];
    if usual.contains(&None) {
        assumed.push("tracks, overhangs and body as usual for the kind of vehicle".into());
    }
    let mut unsaid = false;
    each_placed(document, |p| unsaid |= p.at.up_m.is_none() && p.kg > 0.0);
    if unsaid {
        assumed.push(sentence!("what has no height sits as high as the donor's centre of gravity, {}", figure(donor.cg_height_m, "m", 2)));
    }
    if document.design.front_axle_share.is_some() {
        assumed.push("claims and findings count the axle share as weighed, not the places".into());
    }
    if donor.test_mass_kg.is_some() {
        assumed.push("claims and findings count the test mass as stated".into());
    }
    assumed
}
