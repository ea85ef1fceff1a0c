//! What has been looked at tells of its twins, which have the same ratings and pack and another mass: other chargers, or motors and controllers of
//! which the library holds the ratings twice, at another mass and price.
//!
//! A heavier one is no quicker, climbs no better, goes no further and breaks the same rules; where the tyres hold a chain back it tells of those
//! that grip no better, and one that grips worse may lag and go a little further. On a trip that is nowhere below its start more mass has taken
//! more energy up to every point, as not all of what a climb takes comes back; of one that leads lower no range is told. Where a trip leads
//! downhill no heat is told, as less torque may be asked there, and that it falls behind only where its full force exceeds what does not grow
//! with the mass. Nothing is told of trips whose pace the chain sets.
//!
//! A lighter one goes no further than the heavier one would with so much more charge as the difference in mass may save at most. How far that
//! is takes driving it, as the last of the charge may carry it through a cheap stretch. No rule is told of it.
//!
//! Where one has told too little of another, the lightest of its kin is looked at, with the grip of the best: it tells of all of them.

use std::collections::HashMap;

use super::bounds::Bound;
use super::candidates::{Ahead, Candidate};
use super::enumerate::SearchSpace;
use super::kin::{KinOf, Twins};
use super::reach::{LAG, ROOM, ROOM_IF_MADE};
use super::space::SearchProblem;
use crate::figures::{Driven, FigureKind, Further, MORE_CHARGE};
use crate::findings::Rule;

/// What a look at a design came to.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Came {
    /// Figures of what it does beside its trips.
    Does(Vec<(FigureKind, f64)>),
    /// Its range on the trip that counts.
    Reached(Reached),
    /// It breaks a rule.
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

/// What tells twins apart.
#[derive(Debug, Clone, Copy)]
pub(super) struct Stands {
    test_mass_kg: f64,
    /// Greatest pull that the tyres pass, N; infinite where the motors never pull so hard.
    grip_n: f64,
}

/// What is told of a design before it is simulated.
#[derive(Debug)]
pub(super) struct ToldByTwins<'a> {
    /// A rule that it breaks.
    pub(super) breaks: Option<Rule>,
    /// It goes no further, km; infinite where that is not told.
    pub(super) furthest_km: f64,
    /// It does nothing better than one of these, each with room for sums made in another order.
    pub(super) does: Vec<&'a [(FigureKind, f64)]>,
}

/// How far the lightest of some kin has been looked at.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Lead {
    #[default]
    None,
    /// It has shown what it does beside its trips.
    Shown,
    /// It has been driven as well.
    Driven,
}

/// What a look at one design teaches about others.
#[derive(Debug, Default)]
pub(super) struct Lesson {
    pub(super) came: Vec<(Stands, Came)>,
    /// Of all kin on a trip.
    pub(super) ahead: Vec<(usize, Ahead)>,
    pub(super) lead: Lead,
    /// Whether all kin have been looked at closely.
    pub(super) looked: bool,
    /// Whether it has been simulated itself.
    pub(super) tried: bool,
}

/// What is known of some kin.
#[derive(Debug, Default)]
struct Known {
    ahead: Vec<(usize, Ahead)>,
    lead: Lead,
    looked: bool,
    tried: bool,
}

/// Charge that a share of the mass saves at most, as a share of what is drawn. Shaft energy falls no faster than mass, what motors lose no faster
/// than its square, and less current sags less: three. Twice that, as the cells give a little less voltage to one that is deeper in the window.
const MORE_PER_MASS: f64 = 6.0;
/// A hair for masses summed up in another order.
const HAIR: f64 = 1.0 + 1e-12;

/// Designs that have been looked at, by their twins.
#[derive(Debug)]
pub(super) struct SeenTwins {
    /// Whether anything is told of falling behind and of heat, of falling behind alone, and of the range.
    tells_of_rules: bool,
    tells_of_lagging: bool,
    pub(super) tells_of_range: bool,
    seen: HashMap<Twins, Vec<(Stands, Came)>>,
    kin: HashMap<KinOf, Known>,
}

/// Whether a figure only gets worse with mass.
pub(super) fn worsens_with_mass(kind: FigureKind) -> bool {
    matches!(kind, FigureKind::TopSpeed | FigureKind::Acceleration(..) | FigureKind::HillStart | FigureKind::Hill(..))
}

/// A figure with room for what the steps of its computation leave open.
pub(super) fn at_best(kind: FigureKind, value: f64) -> f64 {
    const ROOM: f64 = 1e-4;
    if matches!(kind, FigureKind::Acceleration(..)) { value * (1.0 - ROOM) } else { value + ROOM * value.abs() }
}

impl SeenTwins {
    /// None yet.
    pub(super) fn none(problem: &SearchProblem) -> Self {
        let own = |i: &usize| !problem.trips[*i].1.points.is_empty();
        let level = |i: &usize| !problem.trips[*i].1.leads_downhill();
        let never_below = |i: &usize| !problem.trips[*i].1.leads_below_its_start();
        let keeps_up = problem.keeps_up() && problem.followed.iter().all(own);
        Self {
            tells_of_rules: keeps_up && problem.followed.iter().all(level),
            tells_of_lagging: keeps_up && problem.followed.iter().all(never_below),
            tells_of_range: keeps_up && problem.trip.as_ref().is_some_and(never_below),
            seen: HashMap::new(),
            kin: HashMap::new(),
        }
    }

