//! The answer of a search: the designs that none beats, ranked, each with its weakest link and its weakest claim.

use rayon::prelude::*;
use serde::Serialize;

use super::configuration::{Configuration, PLACES};
use super::count::SearchReport;
use super::gearing::mount_words;
use super::objectives::{AxisInfo, Figures6};
use super::pareto::{Kept, Wanted};
use super::request::{is_direct, is_salvaged};
use super::search::{APPROACHES, Found, Search};
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::document::{Checked, MatchRequest, MotorPlace, series_parallel};
use crate::error::Result;
use crate::estimate::{LinkKind, Paces};
use crate::library::Part;
use crate::quantity::Sentence;
use crate::report::report_with_paces;

/// One design that meets the brief.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Match {
    /// Names everything chosen; [`super::designs_of`] makes the design from it.
    pub pick: Pick,
    /// Designs of one group share motor, controller, gearing and family of cells.
    pub group: String,
    /// Place in the ranking, from 1.
    pub place: u32,
    /// Rank by the brief's weights: 0 is on every target; higher is better.
    pub rank: f64,
    /// Where the motors sit, in words.
    pub mount: String,
    /// The gearing, in words.
    pub gearing: String,
    /// Cells in series and strings, as people say it.
    pub layout: String,
    /// Chemistry, in words.
    pub chemistry: String,
    /// Whether the motor runs on direct current.
    pub direct_current: bool,
    /// Whether the cells have been used before.
    pub salvaged: bool,
    /// Energy within the window, kWh.
    pub usable_kwh: f64,
    /// Net cost, in the brief's currency.
    pub cost: f64,
    /// Range on the trip that counts, km.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub range_km: Option<f64>,
    /// Time between the speeds that count, s; absent when never reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub acceleration_s: Option<f64>,
    /// Mass added, kg.
    pub added_kg: f64,
    /// Hours to fill at the socket that counts; absent when it never fills.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub charge_h: Option<f64>,
    /// Hill held at the speed that counts, percent.
    pub hill_percent: f64,
    /// Why it is no better; absent while a search runs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub held_back: Option<Holdback>,
}

/// Names of everything chosen.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, serde::Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Pick {
    /// Motor.
    pub motor: String,
    /// How many.
    pub motor_count: u32,
    /// Where.
    pub motor_place: MotorPlace,
    /// Gearing, by its id.
    pub gearing: String,
    /// Controller, one for each motor.
    pub controller: String,
    /// Cell or module.
    pub module: String,
    /// In series.
    pub modules_in_series: u32,
    /// In parallel.
    pub strings_in_parallel: u32,
    /// Charger; absent when the library has none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub charger: Option<String>,
}

/// What holds a design back.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Holdback {
    /// Weakest link at peak.
    pub weakest_link: LinkKind,
    /// Its rating.
    pub weakest_rating: Sentence,
    /// Claim with the least margin; absent without goals.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub weakest_claim: Option<WeakestClaim>,
    /// Warnings of the rules, as messages.
    pub warnings: Vec<Sentence>,
}

/// The claim with the least margin.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WeakestClaim {
    /// Goal id.
    pub goal: String,
    /// Name.
    pub name: Sentence,
    /// Asked.
    pub target: f64,
    /// Predicted; absent when never reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub predicted: Option<f64>,
    /// Unit.
    pub unit: String,
    /// Share of the target by which it is met (positive) or missed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub margin: Option<f64>,
    /// What limits it.
    pub limited_by: String,
}

/// The best of one approach, in the answer or not.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ApproachBest {
    /// `direct`, `alternating`, `new` or `salvaged`.
    pub approach: String,
    /// Its best; absent when none of it meets the brief.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub best: Option<Match>,
}

