//! Donors side by side before one is bought: each with a chain, judged by the brief, ranked with reasons.

use serde::Serialize;

use crate::cancel::Cancel;
use crate::claims::{SPARE, SURPLUS, regret};
use crate::document::{AlreadyElectric, Checked, Design, Donor, GoalLevel, Measure, Pack};
use crate::error::{Error, Result};
use crate::figures::Verdict;
use crate::findings::Severity;
use crate::layout::{PackRoom, layout, pack_room};
use crate::quantity::{Sentence, figure, sentence};
use crate::report::{Report, report_until};

/// A donor to be held against the brief.
#[derive(Debug, Clone)]
pub struct Contender {
    /// Names it in the answer.
    pub id: String,
    /// The vehicle.
    pub donor: Donor,
    /// A chain chosen for it. Absent: that of the design in hand.
    pub design: Option<Design>,
}

/// One donor as the brief sees it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CandidateRow {
    /// As given.
    pub id: String,
    /// The vehicle's name.
    pub name: String,
    /// Place in the ranking, from 1.
    pub place: u32,
    /// Whether the chain was chosen for it, rather than being that of the design in hand.
    pub own_chain: bool,
    /// Why nothing can be told of it with this chain.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub refused: Option<String>,
    /// What it does.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub figures: Option<CandidateFigures>,
    /// Bought for, less what its parts sold for; absent where nobody said what is asked for it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub donor_net: Option<f64>,
    /// Mean of the grades of its condition.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub condition: Option<f64>,
    /// Rank by the brief's weights: higher is better. Absent where it could not be worked out.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rank: Option<f64>,
    /// What sets it apart from the others, the weightiest first.
    pub reasons: Vec<Distinction>,
}

/// What a donor does with its chain.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CandidateFigures {
    /// Goals met, of all that were set.
    pub met: usize,
    /// Goals set.
    pub asked: usize,
    /// Musts that are not met, by name.
    pub missed: Vec<Sentence>,
    /// Findings that stop it.
    pub stops: usize,
    /// Energy from the pack on the first trip, Wh/km.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub wh_per_km: Option<f64>,
    /// Range on the first trip, km.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub range_km: Option<f64>,
    /// Laden, kg.
    pub laden_kg: f64,
    /// Its pack, kg.
    pub pack_kg: f64,
    /// What a pack may weigh where this one sits, by the ratings that are known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pack_room: Option<PackRoom>,
    /// Modules of its pack, and how many of them the measured bays hold; absent where none is measured.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub bays_hold: Option<[u32; 2]>,
    /// Gears of the donor's own gearbox that stay in use; 0: it leaves, or there is none.
    pub gears_kept: usize,
    /// Chain and donor together; absent where the donor's price is not known.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub total: Option<f64>,
    /// The chain alone, less parts sold.
    pub net: f64,
}

/// What speaks for a donor or against it, beside the others.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Distinction {
    /// In words.
    pub words: Sentence,
    /// By how much it lifts the rank above the mean of all; negative: pulls it down.
    pub lifts: f64,
}

/// Reasons told of each.
const MOST_REASONS: usize = 5;
/// Below this a reason sets nobody apart.
const LEAST_LIFT: f64 = 0.005;
/// Never reached counts as ten times over.
const NEVER: f64 = 2.3;
/// What costs nobody knows how much counts as so many times the dearest.
const UNPRICED: f64 = 1.1;
/// Grade of what nobody looked at.
const MIDDLING: f64 = 3.0;

/// Something that counts in the rank of one donor.
struct Term {
    /// Names the same thing of every donor.
    key: String,
    words: Sentence,
    counts: f64,
}

struct Worked {
    row: CandidateRow,
    terms: Vec<Term>,
}

