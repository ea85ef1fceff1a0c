//! Records of the library that have changed since a design was made with them. The design keeps its own until a person takes the newer.

use serde::Serialize;
use serde_json::Value;

use super::Outcome;
use crate::cancel::Cancel;
use crate::document::{Checked, Design};
use crate::library::Part;
use crate::quantity::join;
use crate::report::report_until;

/// One rating that differs.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RatingChange {
    /// Key, dotted.
    pub key: String,
    /// In the design, as text; empty when absent.
    pub was: String,
    /// In the library, as text; empty when absent.
    pub is: String,
}

/// A newer record for a part of a design.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Newer {
    /// Kind of part.
    pub part: String,
    /// Its name.
    pub name: String,
    /// What differs.
    pub changes: Vec<RatingChange>,
    /// The design with the newer record in the place of the old, all else as it stands.
    pub design: Design,
    /// What the design does now; absent when it cannot be computed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub before: Option<Outcome>,
    /// What it would do.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub after: Option<Outcome>,
}

fn leaves(value: &Value, path: &str, out: &mut Vec<(String, String)>) {
    match value {
        Value::Object(map) => map.iter().for_each(|(k, v)| leaves(v, &join(path, k), out)),
        Value::String(text) => out.push((path.to_owned(), text.clone())),
        other => out.push((path.to_owned(), other.to_string())),
    }
}

fn changes(was: &Part, is: &Part) -> Vec<RatingChange> {
    let flat = |part: &Part| {
        let mut out = Vec::new();
        leaves(&serde_json::to_value(part).unwrap_or_default(), "", &mut out);
        out
    };
    let (old, new) = (flat(was), flat(is));
    let find = |all: &[(String, String)], key: &str| all.iter().find(|(k, _)| k == key).map(|(_, v)| v.clone()).unwrap_or_default();
    let mut keys: Vec<&String> = old.iter().chain(&new).map(|(k, _)| k).collect();
    keys.sort();
    keys.dedup();
    keys.into_iter()
        .map(|key| RatingChange { key: key.clone(), was: find(&old, key), is: find(&new, key) })
        .filter(|c| c.was != c.is)
        .collect()
}

/// Parts of a design whose record in the library (same kind and name) differs from the one in the design.
///
/// A price of zero in the design is that of a part in hand and is left alone.
#[must_use]
pub fn newer(document: &Checked, library: &[Part], cancel: &Cancel) -> Vec<Newer> {
    let design = &document.design;
    let held = [
        design.motor.clone().map(Part::Motor),
        design.controller.clone().map(Part::Controller),
        design.pack.as_ref().map(|p| Part::Module(p.module.clone())),
        design.charger.clone().map(Part::Charger),
    ];
    let before = std::cell::OnceCell::new();
    held.into_iter()
        .flatten()
        .filter_map(|old| {
            let mut new = library.iter().find(|p| p.kind() == old.kind() && p.name() == old.name())?.clone();
            if old.price() == 0.0 {
                new.set_price(0.0);
            }
            let changes = changes(&old, &new);
            if changes.is_empty() {
                return None;
            }
            let mut design = document.design.clone();
            match new {
                Part::Motor(m) => design.motor = Some(m),
                Part::Controller(c) => design.controller = Some(c),
                Part::Module(m) => {
                    if let Some(pack) = &mut design.pack {
                        pack.module = m;
                    }
                }
                Part::Charger(c) => design.charger = Some(c),
                // None is held.
                Part::Component(_) => {}
            }
            // A newer record may break what the old one allowed, such as a window of charge of its own.
            let changed = document.with(|d| d.design = design.clone());
            Some(Newer {
                part: old.kind().to_owned(),
                name: old.name().to_owned(),
                changes,
                before: before.get_or_init(|| report_until(document, cancel).ok().map(Outcome::of)).clone(),
                after: changed.and_then(|c| report_until(&c, cancel)).ok().map(Outcome::of),
                design,
            })
        })
        .collect()
}
