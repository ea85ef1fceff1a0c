//! What a driven chain tells of others of the same ratings, heavier and lighter, against those themselves.

use std::collections::HashMap;

use super::proof::{Proof, Tried, bounded, candidate, demo, spread};
use crate::cancel::Cancel;
use crate::document::{Answers, Checked, Document, VehicleKind};
use crate::figures::{Driven, Evaluator};
use crate::findings::Rule;
use crate::library::{Controller, Motor, Part, builtin};
use crate::matching::candidates::Candidate;
use crate::matching::twins::{Came, SeenTwins, Stands, ToldByTwins, at_best, worsens_with_mass};

/// What a design says of another before that one is driven: whether it breaks a rule, and how far it goes at most.
fn tells(Proof { problem, space, .. }: &Proof, one: &Tried, other: &Tried) -> (Option<Rule>, f64) {
    let driven = Driven { derated: !one.follows && one.driven.is_some_and(|d| d.followed), ..one.driven.expect("a trip") };
    let seen = SeenTwins::none(problem);
    let came = seen.broke(&driven).or_else(|| seen.reached(&driven)).into_iter();
    let stands = |tried: &Tried| Stands::of(&space.look_at(problem, &tried.candidate));
    let known: Vec<(Stands, Came)> = came.map(|came| (stands(one), came)).collect();
    let is_twin = space.twins(problem, &one.candidate) == space.twins(problem, &other.candidate);
    let told = ToldByTwins::by(if is_twin { &known } else { &[] }, &stands(other));
    (told.breaks, told.furthest_km)
}

/// How often something was told of a chain by another, and held.
#[derive(Default)]
struct Held {
    reached: u32,
    broke: u32,
    slack: f64,
    /// Ranges told of a lighter chain.
    lighter: u32,
    lighter_slack: f64,
}

impl Held {
    /// Holds what two chains tell of each other against both.
    fn hold(&mut self, proof: &Proof, light: &Tried, heavy: &Tried) {
        let own_km = |tried: &Tried| tried.driven.expect("a trip").range_km;
        match tells(proof, light, heavy) {
            (Some(_), _) => {
                assert!(!heavy.follows, "{:?} keeps up, a lighter one told that it does not", heavy.candidate);
                self.broke += 1;
            }
            (None, km) if heavy.follows && km.is_finite() => {
                assert!(own_km(heavy) <= km, "{} km, at most {km}: {:?}", own_km(heavy), heavy.candidate);
                self.slack = self.slack.max(km / own_km(heavy) - 1.0);
                self.reached += 1;
            }
            _ => {}
        }
        match tells(proof, heavy, light) {
            (Some(_), _) => panic!("{:?} may keep up though a heavier one does not", light.candidate),
            (None, km) if light.follows && km.is_finite() => {
                assert!(own_km(light) <= km, "{} km, at most {km}: {:?}", own_km(light), light.candidate);
                self.lighter_slack += km / own_km(light) - 1.0;
                self.lighter += 1;
            }
            _ => {}
        }
    }

    /// How much further than a lighter chain goes is told, on the mean.
    fn lighter_slack(&self) -> f64 {
        self.lighter_slack / f64::from(self.lighter)
    }
}

/// One vehicle of each kind, asked for more from kind to kind, and the van, whose trip leads up and down again.
fn vehicles() -> impl Iterator<Item = Checked> {
    let new = VehicleKind::ALL.into_iter().enumerate().map(|(k, kind)| {
        let answers = Answers { fastest_kmh: Some(50.0 + 8.0 * k as f64), longest_trip_km: Some(20.0), ..Answers::default() };
        Document::starter("Same", kind, &answers).checked().expect("sound")
    });
    new.chain([demo("whimbrel-9-a")])
}

