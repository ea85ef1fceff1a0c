//! The search held against brute force: every combination of a small library estimated in full, without bounds or order.

use proptest::prelude::*;
use rayon::prelude::*;

use super::front::{Front, Tie};
use super::scale::Six;
use super::space::{Choice, PLACES, Task};
use super::{Match, MatchRequest, PackSchool, search};
use crate::cancel::Cancel;
use crate::document::{Document, Goal, GoalLevel, Measure, SprintRange};
use crate::estimate::{Estimate, estimate};
use crate::library::{Controller, MotorKind, Part, builtin};

/// Rules of the findings that a match keeps, told from the estimate's own findings.
const KEPT: [&str; 11] = [
    "match.motor-kind",
    "volts.full-charge-over-controller",
    "volts.full-charge-over-motor",
    "volts.pack-below-controller",
    "volts.charger-over-pack",
    "volts.charger-under-pack",
    "amps.controller-over-pack",
    "volts.sag-below-cutoff",
    "mass.gross",
    "mass.front-axle",
    "mass.rear-axle",
];

fn demo(name: &str) -> Document {
    let path = format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR"));
    let mut document = Document::from_json(&std::fs::read(path).expect("demo file")).expect("sound");
    document.brief.schedules.clear();
    // What counts in every search has to stand in the estimate, whether the demo asks for it or not.
    let request = MatchRequest::default();
    let (from_kmh, to_kmh) = request.sprint_of(&document);
    document.brief.performance.sprints.push(SprintRange { from_kmh, to_kmh });
    let asks_hill = document.brief.goals.iter().any(|g| matches!(g.measure, Measure::HillAtSpeed { .. }));
    if !asks_hill {
        let measure =
            Measure::HillAtSpeed { speed_kmh: request.hill_of(&document), at_least_percent: 3.0, sustained: true, ten_minutes: false };
        document.brief.goals.push(Goal { id: "hill".to_owned(), name: String::new(), level: GoalLevel::Wish, weight: 1.0, measure });
    }
    document
}

fn every_choice(task: &Task) -> Vec<Choice> {
    let mut all = Vec::new();
    for (m, motor) in (0u16..).zip(&task.motors) {
        for (place, count) in task.mounts(&motor.written) {
            let place = PLACES.iter().position(|p| *p == place).expect("a place") as u8;
            for (g, _) in (0u16..).zip(&task.gearings).filter(|(_, g)| Task::fits(g, PLACES[usize::from(place)])) {
                for controller in 0..task.controllers.len() as u16 {
                    for (module, record) in (0u16..).zip(&task.modules) {
                        for series in task.series(&record.written) {
                            for parallel in task.parallel(series) {
                                let choice = Choice {
                                    motor: m,
                                    count: count as u16,
                                    place,
                                    gearing: g,
                                    controller,
                                    module,
                                    series,
                                    parallel,
                                    charger: 0,
                                };
                                all.extend((0..task.chargers.len() as u16).map(|charger| Choice { charger, ..choice }));
                            }
                        }
                    }
                }
            }
        }
    }
    all
}

/// The six figures as the estimate of the Chain stage tells them.
fn figures(document: &Document, task: &Task, e: &Estimate) -> Six {
    let trip = task.trip.map(|i| &e.trips[i]);
    let (from, to) = task.request.sprint_of(document);
    let hill = e.performance.hills.at_speed.iter().find(|h| h.speed_kmh == task.request.hill_of(document)).expect("asked for");
    let held = document.brief.goals.iter().any(|g| matches!(g.measure, Measure::HillAtSpeed { ten_minutes: true, sustained: false, .. }));
    let run = e.performance.sprints.iter().find(|s| (s.from_kmh, s.to_kmh) == (from, to)).expect("asked for");
    let socket = task.request.socket_of(document).map(|i| &e.charging[i]);
    [
        e.cost.net,
        trip.map_or(0.0, |t| t.range_km.unwrap_or(f64::NEG_INFINITY)),
        run.time_s.unwrap_or(f64::INFINITY),
        e.masses.change_kg,
        socket.map_or(0.0, |s| s.window.and_then(|w| w.hours_h).unwrap_or(f64::INFINITY)),
        if held { hill.ten_minutes.grade_percent } else { hill.sustained.grade_percent },
    ]
}

