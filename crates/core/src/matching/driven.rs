//! What has been driven tells of the same chain with another charger: it differs by mass alone.
//!
//! Nothing is told of trips that lead downhill, where mass pushes, nor of those whose pace the chain sets.

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

/// Test mass and the grip for each kilogram of it, N/kg.
#[derive(Debug, Clone, Copy)]
struct Stands {
    mass_kg: f64,
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
            let points = &problem.trips[*i].1.points;
            !points.is_empty() && points.iter().all(|p| p.sin > -1e-9)
        };
        Self { tells: problem.keeps_up() && problem.followed.iter().all(level), seen: HashMap::new() }
    }

    /// Keeps what a design came to.
    pub(super) fn add(&mut self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate, came: Came) {
        let whole = !matches!(came, Came::Reached(km) if !(km > 0.0 && km.is_finite()));
        if self.tells && whole {
            self.seen.entry((candidate.drive, candidate.pack)).or_default().push((Stands::of(problem, space, candidate), came));
        }
    }

    /// What is told of a design: a rule that it breaks as a lighter one does, or the range that it does not exceed, km.
    pub(super) fn tell(&self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> Option<Came> {
        let seen = self.seen.get(&(candidate.drive, candidate.pack))?;
        let own = Stands::of(problem, space, candidate);
        let mut least_km = f64::INFINITY;
        for (other, came) in seen {
            let heavier = own.mass_kg >= other.mass_kg;
            match came {
                Came::Broke(_) if heavier && own.grip_n_per_kg <= other.grip_n_per_kg * (1.0 + 1e-12) => return Some(*came),
                Came::Broke(_) => {}
                // What a lighter one needs less of is at most what goes with the square of the mass: the heat of the torque.
                Came::Reached(km) => least_km = least_km.min(km * (other.mass_kg / own.mass_kg).max(1.0).powi(2) * ROOM),
            }
        }
        least_km.is_finite().then_some(Came::Reached(least_km))
    }
}

impl Stands {
    fn of(problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> Self {
        let (drive, pack) = (&space.drives[candidate.drive as usize], &space.packs[candidate.pack as usize]);
        let look = space.look(problem, drive, (pack, &pack.chargers[candidate.charger as usize]), false);
        Self { mass_kg: look.mass_kg, grip_n_per_kg: look.worst.grip_n / look.worst.heaviest_kg }
    }
}
