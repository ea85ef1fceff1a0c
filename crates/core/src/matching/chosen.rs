//! From the names of a pick to its design and its exact figures.

use super::answer::{Pick, pick};
use super::configuration::{Configuration, PLACES};
use super::gearing::Gearing;
use super::objectives::Figures6;
use super::search::Found;
use super::space::{Ready, SearchProblem};
use crate::cancel::Cancel;
use crate::document::{Checked, Design, MatchRequest, MotorPlace};
use crate::error::{Problem, Problems, Result};
use crate::figures::{Evaluator, OperatingPoint};
use crate::library::Part;

/// The designs of picks, in their order: what a click on a match makes a variant of. Parts in hand cost nothing in them.
///
/// # Errors
/// What [`MatchRequest::check`] refuses, and names in a pick that the library or the donor's gearings do not have.
pub fn designs_of(document: &Checked, library: &[Part], request: &MatchRequest, picks: &[Pick]) -> Result<Vec<Design>> {
    let problem = SearchProblem::of(document, library, request)?;
    let each = picks.iter().enumerate();
    each.map(|(i, pick)| Ok(problem.design(&choice_of(&problem, pick, &format!("picks[{i}]"))?, false))).collect()
}

fn position<T>(all: &[Ready<T>], name: &str, of: impl Fn(&T) -> &str) -> Option<u16> {
    all.iter().position(|r| of(&r.written) == name).map(|i| i as u16)
}

/// The configuration a pick names.
pub(super) fn choice_of(problem: &SearchProblem, pick: &Pick, path: &str) -> Result<Configuration> {
    let mut problems = Problems::new();
    let mut found = |key: &str, given: &str, at: Option<u16>, accepted: &str| {
        if at.is_none() {
            problems.push(Problem::new(format!("{path}.{key}"), format!("\"{given}\""), accepted));
        }
        at.unwrap_or_default()
    };
    let known = "a part that the library has and the search allows is needed";
    let motor = found("motor", &pick.motor, position(&problem.motors, &pick.motor, |m| &m.name), known);
    let controller = found("controller", &pick.controller, position(&problem.controllers, &pick.controller, |c| &c.name), known);
    let module = found("module", &pick.module, position(&problem.modules, &pick.module, |m| &m.name), known);
    let gearing = problem.gearings.iter().position(|g| g.id == pick.gearing).map(|i| i as u16);
    let ways: Vec<&str> = problem.gearings.iter().map(|g| g.id.as_str()).collect();
    let gearing = found("gearing", &pick.gearing, gearing, &format!("this donor can be geared: {}", ways.join(", ")));
    let named = |name: &str| problem.chargers.iter().position(|c| c.as_ref().is_some_and(|c| c.written.name == name)).map(|i| i as u16);
    let charger = match &pick.charger {
        Some(name) => found("charger", name, named(name), known),
        None => 0,
    };
    for (key, given, most) in [
        ("motor_count", pick.motor_count, 4),
        ("modules_in_series", pick.modules_in_series, 400),
        ("strings_in_parallel", pick.strings_in_parallel, 60),
    ] {
        if !(1..=most).contains(&given) {
            problems.push(Problem::new(format!("{path}.{key}"), given, format!("1 to {most} is accepted")));
        }
    }
    if !problems.is_empty() {
        return Err(problems.into_error());
    }
    Ok(Configuration {
        motor,
        count: pick.motor_count as u16,
        place: PLACES.iter().position(|p| *p == pick.motor_place).unwrap_or_default() as u8,
        gearing,
        controller,
        module,
        series: pick.modules_in_series as u16,
        parallel: pick.strings_in_parallel as u16,
        charger,
    })
}

/// Place and gearing of the motor asked about: a motor that cannot sit where the old one sat, or be geared as it was, goes where it can.
pub(super) fn seat(problem: &SearchProblem, pick: &Pick, motor: Option<&String>, gearing: Option<&String>) -> (MotorPlace, String) {
    let name = motor.unwrap_or(&pick.motor);
    let wanted = gearing.unwrap_or(&pick.gearing).clone();
    let Some(motor) = problem.motors.iter().find(|m| m.written.name == *name) else { return (pick.motor_place, wanted) };
    let mounts = problem.mounts(&motor.written);
    let stays = mounts.iter().any(|(place, _)| *place == pick.motor_place);
    let place = mounts.first().filter(|_| !stays).map_or(pick.motor_place, |m| m.0);
    let fits = |g: &&Gearing| SearchProblem::fits(g, place, &motor.written);
    let as_asked = gearing.is_some() || problem.gearings.iter().filter(fits).any(|g| g.id == wanted);
    let fitting = problem.gearings.iter().find(fits).filter(|_| !as_asked).map(|g| g.id.clone());
    (place, fitting.unwrap_or(wanted))
}

/// Exact figures of a configuration, whatever its rules and goals say.
pub(super) fn assess(problem: &SearchProblem, configuration: &Configuration, cancel: &Cancel) -> Result<Found> {
    let document = problem.document(configuration);
    let point = OperatingPoint::of(&document)?;
    let own_trips = problem.traced(&document)?;
    let mut evaluator = Evaluator::new(&document, &point, own_trips.as_deref().unwrap_or(&problem.trips), cancel);
    let mut figures: Figures6 = [0.0; 6];
    for (figure, kind) in figures.iter_mut().zip(&problem.objectives.kinds) {
        if let Some(kind) = kind {
            *figure = evaluator.value(*kind)?;
        }
    }
    let rank = problem.objectives.rank(&problem.objectives.bins(&figures));
    Ok(Found { configuration: *configuration, figures, rank })
}

/// What a configuration reaches of each goal that must be met, in their order.
pub(super) fn reached(problem: &SearchProblem, configuration: &Configuration, cancel: &Cancel) -> Result<Vec<f64>> {
    let document = problem.document(configuration);
    let point = OperatingPoint::of(&document)?;
    let own_trips = problem.traced(&document)?;
    let mut evaluator = Evaluator::new(&document, &point, own_trips.as_deref().unwrap_or(&problem.trips), cancel);
    problem.constraints.iter().map(|m| evaluator.value(m.kind)).collect()
}

/// The same configuration among the lists of another problem of the same library.
pub(super) fn carried(from: &SearchProblem, to: &SearchProblem, configuration: &Configuration) -> Result<Configuration> {
    choice_of(to, &pick(from, configuration), "pick")
}
