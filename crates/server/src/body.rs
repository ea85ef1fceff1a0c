//! Reading request bodies so that every refusal names its field.

use axum::extract::rejection::BytesRejection;
use axum::extract::{FromRequest, Request};
use axum::http::{StatusCode, header};
use bytes::Bytes;
use joulethesis_core::document::Document;
use joulethesis_core::error::{Error, Problem};
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::problem::ProblemDocument;

/// A JSON body read into a plain request type.
pub(crate) struct Body<T>(pub(crate) T);

/// A JSON body read as a design document and checked by the core.
pub(crate) struct Checked(pub(crate) Document);

async fn value<S: Send + Sync>(request: Request, state: &S) -> Result<Value, ProblemDocument> {
    let is_json = request
        .headers()
        .get(header::CONTENT_TYPE)
        .and_then(|v| v.to_str().ok())
        .is_some_and(|v| v.split(';').next().is_some_and(|t| t.trim().eq_ignore_ascii_case("application/json")));
    if !is_json {
        return Err(ProblemDocument::new(StatusCode::UNSUPPORTED_MEDIA_TYPE, "Not JSON", "the body must be sent as application/json"));
    }
    let bytes = Bytes::from_request(request, state).await.map_err(|e| match e {
        BytesRejection::FailedToBufferBody(e) if e.status() == StatusCode::PAYLOAD_TOO_LARGE => {
            ProblemDocument::new(StatusCode::PAYLOAD_TOO_LARGE, "Too large", format!("at most {} bytes are accepted", crate::LARGEST_BODY))
        }
        e => ProblemDocument::new(StatusCode::BAD_REQUEST, "Not readable", e.to_string()),
    })?;
    serde_json::from_slice(&bytes).map_err(|e| Error::Unreadable(e.to_string()).into())
}

impl<T: DeserializeOwned, S: Send + Sync> FromRequest<S> for Body<T> {
    type Rejection = ProblemDocument;

    async fn from_request(request: Request, state: &S) -> Result<Self, Self::Rejection> {
        let value = value(request, state).await?;
        serde_path_to_error::deserialize(&value).map(Self).map_err(|e| {
            let message = e.inner().to_string();
            let path = e.path().to_string();
            Error::Invalid(vec![Problem { message: format!("{path}: {message}"), path, given: String::new(), accepted: message }]).into()
        })
    }
}

impl<S: Send + Sync> FromRequest<S> for Checked {
    type Rejection = ProblemDocument;

    async fn from_request(request: Request, state: &S) -> Result<Self, Self::Rejection> {
        Ok(Self(Document::from_value(&value(request, state).await?)?))
    }
}
