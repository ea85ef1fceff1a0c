//! What a split of the pack, and other blocks stood in the bays beside it, do to axles, tyres and cables.

use std::collections::HashMap;
use std::rc::Rc;

use super::bays::{bay_at, capacity, placement};
use super::blocks::blocks;
use super::cables::{trunk, way_m};
use super::merit::Merit;
use super::room::{Room, Stood, Thing};
use super::{BlockView, SizedBy, as_it_stood, centre_m, tyre_rating_kg, wheels_of};
use crate::document::{AxlePlace, Block, Document, Layout, PackBox, Placement, each_placed};
use crate::error::{Error, Result};
use crate::vehicle::{Balance, Stance};

/// Ways to give the other blocks their bays that are looked at at most; beyond it the lightest of them stay where they are.
const MOST_HOMES: u64 = 20_000;
/// Other blocks that may be moved at once.
const MOST_OTHERS: usize = 8;

/// A block beside the pack that may go into a bay.
#[derive(Debug, Clone)]
pub(super) struct Other {
    /// Place in the document of what is said of it.
    pub path: String,
    pub name: String,
    pub block: Block,
    kg: f64,
    thing: Thing,
    /// Where it is now.
    now_m: [f64; 3],
    /// Whether that was stated.
    placed: bool,
    /// Whether it may stay there: not where it would be in the way of a bay.
    may_stay: bool,
}

/// A bay with some of the others standing in it.
struct Filled {
    stood: Vec<Stood>,
    /// What they leave; none where the bay has no size.
    room: Option<Room>,
    /// Where modules are, m.
    centre_m: [f64; 3],
    modules: u32,
}

/// Where each of the others is, and what that leaves for modules.
pub(super) struct Standing {
    filled: Vec<Rc<Filled>>,
    /// Modules that each bay holds.
    pub room: Vec<u32>,
    /// Others that have found no place, and had none.
    unplaced: u32,
    /// All but the pack, laden.
    rest: Balance,
    controller_m: [f64; 3],
    contactors_m: Option<[f64; 3]>,
    motor_m: [f64; 3],
}

/// What every split has in common.
pub(super) struct Problem<'a> {
    pub document: &'a Document,
    stance: Stance,
    /// All but the pack and the others, laden.
    rest: Balance,
    pack_kg: f64,
    module_kg: f64,
    in_series: u32,
    /// Each bay; none without its size.
    whole: Vec<Option<Room>>,
    /// What stays where it is.
    in_the_way: Vec<Room>,
    /// What stays in each bay, kg.
    stays_kg: Vec<f64>,
    pub others: Vec<Other>,
    controller_m: [f64; 3],
    contactors_m: Option<[f64; 3]>,
    motor_m: [f64; 3],
    axle_limits_kg: [Option<f64>; 2],
    tyre_kg: Option<f64>,
    /// Share on the front axle that the donor has with the same riders.
    pub wanted: f64,
    /// Blocks that were asked about and stay where they are, the lightest.
    pub left_alone: Vec<String>,
    known: HashMap<(usize, u32), Option<Rc<Filled>>>,
}

/// The most blocks that are given bays at once.
fn most_others(bays: usize) -> usize {
    let ways = |n: usize| (bays as u64 + 1).saturating_pow(u32::try_from(n).unwrap_or(u32::MAX));
    (0..=MOST_OTHERS).take_while(|n| ways(*n) <= MOST_HOMES).last().unwrap_or(0)
}

