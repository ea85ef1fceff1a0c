//! Liveness and readiness.

use axum::extract::State;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::Answer;
use crate::AppState;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(health)).routes(routes!(ready))
}

/// The process answers.
#[utoipa::path(operation_id = "health_health", get, path = "/healthz", responses((status = 200, body = String)))]
async fn health() -> &'static str {
    "ok"
}

/// The database answers too, and can be written.
#[utoipa::path(operation_id = "health_ready", get, path = "/readyz", responses((status = 200, body = String), (status = 503, body = crate::problem::ProblemDocument)))]
async fn ready(State(state): State<AppState>) -> Answer<&'static str> {
    state.store.ready().await?;
    Ok("ready")
}
