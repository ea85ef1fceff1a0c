//! Conversions: name, units, brief and donor, with their designs.

mod records;

use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use joulethesis_core::document::{Brief, CONVERSION_FORMAT, ConversionFile, Donor, Shortlist, VERSION, Variant, section};
pub use joulethesis_core::quantity::units::UnitSystem;
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::designs::{DesignRow, insert_design, next_label};
use crate::schema::{conversions, designs};
use crate::{DEFAULT_WORKSPACE, FORMAT_VERSION, Result, Store, StoreError};
pub(crate) use records::json;
pub use records::{Conversion, ConversionChange, ConversionHead, ConversionSummary, NewConversion, NewVariant};
use records::{ConversionRow, checked_words, units, word};

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
            conversions::shortlist.eq(json(&new.shortlist)?),
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
        let rows: Vec<(Uuid, String, String, String, Value, Value, OffsetDateTime)> = conversions::table
            .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
            .order(conversions::updated_at.desc())
            .select((
                conversions::id,
                conversions::name,
                conversions::notes,
                conversions::units,
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
            .map(|(id, name, notes, own, brief, donor, updated_at)| ConversionSummary {
                designs: labels.iter().filter(|(of, _)| *of == id).map(|(_, l)| l.clone()).collect(),
                kind: donor["kind"].as_str().unwrap_or_default().to_owned(),
                goals: brief["goals"].as_array().map_or(0, Vec::len),
                id,
                name,
                notes,
                units: units(&own),
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
            shortlist: head.shortlist,
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
        let shortlist: Shortlist = section(&change.shortlist)?;
        let written = (json(&brief)?, json(&donor)?, json(&shortlist)?);
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
                        conversions::shortlist.eq(written.2),
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
                        Ok(ConversionHead { id, name, notes, units, brief, donor, shortlist, version, updated_at, problems: Vec::new() })
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
