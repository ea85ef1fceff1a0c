//! The field catalogue: label, unit, bounds and default of every number in a design document.
//!
//! One table gives the check, its message, the JSON Schema's bounds, docs/FORMATS.md, the forms of the
//! interface and the generators of the property tests. Bounds keep out slips of units and of the decimal
//! point; what is merely unwise is a finding, not an error.

use serde::Serialize;

/// One number of a record.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Field {
    /// Key in the record.
    pub key: &'static str,
    /// Words shown beside it.
    pub label: &'static str,
    /// Unit it is stored in, a symbol of [`super::units::UNITS`] or plain text; empty for a bare number.
    pub unit: &'static str,
    /// Smallest value accepted.
    pub min: f64,
    /// Largest value accepted.
    pub max: f64,
    /// Whether only whole numbers are accepted.
    pub whole: bool,
    /// Whether it must be given.
    pub required: bool,
    /// What holds when it is absent, in words.
    pub default: &'static str,
}

/// What stands under a key.
#[derive(Debug, Clone, Copy)]
pub enum Entry {
    /// A number.
    Number(Field),
    /// A record.
    Object(&'static str, &'static Group),
    /// A list of records and how many it may hold.
    List(&'static str, &'static Group, usize),
}

/// The numbers of one type of record.
#[derive(Debug)]
pub struct Group {
    /// Name of the type in the JSON Schema.
    pub name: &'static str,
    /// Its numbers and records.
    pub entries: &'static [Entry],
}

const fn need(key: &'static str, label: &'static str, unit: &'static str, min: f64, max: f64) -> Entry {
    Entry::Number(Field { key, label, unit, min, max, whole: false, required: true, default: "required" })
}

const fn may(key: &'static str, label: &'static str, unit: &'static str, min: f64, max: f64, default: &'static str) -> Entry {
    Entry::Number(Field { key, label, unit, min, max, whole: false, required: false, default })
}

const fn count(key: &'static str, label: &'static str, max: f64, default: &'static str) -> Entry {
    Entry::Number(Field { key, label, unit: "", min: 1.0, max, whole: true, required: false, default })
}

use Entry::{List, Object};

/// `Document`.
pub const DOCUMENT: &Group =
    &Group { name: "Document", entries: &[Object("brief", BRIEF), Object("donor", DONOR), Object("design", DESIGN)] };

/// `Brief`.
pub const BRIEF: &Group = &Group {
    name: "Brief",
    entries: &[
        List("goals", GOAL, 40),
        List("trips", TRIP, 20),
        Object("site", SITE),
        Object("summer", SEASON),
        Object("winter", SEASON),
        List("sockets", SOCKET, 20),
        may("driver_kg", "Driver", "kg", 0.0, 300.0, "75"),
        may("payload_kg", "Payload", "kg", 0.0, 20_000.0, "0"),
        Object("performance", PERFORMANCE),
        may("price_per_kwh", "Price of a kWh", "money", 0.0, 100.0, "0"),
    ],
};

const GOAL: &Group = &Group { name: "Goal", entries: &[may("weight", "Weight", "", 0.0, 100.0, "1"), Object("measure", MEASURE)] };

const MEASURE: &Group = &Group {
    name: "Measure",
    entries: &[
        may("at_least_km", "Range at least", "km", 0.1, 2000.0, "required for range"),
        may("at_most_wh_per_km", "Energy use at most", "Wh/km", 1.0, 5000.0, "required for energy_use"),
        may("at_least_kmh", "Top speed at least", "km/h", 1.0, 400.0, "required for top_speed"),
        may("from_kmh", "From", "km/h", 0.0, 400.0, "required for sprint"),
        may("to_kmh", "To", "km/h", 1.0, 400.0, "required for sprint"),
        may("at_most_s", "Within", "s", 0.1, 600.0, "required for sprint"),
        may("speed_kmh", "At", "km/h", 1.0, 300.0, "required for hill_at_speed"),
        may("at_least_percent", "Grade at least", "%", 0.0, 100.0, "required for hill_start and hill_at_speed"),
        may("at_most_h", "Within", "h", 0.05, 200.0, "required for charge_time"),
        may("at_most", "At most", "money", 0.0, 1e9, "required for cost"),
        may("at_most_kg", "At most", "kg", -5000.0, 20_000.0, "required for added_mass"),
    ],
};

