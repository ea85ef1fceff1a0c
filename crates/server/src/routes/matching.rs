//! The search: streamed as server-sent events, and the questions around it. Stateless.

use std::convert::Infallible;
use std::time::{Duration, Instant};

use axum::Json;
use axum::extract::State;
use axum::response::IntoResponse;
use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::Stream;
use joulethesis_core::alternatives::{Newer, newer};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::MatchRequest;
use joulethesis_core::document::{Checked, Design, Document};
use joulethesis_core::error::Error;
use joulethesis_core::library::Part;
use joulethesis_core::matching::{
    AxisInfo, Compared, Fixes, Gearing, Match, MatchAnswer, Needs, Pick, Progress, Question, RelaxProgress, Relaxations, SearchReport,
    WhyNot, design_of, fixes, gearings, needs, relaxations, search, why_not,
};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use tokio::sync::mpsc;
use tokio_util::sync::CancellationToken;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::kept_searches::{Keep, keep};
use super::{Answer, library};
use crate::AppState;
use crate::body::{Body, Client, DocumentBody, document};
use crate::problem::ProblemDocument;
use crate::work::CancelOnDrop;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(stream))
        .routes(routes!(ask_why_not))
        .routes(routes!(demands))
        .routes(routes!(designs))
        .routes(routes!(newer_records))
        .routes(routes!(cheapest_fixes))
}

/// Longest a search runs before it is stopped with what it has.
const LONGEST_SEARCH: Duration = Duration::from_secs(120);
/// Longest that changes are tried for one that meets a missed goal: it is shown beside the claim while a person works.
const LONGEST_FIX: Duration = Duration::from_secs(3);
/// Longest an answer to a question may take, below the time limit of requests.
const LONGEST_QUESTION: Duration = Duration::from_secs(16);
/// Least time between two looks at a running search.
const LOOK_EVERY: Duration = Duration::from_millis(250);
/// Designs shown while a search runs.
const LEADING: usize = 12;
/// Most picks made into designs at once.
const MOST_PICKS: usize = 26;
/// Looks that may wait for a slow reader; more are dropped.
const WAITING: usize = 8;

/// What to search for.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct SearchRequest {
    #[schema(value_type = Document)]
    document: Value,
    /// Absent: what stands in the brief.
    #[serde(default)]
    request: Option<MatchRequest>,
    /// Where the answer is kept. Absent: nowhere.
    #[serde(default)]
    keep: Option<Keep>,
}

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

/// A running search, as the `progress` event tells it.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct SearchProgress {
    /// Counts so far.
    report: SearchReport,
    /// Combinations still undecided.
    left: u64,
    /// Combinations that were undecided once every pack had been laid out; none before.
    total: u64,
    /// How many of the leading designs are final.
    settled: u32,
    /// The figures it is judged by.
    axes: Vec<AxisInfo>,
    /// The best so far, without reasons.
    leading: Vec<Match>,
    /// Since it began, s.
    seconds: f64,
}

/// One event of a search; `event` is its name in the stream and `data` what it carries.
#[derive(Debug, Serialize, ToSchema)]
#[serde(tag = "event", content = "data", rename_all = "snake_case")]
pub(crate) enum SearchEvent {
    /// It is running.
    Progress(SearchProgress),
    /// It has ended.
    Answer(MatchAnswer),
    /// Nothing qualified; what would have to give is being worked out.
    Relaxing(RelaxProgress),
    /// What would have to give.
    Relaxations(Relaxations),
    /// It could not be run.
    Problem(ProblemDocument),
}

impl SearchEvent {
    fn name(&self) -> &'static str {
        match self {
            Self::Progress(_) => "progress",
            Self::Answer(_) => "answer",
            Self::Relaxing(_) => "relaxing",
            Self::Relaxations(_) => "relaxations",
            Self::Problem(_) => "problem",
        }
    }

    fn written(&self) -> Event {
        let data = match self {
            Self::Progress(x) => serde_json::to_string(x),
            Self::Answer(x) => serde_json::to_string(x),
            Self::Relaxing(x) => serde_json::to_string(x),
            Self::Relaxations(x) => serde_json::to_string(x),
            Self::Problem(x) => serde_json::to_string(x),
        };
        Event::default().event(self.name()).data(data.unwrap_or_default())
    }
}

fn look(progress: &Progress<'_>, start: Instant) -> SearchProgress {
    let (left, total) = progress.left();
    SearchProgress {
        report: progress.report(),
        left,
        total,
        settled: progress.settled(),
        axes: progress.axes(),
        leading: progress.leading(LEADING),
        seconds: start.elapsed().as_secs_f64(),
    }
}

/// What a search came to, to be kept.
type Found = (MatchAnswer, Option<Relaxations>);

