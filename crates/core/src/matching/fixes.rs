//! The cheapest single change of a design that meets a goal it misses: one part, one count or one gearing, everything else as it stands.

use rayon::prelude::*;
use serde::Serialize;

use super::admitted::{priced, unfit};
use super::gearing::{Gearing, gearings};
use super::request::WARNINGS_KEPT;
use super::space::SearchProblem;
use crate::alternatives::with_part;
use crate::cancel::Cancel;
use crate::claims::Claim;
use crate::document::{Checked, Design, Document, GoalLevel};
use crate::error::{Error, Result};
use crate::figures::{Verdict, cost};
use crate::findings::{Finding, Rule, Severity};
use crate::library::Part;
use crate::limits::{charger_over_pack, charger_under_pack, full_charge_over, pack_below};
use crate::quantity::Sentence;
use crate::quantity::sentence;
use crate::report::{Report, report_until};

/// One change that meets a goal.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fix {
    /// Goal that it meets.
    pub goal: String,
    /// What changes, in a few words.
    pub change: Sentence,
    /// What it adds to the net cost; negative where it costs less.
    pub added_cost: f64,
    /// What is predicted of the goal then.
    pub predicted: f64,
    /// Unit of it.
    pub unit: String,
    /// Goals met before that it makes missed.
    pub makes_missed: Vec<Sentence>,
    /// The whole design with the change.
    pub design: Design,
}

/// Ways of mending every goal that is missed.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fixes {
    /// The cheapest change for each goal that has one, in the order of the goals.
    pub fixes: Vec<Fix>,
    /// Goals that no single change meets.
    pub none: Vec<String>,
    /// Changes that were tried, and how many there are.
    pub tried: u32,
    /// How many there are.
    pub of: u32,
    /// Whether all were tried that had to be; when false a cheaper one, or any at all, may be missing.
    pub complete: bool,
}

/// Strings and modules in series that are tried beside those at hand.
const STRINGS: std::ops::RangeInclusive<i64> = -1..=4;
const IN_SERIES: std::ops::RangeInclusive<i64> = -4..=8;
/// Changes tried side by side before the first that do are looked at; the same on every machine.
const BATCH: usize = 16;

struct Change {
    words: Sentence,
    document: Checked,
    added_cost: f64,
}

/// Every single change of a complete design, the cheapest first.
fn changes(document: &Checked, library: &[Part], cancel: &Cancel) -> Result<Vec<Change>> {
    let before = cost(document).net;
    let gearings = gearings(document);
    let mut all = Vec::new();
    let mut add = |words: Sentence, changed: Checked| {
        let added_cost = cost(&changed).net - before;
        all.push(Change { words, document: changed, added_cost });
    };
    let brief = &document.brief;
    let request = &brief.search;
    let names = [
        document.design.motor.as_ref().map(|p| p.name.as_str()),
        document.design.controller.as_ref().map(|p| p.name.as_str()),
        document.design.pack.as_ref().map(|p| p.module.name.as_str()),
        document.design.charger.as_ref().map(|p| p.name.as_str()),
    ];
    for part in library.iter().filter(|p| !matches!(p, Part::Component(_)) && !names.contains(&Some(p.name()))) {
        cancel.check()?;
        if !request.takes(part, library) || unfit(document, part, request).is_some() {
            continue;
        }
        // What its currency is worth somebody has to say.
        let Some(part) = priced(part, &brief.currency, request) else { continue };
        let mut changed = with_part(document, &part);
        if let Some(gearing) = gearings.iter().find(|g| changed.driveline() != document.driveline() && is_geared_so(&changed.design, g)) {
            changed = changed.with_sound(|d| swap_gearing(d, gearing, &gearings));
        }
        let words = match (&*part, &changed.design.pack) {
            (Part::Module(m), Some(pack)) => sentence!("{} as {}", &m.name, pack.series_parallel()),
            _ => part.name().into(),
        };
        add(words, changed);
    }
    if let Some(pack) = &document.design.pack {
        let counted =
            |count: u32, by: i64, most: u32| u32::try_from(i64::from(count) + by).ok().filter(|n| by != 0 && (1..=most).contains(n));
        for parallel in STRINGS.filter_map(|by| counted(pack.strings_in_parallel, by, 200)) {
            let with = |d: &mut Document| d.design.pack.iter_mut().for_each(|p| p.strings_in_parallel = parallel);
            if let Ok(changed) = document.with(with) {
                add(sentence!("{} strings", parallel.to_string()), changed);
            }
        }
        for series in IN_SERIES.filter_map(|by| counted(pack.modules_in_series, by, 400)) {
            let with = |d: &mut Document| d.design.pack.iter_mut().for_each(|p| p.modules_in_series = series);
            if let Ok(changed) = document.with(with) {
                add(sentence!("{} in series", series.to_string()), changed);
            }
        }
    }
    if let Some(motor) = &document.design.motor {
        let place = document.design.motor_place;
        for gearing in gearings.iter().filter(|g| SearchProblem::fits(g, place, motor)) {
            let driveline = gearing.driveline.as_ref().unwrap_or(&document.donor.driveline);
            if driveline == document.driveline() {
                continue;
            }
            if let Ok(changed) = document.with(|d| swap_gearing(d, gearing, &gearings)) {
                add(gearing.name.as_str().into(), changed);
            }
        }
    }
    all.sort_by(|a, b| a.added_cost.total_cmp(&b.added_cost));
    Ok(all)
}

