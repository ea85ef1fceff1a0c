//! What beats what in however wide steps, and what comes first.

use std::collections::HashSet;

use super::proof::{candidate, spread};
use crate::matching::candidates::Candidate;
use crate::matching::objectives::{Bins, NEVER};
use crate::matching::open::{Block, Open, OpenList, Ranked};
use crate::matching::pareto::{ParetoFront, Tie, Wanted, Widening};
use crate::matching::search::longest_first;

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

/// Beginning in wide steps and going on in narrower ones with what was set aside gives what narrow steps from the first give, in whatever order
/// candidates come; and nothing that is left out lies further than a step from something kept.
#[test]
fn what_is_set_aside_in_wide_steps_is_enough_for_narrower_ones() {
    // The first is widened but once.
    let of = [1, 5, 5, 0, 5, 0, 0, 0];
    let (mut told_apart, mut widths) = (0, HashSet::new());
    for seed in 0..40 {
        let ties = drawn_ties(seed, 160);
        let straight: Vec<usize> = (0..ties.len()).collect();
        let turned: Vec<usize> = (0..ties.len()).map(|i| (i * 67 + seed) % ties.len()).collect();
        let held = |widening: Widening, order: &[usize]| {
            let (mut front, mut aside) = (ParetoFront::new(widening), Vec::new());
            order.iter().for_each(|i| front.offer(ties[*i], *i, &mut aside));
            (front, aside)
        };
        let members = |front: &ParetoFront<usize>| {
            let mut all: Vec<usize> = front.kept.iter().map(|k| k.what).collect();
            all.sort_unstable();
            all
        };
        let (mut front, mut aside) = held(Widening::widest(of), &turned);
        loop {
            let widening = front.widening;
            let kept = members(&front);
            assert_eq!(kept, members(&held(widening, &straight).0), "seed {seed}, {} times as wide", widening.times());
            assert_eq!(kept.len() + aside.len(), ties.len());
            for tie in &ties {
                let times = i32::try_from(widening.times()).expect("few");
                let wide = |bins: &Bins| -> Bins {
                    std::array::from_fn(|k| if bins[k] < NEVER { bins[k].div_euclid(times.min(1 << of[k])) } else { bins[k] })
                };
                let beside = |i: &usize| wide(&ties[*i].bins).iter().zip(wide(&tie.bins)).all(|(a, b)| *a <= b);
                assert!(kept.iter().any(beside), "seed {seed}: nothing stands for {tie:?}");
            }
            let Some(finer) = widening.finer() else { break };
            front = front.told_by(finer, &mut aside);
            told_apart += u32::from(members(&front) != kept);
        }
        assert_eq!(front.widening.times(), 1);
        // Found from the narrowest, the fitting steps are those that narrowing from the widest ends in.
        for (enough, most) in [(1, 8), (5, 8), (4, 30), (16, 30), (40, 60)] {
            // More than half of the most are asked for in steps more than eight times as wide.
            let is_short = |front: &ParetoFront<usize>| {
                front.kept.len() < enough || front.widening.times() > 8 && 2 * front.kept.len() <= most - most % 2
            };
            let mut narrowed = held(Widening::widest(of), &straight).0;
            while is_short(&narrowed)
                && let Some(finer) = narrowed.widening.finer()
            {
                let next = held(finer, &straight).0;
                if next.kept.len() > most {
                    break;
                }
                narrowed = next;
            }
            match front.fitting(Wanted { enough, most }) {
                Some(fitting) => {
                    assert_eq!((fitting.widening.times(), members(&fitting)), (narrowed.widening.times(), members(&narrowed)));
                    widths.insert(fitting.widening.times());
                }
                None => assert!(narrowed.widening.times() == 1 && is_short(&narrowed)),
            }
        }
    }
    assert!(widths.len() > 3, "{widths:?}");
    assert!(told_apart >= 40, "narrower steps told more apart {told_apart} times");
}

