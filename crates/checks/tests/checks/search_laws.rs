//! Laws of the search on requests drawn at random: every condition is kept by every design, the count adds up, no design is dominated by
//! another beside it, and asking for less never finds a dearer best.

use std::collections::HashSet;

use crate::common::{cases, design_of, sound_demo};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Answers, CellApproach, Checked, Chosen, CurrentApproach, Document, GoalLevel, MatchRequest, VehicleKind};
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::matching::{Axis, AxisInfo, Match, MatchAnswer, SearchReport, search};
use proptest::prelude::*;
use proptest::sample::subsequence;

/// A brief that is searched quickly, with its goals as wishes where `easy` says so.
fn brief(easy: bool) -> Checked {
    let demo = sound_demo("pipit-b");
    if !easy {
        return demo;
    }
    demo.with(|d| d.brief.goals.iter_mut().for_each(|g| g.level = GoalLevel::Wanted)).expect("sound")
}

/// So many parts of each kind, chosen by a number.
fn library(kept: &[usize]) -> Vec<Part> {
    let of = |kind: &'static str, many: usize| {
        let all: Vec<&Part> = builtin().iter().filter(|p| p.kind() == kind).collect();
        kept.iter().take(many).map(|k| all[k % all.len()].clone()).collect::<Vec<_>>()
    };
    let mut parts = [of("motor", 10), of("controller", 10), of("module", 8), of("charger", 6)].concat();
    let mut seen = HashSet::new();
    parts.retain(|p| seen.insert((p.kind(), p.name().to_owned())));
    parts
}

/// Conditions on a library, by numbers.
#[derive(Debug, Clone)]
struct Drawn {
    easy: bool,
    kept: Vec<usize>,
    owned: Vec<usize>,
    without: Vec<usize>,
    current: u8,
    cells: u8,
    budget: Option<f64>,
    most_added_kg: Option<f64>,
    series: Option<u32>,
    strings: Option<u32>,
    most_modules: Option<u32>,
}

prop_compose! {
    fn drawn()(easy in any::<bool>(), kept in proptest::collection::vec(0usize..200, 10), owned in subsequence((0..20).collect::<Vec<_>>(), 0..3),
        without in subsequence((0..20).collect::<Vec<_>>(), 0..4), current in 0u8..3, cells in 0u8..3, budget in proptest::option::of(1500.0..9000.0f64),
        most_added_kg in proptest::option::of(40.0..250.0f64), series in proptest::option::weighted(0.2, 1u32..20), strings in proptest::option::weighted(0.2, 1u32..4),
        most_modules in proptest::option::weighted(0.3, 4u32..60)) -> Drawn {
        Drawn { easy, kept, owned, without, current, cells, budget, most_added_kg, series, strings, most_modules }
    }
}

fn request(d: &Drawn, library: &[Part]) -> MatchRequest {
    let names = |places: &[usize]| {
        let all: Vec<String> = places.iter().map(|i| library[i % library.len()].name().to_owned()).collect();
        let mut seen = HashSet::new();
        all.into_iter().filter(|n| seen.insert(n.clone())).collect::<Vec<_>>()
    };
    let in_hand = names(&d.owned);
    let exclude = names(&d.without).into_iter().filter(|n| !in_hand.contains(n)).collect();
    MatchRequest {
        in_hand,
        exclude,
        current: [CurrentApproach::Any, CurrentApproach::Direct, CurrentApproach::Alternating][usize::from(d.current)],
        cells: [CellApproach::Any, CellApproach::New, CellApproach::Salvaged][usize::from(d.cells)],
        budget: d.budget,
        most_added_kg: d.most_added_kg,
        modules_in_series: d.series,
        strings_in_parallel: d.strings,
        most_modules: d.most_modules,
        ..MatchRequest::default()
    }
}

fn find(document: &Checked, library: &[Part], request: &MatchRequest) -> Option<MatchAnswer> {
    search(document, library, request, &Cancel::new(), |_| true).ok()
}

/// Every figure worse or equal, and one worse by more than a tenth: far beyond the resolution, so plainly dominated.
fn plainly_dominated(a: &Match, by: &Match) -> bool {
    let high = |x: Option<f64>| x.unwrap_or(f64::INFINITY);
    let low = |x: Option<f64>| -x.unwrap_or(0.0);
    let of = |m: &Match| [m.cost, low(m.range_km), high(m.acceleration_s), m.added_kg, high(m.charge_h), -m.hill_percent];
    let (own, other) = (of(a), of(by));
    own.iter().zip(&other).all(|(x, y)| x >= y) && own.iter().zip(&other).any(|(x, y)| x - y > 0.1 * y.abs().max(1e-9))
}

