//! What feeds a pack: mains through the vehicle's own charger, or a station's direct current.

use serde::Serialize;

use super::ChargeLimit;
use super::pilot::pilot_amps;
use crate::document::{Document, Socket, SocketKind};
use crate::library::{Charger, Module, USUAL_TAPER_END_C};
use crate::pack::PackModel;

/// Share of the charge that is put in below the current at which the taper ends: lithium balances, lead-acid absorbs for hours (common
/// practice).
const TRICKLE: f64 = 0.02;
const LEAD_TRICKLE: f64 = 0.05;
/// Steps of an integration over state of charge.
pub(super) const STEPS: u32 = 400;

/// Charge above which the cells take less from a station, and that at which they take nothing more: the rate falls linearly between
/// (handbook value).
const RATE_FALLS: (f64, f64) = (0.8, 1.0);

/// A station whose highest voltage is above this is built for cars, and does not start below [`USUAL_STATION_START_V`] unless it says so.
const CAR_STATION_V: f64 = 200.0;
/// Voltage below which most stations for cars do not start, V (common practice: 150 to 200 V).
const USUAL_STATION_START_V: f64 = 150.0;

/// Lowest and highest voltage of the pack at which a station of direct current works, its connector included, V.
#[must_use]
pub fn station_window(socket: &Socket) -> (f64, f64) {
    let usual_v = if socket.voltage_v > CAR_STATION_V { USUAL_STATION_START_V } else { 0.0 };
    let (low_v, high_v) = (socket.min_voltage_v.unwrap_or(usual_v), socket.voltage_v);
    socket.connector.and_then(|c| c.ratings().volts_v).map_or((low_v, high_v), |(low, high)| (low_v.max(low), high_v.min(high)))
}

/// What one link between the mains and the charger lets flow on each phase.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Allowance {
    /// The link.
    pub limit: ChargeLimit,
    /// A on each phase.
    pub amps_a: f64,
}

/// Everything between the wall and the vehicle that limits the current on each phase of a mains socket, in the order in which it flows.
#[must_use]
pub(crate) fn allowances(socket: &Socket) -> Vec<Allowance> {
    let link = |limit, amps_a: Option<f64>| amps_a.map(|amps_a| Allowance { limit, amps_a });
    [
        link(ChargeLimit::Circuit, Some(socket.current_a * socket.continuous_share)),
        link(ChargeLimit::Pilot, socket.pilot_duty_percent.map(|duty| pilot_amps(duty).unwrap_or(0.0))),
        link(ChargeLimit::Pilot, socket.cable_current_a),
        link(ChargeLimit::Connector, socket.connector.and_then(|c| c.ratings().current_a)),
    ]
    .into_iter()
    .flatten()
    .collect()
}

/// Phases that socket, connector and charger all have.
fn phases(socket: &Socket, charger: &Charger) -> f64 {
    f64::from(socket.phases.min(charger.phases).min(socket.connector.map_or(3, |c| c.ratings().phases)))
}

/// Mains current on each phase with which a charger gives its rated power at a socket, A; what its record says where it says it.
#[must_use]
pub(crate) fn charger_mains_a(charger: &Charger, socket: &Socket) -> f64 {
    let by_power_a = charger.output_power_w / charger.efficiency / (socket.voltage_v * phases(socket, charger));
    charger.input_current_a.map_or(by_power_a, |own| own.min(by_power_a))
}

/// What feeds the pack.
#[derive(Debug, Clone, Copy)]
struct Supply {
    power_w: f64,
    power_limit: ChargeLimit,
    current_a: f64,
    current_limit: ChargeLimit,
    start_v: f64,
    end_v: f64,
    efficiency: f64,
    is_station: bool,
}

