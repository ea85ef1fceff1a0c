//! What has been driven tells of the same chain with a heavier charger: it differs by mass alone, goes no further and breaks the same rules.
//!
//! Nothing is told of trips that lead downhill, where mass pushes, nor of those whose pace the chain sets; nor of a lighter one, as the last of
//! the charge may carry it through a cheap stretch.

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
    tells: bool,
    seen: HashMap<(u32, u32), Vec<(Stands, Came)>>,
}

impl DrivenPairs {
    /// None yet.
    pub(super) fn none(problem: &SearchProblem) -> Self {
        let level = |i: &usize| {
            let trace = &problem.trips[*i].1;
            !trace.points.is_empty() && !trace.leads_downhill()
        };
        Self { tells: problem.keeps_up() && problem.followed.iter().all(level), seen: HashMap::new() }
    }

    /// Keeps what a design came to.
    pub(super) fn add(&mut self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate, came: Came) {
        let is_told = match came {
            Came::Reached(km) => km > 0.0 && km.is_finite(),
            Came::Broke(_) => true,
        };
        if self.tells && is_told {
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
