//! Designs: the variants of a conversion.

use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use joulethesis_core::document::{Design, Document, FORMAT, MOST_VARIANTS, VERSION, section, stored};
use joulethesis_core::error::Problem;
use serde_json::Value;
use uuid::Uuid;

use crate::conversions::{Conversion, json, stale};
use crate::schema::{conversions, designs};
use crate::{DEFAULT_WORKSPACE, FORMAT_VERSION, Result, Store, StoreError};

/// A stored design.
#[derive(Debug, Clone, PartialEq)]
pub struct DesignRecord {
    /// Id.
    pub id: Uuid,
    /// Conversion it belongs to.
    pub conversion_id: Uuid,
    /// Variant label: A, B, C ...
    pub label: String,
    /// The design.
    pub design: Design,
    /// Version for optimistic locking.
    pub version: i32,
    /// Bounds that what is stored breaks, to be mended.
    pub problems: Vec<Problem>,
}

/// A new design: empty, or a copy of another one of the same conversion.
#[derive(Debug, Clone, Default)]
pub struct NewDesign {
    /// Design to copy.
    pub copy_of: Option<Uuid>,
    /// Design to begin with in place of a copy.
    pub design: Option<Value>,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = designs)]
pub(crate) struct DesignRow {
    id: Uuid,
    conversion_id: Uuid,
    label: String,
    body: Value,
    version: i32,
}

impl DesignRow {
    pub(crate) fn read(self) -> Result<DesignRecord> {
        let (design, problems) = stored(&self.body).map_err(|e| StoreError::Corrupt { what: "design", id: self.id, why: e.to_string() })?;
        let Self { id, conversion_id, label, version, .. } = self;
        Ok(DesignRecord { id, conversion_id, label, design, version, problems })
    }
}

/// The first free letter.
pub(crate) fn next_label(taken: &[String]) -> String {
    ('A'..='Z').map(String::from).find(|l| !taken.contains(l)).unwrap_or_else(|| format!("V{}", taken.len() + 1))
}

pub(crate) async fn insert_design(c: &mut AsyncPgConnection, conversion_id: Uuid, label: &str, design: &Design) -> Result<Uuid> {
    let id = Uuid::now_v7();
    diesel::insert_into(designs::table)
        .values((
            designs::id.eq(id),
            designs::conversion_id.eq(conversion_id),
            designs::label.eq(label),
            designs::body.eq(json(design)?),
            designs::format.eq(FORMAT_VERSION),
        ))
        .execute(c)
        .await?;
    Ok(id)
}

/// Designs of this workspace.
macro_rules! own {
    ($id:expr) => {
        designs::table.find($id).filter(
            designs::conversion_id
                .eq_any(conversions::table.filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE)).select(conversions::id)),
        )
    };
}

async fn current_version(c: &mut AsyncPgConnection, id: Uuid) -> Result<Option<i32>> {
    Ok(own!(id).select(designs::version).first(c).await.optional()?)
}

async fn one(c: &mut AsyncPgConnection, id: Uuid) -> Result<DesignRecord> {
    let row: Option<DesignRow> = own!(id).select(DesignRow::as_select()).first(c).await.optional()?;
    row.ok_or(StoreError::NotFound("design"))?.read()
}

impl Store {
    /// One design.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::Corrupt`], or as the database fails.
    pub async fn design(&self, id: Uuid) -> Result<DesignRecord> {
        let mut c = self.connection().await?;
        one(&mut c, id).await
    }

    /// Adds a variant under the next free letter. Several at once get a letter each.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] without the conversion or the design to copy, [`StoreError::Taken`] when all letters
    /// are used, or as the database fails.
    pub async fn add_design(&self, conversion_id: Uuid, new: NewDesign) -> Result<DesignRecord> {
        let given: Option<Design> = new.design.as_ref().map(section).transpose()?;
        self.write(move |c| {
            Box::pin(async move {
                // Whoever adds a variant waits here for whoever is adding one already.
                let held: Option<Uuid> = conversions::table
                    .find(conversion_id)
                    .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
                    .select(conversions::id)
                    .for_update()
                    .first(c)
                    .await
                    .optional()?;
                if held.is_none() {
                    return Err(StoreError::NotFound("conversion"));
                }
                let of_it = designs::table.filter(designs::conversion_id.eq(conversion_id));
                let labels: Vec<String> = of_it.select(designs::label).load(c).await?;
                if labels.len() >= MOST_VARIANTS {
                    return Err(StoreError::Taken("every letter from A to Z".to_owned()));
                }
                let design = match (given, new.copy_of) {
                    (Some(design), _) => design,
                    (None, None) => Design::default(),
                    (None, Some(copied)) => {
                        let row: Option<DesignRow> =
                            of_it.filter(designs::id.eq(copied)).select(DesignRow::as_select()).first(c).await.optional()?;
                        row.ok_or(StoreError::NotFound("design"))?.read()?.design
                    }
                };
                let id = insert_design(c, conversion_id, &next_label(&labels), &design).await?;
                one(c, id).await
            })
        })
        .await
    }

    /// Changes a design if it still has the version the writer saw, and gives back what is stored now.
    ///
    /// # Errors
    /// [`StoreError::Invalid`], [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn change_design(&self, id: Uuid, version: i32, body: &Value) -> Result<DesignRecord> {
        let design: Design = section(body)?;
        let body = json(&design)?;
        self.write(move |c| {
            Box::pin(async move {
                let changed: Option<(Uuid, String, i32)> = diesel::update(own!(id).filter(designs::version.eq(version)))
                    .set((
                        designs::body.eq(body),
                        designs::format.eq(FORMAT_VERSION),
                        designs::version.eq(version.wrapping_add(1)),
                        designs::updated_at.eq(diesel::dsl::now),
                    ))
                    .returning((designs::conversion_id, designs::label, designs::version))
                    .get_result(c)
                    .await
                    .optional()?;
                match changed {
                    // What was written is known; reading it again would check it a second time.
                    Some((conversion_id, label, version)) => {
                        Ok(DesignRecord { id, conversion_id, label, design, version, problems: Vec::new() })
                    }
                    None => Err(stale("design", version, current_version(c, id).await?)),
                }
            })
        })
        .await
    }

    /// Removes a design if it still has the version the writer saw.
    ///
    /// # Errors
    /// [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn remove_design(&self, id: Uuid, version: i32) -> Result<()> {
        self.write(move |c| {
            Box::pin(async move {
                if diesel::delete(own!(id).filter(designs::version.eq(version))).execute(c).await? == 1 {
                    return Ok(());
                }
                Err(stale("design", version, current_version(c, id).await?))
            })
        })
        .await
    }

    /// The self-contained document of a design.
    ///
    /// # Errors
    /// As [`Store::design`] and [`Store::conversion`].
    pub async fn document(&self, design_id: Uuid) -> Result<Document> {
        let record = self.design(design_id).await?;
        let Conversion { head, .. } = self.conversion(record.conversion_id).await?;
        Ok(Document {
            format: FORMAT.to_owned(),
            version: VERSION,
            name: format!("{} {}", head.name, record.label),
            brief: head.brief,
            donor: head.donor,
            design: record.design,
        })
    }
}
