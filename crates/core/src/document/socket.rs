//! Places to charge.

use serde::{Deserialize, Serialize};

use crate::error::{Problem, Problems};
use crate::quantity::join;

/// Kind of supply.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum SocketKind {
    /// Mains; the vehicle's own charger makes direct current.
    #[default]
    Ac,
    /// Fast charging with direct current; the vehicle's charger is bypassed.
    Dc,
}

/// How a vehicle is plugged in, by the standard of the connector.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Connector {
    /// A national plug into a household outlet.
    Household,
    /// IEC 60309 industrial plug.
    Iec60309,
    /// IEC 62196-2 type 1 (SAE J1772), one phase.
    Type1,
    /// IEC 62196-2 type 2.
    Type2,
    /// IEC 62196-3 configurations EE and FF: the combined connector for direct current.
    Combined,
    /// IEC 62196-3 configuration AA, direct current.
    Chademo,
    /// GB/T 20234.3, direct current.
    Gbt,
}

/// What a connector bears.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ConnectorRatings {
    /// Mains or direct current.
    pub kind: SocketKind,
    /// Words for people.
    pub name: &'static str,
    /// Greatest current, on each phase for mains, A; `None` where the circuit's rating is the connector's.
    pub current_a: Option<f64>,
    /// Direct current: lowest and highest voltage, V.
    pub volts_v: Option<(f64, f64)>,
    /// Phases that it has.
    pub phases: u32,
}

impl Connector {
    /// Every one.
    pub const ALL: [Self; 7] = [Self::Household, Self::Iec60309, Self::Type1, Self::Type2, Self::Combined, Self::Chademo, Self::Gbt];

    /// Its ratings by its standard (from memory; uncooled where there is a cooled one).
    #[must_use]
    pub fn ratings(self) -> ConnectorRatings {
        let ac = |name, current_a, phases| ConnectorRatings { kind: SocketKind::Ac, name, current_a, volts_v: None, phases };
        let dc =
            |name, amps, volts| ConnectorRatings { kind: SocketKind::Dc, name, current_a: Some(amps), volts_v: Some(volts), phases: 1 };
        match self {
            Self::Household => ConnectorRatings { volts_v: None, ..ac("national plug", None, 3) },
            Self::Iec60309 => ac("IEC 60309", None, 3),
            Self::Type1 => ac("IEC 62196-2 type 1", Some(80.0), 1),
            Self::Type2 => ac("IEC 62196-2 type 2", Some(63.0), 3),
            Self::Combined => dc("IEC 62196-3 combined", 200.0, (150.0, 1000.0)),
            Self::Chademo => dc("IEC 62196-3 configuration AA", 125.0, (50.0, 500.0)),
            Self::Gbt => dc("GB/T 20234.3", 250.0, (200.0, 750.0)),
        }
    }
}

/// A place to charge.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Socket {
    /// Stable identifier within the brief.
    pub id: String,
    /// Name shown.
    pub name: String,
    /// Mains or direct current.
    #[serde(default)]
    pub kind: SocketKind,
    /// Mains: volts from phase to neutral. Direct current: the highest it gives.
    pub voltage_v: f64,
    /// Mains: rating of the circuit on each phase. Direct current: the most it gives, A.
    pub current_a: f64,
    /// Phases of the circuit.
    #[serde(default = "phases")]
    pub phases: u32,
    /// Share of the circuit's rating that may be drawn for hours; 0.8 by NEC 625.42, 1 where local rules rate the circuit itself for it.
    #[serde(default = "continuous_share")]
    pub continuous_share: f64,
    /// Direct current: greatest power, W. Absent: volts times amps.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub power_w: Option<f64>,
    /// Direct current: the lowest voltage of the pack at which it starts, V. Absent: 150 V where it gives more than 200 V (common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub min_voltage_v: Option<f64>,
    /// How the vehicle is plugged in. Absent: nothing is limited by it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub connector: Option<Connector>,
    /// Mains: duty cycle of the pilot, percent, as measured or told; it offers the current that SAE J1772 and IEC 61851-1 give it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pilot_duty_percent: Option<f64>,
    /// Mains: what the cable between them is coded for, A on each phase.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cable_current_a: Option<f64>,
}

impl Socket {
    /// A plain one: no connector, pilot or cable that limits it.
    #[must_use]
    pub fn plain(id: &str, name: &str, kind: SocketKind, voltage_v: f64, current_a: f64) -> Self {
        Self {
            id: id.to_owned(),
            name: name.to_owned(),
            kind,
            voltage_v,
            current_a,
            phases: phases(),
            continuous_share: continuous_share(),
            power_w: None,
            min_voltage_v: None,
            connector: None,
            pilot_duty_percent: None,
            cable_current_a: None,
        }
    }

    pub(super) fn check(&self, path: &str, problems: &mut Problems) {
        let at = |key: &str| join(path, key);
        if let Some(connector) = self.connector.filter(|c| c.ratings().kind != self.kind) {
            let fit: Vec<&str> = Connector::ALL.iter().map(|c| c.ratings()).filter(|r| r.kind == self.kind).map(|r| r.name).collect();
            problems.push(Problem::new(
                at("connector"),
                format!("\"{}\"", connector.ratings().name),
                format!("connectors of this kind of supply are: {}", fit.join(", ")),
            ));
        }
        if let Some(low) = self.min_voltage_v.filter(|low| *low >= self.voltage_v) {
            problems.push(Problem::new(at("min_voltage_v"), low, format!("it must be below voltage_v, which is {} V", self.voltage_v)));
        }
    }
}

fn phases() -> u32 {
    1
}
fn continuous_share() -> f64 {
    0.8
}
