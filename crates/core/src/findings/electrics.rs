//! Rules on what stands between pack, motor, charger and the 12 V side.

use super::rule::{Rule, finding};
use super::{Evidence, Finding};
use crate::document::{BrakeAssistance, LowVoltageSupply, Slot};
use crate::electrics::requirement::{Ask, Requirement, Shortfall};
use crate::electrics::vacuum::BrakeVacuum;
use crate::limits::{FEWEST_PRESSES, FUSE_MARGIN, charger_over_cells};
use crate::quantity::{Sentence, figure, load_w, sentence};

/// Longer than any short circuit lasts, s.
const DAY_S: f64 = 86_400.0;

/// Every component that is fitted, against what its place asks.
pub(super) fn fitted(e: &Evidence<'_>) -> Vec<Finding> {
    let mut out = Vec::new();
    for (slot, component) in e.document.design.electrics.fitted.all() {
        let Some(requirement) = Requirement::of(slot, e.sizing) else { continue };
        for short in requirement.shortfalls(component) {
            out.extend(worded(slot, &component.name, short));
        }
    }
    out
}

fn worded(slot: Slot, name: &str, short: Shortfall) -> Option<Finding> {
    let (rule, unit) = match (&short.ask, slot) {
        // Fuse and cable have rules of their own, which hold for stated figures too.
        (Ask::Bears(_) | Ask::Carries(_) | Ask::OpensBy(_), Slot::PackFuse) => return None,
        (Ask::Bears(_), _) => (Rule::FullChargeOverComponent, "V"),
        (Ask::WorksFrom(_), _) => (Rule::PackBelowComponent, "V"),
        (Ask::Breaks(_), _) => (Rule::CannotBreak, "A"),
        (Ask::Carries(_) | Ask::CarriesFor(..) | Ask::OpensBy(_), _) => (Rule::ComponentTooSmall, "A"),
        (Ask::BearsHere(_), _) => (Rule::ComponentTooSmall, "A"),
        (Ask::Loses(_), _) => (Rule::ComponentTooSmall, "Ω/m"),
        (Ask::Gives(_), _) => (Rule::ComponentTooSmall, "W"),
        (Ask::Moves(_), _) => (Rule::ComponentTooSmall, "l/min"),
        (Ask::Watches(_), _) => (Rule::TooFewCellsWatched, ""),
        (Ask::Speaks(_), _) => (Rule::ThrottleSignal, ""),
        (Ask::TellsABrokenWire, _) => (Rule::ThrottleRunaway, ""),
    };
    // What the volts are held against stands first, as in the other rules on them.
    let (found, limit) = if rule == Rule::FullChargeOverComponent { (short.limit, short.found) } else { (short.found, short.limit) };
    let message = sentence!("{}, {}: ", slot.word(), name).then(short.words).then(".".into());
    Some(Finding { unit: unit.to_owned(), slot: Some(slot), ..finding(rule, found, limit, message) })
}

/// Disconnect, contactor and precharge.
pub(super) fn switching(e: &Evidence<'_>) -> Vec<Finding> {
    let fitted = &e.document.design.electrics.fitted;
    let mut out = Vec::new();
    if fitted.disconnect.is_none() {
        out.push(finding(Rule::NoDisconnect, 0.0, 0.0, "No service disconnect has been chosen."));
    }
    if fitted.main_contactor.is_none() {
        out.push(finding(Rule::NoContactor, 0.0, 0.0, "No main contactor with its precharge has been chosen."));
    }
    let (p, delay_s) = (&e.sizing.precharge, e.sizing.delay_s);
    match p.ready_s() {
        None => out.push(finding(
            Rule::PrechargeNever,
            p.final_v(),
            p.closes_v(),
            sentence!(
                "What is drawn meanwhile holds the bus at {}; the contactor may close at {}.",
                figure(p.final_v(), "V", 0),
                figure(p.closes_v(), "V", 0)
            ),
        )),
        Some(ready_s) if ready_s > delay_s => out.push(finding(
            Rule::PrechargeEarly,
            delay_s,
            ready_s,
            sentence!(
                "The contactor closes after {} with the bus at {}; it takes {}.",
                figure(delay_s, "s", 1),
                figure(p.bus_v(delay_s), "V", 0),
                figure(ready_s, "s", 1)
            ),
        )),
        Some(_) => {}
    }
    out
}