/// The answer of a search.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct MatchAnswer {
    /// Whether the whole library was searched; false when it was stopped.
    pub complete: bool,
    /// How many of the designs, the first of the list, are final: nothing that was not looked at can beat them or stand above them.
    pub settled: u32,
    /// The figures it is judged by.
    pub axes: Vec<AxisInfo>,
    /// How many times as wide as usual the steps became by which figures that no goal asks about are told apart; 1 where they stayed.
    pub widened: u32,
    /// Designs that none beats, best first.
    pub designs: Vec<Match>,
    /// The best of each approach.
    pub approaches: Vec<ApproachBest>,
    /// Parts left out because nobody said what their currency is worth.
    pub unpriced: Vec<String>,
    /// Parts left out because nobody said what they cost and they are not in hand.
    pub without_price: Vec<String>,
    /// Where every combination went.
    pub report: SearchReport,
}

/// A look at a running search.
pub struct Progress<'a> {
    search: &'a Search<'a>,
}

impl Progress<'_> {
    /// Counts so far.
    #[must_use]
    pub fn report(&self) -> SearchReport {
        self.search.report()
    }

    /// Combinations still undecided, and how many of them there were once all packs had been laid out; none before.
    #[must_use]
    pub fn left(&self) -> (u64, u64) {
        (self.search.left.min(self.search.total), self.search.total)
    }

    /// How many of the best so far are final: nothing undecided can beat them or stand above them. None while steps may still become wider.
    #[must_use]
    pub fn settled(&self) -> u32 {
        self.search.settled() as u32
    }

    /// The figures it is judged by.
    #[must_use]
    pub fn axes(&self) -> Vec<AxisInfo> {
        self.search.axes()
    }

    /// The best so far, at most `most`, without reasons.
    #[must_use]
    pub fn leading(&self, most: usize) -> Vec<Match> {
        let mut designs = ranked(self.search);
        designs.truncate(most);
        rows(self.search.problem, &designs)
    }
}

