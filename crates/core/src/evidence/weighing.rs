//! Mass, balance and height of the centre of gravity from scales.

use serde::Serialize;

use crate::document::{Document, LiftedAxle};
use crate::quantity::{Sentence, figure, sentence};
use crate::vehicle::{Stance, radius_m};

/// What scales tell of a donor.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Weighed {
    /// Kerb mass, kg.
    pub mass_kg: f64,
    /// Share on the front axle.
    pub front_share: f64,
    /// Centre of gravity right of the middle, m; where the wheels of every pair were weighed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub right_m: Option<f64>,
    /// Share of the mass on one diagonal, front left and rear right: a half where springs are even.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub diagonal_share: Option<f64>,
    /// Height of the centre of gravity, m; where it was weighed with an axle lifted.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cg_height_m: Option<f64>,
    /// By how much each kilogram that the second weighing is off moves that height, m.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub height_per_kg_m: Option<f64>,
    /// What cannot be, or hardly, with both figures.
    pub doubts: Vec<Sentence>,
}

/// Least lift that tells a height, as the sine of the slope: below it a kilogram of the scales is centimetres of height (common practice).
const LEAST_SINE: f64 = 0.1;

/// What the weighing of a donor tells; nothing before both axles have been weighed.
///
/// # Source
/// Height by lifting an axle, `h = r + dW L / (W tan theta)` (ISO 10392, from memory); statics otherwise.
#[must_use]
pub fn weighed(document: &Document) -> Option<Weighed> {
    let donor = &document.donor;
    let w = donor.evidence.weighing.as_ref()?;
    let axles_kg = w.axles_kg()?;
    let mass_kg = axles_kg[0] + axles_kg[1];
    let stance = Stance::of(document);
    let mut doubts = Vec::new();
    let corners = [w.front_left_kg, w.front_right_kg, w.rear_left_kg, w.rear_right_kg];
    // A single wheel stands in the middle and leans to no side.
    let moment = |i: usize| {
        let track_m = stance.tracks_m[i];
        if track_m > 0.0 { corners[2 * i].zip(corners[2 * i + 1]).map(|(left, right)| 0.5 * (right - left) * track_m) } else { Some(0.0) }
    };
    let paired = stance.tracks_m.iter().any(|t| *t > 0.0);
    let right_m = moment(0).zip(moment(1)).filter(|_| paired).map(|(front, rear)| (front + rear) / mass_kg);
    let diagonal_share = match corners {
        [Some(fl), Some(_), Some(_), Some(rr)] => Some((fl + rr) / mass_kg),
        _ => None,
    };
    for (whole, left, right) in [(w.front_kg, corners[0], corners[1]), (w.rear_kg, corners[2], corners[3])] {
        if let (Some(whole), Some(sum)) = (whole, left.zip(right).map(|(l, r)| l + r))
            && (whole - sum).abs() > 0.02 * whole
        {
            doubts.push(sentence!(
                "an axle weighed {} as a whole and {} by its wheels; the wheels count",
                figure(whole, "kg", 0),
                figure(sum, "kg", 0)
            ));
        }
    }
    let mut height = None;
    if let (Some(lifted), Some(by_m), Some(then_kg)) = (w.lifted, w.lifted_by_m, w.other_axle_kg) {
        let sine = by_m / stance.wheelbase_m;
        let level_kg = axles_kg[usize::from(lifted == LiftedAxle::Front)];
        if sine >= 1.0 {
            doubts.push(sentence!(
                "an axle cannot be lifted by {} with {} between them",
                figure(by_m, "m", 2),
                figure(stance.wheelbase_m, "m", 2)
            ));
        } else {
            let tangent = sine / (1.0 - sine * sine).sqrt();
            let per_kg = stance.wheelbase_m / (mass_kg * tangent);
            let metres = w.loaded_radius_m.unwrap_or_else(|| radius_m(document)) + (then_kg - level_kg) * per_kg;
            if !(0.05..=2.5).contains(&metres) {
                doubts.push(sentence!(
                    "the centre would lie {} above the ground: weigh again, brakes off, wheels free to roll",
                    figure(metres, "m", 2)
                ));
            } else {
                if sine < LEAST_SINE {
                    doubts.push(sentence!(
                        "lifted by {}; {} at least tells more than the scales err",
                        figure(by_m, "m", 2),
                        figure(LEAST_SINE * stance.wheelbase_m, "m", 2)
                    ));
                }
                height = Some((metres, per_kg));
            }
        }
    }
    Some(Weighed {
        mass_kg,
        front_share: axles_kg[0] / mass_kg,
        right_m,
        diagonal_share,
        cg_height_m: height.map(|h| h.0),
        height_per_kg_m: height.map(|h| h.1),
        doubts,
    })
}
