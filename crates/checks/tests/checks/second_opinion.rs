//! A second opinion from a general-purpose solver (Dormand-Prince and Runge-Kutta of the `ode_solvers` crate) on equations written
//! out again here: acceleration, trip energy, warming, charging. Each within 0.2 %.

use crate::common::{check, plain, read, with};
use joulethesis_core::charge::charge;
use joulethesis_core::document::TripPath;
use joulethesis_core::powertrain::heat::ThermalModel;
use joulethesis_core::powertrain::{Chain, Rating};
use joulethesis_core::simulate::{ACCELERATION_STEP_M_S, ShiftPolicy, TractiveForce, accelerate, drive_trace};
use joulethesis_core::trip::Trace;
use ode_solvers::{Dopri5, Rk4, System, Vector1, Vector2, Vector3};
use serde_json::{Value, json};

/// Asked of the second opinion.
const TOLERANCE: f64 = 2e-3;
const G: f64 = 9.806_65;

/// One vehicle, in plain numbers.
#[derive(Clone, Copy)]
struct Car {
    mass: f64,
    k: f64,
    drag_area: f64,
    crr: f64,
    ratio: f64,
    gearing: f64,
    radius: f64,
    torque: f64,
    power: f64,
    reference: f64,
    copper: f64,
    iron: f64,
    windage: f64,
    constant: f64,
    controller: f64,
    resistance: f64,
    share: f64,
    aux: f64,
}

const CAR: Car = Car {
    mass: 1250.0,
    k: 1.06,
    drag_area: 0.72,
    crr: 0.0125,
    ratio: 7.5,
    gearing: 0.95,
    radius: 0.29,
    torque: 160.0,
    power: 52_000.0,
    reference: 340.0,
    copper: 0.16,
    iron: 0.9,
    windage: 8e-6,
    constant: 60.0,
    controller: 0.96,
    resistance: 0.12,
    share: 0.55,
    aux: 220.0,
};
const DENSITY: f64 = 1.25;
const CELLS: f64 = 100.0;

fn document() -> Value {
    let c = CAR;
    let mut d = with(plain(), "/donor/test_mass_kg", json!(c.mass));
    d = with(d, "/donor/rotating_mass_factor", json!(c.k));
    d = with(d, "/donor/drag_coefficient", json!(c.drag_area / 2.0));
    d = with(d, "/donor/rolling_coefficient", json!(c.crr));
    d = with(d, "/donor/tyre", json!({ "rolling_radius_m": c.radius }));
    d = with(d, "/donor/driveline/stages/0", json!({ "kind": "reduction", "ratio": c.ratio, "efficiency": c.gearing }));
    d = with(d, "/design/motor/model", json!({ "kind": "envelope", "peak_torque_nm": c.torque, "peak_power_w": c.power }));
    d = with(d, "/design/motor/reference_voltage_v", json!(c.reference));
    d = with(
        d,
        "/design/motor/losses",
        json!({ "copper_w_per_nm2": c.copper, "iron_w_per_rad_s": c.iron, "windage_w_per_rad3_s3": c.windage, "constant_w": c.constant }),
    );
    d = with(d, "/design/controller/efficiency", json!(c.controller));
    d = with(
        d,
        "/design/pack/module/ocv",
        json!([{ "soc": 0, "volts_v": 3.2 }, { "soc": 0.5, "volts_v": 3.6 }, { "soc": 1, "volts_v": 4.1 }]),
    );
    d = with(d, "/design/pack/module/resistance_ohm", json!(c.resistance / CELLS));
    d = with(d, "/design/low_voltage", json!({ "load_w": c.aux, "converter_efficiency": 1 }));
    with(d, "/design/regeneration", json!({ "share": c.share }))
}

fn ocv(soc: f64) -> f64 {
    CELLS * if soc < 0.5 { 3.2 + 0.8 * soc } else { 3.6 + (soc - 0.5) }
}

/// Current at a power: the smaller root of P = I (V - I R).
fn current(volts: f64, ohm: f64, power: f64) -> f64 {
    if ohm == 0.0 { power / volts } else { (volts - (volts * volts - 4.0 * ohm * power).sqrt()) / (2.0 * ohm) }
}

impl Car {
    fn resistance(&self, v: f64, sin: f64) -> f64 {
        self.mass * G * (self.crr * (1.0 - sin * sin).sqrt() + sin) + 0.5 * DENSITY * self.drag_area * v * v
    }

    fn electric(&self, torque: f64, w: f64) -> f64 {
        torque * w + self.copper * torque * torque + self.iron * w + self.windage * w.powi(3) + self.constant
    }

