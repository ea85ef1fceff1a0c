//! Long computations can be told to stop.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use crate::error::{Error, Result};

/// A token that stops a computation from outside. Clones share it; computations look at it every few hundred simulated seconds at most,
/// far less than 50 ms apart, and end with [`Error::Cancelled`].
///
/// ```
/// use joulethesis_core::cancel::Cancel;
/// let token = Cancel::new();
/// let seen_inside = token.clone();
/// assert!(seen_inside.check().is_ok());
/// token.cancel();
/// assert!(seen_inside.check().is_err());
/// ```
#[derive(Debug, Clone, Default)]
pub struct Cancel(Arc<AtomicBool>);

impl Cancel {
    /// A token nobody has cancelled yet.
    #[must_use]
    pub fn new() -> Self {
        Self::default()
    }

    /// Tells whoever holds a clone to stop.
    pub fn cancel(&self) {
        self.0.store(true, Ordering::Relaxed);
    }

    /// Whether it has been told to stop.
    #[inline]
    #[must_use]
    pub fn is_cancelled(&self) -> bool {
        self.0.load(Ordering::Relaxed)
    }

    /// For use between the parts of a computation.
    ///
    /// # Errors
    /// [`Error::Cancelled`] once it has been told to stop.
    pub fn check(&self) -> Result<()> {
        if self.is_cancelled() { Err(Error::Cancelled) } else { Ok(()) }
    }
}
