//! Trees of packs and of drives, cut in halves where they differ most, each branch with a best that none of its members exceeds.

use std::sync::OnceLock;

use super::bounds::PackLook;
use super::packs::{ChargerSide, OnTrip, PackSide};
use super::request::is_salvaged;
use super::space::SearchProblem;
use super::subsystems::{Drive, DriveMasses, Drivetrain, hull};

/// Something of which two have a best that neither exceeds.
pub(super) trait Member: Copy + Send + Sync {
    /// What a tree is cut by: logarithms, so that widths compare.
    fn keys(&self) -> [f64; 5];
    /// At least as good as both in every figure that a bound reads.
    fn with(&self, other: &Self) -> Self;
}

/// Some members, by their places in the order of the tree.
#[derive(Debug, Clone, Copy)]
pub(super) struct Branch<T> {
    pub(super) from: usize,
    pub(super) to: usize,
    /// Its two halves, by their places; none of a single member.
    pub(super) halves: Option<(u32, u32)>,
    pub(super) best: T,
}

/// Members cut in halves until single ones are left, which are made anew wherever they are asked for: they would take half of the memory.
#[derive(Debug)]
pub(super) struct Tree<T> {
    /// Numbers of the members, in the order of the tree.
    pub(super) order: Vec<u32>,
    /// Branches of two members or more.
    branches: Vec<Branch<T>>,
}

/// What marks the place of a single member, which is its place in the order of the tree.
const SINGLE: u32 = 1 << 31;

impl<T: Member> Tree<T> {
    /// Of one member or more, each with its number.
    pub(super) fn of(members: &[(u32, T)]) -> Self {
        Self::with_halves_from(members, SIDE_BY_SIDE)
    }

    /// The same on one thread. What waits for something made once must not take up other work meanwhile, which may wait for the same.
    fn of_alone(members: &[(u32, T)]) -> Self {
        Self::with_halves_from(members, usize::MAX)
    }

    fn with_halves_from(members: &[(u32, T)], side_by_side: usize) -> Self {
        let keys: Vec<[f64; 5]> = members.iter().map(|m| m.1.keys()).collect();
        let mut places: Vec<u32> = (0..members.len() as u32).collect();
        let mut branches = Vec::with_capacity(members.len());
        grow(Growing { members, keys: &keys, side_by_side }, &mut places, 0, &mut branches);
        Self { order: places.into_iter().map(|place| members[place as usize].0).collect(), branches }
    }

    /// Place of the branch that holds all of some members, one or more, the first of which has a place in the order, where so many branches
    /// come before its own.
    fn root_of(count: usize, from: usize, before: usize) -> u32 {
        if count == 1 { SINGLE | from as u32 } else { (before + count) as u32 - 2 }
    }

    /// The branch at a place, of members by their numbers.
    pub(super) fn at(&self, place: u32, member: impl Fn(u32) -> T) -> Branch<T> {
        if place & SINGLE == 0 {
            return self.branches[place as usize];
        }
        let from = (place & !SINGLE) as usize;
        Branch { from, to: from + 1, halves: None, best: member(self.order[from]) }
    }

    /// Place of the branch that holds all.
    pub(super) fn root_place(&self) -> u32 {
        Self::root_of(self.order.len(), 0, 0)
    }
}

/// Members that follow one another in a list, as a tree that is grown when something below its root is asked for.
#[derive(Debug)]
pub(super) struct Sapling<T> {
    first: u32,
    root: Branch<T>,
    tree: OnceLock<Tree<T>>,
}

impl<T: Member> Sapling<T> {
    /// Of one member or more, the first of which has a number.
    pub(super) fn of(first: u32, members: impl ExactSizeIterator<Item = T>) -> Option<Self> {
        let to = members.len();
        let best = members.reduce(|a, b| a.with(&b))?;
        // The first half of the tree comes first, each half before its root.
        let (left, right) = (to / 2, to - to / 2);
        let halves = (to > 1).then(|| (Tree::<T>::root_of(left, 0, 0), Tree::<T>::root_of(right, left, left - 1)));
        Some(Self { first, root: Branch { from: 0, to, halves, best }, tree: OnceLock::new() })
    }

    /// Whether a number is among them.
    #[cfg(test)]
    pub(super) fn holds(&self, number: u32) -> bool {
        (self.first..self.first + self.root.to as u32).contains(&number)
    }

    /// Place of the branch that holds all.
    pub(super) fn root_place(&self) -> u32 {
        Tree::<T>::root_of(self.root.to, 0, 0)
    }

    /// The whole tree, of members by their numbers.
    pub(super) fn tree(&self, member: impl Fn(u32) -> T) -> &Tree<T> {
        let numbers = self.first..self.first + self.root.to as u32;
        self.tree.get_or_init(|| Tree::of_alone(&numbers.map(|number| (number, member(number))).collect::<Vec<_>>()))
    }

