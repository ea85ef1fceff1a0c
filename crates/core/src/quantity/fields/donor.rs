//! Numbers of the donor.

use super::Entry::{List, Object};
use super::{Entry, Field, Group, may, need};

/// `Donor`.
pub const DONOR: &Group = &Group {
    name: "Donor",
    entries: &[
        may("purchase_price", "Bought for", "money", 0.0, 1e7, "not known"),
        Entry::Number(Field {
            key: "built",
            label: "Built in",
            unit: "",
            min: 1890.0,
            max: 2100.0,
            whole: true,
            required: false,
            default: "not known",
        }),
        Object("condition", CONDITION),
        need("curb_mass_kg", "Kerb mass", "kg", 10.0, 40_000.0),
        may("test_mass_kg", "Test mass, all in", "kg", 15.0, 60_000.0, "curb - removed + added + driver + payload"),
        List("removed", REMOVED, 200),
        List("bays", BAY, 12),
        List("bolt_patterns", BOLT_PATTERN, 40),
        Object("underlays", UNDERLAYS),
        may("gross_limit_kg", "Rated gross mass", "kg", 20.0, 60_000.0, "not checked"),
        may("front_axle_limit_kg", "Rated front axle mass", "kg", 5.0, 40_000.0, "not checked"),
        may("rear_axle_limit_kg", "Rated rear axle mass", "kg", 5.0, 40_000.0, "not checked"),
        may("front_axle_share", "Share on the front axle", "", 0.05, 0.95, "0.5"),
        may("wheelbase_m", "Wheelbase", "m", 0.5, 10.0, "2.4"),
        may("cg_height_m", "Height of the centre of gravity", "m", 0.05, 2.5, "0.55"),
        may("track_front_m", "Track, front", "m", 0.0, 3.0, "by kind; 0: a single wheel"),
        may("track_rear_m", "Track, rear", "m", 0.0, 3.0, "by kind; 0: a single wheel"),
        may("overhang_front_m", "Overhang, front", "m", 0.0, 4.0, "by kind"),
        may("overhang_rear_m", "Overhang, rear", "m", 0.0, 6.0, "by kind"),
        may("body_width_m", "Width of the body", "m", 0.2, 3.0, "by kind"),
        may("body_height_m", "Height of the body", "m", 0.2, 4.5, "by kind"),
        Entry::Number(Field {
            key: "tyre_load_index",
            label: "Load index of the tyres",
            unit: "",
            min: 20.0,
            max: 126.0,
            whole: true,
            required: false,
            default: "from the tyre code, else not checked",
        }),
        may("adhesion", "Adhesion, tyre on road", "", 0.05, 2.0, "0.8"),
        need("drag_coefficient", "Drag coefficient", "", 0.05, 2.0),
        need("frontal_area_m2", "Frontal area", "m²", 0.1, 12.0),
        need("rolling_coefficient", "Rolling resistance", "", 0.001, 0.3),
        may("rolling_coefficient_per_m_s", "Speed-dependent rolling resistance", "s/m", 0.0, 0.01, "0"),
        may("undriven_axle_drag_n", "Drag of the undriven axle", "N", 0.0, 5000.0, "0"),
        Object("evidence", EVIDENCE),
        Object("tyre", TYRE),
        may("rotating_mass_factor", "Rotating-mass factor", "", 1.0, 3.0, "1.04 + rotor inertia, else 1.04 + 0.0025 N²"),
        Object("driveline", DRIVELINE),
    ],
};

/// `Shortlist`.
pub const SHORTLIST: &Group = &Group { name: "Shortlist", entries: &[List("candidates", CANDIDATE, MOST_CANDIDATES)] };

/// Most candidates of a conversion.
pub const MOST_CANDIDATES: usize = 12;

const CANDIDATE: &Group = &Group { name: "Candidate", entries: &[Object("donor", DONOR)] };

