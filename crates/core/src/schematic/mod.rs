//! The electrics of a design as people work with them: a sheet of figures with formula and source, what is chosen for each place, the circuit
//! with its one-line drawing, and the lists of wires and parts.

mod account;
mod belt;
mod brakes;
pub mod circuit;
mod drawing;
mod lines;
mod lists;
mod low_voltage;
mod mechanics;
mod motor;
mod motor_places;
mod places;
mod plans;
mod plate;
mod precharge;
mod traction;

use serde::Serialize;

pub use account::account_csv;
pub use circuit::{Circuit, CircuitKind, CircuitPart, Wire};
pub use lines::{Line, LineState};
pub use lists::{parts_csv, wiring_csv};
pub use mechanics::{ChainPicture, MechanicsSheet, MountRow, mechanics};
pub use motor_places::MotorPlaceRow;
pub use places::{Choice, Place, PlaceChoices, place_choices};
pub use plans::{Layer, Plan, Shape, layout_plan, plate_plan};
pub use plate::PlatePicture;

use crate::cancel::Cancel;
use crate::document::{Checked, HAZARDOUS_V, LocalCode};
use crate::electrics::Sizing;
use crate::electrics::low_voltage::Situation;
use crate::error::Result;
use crate::estimate::{Estimate, TripLoad, estimate, trip_loads};
use crate::findings::{Finding, Severity, find_sized};
use crate::inputs::Counted;
use crate::library::Component;
use crate::powertrain::Chain;
use crate::quantity::Sentence;

/// Lines that belong together.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Group {
    /// Stable identifier: `traction`, `precharge`, `motor`, `charge`, `low_voltage`, `heat`, `brakes`, `safety`.
    pub id: &'static str,
    /// Words shown.
    pub name: &'static str,
    /// What to beware of, where the danger is; empty when nothing.
    pub caution: &'static str,
    /// Its lines.
    pub lines: Vec<Line>,
}

/// Voltage of the bus while it is precharged; every list has one entry a sample.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PrechargeCurve {
    /// s.
    pub time_s: Vec<f64>,
    /// V.
    pub bus_v: Vec<f64>,
    /// At this voltage the contactor may close, V.
    pub closes_v: f64,
    /// It closes after this time, s.
    pub delay_s: f64,
}

/// Fuse, cable and load against time; every list has one entry a time.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Coordination {
    /// s.
    pub time_s: Vec<f64>,
    /// Current at which the fuse opens after this time, A.
    pub fuse_a: Vec<f64>,
    /// Current that the cable bears for this time, A.
    pub cable_a: Vec<f64>,
    /// What may be drawn for this time, A.
    pub load_a: Vec<f64>,
    /// Short circuit at the cable's end, A.
    pub short_circuit_a: f64,
}

/// The electrics of a design.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ElectricsSheet {
    /// Whether nothing found is a stop: a design with one is not ready to be built.
    pub ready: bool,
    /// What each part has to bear, and the least that does.
    pub groups: Vec<Group>,
    /// What is chosen for each place, and the least of the library that suffices.
    pub places: Vec<Place>,
    /// Mass of what is offered and not chosen yet, kg: it is in no range or claim so far.
    pub open_kg: f64,
    /// Its price.
    pub open_price: f64,
    /// Precharge over time.
    pub precharge: PrechargeCurve,
    /// Fuse, cable and load over time.
    pub coordination: Coordination,
    /// The 12 V side by day, at night in rain and in winter.
    pub situations: Vec<Situation>,
    /// Vacuum before the first press and after each with the pump dead, kPa below the air; empty without vacuum brakes.
    pub presses_kpa: Vec<f64>,
    /// Every part and wire.
    pub circuit: Circuit,
    /// The one-line drawing, SVG.
    pub drawing: String,
    /// The wiring list, CSV.
    pub wiring_csv: String,
    /// The parts list, CSV.
    pub parts_csv: String,
    /// Which code the colours follow, and that the local one rules.
    pub code: &'static str,
    /// What was assumed because nobody said.
    pub assumed: Vec<Sentence>,
}

/// Derives the electrics of a design; `library` is what may be chosen from.
///
/// # Errors
/// As [`crate::estimate::estimate`].
pub fn electrics(document: &Checked, library: &[Component], cancel: &Cancel) -> Result<ElectricsSheet> {
    let counted = Counted::of(document);
    let estimate = estimate(&counted, cancel)?;
    let chain = Chain::of(&counted, estimate.masses.test_kg)?;
    let driven = trip_loads(&counted, &chain, cancel)?;
    Ok(derived(document, &chain, &estimate, driven, library))
}

