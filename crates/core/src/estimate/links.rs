//! The chain from cell to tyre: what power each link can pass, continuous and peak, and which is the weakest.

use serde::Serialize;

use super::performance::PerformanceResults;
use crate::document::Document;
use crate::figures::performance::{run_soc, warm_kmh};
use crate::limits::{FUSE_BURST, FUSE_MARGIN};
use crate::powertrain::{Chain, GearPath, Limits, Rating};
use crate::quantity::sentence;
use crate::quantity::units::KMH_PER_M_S;
use crate::quantity::{Sentence, figure};
use crate::simulate::Best;

/// Kind of link.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LinkKind {
    /// Cells.
    Pack,
    /// Fuse and cable.
    Wiring,
    /// Controller.
    Controller,
    /// Motor.
    Motor,
    /// Gears and stages.
    Driveline,
    /// Driven tyres.
    Tyres,
}

/// One link. Powers are those that arrive at the wheels if this link alone were the limit, so that links compare.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Link {
    /// Kind.
    pub kind: LinkKind,
    /// Continuous, W at the wheels; absent when the link states no rating.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub continuous_w: Option<f64>,
    /// At peak, W at the wheels; absent when the link states no rating.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub peak_w: Option<f64>,
    /// How long the peak holds, s; absent when it does not tire.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub peak_s: Option<f64>,
    /// The rating behind it, in the link's own terms.
    pub rating: Sentence,
}

/// The chain at one speed.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChainLinks {
    /// Compared at this speed, km/h.
    pub speed_kmh: f64,
    /// In this gear.
    pub gear: u32,
    /// In this range of the transfer box.
    pub range: u32,
    /// At this state of charge.
    pub soc: f64,
    /// Links from cell to tyre.
    pub links: Vec<Link>,
    /// Weakest at peak.
    pub weakest_peak: LinkKind,
    /// Weakest continuously.
    pub weakest_continuous: LinkKind,
    /// Power the level road takes at this speed, W at the wheels.
    pub level_road_w: f64,
}

/// A cable bears twice its continuous current for a minute (common practice).
const CABLE_BURST: f64 = 2.0;

/// A chain seen at one speed, gear and state of charge.
struct At<'a> {
    chain: &'a Chain,
    gear: &'a GearPath,
    v_m_s: f64,
    speed_rad_s: f64,
    soc: f64,
}

impl At<'_> {
    fn limits(&self, rating: Rating) -> Limits {
        self.chain.limits(self.soc, self.chain.low_voltage_w, rating)
    }

    /// W at the wheels from W at the terminals.
    fn wheel_from_terminals(&self, terminals_w: f64) -> f64 {
        let bus_w = (terminals_w - self.chain.low_voltage_w).max(0.0);
        self.wheel_from_torque(self.chain.motor.torque_for_power_nm(self.speed_rad_s, bus_w * self.chain.efficiency))
    }

    fn wheel_from_torque(&self, torque_nm: f64) -> f64 {
        (torque_nm * self.speed_rad_s * self.gear.efficiency).max(0.0)
    }

    /// Power at the terminals at `amps`, no lower than `cutoff_v` and half of the open-circuit voltage.
    fn terminals_w(&self, amps: f64, cutoff_v: f64) -> f64 {
        let (ocv_v, r) = (self.chain.pack.ocv_v(self.soc), self.chain.pack.resistance_ohm);
        let most = if r > 0.0 { ((ocv_v - cutoff_v) / r).min(ocv_v / (2.0 * r)).max(0.0) } else { f64::INFINITY };
        let amps = amps.min(most);
        amps * (ocv_v - amps * r)
    }

    fn pack(&self, amps: f64) -> f64 {
        self.wheel_from_terminals(self.terminals_w(amps, self.chain.pack.cutoff_v))
    }

    fn controller(&self, rating: Rating) -> f64 {
        // The same limits with cells that never tire, so that only the controller binds.
        let mut alone = self.chain.clone();
        alone.pack.peak_a = f64::INFINITY;
        alone.pack.continuous_a = f64::INFINITY;
        let own = alone.limits(self.soc, alone.low_voltage_w, rating);
        self.wheel_from_terminals(own.bus_w + own.aux_w).min(self.wheel_from_torque(own.amps_nm))
    }

    fn motor(&self, rating: Rating) -> f64 {
        let chain = self.chain;
        let limits = self.limits(Rating::Peak);
        let mut torque =
            chain.motor.sagged_nm(f64::INFINITY, self.speed_rad_s, limits.ocv_v, chain.pack.resistance_ohm, chain.efficiency, limits.aux_w);
        if rating == Rating::Continuous {
            torque = torque.min(chain.continuous_motor_nm(self.speed_rad_s));
        }
        self.wheel_from_torque(torque)
    }
}

