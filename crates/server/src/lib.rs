//! HTTP service of Joulethesis: thin routes over the core and the store.

mod api;
mod body;
mod guard;
mod problem;
mod routes;

use std::future::Future;
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use joulethesis_store::Store;
use tokio::net::TcpListener;
use tower_http::compression::CompressionLayer;
use tower_http::request_id::{MakeRequestUuid, PropagateRequestIdLayer, SetRequestIdLayer};
use tower_http::services::{ServeDir, ServeFile};
use tower_http::trace::{DefaultMakeSpan, DefaultOnResponse, TraceLayer};

pub use api::open_api;

/// Largest request body, bytes: a trace of 100,000 points fits.
const LARGEST_BODY: usize = 8 * 1024 * 1024;
/// Longest time a request may take.
const LONGEST_REQUEST: Duration = Duration::from_secs(20);

/// What every route can reach.
#[derive(Clone)]
pub struct AppState {
    /// Storage.
    pub store: Store,
    /// Bounds the computations that run at once, so that a burst of edits cannot starve the rest.
    workers: Arc<tokio::sync::Semaphore>,
}

/// How to serve.
#[derive(Debug, Clone, Default)]
pub struct Settings {
    /// Folder of the built interface; without one only the API is served.
    pub web: Option<PathBuf>,
    /// Host names accepted beside 127.0.0.1, localhost and ::1, without port.
    pub hosts: Vec<String>,
}

/// The whole service as a router.
pub fn app(store: Store, settings: Settings) -> Router {
    let cores = std::thread::available_parallelism().map_or(2, std::num::NonZero::get);
    let state = AppState { store, workers: Arc::new(tokio::sync::Semaphore::new(cores)) };
    let mut router = api::router(state);
    if let Some(web) = settings.web {
        // Assets have their own service, so that a missing script is a 404 and not the page with a 200.
        let page = ServeFile::new(web.join("index.html"));
        router = router.nest_service("/assets", ServeDir::new(web.join("assets"))).fallback_service(ServeDir::new(&web).fallback(page));
    }
    let hosts: Arc<[String]> = settings.hosts.into();
    router
        .layer(axum::extract::DefaultBodyLimit::max(LARGEST_BODY))
        .layer(axum::middleware::from_fn(guard::time_limit))
        .layer(CompressionLayer::new())
        .layer(axum::middleware::from_fn(move |request, next| guard::known_host(hosts.clone(), request, next)))
        .layer(axum::middleware::from_fn(guard::security_headers))
        .layer(PropagateRequestIdLayer::x_request_id())
        .layer(
            TraceLayer::new_for_http()
                .make_span_with(DefaultMakeSpan::new().level(tracing::Level::INFO))
                .on_response(DefaultOnResponse::new().level(tracing::Level::INFO)),
        )
        .layer(SetRequestIdLayer::x_request_id(MakeRequestUuid))
}

/// Serves until `shutdown` completes, then lets running requests finish.
///
/// # Errors
/// When the listener fails.
pub async fn run(
    listener: TcpListener,
    store: Store,
    settings: Settings,
    shutdown: impl Future<Output = ()> + Send + 'static,
) -> std::io::Result<()> {
    axum::serve(listener, app(store, settings)).with_graceful_shutdown(shutdown).await
}
