//! The mechanical sheet: chain with its sprockets to scale, shaft, key and coupler, and every block with what holds it.

use serde::Serialize;

use super::Group;
use super::belt::{belt_lines, belt_picture};
use super::lines::{Line, line, teeth_line};
use super::motor_places::{MotorPlaceRow, place_row};
use super::plate::{PlatePicture, plate_lines, plate_picture};
use crate::cancel::Cancel;
use crate::document::{Checked, Held, StageKind};
use crate::error::Result;
use crate::estimate::estimate;
use crate::findings::{Finding, Rule, find, held_words};
use crate::inputs::Counted;
use crate::mechanics::chain::{WORN, slot_mm};
use crate::mechanics::place::places;
use crate::mechanics::{ChainSizing, MARGIN, MechanicalSizing, MountSizing, QUIET_TEETH, ShaftSizing, USUAL_PITCHES};
use crate::powertrain::Chain;
use crate::quantity::{Piece, Sentence, figure, machined_mm, sentence};

/// A chain drive as it is drawn, seen from the left; the driving sprocket at the origin, the driven one to its right.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ChainPicture {
    /// Pitch diameters, mm.
    pub diameters_mm: [f64; 2],
    /// Teeth.
    pub teeth: [u32; 2],
    /// Distance of the shafts, mm.
    pub centre_mm: f64,
    /// Pitch, mm.
    pub pitch_mm: f64,
    /// Links of the closed chain, or teeth of the belt.
    pub links: u32,
    /// Whether it is a toothed belt.
    pub belt: bool,
}

/// One block with what holds it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MountRow {
    /// Which block.
    pub of: Held,
    /// Its name among those of its kind.
    pub name: String,
    /// In words.
    pub words: String,
    /// Its mass, kg.
    pub kg: f64,
    /// What it pulls with along, N.
    pub along_n: f64,
    /// Across, N.
    pub across_n: f64,
    /// What its bolts bear with a reserve, N; 0 where nothing is said.
    pub bears_n: f64,
    /// What the sheet at its bolts bears, N.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sheet_n: Option<f64>,
    /// Whether its bolts bear what it pulls with; false where nothing is said.
    pub bolts_bear: bool,
    /// Whether the sheet does, as far as that is known.
    pub sheet_bears: bool,
    /// Fewest bolts of its thread and class, or of M8 8.8 where nothing is said.
    pub fewest: u32,
    /// Whether it leaves the vehicle as it was; absent where nothing is said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reversible: Option<bool>,
}

/// The mechanical side of a design.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MechanicsSheet {
    /// Chain, shaft and coupler, line by line.
    pub groups: Vec<Group>,
    /// The chain to scale, or the belt where there is no chain; absent without either.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub picture: Option<ChainPicture>,
    /// The adapter plate to scale; absent without one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub plate: Option<PlatePicture>,
    /// Whether a stage of the gearing is a chain.
    pub has_chain_stage: bool,
    /// Whether one is a belt.
    pub has_belt_stage: bool,
    /// Greatest torque of the motors together, N m.
    pub motor_nm: f64,
    /// What each place of the motors would change; nothing without a motor.
    pub motor_places: Vec<MotorPlaceRow>,
    /// Times its weight a mount must bear, along and across.
    pub retention_g: [f64; 2],
    /// Reserve that the bolts are held to.
    pub reserve: f64,
    /// Every block, the heaviest first.
    pub mounts: Vec<MountRow>,
    /// Mounts of blocks that are not there any more, by the name they were given.
    pub idle: Vec<String>,
    /// Blocks that leave holes or welds, of all that something is said of.
    pub stays: Vec<String>,
}

