//! What would make a week hold that does not: single changes, each with what it takes.

use serde::Serialize;

use super::{Shortfall, WeekRun, both};
use crate::alternatives::with_part;
use crate::cancel::Cancel;
use crate::charge::OUTLETS;
use crate::document::{Checked, Design, Socket, SocketKind, Stay, Week, Weekday};
use crate::error::{Error, Result};
use crate::inputs::Counted;
use crate::library::{Charger, Part};
use crate::limits::{charger_over_pack, charger_under_pack};
use crate::pack::PackModel;
use crate::quantity::{Sentence, electric_kw, figure, sentence};

/// A single change after which the week holds in both seasons.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mend {
    /// What is changed.
    pub words: Sentence,
    /// What it costs more in parts, in the brief's currency; 0 where nothing is bought that has a price here.
    pub price: f64,
    /// The week with the change; absent when it stays.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub week: Option<Week>,
    /// The sockets with the change; absent when they stay.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sockets: Option<Vec<Socket>>,
    /// The design with the change; absent when it stays.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub design: Option<Design>,
}

/// Chargers tried: the least powerful that are stronger than today's.
const CHARGERS: usize = 12;
/// Strings in parallel added, at most.
const STRINGS: u32 = 4;
/// Hours by which a departure is put off, at most, and the step.
const LATER_H: (f64, f64) = (6.0, 0.5);
/// A pack held warm, degC.
const WARM_C: f64 = 15.0;

/// Time of day as a clock shows it.
fn clock(hour_h: f64) -> String {
    let minutes = (hour_h * 60.0).round().rem_euclid(24.0 * 60.0) as u32;
    format!("{}:{:02}", minutes / 60, minutes % 60)
}

struct Trial<'a> {
    document: &'a Checked,
    week: Week,
    cancel: &'a Cancel,
}

