//! The computation: estimates, and what each alternative part would do. Stateless.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use joulethesis_core::alternatives::{Outcome, outcome, with_part};
use joulethesis_core::document::{Design, Document};
use joulethesis_core::estimate::{Estimate, estimate};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::{Answer, library};
use crate::AppState;
use crate::body::{Body, Checked};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(compute)).routes(routes!(alternatives))
}

/// Kind of part to exchange.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub(crate) enum PartKind {
    Motor,
    Controller,
    Module,
    Charger,
}

impl PartKind {
    fn word(self) -> &'static str {
        match self {
            Self::Motor => "motor",
            Self::Controller => "controller",
            Self::Module => "module",
            Self::Charger => "charger",
        }
    }
}

/// Which alternatives are asked for.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct AlternativesRequest {
    #[schema(value_type = Document)]
    document: Value,
    part: PartKind,
}

/// What one library part would do.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct Alternative {
    /// Id of an own part; absent for a built-in one.
    #[serde(skip_serializing_if = "Option::is_none")]
    id: Option<Uuid>,
    /// Its name.
    name: String,
    /// The design with it in.
    design: Design,
    /// What that design would do; absent when it cannot be computed.
    #[serde(skip_serializing_if = "Option::is_none")]
    outcome: Option<Outcome>,
    /// Why it cannot be computed.
    #[serde(skip_serializing_if = "Option::is_none")]
    refusal: Option<String>,
}

/// Runs a computation beside the threads that answer requests, as many at once as there are cores.
pub(super) async fn beside<T: Send + 'static>(state: &AppState, work: impl FnOnce() -> T + Send + 'static) -> Answer<T> {
    let failed = |what: &str| ProblemDocument::new(StatusCode::INTERNAL_SERVER_ERROR, "Server error", what.to_owned());
    let permit = state.workers.clone().acquire_owned().await.map_err(|_| failed("the server is stopping"))?;
    tokio::task::spawn_blocking(move || {
        let result = work();
        drop(permit);
        result
    })
    .await
    .map_err(|e| {
        tracing::error!(%e, "computation failed");
        failed("the computation failed; the server's log says why")
    })
}

/// Estimates a design document.
#[utoipa::path(operation_id = "estimate_compute", post, path = "/api/v1/estimate", request_body = Document,
    responses((status = 200, body = Estimate), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn compute(State(state): State<AppState>, Checked(document): Checked) -> Answer<Json<Estimate>> {
    Ok(Json(beside(&state, move || estimate(&document)).await??))
}

/// What every library part of a kind would do in the design.
#[utoipa::path(operation_id = "estimate_alternatives", post, path = "/api/v1/alternatives", request_body = AlternativesRequest,
    responses((status = 200, body = Vec<Alternative>), (status = 422, body = ProblemDocument)))]
async fn alternatives(State(state): State<AppState>, Body(request): Body<AlternativesRequest>) -> Answer<Json<Vec<Alternative>>> {
    let document = Document::from_value(&request.document)?;
    let parts = library::all(&state).await?;
    let wanted: Vec<_> = parts.into_iter().filter(|p| !p.is_retired() && p.record().kind() == request.part.word()).collect();
    let run = move || {
        wanted
            .iter()
            .map(|part| {
                let (outcome, refusal) = match outcome(&document, part.record()) {
                    Ok(outcome) => (Some(outcome), None),
                    Err(error) => (None, Some(error.to_string())),
                };
                let design = with_part(&document, part.record()).design;
                Alternative { id: part.id(), name: part.record().name().to_owned(), design, outcome, refusal }
            })
            .collect::<Vec<_>>()
    };
    Ok(Json(beside(&state, run).await?))
}
