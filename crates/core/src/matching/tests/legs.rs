//! Legs of a trip that are alike and told once, against the same told one by one, and stretches told by their ends against each step.

use super::proof::{Proof, demo, spread};
use crate::document::{Answers, Document, VehicleKind};
use crate::matching::bounding::{Leg, Step, Steps};
use crate::matching::bounds::Bound;
use crate::matching::checkpoints::Checkpoints;
use crate::matching::trip_energy::OnRoad;

/// New conversions whose trips stop often, rarely and never, and demo designs whose trips are made several times.
fn documents() -> Vec<crate::document::Checked> {
    let new = VehicleKind::ALL.into_iter().enumerate().map(|(k, kind)| {
        let answers =
            Answers { fastest_kmh: Some(45.0 + 9.0 * k as f64), longest_trip_km: Some(12.0 + 8.0 * k as f64), ..Answers::default() };
        Document::starter("Legs", kind, &answers).checked().expect("sound")
    });
    new.chain(["wren-a", "whimbrel-9-a", "dunlin-a"].map(demo)).collect()
}

/// Every leg as often as it is made.
fn one_by_one(steps: &Steps) -> Steps {
    let apart = |leg: &Leg| std::iter::repeat_n(Leg { times: 1, ..leg.clone() }, leg.times as usize);
    Steps { legs: steps.legs.iter().flat_map(apart).collect(), ..steps.clone() }
}

/// The legs after one another are the trace, and most of a trip with stops is told by few of them.
#[test]
fn legs_are_the_trace() {
    let mut told_once = 0;
    for document in documents() {
        let Proof { problem, .. } = Proof::of_document(&document);
        let trip = problem.trip.expect("a trip");
        let trace = &problem.bounding[trip].trace;
        let steps = Steps::of(trace);
        let all: Vec<(u32, f64)> = one_by_one(&steps).legs.into_iter().flat_map(|leg| leg.each).collect();
        assert_eq!(all.len(), trace.points.len() - 1, "{}", document.name);
        let mut seconds = vec![0.0; steps.unlike.len()];
        for (pair, (like, own_s)) in trace.points.windows(2).zip(&all) {
            let (step, told) = (Step::between(pair[0], pair[1]), steps.unlike[*like as usize]);
            let apart = [step.v_m_s - told.v_m_s, step.accel_m_s2 - told.accel_m_s2, step.sin - told.sin, step.seconds - own_s];
            assert!(apart.iter().all(|x| x.abs() < 1e-6), "{}: {step:?} told as {told:?}", document.name);
            seconds[*like as usize] += own_s;
        }
        assert!(seconds.iter().zip(&steps.seconds).all(|(a, b)| (a - b).abs() < 1e-6), "{}", document.name);
        told_once += u32::from(steps.legs.iter().map(|leg| leg.each.len()).sum::<usize>() * 3 < all.len());
    }
    assert!(told_once > 4, "of {told_once} trips most is told once");
}

/// Neither does a chain fall behind on legs told once where it would not one by one, nor the other way round, and it goes as far; told by the ends
/// of stretches it goes no further than a step beyond where each step is told.
#[test]
fn legs_told_once_tell_what_they_tell_one_by_one() {
    let (mut fell, mut kept_up, mut ended_within) = (0, 0, 0);
    for document in documents() {
        let Proof { problem, space, .. } = &Proof::of_document(&document);
        let trip = problem.trip.expect("a trip");
        let (trace, hvac_w) = (&problem.bounding[trip].trace, problem.trips[trip].0.hvac_w);
        let steps = Steps::of(trace);
        let apart = one_by_one(&steps);
        let stepwise =
            Steps { legs: apart.legs.iter().map(|leg| Leg { stretches: leg.each.clone(), ..leg.clone() }).collect(), ..apart.clone() };
        let fastest_m_s = trace.points.iter().map(|p| p.speed_m_s).fold(0.0, f64::max);
        for i in 0..60 {
            let pack = &space.packs[spread(i + 1, 0.313, space.packs.len())];
            let drive = space.drive(spread(i + 1, 0.171, space.drives.len()) as u32);
            let look: Bound<'_> = space.look(problem, drive, (pack, pack.chargers[0].only_kg()), true);
            let on_road = OnRoad::of(problem, &space.vehicle, look.drivetrain, trip, (look.mass_kg, look.mass_kg));
            let told = |steps: &Steps| {
                let walked = on_road.walk((steps, steps.duration_s()), hvac_w);
                let missed = Checkpoints::of(&on_road, &walked, trace).are_missed((&on_road, &look), (pack, trip), (trace, steps));
                let mut along = Vec::new();
                let energy = on_road.finished(walked, Some(&mut along));
                let whole_km = look.reach_km(&energy);
                let runs = look.run_by_run(&energy, &along, &[(0.0, look.start_v()), (f64::INFINITY, look.start_v())]);
                (missed, whole_km, runs.and_then(|runs| runs.ends_m).map_or(whole_km, |ends_m| whole_km.min(ends_m / 1000.0)))
            };
            let ((missed, whole_km, along_km), (missed_apart, whole_apart_km, along_apart_km)) = (told(&steps), told(&apart));
            let of = format!("{}: {:?} on {:?}", document.name, drive.controller, pack.module);
            assert_eq!(missed, missed_apart, "{of}");
            let same = |a: f64, b: f64| a == b || (a - b).abs() < 1e-6 * b;
            assert!(
                same(whole_km, whole_apart_km) && same(along_km, along_apart_km),
                "{of}: {whole_km}, {along_km}; {whole_apart_km}, {along_apart_km} km"
            );
            let (_, whole_stepwise_km, stepwise_km) = told(&stepwise);
            // Heat is told at the ends of stretches.
            if same(whole_km, whole_stepwise_km) {
                // What is drawn evenly along a stretch counts no less by Peukert's law than step by step it is told to.
                let less = if pack.model.has_peukert() { 1e-3 } else { 1e-9 };
                let reach_km = stepwise_km * (1.0 - less)..=stepwise_km + fastest_m_s / 1000.0 * 1.001;
                assert!(along_km == stepwise_km || reach_km.contains(&along_km), "{of}: {along_km}, by steps {stepwise_km} km");
            }
            *(if missed { &mut fell } else { &mut kept_up }) += 1;
            ended_within += u32::from(along_km < whole_km);
        }
    }
    assert!(fell > 60 && kept_up > 60 && ended_within > 60, "{fell} fell behind, {kept_up} did not, {ended_within} end within a leg");
}
