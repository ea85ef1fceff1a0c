//! All routes and their OpenAPI description.

use axum::Router;
use axum::http::StatusCode;
use axum::routing::any;
use utoipa::OpenApi;
use utoipa::openapi::{RefOr, Schema};
use utoipa_axum::router::OpenApiRouter;

use crate::AppState;
use crate::problem::ProblemDocument;
use crate::routes::{
    candidates, conversions, designs, electrics, estimate, glance, health, kept_searches, layout, library, matching, measure, photographs,
    proposal, search_stream, study, usage,
};

#[derive(OpenApi)]
#[openapi(info(
    title = "Joulethesis",
    version = "1",
    description = "Conversions, designs and library parts, and the computation on them. Errors are RFC 9457 problem documents."
))]
struct Description;

fn described() -> OpenApiRouter<AppState> {
    OpenApiRouter::with_openapi(Description::openapi())
        .merge(health::router())
        .merge(conversions::router())
        .merge(designs::router())
        .merge(glance::router())
        .merge(library::router())
        .merge(kept_searches::router())
        .merge(matching::router())
        .merge(search_stream::router())
        .merge(proposal::router())
        .merge(estimate::router())
        .merge(study::router())
        .merge(usage::router())
        .merge(electrics::router())
        .merge(layout::router())
        .merge(candidates::router())
        .merge(measure::router())
        .merge(photographs::router())
}

/// Records whose every key has a default; the description would otherwise call the keys required.
const DEFAULTED: [&str; 23] = [
    "Brief",
    "Site",
    "Week",
    "Years",
    "Performance",
    "Driveline",
    "Design",
    "Wiring",
    "Regeneration",
    "LowVoltage",
    "Electrics",
    "FittedComponents",
    "Weather",
    "Evidence",
    "MatchRequest",
    "Chosen",
    "Question",
    "Shortlist",
    "Condition",
    "Mechanics",
    "Retention",
    "Network",
    "Underlays",
];

/// The OpenAPI description of every route.
#[must_use]
pub fn open_api() -> utoipa::openapi::OpenApi {
    let mut description = described().into_openapi();
    if let Some(components) = &mut description.components {
        for name in DEFAULTED {
            if let Some(RefOr::T(Schema::Object(object))) = components.schemas.get_mut(name) {
                object.required.clear();
            }
        }
    }
    description
}

/// The routes, with a 404 problem for anything else under `/api`.
pub(crate) fn router(state: AppState) -> Router {
    let (router, _) = described().split_for_parts();
    router
        .route("/api/v1/openapi.json", axum::routing::get(|| async { axum::Json(open_api()) }))
        .route("/api/{*rest}", any(|| async { ProblemDocument::new(StatusCode::NOT_FOUND, "Not found", "there is no such resource") }))
        .with_state(state)
}
