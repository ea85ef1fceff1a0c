//! Numbers of the electrics.

use super::Entry::{List, Object};
use super::parts::COMPONENT;
use super::{Group, count, may, need};

/// `Electrics`.
pub(super) const ELECTRICS: &Group = &Group {
    name: "Electrics",
    entries: &[
        may("ambient_c", "Air around the cables", "°C", -20.0, 80.0, "40"),
        may("insulation_c", "Insulation rated to", "°C", 60.0, 200.0, "90"),
        count("bundled", "Loaded cables side by side", 9.0, "2"),
        may("phase_length_m", "Each motor cable", "m", 0.1, 20.0, "1.5"),
        may("charge_length_m", "Charge cable, there and back", "m", 0.2, 40.0, "half of the traction cable's"),
        may("bus_capacitance_mf", "Capacitors on the bus", "mF", 0.001, 100.0, "1 for each 100 A of the controller"),
        may("precharge_ohm", "Precharge resistor", "Ω", 0.1, 10_000.0, "the largest that is in time"),
        may("precharge_delay_s", "Contactor closes after", "s", 0.05, 60.0, "5"),
        may("precharge_load_w", "Drawn meanwhile", "W", 0.0, 2000.0, "nothing"),
        List("loads", LOAD, 40),
        may("converter_power_w", "Converter", "W", 10.0, 10_000.0, "the least that suffices"),
        may("auxiliary_ah", "Auxiliary battery", "Ah", 0.5, 400.0, "40, or 12 on light vehicles"),
        may("reservoir_l", "Reservoir with hoses", "l", 0.1, 50.0, "3"),
        may("press_l", "Air let in by a press", "l", 0.01, 10.0, "0.4"),
        may("vacuum_kpa", "Vacuum pulled", "kPa", 5.0, 99.0, "61"),
        may("least_help_kpa", "Vacuum that still helps", "kPa", 1.0, 90.0, "20"),
        may("pump_l_min", "Pump", "l/min", 0.5, 500.0, "20"),
        may("heating_w", "Heat wanted from the pack", "W", 100.0, 20_000.0, "no heater"),
        count("hand_checked_every", "Cells between two points measured by hand", 20.0, "1"),
        count("meshes", "Gear meshes to the wheel", 8.0, "not told"),
        Object("insulation_test", INSULATION_TEST),
        Object("fitted", FITTED),
    ],
};

const LOAD: &Group = &Group {
    name: "LowVoltageLoad",
    entries: &[
        need("draws_w", "Draws", "W", 0.0, 3000.0),
        need("day", "by day", "", 0.0, 1.0),
        need("night", "night, rain", "", 0.0, 1.0),
        need("winter", "winter", "", 0.0, 1.0),
    ],
};

const INSULATION_TEST: &Group = &Group {
    name: "InsulationTest",
    entries: &[
        need("pack_v", "Pack", "V", 1.0, 1500.0),
        need("side_v", "Higher reading to the chassis", "V", 0.001, 1500.0),
        need("side_with_resistor_v", "the same with the resistor across it", "V", 0.001, 1500.0),
        need("resistor_kohm", "Resistor", "kΩ", 0.1, 10_000.0),
    ],
};

const FITTED: &Group = &Group {
    name: "FittedComponents",
    entries: &[
        Object("pack_fuse", COMPONENT),
        Object("disconnect", COMPONENT),
        Object("main_contactor", COMPONENT),
        Object("traction_cable", COMPONENT),
        Object("charge_fuse", COMPONENT),
        Object("charge_inlet", COMPONENT),
        Object("fast_inlet", COMPONENT),
        Object("converter", COMPONENT),
        Object("throttle", COMPONENT),
        Object("brake_assistance", COMPONENT),
        Object("heater", COMPONENT),
        Object("monitor", COMPONENT),
    ],
};
