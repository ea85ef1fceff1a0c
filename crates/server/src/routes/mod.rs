//! Routes, a module a resource.

pub(crate) mod candidates;
pub(crate) mod conversions;
pub(crate) mod designs;
pub(crate) mod electrics;
pub(crate) mod estimate;
pub(crate) mod glance;
pub(crate) mod health;
pub(crate) mod kept_searches;
pub(crate) mod layout;
pub(crate) mod library;
pub(crate) mod matching;
pub(crate) mod measure;
pub(crate) mod photographs;
pub(crate) mod proposal;
pub(crate) mod search_stream;
pub(crate) mod study;
pub(crate) mod usage;
mod views;

use axum::extract::FromRequestParts;
use axum::http::StatusCode;
use axum::http::request::Parts;
use serde::Deserialize;
use uuid::Uuid;

use crate::problem::ProblemDocument;

/// Result of a route.
pub(crate) type Answer<T> = Result<T, ProblemDocument>;

/// The id in the path; one that is no UUID is simply not found.
pub(crate) struct Id(pub(crate) Uuid);

impl<S: Send + Sync> FromRequestParts<S> for Id {
    type Rejection = ProblemDocument;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Self::Rejection> {
        axum::extract::Path::<Uuid>::from_request_parts(parts, state)
            .await
            .map(|id| Self(id.0))
            .map_err(|_| ProblemDocument::new(StatusCode::NOT_FOUND, "Not found", "the id in the address is no UUID"))
    }
}

/// The version a removal saw.
#[derive(Debug, Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct Seen {
    /// Version the caller saw.
    pub(crate) version: i32,
}

/// The version in the query.
pub(crate) struct SeenVersion(pub(crate) i32);

impl<S: Send + Sync> FromRequestParts<S> for SeenVersion {
    type Rejection = ProblemDocument;

    async fn from_request_parts(parts: &mut Parts, state: &S) -> Result<Self, Self::Rejection> {
        axum::extract::Query::<Seen>::from_request_parts(parts, state).await.map(|q| Self(q.version)).map_err(|e| {
            ProblemDocument::new(StatusCode::BAD_REQUEST, "Version missing", format!("name the version you saw, as ?version=3: {e}"))
        })
    }
}
