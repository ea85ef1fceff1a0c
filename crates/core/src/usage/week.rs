//! One week hour by hour: charge falls on trips and rises at sockets.

use serde::Serialize;

use super::season::{Made, SeasonModel};
use crate::document::{Stay, Week, Weekday};

const DAY_H: f64 = 24.0;
const WEEK_H: f64 = 7.0 * DAY_H;
/// Weeks of a season: a little too little each day must not come to light before it is over.
const MOST_WEEKS: u32 = 26;
/// Hours that a trip may leave late because the one before is not back; beyond, the week has more driving than hours.
const LATE_H: f64 = 12.0;
/// Change of the charge over a week below which it repeats itself.
const SETTLED: f64 = 1e-3;
/// Points of the drawing within a charge.
const POINTS: u32 = 8;

/// A state of charge at an hour of the week, from Monday midnight.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SocPoint {
    /// h.
    pub hour_h: f64,
    /// State of charge.
    pub soc: f64,
}

/// What a stretch of a week is spent with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BlockKind {
    /// A trip.
    Drive,
    /// A charge.
    Charge,
}

/// A trip or a charge of a week.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Block {
    /// Which.
    pub kind: BlockKind,
    /// The trip or the socket.
    pub name: String,
    /// Hour of the week it begins, h.
    pub from_h: f64,
    /// Hour it ends; a charge ends when it is full or as full as it gets, h.
    pub to_h: f64,
    /// State of charge at its begin.
    pub from_soc: f64,
    /// State of charge at its end.
    pub to_soc: f64,
    /// Driven, km.
    pub driven_km: f64,
    /// Out of the socket, kWh.
    pub socket_kwh: f64,
}

/// Why a trip cannot be made.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ShortfallCause {
    /// The window of the charge is spent on the way.
    Charge,
    /// It does not keep up with the trip, charge or no charge.
    Pace,
    /// The trip before it is not back in time.
    Late,
}

/// The first trip that cannot be made.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Shortfall {
    /// Week in which it happens, counted from 1: a little too little each day shows late.
    pub week: u32,
    /// On this day.
    pub day: Weekday,
    /// Hour of the day it is due to leave.
    pub departure_h: f64,
    /// Id of the outing.
    pub outing: String,
    /// Name of the trip.
    pub trip: String,
    /// State of charge it leaves with.
    pub soc: f64,
    /// Left undriven, km.
    pub short_km: f64,
    /// Why.
    pub cause: ShortfallCause,
}

/// A week in one season.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WeekRun {
    /// `summer` or `winter`.
    pub season: String,
    /// Air and pack, degC.
    pub temperature_c: f64,
    /// Week that is drawn: the one that repeats itself, or the one in which a trip cannot be made.
    pub week: u32,
    /// State of charge through it.
    pub line: Vec<SocPoint>,
    /// Trips and charges.
    pub blocks: Vec<Block>,
    /// Lowest state of charge.
    pub lowest_soc: f64,
    /// Lowest that the window allows.
    pub soc_min: f64,
    /// Driven, km.
    pub driven_km: f64,
    /// Out of sockets by day, kWh.
    pub day_kwh: f64,
    /// Out of sockets in the hours of the night tariff, kWh.
    pub night_kwh: f64,
    /// The first trip that cannot be made; absent when the week holds.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub shortfall: Option<Shortfall>,
}

/// Hours at a socket, in hours of the week; one that began the week before has a negative begin.
struct Plugged<'a> {
    stay: &'a Stay,
    from_h: f64,
    to_h: f64,
}

fn hour_of(day: Weekday, hour_h: f64) -> f64 {
    day as usize as f64 * DAY_H + hour_h
}

/// A clock's hour of the week as day and hour of the day.
fn day_of(hour_h: f64) -> (Weekday, f64) {
    let within = hour_h.rem_euclid(WEEK_H);
    (Weekday::ALL[((within / DAY_H) as usize).min(6)], within % DAY_H)
}

