//! What has been driven tells of the same chain with a heavier charger: it differs by mass alone, goes no further and breaks the same rules.
//!
//! On a trip that is nowhere below its start more mass has taken more energy up to every point, as not all of what a climb takes comes back; of
//! one that leads lower no range is told. No rule is told of where a trip leads downhill at all, as mass pushes there; and nothing of trips whose
//! pace the chain sets, nor of a lighter charger, as the last of the charge may carry it through a cheap stretch.

use std::collections::HashMap;

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

/// What tells two designs of one drive and pack apart.
#[derive(Debug, Clone, Copy)]
struct Stands {
    test_mass_kg: f64,
    grip_n_per_kg: f64,
}

/// Designs that have been driven, by drive and pack.
#[derive(Debug)]
pub(super) struct DrivenPairs {
    /// Whether anything is told of rules, and of the range.
    tells_of_rules: bool,
    tells_of_range: bool,
    seen: HashMap<(u32, u32), Vec<(Stands, Came)>>,
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
            seen: HashMap::new(),
        }
    }

    /// Keeps what a design came to.
    pub(super) fn add(&mut self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate, came: Came) {
        let is_told = match came {
            Came::Reached(km) => self.tells_of_range && km > 0.0 && km.is_finite(),
            Came::Broke(_) => self.tells_of_rules,
        };
        if is_told {
            self.seen.entry((candidate.drive, candidate.pack)).or_default().push((Stands::of(problem, space, candidate), came));
        }
    }

    /// What is told of a design by those no heavier: a rule that it breaks as well, or the range that it does not exceed, km.
    pub(super) fn tell(&self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> Option<Came> {
        let seen = self.seen.get(&(candidate.drive, candidate.pack))?;
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
