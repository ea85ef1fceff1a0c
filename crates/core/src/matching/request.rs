//! What is searched for: which figures count, which parts are in hand, which schools are followed.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::document::{Document, Measure, SprintRange};
use crate::error::{Problem, Problems, Result};
use crate::library::{Chemistry, Module, Motor, MotorKind, Part};

/// A search over the library for one brief and donor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct MatchRequest {
    /// Trip or schedule whose range counts. Absent: that of the first range goal that must be met, else the first trip.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub trip: Option<String>,
    /// Speeds whose time counts. Absent: those of the first sprint goal, else 0 to 50 km/h.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sprint: Option<SprintRange>,
    /// Speed at which the continuous hill counts, km/h. Absent: that of the first held-hill goal, else 30.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub hill_kmh: Option<f64>,
    /// Socket whose charge time counts. Absent: that of the first charging goal, else the first socket.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub socket: Option<String>,
    /// How sure a goal that must be met has to be.
    pub certainty: Certainty,
    /// Parts that must be used; empty lists leave the kind open.
    pub only: Chosen,
    /// Names of parts that must not be used.
    pub exclude: Vec<String>,
    /// Names of parts already owned: of their kind no others are used, and they cost nothing.
    pub in_hand: Vec<String>,
    /// Ways of gearing, by their ids; empty: all that fit the donor.
    pub gearings: Vec<String>,
    /// Worth of one unit of other currencies in the brief's, by code; parts priced in one that is not listed are left out.
    pub rates: BTreeMap<String, f64>,
    /// Most money, net, in the brief's currency.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub budget: Option<f64>,
    /// Most mass added over the donor as it stood, kg.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most_added_kg: Option<f64>,
    /// Direct or alternating current motors.
    pub current: CurrentSchool,
    /// New or salvaged cells.
    pub cells: CellSchool,
    /// A big pack, or a small one charged in between.
    pub pack: PackSchool,
    /// Ids of warning rules that are put up with.
    pub allow: Vec<String>,
    /// Motors on one shaft that are tried. Default 1 and 2.
    pub motor_counts: Vec<u32>,
    /// Most strings in parallel. Default 12.
    pub most_in_parallel: u32,
    /// Modules in series; absent: as many as the controllers bear.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub modules_in_series: Option<u32>,
    /// Strings in parallel; absent: up to `most_in_parallel`.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub strings_in_parallel: Option<u32>,
    /// Most modules in all, as when so many are owned.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub most_modules: Option<u32>,
    /// Difference below which two figures count as the same, percent. Default 5: well inside every band.
    pub resolution_percent: f64,
}

impl Default for MatchRequest {
    fn default() -> Self {
        Self {
            trip: None,
            sprint: None,
            hill_kmh: None,
            socket: None,
            certainty: Certainty::default(),
            only: Chosen::default(),
            exclude: Vec::new(),
            in_hand: Vec::new(),
            gearings: Vec::new(),
            rates: BTreeMap::new(),
            budget: None,
            most_added_kg: None,
            current: CurrentSchool::default(),
            cells: CellSchool::default(),
            pack: PackSchool::default(),
            allow: Vec::new(),
            motor_counts: vec![1, 2],
            most_in_parallel: 12,
            modules_in_series: None,
            strings_in_parallel: None,
            most_modules: None,
            resolution_percent: 5.0,
        }
    }
}

/// Names of parts of each kind.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default, deny_unknown_fields)]
pub struct Chosen {
    /// Motors.
    pub motors: Vec<String>,
    /// Controllers.
    pub controllers: Vec<String>,
    /// Cells and modules.
    pub modules: Vec<String>,
    /// Chargers.
    pub chargers: Vec<String>,
}

/// How sure a goal that must be met has to be.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Certainty {
    /// The central figure meets it.
    #[default]
    P50,
    /// The central figure meets it, and so do nine in ten of the first [`super::CAUTIOUS_DRAWS`] draws of its band.
    P10,
}

/// Kind of current in the motor. Schools differ: direct is cheap and strong and cannot regenerate, alternating is efficient and dearer.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CurrentSchool {
    /// Either.
    #[default]
    Any,
    /// Brushed motors.
    Direct,
    /// Brushless and induction motors.
    Alternating,
}

/// Age of the cells. Schools differ: salvaged ones are cheap and of unknown health.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CellSchool {
    /// Either.
    #[default]
    Any,
    /// Never used.
    New,
    /// Out of another vehicle.
    Salvaged,
}

/// Size of the pack. Schools differ: a small pack charged in between saves money and mass.
#[derive(Debug, Clone, Copy, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "school", rename_all = "snake_case", deny_unknown_fields)]
pub enum PackSchool {
    /// Big enough for every range goal on one charge.
    #[default]
    Big,
    /// Enough for a share of every range goal, filled again within some hours at the socket that counts.
    Small {
        /// Share of the range goals, 0..1.
        range_share: f64,
        /// Most hours for a whole charge.
        charge_h: f64,
    },
}

/// Whether a motor runs on direct current.
#[must_use]
pub fn is_direct(motor: &Motor) -> bool {
    matches!(motor.kind, MotorKind::SeriesDc | MotorKind::BrushedPm)
}

