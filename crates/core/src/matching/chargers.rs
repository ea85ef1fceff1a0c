//! Chargers that suit a pack: those that no other betters.

use std::collections::HashMap;

use super::constraint::Constraint;
use super::count::{Counts, OUTCLASSED, goal, rule};
use super::enumerate::SearchSpace;
use super::packs::{ChargerSide, PackSide};
use super::space::SearchProblem;
use crate::charge::{charge, charge_hours};
use crate::figures::FigureKind;
use crate::findings::Rule;
use crate::inputs::Counted;
use crate::library::Charger;
use crate::limits::{charger_over_pack, charger_under_pack};
use crate::pack::PackModel;

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
        // Those of the same ratings take as long.
        let (mut fitting, mut told): (Vec<ChargerSide>, HashMap<u16, Hours>) = (Vec::new(), HashMap::new());
        for (place, charger) in (0u16..).zip(&problem.chargers) {
            let record = charger.as_ref().map(|c| &c.counted);
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
            // One that is no weaker in anything, dearer nor heavier fills it as fast.
            let outclassed = |a: &ChargerSide| match (&problem.chargers[usize::from(a.place)], record) {
                (Some(own), Some(c)) => a.price <= price && a.mass_kg <= mass_kg && is_no_weaker(&own.counted, c, full_v),
                _ => false,
            };
            if fitting.iter().any(outclassed) {
                counts.cut(OUTCLASSED, fed);
                continue;
            }
            let ratings = problem.same.chargers[usize::from(place)];
            let hours = told.get(&ratings).copied().unwrap_or_else(|| {
                with.set(|d| d.design.charger = record.cloned());
                // One that is cheaper, lighter and no slower tells enough.
                let is_beaten = |bin: i32| {
                    let beats =
                        |a: &ChargerSide| a.price <= price && a.mass_kg <= mass_kg && problem.objectives.bin(4, a.most_hours) <= bin;
                    fitting.iter().any(beats)
                };
                Hours::of(problem, with, &pack.model, is_beaten)
            });
            // What beats one may not beat another of the same ratings.
            if !matches!(hours, Hours::Beaten) {
                told.insert(ratings, hours);
            }
            match hours {
                Hours::Beaten => counts.cut(OUTCLASSED, fed),
                Hours::Missed(constraint) => counts.cut(goal(constraint), fed),
                Hours::Takes { hours: (hours, most_hours), shortfall } => {
                    fitting.push(ChargerSide { place, mass_kg, price, hours, most_hours, shortfall });
                }
            }
        }
        let bin = |hours: f64| problem.objectives.bin(4, hours);
        let outclasses = |a: &ChargerSide, b: &ChargerSide| {
            let (slow, quick) = (bin(a.most_hours), bin(b.hours));
            let no_worse = a.price <= b.price && a.mass_kg <= b.mass_kg && slow <= quick && a.shortfall <= b.shortfall;
            let better = a.price < b.price || a.mass_kg < b.mass_kg || slow < quick || a.shortfall < b.shortfall;
            no_worse && (better || a.place < b.place)
        };
        pack.chargers = fitting.iter().filter(|b| !fitting.iter().any(|a| outclasses(a, b))).copied().collect();
        pack.chargers.shrink_to_fit();
        counts.cut(OUTCLASSED, fed * (fitting.len() - pack.chargers.len()) as u64);
    }
}

/// What a charger does for a pack.
#[derive(Clone, Copy)]
enum Hours {
    /// One that beats it takes no more steps of hours than it at least does.
    Beaten,
    /// It misses a goal, by its place.
    Missed(usize),
    /// Least and most hours at the socket that counts, and the shortfall of goals that may be missed, as in [`ChargerSide`].
    Takes { hours: (f64, f64), shortfall: f64 },
}

impl Hours {
    /// Of a document with the charger, and its pack; `is_beaten` is told steps that it takes at least.
    fn of(problem: &SearchProblem, document: &Counted, pack: &PackModel, is_beaten: impl Fn(i32) -> bool) -> Self {
        let (window, socket) = ((pack.soc_min, pack.soc_max), |i: usize| &document.brief.sockets[i]);
        // As closely as it takes to know on which side of a goal they are and in which step; where they are just at its edge, a simulation tells.
        let between = |i: usize, tell: &dyn Fn(f64) -> i32, is_beaten: &dyn Fn(i32) -> bool| {
            let enough = |least: f64, most: f64| {
                tell(least) == tell(most) || most <= least * (1.0 + APART) || least.is_finite() && is_beaten(tell(least))
            };
            charge_hours(document, pack, socket(i), window, enough)
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
        let hours = |i: usize| {
            let session = charge(document, pack, socket(i), window.0, window.1);
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
