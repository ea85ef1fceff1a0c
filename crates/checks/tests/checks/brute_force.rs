//! The search held against brute force: every combination of a small library estimated in full, without bounds or order. What "dominated"
//! means is written out again here (docs/METHODS.md, the search), so that the two agree only if both are right.

use std::cell::Cell;

use crate::common::cases;
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{
    AccelerationRange, Checked, Document, Goal, GoalLevel, MatchRequest, Measure, MotorPlace, PackApproach, VehicleKind,
};
use joulethesis_core::library::{Controller, MotorKind, Part, builtin};
use joulethesis_core::matching::{Match, Pick, design_of, gearings, search};
use joulethesis_core::report::{Report, report};
use proptest::prelude::*;
use proptest::test_runner::TestRunner;
use rayon::prelude::*;
use serde_json::json;

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

/// A vehicle, what is asked of it, and what of the library may be used.
struct Problem {
    document: Checked,
    library: Vec<Part>,
    request: MatchRequest,
}

/// A demo with its goals made easier, and what counts in the search named in the request and computed by every report.
fn brief(name: &str, ease: f64, request: MatchRequest) -> (Checked, MatchRequest) {
    let mut value = crate::common::documents::unused_demo(name);
    value["brief"]["schedules"] = json!([]);
    let document = Document::from_value(&value).expect("sound");
    let goals = || document.brief.goals.iter().map(|g| &g.measure);
    let trip = goals().find_map(|m| if let Measure::Range { trip, .. } = m { Some(trip.clone()) } else { None });
    let run = goals().find_map(|m| if let Measure::Acceleration { from_kmh, to_kmh, .. } = m { Some((*from_kmh, *to_kmh)) } else { None });
    let hill = goals().find_map(|m| match m {
        Measure::HillAtSpeed { speed_kmh, continuous, ten_minutes, .. } if *continuous || *ten_minutes => Some(*speed_kmh),
        _ => None,
    });
    let (from_kmh, to_kmh) = run.unwrap_or((0.0, 50.0));
    let request = MatchRequest {
        trip: trip.or_else(|| document.brief.trips.first().map(|t| t.id.clone())),
        acceleration: Some(AccelerationRange { from_kmh, to_kmh }),
        hill_kmh: Some(hill.unwrap_or(30.0)),
        socket: document.brief.sockets.first().map(|s| s.id.clone()),
        ..request
    };
    let document = document
        .with(|d| {
            // A report holds runs and hills that somebody asks for.
            d.brief.performance.accelerations.push(AccelerationRange { from_kmh, to_kmh });
            if hill.is_none() {
                let measure = Measure::HillAtSpeed { speed_kmh: 30.0, at_least_percent: 3.0, continuous: true, ten_minutes: false };
                d.brief.goals.push(Goal {
                    id: "hill".to_owned(),
                    name: String::new(),
                    level: GoalLevel::Wanted,
                    weight: 1.0,
                    assumed: false,
                    measure,
                });
            }
            for goal in &mut d.brief.goals {
                match &mut goal.measure {
                    Measure::Range { at_least_km: x, .. }
                    | Measure::HillStart { at_least_percent: x }
                    | Measure::HillAtSpeed { at_least_percent: x, .. }
                    | Measure::TopSpeed { at_least_kmh: x } => *x *= ease,
                    Measure::Cost { at_most: x }
                    | Measure::EnergyUse { at_most_wh_per_km: x, .. }
                    | Measure::Acceleration { at_most_s: x, .. }
                    | Measure::ChargeTime { at_most_h: x, .. } => *x /= ease,
                    Measure::AddedMass { at_most_kg: x } => *x += 200.0,
                    Measure::SpeedLimit { .. } | Measure::PowerLimit { .. } => {}
                }
            }
        })
        .expect("sound");
    (document, request)
}

fn mounts(kind: MotorKind, vehicle: VehicleKind) -> Vec<(MotorPlace, u32)> {
    match (kind, vehicle) {
        (MotorKind::Hub, VehicleKind::Motorcycle | VehicleKind::Sled) => vec![(MotorPlace::Wheels, 1)],
        (MotorKind::Hub, VehicleKind::Trike) => vec![(MotorPlace::Wheels, 2)],
        (MotorKind::Hub, _) => vec![(MotorPlace::Wheels, 2), (MotorPlace::EveryWheel, 4)],
        _ => vec![(MotorPlace::Shaft, 1)],
    }
}

