//! Cables along the axes of the vehicle from one placed block to the next, with their lengths.

use serde::Serialize;

use super::centre_m;
use crate::document::{Block, Document, Slot, each_placed};
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
    /// Between charge inlet and charger.
    Mains,
    /// Between fast-charge inlet and contactor box, or pack.
    Station,
    /// Between contactor box, or controller, and converter.
    Converter,
    /// The same to the heater.
    Heater,
}

/// A run of cable by the places of what it joins.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CableRun {
    /// What it is for.
    pub kind: CableKind,
    /// Words shown.
    pub name: &'static str,
    /// Place in the design of the length that counts; none where that by the places always does.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub path: Option<&'static str>,
    /// Corners of the run, from centre to centre along the axes: along, right, up, m.
    pub corners_m: Vec<[f64; 3]>,
    /// Cable by the places, with slack; of those from pack to controller and from charger to pack there and back, of others each conductor,
    /// m.
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

/// Places of what cables join, where they are stated along the vehicle.
#[derive(Default)]
struct Ends {
    motor: Option<[f64; 3]>,
    controller: Option<[f64; 3]>,
    charger: Option<[f64; 3]>,
    contactors: Option<[f64; 3]>,
    components: Vec<(Slot, [f64; 3])>,
    packs: Vec<[f64; 3]>,
    /// Whether a box of the pack has no place.
    pack_is_lost: bool,
}

impl Ends {
    fn of(document: &Document) -> Self {
        let mut ends = Self::default();
        each_placed(document, |p| {
            let at = p.at.along.is_some().then(|| centre_m(document, &p));
            match p.block {
                Block::Motor => ends.motor = at,
                Block::Controller => ends.controller = at,
                Block::Charger => ends.charger = at,
                Block::Electrics => ends.contactors = at,
                Block::Component(slot) => ends.components.extend(at.map(|at| (slot, at))),
                Block::Pack | Block::PackBox(_) => match at {
                    Some(at) => ends.packs.push(at),
                    None => ends.pack_is_lost = true,
                },
                Block::Removed(_) | Block::Added(_) | Block::Driver | Block::Payload => {}
            }
        });
        ends
    }

    fn component(&self, slot: Slot) -> Option<[f64; 3]> {
        self.components.iter().find(|c| c.0 == slot).map(|c| c.1)
    }
}

/// Runs between blocks whose places along the vehicle are stated, and no others.
#[must_use]
pub fn cables(document: &Document) -> Vec<CableRun> {
    let design = &document.design;
    let ends = Ends::of(document);
    let mut runs = Vec::new();
    let mut run = |kind, name, path, points: Vec<[f64; 3]>, times: f64, stated_m: Option<f64>| {
        let corners_m = along_axes(&points);
        let each = way_m(&corners_m) * (1.0 + SLACK) + 2.0 * ENDS_M;
        let length_m = (times * each * 100.0).round() / 100.0;
        let says = if times > 1.0 { "there and back" } else { "each of them" };
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
    let packs = if ends.pack_is_lost { &[][..] } else { &ends.packs };
    let nearest_pack = |from| nearest(packs, from).map(|i| packs[i]);
    if let (Some(controller), false) = (ends.controller, packs.is_empty()) {
        let points = trunk(controller, ends.contactors, packs.to_vec());
        run(CableKind::Traction, "Traction cable", Some("wiring.cable_length_m"), points, 2.0, design.wiring.cable_length_m);
    }
    if let Some((charger, pack)) = ends.charger.and_then(|c| Some((c, nearest_pack(c)?))) {
        let stated = design.electrics.charge_length_m;
        run(CableKind::Charge, "Charge cable", Some("electrics.charge_length_m"), vec![charger, pack], 2.0, stated);
    }
    if let (Some(motor), Some(controller)) = (ends.motor, ends.controller) {
        let stated = design.electrics.phase_length_m;
        run(CableKind::Phase, "Motor cables", Some("electrics.phase_length_m"), vec![controller, motor], 1.0, stated);
    }
    let bus = ends.contactors.or(ends.controller);
    let others = [
        (CableKind::Mains, "From charge inlet to charger", Slot::ChargeInlet, ends.charger),
        (CableKind::Converter, "To the converter", Slot::Converter, bus),
        (CableKind::Heater, "To the heater", Slot::Heater, bus),
    ];
    for (kind, name, slot, other) in others {
        if let Some((at, other)) = ends.component(slot).zip(other) {
            run(kind, name, None, vec![other, at], 1.0, None);
        }
    }
    if let Some(inlet) = ends.component(Slot::FastInlet)
        && let Some(other) = ends.contactors.or_else(|| nearest_pack(inlet))
    {
        run(CableKind::Station, "From fast-charge inlet", None, vec![inlet, other], 1.0, None);
    }
    runs
}

/// From controller by way of the contactor box, where that has a place, to box after box of the pack.
pub(super) fn trunk(controller: [f64; 3], contactors: Option<[f64; 3]>, boxes: Vec<[f64; 3]>) -> Vec<[f64; 3]> {
    let mut points = vec![controller];
    points.extend(through(contactors.unwrap_or(controller), boxes).into_iter().skip(usize::from(contactors.is_none())));
    points
}

/// From box to box, each to the nearest that is left.
fn through(from: [f64; 3], mut boxes: Vec<[f64; 3]>) -> Vec<[f64; 3]> {
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
