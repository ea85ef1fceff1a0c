//! Conversions: name, units, brief and donor, with their designs.

use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use joulethesis_core::document::{Brief, CONVERSION_FORMAT, Checked, ConversionFile, Design, Donor, VERSION, Variant, section, stored};
use joulethesis_core::error::{Error, Problem, Problems};
pub use joulethesis_core::quantity::units::UnitSystem;
use serde::Serialize;
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::designs::{DesignRecord, DesignRow, insert_design, next_label};
use crate::schema::{conversions, designs};
use crate::{DEFAULT_WORKSPACE, FORMAT_VERSION, Result, Store, StoreError};

fn word(units: UnitSystem) -> &'static str {
    match units {
        UnitSystem::Metric => "metric",
        UnitSystem::Imperial => "imperial",
        UnitSystem::Mix => "mix",
    }
}

fn units(word: &str) -> UnitSystem {
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
            variants: documents.into_iter().map(|d| NewVariant { label: None, design: d.into_written().design }).collect(),
        })
    }
}

impl From<ConversionFile> for NewConversion {
    fn from(file: ConversionFile) -> Self {
        let variants = file.designs.into_iter().map(|v| NewVariant { label: Some(v.label), design: v.design }).collect();
        Self { name: file.name, notes: file.notes, units: file.units, brief: file.brief, donor: file.donor, variants }
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
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = conversions)]
struct ConversionRow {
    id: Uuid,
    name: String,
    notes: String,
    units: String,
    brief: Value,
    donor: Value,
    version: i32,
    updated_at: OffsetDateTime,
}

