//! The week and the years: arithmetic done by hand beside them, and laws that hold for any week.

use crate::common::{cases, check, plain, read, sound_demo, with};
use joulethesis_core::cancel::Cancel;
use joulethesis_core::document::{Checked, Document};
use joulethesis_core::inputs::Counted;
use joulethesis_core::library::builtin;
use joulethesis_core::usage::{BlockKind, ShortfallCause, WeekAnswer, mends, week, years};
use proptest::prelude::*;
use serde_json::{Value, json};

const DAYS: [&str; 7] = ["monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"];

/// The plain vehicle, a charger that puts 3.6 kW into the pack, and a trip along a level road, summer and winter alike.
fn commuter(distance_km: f64) -> Value {
    let day = json!({ "temperature_c": 25, "hvac_w": 0, "rolling_factor": 1 });
    let mut d = with(with(plain(), "/brief/summer", day.clone()), "/brief/winter", day);
    d = with(
        d,
        "/design/charger",
        json!({ "name": "c", "output_min_v": 200, "output_max_v": 420, "output_current_a": 100, "output_power_w": 3600, "efficiency": 0.9, "mass_kg": 5 }),
    );
    d = with(d, "/brief/sockets", json!([{ "id": "home", "name": "home", "voltage_v": 230, "current_a": 32, "continuous_share": 1 }]));
    d = with(
        d,
        "/brief/trips",
        json!([{ "id": "work", "name": "To work", "path": { "segments": [{ "distance_km": distance_km, "speed_kmh": 80 }] } }]),
    );
    with(d, "/design/pack/soc_min", json!(0.1))
}

fn planned(d: Value, leaves_h: f64, from_h: f64, hours_h: f64) -> Checked {
    read(&with(
        d,
        "/brief/week",
        json!({
            "outings": [{ "id": "o", "trip": "work", "days": DAYS, "departure_h": leaves_h }],
            "stays": [{ "id": "s", "socket": "home", "days": DAYS, "from_h": from_h, "hours_h": hours_h }]
        }),
    ))
}

fn run(d: &Checked) -> WeekAnswer {
    week(&Counted::of(d), &Cancel::new()).expect("computed")
}

/// A pack of 360 V and 100 Ah takes 10 A from 3.6 kW: a tenth an hour, of which a cell gives back 99.5 %. What a trip takes is read from the
/// first one; the rest of the week is this loop.
#[test]
fn charge_falls_on_trips_and_rises_at_sockets_as_by_hand() {
    for (distance_km, hours_h) in [(60.0, 8.0), (90.0, 1.6), (120.0, 2.0), (60.0, 1.2)] {
        let answer = run(&planned(commuter(distance_km), 8.0, 20.0, hours_h));
        let summer = &answer.seasons[0];
        let first = &summer.blocks.iter().find(|b| b.kind == BlockKind::Drive).expect("a trip");
        let used = first.from_soc - first.to_soc;
        let (mut soc, mut day, mut failed) = (1.0, 0, None);
        let mut lowest: f64 = 1.0;
        while failed.is_none() && day < 26 * 7 {
            lowest = lowest.min(soc - used);
            soc = (soc - used + 0.1 * 0.995 * hours_h).min(1.0);
            if lowest <= 0.1 {
                failed = Some(day);
            }
            day += 1;
        }
        let told = summer.shortfall.as_ref().map(|s| 7 * (s.week as i32 - 1) + s.day as i32);
        assert_eq!(told, failed, "{distance_km} km, {hours_h} h: {used} a trip");
        if failed.is_none() {
            check("lowest", summer.lowest_soc, lowest, 1e-3);
            check("km a week", summer.driven_km, 7.0 * distance_km, 1e-3);
            // What is put back is what was used, over what cells and charger give back of it.
            check("kWh a week", summer.day_kwh + summer.night_kwh, 7.0 * used * 36.0 / 0.995 / 0.9, 5e-3);
        } else {
            assert_eq!(summer.shortfall.as_ref().map(|s| s.cause), Some(ShortfallCause::Charge));
        }
        assert_eq!(answer.seasons[1].shortfall, summer.shortfall, "both seasons are alike here");
    }
}

