//! Every uncertain input of a design: where it stands, how far it is trusted, and what would settle it.

use serde::Serialize;

use crate::document::{Document, Tyre};
use crate::library::MotorModel;
use crate::powertrain::TRANSFER_EFFICIENCY;
use crate::quantity::{Provenance, Source, Sources};
use crate::vehicle::radius_m;

/// A measurement people can make in a workshop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Measurement {
    /// Weigh the vehicle.
    Weigh,
    /// Coast it down in both directions.
    CoastDown,
    /// Roll it one wheel turn and measure the way.
    RollOut,
    /// Put the motor on the bench.
    BenchMotor,
    /// Log the controller's amps and volts.
    LogController,
    /// Discharge a module and note its amp-hours and its sag.
    TestCells,
    /// Meter the charger at the socket.
    MeterCharger,
    /// Meter what the 12 V side and the heater draw.
    MeterLoads,
    /// Note the first drives: how much braking comes back.
    LogDrive,
    /// Ask for written offers.
    AskPrices,
}

impl Measurement {
    /// Words for people.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Weigh => "weigh it",
            Self::CoastDown => "coast it down",
            Self::RollOut => "roll out one wheel turn",
            Self::BenchMotor => "bench the motor",
            Self::LogController => "log the controller",
            Self::TestCells => "test a module's capacity and sag",
            Self::MeterCharger => "meter the charger",
            Self::MeterLoads => "meter the 12 V side and the heater",
            Self::LogDrive => "log a first drive",
            Self::AskPrices => "get written offers",
        }
    }
}

/// How a spread acts on a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Shape {
    /// Either side alike.
    Value,
    /// What sellers overstate: from them the truth lies between 60 % and 100 %.
    Claim,
    /// A loss: half again as wide as the spread of a value.
    Loss,
}

/// One uncertain input.
pub(super) struct Lever {
    /// Path of the value in the document.
    pub(super) path: &'static str,
    pub(super) label: &'static str,
    pub(super) measurement: Measurement,
    pub(super) shape: Shape,
    /// Provenance of a value that states none.
    pub(super) usual: Provenance,
    /// Half-width of the usual provenance where it is not the general one.
    pub(super) usual_spread: Option<f64>,
    /// Record it stands in and its key there.
    pub(super) source: fn(&Document) -> Option<(&Sources, &'static str)>,
    /// Multiplies the value (or the loss).
    pub(super) apply: fn(&mut Document, f64),
}

fn lossy(efficiency: &mut f64, factor: f64) {
    *efficiency = (1.0 - (1.0 - *efficiency) * factor).clamp(0.05, 1.0);
}

macro_rules! lever {
    ($path:literal, $label:literal, $measurement:ident, $shape:ident, $usual:ident, $source:expr, $apply:expr) => {
        lever!($path, $label, $measurement, $shape, $usual, None, $source, $apply)
    };
    ($path:literal, $label:literal, $measurement:ident, $shape:ident, $usual:ident, $spread:expr, $source:expr, $apply:expr) => {
        Lever {
            path: $path,
            label: $label,
            measurement: Measurement::$measurement,
            shape: Shape::$shape,
            usual: Provenance::$usual,
            usual_spread: $spread,
            source: $source,
            apply: $apply,
        }
    };
}

fn motor<'a>(d: &'a Document, key: &'static str, present: fn(&MotorModel) -> bool) -> Option<(&'a Sources, &'static str)> {
    d.design.motor.as_ref().filter(|m| present(&m.model)).map(|m| (&m.sources, key))
}

