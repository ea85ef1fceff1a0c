//! The headline figures of one document, evaluated together.

use super::evaluator::{Evaluator, OperatingPoint};
use super::figure::{Figure, FigureKind};
use super::{performance, trips};
use crate::cancel::Cancel;
use crate::document::{Trip, TripPath};
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
            let trace = trips::trace(document, &chain, &trip, trip.driving_style);
            set.add(document, [FigureKind::Range(i), FigureKind::Energy(i)]);
            trip.path = TripPath::Segments(Vec::new());
            set.trips.push((trip, trace));
        }
        let is_hill = |kind: &FigureKind| matches!(kind, FigureKind::Hill(..));
        set.add(document, [FigureKind::TopSpeed]);
        set.add(document, performance::acceleration_ranges(document).into_iter().map(|(from, to)| FigureKind::Acceleration(from, to)));
        set.add(document, [FigureKind::HillStart]);
        set.add(document, document.brief.goals.iter().map(|g| FigureKind::of(document, &g.measure)).filter(is_hill));
        set.add(document, (0..document.brief.sockets.len()).map(FigureKind::Charge));
        set.add(document, [FigureKind::Cost, FigureKind::AddedMass]);
        // Whatever else a goal is judged by.
        set.add(document, document.brief.goals.iter().map(|g| FigureKind::of(document, &g.measure)));
        Ok(set)
    }

    fn add(&mut self, document: &Counted, kinds: impl IntoIterator<Item = FigureKind>) {
        for kind in kinds {
            let figure = kind.figure(document);
            if !self.figures.iter().any(|f| f.id == figure.id) {
                self.kinds.push(kind);
                self.figures.push(figure);
            }
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
