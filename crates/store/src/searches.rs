//! What searches of the library found: the last answer of each name for a conversion, with what it was asked for.

use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::schema::{conversions, searches};
use crate::{DEFAULT_WORKSPACE, Result, Store, StoreError};

/// Version of the answers' format: one of another version is not read, as a new search gives it again.
const ANSWER_FORMAT: i32 = 1;

/// An answer that is kept.
#[derive(Debug, Clone, PartialEq)]
pub struct KeptSearch {
    /// Which of the searches of a conversion: `main`, `other-pack`, `years-big` or `years-small`.
    pub name: String,
    /// What tells brief, donor and conditions apart from those of another search; short, opaque.
    pub asked: String,
    /// The answer.
    pub answer: Value,
    /// What would have to give, where nothing was found.
    pub relaxations: Option<Value>,
    /// When it was found.
    pub found_at: OffsetDateTime,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = searches)]
struct SearchRow {
    name: String,
    asked: String,
    answer: Value,
    relaxations: Option<Value>,
    found_at: OffsetDateTime,
}

impl Store {
    /// Keeps an answer in place of the one of its name before.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] without the conversion, or as the database fails.
    pub async fn keep_search(&self, conversion_id: Uuid, kept: KeptSearch) -> Result<()> {
        self.write(move |c| {
            Box::pin(async move {
                // Held, so that it is not removed under the write.
                let own: Option<Uuid> = conversions::table
                    .find(conversion_id)
                    .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
                    .select(conversions::id)
                    .for_share()
                    .first(c)
                    .await
                    .optional()?;
                own.ok_or(StoreError::NotFound("conversion"))?;
                let values = (
                    searches::asked.eq(kept.asked),
                    searches::answer.eq(kept.answer),
                    searches::relaxations.eq(kept.relaxations),
                    searches::format.eq(ANSWER_FORMAT),
                    searches::found_at.eq(kept.found_at),
                );
                diesel::insert_into(searches::table)
                    .values((searches::conversion_id.eq(conversion_id), searches::name.eq(kept.name), values.clone()))
                    .on_conflict((searches::conversion_id, searches::name))
                    .do_update()
                    .set(values)
                    .execute(c)
                    .await?;
                Ok(())
            })
        })
        .await
    }

    /// What is kept for a conversion, by name.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] without the conversion, or as the database fails.
    pub async fn kept_searches(&self, conversion_id: Uuid) -> Result<Vec<KeptSearch>> {
        let mut c = self.connection().await?;
        let rows: Vec<SearchRow> = searches::table
            .inner_join(conversions::table)
            .filter(searches::conversion_id.eq(conversion_id))
            .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
            .filter(searches::format.eq(ANSWER_FORMAT))
            .order(searches::name)
            .select(SearchRow::as_select())
            .load(&mut c)
            .await?;
        if rows.is_empty() {
            let own = conversions::table.find(conversion_id).filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE));
            let found: Option<Uuid> = own.select(conversions::id).first(&mut c).await.optional()?;
            found.ok_or(StoreError::NotFound("conversion"))?;
        }
        let kept = |SearchRow { name, asked, answer, relaxations, found_at }| KeptSearch { name, asked, answer, relaxations, found_at };
        Ok(rows.into_iter().map(kept).collect())
    }
}
