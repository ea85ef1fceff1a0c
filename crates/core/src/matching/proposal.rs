//! A first chain for somebody who has none: the cheapest in the library that does what the brief asks and obeys every rule.

use serde::Serialize;

use super::count::goal;
use super::pareto::Wanted;
use super::request::is_salvaged;
use super::search::Search;
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::document::{CellApproach, Certainty, Checked, Design, GoalLevel, Measure, TripPath};
use crate::error::Result;
use crate::figures::FigureKind;
use crate::library::Part;

/// A proposed design.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Proposal {
    /// The design, marked as proposed.
    pub design: Design,
    /// What of the brief it was chosen to meet.
    pub meets: Meets,
}

/// How much of a brief a proposal was chosen to meet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Meets {
    /// Every goal, also with a fifth more air drag and rolling resistance and on hills a tenth steeper.
    WithReserve,
    /// Every goal at the median.
    Barely,
    /// A share of every goal: nothing that was looked at meets them all.
    Part,
}

/// Reserve: what is asked is done with so much more air drag and rolling resistance than is stated, on so much steeper hills (judgement: wind,
/// wet, tyres, an estimated donor and the age of the cells together).
const ROAD_RESERVE: f64 = 1.2;
const HILL_RESERVE: f64 = 1.1;
/// Shares of the goals that are tried when they cannot all be met; the last moves at any rate.
const SHARES: [f64; 2] = [0.6, 0.25];
/// No stretch of a trip is made slower than this, km/h.
const SLOWEST_KMH: f64 = 10.0;
/// A budget is raised by so much while nothing within it does: dear packs then cost no work before cheap ones have failed.
const DEARER: f64 = 1.5;
/// Budgets tried; the last is 2200 times the first.
const BUDGETS: i32 = 20;
/// Work after which an attempt is given up, in seconds of trips looked at: those of each design tried, and what a block and what such a design
/// does beside its trips are worth. A count, not a clock: what is proposed does not depend on how busy the machine is.
const MOST_SECONDS: f64 = 2e7;
const BLOCK_SECONDS: f64 = 400.0;
const DESIGN_SECONDS: f64 = 2000.0;

/// What is tried: how binding goals are, whether the donor's gearbox stays as it is.
#[derive(Clone, Copy)]
struct Attempt {
    meets: Meets,
    /// Of each goal.
    share: f64,
    keep_gearing: bool,
}

/// Proposes a chain for a brief on a donor: the cheapest with new cells and one motor that meets every goal with a reserve, whatever the
/// goals' levels, the donor's gearbox kept where it has one; else of any gearing; else the cheapest that meets them at the median, or a
/// share of them. Every rule that the search keeps is kept, and what the brief's search pins or excludes counts. None where nothing in the
/// library obeys the rules and does a quarter of what is asked.
///
/// The work is bounded by a count, so that the answer is the same on any machine, whatever the order of the library and the number of threads.
///
/// # Errors
/// What the request's own check refuses, or [`crate::error::Error::Cancelled`] through `cancel`.
pub fn propose(document: &Checked, library: &[Part], cancel: &Cancel) -> Result<Option<Proposal>> {
    document.brief.search.check(document, library)?;
    let keeps = can_keep_gearing(document);
    let whole = |meets, keep_gearing| Attempt { meets, share: 1.0, keep_gearing };
    let kept = keeps.then(|| whole(Meets::WithReserve, true));
    let free = [whole(Meets::WithReserve, false), whole(Meets::Barely, false)];
    let parts = SHARES.map(|share| Attempt { meets: Meets::Part, share, keep_gearing: keeps });
    for attempt in kept.into_iter().chain(free).chain(parts) {
        if let Some(design) = cheapest(document, library, attempt, cancel)? {
            return Ok(Some(Proposal { design, meets: attempt.meets }));
        }
    }
    Ok(None)
}

/// Whether there is a gearbox to keep, and nothing else is asked for.
fn can_keep_gearing(document: &Checked) -> bool {
    document.brief.search.gearings.is_empty() && document.donor.driveline.gears.len() > 1
}

/// A document and the library it is proposed from: of the kinds that are kept nothing but the design's own part; and no part without a
/// price, which would count as free, unless the search names it.
#[must_use]
pub fn around(document: &Checked, keeps: impl Fn(&Part) -> bool, mut library: Vec<Part>) -> (Checked, Vec<Part>) {
    let (design, search) = (&document.design, &document.brief.search);
    let only = &search.only;
    let named = [&search.in_hand, &only.motors, &only.controllers, &only.modules, &only.chargers];
    library.retain(|p| !p.is_without_price() || named.iter().any(|names| names.iter().any(|n| n == p.name())));
    let own = [
        design.motor.clone().map(Part::Motor),
        design.controller.clone().map(Part::Controller),
        design.pack.as_ref().map(|p| Part::Module(p.module.clone())),
        design.charger.clone().map(Part::Charger),
    ];
    let mut had = Vec::new();
    for part in own.into_iter().flatten().filter(|p| keeps(p)) {
        // What is kept is there already: whatever it cost, nothing is weighed against it.
        had.extend(part.is_without_price().then(|| part.name().to_owned()));
        library.retain(|p| p.kind() != part.kind());
        library.push(part);
    }
    let document = document.with_sound(|d| {
        if let Some(motor) = &d.design.motor
            && keeps(&Part::Motor(motor.clone()))
        {
            d.brief.search.motor_counts = vec![d.design.motor_count];
        }
        let search = &mut d.brief.search;
        let only = &mut search.only;
        let lists =
            [&mut only.motors, &mut only.controllers, &mut only.modules, &mut only.chargers, &mut search.exclude, &mut search.in_hand];
        for names in lists {
            names.retain(|n| library.iter().any(|p| p.name() == n));
        }
        search.in_hand.extend(had.into_iter().filter(|n| !search.in_hand.contains(n)).collect::<Vec<_>>());
    });
    (document, library)
}

