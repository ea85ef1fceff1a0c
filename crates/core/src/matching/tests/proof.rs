//! Configurations drawn from a search, each with its bounds and with what the model makes of it.

use crate::cancel::Cancel;
use crate::document::{Checked, Document, MatchRequest};
use crate::figures::{Driven, Evaluator, FigureKind, OperatingPoint};
use crate::library::{Part, builtin};
use crate::matching::bests::{DriveBest, PackBest};
use crate::matching::bounds::{Bound, Told};
use crate::matching::branches::{Branch, Member, Tree};
use crate::matching::candidates::{Ahead, Candidate};
use crate::matching::count::Counts;
use crate::matching::enumerate::SearchSpace;
use crate::matching::groups::Group;
use crate::matching::space::SearchProblem;

pub(super) fn demo(name: &str) -> Checked {
    let path = format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR"));
    Document::from_json(&std::fs::read(path).expect("a demo")).expect("sound")
}

/// Whether a figure is no better than its bound, with a hair for sums made in another order.
pub(super) fn bounded(kind: FigureKind, document: &Document, value: f64, best: f64) -> bool {
    let more_is_better = kind.figure(document).more_is_better;
    if more_is_better { value <= best * (1.0 + 1e-9) + 1e-9 } else { value >= best * (1.0 - 1e-9) - 1e-9 }
}

/// The branches of a tree that hold a number, the whole first.
fn holding<T: Member>(tree: &Tree<T>, number: u32, member: impl Fn(u32) -> T) -> Vec<Branch<T>> {
    let at = tree.order.iter().position(|n| *n == number).expect("in the tree");
    let mut path = vec![tree.at(tree.root_place(), &member)];
    while let Some((a, b)) = path[path.len() - 1].halves {
        let [a, b] = [a, b].map(|place| tree.at(place, &member));
        path.push(if (a.from..a.to).contains(&at) { a } else { b });
    }
    path
}

/// A drive on a pack, nothing told of it.
pub(super) fn candidate(drive: u32, pack: u32) -> Candidate {
    Candidate { drive, pack, charger: 0, bins: [0; 8], rank: 0.0, cost: 0.0, added_kg: 0.0, close: false, simulated: false }
}

/// A configuration with what the model says of it.
pub(super) struct Tried {
    pub(super) candidate: Candidate,
    pub(super) values: Vec<(FigureKind, f64)>,
    pub(super) follows: bool,
    /// The trip that counts, and what a little more charge would come to on it.
    pub(super) driven: Option<Driven>,
}

impl Tried {
    /// Whether it follows the trip that counts.
    pub(super) fn followed(&self) -> bool {
        self.driven.is_none_or(|d| d.followed)
    }
}

pub(super) struct Proof {
    pub(super) problem: SearchProblem,
    pub(super) space: SearchSpace,
    pub(super) packs: Tree<PackBest>,
}

impl Proof {
    pub(super) fn of(name: &str) -> Self {
        Self::of_document(&demo(name))
    }

    pub(super) fn of_document(document: &Checked) -> Self {
        Self::of_library(document, builtin())
    }

    pub(super) fn of_library(document: &Checked, library: &[Part]) -> Self {
        let problem = SearchProblem::of(document, library, &MatchRequest::default()).expect("sound");
        let mut counts = Counts::new(&problem);
        let mut space = SearchSpace::of(&problem, &mut counts, &Cancel::new()).expect("small enough");
        space.lay_packs(&problem, 5, &mut counts, &Cancel::new()).expect("not told to stop");
        let packs = Tree::of(0..space.packs.len() as u32, |at| PackBest::of(&problem, &space.packs[at as usize]));
        Self { packs, problem, space }
    }

