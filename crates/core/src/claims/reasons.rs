//! What is predicted of each figure, what limits it, and why, in words.

use crate::document::Document;
use crate::estimate::{Estimate, SocketResult, TripResult};
use crate::figures::{Duty, FigureKind, Verdict};
use crate::simulate::RangeEnd;

/// A prediction before it is held against its target.
pub(super) struct Prediction {
    pub(super) value: Option<f64>,
    /// The verdict where there is no value: missed when it is never reached, else cannot tell.
    pub(super) absent: Verdict,
    pub(super) limited_by: String,
    pub(super) why: String,
}

/// What an estimate predicts of a figure.
pub(super) fn predict(kind: FigureKind, document: &Document, estimate: &Estimate) -> Prediction {
    let p = &estimate.performance;
    let known = |value: f64, limited_by: &str, why: String| Prediction {
        value: Some(value),
        absent: Verdict::CannotTell,
        limited_by: limited_by.to_owned(),
        why,
    };
    match kind {
        FigureKind::Range(i) => estimate.trips.get(i).map_or_else(unknown, range),
        FigureKind::Energy(i) => estimate.trips.get(i).map_or_else(unknown, energy),
        FigureKind::TopSpeed => {
            let (stops, gear, held) = (p.top_speed_limited_by.word(), p.top_speed_gear, p.continuous_top_speed_kmh);
            known(p.top_speed_kmh, stops, format!("{stops} stops it in gear {gear}; {held:.0} km/h can be held continuously"))
        }
        FigureKind::Acceleration(from, to) => {
            let Some(run) = p.accelerations.iter().find(|s| (s.from_kmh, s.to_kmh) == (from, to)) else { return unknown() };
            let gears = run.gears.iter().map(u32::to_string).collect::<Vec<_>>().join(", ");
            let why = match run.time_s {
                Some(_) => format!("{} limits most of the run, in gear {gears}", run.limited_by.word()),
                None => format!("it levels off at {:.0} km/h", run.reached_kmh),
            };
            Prediction { value: run.time_s, absent: Verdict::Missed, limited_by: run.limited_by.word().to_owned(), why }
        }
        FigureKind::HillStart => {
            let (hill, by) = (p.hills.start, p.hills.start.limited_by.word());
            known(hill.grade_percent, by, format!("{by} stops a steeper start, in gear {}", hill.gear))
        }
        FigureKind::Hill(kmh, duty) => {
            let Some(at) = p.hills.at_speed.iter().find(|h| h.speed_kmh == kmh) else { return unknown() };
            let (hill, ratings) = match duty {
                Duty::Peak => (at.peak, "at the peak ratings"),
                Duty::TenMinutes => (at.ten_minutes, "over ten minutes from warm"),
                Duty::Continuous => (at.continuous, "at the continuous ratings"),
            };
            let by = hill.limited_by.word();
            known(hill.grade_percent, by, format!("{by} {ratings}, in gear {}", hill.gear))
        }
        FigureKind::Charge(i) => estimate.charging.get(i).map_or_else(unknown, charge),
        FigureKind::Cost => {
            let (c, currency) = (&estimate.cost, &document.brief.currency);
            let why = format!(
                "the {} is {:.0} of {:.0} {currency} bought; {:.0} comes back from parts sold",
                c.largest, c.largest_price, c.bought, c.sold
            );
            known(c.net, &c.largest, why)
        }
        FigureKind::AddedMass => {
            let m = &estimate.masses;
            known(m.change_kg, "pack", format!("the pack weighs {:.0} kg; {:.0} kg came out", m.pack_kg, m.removed_kg))
        }
    }
}

fn unknown() -> Prediction {
    Prediction { value: None, absent: Verdict::CannotTell, limited_by: String::new(), why: String::new() }
}

fn range(t: &TripResult) -> Prediction {
    let why = t.wh_per_km.filter(|_| t.followed).map_or_else(
        || not_followed(t),
        |wh_per_km| format!("{:.1} kWh usable at {wh_per_km:.0} Wh/km; most goes to {}", t.usable_kwh, largest_share(t)),
    );
    Prediction { value: t.range_km.filter(|_| t.followed), absent: Verdict::Missed, limited_by: range_limit(t), why }
}

fn energy(t: &TripResult) -> Prediction {
    let most = largest_share(t);
    let (limited_by, why) = if t.followed { (most.to_owned(), format!("most goes to {most}")) } else { (range_limit(t), not_followed(t)) };
    // What a vehicle that stands still would use nobody can tell.
    let absent = if t.wh_per_km.is_some() { Verdict::Missed } else { Verdict::CannotTell };
    Prediction { value: t.wh_per_km.filter(|_| t.followed), absent, limited_by, why }
}

fn charge(s: &SocketResult) -> Prediction {
    let Some(w) = s.window else {
        return Prediction { limited_by: "no charger".to_owned(), why: "no charger has been chosen".to_owned(), ..unknown() };
    };
    let by = w.limited_by.word();
    let why = match w.hours_h {
        Some(_) => format!("{:.1} kWh from the socket at up to {:.1} kW; limited by {by}", w.socket_kwh, w.peak_socket_kw),
        None => format!("it ends at {:.0} % charge: {by}", w.reached_soc * 100.0),
    };
    Prediction { value: w.hours_h, absent: Verdict::Missed, limited_by: by.to_owned(), why }
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