/// Holds donors against the brief of a document, each with its own chain or with the design in hand, and ranks them: what misses fewer
/// musts before what misses more, what nothing stops before what something does, then by the weights of the brief. In the rank each goal
/// counts as in a search; money, donor included, as a goal that nobody set; the best condition as much as passing a goal by a fifth. A
/// donor without a price counts as a tenth dearer than the dearest.
///
/// # Errors
/// [`crate::error::Error::Cancelled`]; a donor that the chain cannot go into is told in its row.
pub fn compare(document: &Checked, contenders: &[Contender], cancel: &Cancel) -> Result<Vec<CandidateRow>> {
    let mut worked = Vec::with_capacity(contenders.len());
    for contender in contenders {
        cancel.check()?;
        worked.push(work(document, contender, cancel)?);
    }
    let totals: Vec<Option<f64>> = worked.iter().map(|w| w.row.figures.as_ref().and_then(|f| f.total)).collect();
    let (least, most) = totals.iter().flatten().fold((f64::INFINITY, 1.0_f64), |(a, b), t| (a.min(*t), b.max(*t)));
    let mean_weight = mean_weight(document);
    for (w, total) in worked.iter_mut().zip(&totals) {
        if w.row.figures.is_none() {
            continue;
        }
        let words = match total {
            Some(total) if *total > least => {
                sentence!("{} in all, {} more than the least", figure(*total, "money", 0), figure(*total - least, "money", 0))
            }
            Some(total) => sentence!("{} in all, the least of all", figure(*total, "money", 0)),
            None => "what is asked for it is not known: counted as dearer than the rest".into(),
        };
        let over = (total.unwrap_or(UNPRICED * most).max(1.0) / least.clamp(1.0, most)).ln();
        w.terms.push(Term { key: "money".to_owned(), words, counts: -mean_weight * SURPLUS * over });
    }
    settle(worked, document)
}

fn settle(mut worked: Vec<Worked>, document: &Checked) -> Result<Vec<CandidateRow>> {
    let mean_of = |key: &str| {
        let all: Vec<f64> = worked.iter().flat_map(|w| w.terms.iter().filter(|t| t.key == key).map(|t| t.counts)).collect();
        all.iter().sum::<f64>() / all.len().max(1) as f64
    };
    let reasons: Vec<Vec<Distinction>> = worked
        .iter()
        .map(|w| {
            let mut reasons: Vec<Distinction> =
                w.terms.iter().map(|t| Distinction { words: t.words.clone(), lifts: t.counts - mean_of(&t.key) }).collect();
            reasons.retain(|r| r.lifts.abs() >= LEAST_LIFT);
            reasons.sort_by(|a, b| b.lifts.abs().total_cmp(&a.lifts.abs()));
            reasons.truncate(MOST_REASONS);
            reasons
        })
        .collect();
    for (w, reasons) in worked.iter_mut().zip(reasons) {
        w.row.reasons = reasons;
        w.row.rank = w.row.figures.is_some().then(|| w.terms.iter().map(|t| t.counts).sum());
    }
    let musts = document.brief.goals.iter().filter(|g| g.level == GoalLevel::Required).count();
    let tier = |row: &CandidateRow| row.figures.as_ref().map_or((musts + 1, usize::MAX), |f| (f.missed.len(), f.stops));
    let mut rows: Vec<CandidateRow> = worked.into_iter().map(|w| w.row).collect();
    let rank = |row: &CandidateRow| row.rank.unwrap_or(f64::NEG_INFINITY);
    rows.sort_by(|a, b| tier(a).cmp(&tier(b)).then(rank(b).total_cmp(&rank(a))));
    for (i, row) in rows.iter_mut().enumerate() {
        row.place = i as u32 + 1;
    }
    Ok(rows)
}

fn mean_weight(document: &Checked) -> f64 {
    let goals = &document.brief.goals;
    if goals.is_empty() { 1.0 } else { goals.iter().map(|g| g.weight).sum::<f64>() / goals.len() as f64 }
}

fn work(document: &Checked, contender: &Contender, cancel: &Cancel) -> Result<Worked> {
    let donor = &contender.donor;
    let mut row = CandidateRow {
        id: contender.id.clone(),
        name: donor.name.clone(),
        place: 0,
        own_chain: contender.design.is_some(),
        refused: None,
        figures: None,
        donor_net: donor.net_price(),
        condition: donor.condition.mean(),
        rank: None,
        reasons: Vec::new(),
    };
    let seated = document.with(|d| {
        d.donor = donor.clone();
        if let Some(design) = &contender.design {
            d.design = design.clone();
        }
    });
    let reported = seated.and_then(|d| report_until(&d, cancel).map(|report| (d, report)));
    match reported {
        Ok((d, report)) => {
            let terms = terms(&d, &report);
            row.figures = Some(figures(&d, &report));
            Ok(Worked { row, terms })
        }
        Err(Error::Cancelled) => Err(Error::Cancelled),
        Err(error) => {
            row.refused = Some(error.to_string());
            Ok(Worked { row, terms: Vec::new() })
        }
    }
}

