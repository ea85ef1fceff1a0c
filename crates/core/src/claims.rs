//! Goals judged: each becomes a claim with a prediction, a verdict, and what limits it.

use serde::Serialize;

use crate::document::{Document, Goal, GoalLevel, Measure};
use crate::estimate::{Estimate, TripResult};
use crate::figures::{Verdict, figure_of_goal};
use crate::powertrain::Cause;
use crate::simulate::RangeEnd;

/// A goal with its prediction.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Claim {
    /// Goal id.
    pub goal: String,
    /// Name shown.
    pub name: String,
    /// A must, or a wish.
    pub level: GoalLevel,
    /// What is asked.
    pub target: f64,
    /// What is predicted; absent when it is never reached or cannot be told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub predicted: Option<f64>,
    /// Unit of both, as stored.
    pub unit: String,
    /// Whether more is better.
    pub more_is_better: bool,
    /// How it stands; from the central figure alone, met or missed.
    pub verdict: Verdict,
    /// The headline figure it is judged by.
    pub figure: String,
    /// Share of the draws that meet it; absent where no band was computed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub probability: Option<f64>,
    /// By how much it is met (positive) or missed (negative), share of the target.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub margin: Option<f64>,
    /// What limits it, in a few words.
    pub limited_by: String,
    /// One sentence that says why.
    pub why: String,
}

/// Targets of cost and added mass below which a miss is told as a share of these: money, kg.
pub(crate) const LEAST_COST: f64 = 1000.0;
pub(crate) const LEAST_ADDED_KG: f64 = 50.0;

/// What a gap to a target is told as a share of: the target, or what counts as a step of its kind where the target is near zero
/// (judgement).
#[must_use]
pub fn scale_of(measure: &Measure) -> f64 {
    let least = match measure {
        Measure::Range { .. } | Measure::TopSpeed { .. } | Measure::HillStart { .. } | Measure::HillAtSpeed { .. } => 1.0,
        Measure::EnergyUse { .. } => 10.0,
        Measure::Sprint { .. } => 0.5,
        Measure::ChargeTime { .. } => 0.25,
        Measure::Cost { .. } => LEAST_COST,
        Measure::AddedMass { .. } => LEAST_ADDED_KG,
    };
    measure.target().abs().max(least)
}

/// A prediction before it is held against its target.
struct Prediction {
    name: String,
    target: f64,
    value: Option<f64>,
    unit: &'static str,
    more_is_better: bool,
    limited_by: String,
    why: String,
    /// Whether an absent value means "never" rather than "not known".
    never: bool,
}

/// Judges one goal against an estimate whose other parts are complete.
#[must_use]
pub fn judge(goal: &Goal, document: &Document, estimate: &Estimate) -> Claim {
    let p = predict(&goal.measure, document, estimate);
    let margin = p.value.map(|v| {
        let gap = if p.more_is_better { v - p.target } else { p.target - v };
        gap / scale_of(&goal.measure)
    });
    let verdict = match margin {
        Some(m) if m >= 0.0 => Verdict::Met,
        None if !p.never => Verdict::CannotTell,
        _ => Verdict::Missed,
    };
    Claim {
        goal: goal.id.clone(),
        name: if goal.name.trim().is_empty() { p.name } else { goal.name.clone() },
        level: goal.level,
        target: p.target,
        predicted: p.value,
        unit: p.unit.to_owned(),
        more_is_better: p.more_is_better,
        verdict,
        figure: figure_of_goal(&goal.measure),
        probability: None,
        margin,
        limited_by: p.limited_by,
        why: p.why,
    }
}

