//! Questions around the search. Stateless.

use std::time::{Duration, Instant};

use axum::Json;
use axum::extract::State;
use joulethesis_core::alternatives::{Newer, newer};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::MatchRequest;
use joulethesis_core::document::{Design, Document};
use joulethesis_core::error::Error;
use joulethesis_core::matching::{Compared, Fixes, Gearing, Needs, Pick, Question, WhyNot, designs_of, fixes, gearings, needs, why_not};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{Answer, library};
use crate::AppState;
use crate::body::{Body, Client, DocumentBody, document};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(ask_why_not))
        .routes(routes!(demands))
        .routes(routes!(designs))
        .routes(routes!(newer_records))
        .routes(routes!(cheapest_fixes))
}

/// Longest that changes are tried for one that meets a missed goal: it is shown beside the claim while a person works.
const LONGEST_FIX: Duration = Duration::from_secs(3);
/// Longest an answer to a question may take, below the time limit of requests.
const LONGEST_QUESTION: Duration = Duration::from_secs(16);
/// Most picks made into designs at once.
const MOST_PICKS: usize = 26;

/// Why not this?
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct WhyNotRequest {
    #[schema(value_type = Document)]
    document: Value,
    /// Absent: what stands in the brief.
    #[serde(default)]
    request: Option<MatchRequest>,
    question: Question,
    /// The design it is asked at: all else stays as there.
    #[serde(default)]
    beside: Option<Pick>,
    /// Designs of the answer.
    #[serde(default)]
    against: Vec<Pick>,
}

/// Picks to make designs of.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct DesignsRequest {
    #[schema(value_type = Document)]
    document: Value,
    /// Absent: what stands in the brief.
    #[serde(default)]
    request: Option<MatchRequest>,
    picks: Vec<Pick>,
}

/// What the brief demands, and the ways the donor can be geared.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct Demands {
    needs: Needs,
    gearings: Vec<Gearing>,
}

/// Why a part or a combination is not in the answer.
#[utoipa::path(operation_id = "match_why_not", post, path = "/api/v1/match/why-not", request_body = WhyNotRequest,
    responses((status = 200, body = WhyNot), (status = 422, body = ProblemDocument)))]
async fn ask_why_not(State(state): State<AppState>, Client(client): Client, Body(asked): Body<WhyNotRequest>) -> Answer<Json<WhyNot>> {
    let document = document(&state, &client, asked.document).await?;
    let request = asked.request.unwrap_or_else(|| document.brief.search.clone());
    // Retired parts can be asked about.
    let parts = library::records(&state).await?;
    let work = move |cancel: &Cancel| {
        let start = Instant::now();
        let go_on = || start.elapsed() < LONGEST_QUESTION;
        why_not(
            &document,
            &parts,
            &request,
            &asked.question,
            Compared { beside: asked.beside.as_ref(), against: &asked.against },
            cancel,
            go_on,
        )
    };
    Ok(Json(state.work.long(&client, work).await??))
}

/// What the brief demands of the donor before any part is chosen.
#[utoipa::path(operation_id = "match_needs", post, path = "/api/v1/match/needs", request_body = Document,
    responses((status = 200, body = Demands), (status = 422, body = ProblemDocument)))]
async fn demands(State(state): State<AppState>, Client(client): Client, DocumentBody(document): DocumentBody) -> Answer<Json<Demands>> {
    let work = move |_: &Cancel| Ok::<_, Error>(Demands { needs: needs(&document)?, gearings: gearings(&document) });
    Ok(Json(state.work.quick(&client, work).await??))
}

/// The designs of some picks, in their order.
#[utoipa::path(operation_id = "match_designs", post, path = "/api/v1/match/designs", request_body = DesignsRequest,
    responses((status = 200, body = Vec<Design>), (status = 422, body = ProblemDocument)))]
async fn designs(State(state): State<AppState>, Client(client): Client, Body(asked): Body<DesignsRequest>) -> Answer<Json<Vec<Design>>> {
    let document = document(&state, &client, asked.document).await?;
    let request = asked.request.unwrap_or_else(|| document.brief.search.clone());
    let parts = library::in_use(&state).await?;
    if asked.picks.len() > MOST_PICKS {
        let accepted = format!("at most {MOST_PICKS} are accepted");
        return Err(Error::field("picks", format!("{} picks", asked.picks.len()), accepted).into());
    }
    let work = move |_: &Cancel| designs_of(&document, &parts, &request, &asked.picks);
    Ok(Json(state.work.long(&client, work).await??))
}

/// The cheapest single change for every goal that a design misses.
#[utoipa::path(operation_id = "match_fixes", post, path = "/api/v1/match/fixes", request_body = Document,
    responses((status = 200, body = Fixes), (status = 422, body = ProblemDocument)))]
async fn cheapest_fixes(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<Fixes>> {
    let parts = library::in_use(&state).await?;
    let work = move |cancel: &Cancel| {
        let start = Instant::now();
        fixes(&document, &parts, cancel, || start.elapsed() < LONGEST_FIX)
    };
    Ok(Json(state.work.long(&client, work).await??))
}

/// Parts of a design whose record in the library has changed since, and what taking the newer one would do.
#[utoipa::path(operation_id = "library_newer", post, path = "/api/v1/library/newer", request_body = Document,
    responses((status = 200, body = Vec<Newer>), (status = 422, body = ProblemDocument)))]
async fn newer_records(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<Vec<Newer>>> {
    let parts = library::records(&state).await?;
    Ok(Json(state.work.long(&client, move |cancel| newer(&document, &parts, cancel)).await?))
}