impl Supply {
    fn of(socket: &Socket, charger: Option<&Charger>, pack: &PackModel) -> Option<Self> {
        match socket.kind {
            SocketKind::Dc => {
                let (start_v, highest_v) = station_window(socket);
                let connector_a = socket.connector.and_then(|c| c.ratings().current_a).unwrap_or(f64::INFINITY);
                let current_limit = if connector_a < socket.current_a { ChargeLimit::Connector } else { ChargeLimit::Station };
                Some(Self {
                    power_w: socket.power_w.unwrap_or(socket.voltage_v * socket.current_a),
                    power_limit: ChargeLimit::Station,
                    current_a: socket.current_a.min(connector_a),
                    current_limit,
                    start_v,
                    end_v: pack.full_v.min(highest_v),
                    efficiency: 1.0,
                    is_station: true,
                })
            }
            SocketKind::Ac => {
                let charger = charger?;
                let phases = phases(socket, charger);
                let least = allowances(socket).into_iter().min_by(|a, b| a.amps_a.total_cmp(&b.amps_a))?;
                let input_w = charger.input_current_a.map_or(f64::INFINITY, |a| a * socket.voltage_v * phases);
                let own_w = charger.output_power_w.min(input_w * charger.efficiency);
                let fed_w = socket.voltage_v * least.amps_a * phases * charger.efficiency;
                let (power_w, power_limit) = if fed_w < own_w { (fed_w, least.limit) } else { (own_w, ChargeLimit::ChargerPower) };
                Some(Self {
                    power_w,
                    power_limit,
                    current_a: charger.output_current_a,
                    current_limit: ChargeLimit::ChargerAmps,
                    start_v: 0.0,
                    // One that ends above the pack's full charge is a stop, not a quicker charge.
                    end_v: pack.full_v.min(charger.output_max_v),
                    efficiency: charger.efficiency,
                    is_station: false,
                })
            }
        }
    }
}

/// What flows into the pack at one state of charge.
#[derive(Debug, Clone, Copy)]
pub(super) struct Flow {
    /// Into the pack, A.
    pub(super) amps: f64,
    /// At its terminals, V.
    pub(super) volts_v: f64,
    /// Out of the socket, kW.
    pub(super) socket_kw: f64,
    /// What holds it back.
    pub(super) limit: ChargeLimit,
}

/// A pack at a socket.
pub(super) struct Plugged<'a> {
    supply: Supply,
    pack: &'a PackModel,
    lead: bool,
    accepted_per_h: f64,
    taper_end_c: f64,
    capacity_ah: f64,
    resistance_ohm: f64,
    pub(super) trickle: f64,
    /// Charge that comes out again of what is put in, 0..1.
    returned: f64,
}

impl<'a> Plugged<'a> {
    /// `None` without the charger or pack it needs.
    pub(super) fn of(document: &Document, pack: &'a PackModel, socket: &Socket) -> Option<Self> {
        let module = &document.design.pack.as_ref()?.module;
        Self::between((module, document.design.charger.as_ref()), pack, socket)
    }

    /// As [`Self::of`], of modules and a charger.
    pub(super) fn between((module, charger): (&Module, Option<&Charger>), pack: &'a PackModel, socket: &Socket) -> Option<Self> {
        let lead = module.chemistry.is_lead();
        let (accepted_per_h, taper_end_c) = (module.acceptance_or_usual(), module.taper_end_or_usual());
        Some(Self {
            supply: Supply::of(socket, charger, pack)?,
            pack,
            lead,
            accepted_per_h,
            taper_end_c,
            capacity_ah: pack.capacity_a_s / 3600.0,
            resistance_ohm: pack.resistance_ohm.max(1e-9),
            // A charger that stops at a higher current leaves more to the trickle.
            trickle: if lead { LEAD_TRICKLE } else { TRICKLE } * (taper_end_c / USUAL_TAPER_END_C).max(1.0) / accepted_per_h.min(1.0),
            returned: module.charge_efficiency_or_usual(),
        })
    }

    /// What holds the charge back before anything flows.
    pub(super) fn first_limit(&self) -> ChargeLimit {
        self.supply.power_limit
    }

    /// Charges from one state of charge to another in equal steps, `each` told of the state of charge at the end of a step, its hours and its
    /// flow; what ended it before the last step, if anything did.
    pub(super) fn fill(&self, from_soc: f64, to_soc: f64, mut each: impl FnMut(f64, f64, &Flow)) -> Option<ChargeLimit> {
        let step = (to_soc - from_soc) / f64::from(STEPS);
        (0..STEPS).find_map(|i| match self.flow(from_soc + (f64::from(i) + 0.5) * step, to_soc) {
            Ok(flow) => {
                each(from_soc + f64::from(i + 1) * step, self.hours(step, &flow), &flow);
                None
            }
            Err(limit) => Some(limit),
        })
    }

    /// Hours that a step of the state of charge takes at a flow.
    pub(super) fn hours(&self, step_soc: f64, flow: &Flow) -> f64 {
        step_soc * self.capacity_ah / (flow.amps * self.returned)
    }

