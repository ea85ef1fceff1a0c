//! Grip of the driven wheels with parts of some masses at their places, each mass known or within an interval.

use super::configuration::PLACES;
use super::space::SearchProblem;
use crate::document::{AddedItem, Block, DrivenAxle, Placed, Placement, each_placed, pack_place, stated_front_share};
use crate::quantity::units::STANDARD_GRAVITY_M_S2;
use crate::vehicle::{driven_axle, driven_share};

/// Where a part stands: the share of it on the front axle, and how much higher than the donor's centre of gravity, m.
#[derive(Debug, Clone, Copy, Default)]
struct Spot {
    front: f64,
    above_m: f64,
}

/// Masses in kg, each from the least to the greatest.
#[derive(Debug, Clone, Copy)]
pub(super) struct PartMasses {
    /// Motors, and what comes with the gearing.
    pub(super) motors_kg: (f64, f64),
    pub(super) gearing_kg: f64,
    pub(super) controllers_kg: (f64, f64),
    pub(super) pack_kg: (f64, f64),
    pub(super) charger_kg: (f64, f64),
}

/// Every mass of a vehicle with motors at one place: parts that are searched for by their places, all else summed up.
#[derive(Debug)]
pub(super) struct Stands {
    driven: DrivenAxle,
    stated_front: Option<f64>,
    /// Whether height and shares are the donor's, whatever is put in.
    as_donor: bool,
    adhesion: f64,
    wheelbase_m: f64,
    height_m: f64,
    rest_kg: f64,
    rest_front_kg: f64,
    rest_above_kg_m: f64,
    motor: Spot,
    gearing: Spot,
    controller: Spot,
    charger: Spot,
    /// The boxes of a pack may share it in any way.
    pack: [Spot; 2],
}

