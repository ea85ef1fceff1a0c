//! What turns and what holds, sized: the chain, the motor's shaft, key and coupler at the greatest torque, and the bolts of every mount.
//! Plain figures, which findings judge and the sheet tells.

pub mod belt;
pub mod bolts;
pub mod chain;
pub mod place;
pub mod plate;
pub mod shaft;

use crate::document::{Block, BoltPattern, ChainDrive, Document, Held, Holes, Mount, Placed, Shaft, StageKind, VehicleKind, each_placed};
use crate::powertrain::{Chain, Rating};
use crate::quantity::units::STANDARD_GRAVITY_M_S2;
use belt::BeltSizing;
use bolts::{breaks_across_n, clamps_n};
use chain::{centre_for_mm, even_links, links, pitch_diameter_mm, wrap_deg};
use plate::PlateSizing;
use shaft::{key_bearing_n_mm2, key_mm, key_shear_n_mm2, torsion_n_mm2};

/// Share of its breaking load that a chain may pull for long (common practice).
const WORKING_SHARE: f64 = 1.0 / 8.0;
/// How many times one strand two and three of them bear (ANSI B29.1, from memory).
const STRANDS: [f64; 3] = [1.0, 1.7, 2.5];
/// Stress at which shafts and keys yield where nothing is said, N/mm2: plain carbon steel (common practice).
const YIELD_N_MM2: f64 = 300.0;
/// Shear at which steel yields as a share of its tensile yield (von Mises).
const SHEAR_YIELD: f64 = 0.577;
/// Reserve on the yield of shafts and keys at the greatest torque, on the slip of couplers and on the strength of mounts (judgement).
pub const MARGIN: f64 = 1.5;
/// Friction of dry steel faces (common practice).
const FRICTION: f64 = 0.15;
/// Yield of plain sheet steel, N/mm2 (EN 10025, S235), which the wall of a bolt hole bears.
const SHEET_N_MM2: f64 = 235.0;
/// Fewest teeth at which a sprocket runs smoothly, on light machines and else (common practice).
const FEWEST_TEETH: (u32, u32) = (9, 13);
/// From so many teeth on it does so quietly.
pub const QUIET_TEETH: u32 = 17;
/// Least wrap of the smaller sprocket, degrees (common practice).
pub const LEAST_WRAP_DEG: f64 = 120.0;
/// Distance of the shafts that is usual, in pitches (common practice).
pub const USUAL_PITCHES: (f64, f64) = (30.0, 50.0);
/// A block above this mass is held at four corners at least, kg (judgement).
const HEAVY_KG: f64 = 20.0;
/// Share by which teeth may miss the ratio that is counted with.
const RATIO_OFF: f64 = 0.01;

/// A chain drive at the greatest torque.
#[derive(Debug, Clone, PartialEq)]
pub struct ChainSizing<'a> {
    /// As chosen.
    pub said: &'a ChainDrive,
    /// Ratio of its stage.
    pub ratio: f64,
    /// Teeth of the driving and of the driven sprocket, which is the next whole number to the ratio.
    pub teeth: [u32; 2],
    /// Pitch diameters, mm.
    pub diameters_mm: [f64; 2],
    /// Links at the distance of the shafts as stated, not whole.
    pub links: f64,
    /// The next even number of links.
    pub even_links: u32,
    /// The distance of the shafts that closes it, mm; `None` where it is too short.
    pub closes_mm: Option<f64>,
    /// Wrap of the smaller sprocket, degrees; `None` where the sprockets run into each other.
    pub wrap_deg: Option<f64>,
    /// Greatest torque at the driving sprocket, N m.
    pub torque_nm: f64,
    /// Greatest pull, N.
    pub pull_n: f64,
    /// Pull for long, N.
    pub working_n: f64,
    /// It breaks at, N.
    pub breaks_n: f64,
    /// Fewest teeth for this vehicle.
    pub fewest_teeth: u32,
}