const TRIP: &Group = &Group {
    name: "Trip",
    entries: &[
        Object("path", PATH),
        Entry::Number(Field {
            key: "gear",
            label: "Gear held",
            unit: "",
            min: 1.0,
            max: 24.0,
            whole: true,
            required: false,
            default: "the gear that draws the least power at each step",
        }),
        may("payload_kg", "Payload on this trip", "kg", 0.0, 20_000.0, "the brief's payload_kg"),
        may("comfort_w", "Heater, demister, cooling", "W", 0.0, 20_000.0, "0"),
        may("start_soc", "Charge at the start", "", 0.02, 1.0, "top of the pack's window"),
        count("repeat", "Times on end", 50.0, "1"),
        Entry::Number(Field {
            key: "transfer_range",
            label: "Range of the transfer box",
            unit: "",
            min: 1.0,
            max: 4.0,
            whole: true,
            required: false,
            default: "the one with the smallest ratio",
        }),
        Object("weather", WEATHER),
    ],
};

const WEATHER: &Group = &Group {
    name: "Weather",
    entries: &[
        may("temperature_c", "Air temperature", "°C", -50.0, 55.0, "the site's"),
        may("headwind_kmh", "Wind from ahead", "km/h", -80.0, 80.0, "the site's"),
        may("rolling_factor", "Rolling resistance over dry tarmac", "", 0.5, 10.0, "1"),
    ],
};

const SEASON: &Group = &Group {
    name: "Season",
    entries: &[
        need("temperature_c", "Air temperature", "°C", -50.0, 55.0),
        may("comfort_w", "Heater or cooling", "W", 0.0, 20_000.0, "0"),
        may("rolling_factor", "Rolling resistance over dry tarmac", "", 0.5, 10.0, "1"),
    ],
};

const PATH: &Group = &Group { name: "TripPath", entries: &[List("trace", TRACE_POINT, 100_000), List("segments", SEGMENT, 200)] };

const TRACE_POINT: &Group = &Group {
    name: "TracePoint",
    entries: &[
        need("time_s", "Time", "s", 0.0, 200_000.0),
        need("speed_kmh", "Speed", "km/h", 0.0, 300.0),
        may("grade_percent", "Grade to the next point", "%", -40.0, 40.0, "0"),
        may("height_m", "Height above the start", "m", -5000.0, 9000.0, "not drawn"),
        may("east_m", "East of the start", "m", -1e6, 1e6, "not drawn"),
        may("north_m", "North of the start", "m", -1e6, 1e6, "not drawn"),
    ],
};

const SEGMENT: &Group = &Group {
    name: "TravelSegment",
    entries: &[
        need("distance_km", "Length", "km", 0.02, 500.0),
        need("speed_kmh", "Speed", "km/h", 3.0, 200.0),
        may("stops_per_km", "Stops each km", "", 0.0, 20.0, "0"),
        may("climb_m", "Climb", "m", -3000.0, 3000.0, "0"),
        may("acceleration_m_s2", "Acceleration", "m/s²", 0.1, 4.0, "0.8"),
        may("stop_s", "Standing at each stop", "s", 0.0, 600.0, "0"),
        may("liveliness", "Liveliness", "", 0.05, 1.0, "fixed"),
    ],
};

const SITE: &Group = &Group {
    name: "Site",
    entries: &[
        may("temperature_c", "Air temperature", "°C", -50.0, 55.0, "15"),
        may("altitude_m", "Height above sea", "m", -430.0, 6000.0, "0"),
        may("air_density_kg_m3", "Air density", "kg/m³", 0.5, 1.7, "from temperature and height, ISA pressure"),
        may("headwind_kmh", "Wind from ahead", "km/h", -80.0, 80.0, "0"),
    ],
};

