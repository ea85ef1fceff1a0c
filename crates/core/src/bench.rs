//! An unknown motor on the bench: from volts, amps and revolutions to its constants, each with its band.

use nalgebra::{DMatrix, DVector};
use serde::{Deserialize, Serialize};
use statrs::distribution::{ContinuousCDF, StudentsT};

use crate::error::{Error, Problem, Problems, Result};
use crate::library::{Motor, MotorKind, MotorModel};
use crate::quantity::units::RAD_S_PER_RPM;
use crate::quantity::{Provenance, Source, check_numbers, fields};

/// Readings of one motor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct BenchSheet {
    /// Name of the part to be made.
    pub name: String,
    /// Kind of motor: one with permanent magnets.
    pub kind: MotorKind,
    /// Turning without load at some voltages; at least two.
    pub no_load: Vec<NoLoadReading>,
    /// Held still at low voltage; at least one. For a moment only: the winding takes all of the power.
    pub locked: Vec<LockedReading>,
    /// Highest speed allowed, rpm.
    pub max_speed_rpm: f64,
    /// Greatest motor current at peak, A.
    pub peak_current_a: f64,
    /// Continuous power, W; read from its size and cooling.
    pub continuous_power_w: f64,
    /// Mass, kg.
    pub mass_kg: f64,
    /// Voltage it is meant for, V. Absent: the highest of the readings.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reference_voltage_v: Option<f64>,
}

/// One reading without load.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct NoLoadReading {
    /// V.
    pub volts_v: f64,
    /// A.
    pub amps_a: f64,
    /// rpm.
    pub speed_rpm: f64,
}

/// One reading with the shaft held.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct LockedReading {
    /// V.
    pub volts_v: f64,
    /// A.
    pub amps_a: f64,
}

/// A fitted figure with its band.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fitted {
    /// Value.
    pub value: f64,
    /// Half-width that holds about 80 %.
    pub half_width: f64,
}

/// Constants of a motor from its readings.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BenchResult {
    /// Kt = Ke, N m/A.
    pub torque_constant_nm_a: Fitted,
    /// Winding resistance, ohm.
    pub resistance_ohm: Fitted,
    /// No-load current, A.
    pub no_load_current_a: Fitted,
    /// Speed a volt without load, rpm/V.
    pub rpm_per_volt: f64,
    /// Measured less fitted volts of each reading: no-load ones first, then locked ones, V.
    pub residuals_v: Vec<f64>,
    /// The library part.
    pub motor: Motor,
}

/// Half-width, as a share, that two readings alone are trusted to: instruments, not scatter, decide then.
const LEAST_SPREAD: f64 = 0.01;
/// Residual, as a share of the volts read, beyond which a reading is refused as a slip.
const WILD_SHARE: f64 = 0.10;

