//! The rules themselves.

use super::{Evidence, Finding, Severity, trust};
use crate::document::Design;
use crate::library::{Charger, Controller, Motor};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{MOST_LOST, MOST_OFF_TRACE};

type Rule = fn(&Evidence<'_>) -> Vec<Finding>;

/// Every rule, in the order shown among findings of the same gravity.
pub(super) const ALL: &[Rule] = &[
    full_charge_above_ratings,
    full_charge_below_controller,
    charger_voltage,
    sag_below_cutoff,
    pack_amps,
    motor_speed,
    motor_kind,
    masses,
    fuse,
    cable,
    monitoring,
    series_motor,
    trace_not_followed,
    trust::mixed_strings,
    trust::motor_places,
    trust::heat,
    trust::frost,
    hazardous_voltage,
    trust::claims,
    trust::currency,
];

#[derive(Clone, Copy)]
pub(super) struct Words {
    pub(super) rule: &'static str,
    pub(super) severity: Severity,
    pub(super) part: &'static str,
    pub(super) unit: &'static str,
    pub(super) why: &'static str,
    pub(super) change: &'static str,
    pub(super) source: &'static str,
}

pub(super) fn finding(words: &Words, found: f64, limit: f64, message: String) -> Finding {
    Finding {
        rule: words.rule.to_owned(),
        severity: words.severity,
        message,
        why: words.why.to_owned(),
        change: words.change.to_owned(),
        source: words.source.to_owned(),
        found,
        limit,
        unit: words.unit.to_owned(),
        part: words.part.to_owned(),
    }
}

pub(super) const PRACTICE: &str = "common practice";

fn full_charge_above_ratings(e: &Evidence<'_>) -> Vec<Finding> {
    let full = e.chain.pack.full_v;
    let Design { motor, controller, .. } = &e.document.design;
    let mut out = Vec::new();
    if let Some(Controller { max_voltage_v, .. }) = controller
        && full > *max_voltage_v
    {
        let words = Words {
            rule: "volts.full-charge-over-controller",
            severity: Severity::Stop,
            part: "controller",
            unit: "V",
            why: "A full pack destroys the controller the first time it is connected; the nominal voltage hides it.",
            change: "Take fewer cells in series, or a controller rated above the full-charge voltage.",
            source: PRACTICE,
        };
        out.push(finding(&words, full, *max_voltage_v, format!("Full charge is {full:.1} V; the controller bears {max_voltage_v:.0} V.")));
    }
    if let Some(Motor { max_voltage_v: Some(limit), .. }) = motor
        && full > *limit
    {
        let words = Words {
            rule: "volts.full-charge-over-motor",
            severity: Severity::Stop,
            part: "motor",
            unit: "V",
            why: "Winding insulation and commutator are rated for less.",
            change: "Take fewer cells in series, or a motor insulated for the full-charge voltage.",
            source: PRACTICE,
        };
        out.push(finding(&words, full, *limit, format!("Full charge is {full:.1} V; the motor is insulated for {limit:.0} V.")));
    }
    if let Some(Controller { max_voltage_v, .. }) = controller
        && full <= *max_voltage_v
        && full > 0.97 * max_voltage_v
        && e.document.design.regeneration.share_or_usual() > 0.0
    {
        let words = Words {
            rule: "volts.regeneration-headroom",
            severity: Severity::Warn,
            part: "controller",
            unit: "V",
            why: "Regeneration on a full pack lifts the bus above the full-charge voltage and trips the controller.",
            change: "Charge to less than full before long descents, or take one cell fewer in series.",
            source: PRACTICE,
        };
        out.push(finding(
            &words,
            full,
            *max_voltage_v,
            format!("Full charge is {full:.1} V, {:.1} V under the controller's {max_voltage_v:.0} V.", max_voltage_v - full),
        ));
    }
    out
}

fn full_charge_below_controller(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(controller) = &e.document.design.controller else { return Vec::new() };
    let full = e.chain.pack.full_v;
    if full >= controller.min_voltage_v {
        return Vec::new();
    }
    let words = Words {
        rule: "volts.pack-below-controller",
        severity: Severity::Stop,
        part: "controller",
        unit: "V",
        why: "Even a full pack is below the voltage at which the controller starts.",
        change: "Take more cells in series, or a controller for a lower voltage.",
        source: PRACTICE,
    };
    vec![finding(
        &words,
        full,
        controller.min_voltage_v,
        format!("Full charge is {full:.1} V; the controller starts at {:.0} V.", controller.min_voltage_v),
    )]
}

fn charger_voltage(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(Charger { output_min_v, output_max_v, .. }) = &e.document.design.charger else { return Vec::new() };
    let full = e.chain.pack.full_v;
    if full < output_min_v * 0.995 {
        let words = Words {
            rule: "volts.charger-over-pack",
            severity: Severity::Stop,
            part: "charger",
            unit: "V",
            why: "It would overcharge the pack; overcharged lithium cells burn, lead-acid cells boil.",
            change: "Take a charger that ends at the pack's full-charge voltage.",
            source: PRACTICE,
        };
        return vec![finding(
            &words,
            full,
            *output_min_v,
            format!("The charger ends at {output_min_v:.1} V or more; the pack is full at {full:.1} V."),
        )];
    }
    if full > output_max_v * 1.005 {
        let words = Words {
            rule: "volts.charger-under-pack",
            severity: Severity::Warn,
            part: "charger",
            unit: "V",
            why: "The pack never gets full, and its cells are never balanced at the top.",
            change: "Take a charger that reaches the pack's full-charge voltage.",
            source: PRACTICE,
        };
        return vec![finding(
            &words,
            full,
            *output_max_v,
            format!("The charger ends at {output_max_v:.1} V; the pack is full at {full:.1} V."),
        )];
    }
    Vec::new()
}

fn sag_below_cutoff(e: &Evidence<'_>) -> Vec<Finding> {
    let (pack, cutoff) = (&e.chain.pack, e.chain.cutoff_v);
    let Some(controller) = &e.document.design.controller else { return Vec::new() };
    // At the bottom of the window, under the current the controller may ask for.
    let amps = controller.battery_current_a * f64::from(e.document.design.controller_count);
    let low = pack.ocv_v(pack.soc_min) - amps * pack.resistance_ohm;
    if low >= cutoff {
        return Vec::new();
    }
    let words = Words {
        rule: "volts.sag-below-cutoff",
        severity: Severity::Warn,
        part: "pack",
        unit: "V",
        why: "Full throttle on a low pack makes the controller or the cells' protection cut out, often mid-junction.",
        change: "Limit battery amps, add a string in parallel, or stop using the pack earlier.",
        source: PRACTICE,
    };
    vec![finding(
        &words,
        low,
        cutoff,
        format!("At {:.0} % charge and {amps:.0} A the pack sags to {low:.0} V; cut-off is {cutoff:.0} V.", pack.soc_min * 100.0),
    )]
}

fn pack_amps(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(controller) = &e.document.design.controller else { return Vec::new() };
    let asked = controller.battery_current_a * f64::from(e.document.design.controller_count);
    let given = e.chain.pack.burst_a;
    if asked <= given {
        return Vec::new();
    }
    let words = Words {
        rule: "amps.controller-over-pack",
        severity: Severity::Warn,
        part: "pack",
        unit: "A",
        why: "The controller can ask the cells for more than they bear, which heats and ages them; printed rates are optimistic.",
        change: "Set the controller's battery amps to the pack's burst, or add strings in parallel.",
        source: PRACTICE,
    };
    vec![finding(&words, asked, given, format!("The controller may draw {asked:.0} A; the pack gives {given:.0} A in a burst."))]
}

fn motor_speed(e: &Evidence<'_>) -> Vec<Finding> {
    let tops = &e.estimate.performance;
    let capped: Vec<_> = e
        .document
        .brief
        .goals
        .iter()
        .filter_map(|g| match g.measure {
            crate::document::Measure::TopSpeed { at_least_kmh } => Some(at_least_kmh),
            _ => None,
        })
        .collect();
    let Some(wanted_kmh) = capped.into_iter().reduce(f64::max) else { return Vec::new() };
    let Some(tallest) = e.chain.gears.iter().min_by(|a, b| a.ratio.total_cmp(&b.ratio)) else { return Vec::new() };
    let needed_rpm = wanted_kmh / KMH_PER_M_S * tallest.rad_per_m * 30.0 / std::f64::consts::PI;
    let limit_rpm = e.chain.motor.max_speed_rad_s * 30.0 / std::f64::consts::PI;
    if needed_rpm <= limit_rpm || tops.top_speed_kmh >= wanted_kmh {
        return Vec::new();
    }
    let words = Words {
        rule: "speed.motor-too-slow",
        severity: Severity::Warn,
        part: "motor",
        unit: "rpm",
        why: "At the wanted road speed the motor would turn faster than it may, even in the tallest gear.",
        change: "Gear it taller, or take a motor that turns faster.",
        source: PRACTICE,
    };
    vec![finding(
        &words,
        needed_rpm,
        limit_rpm,
        format!("{wanted_kmh:.0} km/h needs {needed_rpm:.0} rpm in the tallest gear; the motor may turn {limit_rpm:.0} rpm."),
    )]
}

fn motor_kind(e: &Evidence<'_>) -> Vec<Finding> {
    let Design { motor: Some(motor), controller: Some(controller), .. } = &e.document.design else { return Vec::new() };
    if controller.motor_kinds.contains(&motor.kind) {
        return Vec::new();
    }
    let words = Words {
        rule: "match.motor-kind",
        severity: Severity::Stop,
        part: "controller",
        unit: "",
        why: "A controller drives only the kinds of motor it is made for.",
        change: "Take a controller for this kind of motor.",
        source: PRACTICE,
    };
    let drives: Vec<&str> = controller.motor_kinds.iter().map(|k| k.word()).collect();
    vec![finding(&words, 0.0, 0.0, format!("The motor is {}; the controller drives {}.", motor.kind.word(), drives.join(", ")))]
}

fn masses(e: &Evidence<'_>) -> Vec<Finding> {
    let (donor, m) = (&e.document.donor, &e.estimate.masses);
    let mut out = Vec::new();
    for (rule, what, found, limit) in [
        ("mass.gross", "Gross mass", m.test_kg, donor.gross_limit_kg),
        ("mass.front-axle", "The front axle", m.front_axle_kg, donor.front_axle_limit_kg),
        ("mass.rear-axle", "The rear axle", m.rear_axle_kg, donor.rear_axle_limit_kg),
    ] {
        if let Some(limit) = limit.filter(|l| found > *l) {
            let words = Words {
                rule,
                severity: Severity::Stop,
                part: "pack",
                unit: "kg",
                why: "Brakes, tyres, springs and the road approval hold only up to the rated mass.",
                change: "Take a lighter pack, carry less, or have the vehicle re-rated by the authority.",
                source: "vehicle's rating plate; local road law",
            };
            out.push(finding(&words, found, limit, format!("{what} comes to {found:.0} kg laden; it is rated for {limit:.0} kg.")));
        }
    }
    out
}

fn fuse(e: &Evidence<'_>) -> Vec<Finding> {
    let wiring = &e.document.design.wiring;
    let full = e.chain.pack.full_v;
    let Some(fuse_a) = wiring.fuse_a else {
        let words = Words {
            rule: "safety.no-fuse",
            severity: Severity::Warn,
            part: "wiring",
            unit: "A",
            why: "A short circuit of an unfused pack cannot be switched off; it burns cable, tool and hand.",
            change: "Put a direct-current fuse and a service disconnect close to the pack.",
            source: "ISO 6469-3",
        };
        return vec![finding(&words, 0.0, e.chain.pack.burst_a, "No pack fuse has been chosen.".to_owned())];
    };
    let mut out = Vec::new();
    if let Some(volts) = wiring.fuse_voltage_v.filter(|v| full > *v) {
        let words = Words {
            rule: "volts.full-charge-over-fuse",
            severity: Severity::Stop,
            part: "wiring",
            unit: "V",
            why: "A fuse above its direct voltage keeps arcing instead of breaking.",
            change: "Take a fuse rated for direct current above the full-charge voltage.",
            source: "IEC 60269",
        };
        out.push(finding(&words, full, volts, format!("Full charge is {full:.1} V; the fuse breaks up to {volts:.0} V.")));
    }
    let asked_a =
        e.document.design.controller.as_ref().map_or(0.0, |c| c.battery_current_a) * f64::from(e.document.design.controller_count);
    if asked_a > crate::estimate::FUSE_BURST * fuse_a {
        let words = Words {
            rule: "amps.controller-over-fuse",
            severity: Severity::Warn,
            part: "wiring",
            unit: "A",
            why: "Full throttle may open the fuse on the road.",
            change: "Limit the controller's battery amps, or take a larger fuse with the cable to match.",
            source: PRACTICE,
        };
        out.push(finding(&words, asked_a, fuse_a, format!("The controller may draw {asked_a:.0} A; the fuse is {fuse_a:.0} A.")));
    }
    if let Some(cable_a) = wiring.cable_current_a.filter(|c| fuse_a > 1.5 * c) {
        let words = Words {
            rule: "amps.fuse-over-cable",
            severity: Severity::Warn,
            part: "wiring",
            unit: "A",
            why: "The cable would burn before the fuse opens.",
            change: "Take a smaller fuse or a thicker cable.",
            source: PRACTICE,
        };
        out.push(finding(&words, fuse_a, cable_a, format!("The fuse is {fuse_a:.0} A; the cable bears {cable_a:.0} A for ever.")));
    }
    out
}

fn cable(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(cable_a) = e.document.design.wiring.cable_current_a else { return Vec::new() };
    let Some(trip) = e.estimate.trips.iter().max_by(|a, b| a.rms_current_a.total_cmp(&b.rms_current_a)) else { return Vec::new() };
    if trip.rms_current_a <= cable_a {
        return Vec::new();
    }
    let words = Words {
        rule: "amps.cable-too-thin",
        severity: Severity::Stop,
        part: "wiring",
        unit: "A",
        why: "The cable overheats on an ordinary trip.",
        change: "Take a thicker cable.",
        source: PRACTICE,
    };
    vec![finding(
        &words,
        trip.rms_current_a,
        cable_a,
        format!("{} asks {:.0} A (RMS); the cable bears {cable_a:.0} A.", trip.name, trip.rms_current_a),
    )]
}

fn monitoring(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(pack) = &e.document.design.pack else { return Vec::new() };
    if pack.monitored || !pack.modules().any(|m| m.chemistry.is_lithium()) {
        return Vec::new();
    }
    let words = Words {
        rule: "safety.lithium-unmonitored",
        severity: Severity::Warn,
        part: "pack",
        unit: "",
        why: "One weak cell is overcharged or reversed while the pack's voltage looks right; lithium cells then burn.",
        change: "Watch every cell with a management system, or by a strict written routine at each charge.",
        source: "common practice; schools differ on the routine",
    };
    vec![finding(&words, 0.0, 0.0, format!("{} cells in series are not watched one by one.", pack.cells_in_series()))]
}

fn series_motor(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(motor) = &e.document.design.motor else { return Vec::new() };
    if motor.kind != crate::library::MotorKind::SeriesDc {
        return Vec::new();
    }
    let words = Words {
        rule: "safety.series-motor-unloaded",
        severity: Severity::Note,
        part: "motor",
        unit: "",
        why: "A series motor without load speeds up until it bursts.",
        change: "Never run it at more than a few volts out of gear; fit an overspeed cut-out.",
        source: PRACTICE,
    };
    vec![finding(&words, 0.0, 0.0, "The motor is series-wound: never run it unloaded.".to_owned())]
}

fn trace_not_followed(e: &Evidence<'_>) -> Vec<Finding> {
    let words = Words {
        rule: "trip.not-followed",
        severity: Severity::Warn,
        part: "chain",
        unit: "s",
        why: "The vehicle falls behind the traffic this trip assumes; driven slower it would use less, so neither range nor energy is told.",
        change: "Look at the tightest link, or ask less of the trip.",
        source: "tolerance of 2 km/h: UN GTR No. 15",
    };
    e.estimate
        .trips
        .iter()
        .filter(|t| !t.followed)
        .map(|t| {
            let message = format!("{}: {:.0} s behind the trace, {:.2} km short.", t.name, t.off_trace_s, t.lost_km);
            let most_s = MOST_OFF_TRACE * t.duration_s;
            if t.off_trace_s > most_s {
                return finding(&words, t.off_trace_s, most_s, message);
            }
            finding(&Words { unit: "m", ..words }, 1000.0 * t.lost_km, 1000.0 * MOST_LOST * t.distance_km, message)
        })
        .collect()
}

fn hazardous_voltage(e: &Evidence<'_>) -> Vec<Finding> {
    let full = e.chain.pack.full_v;
    if full <= 60.0 {
        return Vec::new();
    }
    let words = Words {
        rule: "safety.hazardous-voltage",
        severity: Severity::Note,
        part: "pack",
        unit: "V",
        why: "More than 60 V of direct current can kill, and a pack cannot be switched off.",
        change: "Work on it with two people, insulated tools and rated gloves, without jewellery; wait and measure before touching. Local code and licensed practice come first.",
        source: "UN R100, ISO 6469-3",
    };
    vec![finding(&words, full, 60.0, format!("The pack reaches {full:.0} V; above 60 V counts as hazardous."))]
}
