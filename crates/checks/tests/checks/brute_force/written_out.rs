//! What a search has to find, written out again: every combination estimated in full, without bounds or order.

use super::Problem;
use joulethesis_core::document::{Design, GoalLevel, MatchRequest, Measure, MotorPlace, PackApproach, VehicleKind};
use joulethesis_core::library::{MotorKind, Part};
use joulethesis_core::matching::{Pick, designs_of, gearings};
use joulethesis_core::report::{Report, report};
use rayon::prelude::*;

/// Rules that every match keeps.
const KEPT: [&str; 11] = [
    "match.unit-into-gearbox",
    "pack.bare-pouch",
    "match.motor-kind",
    "volts.full-charge-over-controller",
    "volts.full-charge-over-motor",
    "volts.pack-below-controller",
    "volts.charger-over-pack",
    "volts.charger-under-pack",
    "amps.controller-over-pack",
    "volts.sag-below-cutoff",
    "mass.gross",
];

/// Cost, range, run, added mass, charge and hill.
type Six = [f64; 6];

fn mounts(kind: MotorKind, vehicle: VehicleKind) -> Vec<(MotorPlace, u32)> {
    match (kind, vehicle) {
        (MotorKind::Hub, VehicleKind::Motorcycle | VehicleKind::Sled) => vec![(MotorPlace::Wheels, 1)],
        (MotorKind::Hub, VehicleKind::Trike) => vec![(MotorPlace::Wheels, 2)],
        (MotorKind::Hub, _) => vec![(MotorPlace::Wheels, 2), (MotorPlace::EveryWheel, 4)],
        _ => vec![(MotorPlace::Shaft, 1)],
    }
}

/// Every combination that is to be looked at.
pub(super) fn every_pick(p: &Problem) -> Vec<Pick> {
    let mut all = Vec::new();
    let top_v = p.library.iter().map(|c| if let Part::Controller(c) = c { c.max_voltage_v } else { 0.0 }).fold(0.0, f64::max);
    let mut chargers: Vec<Option<String>> =
        p.library.iter().filter(|c| matches!(c, Part::Charger(_))).map(|c| Some(c.name().to_owned())).collect();
    if chargers.is_empty() {
        chargers.push(None);
    }
    let geared = |in_wheels: bool, unit: bool| {
        let allowed = |id: &String| p.request.gearings.is_empty() || p.request.gearings.contains(id);
        gearings(&p.document).into_iter().filter(move |g| (g.in_wheels, g.for_units) == (in_wheels, unit) && allowed(&g.id)).map(|g| g.id)
    };
    for part in &p.library {
        let Part::Motor(motor) = part else { continue };
        for (motor_place, motor_count) in mounts(motor.kind, p.document.donor.kind) {
            for gearing in geared(motor_place != MotorPlace::Shaft, motor.own_reduction.is_some()) {
                for controller in p.library.iter().filter(|c| matches!(c, Part::Controller(_))) {
                    for module in &p.library {
                        let Part::Module(cell) = module else { continue };
                        let most = (top_v / (cell.full_voltage_v * f64::from(cell.cells_in_series)) + 1e-9).floor().min(400.0) as u32;
                        for modules_in_series in 1..=most {
                            for strings_in_parallel in 1..=p.request.most_in_parallel {
                                all.extend(chargers.iter().map(|charger| Pick {
                                    motor: motor.name.clone(),
                                    motor_count,
                                    motor_place,
                                    gearing: gearing.clone(),
                                    controller: controller.name().to_owned(),
                                    module: cell.name.clone(),
                                    modules_in_series,
                                    strings_in_parallel,
                                    charger: charger.clone(),
                                }));
                            }
                        }
                    }
                }
            }
        }
    }
    all
}

