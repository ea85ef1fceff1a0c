//! A first chain from a kind of vehicle and three answers. Stateless.

use std::time::Duration;

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use joulethesis_core::document::{Answers, Brief, Checked};
use joulethesis_core::matching::{Proposal, around, propose};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::estimate::PartKind;
use super::{Answer, library};
use crate::AppState;
use crate::body::{Body, Client, document};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(ask))
}

/// Longest anybody waits for a proposal, below the time limit of requests. The work is bounded by a count; only a busy machine takes so long.
const GIVE_UP_AFTER: Duration = Duration::from_secs(16);

/// What a chain is wanted for.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct ProposalRequest {
    #[schema(value_type = joulethesis_core::document::Document)]
    document: Value,
    /// Answers to put into the brief first. Absent: the brief as it stands.
    #[serde(default)]
    #[schema(value_type = Option<Answers>)]
    answers: Option<Value>,
    /// Kinds of part that stay as the design has them; the rest is proposed around them.
    #[serde(default)]
    keep: Vec<PartKind>,
}

/// The brief with the answers in it, and a chain for it.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct ProposalAnswer {
    brief: Brief,
    /// Absent where nothing that was looked at obeys the rules and does a quarter of what is asked.
    #[serde(skip_serializing_if = "Option::is_none")]
    proposal: Option<Proposal>,
}

/// Proposes a chain for a document, whatever other parts its design has: the cheapest that does what the brief asks with a reserve and obeys every
/// rule. Parts that the brief's search pins are used.
#[utoipa::path(operation_id = "match_proposal", post, path = "/api/v1/match/proposal", request_body = ProposalRequest,
    responses((status = 200, body = ProposalAnswer), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument)))]
async fn ask(State(state): State<AppState>, Client(client): Client, Body(asked): Body<ProposalRequest>) -> Answer<Json<ProposalAnswer>> {
    let document = document(&state, &client, asked.document).await?;
    let document = match asked.answers {
        Some(value) => {
            let answers = Answers::from_value(&value)?;
            document.with(|d| answers.put_into(d.donor.kind, &mut d.brief))?
        }
        None => document,
    };
    let brief = document.brief.clone();
    Ok(Json(ProposalAnswer { brief, proposal: of(&state, &client, document, &asked.keep).await? }))
}

/// What is proposed for a document; nothing where it cannot be had.
///
/// # Errors
/// Where the machine is too busy to tell, or the request's own check refuses.
pub(super) async fn of(state: &AppState, client: &str, document: Checked, keep: &[PartKind]) -> Answer<Option<Proposal>> {
    let (document, parts) = around(&document, |p| keep.iter().any(|k| k.word() == p.kind()), library::in_use(state).await?);
    let work = state.work.long(client, move |cancel| propose(&document, &parts, cancel));
    let late = |_| {
        let detail =
            format!("no chain was found within {} s, as much else is being computed; ask again in a moment", GIVE_UP_AFTER.as_secs());
        ProblemDocument::new(StatusCode::SERVICE_UNAVAILABLE, "Busy", detail)
    };
    Ok(tokio::time::timeout(GIVE_UP_AFTER, work).await.map_err(late)???)
}
