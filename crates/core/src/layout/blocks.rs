//! The blocks of a layout as they are drawn: name, mass, place and size, and where in the document each of them is said.

use serde::Serialize;

use super::centre_m;
use super::room::Room;
use crate::document::{Block, CONTACTOR_BOX, Document, Placement, each_placed};

/// Where the size of a block comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SizedBy {
    /// Stated.
    Said,
    /// From its mass by what such things usually weigh a litre.
    Mass,
}

/// One block.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BlockView {
    /// Place in the document of what is said of it: `design.layout.pack`, `donor.removed.0.at`.
    pub path: String,
    /// `removed`, `motor`, `controller`, `pack`, `charger`, `electrics`, `component`, `added`, `driver`, `payload`.
    pub kind: &'static str,
    /// Name shown.
    pub name: String,
    /// Mass, kg.
    pub mass_kg: f64,
    /// Centre behind the front axle, m.
    pub along_m: f64,
    /// Centre right of the middle, m.
    pub right_m: f64,
    /// Centre above the ground, m.
    pub up_m: f64,
    /// Size along, m.
    pub length_m: f64,
    /// Size across, m.
    pub width_m: f64,
    /// Size upwards, m.
    pub height_m: f64,
    /// Whether its place along the vehicle is stated.
    pub placed: bool,
    /// Whether its place across the vehicle is stated.
    pub across_said: bool,
    /// Whether its height above the ground is stated.
    pub up_said: bool,
    /// Whether it goes wherever the motor goes, as long as nothing is said of its own place.
    pub with_motor: bool,
    /// Where its size comes from.
    pub sized_by: SizedBy,
    /// Modules in it, of a box of the pack.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub modules: Option<u32>,
    /// Whether it may go into a bay beside the pack: the motor is where it turns something.
    pub movable: bool,
    /// Whether it holds a part of a string, so that the cable between boxes sits within one.
    pub cuts_string: bool,
}

impl BlockView {
    /// Whether place and size are stated as a whole, of something that was put in.
    pub(super) fn is_firm(&self) -> bool {
        let said = self.placed && self.across_said && self.up_said && self.sized_by == SizedBy::Said;
        said && self.is_put_in()
    }

    /// Whether the conversion puts it in: neither what came out nor who rides.
    #[must_use]
    pub fn is_put_in(&self) -> bool {
        !matches!(self.kind, "removed" | "driver" | "payload")
    }

    pub(super) fn centre_m(&self) -> [f64; 3] {
        [self.along_m, self.right_m, self.up_m]
    }

    /// The room it takes.
    pub(super) fn room(&self) -> Room {
        let size_m = [self.length_m, self.width_m, self.height_m];
        let centre_m = self.centre_m();
        Room { low_m: std::array::from_fn(|i| centre_m[i] - 0.5 * size_m[i]), size_m }
    }
}

/// Usual mass of a litre, kg, and proportions along, across and up (judgement).
const fn usual_shape(block: Block) -> (f64, [f64; 3]) {
    match block {
        Block::Motor => (3.5, [1.4, 1.0, 1.0]),
        Block::Controller => (1.2, [1.6, 1.2, 0.6]),
        Block::Pack | Block::PackBox(_) => (1.6, [1.6, 1.4, 0.6]),
        Block::Charger | Block::Electrics | Block::Component(_) => (0.9, [1.4, 1.0, 0.6]),
        Block::Driver => (0.45, [0.7, 0.6, 1.6]),
        Block::Payload => (0.25, [1.2, 1.2, 0.8]),
        Block::Removed(_) | Block::Added(_) => (1.5, [1.2, 1.0, 1.0]),
    }
}

/// Size of a block whose centre is `up_m` above the ground: what is not said by its mass, and no lower than the ground.
fn size_m(block: Block, kg: f64, at: &Placement, up_m: f64) -> [f64; 3] {
    let (kg_l, shape) = usual_shape(block);
    let scale = (kg / kg_l * 1e-3 / (shape[0] * shape[1] * shape[2])).cbrt().max(0.05);
    let [length, width, tall] = shape.map(|share| scale * share);
    // As many litres: what is flatter is wider.
    let low = tall.min((2.0 * up_m).max(0.05));
    let (height, wider) = at.height_m.map_or_else(|| (low, (tall / low).sqrt()), |said| (said, 1.0));
    [at.length_m.unwrap_or(wider * length), at.width_m.unwrap_or(wider * width), height]
}

/// Every block of a document.
pub(super) fn blocks(document: &Document) -> Vec<BlockView> {
    let design = &document.design;
    let (boxes, rest) = design.pack.as_ref().map_or_else(Default::default, |p| design.layout.filled(p.module_count()));
    let named = |part: Option<&str>, count: u32| match part {
        Some(name) if count > 1 => format!("{count} x {name}"),
        Some(name) => name.to_owned(),
        None => String::new(),
    };
    let mut all = Vec::new();
    each_placed(document, |p| {
        let (kind, path, name) = match p.block {
            Block::Removed(i) => ("removed", format!("donor.removed.{i}.at"), document.donor.removed[i].name.clone()),
            Block::Motor => {
                ("motor", "design.layout.motor".to_owned(), named(design.motor.as_ref().map(|m| m.name.as_str()), design.motor_count))
            }
            Block::Controller => (
                "controller",
                "design.layout.controller".to_owned(),
                named(design.controller.as_ref().map(|c| c.name.as_str()), design.controller_count),
            ),
            Block::Pack => ("pack", "design.layout.pack".to_owned(), "Pack".to_owned()),
            Block::PackBox(i) => ("pack", format!("design.layout.boxes.{i}.at"), design.layout.boxes[i].name.clone()),
            Block::Charger => ("charger", "design.layout.charger".to_owned(), named(design.charger.as_ref().map(|c| c.name.as_str()), 1)),
            Block::Electrics => ("electrics", "design.layout.electrics".to_owned(), CONTACTOR_BOX.to_owned()),
            Block::Component(slot) => ("component", format!("design.layout.fitted.{}", slot.key()), slot.word().to_owned()),
            Block::Added(i) => ("added", format!("design.added.{i}.at"), design.added[i].name.clone()),
            Block::Driver => ("driver", "design.layout.driver".to_owned(), "Driver".to_owned()),
            Block::Payload => ("payload", "design.layout.payload".to_owned(), "Load".to_owned()),
        };
        let modules = match p.block {
            Block::Pack => Some(rest),
            Block::PackBox(i) => boxes.get(i).copied(),
            _ => None,
        };
        let [along_m, right_m, up_m] = centre_m(document, &p);
        let [length_m, width_m, height_m] = size_m(p.block, p.kg, p.at, up_m);
        let said = p.at.length_m.is_some() && p.at.width_m.is_some() && p.at.height_m.is_some();
        all.push(BlockView {
            path,
            kind,
            name,
            mass_kg: p.kg,
            along_m,
            right_m,
            up_m,
            length_m,
            width_m,
            height_m,
            placed: p.at.along.is_some(),
            across_said: p.at.right_m.is_some(),
            up_said: p.at.up_m.is_some(),
            with_motor: p.goes_with_motor(),
            movable: p.is_movable(),
            sized_by: if said { SizedBy::Said } else { SizedBy::Mass },
            modules,
            cuts_string: modules.zip(design.pack.as_ref()).is_some_and(|(n, pack)| n % pack.modules_in_series != 0),
        });
    });
    all
}
