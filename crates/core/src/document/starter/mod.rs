//! A first document for a kind of vehicle, filled with handbook values and marked so.

mod answers;
mod typical;

pub use answers::Answers;
use typical::{Typical, typical};

use super::{
    Brief, Condition, Design, Document, Donor, Driveline, Evidence, FORMAT, Goal, GoalLevel, LowVoltage, Measure, RemovedItem, Season,
    Site, Socket, SocketKind, Stage, VERSION, VehicleKind,
};
use crate::quantity::{Provenance, Source, Sources};

/// Values of the donor that are the kind's, not the vehicle's.
const FROM_HANDBOOK: [&str; 11] = [
    "curb_mass_kg",
    "removed",
    "drag_coefficient",
    "frontal_area_m2",
    "rolling_coefficient",
    "front_axle_share",
    "wheelbase_m",
    "cg_height_m",
    "tyre",
    "driveline",
    "adhesion",
];

impl Document {
    /// A document without parts for a kind of vehicle: handbook donor, one trip, one socket and a first set of goals, all of them wishes
    /// until the owner says more; what the answers leave open is assumed.
    #[must_use]
    pub fn starter(name: &str, kind: VehicleKind, answers: &Answers) -> Self {
        let t = typical(kind);
        let handbook = |keys: &[&str]| {
            let source = Source { from: Provenance::Handbook, spread_percent: None };
            keys.iter().map(|k| ((*k).to_owned(), source.clone())).collect::<Sources>()
        };
        let mut brief = Brief {
            sockets: vec![home()],
            goals: vec![Goal {
                id: "charge".to_owned(),
                name: String::new(),
                level: GoalLevel::Wanted,
                weight: 1.0,
                assumed: true,
                measure: Measure::ChargeTime { socket: HOME.to_owned(), at_most_h: 9.0 },
            }],
            driver_kg: t.driver_kg,
            site: Site { temperature_c: t.air_c.0, ..Site::default() },
            winter: Season { temperature_c: t.air_c.1, hvac_w: t.heater_w, ..Brief::default().winter },
            ..Brief::default()
        };
        answers.put_into(kind, &mut brief);
        let low_voltage = LowVoltage { load_w: t.low_voltage_w, ..LowVoltage::default() };
        Self {
            format: FORMAT.to_owned(),
            version: VERSION,
            name: name.to_owned(),
            brief,
            donor: donor(name, kind, t, handbook(&FROM_HANDBOOK)),
            design: Design { low_voltage, sources: handbook(&["low_voltage.load_w"]), ..Design::default() },
        }
    }
}

const HOME: &str = "home";

/// A household circuit, of which four fifths may be drawn for hours.
fn home() -> Socket {
    Socket::plain(HOME, "Home socket", SocketKind::Ac, 230.0, 16.0)
}

fn donor(name: &str, kind: VehicleKind, t: Typical, sources: Sources) -> Donor {
    Donor {
        name: name.to_owned(),
        kind,
        notes: String::new(),
        curb_mass_kg: t.curb_kg,
        test_mass_kg: None,
        purchase_price: None,
        built: None,
        condition: Condition::default(),
        already_electric: Vec::new(),
        bays: Vec::new(),
        bolt_patterns: Vec::new(),
        underlays: crate::document::Underlays::default(),
        removed: vec![RemovedItem {
            name: "Engine, tank and exhaust".to_owned(),
            mass_kg: t.engine_kg,
            sale_price: 0.0,
            fate: crate::document::Fate::default(),
            sold_to: String::new(),
            at: crate::document::Placement::default(),
        }],
        gross_limit_kg: None,
        front_axle_limit_kg: None,
        rear_axle_limit_kg: None,
        front_axle_share: t.front_share,
        wheelbase_m: t.wheelbase_m,
        cg_height_m: t.cg_m,
        track_front_m: None,
        track_rear_m: None,
        overhang_front_m: None,
        overhang_rear_m: None,
        body_width_m: None,
        body_height_m: None,
        tyre_load_index: None,
        driven_axle: t.axle,
        adhesion: t.adhesion,
        drag_coefficient: t.drag,
        frontal_area_m2: t.area_m2,
        rolling_coefficient: t.rolling,
        rolling_coefficient_per_m_s: 0.0,
        undriven_axle_drag_n: 0.0,
        undriven_axle_free: false,
        evidence: Evidence::default(),
        tyre: t.tyre,
        rotating_mass_factor: None,
        driveline: Driveline {
            gears: t.gears,
            stages: vec![Stage { kind: t.stage.0, ratio: t.stage.1, efficiency: None }],
            ..Driveline::default()
        },
        sources,
    }
}
