//! Numbers of library parts.

use super::Entry::{List, Object};
use super::{Group, count, may, need};

/// `Motor`.
pub const MOTOR: &Group = &Group {
    name: "Motor",
    entries: &[
        Object("model", MOTOR_MODEL),
        may("reference_voltage_v", "Voltage the curve holds at", "V", 6.0, 1000.0, "the curve does not move with voltage"),
        need("max_speed_rpm", "Highest speed", "rpm", 50.0, 30_000.0),
        may("max_voltage_v", "Highest voltage", "V", 6.0, 1200.0, "not checked"),
        need("continuous_power_w", "Continuous power", "W", 20.0, 1e6),
        may("continuous_torque_nm", "Continuous torque", "N·m", 0.1, 20_000.0, "continuous power at base speed"),
        may("peak_s", "Peak holds", "s", 1.0, 3600.0, "60"),
        may("torque_per_amp_nm_a", "Torque per motor amp", "N·m/A", 0.001, 50.0, "motor amps not checked"),
        Object("losses", LOSSES),
        may(
            "best_efficiency",
            "Best efficiency",
            "",
            0.4,
            0.995,
            "by kind: 0.85 series DC, 0.87 hub, 0.90 brushed and induction, 0.94 PM synchronous",
        ),
        may("max_temperature_c", "Hottest winding", "°C", 60.0, 260.0, "140"),
        may("no_load_power_w", "Power drawn unloaded at the highest speed", "W", 0.0, 50_000.0, "usual for its best efficiency"),
        may("own_reduction", "Reduction built in, with its differential", "", 1.5, 20.0, "none, a bare shaft"),
        may("rotor_inertia_kg_m2", "Rotor inertia", "kg·m²", 0.0, 50.0, "handbook rotating-mass factor"),
        need("mass_kg", "Mass", "kg", 0.2, 2000.0),
        may("price", "Price", "money", 0.0, 1e7, "0"),
    ],
};

pub(super) const MOTOR_MODEL: &Group = &Group {
    name: "MotorModel",
    entries: &[
        may("peak_torque_nm", "Peak torque", "N·m", 0.1, 20_000.0, "required for envelope"),
        may("peak_power_w", "Peak power", "W", 50.0, 2e6, "required for envelope"),
        List("points", TORQUE_POINT, 400),
        may("torque_constant_nm_a", "Torque constant Kt = Ke", "N·m/A", 0.001, 50.0, "required for constants"),
        may("resistance_ohm", "Winding resistance", "Ω", 1e-5, 50.0, "required for constants and series_dc"),
        may("no_load_current_a", "No-load current", "A", 0.0, 500.0, "required for constants"),
        may("peak_current_a", "Peak motor current", "A", 0.5, 5000.0, "required for constants and series_dc"),
        may("field_weakening", "Speed by field weakening over speed without", "", 1.0, 6.0, "1, none"),
        may("saturated_constant_nm_a", "Flux constant at saturation", "N·m/A", 0.001, 50.0, "required for series_dc"),
        may("saturation_current_a", "Current at half of that flux", "A", 1.0, 5000.0, "required for series_dc"),
        may("brush_drop_v", "Drop of both brushes", "V", 0.0, 10.0, "2"),
        may("drag_torque_nm", "Friction torque", "N·m", 0.0, 500.0, "0"),
    ],
};

pub(super) const TORQUE_POINT: &Group = &Group {
    name: "TorquePoint",
    entries: &[
        need("speed_rpm", "Speed", "rpm", 0.0, 30_000.0),
        need("torque_nm", "Torque", "N·m", 0.0, 20_000.0),
        may("efficiency", "Efficiency there", "", 0.05, 0.995, "not stated"),
    ],
};

pub(super) const LOSSES: &Group = &Group {
    name: "LossCoefficients",
    entries: &[
        need("copper_w_per_nm2", "Copper loss kc", "W/(N·m)²", 0.0, 1000.0),
        need("iron_w_per_rad_s", "Iron and brush loss ki", "W/(rad/s)", 0.0, 1000.0),
        need("windage_w_per_rad3_s3", "Windage loss kw", "W/(rad/s)³", 0.0, 1.0),
        need("constant_w", "Constant loss C", "W", 0.0, 20_000.0),
    ],
};

/// `Controller`.
pub const CONTROLLER: &Group = &Group {
    name: "Controller",
    entries: &[
        need("min_voltage_v", "Lowest voltage", "V", 1.0, 1000.0),
        need("max_voltage_v", "Highest voltage", "V", 6.0, 1200.0),
        need("battery_current_a", "Battery current, peak", "A", 1.0, 5000.0),
        may("battery_current_continuous_a", "Battery current, continuous", "A", 1.0, 5000.0, "half of the peak"),
        may("motor_current_a", "Motor current, peak", "A", 1.0, 10_000.0, "not limited"),
        may("motor_current_continuous_a", "Motor current, continuous", "A", 1.0, 10_000.0, "half of the peak"),
        may("max_power_w", "Power limit", "W", 50.0, 2e6, "none beside the amps"),
        may("peak_s", "Peak holds", "s", 1.0, 3600.0, "60"),
        may("max_temperature_c", "Hottest heat sink", "°C", 45.0, 180.0, "85"),
        need("efficiency", "Efficiency", "", 0.5, 1.0),
        may("regeneration_current_a", "Amps fed back", "A", 0.0, 5000.0, "0, cannot regenerate"),
        need("mass_kg", "Mass", "kg", 0.05, 500.0),
        may("price", "Price", "money", 0.0, 1e7, "0"),
    ],
};

