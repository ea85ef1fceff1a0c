//! A first document for a kind of vehicle, filled with handbook values and marked so.

use super::{
    Brief, Design, Document, Donor, Driveline, DrivenAxle, Evidence, FORMAT, Gear, Goal, GoalLevel, Measure, Season, Site, Socket,
    SocketKind, Stage, StageKind, TravelSegment, Trip, TripPath, Tyre, VERSION, VehicleKind,
};
use crate::quantity::{Provenance, Source, Sources};

/// Typical figures of a kind of vehicle (handbook ranges, from memory; middle of each).
struct Typical {
    mass_kg: f64,
    drag: f64,
    area_m2: f64,
    rolling: f64,
    tyre: &'static str,
    axle: DrivenAxle,
    front_share: f64,
    wheelbase_m: f64,
    cg_m: f64,
    gears: &'static [f64],
    stage: (StageKind, f64),
    trip_kmh: f64,
}

fn typical(kind: VehicleKind) -> Typical {
    use DrivenAxle::{All, Front, Rear};
    use StageKind::{Chain, FinalDrive};
    let five = &[3.6, 2.0, 1.35, 1.0, 0.8];
    let t = |mass_kg, drag, area_m2, rolling, tyre, axle, front_share, wheelbase_m, cg_m, gears, stage, trip_kmh| Typical {
        mass_kg,
        drag,
        area_m2,
        rolling,
        tyre,
        axle,
        front_share,
        wheelbase_m,
        cg_m,
        gears,
        stage,
        trip_kmh,
    };
    match kind {
        VehicleKind::Car => t(950.0, 0.36, 1.9, 0.012, "165/70 R13", Front, 0.6, 2.4, 0.52, five, (FinalDrive, 4.0), 60.0),
        VehicleKind::Van => t(1200.0, 0.42, 2.6, 0.013, "175/80 R14", Rear, 0.5, 2.4, 0.65, five, (FinalDrive, 4.4), 60.0),
        VehicleKind::OffRoad => t(1300.0, 0.50, 2.2, 0.020, "205/80 R16", All, 0.52, 2.3, 0.70, five, (FinalDrive, 4.1), 60.0),
        VehicleKind::Motorcycle => t(140.0, 0.65, 0.6, 0.014, "130/70-17", Rear, 0.48, 1.4, 0.60, &[], (Chain, 4.5), 50.0),
        VehicleKind::Trike => t(200.0, 0.70, 0.9, 0.014, "3.50-10", Rear, 0.35, 1.9, 0.55, &[], (Chain, 5.0), 30.0),
        VehicleKind::Kart => t(90.0, 0.80, 0.6, 0.018, "11x7.10-5", Rear, 0.42, 1.05, 0.25, &[], (Chain, 4.5), 40.0),
        VehicleKind::Quad => t(230.0, 0.70, 0.9, 0.025, "25x10-12", Rear, 0.45, 1.3, 0.50, &[], (Chain, 7.0), 30.0),
        VehicleKind::Sled => t(220.0, 0.70, 0.9, 0.080, "3.50-10", All, 0.5, 1.5, 0.50, &[], (Chain, 3.0), 30.0),
        VehicleKind::Utility => t(900.0, 0.80, 1.8, 0.025, "6.00-16", Rear, 0.4, 1.7, 0.70, &[3.5, 2.0, 1.2], (FinalDrive, 6.0), 15.0),
    }
}

impl Document {
    /// A document without parts for a kind of vehicle: handbook donor, one trip, one socket and a first set of goals.
    #[must_use]
    pub fn starter(name: &str, kind: VehicleKind) -> Self {
        let t = typical(kind);
        let handbook = Source { from: Provenance::Handbook, spread_percent: None };
        let keys = [
            "curb_mass_kg",
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
        let stage = Stage { kind: t.stage.0, ratio: t.stage.1, efficiency: None };
        let goal = |id: &str, level, measure| Goal { id: id.to_owned(), name: String::new(), level, weight: 1.0, measure };
        let segment = |distance_km, speed_kmh, stops_per_km| TravelSegment {
            distance_km,
            speed_kmh,
            stops_per_km,
            climb_m: 0.0,
            acceleration_m_s2: 0.8,
            stop_s: 10.0,
            liveliness: None,
        };
        Self {
            format: FORMAT.to_owned(),
            version: VERSION,
            name: name.to_owned(),
            brief: Brief {
                trips: vec![Trip::plain(
                    "usual",
                    "Usual trip",
                    TripPath::Segments(vec![segment(2.0, (t.trip_kmh * 0.6).round(), 2.0), segment(8.0, t.trip_kmh, 0.4)]),
                )],
                sockets: vec![Socket {
                    id: "home".to_owned(),
                    name: "Home socket".to_owned(),
                    kind: SocketKind::Ac,
                    voltage_v: 230.0,
                    current_a: 16.0,
                    phases: 1,
                    continuous_share: 0.8,
                    power_w: None,
                }],
                goals: vec![
                    goal("range", GoalLevel::Required, Measure::Range { trip: "usual".to_owned(), at_least_km: 50.0 }),
                    goal("top", GoalLevel::Required, Measure::TopSpeed { at_least_kmh: t.trip_kmh * 1.2 }),
                    goal("hill", GoalLevel::Required, Measure::HillStart { at_least_percent: 18.0 }),
                    goal("charge", GoalLevel::Wanted, Measure::ChargeTime { socket: "home".to_owned(), at_most_h: 9.0 }),
                ],
                site: Site::default(),
                winter: Season {
                    // A closed body is heated; riders in the open dress.
                    hvac_w: if matches!(kind, VehicleKind::Car | VehicleKind::Van | VehicleKind::OffRoad) { 1500.0 } else { 0.0 },
                    ..Brief::default().winter
                },
                ..Brief::default()
            },
            donor: Donor {
                name: name.to_owned(),
                kind,
                notes: String::new(),
                curb_mass_kg: t.mass_kg,
                test_mass_kg: None,
                removed: Vec::new(),
                gross_limit_kg: None,
                front_axle_limit_kg: None,
                rear_axle_limit_kg: None,
                front_axle_share: t.front_share,
                wheelbase_m: t.wheelbase_m,
                cg_height_m: t.cg_m,
                driven_axle: t.axle,
                adhesion: if kind == VehicleKind::Sled { 0.35 } else { 0.8 },
                drag_coefficient: t.drag,
                frontal_area_m2: t.area_m2,
                rolling_coefficient: t.rolling,
                rolling_coefficient_per_m_s: 0.0,
                undriven_axle_drag_n: 0.0,
                undriven_axle_free: false,
                evidence: Evidence::default(),
                tyre: Tyre::Code(t.tyre.to_owned()),
                rotating_mass_factor: None,
                driveline: Driveline {
                    gears: t.gears.iter().map(|r| Gear { ratio: *r, efficiency: None }).collect(),
                    stages: vec![stage],
                    ..Driveline::default()
                },
                sources: keys.iter().map(|k| ((*k).to_owned(), handbook.clone())).collect::<Sources>(),
            },
            design: Design::default(),
        }
    }
}