/// 22:00 to 6:00 is night: of the hours from 20:00 to 24:00 the first two are dear. Neither falls into the other.
#[test]
fn the_tariff_of_each_hour_is_its_own() {
    let answer = run(&planned(commuter(120.0), 8.0, 20.0, 4.0));
    let summer = &answer.seasons[0];
    assert!(summer.shortfall.is_none());
    let charge = summer.blocks.iter().filter(|b| b.kind == BlockKind::Charge).map(|b| b.socket_kwh).sum::<f64>();
    check("all of it", summer.day_kwh + summer.night_kwh, charge, 1e-9);
    // At 3.6 kW into the pack two hours are 8 kWh a day out of the socket.
    check("by day", summer.day_kwh, 7.0 * 8.0, 1e-6);
    assert!(summer.night_kwh > 1.0 && summer.night_kwh < 7.0 * 8.0);
}

#[test]
fn what_is_said_of_no_week_is_assumed_and_told() {
    let d = read(&commuter(30.0));
    let answer = run(&d);
    assert!(answer.assumed && answer.week.outings.len() == 1 && answer.week.stays[0].socket == "home");
    assert!(!run(&planned(commuter(30.0), 8.0, 20.0, 8.0)).assumed);
    // A trip of five hours, twelve times a day, is more than a day has.
    let mut busy = with(commuter(200.0), "/brief/trips/0/path/segments/0/speed_kmh", json!(20));
    let outings: Vec<Value> =
        (0..12).map(|i| json!({ "id": format!("o{i}"), "trip": "work", "days": DAYS, "departure_h": 2 * i })).collect();
    busy = with(busy, "/brief/week", json!({ "outings": outings, "stays": [] }));
    let late = run(&read(&with(busy, "/design/pack/strings_in_parallel", json!(200)))).seasons.swap_remove(0).shortfall.expect("late");
    assert_eq!(late.cause, ShortfallCause::Late);
    // A trip, a socket and a day that are not there, and an hour past midnight, are named.
    for (pointer, value, at) in [
        ("/brief/week/outings/0/trip", json!("nowhere"), "brief.week.outings[0].trip"),
        ("/brief/week/stays/0/socket", json!("nowhere"), "brief.week.stays[0].socket"),
        ("/brief/week/outings/0/days", json!(["monday", "monday"]), "brief.week.outings[0].days"),
        ("/brief/week/stays/0/from_h", json!(24.5), "brief.week.stays[0].from_h"),
    ] {
        let whole = serde_json::to_value(&*planned(commuter(30.0), 8.0, 20.0, 8.0)).expect("JSON");
        let error = Document::from_value(&with(whole, pointer, value)).expect_err("refused").to_string();
        assert!(error.contains(at), "{error}");
    }
}

/// Each change that is said to make the demo's winter week hold does, and no other change has been made.
#[test]
fn what_is_said_to_mend_a_week_mends_it() {
    let van = sound_demo("whimbrel-9-a");
    let answer = run(&van);
    assert!(answer.seasons[0].shortfall.is_none() && answer.seasons[1].shortfall.is_some(), "the demo's week fails in winter");
    let found = mends(&van, builtin(), &answer.seasons, &Cancel::new()).expect("computed");
    assert!(found.len() >= 2, "{found:#?}");
    for mend in &found {
        let mut changed: Document = (*van).clone();
        let parts = [mend.week.is_some(), mend.sockets.is_some(), mend.design.is_some()];
        assert!(parts[2] != (parts[0] || parts[1]), "{mend:?}");
        if let Some(week) = &mend.week {
            changed.brief.week = week.clone();
        }
        if let Some(sockets) = &mend.sockets {
            changed.brief.sockets.clone_from(sockets);
        }
        if let Some(design) = &mend.design {
            changed.design = design.clone();
        }
        let after = run(&changed.checked().expect("sound"));
        assert!(after.seasons.iter().all(|s| s.shortfall.is_none()), "{:?}", mend.words);
    }
    // A week that holds is left alone.
    let sound = planned(commuter(30.0), 8.0, 20.0, 8.0);
    assert!(mends(&sound, builtin(), &run(&sound).seasons, &Cancel::new()).expect("computed").is_empty());
}

