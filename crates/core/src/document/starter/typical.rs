//! Typical figures of each kind of vehicle.

use crate::document::{DrivenAxle, Gear, StageKind, Tyre, VehicleKind};

/// What is taken for a kind of vehicle where nobody has said (handbook ranges and common practice, from memory; middle of each).
#[derive(Debug, Clone)]
pub(super) struct Typical {
    /// Kerb mass with the engine still in, kg.
    pub(super) curb_kg: f64,
    /// Engine, tank, exhaust and what hangs on them, kg.
    pub(super) engine_kg: f64,
    pub(super) drag: f64,
    pub(super) area_m2: f64,
    pub(super) rolling: f64,
    pub(super) adhesion: f64,
    pub(super) tyre: Tyre,
    pub(super) axle: DrivenAxle,
    pub(super) front_share: f64,
    pub(super) wheelbase_m: f64,
    pub(super) cg_m: f64,
    pub(super) gears: Vec<Gear>,
    pub(super) stage: (StageKind, f64),
    /// Lights, pumps, instruments: the mean over a trip, W.
    pub(super) low_voltage_w: f64,
    /// Driver with what they wear, kg.
    pub(super) driver_kg: f64,
    /// Air on an ordinary day and on a winter's day of use, degC.
    pub(super) air_c: (f64, f64),
    /// Heater on a winter's day, W: a closed body is heated, riders in the open dress.
    pub(super) heater_w: f64,
    /// What is assumed of the three first questions: longest regular trip (km; minutes on the track for a kart), fastest road (km/h),
    /// steepest hill (percent).
    pub(super) assumed: (f64, f64, f64),
}

const FIVE: &[f64] = &[3.6, 2.0, 1.35, 1.0, 0.8];
const THREE: &[f64] = &[3.5, 2.0, 1.2];

pub(super) fn typical(kind: VehicleKind) -> Typical {
    use DrivenAxle::{All, Front, Rear};
    use StageKind::{Chain, FinalDrive};
    let code = |code: &str| Tyre::Code(code.to_owned());
    // What is common to most.
    let open = Typical {
        curb_kg: 200.0,
        engine_kg: 45.0,
        drag: 0.70,
        area_m2: 0.9,
        rolling: 0.014,
        adhesion: 0.8,
        tyre: code("3.50-10"),
        axle: Rear,
        front_share: 0.45,
        wheelbase_m: 1.4,
        cg_m: 0.55,
        gears: Vec::new(),
        stage: (Chain, 5.0),
        low_voltage_w: 60.0,
        driver_kg: 80.0,
        air_c: (15.0, 2.0),
        heater_w: 0.0,
        assumed: (25.0, 45.0, 15.0),
    };
    let closed = Typical {
        engine_kg: 150.0,
        gears: gears(FIVE),
        low_voltage_w: 220.0,
        driver_kg: 75.0,
        heater_w: 1500.0,
        assumed: (60.0, 90.0, 18.0),
        wheelbase_m: 2.4,
        ..open.clone()
    };
    match kind {
        VehicleKind::Car => Typical {
            curb_kg: 950.0,
            drag: 0.36,
            area_m2: 1.9,
            rolling: 0.012,
            tyre: code("165/70 R13"),
            axle: Front,
            front_share: 0.6,
            cg_m: 0.52,
            stage: (FinalDrive, 4.0),
            ..closed
        },
        VehicleKind::Van => Typical {
            curb_kg: 1200.0,
            engine_kg: 180.0,
            drag: 0.42,
            area_m2: 2.6,
            rolling: 0.013,
            tyre: code("175/80 R14"),
            front_share: 0.5,
            cg_m: 0.65,
            stage: (FinalDrive, 4.4),
            assumed: (60.0, 80.0, 18.0),
            ..closed
        },
        VehicleKind::OffRoad => Typical {
            curb_kg: 1300.0,
            engine_kg: 200.0,
            drag: 0.50,
            area_m2: 2.2,
            rolling: 0.020,
            tyre: code("205/80 R16"),
            axle: All,
            front_share: 0.52,
            wheelbase_m: 2.3,
            cg_m: 0.70,
            stage: (FinalDrive, 4.1),
            assumed: (50.0, 80.0, 30.0),
            ..closed
        },
        VehicleKind::Motorcycle => Typical {
            curb_kg: 140.0,
            drag: 0.65,
            area_m2: 0.6,
            tyre: code("130/70-17"),
            front_share: 0.48,
            cg_m: 0.60,
            stage: (Chain, 4.5),
            driver_kg: 85.0,
            assumed: (50.0, 80.0, 18.0),
            ..open
        },
        VehicleKind::Trike => Typical { front_share: 0.35, wheelbase_m: 1.9, ..open },
        VehicleKind::Kart => Typical {
            curb_kg: 90.0,
            engine_kg: 20.0,
            drag: 0.80,
            area_m2: 0.6,
            rolling: 0.018,
            tyre: code("11x7.10-5"),
            front_share: 0.42,
            wheelbase_m: 1.05,
            cg_m: 0.25,
            stage: (Chain, 4.5),
            low_voltage_w: 10.0,
            assumed: (15.0, 50.0, 5.0),
            ..open
        },
        VehicleKind::Quad => Typical {
            curb_kg: 230.0,
            rolling: 0.025,
            tyre: code("25x10-12"),
            wheelbase_m: 1.3,
            cg_m: 0.50,
            stage: (Chain, 7.0),
            low_voltage_w: 40.0,
            assumed: (20.0, 40.0, 30.0),
            ..open
        },
        // The track is driven by a sprocket of eight teeth of 73 mm on the driveshaft; packed snow.
        VehicleKind::Sled => Typical {
            curb_kg: 220.0,
            engine_kg: 60.0,
            rolling: 0.080,
            adhesion: 0.35,
            tyre: Tyre::RollingRadiusM(0.093),
            axle: All,
            front_share: 0.5,
            wheelbase_m: 1.5,
            cg_m: 0.50,
            stage: (Chain, 2.0),
            driver_kg: 90.0,
            air_c: (-5.0, -15.0),
            assumed: (20.0, 50.0, 20.0),
            ..open
        },
        VehicleKind::Utility => Typical {
            curb_kg: 900.0,
            engine_kg: 180.0,
            drag: 0.80,
            area_m2: 1.8,
            rolling: 0.025,
            tyre: code("6.00-16"),
            front_share: 0.4,
            wheelbase_m: 1.7,
            cg_m: 0.70,
            gears: gears(THREE),
            stage: (FinalDrive, 6.0),
            assumed: (10.0, 20.0, 15.0),
            ..open
        },
    }
}

fn gears(ratios: &[f64]) -> Vec<Gear> {
    ratios.iter().map(|ratio| Gear { ratio: *ratio, efficiency: None }).collect()
}
