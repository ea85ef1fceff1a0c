//! Steps asked side by side, against each of them asked by itself; and the time of an acceleration against its run.

use super::asked::{Asker, Ease};
use super::driver::{Driver, ShiftPolicy};
use super::lanes::{LANES, Lanes, SideBySide};
use super::split::Motion;
use super::{ACCELERATION_STEP_M_S, TractiveForce, quickest, quickest_s};
use crate::document::{Checked, Document, Schedule, TripPath};
use crate::library::{Part, builtin};
use crate::powertrain::{Chain, Rating};
use crate::trip::Trace;
use crate::vehicle::masses;

fn demo(name: &str) -> Checked {
    let path = format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR"));
    Document::from_json(&std::fs::read(path).expect("a demo")).expect("sound")
}

/// Whatever motor a vehicle has, and with any controller, pack and gears: what is said of a step does not depend on the steps beside it, to
/// the last bit. Most steps are told without asking each by itself, or nothing is gained.
#[test]
fn steps_side_by_side_ask_what_each_asks_by_itself() {
    let motors: Vec<_> = builtin().iter().filter_map(|p| if let Part::Motor(m) = p { Some(m) } else { None }).collect();
    let traces: Vec<_> = [Schedule::Wltc2, Schedule::Ece15].map(|s| Trace::of(&TripPath::Schedule(s))).into();
    let (mut steps, mut hard, mut braked, mut moving, mut by_itself) = (0, 0, 0, 0, 0);
    for name in ["whimbrel-9-a", "pipit-b", "wren-a", "dunlin-a"] {
        let own = demo(name);
        let own_motor = own.design.motor.as_ref().expect("a motor").name.clone();
        // The others have a motor that is no polynomial, or one far too weak for these traces.
        let keeps_up = ["whimbrel-9-a", "wren-a"].contains(&name);
        // A vehicle that pulls a trailer is near its limits more often than one that does not.
        let heavy = own.with_sound(|d| d.brief.payload_kg += 300.0);
        for (k, motor) in motors.iter().enumerate() {
            let loaded = if k % 3 == 0 { &heavy } else { &own };
            let document = loaded.with_sound(|d| d.design.motor = Some((*motor).clone()));
            let Ok(chain) = Chain::of(&document, masses(&document).test_kg) else { continue };
            for (gear, window) in [(None, (1.0, 0.1)), (Some(2), (0.9, 0.2)), (None, (0.3, 0.3))] {
                let driver = Driver::of(&chain, ShiftPolicy { gear, transfer_range: None, hvac_w: 300.0 }, 1);
                let one = Asker::of(&driver, window);
                let (lanes, mut told) = (Lanes::of(one), SideBySide::none());
                for trace in &traces {
                    let motions: Vec<_> = trace.points.windows(2).map(|p| Motion::between(p[0], p[1])).collect();
                    for some in motions.chunks(LANES) {
                        lanes.ask(some, &mut told);
                        for (i, motion) in some.iter().enumerate() {
                            let (alone, beside) = (one.ask(motion), lanes.asked(motion, i, &told));
                            assert_eq!(format!("{beside:?}"), format!("{alone:?}"), "{name} with {} at {motion:?}", motor.name);
                            steps += 1;
                            if keeps_up && motor.name == own_motor && motion.mean_m_s() > 0.0 {
                                moving += 1;
                                by_itself += i32::from(told.doubt[i] > 0.0);
                            }
                            hard += i32::from(one.ease(&alone.step) != Ease::Easy);
                            braked += i32::from(alone.taken.is_some_and(|(_, point)| point.bus_w < 0.0));
                        }
                    }
                }
            }
        }
    }
    assert!(moving > 5_000 && by_itself < moving / 4, "{by_itself} of {moving} steps of the demos had to be asked by themselves");
    assert!(steps > 500_000 && hard > 20_000 && braked > 50_000, "{steps} steps, {hard} near a limit, {braked} fed back");
}

/// Whatever motor a vehicle has, on one gear and on several: the time of an acceleration alone is that of the run itself, to the last bit, and
/// what is never reached is so in both.
#[test]
fn the_time_of_an_acceleration_is_that_of_its_run() {
    let (mut reached, mut never, mut changed) = (0, 0, 0);
    for name in ["whimbrel-9-a", "pipit-b", "wren-a", "dunlin-a"] {
        let own = demo(name);
        for motor in builtin().iter().filter_map(|p| if let Part::Motor(m) = p { Some(m) } else { None }) {
            let document = own.with_sound(|d| d.design.motor = Some(motor.clone()));
            let Ok(chain) = Chain::of(&document, masses(&document).test_kg) else { continue };
            let limits = chain.limits(0.5, chain.low_voltage_w, Rating::Peak);
            for (from_kmh, to_kmh) in [(0.0, 15.0), (0.0, 50.0), (30.0, 90.0), (0.0, 250.0)] {
                let pulls = || -> Vec<TractiveForce<'_>> {
                    chain.ranges().map(|gears| TractiveForce::new(&chain, gears, &limits, ACCELERATION_STEP_M_S)).collect()
                };
                let run = quickest(&mut pulls(), from_kmh / 3.6, to_kmh / 3.6);
                let time_s = quickest_s(&mut pulls(), from_kmh / 3.6, to_kmh / 3.6);
                assert_eq!(time_s, run.time_s, "{name} with {}, {from_kmh} to {to_kmh} km/h", motor.name);
                *(if time_s.is_some() { &mut reached } else { &mut never }) += 1;
                changed += u32::from(run.gears.len() > 1);
            }
        }
    }
    assert!(reached > 100 && never > 100 && changed > 20, "{reached} reached, {never} not, {changed} with a change of gear");
}
