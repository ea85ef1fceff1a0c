//! Every bound against the model: no configuration does better than it was told to, alone or in any block that holds it.

use super::proof::{Proof, candidate, demo, spread};
use crate::cancel::Cancel;
use crate::document::Document;
use crate::figures::{FigureKind, OperatingPoint, trips};
use crate::library::{Motor, MotorModel, Part, TorquePoint, builtin};
use crate::matching::behind::Emptied;
use crate::matching::bests::PackBest;
use crate::matching::candidates::{Ahead, Candidate};
use crate::matching::reach::Behind;
use crate::matching::trip_energy::{OnRoad, TripEnergy};
use crate::pack::Peukert;
use crate::powertrain::MotorMap;
use crate::simulate::Demands;

#[test]
fn nothing_does_better_than_it_was_told_to() {
    for name in ["pipit-b", "whimbrel-9-a", "wren-a", "dunlin-a"] {
        let proof = Proof::of(name);
        let (mut keeping_up, mut slacks) = (0, Vec::new());
        for i in 0..160 {
            let tried = proof.compared(i);
            keeping_up += u32::from(tried.follows);
            slacks.extend(proof.ahead(&tried));
        }
        assert!(keeping_up >= 10, "{name}: only {keeping_up} keep up, nothing was compared");
        // A bound that leaves something out still holds, but then the search drives many times what it would have to.
        slacks.sort_by(f64::total_cmp);
        let middle = slacks[slacks.len() / 2];
        assert!(middle < 0.045, "{name}: ranges are told {middle} too far");
    }
}

/// The same where the tyres hold back hills and accelerations, on wet ground and against the wind or before it, of every kind of vehicle.
#[test]
fn no_tyres_carry_a_vehicle_further_than_they_were_told_to() {
    use crate::document::{Answers, VehicleKind};
    let mut gripping = 0;
    for (k, kind) in VehicleKind::ALL.into_iter().enumerate() {
        let mut document = Document::starter("Wet", kind, &Answers::default());
        document.donor.adhesion = 0.3;
        document.brief.site.headwind_kmh = [0.0, 20.0, -20.0][k % 3];
        let proof = Proof::of_document(&document.checked().expect("sound"));
        for i in 0..24 {
            let tried = proof.compared(i);
            let document = proof.problem.document(&proof.space.configuration(&tried.candidate));
            let chain = OperatingPoint::of(&document).expect("whole").chain;
            gripping += u32::from(crate::simulate::hill_start(&chain, 0.9).limited_by == crate::powertrain::Cause::Traction);
        }
    }
    assert!(gripping > 60, "the tyres of only {gripping} hold them back");
}

/// No driven wheels grip more than they were told to, alone or in any block, wherever parts stand; and what is told of a single design is what
/// they do.
#[test]
fn no_wheels_grip_more_than_they_were_told_to() {
    use crate::document::{Answers, AxlePlace, DrivenAxle, PackBox, Placement, VehicleKind};
    let at = |metres: f64, up_m: Option<f64>| Placement { along: Some(AxlePlace::BehindFrontAxleM(metres)), up_m, ..Placement::default() };
    let (mut compared, mut below) = (0, 0);
    for (k, kind) in VehicleKind::ALL.into_iter().enumerate() {
        let mut document = Document::starter("Grip", kind, &Answers::default());
        document.donor.driven_axle = if k % 2 == 0 { DrivenAxle::Front } else { DrivenAxle::Rear };
        let layout = &mut document.design.layout;
        if k % 3 > 0 {
            layout.pack = at(0.3, Some(0.9));
            layout.boxes = vec![PackBox { name: "Second".to_owned(), modules: 3, at: at(1.9, Some(0.1)) }];
        }
        if k % 3 > 1 {
            (layout.motor, layout.charger) = (at(-0.2, None), at(1.0, Some(1.4)));
        }
        let proof = Proof::of_document(&document.checked().expect("sound"));
        let (space, problem) = (&proof.space, &proof.problem);
        for i in 0..60 {
            let (pack, drive) = proof.drawn(i);
            let (own, side) = (space.drive(drive), &space.packs[pack]);
            let charger = spread(i, 0.411, side.chargers.len());
            let candidate = Candidate { charger: charger as u32, ..candidate(drive, pack as u32) };
            let does_n = OperatingPoint::of(&problem.document(&space.configuration(&candidate))).expect("whole").chain.traction.drive_n;
            let told_n = space.look(problem, own, (side, side.chargers[charger].only_kg()), true).worst.grip_n;
            // How boxes share a pack is not looked at.
            let exact = k % 3 > 0 || told_n <= does_n * (1.0 + 1e-8);
            assert!(does_n <= told_n && exact, "{kind:?}, {candidate:?}: {does_n} N, told {told_n} N");
            for drives in proof.holding_drive(drive) {
                for packs in proof.holding_pack(pack as u32) {
                    let told_n = space.look_at_block(problem, &drives.best, &packs.best).worst.grip_n;
                    assert!(does_n <= told_n, "{kind:?}, {candidate:?} in a block: {does_n} N, told {told_n} N");
                    compared += 1;
                    below += u32::from(told_n < space.vehicle.most_grip_n_per_kg * space.vehicle.test_kg(own.mass_kg));
                }
            }
        }
    }
    assert!(compared > 5000 && below > 1000, "{compared} compared, {below} told closer than by all of the weight");
}

