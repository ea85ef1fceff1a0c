//! Answers of searches, kept with the conversion they belong to, so that a reload or another device shows them.

use axum::Json;
use axum::extract::State;
use joulethesis_core::error::Error;
use joulethesis_core::matching::{MatchAnswer, Relaxations};
use joulethesis_store::KeptSearch;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use time::OffsetDateTime;
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use uuid::Uuid;

use super::{Answer, Id};
use crate::AppState;
use crate::problem::ProblemDocument;

pub(crate) fn router() -> OpenApiRouter<AppState> {
    OpenApiRouter::new().routes(routes!(kept))
}

/// Longest mark of what was asked for, characters.
const LONGEST_MARK: usize = 100;

/// Which of a conversion's searches it is.
#[derive(Debug, Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum SearchName {
    /// That of the Match stage.
    Main,
    /// The other school of packs, beside it.
    OtherPack,
    /// The best big pack, for the years.
    YearsBig,
    /// The best small pack, for the years.
    YearsSmall,
}

impl SearchName {
    fn word(self) -> &'static str {
        match self {
            Self::Main => "main",
            Self::OtherPack => "other-pack",
            Self::YearsBig => "years-big",
            Self::YearsSmall => "years-small",
        }
    }
}

/// Where an answer is kept.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub(crate) struct Keep {
    conversion: Uuid,
    name: SearchName,
    /// What tells brief, donor and conditions apart from those of another search, up to 100 characters; handed back as it is.
    #[schema(max_length = 100)]
    asked: String,
}

impl Keep {
    pub(super) fn check(&self) -> Result<(), Error> {
        let length = self.asked.chars().count();
        if length <= LONGEST_MARK {
            return Ok(());
        }
        Err(Error::field("keep.asked", format!("{length} characters"), format!("at most {LONGEST_MARK} are accepted")))
    }
}

/// An answer that is kept.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct KeptAnswer {
    /// `main`, `other-pack`, `years-big` or `years-small`.
    name: String,
    /// As it was handed in with the search.
    asked: String,
    #[schema(value_type = MatchAnswer)]
    answer: Value,
    /// What would have to give, where nothing was found.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<Relaxations>)]
    relaxations: Option<Value>,
    #[serde(with = "time::serde::rfc3339")]
    #[schema(value_type = String, format = DateTime)]
    found_at: OffsetDateTime,
}

/// What the last searches of a conversion found, by name.
#[utoipa::path(operation_id = "conversions_searches", get, path = "/api/v1/conversions/{id}/searches",
    params(("id" = Uuid, Path)), responses((status = 200, body = Vec<KeptAnswer>), (status = 404, body = ProblemDocument)))]
async fn kept(State(state): State<AppState>, Id(id): Id) -> Answer<Json<Vec<KeptAnswer>>> {
    let told = |KeptSearch { name, asked, answer, relaxations, found_at }| KeptAnswer { name, asked, answer, relaxations, found_at };
    Ok(Json(state.store.kept_searches(id).await?.into_iter().map(told).collect()))
}

/// Keeps what a search came to. That it cannot be kept is no reason to lose it: it has been told already.
pub(super) async fn keep(state: &AppState, at: Option<Keep>, (answer, relaxations): (MatchAnswer, Option<Relaxations>)) {
    let Some(Keep { conversion, name, asked }) = at else { return };
    let kept = KeptSearch {
        name: name.word().to_owned(),
        asked,
        answer: json!(answer),
        relaxations: relaxations.map(|r| json!(r)),
        found_at: OffsetDateTime::now_utc(),
    };
    if let Err(error) = state.store.keep_search(conversion, kept).await {
        tracing::warn!(%conversion, %error, "the answer of a search is not kept");
    }
}
