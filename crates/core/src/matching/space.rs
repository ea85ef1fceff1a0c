//! What is searched: every part that may be used, made ready once; drives (motors, gearing, controllers) on one side, packs with
//! their chargers on the other.

use std::borrow::Cow;

use super::admitted::{Unfit, priced, unfit};
use super::bounding::{Bounding, follows_chain};
use super::chargers::by_price;
use super::configuration::bare_pack;
use super::constraint::{Constraint, constraints};
use super::gearing::{Gearing, gearings, mounts};
use super::objectives::Objectives;
use super::same_ratings::SameRatings;
use crate::document::{
    AddedItem, CONTACTOR_BOX, CellApproach, Checked, CurrentApproach, Design, Document, Electrics, FittedComponents, ItemKind,
    MatchRequest, MotorPlace, Slot, Trip, TripPath, Wiring,
};
use crate::error::Result;
use crate::figures::FigureKind;
use crate::figures::trips;
use crate::findings::Rule;
use crate::inputs::Counted;
use crate::library::{Charger, Controller, Module, Motor, Part};
use crate::trip::Trace;

/// A record as it stands in the library, and with its sellers' claims counted at their medians.
#[derive(Debug, Clone)]
pub(super) struct Ready<T> {
    pub(super) written: T,
    pub(super) counted: T,
}

/// The search made ready.
#[derive(Debug, Clone)]
pub(super) struct SearchProblem {
    pub(super) request: MatchRequest,
    /// The document as people wrote it, with the template in place of its design.
    pub(super) written: Checked,
    /// The same with claims counted and without the paths of trips whose trace no chain changes.
    pub(super) base: Counted,
    /// The counted template without any path, light to copy.
    pub(super) light: Counted,
    pub(super) objectives: Objectives,
    pub(super) constraints: Vec<Constraint>,
    /// Written, without any path.
    pub(super) plain: Checked,
    /// Trips, then schedules, with their trace; an empty one where it depends on the chain.
    pub(super) trips: Vec<(Trip, Trace)>,
    /// What bounds the energy of each trip.
    pub(super) bounding: Vec<Bounding>,
    /// Everything that is computed of a candidate, each once, the cheapest first.
    pub(super) cheapest_first: Vec<FigureKind>,
    /// The trip that counts, by its place.
    pub(super) trip: Option<usize>,
    /// Places of trips that have to be followed: the one that counts and those of goals that must be met.
    pub(super) followed: Vec<usize>,
    /// Parts left out because nobody said what their currency is worth.
    pub(super) unpriced: Vec<String>,
    /// Parts left out because nobody said what they cost.
    pub(super) without_price: Vec<String>,
    pub(super) gearings: Vec<Gearing>,
    pub(super) motors: Vec<Ready<Motor>>,
    pub(super) controllers: Vec<Ready<Controller>>,
    pub(super) modules: Vec<Ready<Module>>,
    /// `None` alone when the library has no charger.
    pub(super) chargers: Vec<Option<Ready<Charger>>>,
    /// Their places from the cheapest on, of equal prices from the lightest on.
    pub(super) chargers_by_price: Vec<u16>,
    pub(super) same: SameRatings,
    /// Mass and price of box, straps and monitoring for a kilogram of modules.
    pub(super) box_mass_share: f64,
    pub(super) box_price_per_kg: f64,
    /// Cost below which it is known that nothing does what is asked.
    pub(super) known_too_cheap: f64,
}

/// Masses and prices of a box when the design at hand has none: kg for a kg of modules, money for a kg of modules (guesses).
const BOX_MASS_SHARE: f64 = 0.15;
const BOX_PRICE_PER_KG: f64 = 6.0;