impl<'a> Problem<'a> {
    /// # Errors
    /// [`Error::Invalid`] where one of the others is no block that may be moved.
    pub(super) fn of(document: &'a Document, modules: u32, asked: &[String]) -> Result<Self> {
        let donor = &document.donor;
        let all = blocks(document);
        let may: Vec<_> = all.iter().filter(|b| b.movable).collect();
        for (i, path) in asked.iter().enumerate() {
            if !may.iter().any(|b| b.path == *path) || asked[..i].contains(path) {
                let paths: Vec<&str> = may.iter().map(|b| b.path.as_str()).collect();
                let accepted = format!("each of {} is accepted, once", paths.join(", "));
                return Err(Error::field(format!("others[{i}]"), format!("\"{path}\""), accepted));
            }
        }
        let mut heaviest: Vec<_> = may.iter().filter(|b| asked.contains(&b.path)).collect();
        heaviest.sort_by(|a, b| b.mass_kg.total_cmp(&a.mass_kg));
        let left_alone = heaviest.split_off(heaviest.len().min(most_others(donor.bays.len())));
        let left_alone = left_alone.into_iter().map(|b| b.name.clone()).collect();
        let moves = |view: &BlockView| heaviest.iter().any(|b| b.path == view.path);
        let (mut rest, mut riders, mut pack_kg) = (Balance::default(), Balance::default(), 0.0);
        let (mut motor_m, mut controller_m, mut contactors_m) = (None, None, None);
        let whole: Vec<Option<Room>> = donor.bays.iter().map(|bay| Room::of(document, bay)).collect();
        let in_a_bay = |view: &BlockView| {
            let inside = view.placed && bay_at(document, view.centre_m()).is_some();
            inside || view.is_firm() && whole.iter().flatten().any(|bay| bay.meets(&view.room()))
        };
        let mut others = Vec::new();
        // Views and masses come in one order.
        let mut views = all.iter();
        each_placed(document, |p| {
            let (at, view) = (centre_m(document, &p), views.next());
            match p.block {
                Block::Motor => motor_m = Some(at),
                Block::Controller => controller_m = Some(at),
                Block::Electrics => contactors_m = p.at.along.is_some().then_some(at),
                _ => {}
            }
            if let Some(view) = view.filter(|v| moves(v)) {
                let turns = view.sized_by == SizedBy::Said;
                let thing = Thing { of: others.len(), size_m: [view.length_m, view.width_m, view.height_m], turns };
                let (path, name) = (view.path.clone(), view.name.clone());
                others.push(Other {
                    path,
                    name,
                    block: p.block,
                    kg: p.kg,
                    thing,
                    now_m: at,
                    placed: view.placed,
                    may_stay: !in_a_bay(view),
                });
                return;
            }
            let own = Balance::of(p.added_kg(), at);
            match p.block {
                Block::Pack | Block::PackBox(_) => pack_kg += p.kg,
                Block::Driver | Block::Payload => riders = riders.with(own),
                _ => rest = rest.with(own),
            }
        });
        let stays = |b: &&BlockView| b.is_firm() && b.kind != "pack" && !moves(b);
        let in_the_way: Vec<Room> = all.iter().filter(stays).map(BlockView::room).collect();
        let mut stays_kg = vec![0.0; donor.bays.len()];
        for view in all.iter().filter(|b| b.placed && b.is_put_in() && b.kind != "pack" && !moves(b)) {
            if let Some(own) = bay_at(document, view.centre_m()).and_then(|i| stays_kg.get_mut(i)) {
                *own += view.mass_kg;
            }
        }
        let as_it_stood = as_it_stood(document);
        let donor_laden = as_it_stood.with(riders);
        let stance = Stance::of(document);
        let motor_m = motor_m.unwrap_or_else(|| controller_m.unwrap_or_else(|| as_it_stood.centre_m()));
        Ok(Self {
            stance,
            rest: donor_laden.with(rest),
            pack_kg,
            module_kg: pack_kg / f64::from(modules.max(1)),
            in_series: document.design.pack.as_ref().map_or(1, |p| p.modules_in_series.max(1)),
            whole,
            in_the_way,
            stays_kg,
            others,
            controller_m: controller_m.unwrap_or(motor_m),
            contactors_m,
            motor_m,
            axle_limits_kg: [donor.front_axle_limit_kg, donor.rear_axle_limit_kg],
            tyre_kg: tyre_rating_kg(document),
            wanted: share(&stance, &donor_laden),
            left_alone,
            known: HashMap::new(),
            document,
        })
    }

    /// A bay with the others in it whose bits are set; none where they do not fit or weigh too much.
    fn filled(&mut self, bay: usize, mask: u32) -> Option<Rc<Filled>> {
        if let Some(known) = self.known.get(&(bay, mask)) {
            return known.clone();
        }
        let made = self.fill(bay, mask).map(Rc::new);
        self.known.insert((bay, mask), made.clone());
        made
    }