const fn grade(key: &'static str, label: &'static str) -> Entry {
    Entry::Number(Field { key, label, unit: "", min: 1.0, max: 5.0, whole: true, required: false, default: "not looked at" })
}

const CONDITION: &Group = &Group {
    name: "Condition",
    entries: &[grade("body", "Body, frame, floor"), grade("running_gear", "Brakes, steering, gearbox"), grade("spares", "Parts to be had")],
};

const fn counted(key: &'static str, label: &'static str, max: f64) -> Entry {
    Entry::Number(Field { key, label, unit: "", min: 0.0, max, whole: true, required: true, default: "required" })
}

const NETWORK: &Group =
    &Group { name: "Network", entries: &[may("seconds", "Length of the log", "s", 0.0, 1e6, "0"), List("messages", NETWORK_MESSAGE, 400)] };

const NETWORK_MESSAGE: &Group = &Group {
    name: "NetworkMessage",
    entries: &[
        counted("frames", "Seen", 1e9),
        counted("length", "Bytes", 64.0),
        may("period_ms", "Every", "ms", 0.0, 1e9, "not told"),
        List("signals", NETWORK_SIGNAL, 64),
    ],
};

const NETWORK_SIGNAL: &Group =
    &Group { name: "NetworkSignal", entries: &[need("least", "Least", "", -1e30, 1e30), need("most", "Most", "", -1e30, 1e30)] };

const TIMED_PASSES: &Group = &Group {
    name: "TimedPasses",
    entries: &[
        may("from_kmh", "From", "km/h", 0.0, 250.0, "0"),
        need("to_kmh", "To", "km/h", 1.0, 300.0),
        may("aboard_kg", "Aboard", "kg", 0.0, 20_000.0, "0"),
        List("runs", TIMED_RUN, 30),
    ],
};

const TIMED_RUN: &Group = &Group { name: "TimedRun", entries: &[need("seconds", "Took", "s", 0.2, 600.0)] };

const UNDERLAYS: &Group = &Group { name: "Underlays", entries: &[Object("side", UNDERLAY), Object("plan", UNDERLAY)] };

const UNDERLAY: &Group = &Group {
    name: "Underlay",
    entries: &[
        need("front_across", "Front wheel, from the left", "", 0.0, 1.0),
        need("front_down", "Front wheel, from above", "", 0.0, 1.0),
        need("rear_across", "Rear wheel, from the left", "", 0.0, 1.0),
        need("rear_down", "Rear wheel, from above", "", 0.0, 1.0),
        may("strength", "Shows", "", 0.0, 1.0, "0.5"),
    ],
};

const BOLT_PATTERN: &Group = &Group { name: "BoltPattern", entries: &[List("points", BOLT_POINT, 60)] };

const BOLT_POINT: &Group = &Group {
    name: "BoltPoint",
    entries: &[
        need("behind_m", "Behind the front axle", "m", -4.0, 16.0),
        may("right_m", "Right of the middle", "m", -2.0, 2.0, "0"),
        may("up_m", "Above the ground", "m", 0.0, 4.5, "0"),
    ],
};

pub(super) const EVIDENCE: &Group = &Group {
    name: "Evidence",
    entries: &[
        may("fuel_l_per_100km", "Fuel used, combined", "l/100 km", 0.3, 200.0, "not known"),
        may("fuel_town_l_per_100km", "Fuel used in town", "l/100 km", 0.3, 200.0, "not known"),
        may("fuel_road_l_per_100km", "Fuel used on the open road", "l/100 km", 0.3, 200.0, "not known"),
        Object("weighing", WEIGHING),
        Object("coast_down", COAST_DOWN),
        Object("network", NETWORK),
        List("passes", TIMED_PASSES, 12),
    ],
};

