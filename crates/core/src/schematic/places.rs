//! What is chosen for each place of the circuits, what the place asks, and what each record of the library would do there.

use serde::Serialize;

use crate::cancel::Cancel;
use crate::document::{Checked, Slot};
use crate::electrics::Sizing;
use crate::electrics::requirement::Requirement;
use crate::error::Result;
use crate::estimate::estimate;
use crate::findings::{Finding, Severity};
use crate::inputs::Counted;
use crate::library::Component;
use crate::powertrain::Chain;
use crate::quantity::Sentence;

/// A figure of the design that goes with a choice.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Also {
    /// Dotted place within the design.
    pub path: &'static str,
    /// Value to put there; absent: what stands there goes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub value: Option<f64>,
}

/// A place in the circuits.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Place {
    /// Which.
    pub slot: Slot,
    /// Words shown.
    pub name: &'static str,
    /// How many go there; of cable its metres.
    pub count: f64,
    /// What is asked, in words.
    pub asks: Vec<Sentence>,
    /// Name of what is chosen.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub chosen: Option<String>,
    /// What is wrong with it; the gravest first.
    pub troubles: Vec<Sentence>,
    /// How grave.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub severity: Option<Severity>,
    /// The least of the library that suffices, unless it is chosen; absent where none does.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub least: Option<Component>,
    /// What goes with taking it.
    pub also: Vec<Also>,
}

/// What one record would do in a place.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Choice {
    /// The record.
    pub component: Component,
    /// Whether it is the one that is chosen.
    pub chosen: bool,
    /// What it falls short of; empty when it suffices.
    pub shortfalls: Vec<Sentence>,
    /// Mass with it less mass with what is chosen, kg.
    pub change_kg: f64,
    /// Price with it less price with what is chosen.
    pub change_price: f64,
    /// What goes with taking it.
    pub also: Vec<Also>,
}

/// Every record for a place: those that suffice first, the least before the others.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlaceChoices {
    /// The place.
    pub slot: Slot,
    /// What is asked, in words; empty where the design needs nothing there.
    pub asks: Vec<Sentence>,
    /// Records of its kinds.
    pub choices: Vec<Choice>,
}

/// What each record of a library would do in a place of a design.
///
/// # Errors
/// As [`crate::estimate::estimate`].
pub fn place_choices(document: &Checked, slot: Slot, library: &[Component], cancel: &Cancel) -> Result<PlaceChoices> {
    let counted = Counted::of(document);
    let estimate = estimate(&counted, cancel)?;
    let chain = Chain::of(&counted, estimate.masses.test_kg)?;
    let sizing = Sizing::of(document, &chain, &estimate);
    let requirement = Requirement::of(slot, &sizing);
    let chosen = document.design.electrics.fitted.get(slot);
    let count = count_of(&sizing, slot);
    let of = |c: &Component| Choice {
        chosen: chosen.is_some_and(|own| own.name == c.name),
        shortfalls: requirement.as_ref().map_or_else(Vec::new, |r| r.shortfalls(c).into_iter().map(|s| s.words).collect()),
        change_kg: count * (c.mass_kg - chosen.map_or(0.0, |own| own.mass_kg)),
        change_price: count * (c.price - chosen.map_or(0.0, |own| own.price)),
        also: also(&sizing, slot, requirement.as_ref(), c),
        component: c.clone(),
    };
    let kinds = requirement.as_ref().map_or_else(|| slot.kinds().to_vec(), |r| r.kinds.clone());
    let mut choices: Vec<Choice> = library.iter().filter(|c| kinds.contains(&c.kind)).map(of).collect();
    choices.sort_by(|a, b| {
        let unpriced = |c: &Choice| c.component.price <= 0.0;
        (a.shortfalls.len().cmp(&b.shortfalls.len())).then(unpriced(a).cmp(&unpriced(b))).then(a.change_price.total_cmp(&b.change_price))
    });
    Ok(PlaceChoices { slot, asks: requirement.map_or_else(Vec::new, |r| r.words()), choices })
}

/// Every place that a design needs or has filled.
pub(super) fn places(s: &Sizing<'_>, findings: &[Finding], library: &[Component]) -> Vec<Place> {
    let fitted = &s.said.fitted;
    let of = |slot: Slot| {
        let (requirement, chosen) = (Requirement::of(slot, s), fitted.get(slot));
        if requirement.is_none() && chosen.is_none() {
            return None;
        }
        let least = requirement.as_ref().and_then(|r| r.least(library)).filter(|least| chosen.is_none_or(|own| own.name != least.name));
        let about: Vec<&Finding> = findings.iter().filter(|f| f.slot == Some(slot)).collect();
        Some(Place {
            slot,
            name: slot.word(),
            count: count_of(s, slot),
            asks: requirement.as_ref().map_or_else(Vec::new, Requirement::words),
            chosen: chosen.map(|c| c.name.clone()),
            troubles: about.iter().map(|f| f.message.clone()).collect(),
            severity: about.iter().map(|f| f.severity).min(),
            also: least.map_or_else(Vec::new, |c| also(s, slot, requirement.as_ref(), c)),
            least: least.cloned(),
        })
    };
    Slot::ALL.into_iter().filter_map(of).collect()
}

/// How many go to a place as sized: of cable the metres that are counted with, stated or not.
fn count_of(s: &Sizing<'_>, slot: Slot) -> f64 {
    if slot == Slot::TractionCable { s.length_m } else { s.document.design.count_of(slot) }
}

/// What is said of fuse and cable gives way to their records; a cable brings its length and what it bears where it lies.
fn also(s: &Sizing<'_>, slot: Slot, requirement: Option<&Requirement>, c: &Component) -> Vec<Also> {
    let gone = |path| Also { path, value: None };
    let put = |path, value: f64| Also { path, value: Some(value) };
    match slot {
        Slot::PackFuse => vec![gone("wiring.fuse_a"), gone("wiring.fuse_voltage_v")],
        Slot::TractionCable => {
            let bears_a = requirement.and_then(|r| r.cable_bears_a(c)).map(f64::floor).filter(|a| *a >= 1.0);
            vec![
                gone("wiring.cable_section_mm2"),
                put("wiring.cable_length_m", s.length_m),
                Also { path: "wiring.cable_current_a", value: bears_a },
            ]
        }
        Slot::Converter => vec![gone("electrics.converter_power_w")],
        _ => Vec::new(),
    }
}
