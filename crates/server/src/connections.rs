//! Connections: their number, how long they may be idle or slow, and how they end.

use std::future::Future;
use std::net::SocketAddr;
use std::pin::pin;
use std::sync::Arc;
use std::time::Duration;

use axum::Router;
use axum::extract::connect_info::ConnectInfo;
use hyper::body::Incoming;
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::GracefulShutdown;
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::Semaphore;
use tokio::task::JoinSet;
use tokio_io_timeout::TimeoutStream;
use tower::ServiceExt;

/// Most connections open at once; more wait to be accepted.
const MOST: usize = 1024;
/// Longest until a request's header is there: after the connection is opened, and between requests.
const LONGEST_HEADER: Duration = Duration::from_secs(15);
/// Longest that a reader may leave an answer lying.
const LONGEST_WRITE: Duration = Duration::from_secs(20);
/// What connections are given to end by themselves when the server stops.
const LONGEST_STOP: Duration = Duration::from_secs(3);
/// Room for headers, bytes.
const HEADERS: usize = 32 * 1024;

/// Serves `router` until `shutdown` completes. Then no connection is accepted any more, `stopping` is called, and whatever is still open
/// after a few seconds is dropped.
pub(crate) async fn serve(
    listener: TcpListener,
    router: Router,
    shutdown: impl Future<Output = ()>,
    stopping: impl FnOnce(),
) -> std::io::Result<()> {
    let places = Arc::new(Semaphore::new(MOST));
    let graceful = GracefulShutdown::new();
    let mut tasks = JoinSet::new();
    let mut shutdown = pin!(shutdown);
    loop {
        let place = tokio::select! {
            place = places.clone().acquire_owned() => place.map_err(std::io::Error::other)?,
            () = &mut shutdown => break,
        };
        let (stream, peer) = tokio::select! {
            accepted = listener.accept() => match accepted {
                Ok(accepted) => accepted,
                Err(error) => {
                    // Out of file descriptors, most likely: that passes.
                    tracing::warn!(%error, "a connection could not be accepted");
                    tokio::time::sleep(Duration::from_millis(100)).await;
                    continue;
                }
            },
            () = &mut shutdown => break,
        };
        let connection = connection(stream, peer, router.clone(), &graceful);
        tasks.spawn(async move {
            // A peer that goes away or is too slow is no error of ours.
            let _ = connection.await;
            drop(place);
        });
        while tasks.try_join_next().is_some() {}
    }
    drop(listener);
    stopping();
    if tokio::time::timeout(LONGEST_STOP, graceful.shutdown()).await.is_err() {
        tracing::warn!(left = tasks.len(), "connections are dropped");
    }
    tasks.shutdown().await;
    Ok(())
}

fn connection(
    stream: TcpStream,
    peer: SocketAddr,
    router: Router,
    graceful: &GracefulShutdown,
) -> impl Future<Output = ()> + Send + 'static + use<> {
    // Answers are small and waited for.
    let _ = stream.set_nodelay(true);
    let mut stream = TimeoutStream::new(stream);
    stream.set_write_timeout(Some(LONGEST_WRITE));
    let io = TokioIo::new(Box::pin(stream));
    let service = hyper::service::service_fn(move |request: hyper::Request<Incoming>| {
        let mut request = request.map(axum::body::Body::new);
        request.extensions_mut().insert(ConnectInfo(peer));
        router.clone().oneshot(request)
    });
    let mut builder = hyper::server::conn::http1::Builder::new();
    builder.timer(TokioTimer::new()).header_read_timeout(LONGEST_HEADER).max_buf_size(HEADERS);
    let connection = builder.serve_connection(io, service);
    let watched = graceful.watch(connection);
    async move {
        let _ = watched.await;
    }
}
