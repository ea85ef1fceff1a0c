//! The service as tests use it: through its router, and on a port of its own.
#![allow(dead_code)] // each test file uses some of it

use std::net::SocketAddr;

use axum::Router;
use axum::body::Body;
use axum::http::{Method, Request, StatusCode, header};
use http_body_util::BodyExt;
use joulethesis_server::{Settings, app};
use joulethesis_store::testing::TestDatabase;
use serde_json::{Value, json};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::oneshot;
use tower::ServiceExt;

/// The service without a network.
pub(crate) struct Service {
    pub(crate) db: TestDatabase,
    app: Router,
}

pub(crate) struct Answer {
    pub(crate) status: StatusCode,
    pub(crate) headers: axum::http::HeaderMap,
    pub(crate) body: Value,
    pub(crate) bytes: bytes::Bytes,
}

impl Service {
    pub(crate) async fn new() -> Self {
        let db = TestDatabase::new().await;
        let app = app(db.store.clone(), Settings::default()).expect("a service");
        Self { db, app }
    }

    pub(crate) async fn send(&self, request: Request<Body>) -> Answer {
        let response = self.app.clone().oneshot(request).await.expect("infallible");
        let (parts, body) = response.into_parts();
        let bytes = body.collect().await.expect("a body").to_bytes();
        let body = serde_json::from_slice(&bytes).unwrap_or_else(|_| json!(String::from_utf8_lossy(&bytes)));
        Answer { status: parts.status, headers: parts.headers, body, bytes }
    }

    pub(crate) async fn call(&self, method: Method, path: &str, body: Option<Value>) -> Answer {
        let request = Request::builder().method(method).uri(path).header(header::HOST, "127.0.0.1:8080");
        let request = match body {
            Some(body) => request.header(header::CONTENT_TYPE, "application/json").body(Body::from(body.to_string())),
            None => request.body(Body::empty()),
        };
        self.send(request.expect("a request")).await
    }

    /// Sends a text file.
    pub(crate) async fn text(&self, path: &str, body: impl Into<Body>) -> Answer {
        let request = Request::post(path).header(header::HOST, "127.0.0.1:8080").header(header::CONTENT_TYPE, "text/csv");
        self.send(request.body(body.into()).expect("a request")).await
    }
}

/// The service on a port, with a client of one connection a request.
pub(crate) struct Live {
    pub(crate) address: SocketAddr,
    pub(crate) db: TestDatabase,
    stop: oneshot::Sender<()>,
    ended: tokio::task::JoinHandle<std::io::Result<()>>,
}

impl Live {
    pub(crate) async fn new() -> Self {
        let db = TestDatabase::new().await;
        let listener = TcpListener::bind("127.0.0.1:0").await.expect("a port");
        let address = listener.local_addr().expect("an address");
        let (stop, stopped) = oneshot::channel();
        let serving = joulethesis_server::run(listener, db.store.clone(), Settings::default(), async { stopped.await.unwrap_or(()) });
        Self { address, db, stop, ended: tokio::spawn(serving) }
    }

    /// Opens a connection and sends a POST on it, or the beginning of one whose body is longer than what is sent.
    pub(crate) async fn post(&self, client: &str, path: &str, body: &str, missing: usize) -> TcpStream {
        let length = body.len() + missing;
        let head = format!(
            "POST {path} HTTP/1.1\r\nHost: {}\r\nConnection: close\r\nx-joulethesis-client: {client}\r\n\
             Content-Type: application/json\r\nContent-Length: {length}\r\n\r\n",
            self.address
        );
        let mut stream = TcpStream::connect(self.address).await.expect("a connection");
        stream.write_all(head.as_bytes()).await.expect("sent");
        stream.write_all(body.as_bytes()).await.expect("sent");
        stream
    }

    /// Status of an answer, waited for.
    pub(crate) async fn status(mut stream: TcpStream) -> u16 {
        let mut said = Vec::new();
        stream.read_to_end(&mut said).await.expect("an answer");
        let line = String::from_utf8_lossy(&said[..said.len().min(64)]).into_owned();
        line.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or_else(|| panic!("no answer: {line}"))
    }

    /// Tells it to stop, and waits until it has.
    pub(crate) async fn stop(self) {
        self.stop.send(()).expect("it serves");
        self.ended.await.expect("no panic").expect("no error");
    }
}

pub(crate) fn demo(name: &str) -> Value {
    let path = format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR"));
    serde_json::from_slice(&std::fs::read(path).expect("demo file")).expect("JSON")
}
