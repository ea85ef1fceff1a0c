//! Every check of the program as people start it.

mod common;

mod command;
mod durability;
mod memory;
mod supervision;
