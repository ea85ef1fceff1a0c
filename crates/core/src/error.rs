//! What went wrong with an input, said so that a person can mend it.

use serde::Serialize;

/// One thing wrong with one input field.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Problem {
    /// Where it stands in the document, dotted: `design.pack.module.ocv[3].volts_v`.
    pub path: String,
    /// What was found there, as text; empty when nothing was.
    pub given: String,
    /// What would be accepted.
    pub accepted: String,
    /// The sentence to show.
    pub message: String,
}

impl Problem {
    /// A problem whose sentence is made from its parts.
    pub fn new(path: impl Into<String>, given: impl ToString, accepted: impl Into<String>) -> Self {
        let (path, given, accepted) = (path.into(), given.to_string(), accepted.into());
        let message = if given.is_empty() { format!("{path} is missing; {accepted}") } else { format!("{path} is {given}; {accepted}") };
        Self { path, given, accepted, message }
    }
}

/// Why a document, a part record or a computation was refused.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum Error {
    /// The text is not JSON at all, or is too large to be a design.
    #[error("this is not a readable JSON document: {0}")]
    Unreadable(String),
    /// The text can be read but its content cannot be accepted.
    #[error("{}", summary(.0))]
    Invalid(Vec<Problem>),
}

fn summary(problems: &[Problem]) -> String {
    problems.iter().map(|p| p.message.as_str()).collect::<Vec<_>>().join("\n")
}

impl Error {
    /// An error about one field.
    pub fn field(path: impl Into<String>, given: impl ToString, accepted: impl Into<String>) -> Self {
        Self::Invalid(vec![Problem::new(path, given, accepted)])
    }

    /// The problems it lists, empty for unreadable text.
    #[must_use]
    pub fn problems(&self) -> &[Problem] {
        match self {
            Self::Invalid(problems) => problems,
            Self::Unreadable(_) => &[],
        }
    }
}

/// Result of anything in this crate that can refuse its input.
pub type Result<T> = std::result::Result<T, Error>;
