//! What a brief demands of a donor before any part is chosen: force and power at the wheels, energy for the trips, kilowatts at the
//! socket, revolutions for each volt; and where no motor can help because the tyres let go first.

use super::needs_answer::{ChargerNeed, GearNeed, HeldFor, Impossible, Needs, RoadLine, TripNeed, VoltNeed, WheelNeed};
use crate::document::{Checked, Design, Document, Layout, Measure, Season, SocketKind, Trip, front_share};
use crate::error::Result;
use crate::figures::{hill_at, speeds, trips};
use crate::powertrain::{Chain, Rating, gear_paths};
use crate::quantity::crossing;
use crate::quantity::sentence;
use crate::quantity::units::{KMH_PER_M_S, RAD_S_PER_RPM};
use crate::quantity::{Sentence, figure};
use crate::simulate::{ACCELERATION_STEP_M_S, ShiftPolicy, TractiveForce, accelerate, drive_trace_watched};
use crate::trip::Trace;
use crate::vehicle::{Conditions, Road, Traction, masses, radius_m};

/// From pack to wheel on the road: driveline 0.92, motor 0.90, controller 0.96 (handbook, from memory).
const PACK_TO_WHEEL: f64 = 0.79;
/// From socket to pack: charger 0.90, cells 0.98 (handbook, from memory).
const SOCKET_TO_PACK: f64 = 0.88;
/// Share of the nominal voltage left when the motor turns at its highest under load (common practice).
const SAGGED: f64 = 0.9;
/// Power that no trip comes near, W.
const AMPLE_W: f64 = 1e9;
/// State of charge of a source that does not mind.
const IDEAL_SOC: f64 = 0.5;
/// Mean acceleration that a vehicle is taken to offer where a driver asks for a share of it, m/s2: 0-100 km/h in 14 s (common practice).
const USUAL_LAUNCH_M_S2: f64 = 2.0;
/// System voltages that revolutions are given for, V.
const VOLTAGES: [f64; 4] = [48.0, 96.0, 144.0, 320.0];

/// Least power at the wheels for a run between two speeds, W; `Err` with the least time that the grip allows.
fn acceleration_power_w(ideal: impl Fn(f64) -> Chain, grip_n: f64, (from, to): (f64, f64), within_s: f64) -> std::result::Result<f64, f64> {
    let time = |watts: f64| {
        let chain = ideal(watts);
        let limits = chain.limits(IDEAL_SOC, 0.0, Rating::Peak);
        accelerate(&mut TractiveForce::new(&chain, &chain.gears, &limits, ACCELERATION_STEP_M_S), from, to).time_s.unwrap_or(f64::INFINITY)
    };
    let most = grip_n * to * 1.01;
    // How much quicker than asked; never reached is not quick at all.
    let margin = |watts: f64| within_s / time(watts) - 1.0;
    if margin(most) < 0.0 { Err(time(most)) } else { Ok(crossing(0.0, most, margin).unwrap_or(most)) }
}

struct Asking<'a> {
    document: &'a Document,
    road: Road,
    grip_n: f64,
    radius_m: f64,
    out: Needs,
}

