//! Where motors get too hot, against every share of heat followed to every moment on its own.

use super::proof::spread;
use crate::matching::bounding::{Leg, Step, Steps};
use crate::matching::hot::{LEAST_HEAT, MOST_RUNS, hot_m};
use crate::matching::road_watts::Watts;
use crate::powertrain::heat::ThermalModel;
use crate::simulate::{MOST_OFF_TRACE, Tolerance};
use crate::trip::Trace;

/// Way after which it is too hot, m: at the end of each second what is left of all that was added before it, less the seconds of each run that
/// add the most, as many as that run may be off its trace.
fn one_by_one_m(heat: &ThermalModel, seconds: &[(f64, f64)]) -> f64 {
    let off_s = MOST_OFF_TRACE * seconds.len() as f64;
    // What is spared of a second counts as if it had all been added at its end.
    let at_its_end = heat.tau_s.recip() / -(-1.0 / heat.tau_s).exp_m1();
    let (mut all, mut way_m) = (Vec::new(), 0.0);
    for _ in 0..MOST_RUNS {
        all.push(Vec::new());
        for (v_m_s, lost_w) in seconds {
            for run in &mut all {
                run.iter_mut().for_each(|left: &mut f64| *left *= (-1.0 / heat.tau_s).exp());
            }
            if let Some(run) = all.last_mut() {
                run.push(heat.target(LEAST_HEAT * lost_w) * -(-1.0 / heat.tau_s).exp_m1());
            }
            way_m += v_m_s;
            let rise: f64 = all.iter().flatten().sum();
            let spared = |run: &Vec<f64>| {
                let mut run = run.clone();
                run.sort_by(|a, b| b.total_cmp(a));
                run.iter().enumerate().map(|(i, left)| left * at_its_end * (off_s - i as f64).clamp(0.0, 1.0)).sum::<f64>()
            };
            if rise - all.iter().map(spared).sum::<f64>() > heat.limit {
                return way_m;
            }
        }
    }
    f64::INFINITY
}

/// First-order heating adds up, so that each second's share can be followed alone.
#[test]
fn heat_is_told_where_all_that_was_added_comes_to_it() {
    let (mut in_first, mut in_later, mut cool, mut rows_told) = (0, 0, 0, 0);
    for seed in 0..60_usize {
        let heat = ThermalModel::of(1.0, 3.0, 40.0 + 60.0 * spread(seed + 1, 0.31, 10) as f64, 140.0, 20.0);
        // A hundred and sixty seconds, some of them alike and in a row.
        let second = |i: usize| {
            (5.0 + spread(i / 7 + 1, 0.17 + seed as f64 * 0.013, 20) as f64, spread(i / 5 + 1, 0.41 + seed as f64 * 0.011, 9) as f64)
        };
        let hardness = 0.2 + 0.12 * (seed % 10) as f64;
        let seconds: Vec<(f64, f64)> = (0..160).map(second).map(|(v, w)| (v, w * hardness)).collect();
        let tolerance = Tolerance::of(&Trace::default());
        let mut steps = Steps { unlike: Vec::new(), seconds: Vec::new(), legs: Vec::new(), tolerance };
        let mut watts = Vec::new();
        for (v_m_s, lost_w) in &seconds {
            steps.unlike.push(Step { v_m_s: *v_m_s, seconds: 1.0, ..Step::default() });
            steps.seconds.push(1.0);
            watts.push(Watts { drawn_w: 0.0, back_w: 0.0, lost_w: *lost_w });
        }
        let each: Vec<(u32, f64)> = (0..160).map(|i| (i, 1.0)).collect();
        let leg = |stretches: Vec<(u32, f64)>| Leg { times: 1, each: each.clone(), stretches };
        steps.legs = vec![leg(each.clone())];
        let (told, exact) = (hot_m(&heat, &steps, &watts), one_by_one_m(&heat, &seconds));
        assert!(told == exact || (told - exact).abs() < 1e-6 * exact, "{told} m, one by one {exact} m, seed {seed}");
        // Those in a row that are alike as one: in pieces of up to twenty seconds nothing is told too early.
        let (mut in_rows, mut last) = (Vec::<(u32, f64)>::new(), None);
        for (i, second) in seconds.iter().enumerate() {
            match in_rows.last_mut().filter(|_| last == Some(second)) {
                Some(stretch) => stretch.1 += 1.0,
                None => in_rows.push((i as u32, 1.0)),
            }
            last = Some(second);
        }
        let told_of_rows = hot_m(&heat, &Steps { legs: vec![leg(in_rows)], ..steps }, &watts);
        assert!(told_of_rows >= exact * (1.0 - 1e-6), "{told_of_rows} m in rows, one by one {exact} m, seed {seed}");
        rows_told += u32::from(told_of_rows.is_finite());
        let length_m: f64 = seconds.iter().map(|s| s.0).sum();
        *(if told.is_infinite() {
            &mut cool
        } else if told <= length_m {
            &mut in_first
        } else {
            &mut in_later
        }) += 1;
    }
    assert!(2 * rows_told > in_first + in_later, "{rows_told} in rows of {}", in_first + in_later);
    assert!(in_first > 5 && in_later > 5 && cool > 5, "{in_first} in the first run, {in_later} in a later one, {cool} stay cool");
}