/// The six figures as the report of the design tells them.
fn figures(p: &Problem, r: &Report) -> Six {
    let trip = p.request.trip.as_ref().map(|id| r.trips.iter().find(|t| t.trip == *id).expect("asked for"));
    let run = p.request.acceleration.expect("named");
    let run = r.performance.accelerations.iter().find(|s| (s.from_kmh, s.to_kmh) == (run.from_kmh, run.to_kmh)).expect("asked for");
    let kmh = p.request.hill_kmh.expect("named");
    let hill = r.performance.hills.at_speed.iter().find(|h| h.speed_kmh == kmh);
    let goals = &p.document.brief.goals;
    let ten = goals.iter().any(|g| matches!(g.measure, Measure::HillAtSpeed { ten_minutes: true, continuous: false, .. }));
    let socket = p.request.socket.as_ref().map(|id| r.charging.iter().find(|s| s.socket == *id).expect("asked for"));
    [
        r.cost.net,
        trip.map_or(0.0, |t| t.range_km.unwrap_or(f64::NEG_INFINITY)),
        run.time_s.unwrap_or(f64::INFINITY),
        r.masses.change_kg,
        socket.map_or(0.0, |s| s.window.and_then(|w| w.hours_h).unwrap_or(f64::INFINITY)),
        hill.map_or(f64::NAN, |h| if ten { h.ten_minutes.grade_percent } else { h.continuous.grade_percent }),
    ]
}

/// Steps of a figure that a person tells apart: of `resolution` where the brief asks for it (money and mass always), three times as wide
/// where it does not, and there `widened` times as wide again; half as much again as asked is enough.
fn bins(p: &Problem, six: &Six, widened: u32) -> [i32; 6] {
    let step = (p.request.resolution_percent / 100.0).ln_1p();
    let (run, kmh) = (p.request.acceleration.expect("named"), p.request.hill_kmh.expect("named"));
    let goals = &p.document.brief.goals;
    let held = goals.iter().any(|g| {
        matches!(g.measure, Measure::HillAtSpeed { speed_kmh, continuous, ten_minutes, .. } if speed_kmh == kmh && (continuous || ten_minutes))
    });
    let target = |axis: usize| {
        goals.iter().find_map(|g| match (&g.measure, axis) {
            (Measure::Cost { at_most }, 0) => Some(*at_most),
            (Measure::Range { trip, at_least_km }, 1) if Some(trip) == p.request.trip.as_ref() => {
                Some(at_least_km * range_share(&p.request))
            }
            (Measure::Acceleration { from_kmh, to_kmh, at_most_s }, 2) if (*from_kmh, *to_kmh) == (run.from_kmh, run.to_kmh) => {
                Some(*at_most_s)
            }
            (Measure::AddedMass { at_most_kg }, 3) => Some(*at_most_kg),
            (Measure::ChargeTime { socket, at_most_h }, 4) if Some(socket) == p.request.socket.as_ref() => Some(*at_most_h),
            (Measure::HillAtSpeed { speed_kmh, at_least_percent, continuous, ten_minutes }, 5)
                if *speed_kmh == kmh && held && (*continuous || *ten_minutes) =>
            {
                Some(*at_least_percent)
            }
            _ => None,
        })
    };
    let less_is_better = |axis: usize, x: f64| match axis {
        0 => x.max(1.0),
        1 | 5 => 1.0 / x.max(1e-6),
        3 => (p.document.donor.curb_mass_kg + x).max(1.0),
        _ => x.max(1e-3),
    };
    std::array::from_fn(|axis| {
        let plays = match axis {
            1 => p.request.trip.is_some(),
            4 => p.request.socket.is_some(),
            _ => true,
        };
        if !plays {
            return 0;
        }
        let target = target(axis);
        // Steps of money are doubled once at most.
        let own = if target.is_some() { 1.0 } else { f64::from(if axis == 0 { widened.min(2) } else { widened }) };
        let width = own * if target.is_some() || axis == 0 || axis == 3 { step } else { 3.0 * step };
        let enough = target.filter(|_| axis != 0 && axis != 3).map_or(0.0, |t| less_is_better(axis, t) / 1.5);
        let x = less_is_better(axis, six[axis]).max(enough);
        if x.is_finite() { (x.ln() / width).floor() as i32 } else { i32::MAX }
    })
}

