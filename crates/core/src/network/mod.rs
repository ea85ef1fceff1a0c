//! What a vehicle's own network says, from a log: which messages there are, what is in them, and which fall silent with the engine's unit.

mod candump;
mod names;
mod simulated;

use std::collections::BTreeMap;

pub use candump::{Frame, Log, MOST_FRAMES, read_log};
pub use names::{Described, Names};
pub use simulated::{SIMULATED_DBC, simulated_log};

use crate::document::{Network, NetworkMessage, NetworkSignal};

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
    let still: Option<Vec<(bool, u32)>> = without.map(|log| log.frames.iter().map(|f| (f.extended, f.id)).collect());
    let mut kept: Vec<_> = seen.into_iter().collect();
    if kept.len() > MOST_MESSAGES {
        kept.sort_by_key(|(_, s)| std::cmp::Reverse(s.frames));
        kept.truncate(MOST_MESSAGES);
        kept.sort_by_key(|(key, _)| *key);
    }
    let still: Option<std::collections::BTreeSet<(bool, u32)>> = still.map(|all| all.into_iter().collect());
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

impl Seen<'_> {
    fn see<'b>(&mut self, frame: &'b Frame)
    where
        Self: 'b,
    {
        let _ = frame;
    }
}
