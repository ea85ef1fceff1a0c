//! Guards around every route: known hosts, security headers, time limit.

use std::sync::Arc;

use axum::extract::Request;
use axum::http::header::{self, HeaderValue};
use axum::http::{HeaderMap, StatusCode, Uri};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};

use crate::LONGEST_REQUEST;
use crate::problem::ProblemDocument;

/// Everything from ourselves and nothing else; no inline script.
///
/// Styles alone may be inline: the interface's style engine writes its rules into a style element at run time.
const POLICY: &str = "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; \
     connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

fn host_of(headers: &HeaderMap, uri: &Uri) -> Option<String> {
    let text =
        headers.get(header::HOST).and_then(|h| h.to_str().ok()).or_else(|| uri.authority().map(axum::http::uri::Authority::as_str))?;
    // An IPv6 address stands in brackets before its port.
    let host = match text.strip_prefix('[') {
        Some(rest) => rest.split(']').next()?,
        None => text.split(':').next()?,
    };
    Some(host.to_ascii_lowercase())
}

/// Refuses requests addressed to a name that is not ours, which stops a foreign page from reaching the service through DNS.
pub(crate) async fn known_host(hosts: Arc<[String]>, request: Request, next: Next) -> Response {
    let host = host_of(request.headers(), request.uri());
    let known = host.as_deref().is_some_and(|h| ["127.0.0.1", "localhost", "::1"].contains(&h) || hosts.iter().any(|own| own == h));
    if known {
        return next.run(request).await;
    }
    ProblemDocument::new(
        StatusCode::MISDIRECTED_REQUEST,
        "Unknown host",
        format!("this service does not answer for \"{}\"; start it with --host to allow a name", host.unwrap_or_default()),
    )
    .into_response()
}

/// Adds the headers that keep a browser strict.
pub(crate) async fn security_headers(request: Request, next: Next) -> Response {
    let immutable = request.uri().path().starts_with("/assets/");
    let mut response = next.run(request).await;
    let ok = response.status().is_success();
    let headers = response.headers_mut();
    for (name, value) in [
        (header::CONTENT_SECURITY_POLICY, POLICY),
        (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
        (header::REFERRER_POLICY, "no-referrer"),
        (header::X_FRAME_OPTIONS, "DENY"),
        // Names of assets carry a hash of their content; everything else is asked for anew.
        (header::CACHE_CONTROL, if immutable && ok { "public, max-age=31536000, immutable" } else { "no-cache" }),
    ] {
        headers.insert(name, HeaderValue::from_static(value));
    }
    response
}

/// Ends a request that takes too long.
pub(crate) async fn time_limit(request: Request, next: Next) -> Response {
    match tokio::time::timeout(LONGEST_REQUEST, next.run(request)).await {
        Ok(response) => response,
        Err(_) => ProblemDocument::new(
            StatusCode::GATEWAY_TIMEOUT,
            "Took too long",
            format!("the request was stopped after {} s", LONGEST_REQUEST.as_secs()),
        )
        .into_response(),
    }
}
