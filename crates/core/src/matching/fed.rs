//! Which drives a pack may feed by its full-charge voltage: told once for all voltages between two limits.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use super::count::{Why, rule};
use super::groups::Group;
use crate::findings::Rule;
use crate::limits::{full_charge_over, pack_below};

/// What a full-charge voltage may feed.
#[derive(Debug)]
pub(super) struct Fed {
    /// How many drives.
    pub(super) drives: u64,
    /// Of the cheapest and of the lightest of them; infinite without any.
    pub(super) least_price: f64,
    pub(super) least_kg: f64,
    /// Voltages of their groups, in their order; packs share them.
    pub(super) voltages: Arc<[u32]>,
    /// How many others each rule is against.
    pub(super) cut: Vec<(Why, u64)>,
}

/// Groups of drives, and what has been told of them.
pub(super) struct Feeding<'a> {
    groups: &'a [Group],
    /// Every limit of controllers, of motors, and from below, from the lowest on.
    limits_v: [Vec<f64>; 3],
    known: Mutex<HashMap<[usize; 3], Arc<Fed>>>,
}

impl<'a> Feeding<'a> {
    pub(super) fn of(groups: &'a [Group]) -> Self {
        let sorted = |of: fn(&Group) -> f64| {
            let mut limits_v: Vec<f64> = groups.iter().map(of).collect();
            limits_v.sort_by(f64::total_cmp);
            limits_v.dedup();
            limits_v
        };
        let limits_v = [sorted(|g| g.controller_max_v), sorted(|g| g.motor_max_v), sorted(|g| g.min_v)];
        Self { groups, limits_v, known: Mutex::default() }
    }

    /// What a full-charge voltage may feed.
    pub(super) fn at(&self, full_v: f64) -> Arc<Fed> {
        let [controllers, motors, least] = &self.limits_v;
        let between = [
            controllers.partition_point(|v| full_charge_over(full_v, *v)),
            motors.partition_point(|v| full_charge_over(full_v, *v)),
            least.partition_point(|v| !pack_below(full_v, *v)),
        ];
        let mut known = self.known.lock().unwrap_or_else(PoisonError::into_inner);
        known.entry(between).or_insert_with(|| Arc::new(self.told(full_v))).clone()
    }

    fn told(&self, full_v: f64) -> Fed {
        let (mut fed, mut cut) = (Vec::new(), HashMap::new());
        for group in self.groups {
            let why = if full_charge_over(full_v, group.controller_max_v) {
                Rule::FullChargeOverController
            } else if full_charge_over(full_v, group.motor_max_v) {
                Rule::FullChargeOverMotor
            } else if pack_below(full_v, group.min_v) {
                Rule::PackBelowController
            } else {
                fed.push(group);
                continue;
            };
            *cut.entry(rule(why)).or_insert(0) += group.drives.len() as u64;
        }
        let least = |of: fn(&Group) -> f64| fed.iter().map(|g| of(g)).fold(f64::INFINITY, f64::min);
        let mut voltages: Vec<u32> = fed.iter().map(|g| g.voltages).collect();
        voltages.sort_unstable();
        voltages.dedup();
        Fed {
            drives: fed.iter().map(|g| g.drives.len() as u64).sum(),
            least_price: least(|g| g.least_price),
            least_kg: least(|g| g.least_kg),
            voltages: voltages.into(),
            cut: cut.into_iter().collect(),
        }
    }
}
