//! The first proposal: from a kind of vehicle and three answers to a chain that obeys every rule; the cheapest that does what was asked,
//! held against the whole search.

use crate::common::{cases, sound_demo};
use joulethesis_core::alternatives::with_part;
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Answers, Checked, Document, GoalLevel, MatchRequest, Measure, MotorPlace, VehicleKind};
use joulethesis_core::findings::Severity;
use joulethesis_core::library::{MotorKind, Part, builtin};
use joulethesis_core::matching::{Meets, Proposal, around, propose, search};
use joulethesis_core::report::{Report, report};
use proptest::prelude::*;

fn proposal(document: &Checked, library: &[Part]) -> Option<Proposal> {
    propose(document, library, &Cancel::new()).expect("proposes")
}

fn judged(document: &Checked, p: &Proposal) -> Report {
    report(&document.with(|d| d.design = p.design.clone()).expect("a proposal is sound")).expect("a report")
}

/// What a proposal with reserve does as well: a fifth more air drag and rolling resistance, hills a tenth steeper.
fn harder(document: &Checked) -> Checked {
    let change = |d: &mut Document| {
        d.donor.drag_coefficient *= 1.2;
        d.donor.rolling_coefficient *= 1.2;
        d.donor.rolling_coefficient_per_m_s *= 1.2;
        for goal in &mut d.brief.goals {
            if let Measure::HillStart { at_least_percent: x } | Measure::HillAtSpeed { at_least_percent: x, .. } = &mut goal.measure {
                *x *= 1.1;
            }
        }
    };
    document.with(change).expect("sound")
}

/// No rule stops it, it moves, and the goals are met as far as the proposal says.
fn holds(document: &Checked, p: &Proposal) -> Result<(), TestCaseError> {
    let report = judged(document, p);
    let stops: Vec<&str> = report.findings.iter().filter(|f| f.severity == Severity::Stop).map(|f| f.rule.id()).collect();
    prop_assert!(stops.is_empty(), "{stops:?}");
    prop_assert!(p.design.proposed);
    for claim in &report.claims {
        let met = claim.margin.is_some_and(|m| m >= 0.0);
        prop_assert!(met || p.meets == Meets::Part, "{}: {:?} of {} {}", claim.name, claim.predicted, claim.target, claim.unit);
        // A trip that is too fast for it has no range; speed and hill it has at any rate.
        let part = p.meets == Meets::Part && claim.goal == "range";
        prop_assert!(part || claim.predicted.is_some_and(|x| x > 0.0), "it moves");
    }
    if p.meets == Meets::WithReserve {
        for claim in judged(&harder(document), p).claims {
            prop_assert!(
                claim.margin.is_some_and(|m| m >= 0.0),
                "{}: {:?} of {} on a harder day",
                claim.name,
                claim.predicted,
                claim.target
            );
        }
    }
    Ok(())
}

#[test]
fn every_kind_gets_a_chain_from_nothing_but_its_name() {
    for kind in VehicleKind::ALL {
        let starter = Document::starter("New", kind, &Answers::default());
        assert!(
            starter.brief.goals.iter().all(|g| g.assumed && g.level == GoalLevel::Wanted),
            "{kind:?}: nothing is asked until the owner asks"
        );
        let document = starter.checked().expect("sound");
        let p = proposal(&document, builtin()).unwrap_or_else(|| panic!("{kind:?}: nothing proposed"));
        assert_eq!(p.meets, Meets::WithReserve, "{kind:?}");
        holds(&document, &p).unwrap_or_else(|e| panic!("{kind:?}: {e}"));
    }
}

/// Where the cheapest that does it all would take too long to find, a count of the work ends it, no clock.
#[test]
fn what_is_given_up_is_the_same_on_any_number_of_threads() {
    let answers = Answers { longest_trip_km: Some(185.0), session_min: Some(35.0), fastest_kmh: Some(122.0), steepest_percent: Some(5.0) };
    let document = Document::starter("New", VehicleKind::Trike, &answers).checked().expect("sound");
    let found = proposal(&document, builtin()).expect("a part of it can be done");
    assert_eq!(found.meets, Meets::Part, "the cheapest that does all of it, at some price, takes minutes");
    holds(&document, &found).expect("obeys the rules");
    let alone = rayon::ThreadPoolBuilder::new().num_threads(1).build().expect("a thread").install(|| proposal(&document, builtin()));
    assert_eq!(alone, Some(found));
}