fn predict(measure: &Measure, document: &Document, estimate: &Estimate) -> Prediction {
    let performance = &estimate.performance;
    match measure {
        Measure::Range { trip, at_least_km } => {
            let result = find_trip(estimate, trip);
            Prediction {
                name: format!("Range, {}", result.map_or(trip.as_str(), |t| &t.name)),
                target: *at_least_km,
                value: result.and_then(|t| t.range_km.filter(|_| t.followed)),
                unit: "km",
                more_is_better: true,
                limited_by: result.map_or_else(String::new, range_limit),
                why: result.map_or_else(String::new, |t| {
                    t.wh_per_km.filter(|_| t.followed).map_or_else(
                        || not_followed(t),
                        |wh_per_km| format!("{:.1} kWh usable at {wh_per_km:.0} Wh/km; most goes to {}", t.usable_kwh, largest_share(t)),
                    )
                }),
                never: result.is_some(),
            }
        }
        Measure::EnergyUse { trip, at_most_wh_per_km } => {
            let result = find_trip(estimate, trip);
            let most = result.map_or("", largest_share);
            Prediction {
                name: format!("Energy use, {}", result.map_or(trip.as_str(), |t| &t.name)),
                target: *at_most_wh_per_km,
                value: result.and_then(|t| t.wh_per_km.filter(|_| t.followed)),
                unit: "Wh/km",
                more_is_better: false,
                limited_by: result.filter(|t| !t.followed).map_or_else(|| most.to_owned(), range_limit),
                why: result.filter(|t| !t.followed).map_or_else(|| format!("most goes to {most}"), not_followed),
                // What a vehicle that stands still would use nobody can tell.
                never: result.is_some_and(|t| t.wh_per_km.is_some()),
            }
        }
        Measure::TopSpeed { at_least_kmh } => Prediction {
            name: "Top speed".to_owned(),
            target: *at_least_kmh,
            value: Some(performance.top_speed_kmh),
            unit: "km/h",
            more_is_better: true,
            limited_by: performance.top_speed_limited_by.word().to_owned(),
            why: format!(
                "{} stops it in gear {}; {:.0} km/h can be held continuously",
                performance.top_speed_limited_by.word(),
                performance.top_speed_gear,
                performance.continuous_top_speed_kmh
            ),
            never: false,
        },
        Measure::Sprint { from_kmh, to_kmh, at_most_s } => {
            let run = performance.sprints.iter().find(|s| s.from_kmh == *from_kmh && s.to_kmh == *to_kmh);
            let gears = run.map_or_else(String::new, |r| r.gears.iter().map(u32::to_string).collect::<Vec<_>>().join(", "));
            Prediction {
                name: format!("{from_kmh:.0} to {to_kmh:.0} km/h"),
                target: *at_most_s,
                value: run.and_then(|r| r.time_s),
                unit: "s",
                more_is_better: false,
                limited_by: run.map_or("", |r| r.limited_by.word()).to_owned(),
                why: run.map_or_else(String::new, |r| {
                    if r.time_s.is_some() {
                        format!("{} limits most of the run, in gear {gears}", r.limited_by.word())
                    } else {
                        format!("it levels off at {:.0} km/h", r.reached_kmh)
                    }
                }),
                never: true,
            }
        }
        Measure::HillStart { at_least_percent } => {
            let hill = performance.hills.start;
            Prediction {
                name: "Hill start".to_owned(),
                target: *at_least_percent,
                value: Some(hill.grade_percent),
                unit: "%",
                more_is_better: true,
                limited_by: hill.limited_by.word().to_owned(),
                why: format!("{} stops a steeper start, in gear {}", hill.limited_by.word(), hill.gear),
                never: false,
            }
        }
        Measure::HillAtSpeed { speed_kmh, at_least_percent, continuous, ten_minutes } => {
            let hill = performance.hills.at_speed.iter().find(|h| h.speed_kmh == *speed_kmh).map(|h| match (*continuous, *ten_minutes) {
                (true, _) => h.continuous,
                (false, true) => h.ten_minutes,
                (false, false) => h.peak,
            });
            Prediction {
                name: format!(
                    "Hill at {speed_kmh:.0} km/h{}",
                    if *continuous {
                        ", held"
                    } else if *ten_minutes {
                        ", ten minutes"
                    } else {
                        ""
                    }
                ),
                target: *at_least_percent,
                value: hill.map(|h| h.grade_percent),
                unit: "%",
                more_is_better: true,
                limited_by: hill.map_or(Cause::None, |h| h.limited_by).word().to_owned(),
                why: hill.map_or_else(String::new, |h| {
                    let ratings = if *continuous {
                        "at the continuous ratings"
                    } else if *ten_minutes {
                        "over ten minutes from warm"
                    } else {
                        "at the peak ratings"
                    };
                    format!("{} {ratings}, in gear {}", h.limited_by.word(), h.gear)
                }),
                never: false,
            }
        }
        Measure::ChargeTime { socket, at_most_h } => {
            let result = estimate.charging.iter().find(|s| s.socket == *socket);
            let window = result.and_then(|s| s.window);
            Prediction {
                name: format!("Charged, {}", result.map_or(socket.as_str(), |s| &s.name)),
                target: *at_most_h,
                value: window.and_then(|w| w.hours_h),
                unit: "h",
                more_is_better: false,
                limited_by: window.map_or("no charger", |w| w.limited_by.word()).to_owned(),
                why: window.map_or_else(
                    || "no charger has been chosen".to_owned(),
                    |w| match w.hours_h {
                        Some(_) => format!(
                            "{:.1} kWh from the socket at up to {:.1} kW; {} holds it back",
                            w.socket_kwh,
                            w.peak_socket_kw,
                            w.limited_by.word()
                        ),
                        None => format!("it ends at {:.0} % charge: {}", w.reached_soc * 100.0, w.limited_by.word()),
                    },
                ),
                never: window.is_some(),
            }
        }
        Measure::Cost { at_most } => Prediction {
            name: "Budget".to_owned(),
            target: *at_most,
            value: Some(estimate.cost.net),
            unit: "money",
            more_is_better: false,
            limited_by: estimate.cost.largest.clone(),
            why: format!(
                "the {} is {:.0} of {:.0} {} bought; {:.0} comes back from parts sold",
                estimate.cost.largest, estimate.cost.largest_price, estimate.cost.bought, document.brief.currency, estimate.cost.sold
            ),
            never: false,
        },
        Measure::AddedMass { at_most_kg } => Prediction {
            name: "Added mass".to_owned(),
            target: *at_most_kg,
            value: Some(estimate.masses.change_kg),
            unit: "kg",
            more_is_better: false,
            limited_by: "pack".to_owned(),
            why: format!("the pack weighs {:.0} kg; {:.0} kg came out", estimate.masses.pack_kg, estimate.masses.removed_kg),
            never: false,
        },
    }
}

