//! Designs: the variants of a conversion.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use joulethesis_core::document::{Design, Document};
use joulethesis_store as store;
use serde::Deserialize;
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::views::DesignView;
use super::{Answer, Id, Seen, SeenVersion};
use crate::AppState;
use crate::body::Body;
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(add)).routes(routes!(change, remove)).routes(routes!(document))
}

/// A new variant.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct NewDesign {
    /// Variant to copy; absent for an empty one.
    copy_of: Option<Uuid>,
    /// Design to begin with in place of a copy, as a pick of the search is made into one.
    #[schema(value_type = Option<Design>)]
    design: Option<Value>,
}

/// A change of a design.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct DesignChange {
    /// Version the writer saw.
    version: i32,
    #[schema(value_type = Design)]
    design: Value,
}

/// Adds a variant under the next free letter.
#[utoipa::path(operation_id = "designs_add", post, path = "/api/v1/conversions/{id}/designs", params(("id" = Uuid, Path)), request_body = NewDesign,
    responses((status = 201, body = DesignView), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn add(State(state): State<AppState>, Id(id): Id, Body(new): Body<NewDesign>) -> Answer<(StatusCode, Json<DesignView>)> {
    let design = state.store.add_design(id, store::NewDesign { copy_of: new.copy_of, design: new.design }).await?;
    Ok((StatusCode::CREATED, Json(design.into())))
}

/// Changes a design that still has the version the writer saw.
#[utoipa::path(operation_id = "designs_change", put, path = "/api/v1/designs/{id}", params(("id" = Uuid, Path)), request_body = DesignChange,
    responses((status = 200, body = DesignView), (status = 404, body = ProblemDocument), (status = 409, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn change(State(state): State<AppState>, Id(id): Id, Body(change): Body<DesignChange>) -> Answer<Json<DesignView>> {
    Ok(Json(state.store.change_design(id, change.version, &change.design).await?.into()))
}

/// Removes a design that still has the version the caller saw.
#[utoipa::path(operation_id = "designs_remove", delete, path = "/api/v1/designs/{id}", params(("id" = Uuid, Path), Seen),
    responses((status = 204), (status = 404, body = ProblemDocument), (status = 409, body = ProblemDocument)))]
async fn remove(State(state): State<AppState>, Id(id): Id, SeenVersion(version): SeenVersion) -> Answer<StatusCode> {
    state.store.remove_design(id, version).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The self-contained design document, to export or to estimate elsewhere.
#[utoipa::path(operation_id = "designs_document", get, path = "/api/v1/designs/{id}/document", params(("id" = Uuid, Path)),
    responses((status = 200, body = Document), (status = 404, body = ProblemDocument)))]
async fn document(State(state): State<AppState>, Id(id): Id) -> Answer<Json<Document>> {
    Ok(Json(state.store.document(id).await?))
}
