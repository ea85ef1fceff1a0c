//! Every check of the service in one program.

mod common;
#[path = "../../../checks/tests/checks/common/mod.rs"]
mod inputs;

mod availability;
mod baseline;
mod contract;
mod fuzz;
mod guards;
mod http;
mod library_files;
mod searching;
mod usage;
