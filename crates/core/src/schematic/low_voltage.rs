//! Lines of the 12 V side, of cooling and of heating.

use super::lines::{Line, LineState, amps, line};
use crate::document::LowVoltageSupply;
use crate::electrics::Sizing;
use crate::electrics::cooling::{flow_l_min, hose_loss_kpa, hose_mm, radiator_w_per_k};
use crate::electrics::low_voltage::{CONVERTER_RESERVE, SYSTEM_V, least_converter_w};
use crate::findings::{Finding, Rule};
use crate::layout::{CoolantRun, coolant_run};
use crate::limits::FUSE_MARGIN;
use crate::quantity::{figure, height_m, load_w, machined_mm, sentence};

/// Share by which ranges may count less than what is drawn at worst before it is said (judgement).
const UNDERCOUNTED: f64 = 1.3;

/// Converter and auxiliary battery, or a battery alone.
pub(super) fn low_voltage(s: &Sizing<'_>, findings: &[Finding]) -> Vec<Line> {
    let worst = s.worst();
    let words = worst.words();
    let mut lines = Vec::new();
    match s.said.supply {
        LowVoltageSupply::Converter => lines.push(converter(s, findings)),
        LowVoltageSupply::Battery => lines.push(
            line(
                "alone",
                "Battery alone",
                sentence!("{} minutes {}; no range pays for the 12 V side", figure(worst.minutes_left, "", 0), words),
                sentence!("half of {} at 12 V over {}", figure(s.auxiliary_ah, "Ah", 0), load_w(worst.mean_w, 0)),
                "common practice of light vehicles; it needs its own charger at the socket",
            )
            .judged(findings, &[Rule::BatteryEmpties]),
        ),
    }
    let counted_w = s.document.design.low_voltage.load_w;
    let mut mean = line(
        "mean_load",
        "Mean load on trips",
        sentence!("{} counted in every range", load_w(counted_w, 0)),
        sentence!("{} {} is the most of the situations below", load_w(worst.mean_w, 0), words),
        "the design's own figure",
    );
    if worst.mean_w > UNDERCOUNTED * counted_w && s.said.supply == LowVoltageSupply::Converter {
        let trouble = sentence!("Ranges count {}; {} {} is drawn.", load_w(counted_w, 0), words, load_w(worst.mean_w, 0));
        mean = mean.troubled(LineState::Warn, trouble).taking(&[("low_voltage.load_w", worst.mean_w.round())]);
    }
    lines.push(mean);
    if s.said.supply == LowVoltageSupply::Converter {
        lines.push(line(
            "battery",
            "Converter dead",
            sentence!("{} minutes {}", figure(worst.minutes_left, "", 0), words),
            sentence!("half of the battery's charge at 12 V over {}", load_w(worst.mean_w, 0)),
            "common practice",
        ));
    }
    lines
}

fn converter(s: &Sizing<'_>, findings: &[Finding]) -> Line {
    let worst = s.worst();
    let needed = least_converter_w(worst.mean_w);
    let result = needed.map_or_else(
        || sentence!("more than any: {}", load_w(s.converter_needed_w(), 0)),
        |watts| sentence!("{}, {} at {} V", load_w(watts, 0), amps(watts / SYSTEM_V), figure(SYSTEM_V, "", 1)),
    );
    let formula = sentence!("{} {} x {}, the next that is sold", load_w(worst.mean_w, 0), worst.words(), figure(CONVERTER_RESERVE, "", 1));
    let about_it: Vec<Finding> = findings.iter().filter(|f| f.slot == Some(crate::document::Slot::Converter)).cloned().collect();
    let rules = [Rule::FullChargeOverComponent, Rule::PackBelowComponent, Rule::ComponentTooSmall];
    let mut converter = line("converter", "Converter", result, formula, "common practice").judged(&about_it, &rules);
    if needed.is_none() {
        converter = converter.troubled(LineState::Warn, "No single converter carries it: share the loads between two.".into());
    }
    if s.said.fitted.converter.is_some() {
        return converter;
    }
    if let Some(watts) = needed.filter(|w| s.said.converter_power_w.is_none_or(|own| own < *w)) {
        converter = converter.taking(&[("electrics.converter_power_w", watts)]);
    }
    converter
}

