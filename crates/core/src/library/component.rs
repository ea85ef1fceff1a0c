//! Record of what stands between pack, motor, charger and the 12 V side: fuse, contactor, disconnect, cable, converter and their like.

use serde::{Deserialize, Serialize};

use crate::error::{Problem, Problems};
use crate::quantity::{Sources, check_currency, check_name, check_sources, fields, join};

/// What a component is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ComponentKind {
    /// Fuse for direct current.
    Fuse,
    /// Service disconnect, opened by hand.
    Disconnect,
    /// Contactor.
    Contactor,
    /// Cable, by the metre: its mass and price are of one.
    Cable,
    /// Converter from the pack to 12 V.
    Converter,
    /// Sender of the accelerator pedal or grip.
    Throttle,
    /// Vacuum pump for the brakes.
    VacuumPump,
    /// Electric brake booster.
    Booster,
    /// Heater fed from the pack.
    Heater,
    /// Cell monitoring.
    Monitor,
    /// Connector or inlet.
    Connector,
}

/// Signal of a throttle sender.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ThrottleSignal {
    /// 0 to 5 V.
    Volts,
    /// 0 to 5 kilohm.
    Ohms,
    /// Hall sender, 0.8 to 4.2 V.
    Hall,
}

impl ThrottleSignal {
    /// Every one.
    pub const ALL: [Self; 3] = [Self::Volts, Self::Ohms, Self::Hall];

    /// As people say it.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Volts => "0 to 5 V",
            Self::Ohms => "0 to 5 kΩ",
            Self::Hall => "0.8 to 4.2 V, hall",
        }
    }

    /// Signal at rest and at full travel, V or kilohm (common practice, from memory).
    #[must_use]
    pub fn ends(self) -> (f64, f64) {
        match self {
            Self::Volts | Self::Ohms => (0.0, 5.0),
            Self::Hall => (0.8, 4.2),
        }
    }

    /// Whether a lost ground or a broken wire lies outside of its range, so that a controller can tell it from a pedal.
    #[must_use]
    pub fn tells_a_broken_wire(self) -> bool {
        self == Self::Hall
    }
}

impl ComponentKind {
    /// Every kind.
    pub const ALL: [Self; 11] = [
        Self::Fuse,
        Self::Disconnect,
        Self::Contactor,
        Self::Cable,
        Self::Converter,
        Self::Throttle,
        Self::VacuumPump,
        Self::Booster,
        Self::Heater,
        Self::Monitor,
        Self::Connector,
    ];

    /// As people say it.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Fuse => "fuse",
            Self::Disconnect => "disconnect",
            Self::Contactor => "contactor",
            Self::Cable => "cable",
            Self::Converter => "converter",
            Self::Throttle => "throttle",
            Self::VacuumPump => "vacuum pump",
            Self::Booster => "brake booster",
            Self::Heater => "heater",
            Self::Monitor => "cell monitoring",
            Self::Connector => "connector",
        }
    }

    /// Numbers that a record of the kind may have, beside mass and price.
    #[must_use]
    pub fn numbers(self) -> &'static [&'static str] {
        match self {
            Self::Fuse => &["max_voltage_v", "current_a", "break_a"],
            Self::Contactor => &["max_voltage_v", "current_a", "peak_a", "peak_s", "break_a", "draws_w"],
            Self::Disconnect | Self::Connector => &["max_voltage_v", "current_a"],
            Self::Cable => &["max_voltage_v", "section_mm2", "insulation_c"],
            Self::Converter | Self::Heater => &["min_voltage_v", "max_voltage_v", "rated_w"],
            Self::Throttle => &["tracks"],
            Self::VacuumPump => &["rated_w", "flow_l_min"],
            Self::Booster => &["rated_w"],
            Self::Monitor => &["cells", "draws_w"],
        }
    }

    /// Those without which it says nothing.
    #[must_use]
    pub fn needs(self) -> &'static [&'static str] {
        match self {
            Self::Fuse | Self::Contactor => &["max_voltage_v", "current_a", "break_a"],
            Self::Disconnect | Self::Connector => &["max_voltage_v", "current_a"],
            Self::Cable => &["max_voltage_v", "section_mm2"],
            Self::Converter | Self::Heater => &["min_voltage_v", "max_voltage_v", "rated_w"],
            Self::Throttle => &["tracks"],
            Self::VacuumPump => &["rated_w", "flow_l_min"],
            Self::Booster => &["rated_w"],
            Self::Monitor => &["cells"],
        }
    }
}