/// A chain with a heavier charger goes no further than a lighter one told, and breaks what that breaks; one with a charger that is a little
/// lighter goes no further than that told.
#[test]
fn no_charger_carries_a_chain_further_than_a_lighter_one_told() {
    let (mut held, mut over_hills, mut lighter_over_hills) = (Held::default(), 0, 0);
    for document in vehicles() {
        let proof = Proof::of_document(&document);
        let Proof { problem, space, .. } = &proof;
        let hilly = problem.trips[problem.trip.expect("a trip")].1.leads_downhill();
        for i in 0..if hilly { 400 } else { 90 } {
            let (pack, drive) = proof.drawn(i);
            let mut by_mass: Vec<(u32, f64)> = (0..).zip(space.packs[pack].chargers.iter().map(|c| c.mass_kg)).collect();
            by_mass.sort_by(|a, b| a.1.total_cmp(&b.1));
            let (light, heavy) = (by_mass[0], by_mass[by_mass.len() - 1]);
            if heavy.1 <= light.1 {
                continue;
            }
            let before = (held.reached, held.lighter);
            let [light, heavy] = [light, heavy].map(|charger| proof.tried(drive, pack as u32, charger.0));
            held.hold(&proof, &light, &heavy);
            if hilly {
                over_hills += held.reached - before.0;
                lighter_over_hills += held.lighter - before.1;
            }
        }
    }
    assert!(held.reached > 100 && held.broke > 50, "{} ranges compared, {} rules broken", held.reached, held.broke);
    assert!(over_hills > 50, "{over_hills} ranges compared over hills");
    assert!(held.slack < 0.2, "a range was told {} too far", held.slack);
    assert!(held.lighter > 100 && lighter_over_hills > 50, "{} ranges of lighter ones, {lighter_over_hills} over hills", held.lighter);
    assert!(held.lighter_slack() < 0.02, "ranges of lighter ones were told {} too far", held.lighter_slack());
}

/// A part of the library once more, much or hardly heavier and at another price.
fn heavier((i, part): (usize, &Part)) -> Option<Part> {
    let times = [1.4, 1.02, 1.002][i % 3];
    match part {
        Part::Motor(m) => {
            let name = format!("{} again", m.name);
            Some(Part::Motor(Motor { name, mass_kg: times * m.mass_kg, price: 0.9 * m.price, ..m.clone() }))
        }
        Part::Controller(c) => {
            let name = format!("{} again", c.name);
            Some(Part::Controller(Controller { name, mass_kg: times * c.mass_kg, price: 1.1 * c.price, ..c.clone() }))
        }
        _ => None,
    }
}

/// The same of motors and controllers that the library holds twice, the other time much or hardly heavier and at another price; a motor of any other rating is
/// told nothing.
#[test]
fn no_motor_carries_a_chain_further_than_a_lighter_one_of_its_ratings_told() {
    let other = |part: &Part| match part {
        Part::Motor(m) => {
            let rated =
                Motor { name: format!("{} derated", m.name), mass_kg: 1.4 * m.mass_kg, max_temperature_c: Some(137.0), ..m.clone() };
            Some(Part::Motor(rated))
        }
        _ => None,
    };
    let library: Vec<Part> = builtin()
        .iter()
        .cloned()
        .chain(builtin().iter().enumerate().filter_map(heavier))
        .chain(builtin().iter().filter_map(other))
        .collect();
    let (mut held, mut others) = (Held::default(), 0);
    for document in vehicles() {
        let proof = Proof::of_library(&document, &library);
        let Proof { problem, space, .. } = &proof;
        let names = |drive: u32| {
            let of = space.configuration(&candidate(drive, 0));
            let (motor, controller) =
                (&problem.motors[usize::from(of.motor)].written, &problem.controllers[usize::from(of.controller)].written);
            (motor.name.clone(), controller.name.clone(), (of.count, of.place, of.gearing))
        };
        let all: HashMap<_, u32> = (0..space.drives.len() as u32).map(|drive| (names(drive), drive)).collect();
        for i in 0..60 {
            let (pack, drive) = proof.drawn(i);
            let (motor, controller, stands) = names(drive);
            let twin = |motor: String| all.get(&(motor, format!("{controller} again"), stands)).copied();
            let light = proof.tried(drive, pack as u32, 0);
            // Those that were too heavy or too dear from the first are not there.
            if let Some(twin) = twin(format!("{motor} again")) {
                held.hold(&proof, &light, &proof.tried(twin, pack as u32, 0));
            }
            if let Some(other) = twin(format!("{motor} derated")) {
                assert_eq!(tells(&proof, &light, &proof.tried(other, pack as u32, 0)), (None, f64::INFINITY), "{motor}, derated");
                others += 1;
            }
        }
    }
    assert!(held.reached > 20 && held.broke > 20, "{} ranges compared, {} rules broken", held.reached, held.broke);
    assert!(held.lighter > 20 && held.lighter_slack() < 0.02, "{} of lighter ones, {} too far", held.lighter, held.lighter_slack());
    assert!(others > 20, "{others} of other ratings");
}

