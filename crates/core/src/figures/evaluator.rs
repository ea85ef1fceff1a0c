//! Evaluates headline figures one by one, as cheaply as they can be from the same model as the whole estimate.

use super::figure::FigureKind;
use super::{performance, trips};
use crate::cancel::Cancel;
use crate::document::Trip;
use crate::error::Result;
use crate::inputs::Counted;
use crate::powertrain::{Chain, Limits, Rating};
use crate::simulate::{Demands, RangeEnd, TopSpeed, TractiveForce, range_after};
use crate::trip::Trace;
use crate::vehicle::{Masses, masses};

/// A document's chain at the state of charge of its performance figures.
#[derive(Debug)]
pub(crate) struct OperatingPoint {
    pub(crate) masses: Masses,
    pub(crate) chain: Chain,
    pub(super) soc: f64,
    peak: Limits,
    /// Grip of the driven wheels over what they have.
    grip_times: f64,
}

impl OperatingPoint {
    pub(crate) fn of(document: &Counted) -> Result<Self> {
        let masses = masses(document);
        let chain = Chain::of(document, masses.test_kg)?;
        let soc = performance::run_soc(document, &chain.pack);
        let peak = chain.limits(soc, chain.low_voltage_w, Rating::Peak);
        Ok(Self { masses, chain, soc, peak, grip_times: 1.0 })
    }

    /// The same with so many times the grip, which nothing of some designs has more of.
    pub(crate) fn gripping(mut self, times: f64) -> Self {
        self.grip_times = times;
        self.chain.traction.drive_n *= times;
        self
    }
}

/// What one trip gives.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Driven {
    /// Minus infinity where it is not followed.
    pub(crate) range_km: f64,
    /// Infinite where it is not followed.
    pub(crate) wh_per_km: f64,
    /// Charge a kilometre takes; infinite where it is not followed.
    pub(crate) soc_per_km: f64,
    /// Whether it is followed.
    pub(crate) followed: bool,
    /// Whether heat held the torque back before the range was spent.
    pub(crate) derated: bool,
    /// Whether every run of the range was made, none bridged.
    pub(crate) every_run: bool,
    /// What a little more charge would come to, where that was looked at.
    pub(crate) further: Option<Further>,
    /// Where it is not followed: whether more mass could only make the chain slower on it.
    pub(crate) mass_only_slows: bool,
}

impl Driven {
    /// A trip that gives no range.
    fn without_range(followed: bool, derated: bool) -> Self {
        let never = f64::INFINITY;
        Self {
            range_km: -never,
            wh_per_km: never,
            soc_per_km: never,
            followed,
            derated,
            every_run: false,
            further: None,
            mass_only_slows: false,
        }
    }
}

/// Distances with a little more charge than a window holds: what a chain that takes a little less cannot exceed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Further {
    /// With each share of [`MORE_CHARGE`] more, km.
    pub(crate) km: [f64; MORE_CHARGE.len()],
    /// Energy drawn over that drawn less what was fed back.
    pub(crate) gross_over_net: f64,
}

/// Shares of the charge of a window by which more is looked at.
pub(crate) const MORE_CHARGE: [f64; 4] = [0.001, 0.003, 0.01, 0.03];

/// Computes the figures of one document one by one, each as it is asked for; what several of them need is worked out once.
pub(crate) struct Evaluator<'a> {
    pub(super) document: &'a Counted,
    pub(super) point: &'a OperatingPoint,
    /// Trips with their traces, in the order that kinds count them.
    trips: &'a [(Trip, Trace)],
    pub(super) pulls: Vec<TractiveForce<'a>>,
    top: Option<TopSpeed>,
    /// Range and energy use come from the same runs.
    driven: Vec<Option<Driven>>,
    looks_further: bool,
    gives_up_hot: bool,
    cancel: &'a Cancel,
}

