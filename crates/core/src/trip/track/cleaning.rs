//! Cleaning of readings: spikes of height, jumps of place, speeds and levelled heights.

use super::{HEIGHTS_M, Reading, SAME_PLACE_M};
use crate::quantity::sentence;
use crate::quantity::units::KMH_PER_M_S;
use crate::quantity::{figure, height_m};
use crate::trip::Flag;

/// Steepest road believed between two readings, rise over run.
const STEEPEST: f64 = 0.45;
/// Climb between neighbours that the steepest road is judged beyond, m: the noise of a receiver.
const HEIGHT_NOISE_M: f64 = 12.0;
/// Fastest believed from positions, m/s.
const FASTEST_M_S: f64 = 70.0;
/// Way over which heights are levelled, m: receivers wander by several metres within it.
const LEVELLED_M: f64 = 150.0;

/// Heights that no road has, or that stick out of their neighbours: each is named and left out.
pub(super) fn drop_height_spikes(readings: &mut [Reading], word: &str, flags: &mut Vec<Flag>) -> usize {
    let known: Vec<usize> = (0..readings.len()).filter(|i| readings[*i].height_m.is_some()).collect();
    let mut last_good: Option<(usize, f64)> = None;
    let mut dropped = 0;
    for (n, &i) in known.iter().enumerate() {
        let Some(height) = readings[i].height_m else { continue };
        let next = known.get(n + 1).and_then(|j| readings[*j].height_m);
        let reason = if !HEIGHTS_M.contains(&height) {
            Some(sentence!("{} is no height of a road; left out", height_m(height, 0)))
        } else {
            // Between a good neighbour and the next reading, both far: a spike. A real step lasts.
            last_good.and_then(|(j, before)| {
                let apart_m = way_m(&readings[j], &readings[i]).unwrap_or(FASTEST_M_S * (readings[i].time_s - readings[j].time_s));
                let most_m = HEIGHT_NOISE_M + STEEPEST * apart_m;
                let sticks_out = (height - before).abs() > most_m && next.is_none_or(|after| (height - after).abs() > most_m);
                sticks_out.then(|| sentence!("{}, beside {}; left out", height_m(height, 0), height_m(before, 0)))
            })
        };
        match reason {
            Some(message) => {
                flags.push(Flag { at: format!("{word} {}, elevation", readings[i].row), message });
                readings[i].height_m = None;
                dropped += 1;
            }
            None => last_good = Some((i, height)),
        }
    }
    dropped
}

pub(super) fn way_m(a: &Reading, b: &Reading) -> Option<f64> {
    let ((ax, ay), (bx, by)) = (a.place_m?, b.place_m?);
    Some((bx - ax).hypot(by - ay))
}

/// Positions that would need an impossible speed: each is named and left out.
pub(super) fn drop_jumps(readings: &mut Vec<Reading>, word: &str, flags: &mut Vec<Flag>) -> usize {
    let mut kept: Vec<Reading> = Vec::with_capacity(readings.len());
    let mut dropped = 0;
    for &reading in readings.iter() {
        let jump = kept.last().and_then(|last| {
            let speed = way_m(last, &reading)? / (reading.time_s - last.time_s);
            (speed > FASTEST_M_S).then_some(speed)
        });
        if let Some(speed) = jump {
            flags.push(Flag {
                at: format!("{word} {}, position", reading.row),
                message: sentence!("{} from the {} before it; left out", figure(speed * KMH_PER_M_S, "km/h", 0), word),
            });
            dropped += 1;
        } else {
            kept.push(reading);
        }
    }
    *readings = kept;
    dropped
}

/// Speed at each reading, m/s: from the file, else from the way over the neighbours.
pub(super) fn speeds(readings: &[Reading]) -> Vec<f64> {
    let last = readings.len() - 1;
    let raw: Vec<f64> = (0..=last)
        .map(|i| {
            readings[i].speed_m_s.unwrap_or_else(|| {
                let (a, b) = (&readings[i.saturating_sub(1)], &readings[(i + 1).min(last)]);
                way_m(a, &readings[i]).unwrap_or(0.0).mul_add(1.0, way_m(&readings[i], b).unwrap_or(0.0)) / (b.time_s - a.time_s).max(1e-3)
            })
        })
        .collect();
    // Below walking pace a receiver only wanders.
    raw.iter().map(|v| if *v < 0.4 { 0.0 } else { *v }).collect()
}

/// Heights levelled along the way: a straight line fitted within half of [`LEVELLED_M`] to either side, at its middle.
pub(super) fn level(readings: &[Reading], speeds: &[f64]) -> Vec<f64> {
    let mut along = vec![0.0; readings.len()];
    for i in 1..readings.len() {
        along[i] = along[i - 1] + 0.5 * (speeds[i] + speeds[i - 1]) * (readings[i].time_s - readings[i - 1].time_s);
    }
    // Readings at one place, as of a parked vehicle, count as one of their weight, so that a window holds few however long it stood.
    let mut known: Vec<(f64, f64, f64)> = Vec::new();
    for (s, height) in readings.iter().zip(&along).filter_map(|(r, s)| Some((*s, r.height_m?))) {
        match known.last_mut() {
            Some((at, mean, weight)) if s - *at < SAME_PLACE_M => {
                *weight += 1.0;
                *mean += (height - *mean) / *weight;
            }
            _ => known.push((s, height, 1.0)),
        }
    }
    if known.is_empty() {
        return vec![0.0; readings.len()];
    }
    let (mut low, mut high) = (0, 0);
    let levelled: Vec<f64> = along
        .iter()
        .map(|s| {
            while low + 1 < known.len() && known[low].0 < s - 0.5 * LEVELLED_M {
                low += 1;
            }
            while high + 1 < known.len() && known[high].0 < s + 0.5 * LEVELLED_M {
                high += 1;
            }
            let near = &known[low.min(high)..=high];
            let n: f64 = near.iter().map(|p| p.2).sum();
            let (mx, my) = (near.iter().map(|p| p.2 * p.0).sum::<f64>() / n, near.iter().map(|p| p.2 * p.1).sum::<f64>() / n);
            let spread: f64 = near.iter().map(|p| p.2 * (p.0 - mx).powi(2)).sum();
            let slope = if spread > 1.0 { near.iter().map(|p| p.2 * (p.0 - mx) * (p.1 - my)).sum::<f64>() / spread } else { 0.0 };
            my + slope.clamp(-STEEPEST, STEEPEST) * (s - mx)
        })
        .collect();
    let first = levelled[0];
    levelled.iter().map(|h| h - first).collect()
}
