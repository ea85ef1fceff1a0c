//! A charge hour by hour: from any state of charge for any time.

use super::supply::Plugged;
use crate::document::{Document, Socket};
use crate::pack::PackModel;

/// Hours and energy that a pack takes at a socket from the bottom of a stretch of state of charge on.
#[derive(Debug, Clone, PartialEq)]
pub struct ChargeCurve {
    /// States of charge, rising in equal steps from the first to the last that is reached.
    pub soc: Vec<f64>,
    /// Hours from the first to each.
    pub hours_h: Vec<f64>,
    /// Energy out of the socket from the first to each, kWh.
    pub socket_kwh: Vec<f64>,
    /// Power out of the socket on the way to each, kW; at the first as on the way to the second.
    pub socket_kw: Vec<f64>,
    /// Into the pack on the way to each, A.
    pub amps_a: Vec<f64>,
    /// At its terminals on the way to each, V.
    pub volts_v: Vec<f64>,
}

/// What some hours at a socket do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Charged {
    /// State of charge afterwards.
    pub soc: f64,
    /// Out of the socket, kWh.
    pub socket_kwh: f64,
    /// Hours until it was full, or as full as it gets there; no more than it was given.
    pub hours_h: f64,
}

impl ChargeCurve {
    /// Of a document's pack at a socket between two states of charge; `None` without the charger or pack it needs.
    #[must_use]
    pub fn of(document: &Document, pack: &PackModel, socket: &Socket, from_soc: f64, to_soc: f64) -> Option<Self> {
        let plugged = Plugged::of(document, pack, socket)?;
        let mut curve = Self {
            soc: vec![from_soc],
            hours_h: vec![0.0],
            socket_kwh: vec![0.0],
            socket_kw: Vec::new(),
            amps_a: Vec::new(),
            volts_v: Vec::new(),
        };
        let (mut hours_h, mut kwh) = (0.0, 0.0);
        plugged.fill(from_soc, to_soc, |soc, dt_h, flow| {
            hours_h += dt_h;
            kwh += flow.socket_kw * dt_h;
            curve.soc.push(soc);
            curve.hours_h.push(hours_h);
            curve.socket_kwh.push(kwh);
            curve.socket_kw.push(flow.socket_kw);
            curve.amps_a.push(flow.amps);
            curve.volts_v.push(flow.volts_v);
        });
        // The first point has the flow of the step after it.
        for list in [&mut curve.socket_kw, &mut curve.amps_a, &mut curve.volts_v] {
            list.insert(0, list.first().copied().unwrap_or(0.0));
        }
        Some(curve)
    }

    /// Highest state of charge that is reached.
    #[must_use]
    pub fn top_soc(&self) -> f64 {
        self.soc.last().copied().unwrap_or(0.0)
    }

    /// Hours between two states of charge; `None` where the upper is not reached or the lower is below the curve.
    #[must_use]
    pub fn hours_between(&self, from_soc: f64, to_soc: f64) -> Option<f64> {
        const HAIR: f64 = 1e-9;
        if from_soc >= to_soc {
            return Some(0.0);
        }
        (from_soc >= self.soc[0] - HAIR && to_soc <= self.top_soc() + HAIR)
            .then(|| at(&self.soc, &self.hours_h, to_soc) - at(&self.soc, &self.hours_h, from_soc))
    }

    /// What some hours from a state of charge do. Below the foot of the curve nothing is known: as from its foot.
    #[must_use]
    pub fn after(&self, from_soc: f64, hours_h: f64) -> Charged {
        if self.soc.len() < 2 || from_soc >= self.top_soc() {
            return Charged { soc: from_soc, socket_kwh: 0.0, hours_h: 0.0 };
        }
        let began_h = at(&self.soc, &self.hours_h, from_soc);
        let end_h = (began_h + hours_h).min(self.hours_h.last().copied().unwrap_or(0.0));
        let soc = at(&self.hours_h, &self.soc, end_h).max(from_soc);
        let socket_kwh = at(&self.soc, &self.socket_kwh, soc) - at(&self.soc, &self.socket_kwh, from_soc);
        Charged { soc, socket_kwh, hours_h: end_h - began_h }
    }
}

/// Linear between the points of two rising lists, and as at their ends beyond.
fn at(xs: &[f64], ys: &[f64], x: f64) -> f64 {
    let above = xs.partition_point(|known| *known < x).clamp(1, xs.len() - 1);
    let (x0, x1) = (xs[above - 1], xs[above]);
    let share = ((x - x0) / (x1 - x0)).clamp(0.0, 1.0);
    ys[above - 1] + share * (ys[above] - ys[above - 1])
}
