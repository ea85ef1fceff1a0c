//! Conversions: name, units, brief and donor, with their designs.

use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use joulethesis_core::document::{Brief, Document, Donor, section};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::designs::{DesignRecord, DesignRow, insert_design, next_label};
use crate::schema::{conversions, designs};
use crate::{DEFAULT_WORKSPACE, Result, Store, StoreError};

/// Units a conversion is shown in.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum UnitSystem {
    /// Kilometres, kilograms, kilowatts.
    #[default]
    Metric,
    /// Miles, pounds, horsepower.
    Imperial,
    /// Miles on the road, kilograms and newton metres on the bench, inches for wheels.
    Mix,
}

impl UnitSystem {
    fn word(self) -> &'static str {
        match self {
            Self::Metric => "metric",
            Self::Imperial => "imperial",
            Self::Mix => "mix",
        }
    }

    fn from_word(word: &str) -> Self {
        match word {
            "imperial" => Self::Imperial,
            "mix" => Self::Mix,
            _ => Self::Metric,
        }
    }
}

/// A conversion with its designs.
#[derive(Debug, Clone, PartialEq)]
pub struct Conversion {
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

/// A new conversion.
#[derive(Debug, Clone)]
pub struct NewConversion {
    /// Name.
    pub name: String,
    /// Remarks.
    pub notes: String,
    /// Units it is shown in.
    pub units: UnitSystem,
    /// Its documents: brief and donor are taken from the first; each gives a design A, B, C ...
    pub documents: Vec<Document>,
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
    fn read(self, designs: Vec<DesignRecord>) -> Result<Conversion> {
        let corrupt = |e: joulethesis_core::error::Error| StoreError::Corrupt { what: "conversion", id: self.id, why: e.to_string() };
        Ok(Conversion {
            brief: section(&self.brief).map_err(corrupt)?,
            donor: section(&self.donor).map_err(corrupt)?,
            id: self.id,
            name: self.name,
            notes: self.notes,
            units: UnitSystem::from_word(&self.units),
            version: self.version,
            updated_at: self.updated_at,
            designs,
        })
    }
}

/// JSON of a value that serialises without fail.
pub(crate) fn json<T: Serialize>(value: &T) -> Result<Value> {
    serde_json::to_value(value).map_err(|e| StoreError::Invalid(joulethesis_core::error::Error::Unreadable(e.to_string())))
}

fn checked_name(name: &str) -> Result<String> {
    let trimmed = name.trim();
    let length = trimmed.chars().count();
    if !(1..=120).contains(&length) {
        return Err(
            joulethesis_core::error::Error::field("name", format!("{length} characters long"), "1 to 120 characters are accepted").into()
        );
    }
    Ok(trimmed.to_owned())
}

impl Store {
    /// All conversions, the last changed first.
    ///
    /// # Errors
    /// As the database fails.
    pub async fn conversions(&self) -> Result<Vec<ConversionSummary>> {
        let mut c = self.connection().await?;
        let rows: Vec<ConversionRow> = conversions::table
            .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
            .order(conversions::updated_at.desc())
            .select(ConversionRow::as_select())
            .load(&mut c)
            .await?;
        let ids: Vec<Uuid> = rows.iter().map(|r| r.id).collect();
        let labels: Vec<(Uuid, String)> = designs::table
            .filter(designs::conversion_id.eq_any(&ids))
            .order(designs::label.asc())
            .select((designs::conversion_id, designs::label))
            .load(&mut c)
            .await?;
        Ok(rows
            .into_iter()
            .map(|r| ConversionSummary {
                designs: labels.iter().filter(|(id, _)| *id == r.id).map(|(_, l)| l.clone()).collect(),
                kind: r.donor["kind"].as_str().unwrap_or_default().to_owned(),
                goals: r.brief["goals"].as_array().map_or(0, Vec::len),
                id: r.id,
                name: r.name,
                notes: r.notes,
                updated_at: r.updated_at,
            })
            .collect())
    }