const SOCKET: &Group = &Group {
    name: "Socket",
    entries: &[
        need("voltage_v", "Voltage", "V", 50.0, 1000.0),
        need("current_a", "Circuit rating", "A", 1.0, 1000.0),
        count("phases", "Phases", 3.0, "1"),
        may("continuous_share", "Share drawn for hours", "", 0.1, 1.0, "0.8 (NEC 625.42)"),
        may("power_w", "Greatest power", "W", 100.0, 1e6, "volts times amps (direct current only)"),
    ],
};

const PERFORMANCE: &Group = &Group {
    name: "Performance",
    entries: &[
        may("soc", "Charge at runs", "", 0.02, 1.0, "0.8, kept within the pack's window"),
        Entry::Number(Field {
            key: "gear",
            label: "Gear held in sprints",
            unit: "",
            min: 1.0,
            max: 24.0,
            whole: true,
            required: false,
            default: "the quickest use of the gears, changes included",
        }),
        List("sprints", SPRINT, 20),
        may("reference_kmh", "Speed for comparing links", "km/h", 1.0, 300.0, "50, or 60 % of top speed if lower"),
    ],
};

const SPRINT: &Group =
    &Group { name: "SprintRange", entries: &[need("from_kmh", "From", "km/h", 0.0, 400.0), need("to_kmh", "To", "km/h", 1.0, 400.0)] };

/// `Donor`.
pub const DONOR: &Group = &Group {
    name: "Donor",
    entries: &[
        need("curb_mass_kg", "Mass as it stands", "kg", 10.0, 40_000.0),
        may("test_mass_kg", "Test mass, all in", "kg", 15.0, 60_000.0, "curb - removed + added + driver + payload"),
        List("removed", REMOVED, 200),
        may("gross_limit_kg", "Rated gross mass", "kg", 20.0, 60_000.0, "not checked"),
        may("front_axle_limit_kg", "Rated front axle mass", "kg", 5.0, 40_000.0, "not checked"),
        may("rear_axle_limit_kg", "Rated rear axle mass", "kg", 5.0, 40_000.0, "not checked"),
        may("front_axle_share", "Share on the front axle", "", 0.05, 0.95, "0.5"),
        may("wheelbase_m", "Wheelbase", "m", 0.5, 10.0, "2.4"),
        may("cg_height_m", "Height of the centre of gravity", "m", 0.05, 2.5, "0.55"),
        may("adhesion", "Adhesion, tyre on road", "", 0.05, 2.0, "0.8"),
        need("drag_coefficient", "Drag coefficient", "", 0.05, 2.0),
        need("frontal_area_m2", "Frontal area", "m²", 0.1, 12.0),
        need("rolling_coefficient", "Rolling resistance", "", 0.001, 0.3),
        may("rolling_coefficient_per_m_s", "Rolling resistance, growth with speed", "s/m", 0.0, 0.01, "0"),
        may("dragged_axle_n", "Drag of an axle that turns along", "N", 0.0, 5000.0, "0"),
        Object("evidence", EVIDENCE),
        Object("tyre", TYRE),
        may("rotating_mass_factor", "Rotating-mass factor", "", 1.0, 3.0, "1.04 + rotor inertia, else 1.04 + 0.0025 N²"),
        Object("driveline", DRIVELINE),
    ],
};

const EVIDENCE: &Group = &Group {
    name: "Evidence",
    entries: &[may("fuel_l_per_100km", "Fuel used on the road", "l/100 km", 0.3, 200.0, "not known"), Object("coast_down", COAST_DOWN)],
};

