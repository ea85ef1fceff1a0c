//! The computation: estimates, and what each alternative part would do. Stateless.

use axum::Json;
use axum::extract::State;
use joulethesis_core::alternatives::{Outcome, apart, outcome, with_part};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::Design;
use joulethesis_core::error::Error;
use joulethesis_core::report::{Report, report_until};
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::{Answer, library};
use crate::AppState;
use crate::body::{Body, Client, DocumentBody, document};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(compute)).routes(routes!(alternatives)).routes(routes!(record))
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
    pub(crate) fn word(self) -> &'static str {
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
    #[schema(value_type = joulethesis_core::document::Document)]
    document: Value,
    part: PartKind,
    /// Only these; all of the kind when absent.
    #[serde(default)]
    names: Option<Vec<String>>,
}

/// Most parts that are tried in a design at once: those nearest in size to the one in it.
const MOST_TRIED: usize = 300;

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

/// A recorded drive.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct NewRecording {
    #[schema(value_type = Vec<joulethesis_core::document::TracePoint>)]
    trace: Value,
}

/// Name of a recording kept.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct Recording {
    /// SHA-256 of its content.
    recorded: String,
}

/// Keeps a recorded drive for a while: documents sent to compute with may then say `{"recorded": ...}` in the path of a trip instead of
/// the readings. One that is forgotten is refused by that path, and sent again.
#[utoipa::path(operation_id = "recordings_keep", post, path = "/api/v1/recordings", request_body = NewRecording,
    responses((status = 200, body = Recording), (status = 422, body = ProblemDocument)))]
async fn record(State(state): State<AppState>, Client(client): Client, Body(recording): Body<NewRecording>) -> Answer<Json<Recording>> {
    let recordings = state.recordings.clone();
    Ok(Json(Recording { recorded: state.work.quick(&client, move |_| recordings.keep(&json!({ "trace": recording.trace }))).await?? }))
}

/// Estimates a design document.
#[utoipa::path(operation_id = "estimate_compute", post, path = "/api/v1/estimate", request_body = joulethesis_core::document::Document,
    responses((status = 200, body = Report), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn compute(State(state): State<AppState>, Client(client): Client, DocumentBody(document): DocumentBody) -> Answer<Json<Report>> {
    Ok(Json(state.work.quick(&client, move |cancel| report_until(&document, cancel)).await??))
}

/// What the library's parts of a kind would do in the design; of many, the 300 nearest in size to the part in it.
#[utoipa::path(operation_id = "estimate_alternatives", post, path = "/api/v1/alternatives", request_body = AlternativesRequest,
    responses((status = 200, body = Vec<Alternative>), (status = 422, body = ProblemDocument)))]
async fn alternatives(
    State(state): State<AppState>,
    Client(client): Client,
    Body(request): Body<AlternativesRequest>,
) -> Answer<Json<Vec<Alternative>>> {
    let document = document(&state, &client, request.document).await?;
    let parts = library::all(&state).await?;
    let named: Option<std::collections::HashSet<String>> = request.names.map(|n| n.into_iter().collect());
    let asked = |p: &library::PartView| named.as_ref().is_none_or(|n| n.contains(p.record().name()));
    let mut wanted: Vec<_> =
        parts.into_iter().filter(|p| !p.is_retired() && p.record().kind() == request.part.word() && asked(p)).collect();
    if wanted.len() > MOST_TRIED {
        wanted.sort_by_cached_key(|p| (apart(&document.design, p.record()).to_bits(), p.record().name().to_owned()));
        wanted.truncate(MOST_TRIED);
    }
    let run = move |cancel: &Cancel| {
        use rayon::prelude::*;
        let one = |part: &library::PartView| {
            let (outcome, refusal) = match outcome(&document, part.record(), cancel) {
                Ok(outcome) => (Some(outcome), None),
                Err(Error::Cancelled) => return Err(Error::Cancelled),
                Err(error) => (None, Some(error.to_string())),
            };
            let design = with_part(&document, part.record()).into_written().design;
            Ok(Alternative { id: part.id(), name: part.record().name().to_owned(), design, outcome, refusal })
        };
        wanted.par_iter().map(one).collect::<Result<Vec<_>, Error>>()
    };
    Ok(Json(state.work.long(&client, run).await??))
}
