//! A vehicle drawn at random and everything it does, written out from docs/METHODS.md with plain searches and small steps.

use crate::common::{plain, with};
use proptest::prelude::*;
use serde_json::{Value, json};

const G: f64 = 9.806_65;
const DENSITY: f64 = 1.2;
const RADIUS: f64 = 0.3;
const WHEELBASE: f64 = 2.4;
const SERIES: f64 = 90.0;
const CELL_V: [f64; 3] = [3.3, 3.6, 4.1];
const FULL_CELL_V: f64 = 4.15;

/// One vehicle in plain numbers, drawn.
#[derive(Debug, Clone)]
pub(super) struct Vehicle {
    pub(super) mass: f64,
    pub(super) inertia: f64,
    pub(super) drag_area: f64,
    pub(super) rolling: f64,
    pub(super) rolling_per_m_s: f64,
    pub(super) adhesion: f64,
    pub(super) front: f64,
    pub(super) height: f64,
    pub(super) axle: usize,
    pub(super) gears: Vec<f64>,
    pub(super) gear_efficiency: f64,
    pub(super) shift_s: f64,
    pub(super) torque: f64,
    pub(super) power: f64,
    pub(super) reference: f64,
    pub(super) max_rpm: f64,
    pub(super) loss: [f64; 4],
    pub(super) per_amp: f64,
    pub(super) efficiency: f64,
    pub(super) battery_a: f64,
    pub(super) motor_a: f64,
    pub(super) regeneration_a: f64,
    pub(super) min_v: f64,
    pub(super) ohm: f64,
    pub(super) ah: f64,
    pub(super) peak_c: f64,
    pub(super) charge_c: f64,
    pub(super) share: f64,
    pub(super) fade_kmh: f64,
    pub(super) aux: f64,
}

prop_compose! {
    fn road()(mass in 400.0..2500.0f64, inertia in 1.02..1.2f64, drag_area in 0.3..1.4f64, rolling in 0.006..0.02f64, rolling_per_m_s in 0.0..1e-4f64,
        adhesion in 0.4..1.0f64, front in 0.35..0.6f64, height in 0.3..0.7f64, axle in 0usize..3) -> (f64, f64, f64, f64, f64, f64, f64, f64, usize) {
        (mass, inertia, drag_area, rolling, rolling_per_m_s, adhesion, front, height, axle)
    }
}

prop_compose! {
    fn drive()(gears in prop_oneof![Just(vec![8.0]), Just(vec![11.0, 6.0]), Just(vec![13.0, 8.0, 5.0])], gear_efficiency in 0.85..1.0f64,
        shift_s in 0.0..0.8f64, size in 0.5..2.0f64, base_rpm in 1500.0..4500.0f64, reference in 280.0..380.0f64, loss in 0.01..0.06f64,
        per_amp in 0.3..1.5f64, efficiency in 0.92..0.99f64, amps in 0.5..1.5f64, motor_amps in 0.6..1.3f64)
        -> (Vec<f64>, f64, f64, f64, f64, f64, f64, f64, f64, f64, f64) {
        (gears, gear_efficiency, shift_s, size, base_rpm, reference, loss, per_amp, efficiency, amps, motor_amps)
    }
}

prop_compose! {
    pub(super) fn vehicle()(r in road(), d in drive(), ohm in 0.02..0.3f64, ah in 40.0..150.0f64, peak_c in 2.0..8.0f64, charge_c in 0.3..2.0f64,
        regeneration_a in 40.0..300.0f64, share in 0.0..1.0f64, fade_kmh in 4.0..15.0f64, aux in 100.0..600.0f64) -> Vehicle {
        let (mass, inertia, drag_area, rolling, rolling_per_m_s, adhesion, front, height, axle) = r;
        let (gears, gear_efficiency, shift_s, size, base_rpm, reference, loss, per_amp, efficiency, amps, motor_amps) = d;
        let power = 45.0 * mass.sqrt() * size * 40.0;
        let w = base_rpm * std::f64::consts::PI / 30.0;
        let torque = power / w;
        Vehicle { mass, inertia, drag_area, rolling, rolling_per_m_s, adhesion, front, height, axle, gears, gear_efficiency, shift_s, torque, power,
            reference, max_rpm: 3.0 * base_rpm, loss: [loss * power / (torque * torque), 0.3 * loss * power / w, 0.02 * loss * power / w.powi(3), 0.1 * loss * power],
            per_amp, efficiency, battery_a: amps * power / 300.0, motor_a: motor_amps * torque / per_amp, regeneration_a, min_v: 240.0, ohm, ah, peak_c, charge_c,
            share, fade_kmh, aux }
    }
}

