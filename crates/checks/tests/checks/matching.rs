//! The search as a whole: its designs are what the estimate says, its way out is the least, its demands are closed forms.

use crate::common::{check, design_of, plain, read, sound_demo, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{
    CellApproach, Certainty, Checked, Chosen, CurrentApproach, Document, GoalLevel, MatchRequest, Measure, PackApproach,
};
use joulethesis_core::error::{Error, Problem};
use joulethesis_core::findings::Severity;
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::matching::{AxisInfo, Compared, MatchAnswer, Progress, Question, needs, relaxations, search, why_not};
use joulethesis_core::report::{report, report_with_bands};
use serde_json::json;

fn find(document: &Checked, request: &MatchRequest) -> MatchAnswer {
    search(document, builtin(), request, &Cancel::new(), |_| true).expect("sound")
}

fn set_target(document: &mut Document, id: &str, to: f64) {
    let goal = document.brief.goals.iter_mut().find(|g| g.id == id).expect("a goal");
    match &mut goal.measure {
        Measure::Range { at_least_km: x, .. }
        | Measure::Cost { at_most: x }
        | Measure::TopSpeed { at_least_kmh: x }
        | Measure::SpeedLimit { at_most_kmh: x }
        | Measure::PowerLimit { at_most_w: x, .. }
        | Measure::HillStart { at_least_percent: x }
        | Measure::ChargeTime { at_most_h: x, .. } => *x = to,
        other => panic!("{other:?}"),
    }
}

/// The library has what the search is promised to bear.
#[test]
fn the_built_in_library_is_large_enough() {
    let count = |kind: &str| builtin().iter().filter(|p| p.kind() == kind).count();
    assert!(count("motor") >= 60 && count("controller") >= 60 && count("module") >= 60 && count("charger") >= 40);
}

#[test]
fn every_design_is_what_the_estimate_says_to_the_last_bit() {
    let document = sound_demo("pipit-b");
    let request = MatchRequest::default();
    let answer = find(&document, &request);
    assert!(answer.complete && answer.designs.len() > 20, "{} designs", answer.designs.len());
    for m in &answer.designs {
        let design = design_of(&document, builtin(), &request, &m.pick);
        let e = report(&document.with(|d| d.design = design).expect("sound")).expect("complete");
        let stops: Vec<_> = e.findings.iter().filter(|f| f.severity == Severity::Stop).collect();
        assert!(stops.is_empty(), "{:?}: {stops:?}", m.pick);
        let missed: Vec<_> = e.claims.iter().filter(|c| c.level == GoalLevel::Required && c.margin.is_none_or(|x| x < 0.0)).collect();
        assert!(missed.is_empty(), "{:?}: {missed:?}", m.pick);
        let run = e.performance.accelerations.iter().find(|s| (s.from_kmh, s.to_kmh) == (0.0, 25.0)).and_then(|s| s.time_s);
        let hours = e.charging[0].window.and_then(|w| w.hours_h);
        let range = e.trips.iter().find(|t| t.trip == "market").and_then(|t| t.range_km);
        assert_eq!(
            (m.cost, m.range_km, m.acceleration_s, m.added_kg, m.charge_h),
            (e.cost.net, range, run, e.masses.change_kg, hours),
            "{:?}",
            m.pick
        );
    }
}

#[test]
fn schools_and_parts_in_hand_are_kept() {
    let document = sound_demo("pipit-b");
    let motor = "Winkle 4 pancake".to_owned();
    // Finely resolved, so that the cheapest is not taken for the same as one a little dearer.
    let fine = MatchRequest { resolution_percent: 0.1, ..MatchRequest::default() };
    let owned = find(&document, &MatchRequest { in_hand: vec![motor.clone()], ..fine.clone() });
    assert!(!owned.designs.is_empty() && owned.designs.iter().all(|d| d.pick.motor == motor));
    let bought = find(&document, &MatchRequest { only: Chosen { motors: vec![motor], ..Chosen::default() }, ..fine });
    let cheapest = |a: &MatchAnswer| a.designs.iter().map(|d| d.cost).fold(f64::INFINITY, f64::min);
    let price = builtin().iter().find(|p| p.name() == "Winkle 4 pancake").expect("known").price();
    check("a motor in hand costs nothing", cheapest(&bought), cheapest(&owned) + price, 2e-3);
    let schooled = MatchRequest { current: CurrentApproach::Alternating, cells: CellApproach::New, ..MatchRequest::default() };
    assert!(find(&document, &schooled).designs.iter().all(|d| !d.direct_current && !d.salvaged));
    let small = MatchRequest { pack: PackApproach::Small { range_share: 0.5, charge_h: 2.0 }, ..MatchRequest::default() };
    let lightest = |a: &MatchAnswer| a.designs.iter().map(|d| d.usable_kwh).fold(f64::INFINITY, f64::min);
    let (big, small) = (find(&document, &MatchRequest::default()), find(&document, &small));
    assert!(lightest(&small) < lightest(&big) && small.designs.iter().all(|d| d.charge_h.is_some_and(|h| h <= 2.0)));
    // The best of each approach stands beside the list.
    let best = |approach: &str| big.approaches.iter().find(|s| s.approach == approach).and_then(|s| s.best.clone()).expect("one");
    assert!(best("direct").direct_current && !best("alternating").direct_current && best("salvaged").salvaged && !best("new").salvaged);
}

#[test]
fn sure_means_nine_draws_in_ten() {
    let document = sound_demo("pipit-b");
    let request = MatchRequest {
        certainty: Certainty::P10,
        only: Chosen {
            motors: vec!["Winkle 4 pancake".to_owned()],
            controllers: vec!["Holm 48/200 chopper".to_owned()],
            ..Chosen::default()
        },
        ..MatchRequest::default()
    };
    let answer = find(&document, &request);
    assert!(!answer.designs.is_empty());
    // Samples are looked at in the order that tells soonest, which hangs neither on threads nor on the order of the library.
    let shuffled: Vec<Part> = builtin().iter().rev().cloned().collect();
    let pool = rayon::ThreadPoolBuilder::new().num_threads(1).build().expect("a pool");
    let alone = pool.install(|| search(&document, &shuffled, &request, &Cancel::new(), |_| true)).expect("sound");
    assert_eq!(alone.designs, answer.designs);
    for m in answer.designs.iter().take(8) {
        let design = design_of(&document, builtin(), &request, &m.pick);
        let e = report_with_bands(&document.with(|d| d.design = design).expect("sound")).expect("complete");
        for claim in e.claims.iter().filter(|c| c.level == GoalLevel::Required) {
            // A filter of the first 32 draws leaves some room in all 256.
            assert!(claim.probability.is_some_and(|p| p > 0.8), "{:?} {}: {:?}", m.pick, claim.name, claim.probability);
        }
    }
}

#[test]
fn the_way_out_is_the_least() {
    // Without the budget the cheapest that meets all else is the least the budget can be raised to.
    let wish = |d: &mut Document| d.brief.goals.iter_mut().filter(|g| g.id == "budget").for_each(|g| g.level = GoalLevel::Wanted);
    let free = sound_demo("pipit-b").with(wish).expect("sound");
    let least = find(&free, &MatchRequest { resolution_percent: 0.1, ..MatchRequest::default() })
        .designs
        .iter()
        .map(|d| d.cost)
        .fold(f64::INFINITY, f64::min);
    let mut poor = sound_demo("pipit-b").with(|d| set_target(d, "budget", 0.9 * least)).expect("sound");
    assert!(find(&poor, &MatchRequest::default()).designs.is_empty());
    let out = relaxations(&poor, builtin(), &MatchRequest::default(), &Cancel::new(), |_| true).expect("sound");
    let raised = out.options.iter().find(|o| o.slacks.len() == 1 && o.slacks[0].goal == "budget").expect("money helps");
    check("least budget", raised.slacks[0].relaxed, least, 1e-3);
    // The relaxed brief has an answer.
    poor = poor.with(|d| set_target(d, "budget", raised.slacks[0].relaxed)).expect("sound");
    assert!(!find(&poor, &MatchRequest::default()).designs.is_empty());
    assert!(out.complete && out.conflict.contains(&"Cost".into()), "{:?}", out.conflict);
}

#[test]
fn why_not_names_rule_figure_and_rival() {
    let document = sound_demo("pipit-b");
    let answer = find(&document, &MatchRequest::default());
    let picks: Vec<_> = answer.designs.iter().map(|d| d.pick.clone()).collect();
    let ask = |question: &Question, request: &MatchRequest| {
        why_not(&document, builtin(), request, question, Compared { beside: picks.first(), against: &picks }, &Cancel::new(), || true)
            .expect("an answer")
    };
    // A unit that drives half-shafts has no place in a trike with a chain.
    let unit = ask(&Question { motor: Some("Skua 35 drive unit".to_owned()), ..Question::default() }, &MatchRequest::default());
    assert!(unit.best.is_none() && unit.report.raw == 0 && unit.summary.to_string().contains("half-shafts"), "{}", unit.summary);
    assert!(unit.put_in.expect("beside the first").findings.iter().any(|f| f.rule == "match.unit-into-gearbox"));
    // A motor of 35 kW on a 48 V trike.
    let large = ask(&Question { motor: Some("Dulse 35 mid-drive".to_owned()), ..Question::default() }, &MatchRequest::default());
    assert!(large.best.is_none() && large.report.raw > 0);
    let put_in = large.put_in.expect("beside the first");
    let found = put_in.findings.iter().find(|f| f.rule == "match.motor-kind");
    assert!(found.is_some(), "{:?}", put_in.findings);
    let nearest = large.nearest.expect("a nearest miss");
    assert!(nearest.misses.iter().any(|m| m.goal == "budget" && m.reached.is_some_and(|r| r > m.target)), "{:?}", nearest.misses);
    // The very parts of the first design are no question of rules.
    let first = &answer.designs[0];
    let own = ask(&Question { controller: Some(first.pick.controller.clone()), ..Question::default() }, &MatchRequest::default());
    assert!(own.best.is_some(), "{}", own.summary);
    // What a person left out is said first.
    let without = MatchRequest { exclude: vec![first.pick.motor.clone()], ..MatchRequest::default() };
    let left_out = ask(&Question { motor: Some(first.pick.motor.clone()), ..Question::default() }, &without);
    assert!(left_out.summary.to_string().contains("excluded in this search"), "{}", left_out.summary);
    assert!(why_not(&document, builtin(), &without, &Question::default(), Compared::default(), &Cancel::new(), || true).is_err());
}

#[test]
fn demands_are_closed_forms() {
    // With next to no air: constant power takes m k v^2 / (2 P) from rest, k = 1.06 before the motor is known, and a hill m g (sin + c cos).
    let mut d = with(plain(), "/donor/drag_coefficient", json!(0.05));
    d = with(d, "/donor/rolling_coefficient", json!(0.001));
    d = with(d, "/donor/adhesion", json!(2));
    d = with(d, "/donor/rotating_mass_factor", json!(null));
    d = with(
        d,
        "/brief/goals",
        json!([
            { "id": "run", "measure": { "kind": "acceleration", "from_kmh": 0, "to_kmh": 72, "at_most_s": 5 } },
            { "id": "hill", "measure": { "kind": "hill_at_speed", "speed_kmh": 36, "at_least_percent": 10, "continuous": true } }
        ]),
    );
    let document = read(&d);
    let n = needs(&document).expect("sound");
    let run = n.wheels.iter().find(|w| w.goal == "run").expect("asked");
    check("power for a run", run.power_w, n.test_kg * 1.06 * 20.0 * 20.0 / (2.0 * 5.0), 0.02);
    let stated = needs(&read(&with(d.clone(), "/donor/rotating_mass_factor", json!(1.3)))).expect("sound");
    check("with the donor's own rotating mass", stated.wheels[0].power_w, run.power_w * 1.3 / 1.06, 0.01);
    let hill = n.wheels.iter().find(|w| w.goal == "hill").expect("asked");
    check("pull up a hill", hill.force_n, n.test_kg * 9.80665 * (0.1 + 0.001) / 1.01_f64.sqrt(), 8e-3);
    check("power up a hill", hill.power_w, hill.force_n * 10.0, 1e-12);
    // METHODS 11, common practice: a wheel 23 in across at 50 mph turns about 730 times a minute, here in direct drive.
    let mut geared = with(d, "/donor/tyre", json!({ "rolling_radius_m": 11.5 * 0.0254 }));
    geared = with(geared, "/donor/driveline", json!({}));
    let goals = json!([{ "id": "top", "measure": { "kind": "top_speed", "at_least_kmh": 50.0 * 1.609_344 } }]);
    let geared = needs(&read(&with(geared, "/brief/goals", goals))).expect("sound");
    check("revolutions at 50 mph", geared.gears[0].motor_rpm, 730.0, 0.01);
}

#[test]
fn what_no_motor_can_do_is_said_with_the_adhesion_limit() {
    let hopeless = |d: &mut Document| {
        d.donor.driven_axle = joulethesis_core::document::DrivenAxle::Front;
        let goal = d.brief.goals.iter_mut().find(|g| g.id == "acceleration").expect("a goal");
        goal.level = GoalLevel::Required;
        goal.measure = Measure::Acceleration { from_kmh: 0.0, to_kmh: 100.0, at_most_s: 1.0 };
    };
    let document = sound_demo("whimbrel-9-a").with(hopeless).expect("sound");
    let said = needs(&document).expect("sound").impossible;
    assert_eq!(said.len(), 1);
    // With all of the grip and no resistance: m k v / F.
    let n = needs(&document).expect("sound");
    assert!(
        said[0].best > Some(n.test_kg * 1.06 * (100.0 / 3.6) / n.grip_n) && said[0].why.to_string().contains("front tyres"),
        "{said:?}"
    );
}

#[test]
fn nonsense_is_refused_by_name() {
    let document = sound_demo("pipit-b");
    let refused = |library: &[Part], request: MatchRequest| match search(&document, library, &request, &Cancel::new(), |_| true) {
        Err(Error::Invalid(problems)) => problems.into_iter().map(|p| p.message).collect::<Vec<_>>(),
        other => panic!("{other:?}"),
    };
    assert_eq!(refused(&[], MatchRequest::default()).len(), 3);
    let motor = "Winkle 4 pancake".to_owned();
    let both = MatchRequest { in_hand: vec![motor.clone()], exclude: vec![motor], ..MatchRequest::default() };
    assert!(refused(builtin(), both)[0].contains("it is excluded at the same time"));
    let unknown = MatchRequest { exclude: vec!["Nonesuch".to_owned()], ..MatchRequest::default() };
    assert!(refused(builtin(), unknown)[0].starts_with("exclude[0] is \"Nonesuch\""));
    let far = MatchRequest { budget: Some(-5.0), motor_counts: vec![9], trip: Some("moon".to_owned()), ..MatchRequest::default() };
    assert_eq!(refused(builtin(), far).len(), 3);
    let few = MatchRequest { most_designs: 3, ..MatchRequest::default() };
    assert_eq!(refused(builtin(), few), ["most_designs is 3; 5 to 10000 is accepted"]);
    let none = MatchRequest { least_designs: 0, ..MatchRequest::default() };
    assert_eq!(refused(builtin(), none), ["least_designs is 0; 1 to 10000 is accepted"]);
    // A number of another type is told without the program's words for types.
    for (given, told) in [(json!(-3), "-3"), (json!(4.5), "4.5"), (json!("many"), "\"many\""), (json!(null), "null")] {
        let Err(error) = serde_path_to_error::deserialize::<_, MatchRequest>(json!({ "most_designs": given })) else {
            panic!("{told} is read")
        };
        let problem = Problem::worded(error.path().to_string(), error.inner());
        let want = format!("most_designs is {told}; a whole number from 0 on is accepted");
        assert_eq!((problem.message.as_str(), problem.given.as_str()), (want.as_str(), told));
    }
    let Err(error) = serde_json::from_value::<MatchRequest>(json!({ "most_designs": 1_000_000_000_000_u64 })) else { panic!("it is read") };
    let problem = Problem::worded("most_designs".to_owned(), &error);
    assert_eq!(problem.message, "most_designs is 1000000000000; a whole number from 0 to 4294967295 is accepted");
    // A currency without a rate leaves parts out and says so; with one their price is converted.
    let mut library = builtin().to_vec();
    let Some(Part::Motor(m)) = library.iter_mut().find(|p| p.name() == "Winkle 4 pancake") else { panic!("a motor") };
    m.currency = Some("NOK".to_owned());
    let left = search(&document, &library, &MatchRequest::default(), &Cancel::new(), |_| true).expect("sound");
    assert_eq!(left.unpriced, ["Winkle 4 pancake"]);
    let rates = [("NOK".to_owned(), 1.0)].into();
    let one = search(&document, &library, &MatchRequest { rates, ..MatchRequest::default() }, &Cancel::new(), |_| true).expect("sound");
    let costs = |a: &MatchAnswer| a.designs.iter().map(|d| d.cost).collect::<Vec<_>>();
    assert_eq!(costs(&one), costs(&find(&document, &MatchRequest::default())));
}

/// A search that is told to stop keeps what it has.
#[test]
fn a_stopped_search_keeps_what_it_has() {
    let mut after = 0;
    let answer = search(&sound_demo("whimbrel-9-a"), builtin(), &MatchRequest::default(), &Cancel::new(), |progress| {
        after += u32::from(progress.report().kept > 0);
        after == 0
    })
    .expect("sound");
    assert!(!answer.complete && after == 1 && !answer.designs.is_empty());
    assert!(answer.report.undecided > 0, "{:?}", answer.report);
}

/// What nobody has priced is not the cheapest of all, bare pouch cells move nothing heavy, and units sit between half-shafts alone.
#[test]
fn what_has_no_price_or_no_place_is_left_out_and_named() {
    let van = sound_demo("whimbrel-9-a");
    let Some(Part::Controller(known)) = builtin().iter().find(|p| p.name() == "Headrace 400/250 inverter") else { panic!("built in") };
    let gift = Part::Controller(joulethesis_core::library::Controller { name: "Gift".to_owned(), price: 0.0, ..known.clone() });
    let mut library: Vec<Part> = builtin().to_vec();
    library.push(gift);
    let pouch = |m: &joulethesis_core::library::Module| m.is_bare_pouch();
    let named = |answer: &MatchAnswer| answer.designs.iter().any(|d| d.pick.controller == "Gift");
    let find = |request: &MatchRequest| search(&van, &library, request, &Cancel::new(), |_| true).expect("sound");
    // Few enough parts for a quick search, pouches and units among them.
    let only = |more: &[&str]| {
        let names = |kind: &str| builtin().iter().filter(|p| p.kind() == kind).map(|p| p.name().to_owned()).collect::<Vec<_>>();
        let cells = builtin().iter().filter(|p| matches!(p, Part::Module(m) if pouch(m))).map(|p| p.name().to_owned());
        let mut request = MatchRequest { only: Default::default(), ..MatchRequest::default() };
        request.only.motors = vec!["Skua 40 drive unit".to_owned(), "Shearwater 22 induction".to_owned()];
        request.only.modules = cells.chain(["Coral 6s module, salvaged".to_owned(), "Coral 16s module".to_owned()]).collect();
        request.only.chargers = names("charger");
        request.in_hand = more.iter().map(|n| (*n).to_owned()).collect();
        request
    };
    let free = find(&only(&[]));
    assert!(!named(&free) && free.without_price == ["Gift"] && !free.designs.is_empty());
    for design in &free.designs {
        let module = builtin().iter().find(|p| p.name() == design.pick.module).expect("built in");
        assert!(!matches!(module, Part::Module(m) if pouch(m)), "{}", design.pick.module);
        assert_eq!(design.pick.motor.contains("drive unit"), design.pick.gearing == "unit", "{:?}", design.pick);
    }
    assert!(free.designs.iter().any(|d| d.pick.gearing == "unit"), "no unit was tried");
    assert!(named(&find(&only(&["Gift"]))), "in hand it costs nothing");
    // Whoever allows pouches gets them.
    let allowed = MatchRequest { allow: vec!["pack.bare-pouch".to_owned()], ..only(&[]) };
    assert!(find(&allowed).report.raw > free.report.raw);
}

/// While it runs a search tells how closely designs are told apart then; in the end the answer says the same of the steps it stays with.
#[test]
fn a_running_search_tells_its_steps() {
    let (document, mut looks) = (sound_demo("pipit-b"), Vec::new());
    let request = MatchRequest::default();
    let keep = |progress: &Progress<'_>| {
        looks.push(progress.axes());
        true
    };
    let answer = search(&document, builtin(), &request, &Cancel::new(), keep).expect("sound");
    let steps = |axes: &[AxisInfo]| axes.iter().map(|a| a.step_percent).collect::<Vec<_>>();
    assert!(1 < answer.widened && answer.widened < 32, "{} times as wide: nothing is compared", answer.widened);
    assert!(looks.iter().any(|axes| steps(axes) == steps(&answer.axes)), "never in the steps of the answer");
    assert!(looks.iter().any(|axes| steps(axes) != steps(&answer.axes)), "always in the same steps");
}

