//! The adapter plate on the mechanical sheet: its picture and its lines.

use serde::Serialize;

use super::lines::{Line, line};
use super::lists::plain;
use crate::findings::{Finding, Rule};
use crate::mechanics::plate::{MOST_RUN_OUT_MM, PlateSizing};
use crate::quantity::{Sentence, figure, machined_mm, sentence};

/// An adapter plate as it is drawn, seen from the motor; x to the right and y downwards from its shaft.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlatePicture {
    /// The outline as SVG path data, mm.
    pub outline: String,
    /// Each hole: right, down and diameter, mm; the bore first.
    pub holes_mm: Vec<[f64; 3]>,
    /// Which each is.
    pub names: Vec<String>,
    /// Left, top, width and height over all, mm.
    pub box_mm: [f64; 4],
}

pub(super) fn plate_picture(p: &PlateSizing<'_>) -> PlatePicture {
    let at = |[x, y]: [f64; 2]| format!("{} {}", plain(x), plain(-y));
    let mut outline = String::new();
    for arc in &p.outline {
        let [from, to] = arc.from_to;
        let r = plain(arc.radius_mm);
        // In two halves, since a whole turn ends where it began.
        let half = 0.5 * (from + to);
        let lead = if outline.is_empty() { "M" } else { "L" };
        let [begins, on, ends] = [from, half, to].map(|t| at(arc.point_mm(t)));
        outline += &format!("{lead} {begins} A {r} {r} 0 0 0 {on} A {r} {r} 0 0 0 {ends} ");
    }
    outline.push('Z');
    let [[left, low], [right, high]] = p.bounds_mm();
    PlatePicture {
        outline,
        holes_mm: p.holes.iter().map(|h| [h.at_mm[0], -h.at_mm[1], h.diameter_mm]).collect(),
        names: p.holes.iter().map(|h| h.name.clone()).collect(),
        box_mm: [left, -high, right - left, high - low],
    }
}

pub(super) fn plate_lines(p: &PlateSizing<'_>, findings: &[Finding]) -> Vec<Line> {
    let [[left, low], [right, high]] = p.bounds_mm();
    let mut lines = vec![line(
        "plate",
        "Cut to",
        sentence!(
            "{} × {} and {} thick, {}",
            machined_mm(right - left, 0),
            machined_mm(high - low, 0),
            machined_mm(p.said.thickness_mm, 1),
            figure(p.mass_kg, "kg", 2)
        ),
        sentence!("the taut line around all holes with {} of material around each", machined_mm(p.margin_mm, 0)),
        "geometry",
    )];
    if let Some(web) = &p.web {
        let [one, other] = [0, 1].map(|i| web.between[i].clone());
        lines.push(
            line(
                "web",
                "Least between two holes",
                sentence!("{} between {} and {}", machined_mm(web.mm, 1), one, other),
                sentence!(
                    "distance of their middles less half of both; half the bolt hole, {}, is the least",
                    machined_mm(web.least_mm, 1)
                ),
                "common practice",
            )
            .judged(findings, &[Rule::HolesMeet, Rule::ThinWeb]),
        );
    }
    let run_out = match p.said.run_out_mm {
        Some(mm) => sentence!("{} of {} borne", machined_mm(mm, 3), machined_mm(MOST_RUN_OUT_MM, 3)),
        None => sentence!("not measured; {} is borne", machined_mm(MOST_RUN_OUT_MM, 3)),
    };
    let how: Sentence = "a dial gauge on the gearbox shaft, its tip in the bore, over one turn: all of what it moves".into();
    lines.push(line("run-out", "Run-out", run_out, how, "common practice").judged(findings, &[Rule::RunOut]));
    lines
}
