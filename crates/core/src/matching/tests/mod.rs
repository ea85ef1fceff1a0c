//! What the search rests on, tested where it is out of sight of everything else: bounds against the model, and the order of looking.

mod bounds;
mod certainty;
mod chargers;
mod heat;
mod legs;
mod order;
mod proof;
mod reach;
mod trees;
mod twins;
