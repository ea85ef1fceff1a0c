//! Road load from what people can find out: a coast-down, the fuel it used to burn, or the handbook. The best one is proposed. And drives that
//! were measured, held against what is predicted for them.

mod coast_down;
mod drive;
mod drive_causes;
mod fuel;
mod handbook;
mod log;
mod passes;
mod teardown;
mod weighing;

use serde::Serialize;

pub use crate::bench::Fitted;
pub use coast_down::{CoastFit, CoastForce, fit};
pub use drive::{DriveAnswer, DriveCause, DriveVerdict, drive_answers};
pub use handbook::{Typical, typical};
pub use log::runs_from_csv;
pub use passes::{PassResult, passes};
pub use teardown::{TeardownStep, ledger_from_csv, ledger_to_csv, teardown};
pub use weighing::{Weighed, weighed};

use crate::document::Document;
use crate::error::Error;
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
    /// What of it lies outside all that is typical of the kind, in words; then it is never the one to take unasked. Empty: nothing.
    pub unusual: Sentence,
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
/// with flags is still better than either, and wears them. What lies outside all that is typical of the kind is shown and never proposed,
/// and a coast-down that cannot be fitted hides nothing else: it is among the flags, with the reading that cannot be right.
#[must_use]
pub fn road_load(document: &Document) -> RoadLoadEvidence {
    let donor = &document.donor;
    let (mut proposals, mut flags) = (Vec::new(), Vec::new());
    let coast_down = donor.evidence.coast_down.as_ref().and_then(|log| match fit(log, donor.kind, "donor.evidence.coast_down") {
        Ok(fit) => Some(fit),
        Err(Error::Invalid(problems)) => {
            flags.extend(problems.into_iter().map(|p| Flag { at: p.path, message: p.message.into() }));
            None
        }
        Err(other) => {
            flags.push(Flag { at: "donor.evidence.coast_down".to_owned(), message: other.to_string().into() });
            None
        }
    });
    if let Some(fit) = &coast_down {
        proposals.push(fit.proposal());
    }
    let (fuel, unexplained) = fuel::proposal(document);
    proposals.extend(fuel);
    flags.extend(unexplained);
    proposals.push(handbook::proposal(donor.kind));
    for proposal in &mut proposals {
        proposal.unusual = handbook::unusual(donor.kind, proposal);
    }
    if let Some(best) = proposals.iter_mut().find(|p| p.unusual.is_empty()) {
        best.best = true;
    }
    RoadLoadEvidence { proposals, coast_down, flags }
}
