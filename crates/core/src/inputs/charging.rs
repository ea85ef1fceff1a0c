//! Doubts about the laws of charging and of the cold, where a design has to do with them.

use super::{InputDefinition, Measurement, Shape, lossy};
use crate::document::{Document, SocketKind};
use crate::library::Module;
use crate::quantity::{Provenance, Sources};

/// Cells colder than this do not do what their data sheet says, degC.
const COLD_C: f64 = 15.0;

fn module(d: &Document) -> Option<&Module> {
    d.design.pack.as_ref().map(|p| &p.module)
}

/// The cells' sources, where they are charged from a socket of the brief.
fn charged<'a>(d: &'a Document, key: &'static str, of: fn(&Module) -> bool) -> Option<(&'a Sources, &'static str)> {
    let plugged = d.brief.sockets.iter().any(|s| s.kind == SocketKind::Dc || d.design.charger.is_some());
    module(d).filter(|m| plugged && of(m)).map(|m| (&m.sources, key))
}

/// Whether the cells are cold at the site or on a trip.
fn is_cold(d: &Document) -> bool {
    let air = std::iter::once(d.brief.site.temperature_c);
    let own = d.brief.trips.iter().filter_map(|t| t.weather.as_ref()?.temperature_c);
    match d.design.pack.as_ref().and_then(|p| p.temperature_c) {
        Some(celsius) => celsius < COLD_C,
        None => air.chain(own).any(|celsius| celsius < COLD_C),
    }
}

pub(super) const DEFINITIONS: &[InputDefinition] = &[
    input!(
        "design.pack.module.charge_efficiency",
        "charge the cells return",
        MeterCharger,
        Loss,
        Guess,
        |d| charged(d, "charge_efficiency", |_| true),
        |d, f| if let Some(p) = &mut d.design.pack {
            let mut returned = p.module.charge_efficiency_or_usual();
            lossy(&mut returned, f);
            p.module.charge_efficiency = Some(returned);
        }
    ),
    input!(
        "design.pack.module.acceptance_per_h",
        "charge lead-acid accepts",
        MeterCharger,
        Value,
        Guess,
        |d| charged(d, "acceptance_per_h", |m| m.chemistry.is_lead()),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.acceptance_per_h = Some(p.module.acceptance_or_usual() * f);
        }
    ),
    input!(
        "design.pack.module.taper_end_c",
        "current at which charging ends",
        MeterCharger,
        Value,
        Guess,
        |d| charged(d, "taper_end_c", |_| true),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.taper_end_c = Some(p.module.taper_end_or_usual() * f);
        }
    ),
    input!(
        "design.pack.module.cold_factor",
        "what the cold takes",
        TestCells,
        Value,
        Guess,
        |d| module(d).filter(|_| is_cold(d)).map(|m| (&m.sources, "cold_factor")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.cold_factor = Some(p.module.cold_factor.unwrap_or(1.0) * f);
        }
    ),
];
