//! Precharge: the capacitors of the bus are filled through a resistor before the main contactor closes, and emptied after it opens.

/// Share of the pack's voltage at which the contactor may close (METHODS: 95 %, no sooner).
pub const CLOSES_AT: f64 = 0.95;
/// Standard resistors within a decade (IEC 60063, series E6).
const E6: [f64; 6] = [1.0, 1.5, 2.2, 3.3, 4.7, 6.8];

/// What a precharge does.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Precharge {
    /// Pack, V.
    pub pack_v: f64,
    /// Capacitors, F.
    pub capacitance_f: f64,
    /// Resistor, ohm.
    pub resistor_ohm: f64,
    /// Drawn from the bus meanwhile, W at the pack's voltage; taken as a resistance.
    pub load_w: f64,
}

impl Precharge {
    /// Voltage to which the bus rises, V: the pack's, or less where something is drawn meanwhile.
    #[must_use]
    pub fn final_v(&self) -> f64 {
        let load_ohm = self.pack_v * self.pack_v / self.load_w;
        if self.load_w > 0.0 { self.pack_v * load_ohm / (load_ohm + self.resistor_ohm) } else { self.pack_v }
    }

    /// Time constant, s: of resistor and load in parallel.
    #[must_use]
    pub fn tau_s(&self) -> f64 {
        self.capacitance_f * self.resistor_ohm * self.final_v() / self.pack_v
    }

    /// Voltage of the bus after some time, V: `V (1 - exp(-t / RC))`.
    #[must_use]
    pub fn bus_v(&self, seconds: f64) -> f64 {
        self.final_v() * (1.0 - (-seconds / self.tau_s()).exp())
    }

    /// Voltage at which the contactor may close, V.
    #[must_use]
    pub fn closes_v(&self) -> f64 {
        CLOSES_AT * self.pack_v
    }

    /// Seconds to 95 % of the pack's voltage; `None` when what is drawn meanwhile keeps it below for ever.
    #[must_use]
    pub fn ready_s(&self) -> Option<f64> {
        let share = self.closes_v() / self.final_v();
        (share < 1.0).then(|| -self.tau_s() * (1.0 - share).ln())
    }

    /// Heat in the resistor each time it closes, J: `C V^2 / 2`.
    #[must_use]
    pub fn energy_j(&self) -> f64 {
        0.5 * self.capacitance_f * self.pack_v * self.pack_v
    }

    /// Power of the first instant, and for the whole delay when the bus is shorted, W: `V^2 / R`.
    #[must_use]
    pub fn peak_w(&self) -> f64 {
        self.pack_v * self.pack_v / self.resistor_ohm
    }
}

/// The largest standard resistor with which the bus is at 95 % in half of the delay, ohm; 1 ohm at least.
#[must_use]
pub fn largest_in_time_ohm(capacitance_f: f64, delay_s: f64) -> f64 {
    let most = 0.5 * delay_s / (capacitance_f * -(1.0 - CLOSES_AT).ln());
    let decade = 10f64.powf(most.log10().floor());
    let fit = [decade, decade / 10.0].into_iter().flat_map(|d| E6.iter().rev().map(move |e| e * d)).find(|ohm| *ohm <= most * (1.0 + 1e-9));
    fit.unwrap_or(1.0).max(1.0)
}

/// Largest resistor across the bus that empties it to 60 V in five seconds after the contactor has opened, ohm; `None` where it never is above
/// 60 V (ISO 6469-3 asks for 60 V within five seconds of a crash; from memory).
#[must_use]
pub fn bleeder_ohm(pack_v: f64, capacitance_f: f64) -> Option<f64> {
    const SAFE_V: f64 = 60.0;
    const WITHIN_S: f64 = 5.0;
    (pack_v > SAFE_V).then(|| WITHIN_S / (capacitance_f * (pack_v / SAFE_V).ln()))
}
