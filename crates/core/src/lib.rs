//! Rules and computation of Joulethesis: what an electric conversion will do, and why.
//!
//! The crate is pure: no I/O, clock, randomness, database or interface. Everything inside is SI
//! (m, kg, s, N, W, V, A, ohm, rad) and every raw `f64` carries its unit in its name; other units
//! exist only at the edge, in the keys of the design document (`speed_kmh`, `speed_rpm`).
//!
//! ```
//! let text = include_str!("../../../demo/whimbrel-9-a.json");
//! let document = joulethesis_core::document::Document::from_json(text.as_bytes())?;
//! let report = joulethesis_core::report::report(&document)?;
//! assert!(report.trips[0].wh_per_km.is_some_and(|wh| wh > 50.0));
//! # Ok::<(), joulethesis_core::error::Error>(())
//! ```

pub mod alternatives;
pub mod bench;
pub mod cancel;
pub mod candidates;
pub mod charge;
pub mod claims;
pub mod document;
pub mod electrics;
pub mod error;
pub mod estimate;
pub mod evidence;
pub mod explain;
pub mod figures;
pub mod findings;
pub mod inputs;
pub mod layout;
pub mod library;
mod limits;
pub mod matching;
pub mod mechanics;
pub mod network;
pub mod pack;
pub mod powertrain;
pub mod quantity;
pub mod report;
pub mod schematic;
pub mod simulate;
pub mod trip;
pub mod uncertainty;
pub mod usage;
pub mod vehicle;
