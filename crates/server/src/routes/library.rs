//! Library parts: the built-in ones, and the workspace's own; files of them in and out.

use axum::Json;
use axum::extract::{Query, State};
use axum::http::{StatusCode, header};
use axum::response::IntoResponse;
use joulethesis_core::error::{Error, Problem};
use joulethesis_core::library::{Implausible, Part, builtin, exchange, implausible, look_alikes};
use joulethesis_store as store;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::{Answer, Id, Seen, SeenVersion};
use crate::AppState;
use crate::body::{Body, Client, TextFile};
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(list, add))
        .routes(routes!(change, remove))
        .routes(routes!(retire))
        .routes(routes!(remove_many))
        .routes(routes!(import))
        .routes(routes!(export))
}

/// A library part.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub(crate) struct PartView {
    /// Id of an own part; absent for a built-in one.
    #[serde(skip_serializing_if = "Option::is_none")]
    id: Option<Uuid>,
    /// Version of an own part; absent for a built-in one.
    #[serde(skip_serializing_if = "Option::is_none")]
    version: Option<i32>,
    /// Whether it is no longer bought and left out of searches.
    retired: bool,
    /// Ratings far outside the class.
    implausible: Vec<Implausible>,
    /// Names of parts that seem to be the same one.
    look_alikes: Vec<String>,
    /// The record.
    record: Part,
}

impl From<store::PartRecord> for PartView {
    fn from(p: store::PartRecord) -> Self {
        let implausible = implausible(&p.part);
        Self { id: Some(p.id), version: Some(p.version), retired: p.retired, implausible, look_alikes: Vec::new(), record: p.part }
    }
}

/// A change of an own part.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct PartChange {
    /// Version the writer saw.
    version: i32,
    #[schema(value_type = Part)]
    record: Value,
}

/// Whether an own part is still bought.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Retirement {
    /// Version the writer saw.
    version: i32,
    retired: bool,
}

/// What happens to a part whose name an own part has already.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub(crate) enum SameName {
    /// Nothing is taken over.
    #[default]
    Refuse,
    /// The own part is replaced.
    Replace,
}

/// How to read a library file.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct ImportWay {
    /// What happens to a part whose name an own part has already.
    #[serde(default)]
    #[param(inline)]
    same_name: SameName,
}

/// What a library file came to.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct Imported {
    /// New parts.
    added: usize,
    /// Own parts replaced.
    replaced: usize,
    /// Names of the parts taken over whose ratings are doubted.
    doubted: Vec<String>,
}

/// Form of a library file.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub(crate) enum FileForm {
    /// Comma-separated text.
    #[default]
    Csv,
    /// JSON.
    Json,
}

/// Which parts to write.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub(crate) struct ExportWay {
    /// Form of the file.
    #[serde(default)]
    #[param(inline)]
    form: FileForm,
    /// Own parts only; otherwise the built-in ones too.
    #[serde(default)]
    own: bool,
}

/// An own part that cannot be computed with until it is mended.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub(crate) struct UnreadablePartView {
    id: Uuid,
    version: i32,
    /// Kind it is stored under.
    kind: String,
    /// Name it is stored under.
    name: String,
    /// What is wrong with it.
    problems: Vec<Problem>,
    /// What is stored, as it is.
    #[schema(value_type = Object)]
    record: Value,
}

/// The library.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct LibraryView {
    /// Own parts first, then the built-in ones.
    parts: Vec<PartView>,
    /// Own parts that cannot be read; all others are served regardless.
    unreadable: Vec<UnreadablePartView>,
}

impl From<store::UnreadablePart> for UnreadablePartView {
    fn from(p: store::UnreadablePart) -> Self {
        Self { id: p.id, version: p.version, kind: p.kind, name: p.name, problems: p.problems, record: p.record }
    }
}

/// Every part there is: own ones first. An own part takes the place of a built-in one of its kind and name.
pub(crate) async fn all(state: &AppState) -> Answer<Vec<PartView>> {
    let (own, _) = state.store.parts().await?;
    Ok(with_shipped(own))
}

fn with_shipped(own: Vec<store::PartRecord>) -> Vec<PartView> {
    let is_own = |p: &&Part| own.iter().any(|o| o.part.kind() == p.kind() && o.part.name() == p.name());
    let shipped: Vec<PartView> = builtin()
        .iter()
        .filter(|p| !is_own(p))
        .map(|p| PartView { id: None, version: None, retired: false, implausible: Vec::new(), look_alikes: Vec::new(), record: p.clone() })
        .collect();
    own.into_iter().map(PartView::from).chain(shipped).collect()
}

/// Records of every part, retired ones too.
pub(crate) async fn records(state: &AppState) -> Answer<Vec<Part>> {
    Ok(all(state).await?.into_iter().map(|p| p.record).collect())
}

/// Records of the parts that can be bought.
pub(crate) async fn in_use(state: &AppState) -> Answer<Vec<Part>> {
    Ok(all(state).await?.into_iter().filter(|p| !p.retired).map(|p| p.record).collect())
}

impl PartView {
    pub(crate) fn record(&self) -> &Part {
        &self.record
    }

    pub(crate) fn id(&self) -> Option<Uuid> {
        self.id
    }

    pub(crate) fn is_retired(&self) -> bool {
        self.retired
    }
}

