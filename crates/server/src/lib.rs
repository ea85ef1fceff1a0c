//! HTTP service of Joulethesis: thin routes over the core and the store.

mod api;
mod body;
mod connections;
mod drawings;
mod guard;
mod pictures;
mod problem;
mod recordings;
mod routes;
mod work;

use std::future::Future;
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use axum::extract::Request;
use axum::http::StatusCode;
use axum::middleware::{from_fn, from_fn_with_state};
use joulethesis_store::Store;
use tokio::net::TcpListener;
use tokio_util::sync::CancellationToken;
use tower_http::CompressionLevel;
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::classify::ServerErrorsFailureClass;
use tower_http::compression::CompressionLayer;
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, SetRequestIdLayer};
use tower_http::services::{ServeDir, ServeFile};
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::timeout::{RequestBodyTimeoutLayer, TimeoutLayer};
use tower_http::trace::{DefaultOnFailure, DefaultOnResponse, OnFailure, TraceLayer};

pub use api::open_api;
use recordings::Recordings;
use work::Work;

/// Largest request body, bytes: a trace of 100,000 points fits.
const LARGEST_BODY: usize = 8 * 1024 * 1024;
/// Longest time a request may take.
const LONGEST_REQUEST: Duration = Duration::from_secs(20);
/// Longest pause between two pieces of a request's body.
const LONGEST_PAUSE: Duration = Duration::from_secs(8);

/// What every route can reach.
#[derive(Clone)]
pub(crate) struct AppState {
    store: Store,
    work: Work,
    recordings: Recordings,
}

/// How to serve.
#[derive(Debug, Clone, Default)]
pub struct Settings {
    /// Folder of the built interface; without one only the API is served.
    pub web: Option<PathBuf>,
    /// Host names accepted beside 127.0.0.1, localhost and ::1, without port.
    pub hosts: Vec<String>,
}

/// A span for each request that its log lines stand in, with the id that the answer carries too.
fn span(request: &Request) -> tracing::Span {
    let id = request.headers().get("x-request-id").and_then(|v| v.to_str().ok()).unwrap_or_default();
    tracing::error_span!("request", method = %request.method(), path = request.uri().path(), id)
}

/// The whole service as a router.
///
/// # Errors
/// When the threads of the background work cannot be made.
pub fn app(store: Store, settings: Settings) -> std::io::Result<Router> {
    router(AppState { store, work: Work::new(CancellationToken::new())?, recordings: Recordings::default() }, settings)
}

fn router(state: AppState, settings: Settings) -> std::io::Result<Router> {
    let mut router = api::router(state.clone());
    if let Some(web) = settings.web {
        // Assets have their own service, so that a missing script is a 404 and not the page with a 200.
        let page = ServeFile::new(web.join("index.html"));
        router = router
            .nest_service("/assets", ServeDir::new(web.join("assets")).precompressed_br().precompressed_gzip())
            .fallback_service(ServeDir::new(&web).fallback(page));
    }
    let hosts: Arc<[String]> = settings.hosts.into();
    let mut router = router
        .layer(axum::extract::DefaultBodyLimit::max(LARGEST_BODY))
        .layer(RequestBodyTimeoutLayer::new(LONGEST_PAUSE))
        .layer(TimeoutLayer::with_status_code(StatusCode::GATEWAY_TIMEOUT, LONGEST_REQUEST))
        .layer(from_fn(guard::plain_path))
        .layer(from_fn(guard::own_pages))
        .layer(from_fn_with_state(hosts, |axum::extract::State(hosts), request, next| guard::known_host(hosts, request, next)))
        .layer(CatchPanicLayer::custom(problem::of_panic))
        .layer(from_fn(problem::complete))
        .layer(CompressionLayer::new().quality(CompressionLevel::Fastest))
        .layer(from_fn(guard::caching));
    for (name, value) in guard::HEADERS {
        router = router.layer(SetResponseHeaderLayer::overriding(name, value));
    }
    Ok(router
        .layer(PropagateRequestIdLayer::x_request_id())
        .layer(
            TraceLayer::new_for_http()
                .make_span_with(span)
                .on_response(DefaultOnResponse::new().level(tracing::Level::INFO))
                .on_failure(failed),
        )
        .layer(SetRequestIdLayer::x_request_id(MakeRequestUuid)))
}

/// Logs a failure. What was stopped because nobody waits for it any more is none, and a database that is away is told where it is missed.
fn failed(class: ServerErrorsFailureClass, latency: Duration, span: &tracing::Span) {
    match class {
        ServerErrorsFailureClass::StatusCode(StatusCode::SERVICE_UNAVAILABLE) => {}
        class => DefaultOnFailure::new().on_failure(class, latency, span),
    }
}

/// Serves until `shutdown` completes; then computations are cancelled and connections end within a few seconds.
///
/// # Errors
/// When the listener fails, or the threads of the background work cannot be made.
pub async fn run(
    listener: TcpListener,
    store: Store,
    settings: Settings,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    let stopping = CancellationToken::new();
    let router = router(AppState { store, work: Work::new(stopping.clone())?, recordings: Recordings::default() }, settings)?;
    connections::serve(listener, router, connections::LIMITS, shutdown, move || stopping.cancel()).await
}
