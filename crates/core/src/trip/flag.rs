//! What looks odd in readings.

use serde::Serialize;

use crate::quantity::Sentence;

/// Something odd in a log, that a person must judge.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Flag {
    /// Where: `runs[1].points[23]`, `row 118`.
    pub at: String,
    /// What, with its figures, and what was done about it.
    pub message: Sentence,
}