impl Vehicle {
    pub(super) fn document(&self) -> Value {
        let axle = ["front", "rear", "all"][self.axle];
        let mut d = with(plain(), "/brief/site", json!({ "temperature_c": 20, "air_density_kg_m3": DENSITY }));
        for (key, value) in [
            ("test_mass_kg", json!(self.mass)),
            ("rotating_mass_factor", json!(self.inertia)),
            ("drag_coefficient", json!(self.drag_area / 2.0)),
            ("rolling_coefficient", json!(self.rolling)),
            ("rolling_coefficient_per_m_s", json!(self.rolling_per_m_s)),
            ("adhesion", json!(self.adhesion)),
            ("front_axle_share", json!(self.front)),
            ("cg_height_m", json!(self.height)),
            ("wheelbase_m", json!(WHEELBASE)),
            ("driven_axle", json!(axle)),
            ("tyre", json!({ "rolling_radius_m": RADIUS })),
            (
                "driveline",
                json!({ "shift_s": self.shift_s,
                    "gears": self.gears.iter().map(|g| json!({ "ratio": g, "efficiency": self.gear_efficiency })).collect::<Vec<_>>() }),
            ),
        ] {
            d = with(d, &format!("/donor/{key}"), value);
        }
        let [copper, iron, windage, constant] = self.loss;
        d = with(
            d,
            "/design/motor",
            json!({ "name": "m", "kind": "pm_synchronous", "model": { "kind": "envelope", "peak_torque_nm": self.torque, "peak_power_w": self.power },
                "reference_voltage_v": self.reference, "max_speed_rpm": self.max_rpm, "continuous_power_w": 0.9 * self.power,
                "continuous_torque_nm": 0.95 * self.torque, "peak_s": 3600, "torque_per_amp_nm_a": self.per_amp, "mass_kg": 40,
                "losses": { "copper_w_per_nm2": copper, "iron_w_per_rad_s": iron, "windage_w_per_rad3_s3": windage, "constant_w": constant } }),
        );
        d = with(
            d,
            "/design/controller",
            json!({ "name": "c", "motor_kinds": ["pm_synchronous"], "min_voltage_v": self.min_v, "max_voltage_v": 500, "battery_current_a": self.battery_a,
                "battery_current_continuous_a": self.battery_a, "motor_current_a": self.motor_a, "motor_current_continuous_a": self.motor_a, "peak_s": 3600,
                "efficiency": self.efficiency, "regeneration_current_a": self.regeneration_a, "mass_kg": 10 }),
        );
        let ocv: Vec<Value> = [0.0, 0.4, 1.0].iter().zip(CELL_V).map(|(soc, v)| json!({ "soc": soc, "volts_v": v })).collect();
        for (key, value) in [
            ("ocv", json!(ocv)),
            ("resistance_ohm", json!(self.ohm / SERIES)),
            ("capacity_ah", json!(self.ah)),
            ("full_voltage_v", json!(FULL_CELL_V)),
            ("cutoff_voltage_v", json!(2.7)),
            ("peak_c", json!(self.peak_c)),
            ("continuous_c", json!(self.peak_c)),
            ("charge_c", json!(self.charge_c)),
        ] {
            d = with(d, &format!("/design/pack/module/{key}"), value);
        }
        d = with(d, "/design/pack/modules_in_series", json!(SERIES as u32));
        d = with(d, "/design/pack/soc_min", json!(0.1));
        d = with(d, "/design/low_voltage", json!({ "load_w": self.aux, "converter_efficiency": 1 }));
        d = with(
            d,
            "/design/charger",
            json!({ "name": "c", "output_min_v": 200, "output_max_v": FULL_CELL_V * SERIES, "output_current_a": 20, "output_power_w": 6000, "efficiency": 0.93, "mass_kg": 5 }),
        );
        d = with(d, "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 400, "current_a": 63 }]));
        with(
            d,
            "/design/regeneration",
            json!({ "share": self.share, "fade_from_kmh": self.fade_kmh, "fade_to_kmh": 0, "respect_pack_limits": true }),
        )
    }

    pub(super) fn ocv(&self, soc: f64) -> f64 {
        let [a, b, c] = CELL_V;
        SERIES * if soc < 0.4 { a + (b - a) * soc / 0.4 } else { b + (c - b) * (soc - 0.4) / 0.6 }
    }

    /// Terminals under a power: amps (positive out of the pack) and volts; none past the greatest power.
    pub(super) fn terminals(&self, ocv: f64, watts: f64) -> Option<(f64, f64)> {
        let root = ocv * ocv - 4.0 * self.ohm * watts;
        let amps = (ocv - root.max(0.0).sqrt()) / (2.0 * self.ohm);
        (root >= 0.0).then_some((amps, ocv - amps * self.ohm))
    }

    pub(super) fn resistance(&self, v: f64, grade: f64) -> f64 {
        let th = grade.atan();
        self.mass * G * ((self.rolling + self.rolling_per_m_s * v) * th.cos() + th.sin()) + 0.5 * DENSITY * self.drag_area * v * v
    }

    /// Greatest force that the driven axle passes, forwards and backwards.
    pub(super) fn grip(&self) -> (f64, f64) {
        let (weight, lift) = (self.mass * G, self.adhesion * self.height / WHEELBASE);
        let share = |forwards: f64| match self.axle {
            0 => self.front / (1.0 + forwards * lift),
            1 => (1.0 - self.front) / (1.0 - forwards * lift),
            _ => 1.0,
        };
        (self.adhesion * weight * share(1.0), self.adhesion * weight * share(-1.0))
    }

    pub(super) fn bus(&self, torque: f64, w: f64) -> f64 {
        let [copper, iron, windage, constant] = self.loss;
        let electric = torque * w + copper * torque * torque + iron * w + windage * w.powi(3) + constant;
        if electric > 0.0 { electric / self.efficiency } else { electric * self.efficiency }
    }

    /// Whether every part bears a driving torque at a speed.
    pub(super) fn bears(&self, torque: f64, w: f64, soc: f64) -> bool {
        let bus = self.bus(torque, w);
        let Some((amps, volts)) = self.terminals(self.ocv(soc), bus + self.aux) else { return false };
        torque <= self.torque.min(self.motor_a * self.per_amp)
            && torque * w <= self.power * volts / self.reference
            && amps <= self.peak_c * self.ah
            && volts >= self.min_v.max(2.7 * SERIES)
            && bus <= self.battery_a * volts
    }

    pub(super) fn full_torque(&self, w: f64, soc: f64) -> f64 {
        if w > self.max_rpm * std::f64::consts::PI / 30.0 {
            return 0.0;
        }
        halved(0.0, self.torque, |t| self.bears(t, w, soc))
    }

    pub(super) fn full_force(&self, gear: f64, v: f64, soc: f64) -> f64 {
        (self.full_torque(v * gear / RADIUS, soc) * gear * self.gear_efficiency / RADIUS).min(self.grip().0)
    }

    /// Braking torque for a force asked of the wheels: its share as far as every part takes it.
    pub(super) fn braking(&self, gear: f64, v: f64, force: f64, soc: f64) -> f64 {
        let w = v * gear / RADIUS;
        let asked = (self.share * (3.6 * v / self.fade_kmh).min(1.0) * force).min(self.grip().1) * RADIUS * self.gear_efficiency / gear;
        let ocv = self.ocv(soc);
        halved(0.0, asked, |t| {
            let back = -self.bus(-t, w);
            let Some((amps, volts)) = self.terminals(ocv, self.aux - back) else { return false };
            t <= self.torque.min(self.motor_a * self.per_amp)
                && t * w <= self.power * ocv / self.reference
                && 2.0 * self.loss[0] * t <= w
                && back <= self.regeneration_a * volts
                && (back <= 0.0 || -amps <= self.charge_c * self.ah && (volts <= FULL_CELL_V * SERIES || amps >= 0.0))
        })
    }

    /// Least power at the terminals for a second, over the gears that bear it; none where none does.
    pub(super) fn second(&self, (from, to): (f64, f64), soc: f64) -> Option<f64> {
        let v = 0.5 * (from + to);
        if v == 0.0 {
            return Some(self.aux);
        }
        let force = self.resistance(v, 0.0) + self.mass * self.inertia * (to - from);
        let fastest = self.max_rpm * std::f64::consts::PI / 30.0;
        let one = |gear: &f64| {
            let w = v * gear / RADIUS;
            if w > fastest {
                return None;
            }
            if force < 0.0 {
                return Some(self.bus(-self.braking(*gear, v, -force, soc), w) + self.aux);
            }
            let torque = force * RADIUS / (gear * self.gear_efficiency);
            (force <= self.grip().0 && self.bears(torque, w, soc)).then(|| self.bus(torque, w) + self.aux)
        };
        self.gears.iter().filter_map(one).min_by(f64::total_cmp)
    }

    /// Charge left after a trip and energy drawn, or nothing where a second is beyond the chain.
    pub(super) fn trip(&self, speeds: &[f64], soc: f64) -> Option<(f64, f64)> {
        speeds.windows(2).try_fold((soc, 0.0), |(soc, joules), pair| {
            let watts = self.second((pair[0], pair[1]), soc)?;
            let (amps, _) = self.terminals(self.ocv(soc), watts)?;
            Some((soc - amps / (3600.0 * self.ah), joules + watts))
        })
    }

    pub(super) fn acceleration(&self, gear: f64, v: f64, soc: f64) -> f64 {
        (self.full_force(gear, v, soc) - self.resistance(v, 0.0)) / (self.mass * self.inertia)
    }

    /// Seconds from rest: the best of each first gear, alone and changing up where the next accelerates harder, a change rolling freely.
    pub(super) fn sprint(&self, to: f64, soc: f64) -> Option<f64> {
        const DT: f64 = 0.01;
        let run = |first: usize, last: usize| {
            let (mut gear, mut v, mut t) = (first, 0.0, 0.0);
            while v < to {
                let a = self.acceleration(self.gears[gear], v, soc);
                let mid = self.acceleration(self.gears[gear], v + 0.5 * DT * a, soc);
                // Changed where the next gear is stronger, or where this one is at its end within the step.
                if gear < last && self.acceleration(self.gears[gear + 1], v, soc) > a.min(mid).max(0.0) {
                    gear += 1;
                    let slower = self.resistance(v, 0.0) / (self.mass * self.inertia) * self.shift_s;
                    (v, t) = ((v - slower).max(0.0), t + self.shift_s);
                    continue;
                }
                if mid <= 1e-3 || t > 120.0 {
                    return None;
                }
                let step = ((to - v) / mid).min(DT);
                (v, t) = (v + mid * step, t + step);
            }
            Some(t)
        };
        let last = self.gears.len() - 1;
        (0..=last).flat_map(|first| [run(first, first), run(first, last)]).flatten().min_by(f64::total_cmp)
    }

    /// Highest speed from rest in a gear, m/s.
    pub(super) fn top(&self, gear: f64, soc: f64) -> f64 {
        let limit = self.max_rpm * std::f64::consts::PI / 30.0 * RADIUS / gear;
        let surplus = |v: f64| self.full_force(gear, v, soc) - self.resistance(v, 0.0);
        let mut v = 0.0;
        while v < limit && surplus(v) >= 0.0 {
            v += 0.1;
        }
        if v >= limit && surplus(limit * (1.0 - 1e-9)) >= 0.0 {
            limit
        } else {
            halved((v - 0.1).max(0.0), v.min(limit), |v| surplus(v) >= 0.0)
        }
    }

    /// Steepest grade at a speed, percent, tyres included.
    pub(super) fn hill(&self, v: f64, soc: f64) -> f64 {
        let best = self.gears.iter().map(|g| self.full_force(*g, v, soc)).fold(0.0, f64::max);
        let holds = |grade: f64| {
            let asked = self.resistance(v, grade);
            asked <= best && asked <= self.grip().0 * grade.atan().cos()
        };
        100.0 * halved(0.0, 1.0, holds)
    }

    /// Hours to charge between two states, in steps of a second.
    pub(super) fn charging(&self, mut soc: f64, to: f64) -> f64 {
        let (mut seconds, end_v) = (0.0, FULL_CELL_V * SERIES);
        while soc < to && seconds < 4e5 {
            let ocv = self.ocv(soc);
            let by_power = (-ocv + (ocv * ocv + 4.0 * self.ohm * 6000.0).sqrt()) / (2.0 * self.ohm);
            let amps = by_power.min(20.0).min(self.charge_c * self.ah).min((end_v - ocv) / self.ohm);
            soc += amps / (3600.0 * self.ah) * 0.995;
            seconds += 1.0;
        }
        seconds / 3600.0
    }
}

/// The greatest of some numbers between two that `holds`, when it holds for all below.
fn halved(mut low: f64, mut high: f64, holds: impl Fn(f64) -> bool) -> f64 {
    if holds(high) {
        return high;
    }
    for _ in 0..50 {
        let middle = 0.5 * (low + high);
        if holds(middle) { low = middle } else { high = middle }
    }
    low
}
