//! Money: parts bought less parts sold.

use serde::Serialize;

use crate::document::{Document, Fate};
use crate::library::price_is_unsaid;
use crate::quantity::Sources;

/// Money, in the brief's currency.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CostSummary {
    /// Parts put in.
    pub bought: f64,
    /// Removed parts sold.
    pub sold: f64,
    /// Removed parts that are for sale, at what is hoped for; counts in nothing.
    pub hoped: f64,
    /// What the donor comes to, bought less its parts sold; absent where nobody said what was paid for it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub donor_net: Option<f64>,
    /// Bought less sold.
    pub net: f64,
    /// The dearest group.
    pub largest: String,
    /// Its price.
    pub largest_price: f64,
    /// Parts that cost something nobody has said: all these sums are the least it comes to.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub without_price: Vec<String>,
}

fn without_price(document: &Document) -> Vec<String> {
    let design = &document.design;
    let of = |name: &String, price: f64, sources: &Sources| (name.clone(), price_is_unsaid(price, sources));
    let parts = [
        design.motor.as_ref().map(|p| of(&p.name, p.price, &p.sources)),
        design.controller.as_ref().map(|p| of(&p.name, p.price, &p.sources)),
        design.pack.as_ref().map(|p| of(&p.module.name, p.module.price, &p.module.sources)),
        design.charger.as_ref().map(|p| of(&p.name, p.price, &p.sources)),
    ];
    let in_hand = |name: &String| document.brief.search.in_hand.contains(name);
    parts.into_iter().flatten().filter(|(name, unsaid)| *unsaid && !in_hand(name)).map(|(name, _)| name).collect()
}

/// Money account of a design.
#[must_use]
pub fn cost(document: &Document) -> CostSummary {
    let mut groups: Vec<(&str, f64)> = Vec::new();
    for item in document.design.items() {
        match groups.iter_mut().find(|g| g.0 == item.kind.group()) {
            Some(group) => group.1 += item.total_price(),
            None => groups.push((item.kind.group(), item.total_price())),
        }
    }
    let bought = groups.iter().map(|g| g.1).sum();
    let donor = &document.donor;
    let sold = donor.sales(Fate::Sold);
    let largest = groups.iter().max_by(|a, b| a.1.total_cmp(&b.1)).copied().unwrap_or_default();
    CostSummary {
        bought,
        sold,
        hoped: donor.sales(Fate::ForSale),
        donor_net: donor.net_price(),
        net: bought - sold,
        largest: largest.0.to_owned(),
        largest_price: largest.1,
        without_price: without_price(document),
    }
}
