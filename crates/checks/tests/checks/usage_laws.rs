//! The week and the years of vehicles drawn at random, held against trips and charges made one by one through other doors of the model,
//! and what holds for any of them.

use crate::common::drawn::{Drawn, described, drawn};
use crate::common::{cases, read, sound_demo, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::charge::charge;
use joulethesis_core::document::{Checked, Document};
use joulethesis_core::inputs::Counted;
use joulethesis_core::library::{Part, builtin};
use joulethesis_core::pack::PackModel;
use joulethesis_core::powertrain::Chain;
use joulethesis_core::simulate::{ShiftPolicy, drive_trace};
use joulethesis_core::trip::Trace;
use joulethesis_core::usage::{BlockKind, Mend, WeekAnswer, WeekOdds, WeekRun, YearsAnswer, mends, week, week_odds, years};
use joulethesis_core::vehicle::{Conditions, masses};
use proptest::prelude::*;
use serde_json::{Value, json};

const DAYS: [&str; 7] = ["monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"];

/// A drawn vehicle with a round, a charger and a socket, on days of its own temperature.
fn used(d: &Drawn, distance_km: f64, watts: f64, plan: &Value) -> Value {
    let mut v = described(d);
    let day = json!({ "temperature_c": d.celsius.max(12.0), "hvac_w": 200, "rolling_factor": 1 });
    v["brief"]["summer"] = day.clone();
    v["brief"]["winter"] = day;
    v["brief"]["trips"] = json!([{ "id": "round", "name": "Round", "path": { "segments": [
        { "distance_km": distance_km, "speed_kmh": 40, "stops_per_km": 0.3, "acceleration_m_s2": 0.6 }] } }]);
    let pack = &v["design"]["pack"];
    let module = &pack["module"];
    let volts = ["modules_in_series"].map(|key| pack[key].as_f64().expect("a count"))[0]
        * module["full_voltage_v"].as_f64().expect("V")
        * module["cells_in_series"].as_f64().unwrap_or(1.0);
    v["design"]["charger"] = json!({ "name": "c", "output_min_v": volts, "output_max_v": volts, "output_current_a": 200, "output_power_w": watts,
        "efficiency": 0.92, "mass_kg": 5 });
    v["brief"]["sockets"] = json!([{ "id": "home", "name": "home", "voltage_v": 230, "current_a": 32 }]);
    v["brief"]["goals"] = json!([]);
    v["brief"]["week"] = plan.clone();
    v
}

fn plan(departure_h: f64, from_h: f64, hours_h: f64) -> Value {
    json!({
        "outings": [{ "id": "o", "trip": "round", "days": DAYS, "departure_h": departure_h }],
        "stays": [{ "id": "s", "socket": "home", "days": DAYS, "from_h": from_h, "hours_h": hours_h }]
    })
}

fn run(d: &Checked) -> WeekAnswer {
    week(&Counted::of(d), &Cancel::new()).expect("computed")
}

fn holds(d: &Checked) -> bool {
    run(d).seasons.iter().all(|s| s.shortfall.is_none())
}

fn mended(d: &Checked, mend: &Mend) -> Checked {
    let mut changed: Document = (**d).clone();
    if let Some(week) = &mend.week {
        changed.brief.week = week.clone();
    }
    if let Some(sockets) = &mend.sockets {
        changed.brief.sockets.clone_from(sockets);
    }
    if let Some(design) = &mend.design {
        changed.design = design.clone();
    }
    changed.checked().expect("sound")
}

/// Every block of a week by other means: the trip driven on its own on that day, the charge as a session at the socket.
fn one_by_one(d: &Checked, run: &WeekRun) -> Result<(), TestCaseError> {
    let counted = Counted::of(d);
    let day = Conditions::of_season(&counted, &counted.brief.summer);
    let chain = Chain::on(&counted, masses(&counted).test_kg, &day).expect("a chain");
    let trip = &counted.brief.trips[0];
    let trace = Trace::of_trip(trip, trip.driving_style, &|_| None);
    let way = ShiftPolicy { hvac_w: 200.0, ..ShiftPolicy::default() };
    let pack = PackModel::of(counted.design.pack.as_ref().expect("a pack"), &counted.design.wiring, day.pack_temperature_c);
    for b in &run.blocks {
        if b.kind == BlockKind::Drive && run.shortfall.is_none() {
            let alone = drive_trace(&chain, &trace, way, b.from_soc);
            prop_assert!((alone.soc - b.to_soc).abs() < 2e-3 * (b.from_soc - b.to_soc) + 1e-6, "{b:?} ends at {}", alone.soc);
            prop_assert!((alone.time_s / 3600.0 - (b.to_h - b.from_h)).abs() < 1e-6);
        }
        if b.kind == BlockKind::Charge && b.to_soc - b.from_soc > 0.05 && b.to_soc < 0.8 {
            let session = charge(&counted, &pack, &counted.brief.sockets[0], b.from_soc, b.to_soc).expect("a charger");
            let hours_h = session.hours_h.expect("reached");
            prop_assert!((hours_h - (b.to_h - b.from_h)).abs() < 0.01 * hours_h, "{b:?} takes {hours_h} h");
            prop_assert!((session.socket_kwh - b.socket_kwh).abs() < 0.01 * session.socket_kwh, "{b:?} takes {} kWh", session.socket_kwh);
        }
    }
    Ok(())
}

proptest! {
    #![proptest_config(cases(48))]

    #[test]
    fn a_week_is_its_trips_and_charges(d in drawn(), distance_km in 3.0..25.0f64, watts in 500.0..6000.0f64, hours_h in 1.0..9.0f64) {
        let document = read(&used(&d, distance_km, watts, &plan(7.5, 19.0, hours_h)));
        one_by_one(&document, &run(&document).seasons[0])?;
    }

    /// What is said to mend a week mends it, and half an hour or one string less would not.
    #[test]
    fn mends_hold_and_are_the_least_of_their_kind(d in drawn(), distance_km in 5.0..40.0f64, watts in 300.0..3000.0f64, hours_h in 0.3..4.0f64) {
        let document = read(&used(&d, distance_km, watts, &plan(7.5, 19.0, hours_h)));
        let before = run(&document);
        let found = mends(&document, builtin(), &before.seasons, &Cancel::new()).expect("computed");
        if before.seasons.iter().all(|s| s.shortfall.is_none()) {
            prop_assert!(found.is_empty());
        }
        for mend in &found {
            let after = mended(&document, mend);
            prop_assert!(holds(&after), "{}", mend.words);
            let (was, is) = (&document.design.pack.as_ref().expect("a pack").strings_in_parallel, &after.design.pack.as_ref().expect("a pack").strings_in_parallel);
            if is > was {
                let less = document.with(|d| d.design.pack.as_mut().expect("a pack").strings_in_parallel = is - 1).expect("sound");
                prop_assert!(is - 1 == *was || !holds(&less), "{} strings would do", is - 1);
                prop_assert!(mend.price >= 0.0);
            }
            let (was_h, is_h) = (document.brief.week.outings[0].departure_h, after.brief.week.outings[0].departure_h);
            if is_h > was_h + 0.5 {
                let sooner = after.with(|d| d.brief.week.outings[0].departure_h = is_h - 0.5).expect("sound");
                prop_assert!(!holds(&sooner), "{is_h} is later than need be");
            }
        }
    }
}

fn odds(d: &Checked) -> WeekOdds {
    week_odds(d, &Cancel::new()).expect("computed").remove(0)
}

proptest! {
    #![proptest_config(cases(8))]

    /// The longest round that the medians just allow is no certainty, and one that is shorter is never less sure, sample by sample.
    #[test]
    fn a_week_on_the_brink_is_no_certainty(d in drawn(), watts in 2000.0..6000.0f64, share in 0.4..0.95f64) {
        let at = |km: f64| read(&used(&d, km, watts, &plan(7.5, 19.0, 9.0)));
        let (mut holding, mut failing) = (0.1, 500.0);
        prop_assume!(holds(&at(holding)) && !holds(&at(failing)));
        while failing - holding > 1e-3 * holding {
            let km = (holding * failing).sqrt();
            if holds(&at(km)) { holding = km } else { failing = km }
        }
        let (brink, shorter) = (odds(&at(holding)), odds(&at(share * holding)));
        prop_assert!(brink.probability > 0.0 && brink.probability < 0.95, "{} km hold in {}", holding, brink.probability);
        prop_assert!(brink.fails_at.as_deref() == Some("Round"));
        prop_assert!(shorter.probability >= brink.probability, "{} of {} km: {}", share, holding, shorter.probability);
        // Doubts leave a width, whatever the verdict.
        let (low, high) = (shorter.lowest_soc.p10.expect("told"), shorter.lowest_soc.p90.expect("told"));
        prop_assert!(high > low + 1e-4, "{} to {}", low, high);
        prop_assert_eq!(odds(&at(holding)), brink);
    }
}

fn over_years(d: &Value) -> YearsAnswer {
    years(&read(d), &[], &Cancel::new()).expect("computed")
}

proptest! {
    #![proptest_config(cases(12))]

    /// Money is parts and years of energy; a bigger pack never stops more often; nobody waits who does not stop; bands lie about their middle.
    #[test]
    fn the_years_of_any_vehicle_add_up(d in drawn(), distance_km in 3.0..10.0f64, span in 1.0..20.0f64, journey_km in 20.0..400.0f64) {
        let mut v = used(&d, distance_km, 3000.0, &plan(7.5, 19.0, 10.0));
        v["brief"]["price_per_kwh"] = json!(0.3);
        v["brief"]["years"] = json!({ "years": span, "public_price_per_kwh": 0.6,
            "journeys": [{ "id": "j", "name": "Far", "trip": "round", "distance_km": journey_km, "times_a_year": 5 }] });
        let answer = over_years(&v);
        let mut last: Option<f64> = None;
        for o in &answer.options {
            prop_assert_eq!(o.refusal.is_none(), o.total.is_some());
            let (Some(total), Some(energy), Some(stops), Some(waits)) = (o.total, o.energy_a_year, o.stops_a_year, o.waiting_h_a_year) else { continue };
            prop_assert!((total.central - o.parts.central - span * energy.central).abs() < 1e-6 * total.central.abs().max(1.0));
            let home = 0.3 * (o.day_kwh + o.night_kwh) + 0.6 * o.public_kwh;
            prop_assert!((energy.central - home).abs() < 1e-6 * home);
            let waits_right = if stops.central == 0.0 { waits.central == 0.0 && o.public_kwh == 0.0 } else { waits.central >= 0.1 * stops.central };
            prop_assert!(waits_right, "{} stops, {} h", stops.central, waits.central);
            if let Some(more) = last {
                prop_assert!(stops.central <= more + 1e-9, "{} strings stop {} times, fewer strings {more}", o.strings, stops.central);
            }
            last = Some(stops.central);
            for s in [total, energy, stops, waits] {
                if let (Some(low), Some(high)) = (s.p10, s.p90) {
                    prop_assert!(low <= high);
                }
            }
        }
    }
}

/// A variant held beside the pack is its own document, and one that cannot be whole is left out.
#[test]
fn other_designs_stand_beside_the_pack() {
    let van = sound_demo("whimbrel-9-a");
    let shed = van.with(|d| d.brief.week.stays[0].socket = "shed".to_owned()).expect("sound");
    let bigger = shed.with(|d| d.design.pack.as_mut().expect("a pack").strings_in_parallel = 4).expect("sound");
    let empty = shed.with(|d| d.design.motor = None).expect("sound");
    let answer = years(&shed, &[("C".to_owned(), bigger.clone()), ("D".to_owned(), empty)], &Cancel::new()).expect("computed");
    let own = answer.options.iter().filter(|o| o.strings == 4).collect::<Vec<_>>();
    assert_eq!(own.len(), 2, "as strings of the pack and as a variant");
    assert_eq!((own[0].total, own[0].stops_a_year), (own[1].total, own[1].stops_a_year), "the same design is the same years");
    assert_eq!(answer.options.last().map(|o| o.name.to_string()), Some("C".to_owned()));
    assert!(answer.options.iter().all(|o| o.design.motor.is_some()));
    // The ferry's station starts above this pack: journeys stop at the quickest socket that the pack can use.
    assert_eq!(answer.public_socket.as_deref(), Some("packing shed 32 A"));
    let told = shed.with(|d| d.brief.years.public_socket = Some("ferry".to_owned())).expect("sound");
    let refused = years(&told, &[], &Cancel::new()).expect("computed");
    let as_it_is = refused.options.iter().find(|o| o.strings == 3).expect("as it is");
    let words = as_it_is.refusal.as_ref().map(ToString::to_string).unwrap_or_default();
    assert!(words.contains("Market on the mainland") && words.contains("no socket on the way"), "{words}");
    assert!(builtin().iter().any(|p| matches!(p, Part::Charger(_))));
}

/// Told to stop, a week, its mends and the years end with words for it.
#[test]
fn what_is_told_to_stop_stops() {
    let van = sound_demo("whimbrel-9-a");
    let answer = run(&van);
    let stop = Cancel::new();
    stop.cancel();
    assert!(week(&Counted::of(&van), &stop).is_err());
    assert!(week_odds(&van, &stop).is_err());
    assert!(mends(&van, builtin(), &answer.seasons, &stop).is_err());
    assert!(years(&van, &[], &stop).is_err());
    let plain = with(serde_json::to_value(&*van).expect("JSON"), "/brief/week", json!({}));
    assert!(run(&read(&plain)).assumed, "an empty week is none");
}
