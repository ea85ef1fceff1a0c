//! Looking closer at a design: bands, what they hang on, why a number is what it is, one trip in all weathers, choices. Stateless.

use axum::Json;
use axum::extract::State;
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::Document;
use joulethesis_core::error::Error;
use joulethesis_core::estimate::{Choices, Curves, TripAlong, TripCase, along, cases, choices, curves};
use joulethesis_core::evidence::{DriveAnswer, drive_answers};
use joulethesis_core::explain::{Reason, explain};
use joulethesis_core::inputs::Counted;
use joulethesis_core::uncertainty::{Bands, Tornado, bands, tornado};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::Answer;
use crate::AppState;
use crate::body::{Body, Client, DocumentBody, document};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(all_bands))
        .routes(routes!(one_tornado))
        .routes(routes!(explanation))
        .routes(routes!(trip_study))
        .routes(routes!(measured_drives))
        .routes(routes!(all_choices))
        .routes(routes!(drawn_curves))
}

/// A figure of a design.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct FigureRequest {
    #[schema(value_type = Document)]
    document: Value,
    /// Identifier as in the bands.
    figure: String,
}

/// A trip of a design.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct TripRequest {
    #[schema(value_type = Document)]
    document: Value,
    /// Trip or schedule id.
    trip: String,
}

/// One trip looked at closely.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct TripStudy {
    /// Speed, height, charge and heat along it.
    along: TripAlong,
    /// Usual weather, summer and winter; gently, normally and briskly.
    cases: Vec<TripCase>,
}

/// Every headline figure as a band, and how sure each goal is.
#[utoipa::path(operation_id = "study_bands", post, path = "/api/v1/bands", request_body = Document,
    responses((status = 200, body = Bands), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn all_bands(State(state): State<AppState>, Client(client): Client, DocumentBody(document): DocumentBody) -> Answer<Json<Bands>> {
    Ok(Json(state.work.long(&client, move |cancel| bands(&document, cancel)).await??))
}

/// Which inputs a figure hangs on, and which measurement would narrow it.
#[utoipa::path(operation_id = "study_tornado", post, path = "/api/v1/tornado", request_body = FigureRequest,
    responses((status = 200, body = Tornado), (status = 422, body = ProblemDocument)))]
async fn one_tornado(State(state): State<AppState>, Client(client): Client, Body(request): Body<FigureRequest>) -> Answer<Json<Tornado>> {
    let document = document(&state, &client, request.document).await?;
    Ok(Json(state.work.long(&client, move |cancel| tornado(&document, &request.figure, cancel)).await??))
}

/// Why a figure is what it is.
#[utoipa::path(operation_id = "study_explanation", post, path = "/api/v1/explanation", request_body = FigureRequest,
    responses((status = 200, body = Reason), (status = 422, body = ProblemDocument)))]
async fn explanation(State(state): State<AppState>, Client(client): Client, Body(request): Body<FigureRequest>) -> Answer<Json<Reason>> {
    let document = document(&state, &client, request.document).await?;
    Ok(Json(state.work.quick(&client, move |cancel| explain(&document, &request.figure, cancel)).await??))
}

/// One trip along its way, in three weathers and three manners.
#[utoipa::path(operation_id = "study_trip", post, path = "/api/v1/trip-study", request_body = TripRequest,
    responses((status = 200, body = TripStudy), (status = 422, body = ProblemDocument)))]
async fn trip_study(State(state): State<AppState>, Client(client): Client, Body(request): Body<TripRequest>) -> Answer<Json<TripStudy>> {
    let document = document(&state, &client, request.document).await?;
    let work = move |cancel: &Cancel| {
        let counted = Counted::of(&document);
        Ok::<_, Error>((along(&counted, &request.trip)?, cases(&counted, &request.trip, cancel)?))
    };
    let (along, cases) = state.work.long(&client, work).await??;
    Ok(Json(TripStudy { along, cases }))
}

/// Every measured drive of a trip, held against what is predicted for it.
#[utoipa::path(operation_id = "study_drives", post, path = "/api/v1/drives", request_body = TripRequest,
    responses((status = 200, body = Vec<DriveAnswer>), (status = 422, body = ProblemDocument)))]
async fn measured_drives(
    State(state): State<AppState>,
    Client(client): Client,
    Body(request): Body<TripRequest>,
) -> Answer<Json<Vec<DriveAnswer>>> {
    let document = document(&state, &client, request.document).await?;
    Ok(Json(state.work.long(&client, move |cancel| drive_answers(&document, &request.trip, cancel)).await??))
}

/// What the Chain stage draws: tractive force over speed, and a run over time.
#[utoipa::path(operation_id = "study_curves", post, path = "/api/v1/curves", request_body = Document,
    responses((status = 200, body = Curves), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn drawn_curves(State(state): State<AppState>, Client(client): Client, DocumentBody(document): DocumentBody) -> Answer<Json<Curves>> {
    Ok(Json(state.work.quick(&client, move |cancel| curves(&Counted::of(&document), cancel)).await??))
}

/// Locked in each gear against shifting, the volts a speed needs, other windings.
#[utoipa::path(operation_id = "study_choices", post, path = "/api/v1/choices", request_body = Document,
    responses((status = 200, body = Choices), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn all_choices(State(state): State<AppState>, Client(client): Client, DocumentBody(document): DocumentBody) -> Answer<Json<Choices>> {
    Ok(Json(state.work.long(&client, move |cancel| choices(&Counted::of(&document), cancel)).await??))
}
