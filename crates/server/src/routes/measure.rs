//! Measurements turned into inputs: coast-downs, recorded tracks, a motor on the bench. Stateless.

use axum::Json;
use axum::extract::State;
use joulethesis_core::bench::{BenchResult, BenchSheet, characterise};
use joulethesis_core::document::{CoastRun, RemovedItem};
use joulethesis_core::evidence::{
    RoadLoadEvidence, TeardownStep, Weighed, ledger_from_csv, ledger_to_csv, road_load, runs_from_csv, teardown, weighed,
};
use joulethesis_core::library::{Part, Plate};
use joulethesis_core::trip::track::{self, Track};
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::Answer;
use crate::AppState;
use crate::body::{Body, Client, DocumentBody, TextFile};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(road_load_evidence))
        .routes(routes!(weighing))
        .routes(routes!(teardown_plan))
        .routes(routes!(ledger))
        .routes(routes!(coast_runs))
        .routes(routes!(tracks))
        .routes(routes!(bench_sheet))
        .routes(routes!(plates))
}

/// Road loads that the donor's evidence supports, the best first.
#[utoipa::path(operation_id = "measure_road_load", post, path = "/api/v1/road-load", request_body = joulethesis_core::document::Document,
    responses((status = 200, body = RoadLoadEvidence), (status = 422, body = ProblemDocument)))]
async fn road_load_evidence(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<RoadLoadEvidence>> {
    Ok(Json(state.work.quick(&client, move |_| road_load(&document)).await?))
}

/// Mass, balance and height of the centre of gravity from scales; null before both axles have been weighed.
#[utoipa::path(operation_id = "measure_weighing", post, path = "/api/v1/weighing", request_body = joulethesis_core::document::Document,
    responses((status = 200, body = Option<Weighed>), (status = 422, body = ProblemDocument)))]
async fn weighing(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<Option<Weighed>>> {
    Ok(Json(state.work.quick(&client, move |_| weighed(&document)).await?))
}

/// What to take out of a donor and to see to, and its ledger.
#[derive(Serialize, ToSchema)]
struct Teardown {
    /// In the order of the work.
    steps: Vec<TeardownStep>,
    /// What came out, as CSV.
    csv: String,
}

/// What to take out of a donor and to see to, by its kind and year, with cautions; and the ledger of what came out as CSV.
#[utoipa::path(operation_id = "measure_teardown", post, path = "/api/v1/teardown", request_body = joulethesis_core::document::Document,
    responses((status = 200, body = Teardown), (status = 422, body = ProblemDocument)))]
async fn teardown_plan(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<Teardown>> {
    let work = move |_: &_| Teardown { steps: teardown(&document), csv: ledger_to_csv(&document) };
    Ok(Json(state.work.quick(&client, work).await?))
}

/// Items of a ledger from CSV: columns `item`, `mass_kg` and what else is known.
#[utoipa::path(operation_id = "measure_ledger", post, path = "/api/v1/ledger", request_body(content = String, content_type = "text/csv"),
    responses((status = 200, body = Vec<RemovedItem>), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn ledger(State(state): State<AppState>, Client(client): Client, TextFile(text): TextFile) -> Answer<Json<Vec<RemovedItem>>> {
    Ok(Json(state.work.quick(&client, move |_| ledger_from_csv(&text)).await??))
}

/// Coast-down runs from a CSV log with the columns `time_s`, a speed and `direction`.
#[utoipa::path(operation_id = "measure_coast_runs", post, path = "/api/v1/coast-runs", request_body(content = String, content_type = "text/csv"),
    responses((status = 200, body = Vec<CoastRun>), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn coast_runs(State(state): State<AppState>, Client(client): Client, TextFile(text): TextFile) -> Answer<Json<Vec<CoastRun>>> {
    Ok(Json(state.work.quick(&client, move |_| runs_from_csv(&text)).await??))
}

/// A trip from a recorded track: GPX, or CSV with `time_s`, a speed and perhaps `elevation_m`.
#[utoipa::path(operation_id = "measure_track", post, path = "/api/v1/tracks", request_body(content((String = "application/gpx+xml"), (String = "text/csv"))),
    responses((status = 200, body = Track), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn tracks(State(state): State<AppState>, Client(client): Client, TextFile(text): TextFile) -> Answer<Json<Track>> {
    let work = move |_: &_| {
        if text.trim_start_matches('\u{feff}').trim_start().starts_with('<') {
            track::from_gpx(text.as_bytes())
        } else {
            track::from_csv(&text)
        }
    };
    Ok(Json(state.work.quick(&client, work).await??))
}

/// Constants of an unknown motor from its readings on the bench, with the library part they make.
#[utoipa::path(operation_id = "measure_bench", post, path = "/api/v1/bench", request_body = BenchSheet,
    responses((status = 200, body = BenchResult), (status = 422, body = ProblemDocument)))]
async fn bench_sheet(Body(sheet): Body<BenchSheet>) -> Answer<Json<BenchResult>> {
    Ok(Json(characterise(&sheet)?))
}

/// A whole part from the few figures on its plate, the rest from its class and marked as guessed.
#[utoipa::path(operation_id = "measure_plate", post, path = "/api/v1/plates", request_body = Plate,
    responses((status = 200, body = Part), (status = 422, body = ProblemDocument)))]
async fn plates(Body(plate): Body<serde_json::Value>) -> Answer<Json<Part>> {
    Ok(Json(Plate::from_value(&plate)?.part()?))
}
