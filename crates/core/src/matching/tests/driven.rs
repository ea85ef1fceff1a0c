//! What a driven chain tells of heavier ones of the same ratings, against those themselves.

use std::collections::HashMap;

use super::proof::{Proof, Tried, candidate, demo};
use crate::document::{Answers, Checked, Document, VehicleKind};
use crate::figures::FigureKind;
use crate::findings::Rule;
use crate::library::{Controller, Motor, Part, builtin};
use crate::matching::driven::{Came, DrivenPairs};
use crate::matching::space::SearchProblem;

/// What a design says of another before that one is driven.
fn tells(Proof { problem, space, .. }: &Proof, one: &Tried, other: &Tried) -> Option<Came> {
    let came = match (one.followed, one.follows) {
        (false, _) => Came::Broke(Rule::NotFollowed),
        (true, false) => Came::Broke(Rule::Heat),
        (true, true) => Came::Reached(range_km(problem, one)),
    };
    let mut pairs = DrivenPairs::none(problem);
    pairs.add(problem, space, &one.candidate, came);
    pairs.tell(problem, space, &other.candidate)
}

fn range_km(problem: &SearchProblem, tried: &Tried) -> f64 {
    let counting = FigureKind::Range(problem.trip.expect("a trip"));
    tried.values.iter().find(|(kind, _)| *kind == counting).expect("a range").1
}

/// How often something was told of a heavier chain by a lighter one, and held.
#[derive(Default)]
struct Held {
    reached: u32,
    broke: u32,
    slack: f64,
}

impl Held {
    /// Holds what a light chain tells of a heavy one against the heavy one itself; nothing is told the other way round.
    fn hold(&mut self, proof: &Proof, light: &Tried, heavy: &Tried) {
        assert_eq!(tells(proof, heavy, light), None, "{:?}", light.candidate);
        match tells(proof, light, heavy) {
            Some(Came::Broke(_)) => {
                assert!(!heavy.follows, "{:?} keeps up, a lighter one told that it does not", heavy.candidate);
                self.broke += 1;
            }
            Some(Came::Reached(km)) if heavy.follows => {
                let own_km = range_km(&proof.problem, heavy);
                assert!(own_km <= km, "{own_km} km, at most {km}: {:?}", heavy.candidate);
                self.slack = self.slack.max(km / own_km - 1.0);
                self.reached += 1;
            }
            _ => {}
        }
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

/// A chain with a heavier charger goes no further than a lighter one told, and breaks what that breaks; a lighter one is told nothing.
#[test]
fn no_charger_carries_a_chain_further_than_a_lighter_one_told() {
    let (mut held, mut over_hills) = (Held::default(), 0);
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
            let before = held.reached;
            let [light, heavy] = [light, heavy].map(|charger| proof.tried(drive, pack as u32, charger.0));
            held.hold(&proof, &light, &heavy);
            over_hills += if hilly { held.reached - before } else { 0 };
        }
    }
    assert!(held.reached > 100 && held.broke > 50, "{} ranges compared, {} rules broken", held.reached, held.broke);
    assert!(over_hills > 50, "{over_hills} ranges compared over hills");
    assert!(held.slack < 0.1, "a range was told {} too far", held.slack);
}

/// The same of motors and controllers that the library holds twice, the other time heavier and at another price; a motor of any other rating is
/// told nothing.
#[test]
fn no_motor_carries_a_chain_further_than_a_lighter_one_of_its_ratings_told() {
    let heavier = |part: &Part| match part {
        Part::Motor(m) => {
            Some(Part::Motor(Motor { name: format!("{} again", m.name), mass_kg: 1.4 * m.mass_kg, price: 0.9 * m.price, ..m.clone() }))
        }
        Part::Controller(c) => Some(Part::Controller(Controller {
            name: format!("{} again", c.name),
            mass_kg: 1.5 * c.mass_kg,
            price: 1.1 * c.price,
            ..c.clone()
        })),
        _ => None,
    };
    let other = |part: &Part| match part {
        Part::Motor(m) => {
            let rated =
                Motor { name: format!("{} derated", m.name), mass_kg: 1.4 * m.mass_kg, max_temperature_c: Some(137.0), ..m.clone() };
            Some(Part::Motor(rated))
        }
        _ => None,
    };
    let library: Vec<Part> =
        builtin().iter().cloned().chain(builtin().iter().filter_map(heavier)).chain(builtin().iter().filter_map(other)).collect();
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
        for i in 0..40 {
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
    assert!(others > 20, "{others} of other ratings");
}
