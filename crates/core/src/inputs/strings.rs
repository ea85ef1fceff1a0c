//! Doubts about strings put in parallel later: each has its own cells, seller and age.

use super::{InputDefinition, Measurement, Shape};
use crate::document::Document;
use crate::library::Module;
use crate::quantity::{Provenance, Sources};

fn added<'a>(d: &'a Document, i: usize, key: &'static str) -> Option<(&'a Sources, &'static str)> {
    d.design.pack.as_ref()?.added_strings.get(i).map(|s| (&s.module.sources, key))
}

fn module(d: &mut Document, i: usize) -> Option<&mut Module> {
    d.design.pack.as_mut()?.added_strings.get_mut(i).map(|s| &mut s.module)
}

macro_rules! of_string {
    ($i:literal) => {
        [
            input!(
                concat!("design.pack.added_strings[", $i, "].module.capacity_ah"),
                "capacity of the cells added later",
                TestCells,
                Claim,
                Datasheet,
                |d| added(d, $i, "capacity_ah"),
                |d, f| if let Some(m) = module(d, $i) {
                    m.capacity_ah *= f;
                }
            ),
            input!(
                concat!("design.pack.added_strings[", $i, "].module.capacity_share"),
                "health of the cells added later",
                TestCells,
                Claim,
                Handbook,
                |d| added(d, $i, "capacity_share").filter(|_| d
                    .design
                    .pack
                    .as_ref()
                    .is_some_and(|p| p.added_strings[$i].module.capacity_share < 1.0)),
                |d, f| if let Some(m) = module(d, $i) {
                    m.capacity_share = (m.capacity_share * f).min(1.0);
                }
            ),
            input!(
                concat!("design.pack.added_strings[", $i, "].module.resistance_ohm"),
                "resistance of the cells added later",
                TestCells,
                Value,
                Handbook,
                |d| added(d, $i, "resistance_ohm"),
                |d, f| if let Some(m) = module(d, $i) {
                    m.resistance_ohm *= f;
                }
            ),
            input!(
                concat!("design.pack.added_strings[", $i, "].module.peak_c"),
                "discharge rate of the cells added later, peak",
                TestCells,
                Claim,
                Datasheet,
                |d| added(d, $i, "peak_c"),
                |d, f| if let Some(m) = module(d, $i) {
                    m.peak_c *= f;
                }
            ),
            input!(
                concat!("design.pack.added_strings[", $i, "].module.continuous_c"),
                "discharge rate of the cells added later, continuous",
                TestCells,
                Claim,
                Datasheet,
                |d| added(d, $i, "continuous_c"),
                |d, f| if let Some(m) = module(d, $i) {
                    m.continuous_c *= f;
                }
            ),
        ]
    };
}

/// As many as the field catalogue lets a pack have.
pub(super) static DEFINITIONS: [[InputDefinition; 5]; 8] =
    [of_string!(0), of_string!(1), of_string!(2), of_string!(3), of_string!(4), of_string!(5), of_string!(6), of_string!(7)];
