//! The adapter plate: its outline around all holes, its mass, and how much stands between one hole and the next.

use crate::document::{AdapterPlate, PlateMaterial};

/// Material around every hole where nothing is said, mm (common practice).
const MARGIN_MM: f64 = 12.0;
/// What must stand between two holes, in diameters of the larger bolt hole (common practice: centres two and a half apart, with a reserve).
const LEAST_WEB: f64 = 0.5;
/// Run-out of a bore about the shaft that a coupler and its bearings bear, mm (common practice).
pub const MOST_RUN_OUT_MM: f64 = 0.05;
/// Density, kg/mm3 (handbook values).
const ALUMINIUM: f64 = 2.70e-6;
const STEEL: f64 = 7.85e-6;

/// A hole of the plate.
#[derive(Debug, Clone, PartialEq)]
pub struct Hole {
    /// Which: "motor 1", "gearbox left dowel"; the bore first.
    pub name: String,
    /// Right of the shaft and above it, mm.
    pub at_mm: [f64; 2],
    /// Diameter, mm.
    pub diameter_mm: f64,
}

/// A stretch of the outline: counter-clockwise around a centre; a straight line leads on to the next.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OutlineArc {
    /// Right of the shaft and above it, mm.
    pub centre_mm: [f64; 2],
    /// mm.
    pub radius_mm: f64,
    /// From, to, radians counter-clockwise from the right; `to` is the greater.
    pub from_to: [f64; 2],
}

impl OutlineArc {
    /// Point at an angle, mm.
    #[must_use]
    pub(crate) fn point_mm(&self, angle: f64) -> [f64; 2] {
        [self.centre_mm[0] + self.radius_mm * angle.cos(), self.centre_mm[1] + self.radius_mm * angle.sin()]
    }

    /// Where it begins and ends, mm.
    #[must_use]
    pub fn ends_mm(&self) -> [[f64; 2]; 2] {
        self.from_to.map(|angle| self.point_mm(angle))
    }
}

/// What stands between two holes where it is least.
#[derive(Debug, Clone, PartialEq)]
pub struct Web {
    /// mm; below 0 they run into each other.
    pub mm: f64,
    /// What must be there, mm.
    pub least_mm: f64,
    /// Names of the two.
    pub between: [String; 2],
}

/// An adapter plate, sized.
#[derive(Debug, Clone, PartialEq)]
pub struct PlateSizing<'a> {
    /// As stated.
    pub said: &'a AdapterPlate,
    /// The bore first.
    pub holes: Vec<Hole>,
    /// Closed, counter-clockwise.
    pub outline: Vec<OutlineArc>,
    /// Material kept around every hole, mm.
    pub margin_mm: f64,
    /// kg.
    pub mass_kg: f64,
    /// Where least stands between two holes against what must.
    pub web: Option<Web>,
}

impl<'a> PlateSizing<'a> {
    /// Lays out a plate.
    #[must_use]
    pub fn of(said: &'a AdapterPlate) -> Self {
        let holes = holes(said);
        let margin_mm = said.margin_mm.unwrap_or(MARGIN_MM);
        let discs: Vec<([f64; 2], f64)> = holes.iter().map(|h| (h.at_mm, 0.5 * h.diameter_mm + margin_mm)).collect();
        let outline = around(&discs);
        let cut: f64 = holes.iter().map(|h| 0.25 * std::f64::consts::PI * h.diameter_mm.powi(2)).sum();
        let density = match said.material {
            PlateMaterial::Aluminium => ALUMINIUM,
            PlateMaterial::Steel => STEEL,
        };
        Self {
            margin_mm,
            // Holes that run into each other are cut twice here; such a plate is not made.
            mass_kg: density * said.thickness_mm * (area_mm2(&outline) - cut).max(0.0),
            web: least_web(&holes),
            said,
            holes,
            outline,
        }
    }

    /// Left and low, right and high over all, mm.
    #[must_use]
    pub fn bounds_mm(&self) -> [[f64; 2]; 2] {
        let reach = |axis: usize, sign: f64| {
            let far = |h: &Hole| sign * h.at_mm[axis] + 0.5 * h.diameter_mm + self.margin_mm;
            sign * self.holes.iter().map(far).fold(f64::MIN, f64::max)
        };
        [-1.0, 1.0].map(|sign| [reach(0, sign), reach(1, sign)])
    }
}

