//! What trips ask of motor cables and of the cooling, second by second.

use super::trips::each;
use crate::cancel::Cancel;
use crate::document::Document;
use crate::error::Result;
use crate::figures::trips::way;
use crate::powertrain::Chain;
use crate::simulate::drive_trace_watched;

/// Heat is carried off over this time, s: coolant and radiator hardly store more (common practice).
const COOLING_S: f64 = 600.0;

/// One trip, made once from the start of its charge.
#[derive(Debug, Clone, PartialEq)]
pub struct TripLoad {
    /// Its name.
    pub name: String,
    /// Root mean square current of each motor, A; `None` where the motor's record does not say what an ampere makes.
    pub motor_rms_a: Option<f64>,
    /// What motors and controllers lose on the mean of the worst ten minutes, W; of all of a shorter trip, as it is made over and over.
    pub ten_minutes_w: f64,
}

/// The loads of every trip and schedule, in the brief's order.
///
/// # Errors
/// As [`super::estimate`].
pub fn trip_loads(document: &Document, usual: &Chain, cancel: &Cancel) -> Result<Vec<TripLoad>> {
    let Some(motor) = &document.design.motor else { return Ok(Vec::new()) };
    let motors = (motor, document.design.motor_count);
    each(document, usual, cancel, |trip, chain, trace| {
        let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
        let (mut squares_a2_s, mut last_s) = (Some(0.0), 0.0);
        // Time, and heat until then.
        let mut warmed: Vec<(f64, f64)> = vec![(0.0, 0.0)];
        let run = drive_trace_watched(chain, trace, way(trip), start, |state, _| {
            let (torque_nm, speed_rad_s) = state.motor;
            let amps = chain.motor.amps_at(motors, torque_nm, speed_rad_s);
            squares_a2_s = squares_a2_s.zip(amps).map(|(sum, a)| sum + a * a * (state.time_s - last_s));
            last_s = state.time_s;
            let split = state.split();
            warmed.push((state.time_s, split.motor_j + split.controller_j));
        });
        TripLoad {
            name: trip.name.clone(),
            motor_rms_a: squares_a2_s.map(|sum: f64| if run.time_s > 0.0 { (sum / run.time_s).sqrt() } else { 0.0 }),
            ten_minutes_w: greatest_mean(&warmed, COOLING_S),
        }
    })
}

/// Greatest mean rise of a sum over any stretch that lasts `window_s`, or just longer; over the whole where that is shorter.
fn greatest_mean(sum: &[(f64, f64)], window_s: f64) -> f64 {
    let mean = |from: (f64, f64), to: (f64, f64)| if to.0 > from.0 { (to.1 - from.1) / (to.0 - from.0) } else { 0.0 };
    let (mut from, mut greatest) = (0, None);
    for to in sum {
        while sum.get(from + 1).is_some_and(|next| to.0 - next.0 >= window_s) {
            from += 1;
        }
        if to.0 - sum[from].0 >= window_s {
            greatest = Some(mean(sum[from], *to).max(greatest.unwrap_or(f64::NEG_INFINITY)));
        }
    }
    greatest.unwrap_or_else(|| sum.first().zip(sum.last()).map_or(0.0, |(from, to)| mean(*from, *to)))
}