fn open_one(i: usize) -> Candidate {
    Candidate { rank: spread(i + 1, 0.271, 37) as f64, simulated: i.is_multiple_of(5), ..candidate(i as u32, 0) }
}

fn all_open() -> OpenList<u32> {
    let mut open = OpenList::holding(40);
    for i in 0..200 {
        let order = [spread(i + 1, 0.19, 3) as i32, 0, 0, 0, 0];
        open.push(Ranked { rank: open_one(i).rank, order, open: Open::Candidate(open_one(i)) });
    }
    open
}

/// Takes everything out, but for every seventh; what came by and by, and how many were set aside.
fn emptied(mut open: OpenList<u32>, twin: impl Fn(&Candidate) -> u32) -> (Vec<Vec<Candidate>>, usize) {
    let (mut seen, mut aside) = (Vec::new(), Vec::new());
    loop {
        let bound = open.best_rank();
        let (_, next) = open.next(|c| c.drive.is_multiple_of(7), &twin, &mut aside);
        if next.is_empty() {
            assert_eq!(open.combinations(), 0);
            return (seen, aside.len());
        }
        assert!(next.iter().all(|c| bound.is_some_and(|b| c.rank <= b)), "something was ranked above what was said to be highest");
        seen.push(next);
    }
}

fn numbers(seen: &[Vec<Candidate>]) -> Vec<u32> {
    let mut numbers: Vec<u32> = seen.iter().flatten().map(|c| c.drive).collect();
    numbers.sort_unstable();
    numbers
}

/// The most promising first, whatever the order they came in, and none lost where there are more than are held in order.
#[test]
fn what_is_open_comes_by_its_rank() {
    let open = all_open();
    assert_eq!(open.combinations(), 160);
    let highest = (0..200).map(|i| open_one(i).rank).fold(f64::NEG_INFINITY, f64::max);
    assert_eq!(open.best_rank(), Some(highest));
    let (seen, aside) = emptied(open, |c| c.drive);
    // What was held in order comes in order, after the rest.
    let all: Vec<&Candidate> = seen.iter().flatten().collect();
    assert!(all[all.len() - 20..].windows(2).all(|pair| pair[0].rank >= pair[1].rank));
    assert_eq!((numbers(&seen), aside), ((0..200).filter(|i| i % 7 != 0).collect(), 29));
}

/// Of those that tell of each other one is looked at at a time, and none is lost.
#[test]
fn twins_are_looked_at_one_after_another() {
    let (seen, aside) = emptied(all_open(), |c| c.drive / 40);
    for some in &seen {
        let twins: HashSet<u32> = some.iter().map(|c| c.drive / 40).collect();
        assert_eq!(twins.len(), some.len(), "one tells of its twin, which is looked at beside it");
    }
    assert!(seen.iter().any(|some| some.len() > 1), "those that tell nothing of each other are looked at side by side");
    assert_eq!((numbers(&seen), aside), ((0..200).filter(|i| i % 7 != 0).collect(), 29));
}

/// Whoever works on what, however long it takes: what comes out is in the order of what went in.
#[test]
fn work_that_is_shared_comes_back_in_order() {
    let (candidates, blocks): (Vec<_>, Vec<_>) = (
        (0..48).map(|i| candidate(i, 0)).collect(),
        (0..500).map(|i| Block { train: i, drives: 0, packs: 0, combinations: 1, bins: [0; 8], rank: 0.0 }).collect(),
    );
    let busy = |i: u32| (0..spread(i as usize + 1, 0.37, 20_000)).fold(f64::from(i), |x, _| std::hint::black_box(x));
    for threads in [1, 2, 5] {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build().expect("threads");
        let split = |some: &[Block]| some.iter().map(|block| busy(block.train) as u32).collect::<Vec<_>>();
        let (split, tried) = pool.install(|| longest_first(&candidates, &blocks, split, |c| busy(c.drive) as u32));
        assert!(split.concat().into_iter().eq(0..500), "{threads} threads");
        assert!(tried.into_iter().eq(0..48), "{threads} threads");
    }
}
