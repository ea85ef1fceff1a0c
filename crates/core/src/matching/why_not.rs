//! "Why not this?": the rules and figures that speak against a part or a combination.

use serde::{Deserialize, Serialize};

use super::admitted::{Unfit, unfit};
use super::answer::{Match, Pick, row};
use super::chosen::{assess, carried, choice_of, reached, seat};
use super::count::SearchReport;
use super::gearing::gearings;
use super::objectives::covers;
use super::pareto::Wanted;
use super::search::Search;
use super::space::SearchProblem;
use super::why_not_words::{better_words, no_words, short};
use crate::cancel::Cancel;
use crate::document::{CellApproach, Certainty, Checked, CurrentApproach, MatchRequest};
use crate::error::{Error, Result};
use crate::findings::{Finding, Rule, Severity};
use crate::library::Part;
use crate::quantity::Sentence;
use crate::quantity::sentence;
use crate::report::report_until;

/// What is asked about: some or all of the names in a pick.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Question {
    /// Motor.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub motor: Option<String>,
    /// How many.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub motor_count: Option<u32>,
    /// Controller.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub controller: Option<String>,
    /// Gearing, by its id.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub gearing: Option<String>,
    /// Cell or module.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub module: Option<String>,
    /// Modules in series.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub modules_in_series: Option<u32>,
    /// Strings in parallel.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub strings_in_parallel: Option<u32>,
    /// Charger.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub charger: Option<String>,
}

/// A goal that is missed, with both figures.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Miss {
    /// Goal id, or `request.` and the cap.
    pub goal: String,
    /// Name.
    pub name: Sentence,
    /// Asked.
    pub target: f64,
    /// Reached; absent when never.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reached: Option<f64>,
    /// Unit of both.
    pub unit: &'static str,
    /// Whether more is better.
    pub more_is_better: bool,
}

/// One complete combination held against rules and goals.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Examined {
    /// The combination with its figures.
    pub design: Match,
    /// Rules that speak against it, each with two figures.
    pub findings: Vec<Finding>,
    /// Goals that must be met and are not.
    pub misses: Vec<Miss>,
}

/// The answer to "why not this?".
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WhyNot {
    /// The answer in a sentence or two.
    pub summary: Sentence,
    /// Put into the design it was asked beside, all else as there.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub put_in: Option<Examined>,
    /// The best design with it, when any meets the brief.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub best: Option<Match>,
    /// What beats that best, among the designs it was asked against.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub dominated_by: Option<Match>,
    /// When none meets the brief: the one that misses by least, every goal allowed to give.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub nearest: Option<Examined>,
    /// Where every combination with it went.
    pub report: SearchReport,
}

/// Most designs of an answer that it is held against.
const MOST_AGAINST: usize = 2000;
/// Most that a goal gives in the search for the nearest miss, share of its target.
const MOST_MISSED: f64 = 2.0;

/// What a question is asked at and against.
#[derive(Debug, Clone, Copy, Default)]
pub struct Compared<'a> {
    /// The design it was asked at: all else stays as there.
    pub beside: Option<&'a Pick>,
    /// Designs of the answer.
    pub against: &'a [Pick],
}

impl Question {
    fn names(&self) -> impl Iterator<Item = &str> {
        [&self.motor, &self.controller, &self.module, &self.charger].into_iter().flatten().map(String::as_str)
    }
}