/// Constants of a motor with permanent magnets: `V = Ke w + I R` over all readings by least squares, the no-load current their mean.
///
/// Bands come from the scatter of the readings about the fit (Student's t with the degrees of freedom left, 80 %).
///
/// # Errors
/// Names the reading that does not belong, or that makes the resistance negative.
///
/// # Source
/// Ordinary least squares and the covariance of its coefficients: Draper and Smith, Applied Regression Analysis, 3rd ed., chapter 5
/// (from memory).
pub fn characterise(sheet: &BenchSheet) -> Result<BenchResult> {
    check(sheet)?;
    let rows: Vec<(f64, f64, f64, String)> = sheet
        .no_load
        .iter()
        .enumerate()
        .map(|(i, r)| (r.speed_rpm * RAD_S_PER_RPM, r.amps_a, r.volts_v, format!("no_load[{i}].volts_v")))
        .chain(sheet.locked.iter().enumerate().map(|(i, r)| (0.0, r.amps_a, r.volts_v, format!("locked[{i}].volts_v"))))
        .collect();
    let n = rows.len();
    let a = DMatrix::from_fn(n, 2, |r, c| if c == 0 { rows[r].0 } else { rows[r].1 });
    let b = DVector::from_iterator(n, rows.iter().map(|r| r.2));
    let normal = a.transpose() * &a;
    let inverse = normal.try_inverse().ok_or_else(|| {
        Error::field("no_load", "readings at one speed", "readings at two or more voltages, far enough apart, are needed")
    })?;
    let solution = &inverse * a.transpose() * &b;
    let residuals = &b - &a * &solution;
    let (constant, resistance) = (solution[0], solution[1]);
    let worst = (0..n).max_by(|i, j| (residuals[*i] / rows[*i].2).abs().total_cmp(&(residuals[*j] / rows[*j].2).abs())).unwrap_or(0);
    if resistance <= 0.0 || constant <= 0.0 {
        return Err(Error::Invalid(vec![Problem {
            path: rows[worst].3.clone(),
            given: rows[worst].2.to_string(),
            accepted: "volts, amps and rpm of the same instant".to_owned(),
            message: format!(
                "the readings give a resistance of {resistance:.4} ohm and a constant of {constant:.4} V s/rad, which no motor has; {} = {} V fits the others worst",
                rows[worst].3, rows[worst].2
            ),
        }]));
    }
    if (residuals[worst] / rows[worst].2).abs() > WILD_SHARE {
        return Err(Error::field(
            rows[worst].3.clone(),
            format!("{} V", rows[worst].2),
            format!("the other readings make it {:.2} V; read it again or leave it out", rows[worst].2 - residuals[worst]),
        ));
    }
    let freedom = (n - 2) as f64;
    let variance = residuals.norm_squared() / freedom;
    let t = StudentsT::new(0.0, 1.0, freedom).map_or(1.281_551_565_544_6, |d| d.inverse_cdf(0.9));
    let fitted = |value: f64, own: f64| Fitted { value, half_width: (t * (variance * own).sqrt()).max(LEAST_SPREAD * value) };
    let torque_constant_nm_a = fitted(constant, inverse[(0, 0)]);
    let resistance_ohm = fitted(resistance, inverse[(1, 1)]);
    let no_load_current_a = mean(&sheet.no_load.iter().map(|r| r.amps_a).collect::<Vec<_>>());
    let reference_v = sheet.reference_voltage_v.unwrap_or_else(|| sheet.no_load.iter().map(|r| r.volts_v).fold(0.0, f64::max));
    let mut motor = Motor {
        name: sheet.name.clone(),
        kind: sheet.kind,
        notes: format!("From {} readings without load and {} with the shaft held.", sheet.no_load.len(), sheet.locked.len()),
        model: MotorModel::Constants {
            torque_constant_nm_a: constant,
            resistance_ohm: resistance,
            no_load_current_a: no_load_current_a.value,
            peak_current_a: sheet.peak_current_a,
            field_weakening: 1.0,
        },
        reference_voltage_v: Some(reference_v),
        max_speed_rpm: sheet.max_speed_rpm,
        max_voltage_v: None,
        continuous_power_w: sheet.continuous_power_w,
        continuous_torque_nm: None,
        peak_s: None,
        torque_per_amp_nm_a: None,
        losses: None,
        best_efficiency: None,
        no_load_power_w: None,
        max_temperature_c: None,
        own_reduction: None,
        rotor_inertia_kg_m2: None,
        mass_kg: sheet.mass_kg,
        price: 0.0,
        currency: None,
        sources: crate::quantity::Sources::new(),
    };
    for (key, f) in [
        ("model.torque_constant_nm_a", torque_constant_nm_a),
        ("model.resistance_ohm", resistance_ohm),
        ("model.no_load_current_a", no_load_current_a),
    ] {
        // A band wider than a draw can take is still no more than "very doubtful".
        let percent = (100.0 * f.half_width / f.value).min(crate::quantity::WIDEST_SPREAD_PERCENT);
        motor.sources.insert(key.to_owned(), Source { from: Provenance::Measured, spread_percent: Some((percent * 10.0).round() / 10.0) });
    }
    let mut problems = Problems::new();
    motor.check("motor", &mut problems);
    if !problems.is_empty() {
        return Err(problems.into_error());
    }
    Ok(BenchResult {
        rpm_per_volt: 1.0 / (constant * RAD_S_PER_RPM),
        torque_constant_nm_a,
        resistance_ohm,
        no_load_current_a,
        residuals_v: residuals.iter().copied().collect(),
        motor,
    })
}

/// Mean with the band of a mean.
fn mean(values: &[f64]) -> Fitted {
    let n = values.len() as f64;
    let value = values.iter().sum::<f64>() / n;
    let variance = values.iter().map(|v| (v - value).powi(2)).sum::<f64>() / (n - 1.0).max(1.0);
    let t = StudentsT::new(0.0, 1.0, (n - 1.0).max(1.0)).map_or(1.281_551_565_544_6, |d| d.inverse_cdf(0.9));
    Fitted { value, half_width: (t * (variance / n).sqrt()).max(LEAST_SPREAD * value) }
}

fn check(sheet: &BenchSheet) -> Result<()> {
    let value = serde_json::to_value(sheet).map_err(|e| Error::Unreadable(e.to_string()))?;
    let mut problems = Problems::new();
    check_numbers(&value, "", fields::BENCH_SHEET, &mut problems);
    crate::quantity::check_name(&sheet.name, "", &mut problems);
    if sheet.no_load.len() < 2 {
        problems.push(Problem::new("no_load", format!("{} readings", sheet.no_load.len()), "at least 2 at different voltages are needed"));
    }
    if sheet.locked.is_empty() {
        problems.push(Problem::new("locked", "no reading", "at least 1 with the shaft held is needed; it gives the resistance"));
    }
    if !matches!(sheet.kind, MotorKind::BrushedPm | MotorKind::Hub | MotorKind::PmSynchronous) {
        problems.push(Problem::new("kind", sheet.kind.word(), "this bench sheet serves motors with permanent magnets"));
    }
    problems.or(())
}
