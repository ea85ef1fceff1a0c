//! The workspace's own library parts; the built-in ones ship with the core.

use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use joulethesis_core::error::{Problem, Problems};
use joulethesis_core::library::Part;
use serde_json::Value;
use uuid::Uuid;

use crate::conversions::{json, stale};
use crate::schema::library_parts;
use crate::{DEFAULT_WORKSPACE, FORMAT_VERSION, Result, Store, StoreError};

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

/// A stored part that cannot be computed with until it is mended.
#[derive(Debug, Clone, PartialEq)]
pub struct UnreadablePart {
    /// Id.
    pub id: Uuid,
    /// Kind, as it was stored under.
    pub kind: String,
    /// Name, as it was stored under.
    pub name: String,
    /// Version for optimistic locking.
    pub version: i32,
    /// What is wrong with it.
    pub problems: Vec<Problem>,
    /// What is stored, as it is.
    pub record: Value,
}

/// Parts of this workspace.
macro_rules! own {
    ($id:expr) => {
        library_parts::table.find($id).filter(library_parts::workspace_id.eq(DEFAULT_WORKSPACE))
    };
}

async fn current_version(c: &mut AsyncPgConnection, id: Uuid) -> Result<Option<i32>> {
    Ok(own!(id).select(library_parts::version).first(c).await.optional()?)
}

/// Says which part's name was taken, where a write ran into it.
fn taken(part: &Part) -> impl FnOnce(diesel::result::Error) -> StoreError {
    let what = format!("the name \"{}\" of a {}", part.name(), part.kind());
    move |error| match StoreError::from(error) {
        StoreError::Taken(_) => StoreError::Taken(what),
        other => other,
    }
}

impl Store {
    /// The workspace's own parts by kind and name: those that can be computed with, and those that cannot.
    ///
    /// # Errors
    /// As the database fails.
    pub async fn parts(&self) -> Result<(Vec<PartRecord>, Vec<UnreadablePart>)> {
        let mut c = self.connection().await?;
        let rows: Vec<(Uuid, String, String, Value, bool, i32)> = library_parts::table
            .filter(library_parts::workspace_id.eq(DEFAULT_WORKSPACE))
            .order((library_parts::kind.asc(), library_parts::name.asc()))
            .select((
                library_parts::id,
                library_parts::kind,
                library_parts::name,
                library_parts::record,
                library_parts::retired,
                library_parts::version,
            ))
            .load(&mut c)
            .await?;
        drop(c);
        let (mut good, mut bad) = (Vec::with_capacity(rows.len()), Vec::new());
        for (id, kind, name, record, retired, version) in rows {
            match Part::from_value(&record) {
                Ok(part) => good.push(PartRecord { id, part, retired, version }),
                Err(e) => {
                    let problems = match e.problems() {
                        [] => vec![Problem::new("record", "", e.to_string())],
                        listed => listed.to_vec(),
                    };
                    bad.push(UnreadablePart { id, kind, name, version, problems, record });
                }
            }
        }
        Ok((good, bad))
    }

    /// Adds a part.
    ///
    /// # Errors
    /// [`StoreError::Invalid`], [`StoreError::Taken`] for a name used by another part of the kind, or as the database fails.
    pub async fn add_part(&self, record: &Value) -> Result<PartRecord> {
        let part = Part::from_value(record)?;
        let body = json(&part)?;
        self.write(move |c| {
            Box::pin(async move {
                let id = Uuid::now_v7();
                diesel::insert_into(library_parts::table)
                    .values((
                        library_parts::id.eq(id),
                        library_parts::workspace_id.eq(DEFAULT_WORKSPACE),
                        library_parts::kind.eq(part.kind()),
                        library_parts::name.eq(part.name()),
                        library_parts::record.eq(body),
                        library_parts::format.eq(FORMAT_VERSION),
                    ))
                    .execute(c)
                    .await
                    .map_err(taken(&part))?;
                Ok(PartRecord { id, part, retired: false, version: 1 })
            })
        })
        .await
    }

    /// Changes a part if it still has the version the writer saw.
    ///
    /// # Errors
    /// As [`Store::add_part`], and [`StoreError::Stale`] or [`StoreError::NotFound`].
    pub async fn change_part(&self, id: Uuid, version: i32, record: &Value) -> Result<PartRecord> {
        let part = Part::from_value(record)?;
        let body = json(&part)?;
        self.write(move |c| {
            Box::pin(async move {
                let changed: Option<(bool, i32)> = diesel::update(own!(id).filter(library_parts::version.eq(version)))
                    .set((
                        library_parts::kind.eq(part.kind()),
                        library_parts::name.eq(part.name()),
                        library_parts::record.eq(body),
                        library_parts::format.eq(FORMAT_VERSION),
                        library_parts::version.eq(version.wrapping_add(1)),
                        library_parts::updated_at.eq(diesel::dsl::now),
                    ))
                    .returning((library_parts::retired, library_parts::version))
                    .get_result(c)
                    .await
                    .optional()
                    .map_err(taken(&part))?;
                match changed {
                    Some((retired, version)) => Ok(PartRecord { id, part, retired, version }),
                    None => Err(stale("part", version, current_version(c, id).await?)),
                }
            })
        })
        .await
    }