fn narrowed(request: &MatchRequest, library: &[Part], question: &Question) -> MatchRequest {
    let mut request = MatchRequest { certainty: Certainty::P50, ..request.clone() };
    let asked = [&question.motor, &question.controller, &question.module, &question.charger];
    // A part asked about is looked at even where it was excluded, belongs to the other approach, or another is in hand.
    request.exclude.retain(|n| !asked.iter().any(|a| a.as_ref() == Some(n)));
    let kinds: Vec<&str> = library.iter().filter(|p| question.names().any(|n| n == p.name())).map(Part::kind).collect();
    let kind_of = |name: &str| library.iter().find(|p| p.name() == name).map(Part::kind);
    request.in_hand.retain(|n| question.names().any(|a| a == n) || !kind_of(n).is_some_and(|k| kinds.contains(&k)));
    if question.motor.is_some() {
        request.current = CurrentApproach::Any;
    }
    if question.module.is_some() {
        request.cells = CellApproach::Any;
    }
    let only = &mut request.only;
    let lists = [&mut only.motors, &mut only.controllers, &mut only.modules, &mut only.chargers];
    for (list, name) in lists.into_iter().zip(asked) {
        if let Some(name) = name {
            *list = vec![name.clone()];
        }
    }
    if let Some(id) = &question.gearing {
        request.gearings = vec![id.clone()];
    }
    if let Some(n) = question.motor_count {
        request.motor_counts = vec![n];
    }
    request.modules_in_series = question.modules_in_series.or(request.modules_in_series);
    request.strings_in_parallel = question.strings_in_parallel.or(request.strings_in_parallel);
    request
}

/// A pick with what is asked about put in.
fn put_in(all: &SearchProblem, pick: &Pick, question: &Question) -> Pick {
    let (place, gearing) = seat(all, pick, question.motor.as_ref(), question.gearing.as_ref());
    let or = |asked: &Option<String>, own: &String| asked.clone().unwrap_or_else(|| own.clone());
    Pick {
        motor: or(&question.motor, &pick.motor),
        motor_count: question.motor_count.unwrap_or(pick.motor_count),
        motor_place: place,
        gearing,
        controller: or(&question.controller, &pick.controller),
        module: or(&question.module, &pick.module),
        modules_in_series: question.modules_in_series.unwrap_or(pick.modules_in_series),
        strings_in_parallel: question.strings_in_parallel.unwrap_or(pick.strings_in_parallel),
        charger: question.charger.clone().or_else(|| pick.charger.clone()),
    }
}

fn examine(problem: &SearchProblem, document: &Checked, pick: &Pick, cancel: &Cancel) -> Result<Examined> {
    let configuration = choice_of(problem, pick, "beside")?;
    let full = document.with_sound(|d| d.design = problem.design(&configuration, false));
    let against = |f: &Finding| f.severity == Severity::Stop || f.severity == Severity::Warn && !f.rule.id().starts_with("safety.");
    let findings = report_until(&full, cancel)?.findings.into_iter().filter(against).collect();
    let misses = problem
        .constraints
        .iter()
        .zip(reached(problem, &configuration, cancel)?)
        .filter(|(m, value)| !m.met(*value))
        .map(|(m, value)| Miss {
            goal: m.id.clone(),
            name: m.name.clone(),
            target: m.target,
            reached: value.is_finite().then_some(value),
            unit: m.unit,
            more_is_better: m.more_is_better,
        })
        .collect();
    Ok(Examined { design: row(problem, 0, &assess(problem, &configuration, cancel)?), findings, misses })
}

