//! Parts that the library holds more than once with the same ratings, at other masses and prices.

use std::collections::HashMap;

use serde::Serialize;

use super::space::Ready;
use crate::library::{Charger, Controller, Motor};

/// Parts by the first of the library with the same ratings; what drives alike at the same mass, drives alike at all.
#[derive(Debug, Clone)]
pub(super) struct SameRatings {
    pub(super) motors: Vec<u16>,
    pub(super) controllers: Vec<u16>,
    pub(super) chargers: Vec<u16>,
    /// Whether any motors or controllers are there twice.
    pub(super) any: bool,
}

impl SameRatings {
    pub(super) fn of(motors: &[Ready<Motor>], controllers: &[Ready<Controller>], chargers: &[Option<Ready<Charger>>]) -> Self {
        let motors = firsts(motors.iter().map(|m| &m.counted));
        let controllers = firsts(controllers.iter().map(|c| &c.counted));
        let any = motors.iter().chain(&controllers).zip((0..motors.len() as u16).chain(0..)).any(|(first, own)| *first != own);
        Self { motors, controllers, chargers: firsts(chargers.iter().map(|c| c.as_ref().map(|c| &c.counted))), any }
    }
}

/// What of a record is no rating.
const NO_RATINGS: [&str; 6] = ["name", "notes", "mass_kg", "price", "currency", "sources"];

/// Of each record the place of the first with the same ratings.
fn firsts(records: impl Iterator<Item = impl Serialize>) -> Vec<u16> {
    let mut first = HashMap::new();
    let ratings = |record| {
        let mut written = serde_json::to_value(record).ok()?;
        let keys = written.as_object_mut()?;
        NO_RATINGS.iter().for_each(|key| drop(keys.remove(*key)));
        Some(written.to_string())
    };
    // What cannot be written has the ratings of nothing else.
    let each = (0u16..).zip(records).map(|(i, record)| (i, ratings(record).unwrap_or_else(|| i.to_string())));
    each.map(|(i, ratings)| *first.entry(ratings).or_insert(i)).collect()
}
