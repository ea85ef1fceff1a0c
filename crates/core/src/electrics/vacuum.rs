//! Brake vacuum press by press.

/// Reservoir, booster and pump.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BrakeVacuum {
    /// Air, kPa.
    pub air_kpa: f64,
    /// Reservoir with hoses, l.
    pub reservoir_l: f64,
    /// Air that a press lets in, l.
    pub press_l: f64,
    /// Vacuum that the pump pulls, kPa below the air.
    pub pulled_kpa: f64,
    /// Vacuum that still helps, kPa below the air.
    pub least_kpa: f64,
    /// What the pump moves, l/min.
    pub pump_l_min: f64,
}

/// Presses after which the count is stopped.
const MOST: usize = 60;

impl BrakeVacuum {
    /// Vacuum before the first press and after each with the pump dead, kPa below the air, until it no longer helps. Boyle: with absolute
    /// pressures `p' = (p Vr + p_air Vb) / (Vr + Vb)`, so that each press leaves the same share.
    #[must_use]
    pub fn presses_kpa(&self) -> Vec<f64> {
        let left = self.reservoir_l / (self.reservoir_l + self.press_l);
        let mut vacuum = vec![self.pulled_kpa.min(self.air_kpa)];
        while vacuum.len() <= MOST && vacuum[vacuum.len() - 1] * left >= self.least_kpa {
            vacuum.push(vacuum[vacuum.len() - 1] * left);
        }
        vacuum
    }

    /// Presses left when the pump dies.
    #[must_use]
    pub fn presses_left(&self) -> usize {
        self.presses_kpa().len() - 1
    }

    /// Seconds that the pump takes to make up for some presses: `V / S ln(p1 / p2)` in absolute pressures.
    #[must_use]
    pub fn recovers_s(&self, presses: usize) -> f64 {
        let left = (self.reservoir_l / (self.reservoir_l + self.press_l)).powi(presses as i32);
        let (from, to) = (self.air_kpa - self.pulled_kpa * left, self.air_kpa - self.pulled_kpa);
        60.0 * self.reservoir_l / self.pump_l_min * (from / to.max(0.1)).ln()
    }
}
