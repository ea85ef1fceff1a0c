//! Fuse, traction cable, contactors, precharge, motor and charge cables.

use super::cable::{Cable, bears_for_a, least_cable, resistance_ohm, short_circuit_s};
use super::fuse::{least_fuse_a, opening_current_a, opens_after_s};
use super::lines::{Line, LineState, line};
use super::precharge::{CLOSES_AT, bleeder_ohm};
use super::{Coordination, Demand, PrechargeCurve, precharge_of};
use crate::estimate::{FUSE_BURST, FUSE_MARGIN};
use crate::findings::limits::{full_charge_over, fuse_over_cable};
use crate::powertrain::controller_motor_amps;
use crate::quantity::{Sentence, figure, load_w, sentence};

/// Voltage that a traction cable may lose at its current of hours, share of the nominal one (common practice).
const MOST_DROP: f64 = 0.02;
/// Charge wiring carries its current for hours: a quarter more is asked of it (NEC 625.41).
const FOR_HOURS: f64 = 1.25;
/// Each motor cable where nothing is said, m.
const PHASE_M: f64 = 1.5;
const MINUTE_S: f64 = 60.0;
/// Points of each drawing.
const SAMPLES: usize = 60;

fn amps(value: f64) -> crate::quantity::Piece {
    figure(value, "A", 0)
}

fn none_suffices(id: &'static str, name: &'static str, needed_a: f64, source: &'static str) -> Line {
    line(id, name, "nothing that is sold suffices".into(), sentence!("it would have to bear {}", amps(needed_a)), source)
        .troubled(LineState::Warn, "Take a pack of more volts, or a smaller controller: the current is beyond single parts.".into())
}

/// Fuse, cable and disconnect, and the three against time.
pub(super) fn traction(d: &Demand<'_>) -> (Vec<Line>, Coordination) {
    let wiring = &d.document.design.wiring;
    let full_v = d.chain.pack.full_v;
    // The longer a peak may last, the less of it a fuse bears; up to a minute as the findings count.
    let holds = opening_current_a(1.0, d.peak_s.max(MINUTE_S)).min(FUSE_BURST);
    let needed = least_fuse_a(d.rms_a, d.peak_a, holds);
    let mut lines = vec![
        line(
            "rms",
            "Current for hours",
            sentence!("{}", amps(d.rms_a)),
            sentence!("root mean square of {}", &d.rms_trip),
            "the trips as simulated",
        ),
        line(
            "peak",
            "Peak current",
            sentence!("{} for {}", amps(d.peak_a), figure(d.peak_s, "s", 0)),
            "what the controllers may draw from the pack".into(),
            "the controller's record",
        ),
    ];
    let fuse_a = wiring.fuse_a.or(needed).unwrap_or(d.peak_a);
    if let Some(needed_a) = needed {
        let formula = sentence!(
            "the larger of {} x {} and {} over {}, the next that is sold",
            figure(FUSE_MARGIN, "", 2),
            amps(d.rms_a),
            amps(d.peak_a),
            figure(holds, "", 2)
        );
        let result = wiring.fuse_a.map_or_else(
            || sentence!("{}", amps(needed_a)),
            |own| sentence!("{} is the least that carries it; {} is chosen", amps(needed_a), amps(own)),
        );
        let mut fuse = line("fuse", "Pack fuse", result, formula, "common practice");
        if let Some(own) = wiring.fuse_a
            && (FUSE_MARGIN * d.rms_a > own || d.peak_a > holds * own)
        {
            fuse = fuse.troubled(LineState::Warn, sentence!("{} is chosen: it opens under way.", amps(own)));
        }
        if wiring.fuse_a.is_none() {
            fuse = fuse.troubled(LineState::Warn, "None is chosen yet.".into());
        }
        lines.push(if wiring.fuse_a.is_some_and(|own| own >= needed_a) { fuse } else { fuse.taking(&[("wiring.fuse_a", needed_a)]) });
    } else {
        lines.push(none_suffices("fuse", "Pack fuse", FUSE_MARGIN * d.rms_a, "common practice"));
    }
    let mut breaks = line(
        "interrupting",
        "It breaks",
        sentence!("{} at {} of direct current", amps(d.short_circuit_a), figure(full_v, "V", 0)),
        sentence!("full charge over the pack's own {} mΩ", figure(1000.0 * d.chain.pack.resistance_ohm, "", 1)),
        "short circuit of a full pack",
    );
    if let Some(own) = wiring.fuse_voltage_v.filter(|own| full_charge_over(full_v, *own)) {
        breaks = breaks
            .troubled(LineState::Stop, sentence!("The fuse that is chosen breaks up to {}: beyond, it burns on.", figure(own, "V", 0)));
    } else if wiring.fuse_voltage_v.is_none() {
        breaks = breaks.troubled(LineState::Warn, "The voltage that the fuse breaks is not said.".into());
    }
    lines.push(breaks);
    // A cable bears at least what the fuse lets pass for hours, and loses little.
    let most_ohm_per_m = MOST_DROP * d.chain.pack.nominal_v / (d.rms_a.max(1.0) * d.length_m);
    let least = least_cable(d.said.series, fuse_a, most_ohm_per_m, &d.here);
    let own = wiring.cable_section_mm2.map(|mm2| Cable {
        section_mm2: mm2,
        parallel: 1,
        name: format!("{mm2:.0} mm²"),
        bears_a: wiring.cable_current_a.unwrap_or_else(|| d.here.bears_a(mm2)),
    });
    let stated_a = wiring.cable_current_a.or(own.as_ref().map(|c| c.bears_a));
    match &least {
        Some(cable) => lines.push(traction_cable(d, cable, stated_a, fuse_a)),
        None => lines.push(none_suffices("cable", "Traction cable", fuse_a, "NEC table 310.17")),
    }
    if let Some(cable) = own.as_ref().or(least.as_ref()) {
        lines.extend(of_cable(d, cable, fuse_a));
    }
    lines.push(line(
        "disconnect",
        "Service disconnect",
        sentence!("carries {}, breaks {}", amps(fuse_a), figure(full_v, "V", 0)),
        "what the fuse lets pass for hours, and the full pack".into(),
        "common practice; UN R100 asks for one",
    ));
    let curve_of = own.or(least);
    (lines, coordination(d, fuse_a, curve_of.as_ref()))
}

