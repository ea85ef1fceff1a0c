//! The least time that an acceleration can take: never more than the model's own.

use super::bounds::Bound;
use super::rated_train::GearSide;
use crate::figures::Duty;
use crate::simulate::ACCELERATION_STEP_M_S;

/// Steps of speed in a coarse bound of an acceleration.
const COARSE_STEPS: f64 = 16.0;
/// Surplus of force over that of the cell before, below which the model may look at a cell more closely: some room beyond its own measure.
const FALLS_AWAY: f64 = 0.9;

impl Bound<'_> {
    /// Least time between two speeds, s: over cells of speed, the least with which each gear can have been reached.
    ///
    /// A change up costs what it costs in the model, wherever it happens. Looked at closely, the cells and the speeds at which they are looked
    /// at are those of the model's own run, but where the surplus of force falls away; else the pull within a cell is no greater than at its
    /// slower end and the resistance no less than there.
    pub(super) fn acceleration_s(&self, from_m_s: f64, to_m_s: f64) -> f64 {
        let (road, heaviest) = (self.road(), self.vehicle.road_at(self.worst.heaviest_kg));
        let (roads, power) = ((&road, &heaviest), self.power(Duty::Peak));
        let gears = &self.drivetrain.gears;
        let shift_s = if gears.len() > 1 { self.shift_s() } else { 0.0 };
        let width = if self.close { ACCELERATION_STEP_M_S } else { (to_m_s - from_m_s) / COARSE_STEPS };
        let surplus_n = |gear: &GearSide, v: f64| {
            let turns = v < gear.fastest_m_s * (1.0 + 1e-9);
            self.surplus_n(gear, if turns { self.gear_n(gear, v, &power) } else { 0.0 }, roads, v)
        };
        let mut least_s = vec![0.0_f64; gears.len()];
        // Surplus at the next look in each gear, as far as it has been worked out.
        let mut ahead_n: Vec<Option<f64>> = vec![None; gears.len()];
        let mut cell = if self.close { (from_m_s / width + 1e-9).floor() } else { 0.0 };
        let mut v = from_m_s;
        while v < to_m_s * (1.0 - 1e-12) {
            let (end, middle) = if self.close {
                (((cell + 1.0) * width).min(to_m_s), (cell + 0.5) * width)
            } else {
                ((from_m_s + (cell + 1.0) * width).min(to_m_s), v)
            };
            let slowest = v.min(middle);
            // The least with which a lower gear of the range reached the cell, and the least inverse of an acceleration of those so far.
            let (mut lower_s, mut quickest) = (f64::INFINITY, f64::INFINITY);
            for (k, gear) in gears.iter().enumerate() {
                if k > 0 && gears[k - 1].range != gear.range {
                    (lower_s, quickest) = (f64::INFINITY, f64::INFINITY);
                }
                let changed_in = |quickest: f64| lower_s + shift_s + (end - v) * quickest;
                // A gear that even by torque and power alone is no quicker than one changed into need not be looked at.
                let turns = slowest < gear.fastest_m_s * (1.0 + 1e-9);
                let turning_n = if turns { Self::simply_n(gear, slowest, power.torque_nm, &power) } else { 0.0 };
                let simply_n = self.surplus_n(gear, turning_n * (1.0 + 2e-9), roads, slowest);
                let at_best = if simply_n > 0.0 { gear.inert(self.mass_kg) / simply_n } else { f64::INFINITY };
                if at_best >= quickest && least_s[k] + (end - v) * at_best >= changed_in(quickest) {
                    ahead_n[k] = None;
                    let changed_s = changed_in(quickest);
                    lower_s = lower_s.min(least_s[k]);
                    least_s[k] = changed_s;
                    continue;
                }
                let mut surplus = ahead_n[k].take().unwrap_or_else(|| surplus_n(gear, middle));
                if self.close {
                    let next = surplus_n(gear, middle + width);
                    if next <= FALLS_AWAY * surplus {
                        surplus = surplus.max(surplus_n(gear, v));
                    }
                    ahead_n[k] = Some(next);
                }
                let inverse = if surplus > 0.0 { gear.inert(self.mass_kg) / surplus } else { f64::INFINITY };
                quickest = quickest.min(inverse);
                // Held through the cell, or changed into somewhere in it.
                let changed_s = changed_in(quickest);
                lower_s = lower_s.min(least_s[k]);
                least_s[k] = changed_s.min(least_s[k] + (end - v) * inverse);
            }
            (v, cell) = (end, cell + 1.0);
        }
        // A pull that only just falls short in the model may still reach: the model stops at a share of the resistance.
        least_s.iter().copied().fold(f64::INFINITY, f64::min) * if self.close { 1.0 - 1e-3 } else { 1.0 - 1e-6 }
    }

    fn shift_s(&self) -> f64 {
        let gearing = &self.problem.gearings[usize::from(self.drivetrain.configuration.gearing)];
        gearing.driveline.as_ref().unwrap_or(&self.problem.base.donor.driveline).shift_s
    }
}