impl Stands {
    /// With motors at a place, by its number.
    fn of(problem: &SearchProblem, place: usize) -> Self {
        let base = &problem.base;
        let (donor, layout) = (&base.donor, &base.design.layout);
        let own = base.design.added.len();
        // Parts that weigh something, so that each is met at its place.
        let with = problem.light.clone().with(|d| {
            let design = &mut d.design;
            design.motor_place = PLACES[place];
            design.motor = problem.motors.first().map(|m| m.counted.clone());
            design.controller = problem.controllers.first().map(|c| c.counted.clone());
            design.charger = problem.chargers.iter().flatten().next().map(|c| c.counted.clone());
            for kg in [
                design.motor.as_mut().map(|m| &mut m.mass_kg),
                design.controller.as_mut().map(|c| &mut c.mass_kg),
                design.charger.as_mut().map(|c| &mut c.mass_kg),
            ] {
                kg.into_iter().for_each(|kg| *kg = 1.0);
            }
            design.added.push(AddedItem { name: String::new(), mass_kg: 1.0, price: 0.0, at: Placement::default(), beware: None });
        });
        let spot = |at: &Placement, front: f64| Spot { front, above_m: at.up_m.map_or(0.0, |up_m| up_m - donor.cg_height_m) };
        let mut stands = Self {
            driven: driven_axle(&with),
            stated_front: stated_front_share(&with),
            as_donor: donor.test_mass_kg.is_some(),
            adhesion: donor.adhesion,
            wheelbase_m: donor.wheelbase_m,
            height_m: donor.cg_height_m,
            rest_kg: donor.curb_mass_kg,
            rest_front_kg: donor.front_axle_share * donor.curb_mass_kg,
            rest_above_kg_m: 0.0,
            motor: Spot::default(),
            gearing: Spot::default(),
            controller: Spot::default(),
            charger: Spot::default(),
            pack: [Spot::default(); 2],
        };
        each_placed(&with, |p: Placed<'_>| {
            let at = spot(p.at, p.along().front_share(donor.wheelbase_m));
            match p.block {
                Block::Motor => stands.motor = at,
                Block::Controller => stands.controller = at,
                Block::Charger => stands.charger = at,
                Block::Added(i) if i == own => stands.gearing = at,
                Block::Pack | Block::PackBox(_) => {}
                _ => {
                    let kg = p.added_kg();
                    stands.rest_kg += kg;
                    stands.rest_front_kg += kg * at.front;
                    stands.rest_above_kg_m += kg * at.above_m;
                }
            }
        });
        let usual = pack_place(donor.kind);
        let boxes = layout.boxes.iter().map(|own| &own.at).chain([&layout.pack]);
        let spots: Vec<Spot> = boxes.map(|at| spot(at, at.along.unwrap_or(usual).front_share(donor.wheelbase_m))).collect();
        let ends = |of: fn(&Spot) -> f64| spots.iter().map(of).fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), x| (a.min(x), b.max(x)));
        let (front, above_m) = (ends(|s| s.front), ends(|s| s.above_m));
        stands.pack = [Spot { front: front.0, above_m: above_m.0 }, Spot { front: front.1, above_m: above_m.1 }];
        stands
    }

    /// By place.
    pub(super) fn all(problem: &SearchProblem) -> [Self; 4] {
        std::array::from_fn(|place| Self::of(problem, place))
    }

    /// Greatest pull for each kilogram of the vehicle that masses within their intervals let the driven wheels pass, N.
    ///
    /// The share of an axle and the height are quotients of sums in which each mass stands once above and below: they are least and greatest
    /// where every mass is at one of its ends.
    pub(super) fn grip_n_per_kg(&self, masses: &PartMasses) -> f64 {
        let most = self.adhesion * STANDARD_GRAVITY_M_S2;
        if self.driven == DrivenAxle::All {
            return most;
        }
        let (mut front, mut height_m) = ((1.0_f64, 0.0_f64), (f64::INFINITY, 0.0_f64));
        // Most often the motors' mass is known.
        let corners = if masses.motors_kg.0 < masses.motors_kg.1 { 16 } else { 8 };
        for corner in 0..corners {
            let end = |bit: u32, (least, most): (f64, f64)| if corner & (1 << bit) == 0 { least } else { most };
            let (controllers_kg, charger_kg) = (end(0, masses.controllers_kg), end(1, masses.charger_kg));
            let (pack_kg, motors_kg) = (end(2, masses.pack_kg), end(3, masses.motors_kg));
            let fixed = [(motors_kg, self.motor), (masses.gearing_kg, self.gearing)].map(|(kg, at)| (kg, kg * at.front, kg * at.above_m));
            let kg = self.rest_kg + fixed[0].0 + fixed[1].0 + controllers_kg + charger_kg + pack_kg;
            if kg <= 0.0 {
                return most;
            }
            let sum = |rest: f64, moved: [f64; 2], of: fn(&Spot) -> f64| {
                rest + moved[0] + moved[1] + controllers_kg * of(&self.controller) + charger_kg * of(&self.charger)
            };
            let front_kg = sum(self.rest_front_kg, fixed.map(|f| f.1), |s| s.front);
            let above_kg_m = sum(self.rest_above_kg_m, fixed.map(|f| f.2), |s| s.above_m);
            for pack in &self.pack {
                let share = ((front_kg + pack_kg * pack.front) / kg).clamp(0.0, 1.0);
                let high_m = (self.height_m + (above_kg_m + pack_kg * pack.above_m) / kg).max(0.0);
                front = (front.0.min(share), front.1.max(share));
                height_m = (height_m.0.min(high_m), height_m.1.max(high_m));
            }
        }
        if let Some(stated) = self.stated_front {
            front = (stated, stated);
        }
        if self.as_donor {
            height_m = (self.height_m, self.height_m);
        }
        // Load moves to the rear: a rear axle gains by height and by what stands on it already, a front axle by neither.
        let (front, height_m) = if self.driven == DrivenAxle::Rear { (front.0, height_m.1) } else { (front.1, height_m.0) };
        most * driven_share(self.driven, front, self.adhesion * height_m / self.wheelbase_m) * (1.0 + 1e-9)
    }
}
