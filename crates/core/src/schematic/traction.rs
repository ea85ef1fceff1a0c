//! Lines of fuse, traction cable and disconnect, and the three against time.

use super::Coordination;
use super::lines::{Line, LineState, amps, line};
use crate::electrics::cable::{Cable, bears_for_a};
use crate::electrics::fuse::opening_current_a;
use crate::electrics::{MOST_DROP, Sizing};
use crate::findings::{Finding, Rule};
use crate::limits::FUSE_MARGIN;
use crate::quantity::{figure, load_w, sentence};

/// Points of each drawing.
pub(super) const SAMPLES: usize = 60;

pub(super) fn none_suffices(id: &'static str, name: &'static str, needed_a: f64, source: &'static str) -> Line {
    line(id, name, "nothing that is sold suffices".into(), sentence!("it would have to bear {}", amps(needed_a)), source)
        .troubled(LineState::Warn, "Take a pack of more volts, or a smaller controller: the current is beyond single parts.".into())
}

/// Fuse, cable and disconnect, and the three against time.
pub(super) fn traction(s: &Sizing<'_>, findings: &[Finding]) -> (Vec<Line>, Coordination) {
    let full_v = s.full_v();
    let mut lines = vec![
        line(
            "rms",
            "Current for hours",
            sentence!("{}", amps(s.rms_a)),
            sentence!("root mean square of {}", &s.rms_trip),
            "the trips as simulated",
        ),
        line(
            "peak",
            "Peak current",
            sentence!("{} for {}", amps(s.peak_a), figure(s.peak_s, "s", 0)),
            "what the controllers may draw from the pack".into(),
            "the controller's record",
        ),
        fuse(s, findings),
    ];
    let mut breaks = line(
        "interrupting",
        "It breaks",
        sentence!("{} at {} of direct current", amps(s.short_circuit_a), figure(full_v, "V", 0)),
        sentence!("full charge over the pack's own {} mΩ", figure(1000.0 * s.chain.pack.resistance_ohm, "", 1)),
        "short circuit of a full pack",
    );
    if s.wiring.fuse_voltage_v.is_none() {
        breaks = breaks.troubled(LineState::Warn, "The voltage that the fuse breaks is not said.".into());
    }
    lines.push(breaks.judged(findings, &[Rule::FullChargeOverFuse]));
    match &s.least_cable {
        Some(least) => lines.push(cable(s, least, findings)),
        None => lines.push(none_suffices("cable", "Traction cable", s.fuse_a, "NEC table 310.17")),
    }
    if let Some(cable) = s.cable() {
        lines.extend(of_cable(s, cable, findings));
    }
    lines.push(
        line(
            "disconnect",
            "Service disconnect",
            sentence!("carries {}, breaks {}", amps(s.fuse_a), figure(full_v, "V", 0)),
            "what the fuse lets pass for hours, and the full pack".into(),
            "common practice; UN R100 asks for one",
        )
        .judged(findings, &[Rule::NoDisconnect]),
    );
    (lines, coordination(s))
}

fn fuse(s: &Sizing<'_>, findings: &[Finding]) -> Line {
    let Some(needed_a) = s.least_fuse_a else {
        return none_suffices("fuse", "Pack fuse", FUSE_MARGIN * s.rms_a, "common practice");
    };
    let formula = sentence!(
        "the larger of {} x {} and {} over {}, the next that is sold",
        figure(FUSE_MARGIN, "", 2),
        amps(s.rms_a),
        amps(s.peak_a),
        figure(s.holds, "", 2)
    );
    let result = s.wiring.fuse_a.map_or_else(
        || sentence!("{}", amps(needed_a)),
        |own| sentence!("{} is the least that carries it; {} is chosen", amps(needed_a), amps(own)),
    );
    let rules = [Rule::NoFuse, Rule::TripOverFuse, Rule::ControllerOverFuse];
    let fuse = line("fuse", "Pack fuse", result, formula, "common practice").judged(findings, &rules);
    if s.wiring.fuse_a.is_some_and(|own| own >= needed_a) || s.said.fitted.pack_fuse.is_some() {
        return fuse;
    }
    fuse.taking(&[("wiring.fuse_a", needed_a)])
}