pub(super) const WEIGHING: &Group = &Group {
    name: "Weighing",
    entries: &[
        may("front_kg", "Front axle", "kg", 1.0, 40_000.0, "from its wheels"),
        may("rear_kg", "Rear axle", "kg", 1.0, 40_000.0, "from its wheels"),
        may("front_left_kg", "Front left", "kg", 0.5, 20_000.0, "not weighed"),
        may("front_right_kg", "Front right", "kg", 0.5, 20_000.0, "not weighed"),
        may("rear_left_kg", "Rear left", "kg", 0.5, 20_000.0, "not weighed"),
        may("rear_right_kg", "Rear right", "kg", 0.5, 20_000.0, "not weighed"),
        may("lifted_by_m", "Lifted by", "m", 0.02, 3.0, "not lifted"),
        may("other_axle_kg", "The other axle then", "kg", 1.0, 40_000.0, "not weighed"),
        may("loaded_radius_m", "Wheel middles above the ground", "m", 0.05, 1.2, "from the tyre"),
    ],
};

pub(super) const COAST_DOWN: &Group = &Group {
    name: "CoastDown",
    entries: &[
        need("mass_kg", "Test mass at the coast-down", "kg", 15.0, 60_000.0),
        may("temperature_c", "Air temperature", "°C", -50.0, 55.0, "15"),
        may("altitude_m", "Height above sea", "m", -430.0, 6000.0, "0"),
        may("rotating_mass_factor", "Rotating-mass factor in neutral", "", 1.0, 2.0, "1.03"),
        List("runs", COAST_RUN, 40),
    ],
};

pub(super) const COAST_RUN: &Group = &Group { name: "CoastRun", entries: &[List("points", COAST_POINT, 5000)] };

pub(super) const COAST_POINT: &Group =
    &Group { name: "CoastPoint", entries: &[need("time_s", "Time", "s", 0.0, 3600.0), need("speed_kmh", "Speed", "km/h", 0.0, 300.0)] };

pub(super) const TYRE: &Group =
    &Group { name: "Tyre", entries: &[may("rolling_radius_m", "Rolling radius", "m", 0.05, 1.2, "from the tyre code")] };

/// `RemovedItem`.
pub const REMOVED: &Group = &Group {
    name: "RemovedItem",
    entries: &[
        need("mass_kg", "Mass", "kg", 0.0, 10_000.0),
        may("sale_price", "Sold for", "money", 0.0, 1e7, "0"),
        Object("at", PLACEMENT),
    ],
};

pub(super) const PLACE: &Group =
    &Group { name: "AxlePlace", entries: &[may("behind_front_axle_m", "Behind the front axle", "m", -5.0, 20.0, "by a word")] };

/// `Placement`.
pub(super) const PLACEMENT: &Group = &Group {
    name: "Placement",
    entries: &[
        Object("along", PLACE),
        may("right_m", "To the right of the middle", "m", -3.0, 3.0, "0"),
        may("up_m", "Above the ground", "m", -1.0, 6.0, "as the donor's centre of gravity"),
        may("length_m", "Length", "m", 0.01, 12.0, "from its mass"),
        may("width_m", "Width", "m", 0.01, 4.0, "from its mass"),
        may("height_m", "Height", "m", 0.01, 4.0, "from its mass"),
    ],
};

pub(super) const BAY: &Group = &Group {
    name: "Bay",
    entries: &[
        Object("at", PLACEMENT),
        may("mass_limit_kg", "May carry", "kg", 0.1, 10_000.0, "not checked"),
        may("clearance_m", "Clearance", "m", 0.0, 0.5, "0.01"),
    ],
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

pub(super) const GEAR: &Group = &Group {
    name: "Gear",
    entries: &[need("ratio", "Ratio", ":1", 0.1, 50.0), may("efficiency", "Efficiency", "", 0.3, 1.0, "0.98 direct, 0.96 otherwise")],
};

pub(super) const STAGE: &Group = &Group {
    name: "Stage",
    entries: &[
        need("ratio", "Ratio", ":1", 0.1, 50.0),
        may("efficiency", "Efficiency", "", 0.3, 1.0, "by kind: 0.94 hypoid, 0.97 reduction, transfer box and belt, 0.96 chain"),
    ],
};