/// The motor's shaft and key at the greatest torque.
#[derive(Debug, Clone, PartialEq)]
pub struct ShaftSizing<'a> {
    /// As stated.
    pub said: &'a Shaft,
    /// Torque, N m.
    pub torque_nm: f64,
    /// Torsion and what is allowed, N/mm2.
    pub torsion_n_mm2: [f64; 2],
    /// Width and height of the key, mm.
    pub key_mm: Option<[f64; 2]>,
    /// Shear of the key and what is allowed, N/mm2.
    pub key_shear_n_mm2: Option<[f64; 2]>,
    /// Pressure on its flank and what is allowed, N/mm2.
    pub key_bearing_n_mm2: Option<[f64; 2]>,
    /// The shortest key that holds, mm.
    pub shortest_key_mm: Option<f64>,
}

/// A block with what holds it.
#[derive(Debug, Clone, PartialEq)]
pub struct MountSizing<'a> {
    /// Which block.
    pub of: Held,
    /// Its name among those of its kind.
    pub name: &'a str,
    /// Its mass, kg.
    pub kg: f64,
    /// What it pulls with along and across, N.
    pub pulls_n: [f64; 2],
    /// How it is held; `None` where nothing is said.
    pub said: Option<&'a Mount>,
    /// What the bolts bear with a reserve, N.
    pub bears_n: f64,
    /// What the sheet they pass through bears, N; `None` where its thickness is not stated.
    pub sheet_n: Option<f64>,
    /// Fewest bolts of that thread and class that bear it.
    pub fewest: u32,
    /// The donor's pattern they go into.
    pub pattern: Option<&'a BoltPattern>,
}

/// The mechanical side of a design, sized.
#[derive(Debug)]
pub struct MechanicalSizing<'a> {
    /// Greatest torque of the motors together, N m.
    pub motor_nm: f64,
    /// The chain; `None` without one chosen or without a chain stage.
    pub chain: Option<ChainSizing<'a>>,
    /// The toothed belt; `None` without one chosen or without a belt stage.
    pub belt: Option<BeltSizing<'a>>,
    /// The shaft; `None` where nothing is said.
    pub shaft: Option<ShaftSizing<'a>>,
    /// Torque that the coupler's bolts hold by friction, N m.
    pub coupler_nm: Option<f64>,
    /// The adapter plate; `None` without one.
    pub plate: Option<PlateSizing<'a>>,
    /// Times its weight that a mount must bear, along and across.
    pub retention_g: [f64; 2],
    /// Whether that was stated.
    pub retention_said: bool,
    /// Every block with its mount.
    pub mounts: Vec<MountSizing<'a>>,
    /// Mounts that hold nothing that is there any more, by the name they were given.
    pub idle: Vec<&'a Mount>,
}

/// Times its weight that a pack must bear along and across, by the laden mass: 20 and 8 up to 3.5 t, 10 and 5 up to 12 t, 6.6 and 5 above (UN
/// R100, annex 9D, from memory).
#[must_use]
pub fn usual_retention_g(laden_kg: f64) -> [f64; 2] {
    match laden_kg {
        kg if kg <= 3500.0 => [20.0, 8.0],
        kg if kg <= 12_000.0 => [10.0, 5.0],
        _ => [6.6, 5.0],
    }
}

