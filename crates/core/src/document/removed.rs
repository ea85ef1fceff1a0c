//! What is taken out of the donor, and what becomes of it.

use serde::{Deserialize, Serialize};

use super::Placement;

/// An item taken out of the donor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct RemovedItem {
    /// What it is.
    pub name: String,
    /// Mass, kg.
    pub mass_kg: f64,
    /// What it sold for, or is hoped to.
    #[serde(default)]
    pub sale_price: f64,
    /// What became of it.
    #[serde(default, skip_serializing_if = "Fate::is_sold")]
    pub fate: Fate,
    /// To whom, by their part in it: a scrapyard, a restorer.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub sold_to: String,
    /// Where it was. Where nothing is said along the vehicle: where the engine of its kind usually is.
    #[serde(default, skip_serializing_if = "Placement::is_unsaid")]
    pub at: Placement,
}

/// What became of an item that was taken out.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fate {
    /// Sold: its price is money in hand.
    #[default]
    Sold,
    /// For sale: its price is hoped for and counts in nothing.
    ForSale,
    /// Kept, for the day it goes back or an inspection asks for it.
    Kept,
    /// Scrapped.
    Scrapped,
}

impl Fate {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Sold, Self::ForSale, Self::Kept, Self::Scrapped];

    pub(super) fn is_sold(&self) -> bool {
        *self == Self::Sold
    }

    /// In words.
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::Sold => "sold",
            Self::ForSale => "for sale",
            Self::Kept => "kept",
            Self::Scrapped => "scrapped",
        }
    }
}