    /// Retires a part, or takes it up again, if it still has the version the writer saw; the new version is returned.
    ///
    /// # Errors
    /// [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn retire_part(&self, id: Uuid, version: i32, retired: bool) -> Result<i32> {
        self.write(move |c| {
            Box::pin(async move {
                let changed = diesel::update(own!(id).filter(library_parts::version.eq(version)))
                    .set((
                        library_parts::retired.eq(retired),
                        library_parts::version.eq(version.wrapping_add(1)),
                        library_parts::updated_at.eq(diesel::dsl::now),
                    ))
                    .execute(c)
                    .await?;
                if changed == 1 { Ok(version.wrapping_add(1)) } else { Err(stale("part", version, current_version(c, id).await?)) }
            })
        })
        .await
    }

    /// Adds many parts, all or none; those whose kind and name an own part has already replace it when `replace` says so. How many were
    /// added and replaced.
    ///
    /// # Errors
    /// [`StoreError::Invalid`] naming every part whose name is taken, or as the database fails.
    pub async fn import_parts(&self, parts: Vec<Part>, replace: bool) -> Result<(usize, usize)> {
        self.write(move |c| {
            Box::pin(async move {
                let held: Vec<(String, String)> = library_parts::table
                    .filter(library_parts::workspace_id.eq(DEFAULT_WORKSPACE))
                    .select((library_parts::kind, library_parts::name))
                    .load(c)
                    .await?;
                let held: std::collections::HashSet<(&str, &str)> = held.iter().map(|(k, n)| (k.as_str(), n.as_str())).collect();
                let mut problems = Problems::new();
                let mut replaced = 0;
                for part in parts.iter().filter(|p| held.contains(&(p.kind(), p.name()))) {
                    replaced += 1;
                    if !replace {
                        let accepted = "an own part has that name; rename it, or replace parts of the same name";
                        problems.add(|| Problem::new("name", format!("\"{}\"", part.name()), accepted));
                    }
                }
                problems.or(())?;
                for part in &parts {
                    let record = json(part)?;
                    diesel::insert_into(library_parts::table)
                        .values((
                            library_parts::id.eq(Uuid::now_v7()),
                            library_parts::workspace_id.eq(DEFAULT_WORKSPACE),
                            library_parts::kind.eq(part.kind()),
                            library_parts::name.eq(part.name()),
                            library_parts::record.eq(&record),
                            library_parts::format.eq(FORMAT_VERSION),
                        ))
                        .on_conflict((library_parts::workspace_id, library_parts::kind, library_parts::name))
                        .do_update()
                        .set((
                            library_parts::record.eq(&record),
                            library_parts::format.eq(FORMAT_VERSION),
                            library_parts::version.eq(library_parts::version + 1),
                            library_parts::updated_at.eq(diesel::dsl::now),
                        ))
                        .execute(c)
                        .await?;
                }
                Ok((parts.len() - replaced, replaced))
            })
        })
        .await
    }

    /// Removes many parts, all or none, each if it still has the version the writer saw.
    ///
    /// # Errors
    /// [`StoreError::Stale`] or [`StoreError::NotFound`] for the first that is otherwise, or as the database fails.
    pub async fn remove_parts(&self, seen: Vec<(Uuid, i32)>) -> Result<usize> {
        self.write(move |c| {
            Box::pin(async move {
                let ids: Vec<Uuid> = seen.iter().map(|s| s.0).collect();
                let held: Vec<(Uuid, i32)> = library_parts::table
                    .filter(library_parts::workspace_id.eq(DEFAULT_WORKSPACE).and(library_parts::id.eq_any(&ids)))
                    .select((library_parts::id, library_parts::version))
                    .for_update()
                    .load(c)
                    .await?;
                let held: std::collections::HashMap<Uuid, i32> = held.into_iter().collect();
                if let Some((id, version)) = seen.iter().find(|(id, version)| held.get(id) != Some(version)) {
                    return Err(stale("part", *version, held.get(id).copied()));
                }
                Ok(diesel::delete(library_parts::table.filter(library_parts::id.eq_any(ids))).execute(c).await?)
            })
        })
        .await
    }

    /// Removes a part if it still has the version the writer saw. Designs that use it embed their own copy and keep it.
    ///
    /// # Errors
    /// [`StoreError::Stale`], [`StoreError::NotFound`], or as the database fails.
    pub async fn remove_part(&self, id: Uuid, version: i32) -> Result<()> {
        self.write(move |c| {
            Box::pin(async move {
                if diesel::delete(own!(id).filter(library_parts::version.eq(version))).execute(c).await? == 1 {
                    return Ok(());
                }
                Err(stale("part", version, current_version(c, id).await?))
            })
        })
        .await
    }
}
