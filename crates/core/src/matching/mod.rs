//! The search over the library: which motor, controller, gearing, pack and charger meet a brief on a donor.

mod behind;
mod blocks;
mod bounding;
mod bounds;
mod branches;
mod candidates;
mod checkpoints;
mod chosen;
mod configuration;
mod constraint;
mod count;
mod driven;
mod enumerate;
mod fixes;
mod gearing;
mod grip;
mod groups;
mod keep_up;
mod needs;
mod needs_answer;
mod objectives;
mod open;
mod packs;
mod pareto;
mod proposal;
mod relaxation;
mod request;
mod road_energy;
mod road_watts;
mod screening;
mod search;
mod simulate;
mod size;
mod space;
mod sprint;
mod subsystems;
#[cfg(test)]
mod tests;
mod trip_energy;
mod why_not;

mod answer;

pub use answer::{ApproachBest, Holdback, Match, MatchAnswer, Pick, Progress, WeakestClaim, search};
pub use chosen::design_of;
pub use count::{Cut, SearchReport};
pub use fixes::{Fix, Fixes, fixes};
pub use gearing::{Gearing, gearings};
pub use needs::needs;
pub use needs_answer::{ChargerNeed, GearNeed, HeldFor, Impossible, Needs, RoadLine, TripNeed, VoltNeed, WheelNeed};
pub use objectives::{Axis, AxisInfo};
pub use proposal::{Meets, Proposal, around, propose};
pub use relaxation::{GoalSlack, RelaxProgress, Relaxation, Relaxations, relaxations};
pub use request::{WARNINGS_KEPT, is_direct, is_salvaged};
pub use screening::CAUTIOUS_DRAWS;
pub use why_not::{Compared, Examined, Miss, Question, WhyNot, why_not};
