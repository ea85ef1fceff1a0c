//! The mass account as CSV: every block with its place and what of it each axle carries, then the vehicle from donor to laden.

use super::lists::{plain, written};
use crate::document::Document;
use crate::layout::layout;

/// The mass account: blocks first, what came out with a negative mass, then each state of the vehicle as a whole.
#[must_use]
pub fn account_csv(document: &Document) -> String {
    let header = ["row", "kind", "name", "mass_kg", "behind_front_axle_m", "right_m", "up_m", "front_axle_kg", "rear_axle_kg", "place"];
    let sheet = layout(document);
    let wheelbase_m = sheet.outline.wheelbase_m;
    let blocks = sheet.blocks.iter().map(|b| {
        let kg = if b.kind == "removed" { -b.mass_kg } else { b.mass_kg };
        let rear_kg = kg * b.along_m / wheelbase_m;
        let place = if b.placed { "stated" } else { "usual" };
        let figures = [kg, b.along_m, b.right_m, b.up_m, kg - rear_kg, rear_kg].map(plain);
        ["block".to_owned(), b.kind.to_owned(), b.name.clone()].into_iter().chain(figures).chain([place.to_owned()]).collect()
    });
    let states = sheet.states.iter().map(|s| {
        let figures = [s.mass_kg, s.along_m, s.right_m, s.up_m, s.front_kg, s.rear_kg].map(plain);
        ["state".to_owned(), s.id.to_owned(), s.name.to_owned()].into_iter().chain(figures).chain([String::new()]).collect()
    });
    written(&header, blocks.chain(states))
}
