//! Simulation: trips and range on the schedule's clock, sprints, top speed and hills at full force.

mod drive;
mod follow;
mod full_force;
mod hill;
mod range;
mod sprint;
mod top_speed;

pub use drive::{Passage, Split, drive_trace, drive_trace_finely};
pub use full_force::{Best, Gears, Pull};
pub use hill::{HillGrade, hill_at_speed, hill_start};
pub use range::{RangeEnd, RangeResult, range, range_in_full};
pub use sprint::{SPRINT_STEP_M_S, Sprint, SprintPoint, sprint};
pub use top_speed::{TopSpeed, top_speed};
