//! Electrics derived from a design: everything between pack, motor, charger and the 12 V side, sized, with formula, inputs and source.

pub mod cable;
pub mod fuse;
mod lines;
pub mod low_voltage;
pub mod precharge;
mod traction;
pub mod vacuum;

use serde::Serialize;

pub use lines::{Line, LineState};
pub use low_voltage::Situation;

use crate::cancel::Cancel;
use crate::document::{BrakeAssistance, Document, Electrics};
use crate::error::Result;
use crate::estimate::estimate;
use crate::inputs::Counted;
use crate::powertrain::Chain;
use crate::quantity::{Sentence, figure, sentence};
use crate::vehicle::air::standard_pressure_pa;
use crate::vehicle::masses;
use cable::Surroundings;
use precharge::Precharge;
use vacuum::BrakeVacuum;

/// Lines that belong together.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Group {
    /// Stable identifier: `traction`, `precharge`, `motor`, `charge`, `low_voltage`, `brakes`, `safety`.
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
    /// What each part has to bear, and the least that does.
    pub groups: Vec<Group>,
    /// Precharge over time.
    pub precharge: PrechargeCurve,
    /// Fuse, cable and load over time.
    pub coordination: Coordination,
    /// The 12 V side by day, at night in rain and in winter.
    pub situations: Vec<Situation>,
    /// Vacuum before the first press and after each with the pump dead, kPa below the air; empty without vacuum brakes.
    pub presses_kpa: Vec<f64>,
    /// What was assumed because nobody said.
    pub assumed: Vec<Sentence>,
}

/// What is asked of the electrics, from the design and its trips as simulated.
pub(crate) struct Demand<'a> {
    pub(crate) document: &'a Document,
    pub(crate) chain: &'a Chain,
    pub(crate) said: &'a Electrics,
    pub(crate) here: Surroundings,
    /// Of the trip with the highest mean square, A, and its name.
    pub(crate) rms_a: f64,
    pub(crate) rms_trip: String,
    /// What the controllers may draw at peak, A.
    pub(crate) peak_a: f64,
    /// For so many seconds.
    pub(crate) peak_s: f64,
    /// Traction cable there and back, m.
    pub(crate) length_m: f64,
    /// Of a full pack into a dead short, A.
    pub(crate) short_circuit_a: f64,
    /// Capacitors on the bus, F.
    pub(crate) capacitance_f: f64,
}

/// Where nothing is said: air around the cables and what their insulation bears, degC; loaded cables side by side.
const AMBIENT_C: f64 = 40.0;
const INSULATION_C: f64 = 90.0;
const BUNDLED: u32 = 2;
/// Traction cable there and back in a closed and in an open vehicle, m.
const LENGTH_M: (f64, f64) = (6.0, 2.0);
/// Auxiliary battery of a closed and of an open vehicle, Ah (common practice).
const AUXILIARY_AH: (f64, f64) = (40.0, 12.0);
/// Time after which a contactor closes, s (common practice).
const CLOSES_AFTER_S: f64 = 5.0;
/// Brake vacuum where nothing is said: reservoir and a press, l; pulled to and least that helps, kPa below the air (18 and 6 inHg); pump, l/min
/// (common practice).
const RESERVOIR_L: f64 = 3.0;
const PRESS_L: f64 = 0.4;
const PULLED_KPA: f64 = 61.0;
const LEAST_KPA: f64 = 20.0;
const PUMP_L_MIN: f64 = 20.0;
/// Share of the air's pressure that a pump can pull at most (common practice).
const DEEPEST: f64 = 0.95;
/// Capacitors for each ampere of a controller, F (METHODS: 1 mF for 100 A, a guess).
const FARAD_PER_A: f64 = 1e-5;