    /// Every branch that holds a drive.
    pub(super) fn holding_drive(&self, drive: u32) -> Vec<Branch<DriveBest>> {
        let sapling = self.space.branches.iter().find(|s| s.holds(drive)).expect("in a tree");
        let best = |number| self.space.drive_best(&self.problem, number);
        let tree = sapling.tree(best);
        let all = tree.at(tree.root_place(), best);
        let root = sapling.at(sapling.root_place(), |_| panic!("nothing below the root was asked for"));
        // Of which controller a best is, it does not say.
        let told = |branch: &Branch<DriveBest>| {
            let mut branch = *branch;
            branch.best.drive.controller = 0;
            format!("{branch:?}")
        };
        assert_eq!(told(&root), told(&all), "a tree has the root that was told of it before it was grown");
        holding(tree, drive, best)
    }

    /// Every branch that holds a pack.
    pub(super) fn holding_pack(&self, pack: u32) -> Vec<Branch<PackBest>> {
        holding(&self.packs, pack, |at| PackBest::of(&self.problem, &self.space.packs[at as usize]))
    }

    /// A pack and a drive that fits it.
    pub(super) fn drawn(&self, i: usize) -> (usize, u32) {
        let space = &self.space;
        let pack = spread(i, 0.137, space.packs.len());
        let groups: Vec<&Group> = space.groups.iter().filter(|g| space.feeds[pack].contains(&g.voltages)).collect();
        let group = groups[spread(i, 0.219, groups.len())];
        (pack, group.drives[spread(i, 0.311, group.drives.len())])
    }

    /// The figures of a drive on a pack with one of its chargers.
    pub(super) fn tried(&self, drive: u32, pack: u32, charger: u32) -> Tried {
        let problem = &self.problem;
        let candidate = Candidate { charger, ..candidate(drive, pack) };
        let document = problem.document(&self.space.configuration(&candidate));
        let point = OperatingPoint::of(&document).expect("whole");
        let own = problem.traced(&document).expect("whole");
        let cancel = Cancel::new();
        let evaluator = || Evaluator::new(&document, &point, own.as_deref().unwrap_or(&problem.trips), &cancel);
        let (mut evaluator, mut in_haste) = (evaluator().looking_further(true), evaluator().giving_up_hot(true));
        let mut follows = true;
        for trip in &problem.followed {
            let [driven, hasty] = [&mut evaluator, &mut in_haste].map(|e| e.trip(*trip).expect("driven"));
            let keeps_up = |d: &Driven| d.followed && !d.derated;
            follows &= keeps_up(&driven);
            // Heat ends the drive and changes nothing of what else is found.
            assert_eq!(keeps_up(&hasty), keeps_up(&driven), "{:?}", self.space.configuration(&candidate));
            assert!(hasty.derated || hasty.range_km == driven.range_km);
        }
        let values = problem.cheapest_first.iter().map(|kind| (*kind, evaluator.value(*kind).expect("computed"))).collect();
        let driven = problem.trip.map(|trip| evaluator.trip(trip).expect("driven"));
        Tried { candidate, values, follows, driven }
    }

    pub(super) fn holds(&self, tried: &Tried, look: &Bound<'_>, what: &str) {
        for (kind, value) in &tried.values {
            // Told exactly, and of trips only where a chain that lags would be left out.
            let exact = matches!(kind, FigureKind::Cost | FigureKind::AddedMass | FigureKind::Charge(_) | FigureKind::Energy(_));
            if exact || kind.is_of_trip() && !tried.follows {
                continue;
            }
            let (configuration, best) = (self.space.configuration(&tried.candidate), look.best(*kind));
            assert!(bounded(*kind, &self.problem.base, *value, best), "{what}: {kind:?} is {value}, at best {best}: {configuration:?}");
            for m in self.problem.constraints.iter().filter(|m| m.kind == *kind && m.met(*value)) {
                assert!(look.may_meet(m), "{what}: {kind:?} is {value} and cannot meet {}: {configuration:?}", m.target);
            }
        }
    }

