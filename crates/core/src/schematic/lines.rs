//! A line of the sheet.

use serde::Serialize;

use crate::findings::{Finding, Rule, Severity};
use crate::quantity::{Piece, Sentence, figure, sentence};

/// How a line stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum LineState {
    /// A figure, or what was chosen suffices.
    Sound,
    /// What was chosen will disappoint, or nothing suffices.
    Warn,
    /// What was chosen will be damaged or hurt someone.
    Stop,
}

/// A place of the design that a line can be taken into.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Taken {
    /// Dotted place within the design.
    pub path: &'static str,
    /// Value to put there, in the unit of its key.
    pub value: f64,
}

/// One derived figure.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Line {
    /// Stable identifier.
    pub id: &'static str,
    /// What it is.
    pub name: &'static str,
    /// The result in words and figures.
    pub result: Sentence,
    /// How it comes about, with its inputs.
    pub formula: Sentence,
    /// Standard, handbook or common practice.
    pub source: &'static str,
    /// How it stands.
    pub state: LineState,
    /// What is wrong with what was chosen; empty when nothing is.
    pub trouble: Sentence,
    /// What to put into the design to take it; empty when there is nothing to take, or it stands there.
    pub takes: Vec<Taken>,
}

/// A sound line with nothing to take.
pub(super) fn line(id: &'static str, name: &'static str, result: Sentence, formula: Sentence, source: &'static str) -> Line {
    Line { id, name, result, formula, source, state: LineState::Sound, trouble: Sentence::default(), takes: Vec::new() }
}

/// Whole amperes.
pub(super) fn amps(value: f64) -> Piece {
    figure(value, "A", 0)
}

impl Line {
    /// With something wrong that no rule is about.
    pub(super) fn troubled(mut self, state: LineState, trouble: Sentence) -> Self {
        (self.state, self.trouble) = (state, trouble);
        self
    }

    /// As the findings have it: the gravest of some rules stands beside the line. Notes are told elsewhere.
    pub(super) fn judged(self, findings: &[Finding], rules: &[Rule]) -> Self {
        let worst = findings.iter().filter(|f| rules.contains(&f.rule)).min_by_key(|f| f.severity);
        match worst.map(|f| (f.severity, f.message.clone())) {
            Some((Severity::Stop, message)) => self.troubled(LineState::Stop, message),
            Some((Severity::Warn, message)) => self.troubled(LineState::Warn, message),
            _ => self,
        }
    }

    /// With what to put into the design.
    pub(super) fn taking(mut self, takes: &[(&'static str, f64)]) -> Self {
        self.takes = takes.iter().map(|(path, value)| Taken { path, value: *value }).collect();
        self
    }
}

/// The line of two toothed wheels, whose driven one follows from the ratio.
pub(super) fn teeth_line(id: &'static str, name: &'static str, result: Sentence, front: u32, ratio: f64, gives: f64) -> Line {
    let (ratio, gives) = (figure(ratio, "", 3), figure(gives, "", 3));
    let formula = sentence!("{} teeth times the stage's ratio of {}, whole; ratio of the teeth {}", front, ratio, gives);
    line(id, name, result, formula, "teeth are whole")
}