impl Trial<'_> {
    fn holds(&self, document: &Checked, week: &Week) -> Result<bool> {
        self.cancel.check()?;
        match both(&Counted::of(document), week, self.cancel) {
            Ok(runs) => Ok(runs.iter().all(|r| r.shortfall.is_none())),
            Err(Error::Cancelled) => Err(Error::Cancelled),
            // A change that cannot be computed mends nothing.
            Err(_) => Ok(false),
        }
    }

    fn with_week(&self, words: Sentence, week: Week) -> Result<Option<Mend>> {
        Ok(self.holds(self.document, &week)?.then_some(Mend { words, price: 0.0, week: Some(week), sockets: None, design: None }))
    }

    fn with_design(&self, words: Sentence, price: f64, document: &Checked) -> Result<Option<Mend>> {
        let holds = self.holds(document, &self.week)?;
        Ok(holds.then(|| Mend { words, price, week: None, sockets: None, design: Some(document.design.clone()) }))
    }

    /// All stays at one socket, which is added to the brief when it is not there yet; the weakest that will do.
    fn socket(&self) -> Result<Option<Mend>> {
        let brief = &self.document.brief;
        let at = |socket: &str| {
            let stays = self.week.stays.iter().map(|s| Stay { socket: socket.to_owned(), ..s.clone() }).collect();
            Week { stays, ..self.week.clone() }
        };
        let strength = |s: &Socket| s.voltage_v * s.current_a * s.continuous_share * f64::from(s.phases);
        let used = brief.sockets.iter().filter(|s| self.week.stays.iter().any(|stay| stay.socket == s.id));
        let today = used.clone().map(strength).fold(0.0, f64::max);
        let mut own: Vec<&Socket> = brief.sockets.iter().filter(|s| s.kind == SocketKind::Ac && strength(s) > today).collect();
        own.sort_by(|a, b| strength(a).total_cmp(&strength(b)));
        for socket in own {
            let words = sentence!("Charge at {} instead", &socket.name);
            if let Some(mend) = self.with_week(words, at(&socket.id))? {
                return Ok(Some(mend));
            }
        }
        // Outlets of the region of the one that is used, by its volts.
        let volts = used.clone().map(|s| s.voltage_v).next().unwrap_or(230.0);
        let mut near: Vec<_> = OUTLETS
            .iter()
            .filter(|o| o.kind == SocketKind::Ac && (o.voltage_v - volts).abs() < 0.1 * volts)
            .map(|o| o.socket("socket-more"))
            .filter(|s| strength(s) > today)
            .collect();
        near.sort_by(|a, b| strength(a).total_cmp(&strength(b)));
        for socket in near {
            let kw = electric_kw(strength(&socket) / 1000.0, 1);
            let words = sentence!("Have a stronger supply put in: {}, {}", &socket.name, kw);
            let mut sockets = brief.sockets.clone();
            sockets.push(socket.clone());
            let Ok(document) = self.document.with(|d| d.brief.sockets.clone_from(&sockets)) else { continue };
            let week = at(&socket.id);
            if self.holds(&document, &week)? {
                return Ok(Some(Mend { words, price: 0.0, week: Some(week), sockets: Some(sockets), design: None }));
            }
        }
        Ok(None)
    }

    fn charger(&self, parts: &[Part], full_v: f64) -> Result<Option<Mend>> {
        let today = self.document.design.charger.as_ref();
        let least_w = today.map_or(0.0, |c| c.output_power_w);
        let mut fit: Vec<(&Charger, &Part)> = parts
            .iter()
            .filter_map(|p| if let Part::Charger(c) = p { Some((c, p)) } else { None })
            .filter(|(c, _)| {
                c.output_power_w > least_w && !charger_over_pack(full_v, c.output_min_v) && !charger_under_pack(full_v, c.output_max_v)
            })
            .collect();
        fit.sort_by(|a, b| a.0.output_power_w.total_cmp(&b.0.output_power_w).then(a.0.price.total_cmp(&b.0.price)));
        for (charger, part) in fit.into_iter().take(CHARGERS) {
            let words = sentence!("Charge with {}, {}", &charger.name, electric_kw(charger.output_power_w / 1000.0, 1));
            let price = charger.price - today.map_or(0.0, |c| c.price);
            if let Some(mend) = self.with_design(words, price, &with_part(self.document, part))? {
                return Ok(Some(mend));
            }
        }
        Ok(None)
    }

    fn later(&self, first: &Shortfall) -> Result<Option<Mend>> {
        let Some(place) = self.week.outings.iter().position(|o| o.id == first.outing) else { return Ok(None) };
        let today_h = self.week.outings[place].departure_h;
        let steps = (LATER_H.0 / LATER_H.1) as u32;
        for step in 1..=steps {
            let departure_h = today_h + f64::from(step) * LATER_H.1;
            if departure_h >= 24.0 {
                break;
            }
            let mut week = self.week.clone();
            week.outings[place].departure_h = departure_h;
            let words = sentence!("Leave at {} instead of {} for {}", clock(departure_h), clock(today_h), &first.trip);
            if let Some(mend) = self.with_week(words, week)? {
                return Ok(Some(mend));
            }
        }
        Ok(None)
    }

    /// Plugged in whenever it stands at home.
    fn always(&self) -> Result<Option<Mend>> {
        let Some(stay) = self.week.stays.first() else { return Ok(None) };
        let stays = vec![Stay { days: Weekday::ALL.to_vec(), from_h: 0.0, hours_h: 24.0, ..stay.clone() }];
        let socket = self.document.brief.sockets.iter().find(|s| s.id == stay.socket).map_or("", |s| &s.name);
        let words = sentence!("Plug in at {} whenever it stands", socket);
        self.with_week(words, Week { stays, ..self.week.clone() })
    }

    fn strings(&self) -> Result<Option<Mend>> {
        let Some(pack) = &self.document.design.pack else { return Ok(None) };
        for more in 1..=STRINGS {
            let Ok(document) = self.document.with(|d| {
                if let Some(p) = &mut d.design.pack {
                    p.strings_in_parallel += more;
                }
            }) else {
                break;
            };
            let price = pack.module.price * f64::from(pack.modules_in_series * more);
            let words = sentence!("{} more in parallel", if more == 1 { "One string".to_owned() } else { format!("{more} strings") });
            if let Some(mend) = self.with_design(words, price, &document)? {
                return Ok(Some(mend));
            }
        }
        Ok(None)
    }

    fn warm(&self) -> Result<Option<Mend>> {
        let coldest_c = self.document.brief.winter.temperature_c.min(self.document.brief.summer.temperature_c);
        if self.document.design.pack.as_ref().is_none_or(|p| p.temperature_c.unwrap_or(coldest_c) >= WARM_C) {
            return Ok(None);
        }
        let Ok(document) = self.document.with(|d| {
            if let Some(p) = &mut d.design.pack {
                p.temperature_c = Some(WARM_C);
            }
        }) else {
            return Ok(None);
        };
        self.with_design(sentence!("Keep the pack at {}", figure(WARM_C, "°C", 0)), 0.0, &document)
    }
}

/// The single changes after which the week of a document holds in summer and winter, each the least of its kind; none when it holds
/// already, or when no single change does.
///
/// # Errors
/// As [`super::week`].
pub fn mends(document: &Checked, parts: &[Part], runs: &[WeekRun], cancel: &Cancel) -> Result<Vec<Mend>> {
    let Some(first) = runs.iter().find_map(|r| r.shortfall.as_ref()) else { return Ok(Vec::new()) };
    let Some(pack) = &document.design.pack else { return Ok(Vec::new()) };
    let full_v = PackModel::of(pack, &document.design.wiring, WARM_C).full_v;
    let trial = Trial { document, week: Week::of(&document.brief), cancel };
    let found = [trial.later(first)?, trial.always()?, trial.socket()?, trial.charger(parts, full_v)?, trial.warm()?, trial.strings()?];
    Ok(found.into_iter().flatten().collect())
}
