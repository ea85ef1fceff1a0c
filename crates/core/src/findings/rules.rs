//! The rules themselves.

use super::rule::{Rule, finding};
use super::{Evidence, Finding, charging, electrics, trust};
use crate::document::{Design, HAZARDOUS_V, assumed_of_axles, stated_front_share};
use crate::layout::{Rated, laden};
use crate::library::{Controller, Motor};
use crate::limits::{
    LEAST_FRONT_SHARE, controller_over_pack, full_charge_over, fuse_over_cable, lacks_headroom, lowest_v, over_rating, pack_below,
    sags_below, too_heavy_for_bare_pouch, too_light_in_front,
};
use crate::quantity::units::{KMH_PER_M_S, RAD_S_PER_RPM};
use crate::quantity::{Sentence, figure, sentence};
use crate::simulate::{MOST_LOST, MOST_OFF_TRACE};

type Check = fn(&Evidence<'_>) -> Vec<Finding>;

/// Every rule, in the order shown among findings of the same gravity.
pub(super) const ALL: &[Check] = &[
    full_charge_above_ratings,
    full_charge_below_controller,
    charging::charger_voltage,
    charging::station_voltage,
    sag_below_cutoff,
    pack_amps,
    motor_speed,
    motor_kind,
    own_reduction,
    bare_pouch,
    masses,
    super::layout::places,
    super::layout::routes,
    super::mechanics::drive,
    super::layout::network,
    fuse,
    cable,
    electrics::protection,
    electrics::fitted,
    electrics::switching,
    electrics::charge_rate,
    electrics::brakes,
    electrics::insulation,
    electrics::low_voltage,
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

fn full_charge_above_ratings(e: &Evidence<'_>) -> Vec<Finding> {
    let full = e.chain.pack.full_v;
    let Design { motor, controller, .. } = &e.document.design;
    let mut out = Vec::new();
    if let Some(Controller { max_voltage_v, .. }) = controller
        && full_charge_over(full, *max_voltage_v)
    {
        out.push(finding(
            Rule::FullChargeOverController,
            full,
            *max_voltage_v,
            sentence!("Full charge is {}; the controller maximum is {}.", figure(full, "V", 1), figure(*max_voltage_v, "V", 0)),
        ));
    }
    if let Some(Motor { max_voltage_v: Some(limit), .. }) = motor
        && full_charge_over(full, *limit)
    {
        out.push(finding(
            Rule::FullChargeOverMotor,
            full,
            *limit,
            sentence!("Full charge is {}; the motor is rated to {}.", figure(full, "V", 1), figure(*limit, "V", 0)),
        ));
    }
    if let Some(Controller { max_voltage_v, .. }) = controller
        && !full_charge_over(full, *max_voltage_v)
        && lacks_headroom(full, *max_voltage_v)
        && e.document.design.regeneration.share_or_usual() > 0.0
        && e.document.design.motor.as_ref().is_none_or(|m| m.kind.regenerates())
    {
        out.push(finding(
            Rule::RegenerationHeadroom,
            full,
            *max_voltage_v,
            sentence!(
                "Full charge is {}, {} under the controller's {}.",
                figure(full, "V", 1),
                figure(max_voltage_v - full, "V", 1),
                figure(*max_voltage_v, "V", 0)
            ),
        ));
    }
    out
}

fn full_charge_below_controller(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(controller) = &e.document.design.controller else { return Vec::new() };
    let full = e.chain.pack.full_v;
    if !pack_below(full, controller.min_voltage_v) {
        return Vec::new();
    }
    vec![finding(
        Rule::PackBelowController,
        full,
        controller.min_voltage_v,
        sentence!("Full charge is {}; the controller starts at {}.", figure(full, "V", 1), figure(controller.min_voltage_v, "V", 0)),
    )]
}

fn sag_below_cutoff(e: &Evidence<'_>) -> Vec<Finding> {
    let (pack, cutoff) = (&e.chain.pack, e.chain.cutoff_v);
    let Some(controller) = &e.document.design.controller else { return Vec::new() };
    // At the bottom of the window, under the current the controller may ask for.
    let amps = controller.battery_current_a * f64::from(e.document.design.controller_count);
    let low = lowest_v(pack.ocv_v(pack.soc_min), pack.resistance_ohm, amps);
    if !sags_below(low, cutoff) {
        return Vec::new();
    }
    vec![finding(
        Rule::SagBelowCutoff,
        low,
        cutoff,
        sentence!(
            "At {} charge and {} the pack sags to {}; cut-off is {}.",
            figure(pack.soc_min * 100.0, "%", 0),
            figure(amps, "A", 0),
            figure(low, "V", 0),
            figure(cutoff, "V", 0)
        ),
    )]
}

fn pack_amps(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(controller) = &e.document.design.controller else { return Vec::new() };
    let asked = controller.battery_current_a * f64::from(e.document.design.controller_count);
    let given = e.chain.pack.peak_a;
    if !controller_over_pack(asked, given) {
        return Vec::new();
    }
    vec![finding(
        Rule::ControllerOverPack,
        asked,
        given,
        sentence!("The controller may draw {}; the pack gives {} at peak.", figure(asked, "A", 0), figure(given, "A", 0)),
    )]
}

fn motor_speed(e: &Evidence<'_>) -> Vec<Finding> {
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
    let needed_rpm = wanted_kmh / KMH_PER_M_S * tallest.rad_per_m / RAD_S_PER_RPM;
    let limit_rpm = e.chain.motor.max_speed_rad_s / RAD_S_PER_RPM;
    if needed_rpm <= limit_rpm || e.estimate.performance.top_speed_kmh >= wanted_kmh {
        return Vec::new();
    }
    vec![finding(
        Rule::MotorTooSlow,
        needed_rpm,
        limit_rpm,
        sentence!(
            "{} needs {} in the tallest gear; the motor may turn {}.",
            figure(wanted_kmh, "km/h", 0),
            figure(needed_rpm, "rpm", 0),
            figure(limit_rpm, "rpm", 0)
        ),
    )]
}

fn motor_kind(e: &Evidence<'_>) -> Vec<Finding> {
    let Design { motor: Some(motor), controller: Some(controller), .. } = &e.document.design else { return Vec::new() };
    if controller.motor_kinds.contains(&motor.kind) {
        return Vec::new();
    }
    let drives: Vec<&str> = controller.motor_kinds.iter().map(|k| k.word()).collect();
    vec![finding(Rule::MotorKind, 0.0, 0.0, sentence!("The motor is {}; the controller drives {}.", motor.kind.word(), drives.join(", ")))]
}

fn own_reduction(e: &Evidence<'_>) -> Vec<Finding> {
    let (Some(motor), driveline) = (&e.document.design.motor, e.document.driveline()) else { return Vec::new() };
    let followed_by = driveline.gears.len() + driveline.ranges.len() + driveline.stages.len();
    let placed = e.document.donor.takes_drive_units();
    let Some(ratio) = motor.own_reduction.filter(|_| followed_by > 0 || !placed) else { return Vec::new() };
    let overall = e.chain.gears.iter().map(|g| g.ratio).fold(0.0, f64::max);
    let message = if placed {
        sentence!(
            "The unit gears down {} : 1 itself and drives half-shafts; with what follows it {} : 1.",
            figure(ratio, "", 1),
            figure(overall, "", 1)
        )
    } else {
        sentence!("The unit gears down {} : 1 itself and drives half-shafts; this donor has no place for them.", figure(ratio, "", 1))
    };
    vec![finding(Rule::UnitIntoGearbox, overall, ratio, message)]
}

fn bare_pouch(e: &Evidence<'_>) -> Vec<Finding> {
    let donor = &e.document.donor;
    let bare = e.document.design.pack.as_ref().is_some_and(|p| p.module.is_bare_pouch());
    let Some(limit) = too_heavy_for_bare_pouch(donor.curb_mass_kg).filter(|_| bare) else { return Vec::new() };
    let message = sentence!(
        "The donor weighs {}; bare pouch cells belong in vehicles up to {}.",
        figure(donor.curb_mass_kg, "kg", 0),
        figure(limit, "kg", 0)
    );
    vec![finding(Rule::BarePouch, donor.curb_mass_kg, limit, message)]
}

fn masses(e: &Evidence<'_>) -> Vec<Finding> {
    let assumed = assumed_of_axles(e.document);
    // What is assumed of the places is said beside the axle, so that whoever knows better says so.
    let assuming = if assumed.is_empty() { Sentence::default() } else { sentence!(" Assumed: {}.", assumed.join(", ")) };
    let (laden, limits) = laden(e.document);
    let mut out = Vec::new();
    for limit in limits.iter().filter(|l| over_rating(l.laden_kg, l.limit_kg)) {
        let (rule, assuming) = match limit.of {
            Rated::Gross => (Rule::MassGross, Sentence::default()),
            Rated::FrontAxle => (Rule::MassFrontAxle, assuming.clone()),
            Rated::RearAxle => (Rule::MassRearAxle, assuming.clone()),
            Rated::FrontTyre | Rated::RearTyre => (Rule::MassTyre, assuming.clone()),
        };
        let message = sentence!(
            "{} comes to {} laden; it is rated for {}.",
            limit.of.words().1,
            figure(limit.laden_kg, "kg", 0),
            figure(limit.limit_kg, "kg", 0)
        );
        out.push(finding(rule, limit.laden_kg, limit.limit_kg, message.then(assuming)));
    }
    // Of what has been weighed or stated as a whole the places say nothing.
    if stated_front_share(e.document).is_none() && too_light_in_front(laden.front_share) {
        let message = sentence!(
            "{} of the laden mass is on the front axle; {} at least keeps it steering.",
            figure(100.0 * laden.front_share, "%", 0),
            figure(100.0 * LEAST_FRONT_SHARE, "%", 0)
        );
        out.push(finding(Rule::MassLightFront, laden.front_share, LEAST_FRONT_SHARE, message.then(assuming)));
    }
    out
}

fn fuse(e: &Evidence<'_>) -> Vec<Finding> {
    let wiring = &e.sizing.wiring;
    let full = e.chain.pack.full_v;
    let Some(fuse_a) = wiring.fuse_a else {
        return vec![finding(Rule::NoFuse, 0.0, e.chain.pack.peak_a, "No pack fuse has been chosen.")];
    };
    let mut out = Vec::new();
    if let Some(volts) = wiring.fuse_voltage_v.filter(|v| full_charge_over(full, *v)) {
        out.push(finding(
            Rule::FullChargeOverFuse,
            full,
            volts,
            sentence!("Full charge is {}; the fuse breaks up to {}.", figure(full, "V", 1), figure(volts, "V", 0)),
        ));
    }
    let asked_a = e.sizing.peak_a;
    if asked_a > e.sizing.holds * fuse_a {
        out.push(finding(
            Rule::ControllerOverFuse,
            asked_a,
            fuse_a,
            sentence!("The controller may draw {}; the fuse is {}.", figure(asked_a, "A", 0), figure(fuse_a, "A", 0)),
        ));
    }
    if let Some(cable_a) = e.sizing.cable_a().filter(|c| fuse_over_cable(fuse_a, *c)) {
        out.push(finding(
            Rule::FuseOverCable,
            fuse_a,
            cable_a,
            sentence!("The fuse is {}; the cable is rated for {} continuous.", figure(fuse_a, "A", 0), figure(cable_a, "A", 0)),
        ));
    }
    out
}

fn cable(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(cable_a) = e.sizing.cable_a() else { return Vec::new() };
    let Some(trip) = e.estimate.trips.iter().max_by(|a, b| a.rms_current_a.total_cmp(&b.rms_current_a)) else { return Vec::new() };
    if trip.rms_current_a <= cable_a {
        return Vec::new();
    }
    vec![finding(
        Rule::CableTooThin,
        trip.rms_current_a,
        cable_a,
        sentence!("{} asks {} (RMS); the cable is rated for {}.", &trip.name, figure(trip.rms_current_a, "A", 0), figure(cable_a, "A", 0)),
    )]
}

fn monitoring(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(pack) = &e.document.design.pack else { return Vec::new() };
    if e.document.design.monitored() || !pack.has_lithium() {
        return Vec::new();
    }
    vec![finding(Rule::LithiumUnmonitored, 0.0, 0.0, sentence!("{} cells in series have no cell monitoring.", pack.cells_in_series()))]
}

fn series_motor(e: &Evidence<'_>) -> Vec<Finding> {
    let Some(motor) = &e.document.design.motor else { return Vec::new() };
    if motor.kind != crate::library::MotorKind::SeriesDc {
        return Vec::new();
    }
    vec![finding(Rule::SeriesMotorUnloaded, 0.0, 0.0, "The motor is series-wound: never run it unloaded.")]
}

fn trace_not_followed(e: &Evidence<'_>) -> Vec<Finding> {
    e.estimate
        .trips
        .iter()
        .filter(|t| !t.followed)
        .map(|t| {
            let message =
                sentence!("{}: {} behind the trace, {} short.", &t.name, figure(t.off_trace_s, "s", 0), figure(t.lost_km, "km", 2));
            let most_s = MOST_OFF_TRACE * t.duration_s;
            if t.off_trace_s > most_s {
                return finding(Rule::NotFollowed, t.off_trace_s, most_s, message);
            }
            Finding { unit: "m".to_owned(), ..finding(Rule::NotFollowed, 1000.0 * t.lost_km, 1000.0 * MOST_LOST * t.distance_km, message) }
        })
        .collect()
}

fn hazardous_voltage(e: &Evidence<'_>) -> Vec<Finding> {
    let full = e.chain.pack.full_v;
    if full <= HAZARDOUS_V {
        return Vec::new();
    }
    vec![finding(
        Rule::HazardousVoltage,
        full,
        HAZARDOUS_V,
        sentence!("The pack reaches {}; above 60 V counts as hazardous.", figure(full, "V", 0)),
    )]
}
