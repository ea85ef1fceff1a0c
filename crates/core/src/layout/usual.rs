//! What a conversion puts in beside its chain and is easily forgotten, with usual mass and size, so that it can be placed before it is bought.

use crate::document::{AddedItem, BrakeAssistance, Document, Placement};

/// Lead-acid battery for 12 V (common practice): kg for each Ah, and its size in proportion, m for the cube root of a litre.
const BATTERY_KG_AH: f64 = 0.26;
const BATTERY_KG_L: f64 = 1.75;
const BATTERY_SHAPE: [f64; 3] = [1.2, 0.98, 0.85];

/// Usual things that the design does not have yet, by their names; masses and sizes are common practice, prices are not known.
#[must_use]
pub fn usual_things(document: &Document) -> Vec<AddedItem> {
    let design = &document.design;
    let thing = |name: &str, kg: f64, [length_m, width_m, height_m]: [f64; 3]| {
        let centimetres = |m: f64| Some((100.0 * m).round() / 100.0);
        AddedItem {
            at: Placement {
                length_m: centimetres(length_m),
                width_m: centimetres(width_m),
                height_m: centimetres(height_m),
                ..Placement::default()
            },
            ..AddedItem::of(name.to_owned(), (10.0 * kg).round() / 10.0, 0.0)
        }
    };
    let battery_kg = BATTERY_KG_AH * design.electrics.auxiliary_in_use_ah(document.donor.kind);
    let side_m = 0.1 * (battery_kg / BATTERY_KG_L).cbrt();
    let mut all = vec![thing("12 V battery", battery_kg, BATTERY_SHAPE.map(|share| share * side_m))];
    if matches!(design.electrics.brakes, BrakeAssistance::Lost | BrakeAssistance::Vacuum) {
        all.push(thing("Vacuum reservoir", 1.2, [0.3, 0.12, 0.12]));
    }
    all.extend([
        thing("Coolant pump", 0.8, [0.12, 0.1, 0.1]),
        thing("Radiator", 3.0, [0.05, 0.5, 0.35]),
        thing("Brackets and frames", 8.0, [0.6, 0.4, 0.2]),
    ]);
    all.retain(|new| !design.added.iter().any(|a| a.name.eq_ignore_ascii_case(&new.name)));
    all
}
