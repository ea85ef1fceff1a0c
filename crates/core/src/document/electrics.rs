//! What is said of the electrics beside cable and fuse: surroundings, lengths, precharge, low-voltage loads and brake vacuum.

use serde::{Deserialize, Serialize};

use super::{Design, FittedComponents, Slot, VehicleKind, Wiring};
use crate::error::{Problem, Problems};
use crate::library::Component;
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
    /// By the vacuum of the engine that came out, with nothing in its place yet.
    Lost,
    /// By vacuum from a pump with a reservoir.
    Vacuum,
    /// By an electric booster.
    Electric,
}

/// What feeds the 12 V side.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LowVoltageSupply {
    /// A converter from the pack, with a battery beside it.
    #[default]
    Converter,
    /// A battery alone, charged by its own charger at the socket.
    Battery,
}

/// Whose code is asked first; it sets the colours of wires. The code itself rules over every figure.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LocalCode {
    /// IEC 60445: positive red, negative white.
    #[default]
    Iec,
    /// Common practice of North America: positive red, negative black.
    NorthAmerica,
}

/// Where the motor's driven shaft end points.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ShaftEnd {
    /// To the vehicle's left.
    Left,
    /// To its right.
    Right,
}

/// Insulation measured with a voltmeter and a known resistor (UN R100, annex 4).
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct InsulationTest {
    /// Pack, V.
    pub pack_v: f64,
    /// The higher of the voltages between a pole and the chassis, V.
    pub side_v: f64,
    /// The same with the resistor across it, V.
    pub side_with_resistor_v: f64,
    /// The resistor, kilohm.
    pub resistor_kohm: f64,
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
    /// What feeds the 12 V side.
    #[serde(skip_serializing_if = "is_usual")]
    pub supply: LowVoltageSupply,
    /// Whether steering is assisted by an electric pump or motor.
    #[serde(skip_serializing_if = "is_usual")]
    pub electric_steering: bool,
    /// Heat wanted from the pack for people and glass, W. Absent: no heater.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub heating_w: Option<f64>,
    /// Where cells are watched by hand: cells between two measured points. Absent: every one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hand_checked_every: Option<u32>,
    /// Where the motor's driven shaft end points. Absent: which way it must turn is not told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub shaft_end: Option<ShaftEnd>,
    /// Meshes of gears from motor to wheel. Absent: which way it must turn is not told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub meshes: Option<u32>,
    /// Insulation as measured.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub insulation_test: Option<InsulationTest>,
    /// Whose code is asked first.
    #[serde(skip_serializing_if = "is_usual")]
    pub code: LocalCode,
    /// Components chosen.
    #[serde(skip_serializing_if = "FittedComponents::is_default")]
    pub fitted: FittedComponents,
}

fn is_usual<T: Default + PartialEq>(value: &T) -> bool {
    *value == T::default()
}

/// Auxiliary battery where none is stated, of closed vehicles and of light ones, Ah (common practice).
const AUXILIARY_AH: (f64, f64) = (40.0, 12.0);

impl Electrics {
    /// Capacity of the auxiliary battery, stated or usual for the kind of vehicle, Ah.
    #[must_use]
    pub fn auxiliary_in_use_ah(&self, kind: VehicleKind) -> f64 {
        self.auxiliary_ah.unwrap_or(if kind.is_closed() { AUXILIARY_AH.0 } else { AUXILIARY_AH.1 })
    }

    pub(super) fn is_default(&self) -> bool {
        *self == Self::default()
    }

    pub(super) fn check(&self, path: &str, wiring: &Wiring, problems: &mut Problems) {
        self.fitted.check(&join(path, "fitted"), wiring, problems);
        if let Some(test) = &self.insulation_test {
            let at = |key: &str| join(path, &format!("insulation_test.{key}"));
            if test.side_v > test.pack_v {
                problems.push(Problem::new(at("side_v"), test.side_v, format!("it cannot exceed pack_v, which is {} V", test.pack_v)));
            }
            if test.side_with_resistor_v > test.side_v {
                let accepted = format!("a resistor across it lowers it: at most side_v, which is {} V", test.side_v);
                problems.push(Problem::new(at("side_with_resistor_v"), test.side_with_resistor_v, accepted));
            }
        }
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

/// Coils of contactors that nobody has chosen, W (common practice).
const COILS_W: f64 = 12.0;

impl Design {
    /// What the coils of the main contactors draw while they hold, W.
    #[must_use]
    pub(crate) fn coils_w(&self) -> f64 {
        let coil_w = self.electrics.fitted.main_contactor.as_ref().and_then(|c| c.draws_w);
        coil_w.map_or(COILS_W, |w| w * self.count_of(Slot::MainContactor))
    }

    /// The consumers, and whether they were assumed: those usual for a kind of vehicle (from memory, common practice).
    #[must_use]
    pub fn low_voltage_loads(&self, kind: VehicleKind) -> (Vec<LowVoltageLoad>, bool) {
        let said = &self.electrics;
        if !said.loads.is_empty() {
            return (said.loads.clone(), false);
        }
        let fitted = &said.fitted;
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
            load("contactors", "Contactor coils", self.coils_w(), always),
            load("monitoring", "Cell monitoring", fitted.monitor.as_ref().and_then(|c| c.draws_w).unwrap_or(5.0), always),
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
        let of = |fitted: &Option<Component>, usual_w: f64| fitted.as_ref().and_then(|c| c.rated_w).unwrap_or(usual_w);
        match said.brakes {
            BrakeAssistance::Vacuum => {
                loads.push(load("vacuum", "Vacuum pump", of(&fitted.brake_assistance, 120.0), (0.2, 0.2, 0.2)));
            }
            BrakeAssistance::Electric => {
                loads.push(load("booster", "Brake booster", of(&fitted.brake_assistance, 200.0), (0.1, 0.1, 0.1)));
            }
            BrakeAssistance::None | BrakeAssistance::Lost => {}
        }
        if said.electric_steering {
            // 60 W on the mean and 700 at most.
            loads.push(load("steering", "Electric steering", 700.0, (0.086, 0.086, 0.086)));
        }
        (loads, true)
    }
}
