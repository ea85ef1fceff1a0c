//! The least energy a drivetrain can spend on the trip that counts: what no controller and no pack can better.

use super::along::{Along, AlongLeg, TAKEN_W};
use super::behind::{Emptied, falls_behind, payload_kg};
use super::bounding::{Bounding, PaceClass, Step, Steps};
use super::bounds::Bound;
use super::fixed_vehicle::FixedVehicle;
use super::hot::hot_m;
use super::rated_train::{GearSide, RatedTrain};
use super::road_watts::Watts;
use super::space::SearchProblem;
use crate::powertrain::heat::ThermalModel;
use crate::powertrain::{Fade, MotorMap};
use crate::simulate::Tolerance;
use crate::trip::Trace;
use crate::vehicle::{Conditions, Road};

/// Sums over one run that hold for every mass of an interval.
#[derive(Debug, Clone, Copy)]
pub(super) struct TripEnergy {
    /// Length, m.
    pub(super) length_m: f64,
    /// Duration, s: the least and the longest.
    duration_s: f64,
    longest_s: f64,
    /// Motor-side electrical energy drawn, J.
    drawn_j: f64,
    /// Integral of the square of that power, W^2 s.
    drawn_w2_s: f64,
    /// Least time in which nothing can be given back, s.
    drawing_s: f64,
    /// Most that braking can give back, motor side, J, where no more power is taken than each of [`TAKEN_W`].
    given_back_j: [f64; TAKEN_W.len()],
    /// Furthest that a run broken off gets beyond its share of the energy, m.
    pub(super) head_start_m: f64,
    /// Comfort load, W.
    pub(super) hvac_w: f64,
    /// Way after which heat surely holds the motors back, m; infinite where that is not told.
    pub(super) hot_m: f64,
}

/// A trace that has been walked along, and what each of its steps takes.
pub(super) struct Walked<'s> {
    /// Neither how far its beginning gets nor where heat ends it is told yet.
    pub(super) sums: TripEnergy,
    watts: Vec<Watts>,
    pub(super) steps: &'s Steps,
    /// Whether a chain may hasten it.
    is_hastened: bool,
}

/// What a drivetrain of some masses takes and gives on the road of a trip's day.
pub(super) struct OnRoad<'a> {
    pub(super) regeneration_share: f64,
    low_voltage_w: f64,
    pub(super) fade: Fade,
    heat: Option<ThermalModel>,
    pub(super) map: &'a MotorMap,
    pub(super) gears: Vec<&'a GearSide>,
    pub(super) road: Road,
    pub(super) masses_kg: (f64, f64),
}

impl<'a> OnRoad<'a> {
    pub(super) fn of(
        problem: &SearchProblem,
        vehicle: &FixedVehicle,
        drivetrain: &'a RatedTrain,
        trip: usize,
        (light_kg, heavy_kg): (f64, f64),
    ) -> Self {
        let (base, trip) = (&problem.base, &problem.trips[trip].0);
        let payload_kg = payload_kg(base, trip);
        Self {
            regeneration_share: vehicle.regeneration_share,
            low_voltage_w: vehicle.low_voltage_w,
            fade: Fade::of(&base.design.regeneration),
            heat: drivetrain.trip_heat,
            map: &drivetrain.map,
            gears: drivetrain.gears_of(trip.gear, trip.transfer_range).collect(),
            road: Road::of(base, light_kg, &Conditions::of_trip(base, trip)),
            masses_kg: (light_kg + payload_kg, heavy_kg + payload_kg),
        }
    }

    /// Where whatever a look holds has surely fallen behind a trace by more than following it allows, with what it has used at least: a point of it.
    pub(super) fn falls_behind(&self, look: &Bound<'_>, on: (&Trace, &Steps), emptied: &Emptied<'_>) -> Option<usize> {
        falls_behind(look, (&self.road, self.masses_kg), &self.gears, on, emptied)
    }

