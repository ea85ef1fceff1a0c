//! A first chain from a kind of vehicle and three answers. Stateless.

use std::time::Duration;

use axum::Json;
use axum::extract::State;
use joulethesis_core::cancel::Cancel;
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

/// After so long the proposal asks for less; what cannot be had is then no longer looked for.
const HURRY_AFTER: Duration = Duration::from_secs(4);
/// And after so long it is given up.
const GIVE_UP_AFTER: Duration = Duration::from_secs(10);

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
    /// Absent where nothing in the library obeys the rules and does a quarter of what is asked.
    #[serde(skip_serializing_if = "Option::is_none")]
    proposal: Option<Proposal>,
}

/// Proposes a chain for a document, whatever other parts its design has: the cheapest that does what the brief asks with a reserve and obeys every
/// rule. Parts that the brief's search pins are used.
#[utoipa::path(operation_id = "match_proposal", post, path = "/api/v1/match/proposal", request_body = ProposalRequest,
    responses((status = 200, body = ProposalAnswer), (status = 422, body = ProblemDocument)))]
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

/// A proposal for a document, within seconds; none where even a share of the goals takes longer, or nobody is free to look for it.
pub(super) async fn of(state: &AppState, client: &str, document: Checked, keep: &[PartKind]) -> Answer<Option<Proposal>> {
    let (document, parts) = around(&document, |p| keep.iter().any(|k| k.word() == p.kind()), library::in_use(state).await?);
    let runtime = tokio::runtime::Handle::current();
    let work = state.work.long(client, move |cancel| {
        // The clock starts when the work does, not while it waits for its turn.
        let hurry = Cancel::new();
        let late = runtime.spawn({
            let hurry = hurry.clone();
            async move {
                tokio::time::sleep(HURRY_AFTER).await;
                hurry.cancel();
            }
        });
        let found = propose(&document, &parts, &hurry, cancel);
        late.abort();
        found
    });
    let found = tokio::time::timeout(GIVE_UP_AFTER, work).await;
    match found {
        Ok(found) => Ok(found??),
        Err(_) => Ok(None),
    }
}
