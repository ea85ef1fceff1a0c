//! How far no charge carries: what a pack gives at least up to points of a trip, and where no more of it is left.

use super::along::{Along, AlongLeg, TAKEN_W, ends_m, whole_j};
use super::bounds::{Bound, PackLook};
use super::packs::OnTrip;
use super::trip_energy::TripEnergy;
use crate::pack::Peukert;
use crate::simulate::{BRIDGE_RUNS, is_never_bridged};

/// What stands behind the motors.
#[derive(Debug, Clone, Copy)]
pub(super) struct Behind {
    /// Open-circuit voltage at most, and on the mean of the charge, V.
    pub(super) full_v: f64,
    pub(super) mean_v: f64,
    /// The least within the window, V.
    pub(super) least_v: f64,
    pub(super) resistance_ohm: f64,
    /// Of the controllers.
    pub(super) efficiency: f64,
    /// Most of the motors' braking power that is taken, W.
    pub(super) taken_w: f64,
    pub(super) low_voltage_w: f64,
    pub(super) peukert: Peukert,
    /// Within the window: energy, J, and charge as a share of all that the cells hold.
    pub(super) usable_j: f64,
    pub(super) window: f64,
}

/// Stages of a charge: energy down to each from its start, J, and the open-circuit voltage there, V.
pub(super) type Stages = [(f64, f64)];

/// Voltage that nothing exceeds once an energy has been used, V.
pub(super) fn volts_after(stages: &Stages, used_j: f64) -> Option<f64> {
    let passed = stages.partition_point(|(j, _)| *j <= used_j);
    stages.get(passed.checked_sub(1)?).filter(|_| passed < stages.len()).map(|(_, v)| *v)
}

/// Energy of a run that lags as far as the rule about following a trip lets it, over that of one that does not. The rule lets 0.3 % of
/// the length be lost, so a lag of the 2 km/h of its tolerance lasts for a twentieth of the time at most, and a chain that reaches the
/// cruising speed at all has caught up before it brakes: what it saves on air and kinetic energy stays below a hundredth.
pub(super) const LAG: f64 = 0.99;
/// Numerical room: ranges are bridged between runs within 0.05 %.
pub(super) const ROOM: f64 = 1.003;

/// Room where every run is made, for sums made in another order.
pub(super) const ROOM_IF_MADE: f64 = 1.0005;

/// Runs from which they sample the voltages of a charge evenly.
const EVEN_RUNS: f64 = 3.0;

/// A charge used up run by run.
pub(super) struct RunByRun {
    /// What has been used at least before each run, J.
    pub(super) before_j: Vec<f64>,
    /// Where the last of them ends at the latest, m from the start of the first; none where not each of them is surely made.
    pub(super) ends_m: Option<f64>,
}

/// Most runs that are told of where some may be skipped.
const MOST_TOLD: f64 = 500.0;

impl Bound<'_> {
    /// Range that nothing exceeds on a trip that takes at least an energy, km.
    pub(super) fn reach_km(&self, energy: &TripEnergy) -> f64 {
        self.behind(energy).map_or(f64::INFINITY, |pack| energy.furthest_m(&pack) / 1000.0)
    }

    /// The runs that use up a charge of some stages; none where they may give back what they take.
    pub(super) fn run_by_run(&self, energy: &TripEnergy, along: &[AlongLeg], stages: &Stages) -> Option<RunByRun> {
        energy.run_by_run(&self.behind(energy)?, along, stages)
    }

    /// Energy that a pack gives at least, up to each point of a trace that is followed but for `lagging_j`, J.
    pub(super) fn used_along_j(&self, energy: &TripEnergy, along: &[Along], lagging_j: f64) -> Vec<f64> {
        let Some(pack) = self.behind(energy) else { return Vec::new() };
        // What is not drawn is not counted either; as its slope only rises, no more is spared than at the slope of all that is drawn.
        let spared_j = |p: &Along| lagging_j * pack.peukert.per_more_a(energy.mean_a(p, pack.full_v, &pack));
        along.iter().map(|p| energy.used_j(p, pack.full_v, &pack) - spared_j(p)).collect()
    }

    /// What a pack and the controllers make of a trip.
    fn behind(&self, energy: &TripEnergy) -> Option<Behind> {
        let PackLook { on_trip: on, .. } = self.pack?;
        // What the controller passes and the cells take, turned into power at the motor; a full pack takes less still.
        let at = |amps: f64| amps * (on.start_v + amps * self.worst.most_ohm);
        let (own_a, cells_a) = (self.drive.feedback_a, on.feedback_a);
        let low_voltage_w = self.vehicle.low_voltage_w;
        let feedback_w = at(own_a).min(at(cells_a) + low_voltage_w + energy.hvac_w);
        let taken_w = if feedback_w > 0.0 { feedback_w * (1.0 + 1e-9) / self.worst.least_efficiency } else { 0.0 };
        let OnTrip { start_v: full_v, mean_v, least_v, resistance_ohm, peukert, usable_j, window, .. } = on;
        let efficiency = self.drive.efficiency;
        Some(Behind { full_v, mean_v, least_v, resistance_ohm, efficiency, taken_w, low_voltage_w, peukert, usable_j, window })
    }
}

