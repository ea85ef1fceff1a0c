//! Road load from what people can find out: a coast-down, the fuel it used to burn, or the handbook. The best one is proposed.

mod coast_down;
mod fuel;
mod handbook;
mod log;

use serde::Serialize;

pub use crate::bench::Fitted;
pub use coast_down::{CoastFit, CoastForce, fit};
pub use handbook::{Typical, typical};
pub use log::runs_from_csv;

use crate::document::Document;
use crate::error::Result;
use crate::quantity::Provenance;
use crate::quantity::Sentence;
use crate::trip::Flag;

/// Where a proposal comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum EvidenceKind {
    /// Coast-down runs both ways.
    CoastDown,
    /// Fuel used on the road.
    Fuel,
    /// Typical of the kind of vehicle.
    Handbook,
}

/// A road load to put into the donor.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoadLoadProposal {
    /// Where it comes from.
    pub kind: EvidenceKind,
    /// Drag coefficient times frontal area, m2.
    pub drag_area_m2: Fitted,
    /// Rolling coefficient.
    pub rolling_coefficient: Fitted,
    /// Provenance the values would carry.
    pub provenance: Provenance,
    /// How it was found, in a sentence, with its source.
    pub basis: Sentence,
    /// Whether it is the one to take.
    pub best: bool,
}

/// Everything known of the road load of a donor.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoadLoadEvidence {
    /// Proposals, the best first.
    pub proposals: Vec<RoadLoadProposal>,
    /// The coast-down behind the first one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub coast_down: Option<CoastFit>,
    /// Evidence that was not used, and why.
    pub flags: Vec<Flag>,
}

/// Proposals for the road load of a document's donor from its evidence. A coast-down beats fuel, fuel beats the handbook; a coast-down
/// with flags is still better than either, and wears them.
///
/// # Errors
/// Names the reading of a coast-down that cannot be right.
pub fn road_load(document: &Document) -> Result<RoadLoadEvidence> {
    let donor = &document.donor;
    let (mut proposals, mut flags) = (Vec::new(), Vec::new());
    let coast_down = donor.evidence.coast_down.as_ref().map(|log| fit(log, donor.kind, "donor.evidence.coast_down")).transpose()?;
    if let Some(fit) = &coast_down {
        proposals.push(fit.proposal());
    }
    if let Some(litres) = donor.evidence.fuel_l_per_100km {
        match fuel::proposal(document, litres) {
            Ok(proposal) => proposals.push(proposal),
            Err(flag) => flags.push(flag),
        }
    }
    proposals.push(handbook::proposal(donor.kind));
    proposals[0].best = true;
    Ok(RoadLoadEvidence { proposals, coast_down, flags })
}
