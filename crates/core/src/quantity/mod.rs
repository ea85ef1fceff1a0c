//! Quantities at the edge: units people type, bounds of every input, and how far a value is trusted.

pub mod fields;
pub mod provenance;
pub mod units;
mod walk;

pub use provenance::{Provenance, Source, Sources};
pub(crate) use provenance::{WIDEST_SPREAD_PERCENT, check_sources};
pub(crate) use walk::check_numbers;
