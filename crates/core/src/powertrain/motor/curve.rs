//! Torque a motor can give against speed and bus voltage, by the four kinds of record.

use super::constants::{PermanentMagnet, SeriesWound};
use super::inside::Inside;
use crate::library::{Motor, MotorModel};
use crate::quantity::units::RAD_S_PER_RPM;

/// Torque of `count` equal motors together, N m.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Curve {
    Envelope { torque_nm: f64, power_w: f64 },
    Points(CurvePoints),
    Constants(PermanentMagnet),
    Series(SeriesWound),
}

/// Points of a curve, straight in between.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct CurvePoints {
    speed_rad_s: Vec<f64>,
    torque_nm: Vec<f64>,
    slope: Vec<f64>,
    rises: bool,
    /// Torque and power that lie within the curve at every speed up to its last, N m and W.
    within: (f64, f64),
}

impl CurvePoints {
    fn of(points: impl Iterator<Item = (f64, f64)>) -> Self {
        let (speed_rad_s, torque_nm): (Vec<f64>, Vec<f64>) = points.unzip();
        let slope: Vec<f64> =
            (1..speed_rad_s.len()).map(|i| (torque_nm[i] - torque_nm[i - 1]) / (speed_rad_s[i] - speed_rad_s[i - 1])).collect();
        let rises = slope.iter().any(|s| *s > 0.0);
        // Constant torque up to a point and constant power from there on, convex, lie below the chords between points they lie below.
        let least = |values: &mut dyn Iterator<Item = f64>| values.fold(f64::INFINITY, f64::min);
        let powers: Vec<f64> = speed_rad_s.iter().zip(&torque_nm).map(|(w, t)| w * t).collect();
        let corner_at = |i: usize| {
            let torque = least(&mut torque_nm[..=i].iter().copied());
            (torque, least(&mut powers[i..].iter().copied()).min(torque * speed_rad_s[i]))
        };
        let within = (0..powers.len()).map(corner_at).max_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or_default();
        Self { speed_rad_s, torque_nm, slope, rises, within }
    }

    fn torque_nm(&self, speed_rad_s: f64) -> f64 {
        self.torque_and_slope(speed_rad_s).0
    }

    /// Highest speed up to which it gives a torque, rad/s, 0 where it does at none; `None` where it rises somewhere.
    fn fastest_rad_s(&self, torque_nm: f64) -> Option<f64> {
        if self.rises {
            return None;
        }
        let Some(i) = self.torque_nm.iter().rposition(|t| *t >= torque_nm) else { return Some(0.0) };
        let beyond = self.slope.get(i).map_or(0.0, |slope| (torque_nm - self.torque_nm[i]) / slope);
        Some(self.speed_rad_s[i] + beyond)
    }

    /// Torque at a speed, and its growth with it.
    #[inline]
    fn torque_and_slope(&self, speed_rad_s: f64) -> (f64, f64) {
        let last = self.slope.len() - 1;
        if speed_rad_s > self.speed_rad_s[last + 1] {
            return (0.0, 0.0);
        }
        let mut i = 0;
        while i < last && speed_rad_s > self.speed_rad_s[i + 1] {
            i += 1;
        }
        let beyond = speed_rad_s - self.speed_rad_s[i];
        (self.torque_nm[i] + beyond.max(0.0) * self.slope[i], if beyond > 0.0 { self.slope[i] } else { 0.0 })
    }
}

impl Curve {
    pub(super) fn of(motor: &Motor, motors: f64) -> Self {
        match &motor.model {
            MotorModel::Envelope { peak_torque_nm, peak_power_w } => {
                Self::Envelope { torque_nm: motors * peak_torque_nm, power_w: motors * peak_power_w }
            }
            MotorModel::Points { points } => {
                Self::Points(CurvePoints::of(points.iter().map(|p| (p.speed_rpm * RAD_S_PER_RPM, motors * p.torque_nm))))
            }
            MotorModel::Constants { torque_constant_nm_a, resistance_ohm, no_load_current_a, peak_current_a, field_weakening } => {
                Self::Constants(PermanentMagnet {
                    motors,
                    constant: *torque_constant_nm_a,
                    resistance_ohm: *resistance_ohm,
                    no_load_a: *no_load_current_a,
                    peak_a: *peak_current_a,
                    weakening: *field_weakening,
                })
            }
            MotorModel::SeriesDc {
                saturated_constant_nm_a,
                saturation_current_a,
                resistance_ohm,
                brush_drop_v,
                drag_torque_nm,
                peak_current_a,
            } => Self::Series(SeriesWound {
                motors,
                saturated: *saturated_constant_nm_a,
                half_a: *saturation_current_a,
                resistance_ohm: *resistance_ohm,
                brush_v: *brush_drop_v,
                drag_nm: *drag_torque_nm,
                peak_a: *peak_current_a,
            }),
        }
    }

