//! Laws that hold whatever the motor's kind, the weather, the transfer box and the charge: the energy account closes on every trip, limits
//! are kept, blocks are the seconds they stand for, and what is asked of the pack is what the wheels, losses and loads take.

use crate::common::drawn::{Drawn, described, drawn};
use crate::common::{cases, check, imbalance, plain, read, with};
use joulethesis_core::document::{Checked, Schedule};
use joulethesis_core::document::{Document, TripPath};
use joulethesis_core::powertrain::{Cause, Chain, Rating};
use joulethesis_core::simulate::{
    ACCELERATION_STEP_M_S, Best, RangeEnd, ShiftPolicy, TractiveForce, drive_trace, drive_trace_finely, quickest, range, top_speed,
};
use joulethesis_core::trip::Trace;
use joulethesis_core::vehicle::masses;
use proptest::prelude::*;
use serde_json::{Value, json};

fn document(d: &Drawn) -> Checked {
    read(&described(d))
}

fn chain(document: &Document) -> Chain {
    Chain::of(document, masses(document).test_kg).expect("complete")
}

/// A trip over hills, made of stretches.
fn hills() -> TripPath {
    let stretch = |km: f64, kmh: f64, stops: f64, climb: f64| json!({ "distance_km": km, "speed_kmh": kmh, "stops_per_km": stops, "climb_m": climb, "stop_s": 5 });
    serde_json::from_value::<TripPath>(
        json!({ "segments": [stretch(1.0, 40.0, 2.0, 0.0), stretch(1.5, 50.0, 0.5, 90.0), stretch(1.5, 60.0, 0.5, -90.0)] }),
    )
    .expect("a path")
}

