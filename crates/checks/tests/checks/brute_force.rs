//! The search held against brute force: every combination of a small library estimated in full, without bounds or order. What "dominated"
//! means is written out again here (docs/METHODS.md, the search), so that the two agree only if both are right.

mod written_out;

use std::cell::Cell;

use crate::common::cases;
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{AccelerationRange, Checked, Document, Goal, GoalLevel, MatchRequest, Measure, PackApproach};
use joulethesis_core::library::{Controller, Motor, Part, builtin};
use joulethesis_core::matching::{Match, gearings, search};
use proptest::prelude::*;
use proptest::test_runner::TestRunner;
use serde_json::json;
use written_out::{all_that_do, by_brute_force, every_pick};

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

/// Holds the search against brute force; how many designs are kept, and how wide steps became.
fn same(p: &Problem) -> Result<(usize, u32), TestCaseError> {
    let answer = search(&p.document, &p.library, &p.request, &Cancel::new(), |_| true).expect("sound");
    let of = |m: &Match| {
        let never = f64::INFINITY;
        [m.cost, m.range_km.unwrap_or(0.0), m.acceleration_s.unwrap_or(never), m.added_kg, m.charge_h.unwrap_or(never), m.hill_percent]
    };
    let mut got: Vec<(String, [u64; 6])> = answer.designs.iter().map(|m| (format!("{:?}", m.pick), of(m).map(f64::to_bits))).collect();
    let picks = every_pick(p);
    let all = all_that_do(p, &picks);
    let mut want = by_brute_force(p, &all, answer.widened);
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
    // Steps are as wide as the numbers of designs that were asked for make them: no wider, and no narrower.
    let (least, most) = (p.request.least_designs as usize, p.request.most_designs as usize);
    let most = most + most / 3;
    let is_short = |count: usize, times: u32| count < least || times > 8 && count <= most / 2;
    let in_steps = |times: u32| by_brute_force(p, &all, times).len();
    if answer.widened > 1 && is_short(got.len(), answer.widened) {
        let finer = in_steps(answer.widened / 2);
        prop_assert!(finer > most, "{} designs in steps {} times as wide, {finer} in half of those", got.len(), answer.widened);
    }
    let mut times = 2 * answer.widened;
    while times <= 32 {
        let count = in_steps(times);
        prop_assert!(is_short(count, times) || got.len() == count, "{} designs, though {count} in steps {times} times as wide", got.len());
        times *= 2;
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

/// With the last motor in place by the first again, lighter or heavier and at another price.
fn with_the_first_motor_twice(mut library: Vec<Part>, mass: f64) -> Vec<Part> {
    let motors: Vec<usize> = (0..library.len()).filter(|i| library[*i].kind() == "motor").collect();
    let (first, last) = (motors[0], motors[motors.len() - 1]);
    if let (Part::Motor(m), true) = (library[first].clone(), last > first) {
        library[last] = Part::Motor(Motor { name: format!("{} again", m.name), mass_kg: mass * m.mass_kg, price: m.price / mass, ..m });
    }
    library
}

#[test]
fn the_search_is_brute_force() {
    let parts = |least: usize, most: usize| prop::collection::vec(any::<prop::sample::Index>(), least..most);
    let indices = (parts(2, 3), parts(2, 3), parts(2, 3), parts(2, 4)).prop_map(|(a, b, c, d)| [a, b, c, d]);
    let brief_of = prop::sample::select(vec!["whimbrel-9-a", "pipit-b", "wren-a", "dunlin-a"]);
    // Few designs are a case for wider steps of what nobody asked about.
    let listed = (prop::sample::select(vec![0.1, 5.0]), prop::sample::select(vec![(3u32, 5u32), (1, 5), (1_000, 150), (25, 150)]));
    // What must not be exceeded, in a tenth of the cases each.
    let limits = (0.85..2.2f64, 0.85..2.2f64, any::<bool>());
    let twice = prop::option::weighted(0.25, 0.7..1.4f64);
    let drawn = (brief_of, (indices, twice), 0usize..3, 0.03..0.15f64, 2u32..3, listed, 0usize..4, limits);
    let (tried, with_a_design, widened) = (Cell::new(0), Cell::new(0), Cell::new(0));
    let outcome = TestRunner::new(cases(100)).run(
        &drawn,
        |(name, (indices, twice), class, ease, parallel, (resolution, (least_designs, most_designs)), small, (slow, weak, rated))| {
            let volts = if name == "whimbrel-9-a" { [96.0, 144.0, 340.0] } else { [48.0, 72.0, 96.0] }[class];
            let Some(library) = library(volts, &indices) else { return Err(TestCaseError::reject("a kind is missing")) };
            let library = if let Some(mass) = twice { with_the_first_motor_twice(library, mass) } else { library };
            let (kmh, watts) = if name == "whimbrel-9-a" { (160.0, 60e3) } else { (60.0, 12e3) };
            let limits = [Measure::SpeedLimit { at_most_kmh: slow * kmh }, Measure::PowerLimit { at_most_w: weak * watts, rated }];
            let known = gearings(&crate::common::sound_demo(name));
            let gearings = ["keep", "hub", "unit"].into_iter().filter(|id| known.iter().any(|g| g.id == *id)).map(str::to_owned).collect();
            let pack = if small == 0 { PackApproach::Small { range_share: 0.4, charge_h: 3.0 } } else { PackApproach::Big };
            let request = MatchRequest {
                most_in_parallel: parallel,
                resolution_percent: resolution,
                least_designs,
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
    assert!(tried >= 100 && 2 * with_a_design >= tried, "only {with_a_design} of {tried} libraries keep a design: nothing was compared");
    assert!(widened.get() >= 2, "steps were widened {} times", widened.get());
}
