//! What a pack may weigh where it sits.

use serde::Serialize;

use super::{LoadLimit, Rated, laden};
use crate::document::{Block, Document, each_placed};

/// The most a pack may weigh at its place before a rating is reached.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PackRoom {
    /// kg, laden with driver and load as the brief has them; 0 where the rest is too much already.
    pub most_kg: f64,
    /// The rating that is reached first.
    pub limited_by: Rated,
}

/// The most a pack may weigh at its place, by the ratings of the vehicle, its axles and tyres; `None` where none is known, without a pack,
/// or where the laden mass is stated as a whole.
#[must_use]
pub fn pack_room(document: &Document) -> Option<PackRoom> {
    let wheelbase_m = document.donor.wheelbase_m;
    let (mut pack_kg, mut moment) = (0.0, 0.0);
    each_placed(document, |p| {
        if matches!(p.block, Block::Pack | Block::PackBox(_)) {
            pack_kg += p.kg;
            moment += p.kg * p.along().metres(wheelbase_m);
        }
    });
    if pack_kg <= 0.0 || document.donor.test_mass_kg.is_some() {
        return None;
    }
    let along_m = moment / pack_kg;
    // A load is W(1 - x/L) in front and W x/L behind; what a metre adds to it tells how much of a kilogram it carries.
    let share = |limit: &LoadLimit| match limit.of {
        Rated::Gross => 1.0,
        Rated::FrontAxle | Rated::FrontTyre => -limit.per_kg_m * (wheelbase_m - along_m),
        Rated::RearAxle | Rated::RearTyre => limit.per_kg_m * along_m,
    };
    let mut weighed = document.clone();
    let mut room = PackRoom { most_kg: pack_kg, limited_by: Rated::Gross };
    // Exact at once for all but the heavier of two wheels, whose share of a lean follows the load.
    for _ in 0..MOST_STEPS {
        let limits = laden(&weighed).1;
        let nearest = limits.iter().filter(|l| share(l) > 1e-9).map(|l| ((l.limit_kg - l.laden_kg) / share(l), l.of));
        let (more_kg, limited_by) = nearest.min_by(|a, b| a.0.total_cmp(&b.0))?;
        let most_kg = (room.most_kg + more_kg).max(0.0);
        let moved = (most_kg - room.most_kg).abs();
        room = PackRoom { most_kg, limited_by };
        weigh(&mut weighed, document, most_kg / pack_kg);
        if moved < 1e-9 {
            break;
        }
    }
    // What the pack does not press on may be overloaded all the same.
    let over = laden(&weighed).1.into_iter().find(|l| l.laden_kg > l.limit_kg + 1e-6);
    Some(over.map_or(room, |l| PackRoom { most_kg: 0.0, limited_by: l.of }))
}

/// Steps within which the load of a wheel settles.
const MOST_STEPS: usize = 50;

/// Gives the pack a share of what it weighs as written.
fn weigh(weighed: &mut Document, written: &Document, share: f64) {
    if let (Some(to), Some(from)) = (&mut weighed.design.pack, &written.design.pack) {
        to.box_mass_kg = from.box_mass_kg * share;
        to.module.mass_kg = from.module.mass_kg * share;
        for (to, from) in to.added_strings.iter_mut().zip(&from.added_strings) {
            to.module.mass_kg = from.module.mass_kg * share;
        }
    }
}
