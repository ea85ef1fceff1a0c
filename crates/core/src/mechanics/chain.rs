//! Roller chains: pitch, strength, sprockets, links and the distance of the shafts that closes them (ANSI/ASME B29.1).

use std::f64::consts::PI;

use crate::document::ChainNumber;

impl ChainNumber {
    /// All of them.
    pub const ALL: [Self; 9] =
        [Self::No25, Self::No35, Self::No40, Self::No50, Self::No60, Self::No420, Self::No428, Self::No520, Self::No530];

    /// Pitch, mm (ANSI B29.1; from memory).
    #[must_use]
    pub fn pitch_mm(self) -> f64 {
        match self {
            Self::No25 => 6.35,
            Self::No35 => 9.525,
            Self::No40 | Self::No420 | Self::No428 => 12.7,
            Self::No50 | Self::No520 | Self::No530 => 15.875,
            Self::No60 => 19.05,
        }
    }

    /// Least load at which one strand breaks, N (ANSI B29.1, from memory; motorcycle chains as the ANSI chain of their pitch, which the
    /// better ones pass).
    #[must_use]
    pub(crate) fn breaks_n(self) -> f64 {
        match self {
            Self::No25 => 3_470.0,
            Self::No35 => 7_830.0,
            Self::No40 | Self::No420 | Self::No428 => 13_900.0,
            Self::No50 | Self::No520 | Self::No530 => 21_700.0,
            Self::No60 => 31_300.0,
        }
    }

    /// As it is stamped on the plates.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::No25 => "25",
            Self::No35 => "35",
            Self::No40 => "40",
            Self::No50 => "50",
            Self::No60 => "60",
            Self::No420 => "420",
            Self::No428 => "428",
            Self::No520 => "520",
            Self::No530 => "530",
        }
    }
}

/// Diameter of the circle through the pins of a sprocket, mm: p / sin(pi / N).
///
/// ```
/// use joulethesis_core::mechanics::chain::pitch_diameter_mm;
/// // A 40 chain on 17 teeth: 2.721 in in the tables of ANSI B29.1.
/// assert!((pitch_diameter_mm(12.7, 17) / 25.4 - 2.721).abs() < 0.001);
/// ```
#[must_use]
pub fn pitch_diameter_mm(pitch_mm: f64, teeth: u32) -> f64 {
    pitch_mm / (PI / f64::from(teeth)).sin()
}

/// What the difference of the teeth adds to the length.
fn spread(teeth: [u32; 2]) -> f64 {
    let difference = f64::from(teeth[1]) - f64::from(teeth[0]);
    difference * difference / (4.0 * PI * PI)
}

/// Links, not whole, of a chain around two sprockets: 2C/p + (N1 + N2)/2 + p (N2 - N1)^2 / (4 pi^2 C).
#[must_use]
pub fn links(pitch_mm: f64, teeth: [u32; 2], centre_mm: f64) -> f64 {
    2.0 * centre_mm / pitch_mm + 0.5 * f64::from(teeth[0] + teeth[1]) + pitch_mm * spread(teeth) / centre_mm
}

/// The even number of links next to a length: an odd chain needs a half link, which is weaker.
#[must_use]
pub fn even_links(links: f64) -> u32 {
    (2.0 * (0.5 * links).round()).max(2.0) as u32
}

/// Distance of the shafts at which a chain of so many links is just taut, mm; `None` where it is too short for the sprockets.
#[must_use]
pub fn centre_for_mm(pitch_mm: f64, teeth: [u32; 2], links: u32) -> Option<f64> {
    let straight = f64::from(links) - 0.5 * f64::from(teeth[0] + teeth[1]);
    let root = straight * straight - 8.0 * spread(teeth);
    (straight > 0.0 && root >= 0.0).then(|| 0.25 * pitch_mm * (straight + root.sqrt()))
}

/// Share by which a chain has grown when it is replaced (common practice).
pub const WORN: f64 = 0.02;

/// How much further apart the shafts must be able to go to keep a chain taut until it is worn, mm: half of what it grows by, as two straight
/// runs take it up.
#[must_use]
pub fn slot_mm(pitch_mm: f64, links: u32) -> f64 {
    0.5 * WORN * f64::from(links) * pitch_mm
}

/// Angle that the chain wraps the smaller sprocket, degrees; `None` where the sprockets run into each other.
#[must_use]
pub fn wrap_deg(pitch_mm: f64, teeth: [u32; 2], centre_mm: f64) -> Option<f64> {
    let [a, b] = teeth.map(|n| pitch_diameter_mm(pitch_mm, n));
    (centre_mm > 0.5 * (a + b)).then(|| 180.0 - 2.0 * (0.5 * (a - b).abs() / centre_mm).asin().to_degrees())
}