/// Whether cells have been used before: less than their new capacity is left.
#[must_use]
pub fn is_salvaged(module: &Module) -> bool {
    module.capacity_share < 1.0
}

impl CurrentSchool {
    pub(super) fn takes(self, motor: &Motor) -> bool {
        match self {
            Self::Any => true,
            Self::Direct => is_direct(motor),
            Self::Alternating => !is_direct(motor),
        }
    }
}

impl CellSchool {
    pub(super) fn takes(self, module: &Module) -> bool {
        match self {
            Self::Any => true,
            Self::New => !is_salvaged(module),
            Self::Salvaged => is_salvaged(module),
        }
    }
}

impl PackSchool {
    /// Share of a range goal asked of one charge.
    pub(super) fn range_share(self) -> f64 {
        match self {
            Self::Big => 1.0,
            Self::Small { range_share, .. } => range_share,
        }
    }
}

/// Families shown in answers: cells of lead, of lithium, of nickel.
#[must_use]
pub(super) fn cell_family(chemistry: Chemistry) -> &'static str {
    if chemistry.is_lead() {
        "lead-acid"
    } else if chemistry.is_lithium() {
        "lithium"
    } else {
        "nickel"
    }
}

/// Warning rules that a match has to keep as well as every stop, unless the request allows them.
pub const WARNINGS_KEPT: [&str; 5] =
    ["volts.charger-under-pack", "volts.sag-below-cutoff", "amps.controller-over-pack", "trip.not-followed", "heat.trip"];

/// Most names in one list of a request.
const MOST_NAMES: usize = 1000;

fn within(path: &str, given: f64, low: f64, high: f64, unit: &str, problems: &mut Problems) {
    if !(low..=high).contains(&given) {
        problems.push(Problem::new(path, given, format!("{low} to {high} {unit} is accepted").trim_end().to_owned()));
    }
}

impl MatchRequest {
    /// Whether nothing has been said.
    #[must_use]
    pub fn is_default(&self) -> bool {
        *self == Self::default()
    }

    /// Checks the request against the document and the library it is searched in.
    ///
    /// # Errors
    /// Names the field, what was given and what is accepted: an empty library, a name the library does not have, a part that is
    /// asked for and excluded at once, figures out of range.
    pub fn check(&self, document: &Document, library: &[Part]) -> Result<()> {
        let mut problems = Problems::new();
        for kind in ["motor", "controller", "module"] {
            if !library.iter().any(|p| p.kind() == kind) {
                problems.push(Problem::new("library", format!("without any {kind}"), "a search needs motors, controllers and modules"));
            }
        }
        let has = |name: &str, kind: Option<&str>| library.iter().any(|p| p.name() == name && kind.is_none_or(|k| p.kind() == k));
        let lists = [
            ("only.motors", &self.only.motors, Some("motor")),
            ("only.controllers", &self.only.controllers, Some("controller")),
            ("only.modules", &self.only.modules, Some("module")),
            ("only.chargers", &self.only.chargers, Some("charger")),
            ("exclude", &self.exclude, None),
            ("in_hand", &self.in_hand, None),
        ];
        for (list, names, kind) in lists {
            if names.len() > MOST_NAMES {
                problems.push(Problem::new(list, format!("{} names", names.len()), format!("at most {MOST_NAMES} are accepted")));
                continue;
            }
            for (i, name) in names.iter().enumerate() {
                let path = format!("{list}[{i}]");
                if !has(name, kind) {
                    let what = kind.unwrap_or("part");
                    problems.push(Problem::new(path, format!("\"{name}\""), format!("the library has no {what} of that name")));
                } else if list != "exclude" && self.exclude.contains(name) {
                    problems.push(Problem::new(path, format!("\"{name}\""), "it is excluded at the same time; take one of the two out"));
                }
            }
        }
        for part in library.iter().filter(|p| self.in_hand.iter().any(|n| n == p.name())) {
            let only = self.only.of(part.kind());
            if !only.is_empty() && !only.iter().any(|n| self.in_hand.contains(n)) {
                problems.push(Problem::new(
                    "in_hand",
                    format!("\"{}\"", part.name()),
                    format!("only other {}s are allowed at the same time; take one of the two out", part.kind()),
                ));
            }
        }
        for (code, rate) in &self.rates {
            within(&format!("rates.{code}"), *rate, 1e-6, 1e6, "", &mut problems);
        }
        if let Some(budget) = self.budget {
            within("budget", budget, 0.0, 1e9, "", &mut problems);
        }
        if let Some(kg) = self.most_added_kg {
            within("most_added_kg", kg, -20_000.0, 20_000.0, "kg", &mut problems);
        }
        if let Some(kmh) = self.hill_kmh {
            within("hill_kmh", kmh, 1.0, 200.0, "km/h", &mut problems);
        }
        if let Some(sprint) = self.sprint
            && !(sprint.from_kmh >= 0.0 && sprint.to_kmh > sprint.from_kmh && sprint.to_kmh <= 300.0)
        {
            problems.push(Problem::new(
                "sprint",
                format!("{} to {} km/h", sprint.from_kmh, sprint.to_kmh),
                "the second speed must be above the first, 0 to 300 km/h",
            ));
        }
        if let PackSchool::Small { range_share, charge_h } = self.pack {
            within("pack.range_share", range_share, 0.05, 1.0, "", &mut problems);
            within("pack.charge_h", charge_h, 0.1, 48.0, "h", &mut problems);
        }
        within("resolution_percent", self.resolution_percent, 0.1, 25.0, "%", &mut problems);
        within("most_in_parallel", f64::from(self.most_in_parallel), 1.0, 60.0, "", &mut problems);
        for (path, count, most) in [
            ("modules_in_series", self.modules_in_series, 400.0),
            ("strings_in_parallel", self.strings_in_parallel, 60.0),
            ("most_modules", self.most_modules, 24_000.0),
        ] {
            if let Some(n) = count {
                within(path, f64::from(n), 1.0, most, "", &mut problems);
            }
        }
        if self.motor_counts.is_empty() || self.motor_counts.len() > 4 || self.motor_counts.iter().any(|c| !(1..=4).contains(c)) {
            problems.push(Problem::new("motor_counts", format!("{:?}", self.motor_counts), "one to four counts of 1 to 4 are accepted"));
        }
        for (i, rule) in self.allow.iter().enumerate() {
            if !WARNINGS_KEPT.contains(&rule.as_str()) {
                let known = WARNINGS_KEPT.join(", ");
                problems.push(Problem::new(format!("allow[{i}]"), format!("\"{rule}\""), format!("rules that can be allowed are {known}")));
            }
        }
        let trips: Vec<String> = crate::estimate::parts::all_trips(document).map(|t| t.id).collect();
        if let Some(trip) = self.trip.as_ref().filter(|t| !trips.contains(t)) {
            problems.push(Problem::new("trip", format!("\"{trip}\""), format!("known trips and schedules are: {}", trips.join(", "))));
        }
        let sockets: Vec<&str> = document.brief.sockets.iter().map(|s| s.id.as_str()).collect();
        if let Some(socket) = self.socket.as_ref().filter(|s| !sockets.contains(&s.as_str())) {
            problems.push(Problem::new("socket", format!("\"{socket}\""), format!("known sockets are: {}", sockets.join(", "))));
        }
        problems.or(())
    }

