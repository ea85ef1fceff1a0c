//! Reading request bodies so that every refusal names its field, and reading large ones beside the threads that answer.

use axum::extract::connect_info::ConnectInfo;
use axum::extract::rejection::BytesRejection;
use axum::extract::{FromRequest, FromRequestParts, Request};
use axum::http::request::Parts;
use axum::http::{HeaderMap, StatusCode, header};
use bytes::Bytes;
use joulethesis_core::document::Checked;
use joulethesis_core::error::{Error, Problem};
use joulethesis_core::quantity::parse_json;
use serde::de::DeserializeOwned;
use serde_json::Value;

use crate::AppState;
use crate::problem::ProblemDocument;

/// A JSON body read into a plain request type.
pub(crate) struct Body<T>(pub(crate) T);

/// A JSON body read as a design document and checked by the core.
pub(crate) struct DocumentBody(pub(crate) Checked);

/// A text file sent as what it is: CSV, GPX or JSON.
pub(crate) struct TextFile(pub(crate) String);

/// Whoever asks, to be fair among them: a page by the name it gave itself, another program by its address.
pub(crate) struct Client(pub(crate) String);

/// Longest name of a page.
const LONGEST_NAME: usize = 64;

fn client(parts: &Parts) -> String {
    let named = parts.headers.get("x-joulethesis-client").and_then(|v| v.to_str().ok()).filter(|n| n.len() <= LONGEST_NAME);
    let address = || parts.extensions.get::<ConnectInfo<std::net::SocketAddr>>().map_or_else(String::new, |c| c.0.ip().to_string());
    named.map_or_else(address, str::to_owned)
}

impl<S: Send + Sync> FromRequestParts<S> for Client {
    type Rejection = std::convert::Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Self::Rejection> {
        Ok(Self(client(parts)))
    }
}

fn media_type(headers: &HeaderMap) -> String {
    let stated = headers.get(header::CONTENT_TYPE).and_then(|v| v.to_str().ok()).unwrap_or_default();
    stated.split(';').next().unwrap_or_default().trim().to_ascii_lowercase()
}

async fn bytes(request: Request, state: &AppState, accepted: &[&str]) -> Result<(Bytes, String), ProblemDocument> {
    let own = media_type(request.headers());
    if !accepted.contains(&own.as_str()) {
        return Err(ProblemDocument::new(
            StatusCode::UNSUPPORTED_MEDIA_TYPE,
            "Unsupported type",
            format!("the body is sent as \"{own}\"; {} is accepted", accepted.join(", ")),
        ));
    }
    let (parts, body) = request.into_parts();
    let client = client(&parts);
    let bytes = Bytes::from_request(Request::from_parts(parts, body), state).await.map_err(|e| match e {
        BytesRejection::FailedToBufferBody(e) if e.status() == StatusCode::PAYLOAD_TOO_LARGE => {
            ProblemDocument::new(StatusCode::PAYLOAD_TOO_LARGE, "Too large", format!("at most {} bytes are accepted", crate::LARGEST_BODY))
        }
        e => ProblemDocument::new(StatusCode::BAD_REQUEST, "Not readable", e.to_string()),
    })?;
    Ok((bytes, client))
}

fn typed<T: DeserializeOwned>(value: &Value) -> Result<T, Error> {
    serde_path_to_error::deserialize(value).map_err(|e| {
        let path = e.path().to_string();
        // A key that is missing at the root is told as that key, not as one below a dot.
        Error::Invalid(vec![Problem::worded(if path == "." { String::new() } else { path }, e.inner())])
    })
}

impl<T: DeserializeOwned + Send + 'static> FromRequest<AppState> for Body<T> {
    type Rejection = ProblemDocument;

    async fn from_request(request: Request, state: &AppState) -> Result<Self, Self::Rejection> {
        let (bytes, client) = bytes(request, state, &["application/json"]).await?;
        Ok(Self(state.work.quick(&client, move |_| typed(&parse_json(&bytes)?)).await??))
    }
}

impl FromRequest<AppState> for DocumentBody {
    type Rejection = ProblemDocument;

    async fn from_request(request: Request, state: &AppState) -> Result<Self, Self::Rejection> {
        let (bytes, client) = bytes(request, state, &["application/json"]).await?;
        let recordings = state.recordings.clone();
        Ok(Self(state.work.quick(&client, move |_| recordings.document(parse_json(&bytes)?)).await??))
    }
}

impl FromRequest<AppState> for TextFile {
    type Rejection = ProblemDocument;

    async fn from_request(request: Request, state: &AppState) -> Result<Self, Self::Rejection> {
        // None of these may be sent by another site's page without asking first.
        let (bytes, _) = bytes(request, state, &["text/csv", "application/json", "application/gpx+xml", "application/xml"]).await?;
        String::from_utf8(bytes.into()).map(Self).map_err(|e| {
            ProblemDocument::new(StatusCode::BAD_REQUEST, "Not text", format!("the file is no text in UTF-8: {}", e.utf8_error()))
        })
    }
}

/// Reads and checks a document that came within another request.
pub(crate) async fn document(state: &AppState, client: &str, value: Value) -> Result<Checked, ProblemDocument> {
    let recordings = state.recordings.clone();
    Ok(state.work.quick(client, move |_| recordings.document(value)).await??)
}