fn figures(document: &Checked, report: &Report) -> CandidateFigures {
    let first = report.trips.first();
    let sheet = layout(document);
    let fits: Vec<u32> = sheet.bays.iter().filter_map(|b| b.fit.as_ref()).map(|f| f.modules).collect();
    let modules = document.design.pack.as_ref().map_or(0, Pack::module_count);
    let paid = document.donor.purchase_price;
    CandidateFigures {
        met: report.claims.iter().filter(|c| c.verdict == Verdict::Met).count(),
        asked: report.claims.len(),
        missed: report
            .claims
            .iter()
            .filter(|c| c.level == GoalLevel::Required && c.verdict != Verdict::Met)
            .map(|c| c.name.clone())
            .collect(),
        stops: report.findings.iter().filter(|f| f.severity == Severity::Stop).count(),
        wh_per_km: first.and_then(|t| t.wh_per_km),
        range_km: first.and_then(|t| t.range_km),
        laden_kg: report.masses.test_kg,
        pack_kg: report.masses.pack_kg,
        pack_room: pack_room(document),
        bays_hold: (!fits.is_empty()).then(|| [fits.iter().sum(), modules]),
        gears_kept: if document.design.driveline.is_none() { document.donor.driveline.gears.len() } else { 0 },
        total: paid.map(|paid| paid + report.cost.net),
        net: report.cost.net,
    }
}

/// What of one donor counts in the rank, but for money, which needs the others.
fn terms(document: &Checked, report: &Report) -> Vec<Term> {
    let mut terms: Vec<Term> = Vec::new();
    for (goal, claim) in document.brief.goals.iter().zip(&report.claims) {
        let over = match (claim.margin, claim.verdict) {
            (Some(m), _) if claim.more_is_better => -(1.0 + m).max((-NEVER).exp()).ln(),
            (Some(m), _) => (1.0 - m).max((-NEVER).exp()).ln(),
            (None, Verdict::CannotTell) => 0.0,
            (None, _) => NEVER,
        };
        let always = matches!(goal.measure, Measure::Cost { .. } | Measure::AddedMass { .. });
        let percent = |share: f64| figure(100.0 * share, "%", 0);
        let words = match claim.margin {
            Some(m) if m < 0.0 => claim.name.clone().then(sentence!(": missed by {}", percent(-m))),
            Some(m) => claim.name.clone().then(sentence!(": {} to spare", percent(m))),
            None if claim.verdict == Verdict::CannotTell => claim.name.clone().then(": cannot be told".into()),
            None => claim.name.clone().then(": never reached".into()),
        };
        terms.push(Term { key: goal.id.clone(), words, counts: -goal.weight * regret(over, always) });
    }
    let condition = &document.donor.condition;
    let grade = condition.mean();
    // Grades run from 1 to 5: a step either way of the middling is half of the whole.
    let counts = -mean_weight(document) * regret(-SPARE.ln(), false) * (grade.unwrap_or(MIDDLING) - MIDDLING) / 2.0;
    let words = grade.map_or_else(
        || "its condition: nobody looked, counted as middling".into(),
        |g| sentence!("its condition: graded {} of 5", figure(g, "", 1)),
    );
    terms.push(Term { key: "condition".to_owned(), words, counts });
    let without = AlreadyElectric::ALL.len() - document.donor.already_electric.len().min(5);
    let words = if document.donor.already_electric.is_empty() {
        "nothing of it works without its engine".into()
    } else {
        let all: Vec<&str> = document.donor.already_electric.iter().map(|e| e.word()).collect();
        sentence!("electric already: {}", all.join(", "))
    };
    let counts = mean_weight(document) * regret(-SPARE.ln(), false) * without as f64 / 5.0;
    terms.push(Term { key: "electric".to_owned(), words, counts });
    terms
}
