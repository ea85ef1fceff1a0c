//! Full force over speed: the best pull at a speed, and tables of it for runs.

use crate::powertrain::{Cause, Chain, GearPath, Limits};

/// Greatest pull at a speed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Best {
    /// At the wheels, N.
    pub force_n: f64,
    /// What stops more.
    pub cause: Cause,
    /// In this gear.
    pub gear: u32,
    /// In this range of the transfer box.
    pub range: u32,
}

impl Best {
    /// The greatest pull over some gears at `v_m_s`.
    #[must_use]
    pub fn among(chain: &Chain, gears: &[GearPath], v_m_s: f64, limits: &Limits) -> Self {
        let mut best: Option<Self> = None;
        for path in gears {
            if best.is_some_and(|b| !chain.may_exceed(path, v_m_s, limits, b.force_n)) {
                continue;
            }
            let (force_n, cause) = chain.full_force(path, v_m_s, limits);
            if best.is_none_or(|b| force_n > b.force_n) {
                best = Some(Self { force_n, cause, gear: path.gear, range: path.range });
            }
        }
        best.unwrap_or(Self { force_n: 0.0, cause: Cause::MotorSpeed, gear: 1, range: 1 })
    }

    /// The greatest pull over every gear and range at `v_m_s`.
    #[must_use]
    pub fn at(chain: &Chain, v_m_s: f64, limits: &Limits) -> Self {
        Self::among(chain, &chain.gears, v_m_s, limits)
    }
}

/// Full force at the middle of equal steps of speed, filled as it is asked for; several runs at one state of charge share it.
#[derive(Debug)]
pub struct TractiveForce<'a> {
    /// The chain it belongs to.
    pub chain: &'a Chain,
    /// The limits it holds at.
    pub limits: &'a Limits,
    /// Gears allowed.
    pub gears: &'a [GearPath],
    /// Step in speed, m/s.
    pub step_m_s: f64,
    tables: Vec<Vec<Option<(f64, Cause)>>>,
    resistance_n: Vec<f64>,
}

impl<'a> TractiveForce<'a> {
    /// An empty table.
    #[must_use]
    pub fn new(chain: &'a Chain, gears: &'a [GearPath], limits: &'a Limits, step_m_s: f64) -> Self {
        Self { chain, limits, gears, step_m_s, tables: vec![Vec::new(); gears.len()], resistance_n: Vec::new() }
    }

    /// Full force in a gear (by its place in `gears`) and its cause in the middle of step number `step`.
    pub(super) fn force(&mut self, gear: usize, step: usize) -> (f64, Cause) {
        let table = &mut self.tables[gear];
        if table.len() <= step {
            table.resize(step + 1, None);
        }
        // A high gear is asked at high speeds only.
        *table[step].get_or_insert_with(|| {
            let middle = (step as f64 + 0.5) * self.step_m_s;
            self.chain.full_force(&self.gears[gear], middle, self.limits)
        })
    }

    /// Resistance on the level in the middle of step number `step`, N.
    pub(super) fn resistance(&mut self, step: usize) -> f64 {
        while self.resistance_n.len() <= step {
            let middle = (self.resistance_n.len() as f64 + 0.5) * self.step_m_s;
            self.resistance_n.push(self.chain.road.steady_n(middle, 0.0));
        }
        self.resistance_n[step]
    }
}
