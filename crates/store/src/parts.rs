//! The workspace's own library parts; the built-in ones ship with the core.

use diesel::prelude::*;
use diesel_async::{AsyncConnection, RunQueryDsl};
use joulethesis_core::error::{Error, Problem};
use joulethesis_core::library::Part;
use serde_json::Value;
use uuid::Uuid;

use crate::conversions::json;
use crate::schema::library_parts;
use crate::{DEFAULT_WORKSPACE, Result, Store, StoreError};

/// A stored part.
#[derive(Debug, Clone, PartialEq)]
pub struct PartRecord {
    /// Id.
    pub id: Uuid,
    /// The record.
    pub part: Part,
    /// Whether it is no longer bought: kept, shown apart, and left out of searches.
    pub retired: bool,
    /// Version for optimistic locking.
    pub version: i32,
}

impl Store {
    /// The workspace's own parts by kind and name.
    ///
    /// # Errors
    /// [`StoreError::Corrupt`], or as the database fails.
    pub async fn parts(&self) -> Result<Vec<PartRecord>> {
        let mut c = self.connection().await?;
        let rows: Vec<(Uuid, Value, bool, i32)> = library_parts::table
            .filter(library_parts::workspace_id.eq(DEFAULT_WORKSPACE))
            .order((library_parts::kind.asc(), library_parts::name.asc()))
            .select((library_parts::id, library_parts::record, library_parts::retired, library_parts::version))
            .load(&mut c)
            .await?;
        rows.into_iter()
            .map(|(id, record, retired, version)| match Part::from_value(&record) {
                Ok(part) => Ok(PartRecord { id, part, retired, version }),
                Err(e) => Err(StoreError::Corrupt { what: "library part", id, why: e.to_string() }),
            })
            .collect()
    }

    /// Adds a part.
    ///
    /// # Errors
    /// [`StoreError::Invalid`], [`StoreError::Taken`] for a name used by another part of the kind, or as the database fails.
    pub async fn add_part(&self, record: &Value) -> Result<PartRecord> {
        let part = Part::from_value(record)?;
        let id = Uuid::now_v7();
        let mut c = self.connection().await?;
        diesel::insert_into(library_parts::table)
            .values((
                library_parts::id.eq(id),
                library_parts::workspace_id.eq(DEFAULT_WORKSPACE),
                library_parts::kind.eq(part.kind()),
                library_parts::name.eq(part.name()),
                library_parts::record.eq(json(&part)?),
            ))
            .execute(&mut c)
            .await?;
        Ok(PartRecord { id, part, retired: false, version: 1 })
    }

    /// Changes a part if it still has the version the writer saw.
    ///
    /// # Errors
    /// As [`Store::add_part`], and [`StoreError::Stale`] or [`StoreError::NotFound`].
    pub async fn change_part(&self, id: Uuid, version: i32, record: &Value) -> Result<PartRecord> {
        let part = Part::from_value(record)?;
        let mut c = self.connection().await?;
        let retired: Option<bool> = diesel::update(library_parts::table.find(id).filter(library_parts::version.eq(version)))
            .set((
                library_parts::kind.eq(part.kind()),
                library_parts::name.eq(part.name()),
                library_parts::record.eq(json(&part)?),
                library_parts::version.eq(version.wrapping_add(1)),
                library_parts::updated_at.eq(diesel::dsl::now),
            ))
            .returning(library_parts::retired)
            .get_result(&mut c)
            .await
            .optional()?;
        drop(c);
        match retired {
            Some(retired) => Ok(PartRecord { id, part, retired, version: version.wrapping_add(1) }),
            None => Err(self.stale_part(id, version).await?),
        }
    }

    /// Retires a part, or takes it up again, if it still has the version the writer saw.
    ///
    /// # Errors
    /// [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn retire_part(&self, id: Uuid, version: i32, retired: bool) -> Result<i32> {
        let mut c = self.connection().await?;
        let changed = diesel::update(library_parts::table.find(id).filter(library_parts::version.eq(version)))
            .set((
                library_parts::retired.eq(retired),
                library_parts::version.eq(version.wrapping_add(1)),
                library_parts::updated_at.eq(diesel::dsl::now),
            ))
            .execute(&mut c)
            .await?;
        drop(c);
        if changed == 1 { Ok(version.wrapping_add(1)) } else { Err(self.stale_part(id, version).await?) }
    }

    /// Adds many parts, all or none; those whose kind and name an own part has already replace it when `replace` says so. How many were
    /// added and replaced.
    ///
    /// # Errors
    /// [`StoreError::Invalid`] naming every part whose name is taken, or as the database fails.
    pub async fn import_parts(&self, parts: &[Part], replace: bool) -> Result<(usize, usize)> {
        let mut c = self.connection().await?;
        c.transaction(async |c| {
            let held: Vec<(String, String)> = library_parts::table
                .filter(library_parts::workspace_id.eq(DEFAULT_WORKSPACE))
                .select((library_parts::kind, library_parts::name))
                .load(c)
                .await?;
            let is_held = |p: &&Part| held.iter().any(|(kind, name)| kind == p.kind() && name == p.name());
            let taken: Vec<&Part> = parts.iter().filter(is_held).collect();
            if !replace && !taken.is_empty() {
                let accepted = "an own part has that name; rename it, or replace parts of the same name";
                let problem = |p: &&Part| Problem::new("name", format!("\"{}\"", p.name()), accepted);
                return Err(StoreError::Invalid(Error::Invalid(taken.iter().map(problem).collect())));
            }
            for part in parts {
                let record = json(part)?;
                diesel::insert_into(library_parts::table)
                    .values((
                        library_parts::id.eq(Uuid::now_v7()),
                        library_parts::workspace_id.eq(DEFAULT_WORKSPACE),
                        library_parts::kind.eq(part.kind()),
                        library_parts::name.eq(part.name()),
                        library_parts::record.eq(&record),
                    ))
                    .on_conflict((library_parts::workspace_id, library_parts::kind, library_parts::name))
                    .do_update()
                    .set((
                        library_parts::record.eq(&record),
                        library_parts::version.eq(library_parts::version + 1),
                        library_parts::updated_at.eq(diesel::dsl::now),
                    ))
                    .execute(c)
                    .await?;
            }
            Ok((parts.len() - taken.len(), taken.len()))
        })
        .await
    }

    /// Removes a part if it still has the version the writer saw. Designs that use it embed their own copy and keep it.
    ///
    /// # Errors
    /// [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn remove_part(&self, id: Uuid, version: i32) -> Result<()> {
        let mut c = self.connection().await?;
        let gone = diesel::delete(library_parts::table.find(id).filter(library_parts::version.eq(version))).execute(&mut c).await?;
        drop(c);
        if gone == 1 { Ok(()) } else { Err(self.stale_part(id, version).await?) }
    }

    async fn stale_part(&self, id: Uuid, seen: i32) -> Result<StoreError> {
        let mut c = self.connection().await?;
        let current: Option<i32> = library_parts::table.find(id).select(library_parts::version).first(&mut c).await.optional()?;
        Ok(current.map_or(StoreError::NotFound("part"), |current| StoreError::Stale { what: "part", seen, current }))
    }
}
