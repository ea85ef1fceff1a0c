//! Chargers that suit a pack: those that no other betters.

use std::collections::HashMap;

use super::constraint::Constraint;
use super::count::{Counts, OUTCLASSED, goal, rule};
use super::enumerate::SearchSpace;
use super::packs::{ChargerSide, PackSide};
use super::space::{Ready, SearchProblem};
use crate::charge::{charge, charge_hours};
use crate::figures::FigureKind;
use crate::findings::Rule;
use crate::inputs::Counted;
use crate::library::{Charger, Module};
use crate::limits::{charger_over_pack, charger_under_pack};
use crate::pack::PackModel;

/// Places of chargers from the cheapest on, of equal prices from the lightest on.
pub(super) fn by_price(chargers: &[Option<Ready<Charger>>]) -> Vec<u16> {
    let key = |place: &u16| chargers[usize::from(*place)].as_ref().map_or((0.0, 0.0), |c| (c.counted.price, c.counted.mass_kg));
    let mut places: Vec<u16> = (0..chargers.len() as u16).collect();
    places.sort_by(|a, b| key(a).0.total_cmp(&key(b).0).then(key(a).1.total_cmp(&key(b).1)));
    places
}

impl SearchSpace {
    /// Gives a pack, which a template of the search has, the chargers that suit it, with drives of at least a price and mass; the others are counted,
    /// with each of `fed` drives.
    pub(super) fn add_chargers(
        &self,
        problem: &SearchProblem,
        (pack, with): (&mut PackSide, &mut Counted),
        (drive_price, drive_kg): (f64, f64),
        fed: u64,
        counts: &mut Counts,
    ) {
        let full_v = pack.model.full_v;
        let bin = |hours: f64| problem.objectives.bin(4, hours);
        // Those of the same ratings take as long. From the cheapest on none betters one before it, so that few are ever held.
        let (mut front, mut told): (Front, HashMap<u16, Hours>) = (Front::default(), HashMap::new());
        for place in problem.chargers_by_price.iter().copied() {
            let record = problem.chargers[usize::from(place)].as_ref().map(|c| &c.counted);
            if let Some(c) = record {
                if charger_over_pack(full_v, c.output_min_v) {
                    counts.cut(rule(Rule::ChargerOverPack), fed);
                    continue;
                }
                if charger_under_pack(full_v, c.output_max_v) && problem.keeps(Rule::ChargerUnderPack) {
                    counts.cut(rule(Rule::ChargerUnderPack), fed);
                    continue;
                }
            }
            let (price, mass_kg) = record.map_or((0.0, 0.0), |c| (c.price, c.mass_kg));
            if let Some(why) = self.too_much(problem, drive_price + pack.price + price, drive_kg + pack.mass_kg + mass_kg) {
                counts.cut(why, fed);
                continue;
            }
            // One that is cheaper, lighter and no slower tells enough.
            let beaten_from = front.quickest(mass_kg);
            let ratings = problem.same.chargers[usize::from(place)];
            let hours = told.get(&ratings).copied().unwrap_or_else(|| {
                let parts = (&problem.modules[usize::from(pack.module)].counted, record);
                Hours::of(problem, with, (parts, &pack.model), |bin| beaten_from <= bin)
            });
            // What beats one may not beat another of the same ratings.
            if !matches!(hours, Hours::Beaten) {
                told.insert(ratings, hours);
            }
            match hours {
                Hours::Beaten => counts.cut(OUTCLASSED, fed),
                Hours::Missed(constraint) => counts.cut(goal(constraint), fed),
                Hours::Takes { hours: (hours, most_hours), shortfall } => {
                    let side = ChargerSide { place, mass_kg, price, hours, shortfall };
                    let own = Fitting { side, quick: bin(hours), slow: bin(most_hours) };
                    // One that is no weaker in anything, dearer nor heavier fills it as fast.
                    let outclassed = |a: &Fitting| {
                        let other = || problem.chargers[usize::from(a.side.place)].as_ref().map(|c| &c.counted);
                        let no_weaker = || other().zip(record).is_some_and(|(other, c)| is_no_weaker(other, c, full_v));
                        a.quick <= own.slow && a.side.mass_kg <= mass_kg && no_weaker()
                    };
                    let is_out = if problem.objectives.relaxed.is_empty() {
                        beaten_from <= own.quick || front.fitting.iter().any(outclassed)
                    } else {
                        front.fitting.iter().any(|a| a.outclasses(&own))
                    };
                    let out = if is_out { 1 } else { front.push(own) };
                    counts.cut(OUTCLASSED, fed * out);
                }
            }
        }
        pack.chargers = front.fitting.iter().map(|f| f.side).collect();
        pack.chargers.sort_unstable_by_key(|c| c.place);
    }
}

/// A charger that may do, and the steps of its least and its most hours.
struct Fitting {
    side: ChargerSide,
    quick: i32,
    slow: i32,
}

impl Fitting {
    fn outclasses(&self, other: &Self) -> bool {
        let (a, b) = (&self.side, &other.side);
        let no_worse = a.price <= b.price && a.mass_kg <= b.mass_kg && self.slow <= other.quick && a.shortfall <= b.shortfall;
        let better = a.price < b.price || a.mass_kg < b.mass_kg || self.slow < other.quick || a.shortfall < b.shortfall;
        no_worse && (better || a.place < b.place)
    }
}

