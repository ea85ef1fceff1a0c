//! When nothing meets the brief: the least that would have to give, and which goals stand against each other.

use serde::Serialize;

use super::answer::{Match, row};
use super::chosen::{assess, reached};
use super::configuration::Configuration;
use super::constraint::Constraint;
use super::count::SearchReport;
use super::pareto::Wanted;
use super::search::Search;
use super::space::SearchProblem;
use crate::cancel::Cancel;
use crate::document::{Certainty, Checked, MatchRequest};
use crate::error::Result;
use crate::figures::FigureKind;
use crate::library::Part;
use crate::quantity::Sentence;

/// One goal and by how much it gives way.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GoalSlack {
    /// Goal id, or `request.` and the cap.
    pub goal: String,
    /// Name.
    pub name: Sentence,
    /// What it asks.
    pub target: f64,
    /// What it would have to ask.
    pub relaxed: f64,
    /// Unit of both.
    pub unit: String,
    /// Whether more is better.
    pub more_is_better: bool,
    /// Difference as a share of the target.
    pub share: f64,
}

/// One way out, with the design that then meets everything.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Relaxation {
    /// What gives way; everything else is met.
    pub slacks: Vec<GoalSlack>,
    /// The cheapest design that needs no more.
    pub design: Match,
}

/// What would have to give.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Relaxations {
    /// Ways out, the least first.
    pub options: Vec<Relaxation>,
    /// Names of the goals that stand against each other: letting any one of them go, or all of them a little, frees the rest.
    pub conflict: Vec<Sentence>,
    /// Whether every search was finished.
    pub complete: bool,
    /// Where the combinations of the last search went.
    pub report: SearchReport,
}

/// A look at the search for relaxations.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RelaxProgress {
    /// Goal that is let go at the moment; absent while all give way together.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub goal: Option<Sentence>,
    /// Searches done, and how many there are at most.
    pub done: u32,
    /// How many there are at most.
    pub of: u32,
}

/// Shares of a target that are given up, tried one after the other: the first that helps holds the least.
const MOST: [f64; 4] = [0.15, 0.6, 2.0, 12.0];

/// The searches for what would have to give, one after the other.
struct WaysOut<'a, F> {
    plain: &'a SearchProblem,
    cancel: &'a Cancel,
    go_on: F,
    progress: RelaxProgress,
    out: Relaxations,
}

impl<F: FnMut(&RelaxProgress) -> bool> WaysOut<'_, F> {
    /// Whether anything meets the brief where some goals give way as far as they may: one search, ended by the first such design, in place of
    /// one for each share.
    fn helps(&mut self, relaxed: &[usize]) -> Result<bool> {
        let problem = self.plain.clone().relaxed_by(relaxed, MOST[MOST.len() - 1]);
        let mut search = Search::new(&problem, Wanted::ALL, self.cancel)?;
        let mut stopped = false;
        search.run(|so_far| {
            stopped |= !(self.go_on)(&self.progress);
            !stopped && so_far.front.kept.is_empty()
        })?;
        self.out.complete &= !stopped;
        self.out.report = search.report();
        Ok(!stopped && !search.front.kept.is_empty())
    }

    /// The least that some goals (by their places) have to give while the others stand; none where no share of them helps.
    fn least(&mut self, relaxed: &[usize]) -> Result<()> {
        self.progress.goal = (relaxed.len() == 1).then(|| self.plain.constraints[relaxed[0]].name.clone());
        let helps = self.helps(relaxed)?;
        for most in MOST.into_iter().filter(|_| helps) {
            let problem = self.plain.clone().relaxed_by(relaxed, most);
            let mut search = Search::new(&problem, Wanted::ALL, self.cancel)?;
            search.run(|_| (self.go_on)(&self.progress))?;
            self.out.complete &= search.complete;
            self.out.report = search.report();
            if let Some(best) = search.front.kept.first() {
                let option = relaxation(self.plain, &best.what.configuration, relaxed, self.cancel)?;
                if !self.out.options.iter().any(|o| o.slacks == option.slacks) {
                    self.out.options.push(option);
                }
                break;
            }
            if !self.out.complete {
                break;
            }
        }
        self.progress.done += 1;
        Ok(())
    }
}

/// Finds every least way out of a brief that nothing meets: which goals (and caps of the request) that must be met have to give, and by
/// how much.
///
/// Each goal is let go alone while the others stand, by at most 15, then 60, then 200 percent, then twelve times (a target of next to
/// nothing needs that); every one that helps is a way out. Where no single one helps, all give way together and the least sum of their
/// shares is found; then once more with each of those that gave held firm. Judged by central figures.
///
/// # Errors
/// As [`super::search`].
pub fn relaxations(
    document: &Checked,
    library: &[Part],
    request: &MatchRequest,
    cancel: &Cancel,
    go_on: impl FnMut(&RelaxProgress) -> bool,
) -> Result<Relaxations> {
    let request = MatchRequest { certainty: Certainty::P50, ..request.clone() };
    let plain = SearchProblem::of(document, library, &request)?;
    let all: Vec<usize> = (0..plain.constraints.len()).collect();
    let mut ways = WaysOut {
        plain: &plain,
        cancel,
        go_on,
        progress: RelaxProgress { goal: None, done: 0, of: all.len() as u32 },
        out: Relaxations { options: Vec::new(), conflict: Vec::new(), complete: true, report: SearchReport::default() },
    };
    for goal in &all {
        if ways.out.complete {
            ways.least(&[*goal])?;
        }
    }
    if ways.out.options.is_empty() && ways.out.complete {
        ways.progress.of += 1;
        ways.least(&all)?;
        let gave: Vec<String> = ways.out.options.iter().flat_map(|o| o.slacks.iter().map(|s| s.goal.clone())).collect();
        ways.progress.of += gave.len() as u32;
        for firm in gave {
            let rest: Vec<usize> = all.iter().copied().filter(|i| plain.constraints[*i].id != firm).collect();
            if ways.out.complete {
                ways.least(&rest)?;
            }
        }
    }
    let mut out = ways.out;
    let total = |r: &Relaxation| r.slacks.iter().map(|c| c.share).sum::<f64>();
    out.options.sort_by(|a, b| total(a).total_cmp(&total(b)));
    for name in out.options.iter().flat_map(|o| o.slacks.iter().map(|c| c.name.clone())) {
        if !out.conflict.contains(&name) {
            out.conflict.push(name);
        }
    }
    Ok(out)
}

/// A figure in the digits people use, rounded to the side that lets the design through.
fn rounded(constraint: &Constraint, value: f64) -> f64 {
    let step = match constraint.kind {
        FigureKind::Cost => 1.0,
        _ => 0.1,
    };
    let steps = value / step;
    (if constraint.more_is_better { (steps + 1e-9).floor() } else { (steps - 1e-9).ceil() }) * step
}

fn relaxation(plain: &SearchProblem, configuration: &Configuration, relaxed: &[usize], cancel: &Cancel) -> Result<Relaxation> {
    let values = reached(plain, configuration, cancel)?;
    let slacks = relaxed
        .iter()
        .map(|i| (&plain.constraints[*i], values[*i]))
        .filter(|(m, value)| !m.met(*value))
        .map(|(m, value)| {
            let relaxed = rounded(m, value);
            GoalSlack {
                goal: m.id.clone(),
                name: m.name.clone(),
                target: m.target,
                relaxed,
                unit: m.unit.to_owned(),
                more_is_better: m.more_is_better,
                share: m.shortfall(relaxed),
            }
        })
        .collect();
    Ok(Relaxation { slacks, design: row(plain, 0, &assess(plain, configuration, cancel)?) })
}
