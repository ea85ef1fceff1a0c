//! Charging: constant current, then constant voltage, within what circuit, cable, connector, charger, station and pack allow.

mod curve;
mod hours;
mod outlet;
mod pilot;
mod session;
mod supply;
#[cfg(test)]
mod tests;

use serde::Serialize;

pub use curve::{ChargeCurve, Charged};
pub use outlet::{OUTLETS, Outlet, Region};
pub use pilot::{CABLE_CODES, PILOT_VOLTS, PilotState, cable_amps, pilot_amps, pilot_duty_percent};
pub(crate) use session::charge_hours;
pub use session::{ChargeSession, charge};
pub(crate) use supply::allowances;
pub(crate) use supply::charger_mains_a;
pub use supply::{Allowance, station_window};

/// What holds the charge back for most of its time.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ChargeLimit {
    /// The circuit of the socket, with its continuous share.
    Circuit,
    /// The charger's power.
    ChargerPower,
    /// The charger's output current.
    ChargerAmps,
    /// What the pilot signal of the socket, or the cable plugged in, lets the charger draw.
    Pilot,
    /// The connector.
    Connector,
    /// The fast-charging station.
    Station,
    /// The pack is below the lowest voltage at which the station starts.
    StationVolts,
    /// The cells' charge rate.
    PackRate,
    /// Constant-voltage phase: the current tapers.
    Taper,
    /// Lead-acid acceptance.
    Acceptance,
    /// The cells are too cold to take charge.
    Cold,
}

impl ChargeLimit {
    /// Words for people.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Circuit => "socket circuit",
            Self::ChargerPower => "charger power",
            Self::ChargerAmps => "charger amps",
            Self::Pilot => "pilot or cable",
            Self::Connector => "connector",
            Self::Station => "charging station",
            Self::StationVolts => "the station's lowest voltage",
            Self::PackRate => "cells' charge rate",
            Self::Taper => "taper at full voltage",
            Self::Acceptance => "lead-acid acceptance",
            Self::Cold => "cells too cold to charge",
        }
    }
}
