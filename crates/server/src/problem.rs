//! Errors as RFC 9457 problem documents.

use axum::extract::Request;
use axum::http::{StatusCode, header};
use axum::middleware::Next;
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

/// Title of the answer to a change whose outcome is not known; the client asks again.
pub(crate) const OUTCOME_UNKNOWN: &str = "Outcome unknown";

/// Media type of every error.
const PROBLEM_JSON: &str = "application/problem+json";
/// Longest text of another's error that is passed on, bytes.
const LONGEST_DETAIL: usize = 2000;

/// Turns errors that others have worded (extractors, routing, limits) into problem documents.
pub(crate) async fn complete(request: Request, next: Next) -> Response {
    let response = next.run(request).await;
    let status = response.status();
    let is_problem = response.headers().get(header::CONTENT_TYPE).is_some_and(|t| t.as_bytes().starts_with(PROBLEM_JSON.as_bytes()));
    if !(status.is_client_error() || status.is_server_error()) || is_problem {
        return response;
    }
    let (parts, body) = response.into_parts();
    let said = axum::body::to_bytes(body, LONGEST_DETAIL).await.ok().and_then(|b| String::from_utf8(b.to_vec()).ok()).unwrap_or_default();
    let title = status.canonical_reason().unwrap_or("Error");
    let detail = match status {
        StatusCode::GATEWAY_TIMEOUT => format!("the request was stopped after {} s", crate::LONGEST_REQUEST.as_secs()),
        StatusCode::PAYLOAD_TOO_LARGE => format!("at most {} bytes are accepted", crate::LARGEST_BODY),
        StatusCode::METHOD_NOT_ALLOWED => "this resource does not take that method".to_owned(),
        StatusCode::NOT_FOUND => "there is no such resource".to_owned(),
        _ if said.trim().is_empty() => title.to_lowercase(),
        _ => said,
    };
    let mut problem = ProblemDocument::new(status, title, detail).into_response();
    // What the refusal itself says of what would be taken.
    for name in [header::ALLOW, header::RETRY_AFTER] {
        if let Some(value) = parts.headers.get(&name) {
            problem.headers_mut().insert(name, value.clone());
        }
    }
    problem
}

/// The answer where a route has panicked.
pub(crate) fn of_panic(_: Box<dyn std::any::Any + Send>) -> Response {
    tracing::error!("a route panicked");
    ProblemDocument::new(StatusCode::INTERNAL_SERVER_ERROR, "Server error", "the request failed; the server's log says why").into_response()
}

impl IntoResponse for ProblemDocument {
    fn into_response(self) -> Response {
        let status = StatusCode::from_u16(self.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
        let mut response = (status, axum::Json(self)).into_response();
        response.headers_mut().insert(header::CONTENT_TYPE, header::HeaderValue::from_static(PROBLEM_JSON));
        response
    }
}

/// What a sentence of an error needs of a list of problems: the first, and how many there are besides; the list itself says the rest.
fn summary(problems: &[Problem]) -> String {
    match problems {
        [] => String::new(),
        [one] => one.message.clone(),
        [first, rest @ ..] => format!("{} (and {} more)", first.message, rest.len()),
    }
}

impl From<Error> for ProblemDocument {
    fn from(error: Error) -> Self {
        let detail = summary(error.problems());
        match error {
            Error::Cancelled => Self::new(StatusCode::SERVICE_UNAVAILABLE, "Stopped", "the computation was stopped before it had ended"),
            Error::Unreadable(_) => Self::new(StatusCode::BAD_REQUEST, "Not readable", error.to_string()),
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
            StoreError::OutcomeUnknown(_) => {
                tracing::error!(%detail, "lost at commit");
                Self::new(
                    StatusCode::SERVICE_UNAVAILABLE,
                    OUTCOME_UNKNOWN,
                    "the database was lost while the change was being saved; whether it was is not known: read it again before you go on",
                )
            }
            StoreError::Unavailable(_) => {
                tracing::warn!(%detail, "database unavailable");
                Self::new(
                    StatusCode::SERVICE_UNAVAILABLE,
                    "Database unavailable",
                    "the database does not answer; nothing was changed, try again",
                )
            }
            StoreError::Full(_) => {
                tracing::error!(%detail, "disk full");
                Self::new(
                    StatusCode::INSUFFICIENT_STORAGE,
                    "Disk full",
                    "the database's disk is full and nothing was changed; make room, then try again",
                )
            }
            StoreError::Corrupt { .. } => {
                tracing::error!(%detail, "a row cannot be read");
                Self::new(StatusCode::INTERNAL_SERVER_ERROR, "Not readable", detail)
            }
            StoreError::Migration(_) | StoreError::Database(_) => {
                tracing::error!(%detail, "store failed");
                Self::new(StatusCode::INTERNAL_SERVER_ERROR, "Server error", "the request failed; the server's log says why")
            }
        }
    }
}
