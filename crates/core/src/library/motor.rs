//! Motor record.

use serde::{Deserialize, Serialize};

use crate::error::{Problem, Problems};
use crate::quantity::{Sources, check_currency, check_name, check_sources, fields, join};

/// Kind of motor; decides which controllers fit it and whether it can brake.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum MotorKind {
    /// Series-wound direct current; no regeneration, overspeeds without load.
    SeriesDc,
    /// Brushed with permanent magnets.
    BrushedPm,
    /// Brushless permanent magnet in the wheel.
    Hub,
    /// Permanent-magnet synchronous (brushless).
    PmSynchronous,
    /// Induction.
    Induction,
}

impl MotorKind {
    /// Whether the usual controller of this kind can feed energy back.
    #[must_use]
    pub fn regenerates(self) -> bool {
        self != Self::SeriesDc
    }

    /// Whether it runs on three phases of alternating current.
    #[must_use]
    pub(crate) fn is_three_phase(self) -> bool {
        matches!(self, Self::Hub | Self::PmSynchronous | Self::Induction)
    }

    /// How it is made to turn the other way (common practice).
    #[must_use]
    pub(crate) fn reversed_by(self) -> &'static str {
        match self {
            Self::SeriesDc => "swap the leads of the armature or those of the field, never both",
            Self::BrushedPm => "swap its two leads",
            Self::Hub | Self::PmSynchronous => "swap two phases together with their position lines, or the controller's setting",
            Self::Induction => "swap two phases, or the controller's setting",
        }
    }

    /// Trade word for messages.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::SeriesDc => "series DC",
            Self::BrushedPm => "brushed permanent-magnet",
            Self::Hub => "hub",
            Self::PmSynchronous => "permanent-magnet synchronous",
            Self::Induction => "induction",
        }
    }
}

/// How torque depends on speed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case", deny_unknown_fields)]
pub enum MotorModel {
    /// Constant torque up to base speed (peak power / peak torque), constant power above it.
    Envelope {
        /// Greatest torque at peak, N m.
        peak_torque_nm: f64,
        /// Greatest shaft power at peak at the reference voltage, W.
        peak_power_w: f64,
    },
    /// Torque read from a data sheet at the reference voltage, linear between points.
    Points {
        /// At least two points, speed rising.
        points: Vec<TorquePoint>,
    },
    /// Permanent magnets, from the constants: motor volts = Ke w + I R, torque = Kt (I - I0) with Kt = Ke.
    Constants {
        /// Torque a motor amp (N m/A), the same figure as volts a rad/s (V s/rad).
        torque_constant_nm_a: f64,
        /// Winding resistance between the terminals, ohm.
        resistance_ohm: f64,
        /// Current that turns it without load, A.
        no_load_current_a: f64,
        /// Greatest motor current at peak, A.
        peak_current_a: f64,
        /// Speed reached with the field weakened over the speed reached without. Default 1: no weakening.
        #[serde(default = "unweakened")]
        field_weakening: f64,
    },
    /// Series-wound with a field that saturates: flux K(I) = `K_sat` I / (I + `I_s`), torque = K I - T0, back-EMF = K w,
    /// volts = EMF + I R + brush drop.
    SeriesDc {
        /// Flux constant far above saturation, N m/A (= V s/rad).
        saturated_constant_nm_a: f64,
        /// Current at which half of that flux is reached, A.
        saturation_current_a: f64,
        /// Armature and field in series, ohm.
        resistance_ohm: f64,
        /// Drop of both brushes, V. Default 2.
        #[serde(default = "brushes_v")]
        brush_drop_v: f64,
        /// Friction torque, N m.
        #[serde(default)]
        drag_torque_nm: f64,
        /// Greatest motor current at peak, A.
        peak_current_a: f64,
    },
}

fn unweakened() -> f64 {
    1.0
}
fn brushes_v() -> f64 {
    2.0
}

/// One point of a torque curve.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct TorquePoint {
    /// Shaft speed, rpm.
    pub speed_rpm: f64,
    /// Torque available at peak, N m.
    pub torque_nm: f64,
    /// Efficiency stated there, 0..1; with three or more of them the losses are fitted to the points.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub efficiency: Option<f64>,
}

/// Loss model `kc T^2 + ki w + kw w^3 + C` in W, T in N m, w in rad/s.
///
/// # Source
/// Larminie and Lowry, Electric Vehicle Technology Explained, 2nd ed., section 7.3 (from memory).
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LossCoefficients {
    /// Copper loss kc, W/(N m)^2.
    pub copper_w_per_nm2: f64,
    /// Iron and brush loss ki, W/(rad/s).
    pub iron_w_per_rad_s: f64,
    /// Windage loss kw, W/(rad/s)^3.
    pub windage_w_per_rad3_s3: f64,
    /// Constant loss C while turning, W.
    pub constant_w: f64,
}