/// What keeps up with the trip that a new conversion of a kind begins with is in no block that was told not to reach its speed.
#[test]
fn nothing_that_keeps_up_was_told_to_be_too_slow() {
    use crate::document::{Answers, VehicleKind};
    let (mut followed, mut too_slow) = (0, 0);
    for (k, kind) in VehicleKind::ALL.into_iter().enumerate() {
        let answers = Answers { fastest_kmh: Some(60.0 + 10.0 * k as f64), longest_trip_km: Some(20.0), ..Answers::default() };
        let proof = Proof::of_document(&Document::starter("Pace", kind, &answers).checked().expect("sound"));
        let keep_up = proof.space.keep_up.as_ref().expect("a trip on the level");
        for i in 0..50 {
            let (pack, drive) = proof.drawn(i);
            let tried = proof.tried(drive, pack as u32, 0);
            // One that is empty before the fast part of the trip has never been asked to be fast.
            let range_km = tried.values.iter().find(|(kind, _)| *kind == FigureKind::Range(0)).expect("a range").1;
            let keeps_up = tried.followed() && range_km * 1000.0 >= proof.problem.trips[0].1.distance_m();
            followed += u32::from(keeps_up);
            for drives in proof.holding_drive(drive) {
                for packs in proof.holding_pack(pack as u32) {
                    let missed = keep_up.is_missed(&proof.space.look_at_block(&proof.problem, &drives.best, &packs.best));
                    assert!(!(missed && keeps_up), "{kind:?}: {:?} keeps up, and its block was told not to", tried.candidate);
                    too_slow += u32::from(missed);
                }
            }
        }
    }
    assert!(followed > 50 && too_slow > 500, "{followed} keep up, {too_slow} blocks were told to be too slow");
}

