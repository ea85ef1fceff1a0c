//! The least energy a drivetrain can spend on the trip that counts: what no controller and no pack can better.

use super::space::SearchProblem;
use super::subsystems::{Drivetrain, FixedVehicle};
use crate::powertrain::Fade;
use crate::quantity::units::STANDARD_GRAVITY_M_S2;
use crate::vehicle::{Conditions, Road};

/// Sums over one run that hold for every mass of an interval.
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
    /// Most that braking can give back, motor side, J, where no more power is taken than each of [`TAKEN_W`].
    given_back_j: [f64; TAKEN_W.len()],
    /// Furthest that a run broken off gets beyond its share of the energy, m.
    head_start_m: f64,
    /// Comfort load, W.
    pub(super) hvac_w: f64,
}

/// Powers that braking energy is summed up to, W.
const TAKEN_W: [f64; 5] = [1500.0, 4000.0, 10_000.0, 25_000.0, f64::INFINITY];

/// Energy of a run that lags as far as the rule about following a trip lets it, over that of one that does not. The rule lets 0.3 % of
/// the length be lost, so a lag of the 2 km/h of its tolerance lasts for a twentieth of the time at most, and a chain that reaches the
/// cruising speed at all has caught up before it brakes: what it saves on air and kinetic energy stays below a hundredth.
pub(super) const LAG: f64 = 0.99;
/// Numerical room: ranges are bridged between runs within 0.05 %.
pub(super) const ROOM: f64 = 1.003;

impl TripEnergy {
    pub(super) fn of(
        problem: &SearchProblem,
        vehicle: &FixedVehicle,
        drivetrain: &Drivetrain,
        trip_at: usize,
        (light_kg, heavy_kg): (f64, f64),
    ) -> Self {
        let trip = &problem.trips[trip_at].0;
        let (trace, least_s) = &problem.bounding[trip_at];
        let base = &problem.base;
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
            given_back_j: [0.0; TAKEN_W.len()],
            head_start_m: 0.0,
            hvac_w: trip.hvac_w,
        };
        let gears: Vec<_> = drivetrain.gears_of(trip.gear, trip.transfer_range).collect();
        let fade = Fade::of(&base.design.regeneration);
        // Drawn and given back up to each point, with its distance and time.
        let mut along = Vec::with_capacity(trace.points.len());
        for pair in trace.points.windows(2) {
            let (from, to) = (pair[0], pair[1]);
            let dt = to.time_s - from.time_s;
            let v = 0.5 * (from.speed_m_s + to.speed_m_s);
            sums.duration_s += dt;
            if v > 0.0 {
                let accel = (to.speed_m_s - from.speed_m_s) / dt;
                let fixed_n = road.air_n(v) + road.undriven_axle_drag_n;
                let per_kg = STANDARD_GRAVITY_M_S2 * ((road.rolling + road.rolling_per_m_s * v) * from.cos + from.sin);
                let mut least_w = f64::INFINITY;
                let share = vehicle.regeneration_share * fade.at(v);
                let mut back_w = 0.0_f64;
                for gear in gears.iter().filter(|g| v <= g.fastest_m_s) {
                    // The mass within the interval that asks the least: the light end where mass costs, the heavy one where it pushes.
                    let at = |kg: f64| fixed_n + per_kg * kg + gear.inert(kg) * accel;
                    let force_n = at(light_kg).min(at(heavy_kg));
                    if force_n >= 0.0 {
                        let torque_nm = force_n / gear.pull_n_per_nm;
                        let speed = v * gear.rad_per_m;
                        least_w = least_w.min(torque_nm * speed + drivetrain.map.loss_w(torque_nm, speed));
                    } else {
                        least_w = least_w.min(0.0);
                        // Braking harder than the losses reward gives back less.
                        let speed = v * gear.rad_per_m;
                        let asked_nm = -force_n * share * gear.efficiency * gear.efficiency / gear.pull_n_per_nm;
                        let torque_nm = asked_nm.min(drivetrain.map.best_braking_nm(speed));
                        back_w = back_w.max(torque_nm * speed - drivetrain.map.loss_w(-torque_nm, speed));
                    }
                }
                let drawn_w = if least_w.is_finite() { least_w.max(0.0) } else { 0.0 };
                sums.length_m += v * dt;
                sums.drawn_j += drawn_w * dt;
                sums.drawn_w2_s += drawn_w * drawn_w * dt;
                for (sum, taken_w) in sums.given_back_j.iter_mut().zip(TAKEN_W) {
                    *sum += back_w.min(taken_w) * dt;
                }
            }
            along.push((sums.drawn_j, sums.given_back_j, sums.length_m, sums.duration_s));
        }
        // On a trace that the chain hastens, only the whole has a least time.
        if *least_s < sums.duration_s {
            sums.duration_s = *least_s;
            let last = along.len().saturating_sub(1);
            along.iter_mut().enumerate().for_each(|(i, p)| p.3 = if i == last { *least_s } else { 0.0 });
        }
        // How far the cheap beginning of a run reaches beyond its share, without braking energy and with all of it; other shares and
        // efficiencies lie between or close by, which the half on top covers. It is metres beside kilometres.
        let so_far = sums;
        for taken in [0, TAKEN_W.len() - 1] {
            let energy =
                |p: &(f64, [f64; TAKEN_W.len()], f64, f64)| so_far.energy_j((p.0, p.1[taken], p.3), 0.95, true, vehicle.low_voltage_w);
            let Some(whole) = along.last().map(energy) else { continue };
            for point in &along {
                let ahead_m = point.2 - sums.length_m * energy(point) / whole.max(1.0);
                sums.head_start_m = sums.head_start_m.max(1.5 * ahead_m);
            }
        }
        sums
    }

    fn energy_j(&self, (drawn_j, back_j, seconds): (f64, f64, f64), efficiency: f64, regenerates: bool, low_voltage_w: f64) -> f64 {
        let back_j = if regenerates { back_j } else { 0.0 };
        LAG * drawn_j / efficiency - efficiency * back_j + (low_voltage_w + self.hvac_w) * seconds
    }

    /// Range that no pack of `usable_j` at up to `full_v` behind `resistance_ohm` exceeds, m; infinite where it gives back what it draws.
    /// Of the motor's braking power at most `taken_w` is taken.
    pub(super) fn furthest_m(
        &self,
        usable_j: f64,
        (full_v, resistance_ohm): (f64, f64),
        (efficiency, taken_w): (f64, f64),
        low_voltage_w: f64,
    ) -> f64 {
        let taken = TAKEN_W.iter().position(|w| *w >= taken_w).unwrap_or(TAKEN_W.len() - 1);
        let sums = (self.drawn_j, self.given_back_j[taken], self.duration_s);
        let at_terminals = self.energy_j(sums, efficiency, taken_w > 0.0, low_voltage_w);
        // Heat inside the pack at the least current that this power can take.
        let amps2_s = self.drawn_w2_s * (LAG / (efficiency * full_v)).powi(2);
        let run_j = at_terminals + resistance_ohm * amps2_s;
        if run_j <= 0.0 {
            return f64::INFINITY;
        }
        (self.length_m * usable_j / run_j + self.head_start_m + 0.002 * self.length_m) * ROOM
    }
}
