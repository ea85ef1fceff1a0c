//! Charging looked at closely: at each socket from any state of charge to any other, along the hours, and what decides about it.

use serde::Serialize;

use crate::charge::{
    CABLE_CODES, ChargeCurve, ChargeLimit, ChargeSession, allowances, charge, charger_mains_a, pilot_duty_percent, station_window,
};
use crate::document::{Socket, SocketKind};
use crate::error::{Error, Result};
use crate::inputs::Counted;
use crate::powertrain::Chain;
use crate::vehicle::{Conditions, masses};

/// A charge along its hours; every list has one entry a sample.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChargeAlong {
    /// h.
    pub hours_h: Vec<f64>,
    /// State of charge.
    pub soc: Vec<f64>,
    /// Out of the socket, kW.
    pub socket_kw: Vec<f64>,
    /// Into the pack, A.
    pub amps_a: Vec<f64>,
    /// At the pack's terminals, V.
    pub volts_v: Vec<f64>,
}

/// One link that decides how much may flow from a mains socket.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SocketLink {
    /// The link in words.
    pub name: String,
    /// A on each phase.
    pub amps_a: f64,
    /// Whether no other lets less through.
    pub least: bool,
}

/// A station's window of voltages beside the pack's.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StationWindow {
    /// Lowest voltage at which the station starts, V.
    pub lowest_v: f64,
    /// Highest that it gives, V.
    pub highest_v: f64,
    /// Pack at the bottom of its window, V.
    pub pack_empty_v: f64,
    /// Pack when full, V.
    pub pack_full_v: f64,
    /// Whether the pack can be charged there from the bottom of its window on.
    pub starts: bool,
}

/// What a cable is coded for.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CableCode {
    /// A on each phase.
    pub amps_a: f64,
    /// Resistor in its plug, ohm.
    pub resistor_ohm: f64,
}

/// Charging at one socket.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SocketStudy {
    /// Socket id.
    pub socket: String,
    /// Name.
    pub name: String,
    /// In a season: `usual`, `summer` or `winter`.
    pub season: String,
    /// Cells, degC.
    pub temperature_c: f64,
    /// The charge that was asked about; absent without a charger.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub session: Option<ChargeSession>,
    /// What it costs.
    pub price: f64,
    /// Along its hours.
    pub along: ChargeAlong,
    /// Mains: what decides, from the wall to the vehicle, the charger last.
    pub links: Vec<SocketLink>,
    /// Mains: duty cycle of a pilot that offers what the circuit bears for hours, percent; absent where none offers it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pilot_duty_percent: Option<f64>,
    /// Mains: the weakest cable code that bears it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cable_code: Option<CableCode>,
    /// Direct current: volts of the station beside the pack's.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub window: Option<StationWindow>,
}

/// Samples kept of a charge.
const SAMPLES: usize = 60;

/// Charging at each socket of a brief between two states of charge (absent: the pack's window), on the site's usual day, in summer and in
/// winter.
///
/// # Errors
/// Names a state of charge that is not below the other, or the parts that have not been chosen.
pub fn socket_studies(document: &Counted, from_soc: Option<f64>, to_soc: Option<f64>) -> Result<Vec<SocketStudy>> {
    let brief = &document.brief;
    let days = [
        ("usual", Conditions::of(document)),
        ("summer", Conditions::of_season(document, &brief.summer)),
        ("winter", Conditions::of_season(document, &brief.winter)),
    ];
    let mut studies = Vec::new();
    for (season, day) in days {
        let chain = Chain::on(document, masses(document).test_kg, &day)?;
        let pack = &chain.pack;
        let (from, to) = (from_soc.unwrap_or(pack.soc_min), to_soc.unwrap_or(pack.soc_max));
        if !(0.0..1.0).contains(&from) {
            return Err(Error::field("from_soc", from, "a number from 0 to below 1 is accepted"));
        }
        if to <= from || to > 1.0 {
            return Err(Error::field("to_soc", to, format!("a number above from_soc, which is {from}, up to 1 is accepted")));
        }
        for socket in &brief.sockets {
            let session = charge(document, pack, socket, from, to);
            let curve = ChargeCurve::of(document, pack, socket, from, to);
            let bears_a = socket.current_a * socket.continuous_share;
            let mains = socket.kind == SocketKind::Ac;
            let (lowest_v, highest_v) = station_window(socket);
            let pack_empty_v = pack.ocv_v(pack.soc_min);
            studies.push(SocketStudy {
                socket: socket.id.clone(),
                name: socket.name.clone(),
                season: season.to_owned(),
                temperature_c: day.pack_temperature_c,
                price: session.map_or(0.0, |s| s.socket_kwh * brief.price_per_kwh),
                session,
                along: curve.map(|c| along(&c)).unwrap_or_default(),
                links: if mains { links(document, socket) } else { Vec::new() },
                pilot_duty_percent: pilot_duty_percent(bears_a).filter(|_| mains),
                cable_code: CABLE_CODES
                    .into_iter()
                    .find(|(amps_a, _)| *amps_a >= bears_a && mains)
                    .map(|(amps_a, resistor_ohm)| CableCode { amps_a, resistor_ohm }),
                window: (!mains).then_some(StationWindow {
                    lowest_v,
                    highest_v,
                    pack_empty_v,
                    pack_full_v: pack.full_v,
                    starts: pack_empty_v >= lowest_v,
                }),
            });
        }
    }
    Ok(studies)
}

fn along(curve: &ChargeCurve) -> ChargeAlong {
    let every = curve.soc.len().div_ceil(SAMPLES).max(1);
    let last = curve.soc.len() - 1;
    let thin = |list: &[f64]| list.iter().enumerate().filter(|(i, _)| i % every == 0 || *i == last).map(|(_, v)| *v).collect();
    ChargeAlong {
        hours_h: thin(&curve.hours_h),
        soc: thin(&curve.soc),
        socket_kw: thin(&curve.socket_kw),
        amps_a: thin(&curve.amps_a),
        volts_v: thin(&curve.volts_v),
    }
}

fn links(document: &Counted, socket: &Socket) -> Vec<SocketLink> {
    let mut links: Vec<SocketLink> =
        allowances(socket).into_iter().map(|a| SocketLink { name: a.limit.word().to_owned(), amps_a: a.amps_a, least: false }).collect();
    if let Some(charger) = &document.design.charger {
        let own_a = charger_mains_a(charger, socket);
        let amps_a = charger.input_current_a.map_or(own_a, |a| a.min(own_a));
        links.push(SocketLink { name: ChargeLimit::ChargerPower.word().to_owned(), amps_a, least: false });
    }
    if let Some(least) = links.iter_mut().min_by(|a, b| a.amps_a.total_cmp(&b.amps_a)) {
        least.least = true;
    }
    links
}
