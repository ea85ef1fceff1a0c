//! Numbers of a design.

use super::Entry::{List, Object};
use super::donor::{DRIVELINE, PLACEMENT};
use super::electrics::ELECTRICS;
use super::parts::{CHARGER, CONTROLLER, MODULE, MOTOR};
use super::{Entry, Field, Group, count, may, need};

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
        Object("electrics", ELECTRICS),
        List("added", ADDED, 200),
        Object("layout", LAYOUT),
        Object("mechanics", MECHANICS),
        may("front_axle_share", "Share on the front axle, converted", "", 0.05, 0.95, "from the places of the parts"),
    ],
};

const MECHANICS: &Group = &Group {
    name: "Mechanics",
    entries: &[
        Object("chain", CHAIN_DRIVE),
        Object("belt", BELT_DRIVE),
        Object("shaft", SHAFT),
        Object("coupler", BOLT_CIRCLE),
        Object("plate", PLATE),
        Object("retention", RETENTION),
        List("mounts", MOUNT, 60),
    ],
};

const fn whole(key: &'static str, label: &'static str, min: f64, max: f64) -> Entry {
    Entry::Number(Field { key, label, unit: "", min, max, whole: true, required: true, default: "required" })
}

const CHAIN_DRIVE: &Group = &Group {
    name: "ChainDrive",
    entries: &[
        count("strands", "Strands", 3.0, "1"),
        whole("front_teeth", "Teeth in front", 6.0, 120.0),
        need("centre_mm", "Between the shafts", "mm", 20.0, 6000.0),
        may("breaks_kn", "A strand breaks at", "kN", 0.5, 500.0, "by its number"),
    ],
};

const BELT_DRIVE: &Group = &Group {
    name: "BeltDrive",
    entries: &[
        need("pitch_mm", "Pitch of the belt", "mm", 1.0, 50.0),
        whole("front_teeth", "Teeth of the front pulley", 6.0, 200.0),
        need("centre_mm", "Between the shafts", "mm", 20.0, 6000.0),
        may("bears_n", "The belt bears", "N", 10.0, 500_000.0, "not looked up"),
    ],
};

const SHAFT: &Group = &Group {
    name: "Shaft",
    entries: &[
        need("diameter_mm", "Shaft", "mm", 5.0, 150.0),
        may("key_length_mm", "Key, bearing length", "mm", 3.0, 300.0, "no key"),
        may("yield_n_mm2", "Steel yields at", "N/mm²", 50.0, 2000.0, "300"),
    ],
};

const BOLT_CIRCLE: &Group = &Group {
    name: "BoltCircle",
    entries: &[
        whole("bolts", "Bolts of the coupler", 2.0, 60.0),
        need("radius_mm", "On a radius of", "mm", 5.0, 500.0),
        may("friction", "Friction of the faces", "", 0.02, 0.8, "0.15"),
    ],
};

const PLATE: &Group = &Group {
    name: "AdapterPlate",
    entries: &[
        need("thickness_mm", "Plate", "mm", 1.0, 100.0),
        need("bore_mm", "Bore for the motor's register", "mm", 1.0, 600.0),
        Object("motor", HOLE_CIRCLE),
        List("gearbox", PLATE_HOLE, 40),
        may("margin_mm", "Material around every hole", "mm", 1.0, 100.0, "12"),
        may("run_out_mm", "Run-out of the bore, measured", "mm", 0.0, 10.0, "not measured"),
    ],
};

const HOLE_CIRCLE: &Group = &Group {
    name: "HoleCircle",
    entries: &[
        whole("holes", "Motor bolts", 2.0, 40.0),
        need("radius_mm", "On a radius of", "mm", 5.0, 500.0),
        need("hole_mm", "Hole diameter", "mm", 2.0, 40.0),
        may("first_deg", "First, clockwise from top", "°", 0.0, 360.0, "0"),
    ],
};

const PLATE_HOLE: &Group = &Group {
    name: "PlateHole",
    entries: &[
        need("right_mm", "Right of the shaft", "mm", -600.0, 600.0),
        need("up_mm", "Above the shaft", "mm", -600.0, 600.0),
        need("hole_mm", "Diameter", "mm", 2.0, 60.0),
    ],
};