/// Runs a search and tells about it; ends early when nobody listens any more. What it came to, where it ended by itself.
fn tell(document: &Checked, parts: &[Part], request: &MatchRequest, events: &mpsc::Sender<SearchEvent>, cancel: &Cancel) -> Option<Found> {
    let start = Instant::now();
    let mut looked: Option<Instant> = None;
    let mut shown = 0;
    let mut go_on = |progress: &Progress<'_>| {
        let kept = progress.report().kept;
        // The first answers at once, then at a pace that people can follow.
        if looked.is_none_or(|t| t.elapsed() >= LOOK_EVERY) || shown == 0 && kept > 0 {
            looked = Some(Instant::now());
            shown = kept;
            let _ = events.try_send(SearchEvent::Progress(look(progress, start)));
        }
        !events.is_closed() && start.elapsed() < LONGEST_SEARCH
    };
    let answer = match search(document, parts, request, cancel, &mut go_on) {
        Ok(answer) => answer,
        Err(error) => {
            let _ = events.blocking_send(SearchEvent::Problem(error.into()));
            return None;
        }
    };
    let nothing = answer.designs.is_empty() && answer.complete;
    if events.blocking_send(SearchEvent::Answer(answer.clone())).is_err() {
        return None;
    }
    if !nothing {
        return Some((answer, None));
    }
    let mut told = Instant::now();
    let found = relaxations(document, parts, request, cancel, |progress| {
        if told.elapsed() >= LOOK_EVERY {
            told = Instant::now();
            let _ = events.try_send(SearchEvent::Relaxing(progress.clone()));
        }
        !events.is_closed() && start.elapsed() < LONGEST_SEARCH
    });
    match found {
        Ok(found) => {
            let _ = events.blocking_send(SearchEvent::Relaxations(found.clone()));
            Some((answer, Some(found)))
        }
        Err(error) => {
            let _ = events.blocking_send(SearchEvent::Problem(error.into()));
            None
        }
    }
}

/// The events of a search; it is cancelled when the stream is dropped, and ends when the server stops.
fn stream_of(
    events: mpsc::Receiver<SearchEvent>,
    guard: CancelOnDrop,
    stopping: CancellationToken,
) -> impl Stream<Item = Result<Event, Infallible>> {
    futures_util::stream::unfold((events, guard, stopping), |(mut events, guard, stopping)| async {
        let event = tokio::select! {
            event = events.recv() => event?,
            () = stopping.cancelled() => return None,
        };
        Some((Ok(event.written()), (events, guard, stopping)))
    })
}

/// Searches the library for designs that meet the brief. The answer is a stream of server-sent events: `progress` while it runs,
/// `answer`, and where nothing qualifies `relaxing` and `relaxations`. Closing the connection stops the search.
#[utoipa::path(operation_id = "match_search", post, path = "/api/v1/match", request_body = SearchRequest,
    responses((status = 200, description = "Server-sent events", body = SearchEvent, content_type = "text/event-stream"),
        (status = 422, body = ProblemDocument)))]
async fn stream(State(state): State<AppState>, Client(client): Client, Body(asked): Body<SearchRequest>) -> Answer<impl IntoResponse> {
    let document = document(&state, &client, asked.document).await?;
    let request = asked.request.unwrap_or_else(|| document.brief.search.clone());
    let parts = library::in_use(&state).await?;
    // Refused before the stream begins, so that the status tells.
    request.check(&document, &parts)?;
    asked.keep.as_ref().map_or(Ok(()), Keep::check)?;
    let (sender, receiver) = mpsc::channel(WAITING);
    let cancel = Cancel::new();
    let guard = CancelOnDrop(cancel.clone());
    let stopping = state.work.stopping().clone();
    tokio::spawn(async move {
        let (told, stop) = (sender.clone(), cancel.clone());
        // A search that does not end by itself in its time is cut off, whatever it is at.
        let late = tokio::spawn(async move {
            tokio::time::sleep(LONGEST_SEARCH + Duration::from_secs(5)).await;
            stop.cancel();
        });
        let work = move |cancel: &Cancel| tell(&document, &parts, &request, &sender, cancel);
        match state.work.long_under(&client, cancel, work).await {
            Err(problem) => {
                let _ = told.send(SearchEvent::Problem(problem)).await;
            }
            Ok(Some(found)) => keep(&state, asked.keep, found).await,
            Ok(None) => {}
        }
        late.abort();
    });
    Ok(Sse::new(stream_of(receiver, guard, stopping)).keep_alive(KeepAlive::default()))
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
    let work = move |_: &Cancel| asked.picks.iter().map(|pick| design_of(&document, &parts, &request, pick)).collect::<Result<Vec<_>, _>>();
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
