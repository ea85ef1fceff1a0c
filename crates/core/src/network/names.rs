//! Names of what is on a network, from a DBC file, and the values within its frames.

use can_dbc::{ByteOrder, Dbc, MessageId, MultiplexIndicator, Signal, ValueType};

use crate::error::{Error, Result};

/// Longest description that is read, bytes.
const LONGEST: usize = 2 * 1024 * 1024;

/// Descriptions of the messages of a network.
pub struct Names(Dbc);

/// What is described of one message.
pub struct Described<'a> {
    message: &'a can_dbc::Message,
    dbc: &'a Dbc,
}

impl Names {
    /// Reads a DBC file.
    ///
    /// # Errors
    /// Names the line that cannot be read.
    pub fn read(text: &str) -> Result<Self> {
        if text.len() > LONGEST {
            return Err(Error::field("dbc", format!("{} bytes long", text.len()), format!("up to {LONGEST} are accepted")));
        }
        Dbc::try_from(text.trim_start_matches('\u{feff}')).map(Self).map_err(|e| {
            let says = e.to_string();
            // The reader marks the place as "--> line:column".
            let line = says.split("--> ").nth(1).and_then(|rest| rest.split(':').next()).unwrap_or_default();
            let given = if line.is_empty() {
                says.lines().next().unwrap_or_default().to_owned()
            } else {
                format!("not readable from line {line} on")
            };
            Error::field("dbc", given, "a DBC file is accepted: VERSION, BU_, BO_ and SG_ lines")
        })
    }

    /// Units on the network.
    pub fn units(&self) -> impl Iterator<Item = &str> {
        self.0.nodes.iter().map(|n| n.0.as_str())
    }

    /// What is described of an identifier.
    #[must_use]
    pub fn of(&self, id: u32, extended: bool) -> Option<Described<'_>> {
        let wanted = |m: &&can_dbc::Message| match m.id {
            MessageId::Standard(own) => !extended && u32::from(own) == id,
            MessageId::Extended(own) => extended && own == id,
        };
        self.0.messages.iter().find(wanted).map(|message| Described { message, dbc: &self.0 })
    }
}

impl Described<'_> {
    /// Its name.
    #[must_use]
    pub fn name(&self) -> &str {
        &self.message.name
    }

    /// The unit that sends it; empty when none is named.
    #[must_use]
    pub fn sender(&self) -> &str {
        self.message.transmitter.as_deref().unwrap_or_default()
    }

    /// The units that listen to any of its values, each once.
    #[must_use]
    pub(crate) fn receivers(&self) -> Vec<String> {
        let mut all: Vec<String> = Vec::new();
        for receiver in self.message.signals.iter().flat_map(|s| &s.receivers) {
            if !all.contains(receiver) && receiver != "Vector__XXX" {
                all.push(receiver.clone());
            }
        }
        all
    }

    /// Its values that are told as whole numbers with a factor; those told as floating point are left out.
    pub fn signals(&self) -> impl Iterator<Item = (&str, &str)> {
        self.decodable().map(|s| (s.name.as_str(), s.unit.as_str()))
    }

    /// The values in a frame, in the order of [`Self::signals`]; none of what this frame does not hold.
    #[must_use]
    pub fn values(&self, data: &[u8]) -> Vec<Option<f64>> {
        let switch = self.decodable().find(|s| {
            matches!(s.multiplexer_indicator, MultiplexIndicator::Multiplexor | MultiplexIndicator::MultiplexorAndMultiplexedSignal(_))
        });
        let page = switch.and_then(|s| raw(s, data));
        let here = |s: &&Signal| match s.multiplexer_indicator {
            MultiplexIndicator::MultiplexedSignal(of) | MultiplexIndicator::MultiplexorAndMultiplexedSignal(of) => page == Some(of),
            MultiplexIndicator::Plain | MultiplexIndicator::Multiplexor => true,
        };
        self.decodable().map(|s| Some(s).filter(here).and_then(|s| value(s, data))).collect()
    }

    fn decodable(&self) -> impl Iterator<Item = &Signal> {
        let floats = &self.dbc.signal_extended_value_type_list;
        self.message
            .signals
            .iter()
            .filter(|s| (1..=64).contains(&s.size) && !floats.iter().any(|f| f.message_id == self.message.id && f.signal_name == s.name))
    }
}

/// Bits of a value, the first bit the lowest; none where the frame is too short.
///
/// Counted as DBC files do: bit 0 is the lowest of byte 0, bit 8 the lowest of byte 1. A value with its lowest byte first starts at its
/// lowest bit and goes up; one with its highest first starts at its highest bit, goes down to bit 0 of the byte and on at bit 7 of the next.
fn raw(signal: &Signal, data: &[u8]) -> Option<u64> {
    let bit = |at: u64| data.get(usize::try_from(at / 8).ok()?).map(|byte| u64::from(byte >> (at % 8) & 1));
    let mut out = 0_u64;
    match signal.byte_order {
        ByteOrder::LittleEndian => {
            for i in 0..signal.size {
                out |= bit(signal.start_bit.checked_add(i)?)? << i;
            }
        }
        ByteOrder::BigEndian => {
            let mut at = signal.start_bit;
            for _ in 0..signal.size {
                out = out << 1 | bit(at)?;
                at = if at.is_multiple_of(8) { at.checked_add(15)? } else { at - 1 };
            }
        }
    }
    Some(out)
}

fn value(signal: &Signal, data: &[u8]) -> Option<f64> {
    let bits = raw(signal, data)?;
    let whole = match signal.value_type {
        ValueType::Unsigned => bits as f64,
        // The sign is the highest of its bits.
        ValueType::Signed => ((bits << (64 - signal.size)).cast_signed() >> (64 - signal.size)) as f64,
    };
    Some(whole * signal.factor + signal.offset).filter(|v| v.is_finite())
}
