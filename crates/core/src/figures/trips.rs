//! Trips as they are driven: on their own day, at their own mass, in their own driving style.

use crate::document::{Document, DrivingStyle, Trip, TripPath};
use crate::error::{Error, Result};
use crate::powertrain::{Chain, Fade, Rating};
use crate::simulate::{ACCELERATION_STEP_M_S, ShiftPolicy, TractiveForce, quickest_s};
use crate::trip::Trace;
use crate::vehicle::{Conditions, masses};

/// Every trip of a brief, then every schedule as a trip.
pub(crate) fn all(document: &Document) -> impl Iterator<Item = Trip> {
    let schedules = document.brief.schedules.iter().map(|s| Trip::plain(s.id(), s.title(), TripPath::Schedule(*s)));
    document.brief.trips.iter().cloned().chain(schedules)
}

/// Id and name of every trip and schedule, in the order of [`all`].
pub(crate) fn names(document: &Document) -> impl Iterator<Item = (&str, &str)> {
    let schedules = document.brief.schedules.iter().map(|s| (s.id(), s.title()));
    document.brief.trips.iter().map(|t| (t.id.as_str(), t.name.as_str())).chain(schedules)
}

/// Test mass on a trip, with its own payload, kg.
pub(crate) fn mass_kg(document: &Document, trip: &Trip) -> f64 {
    let test_kg = masses(document).test_kg;
    match trip.payload_kg {
        Some(payload) if document.donor.test_mass_kg.is_none() => test_kg - document.brief.payload_kg + payload,
        _ => test_kg,
    }
}

/// How a trip is driven.
pub(crate) fn way(trip: &Trip) -> ShiftPolicy {
    ShiftPolicy { gear: trip.gear, transfer_range: trip.transfer_range, hvac_w: trip.hvac_w }
}

/// The chain of a trip on its own day, at its own mass.
pub(crate) fn chain(document: &Document, trip: &Trip) -> Result<Chain> {
    Chain::on(document, mass_kg(document, trip), &Conditions::of_trip(document, trip))
}

/// The trace of a trip in a driving style; stretches that ask for a share of the acceleration get it from the chain.
pub(crate) fn trace(document: &Document, chain: &Chain, trip: &Trip, driving_style: DrivingStyle) -> Trace {
    let available = |v_m_s: f64| {
        let soc = 0.5 * (chain.pack.soc_min + chain.pack.soc_max);
        let limits = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
        let mut pulls: Vec<TractiveForce<'_>> =
            chain.ranges().map(|gears| TractiveForce::new(chain, gears, &limits, ACCELERATION_STEP_M_S)).collect();
        quickest_s(&mut pulls, 0.0, v_m_s).map(|t| v_m_s / t)
    };
    cut_at_fade(Trace::of_trip(trip, driving_style, &available), document)
}

/// A trace cut where its braking comes to the speeds at which that by the motor fades out.
pub(crate) fn cut_at_fade(trace: Trace, document: &Document) -> Trace {
    let regeneration = &document.design.regeneration;
    if regeneration.share_or_usual() > 0.0 { trace.cut_where_slowing(&Fade::of(regeneration).corners_m_s()) } else { trace }
}

/// A trip or schedule by its id.
///
/// # Errors
/// Names the ids there are.
pub(crate) fn find(document: &Document, id: &str) -> Result<Trip> {
    all(document).find(|t| t.id == id).ok_or_else(|| {
        let known: Vec<String> = all(document).map(|t| t.id).collect();
        Error::field("trip", format!("\"{id}\""), format!("known trips and schedules are: {}", known.join(", ")))
    })
}