    /// What was told of a block holds for whatever is in it: its steps, with money, mass and hours known exactly, are no worse than those
    /// of the figures themselves.
    pub(super) fn inherits(&self, tried: &Tried, look: &Bound<'_>, packs: &PackBest) {
        let objectives = &self.problem.objectives;
        let at = |i: usize| {
            let known = objectives.kinds[i].and_then(|kind| tried.values.iter().find(|(k, _)| *k == kind));
            known.map_or(0.0, |v| v.1)
        };
        let figures = [at(0), if tried.follows { at(1) } else { 0.0 }, at(2), at(3), at(4), at(5)];
        let known = objectives.with_exact(&objectives.anything(), figures[0], figures[3], packs.hours.min(figures[4]));
        let Told::Open(bins) = look.told(&known, (figures[0], figures[3], packs.shortfall), |_| false) else {
            let missed = self.problem.constraints.iter().any(|m| tried.values.iter().any(|(k, v)| *k == m.kind && !m.met(*v)));
            assert!(missed || !tried.follows, "a block misses what is met in it: {:?}", self.space.configuration(&tried.candidate));
            return;
        };
        let own = objectives.bins(&figures);
        // A chain that lags has no range; what it is told to reach is more.
        let worse = (0..6).find(|i| bins[*i] > own[*i]);
        assert_eq!(worse, None, "{bins:?} of a block, {own:?} in it: {:?}", self.space.configuration(&tried.candidate));
        assert!(
            objectives.rank(&bins) >= objectives.rank(&own) - 1e-9,
            "{bins:?} ranked lower than {own:?} in it: {} {}",
            objectives.rank(&bins),
            objectives.rank(&own)
        );
    }

    /// The `i`th configuration, held against its own bounds and those of the blocks that hold it.
    pub(super) fn compared(&self, i: usize) -> Tried {
        let space = &self.space;
        let (pack, drive) = self.drawn(i);
        let side = &space.packs[pack];
        let charger = spread(i, 0.411, side.chargers.len()) as u32;
        let tried = self.tried(drive, pack as u32, charger);
        let own = space.drive(drive);
        for close in [false, true] {
            let look = space.look(&self.problem, own, (side, side.chargers[charger as usize].only_kg()), close);
            self.holds(&tried, &look, if close { "close" } else { "alone" });
        }
        let (of_drive, of_pack) = (self.holding_drive(drive), self.holding_pack(pack as u32));
        for (k, packs) in of_pack.iter().enumerate() {
            let drives = &of_drive[(k * of_drive.len() / of_pack.len()).min(of_drive.len() - 1)];
            let look = space.look_at_block(&self.problem, &drives.best, &packs.best);
            self.holds(&tried, &look, "in a block");
            self.inherits(&tried, &look, &packs.best);
        }
        tried
    }

    /// Holds what is said before driving against the drive; by what share the range said exceeds that driven, where the chain keeps up.
    pub(super) fn ahead(&self, tried: &Tried) -> Option<f64> {
        let trip = self.problem.trip?;
        let document = self.problem.document(&self.space.configuration(&tried.candidate));
        let own = self.problem.traced(&document).expect("whole");
        let trace = &own.as_deref().unwrap_or(&self.problem.trips)[trip].1;
        let pack = &self.space.packs[tried.candidate.pack as usize];
        match self.space.before_driving(&self.space.look_at(&self.problem, &tried.candidate), pack, (trip, trace)).expect("chains keep up")
        {
            Ahead::FallsBehind => assert!(!tried.followed(), "{:?} keeps up", self.space.configuration(&tried.candidate)),
            Ahead::Reaches(km) if tried.follows => {
                let range = tried.values.iter().find(|(kind, _)| *kind == FigureKind::Range(trip)).map_or(0.0, |v| v.1);
                assert!(range <= km * (1.0 + 1e-9), "{range} km, at most {km}");
                return (range > 0.0 && km.is_finite()).then_some(km / range - 1.0);
            }
            Ahead::Reaches(_) => {}
        }
        None
    }
}

/// Numbers that fall evenly and never in step (additive recurrence of the golden ratio).
pub(super) fn spread(i: usize, salt: f64, below: usize) -> usize {
    ((i as f64 * 0.618_033_988_749_895 + salt * i as f64 * i as f64).fract() * below as f64) as usize
}
