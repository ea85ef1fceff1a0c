//! Doubts about motor, controller and cells.

use super::{InputDefinition, Measurement, Shape, is_claimed, lossy};
use crate::document::Document;
use crate::library::MotorModel;
use crate::powertrain::loss_coefficients;
use crate::quantity::{Provenance, Sources};

fn motor<'a>(d: &'a Document, key: &'static str, present: fn(&MotorModel) -> bool) -> Option<(&'a Sources, &'static str)> {
    d.design.motor.as_ref().filter(|m| present(&m.model)).map(|m| (&m.sources, key))
}

pub(super) const DEFINITIONS: &[InputDefinition] = &[
    input!(
        "design.motor.model.peak_torque_nm",
        "peak torque of the motor",
        BenchMotor,
        Claim,
        Datasheet,
        |d| motor(d, "model.peak_torque_nm", |m| matches!(m, MotorModel::Envelope { .. })),
        |d, f| if let Some(MotorModel::Envelope { peak_torque_nm, .. }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            *peak_torque_nm *= f;
        }
    ),
    input!(
        "design.motor.model.peak_power_w",
        "peak power of the motor",
        BenchMotor,
        Claim,
        Datasheet,
        |d| motor(d, "model.peak_power_w", |m| matches!(m, MotorModel::Envelope { .. })),
        |d, f| if let Some(MotorModel::Envelope { peak_power_w, .. }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            *peak_power_w *= f;
        }
    ),
    input!(
        "design.motor.model.points",
        "torque curve of the motor",
        BenchMotor,
        Claim,
        Datasheet,
        |d| motor(d, "model.points", |m| matches!(m, MotorModel::Points { .. })),
        |d, f| if let Some(MotorModel::Points { points }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            points.iter_mut().for_each(|p| p.torque_nm *= f);
        }
    ),
    input!(
        "design.motor.model.torque_constant_nm_a",
        "torque constant",
        BenchMotor,
        Value,
        Datasheet,
        |d| motor(d, "model.torque_constant_nm_a", |m| matches!(m, MotorModel::Constants { .. })),
        |d, f| if let Some(MotorModel::Constants { torque_constant_nm_a, .. }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            *torque_constant_nm_a *= f;
        }
    ),
    input!(
        "design.motor.model.saturated_constant_nm_a",
        "flux constant",
        BenchMotor,
        Value,
        Datasheet,
        |d| motor(d, "model.saturated_constant_nm_a", |m| matches!(m, MotorModel::SeriesDc { .. })),
        |d, f| if let Some(MotorModel::SeriesDc { saturated_constant_nm_a, .. }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            *saturated_constant_nm_a *= f;
        }
    ),
    input!(
        "design.motor.model.resistance_ohm",
        "winding resistance",
        BenchMotor,
        Value,
        Datasheet,
        |d| motor(d, "model.resistance_ohm", |m| matches!(m, MotorModel::Constants { .. } | MotorModel::SeriesDc { .. })),
        |d, f| if let Some(MotorModel::Constants { resistance_ohm, .. } | MotorModel::SeriesDc { resistance_ohm, .. }) =
            d.design.motor.as_mut().map(|m| &mut m.model)
        {
            *resistance_ohm *= f;
        }
    ),
    input!(
        "design.motor.continuous_power_w",
        "continuous power of the motor",
        BenchMotor,
        Claim,
        Datasheet,
        |d| motor(d, "continuous_power_w", |_| true),
        |d, f| if let Some(motor) = &mut d.design.motor {
            motor.continuous_power_w *= f;
            if !is_claimed(&motor.sources, "continuous_torque_nm") {
                motor.continuous_torque_nm = motor.continuous_torque_nm.map(|t| t * f);
            }
        }
    ),
    input!(
        "design.motor.best_efficiency",
        "losses of the motor",
        BenchMotor,
        Loss,
        Handbook,
        |d| motor(d, "best_efficiency", |m| matches!(m, MotorModel::Envelope { .. } | MotorModel::Points { .. })),
        |d, f| if let Some(motor) = &mut d.design.motor {
            let mut losses = loss_coefficients(motor);
            losses.copper_w_per_nm2 *= f;
            losses.iron_w_per_rad_s *= f;
            losses.windage_w_per_rad3_s3 *= f;
            losses.constant_w *= f;
            motor.losses = Some(losses);
        }
    ),
    input!(
        "design.controller.battery_current_a",
        "battery amps of the controller",
        LogController,
        Claim,
        Datasheet,
        |d| d.design.controller.as_ref().map(|c| (&c.sources, "battery_current_a")),
        |d, f| if let Some(c) = &mut d.design.controller {
            c.battery_current_a *= f;
            if !is_claimed(&c.sources, "battery_current_continuous_a") {
                c.battery_current_continuous_a = c.battery_current_continuous_a.map(|a| a * f);
            }
        }
    ),
    input!(
        "design.controller.motor_current_a",
        "motor amps of the controller",
        LogController,
        Claim,
        Datasheet,
        |d| d.design.controller.as_ref().filter(|c| c.motor_current_a.is_some()).map(|c| (&c.sources, "motor_current_a")),
        |d, f| if let Some(c) = &mut d.design.controller {
            c.motor_current_a = c.motor_current_a.map(|a| a * f);
            if !is_claimed(&c.sources, "motor_current_continuous_a") {
                c.motor_current_continuous_a = c.motor_current_continuous_a.map(|a| a * f);
            }
        }
    ),
    input!(
        "design.controller.efficiency",
        "losses of the controller",
        LogController,
        Loss,
        Handbook,
        |d| d.design.controller.as_ref().map(|c| (&c.sources, "efficiency")),
        |d, f| if let Some(c) = &mut d.design.controller {
            lossy(&mut c.efficiency, f);
        }
    ),
    input!(
        "design.pack.module.capacity_ah",
        "capacity of the cells",
        TestCells,
        Claim,
        Datasheet,
        |d| d.design.pack.as_ref().map(|p| (&p.module.sources, "capacity_ah")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.capacity_ah *= f;
        }
    ),
    input!(
        "design.pack.module.capacity_share",
        "health of the cells",
        TestCells,
        Claim,
        Handbook,
        |d| d.design.pack.as_ref().filter(|p| p.module.capacity_share < 1.0).map(|p| (&p.module.sources, "capacity_share")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.capacity_share = (p.module.capacity_share * f).min(1.0);
        }
    ),
    input!(
        "design.pack.module.resistance_ohm",
        "resistance of the cells",
        TestCells,
        Value,
        Handbook,
        |d| d.design.pack.as_ref().map(|p| (&p.module.sources, "resistance_ohm")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.resistance_ohm *= f;
        }
    ),
    input!(
        "design.pack.module.peak_c",
        "discharge rate of the cells, peak",
        TestCells,
        Claim,
        Datasheet,
        |d| d.design.pack.as_ref().map(|p| (&p.module.sources, "peak_c")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.peak_c *= f;
        }
    ),
    input!(
        "design.pack.module.continuous_c",
        "discharge rate of the cells, continuous",
        TestCells,
        Claim,
        Datasheet,
        |d| d.design.pack.as_ref().map(|p| (&p.module.sources, "continuous_c")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.continuous_c *= f;
        }
    ),
];