/// Fuse and cable against load and short circuit.
pub(super) fn protection(e: &Evidence<'_>) -> Vec<Finding> {
    let s = e.sizing;
    let mut out = Vec::new();
    if let Some(fuse_a) = s.wiring.fuse_a
        && FUSE_MARGIN * s.rms_a > fuse_a
    {
        out.push(finding(
            Rule::TripOverFuse,
            s.rms_a,
            fuse_a / FUSE_MARGIN,
            sentence!(
                "{} asks {} (RMS); a fuse of {} carries {} for hours.",
                &s.rms_trip,
                figure(s.rms_a, "A", 0),
                figure(fuse_a, "A", 0),
                figure(fuse_a / FUSE_MARGIN, "A", 0)
            ),
        ));
    }
    if let (Some(_), Some((borne_s, opens_s))) = (&s.own_cable, s.short_circuit_s())
        && opens_s > borne_s
    {
        let amps = figure(s.short_circuit_a, "A", 0);
        // A weak pack may not open it at all; figures stay figures.
        let (opens, borne) = (opens_s.min(DAY_S), borne_s.min(DAY_S));
        let message = if opens_s > DAY_S {
            sentence!("A short circuit of {} does not open the fuse; the cable bears it for {}.", amps, figure(borne, "s", 3))
        } else {
            let opens = figure(opens, "s", 3);
            sentence!("In a short circuit of {} the fuse opens after {}; the cable bears it for {}.", amps, opens, figure(borne, "s", 3))
        };
        out.push(finding(Rule::CableFailsFirst, opens, borne, message));
    }
    if let (Some(stated_a), Some(mm2)) = (s.wiring.cable_current_a, s.wiring.cable_section_mm2) {
        let bears_a = s.here.bears_a(mm2);
        if stated_a > bears_a {
            out.push(finding(
                Rule::CableOverrated,
                stated_a,
                bears_a,
                sentence!(
                    "The cable is said to bear {}; {} mm² at {} bear {}.",
                    figure(stated_a, "A", 0),
                    figure(mm2, "", 0),
                    figure(s.here.ambient_c, "°C", 0),
                    figure(bears_a, "A", 0)
                ),
            ));
        }
    }
    out
}

/// A charger's current against what the cells take.
pub(super) fn charge_rate(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(charger) = &e.document.design.charger else { return Vec::new() };
    let (given_a, taken_a) = (charger.output_current_a, e.chain.pack.charge_a);
    if !charger_over_cells(given_a, taken_a) {
        return Vec::new();
    }
    let message = sentence!("The charger gives up to {}; the cells take {}.", figure(given_a, "A", 0), figure(taken_a, "A", 0));
    vec![finding(Rule::ChargerOverCells, given_a, taken_a, message)]
}

/// Brakes without what the engine did for them.
pub(super) fn brakes(e: &Evidence<'_>) -> Vec<Finding> {
    let lost = e.document.design.electrics.brakes == BrakeAssistance::Lost;
    let unassisted = lost.then(|| {
        let message = "The engine's vacuum helped the brakes, and nothing has taken its place.";
        finding(Rule::BrakesUnassisted, 0.0, 0.0, message)
    });
    let few = e.sizing.vacuum.as_ref().map(BrakeVacuum::presses_left).filter(|left| *left < FEWEST_PRESSES).map(|left| {
        let message = sentence!("{} presses are left when the pump dies; {} are needed.", left.to_string(), FEWEST_PRESSES.to_string());
        finding(Rule::FewPresses, left as f64, FEWEST_PRESSES as f64, message)
    });
    unassisted.into_iter().chain(few).collect()
}

/// Insulation as measured.
pub(super) fn insulation(e: &Evidence<'_>) -> Vec<Finding> {
    let least_kohm = e.sizing.insulation_ohm / 1000.0;
    let measured = e.sizing.measured_ohm.map(|ohm| ohm / 1000.0).filter(|kohm| *kohm < least_kohm);
    let message = |kohm: f64| -> Sentence {
        sentence!("Insulation measures {} kΩ; {} kΩ are needed.", figure(kohm, "", 0), figure(least_kohm, "", 0))
    };
    measured.map(|kohm| finding(Rule::InsulationLow, kohm, least_kohm, message(kohm))).into_iter().collect()
}

/// The 12 V side: a converter that is stated only by its power, or a battery alone.
pub(super) fn low_voltage(e: &Evidence<'_>) -> Vec<Finding> {
    let s = e.sizing;
    let (worst, said) = (s.worst(), s.said);
    let needed_w = s.converter_needed_w();
    match said.supply {
        LowVoltageSupply::Battery => {
            let minutes = s.longest_s / 60.0;
            if worst.minutes_left >= minutes {
                return Vec::new();
            }
            let message = sentence!(
                "The 12 V battery lasts {} {}; the longest trip takes {}.",
                figure(worst.minutes_left, "min", 0),
                worst.words(),
                figure(minutes, "min", 0)
            );
            vec![finding(Rule::BatteryEmpties, worst.minutes_left, minutes, message)]
        }
        LowVoltageSupply::Converter => {
            let stated = said.converter_power_w.filter(|w| said.fitted.converter.is_none() && *w < needed_w);
            let message = |w: f64| {
                sentence!(
                    "The converter gives {}; {} {} ask {} with reserve.",
                    load_w(w, 0),
                    load_w(worst.mean_w, 0),
                    worst.words(),
                    load_w(needed_w, 0)
                )
            };
            let found = |w: f64| Finding {
                unit: "W".to_owned(),
                slot: Some(Slot::Converter),
                ..finding(Rule::ComponentTooSmall, w, needed_w, message(w))
            };
            stated.map(found).into_iter().collect()
        }
    }
}
