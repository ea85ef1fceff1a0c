//! The definition of continuous and peak ratings.

use joulethesis_core::powertrain::heat::{RATED_AMBIENT_C, ThermalModel};

// The definition itself: from cold, the peak load reaches the limit after the peak time; the continuous load never does.
#[test]
fn the_two_ratings_are_kept() {
    let w = ThermalModel::of(100.0, 250.0, 60.0, 140.0, RATED_AMBIENT_C);
    assert!((w.seconds_left(250.0, 0.0).expect("peak") - 60.0).abs() < 1e-9);
    assert_eq!(w.seconds_left(100.0, 0.0), None);
    assert!((w.held_for(60.0, 0.0) - 250.0).abs() < 1e-9);
    assert!((w.temperature_c(1.0) - 140.0).abs() < 1e-12);
}

#[test]
fn a_hot_day_leaves_less() {
    let (mild, hot) = (ThermalModel::of(100.0, 250.0, 60.0, 140.0, 40.0), ThermalModel::of(100.0, 250.0, 60.0, 140.0, 55.0));
    assert!(hot.held_continuously() < mild.held_continuously());
    assert!(hot.seconds_left(250.0, 0.0) < mild.seconds_left(250.0, 0.0));
    assert_eq!(ThermalModel::of(100.0, 250.0, 60.0, 140.0, -20.0).held_continuously(), 100.0);
}
