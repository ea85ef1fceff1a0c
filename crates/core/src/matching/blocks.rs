//! Whole blocks of combinations held against goals and answer at once: some drives of motors of the same ratings on a gearing times some packs.
//!
//! A block is bounded by a drive and a pack that are each at least as good as any of theirs in every figure a bound reads. What cannot meet
//! a goal or is dominated at that is cut whole; the rest is split until single packs are left with few drives of the same ratings, which are candidates then.

use super::bests::{DriveBest, PackBest};
use super::bounds::{Bound, Known, OtherEnd, Told};
use super::branches::Branch;
use super::candidates::Candidate;
use super::count::{Counts, Why, goal, rule};
use super::enumerate::SearchSpace;
use super::objectives::Bins;
use super::open::{Block, Open};
use super::pack_tree::PackTree;
use super::request::is_direct;
use super::space::SearchProblem;
use crate::findings::Rule;
use crate::limits::{controller_over_pack, lowest_v, sags_below};

/// The best that a whole block can be.
pub(super) struct BlockBest {
    pub(super) bins: Bins,
    pub(super) rank: f64,
    pub(super) cost: f64,
    pub(super) added_kg: f64,
    /// Which approaches any of it follows.
    pub(super) approaches: [bool; 4],
}

/// What the answer already says of a single candidate and of a block.
pub(super) trait Answered: Sync {
    /// Whether a candidate cannot be in the answer even at its best.
    fn is_out(&self, candidate: &Candidate) -> bool;
    /// Whether nothing of a block can.
    fn is_block_out(&self, best: &BlockBest) -> bool;
}

/// Blocks of a space, as what is answered already lets them be.
pub(super) struct Blocks<'a> {
    pub(super) space: &'a SearchSpace,
    pub(super) problem: &'a SearchProblem,
    pub(super) packs: &'a PackTree,
    pub(super) answered: &'a dyn Answered,
}

/// Some drives of a train (by its place among the branches) and some packs.
struct Sides {
    train: u32,
    drives: Branch<DriveBest>,
    packs: Branch<PackBest>,
}

/// Most combinations that are looked at at once, where they differ in masses and prices alone.
const MOST_AT_ONCE: u64 = 64;

/// What becomes of a block.
enum Fate {
    Cut(Why),
    /// A member of the answer beats the best that any of it can be, of that rank.
    Beaten(Bins, f64),
    /// Neither, with the best that any of it can be and its rank.
    Open(Bins, f64),
}

/// What a look at blocks leaves open, what a member of the answer beats, and what it counted.
pub(super) struct Opened {
    pub(super) open: Vec<Open>,
    pub(super) beaten: Vec<Open>,
    pub(super) counts: Counts,
}

impl Opened {
    fn nothing(problem: &SearchProblem) -> Self {
        Self { open: Vec::new(), beaten: Vec::new(), counts: Counts::new(problem) }
    }
}

/// Places of the drives and packs of a block cut in two where it is less like itself; none of a single pair.
fn halves(Sides { drives, packs, .. }: &Sides, whole: (u32, u32)) -> Option<[(u32, u32); 2]> {
    match (drives.halves, packs.halves) {
        (Some((a, b)), other) if other.is_none() || drives.best.spread() > packs.best.spread() => Some([(a, whole.1), (b, whole.1)]),
        (_, other) => other.map(|(a, b)| [(whole.0, a), (whole.0, b)]),
    }
}