/// Derives the electrics from an estimate, its chain and what its trips asked of them: sizes, findings, places, circuit, drawing, lists.
#[must_use]
pub fn derived(document: &Checked, chain: &Chain, estimate: &Estimate, driven: Vec<TripLoad>, library: &[Component]) -> ElectricsSheet {
    let sizing = Sizing::of(document, chain, estimate).with_driven(driven);
    let findings = find_sized(document, &sizing, estimate);
    sheet(&sizing, &findings, library)
}

/// The circuit of a design and its drawing alone.
///
/// # Errors
/// As [`electrics`].
pub fn drawn(document: &Checked, cancel: &Cancel) -> Result<(Circuit, String)> {
    let sheet = electrics(document, &[], cancel)?;
    Ok((sheet.circuit, sheet.drawing))
}

fn sheet(s: &Sizing<'_>, findings: &[Finding], library: &[Component]) -> ElectricsSheet {
    let (traction, coordination) = traction::traction(s, findings);
    let (precharged, precharge) = precharge::precharge(s, findings);
    let mut groups = vec![
        Group {
            id: "traction",
            name: "Pack, fuse and traction cable",
            caution: "A pack cannot be switched off. Fuse and disconnect sit at the pack; nobody works on live parts alone.",
            lines: traction,
        },
        Group {
            id: "precharge",
            name: "Contactors and precharge",
            caution: "Capacitors stay charged: wait, then measure before touching anything.",
            lines: precharged,
        },
        Group {
            id: "motor",
            name: "Motor and throttle",
            caution: "Try throttle and direction with the driven wheels off the ground and the emergency stop in hand.",
            lines: motor::motor(s, findings),
        },
        Group {
            id: "charge",
            name: "Charge wiring",
            caution: "A permanent charging point is the work of a licensed electrician; local code decides.",
            lines: motor::charge(s, findings),
        },
        Group { id: "low_voltage", name: "12 V side", caution: "", lines: low_voltage::low_voltage(s, findings) },
        Group {
            id: "heat",
            name: "Cooling and heating",
            caution: "Refrigerant is taken out and filled by a licensed workshop only.",
            lines: low_voltage::heat(s, findings),
        },
    ];
    let brakes = brakes::brakes(s, findings);
    if !brakes.is_empty() {
        groups.push(Group {
            id: "brakes",
            name: "Brakes",
            caution: "Without assistance the pedal takes several times the force: try it standing, then slowly, before any road.",
            lines: brakes,
        });
    }
    groups.push(Group {
        id: "safety",
        name: "Insulation, monitoring and shock",
        caution: if s.full_v() > HAZARDOUS_V {
            "Above 60 V of direct current counts as hazardous: insulated tools, rated gloves, no jewellery."
        } else {
            ""
        },
        lines: brakes::safety(s, findings),
    });
    let places = places::places(s, findings, library);
    let offered = || places.iter().filter(|p| p.chosen.is_none()).filter_map(|p| p.least.as_ref().map(|c| (p.count, c)));
    let circuit = circuit::circuit(s, findings);
    let ready = !findings.iter().any(|f| f.severity == Severity::Stop);
    ElectricsSheet {
        ready,
        open_kg: offered().map(|(n, c)| n * c.mass_kg).sum(),
        open_price: offered().map(|(n, c)| n * c.price).sum(),
        drawing: drawing::drawing(&circuit, s, findings),
        situations: s.situations.to_vec(),
        presses_kpa: s.vacuum.as_ref().map_or_else(Vec::new, crate::electrics::vacuum::BrakeVacuum::presses_kpa),
        code: match s.said.code {
            LocalCode::Iec => "Colours follow IEC 60445. The local code and licensed practice rule over every figure here.",
            LocalCode::NorthAmerica => {
                "Colours follow common practice of North America. The local code and licensed practice rule over every figure here."
            }
        },
        assumed: s.assumed.clone(),
        groups,
        places,
        precharge,
        coordination,
        wiring_csv: wiring_csv(&circuit),
        parts_csv: parts_csv(&circuit),
        circuit,
    }
}
