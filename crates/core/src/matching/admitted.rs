//! Which parts a search may use, and at what price.

use std::borrow::Cow;

use crate::document::{Checked, MatchRequest};
use crate::findings::Rule;
use crate::library::Part;
use crate::limits::too_heavy_for_bare_pouch;

/// A part as it counts in a currency: for nothing where it is in hand, else at its price there; none where nobody has said what its own
/// currency is worth.
pub(super) fn priced<'a>(part: &'a Part, currency: &str, request: &MatchRequest) -> Option<Cow<'a, Part>> {
    if request.in_hand.iter().any(|n| n == part.name()) {
        let mut own = part.clone();
        own.set_price(0.0);
        return Some(Cow::Owned(own));
    }
    match part.currency().filter(|c| *c != currency && part.price() > 0.0) {
        None => Some(Cow::Borrowed(part)),
        Some(code) => request.rates.get(code).map(|rate| Cow::Owned(part.priced_in(currency, *rate))),
    }
}

/// Why a part has no place in a donor, or no price, whatever is combined with it.
pub(super) fn unfit(document: &Checked, part: &Part, request: &MatchRequest) -> Option<Unfit> {
    let own = request.in_hand.iter().any(|n| n == part.name());
    match part {
        // Free of charge is only what one has; who names a part wants to see it.
        _ if part.is_without_price() && !own && !request.names(part) => Some(Unfit::NoPrice),
        Part::Module(m) if m.is_bare_pouch() && !request.allow.iter().any(|r| Rule::BarePouch == r.as_str()) => {
            too_heavy_for_bare_pouch(document.donor.curb_mass_kg).map(|_| Unfit::BarePouch)
        }
        _ => None,
    }
}

/// What keeps a part out of every combination.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Unfit {
    /// Its price is not known, and it is not in hand.
    NoPrice,
    /// Bare pouch cells for a heavy vehicle.
    BarePouch,
}
