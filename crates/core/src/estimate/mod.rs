//! From a design document to everything it will do. A pure function: never stored as truth, always recomputed.

mod choices;
mod curves;
mod links;
mod performance;
mod ratio_sweep;
mod socket_study;
mod trip_loads;
mod trip_study;
mod trips;

use serde::Serialize;

pub use choices::{Choices, GearChoice, SpeedNeed, Winding, choices};
pub use curves::{Binding, Curves, GearCurve, GradeLine, RunCurve, curves};
pub use links::{ChainLinks, Link, LinkKind};
pub use performance::{AccelerationResult, GearTopSpeed, HeatResults, HillAtSpeed, HillResults, PartHeat, PerformanceResults};
pub use ratio_sweep::RatioPoint;
pub use socket_study::{CableCode, ChargeAlong, SocketLink, SocketStudy, StationWindow, socket_studies};
pub use trip_loads::{TripLoad, trip_loads};
pub use trip_study::{TripAlong, TripCase, along, cases};
pub(crate) use trips::Paces;
pub use trips::{EnergySplit, PaceResult, TripResult};

use crate::cancel::Cancel;
use crate::charge::{ChargeSession, charge};
use crate::document::{Document, Pack};
use crate::error::Result;
use crate::figures::{CostSummary, cost};
use crate::inputs::Counted;
use crate::pack::PackModel;
use crate::powertrain::Chain;
use crate::vehicle::{Masses, masses};

/// Everything computed of one design. Keys carry their units.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Estimate {
    /// Version of this layout.
    pub version: u32,
    /// Mass account.
    pub masses: Masses,
    /// Air density used, kg/m3.
    pub air_density_kg_m3: f64,
    /// Rolling radius used, m.
    pub rolling_radius_m: f64,
    /// Gears with overall ratio, efficiency and rotating-mass factor.
    pub gears: Vec<GearSummary>,
    /// The pack as a whole.
    pub pack: PackSummary,
    /// Money.
    pub cost: CostSummary,
    /// Trips, then schedules.
    pub trips: Vec<TripResult>,
    /// Accelerations, top speed and hills.
    pub performance: PerformanceResults,
    /// Charging of the usable window at each socket.
    pub charging: Vec<SocketResult>,
    /// Power each link can pass.
    pub chain: ChainLinks,
}

/// One gear's path to the wheel.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GearSummary {
    /// Gear, from 1.
    pub gear: u32,
    /// Range of the transfer box, from 1.
    pub range: u32,
    /// Motor turns for one wheel turn.
    pub overall_ratio: f64,
    /// Efficiency, 0..1.
    pub efficiency: f64,
    /// Rotating-mass factor.
    pub rotating_mass_factor: f64,
}

/// The pack as a whole.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PackSummary {
    /// Cells in series and strings in parallel, as people say it: `20s2p`.
    pub layout: String,
    /// Nominal, V.
    pub nominal_v: f64,
    /// Full charge, V.
    pub full_v: f64,
    /// Cut-off, V.
    pub cutoff_v: f64,
    /// Resistance with wiring, ohm.
    pub resistance_ohm: f64,
    /// Capacity today, Ah.
    pub capacity_ah: f64,
    /// Nominal voltage times capacity today, kWh.
    pub gross_kwh: f64,
    /// Between the ends of the window at vanishing current, kWh.
    pub usable_kwh: f64,
    /// Window, lowest.
    pub soc_min: f64,
    /// Window, highest.
    pub soc_max: f64,
    /// Continuous, A.
    pub continuous_a: f64,
    /// Peak, A.
    pub peak_a: f64,
}

/// Charging at one socket.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SocketResult {
    /// Socket id.
    pub socket: String,
    /// Socket name.
    pub name: String,
    /// The whole window; absent without a charger that fits the socket's kind.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub window: Option<ChargeSession>,
    /// Twenty to eighty percent.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub twenty_to_eighty: Option<ChargeSession>,
    /// Price of filling the window.
    pub window_cost: f64,
}

/// Estimates a design, ended early when `cancel` says so.
///
/// # Errors
/// [`crate::error::Error::Invalid`] naming the parts that have not been chosen, and [`crate::error::Error::Cancelled`].
pub fn estimate(document: &Counted, cancel: &Cancel) -> Result<Estimate> {
    with_paces(document, Paces::Told, cancel)
}

/// As [`estimate`], with or without the paces at which trips too quick for it can be held.
pub(crate) fn with_paces(document: &Counted, paces: Paces, cancel: &Cancel) -> Result<Estimate> {
    let masses = masses(document);
    let chain = Chain::of(document, masses.test_kg)?;
    let charging = sockets(document, &chain.pack);
    let usable_wh = chain.pack.energy_wh(chain.pack.soc_min, chain.pack.soc_max);
    let socket_per_cell = charging.iter().find_map(|s| s.window.filter(|w| w.hours_h.is_some())).map(|w| w.socket_kwh * 1000.0 / usable_wh);
    let performance = performance::of(document, &chain);
    Ok(Estimate {
        version: 1,
        masses,
        air_density_kg_m3: document
            .brief
            .site
            .air_density_kg_m3
            .unwrap_or_else(|| crate::vehicle::air::density_kg_m3(document.brief.site.altitude_m, document.brief.site.temperature_c)),
        rolling_radius_m: chain.radius_m,
        gears: chain
            .gears
            .iter()
            .map(|g| GearSummary {
                gear: g.gear,
                range: g.range,
                overall_ratio: g.ratio,
                efficiency: g.efficiency,
                rotating_mass_factor: g.rotating_factor,
            })
            .collect(),
        pack: pack_summary(document, &chain.pack),
        cost: cost(document),
        trips: trips::of(document, &chain, socket_per_cell, paces, cancel)?,
        chain: links::of(document, &chain, &performance),
        performance,
        charging,
    })
}

fn sockets(document: &Document, pack: &PackModel) -> Vec<SocketResult> {
    document
        .brief
        .sockets
        .iter()
        .map(|socket| {
            let window = charge(document, pack, socket, pack.soc_min, pack.soc_max);
            SocketResult {
                socket: socket.id.clone(),
                name: socket.name.clone(),
                window,
                twenty_to_eighty: charge(document, pack, socket, 0.2, 0.8),
                window_cost: window.map_or(0.0, |w| w.socket_kwh * document.brief.price_per_kwh),
            }
        })
        .collect()
}

fn pack_summary(document: &Document, pack: &PackModel) -> PackSummary {
    let design = document.design.pack.as_ref();
    let capacity_ah = pack.capacity_a_s / 3600.0;
    PackSummary {
        layout: design.map_or_else(String::new, Pack::series_parallel),
        nominal_v: pack.nominal_v,
        full_v: pack.full_v,
        cutoff_v: pack.cutoff_v,
        resistance_ohm: pack.resistance_ohm,
        capacity_ah,
        gross_kwh: pack.nominal_v * capacity_ah / 1000.0,
        usable_kwh: pack.energy_wh(pack.soc_min, pack.soc_max) / 1000.0,
        soc_min: pack.soc_min,
        soc_max: pack.soc_max,
        continuous_a: pack.continuous_a,
        peak_a: pack.peak_a,
    }
}
