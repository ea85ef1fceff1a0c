//! Road load from the fuel a donor used to burn.

use super::handbook::{middle, typical};
use super::{EvidenceKind, Fitted, RoadLoadProposal};
use crate::document::{Document, Evidence, Fuel, Schedule, TripPath};
use crate::powertrain::ROTATING;
use crate::quantity::units::KMH_PER_M_S;
use crate::quantity::{Provenance, Sentence, crossing, figure, sentence};
use crate::trip::{Flag, Trace};
use crate::vehicle::{Conditions, Road};

/// Lower heating values, kWh a litre (from memory).
const PETROL_KWH_L: f64 = 8.9;
const DIESEL_KWH_L: f64 = 10.0;
/// A fuel figure of one kind of driving.
struct Driving {
    key: &'static str,
    name: &'static str,
    /// What it is taken to mean.
    schedule: Schedule,
    /// Tank to wheel, engine and driveline, of a petrol engine: idling and low load cost most in town (handbook, from memory).
    engine: (f64, f64),
    litres: fn(&Evidence) -> Option<f64>,
}

const DRIVING: [Driving; 3] = [
    Driving {
        key: "fuel_town_l_per_100km",
        name: "town",
        schedule: Schedule::Ece15,
        engine: (0.08, 0.13),
        litres: |e| e.fuel_town_l_per_100km,
    },
    Driving {
        key: "fuel_road_l_per_100km",
        name: "road",
        schedule: Schedule::Hwfet,
        engine: (0.18, 0.25),
        litres: |e| e.fuel_road_l_per_100km,
    },
    Driving { key: "fuel_l_per_100km", name: "combined", schedule: Schedule::Nedc, engine: (0.14, 0.21), litres: |e| e.fuel_l_per_100km },
];

/// What a diesel makes of its fuel over what a petrol engine does (handbook, from memory).
const DIESEL_OVER_PETROL: f64 = 1.2;

/// Times the typical road load that a fuel figure may mean and still be believed (judgement).
const EXPLAINED: (f64, f64) = (0.25, 5.0);
/// Driver and luggage on the drives the fuel figure comes from, kg.
const ABOARD_KG: f64 = 90.0;

/// Energy the wheels gave over a trace, pulls only, with road load times `scale`, Wh/km.
fn at_wheels_wh_per_km(road: &Road, trace: &Trace, scale: f64) -> f64 {
    let pulled_j: f64 = trace
        .points
        .windows(2)
        .map(|w| {
            let dt = w[1].time_s - w[0].time_s;
            let v = 0.5 * (w[0].speed_m_s + w[1].speed_m_s);
            let resistance_n = scale * (road.air_n(v) + road.rolling_n(v, w[0].cos));
            let inertia_n = ROTATING * road.mass_kg * (w[1].speed_m_s - w[0].speed_m_s) / dt;
            (resistance_n + road.climb_n(w[0].sin) + inertia_n).max(0.0) * v * dt
        })
        .sum();
    pulled_j / 3.6 / trace.distance_m()
}

/// What one figure says: how many times the typical road load explains it, with its doubt as a share, and the words for it.
struct Reading {
    scale: f64,
    share: f64,
    says: Sentence,
}

