//! Every check of the store in one program.

mod model;
mod photographs;
mod store;
