//! How much room a module takes: as stated, or as such modules usually do.

use super::{Chemistry, Module, Standing};

/// Size of a module standing as its terminals ask: along, across, upwards.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Room {
    /// m.
    pub size_m: [f64; 3],
    /// Whether all three are stated.
    pub stated: bool,
}

/// Usual mass of a litre, kg, and proportions (common practice).
const fn usual_shape(chemistry: Chemistry, cells_in_series: u32) -> (f64, [f64; 3]) {
    match chemistry {
        Chemistry::LeadFlooded => (2.3, [1.6, 0.9, 1.2]),
        Chemistry::LeadAgm => (2.5, [1.6, 0.9, 1.1]),
        Chemistry::Lfp if cells_in_series == 1 => (2.1, [1.7, 0.6, 2.0]),
        Chemistry::Lfp => (1.9, [2.4, 1.5, 1.6]),
        Chemistry::Nmc if cells_in_series == 1 => (1.8, [1.2, 1.1, 0.8]),
        Chemistry::Nmc => (2.0, [3.3, 1.4, 1.0]),
        Chemistry::Lmo => (1.6, [3.0, 2.2, 0.4]),
        Chemistry::Lipo => (1.9, [3.2, 1.1, 1.0]),
        Chemistry::Lto => (1.9, [2.0, 1.3, 1.2]),
        Chemistry::Nimh => (1.9, [2.7, 0.3, 1.0]),
    }
}

impl Module {
    /// How much room it takes; what is not stated follows from its mass by what is usual for its kind.
    #[must_use]
    pub fn room(&self) -> Room {
        let (kg_l, shape) = usual_shape(self.chemistry, self.cells_in_series);
        let scale = (self.mass_kg / kg_l * 1e-3 / (shape[0] * shape[1] * shape[2])).cbrt();
        let said = [self.length_mm, self.width_mm, self.height_mm];
        Room { size_m: std::array::from_fn(|i| said[i].map_or(scale * shape[i], |mm| mm * 1e-3)), stated: said.iter().all(Option::is_some) }
    }

    /// Whether it may not lie on a side: open cells spill, and whatever says so itself.
    #[must_use]
    pub fn must_stand(&self) -> bool {
        self.stands == Standing::Upright || self.chemistry == Chemistry::LeadFlooded
    }
}
