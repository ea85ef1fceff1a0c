//! Conversions as they are stored and handed out.

use diesel::prelude::*;
use joulethesis_core::document::{Brief, Checked, ConversionFile, Design, Donor, Shortlist, stored};
use joulethesis_core::error::{Error, Problem, Problems};
use joulethesis_core::quantity::units::UnitSystem;
use serde::Serialize;
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::designs::DesignRecord;
use crate::schema::conversions;
use crate::{Result, StoreError};

pub(super) fn word(units: UnitSystem) -> &'static str {
    match units {
        UnitSystem::Metric => "metric",
        UnitSystem::Imperial => "imperial",
        UnitSystem::Mix => "mix",
    }
}

pub(super) fn units(word: &str) -> UnitSystem {
    match word {
        "imperial" => UnitSystem::Imperial,
        "mix" => UnitSystem::Mix,
        _ => UnitSystem::Metric,
    }
}

/// A conversion without its designs: one row.
#[derive(Debug, Clone, PartialEq)]
pub struct ConversionHead {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Remarks.
    pub notes: String,
    /// Units it is shown in.
    pub units: UnitSystem,
    /// Brief.
    pub brief: Brief,
    /// Donor.
    pub donor: Donor,
    /// Vehicles looked at beside it.
    pub shortlist: Shortlist,
    /// Version for optimistic locking.
    pub version: i32,
    /// Last change.
    pub updated_at: OffsetDateTime,
    /// Bounds that what is stored breaks, to be mended.
    pub problems: Vec<Problem>,
}

/// A conversion with its designs.
#[derive(Debug, Clone, PartialEq)]
pub struct Conversion {
    /// The conversion itself.
    pub head: ConversionHead,
    /// Designs by label.
    pub designs: Vec<DesignRecord>,
}

/// A line of the list.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ConversionSummary {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// Remarks.
    pub notes: String,
    /// Kind of the donor, as in the document.
    pub kind: String,
    /// Units it is shown in.
    pub units: UnitSystem,
    /// Labels of its designs.
    pub designs: Vec<String>,
    /// Goals in its brief.
    pub goals: usize,
    /// Last change.
    pub updated_at: OffsetDateTime,
}

/// A variant of a new conversion.
#[derive(Debug, Clone)]
pub struct NewVariant {
    /// Its letter; absent: the next free one.
    pub label: Option<String>,
    /// The design.
    pub design: Design,
}

/// A new conversion.
#[derive(Debug, Clone)]
pub struct NewConversion {
    /// Name.
    pub name: String,
    /// Remarks.
    pub notes: String,
    /// Units it is shown in.
    pub units: UnitSystem,
    /// Brief.
    pub brief: Brief,
    /// Donor.
    pub donor: Donor,
    /// Vehicles looked at beside it.
    pub shortlist: Shortlist,
    /// Its variants.
    pub variants: Vec<NewVariant>,
}

impl NewConversion {
    /// From documents of one vehicle: brief and donor are taken from the first; each gives a design A, B, C ... `None` without any.
    #[must_use]
    pub fn of_documents(name: &str, notes: &str, documents: Vec<Checked>) -> Option<Self> {
        let first = documents.as_slice().first()?;
        Some(Self {
            name: name.to_owned(),
            notes: notes.to_owned(),
            units: UnitSystem::Metric,
            brief: first.brief.clone(),
            donor: first.donor.clone(),
            shortlist: Shortlist::default(),
            variants: documents.into_iter().map(|d| NewVariant { label: None, design: d.into_written().design }).collect(),
        })
    }
}

impl From<ConversionFile> for NewConversion {
    fn from(file: ConversionFile) -> Self {
        let variants = file.designs.into_iter().map(|v| NewVariant { label: Some(v.label), design: v.design }).collect();
        Self {
            name: file.name,
            notes: file.notes,
            units: file.units,
            brief: file.brief,
            donor: file.donor,
            shortlist: file.shortlist,
            variants,
        }
    }
}

/// A change of a conversion. Sections are raw JSON, checked here.
#[derive(Debug, Clone)]
pub struct ConversionChange {
    /// Version the writer saw.
    pub version: i32,
    /// Name.
    pub name: String,
    /// Remarks.
    pub notes: String,
    /// Units it is shown in.
    pub units: UnitSystem,
    /// Brief.
    pub brief: Value,
    /// Donor.
    pub donor: Value,
    /// Vehicles looked at beside it.
    pub shortlist: Value,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = conversions)]
pub(super) struct ConversionRow {
    id: Uuid,
    name: String,
    notes: String,
    units: String,
    brief: Value,
    donor: Value,
    shortlist: Value,
    version: i32,
    updated_at: OffsetDateTime,
}

impl ConversionRow {
    pub(super) fn read(self) -> Result<ConversionHead> {
        let corrupt = |e: Error| StoreError::Corrupt { what: "conversion", id: self.id, why: e.to_string() };
        let (brief, mut problems) = stored(&self.brief).map_err(corrupt)?;
        let (donor, more) = stored(&self.donor).map_err(corrupt)?;
        problems.extend(more);
        let (shortlist, more) = stored(&self.shortlist).map_err(corrupt)?;
        problems.extend(more);
        Ok(ConversionHead {
            brief,
            donor,
            shortlist,
            id: self.id,
            name: self.name,
            notes: self.notes,
            units: units(&self.units),
            version: self.version,
            updated_at: self.updated_at,
            problems,
        })
    }
}

/// JSON of a value that serialises without fail.
pub(crate) fn json<T: Serialize>(value: &T) -> Result<Value> {
    serde_json::to_value(value).map_err(|e| StoreError::Invalid(Error::Unreadable(e.to_string())))
}

/// Longest remarks, characters.
const LONGEST_NOTES: usize = 20_000;

/// Name and remarks as they are stored: without blanks around the name, within their lengths, without control characters.
pub(super) fn checked_words(name: &str, notes: &str) -> Result<String> {
    let mut problems = Problems::new();
    let trimmed = name.trim();
    let length = trimmed.chars().count();
    if !(1..=120).contains(&length) {
        problems.push(Problem::new("name", format!("{length} characters long"), "1 to 120 characters are accepted"));
    }
    if notes.chars().count() > LONGEST_NOTES {
        let given = format!("{} characters long", notes.chars().count());
        problems.push(Problem::new("notes", given, format!("at most {LONGEST_NOTES} characters are accepted")));
    }
    let odd = |c: char, lines: bool| c.is_control() && !(lines && matches!(c, '\n' | '\r' | '\t'));
    for (path, text, lines) in [("name", trimmed, false), ("notes", notes, true)] {
        if let Some(c) = text.chars().find(|c| odd(*c, lines)) {
            problems.push(Problem::new(path, format!("a text with the control character {c:?}"), "plain text is accepted"));
        }
    }
    Ok(problems.or(trimmed.to_owned())?)
}