    fn lost(&self, torque: f64, w: f64) -> f64 {
        self.electric(torque, w) - torque * w
    }

    /// Loss at the continuous rating of 30 kW at base speed, and the time constant by which the greatest torque there lasts a minute.
    fn heat(&self) -> (f64, f64) {
        let base = self.power / self.torque;
        let (rated, peak) = (self.lost(30_000.0 / base, base), self.lost(self.torque, base));
        (rated, -60.0 / (1.0 - rated / peak).ln())
    }

    fn bus(&self, torque: f64, w: f64) -> f64 {
        let e = self.electric(torque, w);
        if e > 0.0 { e / self.controller } else { e * self.controller }
    }

    /// Greatest torque with the bus sagging under it, by plain bisection on the torque.
    fn full_torque(&self, w: f64, volts: f64) -> f64 {
        let (mut low, mut high) = (0.0, self.torque);
        for _ in 0..80 {
            let t = 0.5 * (low + high);
            let amps = current(volts, self.resistance, self.bus(t, w) + self.aux);
            let sagged = volts - amps * self.resistance;
            if t * w <= self.power * sagged / self.reference { low = t } else { high = t }
        }
        low
    }
}

struct Run;
impl System<f64, Vector1<f64>> for Run {
    fn system(&self, _: f64, v: &Vector1<f64>, dv: &mut Vector1<f64>) {
        let w = v[0] * CAR.ratio / CAR.radius;
        let force = CAR.full_torque(w, ocv(0.5)) * CAR.ratio * CAR.gearing / CAR.radius;
        dv[0] = (force - CAR.resistance(v[0], 0.0)) / (CAR.mass * CAR.k);
    }
}

#[test]
fn acceleration() {
    let chain = Chain::of(&read(&document()), CAR.mass).expect("complete");
    let limits = chain.limits(0.5, chain.low_voltage_w, Rating::Peak);
    let mut pull = TractiveForce::new(&chain, &chain.gears, &limits, ACCELERATION_STEP_M_S);
    let mut solver = Dopri5::new(Run, 0.0, 30.0, 0.001, Vector1::new(0.0), 1e-10, 1e-10);
    solver.integrate().expect("solved");
    for to in [8.0, 14.0, 20.0, 27.0] {
        let i = solver.y_out().iter().position(|v| v[0] > to).expect("reached");
        let (a, b) = (solver.y_out()[i - 1][0], solver.y_out()[i][0]);
        let (ta, tb) = (solver.x_out()[i - 1], solver.x_out()[i]);
        let want = ta + (to - a) / (b - a) * (tb - ta);
        check(&format!("0 to {to} m/s"), accelerate(&mut pull, 0.0, to).time_s.expect("reached"), want, TOLERANCE);
    }
}

const STEPS: usize = 600;

/// Speed of a made-up trip at whole seconds, m/s: stops, cruising, a climb in the middle.
fn speed(t: usize) -> f64 {
    let x = t as f64;
    if t % 200 >= 190 {
        0.0
    } else {
        (9.0 + 6.0 * (x / 37.0).sin()) * ((t % 200) as f64 / 25.0).min(1.0) * ((190.0 - (t % 200) as f64) / 15.0).min(1.0)
    }
}

fn sin(t: f64) -> f64 {
    let grade: f64 = if (200.0..400.0).contains(&t) { 0.06 } else { 0.0 };
    grade.atan().sin()
}

/// State of charge, energy at the terminals, and the motor's temperature rise over that of its continuous rating.
struct Trip;
impl System<f64, Vector3<f64>> for Trip {
    fn system(&self, t: f64, y: &Vector3<f64>, dy: &mut Vector3<f64>) {
        let i = (t.floor() as usize).min(STEPS - 1);
        let (a, b) = (speed(i), speed(i + 1));
        let (v, accel) = (a + (b - a) * (t - i as f64), b - a);
        let (mut power, mut lost) = (CAR.aux, 0.0);
        if a + b > 0.0 {
            let force = CAR.resistance(v, sin(i as f64)) + CAR.mass * CAR.k * accel;
            let w = v * CAR.ratio / CAR.radius;
            // Braking: the motor's share fades in from standstill to 8 km/h; losses of the gears count the other way.
            let torque = if force >= 0.0 {
                force * CAR.radius / (CAR.ratio * CAR.gearing)
            } else {
                force * CAR.share * (v * 3.6 / 8.0).min(1.0) * CAR.radius * CAR.gearing / CAR.ratio
            };
            power += CAR.bus(torque, w);
            lost = CAR.lost(torque, w);
        }
        let amps = current(ocv(y[0]), CAR.resistance, power);
        dy[0] = -amps / (100.0 * 3600.0);
        dy[1] = power;
        let (rated, tau) = CAR.heat();
        dy[2] = (lost / rated - y[2]) / tau;
    }
}

