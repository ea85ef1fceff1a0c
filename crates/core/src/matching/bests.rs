//! The best of several packs, and of several drives: at least as good as each of them in every figure that a bound reads.

use super::bounds::PackLook;
use super::branches::Member;
use super::packs::{ChargerSide, OnTrip, PackSide};
use super::request::is_salvaged;
use super::space::SearchProblem;
use super::subsystems::{Drive, DriveMasses, Drivetrain, hull};

/// The best of several packs with their chargers.
#[derive(Debug, Clone, Copy)]
pub(super) struct PackBest {
    pub(super) look: PackLook,
    pub(super) most_ohm: f64,
    /// With the cheapest and the dearest charger, the lightest and the heaviest.
    pub(super) price: (f64, f64),
    pub(super) kg: (f64, f64),
    /// Lightest and heaviest pack, and charger, each alone.
    pub(super) pack_kg: (f64, f64),
    pub(super) charger_kg: (f64, f64),
    /// Greatest open-circuit voltage at the bottom of the window, V.
    pub(super) bottom_v: f64,
    pub(super) hours: f64,
    pub(super) shortfall: f64,
    /// Whether new and salvaged cells are among them.
    pub(super) new: bool,
    pub(super) salvaged: bool,
}

impl PackBest {
    /// Of a pack with one charger or more.
    pub(super) fn of(problem: &SearchProblem, pack: &PackSide) -> Self {
        let ends = |of: fn(&ChargerSide) -> f64| {
            pack.chargers.iter().map(of).fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), x| (low.min(x), high.max(x)))
        };
        let (price, kg) = (ends(|c| c.price), ends(|c| c.mass_kg));
        let salvaged = is_salvaged(&problem.modules[usize::from(pack.module)].written);
        let m = &pack.model;
        Self {
            look: PackLook::of(pack),
            most_ohm: pack.on_trip.resistance_ohm,
            price: (pack.price + price.0, pack.price + price.1),
            kg: (pack.mass_kg + kg.0, pack.mass_kg + kg.1),
            pack_kg: (pack.mass_kg, pack.mass_kg),
            charger_kg: kg,
            bottom_v: m.ocv_v(m.soc_min),
            hours: ends(|c| c.hours).0,
            shortfall: ends(|c| c.shortfall).0,
            new: !salvaged,
            salvaged,
        }
    }

    /// How far apart the members are in price, share.
    pub(super) fn spread(&self) -> f64 {
        (self.price.1.max(1.0) / self.price.0.max(1.0)).ln()
    }
}

impl Member for PackBest {
    fn keys(&self) -> [f64; 5] {
        let ln = |x: f64| x.max(1e-3).ln();
        let power_w = self.look.continuous_a * self.look.run_v;
        [2.0 * ln(self.look.run_v), ln(self.price.0), ln(self.look.on_trip.usable_j), 0.5 * ln(self.kg.0), 0.5 * ln(power_w.min(1e9))]
    }

    fn with(&self, o: &Self) -> Self {
        let (a, b) = (&self.look, &o.look);
        let (t, u) = (&a.on_trip, &b.on_trip);
        Self {
            look: PackLook {
                run_v: a.run_v.max(b.run_v),
                resistance_ohm: a.resistance_ohm.min(b.resistance_ohm),
                cutoff_v: a.cutoff_v.min(b.cutoff_v),
                peak_a: a.peak_a.max(b.peak_a),
                continuous_a: a.continuous_a.max(b.continuous_a),
                on_trip: OnTrip {
                    start_v: t.start_v.max(u.start_v),
                    mean_v: t.mean_v.max(u.mean_v),
                    least_v: t.least_v.min(u.least_v),
                    resistance_ohm: t.resistance_ohm.min(u.resistance_ohm),
                    peukert: t.peukert.or_less(u.peukert),
                    peak_a: t.peak_a.max(u.peak_a),
                    feedback_a: t.feedback_a.max(u.feedback_a),
                    usable_j: t.usable_j.max(u.usable_j),
                    window: t.window.max(u.window),
                },
            },
            most_ohm: self.most_ohm.max(o.most_ohm),
            price: hull(self.price, o.price),
            kg: hull(self.kg, o.kg),
            pack_kg: hull(self.pack_kg, o.pack_kg),
            charger_kg: hull(self.charger_kg, o.charger_kg),
            bottom_v: self.bottom_v.max(o.bottom_v),
            hours: self.hours.min(o.hours),
            shortfall: self.shortfall.min(o.shortfall),
            new: self.new || o.new,
            salvaged: self.salvaged || o.salvaged,
        }
    }
}

/// The best of several drives of motors of the same ratings on a gearing.
#[derive(Debug, Clone, Copy)]
pub(super) struct DriveBest {
    pub(super) drive: Drive,
    pub(super) masses: DriveMasses,
    /// Ratings of the controllers, by the first that has them; none where they differ.
    pub(super) ratings: Option<u16>,
    pub(super) dearest: f64,
    pub(super) heaviest_kg: f64,
    pub(super) least_efficiency: f64,
}

impl DriveBest {
    /// Of one.
    pub(super) fn of(problem: &SearchProblem, drive: &Drive, drivetrain: &Drivetrain) -> Self {
        Self {
            drive: *drive,
            masses: drivetrain.masses_of(drive),
            ratings: Some(problem.same.controllers[usize::from(drive.controller)]),
            dearest: drive.price,
            heaviest_kg: drive.mass_kg,
            least_efficiency: drive.efficiency,
        }
    }

    /// How far apart the members are in price, share.
    pub(super) fn spread(&self) -> f64 {
        (self.dearest.max(1.0) / self.drive.price.max(1.0)).ln()
    }
}

impl Member for DriveBest {
    fn keys(&self) -> [f64; 5] {
        let (d, ln) = (&self.drive, |x: f64| x.max(1e-3).ln());
        [ln(d.min_v), ln(d.price), ln(d.peak_a), ln(d.mass_kg), ln(d.peak_nm)]
    }

    fn with(&self, o: &Self) -> Self {
        let (a, b) = (&self.drive, &o.drive);
        Self {
            drive: Drive {
                drivetrain: a.drivetrain,
                controller: a.controller,
                peak_nm: a.peak_nm.max(b.peak_nm),
                continuous_nm: a.continuous_nm.max(b.continuous_nm),
                continuous_w: a.continuous_w.max(b.continuous_w),
                ten_minutes: a.ten_minutes.with(b.ten_minutes),
                continuous_loss_w: a.continuous_loss_w.max(b.continuous_loss_w),
                mass_kg: a.mass_kg.min(b.mass_kg),
                price: a.price.min(b.price),
                peak_a: a.peak_a.max(b.peak_a),
                continuous_a: a.continuous_a.max(b.continuous_a),
                max_power_w: a.max_power_w.max(b.max_power_w),
                efficiency: a.efficiency.max(b.efficiency),
                min_v: a.min_v.min(b.min_v),
                asked_a: a.asked_a.min(b.asked_a),
                feedback_a: a.feedback_a.max(b.feedback_a),
            },
            masses: self.masses.with(&o.masses),
            ratings: self.ratings.filter(|own| o.ratings == Some(*own)),
            dearest: self.dearest.max(o.dearest),
            heaviest_kg: self.heaviest_kg.max(o.heaviest_kg),
            least_efficiency: self.least_efficiency.min(o.least_efficiency),
        }
    }
}
