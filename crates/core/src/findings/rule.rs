//! A rule: its id, how grave it is, the words that do not depend on the design, and what it found. They are listed in [`table`].

use serde::{Serialize, Serializer};

use super::{Finding, Severity};
use crate::document::Slot;
use crate::quantity::Sentence;

/// What a rule says wherever it fires.
#[derive(Debug)]
pub(super) struct Words {
    id: &'static str,
    severity: Severity,
    /// Link of the chain it belongs to, unless the finding says otherwise.
    part: &'static str,
    unit: &'static str,
    /// In a few words, for counts.
    short: &'static str,
    why: &'static str,
    change: &'static str,
    source: &'static str,
}

macro_rules! rules {
    ($($name:ident $id:literal $severity:ident $part:literal $unit:literal $short:literal why $why:literal change $change:literal source $source:literal)*) => {
        /// A rule of the findings. Told by its id, which never changes.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
        pub enum Rule {
            $(#[doc = $id] $name,)*
        }

        impl Rule {
            /// Every rule.
            pub const ALL: &[Self] = &[$(Self::$name,)*];

            pub(super) fn words(self) -> &'static Words {
                match self {
                    $(Self::$name => &Words {
                        id: $id, severity: Severity::$severity, part: $part, unit: $unit, short: $short, why: $why, change: $change,
                        source: $source,
                    },)*
                }
            }
        }
    };
}

mod table;

pub use table::Rule;

impl Rule {
    /// Its id, such as `volts.full-charge-over-controller`.
    #[must_use]
    pub fn id(self) -> &'static str {
        self.words().id
    }

    /// The rule of an id.
    ///
    /// ```
    /// use joulethesis_core::findings::Rule;
    /// assert!(Rule::ALL.iter().all(|r| Rule::of_id(r.id()) == Some(*r)));
    /// assert_eq!(Rule::of_id("volts.of-old"), None);
    /// ```
    #[must_use]
    pub fn of_id(id: &str) -> Option<Self> {
        Self::ALL.iter().copied().find(|r| r.id() == id)
    }

    /// In a few words.
    #[must_use]
    pub fn short(self) -> &'static str {
        self.words().short
    }

    /// How grave it is.
    #[must_use]
    pub fn severity(self) -> Severity {
        self.words().severity
    }
}

impl Rule {
    /// Place in the circuits that a rule is always about.
    fn slot(self) -> Option<Slot> {
        match self {
            Self::NoFuse | Self::FullChargeOverFuse | Self::ControllerOverFuse | Self::TripOverFuse => Some(Slot::PackFuse),
            Self::FuseOverCable | Self::CableTooThin | Self::CableFailsFirst | Self::CableOverrated => Some(Slot::TractionCable),
            Self::NoDisconnect => Some(Slot::Disconnect),
            Self::NoContactor | Self::PrechargeNever | Self::PrechargeEarly => Some(Slot::MainContactor),
            Self::BrakesUnassisted | Self::FewPresses => Some(Slot::BrakeAssistance),
            Self::BatteryEmpties => Some(Slot::Converter),
            Self::LithiumUnmonitored => Some(Slot::Monitor),
            _ => None,
        }
    }
}

impl Serialize for Rule {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.id())
    }
}

impl PartialEq<&str> for Rule {
    fn eq(&self, id: &&str) -> bool {
        self.id() == *id
    }
}

/// What a rule found, with both figures in words.
pub(super) fn finding(rule: Rule, found: f64, limit: f64, message: impl Into<Sentence>) -> Finding {
    let words = rule.words();
    Finding {
        rule,
        severity: words.severity,
        message: message.into(),
        why: words.why.to_owned(),
        change: words.change.to_owned(),
        source: words.source.to_owned(),
        found,
        limit,
        unit: words.unit.to_owned(),
        part: words.part.to_owned(),
        slot: rule.slot(),
    }
}
