//! Drawings to scale for the workshop: the adapter plate, and the vehicle from above and from the side with every block that is placed.
//! Plain shapes in millimetres, which a file format then writes.

use serde::Serialize;
use svg::Document as Drawing;
use svg::node::element::{Circle, Group, Line, Path, Text};

use super::lists::plain;
use crate::document::Document;
use crate::layout::{LayoutSheet, layout};
use crate::mechanics::plate::PlateSizing;

/// Between the view from above and that from the side, and around all of it, mm.
const APART_MM: f64 = 400.0;
const EDGE_MM: f64 = 10.0;
/// Lines of one pixel at whatever scale.
const THIN: &str = "non-scaling-stroke";

/// What a shape belongs to, which a drawing program can show and hide.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Layer {
    /// Cut through the plate.
    Cut,
    /// Holes.
    Holes,
    /// The vehicle.
    Vehicle,
    /// Room for the pack.
    Bays,
    /// What the conversion puts in.
    Blocks,
    /// Words.
    Words,
}

impl Layer {
    /// All of them.
    pub const ALL: [Self; 6] = [Self::Cut, Self::Holes, Self::Vehicle, Self::Bays, Self::Blocks, Self::Words];

    /// Its name in a file.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Cut => "CUT",
            Self::Holes => "HOLES",
            Self::Vehicle => "VEHICLE",
            Self::Bays => "BAYS",
            Self::Blocks => "BLOCKS",
            Self::Words => "WORDS",
        }
    }
}

/// A shape; x to the right, y upwards, mm.
#[derive(Debug, Clone, PartialEq)]
pub enum Shape {
    /// From one point to another.
    Line([[f64; 2]; 2]),
    /// Counter-clockwise around a centre, from and to radians from the right.
    Arc {
        /// mm.
        centre: [f64; 2],
        /// mm.
        radius: f64,
        /// Radians.
        from_to: [f64; 2],
    },
    /// All around a centre.
    Circle {
        /// mm.
        centre: [f64; 2],
        /// mm.
        radius: f64,
    },
    /// Words that begin at a point, so high, mm.
    Words {
        /// mm.
        at: [f64; 2],
        /// mm.
        height: f64,
        /// What they say.
        says: String,
    },
}

/// A drawing to scale.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Plan {
    /// Shapes with what they belong to.
    pub shapes: Vec<(Layer, Shape)>,
}

impl Plan {
    fn add(&mut self, layer: Layer, shape: Shape) {
        self.shapes.push((layer, shape));
    }

    fn words(&mut self, at: [f64; 2], height: f64, says: impl Into<String>) {
        self.add(Layer::Words, Shape::Words { at, height, says: says.into() });
    }

    fn rectangle(&mut self, layer: Layer, [x, y]: [f64; 2], [wide, tall]: [f64; 2]) {
        let corners = [[x, y], [x + wide, y], [x + wide, y + tall], [x, y + tall]];
        for i in 0..4 {
            self.add(layer, Shape::Line([corners[i], corners[(i + 1) % 4]]));
        }
    }

    /// Least and greatest x and y of all shapes, mm; words count where they begin and by their height.
    #[must_use]
    pub fn bounds_mm(&self) -> [[f64; 2]; 2] {
        let mut bounds = [[f64::MAX; 2], [f64::MIN; 2]];
        let mut reach = |[x, y]: [f64; 2], r: f64| {
            bounds[0] = [bounds[0][0].min(x - r), bounds[0][1].min(y - r)];
            bounds[1] = [bounds[1][0].max(x + r), bounds[1][1].max(y + r)];
        };
        for (_, shape) in &self.shapes {
            match shape {
                Shape::Line(ends) => ends.iter().for_each(|p| reach(*p, 0.0)),
                Shape::Arc { centre, radius, .. } | Shape::Circle { centre, radius } => reach(*centre, *radius),
                Shape::Words { at, height, says } => {
                    reach(*at, *height);
                    // A letter is some six tenths of its height wide.
                    reach([at[0] + 0.6 * height * says.chars().count() as f64, at[1]], 0.0);
                }
            }
        }
        bounds
    }

    /// As SVG that prints at one to one; its lines are as thin at whatever scale it is looked at.
    #[must_use]
    pub fn svg(&self) -> String {
        let [[left, low], [right, high]] = self.bounds_mm();
        let (wide, tall) = (right - left + 2.0 * EDGE_MM, high - low + 2.0 * EDGE_MM);
        let (x, y) = (|x: f64| plain(x - left + EDGE_MM), |y: f64| plain(high - y + EDGE_MM));
        let mut groups = Layer::ALL.map(|layer| {
            let group = Group::new().set("id", layer.name()).set("fill", "none").set("stroke", "#111");
            if layer == Layer::Bays { group.set("stroke-dasharray", "12 6") } else { group }
        });
        for (layer, shape) in &self.shapes {
            let group = &mut groups[Layer::ALL.iter().position(|l| l == layer).unwrap_or(0)];
            let own = std::mem::take(group);
            *group = match shape {
                Shape::Line([a, b]) => own.add(
                    Line::new().set("vector-effect", THIN).set("x1", x(a[0])).set("y1", y(a[1])).set("x2", x(b[0])).set("y2", y(b[1])),
                ),
                Shape::Circle { centre, radius } => own
                    .add(Circle::new().set("vector-effect", THIN).set("cx", x(centre[0])).set("cy", y(centre[1])).set("r", plain(*radius))),
                Shape::Arc { centre, radius, from_to } => {
                    let [a, b] = from_to.map(|t| [centre[0] + radius * t.cos(), centre[1] + radius * t.sin()]);
                    let (r, far) = (plain(*radius), u8::from(from_to[1] - from_to[0] > std::f64::consts::PI));
                    own.add(
                        Path::new()
                            .set("vector-effect", THIN)
                            .set("d", format!("M {} {} A {r} {r} 0 {far} 0 {} {}", x(a[0]), y(a[1]), x(b[0]), y(b[1]))),
                    )
                }
                Shape::Words { at, height, says } => own.add(
                    Text::new(says.clone())
                        .set("x", x(at[0]))
                        .set("y", y(at[1]))
                        .set("font-size", plain(*height))
                        .set("font-family", "Inter, Helvetica, Arial, sans-serif")
                        .set("fill", "#111")
                        .set("stroke", "none"),
                ),
            };
        }
        let mut drawing = Drawing::new()
            .set("viewBox", format!("0 0 {} {}", plain(wide), plain(tall)))
            .set("width", format!("{}mm", plain(wide)))
            .set("height", format!("{}mm", plain(tall)));
        for group in groups {
            drawing = drawing.add(group);
        }
        drawing.to_string()
    }
}

