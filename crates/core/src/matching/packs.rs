//! Packs with the chargers that suit them, as closed forms need them.

use super::space::SearchProblem;
use crate::document::{Document, Pack, Trip};
use crate::figures::performance;
use crate::inputs::Counted;
use crate::pack::{PackModel, Peukert};
use crate::vehicle::Conditions;

/// A charger on a pack.
#[derive(Debug, Clone, Copy)]
pub(super) struct ChargerSide {
    pub(super) place: u16,
    pub(super) mass_kg: f64,
    pub(super) price: f64,
    /// h at the socket that counts, no more than it takes; infinite when it never fills, zero without a socket.
    pub(super) hours: f64,
    /// Shortfall of the charging goals that may be missed, share of their targets.
    pub(super) shortfall: f64,
}

impl ChargerSide {
    /// Its mass, from the least to the greatest, kg.
    pub(super) fn only_kg(&self) -> (f64, f64) {
        (self.mass_kg, self.mass_kg)
    }
}

/// A pack on the day of a trip.
#[derive(Debug, Clone, Copy)]
pub(super) struct OnTrip {
    /// Open-circuit voltage at its start, V.
    pub(super) start_v: f64,
    /// Mean open-circuit voltage over the charge that it may use, V.
    pub(super) mean_v: f64,
    /// The least within that charge, V.
    pub(super) least_v: f64,
    pub(super) resistance_ohm: f64,
    pub(super) peukert: Peukert,
    pub(super) peak_a: f64,
    /// Amps fed back that its cells take, as far as that is respected.
    pub(super) feedback_a: f64,
    /// Within the window, J, and as a share of the charge that the cells hold.
    pub(super) usable_j: f64,
    pub(super) window: f64,
}

/// A pack with the chargers that fit it.
#[derive(Debug)]
pub(super) struct PackSide {
    pub(super) module: u16,
    pub(super) series: u16,
    pub(super) parallel: u16,
    pub(super) model: PackModel,
    pub(super) mass_kg: f64,
    pub(super) price: f64,
    /// Open-circuit voltage of runs, V.
    pub(super) run_v: f64,
    /// On the day of the trip that counts.
    pub(super) on_trip: OnTrip,
    pub(super) chargers: Vec<ChargerSide>,
}

/// Where no more than this share of the window is told to be used at least, the window surely is not spent (judgement: what is told is mostly a
/// twentieth less than what is used; the most that was met is a quarter, of a weak pack that heats itself).
const SURELY: f64 = 0.75;
/// Stages in which the voltage falls over that share.
const STAGES: u32 = 16;

/// The same share where no more than some amps are drawn: Peukert's law counts more than is drawn.
fn surely(pack: &PackModel, most_a: f64) -> f64 {
    if pack.has_peukert() { SURELY * most_a / pack.counted_a(most_a) } else { SURELY }
}

/// A pack on the day of a trip; none where that is the usual one.
fn on_its_day(with: &Document, pack: impl FnOnce() -> Pack, trip: &Trip) -> Option<PackModel> {
    trip.weather.is_some().then(|| PackModel::of(&pack(), &with.design.wiring, Conditions::of_trip(with, trip).pack_temperature_c))
}

/// Charge that a trip starts with.
fn start_soc(pack: &PackModel, trip: &Trip) -> f64 {
    trip.start_soc.unwrap_or(pack.soc_max).max(pack.soc_min)
}

impl PackSide {
    /// Puts one string of some modules into a template of the search in place of any pack and charger.
    pub(super) fn begin(problem: &SearchProblem, with: &mut Counted, (module, series): (u16, u16)) {
        let one = problem.pack(&problem.modules[usize::from(module)].counted, series, 1);
        with.set(|d| (d.design.pack, d.design.charger) = (Some(one), None));
    }

    /// A pack without its chargers: as many strings in parallel of the one that [`Self::begin`] has put into a template of the search; none without
    /// one.
    pub(super) fn of(problem: &SearchProblem, with: &mut Counted, (module, series, parallel): (u16, u16, u16)) -> Option<Self> {
        let (mass_kg, price) = problem.pack_mass_and_price(module, series, parallel);
        with.set(|d| {
            d.design.charger = None;
            if let Some(pack) = &mut d.design.pack {
                problem.put_in_parallel(pack, parallel);
            }
        });
        let pack = with.design.pack.as_ref()?;
        let model = PackModel::of(pack, &with.design.wiring, Conditions::of(with).pack_temperature_c);
        let trip = problem.trip.map(|i| &problem.trips[i].0);
        let respected = with.design.regeneration.respect_pack_limits;
        let own = trip.and_then(|trip| on_its_day(with, || pack.clone(), trip));
        let on_day = own.as_ref().unwrap_or(&model);
        let start = trip.map_or(on_day.soc_max, |t| start_soc(on_day, t));
        let (usable_wh, start_v) = (on_day.energy_wh(on_day.soc_min, start), on_day.ocv_v(start));
        let usable_ah = (start - on_day.soc_min) * on_day.capacity_a_s / 3600.0;
        // Where Peukert's law counts, runs are not spread evenly over the charge.
        let even = usable_ah > 0.0 && !on_day.has_peukert();
        let on_trip = OnTrip {
            start_v,
            mean_v: if even { usable_wh / usable_ah } else { start_v },
            least_v: on_day.ocv_v(on_day.soc_min),
            resistance_ohm: on_day.resistance_ohm,
            peukert: on_day.peukert,
            peak_a: on_day.peak_a,
            feedback_a: if respected { on_day.charge_a } else { f64::INFINITY },
            usable_j: usable_wh * 3600.0,
            window: start - on_day.soc_min,
        };
        let run_v = model.ocv_v(performance::run_soc(with, &model));
        Some(Self { module, series, parallel, mass_kg, price, run_v, on_trip, chargers: Vec::new(), model })
    }

    /// Stages of the charge on a trip, `top_v` at first: as far as the window surely reaches where no more than `most_a` are drawn, or down to its
    /// end and beyond.
    pub(super) fn stages(&self, problem: &SearchProblem, trip: usize, top_v: f64, most_a: Option<f64>) -> Vec<(f64, f64)> {
        let trip = &problem.trips[trip].0;
        let pack = || problem.pack(&problem.modules[usize::from(self.module)].counted, self.series, self.parallel);
        let own = on_its_day(&problem.light, pack, trip);
        let on_day = own.as_ref().unwrap_or(&self.model);
        let start = start_soc(on_day, trip);
        let share = most_a.map_or(1.0, |amps| surely(on_day, amps));
        let stage = |i: u32| {
            let soc = start - share * f64::from(i) / f64::from(STAGES) * (start - on_day.soc_min);
            (on_day.energy_wh(soc, start) * 3600.0, on_day.ocv_v(soc))
        };
        let beyond = most_a.is_none().then(|| (f64::INFINITY, on_day.ocv_v(on_day.soc_min)));
        std::iter::once((0.0, top_v)).chain((1..=STAGES).map(stage)).chain(beyond).collect()
    }
}
