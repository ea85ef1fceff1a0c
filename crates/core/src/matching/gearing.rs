//! Ways of bringing a motor's torque to the wheels of a donor.

use serde::Serialize;

use crate::document::{AddedItem, Checked, Document, Driveline, MotorPlace, Stage, StageKind};
use crate::library::{Motor, MotorKind};

/// One way of gearing.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Gearing {
    /// Stable id: `keep`, `gear-3`, `direct`, `reduction-2`, `chain-7`, `hub`, `unit`.
    pub id: String,
    /// Words for people.
    pub name: String,
    /// Driveline; absent: the donor's as it stands.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub driveline: Option<Driveline>,
    /// What has to be bought and carried for it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub added: Option<AddedItem>,
    /// Whether it is for motors in the wheels.
    pub in_wheels: bool,
    /// Whether it is for units that bring their own reduction and differential.
    pub for_units: bool,
}

/// Ratios of a single reduction put in place of the gearbox.
const REDUCTIONS: [f64; 4] = [1.5, 2.0, 2.5, 3.0];
/// Ratios of a chain or belt drive: sprockets in the shops' usual sizes.
const CHAIN_RATIOS: [f64; 9] = [3.0, 4.0, 5.0, 6.0, 7.0, 8.0, 9.0, 10.0, 12.0];

/// Every way of gearing that fits a donor. Masses and prices of what is added are guesses of the usual (common practice).
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::matching::gearings;
/// let van = gearings(&Document::from_json(&demo("whimbrel-9-a")?)?);
/// assert_eq!(van[0].id, "keep");
/// assert!(van.iter().any(|g| g.id == "gear-3") && van.iter().any(|g| g.in_wheels));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn gearings(document: &Checked) -> Vec<Gearing> {
    let own = &document.donor.driveline;
    let entry = |id: String, name: String, driveline: Option<Driveline>, added: Option<AddedItem>| Gearing {
        id,
        name,
        driveline,
        added,
        in_wheels: false,
        for_units: false,
    };
    let is_chain = |s: &Stage| matches!(s.kind, StageKind::Chain | StageKind::Belt);
    let mut all = Vec::new();
    let keep = match (own.gears.len(), own.stages.iter().find(|s| is_chain(s))) {
        (0, Some(stage)) => format!("existing final drive, {} : 1", stage.ratio),
        (0, None) => "existing driveline".to_owned(),
        (n, _) => format!("gearbox kept, {n} gears"),
    };
    all.push(entry("keep".to_owned(), keep, None, None));
    if own.gears.len() > 1 {
        for (number, gear) in (1..).zip(&own.gears) {
            let locked = Driveline { gears: vec![gear.clone()], ..own.clone() };
            all.push(entry(format!("gear-{number}"), format!("gear {number} only"), Some(locked), None));
        }
    }
    if !own.gears.is_empty() {
        let without = Driveline { gears: Vec::new(), ..own.clone() };
        let to = if own.ranges.is_empty() { "straight to the final drive" } else { "straight to the transfer box" };
        all.push(entry("direct".to_owned(), to.to_owned(), Some(without.clone()), None));
        for ratio in REDUCTIONS {
            let mut reduced = without.clone();
            reduced.stages.insert(0, Stage { kind: StageKind::Reduction, ratio, efficiency: None });
            let unit = AddedItem::of(format!("Single reduction {ratio} : 1"), 14.0, 480.0);
            all.push(entry(format!("reduction-{ratio}"), format!("single reduction {ratio} : 1"), Some(reduced), Some(unit)));
        }
    }
    if let Some(at) = own.stages.iter().position(is_chain) {
        for ratio in CHAIN_RATIOS.into_iter().filter(|r| (r - own.stages[at].ratio).abs() > 1e-9) {
            let mut geared = own.clone();
            geared.stages[at].ratio = ratio;
            let what = if own.stages[at].kind == StageKind::Chain { "chain" } else { "belt" };
            let set = AddedItem::of(format!("Sprockets and {what} {ratio} : 1"), 0.5, 45.0);
            all.push(entry(format!("{what}-{ratio}"), format!("{what} {ratio} : 1"), Some(geared), Some(set)));
        }
    }
    let bare = Driveline { shift_s: own.shift_s, ..Driveline::default() };
    all.push(Gearing { in_wheels: true, ..entry("hub".to_owned(), "in the wheels".to_owned(), Some(bare.clone()), None) });
    if document.donor.takes_drive_units() {
        let shafts = AddedItem::of("Half-shafts and mounts of the unit".to_owned(), 18.0, 520.0);
        let unit = entry("unit".to_owned(), "the unit's own reduction to the half-shafts".to_owned(), Some(bare), Some(shafts));
        all.push(Gearing { for_units: true, ..unit });
    }
    // A trip or run that names a gear cannot be made without it.
    all.retain(|g| document.with(|d| d.design.driveline.clone_from(&g.driveline)).is_ok());
    all
}

/// Where motors of a record can sit on a donor, and how many of them.
pub(super) fn mounts(motor: &Motor, document: &Document, counts: &[u32]) -> Vec<(MotorPlace, u32)> {
    if motor.kind == MotorKind::Hub {
        return MotorPlace::of_hubs(document.donor.kind).to_vec();
    }
    let mut counts = counts.to_vec();
    counts.sort_unstable();
    counts.dedup();
    counts.into_iter().map(|n| (MotorPlace::Shaft, n)).collect()
}

/// Words for a place and a count.
pub(super) fn mount_words(place: MotorPlace, count: u32) -> String {
    match (place, count) {
        (MotorPlace::Shaft, 1) => "one on the shaft".to_owned(),
        (MotorPlace::Shaft, n) => format!("{n} on one shaft"),
        (MotorPlace::Wheels, n) => format!("{n} in the driven wheels"),
        (MotorPlace::EachAxle, _) => "one on each axle".to_owned(),
        (MotorPlace::EveryWheel, _) => "one in every wheel".to_owned(),
    }
}