struct Walk<'a> {
    model: &'a SeasonModel<'a>,
    plugged: Vec<Plugged<'a>>,
    /// Begins and ends of everything that changes what a charge is or costs, rising.
    corners_h: Vec<f64>,
    run: WeekRun,
    soc: f64,
    /// What rest gives back once it charges.
    rests: f64,
}

impl Walk<'_> {
    fn point(&mut self, hour_h: f64) {
        self.run.line.push(SocPoint { hour_h, soc: self.soc });
    }

    /// Stands from one hour to another, at whatever socket it is plugged into.
    fn stand(&mut self, from_h: f64, to_h: f64) {
        let mut at_h = from_h;
        while at_h < to_h {
            let next_h = self.corners_h.iter().copied().find(|c| *c > at_h + 1e-9).unwrap_or(to_h).min(to_h);
            // Of several it is where it came last.
            let now = self
                .plugged
                .iter()
                .filter(|p| p.from_h <= at_h + 1e-9 && at_h < p.to_h - 1e-9)
                .max_by(|a, b| a.from_h.total_cmp(&b.from_h));
            if let Some(stay) = now.map(|p| p.stay) {
                self.charge(stay, at_h, next_h);
            }
            at_h = next_h;
        }
        self.point(to_h);
    }

    fn charge(&mut self, stay: &Stay, from_h: f64, to_h: f64) {
        let Some(curve) = self.model.curve(&stay.socket) else { return };
        let rested = (self.soc + self.rests).min(self.model.window.1).max(self.soc);
        (self.soc, self.rests) = (rested, 0.0);
        let charged = curve.after(self.soc, to_h - from_h);
        if charged.hours_h <= 0.0 {
            return;
        }
        let from_soc = self.soc;
        self.point(from_h);
        for i in 1..POINTS {
            let hours_h = charged.hours_h * f64::from(i) / f64::from(POINTS);
            self.run.line.push(SocPoint { hour_h: from_h + hours_h, soc: curve.after(from_soc, hours_h).soc });
        }
        self.soc = charged.soc;
        self.point(from_h + charged.hours_h);
        let years = &self.model.document.brief.years;
        let in_night = (day_of(from_h + 1e-6).1 - years.night_from_h).rem_euclid(DAY_H) < years.night_hours_h;
        *if in_night { &mut self.run.night_kwh } else { &mut self.run.day_kwh } += charged.socket_kwh;
        let sockets = &self.model.document.brief.sockets;
        let name = sockets.iter().find(|s| s.id == stay.socket).map(|s| s.name.clone()).unwrap_or_default();
        match self.run.blocks.last_mut() {
            // The tariff changed within one charge.
            Some(b) if b.kind == BlockKind::Charge && b.name == name && (b.to_h - from_h).abs() < 1e-6 => {
                (b.to_h, b.to_soc, b.socket_kwh) = (from_h + charged.hours_h, self.soc, b.socket_kwh + charged.socket_kwh);
            }
            _ => self.run.blocks.push(Block {
                kind: BlockKind::Charge,
                name,
                from_h,
                to_h: from_h + charged.hours_h,
                from_soc,
                to_soc: self.soc,
                driven_km: 0.0,
                socket_kwh: charged.socket_kwh,
            }),
        }
    }

    /// Notes a trip.
    fn drive(&mut self, name: &str, from_h: f64, made: &Made) {
        let from_soc = self.soc;
        self.soc = made.soc;
        self.rests += made.rests;
        self.run.driven_km += made.driven_km;
        self.run.lowest_soc = self.run.lowest_soc.min(made.soc);
        self.point(from_h + made.hours_h);
        self.run.blocks.push(Block {
            kind: BlockKind::Drive,
            name: name.to_owned(),
            from_h,
            to_h: from_h + made.hours_h,
            from_soc,
            to_soc: made.soc,
            driven_km: made.driven_km,
            socket_kwh: 0.0,
        });
    }
}

