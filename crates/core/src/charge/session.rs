//! One charge, from one state of charge to another.

use serde::Serialize;

use super::ChargeLimit;
use super::supply::Plugged;
use crate::document::{Document, Socket};
use crate::library::{Charger, Module};
use crate::pack::PackModel;

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

/// Least and most hours of [`charge`] by modules and charger, as close as is `enough`, at a fraction of its work; endless where it does not get
/// there.
#[must_use]
pub(crate) fn charge_hours(
    parts: (&Module, Option<&Charger>),
    pack: &PackModel,
    socket: &Socket,
    soc: (f64, f64),
    enough: impl Fn(f64, f64) -> bool,
) -> (f64, f64) {
    let plugged = Plugged::between(parts, pack, socket);
    plugged.and_then(|p| p.hours_between(soc, enough)).unwrap_or((f64::INFINITY, f64::INFINITY))
}

/// Charges a document's pack at a socket between two states of charge; `None` without the charger or pack it needs.
///
/// The hours hold for a pack that was emptied slowly. What a quick discharge could not take out of lead-acid ([`PackModel::counted_a`]) is
/// still in it and need not be put back: that shortens them.
#[must_use]
pub fn charge(document: &Document, pack: &PackModel, socket: &Socket, from_soc: f64, to_soc: f64) -> Option<ChargeSession> {
    let plugged = Plugged::of(document, pack, socket)?;
    let mut session = ChargeSession {
        from_soc,
        to_soc,
        reached_soc: from_soc,
        hours_h: None,
        socket_kwh: 0.0,
        peak_socket_kw: 0.0,
        limited_by: plugged.first_limit(),
    };
    let mut hours = 0.0;
    let mut held: Vec<(ChargeLimit, f64)> = Vec::new();
    let ended = plugged.fill(from_soc, to_soc, |soc, dt_h, flow| {
        hours += dt_h;
        session.socket_kwh += flow.socket_kw * dt_h;
        session.peak_socket_kw = session.peak_socket_kw.max(flow.socket_kw);
        session.reached_soc = soc;
        match held.iter_mut().find(|(l, _)| *l == flow.limit) {
            Some((_, time)) => *time += dt_h,
            None => held.push((flow.limit, dt_h)),
        }
    });
    if let Some(limit) = ended {
        session.limited_by = limit;
        return Some(session);
    }
    session.hours_h = Some(hours);
    if let Some((limit, _)) = held.iter().max_by(|a, b| a.1.total_cmp(&b.1)) {
        session.limited_by = *limit;
    }
    Some(session)
}