/// The adapter plate as it is cut, seen from the motor, its middle at the origin; `None` without one.
#[must_use]
pub fn plate_plan(document: &Document) -> Option<Plan> {
    let plate = PlateSizing::of(document.design.mechanics.plate.as_ref()?);
    let mut plan = Plan::default();
    for (i, arc) in plate.outline.iter().enumerate() {
        if plate.outline.len() == 1 {
            plan.add(Layer::Cut, Shape::Circle { centre: arc.centre_mm, radius: arc.radius_mm });
            break;
        }
        plan.add(Layer::Cut, Shape::Arc { centre: arc.centre_mm, radius: arc.radius_mm, from_to: arc.from_to });
        let next = plate.outline[(i + 1) % plate.outline.len()];
        plan.add(Layer::Cut, Shape::Line([arc.ends_mm()[1], next.ends_mm()[0]]));
    }
    for hole in &plate.holes {
        plan.add(Layer::Holes, Shape::Circle { centre: hole.at_mm, radius: 0.5 * hole.diameter_mm });
    }
    let [_, [right, high]] = plan.bounds_mm();
    let mut y = high - 5.0;
    let mut say = |says: String| {
        plan.words([right + 15.0, y], 4.0, says);
        y -= 7.0;
    };
    say(format!("{}: adapter plate, seen from the motor, 1:1, mm", document.name));
    say(format!("{} thick, {} kg; margin around holes {}", plain(plate.said.thickness_mm), plain(plate.mass_kg), plain(plate.margin_mm)));
    for hole in &plate.holes {
        let [right_mm, up_mm] = hole.at_mm.map(plain);
        say(format!("{}: diameter {} at {right_mm}, {up_mm}", hole.name, plain(hole.diameter_mm)));
    }
    Some(plan)
}

/// The vehicle from above, its front to the left, and below it from the left side, with bays and blocks that have a place.
#[must_use]
pub fn layout_plan(document: &Document) -> Plan {
    let LayoutSheet { outline: body, blocks, bays, .. } = layout(document);
    let mm = |m: f64| m * 1000.0;
    let mut plan = Plan::default();
    let (front, long) = (mm(-body.overhang_front_m), mm(body.overhang_front_m + body.wheelbase_m + body.overhang_rear_m));
    let (half, tall) = (mm(0.5 * body.width_m), mm(body.height_m));
    // From the side the ground is below the view from above.
    let ground = -half - APART_MM - tall;
    plan.rectangle(Layer::Vehicle, [front, -half], [long, 2.0 * half]);
    plan.rectangle(Layer::Vehicle, [front, ground], [long, tall]);
    let radius = mm(body.wheel_radius_m);
    for (axle_x, track) in [(0.0, body.track_front_m), (mm(body.wheelbase_m), body.track_rear_m)] {
        plan.add(Layer::Vehicle, Shape::Circle { centre: [axle_x, ground + radius], radius });
        for y in if track > 0.0 { vec![-0.5 * mm(track), 0.5 * mm(track)] } else { vec![0.0] } {
            plan.add(Layer::Vehicle, Shape::Line([[axle_x - radius, y], [axle_x + radius, y]]));
        }
    }
    let mut cuboid = |layer: Layer, name: &str, [along, right, up]: [f64; 3], size: [f64; 3]| {
        let [length, width, height] = size.map(mm);
        plan.rectangle(layer, [mm(along) - 0.5 * length, mm(right) - 0.5 * width], [length, width]);
        plan.rectangle(layer, [mm(along) - 0.5 * length, ground + mm(up) - 0.5 * height], [length, height]);
        // Bays are named at their upper edge and blocks at their lower one, since one lies in the other.
        let row = if layer == Layer::Bays { 0.5 * width - 36.0 } else { 8.0 - 0.5 * width };
        plan.words([mm(along) - 0.5 * length + 8.0, mm(right) + row], 28.0, name);
    };
    for bay in &bays {
        if let Some(size) = bay.size_m {
            cuboid(Layer::Bays, &bay.name, [bay.along_m, bay.right_m, bay.up_m], size);
        }
    }
    for b in blocks.iter().filter(|b| b.placed && b.is_put_in()) {
        cuboid(Layer::Blocks, &b.name, [b.along_m, b.right_m, b.up_m], [b.length_m, b.width_m, b.height_m]);
    }
    let says = format!(
        "{}: from above and from the left, front to the left, 1:1, mm from the front axle, the middle and the ground",
        document.name
    );
    plan.words([front, half + 60.0], 40.0, says);
    plan
}