/// Works out the mechanical sheet of a design.
///
/// # Errors
/// As [`crate::estimate::estimate`].
pub fn mechanics(document: &Checked, cancel: &Cancel) -> Result<MechanicsSheet> {
    let counted = Counted::of(document);
    let estimate = estimate(&counted, cancel)?;
    let chain = Chain::of(&counted, estimate.masses.test_kg)?;
    let findings = find(document, &chain, &estimate);
    let sizing = MechanicalSizing::of(document, &chain, estimate.masses.test_kg);
    let mut groups = Vec::new();
    if let Some(c) = &sizing.chain {
        let caution = "Turn it by hand first. A guard covers the chain and everything in its plane, on the bench too.";
        groups.push(Group { id: "chain", name: "Chain", caution, lines: chain_lines(c, &findings) });
    }
    if let Some(b) = &sizing.belt {
        let caution = "A guard covers the belt and everything in its plane; it is tensioned with the pack's plug out.";
        groups.push(Group { id: "belt", name: "Toothed belt", caution, lines: belt_lines(b, &findings) });
    }
    let mut turning = sizing.shaft.as_ref().map_or_else(Vec::new, |s| shaft_lines(s, &findings));
    turning.extend(sizing.coupler_nm.map(|holds_nm| coupler_line(holds_nm, &sizing, &findings)));
    if !turning.is_empty() {
        let caution = "Stand clear of the plane of a coupler that is tried for the first time.";
        groups.push(Group { id: "shaft", name: "Shaft, key and coupler", caution, lines: turning });
    }
    if let Some(plate) = &sizing.plate {
        let caution = "Centre it by dial gauge before it is dowelled: bolts alone do not locate it.";
        groups.push(Group { id: "plate", name: "Adapter plate", caution, lines: plate_lines(plate, &findings) });
    }
    let mut mounts: Vec<MountRow> = sizing.mounts.iter().map(row).collect();
    mounts.sort_by(|a, b| b.kg.total_cmp(&a.kg));
    let stays = sizing.mounts.iter().filter(|m| m.reversible() == Some(false)).map(held_words).collect();
    let chain_picture = sizing.chain.as_ref().map(|c| ChainPicture {
        diameters_mm: c.diameters_mm,
        teeth: c.teeth,
        centre_mm: c.closes_mm.unwrap_or(c.said.centre_mm),
        pitch_mm: c.said.number.pitch_mm(),
        links: c.even_links,
        belt: false,
    });
    let has_stage = |kind| document.driveline().stages.iter().any(|s| s.kind == kind);
    Ok(MechanicsSheet {
        groups,
        picture: chain_picture.or_else(|| sizing.belt.as_ref().map(belt_picture)),
        plate: sizing.plate.as_ref().map(plate_picture),
        has_chain_stage: has_stage(StageKind::Chain),
        has_belt_stage: has_stage(StageKind::Belt),
        motor_nm: sizing.motor_nm,
        motor_places: places(document).into_iter().map(|p| place_row(p, document.design.motor_place)).collect(),
        retention_g: sizing.retention_g,
        reserve: MARGIN,
        mounts,
        idle: sizing.idle.iter().map(|m| m.name.clone()).collect(),
        stays,
    })
}

fn row(m: &MountSizing<'_>) -> MountRow {
    MountRow {
        of: m.of,
        name: m.name.to_owned(),
        words: held_words(m),
        kg: m.kg,
        along_n: m.pulls_n[0],
        across_n: m.pulls_n[1],
        bears_n: m.bears_n,
        sheet_n: m.sheet_n,
        bolts_bear: m.bolts_bear(),
        sheet_bears: m.sheet_bears(),
        fewest: m.fewest,
        reversible: m.reversible(),
    }
}

fn kn(newton: f64) -> Piece {
    figure(newton / 1000.0, "kN", 1)
}

