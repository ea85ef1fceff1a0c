//! What a pack does in one year: the week of both seasons, journeys and their stops.

use super::season::SeasonModel;
use crate::cancel::Cancel;
use crate::charge::ChargeCurve;
use crate::document::{Brief, Season, Week};
use crate::error::Result;
use crate::inputs::Counted;
use crate::quantity::{Sentence, sentence};
use crate::simulate::{RangeEnd, range_of};

/// Weeks of a year.
const WEEKS: f64 = 52.0;
/// Charge to which a stop on a journey fills the pack, as far as its window allows: beyond, the cells take less and less (common practice).
pub(super) const STOP_SOC: f64 = 0.8;
/// Hours that a stop takes beside the charge: off the road, plugged in, back (common practice).
pub(super) const STOP_H: f64 = 0.1;
/// Stops on one journey beyond which it is not one for this vehicle.
const MOST_STOPS: u32 = 100;

/// What one sample of one pack does in a year; energy in kWh.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Year {
    pub(super) day_kwh: f64,
    pub(super) night_kwh: f64,
    pub(super) public_kwh: f64,
    pub(super) stops: f64,
    pub(super) waiting_h: f64,
}

impl Year {
    fn add(&mut self, other: Self, times: f64) {
        self.day_kwh += times * other.day_kwh;
        self.night_kwh += times * other.night_kwh;
        self.public_kwh += times * other.public_kwh;
        self.stops += times * other.stops;
        self.waiting_h += times * other.waiting_h;
    }

    /// What its energy costs.
    pub(super) fn price(&self, brief: &Brief) -> f64 {
        let (years, home) = (&brief.years, brief.price_per_kwh);
        self.day_kwh * home
            + self.night_kwh * years.night_price_per_kwh.unwrap_or(home)
            + self.public_kwh * years.public_price_per_kwh.unwrap_or(home)
    }
}

/// The week's trips in one season, a year of it; or why it cannot serve.
fn season_year(
    document: &Counted,
    week: &Week,
    (name, season, weeks): (&str, &Season, f64),
    cancel: &Cancel,
) -> Result<std::result::Result<Year, Sentence>> {
    if weeks <= 0.0 {
        return Ok(Ok(Year::default()));
    }
    let model = SeasonModel::of(document, week.trips(), season, cancel)?;
    let run = super::week::run(&model, week, name);
    if let Some(s) = run.shortfall {
        return Ok(Err(sentence!("{} cannot be made on a {} in {}", &s.trip, s.day.word(), name)));
    }
    let mut year = Year::default();
    year.add(Year { day_kwh: run.day_kwh, night_kwh: run.night_kwh, ..Year::default() }, weeks);
    let at_night = run.night_kwh / (run.night_kwh + run.day_kwh).max(1e-9);
    let years = &document.brief.years;
    let public = public_curve(&model, years.public_socket.as_deref());
    let home = week.stays.first().and_then(|s| model.curve(&s.socket));
    for journey in &years.journeys {
        let way = SeasonModel::of(document, [journey.trip.as_str()], season, cancel)?;
        match travelled(&way, journey.distance_km, public, home, at_night) {
            Ok(made) => year.add(made, journey.times_a_year * weeks / WEEKS),
            Err(why) => return Ok(Err(sentence!("{} cannot be made in {}: {}", &journey.name, name, why))),
        }
    }
    Ok(Ok(year))
}

/// The socket of the journeys: the one that is named, else the one that fills from a fifth to four fifths the soonest.
pub(super) fn public_curve<'a>(model: &'a SeasonModel<'_>, named: Option<&str>) -> Option<&'a ChargeCurve> {
    if let Some(id) = named {
        return model.curve(id).filter(|c| c.soc.len() > 1);
    }
    let hours = |c: &ChargeCurve| c.hours_between(0.2, STOP_SOC.min(model.window.1));
    model.curves.iter().flatten().filter_map(|c| Some((hours(c)?, c))).min_by(|a, b| a.0.total_cmp(&b.0)).map(|(_, c)| c)
}

/// One journey with its stops, begun full and filled up again at home; or why it cannot be made.
fn travelled(
    way: &SeasonModel<'_>,
    distance_km: f64,
    public: Option<&ChargeCurve>,
    home: Option<&ChargeCurve>,
    at_night: f64,
) -> std::result::Result<Year, &'static str> {
    let demands = way.demands();
    let (low, high) = way.window;
    let range = range_of(demands.first().ok_or("it has no trip")?, high);
    if range.end == RangeEnd::Unlimited {
        return Ok(Year::default());
    }
    // Where heat ends it a charge is no remedy, and what it uses until then is no measure.
    if !matches!(range.end, RangeEnd::Window | RangeEnd::Sag) {
        return Err(range.end.word());
    }
    let range_km = range.distance_m / 1000.0;
    let soc_per_km = (high - low) / range_km;
    let mut year = Year::default();
    let mut left_km = distance_km - range_km;
    let mut soc = high - soc_per_km * distance_km.min(range_km);
    for _ in 0..MOST_STOPS {
        if left_km <= 0.0 {
            let kwh = home.or(public).map_or(0.0, |curve| curve.after(soc, f64::INFINITY).socket_kwh);
            year.add(Year { day_kwh: kwh * (1.0 - at_night), night_kwh: kwh * at_night, ..Year::default() }, 1.0);
            return Ok(year);
        }
        let public = public.ok_or("it has no socket on the way that the pack can use")?;
        let to = (low + left_km * soc_per_km).min(STOP_SOC).min(high);
        let hours_h = public.hours_between(low, to).filter(|_| to > low).ok_or("the socket on the way does not charge it far enough")?;
        year.waiting_h += hours_h + STOP_H;
        year.public_kwh += public.after(low, hours_h).socket_kwh;
        year.stops += 1.0;
        let leg_km = (to - low) / soc_per_km;
        soc = to - soc_per_km * left_km.min(leg_km);
        left_km -= leg_km;
    }
    Err("it would stop too often")
}

pub(super) fn year_of(document: &Counted, week: &Week, cancel: &Cancel) -> Result<std::result::Result<Year, Sentence>> {
    let brief = &document.brief;
    let winter = brief.years.winter_weeks;
    let mut year = Year::default();
    for season in [("summer", &brief.summer, WEEKS - winter), ("winter", &brief.winter, winter)] {
        match season_year(document, week, season, cancel)? {
            Ok(part) => year.add(part, 1.0),
            Err(why) => return Ok(Err(why)),
        }
    }
    Ok(Ok(year))
}
