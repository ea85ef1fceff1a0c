//! Donors side by side before one is bought. Stateless.

use std::collections::BTreeMap;

use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use joulethesis_core::cancel::Cancel;
use joulethesis_core::candidates::{CandidateRow, Contender, compare};
use joulethesis_core::document::{Answers, Design, Document, Donor, Shortlist, VehicleKind, section};
use joulethesis_core::error::{Error, Problem};
use serde::Deserialize;
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::Answer;
use crate::AppState;
use crate::body::{Body, Client, document};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(compared)).routes(routes!(typical))
}

/// Donors to be held against a brief.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct CandidatesRequest {
    /// The design document with the donor in hand.
    #[schema(value_type = joulethesis_core::document::Document)]
    document: Value,
    /// The vehicles looked at beside it.
    #[schema(value_type = Shortlist)]
    shortlist: Value,
    /// Chains chosen for some of them, by their ids. The others are given the design in hand.
    #[serde(default)]
    #[schema(value_type = BTreeMap<String, Design>)]
    chains: BTreeMap<String, Value>,
}

/// Id of the donor in hand among the candidates.
const IN_HAND: &str = "in-hand";

/// The donor in hand (`in-hand`) and the candidates with what each does for the brief, ranked by its weights, with reasons.
#[utoipa::path(operation_id = "candidates_compare", post, path = "/api/v1/candidates", request_body = CandidatesRequest,
    responses((status = 200, body = Vec<CandidateRow>), (status = 422, body = ProblemDocument)))]
async fn compared(
    State(state): State<AppState>,
    Client(client): Client,
    Body(asked): Body<CandidatesRequest>,
) -> Answer<Json<Vec<CandidateRow>>> {
    let document = document(&state, &client, asked.document).await?;
    let work = move |cancel: &Cancel| {
        let shortlist: Shortlist = section(&asked.shortlist)?;
        let mut chains = BTreeMap::new();
        for (id, design) in &asked.chains {
            let read = section::<Design>(design).map_err(|e| chain_problem(id, &e))?;
            chains.insert(id.clone(), read);
        }
        let in_hand = Contender { id: IN_HAND.to_owned(), donor: document.donor.clone(), design: Some(document.design.clone()) };
        let others = shortlist.candidates.into_iter().map(|c| Contender { design: chains.remove(&c.id), id: c.id, donor: c.donor });
        let contenders: Vec<Contender> = std::iter::once(in_hand).chain(others).collect();
        compare(&document, &contenders, cancel)
    };
    Ok(Json(state.work.long(&client, work).await??))
}

/// A chain's problems, told under the candidate it is for.
fn chain_problem(id: &str, error: &Error) -> Error {
    let under = |p: &Problem| Problem::new(p.path.replacen("design", &format!("chains.{id}"), 1), &p.given, p.accepted.clone());
    match error {
        Error::Invalid(problems) => Error::Invalid(problems.iter().map(under).collect()),
        other => Error::Unreadable(format!("chains.{id}: {other}")),
    }
}

/// A vehicle of a kind with handbook values, to begin a candidate with.
#[utoipa::path(operation_id = "candidates_typical", get, path = "/api/v1/candidates/typical/{kind}", params(("kind" = VehicleKind, Path)),
    responses((status = 200, body = Donor), (status = 404, body = ProblemDocument)))]
async fn typical(Path(kind): Path<String>) -> Answer<Json<Donor>> {
    let kind: VehicleKind = serde_json::from_value(Value::String(kind))
        .map_err(|e| ProblemDocument::new(StatusCode::NOT_FOUND, "Not found", format!("no such kind of vehicle: {e}")))?;
    Ok(Json(Document::starter("", kind, &Answers::default()).donor))
}