/// Every part, and own ones that need mending.
#[utoipa::path(operation_id = "library_list", get, path = "/api/v1/library", responses((status = 200, body = LibraryView)))]
async fn list(State(state): State<AppState>, Client(client): Client) -> Answer<Json<LibraryView>> {
    let (own, unreadable) = state.store.parts().await?;
    let work = move |_: &_| {
        let mut parts = with_shipped(own);
        let records: Vec<Part> = parts.iter().map(|p| p.record.clone()).collect();
        for (part, names) in parts.iter_mut().zip(look_alikes(&records)) {
            part.look_alikes = names;
        }
        parts
    };
    let parts = state.work.quick(&client, work).await?;
    Ok(Json(LibraryView { parts, unreadable: unreadable.into_iter().map(Into::into).collect() }))
}

/// Adds an own part.
#[utoipa::path(operation_id = "library_add", post, path = "/api/v1/library", request_body = Part,
    responses((status = 201, body = PartView), (status = 409, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn add(State(state): State<AppState>, Body(record): Body<Value>) -> Answer<(StatusCode, Json<PartView>)> {
    Ok((StatusCode::CREATED, Json(state.store.add_part(&record).await?.into())))
}

/// Changes an own part. Saved designs keep the record they were made with.
#[utoipa::path(operation_id = "library_change", put, path = "/api/v1/library/{id}", params(("id" = Uuid, Path)), request_body = PartChange,
    responses((status = 200, body = PartView), (status = 404, body = ProblemDocument), (status = 409, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn change(State(state): State<AppState>, Id(id): Id, Body(change): Body<PartChange>) -> Answer<Json<PartView>> {
    Ok(Json(state.store.change_part(id, change.version, &change.record).await?.into()))
}

/// Removes an own part.
#[utoipa::path(operation_id = "library_remove", delete, path = "/api/v1/library/{id}", params(("id" = Uuid, Path), Seen),
    responses((status = 204), (status = 404, body = ProblemDocument), (status = 409, body = ProblemDocument)))]
async fn remove(State(state): State<AppState>, Id(id): Id, SeenVersion(version): SeenVersion) -> Answer<StatusCode> {
    state.store.remove_part(id, version).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Most parts that are removed together.
const MOST_REMOVED: usize = 20_000;

/// Own parts to be removed together.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Removal {
    parts: Vec<SeenPart>,
}

/// An own part as the writer saw it.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct SeenPart {
    id: Uuid,
    /// Version the writer saw.
    version: i32,
}

/// Removes own parts together, all or none; how many.
#[utoipa::path(operation_id = "library_remove_many", post, path = "/api/v1/library/removal", request_body = Removal,
    responses((status = 200, body = usize), (status = 404, body = ProblemDocument), (status = 409, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn remove_many(State(state): State<AppState>, Body(removal): Body<Removal>) -> Answer<Json<usize>> {
    if removal.parts.len() > MOST_REMOVED {
        let found = format!("{} parts", removal.parts.len());
        return Err(Error::Invalid(vec![Problem::new("parts", found, format!("at most {MOST_REMOVED} are accepted"))]).into());
    }
    let mut seen: Vec<(Uuid, i32)> = removal.parts.into_iter().map(|p| (p.id, p.version)).collect();
    seen.sort_unstable();
    seen.dedup();
    Ok(Json(state.store.remove_parts(seen).await?))
}

/// Retires an own part, or takes it up again; the new version is returned.
#[utoipa::path(operation_id = "library_retire", post, path = "/api/v1/library/{id}/retired", params(("id" = Uuid, Path)),
    request_body = Retirement, responses((status = 200, body = i32), (status = 404, body = ProblemDocument), (status = 409, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn retire(State(state): State<AppState>, Id(id): Id, Body(change): Body<Retirement>) -> Answer<Json<i32>> {
    Ok(Json(state.store.retire_part(id, change.version, change.retired).await?))
}

/// Reads a library file in CSV or JSON into the own parts, all or nothing.
#[utoipa::path(operation_id = "library_import", post, path = "/api/v1/library/import", params(ImportWay),
    request_body(content((String = "text/csv"), (String = "application/json"))),
    responses((status = 200, body = Imported), (status = 400, body = ProblemDocument), (status = 422, body = ProblemDocument)))]
async fn import(
    State(state): State<AppState>,
    Client(client): Client,
    Query(way): Query<ImportWay>,
    TextFile(text): TextFile,
) -> Answer<Json<Imported>> {
    let read = move |_: &_| {
        let parts = if text.trim_start().starts_with(['{', '[']) { exchange::from_json(&text)? } else { exchange::from_csv(&text)? };
        let doubted: Vec<String> = parts.iter().filter(|p| !implausible(p).is_empty()).map(|p| p.name().to_owned()).collect();
        Ok::<_, Error>((parts, doubted))
    };
    let (parts, doubted) = state.work.quick(&client, read).await??;
    let (added, replaced) = state.store.import_parts(parts, way.same_name == SameName::Replace).await?;
    Ok(Json(Imported { added, replaced, doubted }))
}

/// Writes parts as a file that imports again identically.
#[utoipa::path(operation_id = "library_export", get, path = "/api/v1/library/export", params(ExportWay),
    responses((status = 200, body = String, content_type = "text/csv")))]
async fn export(State(state): State<AppState>, Query(way): Query<ExportWay>) -> Answer<impl IntoResponse> {
    let parts: Vec<Part> = all(&state).await?.into_iter().filter(|p| !way.own || p.id.is_some()).map(|p| p.record).collect();
    let (kind, name, text) = match way.form {
        FileForm::Csv => ("text/csv; charset=utf-8", "library.csv", exchange::to_csv(&parts)),
        FileForm::Json => ("application/json", "library.json", exchange::to_json(&parts)),
    };
    let headers = [(header::CONTENT_TYPE, kind.to_owned()), (header::CONTENT_DISPOSITION, format!("attachment; filename=\"{name}\""))];
    Ok((headers, text))
}
