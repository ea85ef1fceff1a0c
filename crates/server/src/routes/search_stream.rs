//! The search, streamed as server-sent events.

use std::convert::Infallible;
use std::time::{Duration, Instant};

use axum::extract::State;
use axum::response::IntoResponse;
use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::Stream;
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, Document, MatchRequest};
use joulethesis_core::library::Part;
use joulethesis_core::matching::{AxisInfo, Match, MatchAnswer, Progress, RelaxProgress, Relaxations, SearchReport, relaxations, search};
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
use crate::body::{Body, Client, document};
use crate::problem::ProblemDocument;
use crate::work::CancelOnDrop;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(stream))
}

/// Longest a search runs before it is stopped with what it has.
const LONGEST_SEARCH: Duration = Duration::from_secs(120);
/// Least time between two looks at a running search.
const LOOK_EVERY: Duration = Duration::from_millis(250);
/// Designs shown while a search runs.
const LEADING: usize = 12;
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
