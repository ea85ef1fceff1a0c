//! Guards around every route: known hosts, our own pages alone, plain paths, headers that keep a browser strict.

use std::sync::Arc;

use axum::extract::Request;
use axum::http::header::{self, HeaderName, HeaderValue};
use axum::http::{HeaderMap, Method, StatusCode, Uri};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};

use crate::problem::ProblemDocument;

/// Everything from ourselves and nothing else; no inline script.
///
/// Styles alone may be inline: the interface's style engine writes its rules into a style element at run time.
const POLICY: &str = "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; \
     connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

/// Headers of every answer.
pub(crate) const HEADERS: [(HeaderName, HeaderValue); 6] = [
    (header::CONTENT_SECURITY_POLICY, HeaderValue::from_static(POLICY)),
    (header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff")),
    (header::REFERRER_POLICY, HeaderValue::from_static("no-referrer")),
    (header::X_FRAME_OPTIONS, HeaderValue::from_static("DENY")),
    (HeaderName::from_static("cross-origin-resource-policy"), HeaderValue::from_static("same-origin")),
    (HeaderName::from_static("cross-origin-opener-policy"), HeaderValue::from_static("same-origin")),
];

/// Names of assets carry a hash of their content; everything else is asked for anew.
pub(crate) async fn caching(request: Request, next: Next) -> Response {
    let immutable = request.uri().path().starts_with("/assets/");
    let mut response = next.run(request).await;
    let value = if immutable && response.status().is_success() { "public, max-age=31536000, immutable" } else { "no-cache" };
    response.headers_mut().insert(header::CACHE_CONTROL, HeaderValue::from_static(value));
    response
}

fn text(headers: &HeaderMap, name: HeaderName) -> Option<&str> {
    headers.get(name).and_then(|h| h.to_str().ok())
}

/// Host and port a request is addressed to.
fn authority<'a>(headers: &'a HeaderMap, uri: &'a Uri) -> Option<&'a str> {
    text(headers, header::HOST).or_else(|| uri.authority().map(axum::http::uri::Authority::as_str))
}

fn host_of(authority: &str) -> Option<String> {
    // An IPv6 address stands in brackets before its port.
    let host = match authority.strip_prefix('[') {
        Some(rest) => rest.split(']').next()?,
        None => authority.split(':').next()?,
    };
    Some(host.to_ascii_lowercase())
}

/// Refuses requests addressed to a name that is not ours, which stops a foreign page from reaching the service through DNS.
pub(crate) async fn known_host(hosts: Arc<[String]>, request: Request, next: Next) -> Response {
    let host = authority(request.headers(), request.uri()).and_then(host_of);
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

/// Refuses whatever may change or compute something when a page of another origin asks for it.
pub(crate) async fn own_pages(request: Request, next: Next) -> Response {
    if matches!(*request.method(), Method::GET | Method::HEAD | Method::OPTIONS) {
        return next.run(request).await;
    }
    let headers = request.headers();
    let site = text(headers, HeaderName::from_static("sec-fetch-site"));
    let origin = text(headers, header::ORIGIN);
    let own = authority(headers, request.uri());
    // Programs that are no browser send neither.
    let foreign_site = site.is_some_and(|s| !matches!(s, "same-origin" | "none"));
    let foreign_origin = headers.contains_key(header::ORIGIN)
        && origin.and_then(|o| o.split_once("://")).map(|(_, at)| at.to_ascii_lowercase()) != own.map(str::to_ascii_lowercase);
    if foreign_site || foreign_origin {
        let from = origin.or(site).unwrap_or("another site");
        return ProblemDocument::new(
            StatusCode::FORBIDDEN,
            "Another origin",
            format!("a page of {from} may not ask this of the service; nothing was done"),
        )
        .into_response();
    }
    next.run(request).await
}

/// Answers paths whose escapes are no text, or hide control characters, as what they are: not there.
pub(crate) async fn plain_path(request: Request, next: Next) -> Response {
    let odd =
        percent_encoding::percent_decode_str(request.uri().path()).decode_utf8().map_or(true, |path| path.chars().any(char::is_control));
    if odd {
        return ProblemDocument::new(StatusCode::NOT_FOUND, "Not found", "there is no such resource").into_response();
    }
    next.run(request).await
}
