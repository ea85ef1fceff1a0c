//! Whole records from what a plate says and what is usual of the class.

use super::{
    CellCase, Charger, ChargerPlate, Controller, ControllerPlate, Module, ModulePlate, Motor, MotorKind, MotorModel, MotorPlate, Part,
    Standing, builtin,
};
use crate::error::{Error, Result};
use crate::quantity::units::RAD_S_PER_RPM;
use crate::quantity::{Provenance, Source, Sources};

/// Spread of what the class alone tells, percent.
const CLASS_PERCENT: f64 = 40.0;

fn guessed(typed: &[&str], of_class: &[&str]) -> Sources {
    let mark = |spread_percent| move |key: &&str| ((*key).to_owned(), Source { from: Provenance::Guess, spread_percent });
    typed.iter().map(mark(None)).chain(of_class.iter().map(mark(Some(CLASS_PERCENT)))).collect()
}

/// What is usual of a kind of motor.
struct MotorClass {
    /// Peak over continuous power.
    peak_times: f64,
    /// Base over highest speed.
    base_share: f64,
    highest_rpm: f64,
    /// Continuous power for each kilogram.
    w_per_kg: f64,
}

/// Common practice, from memory.
fn class_of(kind: MotorKind) -> MotorClass {
    let class = |peak_times, base_share, highest_rpm, w_per_kg| MotorClass { peak_times, base_share, highest_rpm, w_per_kg };
    match kind {
        MotorKind::SeriesDc => class(2.5, 0.40, 5000.0, 160.0),
        MotorKind::BrushedPm => class(2.0, 0.85, 4000.0, 350.0),
        // Twice the continuous current for a short run is the usual guess for hub motors.
        MotorKind::Hub => class(2.0, 0.75, 900.0, 200.0),
        MotorKind::PmSynchronous => class(2.0, 0.45, 6000.0, 500.0),
        MotorKind::Induction => class(2.0, 0.40, 6000.0, 300.0),
    }
}

/// A controller takes this over its nominal voltage: what a full pack of that nominal voltage has (lithium 4.2 V of 3.6 V), no more; below
/// this share it cuts off. Continuous over peak amps, motor over battery amps, amps fed back, watts for each kilogram (common practice).
const CONTROLLER_MOST: f64 = 4.2 / 3.6;
const CONTROLLER_LEAST: f64 = 0.75;
const CONTROLLER_CONTINUOUS: f64 = 0.5;
const CONTROLLER_MOTOR: f64 = 1.5;
const CONTROLLER_FED_BACK: f64 = 0.3;
const CONTROLLER_W_PER_KG: f64 = 4000.0;
const CONTROLLER_EFFICIENCY: f64 = 0.95;
/// Lowest over highest end-of-charge voltage of a charger, its efficiency and watts for each kilogram (common practice).
const CHARGER_LEAST: f64 = 0.8;
const CHARGER_EFFICIENCY: f64 = 0.9;
const CHARGER_W_PER_KG: f64 = 350.0;

pub(super) fn motor(p: &MotorPlate) -> Result<Motor> {
    let MotorClass { peak_times, base_share, highest_rpm, w_per_kg } = class_of(p.kind);
    let by_volts = || Some(p.volts_v? * p.amps_a? * p.kind.usual_best_efficiency());
    let continuous_power_w = p
        .power_w
        .or_else(by_volts)
        .ok_or_else(|| Error::field("power_w", "nothing", "the rated power, or both volts and amps, from which it follows"))?;
    let max_speed_rpm = p.speed_rpm.unwrap_or(highest_rpm);
    let peak_power_w = peak_times * continuous_power_w;
    let known = |key: &'static str, is: bool| is.then_some(key);
    let typed: Vec<&str> = [Some("continuous_power_w"), known("max_speed_rpm", p.speed_rpm.is_some())].into_iter().flatten().collect();
    let of_class: Vec<&str> = ["model.peak_torque_nm", "model.peak_power_w", "best_efficiency", "mass_kg"]
        .into_iter()
        .chain(known("max_speed_rpm", p.speed_rpm.is_none()))
        .collect();
    Ok(Motor {
        name: p.name.clone(),
        kind: p.kind,
        notes: String::new(),
        model: MotorModel::Envelope { peak_torque_nm: peak_power_w / (base_share * max_speed_rpm * RAD_S_PER_RPM), peak_power_w },
        reference_voltage_v: p.volts_v,
        max_speed_rpm,
        max_voltage_v: None,
        continuous_power_w,
        continuous_torque_nm: None,
        peak_s: None,
        torque_per_amp_nm_a: None,
        losses: None,
        best_efficiency: Some(p.kind.usual_best_efficiency()),
        no_load_power_w: None,
        max_temperature_c: None,
        own_reduction: None,
        rotor_inertia_kg_m2: None,
        mass_kg: (continuous_power_w / w_per_kg).max(0.5),
        price: p.price.unwrap_or(0.0),
        currency: None,
        sources: guessed(&typed, &of_class),
    })
}