/// What keeps up with its trip to the end of the window was never told to fall behind, at any charge or with what it has used; and most of what
/// falls behind is told so before it is driven, or the search drives in vain.
#[test]
fn nothing_that_keeps_up_was_told_to_fall_behind() {
    use crate::document::{Answers, VehicleKind};
    let (mut told, mut with_all, mut emptied, mut driven_in_vain, mut over_hills) = (0, 0, 0, 0, 0);
    let new = VehicleKind::ALL.into_iter().enumerate().flat_map(|(k, kind)| {
        [(50.0, 15.0), (80.0, 40.0), (110.0, 90.0)].map(|(fastest, longest_trip_km)| {
            let fastest_kmh = Some(fastest + 4.0 * k as f64);
            let answers = Answers { fastest_kmh, longest_trip_km: Some(longest_trip_km), ..Answers::default() };
            Document::starter(&format!("At {fastest_kmh:?} km/h"), kind, &answers).checked().expect("sound")
        })
    });
    for document in new.chain([demo("whimbrel-9-a")]) {
        let (proof, of) = (Proof::of_document(&document), format!("{:?} {}", document.donor.kind, document.name));
        let Proof { problem, space, .. } = &proof;
        let counting = problem.trip.expect("a trip");
        let trace = &problem.trips[counting].1;
        let hilly = trace.leads_downhill();
        for i in 0..if hilly { 500 } else { 120 } {
            let (pack, drive) = proof.drawn(i);
            let (side, own) = (&space.packs[pack], space.drive(drive));
            let charger = spread(i, 0.411, side.chargers.len());
            let drawn = Candidate { charger: charger as u32, ..candidate(drive, pack as u32) };
            let falls = matches!(
                space.before_driving(&space.look_at(problem, &drawn), side, (counting, trace)).expect("chains keep up"),
                Ahead::FallsBehind
            );
            let all_fall =
                space.falls_behind(counting, &space.look(problem, own, (side, PackBest::of(problem, side).charger_kg), true), side);
            let followed = proof.tried(drive, pack as u32, charger as u32).followed();
            assert!(!(falls && followed), "{of}: {drawn:?} keeps up, and was told not to");
            assert!(!(all_fall && followed), "{of}: {drawn:?} keeps up, and all chargers were told not to");
            told += u32::from(falls);
            over_hills += u32::from(falls && hilly);
            driven_in_vain += u32::from(!falls && !followed);
            with_all += u32::from(all_fall);
            let look = space.look(problem, own, (side, side.chargers[charger].only_kg()), true);
            let on_road = OnRoad::of(problem, &space.vehicle, look.drivetrain, counting, (look.mass_kg, look.mass_kg));
            let start_v = side.on_trip.start_v;
            let steps = &problem.bounding[counting].steps;
            let nothing_j = vec![0.0; trace.points.len()];
            let full = Emptied { used_j: &nothing_j, before_j: 0.0, every: 1, stages: &[(0.0, start_v), (f64::INFINITY, start_v)] };
            emptied += u32::from(falls && on_road.falls_behind(&look, (trace, steps), &full).is_none());
        }
    }
    assert!(over_hills > 20, "{over_hills} were told to fall behind over hills");
    assert!(told > 1500 && emptied > 10, "{told} were told to fall behind, {emptied} of them only as they empty");
    assert!(with_all * 20 > told * 19, "{told} were told to fall behind, with all of the chargers of theirs {with_all}");
    assert!(4 * driven_in_vain < told, "{driven_in_vain} were driven in vain, {told} told");
}

/// No motor pulls harder under sag than it was told to, here or where any of what a block holds is worse; curves that rise by a reading error
/// from point to point, as data sheets do, included.
#[test]
fn no_torque_under_sag_exceeds_its_bound() {
    let rising = |record: &Motor| {
        let points = (0..12)
            .map(|i| TorquePoint { speed_rpm: 400.0 * f64::from(i), torque_nm: 60.0 * 1.015_f64.powi(i), efficiency: None })
            .collect();
        Motor { model: MotorModel::Points { points }, reference_voltage_v: Some(96.0), max_speed_rpm: 4400.0, ..record.clone() }
    };
    let built_in: Vec<&Motor> = builtin().iter().filter_map(|p| if let Part::Motor(m) = p { Some(m) } else { None }).collect();
    let records = built_in.iter().map(|m| (*m).clone()).chain([rising(built_in[0])]);
    let (mut drawn, mut sagging) = (0, 0);
    for motor in records {
        let map = MotorMap::of(&motor, 1);
        for i in 0..160 {
            let share = |salt: f64| spread(i + 1, salt, 10_000) as f64 / 10_000.0;
            let ocv_v = motor.reference_voltage_v.unwrap_or(200.0) * (0.4 + share(0.137));
            let (ohm, speed) = (0.001 + 0.4 * share(0.219), 0.95 * map.max_speed_rad_s * share(0.311));
            let (efficiency, aux_w, ceiling_nm) =
                (0.8 + 0.19 * share(0.411), 300.0 * share(0.531), map.greatest_nm() * (0.2 + share(0.617)));
            let electric_w = ocv_v * ocv_v / (4.0 * ohm) * share(0.719) * efficiency;
            let told = map.sagged_at_most_nm((ceiling_nm, electric_w), speed, (ocv_v, ohm), (efficiency, aux_w));
            for (volts_v, more_ohm, faster) in [(ocv_v, ohm, speed), (0.9 * ocv_v, 1.2 * ohm, speed), (ocv_v, ohm, 1.04 * speed)] {
                let powered_nm = ceiling_nm.min(map.torque_for_power_nm(faster, electric_w)).max(0.0);
                let torque_nm = map.sagged_nm(powered_nm, faster, volts_v, more_ohm, efficiency, aux_w);
                assert!(torque_nm <= told * (1.0 + 1e-9) + 1e-9, "{}: {torque_nm} N m, at most {told}, draw {i}", motor.name);
                sagging += u32::from(torque_nm < powered_nm);
            }
            drawn += 1;
        }
    }
    assert!(sagging > drawn / 2, "only {sagging} of {drawn} were held back by the voltage");
}