impl TripEnergy {
    pub(super) fn energy_j(
        &self,
        (drawn_j, back_j, seconds): (f64, f64, f64),
        efficiency: f64,
        regenerates: bool,
        low_voltage_w: f64,
    ) -> f64 {
        let back_j = if regenerates { back_j } else { 0.0 };
        LAG * drawn_j / efficiency - efficiency * back_j + (low_voltage_w + self.hvac_w) * seconds
    }

    /// Energy that a pack gives at least up to a point, at no more than a voltage, J: what it turns into heat itself included, and what Peukert's
    /// law counts beside it.
    pub(super) fn used_j(&self, up_to: &Along, volts_v: f64, pack: &Behind) -> f64 {
        let Behind { resistance_ohm, efficiency, taken_w, low_voltage_w, .. } = *pack;
        let at_terminals = self.energy_j(up_to.sums(Self::taken(taken_w)), efficiency, taken_w > 0.0, low_voltage_w);
        // Heat inside the pack at the least current that this power, and what is drawn beside it, can take.
        let aux_w = low_voltage_w + self.hvac_w;
        let (drawn_j, drawn_w2_s) = (LAG * up_to.drawn_j / efficiency, (LAG / efficiency).powi(2) * up_to.drawn_w2_s);
        let watts2_s = drawn_w2_s + 2.0 * aux_w * drawn_j + LAG * aux_w * aux_w * up_to.drawing_s;
        let used_j = at_terminals + resistance_ohm * watts2_s / (volts_v * volts_v);
        if !pack.peukert.counts() {
            return used_j;
        }
        // What the law counts grows ever faster with the current: no less than if what is drawn were drawn evenly.
        let mean_a = self.mean_a(up_to, volts_v, pack);
        used_j + pack.least_v * (pack.peukert.counted_a(mean_a) - mean_a) * up_to.longest_s
    }

    /// What is drawn at least up to a point, drawn evenly over the longest time that it takes, A.
    fn mean_a(&self, up_to: &Along, volts_v: f64, pack: &Behind) -> f64 {
        let aux_w = pack.low_voltage_w + self.hvac_w;
        let drawn_j = LAG * (up_to.drawn_j / pack.efficiency + aux_w * up_to.drawing_s);
        if up_to.longest_s > 0.0 { drawn_j / (volts_v * up_to.longest_s) } else { 0.0 }
    }

    /// Place of the least of [`TAKEN_W`] that is no less than a power.
    fn taken(taken_w: f64) -> usize {
        TAKEN_W.iter().position(|w| *w >= taken_w).unwrap_or(TAKEN_W.len() - 1)
    }

    /// Way that one which lags may end a run ahead, m.
    fn lagging_m(&self) -> f64 {
        0.002 * self.length_m
    }

    /// Where heat holds it back, m; infinite where it does not.
    fn cool_m(&self) -> f64 {
        (self.hot_m + self.lagging_m()) * ROOM
    }

    /// Range that no pack exceeds before heat holds the motors back, m; infinite where it gives back what it draws.
    pub(super) fn furthest_m(&self, pack: &Behind) -> f64 {
        let whole = self.whole();
        let run_j = |volts_v: f64| self.used_j(&whole, volts_v, pack);
        let full_j = run_j(pack.full_v);
        if full_j <= 0.0 {
            return self.cool_m();
        }
        let reaching_m = |run_j: f64| (self.length_m * pack.usable_j / run_j + self.head_start_m + self.lagging_m()) * ROOM;
        // Runs at a voltage are as many as it is high, as each takes the less charge: the mean over them of 1/V^2 is that of 1/V over that of
        // V, and no less than 1 over the square of the mean by Jensen's inequality. A few runs do not sample it evenly.
        let evenly_m = reaching_m(run_j(pack.mean_v));
        if evenly_m > EVEN_RUNS * self.length_m { evenly_m } else { reaching_m(full_j) }.min(self.cool_m())
    }

    /// As [`Bound::run_by_run`].
    fn run_by_run(&self, pack: &Behind, along: &[AlongLeg], stages: &Stages) -> Option<RunByRun> {
        let run_j = |volts_v: f64| whole_j(along, |p| self.used_j(p, volts_v, pack));
        let full_j = run_j(pack.full_v);
        // Each takes so much of the charge at least.
        let share = pack.window * full_j * pack.least_v / (pack.usable_j * pack.full_v);
        if full_j <= 0.0 {
            return None;
        }
        if pack.usable_j / full_j >= BRIDGE_RUNS && !is_never_bridged(share) {
            let runs = (pack.usable_j / full_j).min(MOST_TOLD) as u32;
            let before_j = (0..=runs).map(|run| f64::from(run) * full_j).collect();
            return Some(RunByRun { before_j, ends_m: None });
        }
        let (mut before_j, mut used_j) = (Vec::new(), 0.0);
        loop {
            before_j.push(used_j);
            let volts_v = volts_after(stages, used_j)?;
            let one_j = run_j(volts_v);
            if used_j + one_j < pack.usable_j {
                used_j += one_j;
                continue;
            }
            let last_m = ends_m(along, pack.usable_j - used_j, |p| self.used_j(p, volts_v, pack));
            let runs_m = (before_j.len() - 1) as f64 * self.length_m;
            return Some(RunByRun { before_j, ends_m: Some((runs_m + last_m + self.lagging_m()) * ROOM_IF_MADE) });
        }
    }
}
