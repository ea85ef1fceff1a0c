//! Ratings that are certain, or follow another one, unless they are a seller's claim of their own.

use super::{InputDefinition, Measurement, Shape, is_claimed};
use crate::library::MotorModel;
use crate::quantity::{Provenance, Sources};

/// The record's sources where they call the value of a key a seller's claim.
fn marked<'a>(sources: Option<&'a Sources>, key: &'static str) -> Option<(&'a Sources, &'static str)> {
    sources.filter(|s| is_claimed(s, key)).map(|s| (s, key))
}

macro_rules! of_motor {
    ($key:literal, $label:literal, $apply:expr) => {
        input!(
            concat!("design.motor.", $key),
            $label,
            BenchMotor,
            Claim,
            Datasheet,
            |d| marked(d.design.motor.as_ref().map(|m| &m.sources), $key),
            $apply
        )
    };
}

macro_rules! of_controller {
    ($key:literal, $label:literal, $apply:expr) => {
        input!(
            concat!("design.controller.", $key),
            $label,
            LogController,
            Claim,
            Datasheet,
            |d| marked(d.design.controller.as_ref().map(|c| &c.sources), $key),
            $apply
        )
    };
}

pub(super) static DEFINITIONS: [InputDefinition; 8] =
    [
        of_motor!("continuous_torque_nm", "continuous torque of the motor", |d, f| if let Some(m) = &mut d.design.motor {
            m.continuous_torque_nm = m.continuous_torque_nm.map(|t| t * f);
        }),
        of_motor!("model.peak_current_a", "peak amps of the motor", |d, f| if let Some(
            MotorModel::Constants { peak_current_a, .. } | MotorModel::SeriesDc { peak_current_a, .. },
        ) = d.design.motor.as_mut().map(|m| &mut m.model)
        {
            *peak_current_a *= f;
        }),
        of_controller!("battery_current_continuous_a", "continuous battery amps of the controller", |d, f| if let Some(c) =
            &mut d.design.controller
        {
            c.battery_current_continuous_a = c.battery_current_continuous_a.map(|a| a * f);
        }),
        of_controller!("motor_current_continuous_a", "continuous motor amps of the controller", |d, f| if let Some(c) =
            &mut d.design.controller
        {
            c.motor_current_continuous_a = c.motor_current_continuous_a.map(|a| a * f);
        }),
        of_controller!("max_power_w", "power limit of the controller", |d, f| if let Some(c) = &mut d.design.controller {
            c.max_power_w = c.max_power_w.map(|w| w * f);
        }),
        of_controller!("regeneration_current_a", "amps the controller feeds back", |d, f| if let Some(c) = &mut d.design.controller {
            c.regeneration_current_a *= f;
        }),
        input!(
            "design.charger.output_current_a",
            "amps of the charger",
            MeterCharger,
            Claim,
            Datasheet,
            |d| marked(d.design.charger.as_ref().map(|c| &c.sources), "output_current_a"),
            |d, f| if let Some(c) = &mut d.design.charger {
                c.output_current_a *= f;
            }
        ),
        input!(
            "design.pack.module.charge_c",
            "charge rate of the cells",
            TestCells,
            Claim,
            Datasheet,
            |d| marked(d.design.pack.as_ref().map(|p| &p.module.sources), "charge_c"),
            |d, f| if let Some(p) = &mut d.design.pack {
                p.module.charge_c *= f;
            }
        ),
    ];
