//! The six figures a match is judged by, in steps that a person can tell apart, and the rank that follows from the weights.

use serde::{Deserialize, Serialize};

use super::constraint::Constraint;
use crate::claims::{SURPLUS, regret};
use crate::document::{Document, MatchRequest, Measure};
use crate::figures::{Duty, FigureKind, hill_at, speeds};
use crate::quantity::Sentence;
use crate::quantity::sentence;

/// One of the six figures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Axis {
    /// Net cost, in the brief's currency.
    Cost,
    /// Range on the trip that counts, km.
    Range,
    /// Time between the two speeds that count, s.
    Acceleration,
    /// Mass added over the donor as it stood, kg.
    AddedMass,
    /// Hours to fill the window at the socket that counts.
    Charge,
    /// Hill held at the speed that counts, percent.
    Hill,
}

impl Axis {
    /// All of them, in the order of every list of figures.
    pub const ALL: [Self; 6] = [Self::Cost, Self::Range, Self::Acceleration, Self::AddedMass, Self::Charge, Self::Hill];

    /// Whether more is better.
    #[must_use]
    pub fn more_is_better(self) -> bool {
        matches!(self, Self::Range | Self::Hill)
    }

    /// Unit of the figure.
    #[must_use]
    pub fn unit(self) -> &'static str {
        match self {
            Self::Cost => "money",
            Self::Range => "km",
            Self::Acceleration => "s",
            Self::AddedMass => "kg",
            Self::Charge => "h",
            Self::Hill => "%",
        }
    }
}

/// One axis of an answer: what it is, what is asked, and how far.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AxisInfo {
    /// Which.
    pub axis: Axis,
    /// Name shown.
    pub name: Sentence,
    /// Unit.
    pub unit: &'static str,
    /// Whether more is better.
    pub more_is_better: bool,
    /// Whether it plays a part in this search.
    pub active: bool,
    /// What the brief asks, where it does.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub target: Option<f64>,
    /// Weight in the rank.
    pub weight: f64,
    /// Difference below which two designs are not told apart by it, percent.
    pub step_percent: f64,
}

/// Figures of one candidate in the order of [`Axis::ALL`]; infinite for what is never reached, zero for what plays no part.
pub(super) type Figures6 = [f64; 6];
/// Figures6 figures, then the shortfall of goals that are given way, in whole steps, lower is better; places not used are zero.
pub(super) type Bins = [i32; 8];
/// Place of the shortfall among [`Bins`].
pub(super) const SHORTFALL: usize = 6;
/// Shortfalls below this share of the targets count as the same.
const SHORTFALL_STEP: f64 = 0.0005;

/// How figures turn into steps and steps into a rank.
#[derive(Debug, Clone)]
pub(super) struct Objectives {
    pub(super) axes: Vec<AxisInfo>,
    pub(super) kinds: [Option<FigureKind>; 6],
    /// What converted mass is counted from, kg.
    curb_kg: f64,
    /// How each figure is told apart.
    scales: [Scale; 6],
    /// Goals that may be missed; the least sum of shortfalls is looked for and nothing else counts. Empty in an ordinary search.
    pub(super) relaxed: Vec<Constraint>,
    /// Whether a single best is looked for, and no best of each approach beside it.
    pub(super) single: bool,
}

/// How a figure is told apart: in steps of its logarithm.
#[derive(Debug, Clone, Copy)]
struct Scale {
    /// Width of a step as narrow as it gets.
    step: f64,
    /// Logarithm of the target, as a figure of which less is better.
    ln_target: Option<f64>,
    /// Of which less is no better; as a figure of which less is better.
    enough: f64,
}

/// Better than the target times this is no better still: a conversion that does half as much again as asked is done.
const ENOUGH: f64 = 1.5;
/// Weight of an axis nobody asked for beside one that was. Money and mass are asked about by everyone.
const UNASKED: f64 = 0.2;
/// What nobody asked for tells designs apart by steps so many times as wide.
const UNASKED_STEP: f64 = 3.0;
/// Steps are doubled no more often; those of money, about which everyone asks in the end, only so often that a tenth still counts.
pub(super) const MOST_DOUBLED: u32 = 5;
const MONEY_DOUBLED: u32 = 1;
/// The step of what is never reached.
pub(super) const NEVER: i32 = 1_000_000;

