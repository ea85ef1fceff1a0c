//! Why this number: from a headline figure back to its formula, its inputs, how far each is trusted, and the source.

mod reason;

pub use reason::Reason;

use crate::cancel::Cancel;
use crate::document::Checked;
use crate::error::{Error, Result};
use crate::estimate::{Estimate, TripResult, estimate};
use crate::figures::{hill_at, speeds};
use crate::inputs::{Counted, InputTrust, trusted_inputs};
use crate::quantity::Sentence;
use crate::quantity::{figure, sentence};
use crate::simulate::RangeEnd;

/// What an explanation is drawn from.
struct Case<'a> {
    document: &'a Checked,
    json: serde_json::Value,
    estimate: Estimate,
    trust: Vec<InputTrust>,
}

const GILLESPIE: &str = "Gillespie, Fundamentals of Vehicle Dynamics (1992)";
const LARMINIE: &str = "Larminie and Lowry, Electric Vehicle Technology Explained, 2nd ed. (from memory)";

/// Explains a headline figure of a document, by its identifier (see [`crate::figures::Figure`]).
///
/// # Errors
/// Names the figure when there is none of that id; otherwise as [`crate::estimate::estimate`].
///
/// ```
/// # use joulethesis_core::document::Document;
/// # let demo = |name: &str| std::fs::read(format!("{}/../../demo/{name}.json", env!("CARGO_MANIFEST_DIR")));
/// use joulethesis_core::{cancel::Cancel, explain::explain};
/// let reason = explain(&Document::from_json(&demo("pipit-b")?)?, "top_speed_kmh", &Cancel::new())?;
/// assert!(reason.source.contains("Gillespie") && !reason.parts.is_empty());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn explain(document: &Checked, figure: &str, cancel: &Cancel) -> Result<Reason> {
    let estimate = estimate(&Counted::of(document), cancel)?;
    let json = serde_json::to_value(&**document).unwrap_or_default();
    let case = Case { document, json, estimate, trust: trusted_inputs(document) };
    case.figure(figure).ok_or_else(|| {
        Error::field(
            "figure",
            format!("\"{figure}\""),
            "an id of a headline figure, such as top_speed_kmh, is accepted; bands list them all",
        )
    })
}

