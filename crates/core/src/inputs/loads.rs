//! Doubts about wiring, charger, loads and prices.

use super::{InputDefinition, Measurement, Shape, is_claimed, lossy};
use crate::quantity::Provenance;

/// Path of the doubt about all prices of a design.
pub(super) const PRICES: &str = "design.prices";

pub(super) const DEFINITIONS: &[InputDefinition] = &[
    input!(
        "design.wiring.resistance_ohm",
        "resistance of links and cable",
        TestCells,
        Value,
        Guess,
        |d| (d.design.wiring.resistance_ohm > 0.0).then_some((&d.design.sources, "wiring.resistance_ohm")),
        |d, f| {
            d.design.wiring.resistance_ohm *= f;
        }
    ),
    input!(
        "design.charger.output_power_w",
        "power of the charger",
        MeterCharger,
        Claim,
        Datasheet,
        |d| d.design.charger.as_ref().map(|c| (&c.sources, "output_power_w")),
        |d, f| if let Some(c) = &mut d.design.charger {
            c.output_power_w *= f;
            if !is_claimed(&c.sources, "output_current_a") {
                c.output_current_a *= f;
            }
        }
    ),
    input!(
        "design.charger.efficiency",
        "losses of the charger",
        MeterCharger,
        Loss,
        Datasheet,
        |d| d.design.charger.as_ref().map(|c| (&c.sources, "efficiency")),
        |d, f| if let Some(c) = &mut d.design.charger {
            lossy(&mut c.efficiency, f);
        }
    ),
    input!(
        "design.regeneration.share",
        "share of braking by the motor",
        LogDrive,
        Value,
        Guess,
        |d| (d.design.regeneration.share_or_usual() > 0.0).then_some((&d.design.sources, "regeneration.share")),
        |d, f| {
            d.design.regeneration.share = Some((d.design.regeneration.share_or_usual() * f).min(1.0));
        }
    ),
    input!(
        "design.low_voltage.load_w",
        "12 V load",
        MeterLoads,
        Value,
        Guess,
        |d| (d.design.low_voltage.load_w > 0.0).then_some((&d.design.sources, "low_voltage.load_w")),
        |d, f| {
            d.design.low_voltage.load_w *= f;
        }
    ),
    input!(
        "brief.trips.hvac_w",
        "heater and cooling",
        MeterLoads,
        Value,
        Guess,
        |d| d.brief.trips.iter().any(|t| t.hvac_w > 0.0).then_some((&d.brief.sources, "trips.hvac_w")),
        |d, f| d.brief.trips.iter_mut().for_each(|t| t.hvac_w *= f)
    ),
    input!(PRICES, "prices", AskPrices, Value, Handbook, |d| Some((&d.design.sources, "prices")), |d, f| {
        d.design.prices_mut().into_iter().for_each(|price| *price *= f);
    }),
];
