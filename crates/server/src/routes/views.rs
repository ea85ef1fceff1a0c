//! What several routes answer with: stored conversions and their designs.

use joulethesis_core::document::{Brief, Design, Donor, Shortlist};
use joulethesis_core::error::Problem;
use joulethesis_core::quantity::units::UnitSystem;
use joulethesis_store as store;
use serde::Serialize;
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;

/// A stored design.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct DesignView {
    id: Uuid,
    label: String,
    version: i32,
    design: Design,
    /// Bounds that what is stored breaks, to be mended.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    problems: Vec<Problem>,
}

impl From<store::DesignRecord> for DesignView {
    fn from(d: store::DesignRecord) -> Self {
        Self { id: d.id, label: d.label, version: d.version, design: d.design, problems: d.problems }
    }
}

/// A conversion without its designs.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct ConversionHead {
    id: Uuid,
    name: String,
    notes: String,
    units: UnitSystem,
    brief: Brief,
    donor: Donor,
    shortlist: Shortlist,
    version: i32,
    #[serde(with = "time::serde::rfc3339")]
    #[schema(value_type = String, format = DateTime)]
    updated_at: OffsetDateTime,
    /// Bounds that what is stored breaks, to be mended.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    problems: Vec<Problem>,
}

impl From<store::ConversionHead> for ConversionHead {
    fn from(c: store::ConversionHead) -> Self {
        Self {
            id: c.id,
            name: c.name,
            notes: c.notes,
            units: c.units,
            brief: c.brief,
            donor: c.donor,
            shortlist: c.shortlist,
            version: c.version,
            updated_at: c.updated_at,
            problems: c.problems,
        }
    }
}

/// A conversion with its designs.
#[derive(Debug, Serialize, ToSchema)]
pub(crate) struct ConversionView {
    #[serde(flatten)]
    head: ConversionHead,
    designs: Vec<DesignView>,
}

impl From<store::Conversion> for ConversionView {
    fn from(c: store::Conversion) -> Self {
        Self { head: c.head.into(), designs: c.designs.into_iter().map(Into::into).collect() }
    }
}