/// A year is 52 of its weeks at their tariffs, and a dearer pack pays by what it saves.
#[test]
fn the_years_are_weeks_and_journeys_added_up() {
    let mut d = with(serde_json::to_value(&*planned(commuter(120.0), 8.0, 20.0, 4.0)).expect("JSON"), "/brief/price_per_kwh", json!(0.4));
    d = with(d, "/brief/years", json!({ "years": 5, "night_price_per_kwh": 0.1, "public_price_per_kwh": 1.0 }));
    d = with(d, "/design/pack/module/price", json!(20));
    let weekly = run(&read(&d)).seasons.swap_remove(0);
    let answer = years(&read(&d), &[], &Cancel::new()).expect("computed");
    let own = answer.options.iter().find(|o| o.strings == 1).expect("as it is");
    let energy = own.energy_a_year.expect("serves").central;
    check("money a year", energy, 52.0 * (0.4 * weekly.day_kwh + 0.1 * weekly.night_kwh), 1e-9);
    check("parts and energy", own.total.expect("serves").central, 100.0 * 20.0 + 5.0 * energy, 1e-9);
    // A journey of 1.5 times the range: one stop, which fills to what is left to go, at the home socket, the only one there is.
    let range_km = run(&read(&d)).seasons[0]
        .blocks
        .iter()
        .find(|b| b.kind == BlockKind::Drive)
        .map(|b| 0.9 * 120.0 / (b.from_soc - b.to_soc))
        .expect("a trip");
    d = with(
        d,
        "/brief/years/journeys",
        json!([{ "id": "j", "name": "Far", "trip": "work", "distance_km": 1.5 * range_km, "times_a_year": 10 }]),
    );
    let answer = years(&read(&d), &[], &Cancel::new()).expect("computed");
    let far = answer.options.iter().find(|o| o.strings == 1).expect("as it is");
    check("stops", far.stops_a_year.expect("serves").central, 10.0, 1e-9);
    // 45 % of the charge at a tenth an hour over 0.995, and six minutes.
    check("hours waited", far.waiting_h_a_year.expect("serves").central, 10.0 * (4.5 / 0.995 + 0.1), 0.01);
    check("public kWh", far.public_kwh, 10.0 * 0.45 * 36.0 / 0.995 / 0.9, 0.01);
    let two = answer.options.iter().find(|o| o.strings == 2).expect("twice");
    assert_eq!(two.stops_a_year.expect("serves").central, 0.0, "twice the pack goes there at once");
    let saved = far.energy_a_year.expect("serves").central - two.energy_a_year.expect("serves").central;
    assert!(saved > 0.0, "the dear public kWh are not bought");
    check("pays after", two.pays_after_years.expect("it pays"), 100.0 * 20.0 / saved, 1e-9);
}

