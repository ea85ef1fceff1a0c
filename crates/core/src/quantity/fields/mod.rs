//! The field catalogue: label, unit, bounds and default of every number in a design document.
//!
//! One table gives the check, its message, the JSON Schema's bounds, docs/FORMATS.md, the forms of the
//! interface and the generators of the property tests. Bounds keep out slips of units and of the decimal
//! point; what is merely unwise is a finding, not an error.

use serde::Serialize;

/// One number of a record.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Field {
    /// Key in the record.
    pub key: &'static str,
    /// Words shown beside it.
    pub label: &'static str,
    /// Unit it is stored in, a symbol of [`super::units::UNITS`] or plain text; empty for a bare number.
    pub unit: &'static str,
    /// Smallest value accepted.
    pub min: f64,
    /// Largest value accepted.
    pub max: f64,
    /// Whether only whole numbers are accepted.
    pub whole: bool,
    /// Whether it must be given.
    pub required: bool,
    /// What holds when it is absent, in words.
    pub default: &'static str,
}

/// What stands under a key.
#[derive(Debug, Clone, Copy)]
pub enum Entry {
    /// A number.
    Number(Field),
    /// A record.
    Object(&'static str, &'static Group),
    /// A list of records and how many it may hold.
    List(&'static str, &'static Group, usize),
}

/// The numbers of one type of record.
#[derive(Debug)]
pub struct Group {
    /// Name of the type in the JSON Schema.
    pub name: &'static str,
    /// Its numbers and records.
    pub entries: &'static [Entry],
}

impl Field {
    /// What it measures, by which it is shown in a unit system: a dimension of [`super::units::SYSTEMS`], or empty. Lengths on the road
    /// and in the vehicle share a unit and not how people write them; nor do power at a shaft and in a wire.
    #[must_use]
    pub fn dimension(&self) -> &'static str {
        match (self.unit, self.key) {
            ("m", "altitude_m" | "height_m" | "climb_m" | "east_m" | "north_m" | "cable_length_m") => "height",
            (
                "W",
                "load_w" | "hvac_w" | "constant_w" | "no_load_power_w" | "draws_w" | "precharge_load_w" | "converter_power_w" | "rated_w",
            ) => "load",
            // Parts of a circuit are bought in ohms; what cells and cables lose is told in thousandths.
            ("Ω", "precharge_ohm") => "resistor",
            ("W", "output_power_w" | "max_power_w" | "power_cap_w") => "electric_power",
            ("N", _) => "drag",
            ("mm", _) => "machined",
            (unit, _) => super::units::UNITS.iter().find(|u| u.symbol == unit).map_or("", |u| u.dimension),
        }
    }
}

const fn need(key: &'static str, label: &'static str, unit: &'static str, min: f64, max: f64) -> Entry {
    Entry::Number(Field { key, label, unit, min, max, whole: false, required: true, default: "required" })
}

const fn may(key: &'static str, label: &'static str, unit: &'static str, min: f64, max: f64, default: &'static str) -> Entry {
    Entry::Number(Field { key, label, unit, min, max, whole: false, required: false, default })
}

const fn count(key: &'static str, label: &'static str, max: f64, default: &'static str) -> Entry {
    Entry::Number(Field { key, label, unit: "", min: 1.0, max, whole: true, required: false, default })
}

mod bench;
mod brief;
mod design;
mod donor;
mod electrics;
mod parts;

use Entry::{List, Object};
pub use bench::BENCH_SHEET;
pub use brief::{ANSWERS, BRIEF, PATH};
pub use design::{DESIGN, PACK};
pub use donor::{DONOR, DRIVELINE, MOST_CANDIDATES, REMOVED, SHORTLIST};
pub use parts::{CHARGER, COMPONENT, CONTROLLER, MODULE, MOTOR, PLATE};

/// `Document`.
pub const DOCUMENT: &Group =
    &Group { name: "Document", entries: &[Object("brief", BRIEF), Object("donor", DONOR), Object("design", DESIGN)] };

/// The catalogue of a library part by its `part` word.
#[must_use]
pub fn group_of_part(kind: &str) -> Option<&'static Group> {
    match kind {
        "motor" => Some(MOTOR),
        "controller" => Some(CONTROLLER),
        "module" => Some(MODULE),
        "charger" => Some(CHARGER),
        "component" => Some(COMPONENT),
        _ => None,
    }
}

/// Calls `visit` with each group once, parents first.
pub fn each_group(visit: &mut impl FnMut(&'static Group)) {
    fn down(group: &'static Group, seen: &mut Vec<&'static str>, visit: &mut impl FnMut(&'static Group)) {
        if seen.contains(&group.name) {
            return;
        }
        seen.push(group.name);
        visit(group);
        for entry in group.entries {
            if let Object(_, inner) | List(_, inner, _) = entry {
                down(inner, seen, visit);
            }
        }
    }
    let mut seen = Vec::new();
    down(DOCUMENT, &mut seen, visit);
    down(SHORTLIST, &mut seen, visit);
    down(BENCH_SHEET, &mut seen, visit);
    down(PLATE, &mut seen, visit);
}
