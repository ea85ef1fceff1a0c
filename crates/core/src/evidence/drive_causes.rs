//! What may have been otherwise on a measured drive: each thing by itself, how far it may go, and how far it is usually off.

use crate::document::{MeasuredDrive, Weather};
use crate::inputs::{Counted, UncertainInputs};
use crate::quantity::units::STANDARD_GRAVITY_M_S2;
use crate::quantity::{Sentence, drag_n, figure, sentence};
use crate::vehicle::{Conditions, masses};

/// One thing that may have been otherwise: where it stands, how far it may go either way, and how far it is usually off.
pub(super) struct Family {
    pub(super) cause: &'static str,
    /// Where it stands, in its own unit.
    pub(super) now: f64,
    /// End at which the drive takes more.
    pub(super) more: f64,
    /// End at which it takes less.
    pub(super) less: f64,
    /// How far off it usually is, in its own unit.
    pub(super) usual: f64,
    /// The document with it so, and the pace.
    pub(super) apply: fn(Counted, f64) -> (Counted, f64),
    pub(super) says: fn(f64) -> Sentence,
}

/// The document with something of its only trip's weather changed.
fn in_weather(document: Counted, change: impl FnOnce(&mut Weather)) -> Counted {
    document.with(|d| change(d.brief.trips[0].weather.get_or_insert_default()))
}

/// Spreads where the document states none (judgement): speeds a tenth, weather 8 K where it was not noted and 2 K where it was, a person
/// aboard, a brake that rubs with a third of the rolling resistance, a fresh wind.
pub(super) fn families(central: &Counted, inputs: &UncertainInputs, drive: &MeasuredDrive, by_energy: bool) -> Vec<Family> {
    let trip = &central.brief.trips[0];
    let spread = |path: &str, usual: f64| inputs.used.iter().find(|i| i.definition.path == path).map_or(usual, |i| i.spread.max(0.02));
    let celsius = Conditions::of_trip(central, trip).temperature_c;
    let payload_kg = trip.payload_kg.unwrap_or(central.brief.payload_kg);
    let mass_kg = masses(central).test_kg;
    let wind_kmh = trip.weather.as_ref().and_then(|w| w.headwind_kmh).unwrap_or(central.brief.site.headwind_kmh);
    let rolling_n = mass_kg * STANDARD_GRAVITY_M_S2 * central.donor.rolling_coefficient;
    let axle_n = central.donor.undriven_axle_drag_n;
    let weighed = central.donor.test_mass_kg.is_some();
    let mut all = vec![
        Family {
            cause: "pace",
            now: 1.0,
            more: 1.6,
            less: 0.5,
            usual: 0.1,
            apply: |d, x| (d, x),
            says: |x| sentence!("driven at {} of the trip's speeds throughout", figure(100.0 * x, "%", 0)),
        },
        Family {
            cause: "cold",
            now: celsius,
            more: celsius.min(-25.0),
            less: celsius.max(25.0),
            usual: if drive.temperature_c.is_some() { 2.0 } else { 8.0 },
            apply: |d, x| (in_weather(d, |w| w.temperature_c = Some(x)), 1.0),
            says: |x| sentence!("air, tyres and cells at {}", figure(x, "°C", 0)),
        },
        Family {
            cause: "air drag",
            now: 1.0,
            more: 3.0,
            less: 0.4,
            usual: spread("donor.drag_coefficient", 0.12),
            apply: |d, x| (d.with(|d| d.donor.drag_coefficient *= x), 1.0),
            says: |x| sentence!("air drag {} times what is assumed: racks, open windows, a wrong guess", figure(x, "", 2)),
        },
        Family {
            cause: "rolling resistance",
            now: 1.0,
            more: 3.0,
            less: 0.4,
            usual: spread("donor.rolling_coefficient", 0.12),
            apply: |d, x| (d.with(|d| d.donor.rolling_coefficient *= x), 1.0),
            says: |x| sentence!("rolling resistance {} times what is assumed: soft or wrong tyres, a wet or rough road", figure(x, "", 2)),
        },
        Family {
            cause: "dragging brakes",
            now: axle_n,
            more: axle_n + 6.0 * rolling_n,
            less: axle_n,
            usual: 0.3 * rolling_n,
            apply: |d, x| {
                let dragging = d.with(|d| {
                    d.donor.undriven_axle_drag_n = x;
                    d.donor.undriven_axle_free = false;
                });
                (dragging, 1.0)
            },
            says: |x| sentence!("brakes or bearings that drag with {}: feel the wheels for heat after a drive", drag_n(x, 0)),
        },
        Family {
            cause: "wind from ahead",
            now: wind_kmh,
            more: wind_kmh.max(60.0),
            less: wind_kmh.min(-30.0),
            usual: 10.0,
            apply: |d, x| (in_weather(d, |w| w.headwind_kmh = Some(x)), 1.0),
            says: |x| sentence!("a wind of {} from ahead all the way", figure(x, "km/h", 0)),
        },
    ];
    if !weighed {
        all.push(Family {
            cause: "payload",
            now: payload_kg,
            more: payload_kg + mass_kg,
            less: 0.0,
            usual: if drive.payload_kg.is_some() { 15.0 } else { 75.0 },
            apply: |d, x| (d.with(|d| d.brief.trips[0].payload_kg = Some(x)), 1.0),
            says: |x| sentence!("{} aboard beside the driver", figure(x, "kg", 0)),
        });
    }
    if !by_energy {
        all.push(Family {
            cause: "capacity",
            now: 1.0,
            more: 0.2,
            less: 1.3,
            usual: spread("design.pack.module.capacity_ah", 0.1),
            apply: |d, x| {
                let worn = d.with(|d| {
                    if let Some(pack) = &mut d.design.pack {
                        pack.module.capacity_ah *= x;
                        pack.added_strings.iter_mut().for_each(|s| s.module.capacity_ah *= x);
                    }
                });
                (worn, 1.0)
            },
            says: |x| sentence!("a pack that holds {} of what is assumed", figure(100.0 * x, "%", 0)),
        });
    }
    all
}
