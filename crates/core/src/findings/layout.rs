//! Rules of places: blocks that run into each other or out of the vehicle, bays that hold more than they can.

use super::rule::finding;
use super::{Evidence, Finding, Rule};
use crate::layout::{Clash, Passed, PassedBy, clashes, passed};
use crate::quantity::{figure, sentence};

/// Messages of the donor's network that fall silent with the engine's unit and are needed by what must keep working.
pub(super) fn network(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(network) = &e.document.donor.evidence.network else { return Vec::new() };
    let silent = network.messages.iter().filter(|m| network.falls_silent(m) && !m.needed_by.is_empty());
    silent
        .map(|m| {
            let needs: Vec<&str> = m.needed_by.iter().map(|n| n.word()).collect();
            let says = sentence!("{} falls silent with the engine's unit; {} need it.", m.words(), needs.join(", "));
            finding(Rule::NetworkFallsSilent, 0.0, 0.0, says)
        })
        .collect()
}

/// Cables and boxes that come too near to people, heat, fuel, or the ends of the body.
pub(super) fn routes(e: &Evidence<'_>) -> Vec<Finding> {
    let say = |p: Passed| {
        let (apart, keep) = (figure(p.apart_m, "m", 2), figure(p.keep_m, "m", 2));
        let (rule, says) = match (p.by, p.apart_m > 0.0) {
            (PassedBy::People, _) => (Rule::RouteThroughPeople, sentence!("{} runs through the place of {}.", p.what, p.name)),
            (PassedBy::Crush, _) => {
                (Rule::InCrushZone, sentence!("{} lies {} behind {}; the first {} crush.", p.what, apart, p.name, keep))
            }
            (by, away) => {
                let rule = if by == PassedBy::Hot { Rule::NearHeat } else { Rule::NearFuel };
                (
                    rule,
                    if away {
                        sentence!("{} passes {} at {}; {} are kept.", p.what, p.name, apart, keep)
                    } else {
                        sentence!("{} runs through {}.", p.what, p.name)
                    },
                )
            }
        };
        finding(rule, p.apart_m, p.keep_m, says)
    };
    passed(e.document).into_iter().map(say).collect()
}

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
