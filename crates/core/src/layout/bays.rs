//! Room for the pack: what fits into each bay, where each box would sit in it, and which boxes lie in which.

use serde::Serialize;

use super::packing::{Packed, in_rows, packed};
use super::room::Room;
use super::{BlockView, Clash};
use crate::cancel::Cancel;
use crate::document::{AxlePlace, Bay, Document, Placement, pack_place};
use crate::error::Result;
use crate::library::Module;

/// Most boxes of a bay that are drawn.
const MOST_DRAWN: u32 = 1000;

/// Modules of one kind in a bay.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fit {
    /// How many, by room and rated mass.
    pub modules: u32,
    /// How many by room alone.
    pub by_room: u32,
    /// What no arrangement in layers exceeds.
    pub at_most: u32,
    /// Modules in each layer, from the floor upwards.
    pub layers: Vec<u32>,
    /// Each module: corner along, across and up from the front left corner of the floor, and size, m; no more than a thousand.
    pub boxes_m: Vec<[f64; 6]>,
    /// Whether the size of a module is stated, rather than taken from its mass.
    pub stated: bool,
}

/// A bay as it is drawn.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BayView {
    /// Place in the document of what is said of where it is: `donor.bays.0.at`.
    pub path: String,
    /// Name shown.
    pub name: String,
    /// Centre behind the front axle, m.
    pub along_m: f64,
    /// Centre right of the middle, m.
    pub right_m: f64,
    /// Centre above the ground, m.
    pub up_m: f64,
    /// Size along, across and upwards, m. Absent: not all of it is stated, so that nothing is said of what fits.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub size_m: Option<[f64; 3]>,
    /// Kept free within its walls on every side, m.
    pub clearance_m: f64,
    /// What of this design's module fits; absent without size or pack.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fit: Option<Fit>,
    /// Modules of the boxes that lie in it.
    pub holds: u32,
    /// Mass of what lies in it, boxes of the pack and whatever else was put in, kg.
    pub holds_kg: f64,
}

impl Bay {
    /// Length, width and height, m; none unless all three are stated.
    pub(super) fn size_m(&self) -> Option<[f64; 3]> {
        Some([self.at.length_m?, self.at.width_m?, self.at.height_m?])
    }

    /// What is left within its clearance, m.
    pub(super) fn free_m(&self) -> Option<[f64; 3]> {
        Some(self.size_m()?.map(|m| m - 2.0 * self.clearance_m))
    }

    /// Centre along, across and up, m.
    pub(super) fn centre_m(&self, document: &Document) -> [f64; 3] {
        let donor = &document.donor;
        let along = self.at.along.unwrap_or_else(|| pack_place(donor.kind));
        [along.metres(donor.wheelbase_m), self.at.right_m.unwrap_or(0.0), self.at.up_m.unwrap_or(donor.cg_height_m)]
    }
}

/// How many modules a rated mass holds.
fn by_mass(limit_kg: Option<f64>, module_kg: f64) -> u32 {
    limit_kg.map_or(u32::MAX, |limit| (limit / module_kg + 1e-9) as u32)
}

fn arranged(free_m: [f64; 3], module: &Module) -> Packed {
    packed(free_m, module.room().size_m, module.must_stand())
}

/// Modules of one kind that a room holds, and a rated mass; `module_kg` is what each weighs with its share of the box.
pub(super) fn capacity(free_m: Option<[f64; 3]>, limit_kg: Option<f64>, module: &Module, module_kg: f64) -> u32 {
    free_m.map_or(0, |free_m| arranged(free_m, module).count.min(by_mass(limit_kg, module_kg)))
}

fn fit(bay: &Bay, module: &Module, module_kg: f64) -> Option<Fit> {
    let packed = arranged(bay.free_m()?, module);
    let modules = packed.count.min(by_mass(bay.mass_limit_kg, module_kg));
    let mut left = modules;
    let layers = packed.stack.iter().map(|k| {
        let own = left.min(packed.kinds[*k].count);
        left -= own;
        own
    });
    Some(Fit {
        modules,
        by_room: packed.count,
        at_most: packed.at_most,
        layers: layers.filter(|n| *n > 0).collect(),
        boxes_m: packed.boxes_m(modules.min(MOST_DRAWN)),
        stated: module.room().stated,
    })
}

/// Place and size of a box with so many modules on the floor of a room, in its middle; to the millimetre. Without a room only where it is.
pub(super) fn placement([along, right, up]: [f64; 3], room: Option<&Room>, module: &Module, modules: u32) -> Placement {
    let boxes = room.map(|r| arranged(r.size_m, module).boxes_m(modules)).unwrap_or_default();
    let reach = |axis: usize| {
        let far = |b: &[f64; 6]| b[axis] + b[axis + 3];
        boxes.iter().map(far).fold(0.0, f64::max)
    };
    let on_floor = room.filter(|_| !boxes.is_empty()).map(|r| r.low_m[2] + 0.5 * reach(2));
    let millimetre = |m: f64| (m * 1000.0).round() / 1000.0;
    let size = |axis: usize| (!boxes.is_empty()).then(|| millimetre(reach(axis)));
    Placement {
        along: Some(AxlePlace::BehindFrontAxleM(millimetre(along))),
        right_m: Some(millimetre(right)),
        up_m: Some(millimetre(on_floor.unwrap_or(up))),
        length_m: size(0),
        width_m: size(1),
        height_m: size(2),
    }
}

