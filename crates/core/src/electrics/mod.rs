//! Sizing of what stands between pack, motor, charger and the 12 V side: plain figures, which findings judge and the sheet tells.

pub mod cable;
pub mod cooling;
pub mod fuse;
pub mod insulation;
pub mod low_voltage;
pub mod precharge;
pub mod requirement;
pub mod rotation;
pub mod vacuum;

use crate::charge::{charger_mains_a, station_window};
use crate::document::{BrakeAssistance, Document, Electrics, LowVoltageLoad, LowVoltageSupply, Socket, SocketKind, Wiring};
use crate::estimate::{Estimate, TripLoad};
use crate::layout::{CableKind, CableRun, cables};
use crate::library::Controller;
use crate::limits::{FUSE_BURST, below_station};
use crate::powertrain::{Chain, controller_motor_amps};
use crate::quantity::{Sentence, figure, sentence};
use crate::vehicle::air::standard_pressure_pa;
use cable::{Cable, Surroundings, least_cable, resistance_ohm};
use fuse::{least_fuse_a, opening_current_a, opens_after_s};
use low_voltage::Situation;
use precharge::Precharge;
use vacuum::BrakeVacuum;

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
/// Voltage that a cable may lose at its current of hours, share of the nominal one (common practice).
pub const MOST_DROP: f64 = 0.02;
/// Charge wiring carries its current for hours: a quarter more is asked of it (NEC 625.41).
pub const FOR_HOURS: f64 = 1.25;
const MINUTE_S: f64 = 60.0;

