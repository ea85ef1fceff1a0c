//! Lines of the motor cables, the direction of rotation, the throttle and the charge wiring.

use super::lines::{Line, LineState, amps, line};
use super::traction::none_suffices;
use crate::electrics::cable::warms_to_c;
use crate::electrics::rotation::forward;
use crate::electrics::{FOR_HOURS, Sizing};
use crate::findings::{Finding, Rule};
use crate::library::{Controller, ThrottleSignal};
use crate::limits::FUSE_MARGIN;
use crate::powertrain::controller_motor_amps;
use crate::quantity::{Sentence, figure, load_w, sentence};

/// Share of its power that a controller's reverse often gives (common practice).
const REVERSE_SHARE: f64 = 1.0 / 3.0;
/// Part of a throttle's travel at each end that does nothing (common practice).
const DEAD_BAND: f64 = 0.05;

/// Cables between controller and motor, which way it turns, and the throttle.
pub(super) fn motor(s: &Sizing<'_>, findings: &[Finding]) -> Vec<Line> {
    let design = &s.document.design;
    let (Some(controller), Some(motor)) = (&design.controller, &design.motor) else { return Vec::new() };
    let count = if motor.kind.is_three_phase() { "three of them" } else { "two of them" };
    let mut lines = motor_cable(s, controller, count);
    let result = match (s.said.shaft_end, s.said.meshes) {
        (Some(end), Some(meshes)) => sentence!("{}, looking at its shaft end", forward(end, meshes).word()),
        _ => "say where the shaft end points and how many meshes follow".into(),
    };
    lines.push(line(
        "direction",
        "Turns, going forward",
        result,
        "seen from the vehicle's left a forward wheel turns anticlockwise; each mesh of gears reverses, chain and belt do not".into(),
        "common practice",
    ));
    lines.push(line(
        "reverse",
        "Turns the wrong way",
        motor.kind.reversed_by().into(),
        "a motor turned end for end turns the other way round too".into(),
        "common practice",
    ));
    if controller.battery_current_a > 0.0 {
        let result = sentence!("about {} of full power from the controller alone", figure(100.0 * REVERSE_SHARE, "%", 0));
        let formula = "controllers hold reverse back; a reverse gear gives all of it".into();
        lines.push(line("backward", "Going backward", result, formula, "common practice"));
    }
    lines.push(throttle(s, findings));
    lines
}

/// The motor cables by what the controller may pass, and how they fare on the trips.
fn motor_cable(s: &Sizing<'_>, controller: &Controller, count: &'static str) -> Vec<Line> {
    let Some(hours_a) = s.motor_cable_a() else {
        let formula = "neither the controller's record nor the motor's tells the motor current".into();
        let unknown = line("motor_cable", "Each motor cable", "not told".into(), formula, "the controller's record");
        let trouble = "Motor amps are higher than battery amps at low speed: find them before buying cable.";
        return vec![unknown.troubled(LineState::Warn, trouble.into())];
    };
    let length = figure(s.phase_m, "m", 1);
    let mut lines = match controller_motor_amps(controller, false) {
        Some(_) => {
            let formula = match controller.motor_current_a {
                Some(peak_a) => sentence!("{}, {} each; {} for hours, {} at peak", count, length, amps(hours_a), amps(peak_a)),
                None => sentence!("{}, {} each; {} for hours, the record does not tell the peak", count, length, amps(hours_a)),
            };
            vec![cable_line(s, "motor_cable", "Each motor cable", hours_a, s.phase_m, formula)]
        }
        None => {
            let formula = sentence!("{}, {} each; {} on the trips, as the controller's record does not say", count, length, amps(hours_a));
            let trouble = "A hill that no trip has takes more: find the controller's motor amps before buying cable.";
            let by_trips = cable_line(s, "motor_cable", "Each motor cable, at least", hours_a, s.phase_m, formula);
            vec![if by_trips.state == LineState::Sound { by_trips.troubled(LineState::Warn, trouble.into()) } else { by_trips }]
        }
    };
    if let (Some((trip, rms_a)), Some(cable)) = (s.motor_rms(), s.cable_for(hours_a, s.phase_m)) {
        let ohm = s.hot_ohm(&cable, s.phase_m);
        lines.push(line(
            "motor_rms",
            "Motor cable on the trips",
            sentence!(
                "{} in each; it loses {} and warms to {} of {}",
                amps(rms_a),
                load_w(ohm * rms_a * rms_a, 0),
                figure(warms_to_c(rms_a, cable.bears_a, &s.here), "°C", 0),
                figure(s.here.insulation_c, "°C", 0)
            ),
            sentence!("root mean square of {}; R I² each; the rise goes with the square of the current", &trip.name),
            "the trips as simulated",
        ));
    }
    lines
}