impl Objectives {
    pub(super) fn of(request: &MatchRequest, document: &Document) -> Self {
        let brief = &document.brief;
        let trip = request.trip_of(document);
        let (from, to) = request.acceleration_of(document);
        let hill_kmh = request.hill_of(document);
        let socket = request.socket_of(document);
        let trips: Vec<(String, String)> = crate::figures::trips::all(document).map(|t| (t.id, t.name)).collect();
        let trip_at = trip.as_ref().and_then(|id| trips.iter().position(|t| t.0 == *id));
        let hill_hold = brief
            .goals
            .iter()
            .find_map(|g| match g.measure {
                Measure::HillAtSpeed { speed_kmh, continuous, ten_minutes, .. } if speed_kmh == hill_kmh => {
                    Some(Duty::of(continuous, ten_minutes)).filter(|h| *h != Duty::Peak)
                }
                _ => None,
            })
            .unwrap_or(Duty::Continuous);
        let kinds = [
            Some(FigureKind::Cost),
            trip_at.map(FigureKind::Range),
            Some(FigureKind::Acceleration(from, to)),
            Some(FigureKind::AddedMass),
            socket.map(FigureKind::Charge),
            Some(FigureKind::Hill(hill_kmh, hill_hold)),
        ];
        let names = [
            "Net cost".into(),
            trip_at.map_or_else(|| "Range".into(), |i| sentence!("Range, {}", &trips[i].1)),
            speeds(from, to),
            "Added mass".into(),
            socket.map_or_else(|| "Charged".into(), |i| sentence!("Charged, {}", &brief.sockets[i].name)),
            hill_at(hill_kmh, if hill_hold == Duty::TenMinutes { ", ten minutes" } else { ", continuous" }),
        ];
        let small = request.pack.range_share();
        let asked = |axis: Axis| {
            brief.goals.iter().find_map(|g| {
                let target = match (&g.measure, axis) {
                    (Measure::Cost { at_most }, Axis::Cost) => *at_most,
                    (Measure::Range { trip: id, at_least_km }, Axis::Range) if trip.as_ref() == Some(id) => at_least_km * small,
                    (Measure::Acceleration { from_kmh, to_kmh, at_most_s }, Axis::Acceleration) if (*from_kmh, *to_kmh) == (from, to) => {
                        *at_most_s
                    }
                    (Measure::AddedMass { at_most_kg }, Axis::AddedMass) => *at_most_kg,
                    (Measure::ChargeTime { socket: id, at_most_h }, Axis::Charge) if socket.is_some_and(|i| brief.sockets[i].id == *id) => {
                        *at_most_h
                    }
                    (Measure::HillAtSpeed { speed_kmh, at_least_percent, continuous, ten_minutes }, Axis::Hill)
                        if *speed_kmh == hill_kmh && Duty::of(*continuous, *ten_minutes) == hill_hold =>
                    {
                        *at_least_percent
                    }
                    _ => return None,
                };
                Some((target, g.weight))
            })
        };
        let mean = if brief.goals.is_empty() { 1.0 } else { brief.goals.iter().map(|g| g.weight).sum::<f64>() / brief.goals.len() as f64 };
        let axes: Vec<AxisInfo> = Axis::ALL
            .into_iter()
            .zip(names)
            .zip(&kinds)
            .map(|((axis, name), kind)| {
                let goal = asked(axis);
                let always = matches!(axis, Axis::Cost | Axis::AddedMass);
                AxisInfo {
                    axis,
                    name,
                    unit: axis.unit(),
                    more_is_better: axis.more_is_better(),
                    active: kind.is_some(),
                    target: goal.map(|g| g.0),
                    weight: goal.map_or(if always { mean } else { UNASKED * mean }, |g| g.1),
                    step_percent: 0.0,
                }
            })
            .collect();
        let curb_kg = document.donor.curb_mass_kg;
        let step = (request.resolution_percent / 100.0).ln_1p();
        let scales = std::array::from_fn(|i| Scale::of(&axes[i], step, curb_kg));
        Self { axes, kinds, curb_kg, scales, relaxed: Vec::new(), single: false }
    }

    /// The same judging by nothing but the shortfall of some goals.
    pub(super) fn relaxed_by(self, relaxed: Vec<Constraint>) -> Self {
        Self { relaxed, ..self.of_single(|_| false) }
    }

    /// The same judging by cost alone: the cheapest of what meets the constraints.
    pub(super) fn cheapest(self) -> Self {
        self.of_single(|axis| axis == Axis::Cost)
    }

    fn of_single(mut self, counts: impl Fn(Axis) -> bool) -> Self {
        for (info, kind) in self.axes.iter_mut().zip(&mut self.kinds) {
            info.active &= counts(info.axis);
            // Both are known without simulating, and tell equals apart.
            *kind = kind.filter(|_| matches!(info.axis, Axis::Cost | Axis::AddedMass));
        }
        Self { single: true, ..self }
    }

    /// Steps of a sum of shortfalls.
    pub(super) fn shortfall_grade(sum: f64) -> i32 {
        (sum / SHORTFALL_STEP).min(f64::from(NEVER)).floor() as i32
    }

    /// The trip that counts, by its place among trips and schedules.
    pub(super) fn trip(&self) -> Option<usize> {
        match self.kinds[1] {
            Some(FigureKind::Range(i)) => Some(i),
            _ => None,
        }
    }

    /// How many times the steps of each figure may be doubled: of those that no goal asks about.
    pub(super) fn widened(&self) -> [u32; 8] {
        let times = |a: &AxisInfo| match a.axis {
            _ if !a.active || a.target.is_some() => 0,
            Axis::Cost => MONEY_DOUBLED,
            _ => MOST_DOUBLED,
        };
        std::array::from_fn(|i| if self.single { 0 } else { self.axes.get(i).map_or(0, times) })
    }

