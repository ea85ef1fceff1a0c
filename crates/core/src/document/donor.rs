//! The vehicle as it stands before conversion.

use serde::{Deserialize, Serialize};

use super::{AlreadyElectric, Bay, BoltPattern, Condition, Driveline, Evidence, Fate, RemovedItem, StageKind, Underlays, tyre};
use crate::error::{Problem, Problems};
use crate::quantity::{Sources, check_name, check_sources, fields, join};

/// Kind of vehicle; chooses handbook values for what is not known.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum VehicleKind {
    /// Passenger car.
    Car,
    /// Light van.
    Van,
    /// Off-road vehicle with a transfer box.
    OffRoad,
    /// Motorcycle.
    Motorcycle,
    /// Three-wheeler.
    Trike,
    /// Kart.
    Kart,
    /// Quad.
    Quad,
    /// Tracked sled on snow.
    Sled,
    /// Tractor, tug or other utility machine.
    Utility,
}

impl VehicleKind {
    /// All of them.
    pub const ALL: [Self; 9] =
        [Self::Car, Self::Van, Self::OffRoad, Self::Motorcycle, Self::Trike, Self::Kart, Self::Quad, Self::Sled, Self::Utility];

    /// Whether people sit inside, behind glass.
    #[must_use]
    pub fn is_closed(self) -> bool {
        matches!(self, Self::Car | Self::Van | Self::OffRoad)
    }
}

/// The vehicle as it stands.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Donor {
    /// Name shown.
    pub name: String,
    /// Kind of vehicle.
    pub kind: VehicleKind,
    /// Remarks.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub notes: String,
    /// What was paid for it. Absent: not known, or it was there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub purchase_price: Option<f64>,
    /// Year it was built. Absent: not known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub built: Option<u32>,
    /// State it is in, as graded by whoever looked.
    #[serde(default, skip_serializing_if = "Condition::is_unsaid")]
    pub condition: Condition,
    /// What of it works without its engine.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub already_electric: Vec<AlreadyElectric>,
    /// Kerb mass, empty, fluids in, nobody aboard, kg.
    pub curb_mass_kg: f64,
    /// Test mass that replaces curb - removed + added + driver + payload, kg. Absent: that sum.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub test_mass_kg: Option<f64>,
    /// Items taken out.
    #[serde(default)]
    pub removed: Vec<RemovedItem>,
    /// Room for boxes of the pack.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub bays: Vec<Bay>,
    /// Bolt holes that boxes and brackets can use.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub bolt_patterns: Vec<BoltPattern>,
    /// Photographs under the drawing of the layout.
    #[serde(default, skip_serializing_if = "Underlays::is_unsaid")]
    pub underlays: Underlays,
    /// Rated gross mass, kg. Absent: not checked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub gross_limit_kg: Option<f64>,
    /// Rated mass on the front axle, kg. Absent: not checked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub front_axle_limit_kg: Option<f64>,
    /// Rated mass on the rear axle, kg. Absent: not checked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rear_axle_limit_kg: Option<f64>,
    /// Share of the mass on the front axle, 0..1.
    #[serde(default = "half")]
    pub front_axle_share: f64,
    /// Distance between the axles, m.
    #[serde(default = "wheelbase_m")]
    pub wheelbase_m: f64,
    /// Height of the centre of gravity, m.
    #[serde(default = "cg_height_m")]
    pub cg_height_m: f64,
    /// Distance between the middles of the front wheels, m; 0: a single wheel. Absent: usual for the kind of vehicle.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub track_front_m: Option<f64>,
    /// The same of the rear wheels, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub track_rear_m: Option<f64>,
    /// Body ahead of the front axle, m. Absent: usual for the kind of vehicle.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub overhang_front_m: Option<f64>,
    /// Body behind the rear axle, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub overhang_rear_m: Option<f64>,
    /// Width of the body, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub body_width_m: Option<f64>,
    /// Height of the body above the ground, m.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub body_height_m: Option<f64>,
    /// Load index moulded on the tyres. Absent: that of the tyre code, else not checked.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tyre_load_index: Option<u32>,
    /// Axle that drives.
    pub driven_axle: DrivenAxle,
    /// Peak coefficient of adhesion between tyre and road.
    #[serde(default = "adhesion")]
    pub adhesion: f64,
    /// Drag coefficient.
    pub drag_coefficient: f64,
    /// Frontal area, m2.
    pub frontal_area_m2: f64,
    /// Rolling resistance coefficient at walking pace.
    pub rolling_coefficient: f64,
    /// Growth of the rolling resistance coefficient with speed, s/m.
    #[serde(default)]
    pub rolling_coefficient_per_m_s: f64,
    /// Drag of an axle, half-shafts and differential that turn along without driving, N at the wheels.
    #[serde(default)]
    pub undriven_axle_drag_n: f64,
    /// Whether free-wheeling hubs or a removed shaft let that axle stand still.
    #[serde(default)]
    pub undriven_axle_free: bool,
    /// What was measured of the road load.
    #[serde(default, skip_serializing_if = "Evidence::is_empty")]
    pub evidence: Evidence,
    /// Tyre of the driven axle.
    pub tyre: Tyre,
    /// Rotating-mass factor k in F = m k a. Absent: from inertias or the handbook.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rotating_mass_factor: Option<f64>,
    /// Gearbox and final drive as they stand.
    pub driveline: Driveline,
    /// Provenance by key.
    #[serde(default, skip_serializing_if = "Sources::is_empty")]
    pub sources: Sources,
}

