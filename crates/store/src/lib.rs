//! PostgreSQL storage of conversions, designs and library parts. Knows the core's types, not HTTP.
//!
//! Whatever is written is checked by the core first, and whatever is read is checked again, so that a row changed
//! behind the program's back is reported and never computed with.

mod conversions;
mod designs;
mod error;
mod parts;
mod photographs;
mod schema;
mod searches;
#[cfg(feature = "testing")]
pub mod testing;
mod write;

use diesel_async::AsyncPgConnection;
use diesel_async::pooled_connection::AsyncDieselConnectionManager;
use diesel_async::pooled_connection::deadpool::{Object, Pool};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use uuid::Uuid;

pub use conversions::{Conversion, ConversionChange, ConversionHead, ConversionSummary, NewConversion, NewVariant, UnitSystem};
pub use designs::{DesignRecord, NewDesign};
pub use error::{Result, StoreError};
pub use parts::{PartRecord, UnreadablePart};
pub use photographs::{MOST_PHOTOGRAPHS, NewPhotograph, Photograph};
pub use searches::KeptSearch;

/// Longest wait for a connection.
const LONGEST_WAIT: std::time::Duration = std::time::Duration::from_secs(5);

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

/// Keys of the database's advisory locks: any fixed numbers of our own.
const MIGRATING: i64 = 0x4a6f_756c_6d69;
pub(crate) const LOADING_DEMO: i64 = 0x4a6f_756c_6465;

/// Version of the format that bodies are written in.
pub(crate) const FORMAT_VERSION: i32 = 1;

/// The one workspace until sign-in exists.
pub const DEFAULT_WORKSPACE: Uuid = Uuid::from_u128(1);

/// Connections to one database. Cheap to clone.
#[derive(Clone)]
pub struct Store {
    pool: Pool<AsyncPgConnection>,
}

impl Store {
    /// A pool of at most `connections` to `url`; nothing is connected yet.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when the pool cannot be made.
    pub fn new(url: &str, connections: usize) -> Result<Self> {
        let manager = AsyncDieselConnectionManager::<AsyncPgConnection>::new(url);
        let pool = Pool::builder(manager).max_size(connections).build().map_err(|e| StoreError::Unavailable(e.to_string()))?;
        Ok(Self { pool })
    }

    async fn connection(&self) -> Result<Object<AsyncPgConnection>> {
        match tokio::time::timeout(LONGEST_WAIT, self.pool.get()).await {
            Ok(connection) => connection.map_err(|e| StoreError::Unavailable(e.to_string())),
            Err(_) => Err(StoreError::Unavailable(format!("no connection within {} s", LONGEST_WAIT.as_secs()))),
        }
    }

    /// Brings the database to the newest schema. Several servers may do so at once: one does the work while the others wait for it.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] without a database, [`StoreError::Migration`] when a step fails.
    pub async fn migrate(&self) -> Result<()> {
        use diesel_async::RunQueryDsl;
        let mut connection = self.connection().await?;
        // Held by the session, so it goes with the connection however this ends.
        diesel::sql_query(format!("SELECT pg_advisory_lock({MIGRATING})")).execute(&mut connection).await?;
        // Blocks its thread, so it needs the multi-thread runtime.
        let mut harness = diesel_async::AsyncMigrationHarness::new(connection);
        let done = harness.run_pending_migrations(MIGRATIONS).map(|_| ()).map_err(|e| StoreError::Migration(e.to_string()));
        let mut connection = harness.into_inner();
        diesel::sql_query(format!("SELECT pg_advisory_unlock({MIGRATING})")).execute(&mut connection).await?;
        done
    }

    /// Whether the database can be written: a row is changed and its commit awaited.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when it does not answer, or what it says when it cannot write.
    pub async fn ready(&self) -> Result<()> {
        use diesel_async::RunQueryDsl;
        self.write(|c| {
            Box::pin(async move {
                diesel::sql_query("UPDATE readiness SET asked_at = now() WHERE id = 1").execute(c).await?;
                Ok(())
            })
        })
        .await
    }
}
