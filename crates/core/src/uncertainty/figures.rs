//! The headline figures of a design, computed as cheaply as they can be from the same model as the whole estimate.

use serde::Serialize;

use crate::cancel::Cancel;
use crate::charge::charge;
use crate::document::{Document, Measure, Trip, TripPath};
use crate::error::Result;
use crate::estimate::{cost, parts};
use crate::powertrain::{Chain, Limits, Rating};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{Demands, Pull, RangeEnd, TopSpeed, hill_at_speed, hill_start, quickest, range_after};
use crate::trip::Trace;
use crate::vehicle::{Masses, masses};

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

/// How a figure is computed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Kind {
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
pub(crate) enum Hold {
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

pub(crate) fn hold(sustained: bool, ten_minutes: bool) -> Hold {
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
    pub(super) fn compute(&self, document: &Document, cancel: &Cancel) -> Result<Vec<f64>> {
        cancel.check()?;
        let setup = Setup::of(document)?;
        let mut bench = Bench::new(document, &setup, &self.trips, cancel);
        self.kinds.iter().map(|kind| bench.value(*kind)).collect()
    }
}

/// A document's chain at the state of charge of its performance figures.
#[derive(Debug)]
pub(crate) struct Setup {
    pub(crate) masses: Masses,
    pub(crate) chain: Chain,
    soc: f64,
    burst: Limits,
}

impl Setup {
    /// Of a document whose claims are already counted.
    pub(crate) fn of(document: &Document) -> Result<Self> {
        let masses = masses(document);
        let chain = Chain::of(document, masses.test_kg)?;
        let soc = parts::run_soc(document, &chain.pack);
        let burst = chain.limits(soc, chain.low_voltage_w, Rating::Burst);
        Ok(Self { masses, chain, soc, burst })
    }
}

/// What one trip gives.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Driven {
    /// Minus infinity where it is not followed.
    pub(crate) range_km: f64,
    /// Infinite where it is not followed.
    pub(crate) wh_per_km: f64,
    /// Whether it is followed.
    pub(crate) followed: bool,
    /// Whether heat held the torque back before the range was spent.
    pub(crate) derated: bool,
}

/// Computes the figures of one document one by one, each as it is asked for; what several of them need is worked out once.
pub(crate) struct Bench<'a> {
    document: &'a Document,
    setup: &'a Setup,
    /// Trips with their traces, in the order that kinds count them.
    trips: &'a [(Trip, Trace)],
    pulls: Vec<Pull<'a>>,
    top: Option<TopSpeed>,
    /// Range and energy use come from the same passages.
    driven: Vec<Option<Driven>>,
    cancel: &'a Cancel,
}

impl<'a> Bench<'a> {
    /// Nothing computed yet.
    pub(crate) fn new(document: &'a Document, setup: &'a Setup, trips: &'a [(Trip, Trace)], cancel: &'a Cancel) -> Self {
        let pulls = parts::pulls(document, &setup.chain, &setup.burst);
        Self { document, setup, trips, pulls, top: None, driven: vec![None; trips.len()], cancel }
    }

    /// One figure; infinite (or minus infinite where more is better) for what is never reached.
    pub(crate) fn value(&mut self, kind: Kind) -> Result<f64> {
        let (document, setup) = (self.document, self.setup);
        let (chain, soc) = (&setup.chain, setup.soc);
        Ok(match kind {
            Kind::Range(i) => self.trip(i)?.range_km,
            Kind::Energy(i) => self.trip(i)?.wh_per_km,
            Kind::TopSpeed => self.top().speed_m_s * KMH_PER_M_S,
            Kind::Sprint(from, to) => quickest(&mut self.pulls, from / KMH_PER_M_S, to / KMH_PER_M_S).time_s.unwrap_or(f64::INFINITY),
            Kind::HillStart => hill_start(chain, soc).grade_percent,
            Kind::Hill(kmh, hold) => {
                let rating = match hold {
                    Hold::Burst => Rating::Burst,
                    Hold::ForEver => Rating::Continuous,
                    Hold::TenMinutes => {
                        let warm_m_s = parts::warm_kmh(document, self.top().speed_m_s * KMH_PER_M_S) / KMH_PER_M_S;
                        parts::ten_minutes(parts::level_warmth(chain, soc, warm_m_s))
                    }
                };
                hill_at_speed(chain, soc, kmh / KMH_PER_M_S, rating).grade_percent
            }
            Kind::Charge(i) => {
                let window = charge(document, &chain.pack, &document.brief.sockets[i], chain.pack.soc_min, chain.pack.soc_max);
                window.and_then(|w| w.hours_h).unwrap_or(f64::INFINITY)
            }
            Kind::Cost => cost(document).net,
            Kind::AddedMass => setup.masses.change_kg,
        })
    }

    fn top(&mut self) -> TopSpeed {
        *self.top.get_or_insert_with(|| parts::top(&self.setup.chain, &self.setup.burst))
    }

    /// One trip, made once and repeated.
    pub(crate) fn trip(&mut self, i: usize) -> Result<Driven> {
        if let Some(known) = self.driven[i] {
            return Ok(known);
        }
        let (trip, trace) = &self.trips[i];
        // A drawn comfort load stands in the drawn document.
        let trip = self.document.brief.trips.get(i).unwrap_or(trip);
        let usual_kg = self.setup.masses.test_kg;
        let is_usual = trip.weather.is_none() && (parts::mass_kg(self.document, trip) - usual_kg).abs() < 1e-9;
        let own = if is_usual { None } else { Some(parts::trip_chain(self.document, trip)?) };
        let chain = own.as_ref().unwrap_or(&self.setup.chain);
        let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
        let demands = Demands::of(chain, trace, parts::way(trip), (start, chain.pack.soc_min), self.cancel);
        let once = demands.passage_while_followed(start);
        let result = if once.behind || once.distance_m <= 0.0 {
            Driven { range_km: f64::NEG_INFINITY, wh_per_km: f64::INFINITY, followed: false, derated: once.derated_s > 0.0 }
        } else {
            let wh_per_km = once.split.battery_j / 3.6 / once.distance_m;
            let range = range_after(&demands, start, once);
            Driven {
                range_km: range.headline().unwrap_or(f64::NEG_INFINITY),
                wh_per_km,
                followed: range.end != RangeEnd::NotFollowed,
                derated: range.derated_s > 0.0,
            }
        };
        self.cancel.check()?;
        self.driven[i] = Some(result);
        Ok(result)
    }
}
