//! Every check of the store in one program.

mod model;
mod store;
