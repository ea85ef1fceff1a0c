//! The least energy a train can spend on the trip that counts: what no controller and no pack can better.

use super::sides::{Ground, Train};
use super::space::Task;
use crate::quantity::units::STANDARD_GRAVITY_M_S2;
use crate::vehicle::{Conditions, Road};

/// Sums over one passage that hold for every mass of an interval.
#[derive(Debug, Clone, Copy)]
pub(super) struct TripEnergy {
    /// Length, m.
    length_m: f64,
    /// Duration, s.
    duration_s: f64,
    /// Motor-side electrical energy drawn, J.
    drawn_j: f64,
    /// Integral of the square of that power, W^2 s.
    drawn_w2_s: f64,
    /// Most that braking can give back, motor side, J.
    given_back_j: f64,
    /// Furthest that a passage broken off gets beyond its share of the energy, m.
    pub(super) head_start_m: f64,
    /// Comfort load, W.
    comfort_w: f64,
}

/// Energy of a passage that lags as far as the rule about following a trip lets it, over that of one that does not. The rule lets 0.3 % of
/// the length be lost, so a lag of the 2 km/h of its tolerance lasts for a twentieth of the time at most, and a chain that reaches the
/// cruising speed at all has caught up before it brakes: what it saves on air and kinetic energy stays below a hundredth.
const LAG: f64 = 0.99;
/// Numerical room: ranges are bridged between passages within 0.05 %.
const ROOM: f64 = 1.003;

impl TripEnergy {
    pub(super) fn of(task: &Task, ground: &Ground, train: &Train, trip_at: usize, (light_kg, heavy_kg): (f64, f64)) -> Self {
        let trip = &task.trips[trip_at].0;
        let (trace, least_s) = &task.bounding[trip_at];
        let base = &task.base;
        let road = Road::of(base, light_kg, &Conditions::of_trip(base, trip));
        let payload_kg = match trip.payload_kg {
            Some(kg) if base.donor.test_mass_kg.is_none() => kg - base.brief.payload_kg,
            _ => 0.0,
        };
        let (light_kg, heavy_kg) = (light_kg + payload_kg, heavy_kg + payload_kg);
        let mut sums = Self {
            length_m: 0.0,
            duration_s: 0.0,
            drawn_j: 0.0,
            drawn_w2_s: 0.0,
            given_back_j: 0.0,
            head_start_m: 0.0,
            comfort_w: trip.comfort_w,
        };
        let gears: Vec<_> = train.gears_of(trip.gear, trip.transfer_range).collect();
        let best_efficiency = gears.iter().map(|g| g.efficiency).fold(0.0, f64::max);
        let share = ground.regeneration_share;
        // Drawn and given back up to each point, with its distance and time.
        let mut along = Vec::with_capacity(trace.points.len());
        for pair in trace.points.windows(2) {
            let (from, to) = (pair[0], pair[1]);
            let dt = to.time_s - from.time_s;
            let v = 0.5 * (from.speed_m_s + to.speed_m_s);
            sums.duration_s += dt;
            if v > 0.0 {
                let accel = (to.speed_m_s - from.speed_m_s) / dt;
                let fixed_n = road.air_n(v) + road.dragged_n;
                let per_kg = STANDARD_GRAVITY_M_S2 * ((road.rolling + road.rolling_per_m_s * v) * from.cos + from.sin);
                let mut least_w = f64::INFINITY;
                let mut brake_n = 0.0_f64;
                for gear in gears.iter().filter(|g| v <= g.fastest_m_s) {
                    // The mass within the interval that asks the least: the light end where mass costs, the heavy one where it pushes.
                    let at = |kg: f64| fixed_n + per_kg * kg + gear.inert(kg) * accel;
                    let force_n = at(light_kg).min(at(heavy_kg));
                    if force_n >= 0.0 {
                        let torque_nm = force_n / gear.pull_n_per_nm;
                        let speed = v * gear.rad_per_m;
                        least_w = least_w.min(torque_nm * speed + train.map.loss_w(torque_nm, speed));
                    } else {
                        least_w = least_w.min(0.0);
                        brake_n = brake_n.max(-force_n);
                    }
                }
                let drawn_w = if least_w.is_finite() { least_w.max(0.0) } else { 0.0 };
                sums.length_m += v * dt;
                sums.drawn_j += drawn_w * dt;
                sums.drawn_w2_s += drawn_w * drawn_w * dt;
                sums.given_back_j += share * brake_n * v * best_efficiency * dt;
            }
            along.push((sums.drawn_j, sums.given_back_j, sums.length_m, sums.duration_s));
        }
        // On a trace that the chain hastens, only the whole has a least time.
        if *least_s < sums.duration_s {
            sums.duration_s = *least_s;
            let last = along.len().saturating_sub(1);
            along.iter_mut().enumerate().for_each(|(i, p)| p.3 = if i == last { *least_s } else { 0.0 });
        }
        // How far the cheap beginning of a passage reaches beyond its share, over the efficiencies controllers have.
        for efficiency in [0.92, 0.95, 0.98, 1.0] {
            let so_far = sums;
            let energy = |p: &(f64, f64, f64, f64)| so_far.energy_j((p.0, p.1, p.3), efficiency, true, ground.low_voltage_w);
            let Some(whole) = along.last().map(energy) else { continue };
            for point in &along {
                let ahead_m = point.2 - sums.length_m * energy(point) / whole.max(1.0);
                sums.head_start_m = sums.head_start_m.max(ahead_m);
            }
        }
        sums
    }

    fn energy_j(&self, (drawn_j, back_j, seconds): (f64, f64, f64), efficiency: f64, regenerates: bool, low_voltage_w: f64) -> f64 {
        let back_j = if regenerates { back_j } else { 0.0 };
        LAG * drawn_j / efficiency - efficiency * back_j + (low_voltage_w + self.comfort_w) * seconds
    }

    /// Range that no pack of `usable_j` at up to `full_v` behind `resistance_ohm` exceeds, m; infinite where it gives back what it draws.
    pub(super) fn furthest_m(
        &self,
        usable_j: f64,
        (full_v, resistance_ohm): (f64, f64),
        (efficiency, regenerates): (f64, bool),
        low_voltage_w: f64,
    ) -> f64 {
        let at_terminals = self.energy_j((self.drawn_j, self.given_back_j, self.duration_s), efficiency, regenerates, low_voltage_w);
        // Heat inside the pack at the least current that this power can take.
        let amps2_s = self.drawn_w2_s * (LAG / (efficiency * full_v)).powi(2);
        let passage_j = at_terminals + resistance_ohm * amps2_s;
        if passage_j <= 0.0 {
            return f64::INFINITY;
        }
        (self.length_m * usable_j / passage_j + self.head_start_m + 0.002 * self.length_m) * ROOM
    }
}
