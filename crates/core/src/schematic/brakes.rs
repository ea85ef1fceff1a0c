//! Lines of brake assistance, insulation and monitoring.

use super::lines::{Line, line};
use crate::document::BrakeAssistance;
use crate::electrics::Sizing;
use crate::electrics::insulation::ohm_per_v;
use crate::findings::{Finding, Rule};
use crate::quantity::{figure, sentence};

/// Brake assistance: presses left and recovery, or what is missing; empty where nothing helps the brakes.
pub(super) fn brakes(s: &Sizing<'_>, findings: &[Finding]) -> Vec<Line> {
    let Some(vacuum) = &s.vacuum else {
        return match s.said.brakes {
            BrakeAssistance::Lost => vec![
                line(
                    "assistance",
                    "Assistance",
                    "none".into(),
                    "the engine made the vacuum; a pump with a reservoir or an electric booster takes its place".into(),
                    "common practice",
                )
                .judged(findings, &[Rule::BrakesUnassisted]),
            ],
            _ => Vec::new(),
        };
    };
    let presses = line(
        "presses",
        "Pump dead",
        sentence!("{} presses left", vacuum.presses_left().to_string()),
        sentence!(
            "each leaves {} of the vacuum: {} l of reservoir over that and {} l a press; from {} down to {}",
            figure(100.0 * vacuum.reservoir_l / (vacuum.reservoir_l + vacuum.press_l), "%", 0),
            figure(vacuum.reservoir_l, "", 1),
            figure(vacuum.press_l, "", 2),
            figure(vacuum.pulled_kpa, "kPa", 0),
            figure(vacuum.least_kpa, "kPa", 0)
        ),
        "Boyle's law",
    )
    .judged(findings, &[Rule::FewPresses]);
    let recovery = line(
        "recovery",
        "Pump makes up for one press",
        sentence!("in {}", figure(vacuum.recovers_s(1), "s", 1)),
        sentence!("V / S ln(p1 / p2) with {} l/min", figure(vacuum.pump_l_min, "", 0)),
        "closed form",
    );
    vec![presses, recovery]
}

/// Insulation resistance, and what monitoring sees and misses.
pub(super) fn safety(s: &Sizing<'_>, findings: &[Finding]) -> Vec<Line> {
    let alternating = s.document.design.motor.as_ref().is_some_and(|m| m.kind.is_three_phase());
    let kind = if alternating { "with alternating current on the same circuit" } else { "direct current alone" };
    let least = figure(s.insulation_ohm / 1000.0, "", 0);
    let result = s.measured_ohm.map_or_else(
        || sentence!("{} kΩ at least", least.clone()),
        |ohm| sentence!("{} kΩ measured; {} kΩ at least", figure(ohm / 1000.0, "", 0), least.clone()),
    );
    let formula = sentence!("{} Ω for each of {}, {}", figure(ohm_per_v(alternating), "", 0), figure(s.full_v(), "V", 0), kind);
    let mut lines = vec![
        line("insulation", "Insulation to the chassis", result, formula, "UN R100, ISO 6469-3").judged(findings, &[Rule::InsulationLow]),
    ];
    let Some(pack) = &s.document.design.pack else { return lines };
    let cells = pack.cells_in_series();
    let lithium = pack.has_lithium();
    let (result, formula) = match (s.document.design.monitored(), s.said.hand_checked_every) {
        (true, _) => (
            sentence!("{} points, every cell, all the time", cells),
            sentence!("{} cells in series; it misses what its wires and its own fuse miss: check it by hand now and then", cells),
        ),
        (false, Some(every)) => {
            let points = cells.div_ceil(every);
            let missed = if every > 1 { "a weak cell hides among its neighbours" } else { "between two readings nobody looks" };
            (
                sentence!("{} points by hand, every {} cells: {}", points, every, missed),
                sentence!("a cell off by a volt shows as {} V on the mean of {}", figure(1.0 / f64::from(every), "", 2), every),
            )
        }
        (false, None) if lithium => {
            (sentence!("{} cells, nobody looks", cells), "a management system, or a written routine by hand".into())
        }
        (false, None) => ("each battery by hand".into(), "an equal charge shows at the end of each charge".into()),
    };
    lines.push(
        line("monitoring", "Cells watched", result, formula, "common practice; approaches differ")
            .judged(findings, &[Rule::LithiumUnmonitored]),
    );
    lines
}