impl Blocks<'_> {
    /// Looks at each of some trains, by their places among the branches, with all packs.
    pub(super) fn whole(&self, trains: &[u32]) -> Opened {
        let mut found = Opened::nothing(self.problem);
        for train in trains {
            let drives = self.space.branches[*train as usize].root_place();
            self.look((*train, drives, self.packs.tree.root_place()), &self.problem.objectives.anything(), &mut found);
        }
        found
    }

    /// Splits each of some blocks in four and looks at each, unless the answer has meanwhile grown too strong for it.
    pub(super) fn split(&self, blocks: &[Block]) -> Opened {
        let mut found = Opened::nothing(self.problem);
        for block in blocks {
            let sides = self.sides(block.train, block.drives, block.packs);
            if self.answered.is_block_out(&self.at_best(&sides, block.bins, block.rank)) {
                found.beaten.push(Open::Block(*block));
                continue;
            }
            if self.is_leaf(&sides, block.combinations) {
                self.look((block.train, block.drives, block.packs), &block.bins, &mut found);
                continue;
            }
            for half in halves(&sides, (block.drives, block.packs)).into_iter().flatten() {
                // Most halves stay open: their own are looked at at once, but for what may not be split any further.
                let within = self.sides(block.train, half.0, half.1);
                let quarters = halves(&within, half).filter(|_| within.packs.halves.is_some());
                for (drives, packs) in quarters.into_iter().flatten().chain(quarters.is_none().then_some(half)) {
                    self.look((block.train, drives, packs), &block.bins, &mut found);
                }
            }
        }
        found
    }

    fn sides(&self, train: u32, drives: u32, packs: u32) -> Sides {
        let (space, problem) = (self.space, self.problem);
        let drives = space.branches[train as usize].at(drives, |number| space.drive_best(problem, number));
        Sides { train, drives, packs: self.packs.at(space, problem, packs) }
    }

    /// Combinations of each drive of a block that fit it by voltage; the others have been counted before.
    fn fitting(&self, sides: &Sides) -> impl Iterator<Item = u64> {
        let Sides { train, drives, packs } = sides;
        let (from, to) = (packs.from, packs.to);
        self.space.branches[*train as usize].numbers(drives).map(move |number| {
            let voltages = self.space.voltages_of[number as usize];
            let before = |place: usize| self.packs.fed_before(self.space, voltages, place);
            u64::from(before(to) - before(from))
        })
    }

    /// Looks at a block; what was told of one that holds it holds for it.
    fn look(&self, (train, drives, packs): (u32, u32, u32), above: &Bins, found: &mut Opened) {
        let sides = self.sides(train, drives, packs);
        let combinations = self.fitting(&sides).sum();
        if combinations == 0 {
            return;
        }
        let is_leaf = self.is_leaf(&sides, combinations);
        match self.fate(&sides, above, &mut found.counts) {
            Fate::Cut(why) => found.counts.cut(why, combinations),
            Fate::Beaten(bins, rank) => found.beaten.push(Open::Block(Block { train, drives, packs, combinations, bins, rank })),
            Fate::Open(bins, _) if is_leaf => self.one_by_one(&sides, &bins, found),
            Fate::Open(bins, rank) => found.open.push(Open::Block(Block { train, drives, packs, combinations, bins, rank })),
        }
    }

    /// Whether a block is not split any further: one pack, with few drives of the same ratings.
    fn is_leaf(&self, sides: &Sides, combinations: u64) -> bool {
        let few = sides.drives.best.ratings.is_some() && combinations <= MOST_AT_ONCE;
        sides.packs.halves.is_none() && (sides.drives.halves.is_none() || few)
    }

    /// What becomes of each combination of a leaf, of which these steps are told: its drives are of the same ratings, so that the pack fits them all.
    fn one_by_one(&self, sides: &Sides, bins: &Bins, found: &mut Opened) {
        let at = self.packs.tree.order[sides.packs.from] as usize;
        for number in self.space.branches[sides.train as usize].numbers(&sides.drives) {
            self.space.pair(self.problem, (at, number), (bins, self.answered), found);
        }
    }

    fn at_best(&self, sides: &Sides, bins: Bins, rank: f64) -> BlockBest {
        let (vehicle, drive, packs) = (&self.space.vehicle, &sides.drives.best.drive, &sides.packs.best);
        let motor = self.space.drivetrains[drive.drivetrain as usize].configuration.motor;
        let direct = is_direct(&self.problem.motors[usize::from(motor)].written);
        BlockBest {
            bins,
            rank,
            cost: vehicle.bare_cost + drive.price + packs.price.0,
            added_kg: vehicle.bare_change_kg + drive.mass_kg + packs.kg.0,
            approaches: [direct, !direct, packs.new, packs.salvaged],
        }
    }

    fn fate(&self, sides: &Sides, above: &Bins, counts: &mut Counts) -> Fate {
        let (space, problem, drives, packs) = (self.space, self.problem, &sides.drives.best, &sides.packs.best);
        let drive = &drives.drive;
        if controller_over_pack(drive.asked_a, packs.look.peak_a) && problem.keeps(Rule::ControllerOverPack) {
            return Fate::Cut(rule(Rule::ControllerOverPack));
        }
        let bottom_v = lowest_v(packs.bottom_v, packs.look.resistance_ohm, drive.asked_a);
        if sags_below(bottom_v, packs.look.cutoff_v.max(drive.min_v)) && problem.keeps(Rule::SagBelowCutoff) {
            return Fate::Cut(rule(Rule::SagBelowCutoff));
        }
        let too_cheap = problem.is_known_too_cheap(space.vehicle.bare_cost + drives.dearest + packs.price.1);
        let known = || too_cheap.then(|| problem.cost_constraint().map(goal)).flatten();
        if let Some(why) = space.too_much(problem, drive.price + packs.price.0, drive.mass_kg + packs.kg.0).or_else(known) {
            return Fate::Cut(why);
        }
        counts.looked_at(sides.packs.halves.is_none() && drives.ratings.is_some());
        let best = |bins: Bins| self.at_best(sides, bins, problem.objectives.rank(&bins));
        // Money, mass and hours are told at once; with what is known of the block above they are often enough.
        let BlockBest { cost, added_kg, .. } = self.at_best(sides, *above, f64::INFINITY);
        let exact = best(problem.objectives.with_exact(above, cost, added_kg, packs.hours));
        if self.answered.is_block_out(&exact) {
            return Fate::Beaten(exact.bins, exact.rank);
        }
        let look = space.look_at_block(problem, drives, packs);
        if space.keep_up.as_ref().is_some_and(|k| k.is_missed(&look)) {
            return Fate::Cut(rule(Rule::NotFollowed));
        }
        match look.told(&exact.bins, (cost, added_kg, packs.shortfall), |bins| self.answered.is_block_out(&best(*bins))) {
            Told::Missed(constraint) => Fate::Cut(goal(constraint)),
            Told::Beaten(bins) => Fate::Beaten(bins, problem.objectives.rank(&bins)),
            Told::Open(bins) => Fate::Open(bins, problem.objectives.rank(&bins)),
        }
    }
}