fn throttle(s: &Sizing<'_>, findings: &[Finding]) -> Line {
    let reads = s.document.design.controller.as_ref().map_or(&[][..], |c| &c.throttle_signals[..]);
    let fitted = s.said.fitted.throttle.as_ref().and_then(|c| c.signal);
    let Some(signal) = fitted.or(reads.first().copied()) else {
        let result = "the controller's record does not say what it reads".into();
        return line("throttle", "Throttle", result, "take the sender its maker names".into(), "the controller's record");
    };
    let (low, high) = signal.ends();
    let at = |share: f64| figure(low + share * (high - low), if signal == ThrottleSignal::Ohms { "kΩ" } else { "V" }, 2);
    let result = sentence!("{}; idle below {}, half at {}, full above {}", signal.word(), at(DEAD_BAND), at(0.5), at(1.0 - DEAD_BAND));
    let formula = sentence!(
        "a dead band of {} of the travel at both ends; two tracks that differ by more than that are a fault",
        figure(100.0 * DEAD_BAND, "%", 0)
    );
    line("throttle", "Throttle", result, formula, "common practice").judged(findings, &[Rule::ThrottleSignal, Rule::ThrottleRunaway])
}

/// Fuse and cable between charger and pack, and the inlets.
pub(super) fn charge(s: &Sizing<'_>, findings: &[Finding]) -> Vec<Line> {
    let mut lines = own_charger(s, findings);
    if let Some((amps_a, volts)) = s.inlet {
        let result = sentence!("{} on each phase at {}", amps(amps_a), figure(volts, "V", 0));
        let formula = "the most that the charger draws at any of the brief's sockets".into();
        lines.push(line("inlet", "Charge inlet", result, formula, "IEC 62196"));
    }
    if let Some((amps_a, volts)) = s.fast_inlet {
        let result = sentence!("{} at {} of direct current, behind contactors of its own", amps(amps_a), figure(volts, "V", 0));
        let formula = "the least of station and cells; its pins are live only while it charges".into();
        lines.push(line("fast_inlet", "Fast-charge inlet", result, formula, "IEC 62196-3, IEC 61851-23"));
    }
    lines
}

fn own_charger(s: &Sizing<'_>, findings: &[Finding]) -> Vec<Line> {
    let Some(charger) = &s.document.design.charger else {
        return vec![line("charge_cable", "Charge cable", "no charger chosen".into(), Sentence::default(), "NEC 625.41")];
    };
    let hours_a = FOR_HOURS * charger.output_current_a;
    let Some(fuse_a) = s.charge_fuse_a else {
        return vec![none_suffices("charge_fuse", "Charge fuse", hours_a, "common practice")];
    };
    let formula = sentence!(
        "the least that bears its fuse and {} x the charger's {}; {} there and back",
        figure(FOR_HOURS, "", 2),
        amps(charger.output_current_a),
        figure(s.charge_m, "m", 1)
    );
    let result = match s.least_charge_fuse_a {
        Some(least_a) if least_a < fuse_a => sentence!("{} is the least that carries it; {} is chosen", amps(least_a), amps(fuse_a)),
        _ => sentence!("{}", amps(fuse_a)),
    };
    let from = sentence!("{} x the charger's {}, the next that is sold", figure(FUSE_MARGIN, "", 2), amps(charger.output_current_a));
    vec![
        line("charge_fuse", "Charge fuse, at the pack", result, from, "common practice").judged(findings, &[Rule::ChargerOverCells]),
        cable_line(s, "charge_cable", "Charge cable", fuse_a.max(hours_a), s.charge_m, formula),
    ]
}

fn cable_line(s: &Sizing<'_>, id: &'static str, name: &'static str, amps_a: f64, length_m: f64, formula: Sentence) -> Line {
    let Some(cable) = s.cable_for(amps_a, length_m) else { return none_suffices(id, name, amps_a, "NEC table 310.17") };
    let ohm = s.hot_ohm(&cable, length_m);
    let result = sentence!("{}, bears {}, loses {}", &cable.name, amps(cable.bears_a), figure(ohm * amps_a, "V", 2));
    line(id, name, result, formula, "NEC table 310.17 with its corrections, from memory")
}
