//! Designs: the variants of a conversion.

use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use joulethesis_core::document::{Design, Document, FORMAT, VERSION, section};
use serde_json::Value;
use uuid::Uuid;

use crate::conversions::json;
use crate::schema::{conversions, designs};
use crate::{DEFAULT_WORKSPACE, Result, Store, StoreError};

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
        let design = section(&self.body).map_err(|e| StoreError::Corrupt { what: "design", id: self.id, why: e.to_string() })?;
        Ok(DesignRecord { id: self.id, conversion_id: self.conversion_id, label: self.label, design, version: self.version })
    }
}

/// Most designs in a conversion: the letters of the alphabet.
const MOST: usize = 26;

/// The first free letter.
pub(crate) fn next_label(taken: &[String]) -> String {
    ('A'..='Z').map(String::from).find(|l| !taken.contains(l)).unwrap_or_else(|| format!("V{}", taken.len() + 1))
}

pub(crate) async fn insert_design(c: &mut AsyncPgConnection, conversion_id: Uuid, label: &str, design: &Design) -> Result<Uuid> {
    let id = Uuid::now_v7();
    diesel::insert_into(designs::table)
        .values((designs::id.eq(id), designs::conversion_id.eq(conversion_id), designs::label.eq(label), designs::body.eq(json(design)?)))
        .execute(c)
        .await?;
    Ok(id)
}

impl Store {
    /// One design.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], [`StoreError::Corrupt`], or as the database fails.
    pub async fn design(&self, id: Uuid) -> Result<DesignRecord> {
        let mut c = self.connection().await?;
        let row: Option<DesignRow> = designs::table
            .inner_join(conversions::table)
            .filter(designs::id.eq(id))
            .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
            .select(DesignRow::as_select())
            .first(&mut c)
            .await
            .optional()?;
        row.ok_or(StoreError::NotFound("design"))?.read()
    }

    /// Adds a variant under the next free letter.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] without the conversion or the design to copy, [`StoreError::Taken`] when all letters
    /// are used, or as the database fails.
    pub async fn add_design(&self, conversion_id: Uuid, new: NewDesign) -> Result<DesignRecord> {
        let conversion = self.conversion(conversion_id).await?;
        let design = match (new.design, new.copy_of) {
            (Some(design), _) => section(&design)?,
            (None, None) => Design::default(),
            (None, Some(id)) => conversion.designs.iter().find(|d| d.id == id).ok_or(StoreError::NotFound("design"))?.design.clone(),
        };
        if conversion.designs.len() >= MOST {
            return Err(StoreError::Taken("every letter from A to Z".to_owned()));
        }
        let labels: Vec<String> = conversion.designs.into_iter().map(|d| d.label).collect();
        let mut c = self.connection().await?;
        let id = insert_design(&mut c, conversion_id, &next_label(&labels), &design).await?;
        drop(c);
        self.design(id).await
    }

    /// Changes a design if it still has the version the writer saw; returns its new version.
    ///
    /// # Errors
    /// [`StoreError::Invalid`], [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn change_design(&self, id: Uuid, version: i32, body: &Value) -> Result<i32> {
        let design: Design = section(body)?;
        let mut c = self.connection().await?;
        let changed: Option<i32> = diesel::update(designs::table.find(id).filter(designs::version.eq(version)))
            .set((designs::body.eq(json(&design)?), designs::version.eq(version.wrapping_add(1)), designs::updated_at.eq(diesel::dsl::now)))
            .returning(designs::version)
            .get_result(&mut c)
            .await
            .optional()?;
        drop(c);
        match changed {
            Some(version) => Ok(version),
            None => Err(self.stale_design(id, version).await?),
        }
    }

    /// Removes a design if it still has the version the writer saw.
    ///
    /// # Errors
    /// [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn remove_design(&self, id: Uuid, version: i32) -> Result<()> {
        let mut c = self.connection().await?;
        let gone = diesel::delete(designs::table.find(id).filter(designs::version.eq(version))).execute(&mut c).await?;
        drop(c);
        if gone == 1 { Ok(()) } else { Err(self.stale_design(id, version).await?) }
    }

    async fn stale_design(&self, id: Uuid, seen: i32) -> Result<StoreError> {
        Ok(match self.design(id).await {
            Ok(design) => StoreError::Stale { what: "design", seen, current: design.version },
            Err(error) => error,
        })
    }

    /// The self-contained document of a design.
    ///
    /// # Errors
    /// As [`Store::design`] and [`Store::conversion`].
    pub async fn document(&self, design_id: Uuid) -> Result<Document> {
        let record = self.design(design_id).await?;
        let conversion = self.conversion(record.conversion_id).await?;
        Ok(Document {
            format: FORMAT.to_owned(),
            version: VERSION,
            name: format!("{} {}", conversion.name, record.label),
            brief: conversion.brief,
            donor: conversion.donor,
            design: record.design,
        })
    }
}