fn template(design: &Design) -> Design {
    // What is fitted was sized for the chain at hand: its mass and money are kept where it stands, so that no other chain looks lighter
    // without.
    let fitted = design.component_blocks().into_iter().filter(|(_, mass_kg, price)| *mass_kg > 0.0 || *price > 0.0);
    let lumps = fitted.map(|(slot, mass_kg, price)| {
        let name = format!("{}, sized for the chain before", slot.map_or(CONTACTOR_BOX, Slot::word));
        let at = slot.and_then(|slot| design.layout.fitted.get(slot)).unwrap_or(&design.layout.electrics);
        AddedItem { at: at.clone(), ..AddedItem::of(name, mass_kg, price) }
    });
    Design {
        wiring: Wiring { fuse_a: None, fuse_voltage_v: None, cable_current_a: None, ..design.wiring_in_use() },
        electrics: Electrics { fitted: FittedComponents::default(), ..design.electrics.clone() },
        regeneration: design.regeneration.clone(),
        low_voltage: design.low_voltage.clone(),
        added: design.added.iter().cloned().chain(lumps).collect(),
        front_axle_share: design.front_axle_share,
        layout: design.layout.clone(),
        sources: design.sources.clone(),
        ..Design::default()
    }
}

impl SearchProblem {
    pub(super) fn of(document: &Checked, library: &[Part], request: &MatchRequest) -> Result<Self> {
        request.check(document, library)?;
        Self::with_parts(document, library, request, |p| request.takes(p, library) && unfit(document, p, request).is_none())
    }

    /// As [`Self::of`] with every part and gearing, whatever the request leaves out.
    pub(super) fn unrestricted(document: &Checked, library: &[Part], request: &MatchRequest) -> Result<Self> {
        request.check(document, library)?;
        let open = MatchRequest { gearings: Vec::new(), current: CurrentApproach::Any, cells: CellApproach::Any, ..request.clone() };
        Self::with_parts(document, library, &open, |_| true)
    }

