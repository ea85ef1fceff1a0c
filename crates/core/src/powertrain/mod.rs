//! The power path: motor, controller, driveline and what limits them.

mod chain;
mod driveline;
pub mod heat;
mod limits;
mod motor;

pub use chain::{Chain, MotorPoint, PowerFlow};
pub(crate) use chain::{GearCost, amps_to_torque};
pub(crate) use driveline::TRANSFER_EFFICIENCY;
pub use driveline::{GearPath, gear_paths};
pub use limits::{Cause, Limits, Rating, Supply};
pub use motor::{MotorMap, loss_coefficients, rated_point};