    pub(super) fn at(&self, place: u32, member: impl Fn(u32) -> T) -> Branch<T> {
        if place == self.root_place() { self.root } else { self.tree(&member).at(place, &member) }
    }

    /// Numbers of the members of one of its branches.
    pub(super) fn numbers(&self, branch: &Branch<T>) -> impl Iterator<Item = u32> {
        let order = self.tree.get().map(|tree| &tree.order[branch.from..branch.to]);
        let unsplit = order.is_none().then_some(self.first..self.first + self.root.to as u32);
        unsplit.into_iter().flatten().chain(order.into_iter().flatten().copied())
    }
}

/// Members of a half from which on both grow side by side.
const SIDE_BY_SIDE: usize = 2048;

/// What a tree is grown of: members, each with its number and its keys, and how many make a half grow beside the other.
#[derive(Clone, Copy)]
struct Growing<'a, T> {
    members: &'a [(u32, T)],
    keys: &'a [[f64; 5]],
    side_by_side: usize,
}

/// Grows the branch of some members, told by their places, which it puts in the order of the tree; its place and best. Its halves come before it.
fn grow<T: Member>(of: Growing<'_, T>, places: &mut [u32], from: usize, branches: &mut Vec<Branch<T>>) -> (u32, T) {
    let (Growing { members, keys, side_by_side }, count) = (of, places.len());
    let root = Tree::<T>::root_of(count, from, branches.len());
    if let [only] = places {
        return (root, members[*only as usize].1);
    }
    let ends = |k: usize| {
        let keys = places.iter().map(|place| keys[*place as usize][k]);
        keys.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), x| (low.min(x), high.max(x)))
    };
    let widths: [f64; 5] = std::array::from_fn(|k| ends(k).1 - ends(k).0);
    let widest = (0..widths.len()).max_by(|a, b| widths[*a].total_cmp(&widths[*b]).then(b.cmp(a))).unwrap_or_default();
    let (middle, key) = (count / 2, |place: u32| keys[place as usize][widest]);
    places.select_nth_unstable_by(middle, |a, b| key(*a).total_cmp(&key(*b)).then(members[*a as usize].0.cmp(&members[*b as usize].0)));
    let (left, right) = places.split_at_mut(middle);
    let ((left, best), (right, other)) = if left.len() < side_by_side {
        (grow(of, left, from, branches), grow(of, right, from + middle, branches))
    } else {
        let mut others = Vec::with_capacity(right.len());
        let (one, (place, other)) = rayon::join(|| grow(of, left, from, branches), || grow(of, right, from + middle, &mut others));
        let before = branches.len() as u32;
        let moved = |place: u32| if place & SINGLE == 0 { place + before } else { place };
        branches.extend(others.into_iter().map(|b| Branch { halves: b.halves.map(|(l, r)| (moved(l), moved(r))), ..b }));
        (one, (moved(place), other))
    };
    let best = best.with(&other);
    branches.push(Branch { from, to: from + count, halves: Some((left, right)), best });
    (root, best)
}

/// The best of several packs with their chargers.
#[derive(Debug, Clone, Copy)]
pub(super) struct PackBest {
    pub(super) look: PackLook,
    pub(super) most_ohm: f64,
    /// With the cheapest and the dearest charger, the lightest and the heaviest.
    pub(super) price: (f64, f64),
    pub(super) kg: (f64, f64),
    /// Lightest and heaviest pack, and charger, each alone.
    pub(super) pack_kg: (f64, f64),
    pub(super) charger_kg: (f64, f64),
    /// Greatest open-circuit voltage at the bottom of the window, V.
    pub(super) bottom_v: f64,
    pub(super) hours: f64,
    pub(super) shortfall: f64,
    /// Whether new and salvaged cells are among them.
    pub(super) new: bool,
    pub(super) salvaged: bool,
}

impl PackBest {
    /// Of a pack with one charger or more.
    pub(super) fn of(problem: &SearchProblem, pack: &PackSide) -> Self {
        let ends = |of: fn(&ChargerSide) -> f64| {
            pack.chargers.iter().map(of).fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), x| (low.min(x), high.max(x)))
        };
        let (price, kg) = (ends(|c| c.price), ends(|c| c.mass_kg));
        let salvaged = is_salvaged(&problem.modules[usize::from(pack.module)].written);
        let m = &pack.model;
        Self {
            look: PackLook::of(pack),
            most_ohm: pack.on_trip.resistance_ohm,
            price: (pack.price + price.0, pack.price + price.1),
            kg: (pack.mass_kg + kg.0, pack.mass_kg + kg.1),
            pack_kg: (pack.mass_kg, pack.mass_kg),
            charger_kg: kg,
            bottom_v: m.ocv_v(m.soc_min),
            hours: ends(|c| c.hours).0,
            shortfall: ends(|c| c.shortfall).0,
            new: !salvaged,
            salvaged,
        }
    }

    /// How far apart the members are in price, share.
    pub(super) fn spread(&self) -> f64 {
        (self.price.1.max(1.0) / self.price.0.max(1.0)).ln()
    }
}

