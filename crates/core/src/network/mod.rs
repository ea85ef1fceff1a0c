//! What a vehicle's own network says, from a log: which messages there are, what is in them, and which fall silent with the engine's unit.

mod candump;
mod names;
mod simulated;

use std::collections::{BTreeMap, BTreeSet};

pub use candump::{Frame, Log, MOST_FRAMES, read_log, read_named};
pub use names::{Described, Names};
pub use simulated::{SIMULATED_DBC, simulated_log};

use serde::Serialize;

use crate::document::{Network, NetworkMessage, NetworkSignal};

/// A message that stops when the engine's unit leaves.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SilentMessage {
    /// Its identifier.
    pub id: String,
    /// Units that stay and listen to it.
    pub listeners: Vec<String>,
}

/// Messages of a donor's network that stop when the engine's unit leaves: missing without it, or sent by a unit that leaves.
#[must_use]
pub fn silent(network: &Network) -> Vec<SilentMessage> {
    let stops = network.messages.iter().filter(|m| network.falls_silent(m));
    stops.map(|m| SilentMessage { id: m.id.clone(), listeners: network.listeners(m).into_iter().map(str::to_owned).collect() }).collect()
}

/// Most messages of a network that are kept; a vehicle has some dozens.
const MOST_MESSAGES: usize = 400;
/// Most values of a message that are kept.
const MOST_SIGNALS: usize = 64;

/// What is seen of one identifier.
struct Seen<'a> {
    described: Option<Described<'a>>,
    first: &'a Frame,
    last: &'a Frame,
    frames: u32,
    length: usize,
    changing: Vec<bool>,
    values: Vec<Option<[f64; 2]>>,
}

/// What a log tells of each identifier. Names come from `names`; marks that a person made, of the network as it was known, stay by
/// identifier. With a log `without` the engine's unit, what is missing there fell silent.
///
/// A network of more than 400 identifiers is cut to those that were seen most.
#[must_use]
pub fn network(log: &Log, names: Option<&Names>, without: Option<&Log>, known: &Network) -> Network {
    let mut seen: BTreeMap<(bool, u32), Seen<'_>> = BTreeMap::new();
    for frame in &log.frames {
        let entry = seen.entry((frame.extended, frame.id)).or_insert_with(|| {
            let described = names.and_then(|n| n.of(frame.id, frame.extended));
            let values = described.as_ref().map_or(0, |d| d.signals().count());
            Seen { described, first: frame, last: frame, frames: 0, length: 0, changing: Vec::new(), values: vec![None; values] }
        });
        entry.see(frame);
    }
    let mut kept: Vec<_> = seen.into_iter().collect();
    if kept.len() > MOST_MESSAGES {
        kept.sort_by_key(|(_, s)| std::cmp::Reverse(s.frames));
        kept.truncate(MOST_MESSAGES);
        kept.sort_by_key(|(key, _)| *key);
    }
    let still: Option<BTreeSet<(bool, u32)>> = without.map(|log| log.frames.iter().map(|f| (f.extended, f.id)).collect());
    let messages = kept
        .into_iter()
        .map(|(key, s)| {
            let mut message = s.message();
            let before = known.messages.iter().find(|m| m.id == message.id);
            message.fell_silent = still.as_ref().map_or_else(|| before.is_some_and(|m| m.fell_silent), |still| !still.contains(&key));
            if let Some(before) = before {
                message.needed_by.clone_from(&before.needed_by);
                if names.is_none() {
                    message.name.clone_from(&before.name);
                    message.sender.clone_from(&before.sender);
                    message.receivers.clone_from(&before.receivers);
                }
            }
            message
        })
        .collect();
    let times = || log.frames.iter().filter_map(|f| f.time_s);
    let seconds = (times().fold(f64::NEG_INFINITY, f64::max) - times().fold(f64::INFINITY, f64::min)).clamp(0.0, 1e6);
    Network { seconds, messages, leaving: known.leaving.clone() }
}

impl<'a> Seen<'a> {
    fn see(&mut self, frame: &'a Frame) {
        self.frames = self.frames.saturating_add(1);
        self.last = frame;
        self.length = self.length.max(frame.data.len());
        self.changing.resize(self.length, false);
        for (i, changes) in self.changing.iter_mut().enumerate() {
            *changes |= frame.data.get(i) != self.first.data.get(i);
        }
        if let Some(described) = &self.described {
            for (seen, value) in self.values.iter_mut().zip(described.values(&frame.data)) {
                if let Some(v) = value {
                    let [least, most] = seen.unwrap_or([v, v]);
                    *seen = Some([least.min(v), most.max(v)]);
                }
            }
        }
    }

    fn message(&self) -> NetworkMessage {
        let period_ms = match (self.first.time_s, self.last.time_s) {
            (Some(from), Some(to)) if self.frames > 1 && to > from => Some(1000.0 * (to - from) / f64::from(self.frames - 1)),
            _ => None,
        };
        let signals = self.described.as_ref().map_or_else(Vec::new, |d| {
            let told = d.signals().zip(&self.values).filter_map(|((name, unit), seen)| {
                let [least, most] = (*seen)?;
                Some(NetworkSignal { name: name.to_owned(), unit: unit.to_owned(), least, most })
            });
            told.take(MOST_SIGNALS).collect()
        });
        NetworkMessage {
            id: self.first.id_text(),
            name: self.described.as_ref().map_or_else(String::new, |d| d.name().to_owned()),
            sender: self.described.as_ref().map_or_else(String::new, |d| d.sender().to_owned()),
            receivers: self.described.as_ref().map_or_else(Vec::new, Described::receivers),
            frames: self.frames,
            length: self.length as u32,
            period_ms,
            changing: (0_u32..).zip(&self.changing).filter(|(_, changes)| **changes).map(|(i, _)| i).collect(),
            signals,
            fell_silent: false,
            needed_by: Vec::new(),
        }
    }
}