    /// The axes with the steps by which they are told apart, where they are doubled so often as far as they may be.
    pub(super) fn told(&self, doubled: u32) -> Vec<AxisInfo> {
        let wide = |i: usize| f64::from(1 << doubled.min(self.widened()[i]));
        let told = |(i, a): (usize, &AxisInfo)| AxisInfo { step_percent: 100.0 * (wide(i) * self.scales[i].step).exp_m1(), ..a.clone() };
        self.axes.iter().enumerate().map(told).collect()
    }

    /// Steps of one figure; lower is better. Falls or stays as the figure gets better.
    pub(super) fn bin(&self, i: usize, value: f64) -> i32 {
        let info = &self.axes[i];
        if !info.active {
            return 0;
        }
        let scale = &self.scales[i];
        let x = less_is_better(info.axis, value, self.curb_kg).max(scale.enough);
        if x.is_finite() { (x.ln() / scale.step).floor() as i32 } else { NEVER }
    }

    /// Steps of something that nothing is known of; zero where nothing is counted.
    pub(super) fn anything(&self) -> Bins {
        let counts = |i: usize| if i == SHORTFALL { !self.relaxed.is_empty() } else { self.axes.get(i).is_some_and(|a| a.active) };
        std::array::from_fn(|i| if counts(i) { i32::MIN } else { 0 })
    }

    /// Steps with those of what is known exactly in place of what was known before.
    pub(super) fn with_exact(&self, bins: &Bins, cost: f64, added_kg: f64, hours: f64) -> Bins {
        let mut bins = *bins;
        // A hair less, for sums made in another order.
        (bins[0], bins[3], bins[4]) = (self.bin(0, cost - HAIR), self.bin(3, added_kg - HAIR), self.bin(4, hours));
        bins
    }

    pub(super) fn bins(&self, figures: &Figures6) -> Bins {
        std::array::from_fn(|i| figures.get(i).map_or(0, |f| self.bin(i, *f)))
    }

    /// Rank from steps: higher is better. A shortfall against a target counts four times a surplus, each in proportion and by the weight
    /// of its goal; a surplus of range, pace or charging counts up to a fifth, one of money or mass always. What nobody asked for counts
    /// as a surplus does: money and mass as if it had been asked, the rest a fifth of that. It never rises as a step gets worse.
    pub(super) fn rank(&self, bins: &Bins) -> f64 {
        let one = |((info, scale), grade): ((&AxisInfo, &Scale), &i32)| {
            if !info.active {
                return 0.0;
            }
            let always = matches!(info.axis, Axis::Cost | Axis::AddedMass);
            let x = f64::from((*grade).min(NEVER)) * scale.step;
            // Never reached is ten times over, and nothing is worse than that.
            let never = scale.ln_target.map_or(6.0, |t| t + 2.3);
            let x = if *grade >= NEVER || !always && x > never { never } else { x };
            match scale.ln_target {
                Some(ln_target) => -info.weight * regret(x - ln_target, always),
                None => -info.weight * SURPLUS * x,
            }
        };
        let given_way = f64::from(bins[SHORTFALL]) * SHORTFALL_STEP;
        self.axes.iter().zip(&self.scales).zip(bins).map(one).sum::<f64>() - given_way
    }
}

/// What is known exactly may be summed up in another order: money or kg.
pub(super) const HAIR: f64 = 1e-6;

/// A figure as a positive number of which less is better.
fn less_is_better(axis: Axis, value: f64, curb_kg: f64) -> f64 {
    match axis {
        // Added mass may be nothing or less; the converted vehicle's never is.
        Axis::AddedMass => (curb_kg + value).max(1.0),
        Axis::Range | Axis::Hill => 1.0 / value.max(1e-6),
        // Parts sold may be worth more than those bought: then it costs next to nothing.
        Axis::Cost => value.max(1.0),
        Axis::Acceleration | Axis::Charge => value.max(1e-3),
    }
}

impl Scale {
    /// Money and mass count closely even where nobody asked about them; cheaper and lighter are always better.
    fn of(info: &AxisInfo, step: f64, curb_kg: f64) -> Self {
        let always = matches!(info.axis, Axis::Cost | Axis::AddedMass);
        let target = info.target.map(|t| less_is_better(info.axis, t, curb_kg));
        Self {
            step: if always || target.is_some() { step } else { UNASKED_STEP * step },
            ln_target: target.map(f64::ln),
            enough: if always { 0.0 } else { target.map_or(0.0, |t| t / ENOUGH) },
        }
    }
}

/// Whether no step is worse. All are compared, side by side, which is quicker than asking after each whether to go on.
pub(super) fn covers(a: &Bins, b: &Bins) -> bool {
    a.iter().zip(b).fold(true, |covers, (a, b)| covers & (a <= b))
}
