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
    /// The database has no room left to write.
    #[error("the database's disk is full: {0}")]
    Full(String),
    /// The database was lost while a commit was under way: whether the change took effect is not known.
    #[error("the database was lost while the change was being committed: {0}")]
    OutcomeUnknown(String),
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
            // The table's own words would name its keys; whoever inserts says what is taken.
            DieselError::DatabaseError(DatabaseErrorKind::UniqueViolation, _) => Self::Taken("this name".to_owned()),
            DieselError::DatabaseError(DatabaseErrorKind::ClosedConnection | DatabaseErrorKind::UnableToSendCommand, info) => {
                Self::Unavailable(info.message().to_owned())
            }
            DieselError::DatabaseError(DatabaseErrorKind::Unknown, info) if is_going_away(info.message()) => {
                Self::Unavailable(info.message().to_owned())
            }
            DieselError::DatabaseError(DatabaseErrorKind::Unknown, info) if info.message().contains("No space left on device") => {
                Self::Full(info.message().to_owned())
            }
            DieselError::BrokenTransactionManager => Self::Unavailable("the connection was lost".to_owned()),
            other => Self::Database(other),
        }
    }
}

/// What a server says when it, or the process that served this connection, ends or has only just begun.
fn is_going_away(message: &str) -> bool {
    ["terminating connection", "the database system is", "connection to client lost", "canceling authentication"]
        .iter()
        .any(|start| message.starts_with(start))
}
