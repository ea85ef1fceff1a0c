//! Motors of every kind of record computed a second time from the laws they stand for: a magnet motor by searching its flux, a series motor
//! by searching its current, a curve by drawing it; and losses and their inverse held to the conservation of energy.

use crate::common::cases;
use joulethesis_core::library::{Motor, Part};
use joulethesis_core::powertrain::{MotorMap, rated_point};
use proptest::prelude::*;
use serde_json::{Value, json};

const PER_RPM: f64 = std::f64::consts::PI / 30.0;

fn motor(kind: &str, model: &Value, reference_v: Option<f64>, max_rpm: f64) -> Motor {
    let record = json!({ "part": "motor", "name": "m", "kind": kind, "model": model, "reference_voltage_v": reference_v, "max_speed_rpm": max_rpm,
        "continuous_power_w": 4000, "mass_kg": 20 });
    match Part::from_value(&record).unwrap_or_else(|e| panic!("{e}: {record}")) {
        Part::Motor(motor) => motor,
        other => panic!("{other:?}"),
    }
}

/// A magnet motor in plain numbers.
#[derive(Debug, Clone, Copy)]
struct Magnet {
    ke: f64,
    ohm: f64,
    idle_a: f64,
    peak_a: f64,
    weakening: f64,
}

prop_compose! {
    fn magnet()(ke in 0.05..0.6f64, volts in 36.0..200.0f64, sag in 0.02..0.25f64, idle in 0.005..0.03f64, peak_a in 80.0..500.0f64, weak in prop_oneof![Just(1.0), 1.0..2.5f64]) -> (Magnet, f64) {
        (Magnet { ke, ohm: sag * volts / peak_a, idle_a: idle * peak_a, peak_a, weakening: weak }, volts)
    }
}

impl Magnet {
    fn record(&self, volts: f64, max_rpm: f64) -> Motor {
        let model = json!({ "kind": "constants", "torque_constant_nm_a": self.ke, "resistance_ohm": self.ohm, "no_load_current_a": self.idle_a,
            "peak_current_a": self.peak_a, "field_weakening": self.weakening });
        motor("pm_synchronous", &model, Some(volts), max_rpm)
    }

    /// Torque with a flux: `V = K w + I R` and no more than the peak amps, `T = K (I - I0)`.
    fn with_flux(&self, k: f64, w: f64, volts: f64) -> f64 {
        k * (((volts - k * w) / self.ohm).min(self.peak_a) - self.idle_a).max(0.0)
    }

    /// The greatest torque over every flux the controller may set, by trying many.
    fn torque(&self, w: f64, volts: f64) -> f64 {
        let weakest = self.ke / self.weakening;
        (0..=4000).map(|i| weakest + (self.ke - weakest) * f64::from(i) / 4000.0).map(|k| self.with_flux(k, w, volts)).fold(0.0, f64::max)
    }
}

/// A series motor in plain numbers.
#[derive(Debug, Clone, Copy)]
struct Series {
    saturated: f64,
    half_a: f64,
    ohm: f64,
    brush_v: f64,
    drag_nm: f64,
    peak_a: f64,
}

prop_compose! {
    fn series()(saturated in 0.1..0.8f64, half in 0.2..0.8f64, sag in 0.03..0.2f64, brush_v in 0.0..3.0f64, drag in 0.0..0.05f64, peak_a in 150.0..900.0f64, volts in 48.0..160.0f64) -> (Series, f64) {
        (Series { saturated, half_a: half * peak_a, ohm: sag * volts / peak_a, brush_v, drag_nm: drag * saturated * peak_a, peak_a }, volts)
    }
}

impl Series {
    fn record(&self, volts: f64) -> Motor {
        let model = json!({ "kind": "series_dc", "saturated_constant_nm_a": self.saturated, "saturation_current_a": self.half_a, "resistance_ohm": self.ohm,
            "brush_drop_v": self.brush_v, "drag_torque_nm": self.drag_nm, "peak_current_a": self.peak_a });
        motor("series_dc", &model, Some(volts), 6000.0)
    }

    fn flux(&self, amps: f64) -> f64 {
        self.saturated * amps / (amps + self.half_a)
    }

    /// Amps at which the volts are used up, by halving.
    fn amps(&self, w: f64, volts: f64) -> f64 {
        let takes = |amps: f64| self.flux(amps) * w + amps * self.ohm + self.brush_v;
        halved(0.0, self.peak_a, |amps| takes(amps) <= volts)
    }

    fn torque(&self, w: f64, volts: f64) -> f64 {
        if volts <= self.brush_v {
            return 0.0;
        }
        let amps = self.amps(w, volts);
        (self.flux(amps) * amps - self.drag_nm).max(0.0)
    }
}

/// The greatest number between two that `holds`, when all below hold.
fn halved(mut low: f64, mut high: f64, holds: impl Fn(f64) -> bool) -> f64 {
    if holds(high) {
        return high;
    }
    for _ in 0..60 {
        let middle = 0.5 * (low + high);
        if holds(middle) { low = middle } else { high = middle }
    }
    low
}

fn near(what: &str, got: f64, want: f64, share: f64, floor: f64) -> Result<(), TestCaseError> {
    prop_assert!((got - want).abs() <= share * want.abs() + floor, "{what}: {got}, a second time {want}");
    Ok(())
}