fn half() -> f64 {
    0.5
}
fn wheelbase_m() -> f64 {
    2.4
}
fn cg_height_m() -> f64 {
    0.55
}
fn adhesion() -> f64 {
    0.8
}

/// Axle that drives.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DrivenAxle {
    /// Front wheels.
    Front,
    /// Rear wheels.
    Rear,
    /// All wheels.
    All,
}

/// Tyre size, by code or by radius.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Tyre {
    /// Size as moulded on the side: `175/70 R13`, `31x10.50 R15`, `3.50-10`.
    Code(String),
    /// Rolling radius (circumference / 2 pi), m.
    RollingRadiusM(f64),
}

impl Donor {
    /// What its parts of one fate sold for, or are hoped to.
    #[must_use]
    pub(crate) fn sales(&self, fate: Fate) -> f64 {
        self.removed.iter().filter(|r| r.fate == fate).map(|r| r.sale_price).sum()
    }

    /// Bought for, less what its parts sold for; none where nobody said what was paid for it.
    #[must_use]
    pub(crate) fn net_price(&self) -> Option<f64> {
        self.purchase_price.map(|paid| paid - self.sales(Fate::Sold))
    }

    /// Whether half-shafts lead to its driven wheels, so that a unit with its own reduction and differential can sit between them: cars,
    /// vans and off-road vehicles, unless a chain or belt drives them.
    #[must_use]
    pub(crate) fn takes_drive_units(&self) -> bool {
        self.kind.is_closed() && !self.driveline.stages.iter().any(|s| matches!(s.kind, StageKind::Chain | StageKind::Belt))
    }

    pub(crate) fn check(&self, path: &str, problems: &mut Problems) {
        check_name(&self.name, path, problems);
        check_sources(&self.sources, path, (fields::DONOR, &[]), problems);
        let at = |key: &str| join(path, key);
        if let Tyre::Code(code) = &self.tyre
            && let Err(accepted) = tyre::rolling_radius_m(code)
        {
            problems.push(Problem::new(at("tyre.code"), format!("\"{code}\""), accepted));
        }
        for (key, under) in [("side", &self.underlays.side), ("plan", &self.underlays.plan)] {
            if let Some(under) = under {
                under.check(&at(&format!("underlays.{key}")), problems);
            }
        }
        for (i, bay) in self.bays.iter().enumerate() {
            bay.check(&at(&format!("bays[{i}]")), problems);
        }
        if let Some(network) = &self.evidence.network {
            network.check(&at("evidence.network"), problems);
        }
        for (i, passes) in self.evidence.passes.iter().enumerate() {
            passes.check(&at(&format!("evidence.passes[{i}]")), problems);
        }
        let removed: f64 = self.removed.iter().map(|r| r.mass_kg).sum();
        if removed >= self.curb_mass_kg {
            problems.push(Problem::new(
                at("removed"),
                format!("{removed} kg in all"),
                format!("it must be less than the kerb mass, {} kg", self.curb_mass_kg),
            ));
        }
        if let Some(limit) = self.gross_limit_kg
            && limit < self.curb_mass_kg
        {
            problems.push(Problem::new(at("gross_limit_kg"), limit, format!("it cannot be below the kerb mass, {} kg", self.curb_mass_kg)));
        }
    }
}