/// Answers why a part or a combination is not in an answer.
///
/// Everything that is not asked
/// about is left free and searched: either a design with it meets the brief, then the one that beats it is named; or none does, then
/// every rule that cut combinations is counted and the nearest miss is laid open.
///
/// # Errors
/// As [`super::search`]; an empty question.
pub fn why_not(
    document: &Checked,
    library: &[Part],
    request: &MatchRequest,
    question: &Question,
    Compared { beside, against }: Compared<'_>,
    cancel: &Cancel,
    mut go_on: impl FnMut() -> bool,
) -> Result<WhyNot> {
    if *question == Question::default() {
        return Err(Error::field("question", "", "name a motor, controller, gearing, module, count or charger to ask about"));
    }
    if against.len() > MOST_AGAINST {
        return Err(Error::field("against", format!("{} designs", against.len()), format!("at most {MOST_AGAINST} are accepted")));
    }
    // Both the part and what it is compared with must be in the lists.
    let all = SearchProblem::unrestricted(document, library, request)?;
    let put_in = match beside {
        Some(pick) => Some(examine(&all, document, &put_in(&all, pick, question), cancel)?),
        None => None,
    };
    let narrow = narrowed(request, library, question);
    let aside = set_aside(document, request, library, question).map_or_else(Sentence::default, |s| (s + " ").into());
    let problem = SearchProblem::of(document, library, &narrow)?;
    let mut search = Search::new(&problem, Wanted::ALL, cancel)?;
    // Once its best is final the rest does not matter.
    search.run(|search| search.settled() == 0 && go_on())?;
    let report = search.report();
    let best = search.front.kept.iter().max_by(|a, b| {
        let tie = if a.tie.before(&b.tie) { std::cmp::Ordering::Greater } else { std::cmp::Ordering::Less };
        a.what.rank.total_cmp(&b.what.rank).then(tie)
    });
    let Some(best) = best else {
        let nearest = if search.complete { nearest(document, library, &narrow, &all, cancel, go_on)? } else { None };
        let summary = aside.then(no_words(&report, nearest.as_ref()));
        return Ok(WhyNot { summary, put_in, best: None, dominated_by: None, nearest, report });
    };
    let mut dominated_by = None;
    for pick in against {
        let other = assess(&all, &choice_of(&all, pick, "against")?, cancel)?;
        if covers(&all.objectives.bins(&other.figures), &best.tie.bins)
            && other.configuration != carried(&problem, &all, &best.what.configuration)?
        {
            dominated_by = Some(row(&all, 0, &other));
            break;
        }
    }
    let best = row(&problem, 0, &best.what);
    let summary = aside.then(match &dominated_by {
        Some(other) => sentence!("It can meet the brief, but {} is ", short(other)).then(better_words(&all, other, &best)).then(".".into()),
        None if against.is_empty() => "It can meet the brief.".into(),
        None => "It meets the brief and nothing in the list beats it; it may stand in the list with other parts beside it.".into(),
    });
    Ok(WhyNot { summary, put_in, best: Some(best), dominated_by, nearest: None, report })
}

/// Why a part was never looked at: what the request itself leaves out.
fn set_aside(document: &Checked, request: &MatchRequest, library: &[Part], question: &Question) -> Option<String> {
    let asked = |p: &&Part| question.names().any(|n| n == p.name());
    library.iter().filter(asked).find_map(|part| {
        let name = part.name();
        if request.exclude.iter().any(|n| n == name) {
            return Some(format!("{name} is excluded in this search."));
        }
        let approach = match part {
            Part::Motor(m) => !request.current.takes(m),
            Part::Module(m) => !request.cells.takes(m),
            _ => false,
        };
        if approach {
            return Some(format!("{name} belongs to the other approach than this search follows."));
        }
        if let Part::Motor(m) = part
            && m.own_reduction.is_some()
            && !gearings(document).iter().any(|g| g.for_units)
        {
            return Some(format!("{name} gears down itself and drives half-shafts, which this donor has no place for."));
        }
        match unfit(document, part, request) {
            Some(Unfit::NoPrice) => return Some(format!("Nobody has said what {name} costs: price it, or say that it is in hand.")),
            Some(Unfit::BarePouch) => return Some(format!("{name}: {} are left out.", Rule::BarePouch.short())),
            None => {}
        }
        (!request.takes(part, library)).then(|| format!("This search is held to other {}s.", part.kind()))
    })
}

fn nearest(
    document: &Checked,
    library: &[Part],
    narrow: &MatchRequest,
    all: &SearchProblem,
    cancel: &Cancel,
    mut go_on: impl FnMut() -> bool,
) -> Result<Option<Examined>> {
    let plain = SearchProblem::of(document, library, narrow)?;
    let relaxed: Vec<usize> = (0..plain.constraints.len()).collect();
    for most in [0.15, MOST_MISSED] {
        let problem = SearchProblem::of(document, library, narrow)?.relaxed_by(&relaxed, most);
        let mut search = Search::new(&problem, Wanted::ALL, cancel)?;
        search.run(|_| go_on())?;
        if let Some(found) = search.front.kept.first() {
            return Ok(Some(examine(all, document, &super::answer::pick(&problem, &found.what.configuration), cancel)?));
        }
    }
    Ok(None)
}