proptest! {
    #![proptest_config(cases(192))]

    #[test]
    fn a_magnet_motor_has_the_torque_of_its_best_flux((m, volts) in magnet(), share in 0.0..1.6f64, lift in 0.6..1.1f64, count in 1u32..4) {
        let map = MotorMap::of(&m.record(volts, 9000.0), count);
        let bus_v = lift * volts;
        let w = (share * bus_v / m.ke).min(9000.0 * PER_RPM);
        let n = f64::from(count);
        let floor = 1e-3 * m.ke * m.peak_a * n;
        // Never more than any flux gives; and, but for the field kept whole where the winding itself takes the volts, as much as the best.
        let (got, best) = (map.curve_nm(w, bus_v), n * m.torque(w, bus_v));
        prop_assert!(got <= best * (1.0 + 1e-3) + floor, "{got} over {best}");
        if m.ke * w <= bus_v - m.peak_a * m.ohm || m.weakening == 1.0 {
            near("below the corner", got, best, 1e-3, floor)?;
        } else {
            prop_assert!(got >= 0.5 * best - floor, "{got} far under {best}");
        }
        near("amps to torque", map.torque_at_amps_nm(0.7 * m.peak_a).expect("it knows"), n * m.ke * (0.7 * m.peak_a - m.idle_a), 1e-12, 0.0)?;
        prop_assert!(map.follows_voltage());
    }

    #[test]
    fn a_series_motor_uses_up_its_volts((m, volts) in series(), share in 0.01..1.0f64, lift in 0.5..1.1f64, count in 1u32..3) {
        let map = MotorMap::of(&m.record(volts), count);
        let (w, bus_v, n) = (share * 6000.0 * PER_RPM, lift * volts, f64::from(count));
        near("torque", map.curve_nm(w, bus_v), n * m.torque(w, bus_v), 1e-6, 1e-6)?;
        // What it loses is what it draws less what it makes, at the amps its torque takes.
        let torque = 0.6 * map.curve_nm(w, bus_v);
        if torque > 0.0 {
            let amps = halved(0.0, 10.0 * m.peak_a, |a| n * (m.flux(a) * a - m.drag_nm) <= torque);
            let drawn = n * amps * (m.flux(amps) * w + amps * m.ohm + m.brush_v);
            near("loss", map.loss_w(torque, w), drawn - torque * w, 1e-6, 1e-3)?;
        }
    }

    #[test]
    fn power_in_is_power_out_and_loss_for_every_kind((m, volts) in magnet(), (s, series_v) in series(), share in 0.02..1.0f64, load in 0.01..1.0f64) {
        for map in [MotorMap::of(&m.record(volts, 6000.0), 2), MotorMap::of(&s.record(series_v), 1)] {
            let w = share * map.max_speed_rad_s;
            let torque = load * map.greatest_nm();
            let electric = torque * w + map.loss_w(torque, w);
            prop_assert!(map.loss_w(torque, w) >= 0.0);
            // The inverse finds the torque again, and more power is never less torque.
            near("torque of a power", map.torque_for_power_nm(w, electric), torque, 1e-6, 1e-6)?;
            prop_assert!(map.torque_for_power_nm(w, 1.1 * electric) >= torque * (1.0 - 1e-9));
            // Braking harder than the best returns less.
            let best = map.best_braking_nm(w);
            if best.is_finite() && best > 0.0 {
                let back = |t: f64| t * w - map.loss_w(-t, w);
                prop_assert!(back(best) >= back(0.99 * best) - 1e-6 && back(best) >= back(1.01 * best) - 1e-6);
            }
            prop_assert_eq!(map.curve_nm(map.max_speed_rad_s * 1.001, 1e4), 0.0);
        }
    }

    #[test]
    fn a_curve_is_drawn_through_its_points(shares in proptest::collection::vec(0.2..1.0f64, 2..7), torque in 20.0..300.0f64, at in 0.0..1.1f64, lift in 0.6..1.2f64) {
        let step = 6000.0 / (shares.len() - 1) as f64;
        let mut all: Vec<(f64, f64)> = shares.iter().enumerate().map(|(i, s)| (i as f64 * step, s * torque)).collect();
        // Data sheets fall with speed.
        all.sort_by(|a, b| b.1.total_cmp(&a.1));
        let all: Vec<(f64, f64)> = all.iter().enumerate().map(|(i, p)| (i as f64 * step, p.1)).collect();
        let points: Vec<Value> = all.iter().map(|(rpm, nm)| json!({ "speed_rpm": rpm, "torque_nm": nm })).collect();
        let record = motor("induction", &json!({ "kind": "points", "points": points }), Some(100.0), 12_000.0);
        let map = MotorMap::of(&record, 1);
        let rpm = at * 6000.0 * lift;
        // Speeds stretch with the volts: a rpm at 80 V stands where 1.25 times as many stand at 100 V.
        let scaled = rpm / lift;
        let want = if scaled > 6000.0 {
            0.0
        } else {
            let i = ((scaled / step) as usize).min(all.len() - 2);
            all[i].1 + (all[i + 1].1 - all[i].1) * (scaled - all[i].0) / step
        };
        if (scaled - 6000.0).abs() > 1e-6 {
            near("on the curve", map.curve_nm(rpm * PER_RPM, 100.0 * lift), want, 1e-9, 1e-9)?;
        }
        let (corner, rated) = rated_point(&record);
        prop_assert!((0.0..=6000.0 * PER_RPM + 1e-9).contains(&corner) && rated > 0.0 && map.greatest_nm() <= torque * (1.0 + 1e-9));
    }
}