/// Designs that none beats, as (choice, figures), by estimating everything.
fn by_brute_force(document: &Document, library: &[Part], request: &MatchRequest) -> Vec<(Choice, Six)> {
    let task = Task::of(document, library, request).expect("sound");
    let mut front: Front<(Choice, Six)> = Front::new();
    let judged = |choice: Choice| {
        let full = Document { design: task.design(&choice, false), ..document.clone() };
        let e = estimate(&full).expect("complete");
        let followed = |t: &crate::estimate::TripResult| t.followed && t.range_derated_s == 0.0;
        let keeps_rules = !e.findings.iter().any(|f| KEPT.contains(&f.rule.as_str()));
        let keeps_up = task.followed.iter().all(|i| followed(&e.trips[*i]));
        let meets = e.claims.iter().filter(|c| c.level == GoalLevel::Must).all(|c| {
            let share = if c.figure.starts_with("trip.") && c.more_is_better { request.pack.range_share() } else { 1.0 };
            let value = c.predicted.unwrap_or(if c.more_is_better { f64::NEG_INFINITY } else { f64::INFINITY });
            if c.more_is_better { value >= c.target * share } else { value <= c.target }
        });
        let six = figures(&full, &task, &e);
        let capped = request.budget.is_none_or(|b| six[0] <= b) && request.most_added_kg.is_none_or(|kg| six[3] <= kg);
        let charged = !matches!(request.pack, PackSchool::Small { charge_h, .. } if six[4] > charge_h);
        (keeps_rules && keeps_up && meets && capped && charged).then_some((choice, six))
    };
    let qualified: Vec<(Choice, Six)> = every_choice(&task).into_par_iter().filter_map(judged).collect();
    for (choice, six) in qualified {
        front.offer(task.scale.grades(&six), Tie { cost: six[0], added_kg: six[3], place: choice.key() }, (choice, six));
    }
    front.kept.into_iter().map(|k| k.what).collect()
}

fn same(document: &Document, library: &[Part], request: &MatchRequest) -> usize {
    let answer = search(document, library, request, &Cancel::new(), |_| true).expect("sound");
    let task = Task::of(document, library, request).expect("sound");
    let mut want: Vec<(String, Vec<u64>)> = by_brute_force(document, library, request)
        .into_iter()
        .map(|(choice, six)| (format!("{:?}", super::answer::pick(&task, &choice)), six.iter().map(|x| x.to_bits()).collect()))
        .collect();
    let of = |m: &Match| {
        let never = f64::INFINITY;
        [m.cost, m.range_km.unwrap_or(0.0), m.sprint_s.unwrap_or(never), m.added_kg, m.charge_h.unwrap_or(never), m.hill_percent]
    };
    let mut got: Vec<(String, Vec<u64>)> =
        answer.designs.iter().map(|m| (format!("{:?}", m.pick), of(m).iter().map(|x| x.to_bits()).collect())).collect();
    want.sort();
    got.sort();
    assert_eq!(got, want, "search and brute force differ");
    let r = &answer.report;
    let cut: u64 = r.cuts.iter().map(|c| c.combinations).sum();
    assert_eq!(r.raw, every_choice(&task).len() as u64, "raw combinations");
    assert_eq!(r.raw, cut + r.beaten_by_bound + r.beaten + r.kept, "every combination is accounted for once");
    // The same whatever the order of the library and the number of threads.
    let mut shuffled = library.to_vec();
    shuffled.reverse();
    let pool = rayon::ThreadPoolBuilder::new().num_threads(1).build().expect("a pool");
    let alone = pool.install(|| search(document, &shuffled, request, &Cancel::new(), |_| true)).expect("sound");
    assert_eq!(alone.designs, answer.designs);
    got.len()
}