/// Every number of the years moves their answer.
#[test]
fn every_number_of_the_years_counts() {
    let mut d = with(serde_json::to_value(&*planned(commuter(60.0), 8.0, 21.5, 4.0)).expect("JSON"), "/brief/price_per_kwh", json!(0.4));
    d = with(d, "/brief/winter/temperature_c", json!(2));
    let journeys = json!([{ "id": "j", "name": "Far", "trip": "work", "distance_km": 900, "times_a_year": 4 }]);
    let year = json!({ "years": 5, "winter_weeks": 20, "night_price_per_kwh": 0.1, "public_price_per_kwh": 1.0, "night_from_h": 22,
        "night_hours_h": 8, "journeys": journeys });
    d = with(d, "/brief/years", year);
    let answer = |d: &Value| serde_json::to_string(&years(&read(d), &[], &Cancel::new()).expect("computed")).expect("JSON");
    let base = answer(&d);
    for (key, value) in [
        ("years", 6.0),
        ("winter_weeks", 30.0),
        ("night_price_per_kwh", 0.2),
        ("public_price_per_kwh", 0.9),
        ("night_from_h", 21.0),
        ("night_hours_h", 0.25),
        ("journeys/0/distance_km", 950.0),
        ("journeys/0/times_a_year", 5.0),
    ] {
        assert_ne!(answer(&with(d.clone(), &format!("/brief/years/{key}"), json!(value))), base, "{key}");
    }
}

prop_compose! {
    fn weeks()(outings in prop::collection::vec((prop::sample::subsequence(&DAYS, 1..7), 0.0..23.9f64), 1..5),
        stays in prop::collection::vec((prop::sample::subsequence(&DAYS, 1..7), 0.0..23.9f64, 0.5..30.0f64), 0..3)) -> Value {
        let outings: Vec<Value> = outings.into_iter().enumerate()
            .map(|(i, (days, h))| json!({ "id": format!("o{i}"), "trip": "work", "days": days, "departure_h": h })).collect();
        let stays: Vec<Value> = stays.into_iter().enumerate()
            .map(|(i, (days, from, hours))| json!({ "id": format!("s{i}"), "socket": "home", "days": days, "from_h": from, "hours_h": hours })).collect();
        json!({ "outings": outings, "stays": stays })
    }
}

proptest! {
    #![proptest_config(cases(96))]

    /// Blocks follow one another, each begins where the one before ended, nothing leaves the window, and an hour more at a socket never
    /// makes a week fail sooner.
    #[test]
    fn any_week_keeps_its_books(plan in weeks(), distance_km in 20.0..200.0f64, more_h in 0.5..10.0f64) {
        let d = with(commuter(distance_km), "/brief/week", plan.clone());
        let answer = run(&read(&d));
        let failing = |a: &WeekAnswer| a.seasons[0].shortfall.as_ref().map_or(f64::INFINITY, |s| 168.0 * f64::from(s.week) + 24.0 * f64::from(s.day as i32) + s.departure_h);
        for s in &answer.seasons {
            let (mut at_h, mut soc) = (0.0, s.line[0].soc);
            for b in &s.blocks {
                prop_assert!(b.from_h >= at_h - 1e-6 && b.to_h >= b.from_h, "{b:?} after {at_h}");
                prop_assert!((b.from_soc - soc).abs() < 1e-9, "{b:?} after {soc}");
                prop_assert!(b.to_soc <= 1.0 + 1e-9 && b.to_soc >= s.soc_min - 1e-9);
                let right = if b.kind == BlockKind::Drive { b.to_soc < b.from_soc } else { b.to_soc > b.from_soc && b.socket_kwh > 0.0 };
                prop_assert!(right, "{b:?}");
                (at_h, soc) = (b.to_h, b.to_soc);
            }
            prop_assert!(s.line.windows(2).all(|p| p[1].hour_h >= p[0].hour_h - 1e-6), "the line goes on in time");
        }
        if let Some(stays) = plan["stays"].as_array().filter(|s| !s.is_empty()) {
            let mut longer = plan.clone();
            for (i, stay) in stays.iter().enumerate() {
                longer["stays"][i]["hours_h"] = json!(stay["hours_h"].as_f64().expect("h") + more_h);
            }
            let after = run(&read(&with(d, "/brief/week", longer)));
            prop_assert!(failing(&after) >= failing(&answer) - 1e-6);
        }
    }
}
