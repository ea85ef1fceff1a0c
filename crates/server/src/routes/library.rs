//! Library parts: the built-in ones, and the workspace's own.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use joulethesis_core::library::{Part, builtin};
use joulethesis_store as store;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::{Answer, Id, Seen, SeenVersion};
use crate::AppState;
use crate::body::Body;
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(list, add)).routes(routes!(change, remove))
}

/// A library part.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub(crate) struct PartView {
    /// Id of an own part; absent for a built-in one.
    #[serde(skip_serializing_if = "Option::is_none")]
    id: Option<Uuid>,
    /// Version of an own part; absent for a built-in one.
    #[serde(skip_serializing_if = "Option::is_none")]
    version: Option<i32>,
    /// The record.
    record: Part,
}

impl From<store::PartRecord> for PartView {
    fn from(p: store::PartRecord) -> Self {
        Self { id: Some(p.id), version: Some(p.version), record: p.part }
    }
}

/// A change of an own part.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct PartChange {
    /// Version the writer saw.
    version: i32,
    #[schema(value_type = Part)]
    record: Value,
}

/// Every part there is: own ones first.
pub(crate) async fn all(state: &AppState) -> Answer<Vec<PartView>> {
    let own = state.store.parts().await?;
    let shipped = builtin().iter().map(|p| PartView { id: None, version: None, record: p.clone() });
    Ok(own.into_iter().map(PartView::from).chain(shipped).collect())
}

impl PartView {
    pub(crate) fn record(&self) -> &Part {
        &self.record
    }

    pub(crate) fn id(&self) -> Option<Uuid> {
        self.id
    }
}

/// Every part: own ones first, then the built-in ones.
#[utoipa::path(operation_id = "library_list", get, path = "/api/v1/library", responses((status = 200, body = Vec<PartView>)))]
async fn list(State(state): State<AppState>) -> Answer<Json<Vec<PartView>>> {
    Ok(Json(all(&state).await?))
}

/// Adds an own part.
#[utoipa::path(operation_id = "library_add", post, path = "/api/v1/library", request_body = Part,
    responses((status = 201, body = PartView), (status = 409, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn add(State(state): State<AppState>, Body(record): Body<Value>) -> Answer<(StatusCode, Json<PartView>)> {
    Ok((StatusCode::CREATED, Json(state.store.add_part(&record).await?.into())))
}

/// Changes an own part. Saved designs keep the record they were made with.
#[utoipa::path(operation_id = "library_change", put, path = "/api/v1/library/{id}", params(("id" = Uuid, Path)), request_body = PartChange,
    responses((status = 200, body = PartView), (status = 409, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn change(State(state): State<AppState>, Id(id): Id, Body(change): Body<PartChange>) -> Answer<Json<PartView>> {
    Ok(Json(state.store.change_part(id, change.version, &change.record).await?.into()))
}

/// Removes an own part.
#[utoipa::path(operation_id = "library_remove", delete, path = "/api/v1/library/{id}", params(("id" = Uuid, Path), Seen),
    responses((status = 204), (status = 409, body = ProblemDocument)))]
async fn remove(State(state): State<AppState>, Id(id): Id, SeenVersion(version): SeenVersion) -> Answer<StatusCode> {
    state.store.remove_part(id, version).await?;
    Ok(StatusCode::NO_CONTENT)
}
