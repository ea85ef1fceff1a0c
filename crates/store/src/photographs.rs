//! Photographs of a conversion: pictures with captions, bounded in number and size.

use diesel::prelude::*;
use diesel_async::{AsyncPgConnection, RunQueryDsl};
use joulethesis_core::error::Error;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::schema::{conversions, photographs};
use crate::{DEFAULT_WORKSPACE, Result, Store, StoreError};

/// Most photographs of a conversion.
pub const MOST_PHOTOGRAPHS: i64 = 60;
/// Longest caption and name of what it shows, characters.
const LONGEST: usize = 300;

/// A photograph without its pixels.
#[derive(Debug, Clone, PartialEq, Eq, Queryable, Selectable)]
#[diesel(table_name = photographs)]
pub struct Photograph {
    /// Id.
    pub id: Uuid,
    /// Caption.
    pub caption: String,
    /// What it shows: the name of an item of the ledger, or empty for the vehicle.
    pub about: String,
    /// Pixels across.
    pub width: i32,
    /// Pixels down.
    pub height: i32,
    /// When it was added.
    pub added_at: OffsetDateTime,
}

/// A new photograph.
#[derive(Debug, Clone)]
pub struct NewPhotograph {
    /// Caption.
    pub caption: String,
    /// What it shows.
    pub about: String,
    /// Pixels across.
    pub width: i32,
    /// Pixels down.
    pub height: i32,
    /// JPEG.
    pub picture: Vec<u8>,
    /// JPEG, small.
    pub thumbnail: Vec<u8>,
}

/// A text as it is kept: without blanks around it, within its length, on one line.
fn checked(key: &str, text: &str) -> Result<String> {
    let text = text.trim();
    let odd = text.chars().any(char::is_control);
    let length = text.chars().count();
    if odd || length > LONGEST {
        let given = if odd { "a text with control characters".to_owned() } else { format!("{length} characters") };
        return Err(StoreError::Invalid(Error::field(key, given, format!("a line of up to {LONGEST} characters is accepted"))));
    }
    Ok(text.to_owned())
}

/// Holds the conversion, so that it is not removed under the write.
async fn hold(c: &mut AsyncPgConnection, conversion_id: Uuid) -> Result<()> {
    let own: Option<Uuid> = conversions::table
        .find(conversion_id)
        .filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE))
        .select(conversions::id)
        .for_update()
        .first(c)
        .await
        .optional()?;
    own.map(|_| ()).ok_or(StoreError::NotFound("conversion"))
}

impl Store {
    /// Photographs of a conversion, the first added first.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] without the conversion, or as the database fails.
    pub async fn photographs(&self, conversion_id: Uuid) -> Result<Vec<Photograph>> {
        let mut c = self.connection().await?;
        let own = conversions::table.find(conversion_id).filter(conversions::workspace_id.eq(DEFAULT_WORKSPACE));
        let found: Option<Uuid> = own.select(conversions::id).first(&mut c).await.optional()?;
        found.ok_or(StoreError::NotFound("conversion"))?;
        let all = photographs::table.filter(photographs::conversion_id.eq(conversion_id)).order((photographs::added_at, photographs::id));
        Ok(all.select(Photograph::as_select()).load(&mut c).await?)
    }

    /// Adds a photograph.
    ///
    /// # Errors
    /// [`StoreError::Invalid`] beyond the bounds, [`StoreError::NotFound`] without the conversion, or as the database fails.
    pub async fn add_photograph(&self, conversion_id: Uuid, new: NewPhotograph) -> Result<Photograph> {
        let (caption, about) = (checked("caption", &new.caption)?, checked("about", &new.about)?);
        self.write(move |c| {
            Box::pin(async move {
                hold(c, conversion_id).await?;
                let own = photographs::table.filter(photographs::conversion_id.eq(conversion_id));
                let there: i64 = own.count().get_result(c).await?;
                if there >= MOST_PHOTOGRAPHS {
                    let given = format!("one more than {there}");
                    let accepted = format!("up to {MOST_PHOTOGRAPHS} photographs of a conversion are accepted: remove one first");
                    return Err(StoreError::Invalid(Error::field("picture", given, accepted)));
                }
                Ok(diesel::insert_into(photographs::table)
                    .values((
                        photographs::id.eq(Uuid::now_v7()),
                        photographs::conversion_id.eq(conversion_id),
                        photographs::caption.eq(caption),
                        photographs::about.eq(about),
                        photographs::width.eq(new.width),
                        photographs::height.eq(new.height),
                        photographs::picture.eq(new.picture),
                        photographs::thumbnail.eq(new.thumbnail),
                    ))
                    .returning(Photograph::as_returning())
                    .get_result(c)
                    .await?)
            })
        })
        .await
    }

    /// Changes what is said of a photograph; the later of two writers stands.
    ///
    /// # Errors
    /// [`StoreError::Invalid`], [`StoreError::NotFound`], or as the database fails.
    pub async fn describe_photograph(&self, id: Uuid, caption: &str, about: &str) -> Result<Photograph> {
        let (caption, about) = (checked("caption", caption)?, checked("about", about)?);
        self.write(move |c| {
            Box::pin(async move {
                let changed: Option<Photograph> = diesel::update(photographs::table.find(id).filter(owned()))
                    .set((photographs::caption.eq(caption), photographs::about.eq(about)))
                    .returning(Photograph::as_returning())
                    .get_result(c)
                    .await
                    .optional()?;
                changed.ok_or(StoreError::NotFound("photograph"))
            })
        })
        .await
    }

    /// The pixels of a photograph as JPEG, whole or small.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], or as the database fails.
    pub async fn picture(&self, id: Uuid, small: bool) -> Result<Vec<u8>> {
        let mut c = self.connection().await?;
        let own = photographs::table.find(id).filter(owned());
        let found: Option<Vec<u8>> = if small {
            own.select(photographs::thumbnail).first(&mut c).await.optional()?
        } else {
            own.select(photographs::picture).first(&mut c).await.optional()?
        };
        found.ok_or(StoreError::NotFound("photograph"))
    }

    /// Removes a photograph.
    ///
    /// # Errors
    /// [`StoreError::NotFound`], or as the database fails.
    pub async fn remove_photograph(&self, id: Uuid) -> Result<()> {
        self.write(move |c| {
            Box::pin(async move {
                let gone = diesel::delete(photographs::table.find(id).filter(owned())).execute(c).await?;
                if gone == 1 { Ok(()) } else { Err(StoreError::NotFound("photograph")) }
            })
        })
        .await
    }
}

/// Photographs of conversions of this workspace.
#[diesel::dsl::auto_type(no_type_alias)]
fn owned() -> _ {
    let workspace: Uuid = DEFAULT_WORKSPACE;
    photographs::conversion_id.eq_any(conversions::table.filter(conversions::workspace_id.eq(workspace)).select(conversions::id))
}