const COAST_DOWN: &Group = &Group {
    name: "CoastDown",
    entries: &[
        need("mass_kg", "Mass as rolled", "kg", 15.0, 60_000.0),
        may("temperature_c", "Air temperature", "°C", -50.0, 55.0, "15"),
        may("altitude_m", "Height above sea", "m", -430.0, 6000.0, "0"),
        may("rotating_mass_factor", "Rotating-mass factor in neutral", "", 1.0, 2.0, "1.03"),
        List("runs", COAST_RUN, 40),
    ],
};

const COAST_RUN: &Group = &Group { name: "CoastRun", entries: &[List("points", COAST_POINT, 5000)] };

const COAST_POINT: &Group =
    &Group { name: "CoastPoint", entries: &[need("time_s", "Time", "s", 0.0, 3600.0), need("speed_kmh", "Speed", "km/h", 0.0, 300.0)] };

const TYRE: &Group = &Group { name: "Tyre", entries: &[may("rolling_radius_m", "Rolling radius", "m", 0.05, 1.2, "from the tyre code")] };

const REMOVED: &Group = &Group {
    name: "RemovedItem",
    entries: &[need("mass_kg", "Mass", "kg", 0.0, 10_000.0), may("sale_price", "Sold for", "money", 0.0, 1e7, "0")],
};

/// `Driveline`.
pub const DRIVELINE: &Group = &Group {
    name: "Driveline",
    entries: &[
        List("gears", GEAR, 24),
        List("stages", STAGE, 8),
        List("ranges", GEAR, 4),
        may("shift_s", "Time of a gear change", "s", 0.0, 5.0, "1.2 (clutchless)"),
        may("input_torque_limit_nm", "Greatest gearbox input torque", "N·m", 1.0, 20_000.0, "not stated"),
    ],
};

const GEAR: &Group = &Group {
    name: "Gear",
    entries: &[need("ratio", "Ratio", ":1", 0.1, 50.0), may("efficiency", "Efficiency", "", 0.3, 1.0, "0.98 direct, 0.96 otherwise")],
};

const STAGE: &Group = &Group {
    name: "Stage",
    entries: &[
        need("ratio", "Ratio", ":1", 0.1, 50.0),
        may("efficiency", "Efficiency", "", 0.3, 1.0, "by kind: 0.94 hypoid, 0.97 reduction, transfer box and belt, 0.96 chain"),
    ],
};

/// `Design`.
pub const DESIGN: &Group = &Group {
    name: "Design",
    entries: &[
        Object("motor", MOTOR),
        count("motor_count", "Number of motors", 4.0, "1"),
        Object("controller", CONTROLLER),
        count("controller_count", "Number of controllers", 4.0, "1"),
        Object("driveline", DRIVELINE),
        Object("pack", PACK),
        Object("charger", CHARGER),
        Object("wiring", WIRING),
        Object("regeneration", REGENERATION),
        Object("low_voltage", LOW_VOLTAGE),
        List("added", ADDED, 200),
        may("front_axle_share", "Share on the front axle, converted", "", 0.05, 0.95, "the donor's"),
    ],
};

/// `Motor`.
pub const MOTOR: &Group = &Group {
    name: "Motor",
    entries: &[
        Object("model", MOTOR_MODEL),
        may("reference_voltage_v", "Voltage the curve holds at", "V", 6.0, 1000.0, "the curve does not move with voltage"),
        need("max_speed_rpm", "Highest speed", "rpm", 50.0, 30_000.0),
        may("max_voltage_v", "Highest voltage", "V", 6.0, 1200.0, "not checked"),
        need("continuous_power_w", "Power for ever", "W", 20.0, 1e6),
        may("continuous_torque_nm", "Torque for ever", "N·m", 0.1, 20_000.0, "continuous power at base speed"),
        may("burst_s", "Burst holds", "s", 1.0, 3600.0, "60"),
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
        may("no_load_power_w", "Power drawn unloaded", "W", 0.0, 50_000.0, "half the loss at best efficiency"),
        may("rotor_inertia_kg_m2", "Rotor inertia", "kg·m²", 0.0, 50.0, "handbook rotating-mass factor"),
        need("mass_kg", "Mass", "kg", 0.2, 2000.0),
        may("price", "Price", "money", 0.0, 1e7, "0"),
    ],
};

