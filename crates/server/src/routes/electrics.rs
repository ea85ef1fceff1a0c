//! Everything between pack, motor, charger and the 12 V side, sized, drawn and listed. Stateless.

use axum::Json;
use axum::extract::State;
use joulethesis_core::document::{Document, Slot};
use joulethesis_core::library::{Component, Part};
use joulethesis_core::schematic::{ElectricsSheet, PlaceChoices, electrics, place_choices};
use serde::Deserialize;
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{Answer, library};
use crate::AppState;
use crate::body::{Body, Client, DocumentBody, document};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(sheet)).routes(routes!(choices))
}

/// A place in the circuits of a design.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct PlaceRequest {
    #[schema(value_type = Document)]
    document: Value,
    slot: Slot,
}

/// Most records told of for one place.
const MOST_CHOICES: usize = 300;

async fn components(state: &AppState) -> Answer<Vec<Component>> {
    let parts = library::in_use(state).await?;
    Ok(parts.into_iter().filter_map(|p| if let Part::Component(c) = p { Some(c) } else { None }).collect())
}

/// Everything between pack, motor, charger and the 12 V side: sized, with formula, inputs and source; what is chosen for each place; the
/// one-line drawing, wires and parts.
#[utoipa::path(operation_id = "electrics_sheet", post, path = "/api/v1/electrics", request_body = Document,
    responses((status = 200, body = ElectricsSheet), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn sheet(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<ElectricsSheet>> {
    let components = components(&state).await?;
    Ok(Json(state.work.quick(&client, move |cancel| electrics(&document, &components, cancel)).await??))
}

/// What each record of the library would do in a place of the circuits: those that suffice first; 300 at most.
#[utoipa::path(operation_id = "electrics_choices", post, path = "/api/v1/electrics/choices", request_body = PlaceRequest,
    responses((status = 200, body = PlaceChoices), (status = 422, body = ProblemDocument)))]
async fn choices(State(state): State<AppState>, Client(client): Client, Body(request): Body<PlaceRequest>) -> Answer<Json<PlaceChoices>> {
    let components = components(&state).await?;
    let document = document(&state, &client, request.document).await?;
    let mut answer = state.work.quick(&client, move |cancel| place_choices(&document, request.slot, &components, cancel)).await??;
    answer.choices.truncate(MOST_CHOICES);
    Ok(Json(answer))
}