fn traction_cable(d: &Demand<'_>, least: &Cable, stated_a: Option<f64>, fuse_a: f64) -> Line {
    let formula = sentence!(
        "the least that bears the fuse's {} at {} with {} side by side and loses no more than {} of the voltage",
        amps(fuse_a),
        figure(d.here.ambient_c, "°C", 0),
        d.here.bundled,
        figure(100.0 * MOST_DROP, "%", 0)
    );
    let result = sentence!("{}, bears {}", &least.name, amps(least.bears_a));
    let mut cable = line("cable", "Traction cable", result, formula, "NEC table 310.17 with its corrections, from memory");
    if let Some(own_a) = stated_a.filter(|own_a| fuse_over_cable(fuse_a, *own_a)) {
        let trouble = sentence!("What is chosen bears {}: it burns before a fuse of {} opens.", amps(own_a), amps(fuse_a));
        cable = cable.troubled(LineState::Warn, trouble);
    }
    if stated_a.is_some_and(|own_a| own_a >= fuse_a) {
        return cable;
    }
    let section_mm2 = f64::from(least.parallel) * least.section_mm2;
    cable.taking(&[
        ("wiring.cable_section_mm2", (100.0 * section_mm2).round() / 100.0),
        ("wiring.cable_length_m", d.length_m),
        ("wiring.cable_current_a", least.bears_a.floor()),
    ])
}

/// Drop, loss, reserve and short circuit of a traction cable.
fn of_cable(d: &Demand<'_>, cable: &Cable, fuse_a: f64) -> Vec<Line> {
    let mm2 = f64::from(cable.parallel) * cable.section_mm2;
    let ohm = resistance_ohm(d.length_m, mm2, d.here.insulation_c);
    let share = |volts: f64| 100.0 * volts / d.chain.pack.nominal_v;
    let (drop_v, peak_v) = (ohm * d.rms_a, ohm * d.peak_a);
    let borne_s = short_circuit_s(mm2, d.short_circuit_a, d.here.insulation_c);
    let opens_s = opens_after_s(fuse_a, d.short_circuit_a);
    let mut short = line(
        "short_circuit",
        "Short circuit",
        sentence!("the cable bears it {}, the fuse opens in {}", figure(borne_s, "s", 2), figure(opens_s, "s", 3)),
        sentence!("(k S / I)² with {} mm² and {}", figure(mm2, "", 0), amps(d.short_circuit_a)),
        "IEC 60364-5-54, from memory",
    );
    if opens_s > borne_s {
        short = short.troubled(LineState::Stop, "The cable fails before the fuse opens: a thicker one, or a smaller fuse.".into());
    }
    vec![
        line(
            "drop",
            "It loses",
            sentence!(
                "{} ({}), at peak {} ({})",
                figure(drop_v, "V", 1),
                figure(share(drop_v), "%", 1),
                figure(peak_v, "V", 1),
                figure(share(peak_v), "%", 1)
            ),
            sentence!(
                "{} mΩ: {} of {} at {}",
                figure(1000.0 * ohm, "", 2),
                figure(d.length_m, "m", 1),
                &cable.name,
                figure(d.here.insulation_c, "°C", 0)
            ),
            "IEC 60028",
        ),
        line(
            "loss",
            "Heat in it",
            sentence!("{}", load_w(ohm * d.rms_a * d.rms_a, 0)),
            "R I² at the current of hours".into(),
            "closed form",
        ),
        line(
            "reserve",
            "Reserve",
            sentence!("{} times the current of hours", figure(cable.bears_a / d.rms_a.max(1e-3), "", 1)),
            sentence!("{} over {}", amps(cable.bears_a), amps(d.rms_a)),
            "NEC table 310.17",
        ),
        short,
    ]
}

