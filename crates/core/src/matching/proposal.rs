//! A first chain for somebody who has none: the cheapest in the library that does what the brief asks and obeys every rule.

use serde::Serialize;

use super::search::{Found, Search};
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::document::{CellApproach, Certainty, Checked, Design, GoalLevel, Measure};
use crate::error::{Error, Result};
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
    /// Every goal, with a fifth of range and a tenth of speed and hill to spare.
    WithReserve,
    /// Every goal at the median.
    Barely,
    /// As much as the best of a first look does: nothing seen meets every goal.
    Part,
}

/// Reserve on what the vehicle must reach: winter and age take a fifth of a range, wind and slope a tenth of a speed (judgement).
const RANGE_RESERVE: f64 = 1.2;
const RESERVE: f64 = 1.1;
/// A budget is raised by so much while nothing within it does: dear packs then cost no work before cheap ones have failed.
const DEARER: f64 = 1.5;
/// Budgets tried; the last is 150,000 times the first.
const BUDGETS: i32 = 30;
/// Simulated candidates after which the best of those that meet a part is taken.
const ENOUGH: u64 = 200;

/// Proposes a chain for a brief on a donor: the cheapest with new cells and one motor that meets every goal with a reserve, whatever the
/// goals' levels, the donor's gearbox kept where it has one; else the cheapest of any gearing that meets them at the median; else the best
/// of a first look. Every rule that the search keeps is kept, and what the brief's search pins or excludes counts. None where nothing in
/// the library obeys the rules.
///
/// The answer is the same whatever the order of the library and the number of threads. Once `hurry` is told to stop, what is being tried is
/// given up and the first look decides.
///
/// # Errors
/// What the request's own check refuses, or [`Error::Cancelled`] through `cancel`.
pub fn propose(document: &Checked, library: &[Part], hurry: &Cancel, cancel: &Cancel) -> Result<Option<Proposal>> {
    document.brief.search.check(document, library)?;
    for (meets, keep_gearing) in [(Meets::WithReserve, true), (Meets::WithReserve, false), (Meets::Barely, false)] {
        match cheapest(document, library, meets, keep_gearing, hurry) {
            Ok(Some(design)) => return Ok(Some(Proposal { design, meets })),
            Ok(None) => {}
            Err(Error::Cancelled) => break,
            Err(error) => return Err(error),
        }
        cancel.check()?;
    }
    let problem = SearchProblem::of(&asked(document, Meets::Part, false), library, &document.brief.search)?;
    let mut search = Search::new(&problem, cancel)?;
    search.run(|s| s.counts.simulated < ENOUGH)?;
    let found = search.front.kept.iter().map(|k| &k.what).max_by(|a, b| better(a, b));
    Ok(found.map(|f| Proposal { design: marked(&problem, f), meets: Meets::Part }))
}

fn cheapest(document: &Checked, library: &[Part], meets: Meets, keep_gearing: bool, hurry: &Cancel) -> Result<Option<Design>> {
    let asked = asked(document, meets, keep_gearing);
    let mut request = asked.brief.search.clone();
    let most = request.budget.unwrap_or(f64::INFINITY);
    let least = library.iter().map(Part::price).filter(|p| *p > 0.0).fold(f64::INFINITY, f64::min);
    let first = if least.is_finite() { 10.0 * least } else { 1000.0 };
    for budget in (0..BUDGETS).map(|i| first * DEARER.powi(i)) {
        request.budget = Some(budget.min(most));
        let mut problem = SearchProblem::of(&asked, library, &request)?;
        problem.objectives = problem.objectives.cheapest();
        let mut search = Search::new(&problem, hurry)?;
        search.run(|_| true)?;
        if let Some(found) = search.front.kept.first() {
            return Ok(Some(marked(&problem, &found.what)));
        }
        if budget >= most {
            break;
        }
    }
    Ok(None)
}

/// The document with its goals as binding as a proposal takes them.
fn asked(document: &Checked, meets: Meets, keep_gearing: bool) -> Checked {
    document.with_sound(|d| {
        let search = &mut d.brief.search;
        search.certainty = Certainty::P50;
        if search.cells == CellApproach::Any && search.in_hand.is_empty() && search.only.modules.is_empty() {
            search.cells = CellApproach::New;
        }
        if search.in_hand.is_empty() {
            search.motor_counts.retain(|n| *n == 1);
            if search.motor_counts.is_empty() {
                search.motor_counts = vec![1];
            }
        }
        if keep_gearing && search.gearings.is_empty() && d.donor.driveline.gears.len() > 1 {
            search.gearings = vec!["keep".to_owned()];
        }
        for goal in &mut d.brief.goals {
            goal.level = if meets == Meets::Part { GoalLevel::Wanted } else { GoalLevel::Required };
            if meets == Meets::WithReserve {
                add_reserve(&mut goal.measure);
            }
        }
    })
}

fn add_reserve(measure: &mut Measure) {
    match measure {
        Measure::Range { at_least_km, .. } => *at_least_km *= RANGE_RESERVE,
        Measure::TopSpeed { at_least_kmh } => *at_least_kmh *= RESERVE,
        Measure::HillStart { at_least_percent } | Measure::HillAtSpeed { at_least_percent, .. } => *at_least_percent *= RESERVE,
        _ => {}
    }
}

fn marked(problem: &SearchProblem, found: &Found) -> Design {
    Design { proposed: true, ..problem.design(&found.configuration, false) }
}

/// The rank decides; among equals the cheaper, then the first in the lists.
fn better(a: &Found, b: &Found) -> std::cmp::Ordering {
    a.rank.total_cmp(&b.rank).then(b.figures[0].total_cmp(&a.figures[0])).then(b.configuration.cmp(&a.configuration))
}