    fn with_parts(document: &Checked, library: &[Part], request: &MatchRequest, takes: impl Fn(&Part) -> bool) -> Result<Self> {
        let bare = document.with_sound(|d| d.design = template(&document.design));
        let plain = bare.with_sound(|d| d.brief.trips.iter_mut().for_each(|t| t.path = TripPath::Segments(Vec::new())));
        let mut bounding = Vec::new();
        let trips: Vec<(Trip, Trace)> = trips::all(document)
            .map(|mut trip| {
                let bounds = Bounding::of(&trip, &bare);
                let trace = bounds.trace.clone();
                bounding.push(bounds);
                if follows_chain(&trip) {
                    return (trip, Trace::default());
                }
                trip.path = TripPath::Segments(Vec::new());
                (trip, trace)
            })
            .collect();
        let base = Counted::of(&bare).with(|d| {
            for (own, (trip, _)) in d.brief.trips.iter_mut().zip(&trips) {
                own.path = trip.path.clone();
            }
        });
        let mut unpriced = Vec::new();
        let mut parts: Vec<Cow<'_, Part>> = Vec::new();
        for part in library.iter().filter(|p| takes(p)) {
            match priced(part, &document.brief.currency, request) {
                Some(part) => parts.push(part),
                None => unpriced.push(part.name().to_owned()),
            }
        }
        unpriced.sort();
        let no_price = |p: &&Part| request.takes(p, library) && unfit(document, p, request) == Some(Unfit::NoPrice);
        let mut without_price: Vec<String> = library.iter().filter(no_price).map(|p| p.name().to_owned()).collect();
        without_price.sort();
        parts.sort_by(|a, b| a.name().cmp(b.name()));
        let place = |set: &dyn Fn(&mut Design)| Counted::of(&plain.with_sound(|d| set(&mut d.design))).design.clone();
        let (mut motors, mut controllers, mut modules, mut chargers) = (Vec::new(), Vec::new(), Vec::new(), Vec::new());
        for part in parts {
            match part.as_ref() {
                Part::Motor(m) if request.current.takes(m) => {
                    let own = m.clone();
                    let counted = place(&|d| d.motor = Some(own.clone())).motor;
                    motors.extend(counted.map(|counted| Ready { written: own, counted }));
                }
                Part::Controller(c) => {
                    let own = c.clone();
                    let counted = place(&|d| d.controller = Some(own.clone())).controller;
                    controllers.extend(counted.map(|counted| Ready { written: own, counted }));
                }
                Part::Module(m) if request.cells.takes(m) => {
                    let own = m.clone();
                    let pack = bare_pack(&own, 1, 1, None);
                    let counted = place(&|d| d.pack = Some(pack.clone())).pack;
                    modules.extend(counted.map(|p| Ready { written: own, counted: p.module }));
                }
                Part::Charger(c) => {
                    let own = c.clone();
                    let counted = place(&|d| d.charger = Some(own.clone())).charger;
                    chargers.extend(counted.map(|counted| Some(Ready { written: own, counted })));
                }
                Part::Motor(_) | Part::Module(_) | Part::Component(_) => {}
            }
        }
        if chargers.is_empty() {
            chargers.push(None);
        }
        let light = Counted::of(&plain);
        let old = document.design.pack.as_ref().map(|p| (p, document.design.mass_of(ItemKind::Module)));
        let (box_mass_share, box_price_per_kg) = match old {
            Some((pack, kg)) if pack.box_mass_kg > 0.0 && kg > 0.0 => (pack.box_mass_kg / kg, pack.box_price / kg),
            _ => (BOX_MASS_SHARE, BOX_PRICE_PER_KG),
        };
        // What the box at hand is like otherwise.
        let written = bare.with_sound(|d| d.design.pack.clone_from(&document.design.pack));
        let mut gearings = gearings(document);
        if !request.gearings.is_empty() {
            let known: Vec<String> = gearings.iter().map(|g| g.id.clone()).collect();
            if let Some((i, id)) = request.gearings.iter().enumerate().find(|(_, id)| !known.contains(id)) {
                let message = format!("this donor can be geared: {}", known.join(", "));
                return Err(crate::error::Error::field(format!("gearings[{i}]"), format!("\"{id}\""), message));
            }
            gearings.retain(|g| request.gearings.contains(&g.id));
        }
        let objectives = Objectives::of(request, document);
        let constraints = constraints(request, document);
        let mut cheapest_first: Vec<FigureKind> = Vec::new();
        for kind in objectives.kinds.iter().copied().flatten().chain(constraints.iter().map(|m| m.kind)) {
            if !cheapest_first.contains(&kind) {
                cheapest_first.push(kind);
            }
        }
        cheapest_first.sort_by_key(|kind| kind.work());
        let mut followed: Vec<usize> = constraints
            .iter()
            .filter_map(|m| match m.kind {
                FigureKind::Range(i) | FigureKind::Energy(i) => Some(i),
                _ => None,
            })
            .chain(objectives.trip())
            .collect();
        followed.sort_unstable();
        followed.dedup();
        Ok(Self {
            request: request.clone(),
            trip: objectives.trip(),
            objectives,
            constraints,
            plain,
            cheapest_first,
            followed,
            written,
            base,
            light,
            trips,
            bounding,
            unpriced,
            without_price,
            gearings,
            same: SameRatings::of(&motors, &controllers, &chargers),
            chargers_by_price: by_price(&chargers),
            motors,
            controllers,
            modules,
            chargers,
            box_mass_share,
            box_price_per_kg,
            known_too_cheap: f64::NEG_INFINITY,
        })
    }

    /// The same search with some goals (by their places) allowed to be missed by at most `most`, a share of the target, and the least
    /// sum of their shortfalls looked for.
    pub(super) fn relaxed_by(mut self, relaxed: &[usize], most: f64) -> Self {
        let given: Vec<Constraint> = relaxed.iter().map(|i| self.constraints[*i].clone()).collect();
        for i in relaxed {
            let constraint = &mut self.constraints[*i];
            let most = if constraint.more_is_better { -most.min(0.98) } else { most };
            constraint.target += most * constraint.scale;
            constraint.needed += most * constraint.scale;
        }
        self.objectives = self.objectives.relaxed_by(given);
        self
    }

    /// The same search within another budget, of which it is known that nothing below `known_too_cheap` does.
    pub(super) fn within(mut self, budget: f64, known_too_cheap: f64) -> Self {
        self.request.budget = Some(budget);
        self.constraints = constraints(&self.request, &self.written);
        self.known_too_cheap = known_too_cheap;
        self
    }

