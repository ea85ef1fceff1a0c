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
        let motors = firsts(motors.iter().map(Some));
        let controllers = firsts(controllers.iter().map(Some));
        let any = motors.iter().chain(&controllers).zip((0..motors.len() as u16).chain(0..)).any(|(first, own)| *first != own);
        Self { motors, controllers, chargers: firsts(chargers.iter().map(Option::as_ref)), any }
    }
}

/// What of a record is no rating.
const NO_RATINGS: [&str; 6] = ["name", "notes", "mass_kg", "price", "currency", "sources"];

/// Of each record the place of the first with the same ratings, as written, which rules hold against each other, and as counted.
fn firsts<'a, T: Serialize + 'a>(records: impl Iterator<Item = Option<&'a Ready<T>>>) -> Vec<u16> {
    let mut first = HashMap::new();
    let ratings = |record: &T| {
        let mut written = serde_json::to_value(record).ok()?;
        let keys = written.as_object_mut()?;
        NO_RATINGS.iter().for_each(|key| drop(keys.remove(*key)));
        Some(written.to_string())
    };
    let both = |record: &Ready<T>| Some((ratings(&record.written)?, ratings(&record.counted)?));
    // What cannot be written has the ratings of nothing else.
    let each = (0u16..).zip(records).map(|(i, record)| (i, record.and_then(both).unwrap_or_else(|| (i.to_string(), String::new()))));
    each.map(|(i, ratings)| *first.entry(ratings).or_insert(i)).collect()
}
