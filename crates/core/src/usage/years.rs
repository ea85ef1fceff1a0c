//! What the years cost with a small pack that charges on the way, and with a big one that does not: money, mass and waiting.

use rayon::prelude::*;
use serde::Serialize;
use statrs::statistics::Data;

use super::season::SeasonModel;
use super::year::{STOP_H, STOP_SOC, public_curve, year_of};
use crate::cancel::Cancel;
use crate::document::{Checked, Design, Week};
use crate::error::Result;
use crate::figures::cost;
use crate::inputs::{Counted, UncertainInputs};
use crate::quantity::{Sentence, sentence};
use crate::uncertainty::quantile;
use crate::vehicle::masses;

/// Samples of the uncertain inputs: a quarter of a band's, as every pack is sampled.
pub(super) const SAMPLES: u32 = 64;
/// Years beyond which nobody waits for what a dearer pack saves.
const LONGEST_YEARS: f64 = 100.0;

/// A figure with its spread.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Spread {
    /// Every input at its median.
    pub central: f64,
    /// One sample in ten lies below; absent when that sample cannot serve.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub p10: Option<f64>,
    /// Nine samples in ten lie below.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub p90: Option<f64>,
}

/// One pack over the years.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct YearOption {
    /// What it is.
    pub name: Sentence,
    /// Strings in parallel.
    pub strings: u32,
    /// Usable energy on a summer's day, kWh.
    pub usable_kwh: f64,
    /// Mass of the pack with its box, kg.
    pub pack_kg: f64,
    /// Mass of the converted vehicle, kg.
    pub converted_kg: f64,
    /// Why it cannot serve; absent when it can.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub refusal: Option<Sentence>,
    /// Parts bought less parts sold.
    pub parts: Spread,
    /// Energy of a year, money; absent when it cannot serve.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub energy_a_year: Option<Spread>,
    /// Out of sockets at home by day, kWh a year.
    pub day_kwh: f64,
    /// Out of sockets at home at night, kWh a year.
    pub night_kwh: f64,
    /// Out of public sockets, kWh a year.
    pub public_kwh: f64,
    /// Stops to charge on journeys, a year.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub stops_a_year: Option<Spread>,
    /// Hours waited at them, a year.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub waiting_h_a_year: Option<Spread>,
    /// Parts and energy over the years, money.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub total: Option<Spread>,
    /// Against the cheapest in parts that serves: years after which it is cheaper over all; absent when it never is, or is that one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pays_after_years: Option<f64>,
    /// Against the same: what each hour costs that is not waited; absent when it saves none or costs no more.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub price_per_hour_saved: Option<f64>,
    /// The design, to be taken.
    pub design: Design,
}

/// Packs over the years.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct YearsAnswer {
    /// Years looked at.
    pub years: f64,
    /// Samples of the uncertain inputs.
    pub samples: u32,
    /// The socket at which journeys are broken off; absent when the brief has none that any of the packs can use.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub public_socket: Option<String>,
    /// Charge to which a stop on a journey fills the pack at most.
    pub stop_soc: f64,
    /// Hours that a stop takes beside the charge.
    pub stop_h: f64,
    /// From the smallest pack to the biggest, then the named ones.
    pub options: Vec<YearOption>,
}

pub(super) fn spread(central: f64, values: Vec<f64>) -> Spread {
    let mut data = Data::new(values);
    Spread { central, p10: quantile(&mut data, 0.1), p90: quantile(&mut data, 0.9) }
}