impl ConversionRow {
    fn read(self) -> Result<ConversionHead> {
        let corrupt = |e: Error| StoreError::Corrupt { what: "conversion", id: self.id, why: e.to_string() };
        let (brief, mut problems) = stored(&self.brief).map_err(corrupt)?;
        let (donor, more) = stored(&self.donor).map_err(corrupt)?;
        problems.extend(more);
        Ok(ConversionHead {
            brief,
            donor,
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
fn checked_words(name: &str, notes: &str) -> Result<String> {
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

/// The row of a conversion of this workspace.
async fn row_of(c: &mut AsyncPgConnection, id: Uuid) -> Result<ConversionHead> {
    let row: Option<ConversionRow> = conversions::table
        .find(id)
        .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
        .select(ConversionRow::as_select())
        .first(c)
        .await
        .optional()?;
    row.ok_or(StoreError::NotFound("conversion"))?.read()
}

pub(crate) async fn whole(c: &mut AsyncPgConnection, id: Uuid) -> Result<Conversion> {
    let head = row_of(c, id).await?;
    let rows: Vec<DesignRow> =
        designs::table.filter(designs::conversion_id.eq(id)).order(designs::label.asc()).select(DesignRow::as_select()).load(c).await?;
    let designs = rows.into_iter().map(DesignRow::read).collect::<Result<Vec<_>>>()?;
    Ok(Conversion { head, designs })
}

async fn insert(c: &mut AsyncPgConnection, new: NewConversion) -> Result<Uuid> {
    let id = Uuid::now_v7();
    let name = checked_words(&new.name, &new.notes)?;
    diesel::insert_into(conversions::table)
        .values((
            conversions::id.eq(id),
            conversions::workspace_id.eq(DEFAULT_WORKSPACE),
            conversions::name.eq(name),
            conversions::notes.eq(&new.notes),
            conversions::units.eq(word(new.units)),
            conversions::brief.eq(json(&new.brief)?),
            conversions::donor.eq(json(&new.donor)?),
            conversions::format.eq(FORMAT_VERSION),
        ))
        .execute(c)
        .await?;
    let mut labels: Vec<String> = new.variants.iter().filter_map(|v| v.label.clone()).collect();
    for variant in &new.variants {
        let label = variant.label.clone().unwrap_or_else(|| {
            let label = next_label(&labels);
            labels.push(label.clone());
            label
        });
        insert_design(c, id, &label, &variant.design).await?;
    }
    Ok(id)
}

/// Why a write with a version found no row: it is gone, or has changed since.
pub(crate) fn stale(what: &'static str, seen: i32, current: Option<i32>) -> StoreError {
    current.map_or(StoreError::NotFound(what), |current| StoreError::Stale { what, seen, current })
}

async fn current_version(c: &mut AsyncPgConnection, id: Uuid) -> Result<Option<i32>> {
    let own = conversions::table.find(id).filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE));
    Ok(own.select(conversions::version).first(c).await.optional()?)
}

impl Store {
    /// All conversions, the last changed first.
    ///
    /// # Errors
    /// As the database fails.
    pub async fn conversions(&self) -> Result<Vec<ConversionSummary>> {
        let mut c = self.connection().await?;
        let rows: Vec<(Uuid, String, String, Value, Value, OffsetDateTime)> = conversions::table
            .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
            .order(conversions::updated_at.desc())
            .select((
                conversions::id,
                conversions::name,
                conversions::notes,
                conversions::brief,
                conversions::donor,
                conversions::updated_at,
            ))
            .load(&mut c)
            .await?;
        let ids: Vec<Uuid> = rows.iter().map(|r| r.0).collect();
        let labels: Vec<(Uuid, String)> = designs::table
            .filter(designs::conversion_id.eq_any(&ids))
            .order(designs::label.asc())
            .select((designs::conversion_id, designs::label))
            .load(&mut c)
            .await?;
        Ok(rows
            .into_iter()
            .map(|(id, name, notes, brief, donor, updated_at)| ConversionSummary {
                designs: labels.iter().filter(|(of, _)| *of == id).map(|(_, l)| l.clone()).collect(),
                kind: donor["kind"].as_str().unwrap_or_default().to_owned(),
                goals: brief["goals"].as_array().map_or(0, Vec::len),
                id,
                name,
                notes,
                updated_at,
            })
            .collect())
    }

    /// One conversion with its designs.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::Corrupt`], or as the database fails.
    pub async fn conversion(&self, id: Uuid) -> Result<Conversion> {
        let mut c = self.connection().await?;
        whole(&mut c, id).await
    }

    /// A conversion as one file, with all its variants; [`ConversionFile::from_value`] and [`Store::add_conversion`] make the same again.
    ///
    /// # Errors
    /// As [`Store::conversion`].
    pub async fn export_conversion(&self, id: Uuid) -> Result<ConversionFile> {
        let Conversion { head, designs } = self.conversion(id).await?;
        Ok(ConversionFile {
            format: CONVERSION_FORMAT.to_owned(),
            version: VERSION,
            name: head.name,
            notes: head.notes,
            units: head.units,
            brief: head.brief,
            donor: head.donor,
            designs: designs.into_iter().map(|d| Variant { label: d.label, design: d.design }).collect(),
        })
    }

    /// Adds a conversion with its designs.
    ///
    /// # Errors
    /// [`StoreError::Invalid`] for an empty name, or as the database fails.
    pub async fn add_conversion(&self, new: NewConversion) -> Result<Conversion> {
        self.write(|c| {
            Box::pin(async move {
                let id = insert(c, new).await?;
                whole(c, id).await
            })
        })
        .await
    }

    /// Adds conversions to a workspace that has none, all or nothing; false where it has some. However many servers ask at once, they are
    /// added once.
    ///
    /// # Errors
    /// As [`Store::add_conversion`].
    pub async fn add_to_empty(&self, all: Vec<NewConversion>) -> Result<bool> {
        self.write(|c| {
            Box::pin(async move {
                diesel::sql_query(format!("SELECT pg_advisory_xact_lock({})", crate::LOADING_DEMO)).execute(c).await?;
                let own = conversions::table.filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE));
                if own.count().get_result::<i64>(c).await? > 0 {
                    return Ok(false);
                }
                for new in all {
                    insert(c, new).await?;
                }
                Ok(true)
            })
        })
        .await
    }

    /// Changes a conversion if it still has the version the writer saw, and gives back what is stored now.
    ///
    /// # Errors
    /// [`StoreError::Invalid`], [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn change_conversion(&self, id: Uuid, change: ConversionChange) -> Result<ConversionHead> {
        let name = checked_words(&change.name, &change.notes)?;
        let brief: Brief = section(&change.brief)?;
        let donor: Donor = section(&change.donor)?;
        let written = (json(&brief)?, json(&donor)?);
        self.write(move |c| {
            Box::pin(async move {
                let own = conversions::table
                    .find(id)
                    .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
                    .filter(conversions::version.eq(change.version));
                let changed: Option<(i32, OffsetDateTime)> = diesel::update(own)
                    .set((
                        conversions::name.eq(&name),
                        conversions::notes.eq(&change.notes),
                        conversions::units.eq(word(change.units)),
                        conversions::brief.eq(written.0),
                        conversions::donor.eq(written.1),
                        conversions::format.eq(FORMAT_VERSION),
                        conversions::version.eq(change.version.wrapping_add(1)),
                        conversions::updated_at.eq(diesel::dsl::now),
                    ))
                    .returning((conversions::version, conversions::updated_at))
                    .get_result(c)
                    .await
                    .optional()?;
                match changed {
                    // What was written is known; reading it again would check it a second time.
                    Some((version, updated_at)) => {
                        let ConversionChange { notes, units, .. } = change;
                        Ok(ConversionHead { id, name, notes, units, brief, donor, version, updated_at, problems: Vec::new() })
                    }
                    None => Err(stale("conversion", change.version, current_version(c, id).await?)),
                }
            })
        })
        .await
    }

    /// Removes a conversion and its designs if it still has the version the writer saw.
    ///
    /// # Errors
    /// [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn remove_conversion(&self, id: Uuid, version: i32) -> Result<()> {
        self.write(move |c| {
            Box::pin(async move {
                let own = conversions::table
                    .find(id)
                    .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
                    .filter(conversions::version.eq(version));
                if diesel::delete(own).execute(c).await? == 1 {
                    return Ok(());
                }
                Err(stale("conversion", version, current_version(c, id).await?))
            })
        })
        .await
    }
}
