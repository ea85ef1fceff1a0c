//! Where blocks whose place and size are stated run into each other, or out of the vehicle.

use super::blocks::blocks;
use super::room::TOLERANCE_M;
use super::{BlockView, bays, outline};
use crate::document::Document;

/// What is wrong with the place of a block.
#[derive(Debug, Clone, PartialEq)]
pub enum Clash {
    /// Two blocks share room, by this much where they share least, m.
    Overlap {
        /// Name of one.
        one: String,
        /// Name of the other.
        other: String,
        /// m.
        by_m: f64,
    },
    /// A block sticks out of the body, or into the ground.
    Outside {
        /// Its name.
        block: String,
        /// Where it sticks out, in words.
        way: &'static str,
        /// m.
        by_m: f64,
    },
    /// More modules lie in a bay than fit.
    Overfull {
        /// Name of the bay.
        bay: String,
        /// Modules in it.
        holds: u32,
        /// Modules that fit.
        fits: u32,
    },
    /// A bay carries more than it may.
    Overloaded {
        /// Name of the bay.
        bay: String,
        /// kg.
        holds_kg: f64,
        /// kg.
        limit_kg: f64,
    },
}

/// Its lowest and highest along, across and up, m.
fn edges(b: &BlockView) -> [(f64, f64); 3] {
    let span = |centre: f64, size: f64| (centre - 0.5 * size, centre + 0.5 * size);
    [span(b.along_m, b.length_m), span(b.right_m, b.width_m), span(b.up_m, b.height_m)]
}

/// What is wrong with the places of the blocks; nothing is said of those whose place or size is not stated, nor of what came out, of people
/// and of the load.
#[must_use]
pub fn clashes(document: &Document) -> Vec<Clash> {
    let all = blocks(document);
    let firm: Vec<&BlockView> = all.iter().filter(|b| b.is_firm()).collect();
    let mut found = Vec::new();
    for (i, one) in firm.iter().enumerate() {
        for other in &firm[i + 1..] {
            let shared = |(a, b): ((f64, f64), (f64, f64))| a.1.min(b.1) - a.0.max(b.0);
            let by_m = edges(one).into_iter().zip(edges(other)).map(shared).fold(f64::INFINITY, f64::min);
            if by_m > TOLERANCE_M {
                found.push(Clash::Overlap { one: one.name.clone(), other: other.name.clone(), by_m });
            }
        }
        let body = outline(document);
        let [along, across, up] = edges(one);
        let out = [
            (-body.overhang_front_m - along.0, "in front"),
            (along.1 - body.wheelbase_m - body.overhang_rear_m, "behind"),
            (-0.5 * body.width_m - across.0, "to the left"),
            (across.1 - 0.5 * body.width_m, "to the right"),
            (-up.0, "into the ground"),
        ];
        if let Some((by_m, way)) = out.into_iter().max_by(|a, b| a.0.total_cmp(&b.0)).filter(|(by, _)| *by > TOLERANCE_M) {
            found.push(Clash::Outside { block: one.name.clone(), way, by_m });
        }
    }
    found.extend(bays::overdone(document, &all));
    found
}