    /// What flows at a state of charge on the way to `to_soc`, or what ends the charge there.
    ///
    /// The current is the least of the charger's or station's amps, what its power gives at the terminal voltage `OCV + I R`, the cells'
    /// charge rate, `(V_end - OCV) / R` once the end voltage is reached, and for lead-acid the ampere-hour law `I <= missing Ah x acceptance`
    /// (common practice). The voltage of lead-acid under charge stands above its rest by more than its resistance: half way to the end
    /// voltage on the way up, at the end voltage once it decides what it accepts (common practice; of the energy put in, three quarters and
    /// more come out again).
    pub(super) fn flow(&self, soc: f64, to_soc: f64) -> Result<Flow, ChargeLimit> {
        let (supply, pack) = (&self.supply, self.pack);
        let ocv = pack.ocv_v(soc);
        if ocv < supply.start_v {
            return Err(ChargeLimit::StationVolts);
        }
        let (rest_v, series_ohm, powered_a) = self.powered(soc);
        let mut least = (powered_a, supply.power_limit);
        let rate_a = self.rate_a(soc);
        let [held_a, accepted_a] = self.tapered_a(soc);
        for (amps, limit) in [
            (supply.current_a, supply.current_limit),
            (rate_a, if pack.charge_a > 0.0 { ChargeLimit::PackRate } else { ChargeLimit::Cold }),
            (held_a, ChargeLimit::Taper),
            (accepted_a, ChargeLimit::Acceptance),
        ] {
            if amps < least.0 {
                least = (amps, limit);
            }
        }
        let (amps, limit) = least;
        let tapers = matches!(limit, ChargeLimit::Taper | ChargeLimit::Acceptance);
        if amps <= 0.0 || tapers && amps < self.taper_end_a() && soc < to_soc - self.trickle {
            return Err(limit);
        }
        // The last few hundredths may trickle: the charger holds the voltage while lithium balances and lead-acid absorbs.
        // What feeds the pack and what the cells take is never exceeded for it.
        let amps = if tapers {
            let trickle_a = self.taper_end_a() / 4.0;
            amps.max(trickle_a.min(powered_a).min(supply.current_a).min(rate_a))
        } else {
            amps
        };
        let volts_v = if limit == ChargeLimit::Acceptance { supply.end_v } else { rest_v + amps * series_ohm };
        let amps = amps.min(supply.power_w / volts_v);
        Ok(Flow { amps, volts_v, socket_kw: amps * volts_v / supply.efficiency / 1000.0, limit })
    }

    /// What a charge works against, V and ohm, and the current that its power then gives, A.
    pub(super) fn powered(&self, soc: f64) -> (f64, f64, f64) {
        let (ocv, r, end_v) = (self.pack.ocv_v(soc), self.resistance_ohm, self.supply.end_v);
        // Lead-acid is charged against more than its rest: on the way up half of what is left to the end voltage.
        let (rest_v, series_ohm) = if self.lead { (0.5 * (ocv + end_v.max(ocv)), 0.5 * r) } else { (ocv, r) };
        (rest_v, series_ohm, (-rest_v + (rest_v * rest_v + 4.0 * series_ohm * self.supply.power_w).sqrt()) / (2.0 * series_ohm))
    }

    /// Currents that are left of a taper, A: at the end voltage, and as lead-acid accepts it.
    pub(super) fn tapered_a(&self, soc: f64) -> [f64; 2] {
        let accepted_a = if self.lead { self.accepted_per_h * (1.0 - soc) * self.capacity_ah } else { f64::INFINITY };
        [(self.supply.end_v - self.pack.ocv_v(soc)) / self.resistance_ohm, accepted_a]
    }

    /// Current that anything but a taper lets flow, A.
    pub(super) fn fed_a(&self, soc: f64) -> f64 {
        self.powered(soc).2.min(self.supply.current_a).min(self.rate_a(soc))
    }

    /// Current below which a taper ends, A.
    pub(super) fn taper_end_a(&self) -> f64 {
        self.taper_end_c * self.capacity_ah
    }

    /// Current that the cells take, A. At a station it falls towards a full charge, down to where a taper ends.
    fn rate_a(&self, soc: f64) -> f64 {
        let most_a = self.pack.charge_a;
        let (from, to) = RATE_FALLS;
        if !self.supply.is_station || self.lead || soc <= from {
            return most_a;
        }
        (most_a * (to - soc) / (to - from)).max(self.taper_end_a().min(most_a))
    }
}
