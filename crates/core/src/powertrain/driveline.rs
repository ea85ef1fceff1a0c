//! Gears and stages folded into one ratio and one efficiency a gear.

use crate::document::{Document, Driveline, Gear, Stage, StageKind};
use crate::vehicle::cold::gears_in_cold;

/// The path from motor shaft to wheel in one gear.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct GearPath {
    /// Gear, counted from 1; 1 also when there is no gearbox.
    pub gear: u32,
    /// Range of the transfer box, counted from 1; 1 also when there is none.
    pub range: u32,
    /// Motor turns for one wheel turn.
    pub ratio: f64,
    /// Efficiency in both directions, 0..1.
    pub efficiency: f64,
    /// Rotating-mass factor k.
    pub rotating_factor: f64,
    /// Motor rad/s for 1 m/s on the road.
    pub rad_per_m: f64,
    /// Motor torque for 1 N of pull at the wheels, N m.
    pub drive_nm_per_n: f64,
    /// Motor torque for 1 N of braking at the wheels, N m.
    pub brake_nm_per_n: f64,
    /// Braking at the wheels for 1 N m of motor torque, N.
    pub brake_n_per_nm: f64,
}

impl GearPath {
    /// From the numbers of gear and range, the overall ratio and its efficiency, the rotating-mass factor and the rolling radius.
    pub(super) fn of((gear, range): (u32, u32), (ratio, efficiency): (f64, f64), rotating_factor: f64, radius_m: f64) -> Self {
        Self {
            gear,
            range,
            ratio,
            efficiency,
            rotating_factor,
            rad_per_m: ratio / radius_m,
            drive_nm_per_n: radius_m / (ratio * efficiency),
            brake_nm_per_n: radius_m * efficiency / ratio,
            brake_n_per_nm: ratio / (radius_m * efficiency),
        }
    }
}

/// Rotating-mass factor without the rotor's part: wheels, tyres and brakes.
const WHEELS_FACTOR: f64 = 1.04;
/// Growth of the factor with the square of the overall ratio when the rotor's inertia is not known.
///
/// # Source
/// Gillespie, Fundamentals of Vehicle Dynamics (1992), chapter 2 (from memory).
const RATIO_SQUARED_FACTOR: f64 = 0.0025;

/// Efficiency of a transfer box when none is stated (handbook, from memory).
pub(crate) const TRANSFER_EFFICIENCY: f64 = 0.97;

impl Gear {
    pub(crate) fn efficiency_or_usual(&self) -> f64 {
        // Handbook values (from memory): a direct gear passes no loaded mesh.
        self.efficiency.unwrap_or(if (self.ratio - 1.0).abs() < 1e-9 { 0.98 } else { 0.96 })
    }
}

impl Stage {
    pub(crate) fn efficiency_or_usual(&self) -> f64 {
        // Handbook values (from memory).
        self.efficiency.unwrap_or(match self.kind {
            StageKind::FinalDrive => 0.94,
            StageKind::Reduction | StageKind::TransferBox | StageKind::Belt => 0.97,
            StageKind::Chain => 0.96,
        })
    }
}

fn stages(driveline: &Driveline) -> (f64, f64) {
    driveline.stages.iter().fold((1.0, 1.0), |(ratio, efficiency), s| (ratio * s.ratio, efficiency * s.efficiency_or_usual()))
}

/// Every path of a document's driveline: the gears, first to last, in each range of the transfer box in turn; one direct
/// path when there is neither. In air of `celsius`: thick oil takes its share of the efficiency.
#[must_use]
pub fn gear_paths(document: &Document, mass_kg: f64, radius_m: f64, celsius: f64) -> Vec<GearPath> {
    let driveline = document.driveline();
    let (stage_ratio, stage_efficiency) = stages(driveline);
    // A unit's own reduction sits between its rotor and whatever follows.
    let own = document.design.motor.as_ref().and_then(|m| m.own_reduction);
    let own = own.map(|ratio| Stage { kind: StageKind::Reduction, ratio, efficiency: None });
    let (own_ratio, own_efficiency) = own.map_or((1.0, 1.0), |s| (s.ratio, s.efficiency_or_usual()));
    let (stage_ratio, stage_efficiency) = (stage_ratio * own_ratio, stage_efficiency * own_efficiency);
    let rotors_kg_m2 =
        document.design.motor.as_ref().and_then(|m| m.rotor_inertia_kg_m2).map(|one| one * f64::from(document.design.motor_count));
    let path = |gear: u32, range: u32, ratio: f64, efficiency: f64| {
        let rotating_factor = document.donor.rotating_mass_factor.unwrap_or_else(|| {
            let rotor = rotors_kg_m2.map_or(RATIO_SQUARED_FACTOR, |j| j / (mass_kg * radius_m * radius_m));
            WHEELS_FACTOR + rotor * ratio * ratio
        });
        GearPath::of((gear, range), (ratio, gears_in_cold(efficiency, celsius)), rotating_factor, radius_m)
    };
    let or_direct = |list: Vec<(f64, f64)>| if list.is_empty() { vec![(1.0, 1.0)] } else { list };
    let gears = or_direct(driveline.gears.iter().map(|g| (g.ratio, g.efficiency_or_usual())).collect());
    let ranges = or_direct(driveline.ranges.iter().map(|r| (r.ratio, r.efficiency.unwrap_or(TRANSFER_EFFICIENCY))).collect());
    let mut paths = Vec::with_capacity(gears.len() * ranges.len());
    for (r, range) in (1u32..).zip(&ranges) {
        for (g, gear) in (1u32..).zip(&gears) {
            paths.push(path(g, r, gear.0 * range.0 * stage_ratio, gear.1 * range.1 * stage_efficiency));
        }
    }
    paths
}
