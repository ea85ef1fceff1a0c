//! Charging: constant current, then constant voltage, within what circuit, charger, station and pack allow.

use serde::Serialize;

use crate::document::{Document, Socket, SocketKind};
use crate::library::{Charger, USUAL_TAPER_END_C};
use crate::pack::PackModel;

/// What holds the charge back for most of its time.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ChargeLimit {
    /// The circuit of the socket, with its continuous share.
    Circuit,
    /// The charger's power.
    ChargerPower,
    /// The charger's output current.
    ChargerAmps,
    /// The fast-charging station.
    Station,
    /// The cells' charge rate.
    PackRate,
    /// Constant-voltage phase: the current tapers.
    Taper,
    /// Lead-acid acceptance.
    Acceptance,
    /// The cells are too cold to take charge.
    Cold,
}

impl ChargeLimit {
    /// Words for people.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Circuit => "socket circuit",
            Self::ChargerPower => "charger power",
            Self::ChargerAmps => "charger amps",
            Self::Station => "charging station",
            Self::PackRate => "cells' charge rate",
            Self::Taper => "taper at full voltage",
            Self::Acceptance => "lead-acid acceptance",
            Self::Cold => "cells too cold to charge",
        }
    }
}

/// A charge from one state of charge to another.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChargeSession {
    /// From state of charge.
    pub from_soc: f64,
    /// To state of charge, as asked.
    pub to_soc: f64,
    /// Reached, lower than asked when the current tapers off first.
    pub reached_soc: f64,
    /// h; absent when the target is not reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hours_h: Option<f64>,
    /// Energy out of the socket, kWh.
    pub socket_kwh: f64,
    /// Greatest power out of the socket, kW.
    pub peak_socket_kw: f64,
    /// What holds it back for most of the time.
    pub limited_by: ChargeLimit,
}

/// Share of the charge that is put in below the current at which the taper ends: lithium balances, lead-acid absorbs for hours (common
/// practice).
const TRICKLE: f64 = 0.02;
const LEAD_TRICKLE: f64 = 0.05;
/// Steps of the integration over state of charge.
const STEPS: u32 = 400;

/// What feeds the pack.
#[derive(Debug, Clone, Copy)]
struct Supply {
    power_w: f64,
    power_limit: ChargeLimit,
    current_a: f64,
    current_limit: ChargeLimit,
    end_v: f64,
    efficiency: f64,
}

impl Supply {
    fn of(socket: &Socket, charger: Option<&Charger>, pack: &PackModel) -> Option<Self> {
        match socket.kind {
            SocketKind::Dc => Some(Self {
                power_w: socket.power_w.unwrap_or(socket.voltage_v * socket.current_a),
                power_limit: ChargeLimit::Station,
                current_a: socket.current_a,
                current_limit: ChargeLimit::Station,
                end_v: pack.full_v.min(socket.voltage_v),
                efficiency: 1.0,
            }),
            SocketKind::Ac => {
                let charger = charger?;
                let phases = f64::from(socket.phases.min(charger.phases));
                let circuit_w = socket.voltage_v * socket.current_a * socket.continuous_share * phases;
                let input_w = charger.input_current_a.map_or(f64::INFINITY, |a| a * socket.voltage_v * phases);
                let own_w = charger.output_power_w.min(input_w * charger.efficiency);
                let fed_w = circuit_w * charger.efficiency;
                let (power_w, power_limit) = if fed_w < own_w { (fed_w, ChargeLimit::Circuit) } else { (own_w, ChargeLimit::ChargerPower) };
                Some(Self {
                    power_w,
                    power_limit,
                    current_a: charger.output_current_a,
                    current_limit: ChargeLimit::ChargerAmps,
                    // One that ends above the pack's full charge is a stop, not a quicker charge.
                    end_v: pack.full_v.min(charger.output_max_v),
                    efficiency: charger.efficiency,
                })
            }
        }
    }
}

