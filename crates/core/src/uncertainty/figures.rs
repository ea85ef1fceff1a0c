//! The headline figures of a design, computed as cheaply as they can be from the same model as the whole estimate.

use serde::Serialize;

use crate::charge::charge;
use crate::document::{Document, Measure, Trip, TripPath};
use crate::error::{Error, Result};
use crate::estimate::{cost, parts};
use crate::powertrain::{Chain, Rating};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{Demands, hill_at_speed, hill_start, quickest, range_of};
use crate::trip::Trace;
use crate::vehicle::masses;

/// One headline figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Figure {
    /// Identifier: `trip.ID.range_km`, `trip.ID.wh_per_km`, `top_speed_kmh`, `sprint.0-50`, `hill_start`, `hill.KMH.burst`,
    /// `charge.SOCKET`, `cost`, `added_mass`.
    pub id: String,
    /// Name shown.
    pub name: String,
    /// Unit it is stored in.
    pub unit: &'static str,
    /// Whether more is better.
    pub more_is_better: bool,
}

/// Steps of all trips together that 256 draws are made over: a day and more of driving, within seconds.
const MOST_STEPS: usize = 100_000;

/// How a figure is computed.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Kind {
    Range(usize),
    Energy(usize),
    TopSpeed,
    Sprint(f64, f64),
    HillStart,
    Hill(f64, Hold),
    Charge(usize),
    Cost,
    AddedMass,
}

/// Ratings a hill is climbed on.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Hold {
    Burst,
    TenMinutes,
    ForEver,
}

/// What is computed in every draw, with all that does not depend on the draw worked out once.
pub(super) struct Plan {
    pub(super) figures: Vec<Figure>,
    kinds: Vec<Kind>,
    trips: Vec<(Trip, Trace)>,
    /// The document without the paths of its trips, which can be long and are not needed in a draw.
    pub(super) base: Document,
}

fn hold(sustained: bool, ten_minutes: bool) -> Hold {
    match (sustained, ten_minutes) {
        (true, _) => Hold::ForEver,
        (false, true) => Hold::TenMinutes,
        (false, false) => Hold::Burst,
    }
}

/// Figure that a goal is judged by.
pub(crate) fn of_goal(measure: &Measure) -> String {
    match measure {
        Measure::Range { trip, .. } => format!("trip.{trip}.range_km"),
        Measure::EnergyUse { trip, .. } => format!("trip.{trip}.wh_per_km"),
        Measure::TopSpeed { .. } => "top_speed_kmh".to_owned(),
        Measure::Sprint { from_kmh, to_kmh, .. } => format!("sprint.{from_kmh}-{to_kmh}"),
        Measure::HillStart { .. } => "hill_start".to_owned(),
        Measure::HillAtSpeed { speed_kmh, sustained, ten_minutes, .. } => hill_id(*speed_kmh, hold(*sustained, *ten_minutes)),
        Measure::ChargeTime { socket, .. } => format!("charge.{socket}"),
        Measure::Cost { .. } => "cost".to_owned(),
        Measure::AddedMass { .. } => "added_mass".to_owned(),
    }
}

fn hill_id(kmh: f64, hold: Hold) -> String {
    let hold = match hold {
        Hold::Burst => "burst",
        Hold::TenMinutes => "ten_minutes",
        Hold::ForEver => "sustained",
    };
    format!("hill.{kmh}.{hold}")
}

impl Plan {
    /// Every headline figure of a document whose claims are already counted at their medians.
    pub(super) fn of(document: &Document) -> Result<Self> {
        let mut plan = Self { figures: Vec::new(), kinds: Vec::new(), trips: Vec::new(), base: document.clone() };
        for (i, mut trip) in parts::all_trips(document).enumerate() {
            let chain = parts::trip_chain(document, &trip)?;
            let trace = parts::trip_trace(&chain, &trip, trip.manner);
            plan.add(Kind::Range(i), format!("trip.{}.range_km", trip.id), format!("Range, {}", trip.name), "km", true);
            plan.add(Kind::Energy(i), format!("trip.{}.wh_per_km", trip.id), format!("Energy use, {}", trip.name), "Wh/km", false);
            trip.path = TripPath::Segments(Vec::new());
            plan.trips.push((trip, trace));
        }
        let steps: usize = plan.trips.iter().map(|(_, trace)| trace.points.len()).sum();
        if steps > MOST_STEPS {
            return Err(Error::field(
                "brief.trips",
                format!("{steps} steps of driving in all"),
                format!(
                    "bands are drawn over up to {MOST_STEPS} steps (a second each); shorten the trips, or take the central figures alone"
                ),
            ));
        }
        plan.add(Kind::TopSpeed, "top_speed_kmh".to_owned(), "Top speed".to_owned(), "km/h", true);
        for (from, to) in parts::sprint_ranges(document) {
            plan.add(Kind::Sprint(from, to), format!("sprint.{from}-{to}"), format!("{from:.0} to {to:.0} km/h"), "s", false);
        }
        plan.add(Kind::HillStart, "hill_start".to_owned(), "Hill start".to_owned(), "%", true);
        for goal in &document.brief.goals {
            if let Measure::HillAtSpeed { speed_kmh, sustained, ten_minutes, .. } = goal.measure {
                let hold = hold(sustained, ten_minutes);
                plan.add(Kind::Hill(speed_kmh, hold), hill_id(speed_kmh, hold), format!("Hill at {speed_kmh:.0} km/h"), "%", true);
            }
        }
        for (i, socket) in document.brief.sockets.iter().enumerate() {
            plan.add(Kind::Charge(i), format!("charge.{}", socket.id), format!("Charged, {}", socket.name), "h", false);
        }
        plan.add(Kind::Cost, "cost".to_owned(), "Budget".to_owned(), "money", false);
        plan.add(Kind::AddedMass, "added_mass".to_owned(), "Added mass".to_owned(), "kg", false);
        Ok(plan.based_on(document))
    }

