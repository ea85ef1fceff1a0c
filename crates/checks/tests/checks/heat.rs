//! Heat by losses: the definition of continuous and peak ratings, and what every built-in part makes of it.

use joulethesis_core::powertrain::heat::{RATED_AMBIENT_C, ThermalModel, current_loss, current_of_loss};
use joulethesis_core::powertrain::{Cause, Chain, MotorMap, Rating, Rise};
use proptest::prelude::*;
use serde_json::json;

use crate::common::{cases, check, lossy, motors, plain, read, with};

// The definition itself: from cold, the loss at the peak rating reaches the limit after the peak time; that at the continuous rating never
// does.
#[test]
fn the_two_ratings_are_kept() {
    let w = ThermalModel::of(400.0, 2500.0, 60.0, 140.0, RATED_AMBIENT_C);
    assert!((w.seconds_left(2500.0, 0.0).expect("peak") - 60.0).abs() < 1e-9);
    assert_eq!(w.seconds_left(400.0, 0.0), None);
    assert!((w.held_for(60.0, 0.0) - 2500.0).abs() < 1e-9);
    assert!((w.temperature_c(1.0) - 140.0).abs() < 1e-12);
}

#[test]
fn a_hot_day_leaves_less() {
    let (mild, hot) = (ThermalModel::of(400.0, 2500.0, 60.0, 140.0, 40.0), ThermalModel::of(400.0, 2500.0, 60.0, 140.0, 55.0));
    check("loss held in 55 degC", hot.held_continuously() / mild.held_continuously(), 0.85, 1e-12);
    assert!(hot.seconds_left(2500.0, 0.0) < mild.seconds_left(2500.0, 0.0));
    assert_eq!(ThermalModel::of(400.0, 2500.0, 60.0, 140.0, -20.0).held_continuously(), 400.0);
}

/// What each built-in motor stores over its time constant, J/K for each kilogram: no more than its own metal does (iron 450, copper 385,
/// aluminium 900 J/(kg K), handbook values), and no less than its windings alone. Ratings that contradict the losses show here first.
#[test]
fn built_in_motors_store_what_their_metal_can() {
    for motor in motors() {
        let map = MotorMap::of(motor, 1);
        let heat = ThermalModel::of(map.rated_loss_w, map.peak_loss_w, motor.peak_s(), 140.0, RATED_AMBIENT_C);
        let stored = map.rated_loss_w * heat.tau_s / heat.rise_k / motor.mass_kg;
        assert!((50.0..450.0).contains(&stored), "{}: {stored:.0} J/K for each kg", motor.name);
        assert!((60.0..1800.0).contains(&heat.tau_s), "{}: {:.0} s", motor.name, heat.tau_s);
        // What is held by the plate at any speed hardly exceeds what the rated point loses.
        for step in 1..=20 {
            let speed = map.max_speed_rad_s * f64::from(step) / 20.0;
            let share = map.loss_w(map.continuous_nm_at(speed), speed) / map.rated_loss_w;
            assert!(share < 1.06, "{} loses {share:.2} of its rated loss at {step}/20 of its speed", motor.name);
        }
    }
}

proptest! {
    #![proptest_config(cases(200))]

    /// The torque at which so much is lost loses just that.
    #[test]
    fn torque_for_loss_inverts_the_loss_model(pick in any::<prop::sample::Index>(), speed in 0.0..1.0f64, share in 0.0..8.0f64) {
        let all: Vec<_> = motors().collect();
        let map = MotorMap::of(all[pick.index(all.len())], 2);
        let (w, loss) = (speed * map.max_speed_rad_s, share * map.rated_loss_w);
        let torque = map.torque_for_loss_nm(w, loss);
        let idle = map.loss_w(0.0, w);
        let back = map.loss_w(torque, w);
        prop_assert!(if loss <= idle { torque == 0.0 } else { (back - loss).abs() <= 1e-9 * loss }, "{loss} W: {torque} N m lose {back} W, idle {idle} W");
    }

    #[test]
    fn current_for_loss_inverts_the_controllers_loss(share in 0.0..6.0f64) {
        prop_assert!((current_of_loss(current_loss(share)) - share).abs() < 1e-9);
    }

    /// Ten minutes from any warmth: held there step by step, the motor ends at its limit when heat is what binds, and below it else.
    #[test]
    fn what_is_held_for_ten_minutes_ends_at_the_limit(kmh in 5.0..90.0f64, warm in 0.0..0.95f64, watts in 3000.0..30_000.0f64) {
        let document = read(&with(lossy(plain()), "/design/motor/continuous_power_w", json!(watts)));
        let chain = Chain::of(&document, 1200.0).expect("complete");
        let rise = Rise { motor: warm, controller: 0.0 };
        let limits = chain.limits(0.8, 0.0, Rating::Held { seconds: 600.0, rise });
        let speed = kmh / 3.6 * chain.gears[0].rad_per_m;
        let (torque, cause) = chain.full_torque(speed, &limits);
        let loss = chain.motor.loss_w(torque, speed);
        let end = (0..6000).fold(warm, |rise, _| chain.motor_heat.after(rise, loss, 0.1));
        let over = end / chain.motor_heat.limit - 1.0;
        prop_assert!(over < 1e-4, "{over} past the limit");
        prop_assert!(cause != Cause::Heat || over > -1e-4, "{over} of the limit left");
    }
}
