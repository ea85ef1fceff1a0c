//! Where every mass of a design sits, what axles and wheels carry, and what they may. Stateless.

use axum::Json;
use axum::extract::State;
use joulethesis_core::document::Document;
use joulethesis_core::layout::{LayoutSheet, layout};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::Answer;
use crate::AppState;
use crate::body::{Client, DocumentBody};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(sheet))
}

/// The layout of a design: every mass as a block at its place, loads of axles and wheels from the donor as it stood to the laden vehicle,
/// how far it leans before it tips, and the ratings that are known.
#[utoipa::path(operation_id = "layout_sheet", post, path = "/api/v1/layout", request_body = Document,
    responses((status = 200, body = LayoutSheet), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn sheet(State(state): State<AppState>, Client(client): Client, DocumentBody(document): DocumentBody) -> Answer<Json<LayoutSheet>> {
    Ok(Json(state.work.quick(&client, move |_| layout(&document)).await?))
}