/// Fuse, cable and load at times along a logarithmic axis.
fn coordination(d: &Demand<'_>, fuse_a: f64, cable: Option<&Cable>) -> Coordination {
    let time_s: Vec<f64> = (0..SAMPLES).map(|i| 10f64.powf(-2.0 + 6.0 * i as f64 / (SAMPLES - 1) as f64)).collect();
    let bears = |t: f64| cable.map_or(0.0, |c| bears_for_a(f64::from(c.parallel) * c.section_mm2, c.bears_a, t, d.here.insulation_c));
    Coordination {
        fuse_a: time_s.iter().map(|t| opening_current_a(fuse_a, *t)).collect(),
        cable_a: time_s.iter().map(|t| bears(*t)).collect(),
        load_a: time_s.iter().map(|t| if *t <= d.peak_s { d.peak_a } else { d.rms_a }).collect(),
        short_circuit_a: d.short_circuit_a,
        time_s,
    }
}

/// Contactors, precharge and discharge, and the bus voltage over time.
pub(super) fn precharge(d: &Demand<'_>) -> (Vec<Line>, PrechargeCurve) {
    let full_v = d.chain.pack.full_v;
    let (p, delay_s) = precharge_of(d);
    let poles = if full_v > 60.0 { ", one in each pole" } else { "" };
    let inrush_a = full_v / d.chain.pack.resistance_ohm.max(1e-4);
    let mut ready = line(
        "ready",
        "Bus at 95 %",
        p.ready_s().map_or_else(|| "never".into(), |s| sentence!("after {}", figure(s, "s", 2))),
        sentence!(
            "3 R C of {} Ω and {} mF, closing after {}",
            figure(p.resistor_ohm, "", 1),
            figure(1000.0 * p.capacitance_f, "", 1),
            figure(delay_s, "s", 1)
        ),
        "closed form",
    );
    match p.ready_s() {
        None => {
            let trouble = sentence!(
                "What is drawn meanwhile holds the bus at {}: the contactor would weld, or never close. Hold the converter off until it has closed.",
                figure(p.final_v(), "V", 0)
            );
            ready = ready.troubled(LineState::Stop, trouble);
        }
        Some(s) if s > delay_s => {
            let trouble = sentence!(
                "The contactor closes at {}: too early. A smaller resistor, or a longer delay.",
                figure(p.bus_v(delay_s), "V", 0)
            );
            ready = ready.troubled(LineState::Stop, trouble);
        }
        Some(_) => {}
    }
    let mut lines = vec![
        line(
            "contactor",
            "Main contactor",
            sentence!(
                "carries {} for hours and {} for {}, breaks {}{}",
                amps(d.rms_a),
                amps(d.peak_a),
                figure(d.peak_s, "s", 0),
                figure(full_v, "V", 0),
                poles
            ),
            "the trips' root mean square, the controller's peak, the full pack".into(),
            if full_v > 60.0 { "common practice; ISO 6469-3 above 60 V" } else { "common practice" },
        ),
        line(
            "resistor",
            "Precharge resistor",
            sentence!("{} Ω", figure(p.resistor_ohm, "", 1)),
            sentence!(
                "the largest standard one with which {} mF are at 95 % in half of {}",
                figure(1000.0 * p.capacitance_f, "", 1),
                figure(delay_s, "s", 1)
            ),
            "IEC 60063, series E6",
        ),
        ready,
        line(
            "pulse",
            "The resistor bears",
            sentence!(
                "{} J each time, and {} for {} when the bus is shorted",
                figure(p.energy_j(), "", 0),
                load_w(p.peak_w(), 0),
                figure(delay_s, "s", 1)
            ),
            "C V² / 2; V² / R for the whole delay".into(),
            "closed form",
        ),
        line(
            "inrush",
            "Without it",
            sentence!("{} through the contacts, which weld", amps(inrush_a)),
            sentence!("full charge over the pack's {} mΩ", figure(1000.0 * d.chain.pack.resistance_ohm, "", 1)),
            "closed form",
        ),
    ];
    if let Some(ohm) = bleeder_ohm(full_v, d.capacitance_f) {
        let result = sentence!("{} Ω at most, {} while it is on", figure(ohm, "", 0), load_w(full_v * full_v / ohm, 0));
        let formula = sentence!(
            "{} mF from {} to 60 V within five seconds of opening",
            figure(1000.0 * d.capacitance_f, "", 1),
            figure(full_v, "V", 0)
        );
        lines.push(line("bleeder", "Discharge resistor", result, formula, "ISO 6469-3, from memory; switched on by opening"));
    }
    let last_s = (1.2 * p.ready_s().unwrap_or(delay_s)).max(1.1 * delay_s);
    let time_s: Vec<f64> = (0..SAMPLES).map(|i| last_s * i as f64 / (SAMPLES - 1) as f64).collect();
    let bus_v = time_s.iter().map(|t| p.bus_v(*t)).collect();
    (lines, PrechargeCurve { time_s, bus_v, closes_v: CLOSES_AT * full_v, delay_s })
}

