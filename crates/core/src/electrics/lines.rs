//! A line of the sheet, and the lines of the 12 V side, the brakes and the insulation.

use serde::Serialize;

use super::Demand;
use super::low_voltage::{CONVERTER_RESERVE, SYSTEM_V, Situation, least_converter_w};
use super::vacuum::BrakeVacuum;
use crate::quantity::{Sentence, figure, load_w, sentence};

/// How a line stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LineState {
    /// A figure, or what was chosen suffices.
    Sound,
    /// What was chosen will disappoint, or nothing suffices.
    Warn,
    /// What was chosen will be damaged or hurt someone.
    Stop,
}

/// A place of the design that a line can be taken into.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Taken {
    /// Dotted place within the design.
    pub path: &'static str,
    /// Value to put there, in the unit of its key.
    pub value: f64,
}

/// One derived figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Line {
    /// Stable identifier.
    pub id: &'static str,
    /// What it is.
    pub name: &'static str,
    /// The result in words and figures.
    pub result: Sentence,
    /// How it comes about, with its inputs.
    pub formula: Sentence,
    /// Standard, handbook or common practice.
    pub source: &'static str,
    /// How it stands.
    pub state: LineState,
    /// What is wrong with what was chosen; empty when nothing is.
    pub trouble: Sentence,
    /// What to put into the design to take it; empty when there is nothing to take, or it stands there.
    pub takes: Vec<Taken>,
}

/// A sound line with nothing to take.
pub(super) fn line(id: &'static str, name: &'static str, result: Sentence, formula: Sentence, source: &'static str) -> Line {
    Line { id, name, result, formula, source, state: LineState::Sound, trouble: Sentence::default(), takes: Vec::new() }
}

impl Line {
    /// With something wrong.
    pub(super) fn troubled(mut self, state: LineState, trouble: Sentence) -> Self {
        (self.state, self.trouble) = (state, trouble);
        self
    }

    /// With what to put into the design.
    pub(super) fn taking(mut self, takes: &[(&'static str, f64)]) -> Self {
        self.takes = takes.iter().map(|(path, value)| Taken { path, value: *value }).collect();
        self
    }
}

/// Converter and auxiliary battery.
pub(super) fn low_voltage(demand: &Demand<'_>, situations: &[Situation; 3]) -> Vec<Line> {
    let worst = situations.iter().max_by(|a, b| a.mean_w.total_cmp(&b.mean_w)).unwrap_or(&situations[0]);
    let words = match worst.id {
        "day" => "by day",
        "night" => "at night in rain",
        _ => "in winter",
    };
    let needed = least_converter_w(worst.mean_w);
    let result = needed.map_or_else(
        || sentence!("more than any: {}", load_w(CONVERTER_RESERVE * worst.mean_w, 0)),
        |watts| sentence!("{}, {} at {} V", load_w(watts, 0), figure(watts / SYSTEM_V, "A", 0), figure(SYSTEM_V, "", 1)),
    );
    let mut converter = line(
        "converter",
        "Converter",
        result,
        sentence!("{} {} x {}, the next that is sold", load_w(worst.mean_w, 0), words, figure(CONVERTER_RESERVE, "", 1)),
        "common practice",
    );
    match (demand.said.converter_power_w, needed) {
        (Some(own), _) if own < worst.mean_w => {
            let trouble = sentence!("The converter gives {}; {} is drawn {}.", load_w(own, 0), load_w(worst.mean_w, 0), words);
            converter = converter.troubled(LineState::Warn, trouble);
        }
        (_, None) => converter = converter.troubled(LineState::Warn, "No single converter carries it: share the loads between two.".into()),
        _ => {}
    }
    if let Some(watts) = needed.filter(|w| demand.said.converter_power_w.is_none_or(|own| own < *w)) {
        converter = converter.taking(&[("electrics.converter_power_w", watts)]);
    }
    let counted_w = demand.document.design.low_voltage.load_w;
    let mut mean = line(
        "mean_load",
        "Mean load on trips",
        sentence!("{} counted in every range", load_w(counted_w, 0)),
        sentence!("{} {} is the most of the situations below", load_w(worst.mean_w, 0), words),
        "the design's own figure",
    );
    if worst.mean_w > 1.3 * counted_w {
        let trouble = sentence!("Ranges count {}; {} {} is drawn.", load_w(counted_w, 0), words, load_w(worst.mean_w, 0));
        mean = mean.troubled(LineState::Warn, trouble).taking(&[("low_voltage.load_w", worst.mean_w.round())]);
    }
    let left = line(
        "battery",
        "Converter dead",
        sentence!("{} minutes {}", figure(worst.minutes_left, "", 0), words),
        sentence!("half of the battery's charge at 12 V over {}", load_w(worst.mean_w, 0)),
        "common practice",
    );
    vec![converter, mean, left]
}

/// Presses left and recovery.
pub(super) fn brakes(vacuum: &BrakeVacuum) -> Vec<Line> {
    const FEW: usize = 3;
    let left = vacuum.presses_left();
    let mut presses = line(
        "presses",
        "Pump dead",
        sentence!("{} presses left", left.to_string()),
        sentence!(
            "each leaves {} of the vacuum: {} l of reservoir over that and {} l a press; from {} down to {}",
            figure(100.0 * vacuum.reservoir_l / (vacuum.reservoir_l + vacuum.press_l), "%", 0),
            figure(vacuum.reservoir_l, "", 1),
            figure(vacuum.press_l, "", 2),
            figure(vacuum.pulled_kpa, "kPa", 0),
            figure(vacuum.least_kpa, "kPa", 0)
        ),
        "Boyle's law",
    );
    if left < FEW {
        presses = presses.troubled(
            LineState::Stop,
            "Fewer than three presses remain when the pump dies: a larger reservoir, or a stronger vacuum.".into(),
        );
    }
    vec![
        presses,
        line(
            "recovery",
            "Pump makes up for one press",
            sentence!("in {}", figure(vacuum.recovers_s(1), "s", 1)),
            sentence!("V / S ln(p1 / p2) with {} l/min", figure(vacuum.pump_l_min, "", 0)),
            "closed form",
        ),
    ]
}

/// Ohm for each volt that the insulation must have: direct current alone, and with parts of alternating current (UN R100, ISO 6469-3).
const OHM_PER_V: (f64, f64) = (100.0, 500.0);

/// Insulation resistance.
pub(super) fn safety(demand: &Demand<'_>) -> Vec<Line> {
    let full_v = demand.chain.pack.full_v;
    let alternating = demand.document.design.motor.as_ref().is_some_and(|m| m.kind.is_three_phase());
    let per_v = if alternating { OHM_PER_V.1 } else { OHM_PER_V.0 };
    let kind = if alternating { "with alternating current on the same circuit" } else { "direct current alone" };
    vec![line(
        "insulation",
        "Insulation to the chassis",
        sentence!("{} kΩ at least", figure(per_v * full_v / 1000.0, "", 0)),
        sentence!("{} Ω for each of {}, {}", figure(per_v, "", 0), figure(full_v, "V", 0), kind),
        "UN R100, ISO 6469-3",
    )]
}
