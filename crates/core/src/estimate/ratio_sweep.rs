//! One design over the ratio of its driveline: what top speed, hill and sprint become of it.

use serde::Serialize;

use crate::cancel::Cancel;
use crate::document::{Document, Driveline, Measure};
use crate::error::Result;
use crate::figures::performance::{pulls, run_soc, top};
use crate::inputs::Counted;
use crate::powertrain::{Chain, Rating};
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::{hill_start, quickest_s};
use crate::vehicle::masses;

/// The design with another ratio behind its gears.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RatioPoint {
    /// Ratio over today's; every gear shares it.
    pub factor: f64,
    /// Overall ratio of the first gear.
    pub overall_ratio: f64,
    /// Top speed, km/h.
    pub top_speed_kmh: f64,
    /// Steepest start, percent.
    pub hill_start_percent: f64,
    /// Time of the sprint, s; absent when never reached.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sprint_s: Option<f64>,
}

/// Steps on each side of today's ratio, down to half of it and up to twice.
const STEPS: i32 = 12;

/// Speeds of the first acceleration goal, else 0 to 50 km/h: (from, to), km/h.
pub(super) fn sprint(document: &Document) -> (f64, f64) {
    let asked = document.brief.goals.iter().find_map(|g| match g.measure {
        Measure::Acceleration { from_kmh, to_kmh, .. } => Some((from_kmh, to_kmh)),
        _ => None,
    });
    asked.unwrap_or((0.0, 50.0))
}

/// A driveline with every overall ratio times a factor; none where a motor drives its wheel without gears.
fn geared(driveline: &Driveline, factor: f64) -> Option<Driveline> {
    let mut geared = driveline.clone();
    if let Some(stage) = geared.stages.last_mut() {
        stage.ratio *= factor;
    } else if geared.gears.is_empty() {
        return None;
    } else {
        geared.gears.iter_mut().for_each(|g| g.ratio *= factor);
    }
    Some(geared)
}

/// The sweep from half to twice today's ratio, in even steps of its logarithm; empty for a design without gears or stages.
pub(super) fn ratio_sweep(document: &Counted, cancel: &Cancel) -> Result<Vec<RatioPoint>> {
    let (from_kmh, to_kmh) = sprint(document);
    let mut out = Vec::new();
    for step in -STEPS..=STEPS {
        cancel.check()?;
        let factor = (f64::from(step) / f64::from(STEPS)).exp2();
        let mut turned = Document::clone(document);
        let Some(driveline) = geared(document.driveline(), factor) else { return Ok(out) };
        turned.design.driveline = Some(driveline);
        let chain = Chain::of(&turned, masses(&turned).test_kg)?;
        let soc = run_soc(&turned, &chain.pack);
        let peak = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
        // As the goal is judged: in the gear that runs are held in, if one is.
        let mut pulls = pulls(&turned, &chain, &peak);
        out.push(RatioPoint {
            factor,
            overall_ratio: chain.gears.first().map_or(1.0, |g| g.ratio),
            top_speed_kmh: top(&chain, &peak).speed_m_s * KMH_PER_M_S,
            hill_start_percent: hill_start(&chain, soc).grade_percent,
            sprint_s: quickest_s(&mut pulls, from_kmh / KMH_PER_M_S, to_kmh / KMH_PER_M_S),
        });
    }
    Ok(out)
}
