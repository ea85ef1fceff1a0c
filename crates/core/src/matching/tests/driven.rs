//! What a driven chain tells of others of the same ratings, heavier and lighter, against those themselves.

use std::collections::HashMap;

use super::proof::{Proof, Tried, candidate, demo};
use crate::document::{Answers, Checked, Document, VehicleKind};
use crate::findings::Rule;
use crate::library::{Controller, Motor, Part, builtin};
use crate::matching::driven::{Came, DrivenPairs, Reached, Twin};

/// What a design says of another before that one is driven.
fn tells(Proof { problem, space, .. }: &Proof, one: &Tried, other: &Tried) -> Option<Twin> {
    let driven = one.driven.expect("a trip");
    let came = match (driven.followed, one.follows) {
        (false, _) => Came::Broke(Rule::NotFollowed),
        (true, false) => Came::Broke(Rule::Heat),
        (true, true) => Came::Reached(Reached { km: driven.range_km, every_run: driven.every_run, further: driven.further }),
    };
    let mut pairs = DrivenPairs::none(problem);
    pairs.add(problem, space, &one.candidate, came);
    pairs.tell(problem, space, &other.candidate)
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
            Some(Twin::Breaks(_)) => {
                assert!(!heavy.follows, "{:?} keeps up, a lighter one told that it does not", heavy.candidate);
                self.broke += 1;
            }
            Some(Twin::Reaches(km)) if heavy.follows => {
                assert!(own_km(heavy) <= km, "{} km, at most {km}: {:?}", own_km(heavy), heavy.candidate);
                self.slack = self.slack.max(km / own_km(heavy) - 1.0);
                self.reached += 1;
            }
            _ => {}
        }
        match tells(proof, heavy, light) {
            Some(Twin::Breaks(_)) => panic!("{:?} may keep up though a heavier one does not", light.candidate),
            Some(Twin::Reaches(km)) if light.follows => {
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
    assert!(held.slack < 0.1, "a range was told {} too far", held.slack);
    assert!(held.lighter > 100 && lighter_over_hills > 50, "{} ranges of lighter ones, {lighter_over_hills} over hills", held.lighter);
    assert!(held.lighter_slack() < 0.02, "ranges of lighter ones were told {} too far", held.lighter_slack());
}

/// The same of motors and controllers that the library holds twice, the other time much or hardly heavier and at another price; a motor of any other rating is
/// told nothing.
#[test]
fn no_motor_carries_a_chain_further_than_a_lighter_one_of_its_ratings_told() {
    let heavier = |(i, part): (usize, &Part)| {
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
    };
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
                assert_eq!(tells(&proof, &light, &proof.tried(other, pack as u32, 0)), None, "{motor}, derated");
                others += 1;
            }
        }
    }
    assert!(held.reached > 20 && held.broke > 20, "{} ranges compared, {} rules broken", held.reached, held.broke);
    assert!(held.lighter > 20 && held.lighter_slack() < 0.02, "{} of lighter ones, {} too far", held.lighter, held.lighter_slack());
    assert!(others > 20, "{others} of other ratings");
}