/// `Module`.
pub const MODULE: &Group = &Group {
    name: "Module",
    entries: &[
        count("cells_in_series", "Cells in series inside", 200.0, "1"),
        need("capacity_ah", "Capacity when new", "Ah", 0.5, 5000.0),
        may("rated_hours", "Stated for a discharge of", "h", 0.1, 100.0, "1"),
        may("peukert_exponent", "Peukert exponent", "", 1.0, 1.6, "1.2 flooded, 1.10 AGM, 1 otherwise"),
        need("full_voltage_v", "Full charge, one cell", "V", 1.0, 6.0),
        need("nominal_voltage_v", "Nominal, one cell", "V", 0.8, 5.0),
        need("cutoff_voltage_v", "Cut-off, one cell", "V", 0.5, 5.0),
        List("ocv", OCV_POINT, 201),
        need("resistance_ohm", "Resistance, one cell", "Ω", 0.0, 1.0),
        need("continuous_c", "Continuous discharge", "C", 0.01, 100.0),
        need("peak_c", "Peak discharge", "C", 0.01, 200.0),
        may("peak_s", "Peak holds", "s", 1.0, 3600.0, "10"),
        need("charge_c", "Charge", "C", 0.01, 20.0),
        may("capacity_share", "Capacity left", "", 0.05, 1.1, "1"),
        may("resistance_factor", "Resistance, times new", "", 0.5, 10.0, "1"),
        may("charge_efficiency", "Charge returned", "", 0.5, 1.0, "0.90 lead-acid, 0.92 NiMH, 0.995 otherwise"),
        may("acceptance_per_h", "Amps for a missing Ah", "", 0.1, 5.0, "1, lead-acid only"),
        may("taper_end_c", "Charging ends below", "C", 0.002, 0.2, "0.04"),
        may("cold_factor", "Cold, times the usual", "", 0.0, 3.0, "1"),
        need("mass_kg", "Mass of a module", "kg", 0.01, 2000.0),
        may("length_mm", "Length of a module", "mm", 5.0, 3000.0, "from its mass"),
        may("width_mm", "Width of a module", "mm", 5.0, 3000.0, "from its mass"),
        may("height_mm", "Height of a module", "mm", 5.0, 3000.0, "from its mass"),
        may("price", "Price of a module", "money", 0.0, 1e7, "0"),
    ],
};

pub(super) const OCV_POINT: &Group =
    &Group { name: "OcvPoint", entries: &[need("soc", "Charge", "", 0.0, 1.0), need("volts_v", "Open-circuit volts", "V", 0.5, 6.0)] };

/// `Charger`.
pub const CHARGER: &Group = &Group {
    name: "Charger",
    entries: &[
        need("output_min_v", "Lowest end-of-charge voltage", "V", 3.0, 1200.0),
        need("output_max_v", "Highest end-of-charge voltage", "V", 3.0, 1200.0),
        need("output_current_a", "Greatest output current", "A", 0.1, 1000.0),
        need("output_power_w", "Greatest output power", "W", 10.0, 500_000.0),
        may("input_current_a", "Greatest mains current, each phase", "A", 0.5, 200.0, "follows from the power"),
        count("phases", "Phases", 3.0, "1"),
        need("efficiency", "Efficiency", "", 0.4, 0.995),
        need("mass_kg", "Mass", "kg", 0.05, 500.0),
        may("price", "Price", "money", 0.0, 1e7, "0"),
    ],
};

/// `Component`; which of its numbers a kind needs stands with the record.
pub const COMPONENT: &Group = &Group {
    name: "Component",
    entries: &[
        may("min_voltage_v", "Works from", "V", 1.0, 1000.0, "needed of converters and heaters"),
        may("max_voltage_v", "Bears up to", "V", 6.0, 1500.0, "needed where the pack's voltage is on it"),
        may(
            "current_a",
            "Carries for hours; of a fuse its rating",
            "A",
            0.5,
            5000.0,
            "needed of fuses, contactors, disconnects, connectors",
        ),
        may("peak_a", "Carries at peak", "A", 0.5, 10_000.0, "no more"),
        may("peak_s", "Peak holds", "s", 0.1, 3600.0, "60"),
        may("break_a", "Breaks", "A", 1.0, 200_000.0, "needed of fuses and contactors"),
        may("rated_w", "Rated power", "W", 5.0, 20_000.0, "needed of converters, heaters, pumps, boosters"),
        may("draws_w", "Draws at 12 V", "W", 0.0, 500.0, "nothing"),
        may("section_mm2", "Copper section", "mm²", 0.5, 500.0, "needed of cables"),
        may("insulation_c", "Insulation rated to", "°C", 60.0, 200.0, "90"),
        count("tracks", "Tracks", 3.0, "needed of throttles"),
        may("flow_l_min", "Moves", "l/min", 0.5, 500.0, "needed of vacuum pumps"),
        count("cells", "Cells watched", 400.0, "needed of cell monitoring"),
        need("mass_kg", "Mass; of a cable, a metre", "kg", 0.001, 100.0),
        may("price", "Price; of a cable, a metre", "money", 0.0, 1e6, "0"),
    ],
};

/// `Plate`: the few figures of a half-known part.
pub const PLATE: &Group = &Group {
    name: "Plate",
    entries: &[
        may("volts_v", "Volts", "V", 1.0, 1000.0, "not known"),
        may("amps_a", "Amps", "A", 0.1, 5000.0, "not known"),
        may("power_w", "Rated power", "W", 50.0, 1e6, "volts times amps, less the usual loss"),
        may("speed_rpm", "Highest speed", "rpm", 50.0, 30_000.0, "usual for the kind"),
        may("capacity_ah", "Capacity", "Ah", 0.5, 5000.0, "not known"),
        may("mass_kg", "Mass", "kg", 0.01, 2000.0, "usual for the kind"),
        may("price", "Price", "money", 0.0, 1e7, "not known"),
    ],
};