proptest! {
    #![proptest_config(cases(4))]

    /// Whatever is answered, also what no vehicle can do.
    #[test]
    fn any_answers_get_a_chain_that_obeys_every_rule(kind in 0usize..9, km in proptest::option::of(0.5..400.0f64), minutes in proptest::option::of(1.0..120.0f64),
        kmh in proptest::option::of(5.0..180.0f64), percent in proptest::option::of(0.0..50.0f64)) {
        let answers = Answers { longest_trip_km: km, session_min: minutes, fastest_kmh: kmh, steepest_percent: percent };
        let document = Document::starter("New", VehicleKind::ALL[kind], &answers).checked().expect("sound");
        if let Some(p) = proposal(&document, builtin()) {
            holds(&document, &p)?;
        }
    }

    /// The cheapest of the whole search among the same parts, and no other when the library is turned round.
    #[test]
    fn it_is_the_cheapest_that_does_what_is_asked(first in 0usize..5, every in 2usize..5, ease in 0.5..1.0f64) {
        let mut library: Vec<Part> = builtin().iter().skip(first).step_by(every).cloned().collect();
        let written = sound_demo("pipit-b").with(|d| {
            d.brief.search = MatchRequest { motor_counts: vec![1], cells: joulethesis_core::document::CellApproach::New, ..MatchRequest::default() };
            for goal in &mut d.brief.goals {
                goal.level = GoalLevel::Required;
                if let Measure::Range { at_least_km: x, .. } | Measure::TopSpeed { at_least_kmh: x } = &mut goal.measure {
                    *x *= ease;
                }
            }
        }).expect("sound");
        let asked = harder(&written);
        let all = search(&asked, &library, &asked.brief.search, &Cancel::new(), |_| true).expect("searches");
        let cheapest = all.designs.iter().map(|m| m.cost).reduce(f64::min);
        let cost = |p: &Proposal| {
            let document = written.with(|d| d.design = p.design.clone()).expect("sound");
            judged(&document, p).cost.net
        };
        let found = proposal(&written, &library);
        match (cheapest, &found) {
            // The search counts costs within a step as equal.
            (Some(least), Some(p)) => prop_assert!((0.95 * least..=least + 1e-6).contains(&cost(p)), "{} where {least} will do", cost(p)),
            (None, Some(p)) => prop_assert_ne!(p.meets, Meets::WithReserve),
            (least, None) => prop_assert_eq!(least, None),
        }
        library.reverse();
        prop_assert_eq!(found, proposal(&written, &library));
    }
}

#[test]
fn later_answers_change_what_was_asked_and_nothing_else() {
    let mut document = Document::starter("New", VehicleKind::Car, &Answers::default());
    document.brief.goals[3].level = GoalLevel::Required;
    let (charge, before) = (document.brief.goals[3].clone(), document.brief.clone());
    let answers = Answers { longest_trip_km: Some(33.0), steepest_percent: Some(12.0), ..Answers::default() };
    answers.put_into(VehicleKind::Car, &mut document.brief);
    let brief = &document.brief;
    assert_eq!(brief.goals[0].measure, Measure::Range { trip: "usual".to_owned(), at_least_km: 33.0 });
    assert_eq!(brief.goals[1].measure, before.goals[1].measure, "what is not known stays assumed");
    assert_eq!(brief.goals[2].measure, Measure::HillStart { at_least_percent: 12.0 });
    assert_eq!(brief.goals.iter().map(|g| g.assumed).collect::<Vec<_>>(), [false, true, false, true]);
    assert_eq!((brief.trips.len(), &brief.goals[3]), (1, &charge));
    // What was typed over since stays while its own answer does.
    document.brief.goals[0].measure = Measure::Range { trip: "usual".to_owned(), at_least_km: 80.0 };
    (document.brief.goals[1].measure, document.brief.goals[1].assumed) = (Measure::TopSpeed { at_least_kmh: 111.0 }, false);
    let typed = document.brief.clone();
    Answers { steepest_percent: Some(9.0), ..answers }.put_into(VehicleKind::Car, &mut document.brief);
    assert_eq!((&document.brief.goals[..2], &document.brief.trips), (&typed.goals[..2], &typed.trips));
    assert_eq!(document.brief.goals[2].measure, Measure::HillStart { at_least_percent: 9.0 });
    // A session of a quarter of an hour at some 40 km/h is ten kilometres in laps.
    let kart = Document::starter("New", VehicleKind::Kart, &Answers { session_min: Some(15.0), ..Answers::default() });
    let laps_km = f64::from(kart.brief.trips[0].repeat) * 0.8;
    assert!((8.0..12.0).contains(&laps_km), "{laps_km} km");
}

