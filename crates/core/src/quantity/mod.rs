//! Quantities at the edge: units people type, bounds of every input, and how far a value is trusted.

mod commas;
pub mod fields;
pub mod provenance;
mod read;
mod root;
mod sentence;
mod text;
pub mod units;
mod walk;

pub(crate) use commas::{Commas, doubtful_comma};
pub use provenance::{Provenance, Source, Sources, is_claimable};
pub(crate) use provenance::{WIDEST_SPREAD_PERCENT, check_sources};
pub(crate) use read::{check_currency, check_name, deserialize, join, within};
pub(crate) use root::{crossing, newton, straight_crossing};
pub(crate) use sentence::sentence;
pub use sentence::{Piece, Sentence, figure, height_m, load_w};
pub(crate) use sentence::{drag_n, electric_kw, machined_mm};
pub use text::parse_json;
pub(crate) use text::{check_texts, delimiter};
pub(crate) use walk::check_numbers;

/// One of two, both worked out: a compiler makes lanes of it.
#[inline(always)]
pub(crate) fn either<T>(first: bool, a: T, b: T) -> T {
    if first { a } else { b }
}

/// The larger of two numbers, neither of them NaN: a plain comparison, cheaper than [`f64::max`] in inner loops.
#[inline(always)]
pub(crate) fn larger(a: f64, b: f64) -> f64 {
    if a > b { a } else { b }
}
