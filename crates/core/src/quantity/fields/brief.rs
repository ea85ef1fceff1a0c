//! Numbers of the brief.

use super::Entry::{List, Object};
use super::{Entry, Field, Group, count, may, need};

/// `Brief`.
pub const BRIEF: &Group = &Group {
    name: "Brief",
    entries: &[
        List("goals", GOAL, 40),
        Object("answers", ANSWERS),
        List("trips", TRIP, 20),
        Object("site", SITE),
        Object("summer", SEASON),
        Object("winter", SEASON),
        List("sockets", SOCKET, 20),
        Object("week", WEEK),
        Object("years", YEARS),
        may("driver_kg", "Driver", "kg", 0.0, 300.0, "75"),
        may("payload_kg", "Payload", "kg", 0.0, 20_000.0, "0"),
        Object("performance", PERFORMANCE),
        may("price_per_kwh", "Price of a kWh", "money", 0.0, 100.0, "0"),
    ],
};

/// `Answers` to the first questions.
pub const ANSWERS: &Group = &Group {
    name: "Answers",
    entries: &[
        may("longest_trip_km", "Longest regular trip", "km", 0.5, 1000.0, "usual for the kind"),
        may("session_min", "Longest session on the track", "min", 1.0, 240.0, "usual for the kind"),
        may("fastest_kmh", "Fastest road", "km/h", 5.0, 250.0, "usual for the kind"),
        may("steepest_percent", "Steepest hill", "%", 0.0, 60.0, "usual for the kind"),
    ],
};

pub(super) const GOAL: &Group =
    &Group { name: "Goal", entries: &[may("weight", "Weight", "", 0.0, 100.0, "1"), Object("measure", MEASURE)] };

pub(super) const MEASURE: &Group = &Group {
    name: "Measure",
    entries: &[
        may("at_least_km", "Range at least", "km", 0.1, 2000.0, "required for range"),
        may("at_most_wh_per_km", "Energy use at most", "Wh/km", 1.0, 5000.0, "required for energy_use"),
        may("at_least_kmh", "Top speed at least", "km/h", 1.0, 400.0, "required for top_speed"),
        may("at_most_kmh", "Top speed at most", "km/h", 1.0, 400.0, "required for speed_limit"),
        may("at_most_w", "Power at most", "W", 50.0, 2e6, "required for power_limit"),
        may("from_kmh", "From", "km/h", 0.0, 400.0, "required for acceleration"),
        may("to_kmh", "To", "km/h", 1.0, 400.0, "required for acceleration"),
        may("at_most_s", "Within", "s", 0.1, 600.0, "required for acceleration"),
        may("speed_kmh", "At", "km/h", 1.0, 300.0, "required for hill_at_speed"),
        may("at_least_percent", "Grade at least", "%", 0.0, 100.0, "required for hill_start and hill_at_speed"),
        may("at_most_h", "Within", "h", 0.05, 200.0, "required for charge_time"),
        may("at_most", "At most", "money", 0.0, 1e9, "required for cost"),
        may("at_most_kg", "At most", "kg", -5000.0, 20_000.0, "required for added_mass"),
    ],
};

pub(super) const TRIP: &Group = &Group {
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
        may("payload_kg", "Payload on this trip", "kg", 0.0, 20_000.0, "same as the brief's payload"),
        may("hvac_w", "Heater, demister, cooling", "W", 0.0, 20_000.0, "0"),
        may("start_soc", "Charge at the start", "", 0.02, 1.0, "top of the pack's window"),
        count("repeat", "Repeats", 50.0, "1"),
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
        List("drives", DRIVE, 30),
    ],
};

pub(super) const DRIVE: &Group = &Group {
    name: "MeasuredDrive",
    entries: &[
        need("distance_km", "Driven", "km", 0.1, 2000.0),
        may("charge_used", "Charge it took", "", 0.005, 1.0, "not known"),
        may("energy_kwh", "Energy out of the pack", "kWh", 0.01, 1000.0, "not known"),
        may("temperature_c", "Air temperature", "°C", -50.0, 55.0, "as for the trip"),
        may("payload_kg", "Aboard beside the driver", "kg", 0.0, 20_000.0, "as for the trip"),
        may("hvac_w", "Heater, demister, cooling", "W", 0.0, 20_000.0, "as for the trip"),
    ],
};

pub(super) const WEATHER: &Group = &Group {
    name: "Weather",
    entries: &[
        may("temperature_c", "Air temperature", "°C", -50.0, 55.0, "the site's"),
        may("headwind_kmh", "Wind from ahead", "km/h", -80.0, 80.0, "the site's"),
        may("rolling_factor", "Rolling resistance over dry tarmac", "", 0.5, 10.0, "1"),
    ],
};