fn some_of(kind: &str, at: &[prop::sample::Index], fits: impl Fn(&Part) -> bool) -> Vec<Part> {
    let all: Vec<&Part> = builtin().iter().filter(|p| p.kind() == kind && fits(p)).collect();
    if all.is_empty() {
        return Vec::new();
    }
    let mut chosen: Vec<Part> = Vec::new();
    for i in at {
        let part = (*i.get(&all)).clone();
        if !chosen.iter().any(|c| c.name() == part.name()) {
            chosen.push(part);
        }
    }
    chosen
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, failure_persistence: None, max_shrink_iters: 40, ..ProptestConfig::default() })]

    #[test]
    fn the_search_is_brute_force(
        van in any::<bool>(),
        motors in prop::collection::vec(any::<prop::sample::Index>(), 2..4),
        controllers in prop::collection::vec(any::<prop::sample::Index>(), 2..4),
        modules in prop::collection::vec(any::<prop::sample::Index>(), 1..3),
        chargers in prop::collection::vec(any::<prop::sample::Index>(), 1..3),
        class in 0usize..3,
        ease in 0.2..0.8f64,
        parallel in 1u32..3,
        resolution in prop::sample::select(vec![0.1, 5.0]),
        small in any::<bool>(),
    ) {
        let volts = if van { [96.0, 144.0, 340.0] } else { [48.0, 72.0, 96.0] }[class];
        let mut document = demo(if van { "whimbrel-9-a" } else { "pipit-b" });
        for goal in &mut document.brief.goals {
            match &mut goal.measure {
                Measure::Range { at_least_km: x, .. } | Measure::HillStart { at_least_percent: x } | Measure::TopSpeed { at_least_kmh: x } => *x *= ease,
                Measure::Cost { at_most: x } | Measure::Sprint { at_most_s: x, .. } | Measure::ChargeTime { at_most_h: x, .. } => *x /= ease,
                _ => {}
            }
        }
        // Parts around one voltage, so that some of them fit each other.
        let near = |low: f64, high: f64| low <= volts && high >= volts && high < 3.0 * volts;
        let mut library = some_of("motor", &motors, |p| matches!(p, Part::Motor(m) if m.max_voltage_v.is_none_or(|v| v >= volts && v < 4.0 * volts)));
        let kinds: Vec<MotorKind> = library.iter().filter_map(|p| if let Part::Motor(m) = p { Some(m.kind) } else { None }).collect();
        let drives = |c: &Controller| near(c.min_voltage_v, c.max_voltage_v) && c.motor_kinds.iter().any(|k| kinds.contains(k));
        library.extend(some_of("controller", &controllers, |p| matches!(p, Part::Controller(c) if drives(c))));
        library.extend(some_of("module", &modules, |p| matches!(p, Part::Module(m) if f64::from(m.cells_in_series) * m.nominal_voltage_v >= volts / 12.0)));
        library.extend(some_of("charger", &chargers, |p| matches!(p, Part::Charger(c) if near(c.output_min_v, c.output_max_v))));
        let gearings = if van { vec!["keep".to_owned(), "direct".to_owned(), "hub".to_owned()] } else { Vec::new() };
        let pack = if small { PackSchool::Small { range_share: 0.4, charge_h: 3.0 } } else { PackSchool::Big };
        let request = MatchRequest {
            most_in_parallel: parallel, resolution_percent: resolution, gearings, pack, motor_counts: vec![1],
            ..MatchRequest::default()
        };
        let kinds = ["motor", "controller", "module"];
        prop_assume!(kinds.iter().all(|k| library.iter().any(|p| p.kind() == *k)));
        prop_assume!(!library.iter().all(|p| p.kind() != "charger"));
        let kept = same(&document, &library, &request);
        println!("{kept} kept");
    }
}
