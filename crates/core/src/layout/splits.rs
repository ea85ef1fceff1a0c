//! The pack spread over the bays, and other blocks stood beside it: the ways that come nearest to the donor's balance.

use serde::Serialize;

use super::merit::Merit;
use super::spread::{Problem, Standing};
use super::{LoadLimit, Rated, laden};
use crate::cancel::Cancel;
use crate::document::{Block, Document, Layout, Placement, stated_front_share};
use crate::error::{Error, Result};
use crate::quantity::{Sentence, sentence};

/// Ways tried at most; beyond it modules go in groups.
const MOST_TRIED: u64 = 200_000;
/// Ways that are told.
const TOLD: usize = 5;

/// The pack spread over the bays in one way.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PackSplit {
    /// Modules in each bay, in their order.
    pub modules: Vec<u32>,
    /// The layout that puts them there.
    pub layout: Layout,
    /// Other blocks that stand in a bay.
    pub moved: Vec<MovedBlock>,
    /// Share on the front axle, laden.
    pub front_share: f64,
    /// How far that is from the donor's with the same load, share.
    pub off_donor: f64,
    /// Kilograms over the ratings of axles and tyres, all together.
    pub over_kg: f64,
    /// Other blocks that have found no place, and had none.
    pub unplaced: u32,
    /// Boxes that hold a part of a string.
    pub cut_strings: u32,
    /// Cable from the motor to the controller and from there through the boxes, one way along the axes, m.
    pub cable_m: f64,
    /// Ratings it exceeds.
    pub over: Vec<LoadLimit>,
}

/// A block that goes into a bay.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MovedBlock {
    /// Place in the document of what is said of it: `design.layout.charger`, `design.added.0.at`.
    pub path: String,
    /// Its name.
    pub name: String,
    /// Which bay, counted from 0.
    pub bay: usize,
    /// What is then said of its place.
    pub at: Placement,
}

/// Ways to spread the pack over the bays.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PackSplits {
    /// The best first: nothing over its rating, a place for every block, few strings cut, near to the donor's balance, short cables.
    pub splits: Vec<PackSplit>,
    /// Modules that each bay holds beside what stays in it.
    pub room: Vec<u32>,
    /// Modules of the pack.
    pub modules: u32,
    /// The donor's share on the front axle, with the same driver and load.
    pub donor_front_share: f64,
    /// Ways tried.
    pub tried: u64,
    /// Modules moved together; 1: every way was tried.
    pub step: u32,
    /// By how much a way that was not tried may come nearer to the donor's balance, share.
    pub may_miss: f64,
    /// Blocks that were left where they are, since too many were asked about.
    pub left_alone: Vec<String>,
    /// Why there is none.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub none: Option<Sentence>,
}

/// Puts what is said of a place where it belongs.
fn place(document: &mut Document, block: Block, at: Placement) {
    let layout = &mut document.design.layout;
    let own = match block {
        Block::Controller => &mut layout.controller,
        Block::Charger => &mut layout.charger,
        Block::Electrics => &mut layout.electrics,
        Block::Component(slot) => match layout.fitted.get_mut(slot) {
            Some(own) => own,
            None => return,
        },
        Block::Added(i) => &mut document.design.added[i].at,
        _ => return,
    };
    *own = at;
}

