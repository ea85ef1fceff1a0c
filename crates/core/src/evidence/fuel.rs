//! Road load from the fuel a donor used to burn.

use super::handbook::{middle, typical};
use super::{EvidenceKind, Fitted, RoadLoadProposal};
use crate::document::{Document, Fuel, Schedule, TripPath};
use crate::powertrain::ROTATING;
use crate::quantity::figure;
use crate::quantity::sentence;
use crate::quantity::{Provenance, crossing};
use crate::trip::{Flag, Trace};
use crate::vehicle::{Conditions, Road};

/// Lower heating values, kWh a litre (from memory).
const PETROL_KWH_L: f64 = 8.9;
const DIESEL_KWH_L: f64 = 10.0;
/// Tank to wheel on the road, engine and driveline: 0.18 to 0.25 (handbook).
const ENGINE: (f64, f64) = (0.18, 0.25);
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

/// Typical drag area and rolling resistance of the kind, both times the one factor that explains the fuel on the first trip of the
/// brief (else on WLTC class 2).
///
/// # Errors
/// A flag, with both figures, where no road load of such a vehicle explains the fuel.
pub(super) fn proposal(document: &Document, litres_per_100km: f64) -> Result<RoadLoadProposal, Flag> {
    let donor = &document.donor;
    let kwh_l = match donor.evidence.fuel {
        Fuel::Petrol => PETROL_KWH_L,
        Fuel::Diesel => DIESEL_KWH_L,
    };
    let efficiency = middle(ENGINE);
    let wanted_wh_per_km = litres_per_100km * kwh_l * 10.0 * efficiency.value;
    let usual = typical(donor.kind);
    let (area, rolling) = (middle(usual.drag_area_m2), middle(usual.rolling));
    let day = Conditions::of(document);
    let road = Road {
        mass_kg: donor.curb_mass_kg + ABOARD_KG,
        air_n_s2_m2: 0.5 * day.density_kg_m3 * area.value,
        rolling: rolling.value,
        rolling_per_m_s: 0.0,
        headwind_m_s: 0.0,
        undriven_axle_drag_n: 0.0,
    };
    let path = document.brief.trips.first().map_or(TripPath::Schedule(Schedule::Wltc2), |t| t.path.clone());
    let trace = Trace::of(&path);
    let (low, high) = EXPLAINED;
    let (least, most) = (at_wheels_wh_per_km(&road, &trace, low), at_wheels_wh_per_km(&road, &trace, high));
    if !(least..=most).contains(&wanted_wh_per_km) {
        let litres = |wh_per_km: f64| wh_per_km / (kwh_l * 10.0 * efficiency.value);
        return Err(Flag {
            at: "donor.evidence.fuel_l_per_100km".to_owned(),
            message: sentence!(
                "{} cannot be explained: a vehicle of this kind and mass takes {} to {} on this trip. \
                 Check the figure, its unit and the fuel; it is not used",
                figure(litres_per_100km, "l/100 km", 1),
                figure(litres(least), "l/100 km", 1),
                figure(litres(most), "l/100 km", 1)
            ),
        });
    }
    let scale = crossing(low, high, |scale| at_wheels_wh_per_km(&road, &trace, scale) - wanted_wh_per_km).unwrap_or(high);
    // The doubt in the engine's efficiency passes to the whole wheel energy, of which the road load is a part.
    let share = efficiency.half_width / efficiency.value;
    let load_share = 1.0 - at_wheels_wh_per_km(&road, &trace, 0.0).min(0.9 * wanted_wh_per_km) / wanted_wh_per_km;
    let scaled = |x: f64| Fitted { value: x * scale, half_width: x * scale * share / load_share.max(0.2) };
    Ok(RoadLoadProposal {
        kind: EvidenceKind::Fuel,
        drag_area_m2: scaled(area.value),
        rolling_coefficient: scaled(rolling.value),
        provenance: Provenance::Handbook,
        basis: sentence!(
            "{} at {} kWh/l and {} to {} from tank to wheel is {} at the wheels: {} times the typical road load",
            figure(litres_per_100km, "l/100 km", 1),
            figure(kwh_l, "", 1),
            figure(100.0 * ENGINE.0, "", 0),
            figure(100.0 * ENGINE.1, "%", 0),
            figure(wanted_wh_per_km, "Wh/km", 0),
            figure(scale, "", 2)
        ),
        best: false,
    })
}
