//! Money: parts bought less parts sold.

use serde::Serialize;

use crate::document::Document;

/// Money, in the brief's currency.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CostSummary {
    /// Parts put in.
    pub bought: f64,
    /// Removed parts sold.
    pub sold: f64,
    /// Bought less sold.
    pub net: f64,
    /// The dearest group.
    pub largest: String,
    /// Its price.
    pub largest_price: f64,
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
    let sold = document.donor.removed.iter().map(|r| r.sale_price).sum();
    let largest = groups.iter().max_by(|a, b| a.1.total_cmp(&b.1)).copied().unwrap_or_default();
    CostSummary { bought, sold, net: bought - sold, largest: largest.0.to_owned(), largest_price: largest.1 }
}
