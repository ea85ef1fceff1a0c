//! Headline figures: what each is, at which operating point it holds and how it is evaluated. The estimate, its bands and the search all
//! ask here, so that a figure is the same wherever it is shown.

mod cost;
mod evaluator;
mod figure;
pub(crate) mod performance;
mod set;
pub(crate) mod trips;
mod verdict;

pub use cost::{CostSummary, cost};
pub(crate) use evaluator::{Driven, Evaluator, Further, MORE_CHARGE, OperatingPoint};
pub use figure::Figure;
pub(crate) use figure::{Duty, FigureKind, hill_at, speeds};
pub(crate) use set::FigureSet;
pub use verdict::Verdict;