/// A figure as a positive number of which less is better.
fn less_is_better(axis: &AxisInfo, m: &Match, curb_kg: f64) -> f64 {
    match axis.axis {
        Axis::Cost => m.cost.max(1.0),
        Axis::Range => 1.0 / m.range_km.unwrap_or(0.0).max(1e-6),
        Axis::Acceleration => m.acceleration_s.unwrap_or(f64::INFINITY),
        Axis::AddedMass => (curb_kg + m.added_kg).max(1.0),
        Axis::Charge => m.charge_h.unwrap_or(f64::INFINITY),
        Axis::Hill => 1.0 / m.hill_percent.max(1e-6),
    }
}

fn adds_up(report: &SearchReport, designs: usize) -> Result<(), TestCaseError> {
    let cut: u64 = report.cuts.iter().map(|c| c.combinations).sum();
    let counted = cut + report.dominated_by_bound + report.dominated + report.kept + report.undecided;
    prop_assert_eq!(counted, report.raw, "{:?}", report);
    prop_assert_eq!(report.kept, designs as u64);
    prop_assert!(report.driven <= report.simulated, "{:?}", report);
    Ok(())
}

proptest! {
    #![proptest_config(cases(40))]

    #[test]
    fn every_condition_is_kept_and_every_combination_counted(d in drawn()) {
        let (document, library) = (brief(d.easy), library(&d.kept));
        let request = request(&d, &library);
        let Some(answer) = find(&document, &library, &request) else { return Ok(()) };
        prop_assert!(answer.complete);
        adds_up(&answer.report, answer.designs.len())?;
        let owned = |kind: &str| -> Vec<&str> {
            library.iter().filter(|p| p.kind() == kind && request.in_hand.iter().any(|n| n == p.name())).map(Part::name).collect()
        };
        for (place, m) in (1u32..).zip(&answer.designs) {
            prop_assert_eq!(m.place, place, "numbered without gaps");
            let p = &m.pick;
            let charger = p.charger.as_deref();
            for (kind, name) in [("motor", Some(p.motor.as_str())), ("controller", Some(&p.controller)), ("module", Some(&p.module)), ("charger", charger)] {
                let Some(name) = name else { continue };
                prop_assert!(library.iter().any(|part| part.kind() == kind && part.name() == name), "{kind} {name} is not in the library");
                prop_assert!(!request.exclude.iter().any(|n| n == name), "{name} was excluded");
                let mine = owned(kind);
                prop_assert!(mine.is_empty() || mine.contains(&name), "{name} beside the owned {mine:?}");
            }
            prop_assert!(request.budget.is_none_or(|b| m.cost <= b + 1e-6), "{} over {:?}", m.cost, request.budget);
            prop_assert!(request.most_added_kg.is_none_or(|kg| m.added_kg <= kg + 1e-6), "{} over {:?}", m.added_kg, request.most_added_kg);
            prop_assert!(d.current == 0 || m.direct_current == (d.current == 1));
            prop_assert!(d.cells == 0 || m.salvaged == (d.cells == 2));
            prop_assert!(d.series.is_none_or(|n| p.modules_in_series == n) && d.strings.is_none_or(|n| p.strings_in_parallel == n));
            prop_assert!(d.most_modules.is_none_or(|n| p.modules_in_series * p.strings_in_parallel <= n));
            if let Some(by) = answer.designs.iter().find(|by| plainly_dominated(m, by)) {
                prop_assert!(false, "{:?} is dominated by {:?}", m.pick, by.pick);
            }
            let design = design_of(&document, &library, &request, p);
            prop_assert!(design.motor.as_ref().is_some_and(|motor| motor.name == p.motor) && design.motor_count == p.motor_count);
        }
    }

    /// However early it is stopped, what it calls final stands in the whole answer in the same order, and what it has not looked at is counted.
    #[test]
    fn what_is_final_stays(d in drawn(), after in 1u32..40) {
        let (document, library) = (brief(true), library(&d.kept));
        let request = MatchRequest { most_designs: 150, ..request(&d, &library) };
        let Some(whole) = find(&document, &library, &request) else { return Ok(()) };
        let mut looks = 0;
        let stopped = search(&document, &library, &request, &Cancel::new(), |_| { looks += 1; looks < after }).expect("sound");
        let picks = |answer: &MatchAnswer| answer.designs.iter().map(|m| m.pick.clone()).collect::<Vec<_>>();
        let (all, first) = (picks(&whole), picks(&stopped));
        let places: Vec<Option<usize>> = first[..stopped.settled as usize].iter().map(|p| all.iter().position(|w| w == p)).collect();
        prop_assert!(places.iter().all(Option::is_some), "{places:?}");
        prop_assert!(places.is_sorted(), "{places:?}");
        prop_assert!(stopped.widened != whole.widened || places.iter().enumerate().all(|(i, p)| *p == Some(i)), "{places:?}");
        prop_assert_eq!(whole.settled as usize, whole.designs.len());
        prop_assert_eq!(whole.report.undecided, 0);
        adds_up(&stopped.report, stopped.designs.len())?;
    }

    /// Told apart less closely, the answer is part of the whole one, and whatever is left out has one beside it that is no worse by more than a
    /// step of anything.
    #[test]
    fn what_is_left_out_lies_within_a_step_of_what_is_listed(d in drawn()) {
        let (document, library) = (brief(true), library(&d.kept));
        let all = MatchRequest { least_designs: 10_000, most_designs: 10_000, resolution_percent: 1.0, budget: None, ..request(&d, &library) };
        let (Some(whole), Some(few)) = (find(&document, &library, &all), find(&document, &library, &MatchRequest { least_designs: 4, most_designs: 5, ..all })) else { return Ok(()) };
        prop_assert_eq!(whole.widened, 1);
        prop_assert!(few.widened > 1 || few.designs.len() <= 6 || few.designs == whole.designs);
        for m in &few.designs {
            prop_assert!(whole.designs.iter().any(|w| w.pick == m.pick), "{:?} is new", m.pick);
        }
        let curb_kg = document.donor.curb_mass_kg;
        for left_out in &whole.designs {
            let near = |listed: &&Match| few.axes.iter().filter(|a| a.active).all(|axis| {
                let (own, other) = (less_is_better(axis, left_out, curb_kg), less_is_better(axis, listed, curb_kg));
                // Half as much again as asked is enough.
                let enough = axis.target.filter(|_| !matches!(axis.axis, Axis::Cost | Axis::AddedMass)).map_or(0.0, |t| if axis.more_is_better { 1.0 / t } else { t } / 1.5);
                other <= own.max(enough) * (1.0 + axis.step_percent / 100.0) * (1.0 + 1e-9)
            });
            prop_assert!(few.designs.iter().any(|m| near(&m)), "{:?} has nothing beside it", left_out.pick);
        }
    }

    #[test]
    fn a_wider_request_never_has_a_dearer_cheapest(d in drawn()) {
        let (document, library) = (brief(d.easy), library(&d.kept));
        // Finely resolved, so that the cheapest is not taken for the same as one a little dearer.
        let narrow = MatchRequest { resolution_percent: 0.1, ..request(&d, &library) };
        let wide = MatchRequest { exclude: Vec::new(), budget: None, most_added_kg: None, current: CurrentApproach::Any, cells: CellApproach::Any,
            modules_in_series: None, strings_in_parallel: None, most_modules: None, ..narrow.clone() };
        let cheapest = |r: &MatchRequest| find(&document, &library, r).map_or(f64::INFINITY, |a| a.designs.iter().map(|m| m.cost).fold(f64::INFINITY, f64::min));
        let (narrow, wide) = (cheapest(&narrow), cheapest(&wide));
        prop_assert!(wide <= narrow * 1.002 + 1e-6, "{wide} with more to choose from, {narrow} with less");
    }

    #[test]
    fn the_answer_does_not_depend_on_the_order_of_the_library(d in drawn(), turn in 1usize..20) {
        let (document, library) = (brief(d.easy), library(&d.kept));
        let request = request(&d, &library);
        let mut turned = library.clone();
        turned.rotate_left(turn % library.len());
        let text = |l: &[Part]| find(&document, l, &request).map(|a| serde_json::to_string(&a.designs).expect("JSON"));
        prop_assert_eq!(text(&library), text(&turned));
    }
}

