//! Ranges told run by run against the ranges themselves: where a window is spent, where a chain sags behind its trip, and what Peukert's law counts.

use super::proof::{Proof, demo};
use crate::cancel::Cancel;
use crate::document::{Answers, Document, VehicleKind};
use crate::figures::trips;
use crate::inputs::Counted;
use crate::library::{Module, Part, builtin};
use crate::matching::candidates::Ahead;
use crate::matching::space::SearchProblem;
use crate::matching::trip_energy::OnRoad;
use crate::powertrain::Chain;
use crate::simulate::{Demands, RangeEnd, range_in_full, range_of};

/// Cells that sag several times as far.
fn weak(part: &Part) -> Part {
    match part {
        Part::Module(m) => Part::Module(Module { resistance_ohm: 3.5 * m.resistance_ohm, ..m.clone() }),
        part => part.clone(),
    }
}

/// The chain of a design on the trip that counts, and the charge that it starts with.
fn on_trip(problem: &SearchProblem, document: &Counted, trip: usize) -> (Chain, f64) {
    let trip = &problem.trips[trip].0;
    let chain = trips::chain(document, trip).expect("whole");
    let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
    (chain, start)
}

/// Nothing goes further than it was told to, whatever ends its range; of what sags behind its trip most was told so, or the search drives in vain;
/// and where each run was told to be made, none is skipped.
#[test]
fn nothing_goes_further_than_told_run_by_run() {
    let library: Vec<Part> = builtin().iter().map(weak).collect();
    let (mut sagged, mut told_to_sag, mut too_far, mut made, mut lead) = (0, 0, 0, 0, Vec::new());
    let new = VehicleKind::ALL.into_iter().enumerate().map(|(k, kind)| {
        let answers =
            Answers { fastest_kmh: Some(60.0 + 5.0 * k as f64), longest_trip_km: Some(12.0 + 4.0 * k as f64), ..Answers::default() };
        Document::starter("Far", kind, &answers).checked().expect("sound")
    });
    for document in new.chain([demo("whimbrel-9-a")]) {
        let proof = Proof::of_library(&document, &library);
        let Proof { problem, space, .. } = &proof;
        let counting = problem.trip.expect("a trip");
        let (trip, trace) = &problem.trips[counting];
        assert!(!trace.points.is_empty(), "{}: no chain sets its pace", document.name);
        for i in 0..150 {
            let (pack, drive) = proof.drawn(i);
            let tried = proof.tried(drive, pack as u32, 0);
            let (side, look) = (&space.packs[pack], space.look_at(problem, &tried.candidate));
            let told = space.before_driving(&look, side, (counting, trace)).expect("chains keep up");
            let Ahead::Reaches(told_km) = told else { continue };
            if !tried.follows {
                continue;
            }
            let counted = problem.document(&space.configuration(&tried.candidate));
            let (chain, start) = on_trip(problem, &counted, counting);
            let demands = Demands::of(&chain, trace, trips::way(trip), (start, chain.pack.soc_min), &Cancel::new());
            let range = range_of(&demands, start);
            let of = || format!("{}: {:?}, {:?}", document.name, space.configuration(&tried.candidate), range.end);
            let range_km = range.distance_m / 1000.0;
            assert!(range_km <= told_km, "{}: {range_km} km, told {told_km}", of());
            // What energy alone tells.
            let on_road = OnRoad::of(problem, &space.vehicle, look.drivetrain, counting, (look.mass_kg, look.mass_kg));
            let steps = &problem.bounding[counting].steps;
            let mut along = Vec::new();
            let energy = on_road.finished(on_road.walk((steps, steps.duration_s()), trip.hvac_w), Some(&mut along));
            if range.end == RangeEnd::Sag {
                sagged += 1;
                told_to_sag += u32::from(told_km < 0.95 * look.reach_km(&energy));
                too_far += u32::from(told_km > 1.5 * range_km);
            } else if side.model.has_peukert() {
                lead.push(told_km / range_km - 1.0);
            }
            let full = [(0.0, look.start_v()), (f64::INFINITY, look.start_v())];
            if look.run_by_run(&energy, &along, &full).is_some_and(|runs| runs.ends_m.is_some()) {
                let whole = range_in_full(&chain, trace, trips::way(trip), start);
                assert_eq!((range.distance_m, range.end), (whole.distance_m, whole.end), "{}", of());
                made += u32::from(range.runs > 2.0);
            }
        }
    }
    lead.sort_by(f64::total_cmp);
    assert!(made > 100 && told_to_sag > 20, "{made} made in full, {told_to_sag} of {sagged} were told to sag");
    assert!(4 * too_far < sagged, "{too_far} of {sagged} that sag were told half as far again");
    assert!(lead.len() > 30 && lead[lead.len() / 2] < 0.15, "{} of lead, told {} too far", lead.len(), lead[lead.len() / 2]);
}
