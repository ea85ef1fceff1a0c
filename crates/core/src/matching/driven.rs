//! What has been driven tells of a chain that is heavier and otherwise the same: with another charger, or with motors and controllers of which the
//! library holds the ratings twice, at another mass and price. It goes no further and breaks the same rules.
//!
//! On a trip that is nowhere below its start more mass has taken more energy up to every point, as not all of what a climb takes comes back; of
//! one that leads lower no range is told. No rule is told of where a trip leads downhill at all, as mass pushes there; and nothing of trips whose
//! pace the chain sets, nor of what is lighter, as the last of the charge may carry it through a cheap stretch.

use std::collections::HashMap;

use serde::Serialize;

use super::candidates::Candidate;
use super::enumerate::SearchSpace;
use super::space::SearchProblem;
use super::trip_energy::ROOM;
use crate::findings::Rule;

/// What driving a design came to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Came {
    /// Its range on the trip that counts, km.
    Reached(f64),
    /// It breaks a rule about its trips.
    Broke(Rule),
}

/// Motors and controllers by the first of the library with the same ratings; what drives alike at the same mass, drives alike at all.
#[derive(Debug)]
struct SameRatings {
    motors: Vec<u16>,
    controllers: Vec<u16>,
}

impl SameRatings {
    fn of(problem: &SearchProblem) -> Self {
        Self {
            motors: firsts(problem.motors.iter().map(|m| &m.counted)),
            controllers: firsts(problem.controllers.iter().map(|c| &c.counted)),
        }
    }
}

/// What of a record is no rating.
const NO_RATINGS: [&str; 6] = ["name", "notes", "mass_kg", "price", "currency", "sources"];

/// Of each record the place of the first with the same ratings.
fn firsts(records: impl Iterator<Item = impl Serialize>) -> Vec<u16> {
    let mut first = HashMap::new();
    let ratings = |record| {
        let mut written = serde_json::to_value(record).ok()?;
        let keys = written.as_object_mut()?;
        NO_RATINGS.iter().for_each(|key| drop(keys.remove(*key)));
        Some(written.to_string())
    };
    // What cannot be written has the ratings of nothing else.
    let each = (0u16..).zip(records).map(|(i, record)| (i, ratings(record).unwrap_or_else(|| i.to_string())));
    each.map(|(i, ratings)| *first.entry(ratings).or_insert(i)).collect()
}

/// What tells two designs of one pack and the same ratings apart.
#[derive(Debug, Clone, Copy)]
struct Stands {
    test_mass_kg: f64,
    grip_n_per_kg: f64,
}

/// Motor, count, place, gearing and controller, parts of the same ratings named by the first of them, and pack.
type Pair = ([u16; 5], u32);

/// Designs that have been driven, by ratings and pack.
#[derive(Debug)]
pub(super) struct DrivenPairs {
    /// Whether anything is told of rules, and of the range.
    tells_of_rules: bool,
    tells_of_range: bool,
    same: SameRatings,
    seen: HashMap<Pair, Vec<(Stands, Came)>>,
}

impl DrivenPairs {
    /// None yet.
    pub(super) fn none(problem: &SearchProblem) -> Self {
        let own = |i: &usize| !problem.trips[*i].1.points.is_empty();
        let level = |i: &usize| !problem.trips[*i].1.leads_downhill();
        let never_below = |i: usize| !problem.trips[i].1.leads_below_its_start();
        let keeps_up = problem.keeps_up() && problem.followed.iter().all(own);
        Self {
            tells_of_rules: keeps_up && problem.followed.iter().all(level),
            tells_of_range: keeps_up && problem.trip.is_some_and(never_below),
            same: SameRatings::of(problem),
            seen: HashMap::new(),
        }
    }

    fn pair(&self, space: &SearchSpace, candidate: &Candidate) -> Pair {
        let of = space.configuration(candidate);
        let (motor, controller) = (self.same.motors[usize::from(of.motor)], self.same.controllers[usize::from(of.controller)]);
        ([motor, of.count, u16::from(of.place), of.gearing, controller], candidate.pack)
    }

    /// Keeps what a design came to.
    pub(super) fn add(&mut self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate, came: Came) {
        let is_told = match came {
            Came::Reached(km) => self.tells_of_range && km > 0.0 && km.is_finite(),
            Came::Broke(_) => self.tells_of_rules,
        };
        if is_told {
            let pair = self.pair(space, candidate);
            self.seen.entry(pair).or_default().push((Stands::of(problem, space, candidate), came));
        }
    }

    /// What is told of a design by those no heavier: a rule that it breaks as well, or the range that it does not exceed, km.
    pub(super) fn tell(&self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> Option<Came> {
        let seen = self.seen.get(&self.pair(space, candidate))?;
        let own = Stands::of(problem, space, candidate);
        let mut furthest_km = f64::INFINITY;
        for (other, came) in seen.iter().filter(|(other, _)| other.test_mass_kg <= own.test_mass_kg) {
            match came {
                Came::Broke(_) if own.grip_n_per_kg <= other.grip_n_per_kg * (1.0 + 1e-12) => return Some(*came),
                Came::Broke(_) => {}
                Came::Reached(km) => furthest_km = furthest_km.min(km * ROOM),
            }
        }
        furthest_km.is_finite().then_some(Came::Reached(furthest_km))
    }
}

impl Stands {
    fn of(problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> Self {
        let (drive, pack) = (&space.drives[candidate.drive as usize], &space.packs[candidate.pack as usize]);
        let look = space.look(problem, drive, (pack, pack.chargers[candidate.charger as usize].only_kg()), false);
        Self { test_mass_kg: look.mass_kg, grip_n_per_kg: look.worst.grip_n / look.worst.heaviest_kg }
    }
}
