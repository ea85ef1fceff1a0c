//! Laws of trips as traces, and of what is measured: the way is kept whatever the style, a trip made twice is twice the trip, and from
//! readings made with known constants those constants come back, through scatter as far as the band says.

use crate::common::{cases, plain, read, with};
use joulethesis_core::bench::{BenchSheet, LockedReading, NoLoadReading, characterise};
use joulethesis_core::document::{DrivingStyle, Schedule, TravelSegment, Trip, TripPath};
use joulethesis_core::evidence::road_load;
use joulethesis_core::library::{MotorKind, MotorModel};
use joulethesis_core::trip::Trace;
use proptest::prelude::*;
use serde_json::{Value, json};

const G: f64 = 9.806_65;

prop_compose! {
    fn stretch()(distance_km in 0.2..6.0f64, speed_kmh in 15.0..110.0f64, stops_per_km in 0.0..3.0f64, climb in -0.05..0.05f64,
        acceleration_m_s2 in 0.5..2.5f64, stop_s in 0.0..40.0f64) -> TravelSegment {
        TravelSegment { distance_km, speed_kmh, stops_per_km, climb_m: climb * 1000.0 * distance_km, acceleration_m_s2, stop_s, liveliness: None }
    }
}

fn trip(segments: Vec<TravelSegment>, driving_style: DrivingStyle, repeat: u32) -> Trip {
    Trip { driving_style, repeat, ..Trip::plain("t", "T", TripPath::Segments(segments)) }
}

fn trace(trip: &Trip) -> Trace {
    Trace::of_trip(trip, trip.driving_style, &|_| None)
}

/// Height gained, m.
fn climbed(trace: &Trace) -> f64 {
    trace.points.windows(2).map(|w| 0.5 * (w[0].speed_m_s + w[1].speed_m_s) * (w[1].time_s - w[0].time_s) * w[0].sin / w[0].cos).sum()
}