/// What the circuits of a design have to bear, and what that asks of them.
#[derive(Debug)]
pub struct Sizing<'a> {
    /// The design with its brief and donor.
    pub document: &'a Document,
    /// Its chain.
    pub chain: &'a Chain,
    /// What is said of the electrics.
    pub said: &'a Electrics,
    /// Fuse and cable in use.
    pub wiring: Wiring,
    /// Where cables lie.
    pub here: Surroundings,
    /// Of the trip with the highest mean square, A.
    pub rms_a: f64,
    /// Its name.
    pub rms_trip: String,
    /// The longest trip, s; zero without one.
    pub longest_s: f64,
    /// What each trip asks of motor cables and cooling; empty where only findings are asked for.
    pub driven: Vec<TripLoad>,
    /// What the controllers may draw at peak, A.
    pub peak_a: f64,
    /// For so many seconds.
    pub peak_s: f64,
    /// Times its rating that a fuse bears for as long as the peak lasts, up to a minute as the findings count.
    pub holds: f64,
    /// The least fuse that carries the load, A; `None` beyond what is sold.
    pub least_fuse_a: Option<f64>,
    /// The fuse that is counted with: the one in use, else the least, A.
    pub fuse_a: f64,
    /// Traction cable there and back, m.
    pub length_m: f64,
    /// Most that a metre of traction cable may lose, ohm.
    pub most_ohm_per_m: f64,
    /// The least cable that bears the fuse.
    pub least_cable: Option<Cable>,
    /// The cable in use.
    pub own_cable: Option<Cable>,
    /// Of a full pack into a dead short, A.
    pub short_circuit_a: f64,
    /// Capacitors on the bus, F.
    pub capacitance_f: f64,
    /// Precharge of the bus.
    pub precharge: Precharge,
    /// The contactor closes after, s.
    pub delay_s: f64,
    /// Each motor cable, m.
    pub phase_m: f64,
    /// Charge cable there and back, m.
    pub charge_m: f64,
    /// Cables by the places of what they join.
    pub runs: Vec<CableRun>,
    /// The least fuse of the charge wiring, A; `None` without a charger or beyond what is sold.
    pub least_charge_fuse_a: Option<f64>,
    /// The one that is counted with: the one that is fitted, else the least, A.
    pub charge_fuse_a: Option<f64>,
    /// Greatest current on each phase and voltage at the inlet for mains, A and V; `None` without a charger or socket.
    pub inlet: Option<(f64, f64)>,
    /// Greatest current and voltage at the inlet for direct current, A and V; `None` without a station that starts at this pack's voltage.
    pub fast_inlet: Option<(f64, f64)>,
    /// Consumers at 12 V.
    pub loads: Vec<LowVoltageLoad>,
    /// The 12 V side by day, at night in rain and in winter.
    pub situations: [Situation; 3],
    /// Auxiliary battery, Ah.
    pub auxiliary_ah: f64,
    /// Vacuum of the brakes, where there is one.
    pub vacuum: Option<BrakeVacuum>,
    /// Insulation that must be there, ohm.
    pub insulation_ohm: f64,
    /// Insulation as measured, ohm.
    pub measured_ohm: Option<f64>,
    /// What was assumed because nobody said.
    pub assumed: Vec<Sentence>,
}

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

    /// The same with what each trip asks of motor cables and cooling.
    #[must_use]
    pub fn with_driven(self, driven: Vec<TripLoad>) -> Self {
        Self { driven, ..self }
    }

    /// The trip with the highest mean square of the motor's current, and that current's root, A.
    #[must_use]
    pub fn motor_rms(&self) -> Option<(&TripLoad, f64)> {
        self.driven.iter().filter_map(|l| Some((l, l.motor_rms_a?))).max_by(|a, b| a.1.total_cmp(&b.1))
    }

    /// The trip on whose worst ten minutes motors and controllers lose most.
    #[must_use]
    pub fn hottest(&self) -> Option<&TripLoad> {
        self.driven.iter().max_by(|a, b| a.ten_minutes_w.total_cmp(&b.ten_minutes_w))
    }

    /// Current that each motor cable has to bear for hours, A: what the controller may pass, as nothing opens it before, and no less than
    /// the root mean square of any trip; `None` where neither record tells.
    #[must_use]
    pub fn motor_cable_a(&self) -> Option<f64> {
        let rated_a = self.document.design.controller.as_ref().and_then(|c| controller_motor_amps(c, false));
        [rated_a, self.motor_rms().map(|(_, a)| a)].into_iter().flatten().reduce(f64::max)
    }

    /// Voltage of the full pack, V.
    #[must_use]
    pub fn full_v(&self) -> f64 {
        self.chain.pack.full_v
    }

    /// Current that a power takes from the pack where it takes most, A: at the lowest voltage.
    #[must_use]
    pub fn drawn_a(&self, watts: f64) -> f64 {
        watts / self.chain.pack.cutoff_v.max(1.0)
    }

    /// The cable that is counted with: the one in use, else the least.
    #[must_use]
    pub fn cable(&self) -> Option<&Cable> {
        self.own_cable.as_ref().or(self.least_cable.as_ref())
    }

    /// What the cable in use bears for hours, A: as stated, else by its section; `None` where neither is known.
    #[must_use]
    pub fn cable_a(&self) -> Option<f64> {
        self.wiring.cable_current_a.or(self.own_cable.as_ref().map(|c| c.bears_a))
    }

    /// The situation in which most is drawn at 12 V.
    #[must_use]
    pub fn worst(&self) -> &Situation {
        self.situations.iter().max_by(|a, b| a.mean_w.total_cmp(&b.mean_w)).unwrap_or(&self.situations[0])
    }

    /// Power that a converter must give, W: the most that is drawn on the mean, with its reserve.
    #[must_use]
    pub fn converter_needed_w(&self) -> f64 {
        low_voltage::CONVERTER_RESERVE * self.worst().mean_w
    }

    /// Rated power of the converter that is chosen, W: of the record, else as stated; `None` where neither is, or a battery feeds the 12 V side.
    #[must_use]
    pub fn converter_w(&self) -> Option<f64> {
        let own = self.said.fitted.converter.as_ref().and_then(|c| c.rated_w).or(self.said.converter_power_w);
        own.filter(|_| self.said.supply == LowVoltageSupply::Converter)
    }

    /// Length of a run by the places of what it joins, m, as [`CableRun::length_m`]; `None` where they are not stated.
    #[must_use]
    pub fn placed_m(&self, kind: CableKind) -> Option<f64> {
        self.runs.iter().find(|r| r.kind == kind).map(|r| r.length_m)
    }

    /// The least cable for a current of hours over a length there and back, at the drop that is usual.
    #[must_use]
    pub fn cable_for(&self, amps: f64, length_m: f64) -> Option<Cable> {
        least_cable(self.said.series, amps, MOST_DROP * self.chain.pack.nominal_v / (amps.max(1.0) * length_m), &self.here)
    }

    /// The least cable for a current that something behind it holds down to, where only the pack fuse stands before it: it also withstands a
    /// short circuit until that opens (IEC 60364-4-43: overload may be guarded behind, a short circuit must be before).
    #[must_use]
    pub fn tap_for(&self, amps: f64, length_m: f64) -> Option<Cable> {
        let opens_s = opens_after_s(self.fuse_a, self.short_circuit_a);
        let least_mm2 = self.short_circuit_a * opens_s.sqrt() / cable::short_circuit_k(self.here.insulation_c);
        let carrying = self.cable_for(amps, length_m)?;
        if carrying.copper_mm2() >= least_mm2 {
            return Some(carrying);
        }
        cable::least_section(self.said.series, &self.here, |section_mm2, bears_a| section_mm2 >= least_mm2 && bears_a >= amps)
    }

    /// Resistance of so much of a cable while it is as hot as its insulation bears, ohm.
    #[must_use]
    pub fn hot_ohm(&self, cable: &Cable, length_m: f64) -> f64 {
        resistance_ohm(length_m, cable.copper_mm2(), self.here.insulation_c)
    }

    /// Seconds that the cable bears a short circuit, and after which the fuse opens it; `None` without a cable.
    #[must_use]
    pub fn short_circuit_s(&self) -> Option<(f64, f64)> {
        let cable = self.cable()?;
        let borne_s = cable::short_circuit_s(cable.copper_mm2(), self.short_circuit_a, self.here.insulation_c);
        Some((borne_s, opens_after_s(self.fuse_a, self.short_circuit_a)))
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