    /// Whether the curve is in volts itself, so that it needs no reference voltage to move with the bus.
    pub(super) fn is_in_volts(&self) -> bool {
        matches!(self, Self::Constants(_) | Self::Series(_))
    }

    /// Whether it gives more anywhere at a higher speed, and so less at a higher voltage.
    #[inline]
    pub(super) fn rises(&self) -> bool {
        matches!(self, Self::Points(points) if points.rises)
    }

    /// Greatest torque at a speed, N m; `bus_v` is the sagged bus and `reference_v` what the record's curve holds at.
    #[inline]
    pub(super) fn torque_nm(&self, speed_rad_s: f64, bus_v: f64, reference_v: Option<f64>) -> f64 {
        match self {
            Self::Envelope { torque_nm, power_w } => {
                let power_w = power_w * reference_v.map_or(1.0, |v| bus_v / v);
                if speed_rad_s * torque_nm <= power_w { *torque_nm } else { power_w / speed_rad_s }
            }
            Self::Points(points) => points.torque_nm(speed_rad_s / reference_v.map_or(1.0, |v| bus_v / v).max(1e-9)),
            Self::Constants(m) => m.torque_nm(speed_rad_s, bus_v),
            Self::Series(m) => m.torque_nm(speed_rad_s, bus_v),
        }
    }

    /// As [`Self::torque_nm`], and how much it grows with the voltage, N m/V.
    #[inline]
    pub(super) fn torque_and_gain(&self, speed_rad_s: f64, bus_v: f64, reference_v: Option<f64>) -> (f64, f64) {
        match self {
            Self::Envelope { torque_nm, power_w } => {
                let power_w = power_w * reference_v.map_or(1.0, |v| bus_v / v);
                if speed_rad_s * torque_nm <= power_w {
                    (*torque_nm, 0.0)
                } else {
                    let held_nm = power_w / speed_rad_s;
                    (held_nm, if reference_v.is_some() { held_nm / bus_v } else { 0.0 })
                }
            }
            Self::Points(points) => {
                let scaled = speed_rad_s / reference_v.map_or(1.0, |v| bus_v / v).max(1e-9);
                let (torque_nm, slope) = points.torque_and_slope(scaled);
                (torque_nm, if reference_v.is_some() { -slope * scaled / bus_v } else { 0.0 })
            }
            Self::Constants(m) => m.torque_and_gain(speed_rad_s, bus_v),
            Self::Series(m) => m.torque_and_gain(speed_rad_s, bus_v),
        }
    }

    /// Bus voltage from which on it gives a torque at a speed, V: 0 where it does at any, infinite where at none; of points that nowhere rise.
    #[inline]
    pub(super) fn gives_from_v(&self, torque_nm: f64, speed_rad_s: f64, reference_v: Option<f64>) -> Option<f64> {
        let Self::Points(points) = self else { return None };
        let most_rad_s = points.fastest_rad_s(torque_nm)?;
        Some(match reference_v {
            Some(v) if most_rad_s > 0.0 => speed_rad_s * v / most_rad_s,
            None if speed_rad_s <= most_rad_s => 0.0,
            _ => f64::INFINITY,
        })
    }

    /// Whether nothing but what [`Inside`] tells lies within it.
    #[inline]
    pub(super) fn is_told_by_inside(&self) -> bool {
        matches!(self, Self::Envelope { .. })
    }

    /// Whether [`Inside::holds_from_v`] comes close to what it gives.
    #[inline]
    pub(super) fn is_near_inside(&self) -> bool {
        matches!(self, Self::Envelope { .. } | Self::Constants(_))
    }