fn told(problem: &Problem<'_>, standing: &Standing, split: &[u32], merit: &Merit) -> PackSplit {
    let layout = problem.layout(standing, split);
    let mut with = problem.document.clone();
    with.design.layout = layout.clone();
    let mut moved = Vec::new();
    for (other, bay, at) in problem.moved(standing) {
        place(&mut with, other.block, at.clone());
        moved.push(MovedBlock { path: other.path.clone(), name: other.name.clone(), bay, at });
    }
    PackSplit {
        modules: split.to_vec(),
        layout,
        moved,
        front_share: merit.front_share,
        off_donor: merit.off,
        over_kg: merit.over_kg,
        unplaced: merit.unplaced,
        cut_strings: merit.cut_strings,
        cable_m: merit.cable_m,
        over: laden(&with).1.into_iter().filter(|l| l.of != Rated::Gross && l.laden_kg > l.limit_kg).collect(),
    }
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

/// Splits of `modules` over bays that hold `room`, at most.
fn ways(room: &[u32], modules: u32, step: u32) -> u64 {
    // The last bay takes what is left.
    room.iter().rev().skip(1).map(|r| u64::from(modules.min(*r) / step) + 2).fold(1_u64, u64::saturating_mul)
}

/// Every way to give each of the others a bay or leave it where it is, that fits and leaves room for the modules.
fn standings(problem: &mut Problem<'_>, modules: u32, cancel: &Cancel) -> Result<Vec<Standing>> {
    let (bays, others) = (problem.document.donor.bays.len(), problem.others.len());
    let mut homes = vec![None; others];
    let mut all = Vec::new();
    loop {
        cancel.check()?;
        let roomy = |s: &Standing| s.room.iter().fold(0_u32, |sum, r| sum.saturating_add(*r)) >= modules;
        all.extend(problem.standing(&homes).filter(roomy));
        // As one counts: where it is, then bay after bay.
        let Some(next) = homes.iter().position(|h: &Option<usize>| h.map_or(0, |b| b + 1) < bays) else { return Ok(all) };
        homes[..next].fill(None);
        homes[next] = Some(homes[next].map_or(0, |b| b + 1));
    }
}

/// Ways to spread a pack over bays, those nearest to the donor's balance first; with `own` that split alone, everything else where it is.
/// `others` are the places in the document of blocks that may be stood in a bay too: controllers, charger, components, what else is put in.
///
/// Every way is tried as long as they are no more than some hundred thousand; of more, modules go in groups, and what that may cost in
/// balance is told. Other blocks stand in rows at the end of a bay that is nearer to the motor; what stays where it is keeps its room.
///
/// # Errors
/// [`Error::Cancelled`]; [`Error::Invalid`] where `own` is not one number a bay or not the whole pack, or where one of `others` cannot be
/// moved.
pub fn pack_splits(document: &Document, own: Option<&[u32]>, others: &[String], cancel: &Cancel) -> Result<PackSplits> {
    cancel.check()?;
    let modules = document.design.pack.as_ref().map_or(0, crate::document::Pack::module_count);
    let mut problem = Problem::of(document, modules, if own.is_some() { &[] } else { others })?;
    let bays = &document.donor.bays;
    let room = problem.bare_room();
    let all = room.iter().fold(0_u32, |sum, r| sum.saturating_add(*r));
    let mut found = PackSplits {
        splits: Vec::new(),
        room,
        modules,
        donor_front_share: problem.wanted,
        tried: 0,
        step: 1,
        may_miss: 0.0,
        left_alone: std::mem::take(&mut problem.left_alone),
        none: None,
    };
    if let Some(split) = own {
        let sum = split.iter().fold(0_u32, |sum, n| sum.saturating_add(*n));
        if split.len() != bays.len() || sum != modules {
            let accepted = format!("{} numbers with {modules} in all are accepted, one a bay", bays.len());
            return Err(Error::field("modules", format!("{} numbers with {sum} in all", split.len()), accepted));
        }
        if let Some(standing) = problem.standing(&[]) {
            found.splits.push(told(&problem, &standing, split, &problem.merit(&standing, split)));
        }
        return Ok(found);
    }
    found.none = match () {
        () if modules == 0 && problem.others.is_empty() => Some("no pack has been chosen".into()),
        () if bays.is_empty() => Some("no bay has been measured".into()),
        () if stated_front_share(document).is_some() => Some("the axle share is stated as a whole, so that places do not tell".into()),
        () if all < modules => Some(sentence!("the bays hold {} of {} modules", all, modules)),
        () => None,
    };
    if found.none.is_some() {
        return Ok(found);
    }
    let standings = standings(&mut problem, modules, cancel)?;
    if standings.is_empty() {
        found.none = Some("the bays do not hold the pack with these blocks beside it".into());
        return Ok(found);
    }
    let all_ways = |step| standings.iter().fold(0_u64, |sum, s| sum.saturating_add(ways(&s.room, modules, step)));
    let mut step = 1;
    while all_ways(step) > MOST_TRIED && step <= modules {
        step *= 2;
    }
    let mut best: Vec<(Merit, Vec<u32>, &Standing)> = Vec::new();
    let mut tried = 0;
    for standing in &standings {
        each_split(&standing.room, modules, step, &mut |split| {
            tried += 1;
            if tried % 1024 == 0 {
                cancel.check()?;
            }
            let merit = problem.merit(standing, split);
            let at = best.partition_point(|(b, ..)| b.order(&merit).is_le());
            if at < TOLD {
                best.insert(at, (merit, split.to_vec(), standing));
                best.truncate(TOLD);
            }
            Ok(())
        })?;
    }
    (found.tried, found.step) = (tried, step);
    if step > 1 {
        found.may_miss = problem.share_moved(step);
    }
    found.splits = best.iter().map(|(merit, split, standing)| told(&problem, standing, split, merit)).collect();
    Ok(found)
}