/// Nothing leads a list that costs and weighs more than another which has as much as is needed to spare.
#[test]
fn more_than_anybody_needs_does_not_lead() {
    for name in ["pipit-b", "whimbrel-9-a", "wren-a"] {
        let document = sound_demo(name);
        let answer = find(&document, &MatchRequest { most_designs: 40, ..MatchRequest::default() });
        let first = &answer.designs[0];
        let to_spare = |m: &joulethesis_core::matching::Match| {
            let of = [m.range_km, m.acceleration_s, m.charge_h, Some(m.hill_percent)];
            let axes = [1, 2, 4, 5].map(|i| &answer.axes[i]);
            axes.iter().zip(of).all(|(axis, value)| match (axis.target, value) {
                (Some(target), Some(x)) => {
                    if axis.more_is_better {
                        x >= 1.2 * target
                    } else {
                        x <= target / 1.2
                    }
                }
                (Some(_), None) => false,
                (None, _) => true,
            })
        };
        let asked = |m: &joulethesis_core::matching::Match| [m.cost, m.added_kg + document.donor.curb_mass_kg];
        for other in answer.designs.iter().filter(|m| to_spare(m)) {
            let ([cost, kg], [first_cost, first_kg]) = (asked(other), asked(first));
            assert!(!(cost < first_cost / 1.35 && kg <= first_kg), "{name}: {:?} before {:?}", first.pick, other.pick);
        }
    }
}
