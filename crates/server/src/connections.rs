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

/// What connections may take.
#[derive(Clone, Copy)]
pub(crate) struct Limits {
    /// Most open at once; more wait to be accepted.
    most: usize,
    /// Longest until a request's header is there: after the connection is opened, and between requests.
    header: Duration,
    /// Longest that a reader may leave an answer lying.
    write: Duration,
    /// What connections are given to end by themselves when the server stops.
    stop: Duration,
}

/// The limits of the service.
pub(crate) const LIMITS: Limits =
    Limits { most: 1024, header: Duration::from_secs(15), write: Duration::from_secs(20), stop: Duration::from_secs(3) };

/// Room for headers, bytes.
const HEADERS: usize = 32 * 1024;

/// Serves `router` until `shutdown` completes. Then no connection is accepted any more, `stopping` is called, and whatever is still open
/// after a few seconds is dropped.
pub(crate) async fn serve(
    listener: TcpListener,
    router: Router,
    limits: Limits,
    shutdown: impl Future<Output = ()>,
    stopping: impl FnOnce(),
) -> std::io::Result<()> {
    let places = Arc::new(Semaphore::new(limits.most));
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
        let connection = connection(stream, peer, router.clone(), limits, &graceful);
        tasks.spawn(async move {
            // A peer that goes away or is too slow is no error of ours.
            let _ = connection.await;
            drop(place);
        });
        while tasks.try_join_next().is_some() {}
    }
    drop(listener);
    stopping();
    if tokio::time::timeout(limits.stop, graceful.shutdown()).await.is_err() {
        tracing::warn!(left = tasks.len(), "connections are dropped");
    }
    tasks.shutdown().await;
    Ok(())
}

fn connection(
    stream: TcpStream,
    peer: SocketAddr,
    router: Router,
    limits: Limits,
    graceful: &GracefulShutdown,
) -> impl Future<Output = ()> + Send + 'static + use<> {
    // Answers are small and waited for.
    let _ = stream.set_nodelay(true);
    let mut stream = TimeoutStream::new(stream);
    stream.set_write_timeout(Some(limits.write));
    let io = TokioIo::new(Box::pin(stream));
    let service = hyper::service::service_fn(move |request: hyper::Request<Incoming>| {
        let mut request = request.map(axum::body::Body::new);
        request.extensions_mut().insert(ConnectInfo(peer));
        router.clone().oneshot(request)
    });
    let mut builder = hyper::server::conn::http1::Builder::new();
    builder.timer(TokioTimer::new()).header_read_timeout(limits.header).max_buf_size(HEADERS);
    let connection = builder.serve_connection(io, service);
    let watched = graceful.watch(connection);
    async move {
        let _ = watched.await;
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use axum::routing::get;
    use tokio::io::{AsyncReadExt, AsyncWriteExt};
    use tokio::sync::oneshot;

    /// Far above whatever it bounds: reached only by what would never end.
    const NEVER: Duration = Duration::from_secs(30);

    struct Serving {
        address: SocketAddr,
        stop: oneshot::Sender<()>,
        ended: tokio::task::JoinHandle<std::io::Result<()>>,
    }

    async fn serving(limits: Limits) -> Serving {
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a port");
        let address = listener.local_addr().expect("an address");
        let endless = || axum::body::Body::from_stream(futures_util::stream::repeat_with(|| Ok::<_, std::io::Error>(vec![0_u8; 1 << 16])));
        let router = Router::new().route("/", get(|| async { "here" })).route("/endless", get(move || async move { endless() }));
        let (stop, stopped) = oneshot::channel();
        let ended = tokio::spawn(serve(listener, router, limits, async { stopped.await.unwrap_or(()) }, || {}));
        Serving { address, stop, ended }
    }

    async fn open(to: SocketAddr, words: &str) -> TcpStream {
        let mut stream = TcpStream::connect(to).await.expect("a connection");
        stream.write_all(words.as_bytes()).await.expect("written");
        stream
    }

    /// What comes until the other side closes.
    async fn rest(mut stream: TcpStream) -> String {
        let mut said = Vec::new();
        let read = tokio::time::timeout(NEVER, stream.read_to_end(&mut said)).await;
        assert!(read.is_ok(), "left open");
        String::from_utf8_lossy(&said).into_owned()
    }

    const WHOLE: &str = "GET / HTTP/1.1\r\nHost: here\r\nConnection: close\r\n\r\n";
    const HALF: &str = "GET / HTTP/1.1\r\nHost: he";
    const SHORT: Duration = Duration::from_millis(200);

    #[tokio::test(flavor = "multi_thread")]
    async fn places_taken_by_the_idle_and_the_slow_come_free() {
        let s = serving(Limits { most: 3, header: SHORT, write: SHORT, stop: SHORT }).await;
        // One says nothing, one half a header, one does not read: together they take every place.
        let idle = open(s.address, "").await;
        let half = open(s.address, HALF).await;
        let unread = open(s.address, "GET /endless HTTP/1.1\r\nHost: here\r\n\r\n").await;
        let next = open(s.address, WHOLE).await;
        assert!(rest(next).await.ends_with("here"));
        assert_eq!(rest(idle).await, "");
        assert!(!rest(half).await.contains("200"));
        drop(unread);
    }

    #[tokio::test(flavor = "multi_thread")]
    async fn a_stop_waits_for_nobody_for_long() {
        let s = serving(Limits { most: 9, header: NEVER, write: NEVER, stop: SHORT }).await;
        let held = [open(s.address, "").await, open(s.address, HALF).await];
        let unread = open(s.address, "GET /endless HTTP/1.1\r\nHost: here\r\n\r\n").await;
        assert!(rest(open(s.address, WHOLE).await).await.ends_with("here"));
        s.stop.send(()).expect("it serves");
        let ended = tokio::time::timeout(NEVER / 2, s.ended).await.expect("it ends").expect("no panic");
        assert!(ended.is_ok());
        assert!(TcpStream::connect(s.address).await.is_err());
        drop((held, unread));
    }
}