    /// Torques, powers and speeds that surely lie within it, at any voltage.
    pub(super) fn inside(&self, reference_v: Option<f64>, max_speed_rad_s: f64) -> Inside {
        let all = Inside {
            torque_nm: f64::NEG_INFINITY,
            power_w: f64::INFINITY,
            speed: f64::INFINITY,
            offset_v: 0.0,
            per_nm_v: 0.0,
            per_reference: reference_v.unwrap_or(1.0),
            moves: if reference_v.is_some() { 1.0 } else { 0.0 },
            max_speed_rad_s,
        };
        match self {
            Self::Envelope { torque_nm, power_w } => Inside { torque_nm: *torque_nm, power_w: *power_w, ..all },
            Self::Points(CurvePoints { within: (torque_nm, power_w), speed_rad_s, .. }) => {
                Inside { torque_nm: *torque_nm, power_w: *power_w, speed: speed_rad_s[speed_rad_s.len() - 1], ..all }
            }
            // As far as the bus drives the current without weakening the field, which only adds to the torque; a hair less, as that is told
            // here by other operations.
            Self::Constants(m) => Inside {
                torque_nm: self.greatest_nm() * (1.0 - 1e-9),
                speed: 1.0 - 1e-9,
                offset_v: m.no_load_a * m.resistance_ohm,
                per_nm_v: m.resistance_ohm / (m.motors * m.constant),
                per_reference: m.constant,
                moves: 1.0,
                ..all
            },
            Self::Series(_) => all,
        }
    }

    /// Greatest torque at any speed, N m.
    pub(super) fn greatest_nm(&self) -> f64 {
        match self {
            Self::Envelope { torque_nm, .. } => *torque_nm,
            Self::Points(points) => points.torque_nm.iter().copied().fold(0.0, f64::max),
            Self::Constants(m) => m.motors * m.constant * (m.peak_a - m.no_load_a).max(0.0),
            Self::Series(m) => m.motors * (m.gross_nm(m.peak_a) - m.drag_nm).max(0.0),
        }
    }

    /// Torque of all motors together when each carries `amps`, N m; `None` where the record does not say.
    pub(super) fn torque_at_amps_nm(&self, amps: f64) -> Option<f64> {
        match self {
            Self::Envelope { .. } | Self::Points(_) => None,
            Self::Constants(m) => Some(m.motors * m.constant * (amps - m.no_load_a).max(0.0)),
            Self::Series(m) => Some(m.motors * (m.gross_nm(amps) - m.drag_nm).max(0.0)),
        }
    }

    /// Keeps each motor's current at or below `amps`.
    pub(super) fn limit_amps(&mut self, amps: f64) {
        match self {
            Self::Constants(m) => m.peak_a = m.peak_a.min(amps),
            Self::Series(m) => m.peak_a = m.peak_a.min(amps),
            Self::Envelope { .. } | Self::Points(_) => {}
        }
    }

    /// Speed at which the curve leaves its greatest torque at the reference voltage, rad/s; for points, where power is greatest.
    pub(super) fn base_speed_rad_s(&self, reference_v: Option<f64>, max_speed_rad_s: f64) -> f64 {
        match self {
            Self::Envelope { torque_nm, power_w } => power_w / torque_nm,
            Self::Points(CurvePoints { speed_rad_s, torque_nm, .. }) => {
                speed_rad_s.iter().zip(torque_nm).max_by(|a, b| (a.0 * a.1).total_cmp(&(b.0 * b.1))).map_or(0.0, |best| *best.0)
            }
            Self::Constants(m) => reference_v.map_or(max_speed_rad_s, |v| ((v - m.peak_a * m.resistance_ohm) / m.constant).max(0.0)),
            Self::Series(m) => reference_v.map_or(max_speed_rad_s, |v| {
                let flux = m.saturated * m.peak_a / (m.peak_a + m.half_a);
                ((v - m.brush_v - m.peak_a * m.resistance_ohm) / flux).max(0.0)
            }),
        }
        .min(max_speed_rad_s)
    }

    /// Torque that gives `power_w` at the reference voltage at the highest speed that can, N m: the rated point of a motor
    /// whose record states only its continuous power.
    pub(super) fn torque_for_rated_power_nm(&self, power_w: f64, reference_v: Option<f64>, max_speed_rad_s: f64) -> f64 {
        let base = self.base_speed_rad_s(reference_v, max_speed_rad_s).max(1.0);
        let (Some(volts), true) = (reference_v, self.is_in_volts()) else { return power_w / base };
        // Torque falls and speed rises along the curve at full volts, so power has one maximum; the rated point is the one
        // on its fast side. Walk down from the highest speed.
        const STEPS: u32 = 400;
        for i in 0..STEPS {
            let speed = max_speed_rad_s * (1.0 - f64::from(i) / f64::from(STEPS));
            let torque = self.torque_nm(speed, volts, None);
            if torque * speed >= power_w {
                return power_w / speed;
            }
        }
        power_w / base
    }
}
