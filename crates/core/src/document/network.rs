//! What the vehicle's own network said before anything came out, and what must keep working afterwards.

use serde::{Deserialize, Serialize};

use crate::error::{Problem, Problems};
use crate::quantity::join;

/// What was logged of the network, message by message.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Network {
    /// Length of the log, s.
    pub seconds: f64,
    /// Messages by their identifiers.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub messages: Vec<NetworkMessage>,
    /// Units that leave with the engine, by the names the descriptions give them.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub leaving: Vec<String>,
}

/// One message of the network.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NetworkMessage {
    /// Its identifier, hexadecimal: three digits, or eight of an extended one.
    pub id: String,
    /// Its name. Empty: not known.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// The unit that sends it. Empty: not known.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub sender: String,
    /// The units that listen to it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub receivers: Vec<String>,
    /// Times it was seen.
    pub frames: u32,
    /// Bytes in it.
    pub length: u32,
    /// Mean time from one to the next, ms. Absent: seen once, or the log has no times.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub period_ms: Option<f64>,
    /// Bytes that were not always the same, counted from 0.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub changing: Vec<u32>,
    /// What is known to be in it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub signals: Vec<NetworkSignal>,
    /// Whether it was missing from a log without the engine's unit.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub fell_silent: bool,
    /// What needs it and must keep working.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub needed_by: Vec<NeededBy>,
}

/// A named value within a message, with what was seen of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NetworkSignal {
    /// Name.
    pub name: String,
    /// Unit as described.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub unit: String,
    /// Least value seen.
    pub least: f64,
    /// Greatest value seen.
    pub most: f64,
}

/// What must keep working after the conversion.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum NeededBy {
    /// Anti-lock brakes and stability.
    AntiLock,
    /// Steering assistance.
    Steering,
    /// Gauges and warning lamps.
    Gauges,
    /// The inspection reads it.
    Inspection,
    /// Something else.
    Other,
}

impl NeededBy {
    /// All of them.
    pub const ALL: [Self; 5] = [Self::AntiLock, Self::Steering, Self::Gauges, Self::Inspection, Self::Other];

    /// In words.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::AntiLock => "the anti-lock brakes",
            Self::Steering => "the steering assistance",
            Self::Gauges => "the gauges",
            Self::Inspection => "the inspection",
            Self::Other => "something that stays",
        }
    }
}

impl NetworkMessage {
    /// What the teller calls it: its name and identifier.
    #[must_use]
    pub fn words(&self) -> String {
        if self.name.is_empty() { format!("0x{}", self.id) } else { format!("{} (0x{})", self.name, self.id) }
    }
}

impl Network {
    /// Whether a message stops when the engine's unit leaves: it was missing without it, or its sender leaves.
    #[must_use]
    pub(crate) fn falls_silent(&self, message: &NetworkMessage) -> bool {
        message.fell_silent || (!message.sender.is_empty() && self.leaving.contains(&message.sender))
    }

    /// Units that stay and listen to a message.
    #[must_use]
    pub fn listeners<'a>(&'a self, message: &'a NetworkMessage) -> Vec<&'a str> {
        message.receivers.iter().filter(|r| !self.leaving.contains(r)).map(String::as_str).collect()
    }

    pub(super) fn check(&self, path: &str, problems: &mut Problems) {
        for (i, message) in self.messages.iter().enumerate() {
            let hexadecimal = message.id.chars().all(|c| c.is_ascii_hexdigit()) && matches!(message.id.len(), 3 | 8);
            if message.changing.len() > 64 || message.receivers.len() > 64 {
                let at = join(path, &format!("messages[{i}]"));
                problems.push(Problem::new(at, "a list of more than 64", "up to 64 bytes and units are accepted"));
            }
            if !hexadecimal || self.messages[..i].iter().any(|m| m.id == message.id) {
                let at = join(path, &format!("messages[{i}].id"));
                problems.push(Problem::new(at, format!("\"{}\"", message.id), "three or eight hexadecimal digits of its own are accepted"));
            }
        }
    }
}
