//! Conversions.

use axum::Json;
use axum::extract::State;
use axum::http::StatusCode;
use joulethesis_core::document::{Answers, Brief, CONVERSION_FORMAT, ConversionFile, Document, Donor, Shortlist, VehicleKind};
use joulethesis_core::quantity::units::UnitSystem;
use joulethesis_store as store;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::OffsetDateTime;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::views::{ConversionHead, ConversionView};
use super::{Answer, Id, Seen, SeenVersion, proposal};
use crate::AppState;
use crate::body::{Body, Client};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(list, add)).routes(routes!(import)).routes(routes!(export)).routes(routes!(read, change, remove))
}

/// A line of the list.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct ConversionSummary {
    id: Uuid,
    name: String,
    notes: String,
    kind: String,
    /// Units it is shown in.
    units: UnitSystem,
    designs: Vec<String>,
    goals: usize,
    #[serde(with = "time::serde::rfc3339")]
    #[schema(value_type = String, format = DateTime)]
    updated_at: OffsetDateTime,
}

/// A new conversion, filled with handbook values of its kind.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct NewConversion {
    name: String,
    kind: VehicleKind,
    #[serde(default)]
    units: UnitSystem,
    /// Answers to the first questions, with which a chain is proposed. Absent: no parts.
    #[serde(default)]
    #[schema(value_type = Option<Answers>)]
    answers: Option<Value>,
}

/// A change of a conversion.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct ConversionChange {
    /// Version the writer saw.
    version: i32,
    name: String,
    notes: String,
    units: UnitSystem,
    #[schema(value_type = Brief)]
    brief: Value,
    #[schema(value_type = Donor)]
    donor: Value,
    #[schema(value_type = Shortlist)]
    shortlist: Value,
}

/// All conversions, the last changed first.
#[utoipa::path(operation_id = "conversions_list", get, path = "/api/v1/conversions", responses((status = 200, body = Vec<ConversionSummary>)))]
async fn list(State(state): State<AppState>) -> Answer<Json<Vec<ConversionSummary>>> {
    let all = state.store.conversions().await?;
    Ok(Json(
        all.into_iter()
            .map(|c| ConversionSummary {
                id: c.id,
                name: c.name,
                notes: c.notes,
                kind: c.kind,
                units: c.units,
                designs: c.designs,
                goals: c.goals,
                updated_at: c.updated_at,
            })
            .collect(),
    ))
}

/// Adds a conversion filled with handbook values of its kind; with answers, also with a proposed chain.
#[utoipa::path(operation_id = "conversions_add", post, path = "/api/v1/conversions", request_body = NewConversion,
    responses((status = 201, body = ConversionView), (status = 422, body = ProblemDocument)))]
async fn add(
    State(state): State<AppState>,
    Client(client): Client,
    Body(new): Body<NewConversion>,
) -> Answer<(StatusCode, Json<ConversionView>)> {
    let answers = new.answers.as_ref().map(Answers::from_value).transpose()?;
    let mut document = Document::starter(new.name.trim(), new.kind, &answers.unwrap_or_default()).checked()?;
    if answers.is_some() {
        // Where nobody is free to look for a chain, the conversion begins without one.
        let proposed = match proposal::of(&state, &client, document.clone(), &[]).await {
            Err(busy) if busy.status == StatusCode::SERVICE_UNAVAILABLE.as_u16() => None,
            proposed => proposed?,
        };
        if let Some(proposed) = proposed {
            document = document.with(|d| d.design = proposed.design)?;
        }
    }
    let document = document.into_written();
    let new = store::NewConversion {
        name: new.name,
        notes: String::new(),
        units: new.units,
        brief: document.brief,
        donor: document.donor,
        shortlist: Shortlist::default(),
        variants: vec![store::NewVariant { label: None, design: document.design }],
    };
    Ok((StatusCode::CREATED, Json(state.store.add_conversion(new).await?.into())))
}

/// Adds a conversion from a file: a whole conversion with its variants, or a design document, which makes one with a single variant.
#[utoipa::path(operation_id = "conversions_import", post, path = "/api/v1/conversions/import",
    request_body(content = Object, description = "A whole conversion (`joulethesis-conversion`), or a design document"),
    responses((status = 201, body = ConversionView), (status = 422, body = ProblemDocument)))]
async fn import(
    State(state): State<AppState>,
    Client(client): Client,
    Body(value): Body<Value>,
) -> Answer<(StatusCode, Json<ConversionView>)> {
    let read = move |_: &_| {
        if value["format"] == CONVERSION_FORMAT {
            return ConversionFile::from_value(&value).map(store::NewConversion::from);
        }
        let document = Document::from_value(&value)?.into_written();
        Ok(store::NewConversion {
            name: document.name,
            notes: String::new(),
            units: UnitSystem::default(),
            brief: document.brief,
            donor: document.donor,
            shortlist: Shortlist::default(),
            variants: vec![store::NewVariant { label: None, design: document.design }],
        })
    };
    let new = state.work.quick(&client, read).await??;
    Ok((StatusCode::CREATED, Json(state.store.add_conversion(new).await?.into())))
}

/// A whole conversion as a file that imports again identically.
#[utoipa::path(operation_id = "conversions_export", get, path = "/api/v1/conversions/{id}/file", params(("id" = Uuid, Path)),
    responses((status = 200, body = ConversionFile), (status = 404, body = ProblemDocument)))]
async fn export(State(state): State<AppState>, Id(id): Id) -> Answer<Json<ConversionFile>> {
    Ok(Json(state.store.export_conversion(id).await?))
}

/// One conversion with its designs.
#[utoipa::path(operation_id = "conversions_read", get, path = "/api/v1/conversions/{id}", params(("id" = Uuid, Path)),
    responses((status = 200, body = ConversionView), (status = 404, body = ProblemDocument)))]
async fn read(State(state): State<AppState>, Id(id): Id) -> Answer<Json<ConversionView>> {
    Ok(Json(state.store.conversion(id).await?.into()))
}

/// Changes a conversion that still has the version the writer saw.
#[utoipa::path(operation_id = "conversions_change", put, path = "/api/v1/conversions/{id}", params(("id" = Uuid, Path)), request_body = ConversionChange,
    responses((status = 200, body = ConversionHead), (status = 404, body = ProblemDocument), (status = 409, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn change(State(state): State<AppState>, Id(id): Id, Body(change): Body<ConversionChange>) -> Answer<Json<ConversionHead>> {
    let change = store::ConversionChange {
        version: change.version,
        name: change.name,
        notes: change.notes,
        units: change.units,
        brief: change.brief,
        donor: change.donor,
        shortlist: change.shortlist,
    };
    Ok(Json(state.store.change_conversion(id, change).await?.into()))
}

/// Removes a conversion that still has the version the caller saw.
#[utoipa::path(operation_id = "conversions_remove", delete, path = "/api/v1/conversions/{id}", params(("id" = Uuid, Path), Seen),
    responses((status = 204), (status = 404, body = ProblemDocument), (status = 409, body = ProblemDocument)))]
async fn remove(State(state): State<AppState>, Id(id): Id, SeenVersion(version): SeenVersion) -> Answer<StatusCode> {
    state.store.remove_conversion(id, version).await?;
    Ok(StatusCode::NO_CONTENT)
}