proptest! {
    #![proptest_config(cases(96))]

    #[test]
    fn the_account_closes_on_every_trip(d in drawn(), pick in 0usize..12) {
        let document = document(&d);
        let c = chain(&document);
        let path = Schedule::ALL.get(pick).map_or_else(hills, |s| TripPath::Schedule(*s));
        let way = ShiftPolicy { hvac_w: 250.0, transfer_range: d.ranges.then_some(2), ..ShiftPolicy::default() };
        let p = drive_trace(&c, &Trace::of(&path), way, 0.9);
        prop_assert!(imbalance(&p) < 1e-3, "{}: {:?}", imbalance(&p), p.split());
        // Torque is held back at the limit; what the motor loses by turning alone is not.
        let fastest = Trace::of(&path).points.iter().map(|p| p.speed_m_s).fold(0.0, f64::max);
        let turning = c.gears.iter().map(|g| c.motor_heat.target(c.motor.loss_w(0.0, (fastest * g.rad_per_m).min(c.motor.max_speed_rad_s))));
        let most = turning.fold(c.motor_heat.limit, f64::max);
        prop_assert!(p.highest_rise.motor <= most * 1.01 + 0.02, "{} over {most}", p.highest_rise.motor);
        prop_assert!(p.split().recovered_j >= 0.0 && (d.kind < 3 || p.split().recovered_j == 0.0), "a series motor feeds nothing back");
        // Braking may still feed the loads beside the pack, to within rounding.
        prop_assert!(d.celsius > 0.0 || p.split().recovered_j < 1.0, "lithium takes nothing in frost: {}", p.split().recovered_j);
    }

    #[test]
    fn strides_are_seconds_for_every_motor(d in drawn()) {
        let document = document(&d);
        let c = chain(&document);
        let trace = Trace::of(&hills());
        let (blocks, seconds) = (drive_trace(&c, &trace, ShiftPolicy::default(), 0.85), drive_trace_finely(&c, &trace, ShiftPolicy::default(), 0.85, 1));
        let near = |a: f64, b: f64, share: f64| (a - b).abs() <= share * b.abs().max(1e-6);
        prop_assert!(near(blocks.distance_m, seconds.distance_m, 1e-6), "{} and {}", blocks.distance_m, seconds.distance_m);
        prop_assert!(near(blocks.battery_j(), seconds.battery_j(), 1e-4), "{} and {}", blocks.battery_j(), seconds.battery_j());
        prop_assert!(near(0.85 - blocks.soc, 0.85 - seconds.soc, 3e-4), "{} and {}", blocks.soc, seconds.soc);
    }

    #[test]
    fn full_force_keeps_every_limit(d in drawn(), share in 0.02..0.98f64, soc in 0.15..1.0f64) {
        let document = document(&d);
        let c = chain(&document);
        let limits = c.limits(soc, c.low_voltage_w, Rating::Peak);
        let w = share * c.motor.max_speed_rad_s;
        let (torque, cause) = c.full_torque(w, &limits);
        prop_assert!(torque >= 0.0 && torque <= c.motor.greatest_nm() * (1.0 + 1e-9));
        let bus_w = (torque * w + c.motor.loss_w(torque, w)) / c.efficiency;
        if torque > 0.0 {
            let t = c.pack.under(limits.ocv_v, bus_w + limits.aux_w).expect("within reach");
            prop_assert!(t.volts_v >= c.cutoff_v.min(limits.ocv_v) * (1.0 - 1e-6), "sags to {} under {}", t.volts_v, c.cutoff_v);
            prop_assert!(torque <= c.motor.curve_nm(w, t.volts_v) * (1.0 + 1e-6), "{torque} over the curve at {} V", t.volts_v);
            prop_assert!(cause != Cause::None);
        }
    }

    /// It is the most there is: a hair more, and amps, bus, curve or heat no longer allow it.
    #[test]
    fn nothing_beyond_full_force_fits(d in drawn(), share in 0.05..0.95f64, soc in 0.15..1.0f64, gear in 0usize..6) {
        let c = chain(&document(&d));
        let limits = c.limits(soc, c.low_voltage_w, Rating::Peak);
        let supply = c.supply(soc, c.low_voltage_w);
        let path = &c.gears[gear % c.gears.len()];
        let v = share * c.motor.max_speed_rad_s / path.rad_per_m;
        let (force, cause) = c.full_force(path, v, &limits);
        let fits = |force_n: f64| {
            let point = c.motor_point(path, v, force_n, &supply).expect("it turns so fast");
            c.power_flow(point, &supply).is_some_and(|flow| c.fits(&flow, &limits))
        };
        if cause != Cause::Traction && force > 1.0 {
            prop_assert!(!fits(force * 1.0005), "{force} N is not the most at {v} m/s: {cause:?}");
            prop_assert!(fits(force * 0.9995), "{force} N is too much at {v} m/s: {cause:?}");
        }
    }

    /// Gears that cannot pull harder are passed over, and a speed that can be held is told without the force: neither changes an answer.
    #[test]
    fn what_is_passed_over_is_never_the_best(d in drawn(), share in 0.0..1.1f64, soc in 0.15..1.0f64) {
        let c = chain(&document(&d));
        let limits = c.limits(soc, c.low_voltage_w, Rating::Peak);
        let highest = c.gears.iter().map(|g| c.motor.max_speed_rad_s / g.rad_per_m).fold(0.0, f64::max);
        let v = share * highest;
        let each = c.gears.iter().map(|g| c.full_force(g, v, &limits).0).fold(0.0, f64::max);
        prop_assert_eq!(Best::at(&c, v, &limits).force_n, each);
        for gear in &c.gears {
            let top = top_speed(&c, gear, &limits);
            let surplus = |v: f64| c.full_force(gear, v, &limits).0 - c.road.steady_n(v, 0.0);
            for i in 0..20 {
                let below = top.speed_m_s * f64::from(i) / 20.0;
                prop_assert!(surplus(below) >= -1e-6 * c.road.steady_n(below, 0.0), "{below} m/s is not held below {}", top.speed_m_s);
            }
            let turns_no_faster = (top.speed_m_s * gear.rad_per_m / c.motor.max_speed_rad_s - 1.0).abs() < 1e-9;
            prop_assert!(turns_no_faster || surplus(1.002 * top.speed_m_s + 1e-6) < 0.0, "more than {} m/s is held", top.speed_m_s);
        }
    }

    #[test]
    fn colder_cells_never_go_further_and_a_lower_range_never_pulls_less(d in drawn()) {
        let mut warm = d.clone();
        warm.celsius = 20.0;
        let mut cold = d.clone();
        cold.celsius = -10.0;
        cold.share = 0.0;
        warm.share = 0.0;
        let (warm, cold) = (document(&warm), document(&cold));
        let trace = Trace::of(&TripPath::Schedule(Schedule::Ece15));
        let (w, c) = (chain(&warm), chain(&cold));
        // Where both can follow: a laggard saves energy by falling behind, and a motor that overheats is better off in the cold.
        let far = |chain: &Chain| range(chain, &trace, ShiftPolicy::default(), 0.9);
        if drive_trace(&c, &trace, ShiftPolicy::default(), 0.9).off_trace_s == 0.0 && far(&w).end == RangeEnd::Window {
            prop_assert!(far(&c).distance_m <= far(&w).distance_m * 1.001);
        }
        if d.ranges {
            let limits = w.limits(0.7, w.low_voltage_w, Rating::Peak);
            let pull = |range: u32| w.range(Some(range)).iter().map(|g| w.full_force(g, 0.0, &limits).0).fold(0.0, f64::max);
            prop_assert!(pull(2) >= pull(1));
        }
    }
}