    /// Whether anything can be told of a design that is a little lighter than one: of the same pack with a lighter charger, or of a motor or
    /// controller that the library holds twice.
    pub(super) fn may_tell_lighter(&self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> bool {
        let pack = &space.packs[candidate.pack as usize];
        let own_kg = pack.chargers[candidate.charger as usize].mass_kg;
        let most_kg = MORE_CHARGE[MORE_CHARGE.len() - 1] / MORE_PER_MASS * space.look_at(problem, candidate).mass_kg;
        let is_little_lighter = |kg: f64| kg < own_kg && kg >= own_kg - most_kg;
        self.tells_of_range && (problem.same.any || pack.chargers.iter().any(|c| is_little_lighter(c.mass_kg)))
    }

    /// Takes in what a look at a candidate teaches.
    pub(super) fn learn(&mut self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate, lesson: Lesson) {
        let Lesson { came, ahead, lead, looked, tried } = lesson;
        if !came.is_empty() {
            self.seen.entry(space.twins(problem, candidate)).or_default().extend(came);
        }
        if !ahead.is_empty() || lead != Lead::None || looked || tried {
            let known = self.kin.entry(space.kin_of(problem, candidate)).or_default();
            known.ahead.extend(ahead);
            known.lead = known.lead.max(lead);
            known.looked |= looked;
            known.tried |= tried;
        }
    }

    /// What driving a design on one of its trips tells of others: nothing, or the rule that it breaks.
    pub(super) fn broke(&self, driven: &Driven) -> Option<Came> {
        match (driven.followed, driven.derated) {
            (false, false) if self.tells_of_lagging && driven.mass_only_slows => Some(Came::Broke(Rule::NotFollowed)),
            (false, _) if self.tells_of_rules => Some(Came::Broke(Rule::NotFollowed)),
            (true, true) if self.tells_of_rules => Some(Came::Broke(Rule::Heat)),
            _ => None,
        }
    }

    /// What a bound tells of others where it says that a design falls behind.
    pub(super) fn fell_behind(&self) -> Option<Came> {
        self.tells_of_rules.then_some(Came::Broke(Rule::NotFollowed))
    }

    /// What the range of a design tells of others.
    pub(super) fn reached(&self, driven: &Driven) -> Option<Came> {
        let Driven { range_km: km, every_run, further, .. } = *driven;
        (self.tells_of_range && km > 0.0 && km.is_finite()).then_some(Came::Reached(Reached { km, every_run, further }))
    }

    /// What twins tell of a design.
    pub(super) fn tell(&self, problem: &SearchProblem, space: &SearchSpace, candidate: &Candidate) -> Option<ToldByTwins<'_>> {
        let seen = self.seen.get(&space.twins(problem, candidate))?;
        Some(ToldByTwins::by(seen, &Stands::of(&space.look_at(problem, candidate))))
    }

    /// What is known of all kin of a design on a trip before any is driven.
    pub(super) fn ahead(&self, kin: &KinOf, trip: usize) -> Option<Ahead> {
        self.kin.get(kin)?.ahead.iter().find(|a| a.0 == trip).map(|a| a.1)
    }

    /// Whether all kin of a design have been looked at closely.
    pub(super) fn are_looked_at(&self, kin: &KinOf) -> bool {
        self.kin.get(kin).is_some_and(|known| known.looked)
    }

    /// How far the lightest kin of a design has been looked at, once another of them has been simulated.
    pub(super) fn lead(&self, kin: &KinOf) -> Option<Lead> {
        self.kin.get(kin).filter(|known| known.tried).map(|known| known.lead)
    }
}

impl<'a> ToldByTwins<'a> {
    /// By some looks at twins of one that stands so.
    pub(super) fn by(seen: &'a [(Stands, Came)], own: &Stands) -> Self {
        let mut told = Self { breaks: None, furthest_km: f64::INFINITY, does: Vec::new() };
        for (other, came) in seen {
            let is_no_better = other.test_mass_kg <= own.test_mass_kg * HAIR && own.grip_n <= other.grip_n * HAIR;
            match came {
                Came::Broke(rule) if is_no_better => told.breaks = Some(*rule),
                Came::Does(figures) if is_no_better => told.does.push(figures),
                Came::Broke(_) | Came::Does(_) => {}
                Came::Reached(Reached { km, every_run, further }) => {
                    let lighter = 1.0 - own.test_mass_kg / other.test_mass_kg;
                    let at_most_km = if lighter <= 0.0 { Some(*km) } else { further.and_then(|f| with_less_mass_km(&f, lighter)) };
                    let room = own.room_by_lagging(other) * if *every_run { ROOM_IF_MADE } else { ROOM };
                    told.furthest_km = told.furthest_km.min(at_most_km.map_or(f64::INFINITY, |km| km * room));
                }
            }
        }
        told
    }
}

/// The range that nothing lighter by a share of the test mass exceeds, km; none where it is lighter by more than was looked at.
fn with_less_mass_km(further: &Further, share: f64) -> Option<f64> {
    let more = MORE_PER_MASS * share * further.gross_over_net;
    MORE_CHARGE.iter().position(|most| more <= *most).map(|level| further.km[level])
}

impl Stands {
    /// Of all designs of a look: as light as the lightest, with the grip of the best.
    pub(super) fn of(look: &Bound<'_>) -> Self {
        let (pull_n, grip_n) = (look.drive.peak_nm * look.drivetrain.most_pull_n_per_nm(), look.worst.grip_n);
        Self { test_mass_kg: look.mass_kg, grip_n: if 1.01 * pull_n <= grip_n { f64::INFINITY } else { grip_n } }
    }

    /// What it may reach by lagging further where its tyres hold it back more than those of another, times the range of that. Less force by a share
    /// takes less energy by no more than it, and no lag that following allows spares more than a hundredth.
    fn room_by_lagging(&self, other: &Self) -> f64 {
        if self.grip_n.is_infinite() {
            return 1.0;
        }
        let less = (other.grip_n / other.test_mass_kg) / (self.grip_n / self.test_mass_kg);
        less.clamp(1.0, 1.0 / LAG)
    }
}
