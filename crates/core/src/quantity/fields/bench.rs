//! Numbers of the bench sheet.

use super::Entry::List;
use super::{Group, may, need};

/// `BenchSheet`.
pub const BENCH_SHEET: &Group = &Group {
    name: "BenchSheet",
    entries: &[
        List("no_load", NO_LOAD, 200),
        List("locked", LOCKED, 200),
        need("max_speed_rpm", "Highest speed", "rpm", 50.0, 30_000.0),
        need("peak_current_a", "Peak motor current", "A", 0.5, 5000.0),
        need("continuous_power_w", "Continuous power", "W", 20.0, 1e6),
        need("mass_kg", "Mass", "kg", 0.2, 2000.0),
        may("reference_voltage_v", "Voltage it is meant for", "V", 6.0, 1000.0, "the highest of the readings"),
    ],
};

pub(super) const NO_LOAD: &Group = &Group {
    name: "NoLoadReading",
    entries: &[
        need("volts_v", "Volts", "V", 0.1, 1000.0),
        need("amps_a", "Amps", "A", 0.001, 1000.0),
        need("speed_rpm", "Speed", "rpm", 1.0, 30_000.0),
    ],
};

pub(super) const LOCKED: &Group =
    &Group { name: "LockedReading", entries: &[need("volts_v", "Volts", "V", 0.01, 1000.0), need("amps_a", "Amps", "A", 0.01, 5000.0)] };
