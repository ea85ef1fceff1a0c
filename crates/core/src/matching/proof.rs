//! Every bound against the model: no configuration does better than it was told to, alone or in any block that holds it.

#![cfg(test)]

use super::bounds::Bound;
use super::branches::{Branch, DriveBest, Member, PackBest, Tree};
use super::candidates::{Ahead, Candidate};
use super::count::Counts;
use super::enumerate::SearchSpace;
use super::objectives::{Bins, NEVER};
use super::pareto::{ParetoFront, Tie, Widening};
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::document::{Checked, Document, MatchRequest};
use crate::figures::{Evaluator, FigureKind, OperatingPoint};
use crate::library::builtin;

fn demo(name: &str) -> Checked {
    let path = format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR"));
    Document::from_json(&std::fs::read(path).expect("a demo")).expect("sound")
}

/// Whether a figure is no better than its bound, with a hair for sums made in another order.
fn bounded(kind: FigureKind, document: &Document, value: f64, best: f64) -> bool {
    let more_is_better = kind.figure(document).more_is_better;
    if more_is_better { value <= best * (1.0 + 1e-9) + 1e-9 } else { value >= best * (1.0 - 1e-9) - 1e-9 }
}

/// The branches of a tree that hold a number, the whole first.
fn holding<T: Member>(tree: &Tree<T>, number: u32) -> Vec<&Branch<T>> {
    let at = tree.order.iter().position(|n| *n == number).expect("in the tree");
    let mut path = vec![tree.root()];
    while let Some((a, b)) = path[path.len() - 1].halves {
        path.push(if (tree.at(a).from..tree.at(a).to).contains(&at) { tree.at(a) } else { tree.at(b) });
    }
    path
}

/// A configuration with what the model says of it.
struct Tried {
    candidate: Candidate,
    values: Vec<(FigureKind, f64)>,
    follows: bool,
}

struct Proof {
    problem: SearchProblem,
    space: SearchSpace,
    packs: Tree<PackBest>,
}

impl Proof {
    fn of(name: &str) -> Self {
        let problem = SearchProblem::of(&demo(name), builtin(), &MatchRequest::default()).expect("sound");
        let mut counts = Counts::new(&problem);
        let mut space = SearchSpace::of(&problem, &mut counts, &Cancel::new()).expect("small enough");
        space.lay_packs(&problem, 5, &mut counts, &Cancel::new()).expect("not told to stop");
        let packs = (0u32..).zip(&space.packs).map(|(i, pack)| (i, PackBest::of(&problem, pack))).collect();
        Self { packs: Tree::of(packs), problem, space }
    }

    /// The figures of a drive on a pack with one of its chargers.
    fn tried(&self, drive: u32, pack: u32, charger: u32) -> Tried {
        let problem = &self.problem;
        let candidate = Candidate { drive, pack, charger, bins: [0; 8], rank: 0.0, cost: 0.0, added_kg: 0.0 };
        let document = problem.document(&self.space.configuration(&candidate));
        let point = OperatingPoint::of(&document).expect("whole");
        let own = problem.traced(&document).expect("whole");
        let cancel = Cancel::new();
        let mut evaluator = Evaluator::new(&document, &point, own.as_deref().unwrap_or(&problem.trips), &cancel);
        let mut follows = true;
        for trip in &problem.followed {
            let driven = evaluator.trip(*trip).expect("driven");
            follows &= driven.followed && !driven.derated;
        }
        let values = problem.cheapest_first.iter().map(|kind| (*kind, evaluator.value(*kind).expect("computed"))).collect();
        Tried { candidate, values, follows }
    }

