//! A stand-in for the network of a donor of the 2000s: invented units and messages, the same log each time.

use std::f64::consts::TAU;
use std::fmt::Write;

use super::Frame;

/// Descriptions of what the stand-in says.
pub const SIMULATED_DBC: &str = include_str!("simulated.dbc");

/// One message of the stand-in: identifier, period in ms, whether the engine's unit sends it, and its bytes at a time.
struct Message {
    id: u32,
    every_ms: u32,
    of_engine: bool,
    bytes: fn(f64, u32) -> Vec<u8>,
}

/// A round: the vehicle starts, drives a minute up and down, and stops, over and over.
fn speed_kmh(t: f64) -> f64 {
    30.0 * (1.0 - (TAU * t / 60.0).cos())
}

fn high_first(value: f64) -> [u8; 2] {
    (value.clamp(0.0, 65_535.0) as u16).to_be_bytes()
}

fn engine(t: f64, n: u32) -> Vec<u8> {
    let [a, b] = high_first(4.0 * (850.0 + 45.0 * speed_kmh(t)));
    let temperature = (40.0 + (20.0 + 1.2 * t).min(88.0)) as u8;
    let throttle = (2.5 * (20.0 + 15.0 * (TAU * t / 17.0).sin())) as u8;
    let mut bytes = vec![a, b, throttle, temperature, 0, 0, (n % 16) as u8];
    bytes.push(bytes.iter().fold(0, |sum, b| sum ^ b));
    bytes
}

fn wheels(t: f64, n: u32) -> Vec<u8> {
    let mut bytes = Vec::with_capacity(8);
    for side in [0.0, 0.4, 0.1, 0.3] {
        bytes.extend(high_first(100.0 * (speed_kmh(t) + side * (TAU * t / 9.0).sin()).max(0.0)));
    }
    // The lowest bit of the last wheel carries the counter's.
    bytes[7] = bytes[7] & 0xFE | (n % 2) as u8;
    bytes
}

fn steering(t: f64, _: u32) -> Vec<u8> {
    let angle = (10.0 * 90.0 * (TAU * t / 9.0).sin()) as i16;
    let [a, b] = angle.to_le_bytes();
    vec![a, b, 1, 0]
}

fn gauges(t: f64, n: u32) -> Vec<u8> {
    vec![u8::from(n.is_multiple_of(20)), (speed_kmh(t) as u8), 0, 0x5A]
}

fn fuel(_: f64, n: u32) -> Vec<u8> {
    vec![(120 - (n / 50).min(100)) as u8, 0]
}

fn doors(t: f64, _: u32) -> Vec<u8> {
    vec![u8::from(t % 60.0 < 3.0), 0, 0xFF, 0]
}

fn asks(t: f64, _: u32) -> Vec<u8> {
    // Less torque, please: stability, once in a while.
    vec![u8::from((t % 60.0 - 31.0).abs() < 0.5), 0]
}

const MESSAGES: [Message; 7] = [
    Message { id: 0x0C4, every_ms: 10, of_engine: true, bytes: engine },
    Message { id: 0x0D8, every_ms: 20, of_engine: false, bytes: wheels },
    Message { id: 0x0DA, every_ms: 20, of_engine: false, bytes: asks },
    Message { id: 0x142, every_ms: 20, of_engine: false, bytes: steering },
    Message { id: 0x28A, every_ms: 100, of_engine: false, bytes: gauges },
    Message { id: 0x2F1, every_ms: 200, of_engine: true, bytes: fuel },
    Message { id: 0x3B6, every_ms: 500, of_engine: false, bytes: doors },
];

/// Most seconds that are said at once.
const MOST_SECONDS: u32 = 120;

/// What the stand-in says in so many seconds, up to two minutes, as a log; without the engine's unit, on request.
#[must_use]
pub fn simulated_log(seconds: u32, without_engine: bool) -> String {
    let mut frames: Vec<(u32, Frame)> = Vec::new();
    for message in MESSAGES.iter().filter(|m| !(without_engine && m.of_engine)) {
        for n in 0..seconds.min(MOST_SECONDS) * 1000 / message.every_ms {
            let ms = n * message.every_ms;
            let t = f64::from(ms) / 1000.0;
            frames.push((ms, Frame { time_s: Some(t), id: message.id, extended: false, data: (message.bytes)(t, n) }));
        }
    }
    frames.sort_by_key(|(ms, frame)| (*ms, frame.id));
    frames.iter().fold(String::new(), |mut text, (_, frame)| {
        let _ = writeln!(text, "{}", frame.line("can0"));
        text
    })
}