/// Links of a document's chain at its reference speed, in the gear that pulls hardest there.
pub(super) fn of(document: &Document, chain: &Chain, performance: &PerformanceResults) -> ChainLinks {
    let speed_kmh = warm_kmh(document, performance.top_speed_kmh);
    let v_m_s = speed_kmh / KMH_PER_M_S;
    let soc = run_soc(document, &chain.pack);
    let limits = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
    let best = Best::at(chain, v_m_s, &limits);
    let gear = chain.gears.iter().find(|g| (g.gear, g.range) == (best.gear, best.range)).unwrap_or(&chain.gears[0]);
    let at = At { chain, gear, v_m_s, speed_rad_s: v_m_s * gear.rad_per_m, soc };
    let links = describe(document, &at);
    let weakest = |power: fn(&Link) -> Option<f64>| {
        links
            .iter()
            .filter_map(|l| power(l).map(|p| (l.kind, p)))
            .min_by(|a, b| a.1.total_cmp(&b.1))
            .map_or(LinkKind::Motor, |(kind, _)| kind)
    };
    ChainLinks {
        speed_kmh,
        gear: gear.gear,
        range: gear.range,
        soc,
        weakest_peak: weakest(|l| l.peak_w),
        weakest_continuous: weakest(|l| l.continuous_w),
        links,
        level_road_w: chain.road.steady_n(v_m_s, 0.0) * v_m_s,
    }
}

fn describe(document: &Document, at: &At<'_>) -> Vec<Link> {
    let (chain, design) = (at.chain, &document.design);
    let mut links = vec![Link {
        kind: LinkKind::Pack,
        continuous_w: Some(at.pack(chain.pack.continuous_a)),
        peak_w: Some(at.pack(chain.pack.peak_a)),
        peak_s: design.pack.as_ref().map(|p| p.modules().map(crate::library::Module::peak_s).fold(f64::INFINITY, f64::min)),
        rating: sentence!("{}, {} peak", figure(chain.pack.continuous_a, "A", 0), figure(chain.pack.peak_a, "A", 0)),
    }];
    let wiring = design.wiring_in_use();
    if wiring.cable_current_a.is_some() || wiring.fuse_a.is_some() {
        let cable_a = wiring.cable_current_a.unwrap_or(f64::INFINITY);
        let fuse_a = wiring.fuse_a.unwrap_or(f64::INFINITY);
        let says = |what: &str, amps: f64| {
            if amps.is_finite() { sentence!("{} {}", what, figure(amps, "A", 0)) } else { sentence!("no {} rating", what) }
        };
        links.push(Link {
            kind: LinkKind::Wiring,
            continuous_w: Some(at.wheel_from_terminals(at.terminals_w(cable_a.min(fuse_a / FUSE_MARGIN), 0.0))),
            peak_w: Some(at.wheel_from_terminals(at.terminals_w((cable_a * CABLE_BURST).min(fuse_a * FUSE_BURST), 0.0))),
            peak_s: Some(60.0),
            rating: Sentence::joined([says("cable", cable_a), says("fuse", fuse_a)], ", "),
        });
    }
    if let Some(controller) = &design.controller {
        let motor_side = controller.motor_current_a.map_or_else(Sentence::default, |a| sentence!(", {} out", figure(a, "A", 0)));
        links.push(Link {
            kind: LinkKind::Controller,
            continuous_w: Some(at.controller(Rating::Continuous)),
            peak_w: Some(at.controller(Rating::Peak)),
            peak_s: Some(controller.peak_s()),
            rating: sentence!("{} in", figure(controller.battery_current_a, "A", 0)).then(motor_side),
        });
    }
    if let Some(motor) = &design.motor {
        links.push(Link {
            kind: LinkKind::Motor,
            continuous_w: Some(at.motor(Rating::Continuous)),
            peak_w: Some(at.motor(Rating::Peak)),
            peak_s: Some(motor.peak_s()),
            rating: sentence!("{}, {} peak", figure(chain.motor.continuous_nm, "N·m", 0), figure(chain.motor.greatest_nm(), "N·m", 0)),
        });
    }
    let torque_limit = document.driveline().input_torque_limit_nm.map(|t| at.wheel_from_torque(t));
    links.push(Link {
        kind: LinkKind::Driveline,
        continuous_w: torque_limit,
        peak_w: torque_limit,
        peak_s: None,
        rating: document.driveline().input_torque_limit_nm.map_or_else(
            || sentence!("{} overall, torque not rated", figure(at.gear.ratio, "", 2)),
            |t| sentence!("{} overall, {} in", figure(at.gear.ratio, "", 2), figure(t, "N·m", 0)),
        ),
    });
    let grip_w = chain.traction.drive_n * at.v_m_s;
    links.push(Link {
        kind: LinkKind::Tyres,
        continuous_w: Some(grip_w),
        peak_w: Some(grip_w),
        peak_s: None,
        rating: sentence!("{} of grip", figure(chain.traction.drive_n / 1000.0, "kN", 1)),
    });
    links
}
