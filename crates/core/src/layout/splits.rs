//! The pack spread over the bays: what a split does to the axles, and the splits that come nearest to the donor's balance.

use serde::Serialize;

use super::bays::{capacity, placement};
use super::cables::{through, way_m};
use super::{LoadLimit, Rated, State, as_it_stood, centre_m, laden, tyre_rating_kg, wheels_of};
use crate::cancel::Cancel;
use crate::document::{Block, Document, Layout, PackBox, each_placed, stated_front_share};
use crate::error::{Error, Result};
use crate::quantity::{Sentence, sentence};
use crate::vehicle::{Balance, Stance};

/// Splits tried at most; beyond it modules go in groups.
const MOST_TRIED: u64 = 200_000;
/// Splits that are told.
const TOLD: usize = 5;
/// Differences of the front share below this are as good as none.
const SAME_SHARE: f64 = 0.005;

/// The pack spread over the bays in one way.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PackSplit {
    /// Modules in each bay, in their order.
    pub modules: Vec<u32>,
    /// The layout that puts them there.
    pub layout: Layout,
    /// Share on the front axle, laden.
    pub front_share: f64,
    /// How far that is from the donor's with the same load, share.
    pub off_donor: f64,
    /// Kilograms over the ratings of axles and tyres, all together.
    pub over_kg: f64,
    /// Boxes that hold a part of a string.
    pub cut_strings: u32,
    /// Cable from the controller through the boxes, one way along the axes, m.
    pub cable_m: f64,
    /// Ratings it exceeds.
    pub over: Vec<LoadLimit>,
}

/// Ways to spread the pack over the bays.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PackSplits {
    /// The best first: nothing over its rating, few strings cut, near to the donor's balance, short cables.
    pub splits: Vec<PackSplit>,
    /// Modules that each bay holds.
    pub room: Vec<u32>,
    /// Modules of the pack.
    pub modules: u32,
    /// The donor's share on the front axle, with the same driver and load.
    pub donor_front_share: f64,
    /// Splits tried.
    pub tried: u64,
    /// Modules moved together; 1: every split was tried.
    pub step: u32,
    /// By how much a split that was not tried may come nearer to the donor's balance, share.
    pub may_miss: f64,
    /// Why there is none.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub none: Option<Sentence>,
}

/// What every split has in common.
struct Problem<'a> {
    document: &'a Document,
    stance: Stance,
    /// All but the pack, laden.
    rest: Balance,
    module_kg: f64,
    in_series: u32,
    centres_m: Vec<[f64; 3]>,
    controller_m: [f64; 3],
    axle_limits_kg: [Option<f64>; 2],
    tyre_kg: Option<f64>,
    wanted: f64,
}

/// How good a split is, the smaller the better.
#[derive(Debug, Clone, Copy)]
struct Merit {
    over_kg: f64,
    cut_strings: u32,
    off: f64,
    cable_m: f64,
    front_share: f64,
}

impl Merit {
    fn order(&self, other: &Self) -> std::cmp::Ordering {
        let coarse = |m: &Self| (m.off / SAME_SHARE).floor();
        self.over_kg
            .total_cmp(&other.over_kg)
            .then(self.cut_strings.cmp(&other.cut_strings))
            .then(coarse(self).total_cmp(&coarse(other)))
            .then(self.cable_m.total_cmp(&other.cable_m))
            .then(self.off.total_cmp(&other.off))
    }
}

