//! Simulation: trips and range on the schedule's clock, accelerations, top speed and hills at full force.

mod acceleration;
mod asked;
mod cycle_run;
mod demand;
mod driver;
mod follow;
mod followed;
mod full_force;
mod gear_choice;
mod held_pace;
mod hill;
mod lanes;
mod range;
mod split;
mod step_block;
mod temperature;
#[cfg(test)]
mod tests;
mod top_speed;

pub(crate) use acceleration::quickest_s;
pub use acceleration::{ACCELERATION_STEP_M_S, Acceleration, AccelerationPoint, accelerate, quickest};
pub use cycle_run::CycleRun;
pub use demand::Demands;
pub(crate) use driver::OFF_TRACE_M_S;
pub use driver::{ShiftPolicy, drive_trace, drive_trace_finely, drive_trace_watched};
pub use followed::{MOST_LOST, MOST_OFF_TRACE, Tolerance};
pub use full_force::{Best, TractiveForce};
pub use held_pace::{HeldPace, held_pace};
pub use hill::{HillGrade, hill_at_speed, hill_start, hill_start_in};
pub(crate) use hill::{climb_and_grip, grip_percent};
pub(crate) use range::{BRIDGE_RUNS, is_never_bridged, range_after};
pub use range::{RangeEnd, RangeResult, range, range_in_full, range_of};
pub use split::Split;
pub(crate) use step_block::BLOCK_STEPS;
pub use top_speed::{TopSpeed, top_speed};
