//! Ratings that cannot be, or hardly, and records that are there twice: said before money is spent, never refused.

use crate::quantity::units::RAD_S_PER_RPM;
use std::collections::HashMap;

use serde::Serialize;

use super::{Chemistry, Component, ComponentKind, Controller, Module, Motor, MotorKind, MotorModel, Part};

/// A rating to look at again.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Implausible {
    /// Key of the rating, dotted.
    pub key: String,
    /// What is odd, with both figures.
    pub message: String,
    /// The figure found.
    pub found: f64,
    /// Usual range of the class, lowest.
    pub usual_from: f64,
    /// Usual range of the class, highest.
    pub usual_to: f64,
    /// Unit of the three.
    pub unit: String,
}

fn outside(out: &mut Vec<Implausible>, key: &str, what: &str, found: f64, (from, to): (f64, f64), unit: &str) {
    if !(from..=to).contains(&found) {
        let digits = if found.abs() < 10.0 { 2 } else { 0 };
        out.push(Implausible {
            key: key.to_owned(),
            message: format!("{what} is {found:.digits$} {unit}; usual for the class is {from} to {to} {unit}"),
            found,
            usual_from: from,
            usual_to: to,
            unit: unit.to_owned(),
        });
    }
}

/// Ratings of a record that are far outside its class.
///
/// The ranges are those of the classes (from memory, common practice), opened on both sides by about half as much again: they find slips
/// of units and boasts, not unusual parts.
#[must_use]
pub fn implausible(part: &Part) -> Vec<Implausible> {
    let mut out = Vec::new();
    match part {
        Part::Component(c) => component(c, &mut out),
        Part::Motor(m) => motor(m, &mut out),
        Part::Controller(c) => controller(c, &mut out),
        Part::Module(m) => module(m, &mut out),
        Part::Charger(c) => {
            outside(&mut out, "output_power_w", "Power for each kilogram", c.output_power_w / c.mass_kg, (40.0, 2500.0), "W/kg");
            outside(&mut out, "efficiency", "Efficiency", c.efficiency, (0.7, 0.97), "");
            let volts = c.output_power_w / c.output_current_a;
            if volts > 1.3 * c.output_max_v {
                let message = format!(
                    "{:.0} W at {:.0} A would be {volts:.0} V, above its highest voltage of {:.0} V",
                    c.output_power_w, c.output_current_a, c.output_max_v
                );
                let (key, unit) = ("output_power_w".to_owned(), "V".to_owned());
                out.push(Implausible { key, message, found: volts, usual_from: 0.0, usual_to: c.output_max_v, unit });
            }
        }
    }
    out
}

fn component(c: &Component, out: &mut Vec<Implausible>) {
    if let (ComponentKind::Converter | ComponentKind::Heater, Some(watts)) = (c.kind, c.rated_w) {
        outside(out, "rated_w", "Power for each kilogram", watts / c.mass_kg, (60.0, 4000.0), "W/kg");
    }
    if let (ComponentKind::Cable, Some(mm2)) = (c.kind, c.section_mm2) {
        // Copper alone is 8.9 g for each metre and mm2.
        outside(out, "mass_kg", "Mass of a metre for each mm²", 1000.0 * c.mass_kg / mm2, (8.9, 30.0), "g");
    }
    if let (ComponentKind::Contactor | ComponentKind::Disconnect, Some(amps)) = (c.kind, c.current_a) {
        outside(out, "current_a", "Current for each kilogram", amps / c.mass_kg, (50.0, 2500.0), "A/kg");
    }
}

fn motor(m: &Motor, out: &mut Vec<Implausible>) {
    let continuous = m.continuous_power_w / m.mass_kg;
    let (per_kg, peak): ((f64, f64), f64) = match m.kind {
        MotorKind::SeriesDc => ((60.0, 450.0), 6.0),
        MotorKind::BrushedPm => ((120.0, 900.0), 5.0),
        MotorKind::Hub => ((50.0, 700.0), 5.0),
        MotorKind::PmSynchronous => ((120.0, 3000.0), 7.0),
        MotorKind::Induction => ((100.0, 1800.0), 7.0),
    };
    outside(out, "continuous_power_w", "Continuous power per kilogram", continuous, per_kg, "W/kg");
    if let MotorModel::Envelope { peak_torque_nm, peak_power_w } = m.model {
        outside(out, "model.peak_power_w", "Peak power over continuous power", peak_power_w / m.continuous_power_w, (1.0, peak), "times");
        outside(out, "model.peak_power_w", "Peak power for each kilogram", peak_power_w / m.mass_kg, (60.0, 8000.0), "W/kg");
        let base_rpm = peak_power_w / peak_torque_nm / RAD_S_PER_RPM;
        if base_rpm > m.max_speed_rpm {
            let message = format!(
                "{peak_power_w:.0} W at {peak_torque_nm:.0} N·m needs {base_rpm:.0} rpm, above its highest speed of {:.0} rpm",
                m.max_speed_rpm
            );
            let (key, unit) = ("model.peak_power_w".to_owned(), "rpm".to_owned());
            out.push(Implausible { key, message, found: base_rpm, usual_from: 0.0, usual_to: m.max_speed_rpm, unit });
        }
    }
    if let Some(best) = m.best_efficiency {
        outside(out, "best_efficiency", "Best efficiency", best, (0.7, 0.975), "");
    }
}