impl<'a> Problem<'a> {
    fn of(document: &'a Document, modules: u32) -> Self {
        let donor = &document.donor;
        let stance = Stance::of(document);
        let (mut rest, mut riders, mut pack_kg) = (Balance::default(), Balance::default(), 0.0);
        let (mut motor_m, mut controller_m) = (None, None);
        each_placed(document, |p| {
            let own = Balance::of(p.added_kg(), centre_m(document, &p));
            match p.block {
                Block::Pack | Block::PackBox(_) => pack_kg += p.kg,
                Block::Driver | Block::Payload => riders = riders.with(own),
                _ => rest = rest.with(own),
            }
            match p.block {
                Block::Motor => motor_m = Some(centre_m(document, &p)),
                Block::Controller => controller_m = Some(centre_m(document, &p)),
                _ => {}
            }
        });
        let as_it_stood = as_it_stood(document);
        let donor_laden = as_it_stood.with(riders);
        let pack = document.design.pack.as_ref();
        Self {
            stance,
            rest: donor_laden.with(rest),
            module_kg: pack_kg / f64::from(modules.max(1)),
            in_series: pack.map_or(1, |p| p.modules_in_series.max(1)),
            centres_m: donor.bays.iter().map(|b| b.centre_m(document)).collect(),
            controller_m: controller_m.or(motor_m).unwrap_or_else(|| as_it_stood.centre_m()),
            axle_limits_kg: [donor.front_axle_limit_kg, donor.rear_axle_limit_kg],
            tyre_kg: tyre_rating_kg(document),
            wanted: share(&stance, &donor_laden),
            document,
        }
    }

    fn merit(&self, split: &[u32]) -> Merit {
        let used = || split.iter().zip(&self.centres_m).filter(|(n, _)| **n > 0);
        let all = used().fold(self.rest, |sum, (n, at)| sum.with(Balance::of(f64::from(*n) * self.module_kg, *at)));
        let loads = self.stance.loads(&all);
        let over = |kg: f64, limit: Option<f64>| limit.map_or(0.0, |l| (kg - l).max(0.0));
        let wheels = wheels_of(&loads.corners_kg, &self.stance);
        let over_kg = (0..2).map(|i| over(loads.axles_kg[i], self.axle_limits_kg[i]) + over(wheels[i], self.tyre_kg)).sum();
        let front_share = share(&self.stance, &all);
        let several = used().count() > 1;
        Merit {
            over_kg,
            cut_strings: if several { u32::try_from(used().filter(|(n, _)| **n % self.in_series != 0).count()).unwrap_or(0) } else { 0 },
            off: (front_share - self.wanted).abs(),
            cable_m: way_m(&through(self.controller_m, used().map(|(_, at)| *at).collect())),
            front_share,
        }
    }

    /// The layout with the pack in the bays: the first box of modules is the pack's own, the others are further boxes.
    fn layout(&self, split: &[u32]) -> Layout {
        let mut layout = self.document.design.layout.clone();
        layout.boxes.clear();
        let Some(pack) = &self.document.design.pack else { return layout };
        let mut used = self.document.donor.bays.iter().zip(split).filter(|(_, n)| **n > 0);
        if let Some((bay, n)) = used.next() {
            layout.pack = placement(self.document, bay, &pack.module, *n);
        }
        layout.boxes = used
            .map(|(bay, n)| PackBox { name: bay.name.clone(), modules: *n, at: placement(self.document, bay, &pack.module, *n) })
            .collect();
        layout
    }

    fn told(&self, split: &[u32]) -> PackSplit {
        let merit = self.merit(split);
        let layout = self.layout(split);
        let mut with = self.document.clone();
        with.design.layout = layout.clone();
        let (_, limits): (State, Vec<LoadLimit>) = laden(&with);
        PackSplit {
            modules: split.to_vec(),
            layout,
            front_share: merit.front_share,
            off_donor: merit.off,
            over_kg: merit.over_kg,
            cut_strings: merit.cut_strings,
            cable_m: merit.cable_m,
            over: limits.into_iter().filter(|l| l.of != Rated::Gross && l.laden_kg > l.limit_kg).collect(),
        }
    }
}

fn share(stance: &Stance, balance: &Balance) -> f64 {
    1.0 - balance.centre_m()[0] / stance.wheelbase_m
}

