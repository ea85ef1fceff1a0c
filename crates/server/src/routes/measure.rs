//! Measurements turned into inputs: coast-downs, recorded tracks, a motor on the bench. Stateless.

use axum::Json;
use axum::extract::{Query, State};
use joulethesis_core::bench::{BenchResult, BenchSheet, characterise};
use joulethesis_core::document::{CoastRun, Network, RemovedItem};
use joulethesis_core::error::Error;
use joulethesis_core::evidence::{
    PassResult, RoadLoadEvidence, TeardownStep, Weighed, ledger_from_csv, ledger_to_csv, passes, road_load, runs_from_csv, teardown,
    weighed,
};
use joulethesis_core::library::{Part, Plate};
use joulethesis_core::network::{Names, SIMULATED_DBC, SilentMessage, network, read_log, read_named, silent, simulated_log};
use joulethesis_core::trip::track::{self, Track};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
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
        .routes(routes!(timed_passes))
        .routes(routes!(network_log))
        .routes(routes!(silent_messages))
        .routes(routes!(stand_in))
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

/// What the timed passes of the donor tell, beside the same passes of the conversion.
#[utoipa::path(operation_id = "measure_passes", post, path = "/api/v1/passes", request_body = joulethesis_core::document::Document,
    responses((status = 200, body = Vec<PassResult>), (status = 422, body = ProblemDocument)))]
async fn timed_passes(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<Vec<PassResult>>> {
    Ok(Json(state.work.quick(&client, move |cancel| passes(&document, cancel)).await??))
}

/// A log of a vehicle's network to be read.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct NetworkLog {
    /// Frames, one a line, as candump writes them.
    log: String,
    /// Another log, without the engine's unit: what is missing from it falls silent.
    #[serde(default)]
    without: Option<String>,
    /// Names, as a DBC file.
    #[serde(default)]
    dbc: Option<String>,
    /// What was known before: marks stay, by identifier.
    #[serde(default)]
    known: Option<Network>,
    /// Whether lines that are no frames are left out, rather than refused.
    #[serde(default)]
    leave_out: bool,
}

/// What a log told.
#[derive(Serialize, ToSchema)]
struct NetworkRead {
    network: Network,
    /// Units that the descriptions name.
    units: Vec<String>,
    /// Lines that were left out.
    left_out: usize,
}

/// Messages of a vehicle's network from a log, with their periods and changing bytes, named by a DBC file.
#[utoipa::path(operation_id = "measure_network", post, path = "/api/v1/network", request_body = NetworkLog,
    responses((status = 200, body = NetworkRead), (status = 422, body = ProblemDocument)))]
async fn network_log(State(state): State<AppState>, Client(client): Client, Body(asked): Body<NetworkLog>) -> Answer<Json<NetworkRead>> {
    let work = move |_: &_| -> Result<NetworkRead, Error> {
        let names = asked.dbc.as_deref().map(Names::read).transpose()?;
        let log = read_log(&asked.log, asked.leave_out)?;
        let without = asked.without.as_deref().map(|text| read_named("without", text, asked.leave_out)).transpose()?;
        let left_out = log.left_out + without.as_ref().map_or(0, |w| w.left_out);
        let known = asked.known.unwrap_or_default();
        let units = names.iter().flat_map(|n| n.units().map(str::to_owned)).collect();
        Ok(NetworkRead { network: network(&log, names.as_ref(), without.as_ref(), &known), units, left_out })
    };
    Ok(Json(state.work.long(&client, work).await??))
}

/// Messages of the donor's network that stop when the engine's unit leaves, with the units that stay and listen.
#[utoipa::path(operation_id = "measure_silent", post, path = "/api/v1/network/silent", request_body = joulethesis_core::document::Document,
    responses((status = 200, body = Vec<SilentMessage>), (status = 422, body = ProblemDocument)))]
async fn silent_messages(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<Vec<SilentMessage>>> {
    let work = move |_: &_| document.donor.evidence.network.as_ref().map(silent).unwrap_or_default();
    Ok(Json(state.work.quick(&client, work).await?))
}

/// Which stand-in is asked.
#[derive(Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
struct StandIn {
    /// Seconds, up to 120.
    #[param(maximum = 120)]
    seconds: u32,
    /// Whether the engine's unit is unplugged.
    #[serde(default)]
    without_engine: bool,
}

/// What the simulated network said.
#[derive(Serialize, ToSchema)]
struct StandInLog {
    log: String,
    dbc: &'static str,
}

/// A log of the simulated network, for trying without a vehicle.
#[utoipa::path(operation_id = "measure_stand_in", get, path = "/api/v1/network/simulated", params(StandIn),
    responses((status = 200, body = StandInLog), (status = 400, body = ProblemDocument)))]
async fn stand_in(State(state): State<AppState>, Client(client): Client, Query(asked): Query<StandIn>) -> Answer<Json<StandInLog>> {
    let log = state.work.quick(&client, move |_| simulated_log(asked.seconds, asked.without_engine)).await?;
    Ok(Json(StandInLog { log, dbc: SIMULATED_DBC }))
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
