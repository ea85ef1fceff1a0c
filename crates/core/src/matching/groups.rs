//! Drives that take the same pack voltages.

use std::collections::HashMap;

use super::space::SearchProblem;
use super::subsystems::{Drive, Drivetrain};

/// Drives that take the same voltages.
#[derive(Debug)]
pub(super) struct Group {
    pub(super) min_v: f64,
    pub(super) controller_max_v: f64,
    pub(super) motor_max_v: f64,
    /// Groups that take the same packs, whichever of controller and motor holds them back, have the same.
    pub(super) voltages: u32,
    pub(super) drives: Vec<u32>,
    pub(super) least_price: f64,
    pub(super) least_kg: f64,
}

/// Groups of some drives, in the order of their numbers.
pub(super) fn groups(problem: &SearchProblem, drivetrains: &[Drivetrain], drives: impl Iterator<Item = Drive>) -> Vec<Group> {
    let mut groups: Vec<Group> = Vec::new();
    let mut voltages: HashMap<[u64; 2], u32> = HashMap::new();
    for (number, drive) in (0u32..).zip(drives) {
        let controller_max_v = problem.controllers[usize::from(drive.controller)].written.max_voltage_v;
        let motor_max_v = drivetrains[drive.drivetrain as usize].motor_max_v;
        let same = |g: &&mut Group| g.min_v == drive.min_v && g.controller_max_v == controller_max_v && g.motor_max_v == motor_max_v;
        let group = match groups.iter_mut().find(same) {
            Some(group) => group,
            None => {
                let (least_price, least_kg) = (f64::INFINITY, f64::INFINITY);
                let next = voltages.len() as u32;
                let voltages = *voltages.entry([drive.min_v, controller_max_v.min(motor_max_v)].map(f64::to_bits)).or_insert(next);
                groups.push(Group {
                    min_v: drive.min_v,
                    controller_max_v,
                    motor_max_v,
                    voltages,
                    drives: Vec::new(),
                    least_price,
                    least_kg,
                });
                let last = groups.len() - 1;
                &mut groups[last]
            }
        };
        group.drives.push(number);
        group.least_price = group.least_price.min(drive.price);
        group.least_kg = group.least_kg.min(drive.mass_kg);
    }
    groups
}
