//! Draws of the uncertain inputs: a scrambled Sobol sequence with a fixed seed, turned into factors.

use statrs::distribution::{ContinuousCDF, Normal};

use super::levers::{self, Lever, Measurement, Shape};
use crate::document::Document;
use crate::quantity::Provenance;

/// Draws of a band.
pub const DRAWS: u32 = 256;
/// Any fixed number; bands repeat to the last bit because of it.
const SEED: u32 = 0x4a6f_756c;
/// Standard normal deviate that 90 % lie below: a spread holds the middle 80 %.
const P90: f64 = 1.281_551_565_544_6;
/// Least factor of anything drawn, so that nothing falls to zero or below and no loss vanishes.
const LEAST_FACTOR: f64 = 0.05;

/// The uncertain inputs of one document with how far each is trusted.
pub(super) struct Inputs {
    pub(super) used: Vec<Input>,
}

pub(super) struct Input {
    pub(super) lever: &'static Lever,
    /// Dimension of the sequence; its place in the whole list, so that adding a part does not reshuffle the others.
    dimension: u32,
    pub(super) from: Provenance,
    /// Half-width as a share; for a seller's claim the width below it.
    pub(super) spread: f64,
    /// Factor of the median where it is settled by a measurement: that of the claim it was.
    settled: Option<f64>,
}

impl Inputs {
    pub(super) fn of(document: &Document) -> Self {
        let input = |(dimension, lever): (u32, &'static Lever)| {
            let trust = lever.trust(document)?;
            Some(Input { lever, dimension, from: trust.from, spread: trust.spread_percent.unwrap_or_default() / 100.0, settled: None })
        };
        Self { used: (0u32..).zip(levers::all()).filter_map(input).collect() }
    }

    /// The same with everything that a measurement settles trusted as measured.
    pub(super) fn with(document: &Document, measurement: Measurement) -> Self {
        let mut inputs = Self::of(document);
        for input in &mut inputs.used {
            if input.lever.measurement == measurement {
                // The median stays where it was; only the doubt around it goes.
                input.settled = Some(input.factor(0.5));
                input.spread = Provenance::Measured.default_spread();
                input.from = Provenance::Measured;
            }
        }
        inputs
    }

    /// A document with input number `i` at its quantile `at(i)`.
    pub(super) fn at(&self, document: &Document, at: impl Fn(&Input) -> f64) -> Document {
        let mut drawn = document.clone();
        for input in &self.used {
            let factor = input.factor(at(input));
            if factor != 1.0 {
                (input.lever.apply)(&mut drawn, factor);
            }
        }
        drawn
    }

    /// Draw number `index`.
    pub(super) fn draw(&self, document: &Document, index: u32) -> Document {
        self.at(document, |input| {
            // Single precision leaves 0 possible; half a cell of the sequence keeps clear of the end.
            f64::from(sobol_burley::sample(index, input.dimension, SEED)).clamp(0.5 / f64::from(DRAWS), 1.0 - 0.5 / f64::from(DRAWS))
        })
    }
}

impl Input {
    pub(super) fn is_claim(&self) -> bool {
        self.lever.shape == Shape::Claim && self.from == Provenance::Seller
    }

    /// Factor at a quantile: normal about the value, or even between the seller's claim and what it may really be.
    pub(super) fn factor(&self, quantile: f64) -> f64 {
        if self.is_claim() {
            return 1.0 - self.spread * (1.0 - quantile);
        }
        let median = self.settled.unwrap_or(1.0);
        if quantile == 0.5 {
            return median;
        }
        let width = if self.lever.shape == Shape::Loss { 1.5 } else { 1.0 };
        let deviate = Normal::standard().inverse_cdf(quantile) / P90;
        let factor = median * (1.0 + width * self.spread * deviate);
        factor.max(LEAST_FACTOR)
    }
}
