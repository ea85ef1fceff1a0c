//! The vehicle in use: a week of trips and hours at sockets, and the years it is to serve.

mod mends;
mod odds;
mod season;
mod week;
mod year;
mod years;

use serde::Serialize;

pub use mends::{Mend, mends};
pub use odds::{WeekOdds, week_odds};
pub use week::{Block, BlockKind, Shortfall, ShortfallCause, SocPoint, WeekRun};
pub use years::{Spread, YearOption, YearsAnswer, years};

use crate::cancel::Cancel;
use crate::document::Week;
use crate::error::Result;
use crate::inputs::Counted;
use season::SeasonModel;

/// A usual week in summer and in winter.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WeekAnswer {
    /// Whether the brief says nothing of its week, so that one was assumed.
    pub assumed: bool,
    /// The week.
    pub week: Week,
    /// Summer, then winter.
    pub seasons: Vec<WeekRun>,
}

/// The usual week of a document, hour by hour, on a summer's and on a winter's days.
///
/// It begins on Monday full and is repeated until its end is like its beginning, or a trip cannot be made.
///
/// # Errors
/// As [`crate::estimate::estimate`].
pub fn week(document: &Counted, cancel: &Cancel) -> Result<WeekAnswer> {
    let week = Week::of(&document.brief);
    let seasons = both(document, &week, cancel)?;
    Ok(WeekAnswer { assumed: document.brief.week.is_empty(), week, seasons })
}

fn both(document: &Counted, week: &Week, cancel: &Cancel) -> Result<Vec<WeekRun>> {
    let seasons = [("summer", &document.brief.summer), ("winter", &document.brief.winter)];
    let run = |(name, season)| Ok(week::run(&SeasonModel::of(document, week.trips(), season, cancel)?, week, name));
    let runs = seasons.into_iter().map(run).collect::<Result<Vec<_>>>()?;
    cancel.check()?;
    Ok(runs)
}
