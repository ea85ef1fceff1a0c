//! Recorded drives that came once and are spoken of by the hash of their content from then on: an edit of a number sends no hour of
//! readings along.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use joulethesis_core::document::{Checked, Document, TripPath};
use joulethesis_core::error::{Error, Problem};
use serde_json::{Value, json};
use sha2::{Digest, Sha256};

/// Readings held at most, over all recordings: days of driving, some seventy megabytes.
const MOST_READINGS: usize = 1_000_000;
/// What stands in a path instead of the readings.
const KEY: &str = "recorded";

/// The recordings that came last. They are a convenience: what is forgotten is asked for again.
#[derive(Debug, Clone, Default)]
pub(crate) struct Recordings(Arc<Mutex<Held>>);

#[derive(Debug, Default)]
struct Held {
    paths: HashMap<String, (u64, Arc<TripPath>)>,
    readings: usize,
    /// Counts uses; the least recently used goes first.
    clock: u64,
}

impl Recordings {
    /// Keeps a recording and tells its name: the SHA-256 of its content.
    ///
    /// # Errors
    /// Names each number out of bounds; a path without readings.
    pub(crate) fn keep(&self, value: &Value) -> Result<String, Error> {
        let path = TripPath::from_value(value)?;
        let readings = path.readings();
        if readings == 0 {
            return Err(Error::field("trace", "no readings", "a recorded trace is accepted"));
        }
        let digest = Sha256::digest(serde_json::to_vec(&path).unwrap_or_default());
        let name: String = digest.iter().map(|b| format!("{b:02x}")).collect();
        let mut held = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        held.clock += 1;
        let now = held.clock;
        if held.paths.insert(name.clone(), (now, Arc::new(path))).is_none() {
            held.readings += readings;
        }
        while held.readings > MOST_READINGS && held.paths.len() > 1 {
            let Some(oldest) = held.paths.iter().min_by_key(|(_, (used, _))| *used).map(|(name, _)| name.clone()) else { break };
            if let Some((_, gone)) = held.paths.remove(&oldest) {
                held.readings -= gone.readings();
            }
        }
        Ok(name)
    }

    fn get(&self, name: &str) -> Option<Arc<TripPath>> {
        let mut held = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        held.clock += 1;
        let now = held.clock;
        let (used, path) = held.paths.get_mut(name)?;
        *used = now;
        Some(path.clone())
    }

    /// Reads and checks a document whose trips may speak of recordings by their names.
    ///
    /// # Errors
    /// As [`Document::from_value`]; names the trip whose recording is not known (any more).
    pub(crate) fn document(&self, mut value: Value) -> Result<Checked, Error> {
        let trips = value.pointer_mut("/brief/trips").and_then(Value::as_array_mut);
        let mut spoken_of = Vec::new();
        let mut unknown = Vec::new();
        for (i, trip) in trips.into_iter().flatten().enumerate() {
            let Some(name) = trip["path"][KEY].as_str().map(str::to_owned) else { continue };
            match self.get(&name) {
                Some(path) => spoken_of.push((i, path)),
                None => unknown.push(Problem::new(
                    format!("brief.trips[{i}].path.{KEY}"),
                    format!("\"{name}\""),
                    "a recording sent before is accepted; send this one again",
                )),
            }
            // In its place until the rest has been read.
            trip["path"] = json!({ "trace": [{ "time_s": 0, "speed_kmh": 10 }, { "time_s": 10, "speed_kmh": 10 }] });
        }
        if !unknown.is_empty() {
            return Err(Error::Invalid(unknown));
        }
        let document = Document::from_value(&value)?;
        if spoken_of.is_empty() {
            return Ok(document);
        }
        document.with(|d| {
            for (i, path) in spoken_of {
                d.brief.trips[i].path = TripPath::clone(&path);
            }
        })
    }
}