fn controller(c: &Controller, out: &mut Vec<Implausible>) {
    let watts = c.max_power_w.unwrap_or(f64::INFINITY).min(c.max_voltage_v * c.battery_current_a);
    outside(out, "battery_current_a", "Power for each kilogram", watts / c.mass_kg, (800.0, 45_000.0), "W/kg");
    outside(out, "efficiency", "Efficiency", c.efficiency, (0.85, 0.99), "");
    if let Some(amps) = c.motor_current_a {
        outside(out, "motor_current_a", "Motor amps over battery amps", amps / c.battery_current_a, (0.8, 5.0), "times");
    }
}

fn module(m: &Module, out: &mut Vec<Implausible>) {
    let wh = m.capacity_ah * m.nominal_voltage_v * f64::from(m.cells_in_series);
    let (per_kg, most_c): ((f64, f64), f64) = match m.chemistry {
        Chemistry::LeadFlooded | Chemistry::LeadAgm => ((18.0, 55.0), 8.0),
        Chemistry::Lfp => ((70.0, 210.0), 12.0),
        Chemistry::Nmc => ((95.0, 300.0), 15.0),
        Chemistry::Lmo => ((55.0, 160.0), 12.0),
        Chemistry::Lipo => ((90.0, 300.0), 60.0),
        Chemistry::Lto => ((40.0, 120.0), 30.0),
        Chemistry::Nimh => ((35.0, 100.0), 20.0),
    };
    outside(out, "capacity_ah", "Energy for each kilogram", wh / m.mass_kg, per_kg, "Wh/kg");
    outside(out, "peak_c", "Peak discharge", m.peak_c, (0.2, most_c), "C");
    // Resistance falls as capacity grows; their product is a property of the make of cell.
    outside(out, "resistance_ohm", "Resistance times capacity", 1000.0 * m.resistance_ohm * m.capacity_ah, (5.0, 700.0), "mΩ·Ah");
    let cell_v = match m.chemistry {
        Chemistry::LeadFlooded | Chemistry::LeadAgm => (1.9, 2.2),
        Chemistry::Lfp => (3.1, 3.4),
        Chemistry::Nmc | Chemistry::Lmo | Chemistry::Lipo => (3.5, 3.9),
        Chemistry::Lto => (2.2, 2.5),
        Chemistry::Nimh => (1.15, 1.35),
    };
    outside(out, "nominal_voltage_v", "Nominal voltage of one cell", m.nominal_voltage_v, cell_v, "V");
    if m.price > 0.0 {
        outside(out, "price", "Price of a kilowatt-hour", m.price / (wh * m.capacity_share) * 1000.0, (25.0, 2500.0), "money/kWh");
    }
}

fn plain_name(name: &str) -> String {
    name.chars().filter(|c| c.is_alphanumeric()).flat_map(char::to_lowercase).collect()
}

/// The record without what does not change what it does.
fn ratings(part: &Part) -> String {
    let mut value = serde_json::to_value(part).unwrap_or_default();
    if let Some(map) = value.as_object_mut() {
        for key in ["name", "notes", "price", "currency", "sources"] {
            map.remove(key);
        }
    }
    value.to_string()
}

/// For each part the names of others that seem to be the same one: the same ratings, or names that differ by case, blanks and dashes alone.
#[must_use]
pub fn look_alikes(parts: &[Part]) -> Vec<Vec<String>> {
    let mut by_name: HashMap<(&str, String), Vec<usize>> = HashMap::new();
    let mut by_ratings: HashMap<String, Vec<usize>> = HashMap::new();
    for (i, part) in parts.iter().enumerate() {
        by_name.entry((part.kind(), plain_name(part.name()))).or_default().push(i);
        by_ratings.entry(ratings(part)).or_default().push(i);
    }
    let mut alike: Vec<Vec<String>> = vec![Vec::new(); parts.len()];
    for group in by_name.into_values().chain(by_ratings.into_values()).filter(|g| g.len() > 1) {
        for i in &group {
            for j in group.iter().filter(|j| *j != i) {
                let name = parts[*j].name();
                if name != parts[*i].name() && !alike[*i].iter().any(|n| n == name) {
                    alike[*i].push(name.to_owned());
                }
            }
        }
    }
    alike.iter_mut().for_each(|names| names.sort());
    alike
}