/// Halving the step of a run changes its time by less than a thousandth, for every kind of motor.
#[test]
fn runs_converge_for_every_motor() {
    for kind in 0..4 {
        let d =
            Drawn { kind, size: 1.2, volts: 144.0, resistance: 0.0008, ranges: false, celsius: 20.0, share: 0.4, seconds: 60.0, wind: 0.0 };
        let document = document(&d);
        let c = chain(&document);
        let limits = c.limits(0.7, c.low_voltage_w, Rating::Peak);
        let time = |step: f64, to: f64| quickest(&mut [TractiveForce::new(&c, &c.gears, &limits, step)], 0.0, to).time_s.expect("reached");
        let top = c.gears.iter().map(|g| top_speed(&c, g, &limits).speed_m_s).fold(0.0, f64::max);
        for share in [0.3, 0.6, 0.85] {
            check(
                &format!("kind {kind}, to {share} of the top"),
                time(ACCELERATION_STEP_M_S, share * top),
                time(ACCELERATION_STEP_M_S / 2.0, share * top),
                1e-3,
            );
        }
    }
}

/// Readers never panic and never take garbage for a track, a coast-down or a bench sheet without a word.
mod garbage {
    use super::*;
    use joulethesis_core::bench::{BenchSheet, characterise};
    use joulethesis_core::evidence::runs_from_csv;
    use joulethesis_core::trip::track::{from_csv, from_gpx};

    proptest! {
        #![proptest_config(cases(200))]

        #[test]
        fn any_bytes(bytes in prop::collection::vec(any::<u8>(), 0..400)) {
            let text = String::from_utf8_lossy(&bytes);
            prop_assert!(from_gpx(&bytes).is_err());
            let _ = (from_csv(&text), runs_from_csv(&text));
        }

        #[test]
        fn any_numbers_in_a_log(rows in prop::collection::vec((-10.0..1e4f64, -5.0..400.0f64, -1e4..1e4f64), 0..60)) {
            let mut text = "time_s,speed_kmh,elevation_m,direction\n".to_owned();
            for (t, v, h) in &rows {
                text += &format!("{t},{v},{h},out\n");
            }
            // What is taken can be driven: time rises, speeds and grades are those a document accepts.
            if let Ok(track) = from_csv(&text) {
                let trip = json!([{ "id": "t", "name": "T", "path": track.path }]);
                let moves = track.distance_km > 0.0;
                let taken = Document::from_value(&with(plain(), "/brief/trips", trip));
                prop_assert!(taken.is_ok() || !moves, "{:?}", taken.err());
            }
            let _ = runs_from_csv(&text);
        }

        #[test]
        fn any_bench_sheet(no_load in prop::collection::vec((0.1..1000.0f64, 0.001..1000.0f64, 1.0..30_000.0f64), 0..6), locked in prop::collection::vec((0.01..100.0f64, 0.01..5000.0f64), 0..4)) {
            let readings: Vec<Value> = no_load.iter().map(|(v, a, n)| json!({ "volts_v": v, "amps_a": a, "speed_rpm": n })).collect();
            let held: Vec<Value> = locked.iter().map(|(v, a)| json!({ "volts_v": v, "amps_a": a })).collect();
            let sheet: BenchSheet = serde_json::from_value(json!({ "name": "x", "kind": "hub", "no_load": readings, "locked": held, "max_speed_rpm": 900,
                "peak_current_a": 400, "continuous_power_w": 900, "mass_kg": 9 })).expect("a sheet");
            if let Ok(result) = characterise(&sheet) {
                prop_assert!(result.resistance_ohm.value > 0.0 && result.torque_constant_nm_a.value > 0.0);
                prop_assert!(result.residuals_v.len() == no_load.len() + locked.len());
            }
        }
    }
}
