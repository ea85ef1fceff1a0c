//! What is predicted of each figure, what limits it, and why, in words.

use crate::estimate::{Estimate, SocketResult, TripResult};
use crate::figures::{Duty, FigureKind, Verdict};
use crate::quantity::sentence;
use crate::quantity::{Sentence, electric_kw, figure};
use crate::simulate::RangeEnd;

/// A prediction before it is held against its target.
pub(super) struct Prediction {
    pub(super) value: Option<f64>,
    /// The verdict where there is no value: missed when it is never reached, else cannot tell.
    pub(super) absent: Verdict,
    pub(super) limited_by: String,
    pub(super) why: Sentence,
}

/// What an estimate predicts of a figure.
pub(super) fn predict(kind: FigureKind, estimate: &Estimate) -> Prediction {
    let p = &estimate.performance;
    let known = |value: f64, limited_by: &str, why: Sentence| Prediction {
        value: Some(value),
        absent: Verdict::CannotTell,
        limited_by: limited_by.to_owned(),
        why,
    };
    match kind {
        FigureKind::Range(i) => estimate.trips.get(i).map_or_else(unknown, range),
        FigureKind::Energy(i) => estimate.trips.get(i).map_or_else(unknown, energy),
        FigureKind::TopSpeed | FigureKind::SpeedLimit => {
            let (stops, gear, held) = (p.top_speed_limited_by.word(), p.top_speed_gear, p.continuous_top_speed_kmh);
            known(
                p.top_speed_kmh,
                stops,
                sentence!("{} stops it in gear {}; {} can be held continuously", stops, gear, figure(held, "km/h", 0)),
            )
        }
        FigureKind::PowerLimit(false) => {
            known(p.peak_power_w, "motor", "the greatest that reaches the motor shafts at full throttle".into())
        }
        FigureKind::PowerLimit(true) => known(p.rated_power_w, "motor", "the continuous rating of its motors".into()),
        FigureKind::Acceleration(from, to) => {
            let Some(run) = p.accelerations.iter().find(|s| (s.from_kmh, s.to_kmh) == (from, to)) else { return unknown() };
            let gears = run.gears.iter().map(u32::to_string).collect::<Vec<_>>().join(", ");
            let why = match run.time_s {
                Some(_) => sentence!("{} limits most of the run, in gear {}", run.limited_by.word(), gears),
                None => sentence!("it levels off at {}", figure(run.reached_kmh, "km/h", 0)),
            };
            Prediction { value: run.time_s, absent: Verdict::Missed, limited_by: run.limited_by.word().to_owned(), why }
        }
        FigureKind::HillStart => {
            let (hill, by) = (p.hills.start, p.hills.start.limited_by.word());
            known(hill.grade_percent, by, sentence!("{} stops a steeper start, in gear {}", by, hill.gear))
        }
        FigureKind::Hill(kmh, duty) => {
            let Some(at) = p.hills.at_speed.iter().find(|h| h.speed_kmh == kmh) else { return unknown() };
            let (hill, ratings) = match duty {
                Duty::Peak => (at.peak, "at the peak ratings"),
                Duty::TenMinutes => (at.ten_minutes, "over ten minutes from warm"),
                Duty::Continuous => (at.continuous, "at the continuous ratings"),
            };
            let by = hill.limited_by.word();
            known(hill.grade_percent, by, sentence!("{} {}, in gear {}", by, ratings, hill.gear))
        }
        FigureKind::Charge(i) => estimate.charging.get(i).map_or_else(unknown, charge),
        FigureKind::Cost => {
            let c = &estimate.cost;
            let missing = match c.without_price.join(", ") {
                none if none.is_empty() => Sentence::default(),
                names => sentence!("; at least, as no price is known of {}", names),
            };
            let why = sentence!(
                "the {} is {} of {} bought; {} comes back from parts sold",
                &c.largest,
                figure(c.largest_price, "", 0),
                figure(c.bought, "money", 0),
                figure(c.sold, "money", 0)
            )
            .then(missing);
            known(c.net, &c.largest, why)
        }
        FigureKind::AddedMass => {
            let m = &estimate.masses;
            known(
                m.change_kg,
                "pack",
                sentence!("the pack weighs {}; {} came out", figure(m.pack_kg, "kg", 0), figure(m.removed_kg, "kg", 0)),
            )
        }
    }
}

fn unknown() -> Prediction {
    Prediction { value: None, absent: Verdict::CannotTell, limited_by: String::new(), why: Sentence::default() }
}

fn range(t: &TripResult) -> Prediction {
    let why = t.wh_per_km.filter(|_| t.followed).map_or_else(
        || not_followed(t),
        |wh_per_km| {
            let (usable, use_) = (figure(t.usable_kwh, "kWh", 1), figure(wh_per_km, "Wh/km", 0));
            let why = sentence!("{} usable at {}, until {}; most goes to {}", usable, use_, t.range_ends_by.word(), largest_share(t));
            why.then(at_held_pace(t))
        },
    );
    Prediction { value: t.range_km.filter(|_| t.followed), absent: Verdict::Missed, limited_by: range_limit(t), why }
}

fn energy(t: &TripResult) -> Prediction {
    let most = largest_share(t);
    let (limited_by, why) =
        if t.followed { (most.to_owned(), sentence!("most goes to {}", most)) } else { (range_limit(t), not_followed(t)) };
    // What a vehicle that stands still would use nobody can tell.
    let absent = if t.wh_per_km.is_some() { Verdict::Missed } else { Verdict::CannotTell };
    Prediction { value: t.wh_per_km.filter(|_| t.followed), absent, limited_by, why }
}

fn charge(s: &SocketResult) -> Prediction {
    let Some(w) = s.window else {
        return Prediction { limited_by: "no charger".to_owned(), why: "no charger has been chosen".into(), ..unknown() };
    };
    let by = w.limited_by.word();
    let why = match w.hours_h {
        Some(_) => {
            sentence!("{} from the socket at up to {}; limited by {}", figure(w.socket_kwh, "kWh", 1), electric_kw(w.peak_socket_kw, 1), by)
        }
        None => sentence!("it ends at {} charge: {}", figure(w.reached_soc * 100.0, "%", 0), by),
    };
    Prediction { value: w.hours_h, absent: Verdict::Missed, limited_by: by.to_owned(), why }
}

/// Why goals on a trip are missed, whatever was driven and used on it.
fn not_followed(trip: &TripResult) -> Sentence {
    if trip.wh_per_km.is_none() {
        return "it does not move on this trip".into();
    }
    let behind = sentence!(
        "it cannot keep up with the trip's speed: more than {} behind for {} of {}, {} short",
        figure(2.0, "km/h", 0),
        figure(trip.off_trace_s, "", 0),
        figure(trip.duration_s, "s", 0),
        figure(trip.lost_km, "km", 2)
    );
    behind.then(at_held_pace(trip))
}

/// How far it gets at the pace it can hold, where the trip's own is too quick.
fn at_held_pace(trip: &TripResult) -> Sentence {
    trip.held_pace.map_or_else(Sentence::default, |held| {
        sentence!("; at {} of its speeds {} until the window is spent", figure(100.0 * held.share, "%", 0), figure(held.range_km, "km", 0))
    })
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