/// One pack over the years of a document.
fn option(name: Sentence, document: &Checked, cancel: &Cancel) -> Result<YearOption> {
    let week = Week::of(&document.brief);
    let counted = Counted::of(document);
    let years = document.brief.years.years;
    let central = year_of(&counted, &week, cancel)?;
    let parts = cost(&counted).net;
    let inputs = UncertainInputs::of(document);
    // Money, stops and hours of each sample; one that cannot serve is infinitely dear.
    let rows: Vec<(f64, f64, f64, f64)> = (0..SAMPLES)
        .into_par_iter()
        .map(|i| {
            let sample = inputs.sample(document, i);
            let bought = cost(&sample).net;
            Ok(match (&central, year_of(&sample, &week, cancel)?) {
                (Ok(_), Ok(y)) => (bought, y.price(&sample.brief), y.stops, y.waiting_h),
                _ => (bought, f64::INFINITY, f64::INFINITY, f64::INFINITY),
            })
        })
        .collect::<Result<_>>()?;
    let column = |of: fn(&(f64, f64, f64, f64)) -> f64| rows.iter().map(of).collect::<Vec<f64>>();
    let pack = document.design.pack.as_ref();
    let year = central.as_ref().copied().unwrap_or_default();
    let serves = central.is_ok();
    let energy = year.price(&counted.brief);
    let masses = masses(&counted);
    let usable = SeasonModel::of(&counted, [], &document.brief.summer, cancel)?.usable_kwh;
    Ok(YearOption {
        name,
        strings: pack.map_or(0, |p| p.strings_in_parallel),
        usable_kwh: usable,
        pack_kg: masses.pack_kg,
        converted_kg: masses.converted_kg,
        refusal: central.err(),
        parts: spread(parts, column(|r| r.0)),
        energy_a_year: serves.then(|| spread(energy, column(|r| r.1))),
        day_kwh: year.day_kwh,
        night_kwh: year.night_kwh,
        public_kwh: year.public_kwh,
        stops_a_year: serves.then(|| spread(year.stops, column(|r| r.2))),
        waiting_h_a_year: serves.then(|| spread(year.waiting_h, column(|r| r.3))),
        total: serves.then(|| spread(parts + years * energy, rows.iter().map(|r| r.0 + years * r.1).collect())),
        pays_after_years: None,
        price_per_hour_saved: None,
        design: document.design.clone(),
    })
}

/// Strings in parallel that are looked at beside today's: half, one less, one more, half again and twice as many.
fn strings(today: u32) -> Vec<u32> {
    let mut all = vec![today.div_ceil(2), today.saturating_sub(1).max(1), today, today + 1, today + today.div_ceil(2), 2 * today];
    all.sort_unstable();
    all.dedup();
    all
}

/// The document's pack with fewer and with more strings, and other designs, over the years of its brief.
///
/// # Errors
/// As [`super::week`].
pub fn years(document: &Checked, others: &[(String, Checked)], cancel: &Cancel) -> Result<YearsAnswer> {
    let mut packs: Vec<(Sentence, Checked)> = Vec::new();
    let today = document.design.pack.as_ref().map_or(1, |p| p.strings_in_parallel);
    for count in strings(today) {
        let words = match count {
            _ if count == today => "as it is".into(),
            1 => "1 string".into(),
            _ => sentence!("{} strings", count),
        };
        // More strings than a pack may have are not looked at.
        if let Ok(changed) = document.with(|d| {
            if let Some(p) = &mut d.design.pack {
                p.strings_in_parallel = count;
            }
        }) {
            packs.push((words, changed));
        }
    }
    let whole = |d: &Checked| d.design.motor.is_some() && d.design.controller.is_some() && d.design.pack.is_some();
    packs.extend(others.iter().filter(|(_, d)| whole(d)).map(|(name, d)| (Sentence::from(name.as_str()), d.clone())));
    let mut options = packs.into_iter().map(|(name, changed)| option(name, &changed, cancel)).collect::<Result<Vec<_>>>()?;
    compare(&mut options, document.brief.years.years);
    Ok(YearsAnswer {
        years: document.brief.years.years,
        samples: SAMPLES,
        public_socket: socket_name(document, cancel)?,
        stop_soc: STOP_SOC,
        stop_h: STOP_H,
        options,
    })
}

/// Holds every option that serves against the cheapest in parts.
fn compare(options: &mut [YearOption], years: f64) {
    let serving = options.iter().filter(|o| o.energy_a_year.is_some()).min_by(|a, b| a.parts.central.total_cmp(&b.parts.central)).cloned();
    let Some((least, energy, waiting)) =
        serving.and_then(|o| Some((o.parts.central, o.energy_a_year?.central, o.waiting_h_a_year?.central)))
    else {
        return;
    };
    for o in options {
        let (Some(own), Some(waits)) = (o.energy_a_year, o.waiting_h_a_year) else { continue };
        let (dearer, saves, sooner) = (o.parts.central - least, energy - own.central, waiting - waits.central);
        o.pays_after_years = (dearer > 0.0 && saves > 0.0).then(|| dearer / saves).filter(|years| *years <= LONGEST_YEARS);
        let over_all = dearer - years * saves;
        o.price_per_hour_saved = (over_all > 0.0 && sooner * years > 0.5).then(|| over_all / (sooner * years));
    }
}

fn socket_name(document: &Checked, cancel: &Cancel) -> Result<Option<String>> {
    let counted = Counted::of(document);
    let model = SeasonModel::of(&counted, [], &document.brief.summer, cancel)?;
    let chosen = public_curve(&model, document.brief.years.public_socket.as_deref());
    let place = model.curves.iter().position(|c| c.as_ref().is_some_and(|c| chosen.is_some_and(|x| std::ptr::eq(c, x))));
    Ok(place.map(|i| document.brief.sockets[i].name.clone()))
}
