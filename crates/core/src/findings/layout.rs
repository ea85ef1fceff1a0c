//! Rules of places: blocks that run into each other or out of the vehicle, bays that hold more than they can.

use super::rule::finding;
use super::{Evidence, Finding, Rule};
use crate::layout::{Clash, clashes};
use crate::quantity::{figure, sentence};

pub(super) fn places(e: &Evidence<'_>) -> Vec<Finding> {
    let say = |clash: Clash| match clash {
        Clash::Overlap { one, other, by_m } => {
            finding(Rule::BlocksOverlap, by_m, 0.0, sentence!("{} and {} share the same room, {} deep.", one, other, figure(by_m, "m", 2)))
        }
        Clash::Outside { block, way, by_m } => {
            finding(Rule::BlockOutside, by_m, 0.0, sentence!("{} sticks out {} by {}.", block, way, figure(by_m, "m", 2)))
        }
        Clash::Overfull { bay, holds, fits } => finding(
            Rule::BayOverfull,
            f64::from(holds),
            f64::from(fits),
            sentence!("{} modules lie in {}; {} fit there.", holds, bay, fits),
        ),
        Clash::Overloaded { bay, holds_kg, limit_kg } => finding(
            Rule::BayOverloaded,
            holds_kg,
            limit_kg,
            sentence!("{} carries {}; it may carry {}.", bay, figure(holds_kg, "kg", 0), figure(limit_kg, "kg", 0)),
        ),
    };
    clashes(e.document).into_iter().map(say).collect()
}