fn corners(plugged: &[Plugged<'_>], model: &SeasonModel<'_>) -> Vec<f64> {
    let years = &model.document.brief.years;
    let night = (0..8).flat_map(|day| {
        let from_h = (f64::from(day) - 1.0) * DAY_H + years.night_from_h;
        [from_h, from_h + years.night_hours_h]
    });
    let mut corners: Vec<f64> = plugged.iter().flat_map(|p| [p.from_h, p.to_h]).chain(night).collect();
    corners.sort_by(f64::total_cmp);
    corners
}

/// Runs a week over and over from full until it repeats itself or a trip cannot be made; what is told is of the last one.
pub(super) fn run(model: &SeasonModel<'_>, week: &Week, season: &str) -> WeekRun {
    let demands = model.demands();
    let mut departures: Vec<(f64, usize)> =
        week.outings.iter().enumerate().flat_map(|(i, o)| o.days.iter().map(move |day| (hour_of(*day, o.departure_h), i))).collect();
    departures.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
    let (mut soc, mut rests, mut begins_h) = (model.window.1, 0.0, 0.0);
    let mut number = 0;
    loop {
        number += 1;
        let stays = week.stays.iter().flat_map(|stay| stay.days.iter().map(move |day| (stay, hour_of(*day, stay.from_h))));
        // What was plugged in on Sunday evening still is on Monday morning, but not before the first week.
        let before = if number > 1 { 2 } else { 1 };
        let plugged: Vec<Plugged<'_>> = stays
            .flat_map(|(stay, from_h)| {
                (0..before).map(move |weeks| from_h - f64::from(weeks) * WEEK_H).map(move |from_h| Plugged {
                    stay,
                    from_h,
                    to_h: from_h + stay.hours_h,
                })
            })
            .filter(|p| p.to_h > 0.0)
            .collect();
        let corners_h = corners(&plugged, model);
        let begun_soc = soc;
        let empty = WeekRun {
            season: season.to_owned(),
            temperature_c: model.temperature_c,
            week: number,
            line: Vec::new(),
            blocks: Vec::new(),
            lowest_soc: soc,
            soc_min: model.window.0,
            driven_km: 0.0,
            day_kwh: 0.0,
            night_kwh: 0.0,
            shortfall: None,
        };
        let mut walk = Walk { model, plugged, corners_h, run: empty, soc, rests };
        walk.point(0.0);
        let mut now_h = begins_h;
        for (due_h, outing) in &departures {
            let outing = &week.outings[*outing];
            // One that comes back late leaves late.
            let leaves_h = due_h.max(now_h);
            walk.stand(now_h, leaves_h);
            let Some(trip) = model.trips.iter().position(|t| t.id == outing.trip) else { continue };
            let left_soc = walk.soc;
            let late = leaves_h > due_h + LATE_H;
            let made = model.make(trip, &demands, left_soc);
            walk.drive(&model.trips[trip].name, leaves_h, &made);
            if !made.made || late || model.is_cancelled() {
                let (day, departure_h) = day_of(*due_h);
                walk.run.shortfall = Some(Shortfall {
                    week: number,
                    day,
                    departure_h,
                    outing: outing.id.clone(),
                    trip: model.trips[trip].name.clone(),
                    soc: left_soc,
                    short_km: made.short_km,
                    cause: match (late, made.behind) {
                        (true, _) => ShortfallCause::Late,
                        (_, true) => ShortfallCause::Pace,
                        (_, false) => ShortfallCause::Charge,
                    },
                });
                return walk.run;
            }
            now_h = leaves_h + made.hours_h;
        }
        if now_h < WEEK_H {
            walk.stand(now_h, WEEK_H);
        }
        begins_h = (now_h - WEEK_H).max(0.0);
        (soc, rests) = (walk.soc, walk.rests);
        if (soc - begun_soc).abs() < SETTLED && number > 1 || number == MOST_WEEKS {
            return walk.run;
        }
    }
}