fn range_share(request: &MatchRequest) -> f64 {
    match request.pack {
        PackApproach::Big => 1.0,
        PackApproach::Small { range_share, .. } => range_share,
    }
}

/// What a design reaches when it keeps every rule and meets every goal that it must.
fn judged(p: &Problem, design: Design) -> Option<Six> {
    let r = report(&p.document.with(|d| d.design = design).expect("sound")).expect("complete");
    if r.findings.iter().any(|f| KEPT.contains(&f.rule.id())) {
        return None;
    }
    let asked = |id: &str| {
        p.document.brief.goals.iter().any(|g| {
            g.level == GoalLevel::Required
                && matches!(&g.measure, Measure::Range { trip, .. } | Measure::EnergyUse { trip, .. } if trip == id)
        })
    };
    let driven = |id: &str| p.request.trip.as_deref() == Some(id) || asked(id);
    if r.trips.iter().any(|t| driven(&t.trip) && !(t.followed && t.range_derated_s == 0.0)) {
        return None;
    }
    let meets = r.claims.iter().filter(|c| c.level == GoalLevel::Required).all(|c| {
        let share = if c.figure.ends_with(".range_km") { range_share(&p.request) } else { 1.0 };
        c.predicted.is_some_and(|x| if c.more_is_better { x >= c.target * share } else { x <= c.target })
    });
    let six = figures(p, &r);
    let charged = !matches!(p.request.pack, PackApproach::Small { charge_h, .. } if six[4] > charge_h);
    (meets && charged).then_some(six)
}

/// What every pick that will do reaches.
pub(super) fn all_that_do<'a>(p: &Problem, picks: &'a [Pick]) -> Vec<(&'a Pick, Six)> {
    let each = picks.par_chunks(16).flat_map_iter(|some| {
        let designs = designs_of(&p.document, &p.library, &p.request, some).expect("picks of the library");
        some.iter().zip(designs).filter_map(|(pick, design)| Some((pick, judged(p, design)?)))
    });
    each.collect()
}

/// Designs that none beats: no worse in every step and better in one; among equals the one that is better in narrower steps, the cheaper, the
/// lighter, the one named first.
pub(super) fn by_brute_force(p: &Problem, all: &[(&Pick, Six)], widened: u32) -> Vec<(String, [u64; 6])> {
    let places = [MotorPlace::Shaft, MotorPlace::Wheels, MotorPlace::EachAxle, MotorPlace::EveryWheel];
    let ways: Vec<String> = gearings(&p.document).into_iter().map(|g| g.id).collect();
    let order = |k: &Pick| {
        let place = places.iter().position(|x| *x == k.motor_place);
        let names = (k.motor.clone(), k.motor_count, place, ways.iter().position(|w| *w == k.gearing), k.controller.clone());
        (names, k.module.clone(), k.modules_in_series, k.strings_in_parallel, k.charger.clone())
    };
    let mut sound: Vec<(&Pick, Six, [i32; 6])> = all.iter().map(|(pick, six)| (*pick, *six, bins(p, six, widened))).collect();
    let sums = |six: &Six| {
        let halves = std::iter::successors(Some(widened / 2), |w| Some(w / 2)).take_while(|w| *w > 0);
        halves.map(|w| bins(p, six, w).iter().map(|x| i64::from(*x)).sum()).collect::<Vec<i64>>()
    };
    sound.sort_by(|a, b| {
        let narrower = sums(&a.1).cmp(&sums(&b.1));
        narrower.then(a.1[0].total_cmp(&b.1[0])).then(a.1[3].total_cmp(&b.1[3])).then_with(|| order(a.0).cmp(&order(b.0)))
    });
    let covers = |a: &[i32; 6], b: &[i32; 6]| a.iter().zip(b).all(|(a, b)| a <= b);
    let dominated = |i: usize| sound.iter().enumerate().any(|(j, o)| j != i && covers(&o.2, &sound[i].2) && (o.2 != sound[i].2 || j < i));
    let kept = (0..sound.len()).filter(|i| !dominated(*i));
    kept.map(|i| (format!("{:?}", sound[i].0), sound[i].1.map(f64::to_bits))).collect()
}
