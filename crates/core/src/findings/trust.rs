//! Rules about heat, cold, claims and packs put together from several.

use super::rules::{PRACTICE, Words, finding};
use super::{Evidence, Finding, Severity};
use crate::document::MotorPlace;
use crate::inputs::trusted_inputs;
use crate::pack::{Strings, temperature::charge_share};

/// A seller's claim is not taken at its word.
pub(super) fn claims(e: &Evidence<'_>) -> Vec<Finding> {
    trusted_inputs(e.document)
        .into_iter()
        .filter(|t| t.counted_share < 1.0)
        .map(|t| {
            let words = Words {
                rule: "trust.claim",
                severity: Severity::Note,
                part: if t.path.contains(".pack.") {
                    "pack"
                } else if t.path.contains(".motor.") {
                    "motor"
                } else if t.path.contains(".charger.") {
                    "charger"
                } else {
                    "controller"
                },
                unit: "%",
                why: "What sellers print lies between 60 and 100 % of itself; the middle of that is counted on.",
                change: "Test a sample or the part itself, and enter what you measured.",
                source: PRACTICE,
            };
            let percent = 100.0 * t.counted_share;
            finding(&words, percent, 100.0, format!("the {} is a seller's claim; {percent:.0} % of it is counted on", t.label))
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
            let words = Words {
                rule: "cost.other-currency",
                severity: Severity::Warn,
                part,
                unit: "money",
                why: "Amounts of two currencies have been added up as if they were one.",
                change: "Enter the price in the currency of the brief.",
                source: PRACTICE,
            };
            finding(&words, price, price, format!("{name} is priced at {price:.0} {currency}; the brief counts in {own}"))
        })
        .collect()
}

/// A trip on which heat holds the torque back.
pub(super) fn heat(e: &Evidence<'_>) -> Vec<Finding> {
    let words = Words {
        rule: "heat.trip",
        severity: Severity::Warn,
        part: "motor",
        unit: "s",
        why: "At its highest temperature a motor or controller must cut back, and the vehicle slows when it is needed most.",
        change: "Gear it lower, take a larger motor or controller, cool it better, or climb slower.",
        source: PRACTICE,
    };
    e.estimate
        .trips
        .iter()
        .filter(|t| t.derated_s > 0.0)
        .map(|t| {
            let message = format!(
                "on {} heat holds the torque back for {:.0} s (motor {:.0} °C, controller {:.0} °C)",
                t.name, t.derated_s, t.motor_hottest_c, t.controller_hottest_c
            );
            finding(&words, t.derated_s, 0.0, message)
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
    let words = Words {
        rule: "cold.no-charge",
        severity: Severity::Warn,
        part: "pack",
        unit: "°C",
        why: "Charging lithium cells at or below freezing plates metal inside them: capacity goes for good, and a short may follow. That counts for braking too.",
        change: "Heat the box before charging and block charge and regeneration until it is warm.",
        source: PRACTICE,
    };
    vec![finding(&words, winter_c, 0.0, format!("in winter the cells stand at {winter_c:.0} °C and must not be charged"))]
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
        if (later.full_v - strings[0].full_v).abs() > 0.01 * strings[0].full_v {
            let words = Words {
                rule: "volts.mixed-strings",
                severity: Severity::Stop,
                part: "pack",
                unit: "V",
                why: "Joined in parallel, the higher string drives an unlimited current into the lower one and overcharges it.",
                change: "Give every string the same full-charge voltage.",
                source: PRACTICE,
            };
            out.push(finding(
                &words,
                later.full_v,
                strings[0].full_v,
                format!("added strings {i} are full at {:.1} V beside {:.1} V", later.full_v, strings[0].full_v),
            ));
        } else if pack.added_strings[i - 1].module.chemistry != pack.module.chemistry {
            let words = Words {
                rule: "pack.mixed-chemistry",
                severity: Severity::Warn,
                part: "pack",
                unit: "",
                why: "Different chemistries share the current unevenly as they empty, and one of them ages for the other.",
                change: "Use one chemistry, or keep the strings apart with their own contactors and converters.",
                source: PRACTICE,
            };
            out.push(finding(&words, 0.0, 0.0, format!("added strings {i} are of another chemistry than the first")));
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
    let words = Words {
        rule: "match.motor-places",
        severity: Severity::Warn,
        part: "motor",
        unit: "",
        why: "The grip of all wheels is only there when a motor drives each of them.",
        change: "Match the number of motors to where they sit.",
        source: PRACTICE,
    };
    vec![finding(&words, f64::from(design.motor_count), f64::from(wanted), format!("{} motors for {place}", design.motor_count))]
}