/// One motor, as sold.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Motor {
    /// Name shown in lists.
    pub name: String,
    /// Kind of motor.
    pub kind: MotorKind,
    /// Remarks.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// Torque against speed.
    pub model: MotorModel,
    /// Motor-side bus voltage the model holds at, V; speed and power scale with the sagged bus. Absent: no scaling.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reference_voltage_v: Option<f64>,
    /// Highest permitted speed, rpm.
    pub max_speed_rpm: f64,
    /// Highest bus voltage it is insulated for, V. Absent: not stated.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max_voltage_v: Option<f64>,
    /// Shaft power it can give continuously, W.
    pub continuous_power_w: f64,
    /// Torque it can give continuously, N m. Absent: continuous power at base speed; of a hub motor at three quarters of its highest speed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub continuous_torque_nm: Option<f64>,
    /// How long the peak rating holds from cold, s. Absent: 60 s (common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub peak_s: Option<f64>,
    /// Torque per amp of motor current, N m/A; links the controller's motor amps to torque. Absent: motor amps are not checked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub torque_per_amp_nm_a: Option<f64>,
    /// Loss coefficients. Absent: fitted to the best efficiency and the no-load power.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub losses: Option<LossCoefficients>,
    /// Best efficiency stated, 0..1; taken where machines of the kind are best. Used when losses are absent. Absent: by kind.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub best_efficiency: Option<f64>,
    /// Power drawn unloaded at the highest speed, W. Absent: what is usual for its best efficiency.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub no_load_power_w: Option<f64>,
    /// Highest temperature of the winding, degC. Absent: 140 (insulation class F with a margin, common practice).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max_temperature_c: Option<f64>,
    /// Ratio of the reduction, with its differential, that is built into its housing. All other figures hold at the motor's own shaft; the
    /// mass counts both. Absent: a bare shaft.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub own_reduction: Option<f64>,
    /// Rotor inertia, kg m^2. Absent: the handbook rotating-mass factor is used.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rotor_inertia_kg_m2: Option<f64>,
    /// Mass, kg.
    pub mass_kg: f64,
    /// Price in the brief's currency.
    #[serde(default)]
    pub price: f64,
    /// Currency of the price, a code of ISO 4217. Absent: the brief's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// Provenance by key.
    #[serde(default, skip_serializing_if = "Sources::is_empty")]
    pub sources: Sources,
}

impl Motor {
    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        check_name(&self.name, path, problems);
        check_sources(&self.sources, path, (fields::MOTOR, &[]), problems);
        check_currency(self.currency.as_deref(), path, problems);
        let at = |key: &str| join(path, key);
        match &self.model {
            MotorModel::Envelope { peak_torque_nm, peak_power_w } => {
                if self.continuous_power_w > *peak_power_w {
                    problems.push(Problem::new(
                        at("continuous_power_w"),
                        self.continuous_power_w,
                        format!("it cannot exceed the peak power of {peak_power_w} W"),
                    ));
                }
                if self.continuous_torque_nm.is_some_and(|t| t > *peak_torque_nm) {
                    problems.push(Problem::new(
                        at("continuous_torque_nm"),
                        self.continuous_torque_nm.unwrap_or_default(),
                        format!("it cannot exceed the peak torque of {peak_torque_nm} N m"),
                    ));
                }
            }
            MotorModel::Points { points } => {
                if points.len() < 2 {
                    problems.push(Problem::new(
                        at("model.points"),
                        format!("{} points long", points.len()),
                        "at least 2 points are needed",
                    ));
                }
                for (i, pair) in points.windows(2).enumerate() {
                    if pair[1].speed_rpm <= pair[0].speed_rpm {
                        problems.push(Problem::new(
                            at(&format!("model.points[{}].speed_rpm", i + 1)),
                            pair[1].speed_rpm,
                            format!("speeds must rise; the point before it is at {} rpm", pair[0].speed_rpm),
                        ));
                    }
                    // Published curves are flat and then fall; a rise of more than a reading error is a slip of the pen.
                    if pair[1].torque_nm > pair[0].torque_nm * RISING_TORQUE {
                        problems.push(Problem::new(
                            at(&format!("model.points[{}].torque_nm", i + 1)),
                            pair[1].torque_nm,
                            format!("torque cannot rise with speed; the point before it has {} N m", pair[0].torque_nm),
                        ));
                    }
                }
            }
            MotorModel::Constants { torque_constant_nm_a, no_load_current_a, peak_current_a, .. } => {
                if no_load_current_a >= peak_current_a {
                    problems.push(Problem::new(
                        at("model.no_load_current_a"),
                        no_load_current_a,
                        format!("it must be below the peak current of {peak_current_a} A"),
                    ));
                }
                if self.kind == MotorKind::SeriesDc || self.kind == MotorKind::Induction {
                    problems.push(Problem::new(
                        at("model.torque_constant_nm_a"),
                        torque_constant_nm_a,
                        format!("constants describe motors with permanent magnets; this one is {}", self.kind.word()),
                    ));
                }
            }
            MotorModel::SeriesDc { saturated_constant_nm_a, .. } => {
                if self.kind != MotorKind::SeriesDc {
                    problems.push(Problem::new(
                        at("model.saturated_constant_nm_a"),
                        saturated_constant_nm_a,
                        format!("this model describes series DC motors; this one is {}", self.kind.word()),
                    ));
                }
            }
        }
    }
}

/// Growth of torque from one point of a curve to the next that still counts as a reading error.
const RISING_TORQUE: f64 = 1.02;
