//! Mass account: what stood there, what came out, what went in, who rides.

use serde::Serialize;

use crate::document::{Document, ItemKind, front_share};

/// Masses of a design, kg.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Masses {
    /// As it stood.
    pub donor_kg: f64,
    /// Taken out.
    pub removed_kg: f64,
    /// Motors.
    pub motors_kg: f64,
    /// Controllers.
    pub controllers_kg: f64,
    /// Pack with its box.
    pub pack_kg: f64,
    /// Charger.
    pub charger_kg: f64,
    /// Everything else put in.
    pub other_kg: f64,
    /// Converted, empty, nobody aboard.
    pub converted_kg: f64,
    /// Converted less donor.
    pub change_kg: f64,
    /// Test mass with driver and the brief's payload.
    pub test_kg: f64,
    /// Front axle at test mass.
    pub front_axle_kg: f64,
    /// Rear axle at test mass.
    pub rear_axle_kg: f64,
}

/// Adds up the masses of a document.
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::vehicle::masses;
/// let van = Document::from_json(&demo("whimbrel-9-a")?)?;
/// let m = masses(&van);
/// let put_in = m.motors_kg + m.controllers_kg + m.pack_kg + m.charger_kg + m.other_kg;
/// assert!((m.change_kg - (put_in - m.removed_kg)).abs() < 1e-9);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn masses(document: &Document) -> Masses {
    let (donor, design, brief) = (&document.donor, &document.design, &document.brief);
    let removed_kg: f64 = donor.removed.iter().map(|r| r.mass_kg).sum();
    let (mut motors_kg, mut controllers_kg, mut pack_kg, mut charger_kg, mut other_kg) = (0.0, 0.0, 0.0, 0.0, 0.0);
    for item in design.items() {
        *match item.kind {
            ItemKind::Motor => &mut motors_kg,
            ItemKind::Controller => &mut controllers_kg,
            ItemKind::Module | ItemKind::PackBox => &mut pack_kg,
            ItemKind::Charger => &mut charger_kg,
            ItemKind::Component | ItemKind::Other => &mut other_kg,
        } += item.total_kg();
    }
    let change_kg = motors_kg + controllers_kg + pack_kg + charger_kg + other_kg - removed_kg;
    let converted_kg = donor.curb_mass_kg + change_kg;
    let test_kg = donor.test_mass_kg.unwrap_or(converted_kg + brief.driver_kg + brief.payload_kg);
    let front_axle_kg = test_kg * front_share(document);
    Masses {
        donor_kg: donor.curb_mass_kg,
        removed_kg,
        motors_kg,
        controllers_kg,
        pack_kg,
        charger_kg,
        other_kg,
        converted_kg,
        change_kg,
        test_kg,
        front_axle_kg,
        rear_axle_kg: test_kg - front_axle_kg,
    }
}