    /// Energy that one which lags as far as following lets it may be short of, anywhere on a trace, J: all that it may be slower by at the moment,
    /// and the way it may have lost at the greatest resistance. In `v` per second, air takes the cube of the speed, so that a metre lost at speed
    /// spares three times its drag. Half of all as much again for what chain and motor lose of it.
    pub(super) fn lagging_j(&self, trace: &Trace) -> f64 {
        let fastest_m_s = trace.points.iter().map(|p| p.speed_m_s).fold(0.0, f64::max);
        let steepest = trace.points.iter().map(|p| p.sin).fold(0.0, f64::max);
        let heaviest_kg = self.gears.iter().map(|g| g.inert(self.masses_kg.1)).fold(self.masses_kg.1, f64::max);
        let road = Road { mass_kg: self.masses_kg.1, ..self.road };
        let resistance_n = road.resistance_n(fastest_m_s, (steepest, 1.0)) + 2.0 * road.air_n(fastest_m_s).max(0.0);
        1.5 * (0.5 * heaviest_kg * fastest_m_s * fastest_m_s + resistance_n.max(0.0) * Tolerance::of(trace).lost_m)
    }

    /// The least energy of a trace that is made in no less than some time, s.
    pub(super) fn energy(&self, timed: (&Steps, f64), hvac_w: f64) -> TripEnergy {
        self.finished(self.walk(timed, hvac_w), None)
    }

    /// Sums of a trace that is made in no less than some time, s.
    pub(super) fn walk<'s>(&self, (steps, least_s): (&'s Steps, f64), hvac_w: f64) -> Walked<'s> {
        // Where the chain sets how hard it accelerates, a quicker one spends less time on the losses of it: none are counted there.
        // A hair for sums made in another order.
        let is_hastened = least_s < steps.duration_s() * (1.0 - 1e-9);
        let watts = self.watts(&steps.unlike, |step| if is_hastened && step.accel_m_s2.abs() > 1e-6 { 0.0 } else { 1.0 });
        let mut sums = TripEnergy::nothing(hvac_w);
        for ((step, watts), seconds) in steps.unlike.iter().zip(&watts).zip(&steps.seconds) {
            sums.go_on(step, *watts, *seconds);
        }
        if is_hastened {
            (sums.duration_s, sums.drawing_s) = (least_s, 0.0);
        }
        Walked { steps, watts, is_hastened, sums }
    }

    /// With what is only asked of a whole run that may be followed: how far its beginning gets, and where heat ends it; the least along its legs is
    /// added to `along` where it is wanted.
    pub(super) fn finished(&self, walked: Walked<'_>, mut along: Option<&mut Vec<AlongLeg>>) -> TripEnergy {
        let mut sums = walked.sums;
        // How far the cheap beginning of a run reaches beyond its share, without braking energy and with all of it; other shares and
        // efficiencies lie between or close by, which the half on top covers. It is metres beside kilometres.
        let energy = |p: &Along| [0, TAKEN_W.len() - 1].map(|taken| sums.energy_j(p.sums(taken), 0.95, true, self.low_voltage_w));
        let m_per_j = energy(&sums.whole()).map(|whole_j| sums.length_m / whole_j.max(1.0));
        let ahead = |p: &Along| [0, 1].map(|i| p.way_m - m_per_j[i] * energy(p)[i]);
        let (mut most_m, mut before_m) = (0.0_f64, [0.0_f64; 2]);
        for leg in &walked.steps.legs {
            let (mut in_leg_m, mut points) = ([0.0_f64; 2], Vec::new());
            let once = walked.along(&leg.stretches, |point| {
                for (most_m, ahead_m) in in_leg_m.iter_mut().zip(ahead(&point)) {
                    *most_m = most_m.max(ahead_m);
                }
                if along.is_some() {
                    points.push(point);
                }
            });
            if let Some(along) = &mut along {
                along.push(AlongLeg { times: leg.times, points });
            }
            // Each further time adds as much as the first has brought.
            for (i, of_leg_m) in ahead(&once).into_iter().enumerate() {
                most_m = most_m.max(before_m[i] + in_leg_m[i] + f64::from(leg.times - 1) * of_leg_m.max(0.0));
                before_m[i] += f64::from(leg.times) * of_leg_m;
            }
        }
        sums.head_start_m = 1.5 * most_m;
        if !walked.is_hastened {
            sums.hot_m = self.heat.map_or(f64::INFINITY, |heat| hot_m(&heat, walked.steps, &walked.watts));
        }
        sums
    }
}