    fn add(&mut self, kind: Kind, id: String, name: String, unit: &'static str, more_is_better: bool) {
        if !self.figures.iter().any(|f| f.id == id) {
            self.kinds.push(kind);
            self.figures.push(Figure { id, name, unit, more_is_better });
        }
    }

    /// The same plan with draws made from another state of the document: the one before claims were counted.
    pub(super) fn based_on(mut self, document: &Document) -> Self {
        self.base = document.clone();
        for trip in &mut self.base.brief.trips {
            trip.path = TripPath::Segments(Vec::new());
        }
        self
    }

    /// The same plan for one figure alone.
    pub(super) fn only(mut self, id: &str) -> Option<Self> {
        let place = self.figures.iter().position(|f| f.id == id)?;
        self.figures = vec![self.figures.swap_remove(place)];
        self.kinds = vec![self.kinds.swap_remove(place)];
        Some(self)
    }

    /// The figures of one draw, in order; infinite (or minus infinite where more is better) for what is never reached.
    pub(super) fn compute(&self, document: &Document) -> Result<Vec<f64>> {
        let masses = masses(document);
        let chain = Chain::of(document, masses.test_kg)?;
        let soc = parts::run_soc(document, &chain);
        let burst = chain.limits(soc, chain.low_voltage_w, Rating::Burst);
        let mut pulls = parts::pulls(document, &chain, &burst);
        // Range and energy use come from the same passages.
        let mut trips: Vec<Option<(f64, f64)>> = vec![None; self.trips.len()];
        let mut top = None;
        let mut values = Vec::with_capacity(self.kinds.len());
        for kind in &self.kinds {
            values.push(match *kind {
                Kind::Range(i) => self.trip(document, &chain, masses.test_kg, i, &mut trips)?.0,
                Kind::Energy(i) => self.trip(document, &chain, masses.test_kg, i, &mut trips)?.1,
                Kind::TopSpeed => top.get_or_insert_with(|| parts::top(&chain, &burst)).speed_m_s * KMH_PER_M_S,
                Kind::Sprint(from, to) => quickest(&mut pulls, from / KMH_PER_M_S, to / KMH_PER_M_S).time_s.unwrap_or(f64::INFINITY),
                Kind::HillStart => hill_start(&chain, soc).grade_percent,
                Kind::Hill(kmh, hold) => {
                    let rating = match hold {
                        Hold::Burst => Rating::Burst,
                        Hold::ForEver => Rating::Continuous,
                        Hold::TenMinutes => {
                            let top_kmh = top.get_or_insert_with(|| parts::top(&chain, &burst)).speed_m_s * KMH_PER_M_S;
                            let warm_m_s = parts::warm_kmh(document, top_kmh) / KMH_PER_M_S;
                            parts::ten_minutes(parts::level_warmth(&chain, soc, warm_m_s))
                        }
                    };
                    hill_at_speed(&chain, soc, kmh / KMH_PER_M_S, rating).grade_percent
                }
                Kind::Charge(i) => {
                    let window = charge(document, &chain.pack, &document.brief.sockets[i], chain.pack.soc_min, chain.pack.soc_max);
                    window.and_then(|w| w.hours_h).unwrap_or(f64::INFINITY)
                }
                Kind::Cost => cost(document).net,
                Kind::AddedMass => masses.change_kg,
            });
        }
        Ok(values)
    }

    fn trip(&self, document: &Document, usual: &Chain, usual_kg: f64, i: usize, done: &mut [Option<(f64, f64)>]) -> Result<(f64, f64)> {
        if let Some(known) = done[i] {
            return Ok(known);
        }
        let (trip, trace) = &self.trips[i];
        // A drawn comfort load stands in the drawn document.
        let trip = document.brief.trips.get(i).unwrap_or(trip);
        let is_usual = trip.weather.is_none() && (parts::mass_kg(document, trip) - usual_kg).abs() < 1e-9;
        let own = if is_usual { None } else { Some(parts::trip_chain(document, trip)?) };
        let chain = own.as_ref().unwrap_or(usual);
        let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
        let demands = Demands::of(chain, trace, parts::way(trip), (start, chain.pack.soc_min));
        let once = demands.passage(start, f64::NEG_INFINITY, (0.0, 0.0));
        let per_km = if once.distance_m > 0.0 { once.split.battery_j / 3.6 / once.distance_m } else { 0.0 };
        let result = (range_of(&demands, start).distance_m / 1000.0, per_km);
        done[i] = Some(result);
        Ok(result)
    }
}