/// One component, as sold.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Component {
    /// Name shown in lists.
    pub name: String,
    /// What it is.
    pub kind: ComponentKind,
    /// Remarks.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// Below this voltage it does not work, V: of a converter or heater.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub min_voltage_v: Option<f64>,
    /// Highest direct voltage it bears and, of a fuse or contactor, breaks, V.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max_voltage_v: Option<f64>,
    /// Current it carries for hours, A; of a fuse its rating.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub current_a: Option<f64>,
    /// Current it carries for `peak_s`, A. Absent: not more.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub peak_a: Option<f64>,
    /// Length of its peak, s. Absent: 60.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub peak_s: Option<f64>,
    /// Direct current it breaks at its highest voltage, A.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub break_a: Option<f64>,
    /// Rated power, W: what a converter or heater gives, what a pump or booster draws while it runs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rated_w: Option<f64>,
    /// Drawn at 12 V while it is on, W: by a coil or by monitoring.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub draws_w: Option<f64>,
    /// Copper section of a cable, mm2.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub section_mm2: Option<f64>,
    /// What a cable's insulation bears, degC. Absent: 90.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub insulation_c: Option<f64>,
    /// Signal of a throttle.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub signal: Option<ThrottleSignal>,
    /// Tracks of a throttle: two can be held against each other.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tracks: Option<u32>,
    /// Air a pump moves, l/min.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub flow_l_min: Option<f64>,
    /// Cells that monitoring watches at most.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cells: Option<u32>,
    /// Mass, kg; of a cable of one metre.
    pub mass_kg: f64,
    /// Price in the brief's currency; of a cable of one metre.
    #[serde(default)]
    pub price: f64,
    /// Currency of the price, a code of ISO 4217. Absent: the brief's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// Provenance by key.
    #[serde(default, skip_serializing_if = "Sources::is_empty")]
    pub sources: Sources,
}

impl Component {
    fn numbers(&self) -> [(&'static str, Option<f64>); 13] {
        [
            ("min_voltage_v", self.min_voltage_v),
            ("max_voltage_v", self.max_voltage_v),
            ("current_a", self.current_a),
            ("peak_a", self.peak_a),
            ("peak_s", self.peak_s),
            ("break_a", self.break_a),
            ("rated_w", self.rated_w),
            ("draws_w", self.draws_w),
            ("section_mm2", self.section_mm2),
            ("insulation_c", self.insulation_c),
            ("tracks", self.tracks.map(f64::from)),
            ("flow_l_min", self.flow_l_min),
            ("cells", self.cells.map(f64::from)),
        ]
    }

    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        check_name(&self.name, path, problems);
        check_sources(&self.sources, path, (fields::COMPONENT, &[]), problems);
        check_currency(self.currency.as_deref(), path, problems);
        for (key, value) in self.numbers() {
            if value.is_none() && self.kind.needs().contains(&key) {
                problems.push(Problem::new(join(path, key), "", format!("a {} needs it", self.kind.word())));
            }
            if let Some(value) = value.filter(|_| !self.kind.numbers().contains(&key)) {
                problems.push(Problem::new(join(path, key), value, format!("a {} has none; leave it empty", self.kind.word())));
            }
        }
        match (self.kind == ComponentKind::Throttle, self.signal) {
            (true, None) => problems.push(Problem::new(join(path, "signal"), "", "a throttle needs it: volts, ohms or hall")),
            (false, Some(signal)) => {
                let accepted = format!("a {} has none; leave it empty", self.kind.word());
                problems.push(Problem::new(join(path, "signal"), signal.word(), accepted));
            }
            _ => {}
        }
        let mut not_above = |low_key: &str, low: Option<f64>, high_key: &str, high: Option<f64>, unit: &str| {
            if let (Some(low), Some(high)) = (low, high)
                && low > high
            {
                problems.push(Problem::new(join(path, low_key), low, format!("it cannot exceed {high_key}, which is {high} {unit}")));
            }
        };
        not_above("min_voltage_v", self.min_voltage_v, "max_voltage_v", self.max_voltage_v, "V");
        not_above("current_a", self.current_a, "peak_a", self.peak_a, "A");
    }
}