const RETENTION: &Group = &Group {
    name: "Retention",
    entries: &[
        may("along_g", "Held along, times its weight", "", 0.5, 60.0, "by the laden mass"),
        may("across_g", "Held across, times its weight", "", 0.5, 60.0, "by the laden mass"),
    ],
};

const MOUNT: &Group = &Group {
    name: "Mount",
    entries: &[whole("bolts", "Bolts", 1.0, 60.0), may("flange_mm", "Sheet at the bolts", "mm", 0.3, 60.0, "not looked at")],
};

const LAYOUT: &Group = &Group {
    name: "Layout",
    entries: &[
        Object("motor", PLACEMENT),
        Object("controller", PLACEMENT),
        Object("pack", PLACEMENT),
        List("boxes", PACK_BOX, 12),
        Object("charger", PLACEMENT),
        Object("electrics", PLACEMENT),
        Object("fitted", FITTED_PLACES),
        Object("driver", PLACEMENT),
        Object("payload", PLACEMENT),
    ],
};

const FITTED_PLACES: &Group = &Group {
    name: "FittedPlaces",
    entries: &[
        Object("charge_inlet", PLACEMENT),
        Object("fast_inlet", PLACEMENT),
        Object("converter", PLACEMENT),
        Object("brake_assistance", PLACEMENT),
        Object("heater", PLACEMENT),
    ],
};

const PACK_BOX: &Group = &Group {
    name: "PackBox",
    entries: &[
        Entry::Number(Field {
            key: "modules",
            label: "Modules in it",
            unit: "",
            min: 0.0,
            max: 80_000.0,
            whole: true,
            required: true,
            default: "required",
        }),
        Object("at", PLACEMENT),
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
        may("interconnect_resistance_ohm", "Busbar and joint resistance", "Ω", 0.0, 0.1, "0"),
        List("added_strings", ADDED_STRINGS, 8),
    ],
};

pub(super) const ADDED_STRINGS: &Group = &Group {
    name: "AddedStrings",
    entries: &[
        Object("module", MODULE),
        count("modules_in_series", "Modules in series", 400.0, "required"),
        count("strings_in_parallel", "Strings in parallel", 200.0, "required"),
    ],
};

pub(super) const WIRING: &Group = &Group {
    name: "Wiring",
    entries: &[
        may("resistance_ohm", "Links, cable, fuse and contactor", "Ω", 0.0, 1.0, "0"),
        may("fuse_a", "Pack fuse", "A", 1.0, 5000.0, "no fuse"),
        may("fuse_voltage_v", "Fuse breaks up to", "V", 6.0, 1500.0, "not stated"),
        may("cable_current_a", "Cable rating, continuous", "A", 1.0, 5000.0, "not stated"),
        may("cable_length_m", "Cable, there and back", "m", 0.1, 100.0, "within the resistance"),
        may("cable_section_mm2", "Copper section", "mm²", 0.5, 500.0, "within the resistance"),
    ],
};

pub(super) const REGENERATION: &Group = &Group {
    name: "Regeneration",
    entries: &[
        may("share", "Share of braking", "", 0.0, 1.0, "by approach: 0 none, 0.5 throttle, 0.6 brake, 0.7 dial"),
        may("power_cap_w", "Power cap", "W", 0.0, 1e6, "none beside the amps"),
        may("fade_from_kmh", "Whole share from", "km/h", 0.0, 60.0, "8"),
        may("fade_to_kmh", "None below", "km/h", 0.0, 60.0, "0"),
    ],
};

pub(super) const LOW_VOLTAGE: &Group = &Group {
    name: "LowVoltage",
    entries: &[
        may("load_w", "Mean load at 12 V", "W", 0.0, 10_000.0, "150"),
        may("converter_efficiency", "Converter efficiency", "", 0.3, 1.0, "0.88"),
    ],
};

pub(super) const ADDED: &Group = &Group {
    name: "AddedItem",
    entries: &[need("mass_kg", "Mass", "kg", 0.0, 10_000.0), may("price", "Price", "money", 0.0, 1e7, "0"), Object("at", PLACEMENT)],
};
