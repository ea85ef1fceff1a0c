//! Cables along the axes of the vehicle from one placed block to the next, with their lengths.

use serde::Serialize;

use super::centre_m;
use crate::document::{Block, Document, each_placed};
use crate::quantity::Sentence;
use crate::quantity::sentence;

/// Share of a run that is added for bends, and what each end takes, m (common practice).
pub(super) const SLACK: f64 = 0.2;
pub(super) const ENDS_M: f64 = 0.25;

/// Share by which a stated length may differ from that by the places before it is pointed out (judgement).
const NEAR: f64 = 0.15;

/// What a run of cable is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CableKind {
    /// Between pack and controller.
    Traction,
    /// Between controller and motor.
    Phase,
    /// Between charger and pack.
    Charge,
}

/// A run of cable by the places of what it joins.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CableRun {
    /// What it is for.
    pub kind: CableKind,
    /// Words shown.
    pub name: &'static str,
    /// Place in the design of the length that counts.
    pub path: &'static str,
    /// Corners of the run, from centre to centre along the axes: along, right, up, m.
    pub corners_m: Vec<[f64; 3]>,
    /// Cable by the places, with slack; of traction and charge there and back, of the motor each phase, m.
    pub length_m: f64,
    /// Length that is stated in the design, m.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub stated_m: Option<f64>,
    /// Whether that is another length than the places make it.
    pub differs: bool,
    /// How its length comes about.
    pub formula: Sentence,
}

/// Corners of a run from each point to the next: along, then across, at the lower of both heights, as cables lie under the floor.
pub(super) fn along_axes(points: &[[f64; 3]]) -> Vec<[f64; 3]> {
    let mut corners: Vec<[f64; 3]> = Vec::with_capacity(3 * points.len());
    for pair in points.windows(2) {
        let ([x0, y0, z0], [x1, y1, z1]) = (pair[0], pair[1]);
        let low = z0.min(z1);
        for corner in [[x0, y0, z0], [x0, y0, low], [x1, y0, low], [x1, y1, low], [x1, y1, z1]] {
            if corners.last() != Some(&corner) {
                corners.push(corner);
            }
        }
    }
    corners
}

pub(super) fn way_m(corners: &[[f64; 3]]) -> f64 {
    corners.windows(2).map(|w| (0..3).map(|i| (w[1][i] - w[0][i]).abs()).sum::<f64>()).sum()
}

/// Runs between blocks whose places along the vehicle are stated, and no others.
#[must_use]
pub fn cables(document: &Document) -> Vec<CableRun> {
    let design = &document.design;
    let (mut motor, mut controller, mut charger, mut packs) = (None, None, None, Vec::new());
    let mut all_packs = true;
    each_placed(document, |p| {
        let at = p.at.along.is_some().then(|| centre_m(document, &p));
        match p.block {
            Block::Motor => motor = at,
            Block::Controller => controller = at,
            Block::Charger => charger = at,
            Block::Pack | Block::PackBox(_) => match at {
                Some(at) => packs.push(at),
                None => all_packs = false,
            },
            _ => {}
        }
    });
    let mut runs = Vec::new();
    let mut run = |kind, name, path, points: Vec<[f64; 3]>, times: f64, stated_m: Option<f64>, says: &'static str| {
        let corners_m = along_axes(&points);
        let each = way_m(&corners_m) * (1.0 + SLACK) + 2.0 * ENDS_M;
        let length_m = (times * each * 100.0).round() / 100.0;
        runs.push(CableRun {
            kind,
            name,
            path,
            length_m,
            corners_m,
            stated_m,
            differs: stated_m.is_some_and(|stated| (length_m - stated).abs() > NEAR * stated),
            formula: sentence!("along the axes from centre to centre, a fifth for bends and a quarter of a metre at each end, {}", says),
        });
    };
    if let (Some(controller), true, false) = (controller, all_packs, packs.is_empty()) {
        let points = through(controller, packs);
        let stated = design.wiring.cable_length_m;
        run(CableKind::Traction, "Traction cable", "wiring.cable_length_m", points.clone(), 2.0, stated, "there and back");
        if let Some(charger) = charger {
            let nearest_pack = nearest(&points[1..], charger).map_or(points[1], |i| points[1 + i]);
            let stated = design.electrics.charge_length_m;
            run(CableKind::Charge, "Charge cable", "electrics.charge_length_m", vec![charger, nearest_pack], 2.0, stated, "there and back");
        }
    }
    if let (Some(motor), Some(controller)) = (motor, controller) {
        let stated = design.electrics.phase_length_m;
        run(CableKind::Phase, "Motor cables", "electrics.phase_length_m", vec![controller, motor], 1.0, stated, "each of them");
    }
    runs
}

/// From box to box, each to the nearest that is left.
pub(super) fn through(from: [f64; 3], mut boxes: Vec<[f64; 3]>) -> Vec<[f64; 3]> {
    let mut points = vec![from];
    while let Some(next) = nearest(&boxes, points[points.len() - 1]) {
        points.push(boxes.swap_remove(next));
    }
    points
}

/// Which of some points is the nearest along the axes.
fn nearest(points: &[[f64; 3]], from: [f64; 3]) -> Option<usize> {
    let way = |p: &[f64; 3]| way_m(&[from, *p]);
    (0..points.len()).min_by(|a, b| way(&points[*a]).total_cmp(&way(&points[*b])))
}