impl Asking<'_> {
    fn wheel(&mut self, goal: &crate::document::Goal, name: Sentence, v_m_s: f64, force_n: f64, held_for: HeldFor) {
        let name = if goal.name.trim().is_empty() { name } else { goal.name.clone().into() };
        self.out.wheels.push(WheelNeed {
            goal: goal.id.clone(),
            name,
            level: goal.level,
            speed_kmh: v_m_s * KMH_PER_M_S,
            force_n,
            wheel_torque_nm: force_n * self.radius_m,
            power_w: force_n * v_m_s,
            held_for,
        });
    }

    fn impossible(&mut self, goal: &crate::document::Goal, name: Sentence, best: f64, unit: &str, why: Sentence) {
        let name = if goal.name.trim().is_empty() { name } else { goal.name.clone().into() };
        self.out.impossible.push(Impossible {
            goal: goal.id.clone(),
            name,
            target: goal.measure.target(),
            best: best.is_finite().then_some(best),
            unit: unit.to_owned(),
            why,
        });
    }

    /// The vehicle with an ideal chain of some power at the wheels, on the usual day.
    fn ideal(&self, wheel_power_w: f64) -> Chain {
        Chain::ideal(self.document, self.road.mass_kg, &Conditions::of(self.document), PACK_TO_WHEEL, wheel_power_w)
    }

    /// A hill at a speed: the pull, and whether the tyres pass it.
    fn hill(&mut self, goal: &crate::document::Goal, name: Sentence, v_m_s: f64, percent: f64, held_for: HeldFor) {
        let grade = percent / 100.0;
        let force_n = self.road.steady_n(v_m_s, grade);
        self.wheel(goal, name.clone(), v_m_s, force_n, held_for);
        // Grip falls with the cosine of the slope.
        let grip_n = self.grip_n / (1.0 + grade * grade).sqrt();
        if force_n > grip_n {
            let traction = Traction { drive_n: self.grip_n, brake_n: 0.0 };
            let (_, best) = crate::simulate::climb_and_grip(&self.road, &traction, self.grip_n, v_m_s);
            let why = sentence!(
                "the driven tyres pass {} there and the hill takes {}; no motor climbs more than {}",
                figure(grip_n, "N", 0),
                figure(force_n, "N", 0),
                figure(best, "%", 1)
            );
            self.impossible(goal, name, best, "%", why);
        }
    }

    fn goals(&mut self) {
        let document = self.document;
        for goal in &document.brief.goals {
            match &goal.measure {
                Measure::TopSpeed { at_least_kmh } => {
                    let v = at_least_kmh / KMH_PER_M_S;
                    let force_n = self.road.steady_n(v, 0.0);
                    self.wheel(goal, "Top speed".into(), v, force_n, HeldFor::Peak);
                }
                Measure::Acceleration { from_kmh, to_kmh, at_most_s } => {
                    let name = speeds(*from_kmh, *to_kmh);
                    let speeds = (from_kmh / KMH_PER_M_S, to_kmh / KMH_PER_M_S);
                    match acceleration_power_w(|watts| self.ideal(watts), self.grip_n, speeds, *at_most_s) {
                        Ok(watts) => self.wheel(goal, name, speeds.1, watts / speeds.1, HeldFor::Peak),
                        Err(least_s) => {
                            let axle = match (document.donor.driven_axle, document.design.motor_place) {
                                (_, crate::document::MotorPlace::EachAxle | crate::document::MotorPlace::EveryWheel)
                                | (crate::document::DrivenAxle::All, _) => "all tyres",
                                (crate::document::DrivenAxle::Front, _) => "front tyres",
                                (crate::document::DrivenAxle::Rear, _) => "rear tyres",
                            };
                            let takes = if least_s.is_finite() {
                                sentence!("it takes {}", figure(least_s, "s", 1))
                            } else {
                                "it is not reached".into()
                            };
                            let why = sentence!(
                                "the {} pass {} at an adhesion of {}: ",
                                axle,
                                figure(self.grip_n, "N", 0),
                                figure(document.donor.adhesion, "", 2)
                            )
                            .then(takes)
                            .then(" however strong the motor".into());
                            self.impossible(goal, name, least_s, "s", why);
                        }
                    }
                }
                Measure::HillStart { at_least_percent } => self.hill(goal, "Hill start".into(), 0.0, *at_least_percent, HeldFor::Peak),
                Measure::HillAtSpeed { speed_kmh, at_least_percent, continuous, ten_minutes } => {
                    let held = match (continuous, ten_minutes) {
                        (true, _) => HeldFor::Continuous,
                        (false, true) => HeldFor::TenMinutes,
                        (false, false) => HeldFor::Peak,
                    };
                    let name = hill_at(*speed_kmh, "");
                    self.hill(goal, name, speed_kmh / KMH_PER_M_S, *at_least_percent, held);
                }
                // What must not be exceeded demands nothing.
                Measure::SpeedLimit { .. }
                | Measure::PowerLimit { .. }
                | Measure::Range { .. }
                | Measure::EnergyUse { .. }
                | Measure::ChargeTime { .. }
                | Measure::Cost { .. }
                | Measure::AddedMass { .. } => {}
            }
        }
    }

    fn trip(&self, trip: &Trip, trace: &Trace, season: (&str, Option<&Season>), asked_km: Option<f64>) -> TripNeed {
        let document = self.document;
        let day = season.1.map_or_else(|| Conditions::of_trip(document, trip), |s| Conditions::of_season(document, s));
        let payload_kg = trip.payload_kg.map_or(0.0, |kg| kg - document.brief.payload_kg);
        let mass_kg = if document.donor.test_mass_kg.is_some() { self.road.mass_kg } else { self.road.mass_kg + payload_kg };
        let hvac_w = trip.hvac_w + season.1.map_or(0.0, |s| s.hvac_w);
        let chain = Chain::ideal(document, mass_kg, &day, PACK_TO_WHEEL, AMPLE_W);
        let beside_w = chain.low_voltage_w + hvac_w;
        let (mut pulled_j, mut pulled_s, mut peak_w) = (0.0, 0.0, 0.0_f64);
        let (mut last_j, mut last_s) = (0.0, trace.points.first().map_or(0.0, |p| p.time_s));
        let run = drive_trace_watched(&chain, trace, ShiftPolicy { hvac_w, ..ShiftPolicy::default() }, IDEAL_SOC, |state, to| {
            let dt = to.time_s - last_s;
            let wheel_w = ((state.battery_j() - last_j) / dt - beside_w) * PACK_TO_WHEEL;
            (last_j, last_s) = (state.battery_j(), to.time_s);
            // Rounding may leave a hair of standing still.
            if wheel_w > 1e-6 {
                pulled_j += wheel_w * dt;
                pulled_s += dt;
                peak_w = peak_w.max(wheel_w);
            }
        });
        let length_m = trace.distance_m().max(1.0);
        // J over m is kJ over km; 3.6 kJ are a watt-hour.
        let pack_wh_per_km = run.battery_j().max(0.0) / 3.6 / length_m;
        let range_km = asked_km.unwrap_or(length_m / 1000.0);
        TripNeed {
            trip: trip.id.clone(),
            name: trip.name.clone(),
            season: season.0.to_owned(),
            temperature_c: day.temperature_c,
            distance_km: length_m / 1000.0,
            wheel_wh_per_km: pulled_j / 3.6 / length_m,
            pack_wh_per_km,
            usable_kwh: pack_wh_per_km * range_km / 1000.0,
            range_km,
            mean_power_w: if pulled_s > 0.0 { pulled_j / pulled_s } else { 0.0 },
            peak_power_w: peak_w,
        }
    }

    fn trips(&mut self) {
        let brief = &self.document.brief;
        for trip in trips::all(self.document) {
            let asked_km = brief
                .goals
                .iter()
                .filter_map(|g| match &g.measure {
                    Measure::Range { trip: id, at_least_km } if *id == trip.id => Some(*at_least_km),
                    _ => None,
                })
                .reduce(f64::max);
            let trace = Trace::of_trip(&trip, trip.driving_style, &|_| Some(USUAL_LAUNCH_M_S2));
            for season in [("usual", None), ("summer", Some(&brief.summer)), ("winter", Some(&brief.winter))] {
                let need = self.trip(&trip, &trace, season, asked_km);
                self.out.trips.push(need);
            }
        }
    }

    fn chargers(&mut self) {
        let brief = &self.document.brief;
        let goal_kwh = |t: &&TripNeed| {
            t.season == "usual" && brief.goals.iter().any(|g| matches!(&g.measure, Measure::Range { trip, .. } if *trip == t.trip))
        };
        let usual = |t: &&TripNeed| t.season == "usual";
        let most = |of: &dyn Fn(&&TripNeed) -> bool| self.out.trips.iter().filter(of).map(|t| t.usable_kwh).reduce(f64::max);
        let Some(pack_kwh) = most(&goal_kwh).or_else(|| most(&usual)) else { return };
        for goal in &brief.goals {
            let Measure::ChargeTime { socket: id, at_most_h } = &goal.measure else { continue };
            let Some(socket) = brief.sockets.iter().find(|s| s.id == *id) else { continue };
            let charger_w = 1000.0 * pack_kwh / at_most_h;
            let socket_w = charger_w / if socket.kind == SocketKind::Ac { SOCKET_TO_PACK } else { 1.0 };
            let gives = socket.voltage_v * socket.current_a * f64::from(socket.phases) * socket.continuous_share;
            let socket_gives_w = socket.power_w.map_or(gives, |w| w.min(gives));
            self.out.chargers.push(ChargerNeed {
                socket: id.clone(),
                name: socket.name.clone(),
                hours_h: *at_most_h,
                pack_kwh,
                charger_w,
                socket_w,
                socket_gives_w,
                enough: socket_w <= socket_gives_w,
            });
        }
    }

    fn gears(&mut self) {
        let fastest = self.out.wheels.iter().map(|w| w.speed_kmh).fold(0.0, f64::max);
        if fastest <= 0.0 {
            return;
        }
        let tractive_n = self.out.wheels.iter().map(|w| w.force_n).fold(0.0, f64::max);
        for path in gear_paths(self.document, self.road.mass_kg, self.radius_m, self.document.brief.site.temperature_c) {
            let motor_rpm = fastest / KMH_PER_M_S * path.rad_per_m / RAD_S_PER_RPM;
            self.out.gears.push(GearNeed {
                gear: path.gear,
                range: path.range,
                overall_ratio: path.ratio,
                speed_kmh: fastest,
                motor_rpm,
                rpm_per_volt: VOLTAGES.map(|v| VoltNeed { nominal_v: v, rpm_per_volt: motor_rpm / (SAGGED * v) }).to_vec(),
                motor_torque_nm: tractive_n * self.radius_m / (path.ratio * path.efficiency),
            });
        }
    }
}

