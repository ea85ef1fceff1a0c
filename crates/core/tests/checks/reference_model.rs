//! The whole chain computed a second time on vehicles drawn at random: docs/METHODS.md written out plainly, every limit found by halving
//! a torque, every run by small steps of time, every trip by the second, nothing shared with the code under check but the document.

use crate::common::{cases, plain, read, with};
use joulethesis_core::charge::charge;
use joulethesis_core::document::{Schedule, TripPath};
use joulethesis_core::powertrain::{Chain, Rating};
use joulethesis_core::simulate::{
    ACCELERATION_STEP_M_S, RangeEnd, ShiftPolicy, TractiveForce, accelerate, drive_trace, hill_at_speed, hill_start, range, top_speed,
};
use joulethesis_core::trip::Trace;
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
struct Vehicle {
    mass: f64,
    inertia: f64,
    drag_area: f64,
    rolling: f64,
    rolling_per_m_s: f64,
    adhesion: f64,
    front: f64,
    height: f64,
    axle: usize,
    gears: Vec<f64>,
    gear_efficiency: f64,
    shift_s: f64,
    torque: f64,
    power: f64,
    reference: f64,
    max_rpm: f64,
    loss: [f64; 4],
    per_amp: f64,
    efficiency: f64,
    battery_a: f64,
    motor_a: f64,
    regeneration_a: f64,
    min_v: f64,
    ohm: f64,
    ah: f64,
    peak_c: f64,
    charge_c: f64,
    share: f64,
    fade_kmh: f64,
    aux: f64,
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
    fn vehicle()(r in road(), d in drive(), ohm in 0.02..0.3f64, ah in 40.0..150.0f64, peak_c in 2.0..8.0f64, charge_c in 0.3..2.0f64,
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
    fn document(&self) -> Value {
        let axle = ["front", "rear", "all"][self.axle];
        let mut d = with(plain(), "/brief/site", json!({ "air_density_kg_m3": DENSITY }));
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

    fn ocv(&self, soc: f64) -> f64 {
        let [a, b, c] = CELL_V;
        SERIES * if soc < 0.4 { a + (b - a) * soc / 0.4 } else { b + (c - b) * (soc - 0.4) / 0.6 }
    }

    /// Terminals under a power: amps (positive out of the pack) and volts; none past the greatest power.
    fn terminals(&self, ocv: f64, watts: f64) -> Option<(f64, f64)> {
        let root = ocv * ocv - 4.0 * self.ohm * watts;
        let amps = (ocv - root.max(0.0).sqrt()) / (2.0 * self.ohm);
        (root >= 0.0).then_some((amps, ocv - amps * self.ohm))
    }

    fn resistance(&self, v: f64, grade: f64) -> f64 {
        let th = grade.atan();
        self.mass * G * ((self.rolling + self.rolling_per_m_s * v) * th.cos() + th.sin()) + 0.5 * DENSITY * self.drag_area * v * v
    }

    /// Greatest force that the driven axle passes, forwards and backwards.
    fn grip(&self) -> (f64, f64) {
        let (weight, lift) = (self.mass * G, self.adhesion * self.height / WHEELBASE);
        let share = |forwards: f64| match self.axle {
            0 => self.front / (1.0 + forwards * lift),
            1 => (1.0 - self.front) / (1.0 - forwards * lift),
            _ => 1.0,
        };
        (self.adhesion * weight * share(1.0), self.adhesion * weight * share(-1.0))
    }

    fn bus(&self, torque: f64, w: f64) -> f64 {
        let [copper, iron, windage, constant] = self.loss;
        let electric = torque * w + copper * torque * torque + iron * w + windage * w.powi(3) + constant;
        if electric > 0.0 { electric / self.efficiency } else { electric * self.efficiency }
    }

    /// Whether every part bears a driving torque at a speed.
    fn bears(&self, torque: f64, w: f64, soc: f64) -> bool {
        let bus = self.bus(torque, w);
        let Some((amps, volts)) = self.terminals(self.ocv(soc), bus + self.aux) else { return false };
        torque <= self.torque.min(self.motor_a * self.per_amp)
            && torque * w <= self.power * volts / self.reference
            && amps <= self.peak_c * self.ah
            && volts >= self.min_v.max(2.7 * SERIES)
            && bus <= self.battery_a * volts
    }

    fn full_torque(&self, w: f64, soc: f64) -> f64 {
        if w > self.max_rpm * std::f64::consts::PI / 30.0 {
            return 0.0;
        }
        halved(0.0, self.torque, |t| self.bears(t, w, soc))
    }

    fn full_force(&self, gear: f64, v: f64, soc: f64) -> f64 {
        (self.full_torque(v * gear / RADIUS, soc) * gear * self.gear_efficiency / RADIUS).min(self.grip().0)
    }

    /// Braking torque for a force asked of the wheels: its share as far as every part takes it.
    fn braking(&self, gear: f64, v: f64, force: f64, soc: f64) -> f64 {
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
    fn second(&self, (from, to): (f64, f64), soc: f64) -> Option<f64> {
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
    fn trip(&self, speeds: &[f64], soc: f64) -> Option<(f64, f64)> {
        speeds.windows(2).try_fold((soc, 0.0), |(soc, joules), pair| {
            let watts = self.second((pair[0], pair[1]), soc)?;
            let (amps, _) = self.terminals(self.ocv(soc), watts)?;
            Some((soc - amps / (3600.0 * self.ah), joules + watts))
        })
    }

    fn acceleration(&self, gear: f64, v: f64, soc: f64) -> f64 {
        (self.full_force(gear, v, soc) - self.resistance(v, 0.0)) / (self.mass * self.inertia)
    }

    /// Seconds from rest: the best of each first gear, alone and changing up where the next accelerates harder, a change rolling freely.
    fn sprint(&self, to: f64, soc: f64) -> Option<f64> {
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
    fn top(&self, gear: f64, soc: f64) -> f64 {
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
    fn hill(&self, v: f64, soc: f64) -> f64 {
        let best = self.gears.iter().map(|g| self.full_force(*g, v, soc)).fold(0.0, f64::max);
        let holds = |grade: f64| {
            let asked = self.resistance(v, grade);
            asked <= best && self.resistance(v, grade) - 0.5 * DENSITY * self.drag_area * v * v <= self.grip().0 * grade.atan().cos()
        };
        100.0 * halved(0.0, 1.0, holds)
    }

    /// Hours to charge between two states, in steps of a second.
    fn charging(&self, mut soc: f64, to: f64) -> f64 {
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
            // Where two gears pull alike, rounding decides about one change more or less.
            let (share, change_s) = if car.gears.len() > 1 { (0.01, 1.1 * car.shift_s) } else { (4e-3, 0.0) };
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