/// Only what is named is used, and naming everything is the same as naming nothing.
#[test]
fn naming_every_part_is_naming_none() {
    let (document, library) = (brief(false), library(&[1, 5, 9, 14, 22, 31, 40, 47, 55, 63]));
    let names = |kind: &str| library.iter().filter(|p| p.kind() == kind).map(|p| p.name().to_owned()).collect::<Vec<_>>();
    let all = Chosen { motors: names("motor"), controllers: names("controller"), modules: names("module"), chargers: names("charger") };
    let text = |r: &MatchRequest| find(&document, &library, r).map(|a| serde_json::to_string(&a.designs).expect("JSON"));
    assert_eq!(text(&MatchRequest::default()), text(&MatchRequest { only: all, ..MatchRequest::default() }));
}

/// What a new conversion begins with asks for nothing that must be: no goal caps money or mass, so that all that tells designs apart is which of them
/// are beaten. Where the tyres tell how steep a hill any of them climbs, whole blocks of them are: of some 10^11 combinations no more than
/// one in a million has to be looked at by itself.
#[test]
fn what_nothing_caps_is_still_beaten_in_blocks() {
    for kind in [VehicleKind::Motorcycle, VehicleKind::Kart, VehicleKind::Quad] {
        let document = Document::starter("New", kind, &Answers::default()).checked().expect("sound");
        let answer = find(&document, builtin(), &MatchRequest::default()).expect("an answer");
        let report = &answer.report;
        assert!(answer.complete && !answer.designs.is_empty(), "{kind:?}");
        adds_up(report, answer.designs.len()).expect("the count");
        assert!(report.bounded < report.raw / 1_000_000, "{kind:?}: {} of {} looked at one by one", report.bounded, report.raw);
        assert!(report.simulated < 20 * report.kept, "{kind:?}: {} simulated for {}", report.simulated, report.kept);
    }
}