    fn holds(&self, tried: &Tried, look: &Bound<'_>, what: &str) {
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
    fn inherits(&self, tried: &Tried, look: &Bound<'_>, packs: &PackBest) {
        let objectives = &self.problem.objectives;
        let at = |i: usize| {
            let known = objectives.kinds[i].and_then(|kind| tried.values.iter().find(|(k, _)| *k == kind));
            known.map_or(0.0, |v| v.1)
        };
        let figures = [at(0), if tried.follows { at(1) } else { 0.0 }, at(2), at(3), at(4), at(5)];
        let told = look.bins(0.0, 0.0, packs.hours, packs.shortfall);
        let bins = objectives.with_exact(&told, figures[0], figures[3], figures[4]);
        let own = objectives.bins(&figures);
        // A chain that lags has no range; what it is told to reach is more.
        let worse = (0..6).find(|i| bins[*i] > own[*i]);
        assert_eq!(worse, None, "{bins:?} of a block, {own:?} in it: {:?}", self.space.configuration(&tried.candidate));
        assert!(objectives.rank(&bins) >= objectives.rank(&own) - 1e-9, "ranked lower than what is in it");
    }

    /// Holds what is said before driving against the drive; whether the chain keeps up.
    fn ahead(&self, tried: &Tried) {
        let Some(trip) = self.problem.trip else { return };
        let document = self.problem.document(&self.space.configuration(&tried.candidate));
        let own = self.problem.traced(&document).expect("whole");
        let trace = &own.as_deref().unwrap_or(&self.problem.trips)[trip].1;
        match self.space.before_driving(&self.problem, &tried.candidate, (trip, trace)).expect("chains keep up") {
            Ahead::FallsBehind => assert!(!tried.follows, "{:?} keeps up", self.space.configuration(&tried.candidate)),
            Ahead::Reaches(km) if tried.follows => {
                let range = tried.values.iter().find(|(kind, _)| *kind == FigureKind::Range(trip)).map_or(0.0, |v| v.1);
                assert!(range <= km * (1.0 + 1e-9), "{range} km, at most {km}");
            }
            Ahead::Reaches(_) => {}
        }
    }
}

/// Numbers that fall evenly and never in step (additive recurrence of the golden ratio).
fn spread(i: usize, salt: f64, below: usize) -> usize {
    ((i as f64 * 0.618_033_988_749_895 + salt * i as f64 * i as f64).fract() * below as f64) as usize
}

#[test]
fn nothing_does_better_than_it_was_told_to() {
    for name in ["pipit-b", "whimbrel-9-a", "wren-a", "dunlin-a"] {
        let proof = Proof::of(name);
        let (space, mut keeping_up) = (&proof.space, 0);
        for i in 0..160 {
            let pack = spread(i, 0.137, space.packs.len());
            let group = &space.groups[space.feeds[pack][spread(i, 0.219, space.feeds[pack].len())]];
            let drive = group.drives[spread(i, 0.311, group.drives.len())];
            let side = &space.packs[pack];
            let charger = spread(i, 0.411, side.chargers.len()) as u32;
            let tried = proof.tried(drive, pack as u32, charger);
            keeping_up += u32::from(tried.follows);
            let own = &space.drives[drive as usize];
            let mass_kg = space.vehicle.test_kg(own.mass_kg + side.mass_kg + side.chargers[charger as usize].mass_kg);
            for close in [false, true] {
                proof.holds(&tried, &space.look(&proof.problem, own, side, mass_kg, close), if close { "close" } else { "alone" });
            }
            let drives = space.branches.iter().find(|t| t.order.contains(&drive)).expect("in a tree");
            let (of_drive, of_pack) = (holding::<DriveBest>(drives, drive), holding(&proof.packs, pack as u32));
            for (k, packs) in of_pack.iter().enumerate() {
                let drives = of_drive[(k * of_drive.len() / of_pack.len()).min(of_drive.len() - 1)];
                let look = space.look_at_block(&proof.problem, &drives.best, &packs.best);
                proof.holds(&tried, &look, "in a block");
                proof.inherits(&tried, &look, &packs.best);
            }
            proof.ahead(&tried);
        }
        assert!(keeping_up >= 10, "{name}: only {keeping_up} keep up, nothing was compared");
    }
}

/// Candidates with steps as they may come: near each other, some never reaching a figure.
fn drawn_ties(seed: usize, count: usize) -> Vec<Tie> {
    let step = |i: usize, k: usize| {
        let step = spread(i * 8 + k + 1, 0.173 + seed as f64 * 0.011, 13) as i32 - 4;
        if k == 2 && spread(i + 1, 0.371, 9) == 0 { NEVER } else { step }
    };
    let tie = |i: usize| {
        let bins: Bins = std::array::from_fn(|k| if k < 5 { step(i, k) } else { 0 });
        Tie { bins, cost: f64::from(bins[0]) + spread(i + 1, 0.53, 100) as f64 / 100.0, added_kg: 0.0, place: i as u128 }
    };
    (0..count).map(tie).collect()
}

/// Doubling steps while candidates come gives what a front with steps so wide from the first gives, whenever it happens and in whatever order
/// they come; and nothing that is left out lies further than a step from something kept.
#[test]
fn steps_widened_on_the_way_are_steps_widened_before() {
    let of = [false, true, true, false, true, false, false, false];
    for seed in 0..40 {
        let ties = drawn_ties(seed, 160);
        let kept = |order: &[usize], widen_at: &[usize]| {
            let mut front = ParetoFront::new(Widening::none(of));
            for (n, i) in order.iter().enumerate() {
                for _ in widen_at.iter().filter(|at| **at == n) {
                    assert!(front.widen());
                }
                front.offer(ties[*i], *i);
            }
            for _ in widen_at.iter().filter(|at| **at >= order.len()) {
                assert!(front.widen());
            }
            let mut all: Vec<usize> = front.kept.iter().map(|k| k.what).collect();
            all.sort_unstable();
            all
        };
        let straight: Vec<usize> = (0..ties.len()).collect();
        let turned: Vec<usize> = (0..ties.len()).map(|i| (i * 67 + seed) % ties.len()).collect();
        for doubled in 0..4 {
            let before = kept(&straight, &vec![0; doubled]);
            let late: Vec<usize> = (0..doubled).map(|k| spread(k + seed + 1, 0.29, ties.len() + 2)).collect();
            assert_eq!(kept(&straight, &late), before, "seed {seed}, widened at {late:?}");
            assert_eq!(kept(&turned, &late), before, "seed {seed}, in another order");
            for tie in &ties {
                let wide =
                    |bins: &Bins| -> Bins { std::array::from_fn(|k| if of[k] && bins[k] < NEVER { bins[k] >> doubled } else { bins[k] }) };
                let beside = |i: &usize| wide(&ties[*i].bins).iter().zip(wide(&tie.bins)).all(|(a, b)| *a <= b);
                assert!(before.iter().any(beside), "seed {seed}: nothing stands for {tie:?}");
            }
        }
    }
}
