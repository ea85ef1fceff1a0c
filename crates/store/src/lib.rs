//! PostgreSQL storage of conversions, designs and library parts. Knows the core's types, not HTTP.
//!
//! Whatever is written is checked by the core first, and whatever is read is checked again, so that a row changed
//! behind the program's back is reported and never computed with.

mod conversions;
mod designs;
mod error;
mod parts;
mod schema;
#[cfg(feature = "testing")]
pub mod testing;

use diesel_async::AsyncPgConnection;
use diesel_async::pooled_connection::AsyncDieselConnectionManager;
use diesel_async::pooled_connection::deadpool::{Object, Pool};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use uuid::Uuid;

pub use conversions::{Conversion, ConversionChange, ConversionSummary, NewConversion, UnitSystem};
pub use designs::{DesignRecord, NewDesign};
pub use error::{Result, StoreError};
pub use parts::PartRecord;

/// Longest wait for a connection.
const LONGEST_WAIT: std::time::Duration = std::time::Duration::from_secs(5);

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();

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

    /// Brings the database to the newest schema.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] without a database, [`StoreError::Migration`] when a step fails.
    pub async fn migrate(&self) -> Result<()> {
        let connection = self.connection().await?;
        // Blocks its thread, so it needs the multi-thread runtime.
        let mut harness = diesel_async::AsyncMigrationHarness::new(connection);
        harness.run_pending_migrations(MIGRATIONS).map_err(|e| StoreError::Migration(e.to_string()))?;
        Ok(())
    }

    /// Whether the database answers.
    ///
    /// # Errors
    /// [`StoreError::Unavailable`] when it does not.
    pub async fn ping(&self) -> Result<()> {
        use diesel_async::RunQueryDsl;
        let mut connection = self.connection().await?;
        diesel::sql_query("SELECT 1").execute(&mut connection).await?;
        Ok(())
    }
}
