//! What rules hold figures against, as functions of plain numbers: the findings word them, the search counts by them.

/// Share by which a charger's voltage may be off the pack's (set-point tolerance of chargers, common practice).
const CHARGER_TOLERANCE: f64 = 0.005;

/// Whether a full pack is above a voltage rating.
pub(crate) fn full_charge_over(full_v: f64, rated_v: f64) -> bool {
    full_v > rated_v
}

/// Share of a controller's voltage that a full pack leaves for what regeneration lifts it by (common practice).
const HEADROOM: f64 = 0.03;

/// Whether a full pack leaves too little room below a controller's voltage for regeneration.
pub(crate) fn lacks_headroom(full_v: f64, rated_v: f64) -> bool {
    full_v > (1.0 - HEADROOM) * rated_v
}

/// Share by which strings in parallel may differ when full: what the balance between equal cells leaves (common practice).
const STRINGS_APART: f64 = 0.01;

/// Whether two strings are too far apart in voltage to be joined.
pub(crate) fn strings_differ(one_v: f64, other_v: f64) -> bool {
    (one_v - other_v).abs() > STRINGS_APART * other_v
}

/// Curb mass up to which bare pouch cells are at home, kg: karts, quads, light motorcycles and trikes (judgement).
const BARE_POUCH_MOST_KG: f64 = 350.0;

/// What a vehicle may weigh at most to be driven from bare pouch cells, where it weighs more, kg.
pub(crate) fn too_heavy_for_bare_pouch(curb_kg: f64) -> Option<f64> {
    (curb_kg > BARE_POUCH_MOST_KG).then_some(BARE_POUCH_MOST_KG)
}

/// Whether even a full pack is below what a controller starts at.
pub(crate) fn pack_below(full_v: f64, min_v: f64) -> bool {
    full_v < min_v
}

/// Whether the lowest voltage a charger ends at is above a full pack's.
pub(crate) fn charger_over_pack(full_v: f64, output_min_v: f64) -> bool {
    full_v < output_min_v * (1.0 - CHARGER_TOLERANCE)
}

/// Whether the highest voltage a charger reaches is below a full pack's.
pub(crate) fn charger_under_pack(full_v: f64, output_max_v: f64) -> bool {
    full_v > output_max_v * (1.0 + CHARGER_TOLERANCE)
}

/// Whether a pack is below the voltage at which a station of direct current starts.
pub(crate) fn below_station(pack_v: f64, start_v: f64) -> bool {
    pack_v < start_v
}

/// Whether a controller may ask for more than the pack's peak current.
pub(crate) fn controller_over_pack(asked_a: f64, peak_a: f64) -> bool {
    asked_a > peak_a
}

/// Voltage under load at the bottom of the window, V.
pub(crate) fn lowest_v(ocv_v: f64, resistance_ohm: f64, amps: f64) -> f64 {
    ocv_v - amps * resistance_ohm
}

/// Whether a voltage under load is below the cut-off.
pub(crate) fn sags_below(lowest_v: f64, cutoff_v: f64) -> bool {
    lowest_v < cutoff_v
}

/// A fuse is used continuously at its rating over this (common practice).
pub(crate) const FUSE_MARGIN: f64 = 1.25;
/// Current over rating that a fuse bears for a minute (common practice).
pub(crate) const FUSE_BURST: f64 = 1.5;

/// Most that a fuse's rating may be over the cable's continuous one: what short pulls allow where the fuse is there for short circuits
/// (common practice).
pub(crate) const FUSE_OVER_CABLE: f64 = 1.5;

/// Whether a cable would burn before a fuse opens.
pub(crate) fn fuse_over_cable(fuse_a: f64, cable_a: f64) -> bool {
    fuse_a > FUSE_OVER_CABLE * cable_a
}

/// Whether a mass is over its rating.
pub(crate) fn over_rating(found_kg: f64, rated_kg: f64) -> bool {
    found_kg > rated_kg
}

/// Least share of the mass on the front axle that keeps it steering (Regulation (EU) 2015/208 asks it of tractors, from memory).
pub(crate) const LEAST_FRONT_SHARE: f64 = 0.2;

/// Whether too little of the mass is on the front axle.
pub(crate) fn too_light_in_front(share: f64) -> bool {
    share < LEAST_FRONT_SHARE
}

/// Share by which a charger's current may be above what cells take: tolerance of its setting (common practice).
const CHARGE_TOLERANCE: f64 = 0.02;

/// Whether a charger gives more than cells take.
pub(crate) fn charger_over_cells(given_a: f64, taken_a: f64) -> bool {
    given_a > (1.0 + CHARGE_TOLERANCE) * taken_a
}

/// Fewest presses of the brake that must be left when the vacuum pump dies (common practice).
pub(crate) const FEWEST_PRESSES: usize = 3;
