//! What the circuits of a design are sized by: what is said, what is usual where nothing is, and what its trips ask.

use super::cable::{Cable, Surroundings, least_cable};
use super::fuse::{least_fuse_a, opening_current_a};
use super::precharge::Precharge;
use super::vacuum::BrakeVacuum;
use super::{MOST_DROP, Sizing, insulation, low_voltage, precharge};
use crate::charge::{charger_mains_a, station_window};
use crate::document::{BrakeAssistance, Document, Socket, SocketKind};
use crate::estimate::Estimate;
use crate::layout::{CableKind, cables};
use crate::library::Controller;
use crate::limits::{FUSE_BURST, below_station};
use crate::powertrain::Chain;
use crate::quantity::{Sentence, figure, sentence};
use crate::vehicle::air::standard_pressure_pa;

/// Where nothing is said: air around the cables and what their insulation bears, degC; loaded cables side by side.
const AMBIENT_C: f64 = 40.0;
const INSULATION_C: f64 = 90.0;
const BUNDLED: u32 = 2;
/// Traction cable there and back in a closed and in an open vehicle, m.
const LENGTH_M: (f64, f64) = (6.0, 2.0);
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
/// Each motor cable where nothing is said, m.
const PHASE_M: f64 = 1.5;
/// Least charge cable, there and back, m.
const CHARGE_M: f64 = 3.0;
const MINUTE_S: f64 = 60.0;
impl<'a> Sizing<'a> {
    /// Sizes the circuits of a design for its trips as simulated.
    #[must_use]
    pub fn of(document: &'a Document, chain: &'a Chain, estimate: &Estimate) -> Self {
        let (design, said) = (&document.design, &document.design.electrics);
        let wiring = design.wiring_in_use();
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
            insulation_c: or(
                said.insulation_c.or(said.fitted.traction_cable.as_ref().and_then(|c| c.insulation_c)),
                INSULATION_C,
                sentence!("insulation for {}", figure(INSULATION_C, "°C", 0)),
            ),
            bundled: said.bundled.unwrap_or(BUNDLED),
        };
        let runs = cables(document);
        let placed = |kind: CableKind| runs.iter().find(|r| r.kind == kind).map(|r| r.length_m);
        let (usual_m, from) = placed(CableKind::Traction).map_or((usual_m, ""), |by_places| (by_places, " by their places in the layout"));
        let length_m =
            or(wiring.cable_length_m, usual_m, sentence!("{} of traction cable there and back{}", figure(usual_m, "m", 1), from));
        let peak_a = design.controller.as_ref().map_or(0.0, |c| c.battery_current_a) * f64::from(design.controller_count);
        let usual_f = FARAD_PER_A * peak_a;
        let capacitance_f = or(
            said.bus_capacitance_mf.map(|mf| mf / 1000.0),
            usual_f,
            sentence!("{} mF of capacitors on the bus", figure(1000.0 * usual_f, "", 1)),
        );
        let auxiliary_ah = said.auxiliary_in_use_ah(document.donor.kind);
        or(said.auxiliary_ah, auxiliary_ah, sentence!("an auxiliary battery of {}", figure(auxiliary_ah, "Ah", 0)));
        let (loads, usual_loads) = design.low_voltage_loads(document.donor.kind);
        if usual_loads {
            assumed.push("12 V loads usual for the kind of vehicle".into());
        }
        let busiest = estimate.trips.iter().max_by(|a, b| a.rms_current_a.total_cmp(&b.rms_current_a));
        let rms_a = busiest.map_or(0.5 * peak_a, |t| t.rms_current_a);
        let peak_s = design.controller.as_ref().map_or(MINUTE_S, Controller::peak_s);
        let (full_v, nominal_v) = (chain.pack.full_v, chain.pack.nominal_v);
        // The longer a peak may last, the less of it a fuse bears.
        let holds = opening_current_a(1.0, peak_s.max(MINUTE_S)).min(FUSE_BURST);
        let least_fuse = least_fuse_a(rms_a, peak_a, holds);
        let fuse_a = wiring.fuse_a.or(least_fuse).unwrap_or(peak_a);
        let most_ohm_per_m = MOST_DROP * nominal_v / (rms_a.max(1.0) * length_m);
        let own_cable = wiring.cable_section_mm2.map(|section_mm2| Cable {
            section_mm2,
            parallel: 1,
            name: format!("{section_mm2} mm²"),
            bears_a: wiring.cable_current_a.unwrap_or_else(|| here.bears_a(section_mm2)),
        });
        let delay_s = said.precharge_delay_s.unwrap_or(CLOSES_AFTER_S);
        let precharge = Precharge {
            pack_v: full_v,
            capacitance_f,
            resistor_ohm: said.precharge_ohm.unwrap_or_else(|| precharge::largest_in_time_ohm(capacitance_f, delay_s)),
            load_w: said.precharge_load_w.unwrap_or(0.0),
        };
        let least_charge_fuse_a = design.charger.as_ref().and_then(|c| least_fuse_a(c.output_current_a, 0.0, FUSE_BURST));
        let alternating = design.motor.as_ref().is_some_and(|m| m.kind.is_three_phase());
        Self {
            here,
            rms_a,
            rms_trip: busiest.map_or_else(|| "half of the controller's peak, as there is no trip".to_owned(), |t| t.name.clone()),
            driven: Vec::new(),
            longest_s: estimate.trips.iter().map(|t| t.duration_s).fold(0.0, f64::max),
            peak_a,
            peak_s,
            holds,
            least_fuse_a: least_fuse,
            fuse_a,
            length_m,
            // A cable bears at least what the fuse lets pass for hours, and loses little.
            least_cable: least_cable(said.series, fuse_a, most_ohm_per_m, &here),
            own_cable,
            short_circuit_a: full_v / chain.pack.resistance_ohm.max(1e-4),
            capacitance_f,
            most_ohm_per_m,
            precharge,
            delay_s,
            phase_m: said.phase_length_m.or(placed(CableKind::Phase)).unwrap_or(PHASE_M),
            charge_m: said.charge_length_m.or(placed(CableKind::Charge)).unwrap_or_else(|| (0.5 * length_m).max(CHARGE_M)),
            runs,
            least_charge_fuse_a,
            charge_fuse_a: said.fitted.charge_fuse.as_ref().and_then(|c| c.current_a).or(least_charge_fuse_a),
            inlet: mains_inlet(document),
            fast_inlet: station_inlet(document, chain),
            situations: low_voltage::situations(&loads, auxiliary_ah),
            loads,
            auxiliary_ah,
            vacuum: (said.brakes == BrakeAssistance::Vacuum).then(|| {
                let air_kpa = standard_pressure_pa(document.brief.site.altitude_m) / 1000.0;
                BrakeVacuum {
                    air_kpa,
                    reservoir_l: said.reservoir_l.unwrap_or(RESERVOIR_L),
                    press_l: said.press_l.unwrap_or(PRESS_L),
                    pulled_kpa: said.vacuum_kpa.unwrap_or(PULLED_KPA).min(DEEPEST * air_kpa),
                    least_kpa: said.least_help_kpa.unwrap_or(LEAST_KPA),
                    pump_l_min: said.pump_l_min.or(said.fitted.brake_assistance.as_ref().and_then(|c| c.flow_l_min)).unwrap_or(PUMP_L_MIN),
                }
            }),
            insulation_ohm: insulation::least_ohm(full_v, alternating),
            measured_ohm: said.insulation_test.as_ref().map(insulation::measured_ohm),
            assumed,
            document,
            chain,
            said,
            wiring,
        }
    }
}

/// Greatest current on each phase and voltage of the mains sockets, A and V.
fn mains_inlet(document: &Document) -> Option<(f64, f64)> {
    let charger = document.design.charger.as_ref()?;
    let mains = document.brief.sockets.iter().filter(|s| s.kind == SocketKind::Ac);
    let of = |socket: &Socket| {
        // Between two phases there is the root of three times the voltage of one.
        let volts = if socket.phases.min(charger.phases) > 1 { 3f64.sqrt() } else { 1.0 } * socket.voltage_v;
        (charger_mains_a(charger, socket).min(socket.current_a), volts)
    };
    mains.map(of).reduce(|a, b| (a.0.max(b.0), a.1.max(b.1)))
}

/// Greatest current and voltage of the stations that start at a pack's voltage, A and V.
fn station_inlet(document: &Document, chain: &Chain) -> Option<(f64, f64)> {
    let stations = document.brief.sockets.iter().filter(|s| s.kind == SocketKind::Dc);
    let starts = stations.filter(|s| !below_station(chain.pack.full_v, station_window(s).0));
    starts.map(|s| s.current_a.min(chain.pack.charge_a)).reduce(f64::max).map(|amps| (amps, chain.pack.full_v))
}