#[test]
fn what_is_kept_stays_and_what_has_no_price_is_not_free() {
    let starter = Document::starter("New", VehicleKind::Trike, &Answers::default()).checked().expect("sound");
    let Some(Part::Motor(own)) = builtin().iter().find(|p| p.name() == "Dulse 10 mid-drive") else { panic!("built in") };
    let shelf = joulethesis_core::library::Motor { name: "From the shelf".to_owned(), price: 0.0, ..own.clone() };
    let mut library = builtin().to_vec();
    library.push(Part::Motor(shelf.clone()));
    let of = |document: &Checked, keep: &[&str]| {
        let (document, parts) = around(document, |p| keep.contains(&p.kind()), library.clone());
        proposal(&document, &parts).expect("a chain").design
    };
    // Without a price it is unknown, and not the cheapest of all.
    let usual = of(&starter, &[]);
    assert_ne!(usual.motor.as_ref().map(|m| &m.name), Some(&shelf.name));
    // Kept, it stays with its count, whatever the search named or left out of its kind.
    let kept = starter
        .with(|d| {
            (d.design.motor, d.design.motor_count) = (Some(shelf.clone()), 2);
            d.brief.search.exclude = vec![own.name.clone()];
        })
        .expect("sound");
    let design = of(&kept, &["motor"]);
    assert_eq!((design.motor.as_ref(), design.motor_count), (Some(&shelf), 2));
    assert!(design.controller.is_some() && design.pack.is_some() && design.charger.is_some());
    // Owned, it is named and may be used.
    let owned = starter.with(|d| d.brief.search.in_hand = vec![shelf.name.clone()]).expect("sound");
    assert_eq!(of(&owned, &[]).motor.map(|m| m.name), Some(shelf.name));
}

/// A hub motor that is chosen sits in the wheels, without the donor's gears and each with its own controller; another one in its place
/// goes back ahead of them. Whatever was typed beside stays.
#[test]
fn a_hub_motor_goes_into_the_wheels_and_out_again() {
    let motors = || builtin().iter().filter_map(|p| if let Part::Motor(m) = p { Some((p, m)) } else { None });
    let hub = motors().find(|(_, m)| m.kind == MotorKind::Hub).expect("a hub motor").0;
    let other = motors().find(|(_, m)| m.kind == MotorKind::Induction).expect("an induction motor").0;
    for name in ["whimbrel-9-a", "pipit-a", "wren-a", "dunlin-a"] {
        let before = sound_demo(name);
        let place = before.design.motor_place;
        let with = with_part(&before, hub);
        let d = &with.design;
        if before.design.motor.as_ref().is_some_and(|m| m.kind == MotorKind::Hub) || d.motor_place == place {
            // Already in the wheels, or a trip names a gear it would be without.
            continue;
        }
        assert_eq!((d.motor_place, d.motor_count), MotorPlace::of_hubs(before.donor.kind)[0], "{name}");
        assert_eq!(d.controller_count, d.motor_count, "{name}");
        assert!(with.driveline().gears.is_empty() && with.driveline().stages.is_empty(), "{name}");
        assert_eq!((&d.pack, &d.charger, &d.wiring), (&before.design.pack, &before.design.charger, &before.design.wiring), "{name}");
        assert!(report(&with).is_ok(), "{name} can be computed");
        let back = with_part(&with, other);
        assert_eq!((back.design.motor_place, back.design.motor_count), (MotorPlace::Shaft, 1), "{name}");
        assert_eq!(back.driveline(), &before.donor.driveline, "{name}");
        return;
    }
    panic!("no demo takes a hub motor");
}
