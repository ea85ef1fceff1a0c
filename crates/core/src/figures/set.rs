//! The headline figures of one document, evaluated together.

use super::evaluator::{Evaluator, OperatingPoint};
use super::figure::{Duty, Figure, FigureKind, hill_id};
use super::{performance, trips};
use crate::cancel::Cancel;
use crate::document::{Measure, Trip, TripPath};
use crate::error::Result;
use crate::inputs::Counted;
use crate::trip::Trace;

/// What is evaluated in every sample, with all that does not depend on the sample worked out once.
pub(crate) struct FigureSet {
    pub(crate) figures: Vec<Figure>,
    kinds: Vec<FigureKind>,
    trips: Vec<(Trip, Trace)>,
}

impl FigureSet {
    /// Every headline figure.
    pub(crate) fn of(document: &Counted) -> Result<Self> {
        let mut set = Self { figures: Vec::new(), kinds: Vec::new(), trips: Vec::new() };
        for (i, mut trip) in trips::all(document).enumerate() {
            let chain = trips::chain(document, &trip)?;
            let trace = trips::trace(&chain, &trip, trip.manner);
            set.add(FigureKind::Range(i), format!("trip.{}.range_km", trip.id), format!("Range, {}", trip.name), "km", true);
            set.add(FigureKind::Energy(i), format!("trip.{}.wh_per_km", trip.id), format!("Energy use, {}", trip.name), "Wh/km", false);
            trip.path = TripPath::Segments(Vec::new());
            set.trips.push((trip, trace));
        }
        set.add(FigureKind::TopSpeed, "top_speed_kmh".to_owned(), "Top speed".to_owned(), "km/h", true);
        for (from, to) in performance::sprint_ranges(document) {
            set.add(FigureKind::Sprint(from, to), format!("sprint.{from}-{to}"), format!("{from:.0} to {to:.0} km/h"), "s", false);
        }
        set.add(FigureKind::HillStart, "hill_start".to_owned(), "Hill start".to_owned(), "%", true);
        for goal in &document.brief.goals {
            if let Measure::HillAtSpeed { speed_kmh, continuous, ten_minutes, .. } = goal.measure {
                let duty = Duty::of(continuous, ten_minutes);
                set.add(FigureKind::Hill(speed_kmh, duty), hill_id(speed_kmh, duty), format!("Hill at {speed_kmh:.0} km/h"), "%", true);
            }
        }
        for (i, socket) in document.brief.sockets.iter().enumerate() {
            set.add(FigureKind::Charge(i), format!("charge.{}", socket.id), format!("Charged, {}", socket.name), "h", false);
        }
        set.add(FigureKind::Cost, "cost".to_owned(), "Budget".to_owned(), "money", false);
        set.add(FigureKind::AddedMass, "added_mass".to_owned(), "Added mass".to_owned(), "kg", false);
        Ok(set)
    }

    fn add(&mut self, kind: FigureKind, id: String, name: String, unit: &'static str, more_is_better: bool) {
        if !self.figures.iter().any(|f| f.id == id) {
            self.kinds.push(kind);
            self.figures.push(Figure { id, name, unit, more_is_better });
        }
    }

    /// The same set for one figure alone.
    pub(crate) fn only(mut self, id: &str) -> Option<Self> {
        let place = self.figures.iter().position(|f| f.id == id)?;
        self.figures = vec![self.figures.swap_remove(place)];
        self.kinds = vec![self.kinds.swap_remove(place)];
        Some(self)
    }

    /// The figures of one sample, in order; infinite (or minus infinite where more is better) for what is never reached.
    pub(crate) fn evaluate(&self, document: &Counted, cancel: &Cancel) -> Result<Vec<f64>> {
        cancel.check()?;
        let point = OperatingPoint::of(document)?;
        let mut evaluator = Evaluator::new(document, &point, &self.trips, cancel);
        self.kinds.iter().map(|kind| evaluator.value(*kind)).collect()
    }
}
