//! Puts parts and wires into a circuit, with designations, colours and lugs.

use super::{Circuit, CircuitKind, CircuitPart, Symbol, Wire};
use crate::document::{HAZARDOUS_V, LocalCode, Slot};
use crate::electrics::Sizing;
use crate::electrics::cable::Cable;
use crate::findings::Finding;
use crate::library::Component;
use crate::quantity::Sentence;

/// A circuit that grows.
pub(in crate::schematic) struct Builder<'a> {
    pub(super) s: &'a Sizing<'a>,
    findings: &'a [Finding],
    pub(super) circuit: Circuit,
}

/// A part before it has its designation.
pub(super) struct New {
    part: CircuitPart,
}

impl New {
    /// A part with its symbol, name and rating.
    pub(super) fn of(symbol: Symbol, name: impl Into<String>, rating: Sentence, circuit: CircuitKind) -> Self {
        Self {
            part: CircuitPart {
                id: String::new(),
                symbol,
                name: name.into(),
                rating,
                record: None,
                circuit,
                count: 1.0,
                mass_kg: None,
                price: None,
                line: "",
                slot: "",
                severity: None,
                troubles: Vec::new(),
                listed: true,
            },
        }
    }

    /// Sized by a line of the sheet.
    pub(super) fn sized_by(mut self, line: &'static str) -> Self {
        self.part.line = line;
        self
    }

    /// A record, as it is bought.
    pub(super) fn record(mut self, name: &str, mass_kg: f64, price: f64) -> Self {
        self.part.record = Some(name.to_owned());
        self.part.mass_kg = Some(mass_kg);
        self.part.price = (price > 0.0).then_some(price);
        self
    }

    /// So many of them.
    pub(super) fn times(mut self, count: f64) -> Self {
        self.part.count = count;
        self
    }

    /// Drawn, but bought with something else.
    pub(super) fn unlisted(mut self) -> Self {
        self.part.listed = false;
        self
    }
}

/// What a wire is like.
pub(super) struct Run {
    pub(super) circuit: CircuitKind,
    pub(super) cores: u32,
    pub(super) cable: Option<Cable>,
    pub(super) length_m: f64,
    pub(super) fuse: Option<String>,
    pub(super) three_phase: bool,
}

impl<'a> Builder<'a> {
    pub(super) fn of(s: &'a Sizing<'a>, findings: &'a [Finding]) -> Self {
        Self { s, findings, circuit: Circuit { parts: Vec::new(), wires: Vec::new() } }
    }

    /// Adds a part under the next free designation of a letter; gives the designation.
    pub(super) fn add(&mut self, letter: &str, new: New) -> String {
        let taken = self.circuit.parts.iter().filter(|p| p.id.trim_end_matches(|c: char| c.is_ascii_digit()) == letter).count();
        let id = format!("{letter}{}", taken + 1);
        self.circuit.parts.push(CircuitPart { id: id.clone(), ..new.part });
        id
    }

    /// A part for a place of the circuits: its record where one is chosen, and what was found about it.
    pub(super) fn place(&self, new: New, slot: Slot) -> New {
        let chosen = self.s.said.fitted.get(slot);
        let count = if slot == Slot::TractionCable { self.s.length_m } else { self.s.document.design.count_of(slot) };
        let new = match chosen {
            Some(Component { name, mass_kg, price, .. }) => new.record(name, *mass_kg, *price),
            None => new,
        };
        let mut new = self.troubled(new.times(count), |f| f.slot == Some(slot));
        new.part.slot = slot.key();
        new
    }

    /// A part with what was found about it.
    pub(super) fn troubled(&self, mut new: New, about: impl Fn(&Finding) -> bool) -> New {
        let found = self.findings.iter().filter(|f| about(f) && f.severity != crate::findings::Severity::Note);
        for finding in found {
            new.part.severity = Some(new.part.severity.map_or(finding.severity, |s| s.min(finding.severity)));
            new.part.troubles.push(finding.message.clone());
        }
        new
    }

    /// A part with what was found about a link of the chain.
    pub(super) fn link(&self, new: New, part: &str) -> New {
        self.troubled(new, |f| f.part == part && f.slot.is_none())
    }

    /// Adds a wire between two parts.
    pub(super) fn wire(&mut self, from: &str, to: &str, run: Run) {
        let id = (self.circuit.wires.len() + 1).to_string();
        let (section_mm2, section) = match &run.cable {
            Some(cable) => (Some(cable.copper_mm2()), cable.name.clone()),
            None => (None, String::new()),
        };
        self.circuit.wires.push(Wire {
            id,
            from: from.to_owned(),
            to: to.to_owned(),
            circuit: run.circuit,
            cores: run.cores,
            section,
            colour: self.colour(&run),
            length_m: run.length_m,
            fuse: run.fuse,
            lug: lug(run.circuit, section_mm2).to_owned(),
            section_mm2,
            closes: false,
        });
    }

    /// Joins a fuse to its bus within one box: no wire to be cut.
    pub(super) fn bar(&mut self, bus: &str, fuse: &str) {
        self.wire(
            bus,
            fuse,
            Run { circuit: CircuitKind::LowVoltage, cores: 1, cable: None, length_m: 0.0, fuse: None, three_phase: false },
        );
        if let Some(wire) = self.circuit.wires.last_mut() {
            "in the fuse box".clone_into(&mut wire.section);
            "none".clone_into(&mut wire.lug);
        }
    }

    /// Adds a wire that closes a loop.
    pub(super) fn closing(&mut self, from: &str, to: &str, run: Run) {
        self.wire(from, to, run);
        if let Some(wire) = self.circuit.wires.last_mut() {
            wire.closes = true;
        }
    }

    /// Colours of conductors: orange outside wherever more than 60 V may be on them (UN R100, ISO 6469-3), the poles and phases by the code.
    fn colour(&self, run: &Run) -> String {
        let american = self.s.said.code == LocalCode::NorthAmerica;
        let own = match (run.circuit, run.three_phase) {
            (CircuitKind::Signal, _) => return "marked by number".to_owned(),
            (CircuitKind::LowVoltage, _) => return "red; chassis as return".to_owned(),
            (_, true) if american => "black, red, blue",
            (_, true) => "brown, black, grey",
            (_, false) if american => "red +, black −",
            (_, false) => "red +, white −",
        };
        if self.s.full_v() > HAZARDOUS_V { format!("orange; ends {own}") } else { own.to_owned() }
    }
}

/// How ends are made off (common practice).
fn lug(circuit: CircuitKind, section_mm2: Option<f64>) -> &'static str {
    match (circuit, section_mm2) {
        (CircuitKind::Signal, _) | (_, None) => "crimped contact",
        (CircuitKind::LowVoltage, Some(mm2)) if mm2 <= 6.0 => "crimped contact",
        (_, Some(mm2)) if mm2 <= 10.0 => "ring, M6",
        (_, Some(mm2)) if mm2 <= 35.0 => "ring, M8",
        (_, Some(_)) => "ring, M10",
    }
}
