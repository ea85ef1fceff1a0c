//! Errors as RFC 9457 problem documents.

use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use joulethesis_core::error::{Error, Problem};
use joulethesis_store::StoreError;
use serde::Serialize;

/// Body of every error: `application/problem+json`.
#[derive(Debug, Clone, Serialize, utoipa::ToSchema)]
pub(crate) struct ProblemDocument {
    /// Always `about:blank`: the status says the kind.
    #[serde(rename = "type")]
    pub kind: String,
    /// Short summary.
    pub title: String,
    /// HTTP status.
    pub status: u16,
    /// What happened, for people.
    pub detail: String,
    /// What is wrong with which field.
    pub problems: Vec<Problem>,
    /// Version in the database, when a write came too late.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub current_version: Option<i32>,
}

impl ProblemDocument {
    /// A problem without fields.
    pub(crate) fn new(status: StatusCode, title: &str, detail: impl Into<String>) -> Self {
        Self {
            kind: "about:blank".to_owned(),
            title: title.to_owned(),
            status: status.as_u16(),
            detail: detail.into(),
            problems: Vec::new(),
            current_version: None,
        }
    }
}

impl IntoResponse for ProblemDocument {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let mut response = (status, axum::Json(self)).into_response();
        response.headers_mut().insert(header::CONTENT_TYPE, header::HeaderValue::from_static("application/problem+json"));
        response
    }
}

impl From<Error> for ProblemDocument {
    fn from(error: Error) -> Self {
        let detail = error.to_string();
        match error {
            Error::Unreadable(_) => Self::new(StatusCode::BAD_REQUEST, "Not readable", detail),
            Error::Invalid(problems) => Self { problems, ..Self::new(StatusCode::UNPROCESSABLE_ENTITY, "Not accepted", detail) },
        }
    }
}

impl From<StoreError> for ProblemDocument {
    fn from(error: StoreError) -> Self {
        let detail = error.to_string();
        match error {
            StoreError::NotFound(_) => Self::new(StatusCode::NOT_FOUND, "Not found", detail),
            StoreError::Stale { current, .. } => {
                Self { current_version: Some(current), ..Self::new(StatusCode::CONFLICT, "Changed meanwhile", detail) }
            }
            StoreError::Taken(_) => Self::new(StatusCode::CONFLICT, "Taken", detail),
            StoreError::Invalid(error) => error.into(),
            StoreError::Unavailable(_) => {
                tracing::warn!(%detail, "database unavailable");
                Self::new(
                    StatusCode::SERVICE_UNAVAILABLE,
                    "Database unavailable",
                    "the database does not answer; nothing was changed, try again",
                )
            }
            StoreError::Corrupt { .. } | StoreError::Migration(_) | StoreError::Database(_) => {
                tracing::error!(%detail, "store failed");
                Self::new(
                    StatusCode::INTERNAL_SERVER_ERROR,
                    "Server error",
                    "the request failed; nothing was changed; the server's log says why",
                )
            }
        }
    }
}
