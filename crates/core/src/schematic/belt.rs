//! The toothed belt on the mechanical sheet.

use super::lines::{Line, line, teeth_line};
use super::mechanics::ChainPicture;
use crate::findings::{Finding, Rule};
use crate::mechanics::belt::{BeltSizing, LEAST_IN_MESH};
use crate::quantity::{Sentence, figure, machined_mm, sentence};

pub(super) fn belt_picture(b: &BeltSizing<'_>) -> ChainPicture {
    ChainPicture {
        diameters_mm: b.diameters_mm,
        teeth: b.teeth,
        centre_mm: b.taut_mm.unwrap_or(b.said.centre_mm),
        pitch_mm: b.said.pitch_mm,
        links: b.belt_teeth,
        belt: true,
    }
}

pub(super) fn belt_lines(b: &BeltSizing<'_>, findings: &[Finding]) -> Vec<Line> {
    const SOURCE: &str = "ISO 13050";
    let kn = |n: f64| figure(n / 1000.0, "kN", 1);
    let [front, rear] = b.teeth;
    let words = sentence!("{} teeth in front, {} behind", front, rear);
    let teeth = teeth_line("belt_teeth", "Pulleys", words, front, b.ratio, b.teeth_ratio());
    let diameters = line(
        "belt_diameters",
        "Pitch diameters",
        sentence!("{} and {}", machined_mm(b.diameters_mm[0], 1), machined_mm(b.diameters_mm[1], 1)),
        sentence!("teeth × pitch / π, pitch {}", machined_mm(b.said.pitch_mm, 0)),
        SOURCE,
    );
    let taut: Sentence = match b.taut_mm {
        Some(mm) => sentence!("of {} teeth, taut with the shafts {} apart", b.belt_teeth, machined_mm(mm, 1)),
        None => "none goes around these pulleys".into(),
    };
    let length = line(
        "belt_length",
        "Belt",
        taut,
        sentence!(
            "2 C cos φ + π (D1 + D2) / 2 + φ (D2 - D1), sin φ = (D2 - D1) / 2 C: {} teeth at {}",
            figure(b.length.unwrap_or(0.0), "", 2),
            machined_mm(b.said.centre_mm, 1)
        ),
        "geometry",
    );
    let moved = b.taut_mm.filter(|mm| (mm - b.said.centre_mm).abs() >= 0.05);
    let mesh = line(
        "belt_mesh",
        "In mesh",
        sentence!("{} teeth of the smaller pulley", b.in_mesh),
        sentence!("teeth × wrap / 360°, whole ones; {} are the fewest", LEAST_IN_MESH),
        "common practice",
    );
    let bears: Sentence = match b.said.bears_n {
        Some(n) => sentence!("{} of the {} it bears", kn(b.pull_n), kn(n)),
        None => sentence!("{}; what the belt bears is in its maker's table, by its width", kn(b.pull_n)),
    };
    let pull = line(
        "belt_pull",
        "Pulled with",
        bears,
        sentence!("{} at the front pulley over half its diameter", figure(b.torque_nm, "N·m", 0)),
        "closed form",
    );
    vec![
        teeth.judged(findings, &[Rule::TeethOffRatio]),
        diameters,
        match moved {
            Some(mm) => length.taking(&[("mechanics.belt.centre_mm", (10.0 * mm).round() / 10.0)]),
            None => length,
        }
        .judged(findings, &[Rule::SprocketsCollide]),
        mesh.judged(findings, &[Rule::FewInMesh]),
        pull.judged(findings, &[Rule::BeltOverloaded]),
    ]
}
