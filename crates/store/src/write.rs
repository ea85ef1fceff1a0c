//! Writes: each in a transaction whose commit is awaited before it is answered, and whose outcome is said only where it is known.

use std::pin::Pin;

use diesel::result::{DatabaseErrorKind, Error as DieselError};
use diesel_async::{AsyncConnection, AsyncPgConnection, TransactionManager};

use crate::{Result, Store, StoreError};

type Transactions = <AsyncPgConnection as AsyncConnection>::TransactionManager;

/// What is done within a transaction.
pub(crate) type Work<'r, T> = Pin<Box<dyn Future<Output = Result<T>> + Send + 'r>>;

impl Store {
    /// Runs `work` in a transaction and answers once its commit has been acknowledged by the database.
    ///
    /// # Errors
    /// What `work` refuses, with everything rolled back; [`StoreError::Unavailable`] when the database was lost before the commit was
    /// asked for, and [`StoreError::OutcomeUnknown`] when it was lost while the commit was under way.
    pub(crate) async fn write<T, F>(&self, work: F) -> Result<T>
    where
        T: Send,
        F: Send + for<'r> FnOnce(&'r mut AsyncPgConnection) -> Work<'r, T>,
    {
        let mut connection = self.connection().await?;
        let c: &mut AsyncPgConnection = &mut connection;
        Transactions::begin_transaction(c).await?;
        match work(c).await {
            Ok(value) => match Transactions::commit_transaction(c).await {
                Ok(()) => Ok(value),
                Err(error) => Err(at_commit(error)),
            },
            Err(error) => {
                // A connection that cannot roll back is broken: the pool drops it, and the database rolls back by itself.
                let _ = Transactions::rollback_transaction(c).await;
                Err(error)
            }
        }
    }
}

/// A violation that the server itself found at the commit rolled it back; anything else may have been lost on the way back.
fn at_commit(error: DieselError) -> StoreError {
    use DatabaseErrorKind::{
        CheckViolation, ExclusionViolation, ForeignKeyViolation, NotNullViolation, RestrictViolation, SerializationFailure, UniqueViolation,
    };
    match error {
        DieselError::DatabaseError(
            CheckViolation | ExclusionViolation | ForeignKeyViolation | NotNullViolation | RestrictViolation | SerializationFailure
            | UniqueViolation,
            _,
        ) => error.into(),
        other => StoreError::OutcomeUnknown(other.to_string()),
    }
}
