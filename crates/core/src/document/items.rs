//! Everything a design puts into the vehicle, as one list: what mass, money, bands, rules and the search add up.

use super::{AddedItem, Design, HAZARDOUS_V, Slot};
use crate::library::Module;

/// What an item is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ItemKind {
    /// A motor.
    Motor,
    /// A controller.
    Controller,
    /// A module of the pack, of its first strings or of added ones.
    Module,
    /// Box, straps and monitoring of the pack.
    PackBox,
    /// The charger.
    Charger,
    /// A component of the circuits; of cable its metres.
    Component,
    /// Anything else.
    Other,
}

impl ItemKind {
    /// Link of the chain or group of the money account it belongs to.
    #[must_use]
    pub fn group(self) -> &'static str {
        match self {
            Self::Motor => "motor",
            Self::Controller => "controller",
            Self::Module | Self::PackBox => "pack",
            Self::Charger => "charger",
            Self::Component => "electrics",
            Self::Other => "other parts",
        }
    }
}

/// So many equal things put into the vehicle.
#[derive(Debug, Clone, PartialEq)]
pub struct Item<'a> {
    /// What it is.
    pub kind: ItemKind,
    /// Its name.
    pub name: &'a str,
    /// How many.
    pub count: f64,
    /// Mass of one, kg.
    pub mass_kg: f64,
    /// Price of one.
    pub price: f64,
    /// Currency of the price; absent: the brief's.
    pub currency: Option<&'a str>,
    /// Where it stands in the document.
    pub place: String,
}

impl Item<'_> {
    /// Mass of all of them, kg.
    #[must_use]
    pub fn total_kg(&self) -> f64 {
        self.count * self.mass_kg
    }

    /// Price of all of them.
    #[must_use]
    pub fn total_price(&self) -> f64 {
        self.count * self.price
    }
}

impl Design {
    /// Every item of the design, in the order of the chain.
    ///
    /// ```
    /// use joulethesis_core::document::Design;
    /// assert!(Design::default().items().is_empty());
    /// ```
    #[must_use]
    pub fn items(&self) -> Vec<Item<'_>> {
        let mut items = Vec::with_capacity(6 + self.added.len());
        if let Some(m) = &self.motor {
            let (count, currency) = (f64::from(self.motor_count), m.currency.as_deref());
            items.push(Item {
                kind: ItemKind::Motor,
                name: &m.name,
                count,
                mass_kg: m.mass_kg,
                price: m.price,
                currency,
                place: "design.motor".to_owned(),
            });
        }
        if let Some(c) = &self.controller {
            let (count, currency) = (f64::from(self.controller_count), c.currency.as_deref());
            items.push(Item {
                kind: ItemKind::Controller,
                name: &c.name,
                count,
                mass_kg: c.mass_kg,
                price: c.price,
                currency,
                place: "design.controller".to_owned(),
            });
        }
        if let Some(p) = &self.pack {
            let count = |series: u32, strings: u32| f64::from(series) * f64::from(strings);
            items.push(module_item(&p.module, count(p.modules_in_series, p.strings_in_parallel), "design.pack.module".to_owned()));
            for (i, s) in p.added_strings.iter().enumerate() {
                let place = format!("design.pack.added_strings[{i}].module");
                items.push(module_item(&s.module, count(s.modules_in_series, s.strings_in_parallel), place));
            }
            if p.box_mass_kg > 0.0 || p.box_price > 0.0 {
                items.push(Item {
                    kind: ItemKind::PackBox,
                    name: "box and monitoring",
                    count: 1.0,
                    mass_kg: p.box_mass_kg,
                    price: p.box_price,
                    currency: None,
                    place: "design.pack.box_mass_kg".to_owned(),
                });
            }
        }
        if let Some(c) = &self.charger {
            items.push(Item {
                kind: ItemKind::Charger,
                name: &c.name,
                count: 1.0,
                mass_kg: c.mass_kg,
                price: c.price,
                currency: c.currency.as_deref(),
                place: "design.charger".to_owned(),
            });
        }
        items.extend(self.electrics.fitted.all().map(|(slot, c)| Item {
            kind: ItemKind::Component,
            name: &c.name,
            count: self.count_of(slot),
            mass_kg: c.mass_kg,
            price: c.price,
            currency: c.currency.as_deref(),
            place: format!("design.electrics.fitted.{}", slot.key()),
        }));
        items.extend(self.added.iter().enumerate().map(|(i, AddedItem { name, mass_kg, price, .. })| Item {
            kind: ItemKind::Other,
            name,
            count: 1.0,
            mass_kg: *mass_kg,
            price: *price,
            currency: None,
            place: format!("design.added[{i}]"),
        }));
        items
    }

    /// How many of what goes into a place: metres of cable, a contactor in each pole above 60 V.
    #[must_use]
    pub fn count_of(&self, slot: Slot) -> f64 {
        match slot {
            Slot::TractionCable => self.wiring.cable_length_m.unwrap_or(0.0),
            Slot::MainContactor if self.pack.as_ref().is_some_and(|p| p.full_charge_v() > HAZARDOUS_V) => 2.0,
            _ => 1.0,
        }
    }

    /// Mass, kg, and price of what each block of components holds: of the contactor box, then of every component that stands by itself.
    #[must_use]
    pub(crate) fn component_blocks(&self) -> Vec<(Option<Slot>, f64, f64)> {
        let mut blocks = vec![(None, 0.0, 0.0)];
        for (slot, component) in self.electrics.fitted.all() {
            let count = self.count_of(slot);
            let (kg, price) = (count * component.mass_kg, count * component.price);
            if self.layout.fitted.get(slot).is_some() {
                blocks.push((Some(slot), kg, price));
            } else {
                blocks[0].1 += kg;
                blocks[0].2 += price;
            }
        }
        blocks
    }

    /// Mass of the items of one kind, kg.
    #[must_use]
    pub fn mass_of(&self, kind: ItemKind) -> f64 {
        self.items().iter().filter(|i| i.kind == kind).map(Item::total_kg).sum()
    }

    /// The price of each item, to be changed; in the order of [`Design::items`].
    pub fn prices_mut(&mut self) -> Vec<&mut f64> {
        let mut prices: Vec<&mut f64> = Vec::new();
        prices.extend(self.motor.as_mut().map(|m| &mut m.price));
        prices.extend(self.controller.as_mut().map(|c| &mut c.price));
        if let Some(p) = &mut self.pack {
            prices.push(&mut p.module.price);
            prices.extend(p.added_strings.iter_mut().map(|s| &mut s.module.price));
            prices.push(&mut p.box_price);
        }
        prices.extend(self.charger.as_mut().map(|c| &mut c.price));
        let f = &mut self.electrics.fitted;
        let places = [
            &mut f.pack_fuse,
            &mut f.disconnect,
            &mut f.main_contactor,
            &mut f.traction_cable,
            &mut f.charge_fuse,
            &mut f.charge_inlet,
            &mut f.fast_inlet,
            &mut f.converter,
            &mut f.throttle,
            &mut f.brake_assistance,
            &mut f.heater,
            &mut f.monitor,
        ];
        prices.extend(places.into_iter().flatten().map(|c| &mut c.price));
        prices.extend(self.added.iter_mut().map(|a| &mut a.price));
        prices
    }
}

fn module_item(module: &Module, count: f64, place: String) -> Item<'_> {
    Item {
        kind: ItemKind::Module,
        name: &module.name,
        count,
        mass_kg: module.mass_kg,
        price: module.price,
        currency: module.currency.as_deref(),
        place,
    }
}
