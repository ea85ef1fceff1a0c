//! One complete configuration: places in the lists of a problem, and the design it stands for.

use super::space::SearchProblem;
use crate::document::{Design, Document, MotorPlace, Pack};
use crate::inputs::Counted;
use crate::library::Module;

/// One complete configuration, by places in the lists of a [`SearchProblem`].
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub(super) struct Configuration {
    pub(super) motor: u16,
    pub(super) count: u16,
    pub(super) place: u8,
    pub(super) gearing: u16,
    pub(super) controller: u16,
    pub(super) module: u16,
    pub(super) series: u16,
    pub(super) parallel: u16,
    pub(super) charger: u16,
}

impl Configuration {
    /// A number that orders choices as their lists are ordered.
    pub(super) fn key(&self) -> u128 {
        let fields = [
            self.motor,
            self.count * 8 + u16::from(self.place),
            self.gearing,
            self.controller,
            self.module,
            self.series,
            self.parallel,
            self.charger,
        ];
        fields.into_iter().fold(0, |key, field| (key << 16) | u128::from(field))
    }
}

pub(super) const PLACES: [MotorPlace; 4] = [MotorPlace::Shaft, MotorPlace::Wheels, MotorPlace::EachAxle, MotorPlace::EveryWheel];

impl SearchProblem {
    /// Pack of a module with its box.
    pub(super) fn pack(&self, module: &Module, series: u16, parallel: u16) -> Pack {
        let mut pack = bare_pack(module, series, parallel, self.written.design.pack.as_ref());
        self.put_in_parallel(&mut pack, parallel);
        pack
    }

    /// Gives a pack as many strings in parallel, and a box for them.
    pub(super) fn put_in_parallel(&self, pack: &mut Pack, parallel: u16) {
        pack.strings_in_parallel = u32::from(parallel);
        let kg = f64::from(pack.modules_in_series) * f64::from(parallel) * pack.module.mass_kg;
        (pack.box_mass_kg, pack.box_price) = self.pack_box(kg);
    }

    /// Mass and price of a pack with its box, kg and money.
    pub(super) fn pack_mass_and_price(&self, module: u16, series: u16, parallel: u16) -> (f64, f64) {
        let record = &self.modules[usize::from(module)].counted;
        let count = f64::from(series) * f64::from(parallel);
        let (box_kg, box_price) = self.pack_box(count * record.mass_kg);
        (count * record.mass_kg + box_kg, count * record.price + box_price)
    }

    /// Mass and price of the box for some mass of modules: to the tenth of a kilogram and the whole unit of money, as a person would
    /// write them.
    fn pack_box(&self, modules_kg: f64) -> (f64, f64) {
        ((modules_kg * self.box_mass_share * 10.0).round() / 10.0, (modules_kg * self.box_price_per_kg).round())
    }

    /// The design of a configuration; with claims counted, or as it is handed out.
    pub(super) fn design(&self, configuration: &Configuration, counted: bool) -> Design {
        let base: &Document = if counted { &self.base } else { &self.written };
        let pick = |i: u16| usize::from(i);
        let gearing = &self.gearings[pick(configuration.gearing)];
        let motor = &self.motors[pick(configuration.motor)];
        let controller = &self.controllers[pick(configuration.controller)];
        let module = &self.modules[pick(configuration.module)];
        let module = if counted { &module.counted } else { &module.written };
        let charger = self.chargers[pick(configuration.charger)].as_ref();
        let mut design = Design { pack: Some(self.pack(module, configuration.series, configuration.parallel)), ..base.design.clone() };
        design.motor = Some(if counted { motor.counted.clone() } else { motor.written.clone() });
        design.controller = Some(if counted { controller.counted.clone() } else { controller.written.clone() });
        design.charger = charger.map(|c| if counted { c.counted.clone() } else { c.written.clone() });
        design.motor_count = u32::from(configuration.count);
        design.controller_count = u32::from(configuration.count);
        design.motor_place = PLACES[usize::from(configuration.place)];
        design.driveline.clone_from(&gearing.driveline);
        design.added.extend(gearing.added.clone());
        design
    }

    /// The counted document of a configuration.
    pub(super) fn document(&self, configuration: &Configuration) -> Counted {
        let design = self.design(configuration, true);
        self.base.clone().with(|d| d.design = design)
    }
}

pub(super) fn bare_pack(module: &Module, series: u16, parallel: u16, like: Option<&Pack>) -> Pack {
    Pack {
        module: module.clone(),
        modules_in_series: u32::from(series),
        strings_in_parallel: u32::from(parallel),
        soc_min: None,
        soc_max: None,
        box_mass_kg: 0.0,
        box_price: 0.0,
        // The price of the box includes its watching.
        monitored: module.chemistry.is_lithium(),
        window_approach: like.map_or_else(Default::default, |p| p.window_approach),
        temperature_c: like.and_then(|p| p.temperature_c),
        interconnect_resistance_ohm: like.map_or(0.0, |p| p.interconnect_resistance_ohm),
        added_strings: Vec::new(),
    }
}