impl<'a> Evaluator<'a> {
    /// Nothing computed yet.
    pub(crate) fn new(document: &'a Counted, point: &'a OperatingPoint, trips: &'a [(Trip, Trace)], cancel: &'a Cancel) -> Self {
        let pulls = performance::pulls(document, &point.chain, &point.peak);
        Self {
            document,
            point,
            trips,
            pulls,
            top: None,
            driven: vec![None; trips.len()],
            looks_further: false,
            gives_up_hot: false,
            cancel,
        }
    }

    /// Also tells what a little more charge would come to, where that is wanted.
    pub(crate) fn looking_further(self, looks_further: bool) -> Self {
        Self { looks_further, ..self }
    }

    /// Where heat rules a chain out, no trip is driven further than to where it holds the torque back, and it has no range.
    pub(crate) fn giving_up_hot(self, gives_up_hot: bool) -> Self {
        Self { gives_up_hot, ..self }
    }

    /// One figure; infinite (or minus infinite where more is better) for what is never reached.
    pub(crate) fn value(&mut self, kind: FigureKind) -> Result<f64> {
        kind.value(self)
    }

    /// Top speed on peak ratings, found once.
    pub(super) fn top(&mut self) -> TopSpeed {
        *self.top.get_or_insert_with(|| performance::top(&self.point.chain, &self.point.peak))
    }

    /// Limits at peak ratings.
    pub(super) fn peak(&self) -> &'a Limits {
        &self.point.peak
    }

    /// One trip, made once and repeated.
    pub(crate) fn trip(&mut self, i: usize) -> Result<Driven> {
        if let Some(known) = self.driven[i] {
            return Ok(known);
        }
        let (trip, trace) = &self.trips[i];
        // A drawn comfort load stands in the drawn document.
        let trip = self.document.brief.trips.get(i).unwrap_or(trip);
        let usual_kg = self.point.masses.test_kg;
        let is_usual = trip.weather.is_none() && (trips::mass_kg(self.document, trip) - usual_kg).abs() < 1e-9;
        let mut own = if is_usual { None } else { Some(trips::chain(self.document, trip)?) };
        if let Some(own) = &mut own {
            // Another payload changes shares of the mass by less than the grip is off by.
            own.traction.drive_n *= self.point.grip_times.powi(2);
        }
        let chain = own.as_ref().unwrap_or(&self.point.chain);
        let start = trip.start_soc.unwrap_or(chain.pack.soc_max);
        let demands =
            Demands::of(chain, trace, trips::way(trip), (start, chain.pack.soc_min), self.cancel).giving_up_hot(self.gives_up_hot);
        let once = demands.run_while_followed(start);
        let result = if once.is_cut_short() {
            Driven::without_range(true, true)
        } else if once.behind || once.distance_m <= 0.0 {
            let mass_only_slows = once.derated_s == 0.0 && demands.mass_only_slows();
            Driven { mass_only_slows, ..Driven::without_range(false, once.derated_s > 0.0) }
        } else {
            let wh_per_km = once.battery_j() / 3.6 / once.distance_m;
            let soc_per_km = (start - once.soc) * 1000.0 / once.distance_m;
            let (net_j, recovered_j) = (once.battery_j(), once.split().recovered_j);
            let repeated = range_after(&demands, start, once);
            let range = repeated.range;
            let further = || {
                let mut km = [0.0; MORE_CHARGE.len()];
                for (km, more) in km.iter_mut().zip(MORE_CHARGE) {
                    *km = repeated.further_m(&demands, start, more)? / 1000.0;
                }
                Some(Further { km, gross_over_net: 1.0 + recovered_j / net_j })
            };
            Driven {
                range_km: range.headline().unwrap_or(f64::NEG_INFINITY),
                wh_per_km,
                soc_per_km,
                followed: range.end != RangeEnd::NotFollowed,
                derated: range.derated_s > 0.0,
                every_run: repeated.every_run,
                further: if self.looks_further && range.derated_s == 0.0 && net_j > 0.0 { further() } else { None },
                mass_only_slows: false,
            }
        };
        self.cancel.check()?;
        self.driven[i] = Some(result);
        Ok(result)
    }
}