impl Member for PackBest {
    fn keys(&self) -> [f64; 5] {
        let ln = |x: f64| x.max(1e-3).ln();
        let power_w = self.look.continuous_a * self.look.run_v;
        [2.0 * ln(self.look.run_v), ln(self.price.0), ln(self.look.on_trip.usable_j), 0.5 * ln(self.kg.0), 0.5 * ln(power_w.min(1e9))]
    }

    fn with(&self, o: &Self) -> Self {
        let (a, b) = (&self.look, &o.look);
        let (t, u) = (&a.on_trip, &b.on_trip);
        Self {
            look: PackLook {
                run_v: a.run_v.max(b.run_v),
                resistance_ohm: a.resistance_ohm.min(b.resistance_ohm),
                cutoff_v: a.cutoff_v.min(b.cutoff_v),
                peak_a: a.peak_a.max(b.peak_a),
                continuous_a: a.continuous_a.max(b.continuous_a),
                on_trip: OnTrip {
                    start_v: t.start_v.max(u.start_v),
                    mean_v: t.mean_v.max(u.mean_v),
                    resistance_ohm: t.resistance_ohm.min(u.resistance_ohm),
                    peak_a: t.peak_a.max(u.peak_a),
                    feedback_a: t.feedback_a.max(u.feedback_a),
                    usable_j: t.usable_j.max(u.usable_j),
                },
            },
            most_ohm: self.most_ohm.max(o.most_ohm),
            price: hull(self.price, o.price),
            kg: hull(self.kg, o.kg),
            pack_kg: hull(self.pack_kg, o.pack_kg),
            charger_kg: hull(self.charger_kg, o.charger_kg),
            bottom_v: self.bottom_v.max(o.bottom_v),
            hours: self.hours.min(o.hours),
            shortfall: self.shortfall.min(o.shortfall),
            new: self.new || o.new,
            salvaged: self.salvaged || o.salvaged,
        }
    }
}

/// The best of several drives of motors of the same ratings on a gearing.
#[derive(Debug, Clone, Copy)]
pub(super) struct DriveBest {
    pub(super) drive: Drive,
    pub(super) masses: DriveMasses,
    /// Ratings of the controllers, by the first that has them; none where they differ.
    pub(super) ratings: Option<u16>,
    pub(super) dearest: f64,
    pub(super) heaviest_kg: f64,
    pub(super) least_efficiency: f64,
}

impl DriveBest {
    /// Of one, with the first controller of the same ratings.
    pub(super) fn of(drive: &Drive, drivetrain: &Drivetrain, ratings: u16) -> Self {
        Self {
            drive: *drive,
            masses: drivetrain.masses_of(drive),
            ratings: Some(ratings),
            dearest: drive.price,
            heaviest_kg: drive.mass_kg,
            least_efficiency: drive.efficiency,
        }
    }

    /// How far apart the members are in price, share.
    pub(super) fn spread(&self) -> f64 {
        (self.dearest.max(1.0) / self.drive.price.max(1.0)).ln()
    }
}

impl Member for DriveBest {
    fn keys(&self) -> [f64; 5] {
        let (d, ln) = (&self.drive, |x: f64| x.max(1e-3).ln());
        [ln(d.min_v), ln(d.price), ln(d.peak_a), ln(d.mass_kg), ln(d.peak_nm)]
    }

    fn with(&self, o: &Self) -> Self {
        let (a, b) = (&self.drive, &o.drive);
        Self {
            drive: Drive {
                drivetrain: a.drivetrain,
                controller: a.controller,
                peak_nm: a.peak_nm.max(b.peak_nm),
                continuous_nm: a.continuous_nm.max(b.continuous_nm),
                continuous_w: a.continuous_w.max(b.continuous_w),
                ten_minutes: a.ten_minutes.with(b.ten_minutes),
                continuous_loss_w: a.continuous_loss_w.max(b.continuous_loss_w),
                mass_kg: a.mass_kg.min(b.mass_kg),
                price: a.price.min(b.price),
                peak_a: a.peak_a.max(b.peak_a),
                continuous_a: a.continuous_a.max(b.continuous_a),
                max_power_w: a.max_power_w.max(b.max_power_w),
                efficiency: a.efficiency.max(b.efficiency),
                min_v: a.min_v.min(b.min_v),
                asked_a: a.asked_a.min(b.asked_a),
                feedback_a: a.feedback_a.max(b.feedback_a),
            },
            masses: self.masses.with(&o.masses),
            ratings: self.ratings.filter(|own| o.ratings == Some(*own)),
            dearest: self.dearest.max(o.dearest),
            heaviest_kg: self.heaviest_kg.max(o.heaviest_kg),
            least_efficiency: self.least_efficiency.min(o.least_efficiency),
        }
    }
}
