//! What the cables and boxes of the pack pass on their way: people, heat, fuel, and the ends of the body that crush first.

use super::blocks::blocks;
use super::{BlockView, SizedBy, cables, outline};
use crate::document::{Beware, Document, HAZARDOUS_V};

/// What is passed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PassedBy {
    /// A person's place.
    People,
    /// Something hot.
    Hot,
    /// Something with fuel in it.
    Fuel,
    /// An end or side of the body that crushes first.
    Crush,
}

/// A cable or box too near to something.
#[derive(Debug, Clone, PartialEq)]
pub struct Passed {
    /// Cable or box.
    pub what: String,
    /// What it passes.
    pub by: PassedBy,
    /// Its name.
    pub name: String,
    /// Between the two, m; 0: through it.
    pub apart_m: f64,
    /// What should be between them, m.
    pub keep_m: f64,
}

/// Kept from a person, from heat and from fuel, m; depth of what crushes first at nose and tail and at the sides, m (common practice).
const FROM_PEOPLE_M: f64 = 0.02;
const FROM_HEAT_M: f64 = 0.1;
const FROM_FUEL_M: f64 = 0.2;
const ENDS_M: f64 = 0.3;
const SIDES_M: f64 = 0.1;
/// Size of a seated person above the cushion, along, across, up, m (common practice).
const SEATED_M: [f64; 3] = [0.6, 0.5, 0.9];

type Extent = [(f64, f64); 3];

fn around(centre: [f64; 3], size: [f64; 3]) -> Extent {
    std::array::from_fn(|i| (centre[i] - 0.5 * size[i], centre[i] + 0.5 * size[i]))
}

fn extent(b: &BlockView) -> Extent {
    around([b.along_m, b.right_m, b.up_m], [b.length_m, b.width_m, b.height_m])
}

/// Distance of two boxes, m; 0 where they touch or share room.
fn apart_m(a: &Extent, b: &Extent) -> f64 {
    (0..3).map(|i| (a[i].0 - b[i].1).max(b[i].0 - a[i].1).max(0.0).powi(2)).sum::<f64>().sqrt()
}

/// What cables with stated ends and boxes of the pack with stated place and size come too near to. Of people only above 60 V and where their
/// place and height are stated; of the body's ends only in closed vehicles, whose structure is made to crush there.
#[must_use]
pub fn passed(document: &Document) -> Vec<Passed> {
    let all = blocks(document);
    let hazardous = document.design.pack.as_ref().is_some_and(|p| p.full_charge_v() > HAZARDOUS_V);
    // What is passed: its extent, how it is spoken of, what is kept from it.
    let mut places: Vec<(Extent, PassedBy, String, f64)> = Vec::new();
    for block in &all {
        if block.kind == "driver" && hazardous && block.placed && block.up_said {
            let size = if block.sized_by == SizedBy::Said { [block.length_m, block.width_m, block.height_m] } else { SEATED_M };
            let centre = [block.along_m, block.right_m, block.up_m];
            places.push((around(centre, size), PassedBy::People, "the driver".to_owned(), FROM_PEOPLE_M));
        }
    }
    let marked = document.design.added.iter().enumerate().filter_map(|(i, a)| Some((i, a.beware?)));
    for (i, beware) in marked {
        let path = format!("design.added.{i}.at");
        let Some(block) = all.iter().find(|b| b.path == path && b.placed) else { continue };
        let (by, keep_m) = match beware {
            Beware::Hot => (PassedBy::Hot, FROM_HEAT_M),
            Beware::Fuel => (PassedBy::Fuel, FROM_FUEL_M),
        };
        places.push((extent(block), by, block.name.clone(), keep_m));
    }
    let runs = cables(document);
    let mut found: Vec<Passed> = Vec::new();
    for run in &runs {
        let ways = run.corners_m.windows(2).map(|w| -> Extent { std::array::from_fn(|i| (w[0][i].min(w[1][i]), w[0][i].max(w[1][i]))) });
        let ways: Vec<Extent> = ways.collect();
        for (place, by, name, keep_m) in &places {
            let nearest = ways.iter().map(|way| apart_m(way, place)).fold(f64::INFINITY, f64::min);
            if nearest < *keep_m {
                found.push(Passed { what: run.name.to_owned(), by: *by, name: name.clone(), apart_m: nearest, keep_m: *keep_m });
            }
        }
    }
    let boxes = all.iter().filter(|b| b.kind == "pack" && b.placed && b.sized_by == SizedBy::Said);
    for block in boxes {
        for (place, by, name, keep_m) in places.iter().filter(|p| p.1 != PassedBy::People) {
            let apart = apart_m(&extent(block), place);
            if apart < *keep_m {
                found.push(Passed { what: block.name.clone(), by: *by, name: name.clone(), apart_m: apart, keep_m: *keep_m });
            }
        }
        found.extend(crushed(document, block));
    }
    found
}

/// The end or side of a closed body that a box reaches into the furthest.
fn crushed(document: &Document, block: &BlockView) -> Option<Passed> {
    if !document.donor.kind.is_closed() {
        return None;
    }
    let o = outline::outline(document);
    let [along, across, _] = extent(block);
    let ends = [
        ("the nose", along.0 + o.overhang_front_m, ENDS_M),
        ("the tail", o.wheelbase_m + o.overhang_rear_m - along.1, ENDS_M),
        ("the left side", across.0 + 0.5 * o.width_m, SIDES_M),
        ("the right side", 0.5 * o.width_m - across.1, SIDES_M),
    ];
    let worst = ends.into_iter().filter(|(_, apart, keep)| apart < keep).min_by(|a, b| (a.1 - a.2).total_cmp(&(b.1 - b.2)))?;
    Some(Passed { what: block.name.clone(), by: PassedBy::Crush, name: worst.0.to_owned(), apart_m: worst.1.max(0.0), keep_m: worst.2 })
}