/// All of them, in the order of the chain. The order is part of the sample: it fixes which dimension is whose.
pub(super) const LEVERS: &[Lever] = &[
    lever!(
        "donor.curb_mass_kg",
        "mass of the donor",
        Weigh,
        Value,
        Handbook,
        |d| d.donor.test_mass_kg.is_none().then_some((&d.donor.sources, "curb_mass_kg")),
        |d, f| d.donor.curb_mass_kg *= f
    ),
    lever!(
        "donor.test_mass_kg",
        "test mass",
        Weigh,
        Value,
        Handbook,
        |d| d.donor.test_mass_kg.map(|_| (&d.donor.sources, "test_mass_kg")),
        |d, f| d.donor.test_mass_kg = d.donor.test_mass_kg.map(|m| m * f)
    ),
    lever!(
        "design.added",
        "mass of boxes and fittings",
        Weigh,
        Value,
        Guess,
        |d| d.donor.test_mass_kg.is_none().then_some((&d.design.sources, "added")),
        |d, f| {
            d.design.added.iter_mut().for_each(|a| a.mass_kg *= f);
            if let Some(pack) = &mut d.design.pack {
                pack.box_mass_kg *= f;
            }
        }
    ),
    lever!(
        "donor.drag_coefficient",
        "drag coefficient",
        CoastDown,
        Value,
        Handbook,
        |d| Some((&d.donor.sources, "drag_coefficient")),
        |d, f| d.donor.drag_coefficient *= f
    ),
    lever!("donor.frontal_area_m2", "frontal area", CoastDown, Value, Handbook, |d| Some((&d.donor.sources, "frontal_area_m2")), |d, f| {
        d.donor.frontal_area_m2 *= f
    }),
    lever!(
        "donor.rolling_coefficient",
        "rolling resistance",
        CoastDown,
        Value,
        Handbook,
        |d| Some((&d.donor.sources, "rolling_coefficient")),
        |d, f| {
            d.donor.rolling_coefficient *= f;
            d.donor.rolling_coefficient_per_m_s *= f;
        }
    ),
    lever!("donor.tyre", "rolling radius", RollOut, Value, Datasheet, Some(0.02), |d| Some((&d.donor.sources, "tyre")), |d, f| d
        .donor
        .tyre =
        Tyre::RollingRadiusM(radius_m(d) * f)),
    lever!("donor.driveline", "losses of gears and stages", CoastDown, Loss, Guess, |d| Some((&d.donor.sources, "driveline")), |d, f| {
        let line = d.design.driveline.as_mut().unwrap_or(&mut d.donor.driveline);
        for gear in &mut line.gears {
            let mut e = gear.efficiency_or_usual();
            lossy(&mut e, f);
            gear.efficiency = Some(e);
        }
        for range in &mut line.ranges {
            let mut e = range.efficiency.unwrap_or(TRANSFER_EFFICIENCY);
            lossy(&mut e, f);
            range.efficiency = Some(e);
        }
        for stage in &mut line.stages {
            let mut e = stage.efficiency_or_usual();
            lossy(&mut e, f);
            stage.efficiency = Some(e);
        }
    }),
    lever!("donor.adhesion", "grip", LogDrive, Value, Handbook, |d| Some((&d.donor.sources, "adhesion")), |d, f| d.donor.adhesion *= f),
    lever!(
        "design.motor.model.peak_torque_nm",
        "peak torque of the motor",
        BenchMotor,
        Claim,
        Datasheet,
        |d| motor(d, "model.peak_torque_nm", |m| matches!(m, MotorModel::Envelope { .. })),
        |d, f| if let Some(MotorModel::Envelope { peak_torque_nm, .. }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            *peak_torque_nm *= f;
        }
    ),
    lever!(
        "design.motor.model.peak_power_w",
        "peak power of the motor",
        BenchMotor,
        Claim,
        Datasheet,
        |d| motor(d, "model.peak_power_w", |m| matches!(m, MotorModel::Envelope { .. })),
        |d, f| if let Some(MotorModel::Envelope { peak_power_w, .. }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            *peak_power_w *= f;
        }
    ),
    lever!(
        "design.motor.model.points",
        "torque curve of the motor",
        BenchMotor,
        Claim,
        Datasheet,
        |d| motor(d, "model.points", |m| matches!(m, MotorModel::Points { .. })),
        |d, f| if let Some(MotorModel::Points { points }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            points.iter_mut().for_each(|p| p.torque_nm *= f);
        }
    ),
    lever!(
        "design.motor.model.torque_constant_nm_a",
        "torque constant",
        BenchMotor,
        Value,
        Datasheet,
        |d| motor(d, "model.torque_constant_nm_a", |m| matches!(m, MotorModel::Constants { .. })),
        |d, f| if let Some(MotorModel::Constants { torque_constant_nm_a, .. }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            *torque_constant_nm_a *= f;
        }
    ),
    lever!(
        "design.motor.model.saturated_constant_nm_a",
        "flux constant",
        BenchMotor,
        Value,
        Datasheet,
        |d| motor(d, "model.saturated_constant_nm_a", |m| matches!(m, MotorModel::SeriesDc { .. })),
        |d, f| if let Some(MotorModel::SeriesDc { saturated_constant_nm_a, .. }) = d.design.motor.as_mut().map(|m| &mut m.model) {
            *saturated_constant_nm_a *= f;
        }
    ),
    lever!(
        "design.motor.model.resistance_ohm",
        "winding resistance",
        BenchMotor,
        Value,
        Datasheet,
        |d| motor(d, "model.resistance_ohm", |m| matches!(m, MotorModel::Constants { .. } | MotorModel::SeriesDc { .. })),
        |d, f| match d.design.motor.as_mut().map(|m| &mut m.model) {
            Some(MotorModel::Constants { resistance_ohm, .. } | MotorModel::SeriesDc { resistance_ohm, .. }) => *resistance_ohm *= f,
            _ => {}
        }
    ),
    lever!(
        "design.motor.continuous_power_w",
        "continuous power of the motor",
        BenchMotor,
        Claim,
        Datasheet,
        |d| motor(d, "continuous_power_w", |_| true),
        |d, f| if let Some(motor) = &mut d.design.motor {
            motor.continuous_power_w *= f;
            motor.continuous_torque_nm = motor.continuous_torque_nm.map(|t| t * f);
        }
    ),
    lever!(
        "design.motor.best_efficiency",
        "losses of the motor",
        BenchMotor,
        Loss,
        Handbook,
        |d| motor(d, "best_efficiency", |m| matches!(m, MotorModel::Envelope { .. } | MotorModel::Points { .. })),
        |d, f| if let Some(motor) = &mut d.design.motor {
            let mut losses = motor.loss_coefficients();
            losses.copper_w_per_nm2 *= f;
            losses.iron_w_per_rad_s *= f;
            losses.windage_w_per_rad3_s3 *= f;
            losses.constant_w *= f;
            motor.losses = Some(losses);
        }
    ),
    lever!(
        "design.controller.battery_current_a",
        "battery amps of the controller",
        LogController,
        Claim,
        Datasheet,
        |d| d.design.controller.as_ref().map(|c| (&c.sources, "battery_current_a")),
        |d, f| if let Some(c) = &mut d.design.controller {
            c.battery_current_a *= f;
            c.battery_current_continuous_a = c.battery_current_continuous_a.map(|a| a * f);
        }
    ),
    lever!(
        "design.controller.motor_current_a",
        "motor amps of the controller",
        LogController,
        Claim,
        Datasheet,
        |d| d.design.controller.as_ref().filter(|c| c.motor_current_a.is_some()).map(|c| (&c.sources, "motor_current_a")),
        |d, f| if let Some(c) = &mut d.design.controller {
            c.motor_current_a = c.motor_current_a.map(|a| a * f);
            c.motor_current_continuous_a = c.motor_current_continuous_a.map(|a| a * f);
        }
    ),
    lever!(
        "design.controller.efficiency",
        "losses of the controller",
        LogController,
        Loss,
        Handbook,
        |d| d.design.controller.as_ref().map(|c| (&c.sources, "efficiency")),
        |d, f| if let Some(c) = &mut d.design.controller {
            lossy(&mut c.efficiency, f);
        }
    ),
    lever!(
        "design.pack.module.capacity_ah",
        "capacity of the cells",
        TestCells,
        Claim,
        Datasheet,
        |d| d.design.pack.as_ref().map(|p| (&p.module.sources, "capacity_ah")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.capacity_ah *= f;
        }
    ),
    lever!(
        "design.pack.module.capacity_share",
        "health of the cells",
        TestCells,
        Claim,
        Handbook,
        |d| d.design.pack.as_ref().filter(|p| p.module.capacity_share < 1.0).map(|p| (&p.module.sources, "capacity_share")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.capacity_share = (p.module.capacity_share * f).min(1.0);
        }
    ),
    lever!(
        "design.pack.module.resistance_ohm",
        "resistance of the cells",
        TestCells,
        Value,
        Handbook,
        |d| d.design.pack.as_ref().map(|p| (&p.module.sources, "resistance_ohm")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.resistance_ohm *= f;
        }
    ),
    lever!(
        "design.pack.module.burst_c",
        "discharge rate of the cells, burst",
        TestCells,
        Claim,
        Datasheet,
        |d| d.design.pack.as_ref().map(|p| (&p.module.sources, "burst_c")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.burst_c *= f;
        }
    ),
    lever!(
        "design.pack.module.continuous_c",
        "discharge rate of the cells, for ever",
        TestCells,
        Claim,
        Datasheet,
        |d| d.design.pack.as_ref().map(|p| (&p.module.sources, "continuous_c")),
        |d, f| if let Some(p) = &mut d.design.pack {
            p.module.continuous_c *= f;
        }
    ),
    lever!(
        "design.wiring.resistance_ohm",
        "resistance of links and cable",
        TestCells,
        Value,
        Guess,
        |d| (d.design.wiring.resistance_ohm > 0.0).then_some((&d.design.sources, "wiring.resistance_ohm")),
        |d, f| d.design.wiring.resistance_ohm *= f
    ),
    lever!(
        "design.charger.output_power_w",
        "power of the charger",
        MeterCharger,
        Claim,
        Datasheet,
        |d| d.design.charger.as_ref().map(|c| (&c.sources, "output_power_w")),
        |d, f| if let Some(c) = &mut d.design.charger {
            c.output_power_w *= f;
            c.output_current_a *= f;
        }
    ),
    lever!(
        "design.charger.efficiency",
        "losses of the charger",
        MeterCharger,
        Loss,
        Datasheet,
        |d| d.design.charger.as_ref().map(|c| (&c.sources, "efficiency")),
        |d, f| if let Some(c) = &mut d.design.charger {
            lossy(&mut c.efficiency, f);
        }
    ),
    lever!(
        "design.regeneration.share",
        "share of braking by the motor",
        LogDrive,
        Value,
        Guess,
        |d| (d.design.regeneration.share_or_usual() > 0.0).then_some((&d.design.sources, "regeneration.share")),
        |d, f| d.design.regeneration.share = Some((d.design.regeneration.share_or_usual() * f).min(1.0))
    ),
    lever!(
        "design.low_voltage.load_w",
        "12 V load",
        MeterLoads,
        Value,
        Guess,
        |d| (d.design.low_voltage.load_w > 0.0).then_some((&d.design.sources, "low_voltage.load_w")),
        |d, f| d.design.low_voltage.load_w *= f
    ),
    lever!(
        "brief.trips.comfort_w",
        "heater and cooling",
        MeterLoads,
        Value,
        Guess,
        |d| d.brief.trips.iter().any(|t| t.comfort_w > 0.0).then_some((&d.brief.sources, "trips.comfort_w")),
        |d, f| d.brief.trips.iter_mut().for_each(|t| t.comfort_w *= f)
    ),
    lever!("design.prices", "prices", AskPrices, Value, Handbook, |d| Some((&d.design.sources, "prices")), |d, f| {
        let design = &mut d.design;
        design.added.iter_mut().for_each(|a| a.price *= f);
        if let Some(p) = &mut design.pack {
            p.module.price *= f;
            p.box_price *= f;
        }
        for price in [
            design.motor.as_mut().map(|m| &mut m.price),
            design.controller.as_mut().map(|c| &mut c.price),
            design.charger.as_mut().map(|c| &mut c.price),
        ]
        .into_iter()
        .flatten()
        {
            *price *= f;
        }
    }),
];

impl Lever {
    /// Provenance and half-width (or width below the claim) of this input in a document; `None` when it plays no part.
    pub(super) fn trust(&self, document: &Document) -> Option<Source> {
        let (sources, key) = (self.source)(document)?;
        let stated = sources.get(key).cloned();
        let from = stated.as_ref().map_or(self.usual, |s| s.from);
        let usual = if stated.is_none() { self.usual_spread } else { None };
        let percent = stated.and_then(|s| s.spread_percent).or(usual.map(|s| 100.0 * s));
        Some(Source { from, spread_percent: Some(percent.unwrap_or_else(|| 100.0 * self.usual_width(from))) })
    }

    fn usual_width(&self, from: Provenance) -> f64 {
        match (from, self.shape) {
            // A seller's word on what is not overstated is as good as a handbook's.
            (Provenance::Seller, Shape::Value | Shape::Loss) => Provenance::Handbook.default_spread(),
            _ => from.default_spread(),
        }
    }
}
