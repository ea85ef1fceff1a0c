//! Which gear a step is driven in: the one that draws the least among those that will do.

use super::split::Motion;
use crate::powertrain::{Chain, GearCost, GearPath, MotorPoint, Supply};

/// The gears a trip may use, and what each costs.
#[derive(Debug, Clone)]
pub(super) struct GearChoice<'a> {
    chain: &'a Chain,
    /// Gears allowed.
    pub(super) gears: &'a [GearPath],
    costs: Vec<GearCost>,
}

/// A mean speed, the road's resistance at it and the acceleration.
#[derive(Clone, Copy)]
struct Demand {
    v_m_s: f64,
    resistance_n: f64,
    accel_m_s2: f64,
}

impl<'a> GearChoice<'a> {
    /// Among some gears of a chain.
    pub(super) fn among(chain: &'a Chain, gears: &'a [GearPath]) -> Self {
        let costs = if gears.len() > 1 { chain.gear_costs(gears) } else { Vec::new() };
        Self { chain, gears, costs }
    }

    /// What each gear costs, where the motor's losses are a polynomial and there is more than one gear.
    pub(super) fn costs(&self) -> &[GearCost] {
        &self.costs
    }

    /// The cheapest gear for a step that `accept` takes, with what the motor does in it; the road's `resistance_n` is that at the mean
    /// speed.
    #[inline(always)]
    pub(super) fn cheapest(
        &self,
        motion: &Motion,
        resistance_n: f64,
        supply: &Supply,
        mut accept: impl FnMut(&MotorPoint) -> bool,
    ) -> Option<(&'a GearPath, MotorPoint)> {
        let demand = Demand { v_m_s: motion.mean_m_s(), resistance_n, accel_m_s2: motion.accel_m_s2() };
        if let [gear] = self.gears {
            let point = self.point(gear, demand, supply)?;
            return accept(&point).then_some((gear, point));
        }
        // Gears once refused, as bits; the power of each is cheap, the rest is worked out for the cheapest only.
        let mut refused = 0u32;
        loop {
            let i = self.least(demand, supply, refused)?;
            let gear = &self.gears[i];
            if let Some(point) = self.point(gear, demand, supply)
                && accept(&point)
            {
                return Some((gear, point));
            }
            refused |= 1 << i;
        }
    }

    #[inline]
    fn force_n(&self, gear: &GearPath, demand: Demand) -> f64 {
        demand.resistance_n + self.chain.road.mass_kg * gear.rotating_factor * demand.accel_m_s2
    }

    #[inline(always)]
    fn point(&self, gear: &GearPath, demand: Demand, supply: &Supply) -> Option<MotorPoint> {
        self.chain.motor_point(gear, demand.v_m_s, self.force_n(gear, demand), supply)
    }

    /// The gear that draws the least, whatever the limits, among those not refused: by the polynomials where every one of them pulls,
    /// else by its power.
    #[inline]
    fn least(&self, demand: Demand, supply: &Supply, refused: u32) -> Option<usize> {
        let Demand { v_m_s, resistance_n, accel_m_s2 } = demand;
        let open = |i: &usize| refused & (1 << i) == 0;
        let lower = |best: &mut Option<(usize, f64)>, i: usize, watts: f64| {
            if best.is_none_or(|b| watts < b.1) {
                *best = Some((i, watts));
            }
        };
        let mut best: Option<(usize, f64)> = None;
        let mut all_pull = !self.costs.is_empty();
        for i in (0..self.costs.len()).filter(open) {
            match self.costs[i].at(v_m_s, resistance_n, accel_m_s2) {
                Some(watts) if watts.is_infinite() => {}
                Some(watts) => lower(&mut best, i, watts),
                None => {
                    all_pull = false;
                    break;
                }
            }
        }
        if !all_pull {
            best = None;
            for i in (0..self.gears.len()).filter(open) {
                if let Some(point) = self.point(&self.gears[i], demand, supply) {
                    lower(&mut best, i, point.bus_w);
                }
            }
        }
        best.map(|b| b.0)
    }
}
