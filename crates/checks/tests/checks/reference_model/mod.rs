//! The whole chain computed a second time on vehicles drawn at random: docs/METHODS.md written out plainly, every limit found by halving
//! a torque, every run by small steps of time, every trip by the second, nothing shared with the code under check but the document.

mod vehicle;

use crate::common::{cases, read};
use joulethesis_core::charge::charge;
use joulethesis_core::document::{Schedule, TripPath};
use joulethesis_core::powertrain::{Chain, Rating};
use joulethesis_core::simulate::{
    ACCELERATION_STEP_M_S, RangeEnd, ShiftPolicy, TractiveForce, accelerate, drive_trace, hill_at_speed, hill_start, range, top_speed,
};
use joulethesis_core::trip::Trace;
use proptest::prelude::*;
use vehicle::vehicle;

fn near(what: &str, got: f64, want: f64, share: f64) -> Result<(), TestCaseError> {
    prop_assert!((got - want).abs() <= share * want.abs().max(1e-3), "{what}: {got}, a second time {want}");
    Ok(())
}

proptest! {
    #![proptest_config(cases(192))]

    #[test]
    fn performance_is_found_again(car in vehicle(), soc in 0.3..0.95f64, share in 0.1..0.9f64) {
        let chain = Chain::of(&read(&car.document()), car.mass).expect("complete");
        let limits = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
        let tops: Vec<f64> = car.gears.iter().map(|g| car.top(*g, soc)).collect();
        for (path, want) in chain.gears.iter().zip(&tops) {
            near("top speed", top_speed(&chain, path, &limits).speed_m_s, *want, 1e-3)?;
            let v = share * want;
            near("full force", chain.full_force(path, v, &limits).0, car.full_force(path.ratio, v, soc), 1e-6)?;
        }
        near("hill start", hill_start(&chain, soc).grade_percent, car.hill(0.0, soc), 1e-3)?;
        let fastest = tops.iter().copied().fold(0.0, f64::max);
        near("hill at speed", hill_at_speed(&chain, soc, share * fastest, Rating::Peak).grade_percent, car.hill(share * fastest, soc), 2e-3)?;
        let to = 0.8 * share * fastest;
        let got = accelerate(&mut TractiveForce::new(&chain, &chain.gears, &limits, ACCELERATION_STEP_M_S), 0.0, to).time_s;
        let want = car.sprint(to, soc);
        prop_assert_eq!(got.is_some(), want.is_some(), "to {} m/s: {:?}, a second time {:?}", to, got, want);
        if let (Some(got), Some(want)) = (got, want) {
            // Where two gears pull alike, rounding decides about each change.
            let changes = car.gears.len() as f64 - 1.0;
            let (share, change_s) = if changes > 0.0 { (0.01, 1.1 * changes * car.shift_s) } else { (4e-3, 0.0) };
            prop_assert!((got - want).abs() <= share * want + change_s, "{got} s, a second time {want} s");
        }
    }

    #[test]
    fn trips_and_ranges_are_found_again(car in vehicle(), soc in 0.6..0.95f64, pick in 0usize..4) {
        let chain = Chain::of(&read(&car.document()), car.mass).expect("complete");
        let schedule = [Schedule::Ece15, Schedule::Nedc, Schedule::Udds, Schedule::Wltc2][pick];
        let trace = Trace::of(&TripPath::Schedule(schedule));
        let speeds: Vec<f64> = schedule.rows().map(|(_, kmh)| kmh / 3.6).collect();
        let got = drive_trace(&chain, &trace, ShiftPolicy::default(), soc);
        // Where no second is near a limit; those that are the code under check drives in parts of a second.
        if let Some((left, joules)) = car.trip(&speeds, soc).filter(|_| got.off_trace_s == 0.0) {
            near("energy", got.battery_j(), joules, 5e-3)?;
            near("charge", soc - got.soc, soc - left, 5e-3)?;
            let far = range(&chain, &trace, ShiftPolicy::default(), soc);
            if far.end == RangeEnd::Window {
                let (mut now, mut runs, mut spent) = (soc, 0.0, false);
                let whole_m: f64 = speeds.windows(2).map(|p| 0.5 * (p[0] + p[1])).sum();
                while let Some((after, _)) = car.trip(&speeds, now).filter(|_| runs < 400.0) {
                    if after <= 0.1 {
                        // Within its last run, by the charge it takes: where in the run it ends is another matter.
                        (runs, spent) = (runs + (now - 0.1) / (now - after), true);
                        break;
                    }
                    (now, runs) = (after, runs + 1.0);
                }
                let within = 5e-3 * far.distance_m + 0.35 * whole_m;
                // A low pack may meet a limit before the window is spent.
                prop_assert!(!spent || (far.distance_m - runs * whole_m).abs() <= within, "range {}, a second time {}", far.distance_m, runs * whole_m);
            }
        }
    }

    #[test]
    fn charging_is_found_again(car in vehicle(), from in 0.1..0.5f64, to in 0.6..0.97f64) {
        let document = read(&car.document());
        let chain = Chain::of(&document, car.mass).expect("complete");
        let got = charge(&document, &chain.pack, &document.brief.sockets[0], from, to).expect("a charger").hours_h.expect("reached");
        near("hours", got, car.charging(from, to), 5e-3)?;
    }
}