impl Walked<'_> {
    /// Goes along one leg by steps or stretches of it: `each` is told the least up to the end of each, and the start; all of it is the sum.
    pub(super) fn along(&self, by: &[(u32, f64)], mut each: impl FnMut(Along)) -> Along {
        let mut sums = TripEnergy::nothing(self.sums.hvac_w);
        each(sums.whole());
        for (like, seconds) in by {
            sums.go_on(&self.steps.unlike[*like as usize], self.watts[*like as usize], *seconds);
            each(self.told(&sums));
        }
        self.told(&sums)
    }

    /// On a trace that the chain hastens, only the whole has a least time.
    fn told(&self, sums: &TripEnergy) -> Along {
        if self.is_hastened { Along { seconds: 0.0, drawing_s: 0.0, ..sums.whole() } } else { sums.whole() }
    }
}

impl TripEnergy {
    fn nothing(hvac_w: f64) -> Self {
        Self {
            length_m: 0.0,
            duration_s: 0.0,
            longest_s: 0.0,
            drawn_j: 0.0,
            drawn_w2_s: 0.0,
            drawing_s: 0.0,
            given_back_j: [0.0; TAKEN_W.len()],
            head_start_m: 0.0,
            hvac_w,
            hot_m: f64::INFINITY,
        }
    }

    /// Bounds of which one holds for any chain: of the trip's own trace, or of each class of those that a chain may give it.
    pub(super) fn all(
        problem: &SearchProblem,
        vehicle: &FixedVehicle,
        drivetrain: &RatedTrain,
        trip: usize,
        masses_kg: (f64, f64),
    ) -> Vec<Self> {
        let on_road = OnRoad::of(problem, vehicle, drivetrain, trip, masses_kg);
        let Bounding { steps, least_s, classes, .. } = &problem.bounding[trip];
        let whole = on_road.energy((steps, *least_s), problem.trips[trip].0.hvac_w);
        if classes.is_empty() { vec![whole] } else { classes.iter().map(|class| whole.within(&on_road, class)).collect() }
    }

    /// The least of every trace of a class. Quicker ones are nowhere slower, so road and air take no less; they speed up for a shorter time at
    /// more torque, of which a share of the slowest one's losses is left, and brake harder for a shorter time.
    fn within(&self, on_road: &OnRoad<'_>, class: &PaceClass) -> Self {
        let mut sums =
            Self { drawn_j: 0.0, drawn_w2_s: 0.0, drawing_s: 0.0, given_back_j: [0.0; TAKEN_W.len()], duration_s: class.least_s, ..*self };
        let loss_share = |step: &Step| match step.accel_m_s2 {
            a if a > 1e-6 => class.ratio,
            a if a < -1e-6 => 0.0,
            _ => 1.0,
        };
        for (step, Watts { drawn_w, back_w, .. }) in class.slowest.iter().zip(on_road.watts(&class.slowest, loss_share)) {
            sums.drawn_j += drawn_w * step.seconds;
            sums.drawn_w2_s += loss_share(step) * drawn_w * drawn_w * step.seconds;
            if step.accel_m_s2 > 1e-6 {
                sums.give_back(back_w, step.seconds);
            }
        }
        for (step, Watts { back_w, .. }) in class.quickest.iter().zip(on_road.watts(&class.quickest, |_| 0.0)) {
            if step.accel_m_s2 > 1e-6 {
                continue;
            }
            // The slowest of the class brakes for so much longer.
            sums.give_back(back_w, if step.accel_m_s2 < -1e-6 { step.seconds / class.ratio } else { step.seconds });
        }
        sums
    }

    /// The least up to the end.
    pub(super) fn whole(&self) -> Along {
        let Self { length_m: way_m, duration_s: seconds, longest_s, drawn_j, drawn_w2_s, drawing_s, given_back_j, .. } = *self;
        Along { drawn_j, drawn_w2_s, drawing_s, given_back_j, way_m, seconds, longest_s }
    }

    /// Adds a step.
    fn go_on(&mut self, step: &Step, Watts { drawn_w, back_w, .. }: Watts, seconds: f64) {
        self.duration_s += seconds;
        self.longest_s += seconds;
        if step.v_m_s <= 0.0 {
            self.drawing_s += seconds;
            return;
        }
        self.length_m += step.v_m_s * seconds;
        self.drawn_j += drawn_w * seconds;
        self.drawn_w2_s += drawn_w * drawn_w * seconds;
        if back_w <= 0.0 {
            self.drawing_s += seconds;
        }
        self.give_back(back_w, seconds);
    }

    fn give_back(&mut self, back_w: f64, seconds: f64) {
        for (sum, taken_w) in self.given_back_j.iter_mut().zip(TAKEN_W) {
            *sum += back_w.min(taken_w) * seconds;
        }
    }
}