/// Derives the electrics of a design.
///
/// # Errors
/// As [`crate::estimate::estimate`].
pub fn electrics(document: &Counted, cancel: &Cancel) -> Result<ElectricsSheet> {
    let estimate = estimate(document, cancel)?;
    let chain = Chain::of(document, masses(document).test_kg)?;
    let (design, said) = (&document.design, &document.design.electrics);
    let mut assumed = Vec::new();
    let mut or = |stated: Option<f64>, usual: f64, words: Sentence| {
        if stated.is_none() {
            assumed.push(words);
        }
        stated.unwrap_or(usual)
    };
    let closed = document.donor.kind.is_closed();
    let usual_m = if closed { LENGTH_M.0 } else { LENGTH_M.1 };
    let here = Surroundings {
        ambient_c: or(said.ambient_c, AMBIENT_C, sentence!("{} around the cables", figure(AMBIENT_C, "°C", 0))),
        insulation_c: or(said.insulation_c, INSULATION_C, sentence!("insulation for {}", figure(INSULATION_C, "°C", 0))),
        bundled: said.bundled.unwrap_or(BUNDLED),
    };
    let length_m = or(design.wiring.cable_length_m, usual_m, sentence!("{} of traction cable there and back", figure(usual_m, "m", 1)));
    let controllers = f64::from(design.controller_count);
    let peak_a = design.controller.as_ref().map_or(0.0, |c| c.battery_current_a) * controllers;
    let usual_f = FARAD_PER_A * peak_a;
    let capacitance_f = or(
        said.bus_capacitance_mf.map(|mf| mf / 1000.0),
        usual_f,
        sentence!("{} mF of capacitors on the bus", figure(1000.0 * usual_f, "", 1)),
    );
    let busiest = estimate.trips.iter().max_by(|a, b| a.rms_current_a.total_cmp(&b.rms_current_a));
    let demand = Demand {
        document,
        chain: &chain,
        said,
        here,
        rms_a: busiest.map_or(0.5 * peak_a, |t| t.rms_current_a),
        rms_trip: busiest.map_or_else(|| "half of the controller's peak, as there is no trip".to_owned(), |t| t.name.clone()),
        peak_a,
        peak_s: design.controller.as_ref().map_or(60.0, crate::library::Controller::peak_s),
        length_m,
        short_circuit_a: chain.pack.full_v / chain.pack.resistance_ohm.max(1e-4),
        capacitance_f,
    };
    let (traction, coordination) = traction::traction(&demand);
    let (precharged, curve) = traction::precharge(&demand);
    let (loads, usual_loads) = said.loads_or_usual(document.donor.kind);
    if usual_loads {
        assumed.push("12 V loads usual for the kind of vehicle".into());
    }
    let usual_ah = if closed { AUXILIARY_AH.0 } else { AUXILIARY_AH.1 };
    if said.auxiliary_ah.is_none() {
        assumed.push(sentence!("an auxiliary battery of {}", figure(usual_ah, "Ah", 0)));
    }
    let situations = low_voltage::situations(&loads, said.auxiliary_ah.unwrap_or(usual_ah));
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
        Group { id: "motor", name: "Motor cables", caution: "", lines: traction::motor(&demand) },
        Group {
            id: "charge",
            name: "Charge wiring",
            caution: "A permanent charging point is the work of a licensed electrician; local code decides.",
            lines: traction::charge(&demand),
        },
        Group { id: "low_voltage", name: "12 V side", caution: "", lines: lines::low_voltage(&demand, &situations) },
    ];
    let mut presses_kpa = Vec::new();
    if said.brakes == BrakeAssistance::Vacuum {
        let air_kpa = standard_pressure_pa(document.brief.site.altitude_m) / 1000.0;
        let vacuum = BrakeVacuum {
            air_kpa,
            reservoir_l: said.reservoir_l.unwrap_or(RESERVOIR_L),
            press_l: said.press_l.unwrap_or(PRESS_L),
            pulled_kpa: said.vacuum_kpa.unwrap_or(PULLED_KPA).min(DEEPEST * air_kpa),
            least_kpa: said.least_help_kpa.unwrap_or(LEAST_KPA),
            pump_l_min: said.pump_l_min.unwrap_or(PUMP_L_MIN),
        };
        presses_kpa = vacuum.presses_kpa();
        groups.push(Group {
            id: "brakes",
            name: "Brake vacuum",
            caution: "Without vacuum the pedal takes several times the force: try it standing, then slowly, before any road.",
            lines: lines::brakes(&vacuum),
        });
    }
    groups.push(Group {
        id: "safety",
        name: "Insulation and shock",
        caution: if chain.pack.full_v > 60.0 {
            "Above 60 V of direct current counts as hazardous: insulated tools, rated gloves, no jewellery."
        } else {
            ""
        },
        lines: lines::safety(&demand),
    });
    Ok(ElectricsSheet { groups, precharge: curve, coordination, situations: situations.into(), presses_kpa, assumed })
}

/// The precharge of a demand.
pub(crate) fn precharge_of(demand: &Demand<'_>) -> (Precharge, f64) {
    let delay_s = demand.said.precharge_delay_s.unwrap_or(CLOSES_AFTER_S);
    let resistor_ohm = demand.said.precharge_ohm.unwrap_or_else(|| precharge::largest_in_time_ohm(demand.capacitance_f, delay_s));
    let load_w = demand.said.precharge_load_w.unwrap_or(0.0);
    (Precharge { pack_v: demand.chain.pack.full_v, capacitance_f: demand.capacitance_f, resistor_ohm, load_w }, delay_s)
}
