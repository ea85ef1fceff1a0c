//! The power path: motor, controller, driveline and what limits them.

mod chain;
mod driveline;
mod fade;
mod flow;
pub mod heat;
mod ideal;
mod limits;
mod motor;
mod plain;
mod rise;

pub use chain::Chain;
pub(crate) use chain::{Heating, amps_to_torque, controller_battery_amps, controller_motor_amps, motor_heat};
pub(crate) use driveline::TRANSFER_EFFICIENCY;
pub use driveline::{GearPath, gear_paths};
pub(crate) use fade::Fade;
pub(crate) use flow::GearCost;
pub use flow::{MotorPoint, PowerFlow};
pub(crate) use ideal::ROTATING;
pub(crate) use limits::Source;
pub use limits::{Cause, Limits, Rating, Supply};
pub use motor::{MotorMap, best_point, loss_coefficients, rated_point};
pub(crate) use plain::{Drawn, Plain};
pub(crate) use rise::HeatStep;
pub use rise::Rise;
