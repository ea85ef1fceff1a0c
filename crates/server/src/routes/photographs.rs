//! Photographs of a conversion.

use axum::Json;
use axum::extract::{Query, State};
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use joulethesis_core::error::Error;
use joulethesis_store as store;
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::{Answer, Id};
use crate::AppState;
use crate::body::{Body, Client};
use crate::pictures::plain;
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(list, add)).routes(routes!(describe, remove)).routes(routes!(picture))
}

/// A photograph without its pixels.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct PhotographView {
    id: Uuid,
    caption: String,
    /// Name of the item of the ledger that it shows; empty: the vehicle.
    about: String,
    /// Pixels across.
    width: i32,
    /// Pixels down.
    height: i32,
    #[serde(with = "time::serde::rfc3339")]
    #[schema(value_type = String, format = DateTime)]
    added_at: OffsetDateTime,
}

impl From<store::Photograph> for PhotographView {
    fn from(p: store::Photograph) -> Self {
        Self { id: p.id, caption: p.caption, about: p.about, width: p.width, height: p.height, added_at: p.added_at }
    }
}

/// A new photograph.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct NewPhotograph {
    #[serde(default)]
    caption: String,
    /// Name of the item of the ledger that it shows. Empty: the vehicle.
    #[serde(default)]
    about: String,
    /// JPEG, PNG or WebP in base 64.
    #[schema(format = Byte)]
    picture: String,
}

/// What is said of a photograph.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct PhotographChange {
    caption: String,
    about: String,
}

/// How large a picture is wanted.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct Size {
    /// The small one.
    #[serde(default)]
    small: bool,
}

/// Photographs of a conversion, the first added first.
#[utoipa::path(operation_id = "photographs_list", get, path = "/api/v1/conversions/{id}/photographs", params(("id" = Uuid, Path)),
    responses((status = 200, body = Vec<PhotographView>), (status = 404, body = ProblemDocument)))]
async fn list(State(state): State<AppState>, Id(id): Id) -> Answer<Json<Vec<PhotographView>>> {
    Ok(Json(state.store.photographs(id).await?.into_iter().map(Into::into).collect()))
}

/// Adds a photograph: scaled down to 1800 pixels, turned upright, without the marks of the camera.
#[utoipa::path(operation_id = "photographs_add", post, path = "/api/v1/conversions/{id}/photographs", params(("id" = Uuid, Path)), request_body = NewPhotograph,
    responses((status = 201, body = PhotographView), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn add(
    State(state): State<AppState>,
    Client(client): Client,
    Id(id): Id,
    Body(new): Body<NewPhotograph>,
) -> Answer<(StatusCode, Json<PhotographView>)> {
    let NewPhotograph { caption, about, picture } = new;
    let work = move |_: &_| {
        let bytes = STANDARD.decode(&picture).map_err(|e| Error::field("picture", format!("no base 64 ({e})"), "base 64 is accepted"))?;
        plain(&bytes)
    };
    let made = state.work.long(&client, work).await??;
    let new = store::NewPhotograph {
        caption,
        about,
        width: made.width.cast_signed(),
        height: made.height.cast_signed(),
        picture: made.picture,
        thumbnail: made.thumbnail,
    };
    Ok((StatusCode::CREATED, Json(state.store.add_photograph(id, new).await?.into())))
}

/// Changes the caption of a photograph, or what it shows.
#[utoipa::path(operation_id = "photographs_describe", put, path = "/api/v1/photographs/{id}", params(("id" = Uuid, Path)), request_body = PhotographChange,
    responses((status = 200, body = PhotographView), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn describe(State(state): State<AppState>, Id(id): Id, Body(change): Body<PhotographChange>) -> Answer<Json<PhotographView>> {
    Ok(Json(state.store.describe_photograph(id, &change.caption, &change.about).await?.into()))
}

/// Removes a photograph.
#[utoipa::path(operation_id = "photographs_remove", delete, path = "/api/v1/photographs/{id}", params(("id" = Uuid, Path)),
    responses((status = 204), (status = 404, body = ProblemDocument)))]
async fn remove(State(state): State<AppState>, Id(id): Id) -> Answer<StatusCode> {
    state.store.remove_photograph(id).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// The pixels of a photograph.
#[utoipa::path(operation_id = "photographs_picture", get, path = "/api/v1/photographs/{id}/picture", params(("id" = Uuid, Path), Size),
    responses((status = 200, content_type = "image/jpeg", body = Vec<u8>), (status = 404, body = ProblemDocument)))]
async fn picture(State(state): State<AppState>, Id(id): Id, Query(size): Query<Size>) -> Answer<impl IntoResponse> {
    Ok(([(header::CONTENT_TYPE, "image/jpeg")], state.store.picture(id, size.small).await?))
}