/// Whether a design's motor is geared in a way of the donor's.
fn is_geared_so(design: &Design, gearing: &Gearing) -> bool {
    let fits = |motor| SearchProblem::fits(gearing, design.motor_place, motor);
    design.motor.as_ref().is_some_and(fits) && design.driveline == gearing.driveline
}

/// Puts a gearing in, and what was bought for another one out.
fn swap_gearing(document: &mut Document, gearing: &Gearing, all: &[Gearing]) {
    let design = &mut document.design;
    design.added.retain(|item| !all.iter().filter_map(|g| g.added.as_ref()).any(|of| of.name == item.name));
    design.driveline.clone_from(&gearing.driveline);
    design.added.extend(gearing.added.clone());
}

/// Whether no match may break a rule.
fn is_kept(rule: Rule, document: &Document) -> bool {
    let allowed = || document.brief.search.allow.iter().any(|id| rule == id.as_str());
    rule.severity() == Severity::Stop || rule == Rule::UnitIntoGearbox || WARNINGS_KEPT.contains(&rule) && !allowed()
}

/// Rules that a design breaks and no match may.
fn broken(report: &Report, document: &Document) -> Vec<Rule> {
    report.findings.iter().map(|f: &Finding| f.rule).filter(|rule| is_kept(*rule, document)).collect()
}

/// Those of them that plain ratings tell, before anything is computed.
fn broken_at_once(document: &Document) -> Vec<Rule> {
    let Design { motor, controller, pack: Some(pack), charger, .. } = &document.design else { return Vec::new() };
    let full_v = pack.module.full_voltage_v * f64::from(pack.cells_in_series());
    let mut out = Vec::new();
    let mut rule = |rule: Rule, broken: bool| out.extend(broken.then_some(rule).filter(|r| is_kept(*r, document)));
    if let Some(c) = controller {
        rule(Rule::FullChargeOverController, full_charge_over(full_v, c.max_voltage_v));
        rule(Rule::PackBelowController, pack_below(full_v, c.min_voltage_v));
        rule(Rule::MotorKind, motor.as_ref().is_some_and(|m| !c.motor_kinds.contains(&m.kind)));
    }
    rule(Rule::FullChargeOverMotor, motor.as_ref().and_then(|m| m.max_voltage_v).is_some_and(|v| full_charge_over(full_v, v)));
    if let Some(c) = charger {
        rule(Rule::ChargerOverPack, charger_over_pack(full_v, c.output_min_v));
        rule(Rule::ChargerUnderPack, charger_under_pack(full_v, c.output_max_v));
    }
    out
}

