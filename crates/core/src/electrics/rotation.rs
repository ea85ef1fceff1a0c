//! Which way a motor must turn so that the vehicle goes forward.

use crate::document::ShaftEnd;

/// Sense of rotation.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sense {
    /// As the hands of a clock.
    Clockwise,
    /// Against them.
    Anticlockwise,
}

impl Sense {
    /// The other one.
    #[must_use]
    pub fn reversed(self) -> Self {
        match self {
            Self::Clockwise => Self::Anticlockwise,
            Self::Anticlockwise => Self::Clockwise,
        }
    }

    /// As people say it.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Clockwise => "clockwise",
            Self::Anticlockwise => "anticlockwise",
        }
    }
}

/// Sense in which a motor turns, looking at its driven shaft end, when the vehicle goes forward: a forward wheel turns anticlockwise seen from
/// the left; each mesh of gears reverses, chain and belt do not (common practice).
///
/// ```
/// use joulethesis_core::document::ShaftEnd;
/// use joulethesis_core::electrics::rotation::{Sense, forward};
/// // Chain from a sprocket on the left: as the wheel.
/// assert_eq!(forward(ShaftEnd::Left, 0), Sense::Anticlockwise);
/// assert_eq!(forward(ShaftEnd::Right, 1), Sense::Anticlockwise);
/// ```
#[must_use]
pub fn forward(end: ShaftEnd, meshes: u32) -> Sense {
    let wheel = match end {
        ShaftEnd::Left => Sense::Anticlockwise,
        ShaftEnd::Right => Sense::Clockwise,
    };
    if meshes.is_multiple_of(2) { wheel } else { wheel.reversed() }
}
