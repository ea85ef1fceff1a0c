//! Why the store refused or failed.

use diesel::result::{DatabaseErrorKind, Error as DieselError};

/// Result of the store.
pub type Result<T> = std::result::Result<T, StoreError>;

/// Why the store refused or failed.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// No such row.
    #[error("no such {0}")]
    NotFound(&'static str),
    /// The row changed since it was read.
    #[error("the {what} has version {current}; the change was made to version {seen}")]
    Stale {
        /// What changed.
        what: &'static str,
        /// Version the writer saw.
        seen: i32,
        /// Version in the database.
        current: i32,
    },
    /// A name or label that must be unique is taken.
    #[error("{0} is taken already")]
    Taken(String),
    /// The core refuses the content.
    #[error(transparent)]
    Invalid(#[from] joulethesis_core::error::Error),
    /// A stored row does not pass the core's check.
    #[error("stored {what} {id} cannot be read: {why}")]
    Corrupt {
        /// Which table.
        what: &'static str,
        /// Which row.
        id: uuid::Uuid,
        /// Why.
        why: String,
    },
    /// The database cannot be reached.
    #[error("the database cannot be reached: {0}")]
    Unavailable(String),
    /// A migration failed.
    #[error("the database could not be brought up to date: {0}")]
    Migration(String),
    /// Anything else the database said.
    #[error(transparent)]
    Database(DieselError),
}

impl From<DieselError> for StoreError {
    fn from(error: DieselError) -> Self {
        match error {
            DieselError::DatabaseError(DatabaseErrorKind::UniqueViolation, info) => {
                Self::Taken(info.details().map_or_else(|| "this name".to_owned(), str::to_owned))
            }
            DieselError::DatabaseError(DatabaseErrorKind::ClosedConnection, info) => Self::Unavailable(info.message().to_owned()),
            other => Self::Database(other),
        }
    }
}
