//! The vehicle on the road: air, tyres, resistance, rotating mass, grip.

pub mod air;
mod balance;
pub mod cold;
mod conditions;
mod mass;
mod road;
mod traction;

pub use balance::{Balance, Stance, WheelLoads};
pub use conditions::Conditions;
pub use mass::{Masses, masses};
pub use road::Road;
pub(crate) use road::{Resistance, radius_m, slope};
pub use traction::{Traction, most_grip_n_per_kg};
pub(crate) use traction::{driven_axle, driven_share};