fn cheapest(document: &Checked, library: &[Part], attempt: Attempt, cancel: &Cancel) -> Result<Option<Design>> {
    let some_new = library.iter().any(|p| matches!(p, Part::Module(m) if !is_salvaged(m)));
    let asked = asked(document, attempt, some_new);
    let most = asked.brief.search.budget.unwrap_or(f64::INFINITY);
    let first = least_cost(library).max(1.0);
    let mut ready = SearchProblem::of(&asked, library, &asked.brief.search)?;
    ready.objectives = ready.objectives.cheapest();
    let (mut left_s, mut failed) = (MOST_SECONDS, f64::NEG_INFINITY);
    for budget in (0..BUDGETS).map(|i| first * DEARER.powi(i)) {
        let problem = ready.clone().within(budget.min(most), failed);
        let mut search = Search::new(&problem, Wanted::ALL, cancel)?;
        let trip_s = problem.followed.iter().map(|i| problem.bounding[*i].trace.duration_s()).sum::<f64>();
        let worked_s =
            |search: &Search<'_>| BLOCK_SECONDS * search.counts.blocks as f64 + (DESIGN_SECONDS + trip_s) * search.counts.tried as f64;
        search.run(|search| worked_s(search) < left_s)?;
        left_s -= worked_s(&search);
        if let Some(found) = search.front.kept.first() {
            return Ok(Some(Design { proposed: true, ..problem.design(&found.what.configuration, false) }));
        }
        // More money helps neither where no drive can do it, nor where nothing was too dear, nor beyond what is bounded.
        let is_money_short =
            problem.constraints.iter().enumerate().any(|(i, m)| m.kind == FigureKind::Cost && search.counts.cuts[goal(i)].0 > 0);
        if budget >= most || search.space.drives.is_empty() || !is_money_short || !search.complete {
            break;
        }
        failed = budget;
    }
    Ok(None)
}

/// The cheapest of each kind together.
fn least_cost(library: &[Part]) -> f64 {
    let least = |kind: &str| library.iter().filter(|p| p.kind() == kind).map(Part::price).reduce(f64::min).unwrap_or(0.0);
    ["motor", "controller", "module", "charger"].map(least).iter().sum()
}

/// The document with its goals as binding as an attempt takes them.
fn asked(document: &Checked, attempt: Attempt, some_new: bool) -> Checked {
    document.with_sound(|d| {
        let search = &mut d.brief.search;
        search.certainty = Certainty::P50;
        let pinned = !search.in_hand.is_empty();
        if search.cells == CellApproach::Any && !pinned && some_new {
            search.cells = CellApproach::New;
        }
        if !pinned {
            search.motor_counts = vec![search.motor_counts.iter().copied().min().unwrap_or(1)];
        }
        if attempt.keep_gearing {
            search.gearings = vec!["keep".to_owned()];
        }
        // A trip that no chain keeps up with is made slower, too, where a share of what is asked has to do.
        for trip in &mut d.brief.trips {
            if let TripPath::Segments(segments) = &mut trip.path {
                segments.iter_mut().for_each(|s| s.speed_kmh = (s.speed_kmh * attempt.share).max(SLOWEST_KMH.min(s.speed_kmh)));
            }
        }
        if attempt.meets == Meets::WithReserve {
            let donor = &mut d.donor;
            for resistance in [&mut donor.drag_coefficient, &mut donor.rolling_coefficient, &mut donor.rolling_coefficient_per_m_s] {
                *resistance *= ROAD_RESERVE;
            }
        }
        for goal in &mut d.brief.goals {
            goal.level = GoalLevel::Required;
            ask(&mut goal.measure, attempt);
        }
    })
}

/// A share of what a goal asks, or all of it with a reserve.
fn ask(measure: &mut Measure, Attempt { meets, share, .. }: Attempt) {
    let steeper = if meets == Meets::WithReserve { HILL_RESERVE } else { share };
    match measure {
        Measure::Range { at_least_km: x, .. } | Measure::TopSpeed { at_least_kmh: x } => *x *= share,
        Measure::HillStart { at_least_percent: x } | Measure::HillAtSpeed { at_least_percent: x, .. } => *x *= steeper,
        Measure::EnergyUse { at_most_wh_per_km: x, .. }
        | Measure::Acceleration { at_most_s: x, .. }
        | Measure::ChargeTime { at_most_h: x, .. }
        | Measure::Cost { at_most: x } => *x /= share,
        // Added mass may be none or less, of which no share can be told.
        // A limit is kept as it is: whoever sets one has a reason.
        Measure::SpeedLimit { .. } | Measure::PowerLimit { .. } => {}
        Measure::AddedMass { at_most_kg } => *at_most_kg += (1.0 / share - 1.0) * at_most_kg.abs(),
    }
}
