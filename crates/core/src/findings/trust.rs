//! Rules about heat, cold, claims and packs put together from several.

use super::rule::{Rule, finding};
use super::{Evidence, Finding};
use crate::document::MotorPlace;
use crate::inputs::trusted_inputs;
use crate::limits::strings_differ;
use crate::pack::{Strings, temperature::charge_share};
use crate::quantity::figure;
use crate::quantity::sentence;

/// A seller's claim is not taken at its word.
pub(super) fn claims(e: &Evidence<'_>) -> Vec<Finding> {
    trusted_inputs(e.document)
        .into_iter()
        .filter(|t| t.counted_share < 1.0)
        .map(|t| {
            let percent = 100.0 * t.counted_share;
            let message = sentence!("the {} is a seller's claim; {} of it is counted on", &t.label, figure(percent, "%", 0));
            let part = ["pack", "motor", "charger"].into_iter().find(|p| t.path.contains(&format!(".{p}."))).unwrap_or("controller");
            Finding { part: part.to_owned(), ..finding(Rule::SellersClaim, percent, 100.0, message) }
        })
        .collect()
}

/// A price in another currency is added up as it stands.
pub(super) fn currency(e: &Evidence<'_>) -> Vec<Finding> {
    let (design, own) = (&e.document.design, &e.document.brief.currency);
    design
        .items()
        .into_iter()
        .filter_map(|i| Some((i.name.to_owned(), i.price, i.currency.filter(|c| c != own && i.price > 0.0)?.to_owned(), i.kind.group())))
        .map(|(name, price, currency, part)| {
            let message = sentence!("{} is priced at {} {}; the brief counts in {}", &name, figure(price, "", 0), currency, own);
            Finding { part: part.to_owned(), ..finding(Rule::OtherCurrency, price, price, message) }
        })
        .collect()
}

/// A trip on which heat holds the torque back.
pub(super) fn heat(e: &Evidence<'_>) -> Vec<Finding> {
    e.estimate
        .trips
        .iter()
        .filter(|t| t.derated_s > 0.0)
        .map(|t| {
            let message = sentence!(
                "on {} heat holds the torque back for {} (motor {}, controller {})",
                &t.name,
                figure(t.derated_s, "s", 0),
                figure(t.motor_hottest_c, "°C", 0),
                figure(t.controller_hottest_c, "°C", 0)
            );
            finding(Rule::Heat, t.derated_s, 0.0, message)
        })
        .collect()
}

/// Lithium does not charge in frost.
pub(super) fn frost(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(pack) = &e.document.design.pack else { return Vec::new() };
    let brief = &e.document.brief;
    let trips = brief.trips.iter().filter_map(|t| t.weather.as_ref().and_then(|w| w.temperature_c));
    let coldest = trips.chain([brief.winter.temperature_c, brief.site.temperature_c]).fold(f64::INFINITY, f64::min);
    let winter_c = pack.temperature_c.unwrap_or(coldest);
    if pack.modules().all(|m| charge_share(m.chemistry, winter_c) > 0.0) {
        return Vec::new();
    }
    vec![finding(
        Rule::NoChargeInFrost,
        winter_c,
        0.0,
        sentence!("in winter the cells stand at {} and must not be charged", figure(winter_c, "°C", 0)),
    )]
}

/// Strings in parallel must belong together.
pub(super) fn mixed_strings(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(pack) = &e.document.design.pack else { return Vec::new() };
    if pack.added_strings.is_empty() {
        return Vec::new();
    }
    let strings = Strings::of(pack, 25.0);
    let mut out = Vec::new();
    for (i, later) in strings.iter().enumerate().skip(1) {
        if strings_differ(later.full_v, strings[0].full_v) {
            out.push(finding(
                Rule::MixedStrings,
                later.full_v,
                strings[0].full_v,
                sentence!(
                    "added strings {} are full at {} beside {}",
                    i.to_string(),
                    figure(later.full_v, "V", 1),
                    figure(strings[0].full_v, "V", 1)
                ),
            ));
        } else if pack.added_strings[i - 1].module.chemistry != pack.module.chemistry {
            out.push(finding(
                Rule::MixedChemistry,
                0.0,
                0.0,
                sentence!("added strings {} are of another chemistry than the first", i.to_string()),
            ));
        }
    }
    out
}

/// As many motors as places for them.
pub(super) fn motor_places(e: &Evidence<'_>) -> Vec<Finding> {
    let design = &e.document.design;
    let (wanted, place) = match design.motor_place {
        MotorPlace::EachAxle => (2, "one on each axle"),
        MotorPlace::EveryWheel => (4, "one at every wheel"),
        MotorPlace::Shaft | MotorPlace::Wheels => return Vec::new(),
    };
    if design.motor_count == wanted {
        return Vec::new();
    }
    vec![finding(
        Rule::MotorPlaces,
        f64::from(design.motor_count),
        f64::from(wanted),
        sentence!("{} motors for {}", design.motor_count, place),
    )]
}