/// Cables between controller and motor, and how the motor is made to turn the other way.
pub(super) fn motor(d: &Demand<'_>) -> Vec<Line> {
    let (Some(controller), Some(motor)) = (&d.document.design.controller, &d.document.design.motor) else { return Vec::new() };
    let length_m = d.said.phase_length_m.unwrap_or(PHASE_M);
    let count = if motor.kind.is_three_phase() { "three of them" } else { "two of them" };
    let mut lines =
        controller.motor_current_a.map_or_else(
            || {
                let unknown = line(
                    "motor_cable",
                    "Each motor cable",
                    "not told".into(),
                    "the controller's record has no motor current".into(),
                    "the controller's record",
                );
                vec![unknown.troubled(
                    LineState::Warn,
                    "Motor amps are higher than battery amps at low speed: find them before buying cable.".into(),
                )]
            },
            |peak_a| {
                let continuous_a = controller_motor_amps(controller, false).unwrap_or(peak_a);
                let formula =
                    sentence!("{}, {} each; {} for hours, {} at peak", count, figure(length_m, "m", 1), amps(continuous_a), amps(peak_a));
                cable_line(d, "motor_cable", "Each motor cable", continuous_a, length_m, formula)
            },
        );
    lines.push(line(
        "reverse",
        "Turns the wrong way",
        motor.kind.reversed_by().into(),
        "looked at from the vehicle's left a forward wheel turns anticlockwise; a motor turned end for end and each mesh of gears reverse it, chain and belt do not".into(),
        "common practice",
    ));
    lines
}

/// Cable between charger and pack.
pub(super) fn charge(d: &Demand<'_>) -> Vec<Line> {
    let Some(charger) = &d.document.design.charger else {
        return vec![line("charge_cable", "Charge cable", "no charger chosen".into(), Sentence::default(), "NEC 625.41")];
    };
    let hours_a = FOR_HOURS * charger.output_current_a;
    let length_m = d.said.charge_length_m.unwrap_or_else(|| (0.5 * d.length_m).max(3.0));
    let Some(fuse_a) = least_fuse_a(charger.output_current_a, 0.0, FUSE_BURST) else {
        return vec![none_suffices("charge_fuse", "Charge fuse", hours_a, "common practice")];
    };
    let mut lines = vec![line(
        "charge_fuse",
        "Charge fuse, at the pack",
        sentence!("{}", amps(fuse_a)),
        sentence!("{} x the charger's {}, the next that is sold", figure(FUSE_MARGIN, "", 2), amps(charger.output_current_a)),
        "common practice",
    )];
    let formula = sentence!(
        "the least that bears its fuse and {} x the charger's {}; {} there and back",
        figure(FOR_HOURS, "", 2),
        amps(charger.output_current_a),
        figure(length_m, "m", 1)
    );
    lines.extend(cable_line(d, "charge_cable", "Charge cable", fuse_a.max(hours_a), length_m, formula));
    lines
}

fn cable_line(d: &Demand<'_>, id: &'static str, name: &'static str, amps_a: f64, length_m: f64, formula: Sentence) -> Vec<Line> {
    let most_ohm_per_m = MOST_DROP * d.chain.pack.nominal_v / (amps_a.max(1.0) * length_m);
    let Some(cable) = least_cable(d.said.series, amps_a, most_ohm_per_m, &d.here) else {
        return vec![none_suffices(id, name, amps_a, "NEC table 310.17")];
    };
    let ohm = resistance_ohm(length_m, f64::from(cable.parallel) * cable.section_mm2, d.here.insulation_c);
    let result = sentence!("{}, bears {}, loses {}", &cable.name, amps(cable.bears_a), figure(ohm * amps_a, "V", 2));
    vec![line(id, name, result, formula, "NEC table 310.17 with its corrections, from memory")]
}
