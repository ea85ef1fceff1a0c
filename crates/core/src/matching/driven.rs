//! What has been driven tells of a chain that has another mass and is otherwise the same: with another charger, or with motors and controllers of
//! which the library holds the ratings twice, at another mass and price.
//!
//! A heavier one goes no further and breaks the same rules. On a trip that is nowhere below its start more mass has taken more energy up to every
//! point, as not all of what a climb takes comes back; of one that leads lower no range is told. No rule is told of where a trip leads downhill at
//! all, as mass pushes there; and nothing of trips whose pace the chain sets.
//!
//! A lighter one goes no further than the heavier one would with so much more charge as the difference in mass may save at most. How far that
//! is takes driving it, as the last of the charge may carry it through a cheap stretch. No rule is told of it.

use std::collections::HashMap;

use serde::Serialize;

use super::candidates::Candidate;
use super::enumerate::SearchSpace;
use super::space::SearchProblem;
use super::trip_energy::{ROOM, ROOM_IF_MADE};
use crate::figures::{Further, MORE_CHARGE};
use crate::findings::Rule;

/// What driving a design came to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Came {
    /// Its range on the trip that counts.
    Reached(Reached),
    /// It breaks a rule about its trips.
    Broke(Rule),
}

/// A range, and what is known beside it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Reached {
    pub(super) km: f64,
    /// Whether every run was made, none bridged.
    pub(super) every_run: bool,
    /// What a little more charge would come to, where that was looked at.
    pub(super) further: Option<Further>,
}

/// What is told of a design before it is driven.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Twin {
    /// It goes no further, km.
    Reaches(f64),
    /// It breaks a rule about its trips.
    Breaks(Rule),
}

/// Charge that a share of the mass saves at most, as a share of what is drawn. Shaft energy falls no faster than mass, what motors lose no faster
/// than its square, and less current sags less: three. Twice that, as the cells give a little less voltage to one that is deeper in the window.
const MORE_PER_MASS: f64 = 6.0;

/// Motors and controllers by the first of the library with the same ratings; what drives alike at the same mass, drives alike at all.
#[derive(Debug)]
pub(super) struct SameRatings {
    pub(super) motors: Vec<u16>,
    controllers: Vec<u16>,
    /// Whether any are there twice.
    any: bool,
}

impl SameRatings {
    pub(super) fn of(problem: &SearchProblem) -> Self {
        let motors = firsts(problem.motors.iter().map(|m| &m.counted));
        let controllers = firsts(problem.controllers.iter().map(|c| &c.counted));
        let any = motors.iter().chain(&controllers).zip((0..motors.len() as u16).chain(0..)).any(|(first, own)| *first != own);
        Self { motors, controllers, any }
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
pub(super) type Pair = ([u16; 5], u32);

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

    /// What it has in common with all that it tells of.
    pub(super) fn pair(&self, space: &SearchSpace, candidate: &Candidate) -> Pair {
        let of = space.configuration(candidate);
        let (motor, controller) = (self.same.motors[usize::from(of.motor)], self.same.controllers[usize::from(of.controller)]);
        ([motor, of.count, u16::from(of.place), of.gearing, controller], candidate.pack)
    }

    /// Whether anything can be told of a design that is a little lighter than one: of the same pack with a lighter charger, or of a motor or
    /// controller that the library holds twice.
    pub(super) fn may_tell_lighter(&self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> bool {
        let pack = &space.packs[candidate.pack as usize];
        let own_kg = pack.chargers[candidate.charger as usize].mass_kg;
        let most_kg = MORE_CHARGE[MORE_CHARGE.len() - 1] / MORE_PER_MASS * Stands::of(problem, space, candidate).test_mass_kg;
        let is_little_lighter = |kg: f64| kg < own_kg && kg >= own_kg - most_kg;
        self.tells_of_range && (self.same.any || pack.chargers.iter().any(|c| is_little_lighter(c.mass_kg)))
    }

    /// Keeps what a design came to.
    pub(super) fn add(&mut self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate, came: Came) {
        let is_told = match came {
            Came::Reached(Reached { km, .. }) => self.tells_of_range && km > 0.0 && km.is_finite(),
            Came::Broke(_) => self.tells_of_rules,
        };
        if is_told {
            let pair = self.pair(space, candidate);
            self.seen.entry(pair).or_default().push((Stands::of(problem, space, candidate), came));
        }
    }

    /// What those of its ratings tell of a design: a rule that it breaks as well, or the range that it does not exceed.
    pub(super) fn tell(&self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> Option<Twin> {
        let seen = self.seen.get(&self.pair(space, candidate))?;
        let own = Stands::of(problem, space, candidate);
        let mut furthest_km = f64::INFINITY;
        for (other, came) in seen {
            match came {
                Came::Broke(rule) => {
                    if other.test_mass_kg <= own.test_mass_kg && own.grip_n_per_kg <= other.grip_n_per_kg * (1.0 + 1e-12) {
                        return Some(Twin::Breaks(*rule));
                    }
                }
                Came::Reached(Reached { km, every_run, further }) => {
                    let lighter = 1.0 - own.test_mass_kg / other.test_mass_kg;
                    let at_most_km = if lighter <= 0.0 { Some(*km) } else { further.and_then(|f| with_less_mass_km(&f, lighter)) };
                    let room = if *every_run { ROOM_IF_MADE } else { ROOM };
                    furthest_km = furthest_km.min(at_most_km.map_or(f64::INFINITY, |km| km * room));
                }
            }
        }
        furthest_km.is_finite().then_some(Twin::Reaches(furthest_km))
    }
}

/// The range that nothing lighter by a share of the test mass exceeds, km; none where it is lighter by more than was looked at.
fn with_less_mass_km(further: &Further, share: f64) -> Option<f64> {
    let more = MORE_PER_MASS * share * further.gross_over_net;
    MORE_CHARGE.iter().position(|most| more <= *most).map(|level| further.km[level])
}

impl Stands {
    fn of(problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> Self {
        let (drive, pack) = (&space.drives[candidate.drive as usize], &space.packs[candidate.pack as usize]);
        let look = space.look(problem, drive, (pack, pack.chargers[candidate.charger as usize].only_kg()), false);
        Self { test_mass_kg: look.mass_kg, grip_n_per_kg: look.worst.grip_n / look.worst.heaviest_kg }
    }
}
