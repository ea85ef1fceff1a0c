//! The search over the library: which motor, controller, gearing, pack and charger meet a brief on a donor.

mod bounds;
mod count;
mod enumerate;
mod front;
mod gearing;
mod request;
mod scale;
mod search;
mod sides;
mod space;
mod trip_energy;

mod answer;

pub use answer::{Match, MatchAnswer, Progress, search};
pub use count::{Cut, Report};
pub use gearing::{Gearing, gearings};
pub use request::{CellSchool, Certainty, Chosen, CurrentSchool, MatchRequest, PackSchool, WARNINGS_KEPT, is_direct, is_salvaged};
pub use scale::{Axis, AxisInfo};
pub use search::CAUTIOUS_DRAWS;