/// Searches a library for designs that meet the document's brief on its donor.
///
/// Every combination of parts that the request allows is either cut by a rule of the findings, by a goal that must be met, by a bound
/// that is never worse than the model, or simulated with the model of the estimate. The answer is the same whatever the order of the
/// library and the number of threads. `go_on` is asked between batches and may look at what has been found; when it says no the
/// search stops with what it has. `cancel` stops it at once, without an answer.
///
/// # Errors
/// What [`MatchRequest::check`] refuses, or the document's own check.
pub fn search(
    document: &Checked,
    library: &[Part],
    request: &MatchRequest,
    cancel: &Cancel,
    mut go_on: impl FnMut(&Progress<'_>) -> bool,
) -> Result<MatchAnswer> {
    let problem = SearchProblem::of(document, library, request)?;
    let mut search = Search::new(&problem, Wanted::of(request), cancel)?;
    search.run(|search| go_on(&Progress { search }))?;
    let found = ranked(&search);
    let mut designs = rows(&problem, &found);
    let plain = document.without_idle_schedules();
    let holdbacks: Vec<Result<Holdback>> =
        found.par_iter().with_max_len(1).map(|f| holdback(&problem, &plain, &f.configuration, cancel)).collect();
    for (design, held) in designs.iter_mut().zip(holdbacks) {
        design.held_back = Some(held?);
    }
    let approaches = APPROACHES
        .iter()
        .zip(&search.bests)
        .map(|(approach, best)| ApproachBest { approach: (*approach).to_owned(), best: best.as_ref().map(|(_, b)| row(&problem, 0, b)) })
        .collect();
    Ok(MatchAnswer {
        complete: search.complete,
        settled: search.settled() as u32,
        axes: search.axes(),
        widened: search.front.widening.times(),
        designs,
        approaches,
        unpriced: problem.unpriced.clone(),
        without_price: problem.without_price.clone(),
        report: search.report(),
    })
}

fn ranked<'a>(search: &'a Search<'_>) -> Vec<&'a Found> {
    let mut kept: Vec<&Kept<Found>> = search.front.kept.iter().collect();
    kept.sort_by(|a, b| {
        let tie = if a.tie.before(&b.tie) { std::cmp::Ordering::Less } else { std::cmp::Ordering::Greater };
        b.what.rank.total_cmp(&a.what.rank).then(tie)
    });
    kept.into_iter().map(|k| &k.what).collect()
}

fn rows(problem: &SearchProblem, found: &[&Found]) -> Vec<Match> {
    (1u32..).zip(found).map(|(place, f)| row(problem, place, f)).collect()
}

pub(super) fn pick(problem: &SearchProblem, configuration: &Configuration) -> Pick {
    let at = |i: u16| usize::from(i);
    Pick {
        motor: problem.motors[at(configuration.motor)].written.name.clone(),
        motor_count: u32::from(configuration.count),
        motor_place: PLACES[usize::from(configuration.place)],
        gearing: problem.gearings[at(configuration.gearing)].id.clone(),
        controller: problem.controllers[at(configuration.controller)].written.name.clone(),
        module: problem.modules[at(configuration.module)].written.name.clone(),
        modules_in_series: u32::from(configuration.series),
        strings_in_parallel: u32::from(configuration.parallel),
        charger: problem.chargers[at(configuration.charger)].as_ref().map(|c| c.written.name.clone()),
    }
}

pub(super) fn row(problem: &SearchProblem, place: u32, found: &Found) -> Match {
    let configuration = &found.configuration;
    let pick = pick(problem, configuration);
    let [cost, range_km, acceleration_s, added_kg, charge_h, hill_percent]: Figures6 = found.figures;
    let active = |i: usize| problem.objectives.axes[i].active;
    let reached = |i: usize, x: f64| (active(i) && x.is_finite()).then_some(x);
    let ready = &problem.modules[usize::from(configuration.module)];
    let module = &ready.written;
    let pack = crate::pack::PackModel::of(
        &problem.pack(&ready.counted, configuration.series, configuration.parallel),
        &problem.base.design.wiring,
        crate::vehicle::Conditions::of(&problem.base).pack_temperature_c,
    );
    let gearing = &problem.gearings[usize::from(configuration.gearing)];
    Match {
        group: format!(
            "{} x{} · {} · {} · {}",
            pick.motor,
            pick.motor_count,
            gearing.id,
            pick.controller,
            super::request::cell_family(module.chemistry)
        ),
        place,
        rank: found.rank,
        mount: mount_words(pick.motor_place, pick.motor_count),
        gearing: gearing.name.clone(),
        layout: series_parallel(u32::from(configuration.series) * module.cells_in_series, u32::from(configuration.parallel)),
        chemistry: module.chemistry.word().to_owned(),
        direct_current: is_direct(&problem.motors[usize::from(configuration.motor)].written),
        salvaged: is_salvaged(module),
        usable_kwh: pack.energy_wh(pack.soc_min, pack.soc_max) / 1000.0,
        cost,
        range_km: reached(1, range_km),
        acceleration_s: reached(2, acceleration_s),
        added_kg,
        charge_h: reached(4, charge_h),
        hill_percent,
        held_back: None,
        pick,
    }
}

fn holdback(problem: &SearchProblem, plain: &Checked, configuration: &Configuration, cancel: &Cancel) -> Result<Holdback> {
    let document = plain.with_sound(|d| d.design = problem.design(configuration, false));
    let estimate = report_with_paces(&document, Paces::Untold, cancel)?;
    let weakest_link = estimate.chain.weakest_peak;
    let rating = estimate.chain.links.iter().find(|l| l.kind == weakest_link).map_or_else(Sentence::default, |l| l.rating.clone());
    let margin = |c: &&crate::claims::Claim| c.margin.unwrap_or(f64::NEG_INFINITY);
    let weakest = estimate.claims.iter().min_by(|a, b| margin(a).total_cmp(&margin(b)));
    let warns = |f: &&crate::findings::Finding| f.severity == crate::findings::Severity::Warn && !f.rule.id().starts_with("safety.");
    Ok(Holdback {
        weakest_link,
        weakest_rating: rating,
        weakest_claim: weakest.map(|c| WeakestClaim {
            goal: c.goal.clone(),
            name: c.name.clone(),
            target: c.target,
            predicted: c.predicted,
            unit: c.unit.clone(),
            margin: c.margin,
            limited_by: c.limited_by.clone(),
        }),
        warnings: estimate.findings.iter().filter(warns).map(|f| f.message.clone()).collect(),
    })
}