impl Case<'_> {
    fn figure(&self, figure: &str) -> Option<Reason> {
        let e = &self.estimate;
        let p = &e.performance;
        if let Some(rest) = figure.strip_prefix("trip.") {
            let (id, what) = rest.rsplit_once('.')?;
            let trip = e.trips.iter().find(|t| t.trip == id)?;
            return match what {
                "range_km" => Some(self.range(trip)),
                "wh_per_km" => Some(self.energy(trip)),
                _ => None,
            };
        }
        if let Some(range) = figure.strip_prefix("acceleration.") {
            let run = p.accelerations.iter().find(|s| format!("{}-{}", s.from_kmh, s.to_kmh) == range)?;
            return Some(
                Reason::step(speeds(run.from_kmh, run.to_kmh), run.time_s.unwrap_or(f64::INFINITY), "s")
                    .by("t = integral of m k dv / (pull - resistance), plus the time of each gear change", GILLESPIE)
                    .resting_on([self.pull(run.limited_by.word()), self.resistance(), self.mass(), self.rotating()]),
            );
        }
        if let Some(id) = figure.strip_prefix("charge.") {
            let socket = e.charging.iter().find(|s| s.socket == id)?;
            let w = socket.window?;
            return Some(
                Reason::step(sentence!("Charged, {}", &socket.name), w.hours_h.unwrap_or(f64::INFINITY), "h")
                    .by(
                        "least of circuit, charger, cells' rate and taper at each charge, summed over the window",
                        "constant current, then constant voltage; NEC 625.42 for the continuous share",
                    )
                    .resting_on([
                        Reason::step(sentence!("limited by {}", w.limited_by.word()), w.peak_socket_kw, "kW"),
                        Reason::step("energy out of the socket", w.socket_kwh, "kWh"),
                        self.input("design.charger.output_power_w", "W"),
                        self.input("design.charger.efficiency", ""),
                        self.usable(self.estimate.pack.usable_kwh),
                    ]),
            );
        }
        match figure {
            "top_speed_kmh" => Some(
                Reason::step("Top speed", p.top_speed_kmh, "km/h")
                    .by("where the greatest pull in the best gear meets the resistance, or the motor's highest speed", GILLESPIE)
                    .resting_on([self.pull(p.top_speed_limited_by.word()), self.resistance()]),
            ),
            "hill_start" => Some(self.hill("Hill start", p.hills.start.grade_percent, p.hills.start.limited_by.word())),
            "cost" => Some(Reason::step("Cost", e.cost.net, &self.document.brief.currency).by("bought less sold", "").resting_on([
                Reason::step("bought", e.cost.bought, &self.document.brief.currency),
                Reason::step("sold", e.cost.sold, &self.document.brief.currency),
                Reason::step(sentence!("of it the {}", &e.cost.largest), e.cost.largest_price, &self.document.brief.currency),
                self.input("design.prices", ""),
            ])),
            "added_mass" => Some(self.added_mass()),
            _ => {
                let (kmh, hold) = figure.strip_prefix("hill.")?.rsplit_once('.')?;
                let hill = p.hills.at_speed.iter().find(|h| format!("{}", h.speed_kmh) == kmh)?;
                let grade = match hold {
                    "peak" => hill.peak,
                    "continuous" => hill.continuous,
                    "ten_minutes" => hill.ten_minutes,
                    _ => return None,
                };
                Some(self.hill(hill_at(hill.speed_kmh, ""), grade.grade_percent, grade.limited_by.word()))
            }
        }
    }

    /// An input, with what is known of it.
    fn input(&self, path: &str, unit: &str) -> Reason {
        let trust = self.trust.iter().find(|t| t.path == path);
        let value = self.json.pointer(&format!("/{}", path.replace('.', "/"))).and_then(serde_json::Value::as_f64);
        let label = trust.map_or_else(|| path.rsplit('.').next().unwrap_or(path).replace('_', " "), |t| t.label.clone());
        let counted = trust.filter(|t| t.counted_share < 1.0);
        Reason {
            title: label.into(),
            value,
            unit: unit.to_owned(),
            formula: counted
                .map_or_else(String::new, |t| format!("a seller's claim: {:.0} % of it is counted on", 100.0 * t.counted_share)),
            path: Some(path.to_owned()),
            from: trust.map(|t| t.from),
            spread_percent: trust.map(|t| t.spread_percent),
            ..Reason::default()
        }
    }

    fn mass(&self) -> Reason {
        let m = &self.estimate.masses;
        if self.document.donor.test_mass_kg.is_some() {
            return Reason::step("test mass", m.test_kg, "kg").resting_on([self.input("donor.test_mass_kg", "kg")]);
        }
        Reason::step("test mass", m.test_kg, "kg")
            .by("donor - removed + motors + controllers + pack + charger + other + driver + payload", "")
            .resting_on([self.input("donor.curb_mass_kg", "kg")])
            .resting_on(self.changes())
            .resting_on([Reason::step("driver and payload", m.test_kg - m.converted_kg, "kg")])
    }

    /// Mass taken out and put in.
    fn changes(&self) -> [Reason; 6] {
        let m = &self.estimate.masses;
        [
            Reason::step("taken out", -m.removed_kg, "kg"),
            Reason::step("motors", m.motors_kg, "kg"),
            Reason::step("controllers", m.controllers_kg, "kg"),
            Reason::step("pack", m.pack_kg, "kg"),
            Reason::step("charger", m.charger_kg, "kg"),
            Reason::step("everything else", m.other_kg, "kg"),
        ]
    }

    /// What was put in less what came out: the figure of the goal, whatever the test mass is.
    fn added_mass(&self) -> Reason {
        Reason::step("added mass", self.estimate.masses.change_kg, "kg")
            .by("motors + controllers + pack + charger + other - removed", "")
            .resting_on(self.changes().into_iter().chain([self.input("design.added", "")]))
    }

    fn rotating(&self) -> Reason {
        let k = self.estimate.gears.first().map_or(1.0, |g| g.rotating_mass_factor);
        Reason::step("rotating-mass factor, first gear", k, "").by("k = 1.04 + J N^2 / (m r^2), else 1.04 + 0.0025 N^2", GILLESPIE)
    }

    fn air(&self) -> Reason {
        let site = &self.document.brief.site;
        Reason::step("air density", self.estimate.air_density_kg_m3, "kg/m³")
            .by("rho = p / (287.05 T), p = 101325 (1 - 2.25577e-5 h)^5.25588", "US Standard Atmosphere 1976")
            .resting_on([Reason::step("air", site.temperature_c, "°C"), Reason::step("height", site.altitude_m, "m")])
    }

    fn resistance(&self) -> Reason {
        Reason::step("resistance", f64::NAN, "").by("m g (Crr cos + sin) + rho Cd A (v + wind)^2 / 2", GILLESPIE).resting_on([
            self.input("donor.rolling_coefficient", ""),
            self.input("donor.drag_coefficient", ""),
            self.input("donor.frontal_area_m2", "m²"),
            self.air(),
        ])
    }

    fn pull(&self, cause: &str) -> Reason {
        let design = &self.document.design;
        let model = design.motor.as_ref().map_or("", |m| match m.model {
            crate::library::MotorModel::Envelope { .. } => "torque up to base speed, power above it, both with the sagged bus",
            crate::library::MotorModel::Points { .. } => "data-sheet points, moved with the sagged bus",
            crate::library::MotorModel::Constants { .. } => "V = Ke w + I R, T = Kt (I - I0)",
            crate::library::MotorModel::SeriesDc { .. } => "K(I) = Ksat I / (I + Is), T = K I - T0, V = K w + I R + brushes",
        });
        let motor_inputs = self.trust.iter().filter(|t| t.path.starts_with("design.motor.")).map(|t| self.input(&t.path, unit_of(&t.path)));
        let motor = Reason::step("motor", f64::NAN, "").by(model, LARMINIE).resting_on(motor_inputs);
        let controller = Reason::step("controller", f64::NAN, "")
            .by("V I of the bus = V I of the motor / efficiency, within its amps, power and voltage window", "power is conserved")
            .resting_on([
                self.input("design.controller.battery_current_a", "A"),
                self.input("design.controller.motor_current_a", "A"),
                self.input("design.controller.efficiency", ""),
            ]);
        let pack = Reason::step("pack under load", self.estimate.pack.resistance_ohm, "Ω")
            .by("V = OCV - I R, I = (OCV - sqrt(OCV^2 - 4 R P)) / (2 R)", LARMINIE)
            .resting_on([self.input("design.pack.module.resistance_ohm", "Ω"), self.input("design.pack.module.peak_c", "C")]);
        let line = Reason::step("driveline, first gear", self.estimate.gears.first().map_or(1.0, |g| g.overall_ratio), ":1")
            .by("pull = torque x ratio x efficiency / rolling radius", GILLESPIE)
            .resting_on([self.input("donor.driveline", ""), self.input("donor.tyre", "")]);
        Reason::step(sentence!("pull at the wheels, limited by {}", cause), f64::NAN, "")
            .by("least of grip, motor, controller, pack and heat", "")
            .resting_on([motor, controller, pack, line, self.input("donor.adhesion", "")])
    }

    fn hill(&self, title: impl Into<Sentence>, percent: f64, cause: &str) -> Reason {
        Reason::step(title, percent, "%").by("steepest grade where pull = m g (sin + Crr cos) + drag", GILLESPIE).resting_on([
            self.pull(cause),
            self.mass(),
            self.resistance(),
        ])
    }

    /// Usable energy of the pack, on the usual day or that of a trip.
    fn usable(&self, kwh: f64) -> Reason {
        let pack = &self.estimate.pack;
        Reason::step("usable energy", kwh, "kWh")
            .by("capacity x integral of the open-circuit voltage over the window", LARMINIE)
            .resting_on([
                Reason::step("capacity on the usual day", pack.capacity_ah, "Ah"),
                self.input("design.pack.module.capacity_ah", "Ah"),
                self.input("design.pack.module.capacity_share", ""),
                Reason::step("from state of charge", pack.soc_max, ""),
                Reason::step("down to", pack.soc_min, ""),
            ])
    }

    fn range(&self, trip: &TripResult) -> Reason {
        Reason::step(sentence!("Range, {}, until {}", &trip.name, trip.range_ends_by.word()), trip.range_km.unwrap_or(f64::NAN), "km")
            .by(
                "the trip driven again and again until the window is spent; about usable energy over energy use and the pack's own loss",
                "backward-facing simulation, speed linear within each second",
            )
            .resting_on([
                self.usable(trip.usable_kwh),
                self.energy(trip),
                Reason::step("lost inside the pack", trip.split.pack_wh_per_km, "Wh/km").by("I^2 R", ""),
            ])
            .resting_on(self.left_of_window(trip))
            .resting_on(trip.held_pace.map(|held| {
                Reason::step(sentence!("at {} of its speeds", figure(100.0 * held.share, "%", 0)), held.range_km, "km")
                    .by("the quickest pace that is followed until the window is spent, in hundredths; standing as long", "")
            }))
    }

    /// What of the usable energy neither the road nor the pack's resistance took, over the range.
    fn left_of_window(&self, trip: &TripResult) -> Option<Reason> {
        let used = trip.wh_per_km? + trip.split.pack_wh_per_km;
        let left = trip.usable_kwh * 1000.0 / trip.range_km.filter(|km| *km > 0.0)? - used;
        let lead = self
            .document
            .design
            .pack
            .as_ref()
            .is_some_and(|p| p.module.peukert_exponent.unwrap_or_else(|| p.module.chemistry.usual_peukert()) > 1.0);
        let (title, formula) = match trip.range_ends_by {
            _ if lead => ("not given at this rate of discharge", "capacity falls as the current rises: C (I / I rated)^(1 - n) (Peukert)"),
            RangeEnd::Window => ("beyond the mean of one trip", "the last run ends part way, and the pack loses more as it empties"),
            _ => ("left in the pack", "the trip ends before the window is spent"),
        };
        (left.abs() > 0.05).then(|| {
            Reason::step(title, left, "Wh/km").by(formula, if lead { "Peukert 1897; Larminie and Lowry (from memory)" } else { "" })
        })
    }

    fn energy(&self, trip: &TripResult) -> Reason {
        let s = &trip.split;
        let mut parts = vec![
            Reason::step("air drag", s.air_wh_per_km, "Wh/km").by("rho Cd A (v + wind)^2 v / 2", GILLESPIE).resting_on([
                self.input("donor.drag_coefficient", ""),
                self.input("donor.frontal_area_m2", "m²"),
                self.air(),
            ]),
            Reason::step("rolling resistance", s.rolling_wh_per_km, "Wh/km")
                .by("m g Crr cos", GILLESPIE)
                .resting_on([self.input("donor.rolling_coefficient", ""), self.mass()]),
            Reason::step("climbing less descending", s.climb_wh_per_km, "Wh/km").by("m g sin", GILLESPIE),
            Reason::step("gears and stages", s.driveline_wh_per_km, "Wh/km")
                .by("1 - efficiency, both ways", "")
                .resting_on([self.input("donor.driveline", "")]),
            Reason::step("motor losses", s.motor_wh_per_km, "Wh/km")
                .by("kc T^2 + ki w + kw w^3 + C, or copper and no-load loss of a motor given by its constants", LARMINIE)
                .resting_on([self.input("design.motor.best_efficiency", "")]),
            Reason::step("controller losses", s.controller_wh_per_km, "Wh/km")
                .by("1 - efficiency, both ways", "")
                .resting_on([self.input("design.controller.efficiency", "")]),
            Reason::step("12 V side", s.low_voltage_wh_per_km, "Wh/km")
                .by("load / converter efficiency x time", "")
                .resting_on([self.input("design.low_voltage.load_w", "W")]),
            Reason::step("heater and cooling", s.hvac_wh_per_km, "Wh/km").resting_on([self.input("brief.trips.hvac_w", "")]),
            Reason::step("friction brakes", s.brakes_wh_per_km, "Wh/km")
                .by("what the motor does not take back", "")
                .resting_on([self.input("design.regeneration.share", "")]),
            Reason::step("left in the moving mass", s.kinetic_wh_per_km, "Wh/km"),
        ];
        // What is too small for a line of its own still counts, so that the lines add up.
        let small = parts.extract_if(.., |p| p.value.is_some_and(|v| v.abs() <= 0.05)).filter_map(|p| p.value).sum::<f64>();
        if small.abs() > 1e-6 {
            parts.push(Reason::step("smaller shares together", small, "Wh/km"));
        }
        Reason::step(sentence!("Energy use, {}", &trip.name), trip.wh_per_km.unwrap_or(f64::NAN), "Wh/km")
            .by("sum of the parts, at the battery terminals; what braking returns is already taken off", "energy balance")
            .resting_on(parts)
    }
}

/// Unit shown beside an input of a motor.
fn unit_of(path: &str) -> &'static str {
    match path.rsplit('.').next().unwrap_or_default() {
        key if key.ends_with("_nm_a") => "N·m/A",
        key if key.ends_with("_nm") => "N·m",
        key if key.ends_with("_w") => "W",
        key if key.ends_with("_ohm") => "Ω",
        key if key.ends_with("_a") => "A",
        _ => "",
    }
}