    fn fill(&self, bay: usize, mask: u32) -> Option<Filled> {
        let own = &self.document.donor.bays[bay];
        let inside: Vec<&Other> = self.others.iter().filter(|o| mask & (1 << o.thing.of) != 0).collect();
        let others_kg: f64 = inside.iter().map(|o| o.kg).sum();
        let limit_kg = own.mass_limit_kg.map(|limit| limit - self.stays_kg[bay] - others_kg);
        if limit_kg.is_some_and(|left| left < -1e-9) && !inside.is_empty() {
            return None;
        }
        // Modules keep their clearance from what is beside them, too.
        let gap_m = own.clearance_m;
        let stays: Vec<Room> = self.in_the_way.iter().map(|r| r.grown(gap_m)).collect();
        let left = |whole: &Room, stood: &[Stood]| {
            let beside: Vec<Room> = stays.iter().copied().chain(stood.iter().map(|s| s.room.grown(gap_m))).collect();
            whole.beside(&beside)
        };
        let (mut stood, mut room) = (Vec::new(), self.whole[bay].map(|whole| left(&whole, &[])));
        if let (Some(whole), false) = (self.whole[bay], inside.is_empty()) {
            let things: Vec<Thing> = inside.iter().map(|o| o.thing).collect();
            let (standing, rest) = room?.standing(&things, gap_m, self.motor_m, |stood| left(&whole, stood))?;
            (stood, room) = (standing, Some(rest));
        } else if !inside.is_empty() {
            return None;
        }
        let free_m = room.map(|r| r.size_m);
        let module = self.document.design.pack.as_ref().map(|p| &p.module);
        Some(Filled {
            stood,
            centre_m: room.map_or_else(|| own.centre_m(self.document), |r| r.centre_m()),
            modules: module.map_or(0, |m| capacity(free_m, limit_kg, m, self.module_kg)),
            room,
        })
    }

    /// The others in the bays that are named, or where they are; none where they do not fit or would be in the way.
    pub(super) fn standing(&mut self, homes: &[Option<usize>]) -> Option<Standing> {
        if self.others.iter().zip(homes).any(|(o, home)| home.is_none() && !o.may_stay) {
            return None;
        }
        let mut filled = Vec::with_capacity(self.whole.len());
        for bay in 0..self.whole.len() {
            let inside = homes.iter().enumerate().filter(|(_, home)| **home == Some(bay));
            filled.push(self.filled(bay, inside.fold(0, |mask, (i, _)| mask | 1 << i))?);
        }
        let mut at_m: Vec<[f64; 3]> = self.others.iter().map(|o| o.now_m).collect();
        for stood in filled.iter().flat_map(|f| &f.stood) {
            at_m[stood.of] = stood.room.centre_m();
        }
        let rest = self.others.iter().zip(&at_m).fold(self.rest, |sum, (o, at)| sum.with(Balance::of(o.kg, *at)));
        let at = |block: Block| self.others.iter().position(|o| o.block == block);
        let contactors = at(Block::Electrics).filter(|i| self.others[*i].placed || homes.get(*i).is_some_and(Option::is_some));
        let lost = self.others.iter().zip(homes).filter(|(o, home)| home.is_none() && !o.placed).count();
        Some(Standing {
            room: filled.iter().map(|f| f.modules).collect(),
            filled,
            unplaced: u32::try_from(lost).unwrap_or(u32::MAX),
            rest,
            controller_m: at(Block::Controller).map_or(self.controller_m, |i| at_m[i]),
            contactors_m: contactors.map_or(self.contactors_m, |i| Some(at_m[i])),
            motor_m: self.motor_m,
        })
    }