/// Charges a document's pack at a socket between two states of charge; `None` without the charger or pack it needs.
///
/// At each state of charge the current is the least of the charger's or station's amps, what its power gives at the
/// terminal voltage `OCV + I R`, the cells' charge rate, `(V_end - OCV) / R` once the end voltage is reached, and for
/// lead-acid the ampere-hour law `I <= missing Ah x acceptance` (common practice). The voltage of lead-acid under charge stands above its
/// rest by more than its resistance: half way to the end voltage on the way up, at the end voltage once it decides what it accepts
/// (common practice; of the energy put in, three quarters and more come out again).
///
/// The hours hold for a pack that was emptied slowly. What a quick discharge could not take out of lead-acid ([`PackModel::counted_a`]) is
/// still in it and need not be put back: that shortens them.
#[must_use]
pub fn charge(document: &Document, pack: &PackModel, socket: &Socket, from_soc: f64, to_soc: f64) -> Option<ChargeSession> {
    let design_pack = document.design.pack.as_ref()?;
    let supply = Supply::of(socket, document.design.charger.as_ref(), pack)?;
    let module = &design_pack.module;
    let lead = module.chemistry.is_lead();
    let (accepted_per_h, taper_end_c) = (module.acceptance_or_usual(), module.taper_end_or_usual());
    let returned = module.charge_efficiency_or_usual();
    let capacity_ah = pack.capacity_a_s / 3600.0;
    let r = pack.resistance_ohm.max(1e-9);
    let mut session = ChargeSession {
        from_soc,
        to_soc,
        reached_soc: from_soc,
        hours_h: None,
        socket_kwh: 0.0,
        peak_socket_kw: 0.0,
        limited_by: supply.power_limit,
    };
    let mut hours = 0.0;
    let mut held: Vec<(ChargeLimit, f64)> = Vec::new();
    // A charger that stops at a higher current leaves more to the trickle.
    let trickle = if lead { LEAD_TRICKLE } else { TRICKLE } * (taper_end_c / USUAL_TAPER_END_C).max(1.0) / accepted_per_h.min(1.0);
    let step = (to_soc - from_soc) / f64::from(STEPS);
    for i in 0..STEPS {
        let soc = from_soc + (f64::from(i) + 0.5) * step;
        let ocv = pack.ocv_v(soc);
        // Lead-acid is charged against more than its rest: on the way up half of what is left to the end voltage.
        let (rest_v, series_ohm) = if lead { (0.5 * (ocv + supply.end_v.max(ocv)), 0.5 * r) } else { (ocv, r) };
        let from_power = (-rest_v + (rest_v * rest_v + 4.0 * series_ohm * supply.power_w).sqrt()) / (2.0 * series_ohm);
        let mut least = (from_power, supply.power_limit);
        for (amps, limit) in [
            (supply.current_a, supply.current_limit),
            (pack.charge_a, if pack.charge_a > 0.0 { ChargeLimit::PackRate } else { ChargeLimit::Cold }),
            ((supply.end_v - ocv) / r, ChargeLimit::Taper),
            (if lead { accepted_per_h * (1.0 - soc) * capacity_ah } else { f64::INFINITY }, ChargeLimit::Acceptance),
        ] {
            if amps < least.0 {
                least = (amps, limit);
            }
        }
        let (amps, limit) = least;
        let ended = matches!(limit, ChargeLimit::Taper | ChargeLimit::Acceptance) && amps < taper_end_c * capacity_ah;
        if amps <= 0.0 || ended && soc < to_soc - trickle {
            session.limited_by = limit;
            return Some(session);
        }
        // The last few hundredths may trickle: the charger holds the voltage while lithium balances and lead-acid absorbs.
        // What feeds the pack and what the cells take is never exceeded for it.
        let amps = if matches!(limit, ChargeLimit::Taper | ChargeLimit::Acceptance) {
            let trickle_a = taper_end_c * capacity_ah / 4.0;
            amps.max(trickle_a.min(from_power).min(supply.current_a).min(pack.charge_a))
        } else {
            amps
        };
        let volts_v = if limit == ChargeLimit::Acceptance { supply.end_v } else { rest_v + amps * series_ohm };
        let amps = amps.min(supply.power_w / volts_v);
        let dt_h = step * capacity_ah / (amps * returned);
        hours += dt_h;
        let socket_kw = amps * volts_v / supply.efficiency / 1000.0;
        session.socket_kwh += socket_kw * dt_h;
        session.peak_socket_kw = session.peak_socket_kw.max(socket_kw);
        session.reached_soc = from_soc + f64::from(i + 1) * step;
        match held.iter_mut().find(|(l, _)| *l == limit) {
            Some((_, time)) => *time += dt_h,
            None => held.push((limit, dt_h)),
        }
    }
    session.hours_h = Some(hours);
    if let Some((limit, _)) = held.iter().max_by(|a, b| a.1.total_cmp(&b.1)) {
        session.limited_by = *limit;
    }
    Some(session)
}
