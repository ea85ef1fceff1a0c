//! Sizing of what stands between pack, motor, charger and the 12 V side: plain figures, which findings judge and the sheet tells.

pub mod cable;
pub mod cooling;
pub mod fuse;
pub mod insulation;
pub mod low_voltage;
pub mod precharge;
pub mod requirement;
pub mod rotation;
mod sizing;
pub mod vacuum;

use crate::document::{Document, Electrics, LowVoltageLoad, LowVoltageSupply, Wiring};
use crate::estimate::TripLoad;
use crate::layout::{CableKind, CableRun};
use crate::powertrain::{Chain, controller_motor_amps};
use crate::quantity::Sentence;
use cable::{Cable, Surroundings, least_cable, resistance_ohm};
use fuse::opens_after_s;
use low_voltage::Situation;
use precharge::Precharge;
use vacuum::BrakeVacuum;

/// Voltage that a cable may lose at its current of hours, share of the nominal one (common practice).
pub const MOST_DROP: f64 = 0.02;
/// Charge wiring carries its current for hours: a quarter more is asked of it (NEC 625.41).
pub const FOR_HOURS: f64 = 1.25;

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

impl Sizing<'_> {
    /// The same with what each trip asks of motor cables and cooling.
    #[must_use]
    pub(crate) fn with_driven(self, driven: Vec<TripLoad>) -> Self {
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
    pub(crate) fn motor_cable_a(&self) -> Option<f64> {
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
    pub(crate) fn drawn_a(&self, watts: f64) -> f64 {
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
    pub(crate) fn converter_needed_w(&self) -> f64 {
        low_voltage::CONVERTER_RESERVE * self.worst().mean_w
    }

    /// Rated power of the converter that is chosen, W: of the record, else as stated; `None` where neither is, or a battery feeds the 12 V side.
    #[must_use]
    pub(crate) fn converter_w(&self) -> Option<f64> {
        let own = self.said.fitted.converter.as_ref().and_then(|c| c.rated_w).or(self.said.converter_power_w);
        own.filter(|_| self.said.supply == LowVoltageSupply::Converter)
    }

    /// Length of a run by the places of what it joins, m, as [`CableRun::length_m`]; `None` where they are not stated.
    #[must_use]
    pub(crate) fn placed_m(&self, kind: CableKind) -> Option<f64> {
        self.runs.iter().find(|r| r.kind == kind).map(|r| r.length_m)
    }

    /// The least cable for a current of hours over a length there and back, at the drop that is usual.
    #[must_use]
    pub(crate) fn cable_for(&self, amps: f64, length_m: f64) -> Option<Cable> {
        least_cable(self.said.series, amps, MOST_DROP * self.chain.pack.nominal_v / (amps.max(1.0) * length_m), &self.here)
    }

    /// The least cable for a current that something behind it holds down to, where only the pack fuse stands before it: it also withstands a
    /// short circuit until that opens (IEC 60364-4-43: overload may be guarded behind, a short circuit must be before).
    #[must_use]
    pub(crate) fn tap_for(&self, amps: f64, length_m: f64) -> Option<Cable> {
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
    pub(crate) fn hot_ohm(&self, cable: &Cable, length_m: f64) -> f64 {
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