fn read(document: &Document, driving: &Driving, litres_per_100km: f64) -> Result<Reading, Flag> {
    let donor = &document.donor;
    let (kwh_l, better) = match donor.evidence.fuel {
        Fuel::Petrol => (PETROL_KWH_L, 1.0),
        Fuel::Diesel => (DIESEL_KWH_L, DIESEL_OVER_PETROL),
    };
    let engine = middle((better * driving.engine.0, better * driving.engine.1));
    let per_litre = kwh_l * 10.0 * engine.value;
    let wanted_wh_per_km = litres_per_100km * per_litre;
    let usual = typical(donor.kind);
    let day = Conditions::of(document);
    let road = Road {
        mass_kg: donor.curb_mass_kg + ABOARD_KG,
        air_n_s2_m2: 0.5 * day.density_kg_m3 * middle(usual.drag_area_m2).value,
        rolling: middle(usual.rolling).value,
        rolling_per_m_s: 0.0,
        headwind_m_s: 0.0,
        undriven_axle_drag_n: 0.0,
    };
    let trace = Trace::of(&TripPath::Schedule(driving.schedule));
    let at = |scale: f64| at_wheels_wh_per_km(&road, &trace, scale);
    let (low, high) = EXPLAINED;
    let (least, most) = (at(low), at(high));
    if !(least..=most).contains(&wanted_wh_per_km) {
        return Err(Flag {
            at: format!("donor.evidence.{}", driving.key),
            message: sentence!(
                "{} ({}) cannot be explained: a vehicle of this kind and mass takes {} to {} on {}. \
                 Check the figure, its unit and the fuel; it is not used",
                figure(litres_per_100km, "l/100 km", 1),
                driving.name,
                figure(least / per_litre, "l/100 km", 1),
                figure(most / per_litre, "l/100 km", 1),
                driving.schedule.title()
            ),
        });
    }
    let scale = crossing(low, high, |scale| at(scale) - wanted_wh_per_km).unwrap_or(high);
    // The doubt in the engine's efficiency passes to the whole wheel energy, of which the road load is a part.
    let load_share = 1.0 - at(0.0).min(0.9 * wanted_wh_per_km) / wanted_wh_per_km;
    let mean_kmh = trace.distance_m() / trace.duration_s() * KMH_PER_M_S;
    Ok(Reading {
        scale,
        share: engine.half_width / engine.value / load_share.max(0.2),
        says: sentence!(
            "{} ({}, taken as {}, mean {}) at {} to {} from tank to wheel: {} times the typical road load",
            figure(litres_per_100km, "l/100 km", 1),
            driving.name,
            driving.schedule.title(),
            figure(mean_kmh, "km/h", 0),
            figure(100.0 * better * driving.engine.0, "", 0),
            figure(100.0 * better * driving.engine.1, "%", 0),
            figure(scale, "", 2)
        ),
    })
}

/// Typical drag area and rolling resistance of the kind, both times the one factor that the fuel figures explain: their mean, each
/// weighed by its certainty. Together with flags for those that no road load of such a vehicle explains.
pub(super) fn proposal(document: &Document) -> (Option<RoadLoadProposal>, Vec<Flag>) {
    let (mut readings, mut flags) = (Vec::new(), Vec::new());
    for driving in &DRIVING {
        match (driving.litres)(&document.donor.evidence).map(|litres| read(document, driving, litres)) {
            Some(Ok(reading)) => readings.push(reading),
            Some(Err(flag)) => flags.push(flag),
            None => {}
        }
    }
    if readings.is_empty() {
        return (None, flags);
    }
    let weight = |r: &Reading| 1.0 / (r.share * r.share);
    let sum: f64 = readings.iter().map(weight).sum();
    let scale = readings.iter().map(|r| r.scale * weight(r)).sum::<f64>() / sum;
    // One engine's efficiency is behind all of them: their doubt does not average out, and where they differ it is wider still.
    let least = readings.iter().map(|r| r.share).fold(f64::INFINITY, f64::min);
    let apart = readings.iter().map(|r| (r.scale / scale - 1.0).abs()).fold(0.0, f64::max);
    let share = least.max(apart);
    let usual = typical(document.donor.kind);
    let scaled = |range: (f64, f64)| Fitted { value: middle(range).value * scale, half_width: middle(range).value * scale * share };
    let proposal = RoadLoadProposal {
        kind: EvidenceKind::Fuel,
        drag_area_m2: scaled(usual.drag_area_m2),
        rolling_coefficient: scaled(usual.rolling),
        provenance: Provenance::Handbook,
        basis: Sentence::joined(readings.into_iter().map(|r| r.says), "; "),
        best: false,
        unusual: Sentence::default(),
    };
    (Some(proposal), flags)
}
