//! The design document: brief, donor and design in one self-contained, versioned JSON text.

mod brief;
mod chain;
mod checked;
mod donor;
mod driveline;
mod electrics;
mod evidence;
mod fitted;
mod goal;
mod items;
mod layout;
mod mechanics;
mod network;
mod pack;
mod passes;
mod place;
mod plate;
mod removed;
mod schedule;
mod search;
mod shortlist;
mod socket;
mod starter;
mod steps;
mod trip;
pub mod tyre;
mod week;
mod weighing;
mod whole;

use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};

pub use brief::{AccelerationRange, Brief, Performance, Site, Sprints};
pub use chain::{AddedItem, Beware, Design, LowVoltage, MotorPlace, Regeneration, RegenerationApproach, Wiring};
pub use checked::Checked;
pub use donor::{Donor, DrivenAxle, Tyre, VehicleKind};
pub use driveline::{Driveline, Gear, Stage, StageKind};

pub use electrics::{BrakeAssistance, CableSeries, Electrics, InsulationTest, LocalCode, LowVoltageLoad, LowVoltageSupply, ShaftEnd};
pub use evidence::{CoastDirection, CoastDown, CoastPoint, CoastRun, Evidence, Fuel};
pub use fitted::{FittedComponents, Slot};
pub use goal::{Goal, GoalLevel, Measure};
pub use items::{Item, ItemKind};
pub use removed::{Fate, RemovedItem};
pub use schedule::Schedule;
pub use search::{CellApproach, Certainty, Chosen, CurrentApproach, MatchRequest, PackApproach};
pub use shortlist::{AlreadyElectric, Candidate, Condition, MOST_CANDIDATES, Shortlist};
pub use socket::{Connector, ConnectorRatings, Socket, SocketKind};
pub use starter::Answers;
pub(crate) use steps::{LEAST_M_S2, MOST_M_S2};
pub use steps::{MOST_STEPS, steps_of};
pub use week::{Journey, Outing, Stay, Week, Weekday, Years};
pub use weighing::{LiftedAxle, Weighing};
pub use whole::{CONVERSION_FORMAT, ConversionFile, MOST_VARIANTS, Variant};

pub use layout::{Bay, FittedPlaces, Layout, PackBox, Placement, Underlay, Underlays};
pub use mechanics::{
    BeltDrive, BoltCircle, BoltClass, BoltPattern, BoltPoint, ChainDrive, ChainNumber, Held, Holes, Mechanics, Mount, Retention, Shaft,
    Thread,
};
pub use network::{NeededBy, Network, NetworkMessage, NetworkSignal};
pub(crate) use pack::series_parallel;
pub use pack::{AddedStrings, HAZARDOUS_V, Pack, WindowApproach};
pub use passes::{TimedPasses, TimedRun};
pub use place::{AxlePlace, Block, CONTACTOR_BOX, Placed, cg_height_m, front_share, stated_front_share};
pub(crate) use place::{assumed_of_axles, each_placed, pack_place};
pub use plate::{AdapterPlate, HoleCircle, PlateHole, PlateMaterial};
pub use trip::{DrivingStyle, MeasuredDrive, Season, TracePoint, TravelSegment, Trip, TripPath, Weather};

use crate::error::{Problem, Problems, Result};
use crate::quantity::{check_numbers, check_texts, deserialize, fields};

/// The only `format` accepted.
pub const FORMAT: &str = "joulethesis-design";
/// The only `version` accepted.
pub const VERSION: u32 = 1;

/// A whole design with all it is judged against. Every key is explained in docs/FORMATS.md.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(deny_unknown_fields)]
pub struct Document {
    /// Always `joulethesis-design`.
    pub format: String,
    /// Always 1.
    pub version: u32,
    /// Name of the conversion and variant.
    pub name: String,
    /// What the vehicle must do.
    pub brief: Brief,
    /// The vehicle as it stands.
    pub donor: Donor,
    /// What is put into it.
    pub design: Design,
}

impl Document {
    /// The driveline in use: the design's own, else the donor's.
    #[must_use]
    pub fn driveline(&self) -> &Driveline {
        self.design.driveline.as_ref().unwrap_or(&self.donor.driveline)
    }
}

/// Whether a value is what holds when nothing is said: it is not written then, so that what was stored is what was sent.
fn is_usual<T: Default + PartialEq>(value: &T) -> bool {
    *value == T::default()
}

/// Reports a brief whose trips and schedules together take more steps than one document may, at the trip that goes beyond.
pub(super) fn check_work(brief: &Brief, problems: &mut Problems) {
    let mut sum: f64 = brief.schedules.iter().map(|s| s.seconds()).sum();
    let over = |sum: f64| sum > MOST_STEPS;
    let accepted = |sum: f64| {
        format!(
            "with the trips before it and the schedules that makes {sum:.0} s to simulate; up to {MOST_STEPS:.0} s are accepted in all: \
             shorten it, repeat it less often, or take a trip out"
        )
    };
    if over(sum) {
        problems.push(Problem::new("brief.schedules", format!("{sum:.0} s in all"), accepted(sum)));
        return;
    }
    for (i, trip) in brief.trips.iter().enumerate() {
        let own = steps_of(trip);
        sum += own;
        if over(sum) {
            let at = if trip.repeat > 1 && !over(sum - own + own / f64::from(trip.repeat)) { "repeat" } else { "path" };
            problems.push(Problem::new(format!("brief.trips[{i}].{at}"), format!("{own:.0} s of driving"), accepted(sum)));
            return;
        }
    }
}

/// Reads and checks the brief, donor or design of a document on its own; references between them are checked when the
/// whole is estimated.
///
/// # Errors
/// [`Error::Invalid`] with paths under the section's key.
pub fn section<T: Section>(value: &serde_json::Value) -> Result<T> {
    let mut problems = Problems::new();
    check_texts(value, T::KEY, &mut problems);
    check_numbers(value, T::KEY, T::fields(), &mut problems);
    if !problems.is_empty() {
        return Err(problems.into_error());
    }
    let section: T = deserialize(value, T::KEY)?;
    section.problems(&mut problems);
    problems.or(section)
}

/// Reads a section that was stored: what breaks a bound is read all the same, with its problems, so that it can be mended.
///
/// # Errors
/// [`Error::Invalid`] where the stored text is no such section at all.
pub fn stored<T: Section>(value: &serde_json::Value) -> Result<(T, Vec<Problem>)> {
    let section: T = deserialize(value, T::KEY)?;
    let mut problems = Problems::new();
    check_texts(value, T::KEY, &mut problems);
    check_numbers(value, T::KEY, T::fields(), &mut problems);
    section.problems(&mut problems);
    Ok((section, problems.into_list()))
}

/// A part of a document that is stored on its own.
pub trait Section: DeserializeOwned {
    /// Its key in the document.
    const KEY: &'static str;
    /// Its numbers.
    fn fields() -> &'static fields::Group;
    /// What single numbers cannot show.
    fn problems(&self, problems: &mut Problems);
}

macro_rules! section {
    ($type:ty, $key:literal, $group:expr) => {
        impl Section for $type {
            const KEY: &'static str = $key;
            fn fields() -> &'static fields::Group {
                $group
            }
            fn problems(&self, problems: &mut Problems) {
                self.check(Self::KEY, problems);
            }
        }
    };
}
section!(Brief, "brief", fields::BRIEF);
section!(Donor, "donor", fields::DONOR);
section!(Design, "design", fields::DESIGN);
section!(Shortlist, "shortlist", fields::SHORTLIST);
