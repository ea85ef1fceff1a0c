//! Doubts about the donor.

use super::{InputDefinition, Measurement, Shape, lossy};
use crate::document::Tyre;
use crate::powertrain::TRANSFER_EFFICIENCY;
use crate::quantity::Provenance;
use crate::vehicle::radius_m;

pub(super) const DEFINITIONS: &[InputDefinition] = &[
    input!(
        "donor.curb_mass_kg",
        "mass of the donor",
        Weigh,
        Value,
        Handbook,
        |d| d.donor.test_mass_kg.is_none().then_some((&d.donor.sources, "curb_mass_kg")),
        |d, f| {
            d.donor.curb_mass_kg *= f;
        }
    ),
    input!(
        "donor.test_mass_kg",
        "test mass",
        Weigh,
        Value,
        Handbook,
        |d| d.donor.test_mass_kg.map(|_| (&d.donor.sources, "test_mass_kg")),
        |d, f| {
            d.donor.test_mass_kg = d.donor.test_mass_kg.map(|m| m * f);
        }
    ),
    input!(
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
    input!(
        "donor.drag_coefficient",
        "drag coefficient",
        CoastDown,
        Value,
        Handbook,
        |d| Some((&d.donor.sources, "drag_coefficient")),
        |d, f| {
            d.donor.drag_coefficient *= f;
        }
    ),
    input!("donor.frontal_area_m2", "frontal area", CoastDown, Value, Handbook, |d| Some((&d.donor.sources, "frontal_area_m2")), |d, f| {
        d.donor.frontal_area_m2 *= f;
    }),
    input!(
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
    input!("donor.tyre", "rolling radius", RollOut, Value, Datasheet, Some(0.02), |d| Some((&d.donor.sources, "tyre")), |d, f| d
        .donor
        .tyre =
        Tyre::RollingRadiusM(radius_m(d) * f)),
    input!("donor.driveline", "losses of gears and stages", CoastDown, Loss, Guess, |d| Some((&d.donor.sources, "driveline")), |d, f| {
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
    input!("donor.adhesion", "grip", LogDrive, Value, Handbook, |d| Some((&d.donor.sources, "adhesion")), |d, f| d.donor.adhesion *= f),
];
