//! Typical road loads by kind of vehicle (handbook ranges, from memory).

use super::{EvidenceKind, Fitted, RoadLoadProposal};
use crate::document::VehicleKind;
use crate::quantity::{Provenance, Sentence, figure, sentence};

/// Ranges typical of a kind of vehicle.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Typical {
    /// Drag coefficient times frontal area, m2.
    pub drag_area_m2: (f64, f64),
    /// Rolling coefficient on tarmac (packed snow for a sled).
    pub rolling: (f64, f64),
}

/// Ranges of a kind of vehicle.
///
/// ```
/// use joulethesis_core::{document::VehicleKind, evidence::typical};
/// let (kart, tug) = (typical(VehicleKind::Kart), typical(VehicleKind::Utility));
/// assert!(kart.drag_area_m2.1 < tug.drag_area_m2.0);
/// ```
#[must_use]
pub fn typical(kind: VehicleKind) -> Typical {
    let t = |drag_area_m2, rolling| Typical { drag_area_m2, rolling };
    match kind {
        VehicleKind::Car => t((0.55, 0.80), (0.010, 0.015)),
        VehicleKind::Van => t((0.80, 1.10), (0.010, 0.015)),
        VehicleKind::OffRoad => t((0.75, 1.10), (0.015, 0.025)),
        VehicleKind::Motorcycle => t((0.30, 0.50), (0.010, 0.018)),
        VehicleKind::Trike => t((0.45, 0.75), (0.010, 0.018)),
        VehicleKind::Kart => t((0.35, 0.60), (0.015, 0.020)),
        VehicleKind::Quad => t((0.50, 0.80), (0.020, 0.030)),
        VehicleKind::Sled => t((0.50, 0.80), (0.050, 0.120)),
        VehicleKind::Utility => t((1.10, 1.80), (0.018, 0.035)),
    }
}

/// Middle of a range with half its width.
pub(super) fn middle((low, high): (f64, f64)) -> Fitted {
    Fitted { value: 0.5 * (low + high), half_width: 0.5 * (high - low) }
}

pub(super) fn proposal(kind: VehicleKind) -> RoadLoadProposal {
    let t = typical(kind);
    RoadLoadProposal {
        kind: EvidenceKind::Handbook,
        drag_area_m2: middle(t.drag_area_m2),
        rolling_coefficient: middle(t.rolling),
        provenance: Provenance::Handbook,
        basis: "middle of what is typical of the kind (handbook ranges, from memory)".into(),
        best: false,
        unusual: Sentence::default(),
    }
}

/// How far beyond the typical range a value may lie and still be believed (judgement).
const BEYOND: f64 = 1.25;

/// What of a proposal is outside all that is typical of a kind, in words; empty where nothing is.
pub(super) fn unusual(kind: VehicleKind, proposal: &RoadLoadProposal) -> Sentence {
    let t = typical(kind);
    let outside = |name: &str, found: Fitted, (low, high): (f64, f64), unit: &'static str, digits: usize| {
        let beyond = found.value + found.half_width < low / BEYOND || found.value - found.half_width > high * BEYOND;
        beyond.then(|| {
            sentence!(
                "{} of {} is outside what is typical of its kind, {} to {}",
                name,
                figure(found.value, unit, digits),
                figure(low, unit, digits),
                figure(high, unit, digits)
            )
        })
    };
    let area = outside("a drag area", proposal.drag_area_m2, t.drag_area_m2, "m²", 2);
    let rolling = outside("a rolling coefficient", proposal.rolling_coefficient, t.rolling, "", 4);
    Sentence::joined(area.into_iter().chain(rolling), "; ")
}