/// Bay that a point lies in, the first of several.
pub(super) fn bay_at(document: &Document, point: [f64; 3]) -> Option<usize> {
    document.donor.bays.iter().position(|bay| {
        let (centre, size) = (bay.centre_m(document), bay.size_m());
        size.is_some_and(|size| (0..3).all(|i| (point[i] - centre[i]).abs() <= 0.5 * size[i] + 1e-9))
    })
}

/// What lies in each bay: modules of the pack, and the mass of all that was put in.
#[derive(Debug, Clone, Copy, Default)]
struct Held {
    modules: u32,
    kg: f64,
}

fn held(document: &Document, blocks: &[BlockView]) -> Vec<Held> {
    let mut all = vec![Held::default(); document.donor.bays.len()];
    for block in blocks.iter().filter(|b| b.placed && b.is_put_in()) {
        if let Some(own) = bay_at(document, block.centre_m()).and_then(|i| all.get_mut(i)) {
            *own = Held { modules: own.modules + block.modules.unwrap_or(0), kg: own.kg + block.mass_kg };
        }
    }
    all
}

/// Bays that hold more modules than fit, or more mass than they may carry, with both figures.
pub(super) fn overdone(document: &Document, blocks: &[BlockView]) -> Vec<Clash> {
    let mut found = Vec::new();
    for (bay, held) in document.donor.bays.iter().zip(held(document, blocks)) {
        if let Some(limit_kg) = bay.mass_limit_kg.filter(|limit| held.kg > *limit + 1e-9) {
            found.push(Clash::Overloaded { bay: bay.name.clone(), holds_kg: held.kg, limit_kg });
        }
        let Some((module, free_m)) = document.design.pack.as_ref().map(|p| &p.module).zip(bay.free_m()).filter(|_| held.modules > 0) else {
            continue;
        };
        let (size_m, stands) = (module.room().size_m, module.must_stand());
        // Every arrangement is tried only where plain rows do not do.
        if in_rows(free_m, size_m, stands) < held.modules {
            let fits = packed(free_m, size_m, stands).count;
            if fits < held.modules {
                found.push(Clash::Overfull { bay: bay.name.clone(), holds: held.modules, fits });
            }
        }
    }
    found
}

/// Every bay with what fits and what lies in it.
pub(super) fn bays(document: &Document, blocks: &[BlockView]) -> Vec<BayView> {
    let pack = document.design.pack.as_ref();
    let boxes = || blocks.iter().filter_map(|b| Some((b, b.modules?)));
    let (all_kg, all) = boxes().fold((0.0, 0), |(kg, n), (b, own)| (kg + b.mass_kg, n + own));
    let module_kg = if all > 0 { all_kg / f64::from(all) } else { pack.map_or(1.0, |p| p.module.mass_kg) };
    let held = held(document, blocks);
    let view = |(i, bay): (usize, &Bay)| {
        let [along_m, right_m, up_m] = bay.centre_m(document);
        BayView {
            path: format!("donor.bays.{i}.at"),
            name: bay.name.clone(),
            along_m,
            right_m,
            up_m,
            size_m: bay.size_m(),
            clearance_m: bay.clearance_m,
            fit: pack.and_then(|p| fit(bay, &p.module, module_kg)),
            holds: held[i].modules,
            holds_kg: held[i].kg,
        }
    };
    document.donor.bays.iter().enumerate().map(view).collect()
}

/// What of a record of the library fits into a bay.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BayOffer {
    /// Name of the record.
    pub name: String,
    /// How many modules, by room and rated mass.
    pub modules: u32,
    /// How many by room alone.
    pub by_room: u32,
    /// Energy of all of them, kWh.
    pub energy_kwh: f64,
    /// Mass of all of them, kg.
    pub mass_kg: f64,
    /// Nominal voltage of all of them in one string, V.
    pub string_v: f64,
    /// Price of all of them; 0: not known.
    pub price: f64,
    /// Currency of the price, if not the brief's.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// Whether the size of a module is stated, rather than taken from its mass.
    pub stated: bool,
}

/// What of each module fits into a bay, the most energy first; nothing of those that do not fit, and nothing where the size of the bay is
/// not stated.
///
/// # Errors
/// [`Error::Cancelled`](crate::error::Error::Cancelled).
pub fn offers<'a>(bay: &Bay, modules: impl Iterator<Item = &'a Module>, cancel: &Cancel) -> Result<Vec<BayOffer>> {
    let offer = |m: &Module| {
        let packed = arranged(bay.free_m()?, m);
        let count = packed.count.min(by_mass(bay.mass_limit_kg, m.mass_kg));
        let n = f64::from(count);
        let string_v = n * f64::from(m.cells_in_series) * m.nominal_voltage_v;
        (count > 0).then(|| BayOffer {
            name: m.name.clone(),
            modules: count,
            by_room: packed.count,
            energy_kwh: string_v * m.present_capacity_ah() * 1e-3,
            mass_kg: n * m.mass_kg,
            string_v,
            price: n * m.price,
            currency: m.currency.clone(),
            stated: m.room().stated,
        })
    };
    let mut all = Vec::new();
    for module in modules {
        cancel.check()?;
        all.extend(offer(module));
    }
    all.sort_by(|a, b| b.energy_kwh.total_cmp(&a.energy_kwh).then_with(|| a.name.cmp(&b.name)));
    Ok(all)
}
