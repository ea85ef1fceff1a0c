//! Samples of the uncertain inputs: a scrambled Sobol sequence with a fixed seed, turned into factors.

use statrs::distribution::{ContinuousCDF, Normal};

use super::loads::PRICES;
use super::{Counted, InputDefinition, Measurement, Shape, definitions};
use crate::document::Document;
use crate::quantity::Provenance;

/// Samples of a band.
pub const SAMPLES: u32 = 256;
/// Any fixed number; bands repeat to the last bit because of it.
const SEED: u32 = 0x4a6f_756c;
/// Standard normal deviate that 90 % lie below: a spread holds the middle 80 %.
const P90: f64 = 1.281_551_565_544_6;
/// Least factor of anything sampled, so that nothing falls to zero or below and no loss vanishes.
const LEAST_FACTOR: f64 = 0.05;

/// The uncertain inputs of one document with how far each is trusted.
pub(crate) struct UncertainInputs {
    pub(crate) used: Vec<UncertainInput>,
}

pub(crate) struct UncertainInput {
    pub(crate) definition: &'static InputDefinition,
    /// Dimension of the sequence; its place in the whole list, so that adding a part does not reshuffle the others.
    dimension: u32,
    pub(crate) from: Provenance,
    /// Half-width as a share; for a seller's claim the width below it.
    pub(crate) spread: f64,
    /// Factor of the median where it is settled by a measurement: that of the claim it was.
    settled: Option<f64>,
}

impl UncertainInputs {
    pub(crate) fn of(document: &Document) -> Self {
        let input = |(dimension, definition): (u32, &'static InputDefinition)| {
            let trust = definition.trust(document)?;
            Some(UncertainInput {
                definition,
                dimension,
                from: trust.from,
                spread: trust.spread_percent.unwrap_or_default() / 100.0,
                settled: None,
            })
        };
        Self { used: (0u32..).zip(definitions()).filter_map(input).collect() }
    }

    /// The same with everything that a measurement settles trusted as measured.
    pub(crate) fn with(document: &Document, measurement: Measurement) -> Self {
        let mut inputs = Self::of(document);
        for input in &mut inputs.used {
            if input.definition.measurement == measurement {
                // The median stays where it was; only the doubt around it goes.
                input.settled = Some(input.factor(0.5));
                input.spread = Provenance::Measured.default_spread();
                input.from = Provenance::Measured;
            }
        }
        inputs
    }

    /// A document with input number `i` at its quantile `at(i)`.
    pub(crate) fn at(&self, document: &Document, at: impl Fn(&UncertainInput) -> f64) -> Counted {
        let mut sampled = document.clone();
        for input in &self.used {
            let factor = input.factor(at(input));
            if factor != 1.0 {
                (input.definition.apply)(&mut sampled, factor);
            }
        }
        Counted(sampled)
    }

    /// Sample number `index`.
    pub(crate) fn sample(&self, document: &Document, index: u32) -> Counted {
        self.at(document, |input| input.quantile_of(index))
    }

    /// The factor on all prices in sample number `index`.
    pub(crate) fn prices(&self, index: u32) -> f64 {
        let doubted = self.used.iter().find(|input| input.definition.path == PRICES);
        doubted.map_or(1.0, |input| input.factor(input.quantile_of(index)))
    }
}

impl UncertainInput {
    /// Its quantile in sample number `index`.
    fn quantile_of(&self, index: u32) -> f64 {
        // Single precision leaves 0 possible; half a cell of the sequence keeps clear of the end.
        let end = 0.5 / f64::from(SAMPLES);
        f64::from(sobol_burley::sample(index, self.dimension, SEED)).clamp(end, 1.0 - end)
    }

    pub(crate) fn is_claim(&self) -> bool {
        self.definition.shape == Shape::Claim && self.from == Provenance::Seller
    }

    /// Factor at a quantile: normal about the value, or even between the seller's claim and what it may really be.
    pub(crate) fn factor(&self, quantile: f64) -> f64 {
        if self.is_claim() {
            return 1.0 - self.spread * (1.0 - quantile);
        }
        let median = self.settled.unwrap_or(1.0);
        if quantile == 0.5 {
            return median;
        }
        let width = if self.definition.shape == Shape::Loss { 1.5 } else { 1.0 };
        let deviate = Normal::standard().inverse_cdf(quantile) / P90;
        let factor = median * (1.0 + width * self.spread * deviate);
        factor.max(LEAST_FACTOR)
    }
}