/// Calls `visit` with every split of `modules` over bays that hold `room`, in groups of `step` but for what fills a bay or is left.
fn each_split(room: &[u32], modules: u32, step: u32, visit: &mut impl FnMut(&[u32]) -> Result<()>) -> Result<()> {
    fn go(room: &[u32], left: u32, step: u32, split: &mut Vec<u32>, visit: &mut impl FnMut(&[u32]) -> Result<()>) -> Result<()> {
        let Some((own, others)) = room.split_first() else {
            return if left == 0 { visit(split) } else { Ok(()) };
        };
        let (most, after) = (left.min(*own), others.iter().fold(0_u32, |sum, r| sum.saturating_add(*r)));
        let least = left.saturating_sub(after);
        let mut n = least;
        while n <= most {
            split.push(n);
            go(others, left - n, step, split, visit)?;
            split.pop();
            if n == most {
                break;
            }
            n = (n + step).min(most);
        }
        Ok(())
    }
    go(room, modules, step, &mut Vec::new(), visit)
}

/// Splits of a pack over bays, those nearest to the donor's balance first; with `own` that one alone.
///
/// Every split is tried as long as they are no more than some hundred thousand; of more, modules go in groups, and what that may cost in
/// balance is told.
///
/// # Errors
/// [`Error::Cancelled`]; [`Error::Invalid`] where `own` is not one number a bay or not the whole pack.
pub fn pack_splits(document: &Document, own: Option<&[u32]>, cancel: &Cancel) -> Result<PackSplits> {
    cancel.check()?;
    let modules = document.design.pack.as_ref().map_or(0, crate::document::Pack::module_count);
    let problem = Problem::of(document, modules);
    let bays = &document.donor.bays;
    let room: Vec<u32> =
        document.design.pack.as_ref().map_or_else(Vec::new, |p| bays.iter().map(|b| capacity(b, &p.module, problem.module_kg)).collect());
    let all = room.iter().fold(0_u32, |sum, r| sum.saturating_add(*r));
    let mut found =
        PackSplits { splits: Vec::new(), room, modules, donor_front_share: problem.wanted, tried: 0, step: 1, may_miss: 0.0, none: None };
    if let Some(split) = own {
        let sum = split.iter().fold(0_u32, |sum, n| sum.saturating_add(*n));
        if split.len() != bays.len() || sum != modules {
            let accepted = format!("{} numbers with {modules} in all are accepted, one a bay", bays.len());
            return Err(Error::field("modules", format!("{} numbers with {sum} in all", split.len()), accepted));
        }
        found.splits.push(problem.told(split));
        return Ok(found);
    }
    found.none = match () {
        () if modules == 0 => Some("no pack has been chosen".into()),
        () if bays.is_empty() => Some("no bay has been measured".into()),
        () if stated_front_share(document).is_some() => Some("the axle share is stated as a whole, so that places do not tell".into()),
        () if all < modules => Some(sentence!("the bays hold {} of {} modules", all, modules)),
        () => None,
    };
    if found.none.is_some() {
        return Ok(found);
    }
    let ways = |step: u32| {
        // The last bay takes what is left.
        let each = found.room.iter().map(|r| u64::from(modules.min(*r) / step) + 2);
        each.rev().skip(1).fold(1_u64, u64::saturating_mul)
    };
    let mut step = 1;
    while ways(step) > MOST_TRIED {
        step *= 2;
    }
    let mut best: Vec<(Merit, Vec<u32>)> = Vec::new();
    let mut tried = 0;
    each_split(&found.room, modules, step, &mut |split| {
        tried += 1;
        if tried % 1024 == 0 {
            cancel.check()?;
        }
        let merit = problem.merit(split);
        let at = best.partition_point(|(b, _)| b.order(&merit).is_le());
        if at < TOLD {
            best.insert(at, (merit, split.to_vec()));
            best.truncate(TOLD);
        }
        Ok(())
    })?;
    (found.tried, found.step) = (tried, step);
    if step > 1 {
        let xs = || problem.centres_m.iter().map(|c| c[0]);
        let reach = xs().fold(f64::MIN, f64::max) - xs().fold(f64::MAX, f64::min);
        let total_kg = problem.rest.kg + f64::from(modules) * problem.module_kg;
        let moved_kg = f64::from(step) * problem.module_kg * bays.len() as f64;
        found.may_miss = moved_kg * reach / (total_kg * problem.stance.wheelbase_m);
    }
    found.splits = best.iter().map(|(_, split)| problem.told(split)).collect();
    Ok(found)
}