    /// Whether a part may be used, by name alone.
    pub(super) fn takes(&self, part: &Part, library: &[Part]) -> bool {
        let name = part.name();
        let only = self.only.of(part.kind());
        let owned = library.iter().any(|p| p.kind() == part.kind() && self.in_hand.iter().any(|n| n == p.name()));
        !self.exclude.iter().any(|n| n == name)
            && (only.is_empty() || only.iter().any(|n| n == name))
            && (!owned || self.in_hand.iter().any(|n| n == name))
    }

    /// Trip whose range counts.
    pub(super) fn trip_of(&self, document: &Document) -> Option<String> {
        let goals = || document.brief.goals.iter();
        let asked = |must: bool| {
            goals().filter(|g| !must || g.level == crate::document::GoalLevel::Must).find_map(|g| match &g.measure {
                Measure::Range { trip, .. } => Some(trip.clone()),
                _ => None,
            })
        };
        self.trip.clone().or_else(|| asked(true)).or_else(|| asked(false)).or_else(|| document.brief.trips.first().map(|t| t.id.clone()))
    }

    /// Speeds whose time counts, km/h.
    pub(super) fn sprint_of(&self, document: &Document) -> (f64, f64) {
        let asked = document.brief.goals.iter().find_map(|g| match g.measure {
            Measure::Sprint { from_kmh, to_kmh, .. } => Some((from_kmh, to_kmh)),
            _ => None,
        });
        self.sprint.map(|s| (s.from_kmh, s.to_kmh)).or(asked).unwrap_or((0.0, 50.0))
    }

    /// Speed at which the continuous hill counts, km/h.
    pub(super) fn hill_of(&self, document: &Document) -> f64 {
        let held = document.brief.goals.iter().find_map(|g| match g.measure {
            Measure::HillAtSpeed { speed_kmh, sustained: true, .. } | Measure::HillAtSpeed { speed_kmh, ten_minutes: true, .. } => {
                Some(speed_kmh)
            }
            _ => None,
        });
        self.hill_kmh.or(held).unwrap_or(30.0)
    }

    /// Socket whose charge time counts, by its place in the brief.
    pub(super) fn socket_of(&self, document: &Document) -> Option<usize> {
        let asked = document.brief.goals.iter().find_map(|g| match &g.measure {
            Measure::ChargeTime { socket, .. } => Some(socket.clone()),
            _ => None,
        });
        let sockets = &document.brief.sockets;
        match self.socket.clone().or(asked) {
            Some(id) => sockets.iter().position(|s| s.id == id),
            None => (!sockets.is_empty()).then_some(0),
        }
    }
}

impl Chosen {
    fn of(&self, kind: &str) -> &[String] {
        match kind {
            "motor" => &self.motors,
            "controller" => &self.controllers,
            "module" => &self.modules,
            _ => &self.chargers,
        }
    }
}
