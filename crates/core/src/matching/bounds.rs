//! The best that a configuration can do, from closed forms; never worse than what the model computes.

use std::cell::Cell;

use super::constraint::Constraint;
use super::fixed_vehicle::FixedVehicle;
use super::objectives::{Bins, HAIR, Objectives, SHORTFALL};
use super::packs::{OnTrip, PackSide};
use super::rated_train::GearSide;
use super::space::SearchProblem;
use super::subsystems::{Drive, Drivetrain};
use crate::figures::{Duty, FigureKind};
use crate::powertrain::Source;
use crate::quantity::crossing;
use crate::quantity::units::KMH_PER_M_S;
use crate::simulate::grip_percent;
use crate::vehicle::Road;

/// Everything a bound of one configuration looks at.
pub(super) struct Bound<'a> {
    pub(super) problem: &'a SearchProblem,
    pub(super) vehicle: &'a FixedVehicle,
    pub(super) drivetrain: &'a Drivetrain,
    pub(super) drive: Drive,
    /// Absent: whatever pack there is.
    pub(super) pack: Option<PackLook>,
    /// Test mass, kg; the least of several.
    pub(super) mass_kg: f64,
    /// What a bound of several configurations at once reads from their other end.
    pub(super) worst: OtherEnd,
    /// Whether accelerations are followed in steps as fine as the model's, which costs more.
    pub(super) close: bool,
    /// What goals and answer both ask for is worked out once.
    pub(super) known: Known,
}

/// The best of each of the six figures, as far as it has been asked for.
#[derive(Debug)]
pub(super) struct Known(Cell<[f64; 6]>);

impl Known {
    pub(super) fn nothing() -> Self {
        Self(Cell::new([f64::NAN; 6]))
    }
}

/// What a bound reads of a pack, or the best of several packs.
#[derive(Debug, Clone, Copy)]
pub(super) struct PackLook {
    /// Open-circuit voltage of runs, V.
    pub(super) run_v: f64,
    pub(super) resistance_ohm: f64,
    /// Voltage below which it gives out, V.
    pub(super) cutoff_v: f64,
    pub(super) peak_a: f64,
    pub(super) continuous_a: f64,
    /// On the day of the trip that counts.
    pub(super) on_trip: OnTrip,
}

/// The other end of several configurations: grip grows with the mass and with where it stands, what is fed back with the resistance, and the
/// least efficient controller takes the most of the motor's braking power.
#[derive(Debug, Clone, Copy)]
pub(super) struct OtherEnd {
    pub(super) heaviest_kg: f64,
    /// Greatest pull that the tyres pass, N.
    pub(super) grip_n: f64,
    pub(super) most_ohm: f64,
    pub(super) least_efficiency: f64,
}

impl PackLook {
    pub(super) fn of(pack: &PackSide) -> Self {
        Self {
            run_v: pack.run_v,
            resistance_ohm: pack.model.resistance_ohm,
            cutoff_v: pack.model.cutoff_v,
            peak_a: pack.model.peak_a,
            continuous_a: pack.model.continuous_a,
            on_trip: pack.on_trip,
        }
    }
}

impl OtherEnd {
    /// Of a single configuration.
    pub(super) fn same((mass_kg, grip_n): (f64, f64), drive: &Drive, pack: Option<&PackLook>) -> Self {
        let most_ohm = pack.map_or(0.0, |p| p.on_trip.resistance_ohm);
        Self { heaviest_kg: mass_kg, grip_n, most_ohm, least_efficiency: drive.efficiency }
    }
}

/// What drive and pack can give at most.
#[derive(Debug, Clone, Copy)]
pub(super) struct Power {
    pub(super) torque_nm: f64,
    shaft_w: f64,
    /// Electrical, behind the controller.
    motor_w: f64,
    /// Lost in the motors, as far as heat allows.
    loss_w: f64,
}

