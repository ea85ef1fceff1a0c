//! Places to charge as they are found, by region: what the wall gives, and what may be drawn of it for hours.

use serde::Serialize;

use crate::document::{Connector, Socket, SocketKind};

/// Where the rules of an outlet hold.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Region {
    /// North America.
    NorthAmerica,
    /// The European mainland.
    Europe,
    /// The United Kingdom.
    UnitedKingdom,
    /// Australia and New Zealand.
    Australia,
    /// Stations of direct current, the same everywhere.
    Stations,
}

/// A place to charge as it is usually found.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Outlet {
    /// Where.
    pub region: Region,
    /// What it is.
    pub name: &'static str,
    /// Mains or direct current.
    pub kind: SocketKind,
    /// Mains: volts across each phase's winding of the charger. Direct current: the highest, V.
    pub voltage_v: f64,
    /// Rating of the circuit on each phase, or the station's most, A.
    pub current_a: f64,
    /// Phases.
    pub phases: u32,
    /// Share of it that may be drawn for hours.
    pub continuous_share: f64,
    /// Direct current: greatest power, W.
    pub power_w: Option<f64>,
    /// Direct current: the lowest voltage at which it starts, V.
    pub min_voltage_v: Option<f64>,
    /// How the vehicle is plugged in.
    pub connector: Option<Connector>,
    /// Where the share comes from.
    pub source: &'static str,
}

const fn ac(
    region: Region,
    name: &'static str,
    (voltage_v, current_a, phases): (f64, f64, u32),
    continuous_share: f64,
    connector: Connector,
    source: &'static str,
) -> Outlet {
    let (kind, connector) = (SocketKind::Ac, Some(connector));
    Outlet { region, name, kind, voltage_v, current_a, phases, continuous_share, power_w: None, min_voltage_v: None, connector, source }
}

const fn dc(name: &'static str, (lowest_v, voltage_v): (f64, f64), current_a: f64, power_w: f64, connector: Option<Connector>) -> Outlet {
    Outlet {
        region: Region::Stations,
        name,
        kind: SocketKind::Dc,
        voltage_v,
        current_a,
        phases: 1,
        continuous_share: 1.0,
        power_w: Some(power_w),
        min_voltage_v: Some(lowest_v),
        connector,
        source: "common practice",
    }
}

const NEC: &str = "NEC 210.20, 625.42";
const IEC: &str = "IEC 60309: rated for continuous use";
const PRACTICE: &str = "common practice: 10 A for hours";
const WALL: &str = "IEC 61851-1: the pilot offers what the circuit bears";

/// Every outlet known, by region.
pub const OUTLETS: &[Outlet] = &{
    use Connector::{Chademo, Combined, Household, Iec60309, Type1, Type2};
    use Region::{Australia, Europe, NorthAmerica, UnitedKingdom};
    [
        ac(NorthAmerica, "120 V outlet, 15 A", (120.0, 15.0, 1), 0.8, Household, NEC),
        ac(NorthAmerica, "120 V outlet, 20 A", (120.0, 20.0, 1), 0.8, Household, NEC),
        ac(NorthAmerica, "240 V circuit, 20 A", (240.0, 20.0, 1), 0.8, Type1, NEC),
        ac(NorthAmerica, "240 V outlet, 30 A", (240.0, 30.0, 1), 0.8, Household, NEC),
        ac(NorthAmerica, "240 V wall box, 40 A", (240.0, 40.0, 1), 0.8, Type1, NEC),
        ac(NorthAmerica, "240 V outlet, 50 A", (240.0, 50.0, 1), 0.8, Household, NEC),
        ac(NorthAmerica, "240 V wall box, 60 A", (240.0, 60.0, 1), 0.8, Type1, NEC),
        ac(Europe, "Household socket, 16 A", (230.0, 16.0, 1), 10.0 / 16.0, Household, PRACTICE),
        ac(Europe, "Blue industrial socket, 16 A", (230.0, 16.0, 1), 1.0, Iec60309, IEC),
        ac(Europe, "Blue industrial socket, 32 A", (230.0, 32.0, 1), 1.0, Iec60309, IEC),
        ac(Europe, "Red industrial socket, 3 x 16 A", (230.0, 16.0, 3), 1.0, Iec60309, IEC),
        ac(Europe, "Red industrial socket, 3 x 32 A", (230.0, 32.0, 3), 1.0, Iec60309, IEC),
        ac(Europe, "Wall box, 16 A", (230.0, 16.0, 1), 1.0, Type2, WALL),
        ac(Europe, "Wall box, 32 A", (230.0, 32.0, 1), 1.0, Type2, WALL),
        ac(Europe, "Wall box, 3 x 16 A", (230.0, 16.0, 3), 1.0, Type2, WALL),
        ac(Europe, "Wall box, 3 x 32 A", (230.0, 32.0, 3), 1.0, Type2, WALL),
        ac(UnitedKingdom, "Household socket, 13 A", (230.0, 13.0, 1), 10.0 / 13.0, Household, PRACTICE),
        ac(UnitedKingdom, "Commando socket, 16 A", (230.0, 16.0, 1), 1.0, Iec60309, IEC),
        ac(UnitedKingdom, "Commando socket, 32 A", (230.0, 32.0, 1), 1.0, Iec60309, IEC),
        ac(UnitedKingdom, "Wall box, 32 A", (230.0, 32.0, 1), 1.0, Type2, WALL),
        ac(Australia, "Household outlet, 10 A", (230.0, 10.0, 1), 0.8, Household, "common practice: four fifths for hours"),
        ac(Australia, "Outlet, 15 A", (230.0, 15.0, 1), 0.8, Household, "common practice: four fifths for hours"),
        ac(Australia, "Wall box, 32 A", (230.0, 32.0, 1), 1.0, Type2, WALL),
        dc("Station, 25 kW", (150.0, 500.0), 63.0, 25_000.0, Some(Combined)),
        dc("Station, 50 kW", (150.0, 500.0), 125.0, 50_000.0, Some(Combined)),
        dc("Station, 150 kW", (150.0, 920.0), 350.0, 150_000.0, Some(Combined)),
        dc("Station, 50 kW, older connector", (150.0, 500.0), 125.0, 50_000.0, Some(Chademo)),
        dc("Light-vehicle station, 60 V", (24.0, 60.0), 50.0, 3_000.0, None),
    ]
};

impl Outlet {
    /// The same as a socket of a brief.
    #[must_use]
    pub fn socket(&self, id: &str) -> Socket {
        Socket {
            phases: self.phases,
            continuous_share: self.continuous_share,
            power_w: self.power_w,
            min_voltage_v: self.min_voltage_v,
            connector: self.connector,
            ..Socket::plain(id, self.name, self.kind, self.voltage_v, self.current_a)
        }
    }
}