pub(super) const SEASON: &Group = &Group {
    name: "Season",
    entries: &[
        need("temperature_c", "Air temperature", "°C", -50.0, 55.0),
        may("hvac_w", "Heater or cooling", "W", 0.0, 20_000.0, "0"),
        may("rolling_factor", "Rolling resistance over dry tarmac", "", 0.5, 10.0, "1"),
    ],
};

/// `TripPath`.
pub const PATH: &Group = &Group { name: "TripPath", entries: &[List("trace", TRACE_POINT, 100_000), List("segments", SEGMENT, 200)] };

pub(super) const TRACE_POINT: &Group = &Group {
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

pub(super) const SEGMENT: &Group = &Group {
    name: "TravelSegment",
    entries: &[
        need("distance_km", "Length", "km", 0.02, 500.0),
        need("speed_kmh", "Speed", "km/h", 3.0, 200.0),
        may("stops_per_km", "Stops on the way", "1/km", 0.0, 20.0, "0"),
        may("climb_m", "Climb", "m", -3000.0, 3000.0, "0"),
        may("acceleration_m_s2", "Acceleration", "m/s²", 0.1, 4.0, "0.8"),
        may("stop_s", "Standing at each stop", "s", 0.0, 600.0, "0"),
        may("liveliness", "Driving style", "", 0.05, 1.0, "as set"),
    ],
};

pub(super) const SITE: &Group = &Group {
    name: "Site",
    entries: &[
        may("temperature_c", "Air temperature", "°C", -50.0, 55.0, "15"),
        may("altitude_m", "Height above sea", "m", -430.0, 6000.0, "0"),
        may("air_density_kg_m3", "Air density", "kg/m³", 0.5, 1.7, "from temperature and height, ISA pressure"),
        may("headwind_kmh", "Wind from ahead", "km/h", -80.0, 80.0, "0"),
    ],
};

pub(super) const SOCKET: &Group = &Group {
    name: "Socket",
    entries: &[
        need("voltage_v", "Voltage", "V", 50.0, 1000.0),
        need("current_a", "Circuit rating", "A", 1.0, 1000.0),
        count("phases", "Phases", 3.0, "1"),
        may("continuous_share", "Share drawn for hours", "", 0.1, 1.0, "0.8 (NEC 625.42)"),
        may("power_w", "Greatest power", "W", 100.0, 1e6, "volts times amps (direct current only)"),
        may("min_voltage_v", "Lowest pack voltage", "V", 0.0, 1000.0, "150 above 200 V (direct current only)"),
        may("pilot_duty_percent", "Pilot duty cycle", "%", 10.0, 96.0, "not limited by it"),
        may("cable_current_a", "Cable coded for", "A", 6.0, 80.0, "not limited by it"),
    ],
};

pub(super) const WEEK: &Group = &Group { name: "Week", entries: &[List("outings", OUTING, 30), List("stays", STAY, 20)] };

pub(super) const OUTING: &Group = &Group { name: "Outing", entries: &[need("departure_h", "Leaves at", "h", 0.0, 23.99)] };

pub(super) const STAY: &Group =
    &Group { name: "Stay", entries: &[need("from_h", "Plugged in at", "h", 0.0, 23.99), need("hours_h", "For", "h", 0.1, 168.0)] };

pub(super) const YEARS: &Group = &Group {
    name: "Years",
    entries: &[
        may("years", "Years looked at", "", 1.0, 30.0, "8"),
        may("winter_weeks", "Weeks like winter", "", 0.0, 52.0, "26"),
        List("journeys", JOURNEY, 20),
        may("public_price_per_kwh", "Price of a public kWh", "money", 0.0, 100.0, "as at home"),
        may("night_price_per_kwh", "Price of a kWh at night", "money", 0.0, 100.0, "as by day"),
        may("night_from_h", "Night tariff from", "h", 0.0, 23.99, "22"),
        may("night_hours_h", "Night tariff for", "h", 0.0, 24.0, "8"),
    ],
};

pub(super) const JOURNEY: &Group = &Group {
    name: "Journey",
    entries: &[need("distance_km", "Distance", "km", 1.0, 5000.0), need("times_a_year", "Times a year", "", 0.0, 1000.0)],
};

pub(super) const PERFORMANCE: &Group = &Group {
    name: "Performance",
    entries: &[
        may("soc", "Charge at runs", "", 0.02, 1.0, "0.8, kept within the pack's window"),
        Entry::Number(Field {
            key: "gear",
            label: "Gear held in accelerations",
            unit: "",
            min: 1.0,
            max: 24.0,
            whole: true,
            required: false,
            default: "the quickest use of the gears, changes included",
        }),
        List("accelerations", ACCELERATION, 20),
        may("reference_kmh", "Speed for comparing links", "km/h", 1.0, 300.0, "50, or 60 % of top speed if lower"),
    ],
};

pub(super) const ACCELERATION: &Group = &Group {
    name: "AccelerationRange",
    entries: &[need("from_kmh", "From", "km/h", 0.0, 400.0), need("to_kmh", "To", "km/h", 1.0, 400.0)],
};