pub(super) fn controller(p: &ControllerPlate) -> Controller {
    Controller {
        name: p.name.clone(),
        motor_kinds: vec![p.kind],
        throttle_signals: Vec::new(),
        notes: String::new(),
        min_voltage_v: CONTROLLER_LEAST * p.volts_v,
        max_voltage_v: CONTROLLER_MOST * p.volts_v,
        battery_current_a: p.amps_a,
        battery_current_continuous_a: Some(CONTROLLER_CONTINUOUS * p.amps_a),
        motor_current_a: Some(CONTROLLER_MOTOR * p.amps_a),
        motor_current_continuous_a: None,
        max_power_w: None,
        peak_s: None,
        max_temperature_c: None,
        efficiency: CONTROLLER_EFFICIENCY,
        regeneration_current_a: if p.kind.regenerates() { CONTROLLER_FED_BACK * p.amps_a } else { 0.0 },
        mass_kg: (p.volts_v * p.amps_a / CONTROLLER_W_PER_KG).max(0.3),
        price: p.price.unwrap_or(0.0),
        currency: None,
        sources: guessed(
            &["max_voltage_v", "battery_current_a"],
            &["min_voltage_v", "battery_current_continuous_a", "motor_current_a", "regeneration_current_a", "mass_kg"],
        ),
    }
}

/// The new built-in module of the chemistry whose capacity is nearest, made larger or smaller.
pub(super) fn module(p: &ModulePlate) -> Result<Module> {
    let like = builtin()
        .iter()
        .filter_map(|part| match part {
            Part::Module(m) if m.chemistry == p.chemistry => Some(m),
            _ => None,
        })
        .min_by(|a, b| {
            let far = |m: &Module| (m.capacity_share < 1.0, (m.capacity_ah / p.capacity_ah).ln().abs());
            far(a).0.cmp(&far(b).0).then(far(a).1.total_cmp(&far(b).1))
        })
        .ok_or_else(|| Error::field("chemistry", p.chemistry.word(), "a chemistry of the built-in library"))?;
    let cells_in_series = (p.volts_v / like.nominal_voltage_v).round().max(1.0) as u32;
    let per_cell_v = p.volts_v / f64::from(cells_in_series);
    if (per_cell_v / like.nominal_voltage_v - 1.0).abs() > NEAR_NOMINAL {
        let accepted = format!("a multiple of {} V, one {} cell", like.nominal_voltage_v, p.chemistry.word());
        return Err(Error::field("volts_v", format!("{} V", p.volts_v), accepted));
    }
    let energy = |m: &Module| m.capacity_ah * f64::from(m.cells_in_series);
    let larger = p.capacity_ah * f64::from(cells_in_series) / energy(like);
    Ok(Module {
        name: p.name.clone(),
        notes: String::new(),
        cells_in_series,
        capacity_ah: p.capacity_ah,
        resistance_ohm: like.resistance_ohm * like.capacity_ah / p.capacity_ah,
        capacity_share: 1.0,
        resistance_factor: 1.0,
        charge_efficiency: None,
        acceptance_per_h: None,
        taper_end_c: None,
        cold_factor: None,
        case: CellCase::Hard,
        stands: Standing::Any,
        length_mm: None,
        width_mm: None,
        height_mm: None,
        mass_kg: p.mass_kg.unwrap_or(like.mass_kg * larger),
        price: p.price.unwrap_or(0.0),
        currency: None,
        sources: guessed(
            if p.mass_kg.is_some() { &["capacity_ah", "mass_kg"] } else { &["capacity_ah"] },
            if p.mass_kg.is_some() {
                &["resistance_ohm", "continuous_c", "peak_c", "charge_c"]
            } else {
                &["resistance_ohm", "continuous_c", "peak_c", "charge_c", "mass_kg"]
            },
        ),
        ..like.clone()
    })
}

/// How far volts may be from a whole number of cells, as a share: makers round, and say 3.6 or 3.7 V of the same cell.
const NEAR_NOMINAL: f64 = 0.12;

pub(super) fn charger(p: &ChargerPlate) -> Charger {
    let output_power_w = p.volts_v * p.amps_a;
    Charger {
        name: p.name.clone(),
        notes: String::new(),
        output_min_v: CHARGER_LEAST * p.volts_v,
        output_max_v: p.volts_v,
        output_current_a: p.amps_a,
        output_power_w,
        input_current_a: None,
        phases: 1,
        efficiency: CHARGER_EFFICIENCY,
        mass_kg: (output_power_w / CHARGER_W_PER_KG).max(0.3),
        price: p.price.unwrap_or(0.0),
        currency: None,
        sources: guessed(&["output_max_v", "output_current_a"], &["output_min_v", "output_power_w", "efficiency", "mass_kg"]),
    }
}