impl Bound<'_> {
    /// The same, of which nothing is known yet.
    pub(super) fn again(&self) -> Self {
        Self { known: Known::nothing(), ..*self }
    }

    /// What there is at most.
    pub(super) fn power(&self, duty: Duty) -> Power {
        let (drive, minutes) = (&self.drive, &self.drive.ten_minutes);
        let (torque_nm, own_w, loss_w, controller_a) = match duty {
            Duty::Peak => (drive.peak_nm, f64::INFINITY, f64::INFINITY, drive.peak_a),
            // Motor and controller as long as their heat allows from cold, at most their peak.
            Duty::TenMinutes => {
                (drive.peak_nm.min(minutes.torque_nm), f64::INFINITY, minutes.motor_loss_w, drive.peak_a.min(minutes.bus_a))
            }
            Duty::Continuous => (drive.continuous_nm, drive.continuous_w, drive.continuous_loss_w, drive.continuous_a),
        };
        let Some(pack) = self.pack else { return Power { torque_nm, shaft_w: own_w, motor_w: f64::INFINITY, loss_w } };
        let cells_a = if duty == Duty::Peak { pack.peak_a } else { pack.continuous_a };
        let source = Source {
            ocv_v: pack.run_v,
            resistance_ohm: pack.resistance_ohm,
            cutoff_v: pack.cutoff_v.max(drive.min_v),
            aux_w: self.vehicle.low_voltage_w,
        };
        let motor_w = source.most_w(cells_a, controller_a, drive.max_power_w).0 * drive.efficiency;
        Power { torque_nm, shaft_w: motor_w.min(self.drivetrain.power_w(pack.run_v)).min(own_w), motor_w, loss_w }
    }

    /// Tractive force at the wheels in a gear, N.
    #[inline]
    pub(super) fn gear_n(&self, gear: &GearSide, v_m_s: f64, power: &Power) -> f64 {
        let mut torque_nm = power.torque_nm;
        if power.loss_w.is_finite() {
            let map = &self.drivetrain.map;
            torque_nm =
                torque_nm.min(map.torque_for_loss_nm((v_m_s * gear.rad_per_m).min(map.max_speed_rad_s), power.loss_w) * (1.0 + 1e-9));
        }
        let simply = Self::simply_n(gear, v_m_s, torque_nm, power);
        let Some(pack) = self.pack else { return simply };
        let (map, speed) = (&self.drivetrain.map, (v_m_s * gear.rad_per_m).min(self.drivetrain.map.max_speed_rad_s));
        let ceiling_nm = torque_nm.min(simply / gear.pull_n_per_nm);
        let sagged_nm = map.sagged_at_most_nm(
            (ceiling_nm, power.motor_w),
            speed,
            (pack.run_v, pack.resistance_ohm),
            (self.drive.efficiency, self.vehicle.low_voltage_w),
        );
        sagged_nm * gear.pull_n_per_nm * (1.0 + 1e-9)
    }

    /// Tractive force that a torque and the power alone allow in a gear, N; no more at a higher speed.
    #[inline]
    pub(super) fn simply_n(gear: &GearSide, v_m_s: f64, torque_nm: f64, power: &Power) -> f64 {
        (torque_nm * gear.pull_n_per_nm).min(power.shaft_w * gear.efficiency / v_m_s.max(1e-9))
    }

    pub(super) fn road(&self) -> Road {
        self.vehicle.road_at(self.mass_kg)
    }

    /// Greatest pull at a speed over the gears that can turn so fast, N.
    fn tractive_n(&self, v_m_s: f64, power: &Power) -> f64 {
        let gears = self.drivetrain.gears.iter().filter(|g| v_m_s <= g.fastest_m_s * (1.0 + 1e-9));
        gears.map(|g| self.gear_n(g, v_m_s, power)).fold(0.0, f64::max)
    }

    /// The pull climbs the most with the least mass. What grip allows only grows with the mass, or only falls.
    fn grade_percent(&self, tractive_n: f64, v_m_s: f64) -> f64 {
        let OtherEnd { heaviest_kg, grip_n, .. } = self.worst;
        let percent = self.road().steepest(tractive_n.min(grip_n), v_m_s).map_or(0.0, |g| 100.0 * g);
        let gripped = |kg: f64| grip_percent(&self.vehicle.road_at(kg), grip_n * (kg / heaviest_kg), v_m_s);
        let lighter = if self.mass_kg < heaviest_kg { gripped(self.mass_kg) } else { 0.0 };
        percent.min(gripped(heaviest_kg).max(lighter)).min(100.0)
    }

    /// Force left to accelerate the least mass at a speed, N: of a pull, and of the grip that mass and pull have in common.
    #[inline]
    pub(super) fn surplus_n(&self, gear: &GearSide, pull_n: f64, (lightest, heaviest): (&Road, &Road), v_m_s: f64) -> f64 {
        let level = (0.0, 1.0);
        let resistance_n = lightest.resistance_n(v_m_s, level);
        let OtherEnd { heaviest_kg, grip_n, .. } = self.worst;
        if pull_n * heaviest_kg <= grip_n * self.mass_kg {
            return pull_n - resistance_n;
        }
        // As much acceleration as the grip gives the heaviest, or the lightest where a wind from behind pushes that along the more.
        let gripped_n = (grip_n - heaviest.resistance_n(v_m_s, level)) * (gear.inert(self.mass_kg) / gear.inert(heaviest_kg));
        (pull_n - resistance_n).min(gripped_n.max(grip_n * (self.mass_kg / heaviest_kg) - resistance_n))
    }

    fn hill_percent(&self, kmh: f64, hold: Duty) -> f64 {
        let v = kmh / KMH_PER_M_S;
        let power = self.power(hold);
        self.grade_percent(self.tractive_n(v, &power), v) * (1.0 + 1e-9)
    }

    fn range_km(&self, trip: usize) -> f64 {
        if self.pack.is_none() || self.problem.trip != Some(trip) || !self.problem.keeps_up() {
            return f64::INFINITY;
        }
        let masses_kg = (self.mass_kg, self.worst.heaviest_kg);
        self.drivetrain.energies(self.problem, self.vehicle, trip, masses_kg).map(|e| self.reach_km(e)).fold(0.0, f64::max)
    }

    /// The best a figure can be; what is known exactly (cost, mass, hours) is left to the caller.
    pub(super) fn best(&self, kind: FigureKind) -> f64 {
        let Some(i) = self.problem.objectives.kinds.iter().position(|k| *k == Some(kind)) else { return self.work_out(kind) };
        let mut known = self.known.0.get();
        if known[i].is_nan() {
            known[i] = self.work_out(kind);
            self.known.0.set(known);
        }
        known[i]
    }

    fn work_out(&self, kind: FigureKind) -> f64 {
        match kind {
            FigureKind::Range(trip) => self.range_km(trip),
            // Known only once the trip is driven, or to the caller.
            FigureKind::Energy(_) => f64::NEG_INFINITY,
            FigureKind::Charge(_) | FigureKind::Cost | FigureKind::AddedMass => 0.0,
            // Known only once the chain is built: how weak or slow it is, nothing here says.
            FigureKind::SpeedLimit | FigureKind::PowerLimit(false) => 0.0,
            FigureKind::PowerLimit(true) => self.drivetrain.rated_w,
            FigureKind::TopSpeed => self.drivetrain.gears.iter().map(|g| g.fastest_m_s).fold(0.0, f64::max) * KMH_PER_M_S * (1.0 + 1e-9),
            FigureKind::Acceleration(from, to) => self.acceleration_s(from / KMH_PER_M_S, to / KMH_PER_M_S),
            FigureKind::HillStart => self.grade_percent(self.tractive_n(0.0, &self.power(Duty::Peak)), 0.0) * (1.0 + 1e-9),
            FigureKind::Hill(kmh, hold) => self.hill_percent(kmh, hold),
        }
    }

    /// Whether a goal on what the drive does may be met.
    pub(super) fn may_meet(&self, constraint: &Constraint) -> bool {
        match constraint.kind {
            FigureKind::Cost | FigureKind::AddedMass | FigureKind::Charge(_) => true,
            // Holding the wanted speed takes the power of the level road there.
            FigureKind::TopSpeed => {
                let v = constraint.needed / KMH_PER_M_S * (1.0 - 1e-9);
                let tractive_n = self.tractive_n(v, &self.power(Duty::Peak)).min(self.worst.grip_n);
                constraint.may_be_met(self.best(constraint.kind)) && tractive_n >= self.road().steady_n(v, 0.0) * (1.0 - 1e-6)
            }
            kind => constraint.may_be_met(self.best(kind)),
        }
    }

    /// What closed forms tell, those that cost the least first: a goal out of reach, or steps that are no worse than its own, as far as they
    /// had to be known. `known` holds what is told already, and the steps of cost, mass and hours.
    pub(super) fn told(&self, known: &Bins, (cost, added_kg, charging): (f64, f64, f64), is_out: impl Fn(&Bins) -> bool) -> Told {
        let (problem, objectives) = (self.problem, &self.problem.objectives);
        let mut bins = *known;
        for turn in 0..3 {
            if let Some(i) = problem.constraints.iter().position(|m| dearness(m.kind) == turn && !self.may_meet(m)) {
                return Told::Missed(i);
            }
            let before = bins;
            for (i, kind) in objectives.kinds.iter().enumerate() {
                if let Some(kind) = kind.filter(|k| dearness(*k) == turn && !k.is_known_at_once()) {
                    bins[i] = bins[i].max(objectives.bin(i, self.best(kind)));
                }
            }
            if turn == 2 && !objectives.relaxed.is_empty() {
                bins[SHORTFALL] = bins[SHORTFALL].max(Objectives::shortfall_grade(self.shortfall(cost, added_kg, charging)));
            }
            if bins != before && is_out(&bins) {
                return Told::Beaten(bins);
            }
        }
        Told::Open(bins)
    }

    /// The least that goals which may be missed are missed by, sum of shares; cost, mass and what the charger leaves are given.
    fn shortfall(&self, cost: f64, added_kg: f64, charging: f64) -> f64 {
        let one = |constraint: &Constraint| match constraint.kind {
            FigureKind::Cost => constraint.shortfall(cost - HAIR),
            FigureKind::AddedMass => constraint.shortfall(added_kg - HAIR),
            FigureKind::Charge(_) | FigureKind::Energy(_) => 0.0,
            // A speed that the pull does not hold is missed by something; the search finds out by how much.
            FigureKind::TopSpeed => constraint.shortfall(self.best(constraint.kind).min(self.held_kmh(constraint.target))),
            kind => constraint.shortfall(self.best(kind)),
        };
        (self.problem.objectives.relaxed.iter().map(one).sum::<f64>() + charging) * (1.0 - 1e-9)
    }

    /// The greatest speed up to `target_kmh` at which the greatest power still holds the level road, km/h.
    fn held_kmh(&self, target_kmh: f64) -> f64 {
        let power = self.power(Duty::Peak);
        let efficiency = self.drivetrain.gears.iter().map(|g| g.efficiency).fold(0.0, f64::max);
        let road = self.road();
        // Power over speed falls and the resistance rises: what holds at a speed holds at every lower one.
        let surplus_n = |v: f64| power.shaft_w * efficiency / v.max(1e-9) - road.steady_n(v, 0.0);
        let target = target_kmh / KMH_PER_M_S;
        let held = if surplus_n(target) >= 0.0 { target } else { crossing(0.0, target, surplus_n).unwrap_or(0.0) };
        held * KMH_PER_M_S * (1.0 + 1e-9)
    }
}

/// What closed forms tell of one or several configurations.
pub(super) enum Told {
    /// A goal, by its place, is out of reach.
    Missed(usize),
    /// These steps, no worse than its own, are beaten.
    Beaten(Bins),
    /// It may be in the answer; its steps are no better than these.
    Open(Bins),
}

/// Turn in which a bound is worked out: accelerations cost the most.
fn dearness(kind: FigureKind) -> i32 {
    match kind {
        FigureKind::Acceleration(..) => 2,
        kind => i32::from(kind.is_of_trip()),
    }
}
