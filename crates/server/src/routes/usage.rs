//! The vehicle in use: charging at each socket, a week, and the years. Stateless.

use axum::Json;
use axum::extract::State;
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Design, Document};
use joulethesis_core::error::Error;
use joulethesis_core::estimate::{SocketStudy, socket_studies};
use joulethesis_core::inputs::Counted;
use joulethesis_core::library::Part;
use joulethesis_core::usage::{Mend, WeekAnswer, WeekOdds, YearsAnswer, mends, week, week_odds, years};
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
    OpenApiRouter::new().routes(routes!(sockets)).routes(routes!(usual_week)).routes(routes!(odds_of_week)).routes(routes!(all_years))
}

/// A charge of a design.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct ChargeRequest {
    #[schema(value_type = Document)]
    document: Value,
    /// From this state of charge, 0..1. Absent: the bottom of the pack's window.
    #[serde(default)]
    from_soc: Option<f64>,
    /// To this one. Absent: the top of the pack's window.
    #[serde(default)]
    to_soc: Option<f64>,
}

/// A week, and what would make it hold.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct WeekStudy {
    #[serde(flatten)]
    answer: WeekAnswer,
    /// Single changes after which it holds; none when it does, or when it is the pace that cannot be kept.
    mends: Vec<Mend>,
}

/// A design by name.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct NamedDesign {
    name: String,
    #[schema(value_type = Design)]
    design: Value,
}

/// Designs to be looked at over the years.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct YearsRequest {
    #[schema(value_type = Document)]
    document: Value,
    /// Other designs beside the document's own, six at most.
    #[serde(default)]
    others: Vec<NamedDesign>,
}

/// Most designs beside the document's own.
const MOST_OTHERS: usize = 6;

/// Charging at every socket of the brief between two states of charge.
#[utoipa::path(operation_id = "usage_sockets", post, path = "/api/v1/sockets", request_body = ChargeRequest,
    responses((status = 200, body = Vec<SocketStudy>), (status = 422, body = ProblemDocument)))]
async fn sockets(
    State(state): State<AppState>,
    Client(client): Client,
    Body(request): Body<ChargeRequest>,
) -> Answer<Json<Vec<SocketStudy>>> {
    let document = document(&state, &client, request.document).await?;
    let work = move |_: &Cancel| socket_studies(&Counted::of(&document), request.from_soc, request.to_soc);
    Ok(Json(state.work.quick(&client, work).await??))
}

/// The usual week hour by hour in summer and winter, and what would make it hold.
#[utoipa::path(operation_id = "usage_week", post, path = "/api/v1/week", request_body = Document,
    responses((status = 200, body = WeekStudy), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn usual_week(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<WeekStudy>> {
    let parts: Vec<Part> = library::all(&state)
        .await?
        .into_iter()
        .filter(|p| !p.is_retired() && p.record().kind() == "charger")
        .map(|p| p.record().clone())
        .collect();
    let work = move |cancel: &Cancel| {
        let answer = week(&Counted::of(&document), cancel)?;
        let mends = mends(&document, &parts, &answer.seasons, cancel)?;
        Ok::<_, Error>(WeekStudy { answer, mends })
    };
    Ok(Json(state.work.long(&client, work).await??))
}

/// How sure the usual week is in summer and in winter: the share of samples in which it holds, and the bands of its figures.
#[utoipa::path(operation_id = "usage_week_odds", post, path = "/api/v1/week/odds", request_body = Document,
    responses((status = 200, body = Vec<WeekOdds>), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn odds_of_week(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<Vec<WeekOdds>>> {
    Ok(Json(state.work.long(&client, move |cancel| week_odds(&document, cancel)).await??))
}

/// Smaller and bigger packs and other designs over the years: money, mass, stops and hours waited.
#[utoipa::path(operation_id = "usage_years", post, path = "/api/v1/years", request_body = YearsRequest,
    responses((status = 200, body = YearsAnswer), (status = 422, body = ProblemDocument)))]
async fn all_years(State(state): State<AppState>, Client(client): Client, Body(request): Body<YearsRequest>) -> Answer<Json<YearsAnswer>> {
    if request.others.len() > MOST_OTHERS {
        return Err(Error::field("others", request.others.len(), format!("at most {MOST_OTHERS} designs are compared")).into());
    }
    let mut others = Vec::new();
    for other in request.others {
        let mut value = request.document.clone();
        value["design"] = other.design;
        others.push((other.name, document(&state, &client, value).await?));
    }
    let document = document(&state, &client, request.document).await?;
    Ok(Json(state.work.long(&client, move |cancel| years(&document, &others, cancel)).await??))
}
