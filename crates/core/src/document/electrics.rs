//! What is said of the electrics beside cable and fuse: surroundings, lengths, precharge, low-voltage loads and brake vacuum.

use serde::{Deserialize, Serialize};

use super::VehicleKind;
use crate::error::{Problem, Problems};
use crate::quantity::{check_name, join};

/// In which series cables are bought.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CableSeries {
    /// Square millimetres, IEC 60228.
    #[default]
    Metric,
    /// American wire gauge, ASTM B258.
    Awg,
}

/// How the brakes are helped.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BrakeAssistance {
    /// Not at all, or by nothing that the engine drove.
    #[default]
    None,
    /// By vacuum from a pump with a reservoir.
    Vacuum,
    /// By an electric booster.
    Electric,
}

/// One consumer at 12 V.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LowVoltageLoad {
    /// Stable identifier within the list.
    pub id: String,
    /// Name shown.
    pub name: String,
    /// Drawn while it is on, W.
    pub draws_w: f64,
    /// Share of the time it is on by day, 0..1.
    pub day: f64,
    /// At night in rain.
    pub night: f64,
    /// At night in winter.
    pub winter: f64,
}

/// What is said of the electrics; what is absent is assumed, and told so.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Electrics {
    /// In which series cables are bought.
    pub series: CableSeries,
    /// Air around the cables, degC. Absent: 40.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub ambient_c: Option<f64>,
    /// What the insulation bears, degC. Absent: 90.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub insulation_c: Option<f64>,
    /// Loaded cables that run together. Absent: 2.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub bundled: Option<u32>,
    /// Each cable between controller and motor, m. Absent: 1.5.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub phase_length_m: Option<f64>,
    /// Cable between charger and pack there and back, m. Absent: half of the traction cable's, 3 at least.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub charge_length_m: Option<f64>,
    /// Capacitors on the traction bus, mF. Absent: 1 for each 100 A of the controller.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub bus_capacitance_mf: Option<f64>,
    /// Precharge resistor, ohm. Absent: the largest standard one that is in time.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub precharge_ohm: Option<f64>,
    /// Time after which the main contactor closes, s. Absent: 5.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub precharge_delay_s: Option<f64>,
    /// Drawn from the bus while it is precharged, W: a converter that is not held off.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub precharge_load_w: Option<f64>,
    /// Consumers at 12 V. Empty: usual for the kind of vehicle.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub loads: Vec<LowVoltageLoad>,
    /// Rated power of the converter, W. Absent: the least that suffices is told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub converter_power_w: Option<f64>,
    /// Auxiliary battery, Ah. Absent: 40, or 12 on light vehicles.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub auxiliary_ah: Option<f64>,
    /// How the brakes are helped.
    pub brakes: BrakeAssistance,
    /// Vacuum reservoir with its hoses, l. Absent: 3.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub reservoir_l: Option<f64>,
    /// Air that one press lets into the vacuum, l. Absent: 0.4.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub press_l: Option<f64>,
    /// Vacuum to which the pump pulls, as a gauge shows it, kPa below the air. Absent: 61 (18 inHg).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub vacuum_kpa: Option<f64>,
    /// Least vacuum at which the booster still helps, kPa below the air. Absent: 20 (6 inHg).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub least_help_kpa: Option<f64>,
    /// What the pump moves, l/min. Absent: 20.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pump_l_min: Option<f64>,
}

impl Electrics {
    pub(super) fn is_default(&self) -> bool {
        *self == Self::default()
    }

    /// The consumers, and whether they were assumed: those usual for a kind of vehicle (from memory, common practice).
    #[must_use]
    pub fn loads_or_usual(&self, kind: VehicleKind) -> (Vec<LowVoltageLoad>, bool) {
        if !self.loads.is_empty() {
            return (self.loads.clone(), false);
        }
        let load = |id: &str, name: &str, draws_w, (day, night, winter)| LowVoltageLoad {
            id: id.to_owned(),
            name: name.to_owned(),
            draws_w,
            day,
            night,
            winter,
        };
        let always = (1.0, 1.0, 1.0);
        let mut loads = vec![
            load("contactors", "Contactor coils", 12.0, always),
            load("monitoring", "Cell monitoring", 5.0, always),
            load("brake-lamps", "Brake lamps", 42.0, (0.1, 0.1, 0.1)),
        ];
        if kind.is_closed() {
            loads.extend([
                load("beams", "Dipped beams", 110.0, (0.0, 1.0, 1.0)),
                load("tail", "Tail and plate lamps", 25.0, (0.0, 1.0, 1.0)),
                load("wipers", "Wipers", 70.0, (0.0, 1.0, 0.5)),
                load("blower", "Blower", 130.0, (0.2, 0.7, 1.0)),
                load("screen", "Rear screen", 150.0, (0.0, 0.3, 0.7)),
                load("coolant", "Coolant pump", 40.0, always),
                load("fan", "Fan", 115.0, (0.3, 0.1, 0.0)),
                load("gauges", "Gauges and radio", 30.0, always),
            ]);
        } else {
            loads.extend([
                load("beams", "Headlamp", 55.0, always),
                load("tail", "Tail and plate lamps", 10.0, always),
                load("gauges", "Gauges", 8.0, always),
            ]);
        }
        if self.brakes == BrakeAssistance::Vacuum {
            loads.push(load("vacuum", "Vacuum pump", 120.0, (0.2, 0.2, 0.2)));
        }
        (loads, true)
    }

    pub(super) fn check(&self, path: &str, problems: &mut Problems) {
        let at = |key: &str| join(path, key);
        if let (Some(ambient), Some(insulation)) = (self.ambient_c, self.insulation_c)
            && ambient >= insulation
        {
            problems.push(Problem::new(at("ambient_c"), ambient, format!("it must be below insulation_c, which is {insulation} degC")));
        }
        if let (Some(vacuum), Some(least)) = (self.vacuum_kpa, self.least_help_kpa)
            && vacuum <= least
        {
            problems.push(Problem::new(at("vacuum_kpa"), vacuum, format!("it must be above least_help_kpa, which is {least} kPa")));
        }
        for (i, load) in self.loads.iter().enumerate() {
            check_name(&load.name, &at(&format!("loads[{i}]")), problems);
            if load.id.trim().is_empty() || self.loads[..i].iter().any(|l| l.id == load.id) {
                problems.push(Problem::new(at(&format!("loads[{i}].id")), format!("\"{}\"", load.id), "every load needs its own id"));
            }
        }
    }
}
