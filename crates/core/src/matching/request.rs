//! What is searched for: which figures count, which parts are in hand, which approaches are followed.

use crate::document::{CellApproach, Chosen, CurrentApproach, Document, MatchRequest, Measure, PackApproach};
use crate::error::{Problem, Problems, Result};
use crate::findings::Rule;
use crate::library::{Chemistry, Module, Motor, MotorKind, Part};

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

impl CurrentApproach {
    pub(super) fn takes(self, motor: &Motor) -> bool {
        match self {
            Self::Any => true,
            Self::Direct => is_direct(motor),
            Self::Alternating => !is_direct(motor),
        }
    }
}

impl CellApproach {
    pub(super) fn takes(self, module: &Module) -> bool {
        match self {
            Self::Any => true,
            Self::New => !is_salvaged(module),
            Self::Salvaged => is_salvaged(module),
        }
    }
}

impl PackApproach {
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
pub const WARNINGS_KEPT: [Rule; 6] =
    [Rule::ChargerUnderPack, Rule::SagBelowCutoff, Rule::ControllerOverPack, Rule::BarePouch, Rule::NotFollowed, Rule::Heat];

/// Most names in one list of a request.
const MOST_NAMES: usize = 1000;

fn within(path: &str, given: f64, low: f64, high: f64, unit: &str, problems: &mut Problems) {
    if !(low..=high).contains(&given) {
        let unit = if unit.is_empty() { String::new() } else { format!(" {unit}") };
        problems.push(Problem::new(path, given, format!("{low} to {high}{unit} is accepted")));
    }
}

impl MatchRequest {
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
        if let Some(acceleration) = self.acceleration
            && !(acceleration.from_kmh >= 0.0 && acceleration.to_kmh > acceleration.from_kmh && acceleration.to_kmh <= 300.0)
        {
            problems.push(Problem::new(
                "acceleration",
                format!("{} to {} km/h", acceleration.from_kmh, acceleration.to_kmh),
                "the second speed must be above the first, 0 to 300 km/h",
            ));
        }
        if let PackApproach::Small { range_share, charge_h } = self.pack {
            within("pack.range_share", range_share, 0.05, 1.0, "", &mut problems);
            within("pack.charge_h", charge_h, 0.1, 48.0, "h", &mut problems);
        }
        within("resolution_percent", self.resolution_percent, 0.1, 25.0, "%", &mut problems);
        within("least_designs", f64::from(self.least_designs), 1.0, 10_000.0, "", &mut problems);
        within("most_designs", f64::from(self.most_designs), 5.0, 10_000.0, "", &mut problems);
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
            if !WARNINGS_KEPT.iter().any(|w| *w == rule.as_str()) {
                let known = WARNINGS_KEPT.map(Rule::id).join(", ");
                problems.push(Problem::new(format!("allow[{i}]"), format!("\"{rule}\""), format!("rules that can be allowed are {known}")));
            }
        }
        let trips: Vec<String> = crate::figures::trips::all(document).map(|t| t.id).collect();
        if let Some(trip) = self.trip.as_ref().filter(|t| !trips.contains(t)) {
            problems.push(Problem::new("trip", format!("\"{trip}\""), format!("known trips and schedules are: {}", trips.join(", "))));
        }
        let sockets: Vec<&str> = document.brief.sockets.iter().map(|s| s.id.as_str()).collect();
        if let Some(socket) = self.socket.as_ref().filter(|s| !sockets.contains(&s.as_str())) {
            problems.push(Problem::new("socket", format!("\"{socket}\""), format!("known sockets are: {}", sockets.join(", "))));
        }
        problems.or(())
    }

    /// Whether it asks for this very part.
    pub(super) fn names(&self, part: &Part) -> bool {
        self.only.of(part.kind()).iter().any(|n| n == part.name())
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
        let asked = |required: bool| {
            goals().filter(|g| !required || g.level == crate::document::GoalLevel::Required).find_map(|g| match &g.measure {
                Measure::Range { trip, .. } => Some(trip.clone()),
                _ => None,
            })
        };
        self.trip.clone().or_else(|| asked(true)).or_else(|| asked(false)).or_else(|| document.brief.trips.first().map(|t| t.id.clone()))
    }

    /// Speeds whose time counts, km/h.
    pub(super) fn acceleration_of(&self, document: &Document) -> (f64, f64) {
        let asked = document.brief.goals.iter().find_map(|g| match g.measure {
            Measure::Acceleration { from_kmh, to_kmh, .. } => Some((from_kmh, to_kmh)),
            _ => None,
        });
        self.acceleration.map(|s| (s.from_kmh, s.to_kmh)).or(asked).unwrap_or((0.0, 50.0))
    }

    /// Speed at which the continuous hill counts, km/h.
    pub(super) fn hill_of(&self, document: &Document) -> f64 {
        let held = document.brief.goals.iter().find_map(|g| match g.measure {
            Measure::HillAtSpeed { speed_kmh, continuous: true, .. } | Measure::HillAtSpeed { speed_kmh, ten_minutes: true, .. } => {
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
