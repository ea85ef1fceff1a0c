//! What beats what in however wide steps, and what comes first.

use super::proof::{candidate, spread};
use crate::matching::candidates::Candidate;
use crate::matching::objectives::{Bins, NEVER};
use crate::matching::open::{Open, OpenList, Ranked};
use crate::matching::pareto::{ParetoFront, Tie, Widening};

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
    let of = [false, true, true, false, true, false, false, false];
    let mut told_apart = 0;
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
                    std::array::from_fn(|k| if of[k] && bins[k] < NEVER { bins[k].div_euclid(times) } else { bins[k] })
                };
                let beside = |i: &usize| wide(&ties[*i].bins).iter().zip(wide(&tie.bins)).all(|(a, b)| *a <= b);
                assert!(kept.iter().any(beside), "seed {seed}: nothing stands for {tie:?}");
            }
            let Some(finer) = widening.finer() else { break };
            front = front.told_by(finer, &mut aside);
            told_apart += u32::from(members(&front) != kept);
        }
        assert_eq!(front.widening.times(), 1);
    }
    assert!(told_apart >= 40, "narrower steps told more apart {told_apart} times");
}

/// The most promising first, whatever the order they came in, and none lost where there are more than are held in order.
#[test]
fn what_is_open_comes_by_its_rank() {
    let candidate =
        |i: usize| Candidate { rank: spread(i + 1, 0.271, 37) as f64, simulated: i.is_multiple_of(5), ..candidate(i as u32, 0) };
    let mut open = OpenList::holding(40);
    for i in 0..200 {
        let order = [spread(i + 1, 0.19, 3) as i32, 0, 0, 0, 0];
        open.push(Ranked { rank: candidate(i).rank, order, open: Open::Candidate(candidate(i)) });
    }
    assert_eq!(open.combinations(), 160);
    let highest = (0..200).map(|i| candidate(i).rank).fold(f64::NEG_INFINITY, f64::max);
    assert_eq!(open.best_rank(), Some(highest));
    let (mut seen, mut aside) = (Vec::new(), Vec::new());
    loop {
        let bound = open.best_rank();
        let (_, next) = open.next(|c| c.drive.is_multiple_of(7), &mut aside);
        if next.is_empty() {
            break;
        }
        assert!(next.iter().all(|c| bound.is_some_and(|b| c.rank <= b)), "something was ranked above what was said to be highest");
        seen.extend(next);
    }
    let mut numbers: Vec<u32> = seen.iter().map(|c| c.drive).collect();
    // What was held in order comes in order, after the rest.
    let ordered = &seen[seen.len() - 20..];
    assert!(ordered.windows(2).all(|pair| pair[0].rank >= pair[1].rank));
    numbers.sort_unstable();
    assert_eq!(numbers, (0..200).filter(|i| i % 7 != 0).collect::<Vec<u32>>());
    assert_eq!((aside.len(), open.combinations()), (29, 0));
}