/// What follows its trip is held back by heat no later than where its motors were told to be hot, alone and at any mass it shares a block with, and
/// goes no further where it keeps cool; and most of what gets hot was told so, or the search drives in vain.
#[test]
fn nothing_that_keeps_cool_passes_where_it_was_told_to_be_hot() {
    use crate::document::{Answers, VehicleKind};
    let (mut cool, mut told, mut untold) = (0, 0, 0);
    // Motors that may give a third of what they might for long.
    let weak = |part: &Part| match part {
        Part::Motor(m) => Part::Motor(Motor {
            continuous_power_w: m.continuous_power_w / 3.0,
            continuous_torque_nm: m.continuous_torque_nm.map(|nm| nm / 3.0),
            ..m.clone()
        }),
        part => part.clone(),
    };
    let library: Vec<Part> = builtin().iter().map(weak).collect();
    for (k, kind) in VehicleKind::ALL.into_iter().enumerate() {
        let answers = Answers { fastest_kmh: Some(60.0 + 3.0 * k as f64), longest_trip_km: Some(120.0), ..Answers::default() };
        let proof = Proof::of_library(&Document::starter("Warm", kind, &answers).checked().expect("sound"), &library);
        let Proof { problem, space, .. } = &proof;
        let counting = problem.trip.expect("a trip");
        // All the charge there could be, so that heat alone ends it.
        let pack = Behind {
            full_v: 400.0,
            mean_v: 400.0,
            least_v: 400.0,
            resistance_ohm: 0.0,
            efficiency: 1.0,
            taken_w: 0.0,
            low_voltage_w: 0.0,
            peukert: Peukert { rated_a: 1.0, less_one: 0.0 },
            usable_j: f64::INFINITY,
            window: 1.0,
        };
        for i in 0..240 {
            let (at, drive) = proof.drawn(i);
            let tried = proof.tried(drive, at as u32, 0);
            let driven = tried.driven.expect("a trip");
            let look = space.look_at(problem, &tried.candidate);
            let own_kg = (look.mass_kg, look.mass_kg);
            let own = TripEnergy::all(problem, &space.vehicle, look.drivetrain, counting, own_kg);
            let shared = look.drivetrain.energies(problem, &space.vehicle, counting, (look.mass_kg, 1.2 * look.mass_kg));
            let furthest_km = |energy: &TripEnergy| energy.furthest_m(&pack) / 1000.0;
            let own_km = own.iter().map(furthest_km).fold(0.0, f64::max);
            let shared_km = shared.map(furthest_km).fold(0.0, f64::max);
            assert!(own_km <= shared_km, "hot after {own_km} km alone, after {shared_km} km with others: {:?}", tried.candidate);
            if driven.followed && !driven.derated {
                assert!(
                    driven.range_km <= own_km,
                    "{kind:?}: cool for {} km, told hot after {own_km}: {:?}",
                    driven.range_km,
                    tried.candidate
                );
                cool += 1;
                continue;
            }
            let document = problem.document(&space.configuration(&tried.candidate));
            let (trip, trace) = &problem.trips[counting];
            let chain = trips::chain(&document, trip).expect("whole");
            let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
            let demands = Demands::of(&chain, trace, trips::way(trip), (start, chain.pack.soc_min), &Cancel::new()).giving_up_hot(true);
            let first = demands.run_while_followed(start);
            if first.is_cut_short() && own_km.is_finite() {
                let hot_km = first.distance_m / 1000.0;
                assert!(hot_km <= own_km, "{kind:?}: hot after {hot_km} km, told after {own_km}: {:?}", tried.candidate);
                told += 1;
            }
            untold += u32::from(first.is_cut_short() && own_km.is_infinite());
        }
    }
    assert!(cool > 200 && told > 25 && 2 * untold < told, "{cool} stay cool, {told} were told to get hot, {untold} that do were not");
}
