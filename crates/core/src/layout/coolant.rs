//! The coolant's way by the places: from the radiator to controller and motor and back.

use super::cables::{ENDS_M, SLACK, along_axes, way_m};
use super::{centre_m, outline};
use crate::document::{Block, Document, each_placed};

/// The radiator's middle behind the foremost of the body, m (common practice).
const BEHIND_NOSE_M: f64 = 0.1;

/// Hose of a coolant loop.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CoolantRun {
    /// There and back, with slack, m.
    pub length_m: f64,
    /// Whether a block called a radiator is placed; else it is taken to be at the nose.
    pub radiator_placed: bool,
}

/// Hose from the radiator through controller and motor and back, where both have a stated place. Something put in whose name holds
/// "radiator" is one.
#[must_use]
pub fn coolant_run(document: &Document) -> Option<CoolantRun> {
    let (mut motor, mut controller, mut radiator) = (None, None, None);
    each_placed(document, |p| {
        let at = p.at.along.is_some().then(|| centre_m(document, &p));
        match p.block {
            Block::Motor => motor = at,
            Block::Controller => controller = at,
            Block::Added(i) if document.design.added[i].name.to_lowercase().contains("radiator") => radiator = radiator.or(at),
            _ => {}
        }
    });
    let nose = || [BEHIND_NOSE_M - outline(document).overhang_front_m, 0.0, document.donor.cg_height_m];
    let (from, motor, controller) = (radiator.unwrap_or_else(nose), motor?, controller?);
    let way = way_m(&along_axes(&[from, controller, motor, from]));
    Some(CoolantRun { length_m: way * (1.0 + SLACK) + 6.0 * ENDS_M, radiator_placed: radiator.is_some() })
}
