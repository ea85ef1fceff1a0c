//! What each alternative for one link would do before it is chosen.

use serde::Serialize;

use crate::cancel::Cancel;
mod newer;

pub use newer::{Newer, RatingChange, newer};

use crate::claims::Claim;
use crate::document::{Checked, Design, Driveline, MotorPlace, Pack};
use crate::error::Result;
use crate::figures::Verdict;
use crate::findings::Severity;
use crate::library::{Motor, MotorKind, Part};
use crate::quantity::Sentence;
use crate::report::{Report, report_until};

/// The outcome of putting one library part in.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Outcome {
    /// Claims with the part in.
    pub claims: Vec<Claim>,
    /// Goals met.
    pub met: u32,
    /// Stop findings, as messages.
    pub stops: Vec<Sentence>,
    /// Net cost.
    pub cost: f64,
    /// Mass of the converted vehicle, kg.
    pub converted_kg: f64,
}

/// What a part is chosen by first: continuous power of a motor, W; battery amps of a controller; energy of a module, Wh; power of a
/// charger, W.
fn size(part: &Part) -> f64 {
    match part {
        Part::Motor(m) => m.continuous_power_w,
        Part::Controller(c) => c.battery_current_a,
        Part::Module(m) => m.nominal_voltage_v * f64::from(m.cells_in_series) * m.present_capacity_ah(),
        Part::Charger(c) => c.output_power_w,
        Part::Component(c) => c.current_a.or(c.rated_w).unwrap_or(1.0),
    }
}

/// How far a part is from the one of its kind in the design, as the logarithm of what they are chosen by; zero where there is none.
#[must_use]
pub fn apart(design: &Design, part: &Part) -> f64 {
    let own = match part {
        Part::Motor(_) => design.motor.clone().map(Part::Motor),
        Part::Controller(_) => design.controller.clone().map(Part::Controller),
        Part::Module(_) => design.pack.as_ref().map(|p| Part::Module(p.module.clone())),
        Part::Charger(_) => design.charger.clone().map(Part::Charger),
        // Which place it is for is not told here: the electrics choose it.
        Part::Component(_) => None,
    };
    own.map_or(0.0, |own| (size(part) / size(&own)).ln().abs())
}

/// The same document with a part put into its place. A module keeps series and parallel counts so that the pack's
/// nominal voltage stays as near as can be and its energy at least as large, within one string. A hub motor goes into the wheels, and a unit
/// with its own reduction takes the place of all gears.
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::{alternatives::with_part, library::builtin};
/// let kart = Document::from_json(&demo("pipit-b")?)?;
/// let motor = builtin().iter().find(|p| p.kind() == "motor").ok_or("a motor")?;
/// assert_eq!(with_part(&kart, motor).design.motor.as_ref().map(|m| m.name.as_str()), Some(motor.name()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn with_part(document: &Checked, part: &Part) -> Checked {
    let put = document.with_sound(|d| put_in(&mut d.design, part));
    // A trip that names a gear cannot be driven without gears: then the motor stays where the old one sat.
    if let Part::Motor(motor) = part { reseated(document, &put, motor).unwrap_or(put) } else { put }
}

/// A hub motor goes into the wheels, without gears and each with a controller of its own; another motor in its place goes back ahead of
/// the donor's driveline. A unit with its own reduction drives the half-shafts, where there are any. None where the motor can stay where
/// the old one sat.
fn reseated(before: &Checked, put: &Checked, motor: &Motor) -> Option<Checked> {
    let is_hub = |m: &Motor| m.kind == MotorKind::Hub;
    let was_hub = before.design.motor.as_ref().is_some_and(is_hub);
    let in_wheels = matches!(before.design.motor_place, MotorPlace::Wheels | MotorPlace::EveryWheel);
    let bare = || Some(Driveline { shift_s: before.driveline().shift_s, ..Driveline::default() });
    let was_unit = before.design.motor.as_ref().is_some_and(|m| m.own_reduction.is_some());
    if motor.own_reduction.is_some() != was_unit && !is_hub(motor) && before.donor.takes_drive_units() {
        let driveline = if was_unit { None } else { bare() };
        return put
            .with(|d| {
                (d.design.motor_place, d.design.motor_count, d.design.controller_count) = (MotorPlace::Shaft, 1, 1);
                d.design.driveline = driveline;
            })
            .ok();
    }
    let (place, count, driveline) = match (is_hub(motor), in_wheels) {
        (true, false) => {
            let (place, count) = *MotorPlace::of_hubs(before.donor.kind).first()?;
            (place, count, bare())
        }
        (false, true) if was_hub => (MotorPlace::Shaft, 1, None),
        _ => return None,
    };
    put.with(|d| {
        d.design.motor_place = place;
        d.design.motor_count = count;
        d.design.controller_count = count;
        d.design.driveline = driveline;
    })
    .ok()
}

fn put_in(design: &mut Design, part: &Part) {
    match part {
        Part::Motor(motor) => design.motor = Some(motor.clone()),
        Part::Controller(controller) => design.controller = Some(controller.clone()),
        Part::Charger(charger) => design.charger = Some(charger.clone()),
        Part::Component(_) => {}
        Part::Module(module) => {
            let volts = |m: &crate::library::Module| m.nominal_voltage_v * f64::from(m.cells_in_series);
            let old = design.pack.take();
            let (wanted_v, wanted_wh) = old.as_ref().map_or((96.0, 10_000.0), |p| {
                let v = volts(&p.module) * f64::from(p.modules_in_series);
                (v, v * p.module.present_capacity_ah() * f64::from(p.strings_in_parallel))
            });
            let series = (wanted_v / volts(module)).round().max(1.0);
            let string_wh = series * volts(module) * module.present_capacity_ah();
            let parallel = (wanted_wh / string_wh).round().max(1.0);
            // The old window belongs to the old chemistry.
            design.pack = Some(Pack {
                module: module.clone(),
                modules_in_series: series.min(400.0) as u32,
                strings_in_parallel: parallel.min(200.0) as u32,
                soc_min: None,
                soc_max: None,
                box_mass_kg: old.as_ref().map_or(0.0, |p| p.box_mass_kg),
                box_price: old.as_ref().map_or(0.0, |p| p.box_price),
                monitored: old.as_ref().is_some_and(|p| p.monitored),
                window_approach: old.as_ref().map_or_else(Default::default, |p| p.window_approach),
                temperature_c: old.as_ref().and_then(|p| p.temperature_c),
                interconnect_resistance_ohm: old.as_ref().map_or(0.0, |p| p.interconnect_resistance_ohm),
                // Strings of another voltage cannot stay beside the new ones.
                added_strings: Vec::new(),
            });
        }
    }
}

/// Estimates a document with one library part put in.
///
/// # Errors
/// As [`crate::report::report`].
pub fn outcome(document: &Checked, part: &Part, cancel: &Cancel) -> Result<Outcome> {
    Ok(Outcome::of(report_until(&with_part(document, part), cancel)?))
}

impl Outcome {
    /// The comparable part of a report.
    #[must_use]
    pub fn of(report: Report) -> Self {
        Self {
            met: report.claims.iter().filter(|c| c.verdict == Verdict::Met).count() as u32,
            stops: report.findings.iter().filter(|f| f.severity == Severity::Stop).map(|f| f.message.clone()).collect(),
            cost: report.cost.net,
            converted_kg: report.masses.converted_kg,
            claims: report.claims,
        }
    }
}