impl SearchSpace {
    /// A drive alone.
    pub(super) fn drive_best(&self, problem: &SearchProblem, number: u32) -> DriveBest {
        let drive = self.drive(number);
        DriveBest::of(problem, &drive, &self.drivetrains[drive.drivetrain as usize])
    }

    /// Drives and packs at once: the lightest of them against the road, the heaviest for the grip.
    pub(super) fn look_at_block<'a>(&'a self, problem: &'a SearchProblem, drives: &DriveBest, packs: &PackBest) -> Bound<'a> {
        let (drive, vehicle) = (drives.drive, &self.vehicle);
        let drivetrain = &self.drivetrains[drive.drivetrain as usize];
        let grip_n_per_kg = drivetrain.grip_n_per_kg(vehicle, &drives.masses, packs.pack_kg, packs.charger_kg);
        let heaviest_kg = vehicle.test_kg(drives.heaviest_kg + packs.kg.1);
        Bound {
            problem,
            vehicle,
            drivetrain,
            drive,
            pack: Some(packs.look),
            mass_kg: vehicle.test_kg(drive.mass_kg + packs.kg.0),
            worst: OtherEnd {
                heaviest_kg,
                grip_n: grip_n_per_kg * heaviest_kg,
                most_ohm: packs.most_ohm,
                least_efficiency: drives.least_efficiency,
            },
            close: false,
            known: Known::nothing(),
        }
    }
}