fn find_trip<'a>(estimate: &'a Estimate, id: &str) -> Option<&'a TripResult> {
    estimate.trips.iter().find(|t| t.trip == id)
}

/// Why goals on a trip are missed, whatever was driven and used on it.
fn not_followed(trip: &TripResult) -> String {
    if trip.wh_per_km.is_none() {
        return "it does not move on this trip".to_owned();
    }
    format!(
        "it cannot keep up with the trip's speed: more than 2 km/h behind for {:.0} of {:.0} s, {:.2} km short",
        trip.off_trace_s, trip.duration_s, trip.lost_km
    )
}

fn range_limit(trip: &TripResult) -> String {
    if !trip.followed && trip.range_ends_by != RangeEnd::Stalled {
        return if trip.derated_s > 0.0 { "heat" } else { "cannot keep up" }.to_owned();
    }
    match trip.range_ends_by {
        RangeEnd::Window => "pack energy",
        RangeEnd::Sag => "pack sag",
        RangeEnd::Heat => "heat",
        RangeEnd::NotFollowed => "cannot keep up",
        RangeEnd::Stalled => "it cannot move",
        RangeEnd::Unlimited => "nothing",
    }
    .to_owned()
}

fn largest_share(trip: &TripResult) -> &'static str {
    let s = &trip.split;
    [
        ("air drag", s.air_wh_per_km),
        ("rolling resistance", s.rolling_wh_per_km),
        ("climbing", s.climb_wh_per_km),
        ("driveline", s.driveline_wh_per_km),
        ("motor losses", s.motor_wh_per_km),
        ("controller losses", s.controller_wh_per_km),
        ("low-voltage load", s.low_voltage_wh_per_km),
        ("heating and cooling", s.hvac_wh_per_km),
        ("friction brakes", s.brakes_wh_per_km),
    ]
    .into_iter()
    .max_by(|a, b| a.1.total_cmp(&b.1))
    .map_or("", |x| x.0)
}
