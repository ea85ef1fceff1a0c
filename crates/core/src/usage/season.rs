//! Everything a week asks of a design on the days of one season, worked out once.

use crate::cancel::Cancel;
use crate::charge::ChargeCurve;
use crate::document::Season;
use crate::error::Result;
use crate::figures::trips::{find, mass_kg, trace, way};
use crate::inputs::Counted;
use crate::powertrain::{Chain, Rise};
use crate::simulate::{Demands, ShiftPolicy};
use crate::trip::Trace;
use crate::vehicle::{Conditions, masses};

/// A trip on the days of a season.
pub(super) struct SeasonTrip {
    pub(super) id: String,
    pub(super) name: String,
    chain: Chain,
    trace: Trace,
    way: ShiftPolicy,
}

/// What one trip did.
#[derive(Debug, Clone, Copy)]
pub(super) struct Made {
    /// State of charge at its end.
    pub(super) soc: f64,
    /// Charge that was counted beside what was delivered, and comes back by itself.
    pub(super) rests: f64,
    pub(super) driven_km: f64,
    pub(super) short_km: f64,
    pub(super) hours_h: f64,
    /// Whether it was made to its end within the window.
    pub(super) made: bool,
    /// Whether it was given up though there was charge left.
    pub(super) behind: bool,
}

/// The trips and sockets of a week in one season.
pub(super) struct SeasonModel<'a> {
    pub(super) temperature_c: f64,
    /// Usable energy of the pack, kWh.
    pub(super) usable_kwh: f64,
    pub(super) trips: Vec<SeasonTrip>,
    /// Charge at each socket of the brief from empty; `None` without a charger.
    pub(super) curves: Vec<Option<ChargeCurve>>,
    pub(super) document: &'a Counted,
    pub(super) window: (f64, f64),
    cancel: Cancel,
}

impl<'a> SeasonModel<'a> {
    /// Of some trips and schedules by their ids, each once.
    pub(super) fn of<'t>(
        document: &'a Counted,
        trips: impl IntoIterator<Item = &'t str>,
        season: &Season,
        cancel: &Cancel,
    ) -> Result<Self> {
        let day = Conditions::of_season(document, season);
        let mut ids: Vec<&str> = trips.into_iter().collect();
        ids.sort_unstable();
        ids.dedup();
        let one = |id: &str| {
            let trip = find(document, id)?;
            let chain = Chain::on(document, mass_kg(document, &trip), &day)?;
            let mut way = way(&trip);
            way.hvac_w += season.hvac_w;
            let trace = trace(document, &chain, &trip, trip.driving_style);
            Ok(SeasonTrip { id: trip.id, name: trip.name, chain, trace, way })
        };
        let trips = ids.into_iter().map(one).collect::<Result<Vec<_>>>()?;
        let pack = Chain::on(document, masses(document).test_kg, &day)?.pack;
        let curves = document.brief.sockets.iter().map(|s| ChargeCurve::of(document, &pack, s, 0.0, pack.soc_max)).collect();
        cancel.check()?;
        Ok(Self {
            temperature_c: day.temperature_c,
            usable_kwh: pack.energy_wh(pack.soc_min, pack.soc_max) / 1000.0,
            trips,
            curves,
            document,
            window: (pack.soc_min, pack.soc_max),
            cancel: cancel.clone(),
        })
    }

    /// The charge at a socket of the brief.
    pub(super) fn curve(&self, socket: &str) -> Option<&ChargeCurve> {
        let place = self.document.brief.sockets.iter().position(|s| s.id == socket)?;
        self.curves[place].as_ref()
    }

    /// Whether whatever it is worked out for has been told to stop.
    pub(super) fn is_cancelled(&self) -> bool {
        self.cancel.is_cancelled()
    }

    /// What each trip asks, ready to be made from any state of charge.
    pub(super) fn demands(&self) -> Vec<Demands<'_>> {
        self.trips.iter().map(|t| Demands::of(&t.chain, &t.trace, t.way, (self.window.1, self.window.0), &self.cancel)).collect()
    }

    /// Makes a trip from a state of charge, cold.
    pub(super) fn make(&self, trip: usize, demands: &[Demands<'_>], soc: f64) -> Made {
        let of = &self.trips[trip];
        let whole_m = of.trace.distance_m();
        let run = demands[trip].run_within(soc, self.window.0, Rise::default());
        let ended = run.soc <= self.window.0;
        let counted = soc - run.soc;
        let rests = if of.chain.pack.has_peukert() { (counted - run.delivered_a_s * of.chain.pack.per_a_s).max(0.0) } else { 0.0 };
        Made {
            soc: run.soc,
            rests,
            driven_km: run.distance_m / 1000.0,
            short_km: (whole_m - run.distance_m).max(0.0) / 1000.0,
            hours_h: run.time_s / 3600.0,
            made: !ended && !run.behind && run.distance_m > 0.0,
            behind: run.behind && !ended,
        }
    }
}