/// What the lightest of some kin cannot do with the grip of the best, none of them can: at their accelerations, hills and speeds, on dry ground and
/// on wet, and on their trips, over hills too.
#[test]
fn none_of_kin_does_what_the_lightest_cannot() {
    let library: Vec<Part> = builtin().iter().cloned().chain(builtin().iter().enumerate().filter_map(heavier)).collect();
    let (mut compared, mut gripping, mut reached, mut broke, mut broke_over_hills) = (0, 0, 0, 0, 0);
    for (k, document) in vehicles().enumerate() {
        let wet = Checked::with_sound(&document, |d| d.donor.adhesion = if k % 2 == 0 { 0.35 } else { d.donor.adhesion });
        let proof = Proof::of_library(&wet, &library);
        let Proof { problem, space, .. } = &proof;
        let counting = problem.trip.expect("a trip");
        let (hilly, seen) = (problem.trips[counting].1.leads_downhill(), SeenTwins::none(problem));
        let mut alike: HashMap<_, Vec<u32>> = HashMap::new();
        for drive in 0..space.drives.len() as u32 {
            alike.entry(space.twins(problem, &candidate(drive, 0)).0).or_default().push(drive);
        }
        for i in 0..if hilly { 200 } else { 30 } {
            let (pack, drive) = proof.drawn(i);
            let chargers = space.packs[pack].chargers.len();
            let drawn = Candidate { charger: spread(i, 0.411, chargers) as u32, ..candidate(drive, pack as u32) };
            let kin = space.kin(problem, &drawn);
            let (stands, lightest, point) = space.lightest_chain(problem, &kin, &drawn).expect("whole");
            let cancel = Cancel::new();
            let mut evaluator = Evaluator::new(&lightest, &point, &problem.trips, &cancel);
            let shown = problem.cheapest_first.iter().filter(|kind| worsens_with_mass(**kind));
            let does = shown.map(|kind| (*kind, at_best(*kind, evaluator.value(*kind).expect("computed")))).collect();
            let driven = evaluator.trip(counting).expect("driven");
            let came = seen.broke(&driven).or_else(|| seen.reached(&driven).filter(|_| driven.followed && !driven.derated));
            let known: Vec<(Stands, Came)> = came.into_iter().chain([Came::Does(does)]).map(|came| (stands, came)).collect();
            gripping += u32::from(crate::simulate::hill_start(&point.chain, 0.9).limited_by == crate::powertrain::Cause::Traction);
            let twins = &alike[&space.twins(problem, &drawn).0];
            let own = |drive: u32, charger: u32| Candidate { drive, charger, ..drawn };
            let all = twins.iter().flat_map(|drive| (0..chargers as u32).map(move |charger| own(*drive, charger)));
            let kin_of = space.kin_of(problem, &drawn);
            let all: Vec<Candidate> = all.filter(|c| space.kin_of(problem, c) == kin_of).collect();
            assert_eq!(all.len(), kin.count as usize, "kin of {drawn:?}");
            for member in [all[0], all[spread(i, 0.511, all.len())], all[all.len() - 1]] {
                let tried = proof.tried(member.drive, member.pack, member.charger);
                let told = ToldByTwins::by(&known, &Stands::of(&space.look_at(problem, &member)));
                assert_eq!(told.does.len(), 1, "nothing was told of {member:?}");
                for (kind, best) in told.does.iter().copied().flatten() {
                    let value = tried.values.iter().find(|v| v.0 == *kind).expect("computed").1;
                    assert!(bounded(*kind, &problem.base, value, *best), "{kind:?} is {value}, at best {best}: {member:?}");
                    compared += 1;
                }
                if told.breaks.is_some() {
                    assert!(!tried.follows, "{member:?} keeps up, the lightest told that it does not");
                    broke += 1;
                    broke_over_hills += u32::from(hilly);
                }
                if tried.follows && told.furthest_km.is_finite() {
                    let km = tried.driven.expect("a trip").range_km;
                    assert!(km <= told.furthest_km, "{km} km, at most {}: {member:?}", told.furthest_km);
                    reached += 1;
                }
            }
        }
    }
    assert!(compared > 1000 && gripping > 40, "{compared} figures compared, of {gripping} on slippery ground");
    assert!(reached > 200 && broke > 50 && broke_over_hills > 20, "{reached} ranges, {broke} rules, {broke_over_hills} over hills");
}