#[test]
fn trip_energy_and_heat() {
    let points: Vec<Value> = (0..=STEPS)
        .map(|t| {
            let grade = if (200..400).contains(&t) { 6.0 } else { 0.0 };
            json!({ "time_s": t, "speed_kmh": speed(t) * 3.6, "grade_percent": grade })
        })
        .collect();
    let document = read(&with(document(), "/brief/trips", json!([{ "id": "t", "name": "T", "path": { "trace": points } }])));
    let chain = Chain::of(&document, CAR.mass).expect("complete");
    let TripPath::Trace(_) = &document.brief.trips[0].path else { panic!("a trace") };
    let got = drive_trace(&chain, &Trace::of(&document.brief.trips[0].path), ShiftPolicy::default(), 0.8);
    assert_eq!(got.off_trace_s, 0.0);
    let mut solver = Rk4::new(Trip, 0.0, Vector3::new(0.8, 0.0, 0.0), STEPS as f64, 0.02);
    solver.integrate().expect("solved");
    let end = solver.y_out().last().expect("an end");
    check("energy at the terminals", got.battery_j(), end[1], TOLERANCE);
    check("charge used", 0.8 - got.soc, 0.8 - end[0], TOLERANCE);
    check("motor's rise at the end", got.rise.motor, end[2], TOLERANCE);
}

/// A loss that comes and goes, W.
fn load(t: f64) -> f64 {
    120.0 * (t / 90.0).sin().abs() + 40.0
}

struct Warm(f64);
impl System<f64, Vector1<f64>> for Warm {
    fn system(&self, t: f64, y: &Vector1<f64>, dy: &mut Vector1<f64>) {
        dy[0] = (load(t) / 80.0 - y[0]) / self.0;
    }
}

#[test]
fn warming_under_a_changing_load() {
    let warming = ThermalModel::of(80.0, 200.0, 90.0, 140.0, 40.0);
    let tau = -90.0 / (1.0_f64 - 0.4).ln();
    check("time constant", warming.tau_s, tau, 1e-12);
    let mut solver = Dopri5::new(Warm(tau), 0.0, 1200.0, 0.01, Vector1::new(0.0), 1e-10, 1e-10);
    solver.integrate().expect("solved");
    let mut rise = 0.0;
    for second in 0..1200 {
        rise = warming.after(rise, load(f64::from(second) + 0.5), 1.0);
    }
    check("rise after 20 min", rise, solver.y_out().last().expect("an end")[0], TOLERANCE);
}

const END_V: f64 = 410.0;

/// Charge in share of the whole against hours: constant power, then current, then the end voltage.
struct Charging;
impl System<f64, Vector2<f64>> for Charging {
    fn system(&self, _: f64, y: &Vector2<f64>, dy: &mut Vector2<f64>) {
        let volts = ocv(y[0]);
        let r = CAR.resistance;
        let by_power = (-volts + (volts * volts + 4.0 * r * 9000.0).sqrt()) / (2.0 * r);
        let amps = by_power.min(25.0).min((END_V - volts) / r);
        dy[0] = amps * 0.995 / 100.0;
        dy[1] = amps * (volts + amps * r) / 0.92 / 1000.0;
    }
}

#[test]
fn charging_through_power_amps_and_taper() {
    let mut d = with(
        document(),
        "/design/charger",
        json!({ "name": "c", "output_min_v": 300, "output_max_v": END_V, "output_current_a": 25, "output_power_w": 9000, "efficiency": 0.92, "mass_kg": 5 }),
    );
    d = with(d, "/design/pack/module/full_voltage_v", json!(4.1));
    d = with(d, "/brief/sockets", json!([{ "id": "s", "name": "s", "voltage_v": 400, "current_a": 63 }]));
    let document = read(&d);
    let chain = Chain::of(&document, CAR.mass).expect("complete");
    let session = charge(&document, &chain.pack, &document.brief.sockets[0], 0.1, 0.985).expect("a charger");
    let mut solver = Rk4::new(Charging, 0.0, Vector2::new(0.1, 0.0), 6.0, 0.0005);
    solver.integrate().expect("solved");
    let i = solver.y_out().iter().position(|y| y[0] >= 0.985).expect("reached");
    check("hours", session.hours_h.expect("reached"), solver.x_out()[i], TOLERANCE);
    check("energy from the socket", session.socket_kwh, solver.y_out()[i][1], TOLERANCE);
}