    pub(super) fn merit(&self, standing: &Standing, split: &[u32]) -> Merit {
        let used = || split.iter().zip(&standing.filled).filter(|(n, _)| **n > 0);
        let all = used().fold(standing.rest, |sum, (n, bay)| sum.with(Balance::of(f64::from(*n) * self.module_kg, bay.centre_m)));
        let loads = self.stance.loads(&all);
        let over = |kg: f64, limit: Option<f64>| limit.map_or(0.0, |l| (kg - l).max(0.0));
        let wheels = wheels_of(&loads.corners_kg, &self.stance);
        let over_kg = (0..2).map(|i| over(loads.axles_kg[i], self.axle_limits_kg[i]) + over(wheels[i], self.tyre_kg)).sum();
        let front_share = share(&self.stance, &all);
        let several = used().count() > 1;
        let boxes = trunk(standing.controller_m, standing.contactors_m, used().map(|(_, bay)| bay.centre_m).collect());
        Merit {
            over_kg,
            unplaced: standing.unplaced,
            cut_strings: if several { u32::try_from(used().filter(|(n, _)| **n % self.in_series != 0).count()).unwrap_or(0) } else { 0 },
            off: (front_share - self.wanted).abs(),
            cable_m: way_m(&boxes) + way_m(&[standing.controller_m, standing.motor_m]),
            front_share,
        }
    }

    /// The layout with the pack in the bays: the first box of modules is the pack's own, the others are further boxes.
    pub(super) fn layout(&self, standing: &Standing, split: &[u32]) -> Layout {
        let mut layout = self.document.design.layout.clone();
        let Some(pack) = &self.document.design.pack else { return layout };
        layout.boxes.clear();
        let placement = |bay: &Filled, n: u32| placement(bay.centre_m, bay.room.as_ref(), &pack.module, n);
        let mut used = self.document.donor.bays.iter().zip(&standing.filled).zip(split).filter(|(_, n)| **n > 0);
        if let Some(((_, bay), n)) = used.next() {
            layout.pack = placement(bay, *n);
        }
        layout.boxes = used.map(|((own, bay), n)| PackBox { name: own.name.clone(), modules: *n, at: placement(bay, *n) }).collect();
        layout
    }

    /// Modules that each bay holds beside what stays.
    pub(super) fn bare_room(&mut self) -> Vec<u32> {
        (0..self.whole.len()).map(|bay| self.filled(bay, 0).map_or(0, |f| f.modules)).collect()
    }

    /// By how much moving so many modules together may move the share on the front axle.
    pub(super) fn share_moved(&self, modules: u32) -> f64 {
        // Beside what stands in a bay the modules' middle is anywhere within it.
        let ends = |sign: f64| {
            let bays = self.document.donor.bays.iter();
            bays.map(move |b| sign * b.centre_m(self.document)[0] + 0.5 * b.at.length_m.unwrap_or(0.0)).fold(f64::MIN, f64::max)
        };
        let reach_m = ends(1.0) + ends(-1.0);
        let moved_kg = f64::from(modules) * self.module_kg * self.whole.len() as f64;
        let all_kg = self.rest.kg + self.others.iter().map(|o| o.kg).sum::<f64>() + self.pack_kg;
        moved_kg * reach_m / (all_kg * self.stance.wheelbase_m)
    }

    /// Where the others stand, by bay: which of them, the bay, and what is then said of its place.
    pub(super) fn moved<'b>(&'b self, standing: &'b Standing) -> impl Iterator<Item = (&'b Other, usize, Placement)> {
        standing.filled.iter().enumerate().flat_map(move |(bay, filled)| {
            filled.stood.iter().map(move |stood| {
                let other = &self.others[stood.of];
                (other, bay, other.placement(&stood.room))
            })
        })
    }
}

impl Other {
    /// Its place in a room of its own; a size that was not stated stays so.
    fn placement(&self, room: &Room) -> Placement {
        let millimetre = |m: f64| (m * 1000.0).round() / 1000.0;
        let [along, right, up] = room.centre_m();
        let size = |axis: usize| self.thing.turns.then(|| millimetre(room.size_m[axis]));
        Placement {
            along: Some(AxlePlace::BehindFrontAxleM(millimetre(along))),
            right_m: Some(millimetre(right)),
            up_m: Some(millimetre(up)),
            length_m: size(0),
            width_m: size(1),
            height_m: size(2),
        }
    }
}

fn share(stance: &Stance, balance: &Balance) -> f64 {
    1.0 - balance.centre_m()[0] / stance.wheelbase_m
}