impl<'a> MechanicalSizing<'a> {
    /// Sizes the mechanical side of a design for what its chain gives at standstill with a full pack.
    #[must_use]
    pub fn of(document: &'a Document, powertrain: &Chain, laden_kg: f64) -> Self {
        let said = &document.design.mechanics;
        let motor_nm = powertrain.full_torque(0.0, &powertrain.limits(1.0, 0.0, Rating::Peak)).0;
        let usual = usual_retention_g(laden_kg);
        let retention_g = [said.retention.along_g.unwrap_or(usual[0]), said.retention.across_g.unwrap_or(usual[1])];
        let mut mounts = Vec::new();
        each_placed(document, |p| mounts.extend(mount(document, &p, retention_g)));
        let idle = said.mounts.iter().filter(|m| !mounts.iter().any(|s| s.of == m.of && s.name == m.name)).collect();
        Self {
            motor_nm,
            chain: said.chain.as_ref().and_then(|c| chain_sizing(document, c, motor_nm)),
            belt: said.belt.as_ref().and_then(|b| BeltSizing::of(document, b, motor_nm)),
            shaft: said.shaft.as_ref().map(|s| shaft_sizing(s, motor_nm / f64::from(document.design.motor_count.max(1)))),
            coupler_nm: said.coupler.as_ref().map(|c| {
                let clamps_n = f64::from(c.bolts) * clamps_n(c.thread, c.class);
                clamps_n * c.friction.unwrap_or(FRICTION) * c.radius_mm / 1000.0
            }),
            plate: said.plate.as_ref().map(PlateSizing::of),
            retention_g,
            retention_said: said.retention.along_g.is_some() && said.retention.across_g.is_some(),
            mounts,
            idle,
        }
    }
}

impl MechanicalSizing<'_> {
    /// Ratio of the first stage of a kind, and the greatest torque at its driving side, N m.
    fn at_stage(document: &Document, kind: StageKind, motor_nm: f64) -> Option<(f64, f64)> {
        let driveline = document.driveline();
        let at = driveline.stages.iter().position(|s| s.kind == kind)?;
        let low_gear = driveline.gears.iter().map(|g| g.ratio).fold(1.0_f64, f64::max);
        let before: f64 = driveline.stages[..at].iter().map(|s| s.ratio).product();
        Some((driveline.stages[at].ratio, motor_nm * low_gear * before))
    }
}

/// Whether whole teeth give another ratio than the one that is counted with.
#[must_use]
pub(crate) fn ratio_is_off(of_teeth: f64, ratio: f64) -> bool {
    (of_teeth / ratio - 1.0).abs() > RATIO_OFF
}

impl ChainSizing<'_> {
    /// Ratio that the teeth give.
    #[must_use]
    pub(crate) fn teeth_ratio(&self) -> f64 {
        f64::from(self.teeth[1]) / f64::from(self.teeth[0])
    }
}

impl MountSizing<'_> {
    /// The greater of its pulls, N.
    #[must_use]
    pub fn pull_n(&self) -> f64 {
        self.pulls_n[0].max(self.pulls_n[1])
    }

    /// Whether its bolts bear that.
    #[must_use]
    pub(crate) fn bolts_bear(&self) -> bool {
        self.bears_n >= self.pull_n()
    }

    /// Whether the sheet they pass through bears it, as far as that is known.
    #[must_use]
    pub(crate) fn sheet_bears(&self) -> bool {
        self.sheet_n.is_none_or(|n| n >= self.pull_n())
    }

    /// Whether it leaves the vehicle as it was; nothing where nothing is said of it.
    #[must_use]
    pub(crate) fn reversible(&self) -> Option<bool> {
        self.said.map(|m| m.holes == Holes::Existing)
    }
}

fn chain_sizing<'a>(document: &Document, said: &'a ChainDrive, motor_nm: f64) -> Option<ChainSizing<'a>> {
    let (ratio, torque_nm) = MechanicalSizing::at_stage(document, StageKind::Chain, motor_nm)?;
    let driven = (f64::from(said.front_teeth) * ratio).round().max(1.0) as u32;
    let (pitch_mm, teeth) = (said.number.pitch_mm(), [said.front_teeth, driven]);
    let diameters_mm = teeth.map(|n| pitch_diameter_mm(pitch_mm, n));
    let length = links(pitch_mm, teeth, said.centre_mm);
    let even = even_links(length);
    let strands = STRANDS[(said.strands.clamp(1, 3) - 1) as usize];
    let breaks_n = strands * said.breaks_kn.map_or_else(|| said.number.breaks_n(), |kn| 1000.0 * kn);
    let light = matches!(
        document.donor.kind,
        VehicleKind::Kart | VehicleKind::Motorcycle | VehicleKind::Trike | VehicleKind::Quad | VehicleKind::Sled
    );
    Some(ChainSizing {
        said,
        ratio,
        teeth,
        diameters_mm,
        links: length,
        even_links: even,
        closes_mm: centre_for_mm(pitch_mm, teeth, even),
        wrap_deg: wrap_deg(pitch_mm, teeth, said.centre_mm),
        torque_nm,
        pull_n: torque_nm / (0.5e-3 * diameters_mm[0]),
        working_n: WORKING_SHARE * breaks_n,
        breaks_n,
        fewest_teeth: if light { FEWEST_TEETH.0 } else { FEWEST_TEETH.1 },
    })
}