fn cable(s: &Sizing<'_>, least: &Cable, findings: &[Finding]) -> Line {
    let formula = sentence!(
        "the least that bears the fuse's {} at {} with {} side by side and loses no more than {} of the voltage",
        amps(s.fuse_a),
        figure(s.here.ambient_c, "°C", 0),
        s.here.bundled,
        figure(100.0 * MOST_DROP, "%", 0)
    );
    let result = sentence!("{}, bears {}", &least.name, amps(least.bears_a));
    let cable = line("cable", "Traction cable", result, formula, "NEC table 310.17 with its corrections, from memory")
        .judged(findings, &[Rule::FuseOverCable, Rule::CableTooThin, Rule::CableOverrated]);
    if s.cable_a().is_some_and(|own_a| own_a >= s.fuse_a) || s.said.fitted.traction_cable.is_some() {
        return cable;
    }
    cable.taking(&[
        ("wiring.cable_section_mm2", (100.0 * least.copper_mm2()).round() / 100.0),
        ("wiring.cable_length_m", s.length_m),
        ("wiring.cable_current_a", least.bears_a.floor()),
    ])
}

/// Drop, loss, reserve and short circuit of a traction cable.
fn of_cable(s: &Sizing<'_>, cable: &Cable, findings: &[Finding]) -> Vec<Line> {
    let mm2 = cable.copper_mm2();
    let ohm = s.hot_ohm(cable, s.length_m);
    let share = |volts: f64| 100.0 * volts / s.chain.pack.nominal_v;
    let (drop_v, peak_v) = (ohm * s.rms_a, ohm * s.peak_a);
    let (borne_s, opens_s) = s.short_circuit_s().unwrap_or_default();
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
                figure(s.length_m, "m", 1),
                &cable.name,
                figure(s.here.insulation_c, "°C", 0)
            ),
            "IEC 60028",
        ),
        line(
            "loss",
            "Heat in it",
            sentence!("{}", load_w(ohm * s.rms_a * s.rms_a, 0)),
            "R I² at the current of hours".into(),
            "closed form",
        ),
        line(
            "reserve",
            "Reserve",
            sentence!("{} times the current of hours", figure(cable.bears_a / s.rms_a.max(1e-3), "", 1)),
            sentence!("{} over {}", amps(cable.bears_a), amps(s.rms_a)),
            "NEC table 310.17",
        ),
        line(
            "short_circuit",
            "Short circuit",
            sentence!("the cable bears it {}, the fuse opens in {}", figure(borne_s, "s", 2), figure(opens_s, "s", 3)),
            sentence!("(k S / I)² with {} mm² and {}", figure(mm2, "", 0), amps(s.short_circuit_a)),
            "IEC 60364-5-54, from memory",
        )
        .judged(findings, &[Rule::CableFailsFirst]),
    ]
}

/// Fuse, cable and load at times along a logarithmic axis.
fn coordination(s: &Sizing<'_>) -> Coordination {
    let time_s: Vec<f64> = (0..SAMPLES).map(|i| 10f64.powf(-2.0 + 6.0 * i as f64 / (SAMPLES - 1) as f64)).collect();
    let bears = |t: f64| s.cable().map_or(0.0, |c| bears_for_a(c.copper_mm2(), c.bears_a, t, s.here.insulation_c));
    Coordination {
        fuse_a: time_s.iter().map(|t| opening_current_a(s.fuse_a, *t)).collect(),
        cable_a: time_s.iter().map(|t| bears(*t)).collect(),
        load_a: time_s.iter().map(|t| if *t <= s.peak_s { s.peak_a } else { s.rms_a }).collect(),
        short_circuit_a: s.short_circuit_a,
        time_s,
    }
}
