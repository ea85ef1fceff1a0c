//! What turns and what holds: chain, shaft, key and coupler between motor and wheel, and how each block is bolted to the vehicle.

use serde::{Deserialize, Serialize};

use super::{AdapterPlate, is_usual};
use crate::error::{Problem, Problems};
use crate::quantity::join;

/// The mechanical side of a design.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Mechanics {
    /// The chain of the first chain stage. Absent: not chosen.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub chain: Option<ChainDrive>,
    /// The toothed belt of the first belt stage. Absent: not chosen.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub belt: Option<BeltDrive>,
    /// The motor's shaft with its key. Absent: not looked at.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub shaft: Option<Shaft>,
    /// The bolts of a coupler that hold by friction. Absent: none.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub coupler: Option<BoltCircle>,
    /// The plate between motor and gearbox. Absent: none, or not drawn here.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub plate: Option<AdapterPlate>,
    /// What the mounts must bear.
    #[serde(skip_serializing_if = "Retention::is_unsaid")]
    pub retention: Retention,
    /// How blocks are held.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub mounts: Vec<Mount>,
    /// Whether no new hole is to be drilled and nothing welded, so that the vehicle can be put back as it was.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub no_new_holes: bool,
}

/// Chain by its number: ANSI 25 to 60, motorcycle 420 to 530.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub enum ChainNumber {
    #[serde(rename = "25")]
    No25,
    #[serde(rename = "35")]
    No35,
    #[serde(rename = "40")]
    No40,
    #[serde(rename = "50")]
    No50,
    #[serde(rename = "60")]
    No60,
    #[serde(rename = "420")]
    No420,
    #[serde(rename = "428")]
    No428,
    #[serde(rename = "520")]
    No520,
    #[serde(rename = "530")]
    No530,
}

/// A roller chain with its sprockets; the driven one follows from the ratio of the stage.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct ChainDrive {
    /// Which chain.
    pub number: ChainNumber,
    /// Strands side by side.
    #[serde(default = "one", skip_serializing_if = "is_one")]
    pub strands: u32,
    /// Teeth of the driving sprocket.
    pub front_teeth: u32,
    /// Distance between the shafts, mm.
    pub centre_mm: f64,
    /// Least load at which one strand breaks, kN. Absent: by its number.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub breaks_kn: Option<f64>,
}

/// A toothed belt with its pulleys; the driven one follows from the ratio of the stage.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BeltDrive {
    /// Pitch, mm: 5, 8 or 14 of the usual profiles.
    pub pitch_mm: f64,
    /// Teeth of the driving pulley.
    pub front_teeth: u32,
    /// Distance between the shafts, mm.
    pub centre_mm: f64,
    /// Pull it bears for long at its width, by its maker's table, N. Absent: not looked up.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bears_n: Option<f64>,
}

fn one() -> u32 {
    1
}

fn is_one(n: &u32) -> bool {
    *n == 1
}

/// A solid shaft with a parallel key.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Shaft {
    /// Diameter, mm.
    pub diameter_mm: f64,
    /// Bearing length of the key, mm. Absent: no key, splined or clamped.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub key_length_mm: Option<f64>,
    /// Stress at which shaft and key yield, N/mm2. Absent: 300.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub yield_n_mm2: Option<f64>,
}

/// Metric coarse thread.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub enum Thread {
    M5,
    M6,
    #[default]
    M8,
    M10,
    M12,
    M14,
    M16,
}

/// Property class of a bolt (ISO 898-1).
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[allow(missing_docs)]
pub enum BoltClass {
    #[serde(rename = "5.8")]
    Class5_8,
    #[default]
    #[serde(rename = "8.8")]
    Class8_8,
    #[serde(rename = "10.9")]
    Class10_9,
}

/// Bolts on a circle that clamp two faces.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BoltCircle {
    /// How many.
    pub bolts: u32,
    /// Thread.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub thread: Thread,
    /// Class.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub class: BoltClass,
    /// Radius of the circle, mm.
    pub radius_mm: f64,
    /// Friction of the faces. Absent: 0.15, dry steel.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub friction: Option<f64>,
}

/// What the mounts of the boxes must bear, in times their weight. Absent: by the size of the vehicle.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Retention {
    /// Along the vehicle.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub along_g: Option<f64>,
    /// Across.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub across_g: Option<f64>,
}

impl Retention {
    fn is_unsaid(&self) -> bool {
        *self == Self::default()
    }
}

/// What a mount holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Held {
    /// What of the pack is in no other box.
    Pack,
    /// A further box of the pack, by its name.
    PackBox,
    /// The motors.
    Motor,
    /// The controllers.
    Controller,
    /// The charger.
    Charger,
    /// The contactor box.
    Electrics,
    /// A component that stands by itself, by its key below `design.electrics.fitted`.
    Component,
    /// Something else put in, by its name.
    Added,
}

/// Where the bolts of a mount go.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Holes {
    /// Into holes the vehicle has.
    #[default]
    Existing,
    /// Into holes that are drilled.
    Drilled,
    /// Into brackets that are welded on.
    Welded,
}

/// How one block is held.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Mount {
    /// What it holds.
    pub of: Held,
    /// Its name, of a box or something added; its key, of a component.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// Bolts that share the load.
    pub bolts: u32,
    /// Thread.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub thread: Thread,
    /// Class.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub class: BoltClass,
    /// Sheet or flange that the bolts pass through, mm. Absent: not looked at.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub flange_mm: Option<f64>,
    /// Where the bolts go.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub holes: Holes,
    /// The donor's bolt pattern they go into, by its name.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub pattern: String,
}

/// Bolt holes that the vehicle has, as points.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BoltPattern {
    /// What was held there: "engine mounts", "seat rails".
    pub name: String,
    /// Thread.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub thread: Thread,
    /// Where they are.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub points: Vec<BoltPoint>,
}

/// One bolt hole, from the front axle rearwards, right of the middle, above the ground, m.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BoltPoint {
    /// Behind the front axle.
    pub behind_m: f64,
    /// Right of the middle.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub right_m: f64,
    /// Above the ground.
    #[serde(default, skip_serializing_if = "is_usual")]
    pub up_m: f64,
}

impl Mechanics {
    /// Whether nothing is said.
    #[must_use]
    pub(crate) fn is_unsaid(&self) -> bool {
        *self == Self::default()
    }

    pub(super) fn check(&self, path: &str, problems: &mut Problems) {
        if let Some(plate) = &self.plate {
            plate.check(&join(path, "plate"), problems);
        }
        for (i, mount) in self.mounts.iter().enumerate() {
            let same = |m: &Mount| m.of == mount.of && m.name == mount.name;
            if self.mounts[..i].iter().any(same) {
                let at = join(path, &format!("mounts[{i}].of"));
                problems.push(Problem::new(at, "a second mount of one block", "one mount for each block is accepted, with all its bolts"));
            }
        }
    }
}