/// Chargers none of which outclasses another, taken in from the cheapest on and of equal prices from the lightest on.
#[derive(Default)]
struct Front {
    fitting: Vec<Fitting>,
    /// From the lightest on, those that are quicker than all that are lighter: mass, kg, and steps of hours.
    stairs: Vec<(f64, i32)>,
}

impl Front {
    /// The least steps of hours that any takes at most which is no heavier.
    fn quickest(&self, mass_kg: f64) -> i32 {
        let lighter = self.stairs.partition_point(|(kg, _)| *kg <= mass_kg);
        lighter.checked_sub(1).map_or(i32::MAX, |last| self.stairs[last].1)
    }

    /// Takes in one that none outclasses; how many it outclasses.
    fn push(&mut self, own: Fitting) -> u64 {
        let (mass_kg, slow, before) = (own.side.mass_kg, own.slow, self.fitting.len());
        // Only what is as cheap and light and came before can be.
        let alike = self.fitting.iter().rposition(|a| a.side.price < own.side.price || a.side.mass_kg < mass_kg).map_or(0, |last| last + 1);
        let tail = self.fitting.split_off(alike);
        self.fitting.extend(tail.into_iter().filter(|a| !own.outclasses(a)));
        let out = before - self.fitting.len();
        self.fitting.push(own);
        if slow < self.quickest(mass_kg) {
            let from = self.stairs.partition_point(|(kg, _)| *kg < mass_kg);
            let to = from + self.stairs[from..].partition_point(|(_, other)| *other >= slow);
            self.stairs.splice(from..to, [(mass_kg, slow)]);
        }
        out as u64
    }
}

/// What a charger does for a pack.
#[derive(Clone, Copy)]
enum Hours {
    /// One that beats it takes no more steps of hours than it at least does.
    Beaten,
    /// It misses a goal, by its place.
    Missed(usize),
    /// Least and most hours at the socket that counts, and the shortfall of goals that may be missed, share of their targets.
    Takes { hours: (f64, f64), shortfall: f64 },
}

impl Hours {
    /// Of a charger, where there is one, on a pack of some modules, which a template of the search has; `is_beaten` is told steps that it takes at
    /// least.
    fn of(
        problem: &SearchProblem,
        with: &mut Counted,
        (parts, pack): ((&Module, Option<&Charger>), &PackModel),
        is_beaten: impl Fn(i32) -> bool,
    ) -> Self {
        let (window, socket) = ((pack.soc_min, pack.soc_max), |i: usize| &problem.light.brief.sockets[i]);
        // As closely as it takes to know on which side of a goal they are and in which step; where they are just at its edge, a simulation tells.
        let between = |i: usize, tell: &dyn Fn(f64) -> i32, is_beaten: &dyn Fn(i32) -> bool| {
            let enough = |least: f64, most: f64| {
                tell(least) == tell(most) || most <= least * (1.0 + APART) || least.is_finite() && is_beaten(tell(least))
            };
            charge_hours(parts, pack, socket(i), window, enough)
        };
        let missed = |m: &Constraint| {
            let FigureKind::Charge(i) = m.kind else { return false };
            !m.met(between(i, &|hours| i32::from(m.met(hours)), &|_| false).0)
        };
        if let Some(constraint) = problem.constraints.iter().position(missed) {
            return Self::Missed(constraint);
        }
        // Where goals may be missed, by how much counts as well.
        let may_be_beaten = problem.objectives.relaxed.is_empty();
        let bin = |hours: f64| problem.objectives.bin(4, hours);
        let is_beaten = |bin: i32| may_be_beaten && is_beaten(bin);
        let counting = match problem.objectives.kinds[4] {
            Some(FigureKind::Charge(i)) => between(i, &bin, &is_beaten),
            _ => (0.0, 0.0),
        };
        if counting.0.is_finite() && is_beaten(bin(counting.0)) {
            return Self::Beaten;
        }
        if problem.objectives.relaxed.is_empty() {
            return Self::Takes { hours: counting, shortfall: 0.0 };
        }
        with.set(|d| d.design.charger = parts.1.cloned());
        let hours = |i: usize| {
            let session = charge(with, pack, socket(i), window.0, window.1);
            session.and_then(|s| s.hours_h).unwrap_or(f64::INFINITY)
        };
        let charging = |m: &Constraint| if let FigureKind::Charge(i) = m.kind { m.shortfall(hours(i)) } else { 0.0 };
        Self::Takes { hours: counting, shortfall: problem.objectives.relaxed.iter().map(charging).sum() }
    }
}

/// Share of the hours of a charge within which they are told no closer.
const APART: f64 = 0.004;

/// Whether a charger gives no less than another at every charge, at whatever socket.
fn is_no_weaker(a: &Charger, b: &Charger, full_v: f64) -> bool {
    let end_v = |c: &Charger| full_v.clamp(c.output_min_v, c.output_max_v);
    let input_a = |c: &Charger| c.input_current_a.unwrap_or(f64::INFINITY);
    a.output_power_w >= b.output_power_w
        && a.output_current_a >= b.output_current_a
        && a.efficiency >= b.efficiency
        && a.phases >= b.phases
        && input_a(a) >= input_a(b)
        && end_v(a) >= end_v(b)
}