const MOTOR_MODEL: &Group = &Group {
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

const TORQUE_POINT: &Group = &Group {
    name: "TorquePoint",
    entries: &[
        need("speed_rpm", "Speed", "rpm", 0.0, 30_000.0),
        need("torque_nm", "Torque", "N·m", 0.0, 20_000.0),
        may("efficiency", "Efficiency there", "", 0.05, 0.995, "not stated"),
    ],
};

const LOSSES: &Group = &Group {
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
        need("battery_current_a", "Battery amps, burst", "A", 1.0, 5000.0),
        may("battery_current_continuous_a", "Battery amps, for ever", "A", 1.0, 5000.0, "half of the burst"),
        may("motor_current_a", "Motor amps, burst", "A", 1.0, 10_000.0, "not limited"),
        may("motor_current_continuous_a", "Motor amps, for ever", "A", 1.0, 10_000.0, "half of the burst"),
        may("max_power_w", "Power limit", "W", 50.0, 2e6, "none beside the amps"),
        may("burst_s", "Burst holds", "s", 1.0, 3600.0, "60"),
        may("max_temperature_c", "Hottest heat sink", "°C", 40.0, 180.0, "85"),
        need("efficiency", "Efficiency", "", 0.5, 1.0),
        may("regeneration_current_a", "Amps fed back", "A", 0.0, 5000.0, "0, cannot regenerate"),
        need("mass_kg", "Mass", "kg", 0.05, 500.0),
        may("price", "Price", "money", 0.0, 1e7, "0"),
    ],
};

/// `Pack`.
pub const PACK: &Group = &Group {
    name: "Pack",
    entries: &[
        Object("module", MODULE),
        Entry::Number(Field {
            key: "modules_in_series",
            label: "Modules in series",
            unit: "",
            min: 1.0,
            max: 400.0,
            whole: true,
            required: true,
            default: "required",
        }),
        Entry::Number(Field {
            key: "strings_in_parallel",
            label: "Strings in parallel",
            unit: "",
            min: 1.0,
            max: 200.0,
            whole: true,
            required: true,
            default: "required",
        }),
        may("soc_min", "Lowest charge used", "", 0.0, 0.95, "by chemistry"),
        may("soc_max", "Highest charge used", "", 0.05, 1.0, "by chemistry"),
        may("box_mass_kg", "Box and monitoring, mass", "kg", 0.0, 2000.0, "0"),
        may("box_price", "Box and monitoring, price", "money", 0.0, 1e7, "0"),
        may("temperature_c", "Temperature of the cells", "°C", -50.0, 70.0, "that of the air"),
        may("link_resistance_ohm", "Link between modules, with joints", "Ω", 0.0, 0.1, "0"),
        List("added_strings", ADDED_STRINGS, 8),
    ],
};

const ADDED_STRINGS: &Group = &Group {
    name: "AddedStrings",
    entries: &[
        Object("module", MODULE),
        count("modules_in_series", "Modules in series", 400.0, "required"),
        count("strings_in_parallel", "Strings in parallel", 200.0, "required"),
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
        need("continuous_c", "Discharge for ever", "C", 0.01, 100.0),
        need("burst_c", "Discharge, burst", "C", 0.01, 200.0),
        may("burst_s", "Burst holds", "s", 1.0, 3600.0, "10"),
        need("charge_c", "Charge", "C", 0.01, 20.0),
        may("capacity_share", "Capacity left", "", 0.05, 1.1, "1"),
        may("resistance_factor", "Resistance, times new", "", 0.5, 10.0, "1"),
        need("mass_kg", "Mass of a module", "kg", 0.01, 2000.0),
        may("price", "Price of a module", "money", 0.0, 1e7, "0"),
    ],
};

const OCV_POINT: &Group =
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

