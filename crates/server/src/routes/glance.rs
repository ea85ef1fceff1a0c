//! How each variant of a conversion stands, in a line: what the list of conversions shows.

use axum::Json;
use axum::extract::State;
use joulethesis_core::document::{Document, FORMAT, VERSION};
use joulethesis_core::figures::Verdict;
use joulethesis_core::findings::Severity;
use joulethesis_core::quantity::Sentence;
use joulethesis_core::report::report_until;
use joulethesis_store as store;
use serde::Serialize;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{Answer, Id};
use crate::AppState;
use crate::body::Client;
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(look))
}

/// One variant at a glance.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct VariantGlance {
    label: String,
    /// Whether its chain is a proposal nobody has changed yet.
    proposed: bool,
    /// Each goal with its verdict at the median, in the order of the brief; empty while parts are missing.
    claims: Vec<ClaimGlance>,
    /// Findings that stop it.
    stops: usize,
    /// Why nothing can be told.
    #[serde(skip_serializing_if = "Option::is_none")]
    problem: Option<String>,
}

/// One claim at a glance.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct ClaimGlance {
    name: Sentence,
    verdict: Verdict,
}

/// The claims of each variant of a conversion, judged at the median.
#[utoipa::path(operation_id = "conversions_glance", get, path = "/api/v1/conversions/{id}/glance", params(("id" = uuid::Uuid, Path)),
    responses((status = 200, body = Vec<VariantGlance>), (status = 404, body = ProblemDocument)))]
async fn look(State(state): State<AppState>, Client(client): Client, Id(id): Id) -> Answer<Json<Vec<VariantGlance>>> {
    let store::Conversion { head, designs } = state.store.conversion(id).await?;
    let glances = state
        .work
        .quick(&client, move |cancel| {
            designs
                .into_iter()
                .map(|d| {
                    let proposed = d.design.proposed;
                    let document = Document {
                        format: FORMAT.to_owned(),
                        version: VERSION,
                        name: head.name.clone(),
                        brief: head.brief.clone(),
                        donor: head.donor.clone(),
                        design: d.design,
                    };
                    let report = document.checked().and_then(|checked| report_until(&checked.without_idle_schedules(), cancel));
                    let (claims, stops, problem) = match report {
                        Ok(report) => {
                            let stops = report.findings.iter().filter(|f| f.severity == Severity::Stop).count();
                            (report.claims.into_iter().map(|c| ClaimGlance { name: c.name, verdict: c.verdict }).collect(), stops, None)
                        }
                        Err(error) => (Vec::new(), 0, Some(error.to_string())),
                    };
                    VariantGlance { label: d.label, proposed, claims, stops, problem }
                })
                .collect()
        })
        .await?;
    Ok(Json(glances))
}