fn shaft_sizing(said: &Shaft, torque_nm: f64) -> ShaftSizing<'_> {
    let yields = said.yield_n_mm2.unwrap_or(YIELD_N_MM2) / MARGIN;
    let d = said.diameter_mm;
    let key = said.key_length_mm.and(key_mm(d));
    let of_key = |stress: fn(f64, f64, f64, f64) -> f64, side: usize, allowed: f64| {
        key.zip(said.key_length_mm).map(|(size, length)| [stress(torque_nm, d, size[side], length), allowed])
    };
    let shortest = |size: [f64; 2]| {
        let by_shear = key_shear_n_mm2(torque_nm, d, size[0], 1.0) / (SHEAR_YIELD * yields);
        by_shear.max(key_bearing_n_mm2(torque_nm, d, size[1], 1.0) / yields)
    };
    ShaftSizing {
        said,
        torque_nm,
        torsion_n_mm2: [torsion_n_mm2(torque_nm, d), SHEAR_YIELD * yields],
        key_mm: key,
        key_shear_n_mm2: of_key(key_shear_n_mm2, 0, SHEAR_YIELD * yields),
        key_bearing_n_mm2: of_key(key_bearing_n_mm2, 1, yields),
        shortest_key_mm: key.map(shortest),
    }
}

fn mount<'a>(document: &'a Document, placed: &Placed<'a>, retention_g: [f64; 2]) -> Option<MountSizing<'a>> {
    let design = &document.design;
    let (of, name): (Held, &'a str) = match placed.block {
        Block::Pack => (Held::Pack, ""),
        Block::PackBox(i) => (Held::PackBox, &design.layout.boxes[i].name),
        Block::Motor => (Held::Motor, ""),
        Block::Controller => (Held::Controller, ""),
        Block::Charger => (Held::Charger, ""),
        Block::Electrics => (Held::Electrics, ""),
        Block::Component(slot) => (Held::Component, slot.key()),
        Block::Added(i) => (Held::Added, &design.added[i].name),
        Block::Removed(_) | Block::Driver | Block::Payload => return None,
    };
    let pulls_n = retention_g.map(|g| g * STANDARD_GRAVITY_M_S2 * placed.kg);
    let said = design.mechanics.mounts.iter().find(|m| m.of == of && m.name == name);
    let (thread, class) = said.map_or_else(Default::default, |m| (m.thread, m.class));
    let one_n = breaks_across_n(thread, class) / MARGIN;
    Some(MountSizing {
        of,
        name,
        kg: placed.kg,
        pulls_n,
        said,
        bears_n: said.map_or(0.0, |m| f64::from(m.bolts) * one_n),
        sheet_n: said.and_then(|m| Some(f64::from(m.bolts) * m.thread.diameter_mm() * m.flange_mm? * SHEET_N_MM2)),
        fewest: (pulls_n[0].max(pulls_n[1]) / one_n).ceil().max(if placed.kg > HEAVY_KG { 4.0 } else { 2.0 }) as u32,
        pattern: said
            .filter(|m| m.holes == Holes::Existing)
            .and_then(|m| document.donor.bolt_patterns.iter().find(|p| p.name == m.pattern)),
    })
}
