//! Drawings as DXF, which saws, lasers and drawing programs read: release 2000, millimetres, a layer for each kind of shape.

use axum::http::StatusCode;
use dxf::entities::{Arc, Circle, Entity, EntityType, Line, Text};
use dxf::enums::{AcadVersion, Units};
use dxf::tables::Layer as Table;
use dxf::{Color, Drawing, Point};
use joulethesis_core::schematic::{Layer, Plan, Shape};

use crate::problem::ProblemDocument;

/// Colours of the layers, by their index.
fn colour(layer: Layer) -> u8 {
    match layer {
        Layer::Cut | Layer::Blocks => 7,
        Layer::Holes => 1,
        Layer::Vehicle => 8,
        Layer::Bays => 5,
        Layer::Words => 3,
    }
}

/// A plan as DXF.
///
/// # Errors
/// What the writer says, as a server error; nothing of a plan is known to bring it about.
pub(crate) fn dxf(plan: &Plan) -> Result<String, ProblemDocument> {
    let mut drawing = Drawing::new();
    drawing.header.version = AcadVersion::R2000;
    drawing.header.default_drawing_units = Units::Millimeters;
    for layer in Layer::ALL.into_iter().filter(|l| plan.shapes.iter().any(|(own, _)| own == l)) {
        drawing.add_layer(Table { name: layer.name().to_owned(), color: Color::from_index(colour(layer)), ..Table::default() });
    }
    for (layer, shape) in &plan.shapes {
        let mut entity = Entity::new(specific(shape));
        layer.name().clone_into(&mut entity.common.layer);
        drawing.add_entity(entity);
    }
    let mut bytes = Vec::new();
    let failed = |e| ProblemDocument::new(StatusCode::INTERNAL_SERVER_ERROR, "Server error", format!("the drawing cannot be written: {e}"));
    drawing.save(&mut bytes).map_err(failed)?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

fn specific(shape: &Shape) -> EntityType {
    let point = |[x, y]: [f64; 2]| Point::new(x, y, 0.0);
    match shape {
        Shape::Line([a, b]) => EntityType::Line(Line::new(point(*a), point(*b))),
        Shape::Circle { centre, radius } => EntityType::Circle(Circle::new(point(*centre), *radius)),
        Shape::Arc { centre, radius, from_to } => {
            let [from, to] = from_to.map(|t| t.to_degrees().rem_euclid(360.0));
            EntityType::Arc(Arc::new(point(*centre), *radius, from, to))
        }
        Shape::Words { at, height, says } => EntityType::Text(Text {
            location: point(*at),
            text_height: *height,
            // A line of the file is a line: what would break it is a space.
            value: says.replace(char::is_control, " "),
            ..Text::default()
        }),
    }
}