    /// One conversion with its designs.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::Corrupt`], or as the database fails.
    pub async fn conversion(&self, id: Uuid) -> Result<Conversion> {
        let mut c = self.connection().await?;
        let row: ConversionRow = conversions::table
            .find(id)
            .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
            .select(ConversionRow::as_select())
            .first(&mut c)
            .await
            .optional()?
            .ok_or(StoreError::NotFound("conversion"))?;
        let rows: Vec<DesignRow> = designs::table
            .filter(designs::conversion_id.eq(id))
            .order(designs::label.asc())
            .select(DesignRow::as_select())
            .load(&mut c)
            .await?;
        let designs = rows.into_iter().map(DesignRow::read).collect::<Result<Vec<_>>>()?;
        row.read(designs)
    }

    /// Adds a conversion with its designs.
    ///
    /// # Errors
    /// [`StoreError::Invalid`] for an empty name or no document, or as the database fails.
    pub async fn add_conversion(&self, new: NewConversion) -> Result<Conversion> {
        let id = Uuid::now_v7();
        let name = checked_name(&new.name)?;
        let first = new
            .documents
            .as_slice()
            .first()
            .ok_or_else(|| joulethesis_core::error::Error::field("documents", "empty", "at least one design document is needed"))?;
        let (brief, donor) = (json(&first.brief)?, json(&first.donor)?);
        let mut c = self.connection().await?;
        c.transaction(async |c| {
            diesel::insert_into(conversions::table)
                .values((
                    conversions::id.eq(id),
                    conversions::workspace_id.eq(DEFAULT_WORKSPACE),
                    conversions::name.eq(name),
                    conversions::notes.eq(&new.notes),
                    conversions::units.eq(new.units.word()),
                    conversions::brief.eq(brief),
                    conversions::donor.eq(donor),
                ))
                .execute(c)
                .await?;
            let mut labels: Vec<String> = Vec::new();
            for document in &new.documents {
                let label = next_label(&labels);
                insert_design(c, id, &label, &document.design).await?;
                labels.push(label);
            }
            Ok::<_, StoreError>(())
        })
        .await?;
        drop(c);
        self.conversion(id).await
    }

    /// Changes a conversion if it still has the version the writer saw.
    ///
    /// # Errors
    /// [`StoreError::Invalid`], [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn change_conversion(&self, id: Uuid, change: ConversionChange) -> Result<i32> {
        let name = checked_name(&change.name)?;
        let brief: Brief = section(&change.brief)?;
        let donor: Donor = section(&change.donor)?;
        let mut c = self.connection().await?;
        let changed: Option<i32> = diesel::update(conversions::table.find(id).filter(conversions::version.eq(change.version)))
            .set((
                conversions::name.eq(name),
                conversions::notes.eq(&change.notes),
                conversions::units.eq(change.units.word()),
                conversions::brief.eq(json(&brief)?),
                conversions::donor.eq(json(&donor)?),
                conversions::version.eq(change.version.wrapping_add(1)),
                conversions::updated_at.eq(diesel::dsl::now),
            ))
            .returning(conversions::version)
            .get_result(&mut c)
            .await
            .optional()?;
        match changed {
            Some(version) => Ok(version),
            None => Err(self.stale_conversion(id, change.version).await?),
        }
    }

    /// Removes a conversion and its designs if it still has the version the writer saw.
    ///
    /// # Errors
    /// [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn remove_conversion(&self, id: Uuid, version: i32) -> Result<()> {
        let mut c = self.connection().await?;
        let gone = diesel::delete(conversions::table.find(id).filter(conversions::version.eq(version))).execute(&mut c).await?;
        drop(c);
        if gone == 1 { Ok(()) } else { Err(self.stale_conversion(id, version).await?) }
    }

    async fn stale_conversion(&self, id: Uuid, seen: i32) -> Result<StoreError> {
        let mut c = self.connection().await?;
        let current: Option<i32> = conversions::table.find(id).select(conversions::version).first(&mut c).await.optional()?;
        Ok(current.map_or(StoreError::NotFound("conversion"), |current| StoreError::Stale { what: "conversion", seen, current }))
    }
}
