//! Where every mass of a design sits, what axles and wheels carry, and what they may. Stateless.

use axum::Json;
use axum::extract::State;
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::Document;
use joulethesis_core::error::Error;
use joulethesis_core::layout::{BayOffer, LayoutSheet, PackSplits, layout, offers, pack_splits};
use joulethesis_core::library::Part;
use joulethesis_core::schematic::{MechanicsSheet, Plan, account_csv, layout_plan, mechanics, plate_plan};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::{Answer, library};
use crate::AppState;
use crate::body::{Body, Client, DocumentBody, document};
use crate::drawings::dxf;
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(sheet))
        .routes(routes!(mechanical))
        .routes(routes!(bay))
        .routes(routes!(splits))
        .routes(routes!(files))
}

/// The layout of a design: every mass as a block at its place, loads of axles and wheels from the donor as it stood to the laden vehicle,
/// how far it leans before it tips, and the ratings that are known.
#[utoipa::path(operation_id = "layout_sheet", post, path = "/api/v1/layout", request_body = Document,
    responses((status = 200, body = LayoutSheet), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn sheet(State(state): State<AppState>, Client(client): Client, DocumentBody(document): DocumentBody) -> Answer<Json<LayoutSheet>> {
    Ok(Json(state.work.quick(&client, move |_| layout(&document)).await?))
}

/// What turns and what holds: chain, shaft, key and coupler at the greatest torque, and the bolts of every mount.
#[utoipa::path(operation_id = "layout_mechanics", post, path = "/api/v1/mechanics", request_body = Document,
    responses((status = 200, body = MechanicsSheet), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn mechanical(
    State(state): State<AppState>,
    Client(client): Client,
    DocumentBody(document): DocumentBody,
) -> Answer<Json<MechanicsSheet>> {
    Ok(Json(state.work.quick(&client, move |cancel| mechanics(&document, cancel)).await??))
}

/// A bay to be filled.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct BayRequest {
    /// The design document.
    #[schema(value_type = joulethesis_core::document::Document)]
    document: Value,
    /// Which of the donor's bays, counted from 0.
    bay: usize,
}

/// What of every module of the library fits into a bay, the most energy first.
#[utoipa::path(operation_id = "layout_bay", post, path = "/api/v1/layout/bay", request_body = BayRequest,
    responses((status = 200, body = Vec<BayOffer>), (status = 422, body = ProblemDocument)))]
async fn bay(State(state): State<AppState>, Client(client): Client, Body(asked): Body<BayRequest>) -> Answer<Json<Vec<BayOffer>>> {
    let document = document(&state, &client, asked.document).await?;
    let parts = library::in_use(&state).await?;
    let work = move |cancel: &Cancel| {
        let bays = &document.donor.bays;
        let Some(bay) = bays.get(asked.bay) else {
            return Err(Error::field("bay", asked.bay, format!("the donor has {} bays, counted from 0", bays.len())));
        };
        let modules = parts.iter().filter_map(|p| match p {
            Part::Module(module) => Some(module),
            _ => None,
        });
        offers(bay, modules, cancel)
    };
    Ok(Json(state.work.long(&client, work).await??))
}

/// A pack to be spread over the bays.
#[derive(Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
struct SplitRequest {
    /// The design document.
    #[schema(value_type = joulethesis_core::document::Document)]
    document: Value,
    /// Modules in each bay, of a split to be looked at by itself. Absent: those nearest to the donor's balance.
    #[serde(default)]
    modules: Option<Vec<u32>>,
    /// Places in the document of other blocks that may be stood in a bay: controllers, charger, components, what else is put in. Counts for
    /// nothing where the split is given.
    #[serde(default)]
    others: Vec<String>,
}

/// Ways to spread the pack over the bays, those that meet every rating and come nearest to the donor's balance first.
#[utoipa::path(operation_id = "layout_splits", post, path = "/api/v1/layout/splits", request_body = SplitRequest,
    responses((status = 200, body = PackSplits), (status = 422, body = ProblemDocument)))]
async fn splits(State(state): State<AppState>, Client(client): Client, Body(asked): Body<SplitRequest>) -> Answer<Json<PackSplits>> {
    let document = document(&state, &client, asked.document).await?;
    let work = move |cancel: &Cancel| pack_splits(&document, asked.modules.as_deref(), &asked.others, cancel);
    Ok(Json(state.work.long(&client, work).await??))
}

/// A drawing to scale, mm.
#[derive(Serialize, ToSchema)]
struct DrawingFiles {
    /// As SVG that prints at one to one.
    svg: String,
    /// As DXF, release 2000.
    dxf: String,
}

/// The layout as files for the workshop.
#[derive(Serialize, ToSchema)]
struct LayoutFiles {
    /// The mass account as CSV: every block, and the vehicle from donor to laden.
    account_csv: String,
    /// The vehicle from above and from the side with bays and blocks.
    plan: DrawingFiles,
    /// The adapter plate; absent without one.
    #[serde(skip_serializing_if = "Option::is_none")]
    plate: Option<DrawingFiles>,
}

/// The layout as files for the workshop: mass account, plan of the vehicle, adapter plate.
#[utoipa::path(operation_id = "layout_files", post, path = "/api/v1/layout/files", request_body = Document,
    responses((status = 200, body = LayoutFiles), (status = 422, body = ProblemDocument)))]
async fn files(State(state): State<AppState>, Client(client): Client, DocumentBody(document): DocumentBody) -> Answer<Json<LayoutFiles>> {
    let files = move |_: &Cancel| {
        let both = |plan: &Plan| dxf(plan).map(|dxf| DrawingFiles { svg: plan.svg(), dxf });
        let plate = plate_plan(&document).as_ref().map(both).transpose()?;
        Ok::<_, ProblemDocument>(LayoutFiles { account_csv: account_csv(&document), plan: both(&layout_plan(&document))?, plate })
    };
    Ok(Json(state.work.quick(&client, files).await??))
}