/// Coolant may be so warm at controllers and motors, degC, and warms by so much on its way, K; air on a hot day, degC (common practice).
const COOLANT_C: f64 = 60.0;
const COOLANT_RISE_K: f64 = 5.0;
const HOT_AIR_C: f64 = 40.0;

/// Cooling of motor and controller, and the heater.
pub(super) fn heat(s: &Sizing<'_>, findings: &[Finding]) -> Vec<Line> {
    let rated_w = s.chain.continuous_heat_w();
    let mut lines = vec![line(
        "heat",
        "Heat of motor and controller",
        sentence!("{} at their continuous ratings", load_w(rated_w, 0)),
        "what they lose while they give what they may for hours".into(),
        "the records' losses",
    )];
    let mut most_l_min = 0.0_f64;
    let mut needs = |id: &'static str, name: &'static str, heat_w: f64, when: String| {
        most_l_min = most_l_min.max(flow_l_min(heat_w, COOLANT_RISE_K));
        let radiator = radiator_w_per_k(heat_w, COOLANT_C, HOT_AIR_C).unwrap_or_default();
        lines.push(line(
            id,
            name,
            sentence!("{} l/min, a radiator of {} W/K", figure(flow_l_min(heat_w, COOLANT_RISE_K), "", 1), figure(radiator, "", 0)),
            sentence!(
                "{} {}, warmed by {} K; {} of coolant in air of {}",
                load_w(heat_w, 0),
                when,
                figure(COOLANT_RISE_K, "", 0),
                figure(COOLANT_C, "°C", 0),
                figure(HOT_AIR_C, "°C", 0)
            ),
            "common practice; half glycol",
        ));
    };
    needs("coolant", "Liquid that keeps the ratings", rated_w, "at the ratings".to_owned());
    if let Some(hottest) = s.hottest() {
        needs(
            "coolant_trips",
            "Liquid that carries the trips",
            hottest.ten_minutes_w,
            format!("over the worst ten minutes of {}", hottest.name),
        );
    }
    lines.extend(coolant_run(s.document).map(|run| hose_line(run, most_l_min)));
    if let Some(watts) = s.said.heating_w {
        let heater_a = s.drawn_a(watts);
        let about_it: Vec<Finding> = findings.iter().filter(|f| f.slot == Some(crate::document::Slot::Heater)).cloned().collect();
        lines.push(
            line(
                "heater",
                "Heater from the pack",
                sentence!("{}, {} and a fuse of its own", load_w(watts, 0), amps(heater_a)),
                sentence!(
                    "over {}, fused at {} times that; seasons say for which trips it counts",
                    figure(s.chain.pack.cutoff_v, "V", 0),
                    figure(FUSE_MARGIN, "", 2)
                ),
                "closed form",
            )
            .judged(&about_it, &[Rule::FullChargeOverComponent, Rule::PackBelowComponent, Rule::ComponentTooSmall]),
        );
    }
    lines
}

/// Hose of the coolant by the places, at the greater of both flows.
fn hose_line(run: CoolantRun, l_min: f64) -> Line {
    let inner_mm = hose_mm(l_min);
    let litres = 0.25 * std::f64::consts::PI * (inner_mm / 100.0).powi(2) * run.length_m * 10.0;
    let radiator = if run.radiator_placed { "the radiator where it is placed" } else { "a radiator at the nose, as none is placed" };
    line(
        "coolant_hose",
        "Hose of that liquid",
        sentence!(
            "{} of {} with {} l in it; it takes {} of the pump's pressure",
            height_m(run.length_m, 1),
            machined_mm(inner_mm, 0),
            figure(litres, "", 1),
            figure(hose_loss_kpa(l_min, inner_mm, run.length_m), "kPa", 0)
        ),
        sentence!(
            "from {} along the axes through controller and motor and back, a fifth for bends; {} l/min; radiator and jackets take more",
            radiator,
            figure(l_min, "", 1)
        ),
        "Darcy-Weisbach, Blasius",
    )
}