/// What a change does, against the design as it stands.
struct Tried {
    claims: Vec<Claim>,
    /// Places of goals met before and missed now.
    missed: Vec<usize>,
    breaks_a_must: bool,
    sound: bool,
}

fn tried(before: &Report, change: &Change, cancel: &Cancel) -> Result<Option<Tried>> {
    let after = match report_until(&change.document, cancel) {
        Ok(after) => after,
        Err(Error::Cancelled) => return Err(Error::Cancelled),
        // What cannot be computed mends nothing.
        Err(_) => return Ok(None),
    };
    let known = broken(before, &change.document);
    let met = |c: &Claim| c.verdict == Verdict::Met;
    let missed: Vec<usize> = (0..after.claims.len()).filter(|i| met(&before.claims[*i]) && !met(&after.claims[*i])).collect();
    Ok(Some(Tried {
        sound: broken(&after, &change.document).iter().all(|s| known.contains(s)),
        breaks_a_must: missed.iter().any(|i| after.claims[*i].level == GoalLevel::Required),
        missed,
        claims: after.claims,
    }))
}

/// The cheapest single change for every goal that a complete design misses.
///
/// Tried are every part of the library in place of its kind (modules at the volts and energy at hand), strings and modules in series
/// beside those at hand, and every gearing of the donor, the cheapest first. A change that breaks a rule which a search keeps is none.
/// One that makes missed what must be met is taken only where no other meets the goal, and says what it loses. Judged by central
/// figures. `go_on` is asked now and then; when it says no, what was found stands and `complete` is false.
///
/// # Errors
/// As [`crate::report::report`]: a design that is not complete, or [`Error::Cancelled`].
pub fn fixes(document: &Checked, library: &[Part], cancel: &Cancel, go_on: impl Fn() -> bool) -> Result<Fixes> {
    let document = &document.without_idle_schedules();
    let before = report_until(document, cancel)?;
    let missed: Vec<usize> = (0..before.claims.len()).filter(|i| before.claims[*i].verdict == Verdict::Missed).collect();
    let mut out = Fixes { fixes: Vec::new(), none: Vec::new(), tried: 0, of: 0, complete: true };
    if missed.is_empty() {
        return Ok(out);
    }
    let known = broken(&before, document);
    let mut changes = changes(document, library, cancel)?;
    changes.retain(|c| broken_at_once(&c.document).iter().all(|r| known.contains(r)));
    out.of = changes.len() as u32;
    let mut clean: Vec<Option<Fix>> = vec![None; missed.len()];
    let mut at_a_price: Vec<Option<Fix>> = vec![None; missed.len()];
    for batch in changes.chunks(BATCH) {
        if clean.iter().all(Option::is_some) {
            break;
        }
        if !go_on() {
            out.complete = false;
            break;
        }
        let outcomes: Vec<Result<Option<Tried>>> = batch.par_iter().with_max_len(1).map(|change| tried(&before, change, cancel)).collect();
        out.tried += batch.len() as u32;
        for (change, outcome) in batch.iter().zip(outcomes) {
            let Some(outcome) = outcome?.filter(|o| o.sound) else { continue };
            for (k, goal) in missed.iter().enumerate() {
                let claim = &outcome.claims[*goal];
                let kept = if outcome.breaks_a_must { &mut at_a_price[k] } else { &mut clean[k] };
                if let (None, Verdict::Met, Some(predicted)) = (&kept, claim.verdict, claim.predicted) {
                    *kept = Some(Fix {
                        goal: claim.goal.clone(),
                        change: change.words.clone(),
                        added_cost: change.added_cost,
                        predicted,
                        unit: claim.unit.clone(),
                        makes_missed: outcome.missed.iter().map(|i| outcome.claims[*i].name.clone()).collect(),
                        design: change.document.design.clone(),
                    });
                }
            }
        }
    }
    for ((goal, clean), priced) in missed.iter().zip(clean).zip(at_a_price) {
        match clean.or(priced) {
            Some(fix) => out.fixes.push(fix),
            None if out.complete => out.none.push(before.claims[*goal].goal.clone()),
            None => {}
        }
    }
    Ok(out)
}
