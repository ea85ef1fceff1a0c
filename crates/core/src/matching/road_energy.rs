//! The least energy any chain can spend on the trip that counts: what road, air and hills take and the auxiliaries draw. It is told at once for
//! a whole pack, before a single drive is looked at.

use super::bounding::Bounding;
use super::fixed_vehicle::FixedVehicle;
use super::reach::{LAG, ROOM};
use super::space::SearchProblem;
use crate::quantity::units::STANDARD_GRAVITY_M_S2;
use crate::vehicle::{Conditions, Road};

/// Sums over one run, linear in the mass.
#[derive(Debug, Clone, Copy)]
pub(super) struct RoadEnergy {
    length_m: f64,
    /// What does not depend on the mass, J.
    fixed_j: f64,
    /// What does, J/kg.
    per_kg_j: f64,
    /// Added to the mass by a payload of the trip's own, kg.
    payload_kg: f64,
    /// Furthest that a run broken off gets beyond its share of the energy, m, whatever the mass.
    head_start_m: f64,
}

impl RoadEnergy {
    /// Of a trip by its place; none where the trip gives energy back on the whole, so that nothing bounds the range.
    pub(super) fn of(problem: &SearchProblem, vehicle: &FixedVehicle, trip_at: usize) -> Option<Self> {
        let trip = &problem.trips[trip_at].0;
        let Bounding { trace, least_s, .. } = &problem.bounding[trip_at];
        let base = &problem.base;
        let road = Road::of(base, 1000.0, &Conditions::of_trip(base, trip));
        let payload_kg = match trip.payload_kg {
            Some(kg) if base.donor.test_mass_kg.is_none() => kg - base.brief.payload_kg,
            _ => 0.0,
        };
        let (mut length_m, mut fixed_j, mut per_kg_j) = (0.0, 0.0, 0.0);
        let mut along = Vec::with_capacity(trace.points.len());
        for pair in trace.points.windows(2) {
            let (from, to) = (pair[0], pair[1]);
            let v = 0.5 * (from.speed_m_s + to.speed_m_s);
            let way_m = v * (to.time_s - from.time_s);
            length_m += way_m;
            fixed_j += (road.air_n(v) + road.undriven_axle_drag_n) * way_m;
            per_kg_j += STANDARD_GRAVITY_M_S2 * ((road.rolling + road.rolling_per_m_s * v) * from.cos + from.sin) * way_m;
            along.push((length_m, fixed_j, per_kg_j));
        }
        if fixed_j < 0.0 || per_kg_j <= 0.0 || length_m <= 0.0 {
            return None;
        }
        // Of two sums that both grow with the way, a weighted one lies between: the one that is further behind bounds it.
        let ahead = |&(so_far_m, fixed, per_kg): &(f64, f64, f64)| {
            let share = if fixed_j > 0.0 { (fixed / fixed_j).min(per_kg / per_kg_j) } else { per_kg / per_kg_j };
            so_far_m - length_m * share
        };
        let head_start_m = 1.5 * along.iter().map(ahead).fold(0.0, f64::max);
        let auxiliary_j = (vehicle.low_voltage_w + trip.hvac_w) * least_s;
        Some(Self { length_m, fixed_j: LAG * fixed_j + auxiliary_j, per_kg_j: LAG * per_kg_j, payload_kg, head_start_m })
    }

    /// Range that nothing of a test mass exceeds with so much usable energy, km.
    pub(super) fn furthest_km(&self, usable_j: f64, mass_kg: f64) -> f64 {
        let run_j = self.fixed_j + self.per_kg_j * (mass_kg + self.payload_kg);
        if run_j <= 0.0 {
            return f64::INFINITY;
        }
        (self.length_m * usable_j / run_j + self.head_start_m + 0.002 * self.length_m) * ROOM / 1000.0
    }
}