/// What a brief demands of its donor, before any part is chosen.
///
/// Masses follow the design where it has a motor and a pack, else the vehicle is taken to weigh what the donor weighed. Losses are the
/// usual ones of the class.
///
/// # Errors
/// As [`Document::check`].
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::matching::needs;
/// let needs = needs(&Document::from_json(&demo("pipit-b")?)?)?;
/// assert!(needs.peak_power_w >= needs.continuous_power_w && needs.impossible.is_empty());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn needs(document: &Checked) -> Result<Needs> {
    let complete = document.design.motor.is_some() && document.design.pack.is_some();
    let m = masses(document);
    let as_donor_kg =
        document.donor.test_mass_kg.unwrap_or(document.donor.curb_mass_kg + document.brief.driver_kg + document.brief.payload_kg);
    let test_kg = if complete { m.test_kg } else { as_donor_kg };
    let mut bare: Document = (**document).clone();
    if !complete {
        bare.design.motor = None;
        // As heavy as the donor, so as balanced and as high as it is.
        bare.donor.removed.clear();
        bare.design.added.clear();
        bare.design.layout = Layout::default();
        bare.design.front_axle_share = Some(front_share(&Document { design: Design::default(), ..bare.clone() }));
    }
    let day = Conditions::of(document);
    let road = Road::of(document, test_kg, &day);
    let grip_n = Traction::of(&bare, test_kg).drive_n;
    let radius_m = radius_m(document);
    let out = Needs {
        test_kg,
        mass_as_donor: !complete,
        grip_n,
        rolling_radius_m: radius_m,
        wheels: Vec::new(),
        peak_power_w: 0.0,
        continuous_power_w: 0.0,
        peak_wheel_torque_nm: 0.0,
        trips: Vec::new(),
        chargers: Vec::new(),
        gears: Vec::new(),
        impossible: Vec::new(),
        speed_kmh: Vec::new(),
        road: Vec::new(),
    };
    let mut asking = Asking { document: &bare, road, grip_n, radius_m, out };
    asking.goals();
    asking.trips();
    asking.chargers();
    asking.gears();
    let mut out = asking.out;
    let usual = || out.trips.iter().filter(|t| t.season == "usual");
    let held = |w: &&WheelNeed| w.held_for != HeldFor::Peak;
    out.peak_power_w = out.wheels.iter().map(|w| w.power_w).chain(usual().map(|t| t.peak_power_w)).fold(0.0, f64::max);
    out.continuous_power_w = out.wheels.iter().filter(held).map(|w| w.power_w).chain(usual().map(|t| t.mean_power_w)).fold(0.0, f64::max);
    out.peak_wheel_torque_nm = out.wheels.iter().map(|w| w.wheel_torque_nm).fold(0.0, f64::max);
    let widest = out.wheels.iter().map(|w| w.speed_kmh).fold(60.0, f64::max) * 1.15;
    out.speed_kmh = (0..=40).map(|i| f64::from(i) / 40.0 * widest).collect();
    out.road = [0.0, 5.0, 10.0, 20.0]
        .map(|percent| RoadLine {
            grade_percent: percent,
            force_n: out.speed_kmh.iter().map(|kmh| road.steady_n(kmh / KMH_PER_M_S, percent / 100.0)).collect(),
        })
        .to_vec();
    Ok(out)
}