const WIRING: &Group = &Group {
    name: "Wiring",
    entries: &[
        may("resistance_ohm", "Links, cable, fuse and contactor", "Ω", 0.0, 1.0, "0"),
        may("fuse_a", "Pack fuse", "A", 1.0, 5000.0, "no fuse"),
        may("fuse_voltage_v", "Fuse breaks up to", "V", 6.0, 1500.0, "not stated"),
        may("cable_current_a", "Cable bears for ever", "A", 1.0, 5000.0, "not stated"),
        may("cable_length_m", "Cable, there and back", "m", 0.1, 100.0, "within the resistance"),
        may("cable_section_mm2", "Copper section", "mm²", 0.5, 500.0, "within the resistance"),
    ],
};

const REGENERATION: &Group = &Group {
    name: "Regeneration",
    entries: &[
        may("share", "Share of braking", "", 0.0, 1.0, "by school: 0 none, 0.5 throttle, 0.6 brake, 0.7 dial"),
        may("power_cap_w", "Power cap", "W", 0.0, 1e6, "none beside the amps"),
        may("fade_from_kmh", "Whole share from", "km/h", 0.0, 60.0, "8"),
        may("fade_to_kmh", "None below", "km/h", 0.0, 60.0, "0"),
    ],
};

const LOW_VOLTAGE: &Group = &Group {
    name: "LowVoltage",
    entries: &[
        may("load_w", "Mean load at 12 V", "W", 0.0, 10_000.0, "150"),
        may("converter_efficiency", "Converter efficiency", "", 0.3, 1.0, "0.88"),
    ],
};

const ADDED: &Group =
    &Group { name: "AddedItem", entries: &[need("mass_kg", "Mass", "kg", 0.0, 10_000.0), may("price", "Price", "money", 0.0, 1e7, "0")] };

/// `BenchSheet`.
pub const BENCH_SHEET: &Group = &Group {
    name: "BenchSheet",
    entries: &[
        List("no_load", NO_LOAD, 200),
        List("locked", LOCKED, 200),
        need("max_speed_rpm", "Highest speed", "rpm", 50.0, 30_000.0),
        need("peak_current_a", "Peak motor current", "A", 0.5, 5000.0),
        need("continuous_power_w", "Power for ever", "W", 20.0, 1e6),
        need("mass_kg", "Mass", "kg", 0.2, 2000.0),
        may("reference_voltage_v", "Voltage it is meant for", "V", 6.0, 1000.0, "the highest of the readings"),
    ],
};

const NO_LOAD: &Group = &Group {
    name: "NoLoadReading",
    entries: &[
        need("volts_v", "Volts", "V", 0.1, 1000.0),
        need("amps_a", "Amps", "A", 0.001, 1000.0),
        need("speed_rpm", "Speed", "rpm", 1.0, 30_000.0),
    ],
};

const LOCKED: &Group =
    &Group { name: "LockedReading", entries: &[need("volts_v", "Volts", "V", 0.01, 1000.0), need("amps_a", "Amps", "A", 0.01, 5000.0)] };

/// The catalogue of a library part by its `part` word.
#[must_use]
pub fn group_of_part(kind: &str) -> Option<&'static Group> {
    match kind {
        "motor" => Some(MOTOR),
        "controller" => Some(CONTROLLER),
        "module" => Some(MODULE),
        "charger" => Some(CHARGER),
        _ => None,
    }
}

/// Calls `visit` with each group once, parents first.
pub fn each_group(visit: &mut impl FnMut(&'static Group)) {
    fn down(group: &'static Group, seen: &mut Vec<&'static str>, visit: &mut impl FnMut(&'static Group)) {
        if seen.contains(&group.name) {
            return;
        }
        seen.push(group.name);
        visit(group);
        for entry in group.entries {
            if let Object(_, inner) | List(_, inner, _) = entry {
                down(inner, seen, visit);
            }
        }
    }
    let mut seen = Vec::new();
    down(DOCUMENT, &mut seen, visit);
    down(BENCH_SHEET, &mut seen, visit);
}
