//! Loss coefficients of a record: as stated, or fitted to what its data sheet says.

use nalgebra::{DMatrix, DVector};

use super::curve::Curve;
use super::rated_point;
use crate::library::{LossCoefficients, Motor, MotorKind, MotorModel, TorquePoint};
use crate::quantity::units::RAD_S_PER_RPM;

/// Where machines of a kind are best: torque as a share of the continuous torque, speed as a share of the highest. As seen in published
/// efficiency maps and data sheets (from memory, no single source): traction motors at middling torque and high speed, brushed ones and
/// direct-drive hubs near their rating.
const fn usual_best(kind: MotorKind) -> (f64, f64) {
    match kind {
        MotorKind::Hub => (0.8, 0.85),
        MotorKind::PmSynchronous => (0.55, 0.75),
        MotorKind::Induction => (0.5, 0.75),
        MotorKind::BrushedPm | MotorKind::SeriesDc => (0.8, 0.8),
    }
}

/// Share of the loss without load that grows with the cube of speed, at the best point; the rest grows with speed. With a half the loss
/// grows with the square there, and the best point is the best of the whole map: the least of `2 sqrt(kc r(w)) / w` has `w r' = 2 r`.
const CUBIC: f64 = 0.5;

/// Most of the loss at the best efficiency that a stated no-load power may be: what is left is copper.
const MOST_IDLE: f64 = 0.9;

/// Speed and torque at which a record's best efficiency is taken to be, rad/s and N m: usual for its kind, within its curve.
#[must_use]
pub fn best_point(motor: &Motor) -> (f64, f64) {
    let (torque, speed) = usual_best(motor.kind);
    let speed = speed * motor.max_speed_rpm * RAD_S_PER_RPM;
    let within = Curve::of(motor, 1.0).torque_nm(speed, motor.reference_voltage_v.unwrap_or(0.0), motor.reference_voltage_v);
    let (_, continuous_nm) = rated_point(motor);
    (speed, (torque * continuous_nm).min(within).max(1e-6))
}

/// Loss coefficients of the quadratic model: as stated, else fitted to the points' efficiencies, else to the best efficiency and the
/// no-load power. Motors given by their constants carry their own losses instead.
///
/// At a given speed efficiency is best where the copper loss equals the rest (d(loss/T)/dT = 0), so at the best point half of the loss is
/// copper. A stated no-load power is that at the highest speed, where data sheets give it.
#[must_use]
pub fn loss_coefficients(motor: &Motor) -> LossCoefficients {
    if let Some(given) = motor.losses {
        return given;
    }
    if let MotorModel::Points { points } = &motor.model
        && let Some(fitted) = fit(points)
    {
        return fitted;
    }
    let efficiency = motor.best_efficiency.unwrap_or_else(|| motor.kind.usual_best_efficiency());
    let (speed, torque) = best_point(motor);
    let (_, share) = usual_best(motor.kind);
    let total = torque * speed * (1.0 / efficiency - 1.0);
    // What is lost without load at the highest speed, of what is lost so at the best point.
    let at_top = (1.0 - CUBIC) / share + CUBIC / share.powi(3);
    let rest = motor.no_load_power_w.map_or(total / 2.0, |p| (p / at_top).min(MOST_IDLE * total));
    LossCoefficients {
        copper_w_per_nm2: (total - rest) / (torque * torque),
        iron_w_per_rad_s: (1.0 - CUBIC) * rest / speed,
        windage_w_per_rad3_s3: CUBIC * rest / speed.powi(3),
        constant_w: 0.0,
    }
}

/// Least-squares fit of `kc T^2 + ki w + kw w^3 + C` to the losses that stated efficiencies mean, no coefficient below zero;
/// `None` with fewer than three efficiencies.
///
/// Points where power is highest would drown the others, so each equation is weighted by the inverse of its shaft power:
/// the relative error of the loss share is what is made small. Non-negative by trying every subset of the four terms
/// (Lawson and Hanson, Solving Least Squares Problems, 1974, chapter 23, by exhaustion).
fn fit(points: &[TorquePoint]) -> Option<LossCoefficients> {
    let rows: Vec<([f64; 4], f64)> = points
        .iter()
        .filter_map(|p| {
            let (speed, torque, efficiency) = (p.speed_rpm * RAD_S_PER_RPM, p.torque_nm, p.efficiency?);
            let shaft_w = torque * speed;
            let terms = [torque * torque, speed, speed.powi(3), 1.0];
            (shaft_w > 0.0).then(|| (terms.map(|t| t / shaft_w), 1.0 / efficiency - 1.0))
        })
        .collect();
    if rows.len() < 3 {
        return None;
    }
    let mut best: Option<(f64, [f64; 4])> = None;
    for subset in 1u32..16 {
        let columns: Vec<usize> = (0..4).filter(|c| subset & (1 << c) != 0).collect();
        if columns.len() > rows.len() {
            continue;
        }
        // Columns differ by many orders of magnitude; scaled to unit length first.
        let raw = DMatrix::from_fn(rows.len(), columns.len(), |r, c| rows[r].0[columns[c]]);
        let scale: Vec<f64> = (0..columns.len()).map(|c| raw.column(c).norm().max(1e-300)).collect();
        let scaled = DMatrix::from_fn(rows.len(), columns.len(), |r, c| raw[(r, c)] / scale[c]);
        let target = DVector::from_iterator(rows.len(), rows.iter().map(|r| r.1));
        let Ok(solution) = scaled.clone().svd(true, true).solve(&target, 1e-10) else { continue };
        if solution.iter().any(|x| *x < 0.0) {
            continue;
        }
        let error = (scaled * &solution - target).norm();
        if best.is_none_or(|b| error < b.0 - 1e-12) {
            let mut coefficients = [0.0; 4];
            for (i, column) in columns.iter().enumerate() {
                coefficients[*column] = solution[i] / scale[i];
            }
            best = Some((error, coefficients));
        }
    }
    best.map(|(_, [copper, iron, windage, constant])| LossCoefficients {
        copper_w_per_nm2: copper,
        iron_w_per_rad_s: iron,
        windage_w_per_rad3_s3: windage,
        constant_w: constant,
    })
}
