//! Lines of contactors, precharge and discharge, and the bus voltage over time.

use super::PrechargeCurve;
use super::lines::{Line, amps, line};
use super::traction::SAMPLES;
use crate::document::HAZARDOUS_V;
use crate::electrics::Sizing;
use crate::electrics::precharge::bleeder_ohm;
use crate::findings::{Finding, Rule};
use crate::quantity::{figure, load_w, sentence};

/// Contactors, precharge and discharge, and the bus voltage over time.
pub(super) fn precharge(s: &Sizing<'_>, findings: &[Finding]) -> (Vec<Line>, PrechargeCurve) {
    let full_v = s.full_v();
    let (p, delay_s) = (&s.precharge, s.delay_s);
    let hazardous = full_v > HAZARDOUS_V;
    let mut lines = vec![
        line(
            "contactor",
            "Main contactor",
            sentence!(
                "carries {} for hours and {} for {}, breaks {}{}",
                amps(s.rms_a),
                amps(s.peak_a),
                figure(s.peak_s, "s", 0),
                figure(full_v, "V", 0),
                if hazardous { ", one in each pole" } else { "" }
            ),
            "the trips' root mean square, the controller's peak, the full pack".into(),
            if hazardous { "common practice; ISO 6469-3 above 60 V" } else { "common practice" },
        )
        .judged(findings, &[Rule::NoContactor]),
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
        line(
            "ready",
            "Bus at 95 %",
            p.ready_s().map_or_else(|| "never".into(), |ready_s| sentence!("after {}", figure(ready_s, "s", 2))),
            sentence!(
                "3 R C of {} Ω and {} mF, closing after {}",
                figure(p.resistor_ohm, "", 1),
                figure(1000.0 * p.capacitance_f, "", 1),
                figure(delay_s, "s", 1)
            ),
            "closed form",
        )
        .judged(findings, &[Rule::PrechargeNever, Rule::PrechargeEarly]),
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
            sentence!("{} through the contacts, which weld", amps(s.short_circuit_a)),
            sentence!("full charge over the pack's {} mΩ", figure(1000.0 * s.chain.pack.resistance_ohm, "", 1)),
            "closed form",
        ),
    ];
    if let Some(ohm) = bleeder_ohm(full_v, s.capacitance_f) {
        let result = sentence!("{} Ω at most, {} while it is on", figure(ohm, "", 0), load_w(full_v * full_v / ohm, 0));
        let formula = sentence!(
            "{} mF from {} to 60 V within five seconds of opening",
            figure(1000.0 * s.capacitance_f, "", 1),
            figure(full_v, "V", 0)
        );
        lines.push(line("bleeder", "Discharge resistor", result, formula, "ISO 6469-3, from memory; switched on by opening"));
    }
    let last_s = (1.2 * p.ready_s().unwrap_or(delay_s)).max(1.1 * delay_s);
    let time_s: Vec<f64> = (0..SAMPLES).map(|i| last_s * i as f64 / (SAMPLES - 1) as f64).collect();
    let bus_v = time_s.iter().map(|t| p.bus_v(*t)).collect();
    (lines, PrechargeCurve { time_s, bus_v, closes_v: p.closes_v(), delay_s })
}