fn chain_lines(c: &ChainSizing<'_>, findings: &[Finding]) -> Vec<Line> {
    const SOURCE: &str = "ANSI/ASME B29.1";
    let [front, rear] = c.teeth;
    let pitch = c.said.number.pitch_mm();
    let quiet = if front.min(rear) < QUIET_TEETH { sentence!("; below {} teeth it is heard", QUIET_TEETH) } else { Sentence::default() };
    let words = sentence!("{} in front, {} behind", front, rear).then(quiet);
    let teeth = teeth_line("teeth", "Sprockets", words, front, c.ratio, c.teeth_ratio());
    let diameters = line(
        "diameters",
        "Pitch diameters",
        sentence!("{} and {}", machined_mm(c.diameters_mm[0], 1), machined_mm(c.diameters_mm[1], 1)),
        sentence!("pitch / sin(180° / teeth), pitch {}", machined_mm(pitch, 3)),
        SOURCE,
    );
    let moved = c.closes_mm.map(|closes| closes - c.said.centre_mm);
    let result = match (c.closes_mm, moved) {
        (Some(closes), Some(by)) if by.abs() >= 0.05 => {
            let way = if by > 0.0 { "apart" } else { "together" };
            sentence!(
                "{}, taut with the shafts {} apart: move them {} {}",
                c.even_links,
                machined_mm(closes, 1),
                machined_mm(by.abs(), 1),
                way
            )
        }
        (Some(_), _) => sentence!("{}, taut as it stands", c.even_links),
        (None, _) => sentence!("{} are too few for these sprockets", c.even_links),
    };
    let links = line(
        "links",
        "Links",
        result,
        sentence!(
            "2 C / p + (N1 + N2) / 2 + p (N2 - N1)² / (4 π² C) = {} at {}; an odd number cannot be closed without a half link",
            figure(c.links, "", 2),
            machined_mm(c.said.centre_mm, 0)
        ),
        SOURCE,
    );
    let slot = line(
        "slot",
        "Slot for tension",
        sentence!("{} further apart, and as much closer as it takes to put it on", machined_mm(slot_mm(pitch, c.even_links), 0)),
        sentence!("half of what {} links grow by until they are replaced, {} %", c.even_links, figure(100.0 * WORN, "", 0)),
        "common practice",
    );
    let pitches = c.said.centre_mm / pitch;
    let wrap = line(
        "wrap",
        "Wraps the smaller one",
        c.wrap_deg.map_or_else(|| "not at all".into(), |w| sentence!("by {}", figure(w, "°", 0))),
        sentence!(
            "180° - 2 asin((D2 - D1) / 2 C); the shafts are {} pitches apart, {} to {} are usual",
            figure(pitches, "", 0),
            figure(USUAL_PITCHES.0, "", 0),
            figure(USUAL_PITCHES.1, "", 0)
        ),
        "geometry; common practice",
    );
    let pull = line(
        "pull",
        "Pulled with",
        sentence!("{} of the {} it bears for long", kn(c.pull_n), kn(c.working_n)),
        sentence!(
            "{} at the front sprocket over half its diameter; an eighth of the {} it breaks at",
            figure(c.torque_nm, "N·m", 0),
            kn(c.breaks_n)
        ),
        "ANSI B29.1; common practice",
    );
    vec![
        teeth.judged(findings, &[Rule::TeethOffRatio, Rule::FewTeeth]),
        diameters,
        if moved.is_some_and(|by| by != 0.0) {
            links.taking(&[("mechanics.chain.centre_mm", (10.0 * c.closes_mm.unwrap_or_default()).round() / 10.0)])
        } else {
            links
        },
        slot,
        wrap.judged(findings, &[Rule::SprocketsCollide, Rule::LittleWrap]),
        pull.judged(findings, &[Rule::ChainBreaks, Rule::ChainOverloaded]),
    ]
}

fn shaft_lines(s: &ShaftSizing<'_>, findings: &[Finding]) -> Vec<Line> {
    let stress = |n: f64| figure(n, "N/mm²", 0);
    let torque = figure(s.torque_nm, "N·m", 0);
    let mut lines = vec![
        line(
            "torsion",
            "Shaft twisted by",
            sentence!("{} of {} allowed", stress(s.torsion_n_mm2[0]), stress(s.torsion_n_mm2[1])),
            sentence!(
                "16 T / (π d³), {} on {}; a reserve of {}",
                torque.clone(),
                machined_mm(s.said.diameter_mm, 1),
                figure(MARGIN, "", 1)
            ),
            "strength of materials",
        )
        .judged(findings, &[Rule::ShaftYields]),
    ];
    if let (Some([width, height]), Some(shear), Some(bearing), Some(shortest), Some(length)) =
        (s.key_mm, s.key_shear_n_mm2, s.key_bearing_n_mm2, s.shortest_key_mm, s.said.key_length_mm)
    {
        let key = line(
            "key",
            "Key",
            sentence!(
                "{} × {}: shear {} of {}, flank {} of {}",
                machined_mm(width, 0),
                machined_mm(height, 0),
                stress(shear[0]),
                stress(shear[1]),
                stress(bearing[0]),
                stress(bearing[1])
            ),
            sentence!("2 T / (d b l) and 4 T / (d h l), {} long; {} is the least", machined_mm(length, 0), machined_mm(shortest, 0)),
            "DIN 6885",
        )
        .judged(findings, &[Rule::KeyYields]);
        lines.push(if shortest > length { key.taking(&[("mechanics.shaft.key_length_mm", shortest.ceil())]) } else { key });
    }
    lines
}

fn coupler_line(holds_nm: f64, sizing: &MechanicalSizing<'_>, findings: &[Finding]) -> Line {
    let needed = figure(MARGIN * sizing.motor_nm, "N·m", 0);
    line(
        "coupler",
        "Coupler holds",
        sentence!("{} of {} needed", figure(holds_nm, "N·m", 0), needed),
        sentence!(
            "bolts × friction × clamping × radius, each tightened to seven tenths of its yield; a reserve of {}",
            figure(MARGIN, "", 1)
        ),
        "friction; common practice",
    )
    .judged(findings, &[Rule::CouplerSlips])
}