proptest! {
    #![proptest_config(cases(200))]

    #[test]
    fn the_way_is_kept_whatever_the_style_and_the_repeats(segments in proptest::collection::vec(stretch(), 1..5), repeat in 1u32..4) {
        let way_m: f64 = segments.iter().map(|s| 1000.0 * s.distance_km).sum();
        let height_m: f64 = segments.iter().map(|s| s.climb_m).sum();
        let fastest = segments.iter().map(|s| s.speed_kmh / 3.6).fold(0.0, f64::max);
        let mut last_s = f64::INFINITY;
        for style in DrivingStyle::ALL {
            let once = trace(&trip(segments.clone(), style, 1));
            prop_assert!((once.distance_m() - way_m).abs() < 1e-6 * way_m, "{} of {way_m} m", once.distance_m());
            prop_assert!((climbed(&once) - height_m).abs() < 1e-3 + 1e-6 * way_m, "{} of {height_m} m", climbed(&once));
            // It begins and ends standing, goes forwards in time, and on a road nobody is faster than it allows.
            prop_assert!(once.points[0].speed_m_s == 0.0 && once.points[once.points.len() - 1].speed_m_s == 0.0);
            prop_assert!(once.points.windows(2).all(|w| w[1].time_s > w[0].time_s && w[1].time_s - w[0].time_s <= 40.0 + 1e-9));
            prop_assert!(once.points.iter().all(|p| p.speed_m_s <= fastest * (1.0 + 1e-9) && p.speed_m_s >= 0.0));
            prop_assert!(once.points.iter().all(|p| (p.sin * p.sin + p.cos * p.cos - 1.0).abs() < 1e-12));
            // Who drives harder is there sooner.
            prop_assert!(once.duration_s() <= last_s * (1.0 + 1e-9), "{:?} takes {} s after {last_s} s", style, once.duration_s());
            last_s = once.duration_s();
            let often = trace(&trip(segments.clone(), style, repeat));
            let times = f64::from(repeat);
            prop_assert!((often.distance_m() - times * once.distance_m()).abs() < 1e-6 * often.distance_m());
            prop_assert!((often.duration_s() - times * once.duration_s()).abs() < 1e-6 * often.duration_s());
        }
    }

    #[test]
    fn no_stretch_is_driven_harder_than_it_says(segments in proptest::collection::vec(stretch(), 1..4)) {
        let hardest = segments.iter().map(|s| s.acceleration_m_s2).fold(0.0, f64::max);
        let normal = trace(&trip(segments, DrivingStyle::Normal, 1));
        for w in normal.points.windows(2) {
            let accel = (w[1].speed_m_s - w[0].speed_m_s).abs() / (w[1].time_s - w[0].time_s);
            prop_assert!(accel <= hardest * (1.0 + 1e-6), "{accel} m/s2 over {hardest}");
        }
    }

    #[test]
    fn bench_readings_give_back_the_constants_they_were_made_with(kt in 0.03..0.9f64, ohm in 0.005..0.2f64, idle in 1.0..12.0f64,
        volts in proptest::collection::vec(12.0..96.0f64, 3..7), locked in proptest::collection::vec(20.0..200.0f64, 2..4)) {
        let spread = volts.iter().copied().fold(0.0, f64::max) - volts.iter().copied().fold(f64::INFINITY, f64::min);
        prop_assume!(spread > 10.0 && volts.iter().all(|v| v - idle * ohm > 5.0));
        let rpm = |w: f64| w * 30.0 / std::f64::consts::PI;
        let sheet = BenchSheet {
            name: "m".to_owned(),
            kind: MotorKind::PmSynchronous,
            no_load: volts.iter().map(|v| NoLoadReading { volts_v: *v, amps_a: idle, speed_rpm: rpm((v - idle * ohm) / kt) }).collect(),
            locked: locked.iter().map(|a| LockedReading { volts_v: a * ohm, amps_a: *a }).collect(),
            max_speed_rpm: 20_000.0,
            peak_current_a: 300.0,
            continuous_power_w: 3000.0,
            mass_kg: 12.0,
            reference_voltage_v: None,
        };
        let result = characterise(&sheet).map_err(|e| TestCaseError::fail(e.to_string()))?;
        for (what, got, want) in [("constant", result.torque_constant_nm_a, kt), ("resistance", result.resistance_ohm, ohm), ("no-load amps", result.no_load_current_a, idle)] {
            prop_assert!((got.value - want).abs() <= 1e-6 * want, "{what}: {} for {want}", got.value);
            prop_assert!(got.half_width >= 0.0);
        }
        prop_assert!(result.residuals_v.iter().all(|r| r.abs() < 1e-6));
        prop_assert!((result.rpm_per_volt - rpm(1.0 / kt)).abs() < 1e-4 * result.rpm_per_volt, "{}", result.rpm_per_volt);
        let MotorModel::Constants { torque_constant_nm_a, resistance_ohm, .. } = result.motor.model else { return Err(TestCaseError::fail("another model")) };
        prop_assert!((torque_constant_nm_a - kt).abs() <= 1e-6 * kt && (resistance_ohm - ohm).abs() <= 1e-6 * ohm);
        // A reading that does not belong is named.
        let mut wrong = sheet.clone();
        wrong.no_load[1].volts_v *= 1.6;
        let text = characterise(&wrong).expect_err("refused").to_string();
        prop_assert!(text.contains("no_load[") || text.contains("locked["), "{text}");
    }

    #[test]
    fn coast_downs_give_back_the_road_load_they_were_made_with(mass in 500.0..3000.0f64, crr in 0.006..0.025f64, drag_area in 0.35..1.6f64,
        sine in -0.004..0.004f64, celsius in -5.0..35.0f64, from in 20.0..32.0f64) {
        let (k, density) = (1.03, 101_325.0 / (287.05 * (celsius + 273.15)));
        // The tyres roll as they do in air of that temperature; the answer is for 20 degC (SAE J1263: 0.0086 a degree).
        let on_the_day = crr * (1.0 + 0.0086 * (20.0 - celsius));
        let run = |direction: &str, sine: f64| -> Value {
            let (a, b) = (G * (on_the_day + sine) / k, density * drag_area / (2.0 * mass * k));
            let speed = |t: f64| (a / b).sqrt() * ((from * (b / a).sqrt()).atan() - t * (a * b).sqrt()).tan();
            let points: Vec<Value> = (0..900).map(f64::from).map(|t| (t, speed(t))).take_while(|(_, v)| *v > 4.0)
                .map(|(t, v)| json!({ "time_s": t, "speed_kmh": v * 3.6 })).collect();
            json!({ "direction": direction, "points": points })
        };
        let log = json!({ "coast_down": { "mass_kg": mass, "rotating_mass_factor": k, "temperature_c": celsius, "runs": [run("out", sine), run("back", -sine)] } });
        let fit = road_load(&read(&with(plain(), "/donor/evidence", log))).coast_down.expect("a fit");
        prop_assert!((fit.rolling_coefficient.value / crr - 1.0).abs() < 0.01, "Crr {} for {crr}", fit.rolling_coefficient.value);
        prop_assert!((fit.drag_area_m2.value / drag_area - 1.0).abs() < 0.01, "CdA {} for {drag_area}", fit.drag_area_m2.value);
        prop_assert!((fit.grade_percent - 100.0 * sine).abs() < 0.03, "{} % for {}", fit.grade_percent, 100.0 * sine);
        prop_assert!(fit.flags.is_empty(), "{:?}", fit.flags);
    }

    #[test]
    fn more_fuel_means_more_road_load(litres in 4.0..9.0f64, more in 1.02..1.3f64) {
        let of = |litres: f64| {
            road_load(&read(&with(plain(), "/donor/evidence", json!({ "fuel_l_per_100km": litres })))).proposals.into_iter().next()
        };
        if let (Some(less), Some(much)) = (of(litres), of(litres * more))
            && [&less, &much].iter().all(|p| p.basis.to_string().contains("l/100 km"))
        {
            let (area, rolling) = (much.drag_area_m2.value / less.drag_area_m2.value, much.rolling_coefficient.value / less.rolling_coefficient.value);
            prop_assert!(area > 1.0 && rolling > 1.0, "{area} and {rolling}");
            // Both by one factor.
            prop_assert!((area / rolling - 1.0).abs() < 1e-6, "{area} and {rolling}");
        }
    }
}

/// Every schedule as the regulation prints it: second by second, standing at both ends.
#[test]
fn schedules_are_whole_and_stand_at_their_ends() {
    for schedule in Schedule::ALL {
        let trace = Trace::of(&TripPath::Schedule(schedule));
        assert!(trace.points.windows(2).all(|w| (w[1].time_s - w[0].time_s - 1.0).abs() < 1e-9), "{}", schedule.title());
        assert_eq!((trace.points[0].speed_m_s, trace.points[trace.points.len() - 1].speed_m_s), (0.0, 0.0), "{}", schedule.title());
        assert!((trace.duration_s() - schedule.seconds()).abs() < 1e-9, "{}", schedule.title());
        let hardest = trace.points.windows(2).map(|w| (w[1].speed_m_s - w[0].speed_m_s).abs()).fold(0.0, f64::max);
        assert!(hardest < 2.5, "{} asks {hardest} m/s2", schedule.title());
    }
}