/// Every combination that is to be looked at.
fn every_pick(p: &Problem) -> Vec<Pick> {
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
        let own = if target.is_some() { 1.0 } else { f64::from(widened) };
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
fn judged(p: &Problem, pick: &Pick) -> Option<Six> {
    let design = design_of(&p.document, &p.library, &p.request, pick).expect("a pick of the library");
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

/// Designs that none beats: no worse in every step and better in one; among equals the one that is better in narrower steps, the cheaper, the
/// lighter, the one named first.
fn by_brute_force(p: &Problem, picks: &[Pick], widened: u32) -> Vec<(String, [u64; 6])> {
    let places = [MotorPlace::Shaft, MotorPlace::Wheels, MotorPlace::EachAxle, MotorPlace::EveryWheel];
    let ways: Vec<String> = gearings(&p.document).into_iter().map(|g| g.id).collect();
    let order = |k: &Pick| {
        let place = places.iter().position(|x| *x == k.motor_place);
        let names = (k.motor.clone(), k.motor_count, place, ways.iter().position(|w| *w == k.gearing), k.controller.clone());
        (names, k.module.clone(), k.modules_in_series, k.strings_in_parallel, k.charger.clone())
    };
    let mut sound: Vec<(&Pick, Six, [i32; 6])> =
        picks.par_iter().filter_map(|k| judged(p, k).map(|six| (k, six, bins(p, &six, widened)))).collect();
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

/// Holds the search against brute force; how many designs are kept, and how wide steps became.
fn same(p: &Problem) -> Result<(usize, u32), TestCaseError> {
    let answer = search(&p.document, &p.library, &p.request, &Cancel::new(), |_| true).expect("sound");
    let of = |m: &Match| {
        let never = f64::INFINITY;
        [m.cost, m.range_km.unwrap_or(0.0), m.acceleration_s.unwrap_or(never), m.added_kg, m.charge_h.unwrap_or(never), m.hill_percent]
    };
    let mut got: Vec<(String, [u64; 6])> = answer.designs.iter().map(|m| (format!("{:?}", m.pick), of(m).map(f64::to_bits))).collect();
    let picks = every_pick(p);
    let mut want = by_brute_force(p, &picks, answer.widened);
    want.sort();
    got.sort();
    prop_assert_eq!(&got, &want, "search and brute force differ");
    let r = &answer.report;
    let cut: u64 = r.cuts.iter().map(|c| c.combinations).sum();
    prop_assert_eq!(r.raw, picks.len() as u64, "raw combinations");
    prop_assert_eq!(r.raw, cut + r.dominated_by_bound + r.dominated + r.kept, "every combination is accounted for once");
    // The same whatever the order of the library and the number of threads.
    let mut shuffled = p.library.clone();
    shuffled.reverse();
    let pool = rayon::ThreadPoolBuilder::new().num_threads(1).build().expect("a pool");
    let alone = pool.install(|| search(&p.document, &shuffled, &p.request, &Cancel::new(), |_| true)).expect("sound");
    prop_assert_eq!(&alone.designs, &answer.designs);
    prop_assert_eq!(alone.widened, answer.widened);
    // Steps are no wider than the number of designs that was asked for makes them.
    let most = p.request.most_designs as usize;
    let most = most + most / 3;
    if answer.widened > 1 && 2 * answer.designs.len() <= most {
        let finer = by_brute_force(p, &picks, answer.widened / 2).len();
        prop_assert!(
            finer > most,
            "{} designs in steps {} times as wide, and no more than {finer} in half of those",
            got.len(),
            answer.widened
        );
    }
    Ok((got.len(), answer.widened))
}

fn some_of(kind: &str, at: &[prop::sample::Index], fits: impl Fn(&Part) -> bool) -> Vec<Part> {
    let all: Vec<&Part> = builtin().iter().filter(|p| p.kind() == kind && fits(p)).collect();
    let mut chosen: Vec<Part> = Vec::new();
    for i in at.iter().filter(|_| !all.is_empty()) {
        let part = (*i.get(&all)).clone();
        if !chosen.iter().any(|c| c.name() == part.name()) {
            chosen.push(part);
        }
    }
    chosen
}

/// A library around one voltage, so that some of its parts fit each other; none where a kind is missing.
fn library(volts: f64, [motors, controllers, modules, chargers]: &[Vec<prop::sample::Index>; 4]) -> Option<Vec<Part>> {
    let near = |low: f64, high: f64| low <= volts && high >= volts && high < 3.0 * volts;
    let fits = |p: &Part| matches!(p, Part::Motor(m) if m.max_voltage_v.is_none_or(|v| v >= volts && v < 4.0 * volts));
    let mut library = some_of("motor", motors, fits);
    let Some(Part::Motor(first)) = library.first().cloned() else { return None };
    let drives = |c: &Controller| near(c.min_voltage_v, c.max_voltage_v) && c.motor_kinds.contains(&first.kind);
    library.extend(some_of("controller", controllers, |p| matches!(p, Part::Controller(c) if drives(c))));
    let big =
        |p: &Part| matches!(p, Part::Module(m) if !m.is_bare_pouch() && f64::from(m.cells_in_series) * m.nominal_voltage_v >= volts / 12.0);
    library.extend(some_of("module", modules, big));
    library.extend(some_of("charger", chargers, |p| matches!(p, Part::Charger(c) if near(c.output_min_v, c.output_max_v))));
    ["motor", "controller", "module", "charger"].iter().all(|k| library.iter().any(|p| p.kind() == *k)).then_some(library)
}

#[test]
fn the_search_is_brute_force() {
    let parts = |least: usize, most: usize| prop::collection::vec(any::<prop::sample::Index>(), least..most);
    let indices = (parts(1, 3), parts(2, 3), parts(1, 3), parts(2, 4)).prop_map(|(a, b, c, d)| [a, b, c, d]);
    let brief_of = prop::sample::select(vec!["whimbrel-9-a", "pipit-b", "wren-a", "dunlin-a"]);
    // Few designs are a case for wider steps of what nobody asked about.
    let listed = (prop::sample::select(vec![0.1, 5.0]), prop::sample::select(vec![5u32, 5, 150]));
    // What must not be exceeded, in a fifth of the cases each.
    let limits = (0.7..2.2f64, 0.7..2.2f64, any::<bool>());
    let drawn = (brief_of, indices, 0usize..3, 0.04..0.25f64, 2u32..3, listed, 0usize..4, limits);
    let (tried, with_a_design, widened) = (Cell::new(0), Cell::new(0), Cell::new(0));
    let outcome = TestRunner::new(cases(100)).run(
        &drawn,
        |(name, indices, class, ease, parallel, (resolution, most_designs), small, (slow, weak, rated))| {
            let volts = if name == "whimbrel-9-a" { [96.0, 144.0, 340.0] } else { [48.0, 72.0, 96.0] }[class];
            let Some(library) = library(volts, &indices) else { return Err(TestCaseError::reject("a kind is missing")) };
            let (kmh, watts) = if name == "whimbrel-9-a" { (160.0, 60e3) } else { (60.0, 12e3) };
            let limits = [Measure::SpeedLimit { at_most_kmh: slow * kmh }, Measure::PowerLimit { at_most_w: weak * watts, rated }];
            let known = gearings(&crate::common::sound_demo(name));
            let gearings = ["keep", "hub", "unit"].into_iter().filter(|id| known.iter().any(|g| g.id == *id)).map(str::to_owned).collect();
            let pack = if small == 0 { PackApproach::Small { range_share: 0.4, charge_h: 3.0 } } else { PackApproach::Big };
            let request = MatchRequest {
                most_in_parallel: parallel,
                resolution_percent: resolution,
                most_designs,
                gearings,
                pack,
                motor_counts: vec![1],
                ..MatchRequest::default()
            };
            let (document, request) = brief(name, ease, request);
            let document = document.with(|d| {
                for (measure, share) in limits.into_iter().zip([slow, weak]).filter(|(_, share)| *share < 1.0 && most_designs > 5) {
                    let level = GoalLevel::Required;
                    d.brief.goals.push(Goal {
                        id: format!("limit {share}"),
                        name: String::new(),
                        level,
                        weight: 1.0,
                        assumed: false,
                        measure,
                    });
                }
            });
            let document = document.expect("sound");
            tried.set(tried.get() + 1);
            let (kept, times) = same(&Problem { document, library, request })?;
            with_a_design.set(with_a_design.get() + u32::from(kept > 0));
            widened.set(widened.get() + u32::from(times > 1));
            Ok(())
        },
    );
    outcome.unwrap_or_else(|e| panic!("{e}"));
    let (tried, with_a_design) = (tried.get(), with_a_design.get());
    assert!(
        tried >= 100 && 5 * with_a_design >= 2 * tried,
        "only {with_a_design} of {tried} libraries keep a design: nothing was compared"
    );
    assert!(widened.get() >= 2, "steps were widened {} times", widened.get());
}