    /// The first constraint on money.
    pub(super) fn cost_constraint(&self) -> Option<usize> {
        self.constraints.iter().position(|m| m.kind == FigureKind::Cost)
    }

    /// Whether a cost is one at which nothing does; a hair below stays open, for sums made in another order.
    pub(super) fn is_known_too_cheap(&self, cost: f64) -> bool {
        cost < self.known_too_cheap - 1e-6
    }

    /// Modules in series that are tried.
    pub(super) fn series(&self, module: &Module) -> std::ops::RangeInclusive<u16> {
        let most = self.most_in_series(module);
        match self.request.modules_in_series {
            // What was asked for is tried even where no controller bears it, so that the count says so.
            Some(n) => n as u16..=n as u16,
            None => 1..=most,
        }
    }

    /// Strings in parallel that are tried with so many modules in series.
    pub(super) fn parallel(&self, series: u16) -> std::ops::RangeInclusive<u16> {
        let owned = self.request.most_modules.map_or(u32::MAX, |n| n / u32::from(series));
        match self.request.strings_in_parallel {
            Some(n) if n <= owned => n as u16..=n as u16,
            #[expect(clippy::reversed_empty_ranges, reason = "nothing is tried where too few modules are owned")]
            Some(_) => 1..=0,
            None => 1..=self.request.most_in_parallel.min(owned) as u16,
        }
    }

    /// Places and counts of a motor.
    pub(super) fn mounts(&self, motor: &Motor) -> Vec<(MotorPlace, u32)> {
        mounts(motor, &self.written, &self.request.motor_counts)
    }

    /// Most modules of a kind in series: as many as the highest voltage of any controller bears.
    pub(super) fn most_in_series(&self, module: &Module) -> u16 {
        let top_v = self.controllers.iter().map(|c| c.written.max_voltage_v).fold(0.0, f64::max);
        let one_v = module.full_voltage_v * f64::from(module.cells_in_series);
        ((top_v / one_v + 1e-9).floor()).clamp(0.0, 400.0) as u16
    }

    /// Trips with the traces that a chain gives them, where any depends on it.
    pub(super) fn traced(&self, document: &Document) -> Result<Option<Vec<(Trip, Trace)>>> {
        if self.followed.iter().all(|i| !self.trips[*i].1.points.is_empty()) {
            return Ok(None);
        }
        let mut trips = self.trips.clone();
        for i in &self.followed {
            let (trip, trace) = &mut trips[*i];
            if trace.points.is_empty() {
                *trace = trips::trace(document, &trips::chain(document, trip)?, trip, trip.driving_style);
            }
        }
        Ok(Some(trips))
    }

    /// Places of the trips that are told of before they are driven, the one that counts first: those on a day like its own, as packs and gears are
    /// known on that day.
    pub(super) fn told_trips(&self) -> Vec<usize> {
        let Some(counting) = self.trip else { return Vec::new() };
        let day = |i: usize| (&self.trips[i].0.weather, self.trips[i].0.start_soc);
        let others = self.followed.iter().copied().filter(|i| *i != counting && day(*i) == day(counting));
        std::iter::once(counting).chain(others).collect()
    }

    /// Whether every chain in the answer keeps up with its trips; one that may lag or be held back by heat may go further than one that does.
    pub(super) fn keeps_up(&self) -> bool {
        self.keeps(Rule::NotFollowed) && self.keeps(Rule::Heat)
    }

    /// Whether a warning rule has to be kept.
    pub(super) fn keeps(&self, rule: Rule) -> bool {
        !self.request.allow.iter().any(|r| rule == r.as_str())
    }

    /// Whether a gearing is for a motor that sits at a place. A unit with its own reduction takes the place of all that the donor has.
    pub(super) fn fits(gearing: &Gearing, place: MotorPlace, motor: &Motor) -> bool {
        gearing.in_wheels != matches!(place, MotorPlace::Shaft | MotorPlace::EachAxle) && gearing.for_units == motor.own_reduction.is_some()
    }
}
