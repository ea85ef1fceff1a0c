//! Drives that take the same pack voltages.

use super::space::SearchProblem;
use super::subsystems::{Drive, Drivetrain};

/// Drives that take the same voltages.
#[derive(Debug)]
pub(super) struct Group {
    pub(super) min_v: f64,
    pub(super) controller_max_v: f64,
    pub(super) motor_max_v: f64,
    pub(super) drives: Vec<u32>,
    pub(super) least_price: f64,
    pub(super) least_kg: f64,
}

pub(super) fn groups(problem: &SearchProblem, drivetrains: &[Drivetrain], drives: &[Drive]) -> Vec<Group> {
    let mut groups: Vec<Group> = Vec::new();
    for (number, drive) in (0u32..).zip(drives) {
        let controller_max_v = problem.controllers[usize::from(drive.controller)].written.max_voltage_v;
        let motor_max_v = drivetrains[drive.drivetrain as usize].motor_max_v;
        let same = |g: &&mut Group| g.min_v == drive.min_v && g.controller_max_v == controller_max_v && g.motor_max_v == motor_max_v;
        let group = match groups.iter_mut().find(same) {
            Some(group) => group,
            None => {
                let (least_price, least_kg) = (f64::INFINITY, f64::INFINITY);
                groups.push(Group { min_v: drive.min_v, controller_max_v, motor_max_v, drives: Vec::new(), least_price, least_kg });
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