fn holes(said: &AdapterPlate) -> Vec<Hole> {
    let circle = &said.motor;
    let mut all = vec![Hole { name: "bore".to_owned(), at_mm: [0.0; 2], diameter_mm: said.bore_mm }];
    all.extend((0..circle.holes).map(|i| {
        let clockwise = (circle.first_deg.unwrap_or(0.0) + 360.0 * f64::from(i) / f64::from(circle.holes)).to_radians();
        let at_mm = [circle.radius_mm * clockwise.sin(), circle.radius_mm * clockwise.cos()];
        Hole { name: format!("motor {}", i + 1), at_mm, diameter_mm: circle.hole_mm }
    }));
    all.extend(said.gearbox.iter().map(|h| Hole {
        name: format!("gearbox {}", h.name),
        at_mm: [h.right_mm, h.up_mm],
        diameter_mm: h.hole_mm,
    }));
    all
}

/// What stands between two holes, where it is least against what must.
fn least_web(holes: &[Hole]) -> Option<Web> {
    let mut worst: Option<Web> = None;
    for (i, one) in holes.iter().enumerate() {
        for (j, other) in holes.iter().enumerate().skip(i + 1) {
            let apart = (one.at_mm[0] - other.at_mm[0]).hypot(one.at_mm[1] - other.at_mm[1]);
            let mm = apart - 0.5 * (one.diameter_mm + other.diameter_mm);
            // The bore carries no bolt.
            let bolt_mm = if i == 0 && j > 0 { other.diameter_mm } else { one.diameter_mm.max(other.diameter_mm) };
            let least_mm = LEAST_WEB * bolt_mm;
            if worst.as_ref().is_none_or(|w| mm - least_mm < w.mm - w.least_mm) {
                worst = Some(Web { mm, least_mm, between: [one.name.clone(), other.name.clone()] });
            }
        }
    }
    worst
}

/// The taut line around discs: the disc that reaches furthest in each direction bounds it there; where two reach equally far it leaves one
/// for the other along their common tangent.
fn around(discs: &[([f64; 2], f64)]) -> Vec<OutlineArc> {
    use std::f64::consts::TAU;
    let reach = |(c, r): &([f64; 2], f64), angle: f64| c[0] * angle.cos() + c[1] * angle.sin() + r;
    let furthest = |angle: f64| {
        // Of discs that lie in each other the first, so that equals make one arc.
        (0..discs.len()).fold(0, |best, i| if reach(&discs[i], angle) > reach(&discs[best], angle) + 1e-9 { i } else { best })
    };
    let mut turns: Vec<f64> = Vec::new();
    for (i, (a, ra)) in discs.iter().enumerate() {
        for (b, rb) in &discs[i + 1..] {
            let [dx, dy] = [a[0] - b[0], a[1] - b[1]];
            let apart = dx.hypot(dy);
            if apart > 1e-9 && (rb - ra).abs() < apart {
                let (towards, lean) = (dy.atan2(dx), ((rb - ra) / apart).acos());
                turns.extend([towards + lean, towards - lean].map(|t| t.rem_euclid(TAU)));
            }
        }
    }
    turns.sort_by(f64::total_cmp);
    turns.dedup_by(|a, b| (*a - *b).abs() < 1e-9);
    let Some(first) = turns.first().copied() else {
        let largest = furthest(0.0);
        return vec![OutlineArc { centre_mm: discs[largest].0, radius_mm: discs[largest].1, from_to: [0.0, TAU] }];
    };
    let ends = turns.iter().skip(1).copied().chain([first + TAU]);
    let mut arcs: Vec<(usize, [f64; 2])> = Vec::new();
    for (from, to) in turns.iter().copied().zip(ends) {
        let disc = furthest(0.5 * (from + to));
        match arcs.last_mut() {
            Some((last, span)) if *last == disc => span[1] = to,
            _ => arcs.push((disc, [from, to])),
        }
    }
    // The last and the first may be one arc.
    if arcs.len() > 1 && arcs[0].0 == arcs[arcs.len() - 1].0 {
        let (_, [from, _]) = arcs.remove(arcs.len() - 1);
        arcs[0].1[0] = from - TAU;
    }
    arcs.into_iter().map(|(i, from_to)| OutlineArc { centre_mm: discs[i].0, radius_mm: discs[i].1, from_to }).collect()
}

/// Area within an outline, mm2 (Green's theorem, arc by arc and line by line).
fn area_mm2(outline: &[OutlineArc]) -> f64 {
    let mut twice = 0.0;
    for (i, arc) in outline.iter().enumerate() {
        let ([from, to], r, [x, y]) = (arc.from_to, arc.radius_mm, arc.centre_mm);
        twice += r * (x * (to.sin() - from.sin()) - y * (to.cos() - from.cos())) + r * r * (to - from);
        let ([_, [ax, ay]], [[bx, by], _]) = (arc.ends_mm(), outline[(i + 1) % outline.len()].ends_mm());
        twice += ax * by - bx * ay;
    }
    0.5 * twice
}
